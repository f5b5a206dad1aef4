// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/record_json.h"

#include "engine/record/record_builder.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

RecordTable table() {
    RecordBuilder builder;
    builder.setInteger(builder.fieldNamed("id"), 7);
    builder.setText(builder.fieldNamed("name"), "Elm \"quote\"");
    builder.setJson(builder.fieldNamed("traits"), FieldType::List, "[1, 2]");
    builder.setText(builder.fieldNamed("seen"), "2026-07-01T22:00:00Z");
    builder.endRecord();
    return builder.finish();
}

TEST(RecordJson, WritesWhatARecordHas) {
    EXPECT_EQ(recordJson(table(), 0),
              R"({"id": 7, "name": "Elm \"quote\"", "traits": [1, 2], "seen": "2026-07-01T22:00:00Z"})");
}

TEST(RecordJson, ConformedHasTheWantedFieldsFirstAndLosesNothing) {
    const std::vector<Field> wanted{{"name", FieldType::Text},
                                    {"wings", FieldType::Integer},
                                    {"id", FieldType::Real},
                                    {"seen", FieldType::Text}};
    const RecordTable made = conformed(table(), wanted);
    EXPECT_TRUE(conforms(made, wanted));
    ASSERT_EQ(made.fields().size(), 5U);
    EXPECT_EQ(made.fields()[4].name, "traits");
    EXPECT_DOUBLE_EQ(made.real(0, *made.find("id")), 7);
    EXPECT_EQ(made.text(0, *made.find("name")), "Elm \"quote\"");
    EXPECT_EQ(made.text(0, *made.find("seen")), "2026-07-01T22:00:00Z");
    EXPECT_EQ(made.text(0, *made.find("traits")), "[1, 2]");
    EXPECT_FALSE(made.has(0, *made.find("wings")));
}

TEST(RecordJson, AValueTooWideForItsFieldWidensIt) {
    RecordBuilder builder;
    builder.setReal(builder.fieldNamed("id"), 2.5);
    builder.endRecord();
    const RecordTable made = conformed(builder.finish(), {{"id", FieldType::Integer}});
    EXPECT_EQ(made.fields()[0].type, FieldType::Real);
    EXPECT_DOUBLE_EQ(made.real(0, FieldHandle{0}), 2.5);
}

TEST(RecordJson, GatheredTakesRowsOfManyTablesInOrder) {
    RecordBuilder other;
    for (int i = 0; i < 3; ++i) {
        other.setText(other.fieldNamed("name"), "Fen " + std::to_string(i));
        other.setReal(other.fieldNamed("id"), i + 0.5);
        other.setBoolean(other.fieldNamed("queried"), i == 2);
        other.endRecord();
    }
    const auto first = std::make_shared<const RecordTable>(table());
    const auto second = std::make_shared<const RecordTable>(other.finish());
    const RecordTable made = gathered({{second, 2}, {first, 0}, {second, 0}}, {{"id", FieldType::Integer}});
    ASSERT_EQ(made.size(), 3);
    EXPECT_EQ(made.fields()[0].name, "id");
    EXPECT_EQ(made.fields()[0].type, FieldType::Real);
    EXPECT_DOUBLE_EQ(made.real(0, FieldHandle{0}), 2.5);
    EXPECT_DOUBLE_EQ(made.real(1, FieldHandle{0}), 7);
    EXPECT_EQ(made.text(1, *made.find("traits")), "[1, 2]");
    EXPECT_TRUE(made.boolean(0, *made.find("queried")));
    EXPECT_FALSE(made.has(1, *made.find("queried")));
    EXPECT_EQ(made.text(2, *made.find("name")), "Fen 0");
    EXPECT_EQ(gathered({}, {{"id", FieldType::Integer}}).size(), 0);
}

TEST(RecordJson, TheHashFollowsTheContentAlone) {
    EXPECT_EQ(contentHash(table(), 0), contentHash(table(), 0));
    RecordBuilder builder;
    builder.setInteger(builder.fieldNamed("id"), 8);
    builder.endRecord();
    EXPECT_NE(contentHash(builder.finish(), 0), contentHash(table(), 0));
}

} // namespace
} // namespace scorrere
