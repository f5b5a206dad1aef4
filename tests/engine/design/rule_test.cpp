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
    EXPECT_THAT(problem("@.nothing > 3"), HasSubstr("no field \"nothing\""));
    EXPECT_THAT(problem("@.nothing > 3"), HasSubstr("species"));
    EXPECT_THAT(problem("@.count > $.parameters.many"), HasSubstr("no parameter \"many\""));
    EXPECT_THAT(problem("@.count > $.records.many"), HasSubstr("nothing but parameters"));
    EXPECT_THAT(problem("@.a][?@.b"), HasSubstr("one expression"));
    EXPECT_THAT(problem("match(@.species, '[')"), HasSubstr("regular expression"));
    EXPECT_THAT(problem("@ == 3"), HasSubstr("fields by name"));
    EXPECT_THAT(problem(""), HasSubstr("cannot be read"));
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
