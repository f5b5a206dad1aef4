// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/run/animation.h"

#include <QString>
#include <QStringList>
#include <optional>

namespace scorrere::workbench {

/// A view lead in words, and back: "half a screen", "1.5 screens", "nothing".
QString leadInWords(double windows);
std::optional<double> leadFromWords(const QString& words);
QStringList leadChoices();
/// How changes are shown as movement, and back: "at once", "in 250 ms", "in 1 s, linear"; "each in its time" where kinds of
/// change differ, which is only read. Nothing where the words say no such thing.
QString motionInWords(const AnimationSpec& animation);
std::optional<AnimationSpec> motionFromWords(const QString& words, const AnimationSpec& now);
QStringList motionChoices();
/// A text scale in words, and back: "150%".
QString scaleInWords(double scale);
std::optional<double> scaleFromWords(const QString& words);

} // namespace scorrere::workbench
