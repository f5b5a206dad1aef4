// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"

#include <QStringList>
#include <array>
#include <optional>
#include <vector>

namespace scorrere::workbench {

/// A field of the records, as words may name it.
struct SectionField {
    QString name;
    bool isTime = false;
    bool operator==(const SectionField&) const = default;
};

/// An arrangement in the words of the sentence, and back: "a list", "a grid of 3 columns",
/// "a grid of cells 160 px wide or more", "2 ragged columns", "ragged columns 160 px wide or more", "a pager",
/// "placed by from" (a field of numbers or times), "a table", "your own stairs".
/// In a strip that runs sideways columns are rows. What the words do not say stays as it is in `now`.
QStringList arrangementChoices(bool isSideways, const std::vector<SectionField>& placeFields);
QString arrangementInWords(const ArrangementSpec& spec);
std::optional<ArrangementSpec> arrangementFromWords(const QString& typed, const ArrangementSpec& now);

/// As if there were another number of records: "as many as there are" (nothing), "as if there were 20,000", "as if
/// there were none".
QString asIfInWords(std::optional<std::int64_t> count);
std::optional<std::optional<std::int64_t>> asIfFromWords(const QString& typed);

/// How high the cells of a grid are, or how wide in a strip that runs sideways: "as high as their line",
/// "120 px high", "3 wide to 4 high".
QStringList cellChoices(bool isSideways);
QString cellsInWords(const GridSpec::Extent& cells, bool isSideways);
std::optional<GridSpec::Extent> cellsFromWords(const QString& typed);

/// How many columns items of a kind take: "every kind in one column", "odd across 2 columns, heading across all
/// columns". Of others than those named by `kinds` it does not speak, or know.
QStringList spanChoices(const QStringList& kinds, bool isSideways);
QString spansInWords(const std::vector<GridSpec::Span>& spans, bool isSideways);
std::optional<std::vector<GridSpec::Span>> spansFromWords(const QString& typed, const QStringList& kinds);
/// What becomes of room that a line has left: "lines filled by their last cell", "holes where one does not fit".
QString holesInWords(bool leavesHoles);

/// Whether all stands in one strip, or is turned by hand: "all in one strip", "20 at a time, turned by hand".
QStringList turningChoices();
QString turningInWords(std::int64_t byHand);
std::optional<std::int64_t> turningFromWords(const QString& typed);

/// What puts records in sections: "no sections", "sections by site" (a field), "sections by the first letter of
/// species", "sections by the day of seen", or its month, "sections by {site} and {status}" (a text). `fields`: those one can name, text or time.
QStringList sectionChoices(const std::vector<SectionField>& fields);
QString sectionsInWords(const std::optional<SectionsSpec>& sections);
std::optional<std::optional<SectionsSpec>> sectionsFromWords(const QString& typed,
                                                             const std::optional<SectionsSpec>& now);
/// What headers of sections do: "stay", "scroll away"; and whether there is a list to jump by: "a jump list", "no jump
/// list".
QString stayInWords(bool stay);
QString jumpsInWords(bool jumps);

/// What a table has above its records: "a heading that stays", "a heading that scrolls away", "no heading"; and what
/// its first column does while the others are scrolled to the side: "stays", "goes with the others".
QStringList headingChoices();
QString headingInWords(const TableSpec& table);
void headingFromWords(const QString& words, TableSpec& table);
QString firstColumnInWords(bool stays);

/// Which way the strip runs: "down", "sideways".
QString axisInWords(bool isSideways);
/// How wide an item is in a strip that runs sideways: "200 px wide", "80% of the window wide", "as wide as they
/// need up to 320 px".
QStringList widthChoices();
QString widthInWords(const Sideways::Width& width);
std::optional<Sideways::Width> widthFromWords(const QString& typed);

/// "24 px", and back.
QString pxInWords(Length length);
std::optional<Length> pxFromWords(const QString& typed);
/// How much of a pager's neighbours shows: "nothing", "24 px".
QStringList peekChoices();
QString peekInWords(Length peek);
std::optional<Length> peekFromWords(const QString& typed);
/// How far a fling goes in a pager: "one at a fling", "several at a fling".
QString flingInWords(bool several);
/// What comes after the last item of a pager: "nothing", "the first".
QString afterLastInWords(bool endless);
/// The marks of a pager: "no marks", "round marks", "long marks", "9 square marks at the top". What the words do
/// not say stays as it is in `now`.
QStringList markChoices();
QString marksInWords(const std::optional<MarksSpec>& marks);
std::optional<std::optional<MarksSpec>> marksFromWords(const QString& typed,
                                                       const std::optional<MarksSpec>& now);

/// How far cells stand apart: "8 px", "8 px and 16 px" (beside each other, and line from line).
QStringList gapChoices();
QString gapsInWords(Length crossGap, Length gap);
std::optional<std::array<Length, 2>> gapsFromWords(const QString& typed);

} // namespace scorrere::workbench
