// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/source_edit.h"

#include "engine/record/record_builder.h"
#include "workbench/ui/source/field_rows.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

using ::testing::ElementsAre;
using Strings = std::vector<std::string>;

TEST(SourceEdit, ADecisionThatSaysNothingIsNone) {
    const SourceSpec source;
    const SourceSpec left = withField(source, "a", [](FieldChoice& choice) { choice.leftOut = true; });
    ASSERT_EQ(left.reading.fields.size(), 1U);
    EXPECT_EQ(withField(left, "a", [](FieldChoice& choice) { choice.leftOut = false; }), source);
}

TEST(SourceEdit, TheSamplesSayWhatALanguageMakesOfAText) {
    const auto typeOf = [](const Strings& samples) {
        return withLocale({}, "a", "de", FieldType::Text, samples).reading.fields.at(0).type;
    };
    EXPECT_EQ(typeOf({"1.234", "5"}), FieldType::Integer);
    EXPECT_EQ(typeOf({"1.234,5", "5"}), FieldType::Real);
    EXPECT_EQ(typeOf({"31.12.2023"}), FieldType::Time);
    const SourceSpec german = withLocale({}, "a", "de", FieldType::Text, {"5"});
    EXPECT_EQ(withLocale(german, "a", "", FieldType::Integer, {}), SourceSpec());
}

TEST(SourceEdit, AKeyStandsAloneOrTogetherAndGoesAgain) {
    const SourceSpec alone = withKey({}, {"proposed"}, "a", false);
    EXPECT_THAT(alone.key, ElementsAre("a"));
    const SourceSpec both = withKey(alone, alone.key, "b", true);
    EXPECT_THAT(both.key, ElementsAre("a", "b"));
    EXPECT_THAT(withKey(both, both.key, "a", false).key, ElementsAre("b"));
    EXPECT_THAT(withKey({}, {"proposed"}, "proposed", false).key, ElementsAre("proposed")) << "chosen now";
}

TEST(SourceEdit, AValueFromInsideBecomesAFieldThatIsCalledAfterItsPath) {
    const std::string text = R"([{"id": 1, "place": {"trap": "north"}}])";
    const JsonOutline tree = JsonOutline::of(text, {});
    const auto trap = std::ranges::find_if(
        tree.nodes, [&](const JsonOutline::Node& node) { return JsonOutline::nameOf(node, text) == "trap"; });
    ASSERT_NE(trap, tree.nodes.end());
    const int node = static_cast<int>(trap - tree.nodes.begin());
    const NewColumn made = withColumn({}, tree, text, 0, node, {"place_trap"});
    EXPECT_EQ(made.name, "place_trap_2") << "that name is taken";
    EXPECT_EQ(made.source.reading.fields.at(0).path, "/place/trap");
    EXPECT_EQ(withColumn({}, tree, text, 0, 0, {}).name, "") << "the list itself is in no item";
}

TEST(SourceEdit, AnEmptyVariableOrHeaderIsNotGiven) {
    const SourceSpec given = withHeader(withVariable({}, "page", "2"), "X-Trap", "north");
    EXPECT_EQ(given.variables.size(), 1U);
    EXPECT_EQ(given.headers.size(), 1U);
    EXPECT_EQ(withHeader(withVariable(given, "page", ""), "X-Trap", ""), SourceSpec());
}

TEST(FieldRows, SayWhyAFieldHasItsTypeAndKeepWhatIsLeftOut) {
    RecordBuilder builder;
    builder.setInteger(builder.fieldNamed("id"), 1);
    builder.endRecord();
    const RecordTable records = builder.finish();
    SourceSpec source = withField({}, "gone", [](FieldChoice& choice) { choice.leftOut = true; });
    source.key = {"id"};
    const std::vector<Widening> widenings{{"id", FieldType::Integer, FieldType::Text, 4, "x7"}};
    const auto rows = fieldRows({source, &records, nullptr, &widenings});
    ASSERT_EQ(rows.size(), 2U);
    EXPECT_TRUE(rows[0].isKey);
    EXPECT_THAT(rows[0].why, ::testing::HasSubstr("until record 5"));
    EXPECT_TRUE(rows[1].isLeftOut);
    EXPECT_EQ(rows[1].name, "gone");
}

} // namespace
} // namespace scorrere::workbench
