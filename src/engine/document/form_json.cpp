// SPDX-License-Identifier: Apache-2.0
#include "engine/document/form_json.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>

namespace scorrere {

namespace {

constexpr std::array<const char*, 7> kForms{"list",   "grid", "columns", "pager",
                                            "placed", "own",  "table"}; // as the variant has them
constexpr std::size_t kLastInStrips = 3;
constexpr double kMostPx = 10'000;

Spacing readSpacing(Members& members) {
    Spacing spacing;
    spacing.gap = members.length("gap").value_or(Length{});
    const std::vector<double> insets = members.numbers("insets", 0, kMostPx);
    for (std::size_t i = 0; i < 4 && !insets.empty(); ++i) {
        spacing.insets[i] = Length::fromPx(insets[i % insets.size()]);
    }
    return spacing;
}

/// `count` and `least`: what the arrangement calls the number and the least width.
Lanes readLanes(Members& members, Lanes lanes, const char* count, const char* least, const Spacing& spacing) {
    constexpr auto kMost = static_cast<std::int64_t>(Arrangement::kMostInALine);
    lanes.count = static_cast<int>(members.whole(count, lanes.count, 1, kMost));
    lanes.least = Length::fromPx(members.number(least, 0, 0, kMostPx));
    if (members.has(count) && members.has(least)) {
        members.fail(least, fmt::format("the {} are given twice, by number and by their least width", count),
                     fmt::format("Have either \"{}\" or \"{}\".", count, least));
    }
    lanes.gap = members.length("crossGap").value_or(spacing.gap);
    return lanes;
}

/// By the name of a kind: a number of columns, or "all".
std::vector<GridSpec::Span> readSpans(Members& members, std::optional<Error>& error) {
    std::vector<GridSpec::Span> spans;
    const Json* json = members.member("spans");
    if (json == nullptr) {
        return spans;
    }
    if (!json->is_object()) {
        members.fail("spans", "\"spans\" must be an object",
                     "Write {\"kind\": 2} or {\"kind\": \"all\"}, with the name of a kind.");
        return spans;
    }
    Members each(*json, members.pointerTo("spans"), error);
    constexpr auto kMost = static_cast<std::int64_t>(Arrangement::kMostInALine);
    for (const auto& [kind, span] : json->items()) {
        const bool isAll = span == "all";
        spans.push_back(
            {kind, isAll ? GridSpec::kAllColumns : static_cast<int>(each.whole(kind.c_str(), 1, 1, kMost))});
    }
    return spans;
}

GridSpec readGrid(Members& members, const Spacing& spacing, std::optional<Error>& error) {
    GridSpec grid;
    grid.columns = readLanes(members, grid.columns, "columns", "leastCell", spacing);
    if (members.has("extent") && members.has("shape")) {
        members.fail("shape", "the cells' height is given twice", "Have either \"extent\" or \"shape\".");
    } else if (members.has("extent")) {
        grid.extent = Length::fromPx(members.number("extent", 100, 1, 100'000));
    } else if (members.has("shape")) {
        const std::vector<double> sides = members.numbers("shape", 1, kMostPx);
        if (sides.size() == 2) {
            grid.extent = GridSpec::Aspect{std::llround(sides[0]), std::llround(sides[1])};
        } else {
            members.fail("shape", "\"shape\" is not two numbers", "Write [width, height], as in [3, 4].");
        }
    }
    grid.spans = readSpans(members, error);
    grid.leavesHoles = members.yesNo("holes", false);
    return grid;
}

const std::vector<std::pair<const char*, MarksSpec::Shape>>& shapes() {
    static const std::vector<std::pair<const char*, MarksSpec::Shape>> all{
        {"round", MarksSpec::Shape::Round},
        {"long", MarksSpec::Shape::Long},
        {"square", MarksSpec::Shape::Square}};
    return all;
}

std::string readRole(Members& members, const char* name, const std::string& otherwise) {
    static const std::vector<std::pair<const char*, std::string>> roles{
        {"accent", "accent"}, {"ink", "ink"},   {"quiet", "quiet"},     {"faint", "faint"},
        {"note", "note"},     {"good", "good"}, {"caution", "caution"}, {"bad", "bad"}};
    return members.oneOf(name, otherwise, roles);
}

PagerSpec readPager(Members& members, std::optional<Error>& error, std::vector<std::string>& unknown) {
    PagerSpec pager;
    pager.peek = Length::fromPx(members.number("peek", 0, 0, kMostPx));
    pager.several = members.yesNo("several", false);
    pager.endless = members.yesNo("endless", false);
    if (const Json* json = members.member("marks")) {
        Members marks(*json, members.pointerTo("marks"), error);
        MarksSpec spec;
        spec.shape = marks.oneOf("shape", spec.shape, shapes());
        spec.present = readRole(marks, "present", spec.present);
        spec.others = readRole(marks, "others", spec.others);
        spec.isAtStart = marks.yesNo("atStart", false);
        spec.most = static_cast<int>(marks.whole("most", spec.most, MarksSpec::kLeast, MarksSpec::kMost));
        pager.marks = spec;
        std::ranges::move(marks.unknown(), std::back_inserter(unknown));
    }
    return pager;
}

const std::vector<std::pair<const char*, PlacedBy::Unit>>& units() {
    static const std::vector<std::pair<const char*, PlacedBy::Unit>> all{{"second", PlacedBy::Unit::Second},
                                                                         {"minute", PlacedBy::Unit::Minute},
                                                                         {"hour", PlacedBy::Unit::Hour},
                                                                         {"day", PlacedBy::Unit::Day}};
    return all;
}

PlacedSpec readPlaced(Members& members, const Spacing& spacing) {
    PlacedSpec placed;
    PlacedBy& by = placed.by;
    by.start = members.text("start");
    if (by.start.empty()) {
        members.fail("start", "it does not say where items stand",
                     R"(Name the field of their starts, as in {"start": "from", "end": "until"}.)");
    }
    if (members.has("end") && members.has("extent")) {
        members.fail("extent", "how long items are is given twice", R"(Have either "end" or "extent".)");
    }
    by.end = members.text("end");
    if (const Json* extent = members.member("extent"); extent != nullptr && extent->is_string()) {
        by.extent = members.text("extent");
    } else {
        by.units = members.number("extent", 0, 0, 1e9);
    }
    by.lane = members.text("lane");
    by.unit = members.oneOf("per", by.unit, units());
    by.scale = members.number("scale", by.scale, 1e-9, 1e6);
    by.least = Length::fromPx(members.number("least", by.least.toPx(), 1, kMostPx));
    placed.laneGap = members.length("crossGap").value_or(spacing.gap);
    return placed;
}

OwnSpec readOwn(Members& members, std::optional<Error>& error) {
    OwnSpec own;
    own.name = members.text("name");
    if (own.name.empty()) {
        members.fail("name", "it does not say which arrangement it is",
                     R"(Name one that this program brings, as in {"name": "stairs"}.)");
    }
    if (const Json* json = members.member("numbers")) {
        Members numbers(*json, members.pointerTo("numbers"), error);
        for (const auto& [name, number] : json->items()) {
            own.numbers[name] = numbers.number(name.c_str(), 0, -1e9, 1e9);
        }
    }
    return own;
}

TableSpec readTable(Members& members) {
    TableSpec table;
    table.heading = members.yesNo("heading", true);
    table.headingStays = members.yesNo("headingStays", true);
    table.firstStays = members.yesNo("firstStays", true);
    if (members.has("sideways")) {
        members.fail("sideways", "a table does not run sideways",
                     "Leave \"sideways\" out, or have a \"list\" or a \"grid\".");
    }
    return table;
}

/// A pattern; or what says which heading a record stands under, and how it shows.
std::optional<SectionsSpec> readSections(Members& members, std::optional<Error>& error,
                                         std::vector<std::string>& unknown) {
    const Json* json = members.member("sections");
    if (json == nullptr) {
        return std::nullopt;
    }
    SectionsSpec spec;
    if (json->is_string()) {
        spec.by.is = SectionBy::Text{json->get<std::string>()};
        return spec;
    }
    Members sections(*json, members.pointerTo("sections"), error);
    spec.stay = sections.yesNo("stay", true);
    if (const Json* jumps = sections.member("jumpList"); jumps != nullptr && jumps->is_string()) {
        spec.jumps = true;
        spec.jumpName = jumps->get<std::string>();
    } else {
        spec.jumps = sections.yesNo("jumpList", false);
    }
    const bool areTwo = sections.has("by") + sections.has("firstLetter") + sections.has("rules") != 1;
    if (areTwo) {
        sections.fail("by", "it does not say what parts records into sections",
                      R"(Have one of "by" (a text, as in "{site}"), "firstLetter" (a field) and "rules".)");
        return spec;
    }
    if (sections.has("by")) {
        spec.by.is = SectionBy::Text{sections.text("by")};
    } else if (sections.has("firstLetter")) {
        spec.by.is = SectionBy::FirstLetter{sections.text("firstLetter")};
    } else if (const Json* rules = sections.member("rules"); !rules->is_array() || rules->empty()) {
        sections.fail("rules", "\"rules\" is no list of rules",
                      R"(Write [{"name": "large", "when": "@.wingspan_mm > 60"}, {"name": "others"}].)");
    } else {
        SectionBy::Rules all;
        for (std::size_t i = 0; i < rules->size() && !error; ++i) {
            Members one((*rules)[i], fmt::format("{}/{}", sections.pointerTo("rules"), i), error);
            all.all.push_back({one.text("name"), one.text("when")});
            if (all.all.back().name.empty()) {
                one.fail("name", "a rule has no name", "Its name is what the section's header says.");
            }
            std::ranges::move(one.unknown(), std::back_inserter(unknown));
        }
        spec.by.is = std::move(all);
    }
    std::ranges::move(sections.unknown(), std::back_inserter(unknown));
    return spec;
}

std::optional<Sideways> readSideways(Members& members, std::optional<Error>& error,
                                     std::vector<std::string>& unknown) {
    if (!members.has("sideways")) {
        return std::nullopt;
    }
    const Json& json = *members.member("sideways");
    if (json.is_boolean()) {
        return json.get<bool>() ? std::optional<Sideways>(Sideways()) : std::nullopt;
    }
    if (json.is_number()) {
        return Sideways{Length::fromPx(members.number("sideways", 200, 1, kMostPx))};
    }
    if (!json.is_object() || json.contains("share") == json.contains("most")) {
        members.fail(
            "sideways", "it does not say how wide an item is",
            "Write a number of px, {\"share\": 0.8} of the window, {\"most\": 320} for as wide as what "
            "it holds, or true where the arrangement gives it.");
        return std::nullopt;
    }
    Members width(json, members.pointerTo("sideways"), error);
    Sideways sideways;
    if (width.has("share")) {
        sideways.width = Sideways::Share{width.number("share", 0.8, 0.05, 4)};
    } else {
        sideways.width = Sideways::Content{Length::fromPx(width.number("most", 320, 1, kMostPx))};
    }
    std::ranges::move(width.unknown(), std::back_inserter(unknown));
    return sideways;
}

Json writtenLength(Length length) {
    const double px = length.toPx();
    return px == std::floor(px) ? Json(static_cast<std::int64_t>(px)) : Json(px);
}

Json writtenSideways(const ArrangementSpec& spec) {
    if (std::holds_alternative<PagerSpec>(spec.form) || std::holds_alternative<PlacedSpec>(spec.form)) {
        return true; // the arrangement gives it
    }
    if (const auto* share = std::get_if<Sideways::Share>(&spec.sideways->width)) {
        return {{"share", share->of}};
    }
    if (const auto* content = std::get_if<Sideways::Content>(&spec.sideways->width)) {
        return {{"most", writtenLength(content->most)}};
    }
    return writtenLength(std::get<Length>(spec.sideways->width));
}

Json writtenSections(const SectionsSpec& spec) {
    Json sections = Json::object();
    if (const auto* text = std::get_if<SectionBy::Text>(&spec.by.is)) {
        if (spec.stay && !spec.jumps) {
            return text->pattern;
        }
        sections["by"] = text->pattern;
    } else if (const auto* letter = std::get_if<SectionBy::FirstLetter>(&spec.by.is)) {
        sections["firstLetter"] = letter->field;
    } else {
        sections["rules"] = Json::array();
        for (const auto& [name, when] : std::get<SectionBy::Rules>(spec.by.is).all) {
            sections["rules"].push_back(when.empty() ? Json{{"name", name}}
                                                     : Json{{"name", name}, {"when", when}});
        }
    }
    if (!spec.stay) {
        sections["stay"] = false;
    }
    if (spec.jumps) {
        sections["jumpList"] = spec.jumpName.empty() ? Json(true) : Json(spec.jumpName);
    }
    return sections;
}

/// Puts members in an object, or takes out those that say what is usual.
class Writer {
public:
    explicit Writer(Json& to) : to_(to) { to_ = to_.is_object() ? to_ : Json::object(); }
    void put(const char* name, const Json& value, bool isUsual) {
        if (isUsual) {
            to_.erase(name);
        } else {
            to_[name] = value;
        }
    }
    Json& at(const char* name) { return to_[name]; }

private:
    Json& to_;
};

void writeMarks(Writer& pager, const std::optional<MarksSpec>& marks) {
    if (!marks) {
        return pager.put("marks", {}, true);
    }
    const MarksSpec usual;
    const auto shape = std::ranges::find(shapes(), marks->shape, [](const auto& one) { return one.second; });
    Writer one(pager.at("marks"));
    one.put("shape", shape->first, marks->shape == usual.shape);
    one.put("present", marks->present, marks->present == usual.present);
    one.put("others", marks->others, marks->others == usual.others);
    one.put("atStart", marks->isAtStart, !marks->isAtStart);
    one.put("most", marks->most, marks->most == usual.most);
}

} // namespace

void writeArrangement(Json& json, const ArrangementSpec& spec) {
    const char* form = kForms[spec.form.index()];
    Json& to = json["arrangement"];
    to = to.is_object() ? to : Json::object();
    for (const char* other : kForms) {
        if (other != form) {
            to.erase(other);
        }
    }
    Writer one(to[form]);
    const auto& [gap, insets] = spec.spacing;
    one.put("gap", writtenLength(gap), false);
    if (const Lanes* lanes = lanesOf(spec)) {
        const bool isGrid = std::holds_alternative<GridSpec>(spec.form);
        const bool isByWidth = lanes->least > Length{};
        one.put(isGrid ? "columns" : "lanes", lanes->count, isByWidth);
        one.put(isGrid ? "leastCell" : "leastLane", writtenLength(lanes->least), !isByWidth);
        one.put("crossGap", writtenLength(lanes->gap), lanes->gap == gap);
    }
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        const auto* extent = std::get_if<Length>(&grid->extent);
        one.put("extent", extent == nullptr ? Json() : writtenLength(*extent), extent == nullptr);
        const auto* aspect = std::get_if<GridSpec::Aspect>(&grid->extent);
        one.put("shape", aspect == nullptr ? Json() : Json{aspect->width, aspect->height}, aspect == nullptr);
        Json spans = Json::object();
        for (const auto& [kind, columns] : grid->spans) {
            spans[kind] = columns == GridSpec::kAllColumns ? Json("all") : Json(columns);
        }
        one.put("spans", spans, spans.empty());
        one.put("holes", true, !grid->leavesHoles);
    }
    if (const auto* pager = std::get_if<PagerSpec>(&spec.form)) {
        one.put("peek", writtenLength(pager->peek), pager->peek == Length{});
        one.put("several", true, !pager->several);
        one.put("endless", true, !pager->endless);
        writeMarks(one, pager->marks);
    }
    if (const auto* placed = std::get_if<PlacedSpec>(&spec.form)) {
        const PlacedBy& by = placed->by;
        const PlacedBy usual;
        const auto unit = std::ranges::find(units(), by.unit, [](const auto& each) { return each.second; });
        one.put("start", by.start, false);
        one.put("end", by.end, by.end.empty());
        one.put("extent", by.extent.empty() ? Json(by.units) : Json(by.extent),
                by.extent.empty() && by.units == 0);
        one.put("lane", by.lane, by.lane.empty());
        one.put("per", unit->first, by.unit == usual.unit);
        one.put("scale", by.scale, by.scale == usual.scale);
        one.put("least", writtenLength(by.least), by.least == usual.least);
        one.put("crossGap", writtenLength(placed->laneGap), placed->laneGap == gap);
    }
    if (const auto* own = std::get_if<OwnSpec>(&spec.form)) {
        one.put("name", own->name, false);
        one.put("numbers", Json(own->numbers), own->numbers.empty());
    }
    if (const auto* table = std::get_if<TableSpec>(&spec.form)) {
        one.put("heading", false, table->heading);
        one.put("headingStays", false, table->headingStays);
        one.put("firstStays", false, table->firstStays);
    }
    one.put("sideways", spec.sideways ? writtenSideways(spec) : Json(), !spec.sideways);
    one.put("byHand", spec.byHand, spec.byHand == 0);
    one.put("sections", spec.sections ? writtenSections(*spec.sections) : Json(), !spec.sections);
    Json all = Json::array();
    std::ranges::transform(insets, std::back_inserter(all), writtenLength);
    one.put("insets", all, insets == std::array<Length, 4>{});
}

void readArrangement(Members& top, ArrangementSpec& spec, std::optional<Error>& error,
                     std::vector<std::string>& unknown) {
    const Json* json = top.member("arrangement");
    if (json == nullptr) {
        return;
    }
    const std::string pointer = top.pointerTo("arrangement");
    Members arrangement(*json, pointer, error);
    const char* last = kForms.front();
    int count = 0;
    for (std::size_t form = 0; form < kForms.size(); ++form) {
        const Json* one = arrangement.member(kForms[form]);
        if (one == nullptr) {
            continue;
        }
        ++count;
        last = kForms[form];
        Members members(*one, pointer + "/" + last, error);
        spec.spacing = readSpacing(members);
        spec.sideways = readSideways(members, error, unknown);
        spec.byHand = members.whole("byHand", 0, 1, Leaf::kMostSize);
        switch (form) {
        case 1:
            spec.form = readGrid(members, spec.spacing, error);
            break;
        case 2:
            spec.form =
                ColumnsSpec{readLanes(members, ColumnsSpec().lanes, "lanes", "leastLane", spec.spacing)};
            break;
        case 3:
            spec.form = readPager(members, error, unknown);
            break;
        case 4:
            spec.form = readPlaced(members, spec.spacing);
            break;
        case 5:
            spec.form = readOwn(members, error);
            break;
        case 6:
            spec.form = readTable(members);
            break;
        default:
            spec.form = ListSpec();
        }
        spec.sections = readSections(members, error, unknown);
        if (spec.sections && !takesSections(spec)) {
            members.fail(
                "sections", fmt::format("there are no sections in \"{}\"", last),
                std::holds_alternative<PlacedSpec>(spec.form)
                    ? "What stands where its record says has no heading before it: \"lane\" tells apart "
                      "what belongs together."
                    : "This arrangement takes nothing among its records.");
        }
        std::ranges::move(members.unknown(), std::back_inserter(unknown));
    }
    if (count != 1) {
        arrangement.fail(
            last, count > 1 ? "there are two arrangements" : "there is no arrangement this version knows",
            "Have one of \"list\", \"grid\", \"columns\", \"pager\", \"placed\", \"own\" and \"table\".");
    }
    std::ranges::move(arrangement.unknown(), std::back_inserter(unknown));
}

ArrangementSpec readStripArrangement(Members& part, std::optional<Error>& error,
                                     std::vector<std::string>& unknown) {
    ArrangementSpec spec;
    spec.sideways = Sideways{Sideways::Content{}};
    spec.spacing.gap = Length::px(8);
    readArrangement(part, spec, error, unknown);
    const bool isKnown = spec.form.index() <= kLastInStrips;
    if (!error && (!isKnown || spec.sections || spec.byHand != 0)) {
        part.fail("arrangement",
                  !isKnown ? fmt::format("a strip within an item is no \"{}\"", kForms[spec.form.index()])
                  : spec.sections ? "a strip within an item has no sections"
                                  : "a strip within an item is not turned by hand",
                  "Have a \"list\", a \"grid\", \"columns\" or a \"pager\", each of them sideways or not.");
    }
    return spec;
}

} // namespace scorrere
