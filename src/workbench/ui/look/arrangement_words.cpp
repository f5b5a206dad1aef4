// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/arrangement_words.h"

#include "engine/document/collection_document.h"
#include "workbench/ui/look/look.h"

#include <QObject>
#include <QRegularExpression>

#include <algorithm>
#include <array>
#include <span>
#include <utility>

namespace scorrere::workbench {

namespace {

constexpr double kMostPx = 10'000;

QString px(Length length) {
    return QObject::tr("%1 px").arg(QString::number(length.toPx()));
}

/// What they stand apart stays; else it is as far as the items did.
Lanes lanesFrom(const ArrangementSpec& now) {
    const Lanes* lanes = lanesOf(now);
    return lanes != nullptr ? *lanes : Lanes{1, {}, now.spacing.gap};
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

/// How many, or how wide at least, as two forms of words say it.
std::optional<Lanes> lanesFromWords(const QString& words, const QRegularExpression& numbers,
                                    const QRegularExpression& widths, const ArrangementSpec& now) {
    Lanes lanes = lanesFrom(now);
    if (const auto match = numbers.match(words); match.hasMatch()) {
        const auto count = laneCount(match.captured(1));
        lanes.count = count.value_or(1);
        lanes.least = Length{};
        return count ? std::optional(lanes) : std::nullopt;
    }
    const auto match = widths.match(words);
    const auto least = leastWidth(match.captured(1));
    lanes.least = least.value_or(Length{});
    return match.hasMatch() && least ? std::optional(lanes) : std::nullopt;
}

} // namespace

QStringList arrangementChoices(bool isSideways, const std::vector<SectionField>& placeFields) {
    const auto said = [&](decltype(ArrangementSpec::form) form) {
        ArrangementSpec spec;
        spec.form = std::move(form);
        spec.sideways = isSideways ? std::optional(Sideways()) : std::nullopt;
        return arrangementInWords(spec);
    };
    QStringList choices{said(ListSpec())};
    if (!isSideways) {
        choices << said(TableSpec());
    }
    for (const int columns : {2, 3, 4}) {
        choices << said(GridSpec{{columns, {}, {}}});
    }
    const Lanes wide{1, Length::px(160), {}};
    choices << said(GridSpec{wide});
    for (const int lanes : {2, 3}) {
        choices << said(ColumnsSpec{{lanes, {}, {}}});
    }
    choices << said(ColumnsSpec{wide}) << said(PagerSpec());
    for (const std::string& name : OwnArrangements::names()) {
        choices << said(OwnSpec{name});
    }
    constexpr std::size_t kMost = 3;
    for (const SectionField& field : std::span(placeFields).first(std::min(placeFields.size(), kMost))) {
        choices << said(PlacedSpec{{field.name.toStdString()}, {}});
    }
    return choices;
}

QString arrangementInWords(const ArrangementSpec& spec) {
    const bool areRows = spec.sideways.has_value();
    if (const auto* columns = std::get_if<ColumnsSpec>(&spec.form)) {
        const auto& [count, least, gap] = columns->lanes;
        if (areRows) {
            return least > Length{} ? QObject::tr("ragged rows %1 high or more").arg(px(least))
                   : count == 1     ? QObject::tr("1 ragged row")
                                    : QObject::tr("%1 ragged rows").arg(count);
        }
        return least > Length{} ? QObject::tr("ragged columns %1 wide or more").arg(px(least))
               : count == 1     ? QObject::tr("1 ragged column")
                                : QObject::tr("%1 ragged columns").arg(count);
    }
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        const auto& [count, least, gap] = grid->columns;
        if (areRows) {
            return least > Length{} ? QObject::tr("a grid of cells %1 high or more").arg(px(least))
                   : count == 1     ? QObject::tr("a grid of 1 row")
                                    : QObject::tr("a grid of %1 rows").arg(count);
        }
        return least > Length{} ? QObject::tr("a grid of cells %1 wide or more").arg(px(least))
               : count == 1     ? QObject::tr("a grid of 1 column")
                                : QObject::tr("a grid of %1 columns").arg(count);
    }
    if (const auto* placed = std::get_if<PlacedSpec>(&spec.form)) {
        return QObject::tr("placed by %1").arg(QString::fromStdString(placed->by.start));
    }
    if (const auto* own = std::get_if<OwnSpec>(&spec.form)) {
        return QObject::tr("your own %1").arg(QString::fromStdString(own->name));
    }
    return std::holds_alternative<PagerSpec>(spec.form)   ? QObject::tr("a pager")
           : std::holds_alternative<TableSpec>(spec.form) ? QObject::tr("a table")
                                                          : QObject::tr("a list");
}

std::optional<ArrangementSpec> arrangementFromWords(const QString& typed, const ArrangementSpec& now) {
    static const QRegularExpression ragged(QStringLiteral("^(\\d+) ragged(?: (?:column|row)s?)?$"));
    static const QRegularExpression raggedWide(
        QStringLiteral("^ragged(?: (?:column|row)s?)? (\\d+(?:\\.\\d+)?) ?px(?: wide| high)?(?: or more)?$"));
    static const QRegularExpression columns(
        QStringLiteral("^(?:a )?(?:grid of )?(\\d+)(?: (?:column|row)s?)?$"));
    static const QRegularExpression cells(QStringLiteral(
        "^(?:a )?(?:grid of )?(?:cells )?(\\d+(?:\\.\\d+)?) ?px(?: wide| high)?(?: or more)?$"));
    static const QRegularExpression placedBy(QStringLiteral("^placed by (\\S.*)$"));
    const QString words = typed.simplified().toLower();
    ArrangementSpec to = now;
    if (const auto match = placedBy.match(typed.simplified()); match.hasMatch()) { // fields have capitals
        const auto* placed = std::get_if<PlacedSpec>(&now.form);
        PlacedSpec form = placed != nullptr ? *placed : PlacedSpec{{}, lanesFrom(now).gap};
        form.by.start = match.captured(1).toStdString();
        to.form = std::move(form);
        to.sections.reset(); // there are none in it
        return to;
    }
    static const QRegularExpression yours(QStringLiteral("^your own (\\S.*)$"));
    if (const auto match = yours.match(typed.simplified()); match.hasMatch()) {
        const auto* own = std::get_if<OwnSpec>(&now.form);
        const std::string name = match.captured(1).toStdString();
        to.form = own != nullptr && own->name == name ? *own : OwnSpec{name};
        if (!takesSections(to)) {
            to.sections.reset();
        }
        return to;
    }
    if (words == QLatin1String("a list") || words == QLatin1String("list")) {
        to.form = ListSpec();
        return to;
    }
    if (words == QLatin1String("a table") || words == QLatin1String("table")) {
        to.form = std::holds_alternative<TableSpec>(now.form) ? now.form : TableSpec();
        to.sideways.reset(); // it does not run so
        return to;
    }
    if (words == QLatin1String("a pager") || words == QLatin1String("pager")) {
        if (!std::holds_alternative<PagerSpec>(now.form)) {
            to.form = PagerSpec{{}, false, MarksSpec()};
        }
        return to;
    }
    if (words.contains(QLatin1String("ragged"))) {
        const auto lanes = lanesFromWords(words, ragged, raggedWide, now);
        to.form = ColumnsSpec{lanes.value_or(Lanes())};
        return lanes ? std::optional(to) : std::nullopt;
    }
    const auto lanes = lanesFromWords(words, columns, cells, now);
    const auto* grid = std::get_if<GridSpec>(&now.form);
    GridSpec cellsTo = grid != nullptr ? *grid : GridSpec();
    cellsTo.columns = lanes.value_or(Lanes());
    to.form = std::move(cellsTo);
    return lanes ? std::optional(to) : std::nullopt;
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

namespace {

/// Times are told apart by their day or month, in the collection's language.
struct TimeStep {
    const char* word;
    QLatin1String pattern;
    QLatin1String jumpName;
};
constexpr std::array<TimeStep, 2> kTimeSteps{
    {{"day", QLatin1String("{%1, date, ::yMMMMd}"), QLatin1String("{%1, date, ::MMMd}")},
     {"month", QLatin1String("{%1, date, ::yMMMM}"), QLatin1String("{%1, date, ::yMMM}")}}};

QString stepInWords(const TimeStep& step, const QString& field) {
    return QObject::tr("sections by the %1 of %2").arg(QObject::tr(step.word), field);
}

/// Either "{site}", or by the day or month of a time; else as it is.
QString patternInWords(const QString& pattern) {
    static const QRegularExpression named(QStringLiteral("^\\{([^{},]+)(?:,[^{}]*)?\\}$"));
    const QString field = named.match(pattern).captured(1);
    if (!field.isEmpty() && pattern == QStringLiteral("{%1}").arg(field)) {
        return QObject::tr("sections by %1").arg(field);
    }
    const auto step = std::ranges::find_if(
        kTimeSteps, [&](const TimeStep& each) { return pattern == QString(each.pattern).arg(field); });
    return field.isEmpty() || step == kTimeSteps.end() ? QObject::tr("sections by %1").arg(pattern)
                                                       : stepInWords(*step, field);
}

} // namespace

QStringList sectionChoices(const std::vector<SectionField>& fields) {
    constexpr std::size_t kMost = 6;
    QStringList choices{sectionsInWords(std::nullopt)};
    for (const auto& [name, isTime] : std::span(fields).first(std::min(fields.size(), kMost))) {
        if (!isTime) {
            choices << QObject::tr("sections by %1").arg(name);
            continue;
        }
        for (const TimeStep& step : kTimeSteps) {
            choices << stepInWords(step, name);
        }
    }
    const auto text = std::ranges::find(fields, false, &SectionField::isTime);
    if (text != fields.end()) {
        choices << QObject::tr("sections by the first letter of %1").arg(text->name);
    }
    return choices;
}

QString sectionsInWords(const std::optional<SectionsSpec>& sections) {
    if (!sections) {
        return QObject::tr("no sections");
    }
    if (const auto* letter = std::get_if<SectionBy::FirstLetter>(&sections->by.is)) {
        return QObject::tr("sections by the first letter of %1").arg(QString::fromStdString(letter->field));
    }
    if (const auto* rules = std::get_if<SectionBy::Rules>(&sections->by.is)) {
        return rules->all.size() == 1 ? QObject::tr("sections by a rule")
                                      : QObject::tr("sections by %1 rules").arg(rules->all.size());
    }
    return patternInWords(QString::fromStdString(std::get<SectionBy::Text>(sections->by.is).pattern));
}

std::optional<std::optional<SectionsSpec>> sectionsFromWords(const QString& typed,
                                                             const std::optional<SectionsSpec>& now) {
    static const QRegularExpression form(
        QStringLiteral("^(?:in )?(?:sections )?by (?:the (first letter|day|month) of )?(\\S.*)$"));
    const QString words = typed.simplified();
    if (words == sectionsInWords(std::nullopt) || words == QLatin1String("none")) {
        return std::optional<SectionsSpec>();
    }
    if (now && words == sectionsInWords(now)) {
        return now; // rules have no words of their own
    }
    const auto match = form.match(words);
    const QString of = match.captured(1);
    const QString by = match.captured(2);
    if (!match.hasMatch() || by == QLatin1String("a rule") || by.endsWith(QLatin1String(" rules"))) {
        return std::nullopt;
    }
    SectionsSpec to = now.value_or(SectionsSpec());
    to.jumpName.clear(); // it spoke of what parted them before
    const auto step = std::ranges::find_if(
        kTimeSteps, [&of](const TimeStep& each) { return of == QLatin1String(each.word); });
    if (step != kTimeSteps.end()) {
        to.by.is = SectionBy::Text{QString(step->pattern).arg(by).toStdString()};
        to.jumpName = QString(step->jumpName).arg(by).toStdString();
    } else if (!of.isEmpty()) {
        to.by.is = SectionBy::FirstLetter{by.toStdString()};
    } else {
        const bool isText = by.contains(QLatin1Char('{'));
        to.by.is = SectionBy::Text{(isText ? by : QStringLiteral("{%1}").arg(by)).toStdString()};
    }
    return std::optional(to);
}

QString stayInWords(bool stay) {
    return stay ? QObject::tr("stay") : QObject::tr("scroll away");
}

QString jumpsInWords(bool jumps) {
    return jumps ? QObject::tr("a jump list") : QObject::tr("no jump list");
}

QStringList headingChoices() {
    return {headingInWords(TableSpec()), headingInWords({true, false}), headingInWords({false})};
}

QString headingInWords(const TableSpec& table) {
    return !table.heading       ? QObject::tr("no heading")
           : table.headingStays ? QObject::tr("a heading that stays")
                                : QObject::tr("a heading that scrolls away");
}

void headingFromWords(const QString& words, TableSpec& table) {
    table.heading = words != headingInWords({false});
    table.headingStays = words != headingInWords({true, false});
}

QString firstColumnInWords(bool stays) {
    return stays ? QObject::tr("stays") : QObject::tr("goes with the others");
}

QStringList cellChoices(bool isSideways) {
    return {cellsInWords(GridSpec::AsLine(), isSideways), cellsInWords(Length::px(120), isSideways),
            cellsInWords(GridSpec::Aspect{1, 1}, isSideways),
            cellsInWords(GridSpec::Aspect{3, 4}, isSideways)};
}

QString cellsInWords(const GridSpec::Extent& cells, bool isSideways) {
    if (const auto* extent = std::get_if<Length>(&cells)) {
        return (isSideways ? QObject::tr("%1 wide") : QObject::tr("%1 high")).arg(px(*extent));
    }
    if (const auto* aspect = std::get_if<GridSpec::Aspect>(&cells)) {
        return QObject::tr("%1 wide to %2 high").arg(aspect->width).arg(aspect->height);
    }
    return isSideways ? QObject::tr("as wide as their line") : QObject::tr("as high as their line");
}

std::optional<GridSpec::Extent> cellsFromWords(const QString& typed) {
    static const QRegularExpression high(QStringLiteral("^(\\d+(?:\\.\\d+)?)(?: ?px)?(?: high| wide)?$"));
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

QStringList spanChoices(const QStringList& kinds, bool isSideways) {
    QStringList choices{spansInWords({}, isSideways)};
    for (const QString& kind : kinds) {
        for (const int columns : {2, GridSpec::kAllColumns}) {
            choices << spansInWords({{kind.toStdString(), columns}}, isSideways);
        }
    }
    return choices;
}

QString spansInWords(const std::vector<GridSpec::Span>& spans, bool isSideways) {
    QStringList all;
    for (const auto& [kind, columns] : spans) {
        const QString lines = isSideways ? QObject::tr("rows") : QObject::tr("columns");
        if (columns == GridSpec::kAllColumns) {
            all << QObject::tr("%1 across all %2").arg(QString::fromStdString(kind), lines);
        } else if (columns > 1) {
            all << QObject::tr("%1 across %2 %3").arg(QString::fromStdString(kind)).arg(columns).arg(lines);
        }
    }
    return !all.isEmpty() ? all.join(QStringLiteral(", "))
           : isSideways   ? QObject::tr("every kind in one row")
                          : QObject::tr("every kind in one column");
}

std::optional<std::vector<GridSpec::Span>> spansFromWords(const QString& typed, const QStringList& kinds) {
    static const QRegularExpression one(
        QStringLiteral("^(.+?) (?:across|in|over) (all|\\d+|one)(?: columns?| rows?)?$"));
    std::vector<GridSpec::Span> spans;
    for (const QString& piece : typed.simplified().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const auto match = one.match(piece.trimmed());
        const QString many = match.captured(2);
        const int columns = many == QLatin1String("all")   ? GridSpec::kAllColumns
                            : many == QLatin1String("one") ? 1
                                                           : many.toInt();
        if (!match.hasMatch() || columns > static_cast<int>(Arrangement::kMostInALine) ||
            (columns < 1 && columns != GridSpec::kAllColumns) || (many == QLatin1String("0"))) {
            return std::nullopt;
        }
        const QString kind = match.captured(1);
        if (kinds.contains(kind)) {
            if (columns != 1) {
                spans.push_back({kind.toStdString(), columns});
            }
        } else if (kind.compare(QLatin1String("every kind"), Qt::CaseInsensitive) != 0 || columns != 1) {
            return std::nullopt;
        }
    }
    return spans;
}

QString holesInWords(bool leavesHoles) {
    return leavesHoles ? QObject::tr("holes where one does not fit")
                       : QObject::tr("lines filled by their last cell");
}

QStringList turningChoices() {
    return {turningInWords(0), turningInWords(10), turningInWords(20), turningInWords(50)};
}

QString turningInWords(std::int64_t byHand) {
    return byHand == 0 ? QObject::tr("all in one strip")
                       : QObject::tr("%1 at a time, turned by hand").arg(grouped(byHand));
}

std::optional<std::int64_t> turningFromWords(const QString& typed) {
    static const QRegularExpression form(
        QStringLiteral("^(\\d{1,5})(?: at a time)?(?:,? (?:turned )?by hand)?$"));
    const QString words =
        typed.simplified().toLower().remove(QRegularExpression(QStringLiteral("(?<=\\d),(?=\\d)")));
    if (words == turningInWords(0) || words == QLatin1String("all")) {
        return 0;
    }
    const auto match = form.match(words);
    const qint64 count = match.captured(1).toLongLong();
    return match.hasMatch() && count >= 1 && count <= Leaf::kMostSize ? std::optional<std::int64_t>(count)
                                                                      : std::nullopt;
}

QString axisInWords(bool isSideways) {
    return isSideways ? QObject::tr("sideways") : QObject::tr("down");
}

QStringList widthChoices() {
    return {widthInWords(Length::px(120)), widthInWords(Length::px(200)), widthInWords(Sideways::Share{0.8}),
            widthInWords(Sideways::Share{0.45}), widthInWords(Sideways::Content())};
}

QString widthInWords(const Sideways::Width& width) {
    if (const auto* share = std::get_if<Sideways::Share>(&width)) {
        return QObject::tr("%1% of the window wide").arg(QString::number(share->of * 100));
    }
    if (const auto* content = std::get_if<Sideways::Content>(&width)) {
        return QObject::tr("as wide as they need up to %1").arg(px(content->most));
    }
    return QObject::tr("%1 wide").arg(px(std::get<Length>(width)));
}

std::optional<Sideways::Width> widthFromWords(const QString& typed) {
    static const QRegularExpression share(
        QStringLiteral("^(\\d+(?:\\.\\d+)?) ?%(?: of the window)?(?: wide)?$"));
    static const QRegularExpression content(
        QStringLiteral("^(?:as wide as they need )?up to (\\d+(?:\\.\\d+)?)(?: ?px)?$"));
    static const QRegularExpression fixed(QStringLiteral("^(\\d+(?:\\.\\d+)?)(?: ?px)?(?: wide)?$"));
    const QString words = typed.simplified().toLower();
    if (const auto match = share.match(words); match.hasMatch()) {
        const double of = match.captured(1).toDouble() / 100;
        return of >= 0.05 && of <= 4 ? std::optional<Sideways::Width>(Sideways::Share{of}) : std::nullopt;
    }
    const auto most = content.match(words);
    const auto match = most.hasMatch() ? most : fixed.match(words);
    const double wide = match.captured(1).toDouble();
    if (!match.hasMatch() || wide < 1 || wide > kMostPx) {
        return std::nullopt;
    }
    return most.hasMatch() ? Sideways::Width(Sideways::Content{Length::fromPx(wide)})
                           : Sideways::Width(Length::fromPx(wide));
}

QString pxInWords(Length length) {
    return px(length);
}

std::optional<Length> pxFromWords(const QString& typed) {
    static const QRegularExpression form(QStringLiteral("^(\\d+(?:\\.\\d+)?)(?: ?px)?$"));
    const auto match = form.match(typed.simplified().toLower());
    const double wide = match.captured(1).toDouble();
    return match.hasMatch() && wide <= 1000 ? std::optional(Length::fromPx(wide)) : std::nullopt;
}

QStringList peekChoices() {
    return {peekInWords({}), peekInWords(Length::px(12)), peekInWords(Length::px(24)),
            peekInWords(Length::px(48))};
}

QString peekInWords(Length peek) {
    return peek == Length{} ? QObject::tr("nothing") : px(peek);
}

std::optional<Length> peekFromWords(const QString& typed) {
    return typed.simplified().toLower() == peekInWords({}) ? std::optional(Length{}) : pxFromWords(typed);
}

QString flingInWords(bool several) {
    return several ? QObject::tr("several at a fling") : QObject::tr("one at a fling");
}

QString afterLastInWords(bool endless) {
    return endless ? QObject::tr("the first") : QObject::tr("nothing");
}

QStringList markChoices() {
    QStringList choices{marksInWords(std::nullopt)};
    MarksSpec marks;
    for (const MarksSpec::Shape shape :
         {MarksSpec::Shape::Round, MarksSpec::Shape::Long, MarksSpec::Shape::Square}) {
        marks.shape = shape;
        choices << marksInWords(marks);
    }
    marks.isAtStart = true;
    marks.shape = MarksSpec::Shape::Round;
    return choices << marksInWords(marks);
}

QString marksInWords(const std::optional<MarksSpec>& marks) {
    if (!marks) {
        return QObject::tr("no marks");
    }
    const QString shape = marks->shape == MarksSpec::Shape::Round  ? QObject::tr("round marks")
                          : marks->shape == MarksSpec::Shape::Long ? QObject::tr("long marks")
                                                                   : QObject::tr("square marks");
    QString words =
        marks->most == MarksSpec().most ? shape : QStringLiteral("%1 %2").arg(marks->most).arg(shape);
    return marks->isAtStart ? QObject::tr("%1 at the first edge").arg(words) : words;
}

std::optional<std::optional<MarksSpec>> marksFromWords(const QString& typed,
                                                       const std::optional<MarksSpec>& now) {
    static const QRegularExpression form(QStringLiteral(
        "^(?:(\\d{1,2}) )?(?:(round|long|square) )?marks?( at (?:the )?(?:first edge|top|start))?$"));
    const QString words = typed.simplified().toLower();
    if (words == marksInWords(std::nullopt) || words == QLatin1String("none")) {
        return std::optional<MarksSpec>();
    }
    const auto match = form.match(words);
    MarksSpec marks = now.value_or(MarksSpec());
    marks.most = match.captured(1).isEmpty() ? MarksSpec().most : match.captured(1).toInt();
    if (!match.hasMatch() || marks.most < MarksSpec::kLeast || marks.most > MarksSpec::kMost) {
        return std::nullopt;
    }
    const QString shape = match.captured(2);
    marks.shape = shape == QLatin1String("long")     ? MarksSpec::Shape::Long
                  : shape == QLatin1String("square") ? MarksSpec::Shape::Square
                                                     : MarksSpec::Shape::Round;
    marks.isAtStart = !match.captured(3).isEmpty();
    return std::optional(marks);
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
