// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/rule.h"

#include "engine/record/record_builder.h"
#include "testing/engine/allocations.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

RecordTable sighting() {
    RecordBuilder builder;
    builder.setText(builder.fieldNamed("species"), "Ashen lantern");
    builder.setInteger(builder.fieldNamed("count"), 12);
    builder.setReal(builder.fieldNamed("warmth"), 11.5);
    builder.setBoolean(builder.fieldNamed("kept"), true);
    builder.setJson(builder.fieldNamed("traits"), FieldType::List, R"(["worn", "male", "fresh"])");
    builder.setJson(builder.fieldNamed("trap"), FieldType::Object, R"({"place": "north", "lamps": 2})");
    builder.fieldNamed("gone");
    builder.endRecord();
    return builder.finish();
}

Parameters limits() {
    Parameter many;
    many.name = "many";
    many.number = 10;
    Parameter word;
    word.name = "word";
    word.type = ParameterType::Text;
    word.text = "Ashen.*";
    return {many, word};
}

bool holds(const std::string& text) {
    const RecordTable table = sighting();
    const Parameters parameters = limits();
    const auto rule = Rule::compile(text, {table, "en", &parameters, nullptr, false});
    EXPECT_TRUE(rule) << (rule ? "" : rule.error().text());
    return rule && rule->holds({table, 0, &parameters, 0, nullptr, -1, 0});
}

TEST(Rule, ComparesFieldsWithLiteralsAndParameters) {
    EXPECT_TRUE(holds("@.count > 10"));
    EXPECT_TRUE(holds("@.count > $.parameters.many"));
    EXPECT_FALSE(holds("@.count <= $.parameters.many"));
    EXPECT_TRUE(holds("@.species == \"Ashen lantern\""));
    EXPECT_TRUE(holds("@['species'] != 'x'"));
    EXPECT_TRUE(holds("@.kept == true"));
    EXPECT_FALSE(holds("@.kept"
                       " == false"));
    EXPECT_TRUE(holds("@.warmth >= 11.5 && !(@.count < 5)"));
    EXPECT_TRUE(holds("@.count < 5 || @.species < \"B\""));
}

TEST(Rule, AFieldThatIsMissingEqualsNullAndHoldsNothing) {
    EXPECT_FALSE(holds("@.gone"));
    EXPECT_TRUE(holds("!@.gone"));
    EXPECT_TRUE(holds("@.gone == null"));
    EXPECT_FALSE(holds("@.gone == \"\""));
    EXPECT_FALSE(holds("@.gone < 5"));
    EXPECT_TRUE(holds("@.gone != 5"));
    EXPECT_TRUE(holds("@.species"));
}

TEST(Rule, KindsThatDifferAreNeitherEqualNorOrdered) {
    EXPECT_FALSE(holds("@.count == \"12\""));
    EXPECT_FALSE(holds("@.count < \"5\""));
    EXPECT_FALSE(holds("@.species > 3"));
}

TEST(Rule, LooksIntoListsAndObjects) {
    EXPECT_TRUE(holds("@.traits[?@ == 'male']"));
    EXPECT_FALSE(holds("@.traits[?@ == 'female']"));
    EXPECT_TRUE(holds("@.traits[0] == 'worn'"));
    EXPECT_TRUE(holds("@.trap.place == 'north' && @.trap.lamps == 2"));
    EXPECT_TRUE(holds("length(@.traits) == 3"));
    EXPECT_TRUE(holds("length(@.species) == 13"));
    EXPECT_TRUE(holds("count(@.traits[*]) == 3"));
    EXPECT_TRUE(holds("value(@.trap.lamps) == 2"));
}

TEST(Rule, MatchesWholeTextsAndSearchesParts) {
    EXPECT_TRUE(holds("match(@.species, 'A.*n')"));
    EXPECT_FALSE(holds("match(@.species, 'lantern')"));
    EXPECT_TRUE(holds("search(@.species, 'lantern')"));
    EXPECT_TRUE(holds("match(@.species, $.parameters.word)"));
    EXPECT_FALSE(holds("search(@.count, '1')"));
}

std::string problem(const std::string& text, std::int64_t* column = nullptr) {
    const RecordTable table = sighting();
    const auto rule = Rule::compile(text, {table, "en", nullptr, nullptr, false});
    EXPECT_FALSE(rule) << text;
    if (rule) {
        return {};
    }
    if (column != nullptr) {
        *column = rule.error().place.column;
    }
    return rule.error().text();
}

TEST(Rule, SaysWhatIsWrongAndWhere) {
    std::int64_t column = 0;
    EXPECT_THAT(problem("@.count >", &column), HasSubstr("cannot be read"));
    EXPECT_GE(column, 9);
    EXPECT_THAT(problem("@.count > $.parameters.many"), HasSubstr("no parameter \"many\""));
    EXPECT_THAT(problem("@.count > $.records.many"), HasSubstr("nothing but parameters"));
    EXPECT_THAT(problem("@.a][?@.b"), HasSubstr("one expression"));
    EXPECT_THAT(problem("match(@.species, '[')"), HasSubstr("regular expression"));
    EXPECT_THAT(problem("search(@.species, '^A')"), HasSubstr("no anchors"));
    EXPECT_THAT(problem("match(@.species, '\\\\d')"), HasSubstr("Write [0-9]"));
    EXPECT_THAT(problem(""), HasSubstr("cannot be read"));
}

TEST(Rule, AFieldThatNoRecordHasIsAbsentAndNamed) {
    const RecordTable table = sighting();
    const auto rule = Rule::compile("@.colour == 'red' || !@.colour", {table, "en", nullptr, nullptr, false});
    ASSERT_TRUE(rule) << rule.error().text();
    EXPECT_TRUE(rule->holds({table, 0, nullptr, 0, nullptr, -1, 0}));
    EXPECT_THAT(rule->absent(), ::testing::Contains("colour"));
}

TEST(Rule, TheRecordAsAWholeCanBeAsked) {
    EXPECT_TRUE(holds("count(@.*) == 6")) << "what is missing does not count";
    EXPECT_TRUE(holds("length(@) == 6"));
    EXPECT_TRUE(holds("@..lamps"));
    EXPECT_FALSE(holds("@..wings"));
    EXPECT_TRUE(holds("count(@..lamps) == 1"));
    EXPECT_TRUE(holds("@['species','count']"));
    EXPECT_TRUE(holds("@.*[?@ == 'male']"));
}

TEST(Rule, ParametersCanBeAskedInsideAQuery) {
    EXPECT_TRUE(holds("@.trap[?@ < $.parameters.many]"));
    EXPECT_FALSE(holds("@.trap[?@ > $.parameters.many]"));
}

/// Section 2.3.5.3 of the standard, table 11, over its own document.
struct Comparison {
    const char* rule;
    bool holds;
};
class StandardComparisons : public ::testing::TestWithParam<Comparison> {};

TEST_P(StandardComparisons, ComeOutAsTheStandardSays) {
    RecordBuilder builder;
    builder.setJson(builder.fieldNamed("obj"), FieldType::Object, R"({"x": "y"})");
    builder.setJson(builder.fieldNamed("arr"), FieldType::List, "[2, 3]");
    builder.endRecord();
    const RecordTable table = builder.finish();
    const auto rule = Rule::compile(GetParam().rule, {table, "en", nullptr, nullptr, false});
    ASSERT_TRUE(rule) << rule.error().text();
    EXPECT_EQ(rule->holds({table, 0, nullptr, 0, nullptr, -1, 0}), GetParam().holds) << GetParam().rule;
}

INSTANTIATE_TEST_SUITE_P(
    Table11, StandardComparisons,
    ::testing::Values(Comparison{"@.absent1 == @.absent2", true}, Comparison{"@.absent1 <= @.absent2", true},
                      Comparison{"@.absent == 'g'", false}, Comparison{"@.absent1 != @.absent2", false},
                      Comparison{"@.absent != 'g'", true}, Comparison{"1 <= 2", true},
                      Comparison{"1 > 2", false}, Comparison{"13 == '13'", false},
                      Comparison{"'a' <= 'b'", true}, Comparison{"'a' > 'b'", false},
                      Comparison{"@.obj == @.arr", false}, Comparison{"@.obj != @.arr", true},
                      Comparison{"@.obj == @.obj", true}, Comparison{"@.obj != @.obj", false},
                      Comparison{"@.arr == @.arr", true}, Comparison{"@.arr != @.arr", false},
                      Comparison{"@.obj == 17", false}, Comparison{"@.obj != 17", true},
                      Comparison{"@.obj <= @.arr", false}, Comparison{"@.obj < @.arr", false},
                      Comparison{"@.obj <= @.obj", true}, Comparison{"@.arr <= @.arr", true},
                      Comparison{"1 <= @.arr", false}, Comparison{"1 >= @.arr", false},
                      Comparison{"1 > @.arr", false}, Comparison{"1 < @.arr", false},
                      Comparison{"true <= true", true}, Comparison{"true > true", false}));

TEST(Rule, IntegersAreComparedExactly) {
    RecordBuilder builder;
    builder.setInteger(builder.fieldNamed("large"), 9'007'199'254'740'993); // 2^53 + 1
    builder.setJson(builder.fieldNamed("deep"), FieldType::Object, R"({"n": 18446744073709551615})");
    builder.endRecord();
    const RecordTable table = builder.finish();
    const auto holds = [&table](const char* text) {
        const auto rule = Rule::compile(text, {table, "en", nullptr, nullptr, false});
        EXPECT_TRUE(rule) << (rule ? "" : rule.error().text());
        return rule && rule->holds({table, 0, nullptr, 0, nullptr, -1, 0});
    };
    EXPECT_TRUE(holds("@.large == 9007199254740993"));
    EXPECT_FALSE(holds("@.large == 9007199254740992"));
    EXPECT_TRUE(holds("@.large > 9007199254740992"));
    EXPECT_TRUE(holds("@.deep.n == 18446744073709551615"));
    EXPECT_FALSE(holds("@.deep.n == 18446744073709551614"));
}

TEST(Rule, AComparisonAllocatesNothing) {
    const RecordTable table = sighting();
    const Parameters parameters = limits();
    const auto rule =
        Rule::compile("@.count > $.parameters.many && @.species == \"Ashen lantern\" && !@.gone",
                      {table, "en", &parameters, nullptr, false});
    ASSERT_TRUE(rule);
    const FillContext context{table, 0, &parameters, 0, nullptr, -1, 0};
    ASSERT_TRUE(rule->holds(context));
    const std::int64_t before = testing::allocationsEver();
    int held = 0;
    for (int i = 0; i < 1000; ++i) {
        held += rule->holds(context) ? 1 : 0;
    }
    EXPECT_EQ(held, 1000);
    EXPECT_EQ(testing::allocationsEver(), before);
}

} // namespace
} // namespace scorrere
