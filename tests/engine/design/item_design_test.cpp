// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/item_design.h"

#include "engine/design/kinds.h"
#include "engine/document/collection_document.h"
#include "engine/record/record_builder.h"
#include "testing/engine/allocations.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

RecordTable sightings(int count = 3) {
    RecordBuilder builder;
    for (int i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("species"), fmt::format("Moth number {}", i));
        builder.setText(builder.fieldNamed("status"), i % 2 == 0 ? "verified" : "queried");
        builder.setInteger(builder.fieldNamed("wingspan"), 20 + i * 10 % 60);
        builder.setInteger(builder.fieldNamed("rarity"), 1 + i % 5);
        builder.setInteger(builder.fieldNamed("wide"), 300);
        builder.setInteger(builder.fieldNamed("high"), 200);
        if (i % 3 != 1) {
            builder.setText(builder.fieldNamed("picture"), fmt::format("{} a.png", i));
            builder.setText(builder.fieldNamed("seen"), "2026-05-04T22:00:00Z");
        }
        std::string traits = "[";
        for (int t = 0; t < i % 7; ++t) {
            traits += fmt::format("{}\"trait {}\"", t > 0 ? "," : "", t);
        }
        builder.setJson(builder.fieldNamed("traits"), FieldType::List, traits + "]");
        builder.endRecord();
    }
    return builder.finish();
}

CollectionDocument parsed(const std::string& design) {
    auto document = CollectionDocument::parse(
        "{\"scorrere\": 1, \"source\": {\"list\": \"\"}, " + design + "}", "c.json");
    EXPECT_TRUE(document) << (document ? "" : document.error().text());
    return document ? *document : CollectionDocument();
}

struct Filled {
    CollectionDocument document;
    RecordTable records;
    std::optional<ItemDesign> design;
    ItemContent content;
    FillChange change;
    std::vector<std::uint8_t> changed;

    Filled(const std::string& text, int count = 3) : document(parsed(text)), records(sightings(count)) {
        auto made = ItemDesign::compile(document.item, document.scope(records));
        EXPECT_TRUE(made) << (made ? "" : made.error().text());
        design = std::move(*made);
    }
    void fill(std::int64_t record, std::int64_t nowMs = 0) {
        change =
            design->fill({records, record, &document.parameters, nowMs, nullptr, -1, 0}, content, changed);
    }
    /// What each text and picture says; "-" where it says nothing.
    std::vector<std::string> said() const {
        std::vector<std::string> all;
        for (const PlanPart& part : design->parts()) {
            const auto i = static_cast<std::size_t>(&part - design->parts().data());
            if (part.binding >= 0) {
                const auto b = static_cast<std::size_t>(part.binding);
                all.push_back(content.present[b] != 0 && content.hidden[i] == 0 ? content.values[b] : "-");
            }
        }
        return all;
    }
};

TEST(ItemDesign, ARepeatStandsOnceForEachEntryAndSaysHowManyMoreThereAre) {
    Filled f(
        R"("items": {"record": {"repeat": "traits", "part": {"badge": "{entry}"}, "most": 2, "more": "+{more}"}})",
        7);
    f.fill(0);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"-", "-", "-"}));
    f.fill(1);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"trait 0", "-", "-"}));
    f.fill(2);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"trait 0", "trait 1", "-"}));
    f.fill(6);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"trait 0", "trait 1", "+4"}));
}

TEST(ItemDesign, RulesOfARepeatSpeakOfTheEntry) {
    Filled f(R"json("items": {"record": {"repeat": "traits", "most": 3,
        "part": {"badge": "{entry}", "tone": [{"tone": "good", "when": "@ == 'trait 1'"}]}}})json",
             4);
    f.fill(3);
    EXPECT_EQ(f.content.tones[1], Tone::Neutral);
    EXPECT_EQ(f.content.tones[2], Tone::Good);
}

TEST(ItemDesign, TheFirstRuleThatHoldsSetsTheToneAndAParameterRetonesWithoutAFill) {
    Filled f(R"json("parameters": {"odd": 40}, "items": {"record": {"column": [
        {"badge": "{status}", "tone": [{"tone": "bad", "when": "@.wingspan > $.parameters.odd"},
                                       {"tone": "good", "when": "@.status == 'verified'"}, {"tone": "note"}]}]}})json");
    f.fill(0);
    EXPECT_EQ(f.content.tones[1], Tone::Good);
    f.fill(1);
    EXPECT_EQ(f.content.tones[1], Tone::Note);
    f.document.parameters[0].number = 25;
    const FillChange change =
        f.design->retone({f.records, 1, &f.document.parameters, 0, nullptr, -1, 0}, f.content);
    EXPECT_EQ(f.content.tones[1], Tone::Bad);
    EXPECT_FALSE(change.layout);
    EXPECT_FALSE(f.design->parametersMoveParts());
}

TEST(ItemDesign, HidingAPartIsAChangeOfLayout) {
    Filled f(R"json("parameters": {"least": 2}, "items": {"record": {"column": [
        {"text": "{species}"}, {"text": "rare", "hide": "@.rarity < $.parameters.least"}]}})json");
    f.fill(0);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"Moth number 0", "-"}));
    f.fill(1);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"Moth number 1", "rare"}));
    EXPECT_TRUE(f.change.layout);
    EXPECT_TRUE(f.design->parametersMoveParts());
}

TEST(ItemDesign, PicturesTakeUriTemplatesAndTheirShapeFromFields) {
    Filled f(
        R"("items": {"record": {"picture": "wings/{picture}{?wide}", "aspect": ["wide", "high"], "label": "A {species}"}})");
    f.fill(0);
    EXPECT_EQ(f.said()[0], "wings/0%20a.png?wide=300");
    EXPECT_FLOAT_EQ(f.content.numbers[0], 1.5F);
    EXPECT_EQ(f.content.values[1], "A Moth number 0");
    f.fill(1);
    EXPECT_EQ(f.said()[0], "-") << "a record without a picture has no address";
}

TEST(ItemDesign, MetersRunBetweenNumbersOrParametersAndScalesCountSteps) {
    Filled f(R"json("parameters": {"most": 100}, "items": {"record": {"column": [
        {"meter": "wingspan", "from": 0, "to": "$.parameters.most"}, {"scale": "rarity", "steps": 5},
        {"scale": "rarity", "steps": 3, "glyphs": ["#", "-"]}, {"scale": "rarity", "steps": 3, "glyphs": ["a", "b", "c"]}]}})json");
    f.fill(1);
    EXPECT_FLOAT_EQ(f.content.numbers[1], 0.3F);
    EXPECT_FLOAT_EQ(f.content.numbers[2], 2);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"##-", "b"}));
}

TEST(ItemDesign, PiecesAreGivenFieldsAndTexts) {
    Filled f(R"json("pieces": {"tag": {"inputs": ["label", "size"], "part": {"row": [
            {"text": "<{label}>", "hide": "@.size > 25"}, {"text": "{size, number} mm"}]}}},
        "items": {"record": {"column": [{"piece": "tag", "with": {"label": "{species}!", "size": "{wingspan}"}},
                                        {"piece": "tag", "with": {"label": "{status}", "size": "{rarity}"}}]}})json");
    f.fill(0);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"<Moth number 0!>", "20 mm", "<verified>", "1 mm"}));
    f.fill(1);
    EXPECT_EQ(f.said()[0], "-");
}

TEST(ItemDesign, InputsStandForFieldsInAddressesNumbersAndRepeats) {
    Filled f(R"json("pieces": {"all": {"inputs": ["photo", "size", "list"], "part": {"column": [
            {"picture": "wings/{+photo}{?size}"}, {"meter": "size", "to": 100},
            {"repeat": "list", "part": {"text": "{entry}"}, "most": 1}]}}},
        "items": {"record": {"piece": "all", "with": {"photo": "{picture}", "size": "{wingspan}", "list": "{traits}"}}})json",
             3);
    f.fill(2);
    EXPECT_EQ(f.said(), (std::vector<std::string>{"wings/2%20a.png?size=40", "trait 0", "+1"}));
    EXPECT_FLOAT_EQ(f.content.numbers[2], 0.4F);
}

TEST(ItemDesign, TextsKnowParametersSkeletonsAndRelativeTime) {
    Filled f(R"json("parameters": {"unit": "mm", "odd": 1500}, "items": {"record": {"column": [
        {"text": "{wingspan} {$.parameters.unit}"}, {"text": "over {$.parameters.odd, number}"},
        {"text": "{seen, date, ::yMMMd} is {seen, relative}"}, {"text": "{wingspan, number, ::unit/millimeter}"},
        {"text": "{rarity, plural, one {# step} other {# steps}} {seen, relative}"}]}})json");
    f.fill(0, 1'777'932'000'000 + 3 * 86'400'000); // three days after 2026-05-04T22:00Z
    EXPECT_EQ(f.said(), (std::vector<std::string>{"20 mm", "over 1,500", "May 4, 2026 is 3 days ago", "20 mm",
                                                  "1 step 3 days ago"}));
}

TEST(ItemDesign, ASteadyFillAllocatesNothing) {
    Filled f(R"json("parameters": {"odd": 40}, "items": {"record": {"column": [
        {"picture": "wings/{picture}", "aspect": ["wide", "high"]}, {"text": "{species} of {status}", "missing": "?"},
        {"badge": "{status}", "tone": [{"tone": "bad", "when": "@.wingspan > $.parameters.odd"}]},
        {"meter": "wingspan", "to": 60}, {"scale": "rarity", "glyphs": ["#", "-"]},
        {"repeat": "traits", "part": {"badge": "{entry}"}, "most": 4}, {"text": "{wingspan}", "hide": "@.rarity == 3"}]}})json",
             210);
    const auto all = [&] {
        for (int i = 0; i < 210; ++i) {
            f.fill(i);
        }
    };
    all();
    const std::int64_t before = testing::allocationsEver();
    all();
    EXPECT_EQ(testing::allocationsEver() - before, 0);
}

TEST(EntryList, MembersOfEntriesAreReadWithoutAllocating) {
    const std::string json =
        R"([{"name": "a lamp \u2013 with a name long enough to need room", "lit": true}, {"lit": null}, 7])";
    EntryList entries;
    std::string out;
    const auto look = [&] {
        entries.read(json);
        EXPECT_EQ(entries.size(), 3u);
        EXPECT_TRUE(entries.member(0, "name", out));
        EXPECT_EQ(out, "a lamp \u2013 with a name long enough to need room");
        EXPECT_TRUE(entries.member(0, "lit", out));
        EXPECT_FALSE(entries.member(1, "lit", out));
        EXPECT_FALSE(entries.member(2, "lit", out));
        EXPECT_TRUE(entries.text(2, out));
    };
    look();
    const std::int64_t before = testing::allocationsEver();
    look();
    EXPECT_EQ(testing::allocationsEver(), before);
}

TEST(KindChooser, TakesTheFirstKindWhoseRuleHoldsAndKindsOfAField) {
    const CollectionDocument document = parsed(R"json("items": {"record": {"text": "{species}"}, "kinds": [
        {"name": "large", "when": "@.wingspan > 35", "design": {"text": "large {species}"}},
        {"name": "queried", "field": "status", "is": ["queried", "odd"], "design": {"text": "{status}"}}]})json");
    const RecordTable records = sightings(4);
    const auto kinds = KindChooser::compile(document.kinds, document.scope(records));
    ASSERT_TRUE(kinds) << kinds.error().text();
    const auto kindOf = [&](std::int64_t record) {
        return kinds->kindOf({records, record, &document.parameters, 0, nullptr, -1, 0});
    };
    EXPECT_EQ(kindOf(0), -1);
    EXPECT_EQ(kindOf(1), 1);
    EXPECT_EQ(kindOf(2), 0);
    EXPECT_EQ(kindOf(3), 0);
}

/// What is wrong with a design, located in the text of the document.
Error wrong(const std::string& design) {
    const std::string text = "{\"scorrere\": 1, \"source\": {\"list\": \"\"},\n" + design + "}";
    const auto document = CollectionDocument::parse(text, "c.json");
    if (!document) {
        return document.error();
    }
    const RecordTable records = sightings();
    auto compiled = ItemDesign::compile(document->item, document->scope(records));
    EXPECT_FALSE(compiled) << design;
    return compiled ? Error{} : document->located(std::move(compiled.error()));
}

struct BadDesign {
    const char* name;
    std::string design;
    ErrorCode code;
    std::string says;
    std::string pointer;
};
std::ostream& operator<<(std::ostream& out, const BadDesign& bad) {
    return out << bad.name;
}

class BadDesigns : public ::testing::TestWithParam<BadDesign> {};

TEST_P(BadDesigns, AreRefusedWithTheirPlace) {
    const Error error = wrong(GetParam().design);
    EXPECT_EQ(error.code, GetParam().code) << error.text();
    EXPECT_THAT(error.text(), HasSubstr(GetParam().says));
    EXPECT_EQ(error.place.pointer, GetParam().pointer) << error.text();
    EXPECT_GE(error.place.line, 1);
    EXPECT_GE(error.place.column, 1);
    EXPECT_FALSE(error.advice.empty());
}

std::string many(int count) {
    std::string parts;
    for (int i = 0; i < count; ++i) {
        parts += std::string(i > 0 ? "," : "") + "{\"text\":\"x\"}";
    }
    return "\"items\": {\"record\": {\"column\": [" + parts + "]}}";
}
std::string one(const std::string& part) {
    return "\"items\": {\"record\": {\"column\": [" + part + "]}}";
}

INSTANTIATE_TEST_SUITE_P(
    Each, BadDesigns,
    ::testing::Values(
        BadDesign{"unknown part", one(R"({"tekst": "x"})"), ErrorCode::Invalid, "does not say what it is",
                  "/items/record/column/0"},
        BadDesign{"two parts in one", one(R"({"text": "x", "line": 1})"), ErrorCode::Invalid,
                  "several things", "/items/record/column/0"},
        BadDesign{"vanished field", one(R"({"text": "{gone}"})"), ErrorCode::NotFound, "no field \"gone\"",
                  "/items/record/column/0/text"},
        BadDesign{"broken pattern", one(R"({"text": "{species"})"), ErrorCode::Syntax, "cannot be read",
                  "/items/record/column/0/text"},
        BadDesign{"unknown format", one(R"({"text": "{wingspan, nombre}"})"), ErrorCode::Syntax, "not known",
                  "/items/record/column/0/text"},
        BadDesign{"text as date", one(R"({"text": "{species, date}"})"), ErrorCode::Invalid,
                  "formatted as a time", "/items/record/column/0/text"},
        BadDesign{"broken rule", one(R"({"text": "x", "hide": "@.count >"})"), ErrorCode::Syntax,
                  "cannot be read", "/items/record/column/0/hide"},
        BadDesign{"rule with a broken pattern",
                  one(R"x({"text": "x", "tone": [{"tone": "good", "when": "match(@.species, '[')"}]})x"),
                  ErrorCode::Syntax, "regular expression", "/items/record/column/0/tone/0/when"},
        BadDesign{"unknown tone", one(R"({"text": "x", "tone": "loud"})"), ErrorCode::Invalid, "not a tone",
                  "/items/record/column/0/tone"},
        BadDesign{"unknown piece", one(R"({"piece": "tag"})"), ErrorCode::NotFound, "no piece \"tag\"",
                  "/items/record/column/0/piece"},
        BadDesign{"cycle of pieces",
                  R"("pieces": {"a": {"part": {"row": [{"piece": "b"}]}}, "b": {"part": {"piece": "a"}}}, )" +
                      one(R"({"piece": "a"})"),
                  ErrorCode::Invalid, "holds itself: a > b > a", "/pieces/b/part/piece"},
        BadDesign{"input not given",
                  R"("pieces": {"a": {"inputs": ["x"], "part": {"text": "{x}"}}}, )" +
                      one(R"({"piece": "a"})"),
                  ErrorCode::NotFound, "not given its input \"x\"", "/items/record/column/0/piece"},
        BadDesign{"ten thousand parts", many(10'000), ErrorCode::TooLarge, "more than 1000 parts",
                  "/items/record/column/999"},
        BadDesign{"negative size", one(R"({"text": "x", "width": -4})"), ErrorCode::Invalid,
                  "\"width\" is -4", "/items/record/column/0/width"},
        BadDesign{"endless size", one(R"({"text": "x", "size": 1e999})"), ErrorCode::Syntax, "not JSON", ""},
        BadDesign{"not a number", one(R"({"text": "x", "size": NaN})"), ErrorCode::Syntax, "not JSON", ""},
        BadDesign{"repeat of a text", one(R"({"repeat": "species", "part": {"text": "{entry}"}})"),
                  ErrorCode::Invalid, "holds text", "/items/record/column/0/repeat"},
        BadDesign{"repeat in a repeat",
                  one(R"({"repeat": "traits", "part": {"repeat": "traits", "part": {"text": "x"}}})"),
                  ErrorCode::Invalid, "repeat stands in a repeat", "/items/record/column/0/part"},
        BadDesign{"meter of a text", one(R"({"meter": "species"})"), ErrorCode::Invalid, "shown as a number",
                  "/items/record/column/0/meter"},
        BadDesign{"glyphs too few", one(R"({"scale": "rarity", "steps": 5, "glyphs": ["a", "b", "c"]})"),
                  ErrorCode::Invalid, "3 glyphs for 5 steps", "/items/record/column/0/glyphs"},
        BadDesign{"least above greatest", one(R"({"text": "x", "minHeight": 9, "maxHeight": 3})"),
                  ErrorCode::Invalid, "more than", "/items/record/column/0/minHeight"},
        BadDesign{"parameter not there", one(R"({"text": "{$.parameters.odd}"})"), ErrorCode::NotFound,
                  "no parameter \"odd\"", "/items/record/column/0/text"},
        BadDesign{"broken address", one(R"({"picture": "a/{picture"})"), ErrorCode::Syntax, "not closed",
                  "/items/record/column/0/picture"}),
    [](const auto& test) {
        std::string name = test.param.name;
        std::ranges::replace(name, ' ', '_');
        return name;
    });

TEST(BadDesigns, APatternsPlaceIsTheCharacterInIt) {
    const Error error = wrong(one(R"({"text": "ab {species"})"));
    const std::string line = "\"items\": {\"record\": {\"column\": [{\"text\": \"ab {species\"";
    EXPECT_EQ(error.place.line, 2);
    EXPECT_NEAR(static_cast<double>(error.place.column), static_cast<double>(line.find("ab {") + 1), 14);
    EXPECT_GT(error.place.column, static_cast<std::int64_t>(line.find("\"ab")));
}

} // namespace
} // namespace scorrere
