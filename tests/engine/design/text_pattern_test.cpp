// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/text_pattern.h"

#include "engine/record/record_builder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

RecordTable moth() {
    RecordBuilder builder;
    builder.setText(builder.fieldNamed("species"), "Ashen lantern");
    builder.setInteger(builder.fieldNamed("count"), 12345);
    builder.setReal(builder.fieldNamed("warmth"), 11.5);
    builder.setText(builder.fieldNamed("seen"), "2024-06-03T23:12:00+02:00");
    builder.setBoolean(builder.fieldNamed("kept"), true);
    builder.fieldNamed("gone");
    builder.endRecord();
    builder.setInteger(builder.fieldNamed("count"), 1);
    builder.endRecord();
    return builder.finish();
}

std::string said(const std::string& pattern, std::int64_t record = 0, const std::string& locale = "en") {
    const RecordTable table = moth();
    const auto compiled = TextPattern::compile(pattern, table, locale);
    EXPECT_TRUE(compiled) << compiled.error().text();
    std::string out;
    return compiled->format(table, record, out) ? out : "(missing)";
}

TEST(TextPattern, PutsFieldsIntoText) {
    EXPECT_EQ(said("{species}"), "Ashen lantern");
    EXPECT_EQ(said("{species}: {count}!"), "Ashen lantern: 12,345!");
    EXPECT_EQ(said("no field"), "no field");
    EXPECT_EQ(said("{count} {count}"), "12,345 12,345");
    EXPECT_EQ(said("{kept}"), "true");
}

TEST(TextPattern, FormatsDatesNumbersPluralsAndSelections) {
    EXPECT_EQ(said("{seen, date, medium}"), "Jun 3, 2024");
    EXPECT_EQ(said("on {seen, date, medium} at {warmth, number} °"), "on Jun 3, 2024 at 11.5 °");
    EXPECT_EQ(said("{seen, date, medium}", 0, "de"), "03.06.2024");
    EXPECT_EQ(said("{count, plural, one {# moth} other {# moths}}"), "12,345 moths");
    EXPECT_EQ(said("{count, plural, one {# moth} other {# moths}}", 1), "1 moth");
    EXPECT_EQ(said("{species, select, none {-} other {{species}}}"), "Ashen lantern");
    EXPECT_EQ(said("'{'{species}'}'"), "{Ashen lantern}");
    EXPECT_EQ(said("{warmth}"), "11.5");
}

TEST(TextPattern, TheLocaleGroupsDigits) {
    EXPECT_EQ(said("{count}", 0, "de"), "12.345");
    EXPECT_EQ(said("{count}", 0, "en-IN"), said("{count, number}", 0, "en-IN"));
}

TEST(TextPattern, AMissingFieldMakesTheWholeTextMissing) {
    EXPECT_EQ(said("{species} {count}", 1), "(missing)");
    EXPECT_EQ(said("{gone}"), "(missing)");
}

TEST(TextPattern, AFieldThatIsNotThereIsNamedWithThoseThatAre) {
    const auto compiled = TextPattern::compile("{specie}", moth(), "en");
    ASSERT_FALSE(compiled);
    EXPECT_EQ(compiled.error().code, ErrorCode::NotFound);
    EXPECT_THAT(compiled.error().text(),
                ::testing::AllOf(::testing::HasSubstr("\"specie\""), ::testing::HasSubstr("species, count")));
}

TEST(TextPattern, AFormatThatDoesNotFitItsFieldIsRefused) {
    EXPECT_EQ(TextPattern::compile("{species, date, medium}", moth(), "en").error().code, ErrorCode::Invalid);
    EXPECT_EQ(TextPattern::compile("{species, plural, other {x}}", moth(), "en").error().code,
              ErrorCode::Invalid);
}

TEST(TextPattern, ABrokenPatternIsPlaced) {
    const auto compiled = TextPattern::compile("{species", moth(), "en");
    ASSERT_FALSE(compiled);
    EXPECT_EQ(compiled.error().code, ErrorCode::Syntax);
    EXPECT_GT(compiled.error().place.column, 0);
}

TEST(TextPattern, NestsNoDeeperThanAStackHolds) {
    std::string deep = "x";
    for (int i = 0; i < 5000; ++i) {
        deep = "{id, plural, other {" + deep + "}}";
    }
    const RecordTable none;
    const auto made = TextPattern::compile(deep, none, "en");
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().code, ErrorCode::TooLarge);
    EXPECT_FALSE(TextPattern::compile("{seen, date, ::yMMMd}", none, "xxxxxxxxxxxx")) << "no such locale";
}

} // namespace
} // namespace scorrere
