// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/section_chooser.h"

#include "engine/record/record_builder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

RecordTable namesOf(const std::vector<std::string>& names) {
    RecordBuilder builder;
    for (const std::string& name : names) {
        if (!name.empty()) {
            builder.setText(builder.fieldNamed("name"), name);
        }
        builder.setInteger(builder.fieldNamed("size"), static_cast<std::int64_t>(name.size()));
        builder.endRecord();
    }
    return builder.finish();
}

std::vector<std::string> headings(const SectionBy& by, const std::vector<std::string>& names,
                                  const std::string& locale = "en") {
    const RecordTable table = namesOf(names);
    const auto chooser = SectionChooser::compile(by, {table, locale, nullptr, nullptr, false}, "/at");
    EXPECT_TRUE(chooser) << (chooser ? "" : chooser.error().text());
    std::vector<std::string> all;
    for (std::int64_t record = 0; chooser && record < table.size(); ++record) {
        chooser->textOf({table, record, nullptr, 0, nullptr, -1, 0}, all.emplace_back());
    }
    return all;
}

using ::testing::ElementsAre;

TEST(SectionChooser, SaysATextOfTheRecord) {
    EXPECT_THAT(headings({SectionBy::Text{"{name} ({size})"}}, {"Reed", "Salt"}),
                ElementsAre("Reed (4)", "Salt (4)"));
}

TEST(SectionChooser, FilesALetterAsItsLanguageDoes) {
    const SectionBy by{SectionBy::FirstLetter{"name"}};
    EXPECT_THAT(
        headings(by, {"Ashen", "\u00e9cru", "\u00d6lfleck", "7 spots", "\u039b\u03b5\u03c5\u03ba\u03ae"}),
        ElementsAre("A", "E", "O", "#", "\u039b"));
    // In Swedish Ö is a letter of its own, behind Z; in English it is an O.
    EXPECT_THAT(headings(by, {"\u00d6lfleck", "Zebra"}, "sv"), ElementsAre("\u00d6", "Z"));
}

TEST(SectionChooser, NamesTheFirstRuleThatHolds) {
    const SectionBy by{SectionBy::Rules{{{"long", "@.size > 5"}, {"short", "@.size > 2"}}}};
    EXPECT_THAT(headings(by, {"harlequin", "veil", "ab"}),
                ElementsAre("long", "short", SectionChooser::kNothing));
    const SectionBy all{SectionBy::Rules{{{"long", "@.size > 5"}, {"others", ""}}}};
    EXPECT_THAT(headings(all, {"harlequin", "ab"}), ElementsAre("long", "others"));
}

TEST(SectionChooser, WhatIsMissingHasAHeadingOfItsOwn) {
    EXPECT_THAT(headings({SectionBy::Text{"{name}"}}, {"Reed", ""}),
                ElementsAre("Reed", SectionChooser::kNothing));
    EXPECT_THAT(headings({SectionBy::FirstLetter{"name"}}, {"Reed", ""}),
                ElementsAre("R", SectionChooser::kNothing));
}

TEST(SectionChooser, KnowsWithoutATextWhatIsAlike) {
    const RecordTable table = namesOf({"Reed", "Reed", "Rook", "", ""});
    const NameScope scope{table, "en", nullptr, nullptr, false};
    const auto both = SectionChooser::compile({SectionBy::Text{"{name} {size}"}}, scope, "");
    const auto letter = SectionChooser::compile({SectionBy::FirstLetter{"name"}}, scope, "");
    const auto rules = SectionChooser::compile({SectionBy::Rules{{{"all", ""}}}}, scope, "");
    ASSERT_TRUE(both && letter && rules);
    EXPECT_TRUE(both->isAlike(table, 0, 1));
    EXPECT_FALSE(both->isAlike(table, 1, 2));
    EXPECT_FALSE(both->isAlike(table, 2, 3));
    EXPECT_TRUE(both->isAlike(table, 3, 4)) << "neither has a name";
    EXPECT_FALSE(letter->isAlike(table, 1, 2)) << "it is not certain";
    EXPECT_FALSE(rules->isAlike(table, 0, 1)) << "a rule may read anything";
}

TEST(SectionChooser, SaysWhereWhatDoesNotFitStands) {
    const RecordTable table = namesOf({"Reed"});
    const NameScope scope{table, "en", nullptr, nullptr, false};
    const auto noField = SectionChooser::compile({SectionBy::FirstLetter{"nome"}}, scope, "/sections");
    ASSERT_FALSE(noField);
    EXPECT_EQ(noField.error().code, ErrorCode::NotFound);
    EXPECT_EQ(noField.error().place.pointer, "/sections/firstLetter");
    const auto noRule =
        SectionChooser::compile({SectionBy::Rules{{{"a", ""}, {"b", "@.size >"}}}}, scope, "/sections");
    ASSERT_FALSE(noRule);
    EXPECT_EQ(noRule.error().place.pointer, "/sections/rules/1/when");
}

} // namespace
} // namespace scorrere
