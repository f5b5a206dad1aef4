// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/arrangement_words.h"

namespace scorrere::workbench {

/// How long items are that are placed: "as long as can be read" (the least), "to until" (a field), "for minutes" (a
/// field of units), "for 45 units".
QStringList placedLengthChoices(const std::vector<SectionField>& fields, const PlacedBy& by);
QString placedLengthInWords(const PlacedBy& by);
/// What the words do not say stays as it is in `now`.
std::optional<PlacedBy> placedLengthFromWords(const QString& typed, const PlacedBy& now);

/// How long a unit is: "1.5 px a minute"; of numbers "1.5 px a unit", whatever unit times have.
QStringList placedScaleChoices(bool isTime);
QString placedScaleInWords(const PlacedBy& by, bool isTime);
std::optional<PlacedBy> placedScaleFromWords(const QString& typed, const PlacedBy& now);

/// Which lanes there are: "one lane", "lanes by site".
QStringList placedLaneChoices(const std::vector<SectionField>& fields);
QString placedLaneInWords(const std::string& lane);
std::optional<std::string> placedLaneFromWords(const QString& typed);

} // namespace scorrere::workbench
