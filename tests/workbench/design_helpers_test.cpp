// SPDX-License-Identifier: GPL-3.0-or-later
// What the card of a part offers: ways to write a value, parameters that are missing.
#include "engine/design/rule.h"
#include "engine/design/text_pattern.h"
#include "engine/record/record_builder.h"
#include "workbench/model/format_offers.h"
#include "workbench/model/new_parameter.h"
#include "workbench/model/starting_points.h"

#include <functional>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

using ::testing::Contains;
using ::testing::Field;
using Json = DesignDraft::Json;

RecordTable sample() {
    RecordBuilder builder;
    for (const int span : {12, 60, 48}) {
        builder.setText(builder.fieldNamed("status"), span > 50 ? "queried" : "verified");
        builder.setText(builder.fieldNamed("seen"), "2025-03-22T01:49:00Z");
        builder.setInteger(builder.fieldNamed("span"), span * 1000);
        builder.endRecord();
    }
    return builder.finish();
}

TEST(FormatOffers, ANumberAndATimeAreOfferedByWhatComesOfThem) {
    const RecordTable records = sample();
    const NameScope scope{records, "de", nullptr, nullptr, false};
    const FillContext first{records, 0, nullptr, 0, nullptr, -1, 0};
    const auto numbers = formatOffers(scope, "span", first);
    EXPECT_THAT(numbers, Contains(Field(&FormatOffer::outcome, "12.000,00")));
    EXPECT_THAT(numbers, Contains(Field(&FormatOffer::outcome, "12.000 mm")));
    EXPECT_THAT(numbers, Contains(Field(&FormatOffer::outcome, "12000")));
    EXPECT_THAT(numbers, Contains(Field(&FormatOffer::outcome, "12.000 things")));
    const auto times = formatOffers(scope, "seen", first);
    EXPECT_THAT(times, Contains(Field(&FormatOffer::outcome, "22.03.2025")));
    EXPECT_THAT(times, Contains(Field(&FormatOffer::argument, "{seen, date, ::yMMMM}")));
    EXPECT_TRUE(formatOffers(scope, "status", first).empty());
    EXPECT_TRUE(formatOffers(scope, "nowhere", first).empty());
}

TEST(FormatOffers, EachArgumentOfATextIsFoundWhole) {
    const auto found =
        fieldArguments("{a} it''s '{no}' {b, plural, one {# {c}} other {#}} {$.parameters.p} { d , number}");
    ASSERT_EQ(found.size(), 3U);
    EXPECT_EQ(found[0].field, "a");
    EXPECT_EQ(found[1].field, "b");
    EXPECT_EQ(found[1].until - found[1].from, std::string("{b, plural, one {# {c}} other {#}}").size());
    EXPECT_EQ(found[2].field, "d");
    EXPECT_TRUE(fieldArguments("{half").empty());
    EXPECT_TRUE(fieldArguments("'{quoted}' text").empty());
}

TEST(NewParameter, RangesOverWhatTheFieldBesideItHolds) {
    const DesignDraft draft(
        R"({"items": {"record": {"text": "{span}", "hide": "@.span > $.parameters.wide"}}})");
    EXPECT_EQ(missingParameter(draft), "wide");
    const Json made = newParameter(draft, "wide", sample());
    EXPECT_EQ(made["from"], 12'000);
    EXPECT_EQ(made["to"], 60'000);
    EXPECT_EQ(made["step"], 500) << "48,000 in about a hundred round steps";
    EXPECT_GT(made["value"], 12'000);
    EXPECT_LT(made["value"], 60'000);
    const DesignDraft text(
        R"({"items": {"record": {"text": "x", "hide": "@.status == $.parameters.which"}}})");
    EXPECT_EQ(newParameter(text, "which", sample())["value"], "verified");
    const DesignDraft none(
        R"({"parameters": {"wide": 1}, "items": {"record": {"text": "$.parameters.wide"}}})");
    EXPECT_EQ(missingParameter(none), "");
}

TEST(NewParameter, IsRenamedWhereverItIsNamed) {
    DesignDraft draft(R"({"parameters": {"a": {"value": 1}, "b": 2},
        "items": {"record": {"text": "{$.parameters.a} {$.parameters.ab}", "hide": "@.x > $.parameters.a"}}})");
    EXPECT_FALSE(renameParameter(draft, "a", "b")) << "taken";
    EXPECT_FALSE(renameParameter(draft, "a", "1 x")) << "no name";
    ASSERT_TRUE(renameParameter(draft, "a", "odd"));
    EXPECT_EQ(draft.member({}, "parameters"), (Json{{"odd", {{"value", 1}}}, {"b", 2}}));
    EXPECT_EQ(draft.member("/items/record", "text"), "{$.parameters.odd} {$.parameters.ab}");
    EXPECT_EQ(draft.member("/items/record", "hide"), "@.x > $.parameters.odd");
}

TEST(KindRule, IsARuleWhateverTheRecordsAre) {
    const auto compiles = [](const RecordTable& records) {
        const NameScope scope{records, "en", nullptr, nullptr, false};
        return static_cast<bool>(Rule::compile(kindRule(records), scope));
    };
    EXPECT_TRUE(compiles(sample()));
    RecordBuilder numbers;
    numbers.setInteger(numbers.fieldNamed("n"), 1);
    numbers.endRecord();
    EXPECT_TRUE(compiles(numbers.finish()));
    EXPECT_TRUE(compiles(RecordBuilder().finish()));
    // By what parts them into the fewest sorts, whatever it is called.
    RecordBuilder places;
    for (int i = 0; i < 60; ++i) {
        places.setText(places.fieldNamed("name"), "place " + std::to_string(i % 50));
        places.setText(places.fieldNamed("sort of it"), i % 3 == 0 ? "town" : "parish");
        places.setText(places.fieldNamed("country"), "one");
        places.endRecord();
    }
    const RecordTable made = places.finish();
    EXPECT_EQ(kindRule(made), "@[\"sort of it\"] == \"parish\"");
    EXPECT_TRUE(compiles(made));
}

RecordTable like(const std::vector<std::pair<const char*, std::function<std::string(int)>>>& fields) {
    RecordBuilder builder;
    for (int i = 0; i < 40; ++i) {
        for (const auto& [name, value] : fields) {
            builder.setWritten(builder.fieldNamed(name), value(i));
        }
        builder.endRecord();
    }
    return builder.finish();
}

TEST(FieldRoles, ATitleIsWhatReadsLikeOneNotTheId) {
    const RecordTable records =
        like({{"uuid", [](int i) { return "a-" + std::to_string(i * 7919) + "-f"; }},
              {"region", [](int i) { return i % 2 == 0 ? std::string("north") : std::string("south"); }},
              {"name", [](int i) { return "Station " + std::to_string(i / 2) + " west"; }},
              {"photo", [](int i) { return "https://x.test/" + std::to_string(i) + ".JPG?w=80"; }}});
    const FieldRoles roles = fieldRoles(records);
    EXPECT_EQ(roles.title, "name");
    EXPECT_EQ(roles.picture, "photo");
    EXPECT_EQ(roles.status, "region");
    EXPECT_EQ(fieldRoles(like({{"code", [](int i) { return "c" + std::to_string(i) + "x"; }},
                               {"comment", [](int i) { return "Some words " + std::to_string(i); }}}))
                  .title,
              "comment");
    EXPECT_EQ(fieldRoles(like({{"code", [](int i) { return "c" + std::to_string(i) + "x"; }}})).title, "code")
        << "better than none";
}

TEST(FieldWriting, DatesNumbersAndUnitsAreWrittenAsWhatTheyAre) {
    const RecordTable records = like({{"id", [](int i) { return std::to_string(20'000 + i); }},
                                      {"born", [](int) { return "1987-03-04"; }},
                                      {"seen", [](int) { return "2025-03-22T01:49:00Z"; }},
                                      {"wingspan_mm", [](int i) { return std::to_string(1000 + i); }},
                                      {"waterDepthM", [](int) { return "2.5"; }},
                                      {"visits", [](int i) { return std::to_string(i); }}});
    const auto shown = [&](const char* field) {
        const auto handle = records.find(field);
        const FieldWriting writing = fieldWriting(records, *handle);
        const auto pattern = TextPattern::compile(writing.pattern, records, "en");
        std::string out;
        return pattern && pattern->format(records, 0, out) ? writing.label + ": " + out : "?";
    };
    EXPECT_EQ(shown("id"), "id: 20000");
    EXPECT_EQ(shown("born"), "born: Mar 4, 1987") << "no midnight";
    EXPECT_THAT(shown("seen"), ::testing::MatchesRegex("seen: Mar 22, 2025, 1:49.*AM"));
    EXPECT_EQ(shown("wingspan_mm"), "wingspan: 1,000 mm");
    EXPECT_EQ(shown("waterDepthM"), "water depth: 2.5 m");
    EXPECT_EQ(shown("visits"), "visits: 0");
}

} // namespace
} // namespace scorrere::workbench
