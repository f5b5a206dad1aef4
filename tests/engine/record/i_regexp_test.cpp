// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/i_regexp.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

bool matches(const char* pattern, const char* text, bool whole = true) {
    const auto made = IRegexp::compile(pattern);
    EXPECT_TRUE(made) << (made ? "" : made.error().text());
    return made && made->matches(text, whole);
}

TEST(IRegexp, TakesWhatTheStandardHas) {
    EXPECT_TRUE(matches("a.c", "abc"));
    EXPECT_TRUE(matches("a.c", "aéc")) << "a dot is a character, not a byte";
    EXPECT_FALSE(matches("a.c", "a\nc"));
    EXPECT_TRUE(matches("[a-c]+x?", "abcabc"));
    EXPECT_TRUE(matches("(ab|cd){2,3}", "abcdab"));
    EXPECT_FALSE(matches("(ab|cd){2}", "ab"));
    EXPECT_TRUE(matches("[^0-9]{3}", "xyz"));
    EXPECT_TRUE(matches("\\p{Lu}\\p{Ll}*", "Éclair"));
    EXPECT_TRUE(matches("[\\p{L}-]+", "a-b"));
    EXPECT_TRUE(matches("\\(x\\)\\.\\n", "(x).\n"));
    EXPECT_TRUE(matches("[-a]+", "a-a"));
    EXPECT_TRUE(matches("[a-]+", "a-a"));
    EXPECT_TRUE(matches("", ""));
    EXPECT_TRUE(matches("a|", ""));
}

TEST(IRegexp, SearchesAPart) {
    EXPECT_TRUE(matches("b+", "abba", false));
    EXPECT_FALSE(matches("b+", "abba", true));
}

TEST(IRegexp, AnchorsAreCharactersAsTheStandardSays) {
    EXPECT_TRUE(matches("^a$", "^a$"));
    EXPECT_FALSE(matches("^a$", "a"));
    EXPECT_THAT(misreadOf("^a"), HasSubstr("no anchors"));
    EXPECT_THAT(misreadOf("a$"), HasSubstr("no anchors"));
    EXPECT_EQ(misreadOf("a[$]"), "");
    EXPECT_EQ(misreadOf("x^2"), "");
}

struct Bad {
    const char* pattern;
    const char* says;
    std::int64_t column;
};
class BadPatterns : public ::testing::TestWithParam<Bad> {};

TEST_P(BadPatterns, AreToldWithTheirPlace) {
    const auto made = IRegexp::compile(GetParam().pattern);
    ASSERT_FALSE(made);
    EXPECT_THAT(made.error().text(), HasSubstr(GetParam().says));
    EXPECT_EQ(made.error().place.column, GetParam().column) << made.error().text();
}

INSTANTIATE_TEST_SUITE_P(
    Each, BadPatterns,
    ::testing::Values(Bad{"\\d+", "Write [0-9]", 1}, Bad{"a\\w", "\\w is not part", 2},
                      Bad{"(?:a)", "is not part of RFC 9485", 1}, Bad{"(?i)a", "is not part of RFC 9485", 1},
                      Bad{"[a", "not closed", 1}, Bad{"[]", "nothing in them", 1},
                      Bad{"a)", "closes nothing", 2}, Bad{"(a", "not closed", 3},
                      Bad{"*a", "nothing to repeat", 1}, Bad{"a**", "stands behind a repeat", 3},
                      Bad{"a+?", "stands behind a repeat", 3}, Bad{"a{2,1}", "ends before it begins", 6},
                      Bad{"a{1001}", "more than 1000", 7}, Bad{"\\p{Q}", "category", 1},
                      Bad{"a\\", "at the end", 2}, Bad{"\\bword", "not part", 1}));

TEST(IRegexp, IsLinearWhereOthersTakeYears) {
    const auto made = IRegexp::compile("(a+)+b");
    ASSERT_TRUE(made);
    // 2 to the power of 100,000 ways to try, one after the other: this would not come back.
    EXPECT_FALSE(made->matches(std::string(100'000, 'a'), true));
    EXPECT_FALSE(IRegexp::compile(std::string(5000, '(') + std::string(5000, ')')))
        << "nor does it nest for ever";
}

} // namespace
} // namespace scorrere
