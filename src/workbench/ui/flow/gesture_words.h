// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/gesture/gesture_arena.h"

#include <QString>
#include <functional>

namespace scorrere::workbench {

/// Who has a drag, and why: "down by 14 px before sideways by 6: the strip". `nameOf` names who could take it. Empty:
/// nobody does yet.
QString gestureInWords(const GestureStory& story, const std::function<QString(int taker)>& nameOf);

} // namespace scorrere::workbench
