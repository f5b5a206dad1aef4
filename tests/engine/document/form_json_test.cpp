// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever an arrangement is, the file keeps it, and what this version does not know of it.
#include "engine/document/collection_document.h"
#include "testing/engine/any_arrangement.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

constexpr const char* kStart = R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"x"}})";

CollectionDocument parsedForm(const std::string& text) {
    auto document = CollectionDocument::parse(text, "");
    EXPECT_TRUE(document) << document.error().text();
    return std::move(*document);
}

Length anyPx(int most) {
    return Length::px(*rc::gen::inRange(0, most));
}

/// What a file can say: lengths in whole px.
ArrangementSpec anySaid() {
    ArrangementSpec spec;
    spec.spacing.gap = anyPx(40);
    for (Length& inset : spec.spacing.insets) {
        inset = anyPx(30);
    }
    const Lanes lanes{*rc::gen::inRange(1, 33), *rc::gen::element(Length{}, Length::px(90)), anyPx(20)};
    MarksSpec marks;
    marks.shape =
        *rc::gen::element(MarksSpec::Shape::Round, MarksSpec::Shape::Long, MarksSpec::Shape::Square);
    marks.present = *rc::gen::element<std::string>("accent", "ink");
    marks.others = *rc::gen::element<std::string>("faint", "caution");
    marks.isAtStart = *rc::gen::arbitrary<bool>();
    marks.most = *rc::gen::inRange(MarksSpec::kLeast, MarksSpec::kMost + 1);
    using Spans = std::vector<GridSpec::Span>;
    PlacedSpec placed;
    placed.by.start = "from";
    placed.by.lane = *rc::gen::element<std::string>("", "site");
    placed.by.unit = *rc::gen::element(PlacedBy::Unit::Second, PlacedBy::Unit::Minute, PlacedBy::Unit::Day);
    placed.by.scale = *rc::gen::element(1.0, 0.25, 40.0);
    placed.by.least = *rc::gen::element(Length::px(24), Length::px(7));
    placed.laneGap = anyPx(20);
    std::string& until = *rc::gen::arbitrary<bool>() ? placed.by.end : placed.by.extent;
    until = *rc::gen::element<std::string>("", "until");
    placed.by.units = placed.by.end.empty() && placed.by.extent.empty() ? *rc::gen::element(0.0, 45.5) : 0;
    switch (*rc::gen::inRange(0, 7)) {
    case 6:
        spec.form =
            TableSpec{*rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>()};
        break;
    case 4:
        spec.form = OwnSpec{"stairs",
                            *rc::gen::element(std::map<std::string, double>(),
                                              std::map<std::string, double>{{"steps", 7}, {"share", 0.25}})};
        break;
    case 3:
        spec.form = placed;
        break;
    case 0:
        spec.form = GridSpec{
            lanes,
            *rc::gen::element<GridSpec::Extent>(GridSpec::AsLine{}, Length::px(70), GridSpec::Aspect{3, 4}),
            *rc::gen::element(Spans{}, Spans{{"odd", 2}},
                              Spans{{"odd", 3}, {"a heading", GridSpec::kAllColumns}}),
            *rc::gen::arbitrary<bool>()};
        break;
    case 1:
        spec.form = ColumnsSpec{lanes};
        break;
    case 2:
        spec.form = PagerSpec{anyPx(50), *rc::gen::arbitrary<bool>(),
                              *rc::gen::arbitrary<bool>() ? std::optional(marks) : std::nullopt,
                              *rc::gen::arbitrary<bool>()};
        break;
    default:
        break;
    }
    const bool isTable = std::holds_alternative<TableSpec>(spec.form); // it does not run so
    if (!isTable && *rc::gen::arbitrary<bool>()) {
        const bool isGiven =
            std::holds_alternative<PagerSpec>(spec.form) || std::holds_alternative<PlacedSpec>(spec.form);
        spec.sideways =
            isGiven ? Sideways()
                    : Sideways{*rc::gen::element<Sideways::Width>(Length::px(120), Sideways::Share{0.5},
                                                                  Sideways::Content{Length::px(300)})};
    }
    spec.byHand = *rc::gen::element<std::int64_t>(0, 20, Leaf::kMostSize);
    const bool mayHaveSections =
        isTable || std::holds_alternative<ListSpec>(spec.form) || std::holds_alternative<GridSpec>(spec.form);
    if (mayHaveSections && *rc::gen::arbitrary<bool>()) {
        SectionsSpec sections;
        sections.by.is = *rc::gen::element<decltype(SectionBy::is)>(
            SectionBy::Text{"{site}"}, SectionBy::Text{"{seen, date, ::yMMMM}"},
            SectionBy::FirstLetter{"species"},
            SectionBy::Rules{{{"large", "@.wingspan_mm > 60"}, {"others", ""}}});
        sections.stay = *rc::gen::arbitrary<bool>();
        sections.jumps = *rc::gen::arbitrary<bool>();
        sections.jumpName = sections.jumps ? *rc::gen::element<std::string>("", "{seen, date, ::MMM}") : "";
        spec.sections = sections;
    }
    return spec;
}

RC_GTEST_PROP(FormJson, IsReadAsItWasWritten, ()) {
    CollectionDocument document = parsedForm(std::string(kStart) + R"(,"arrangement":{"list":{"gap":3}}})");
    for (int i = *rc::gen::inRange(1, 5); i > 0; --i) { // one after the other in the same file
        document.arrangement = anySaid();
        document = parsedForm(document.serialise());
    }
    const ArrangementSpec last = anySaid();
    document.arrangement = last;
    RC_ASSERT(parsedForm(document.serialise()).arrangement == last);
}

TEST(FormJson, WhatIsWrongIsToldWhereItStandsAndWhatToWrite) {
    const auto errorOf = [](const char* arrangement) {
        const auto document =
            CollectionDocument::parse(std::string(kStart) + ",\"arrangement\":" + arrangement + "}", "");
        return document ? std::string() : document.error().text();
    };
    using ::testing::AllOf;
    using ::testing::HasSubstr;
    EXPECT_THAT(errorOf(R"({"list": {"sections": {"by": "{a}", "firstLetter": "a"}}})"),
                AllOf(HasSubstr("/arrangement/list/sections"), HasSubstr("Have one of")));
    EXPECT_THAT(errorOf(R"({"list": {"sections": {"rules": []}}})"), HasSubstr("no list of rules"));
    EXPECT_THAT(errorOf(R"({"list": {"sections": {"rules": [{"when": "@.a"}]}}})"),
                AllOf(HasSubstr("/sections/rules/0/name"), HasSubstr("a rule has no name")));
    for (const char* form : {"list", "grid", "columns", "pager", "table"}) {
        EXPECT_EQ(errorOf(("{\"" + std::string(form) + R"(": {"sections": "{a}"}})").c_str()), "");
    }
    EXPECT_THAT(errorOf(R"({"placed": {"start": "a", "sections": "{a}"}})"),
                AllOf(HasSubstr("/arrangement/placed/sections"), HasSubstr("\"lane\" tells apart")));
    EXPECT_THAT(errorOf(R"({"placed": {"end": "until"}})"),
                AllOf(HasSubstr("/arrangement/placed/start"), HasSubstr("Name the field of their starts")));
    EXPECT_THAT(errorOf(R"({"placed": {"start": "a", "end": "b", "extent": 3}})"), HasSubstr("given twice"));
    EXPECT_THAT(errorOf(R"({"placed": {"start": "a", "per": "week"}})"),
                HasSubstr("/arrangement/placed/per"));
    EXPECT_THAT(errorOf(R"({"placed": {"start": "a", "scale": 0}})"), HasSubstr("/arrangement/placed/scale"));
    EXPECT_THAT(errorOf(R"({"table": {"sideways": 200}})"),
                AllOf(HasSubstr("/arrangement/table/sideways"), HasSubstr("does not run sideways")));
    EXPECT_EQ(errorOf(R"({"table": {"sections": "{a}"}})"), "");
    EXPECT_THAT(errorOf(R"({"own": {"numbers": {"steps": 3}}})"), HasSubstr("/arrangement/own/name"));
    EXPECT_THAT(errorOf(R"({"own": {"name": "x", "numbers": {"steps": "many"}}})"),
                HasSubstr("/arrangement/own/numbers/steps"));
    EXPECT_EQ(errorOf(R"({"placed": {"start": "a", "extent": "minutes", "sideways": true}})"), "");
}

TEST(FormJson, WhatThisVersionDoesNotKnowStays) {
    CollectionDocument document = parsedForm(
        std::string(kStart) + R"(,"arrangement":{"pager":{"marks":{"glow":2},"spin":1},"later":3}})");
    for (const char* pointer :
         {"/arrangement/later", "/arrangement/pager/spin", "/arrangement/pager/marks/glow"}) {
        EXPECT_THAT(document.notices, ::testing::Contains(::testing::HasSubstr(pointer)));
    }
    std::get<PagerSpec>(document.arrangement.form).marks->most = 9;
    const std::string text = document.serialise();
    EXPECT_THAT(text, ::testing::HasSubstr("\"glow\": 2"));
    EXPECT_THAT(text, ::testing::HasSubstr("\"spin\": 1"));
    EXPECT_THAT(text, ::testing::HasSubstr("\"later\": 3"));
    EXPECT_THAT(text, ::testing::HasSubstr("\"most\": 9"));
}

} // namespace
} // namespace scorrere
