// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/gesture/gesture_log.h"

#include <QString>
#include <functional>

namespace scorrere::workbench {

/// Who has a drag, and why: "down by 14 px before sideways by 6: the strip". `nameOf` names who could take it. Empty:
/// nobody does yet.
QString gestureInWords(const GestureStory& story, const std::function<QString(int taker)>& nameOf);

/// Who takes drags of a window, as people call it.
QString takerInWords(int taker);
/// "tap", "lifted"...
QString kindInWords(GestureEntry::Kind kind);
/// What it was, and why it was that, with numbers.
QString entryInWords(const GestureEntry& entry, const std::function<QString(int taker)>& nameOf);
/// What it was not, and what it lacked for that: "no long press: held for 120 of 500 ms".
QString lossInWords(const GestureLoss& loss, const std::function<QString(int taker)>& nameOf);

} // namespace scorrere::workbench
