// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/base/nesting.h"

#include <gtest/gtest.h>
#include <string>

namespace scorrere {
namespace {

TEST(Nesting, TellsWhereItIsTooDeep) {
    EXPECT_EQ(tooDeepAt("[[[]]]", 3), std::string::npos);
    EXPECT_EQ(tooDeepAt("[[[]]]", 2), 2U);
    EXPECT_EQ(tooDeepAt(R"({"a": [{"b": 1}]})", 2), 7U);
    EXPECT_EQ(tooDeepAt("[][][][]", 1), std::string::npos) << "beside each other is not inside";
}

TEST(Nesting, BracketsInStringsDoNotCount) {
    EXPECT_EQ(tooDeepAt(R"(["[[[[", "\"[[[", "\\"])", 1), std::string::npos);
    EXPECT_EQ(tooDeepAt(R"(["\\", [[ ]]])", 2), 8U) << "an escaped backslash does not escape the quote";
}

} // namespace
} // namespace scorrere
