// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/order/search_words.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using ::testing::IsEmpty;

std::string folded(std::string_view text) {
    std::string to = "kept:";
    foldForSearch(text, to);
    return to.substr(5);
}

TEST(SearchWords, CaseDiacriticsAndWidthsAreNoMatter) {
    EXPECT_EQ(folded("Pale LANTERN 12"), "pale lantern 12");
    EXPECT_EQ(folded("Éclair"), folded("eclair"));
    EXPECT_EQ(folded("e\u0301clair"), "eclair");
    EXPECT_EQ(folded("Straße"), "strasse");
    EXPECT_EQ(folded("ＡＢ１２"), "ab12");
    EXPECT_EQ(folded("ｶﾅ"), folded("カナ"));
    EXPECT_EQ(folded("Σκιά"), folded("ΣΚΙΑ"));
    EXPECT_EQ(folded("مُنِير"), folded("منير"));
    EXPECT_NE(folded("がき"), folded("かき")) << "another letter, not another way to write it";
}

TEST(SearchWords, AreApartAtAnySpaceAndNoneIsSaidTwice) {
    EXPECT_THAT(searchWords("  Pale\tmoth\u3000Él "), ElementsAre("pale", "moth", "el"));
    EXPECT_THAT(searchWords("moth mot OTH pale moth"), ElementsAre("moth", "pale"));
    EXPECT_THAT(searchWords(" \n"), IsEmpty());
}

} // namespace
} // namespace scorrere
