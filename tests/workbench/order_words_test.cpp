// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/order_words.h"

#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

const std::vector<Field> kFields{{"count", FieldType::Integer}, {"wingspan_mm", FieldType::Real},
                                 {"species", FieldType::Text},  {"status", FieldType::Text},
                                 {"seen", FieldType::Time},     {"kept", FieldType::Boolean},
                                 {"traits", FieldType::List},   {"count total", FieldType::Integer}};

TEST(OrderWords, SortsAreReadAsTheyAreSaid) {
    const auto both = [](const char* words) {
        const auto order = sortFromWords(QString::fromUtf8(words), {}, kFields);
        return order ? sortInWords(*order, kFields) : QStringLiteral("?");
    };
    for (const char* words : {"their order", "an order shuffled by 7", "the order of count, smallest first",
                              "the order of species, Z to A, missing first, then seen, latest first",
                              "the order of kept, yes first", "their order, section by section",
                              "an order shuffled by 7, section by section",
                              "the order of count, smallest first, section by section",
                              "the order of count total, largest first"}) {
        EXPECT_EQ(both(words), QString::fromUtf8(words));
    }
    EXPECT_EQ(both("wingspan_mm, descending"), QStringLiteral("the order of wingspan_mm, largest first"));
    EXPECT_EQ(both("shuffle"), QStringLiteral("an order shuffled by 1"));
    for (const char* words :
         {"the order of traits", "wings", "count, Z to A", "shuffled by 1000000000", ""}) {
        EXPECT_EQ(both(words), QStringLiteral("?")) << words;
    }
    OrderSpec now;
    now.where = "@.kept";
    now.shuffled = 4;
    const auto sorted = sortFromWords(QStringLiteral("count"), now, kFields);
    EXPECT_EQ(sorted->where, "@.kept") << "what else is said stays";
    EXPECT_FALSE(sorted->shuffled);
    EXPECT_EQ(shuffledAnew(now).shuffled, 5u);
    EXPECT_FALSE(sortFromWords(QStringLiteral("their order"),
                               *sortFromWords(QStringLiteral("their order, section by section"), {}, kFields),
                               kFields)
                     ->isGathered);
    EXPECT_TRUE(sortChoices({}, kFields, true).contains(QStringLiteral("their order, section by section")));
    EXPECT_FALSE(sortChoices({}, kFields, false).contains(QStringLiteral("their order, section by section")));
    EXPECT_FALSE(sortChoices({}, kFields, false).join(QLatin1Char('|')).contains(QLatin1String("traits")));
}

TEST(OrderWords, RulesAreReadAsTheyAreSaidAndSaidAsTheyAreWhereWordsCannot) {
    const std::pair<const char*, const char*> kBoth[] = {
        {"all", ""},
        {"those where status is queried", "@.status == \"queried\""},
        {"those where count is over 5 and species is not Pale moth",
         "@.count > 5 && @.species != \"Pale moth\""},
        {"those where kept is yes", "@.kept == true"},
        {"those where seen is missing and count total is at least 2",
         "@.seen == null && @[\"count total\"] >= 2"},
        {"those where seen is under 2025-04", "@.seen < \"2025-04\""},
        {"those where search(@.species, \"moth\")", "search(@.species, \"moth\")"},
        {"those where @.count > 5 || @.kept == true", "@.count > 5 || @.kept == true"},
        {"those where @.count > $.parameters.odd", "@.count > $.parameters.odd"},
    };
    for (const auto& [words, rule] : kBoth) {
        EXPECT_EQ(whereInWords(rule, kFields), QString::fromUtf8(words));
        EXPECT_EQ(whereFromWords(QString::fromUtf8(words), kFields), rule);
    }
    EXPECT_EQ(whereFromWords(QStringLiteral("count > 5 and kept = no"), kFields),
              "@.count > 5 && @.kept == false");
    EXPECT_EQ(whereFromWords(QStringLiteral("species = \"a \\ b\""), kFields), "@.species == \"a \\\\ b\"");
    for (const char* words : {"wings is 4", "count is many", "kept is maybe", "species is", "count"}) {
        EXPECT_EQ(whereFromWords(QString::fromUtf8(words), kFields), std::nullopt) << words;
    }
}

TEST(OrderWords, ASearchIsAnyWordsAndMaySayWhere) {
    OrderSpec now = searchFromWords(QStringLiteral("pale moth"), {}, kFields);
    EXPECT_EQ(now.containing, "pale moth");
    EXPECT_EQ(searchInWords(now), QString::fromUtf8("“pale moth”"));
    now = searchFromWords(QString::fromUtf8("“pale” in species and status"), now, kFields);
    EXPECT_EQ(now.within, (std::vector<std::string>{"species", "status"}));
    EXPECT_EQ(searchInWords(now), QString::fromUtf8("“pale” in species and status"));
    EXPECT_EQ(searchFromWords(searchInWords(now), {}, kFields), now);
    EXPECT_EQ(searchFromWords(QString::fromUtf8("“pale” in wings"), {}, kFields).containing,
              "“pale” in wings");
    now = searchFromWords(QStringLiteral("anything"), now, kFields);
    EXPECT_EQ(now, OrderSpec());
}

} // namespace
} // namespace scorrere::workbench
