// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"

#include <QStringList>
#include <array>
#include <optional>

namespace scorrere::workbench {

/// An arrangement in the words of the sentence, and back: "a list", "a grid of 3 columns",
/// "a grid of cells 160 px wide or more", "2 ragged columns", "ragged columns 160 px wide or more". What the words do not say stays as it is in `now`.
QStringList arrangementChoices();
QString arrangementInWords(const ArrangementSpec& spec);
std::optional<ArrangementSpec> arrangementFromWords(const QString& typed, const ArrangementSpec& now);

/// As if there were another number of records: "as many as there are" (nothing), "as if there were 20,000", "as if
/// there were none".
QString asIfInWords(std::optional<std::int64_t> count);
std::optional<std::optional<std::int64_t>> asIfFromWords(const QString& typed);

/// How high the cells of a grid are: "as high as their line", "120 px high", "3 wide to 4 high".
QStringList cellChoices();
QString cellsInWords(const GridSpec::Extent& cells);
std::optional<GridSpec::Extent> cellsFromWords(const QString& typed);

/// How far cells stand apart: "8 px", "8 px and 16 px" (beside each other, and line from line).
QStringList gapChoices();
QString gapsInWords(Length crossGap, Length gap);
std::optional<std::array<Length, 2>> gapsFromWords(const QString& typed);

} // namespace scorrere::workbench
