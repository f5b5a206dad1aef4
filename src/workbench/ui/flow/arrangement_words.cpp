// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/arrangement_words.h"

#include "engine/document/collection_document.h"
#include "workbench/ui/look/look.h"

#include <QObject>
#include <QRegularExpression>

namespace scorrere::workbench {

namespace {

constexpr double kMostPx = 10'000;

QString px(Length length) {
    return QObject::tr("%1 px").arg(QString::number(length.toPx()));
}

/// What is a grid already keeps what its cells are; else they stand as far apart as the items did.
GridSpec gridFrom(const ArrangementSpec& now) {
    if (const auto* grid = std::get_if<GridSpec>(&now.form)) {
        return *grid;
    }
    GridSpec grid;
    const auto* columns = std::get_if<ColumnsSpec>(&now.form);
    grid.crossGap = columns != nullptr ? columns->crossGap : now.spacing.gap;
    return grid;
}

/// The same of ragged columns.
ColumnsSpec columnsFrom(const ArrangementSpec& now) {
    if (const auto* columns = std::get_if<ColumnsSpec>(&now.form)) {
        return *columns;
    }
    ColumnsSpec columns;
    const auto* grid = std::get_if<GridSpec>(&now.form);
    columns.crossGap = grid != nullptr ? grid->crossGap : now.spacing.gap;
    return columns;
}

std::optional<int> laneCount(const QString& digits) {
    const int count = digits.toInt();
    return count >= 1 && count <= static_cast<int>(Arrangement::kMostInALine) ? std::optional<int>(count)
                                                                              : std::nullopt;
}

std::optional<Length> leastWidth(const QString& digits) {
    const double least = digits.toDouble();
    return least >= 16 && least <= kMostPx ? std::optional<Length>(Length::fromPx(least)) : std::nullopt;
}

std::optional<ArrangementSpec> raggedFromWords(const QString& words, const ArrangementSpec& now) {
    static const QRegularExpression lanes(QStringLiteral("^(\\d+) ragged(?: columns?)?$"));
    static const QRegularExpression widths(
        QStringLiteral("^ragged(?: columns?)? (\\d+(?:\\.\\d+)?) ?px(?: wide)?(?: or more)?$"));
    ColumnsSpec columns = columnsFrom(now);
    if (const auto match = lanes.match(words); match.hasMatch()) {
        const auto count = laneCount(match.captured(1));
        columns.lanes = count.value_or(1);
        columns.leastLane = Length{};
        return count ? std::optional(ArrangementSpec{now.spacing, columns}) : std::nullopt;
    }
    if (const auto match = widths.match(words); match.hasMatch()) {
        const auto least = leastWidth(match.captured(1));
        columns.leastLane = least.value_or(Length{});
        columns.lanes = ColumnsSpec().lanes; // the file does not say it then
        return least ? std::optional(ArrangementSpec{now.spacing, columns}) : std::nullopt;
    }
    return std::nullopt;
}

} // namespace

QStringList arrangementChoices() {
    GridSpec grid;
    QStringList choices{arrangementInWords({})};
    for (const int columns : {2, 3, 4}) {
        grid.columns = columns;
        choices << arrangementInWords({{}, grid});
    }
    grid.leastCell = Length::px(160);
    choices << arrangementInWords({{}, grid});
    ColumnsSpec columns;
    for (const int lanes : {2, 3}) {
        columns.lanes = lanes;
        choices << arrangementInWords({{}, columns});
    }
    columns.leastLane = Length::px(160);
    return choices << arrangementInWords({{}, columns});
}

QString arrangementInWords(const ArrangementSpec& spec) {
    if (const auto* columns = std::get_if<ColumnsSpec>(&spec.form)) {
        return columns->leastLane > Length{}
                   ? QObject::tr("ragged columns %1 wide or more").arg(px(columns->leastLane))
               : columns->lanes == 1 ? QObject::tr("1 ragged column")
                                     : QObject::tr("%1 ragged columns").arg(columns->lanes);
    }
    const auto* grid = std::get_if<GridSpec>(&spec.form);
    if (grid == nullptr) {
        return QObject::tr("a list");
    }
    return grid->leastCell > Length{}
               ? QObject::tr("a grid of cells %1 wide or more").arg(px(grid->leastCell))
           : grid->columns == 1 ? QObject::tr("a grid of 1 column")
                                : QObject::tr("a grid of %1 columns").arg(grid->columns);
}

std::optional<ArrangementSpec> arrangementFromWords(const QString& typed, const ArrangementSpec& now) {
    static const QRegularExpression columns(QStringLiteral("^(?:a )?(?:grid of )?(\\d+)(?: columns?)?$"));
    static const QRegularExpression cells(
        QStringLiteral("^(?:a )?(?:grid of )?(?:cells )?(\\d+(?:\\.\\d+)?) ?px(?: wide)?(?: or more)?$"));
    const QString words = typed.simplified().toLower();
    if (words == QLatin1String("a list") || words == QLatin1String("list")) {
        return ArrangementSpec{now.spacing, ListSpec()};
    }
    if (words.contains(QLatin1String("ragged"))) {
        return raggedFromWords(words, now);
    }
    GridSpec grid = gridFrom(now);
    if (const auto match = columns.match(words); match.hasMatch()) {
        const auto count = laneCount(match.captured(1));
        grid.columns = count.value_or(1);
        grid.leastCell = Length{};
        return count ? std::optional(ArrangementSpec{now.spacing, grid}) : std::nullopt;
    }
    const auto match = cells.match(words);
    const auto least = leastWidth(match.captured(1));
    grid.leastCell = least.value_or(Length{});
    grid.columns = GridSpec().columns; // the file does not say it then
    return match.hasMatch() && least ? std::optional(ArrangementSpec{now.spacing, grid}) : std::nullopt;
}

QString asIfInWords(std::optional<std::int64_t> count) {
    return !count        ? QObject::tr("as many as there are")
           : *count == 0 ? QObject::tr("as if there were none")
                         : QObject::tr("as if there were %1").arg(grouped(*count));
}

std::optional<std::optional<std::int64_t>> asIfFromWords(const QString& typed) {
    static const QRegularExpression form(QStringLiteral("^(?:as if there (?:were|was) )?(\\d+)$"));
    const QString words = typed.simplified().toLower().remove(QLatin1Char(','));
    if (words == asIfInWords(std::nullopt)) {
        return std::optional<std::int64_t>();
    }
    if (words == asIfInWords(0) || words == QLatin1String("none")) {
        return std::optional<std::int64_t>(0);
    }
    const auto match = form.match(words);
    const qint64 count = match.captured(1).toLongLong();
    if (!match.hasMatch() || match.captured(1).size() > 9 || count > CollectionDocument::kMostAsIf) {
        return std::nullopt;
    }
    return std::optional<std::int64_t>(count);
}

QStringList cellChoices() {
    return {QObject::tr("as high as their line"), QObject::tr("120 px high"), QObject::tr("1 wide to 1 high"),
            QObject::tr("3 wide to 4 high")};
}

QString cellsInWords(const GridSpec::Extent& cells) {
    if (const auto* extent = std::get_if<Length>(&cells)) {
        return QObject::tr("%1 high").arg(px(*extent));
    }
    if (const auto* aspect = std::get_if<GridSpec::Aspect>(&cells)) {
        return QObject::tr("%1 wide to %2 high").arg(aspect->width).arg(aspect->height);
    }
    return QObject::tr("as high as their line");
}

std::optional<GridSpec::Extent> cellsFromWords(const QString& typed) {
    static const QRegularExpression high(QStringLiteral("^(\\d+(?:\\.\\d+)?)(?: ?px)?(?: high)?$"));
    static const QRegularExpression sides(
        QStringLiteral("^(\\d{1,4})(?: wide)? ?(?:to|:|x|×) ?(\\d{1,4})(?: high)?$"));
    const QString words = typed.simplified().toLower();
    if (words.contains(QLatin1String("line"))) {
        return GridSpec::AsLine{};
    }
    if (const auto match = high.match(words); match.hasMatch()) {
        const double extent = match.captured(1).toDouble();
        return extent >= 1 && extent <= kMostPx ? std::optional<GridSpec::Extent>(Length::fromPx(extent))
                                                : std::nullopt;
    }
    const auto match = sides.match(words);
    const GridSpec::Aspect aspect{match.captured(1).toLongLong(), match.captured(2).toLongLong()};
    return match.hasMatch() && aspect.width > 0 && aspect.height > 0 ? std::optional<GridSpec::Extent>(aspect)
                                                                     : std::nullopt;
}

QStringList gapChoices() {
    return {QObject::tr("0 px"), QObject::tr("4 px"), QObject::tr("8 px"), QObject::tr("16 px")};
}

QString gapsInWords(Length crossGap, Length gap) {
    return gap == crossGap ? px(gap) : QObject::tr("%1 and %2").arg(px(crossGap), px(gap));
}

std::optional<std::array<Length, 2>> gapsFromWords(const QString& typed) {
    static const QRegularExpression form(
        QStringLiteral("^(\\d+(?:\\.\\d+)?)(?: ?px)?(?: and (\\d+(?:\\.\\d+)?)(?: ?px)?)?$"));
    const auto match = form.match(typed.simplified());
    const double cross = match.captured(1).toDouble();
    const double along = match.captured(2).isEmpty() ? cross : match.captured(2).toDouble();
    if (!match.hasMatch() || cross > 1000 || along > 1000) {
        return std::nullopt;
    }
    return std::array{Length::fromPx(cross), Length::fromPx(along)};
}

} // namespace scorrere::workbench
