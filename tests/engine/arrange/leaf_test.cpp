// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/leaf.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using Named = std::vector<std::int64_t>;

TEST(Leaf, TheLastIsShort) {
    const Leaf last{20, 60};
    EXPECT_EQ(last.countOf(73), 13);
    EXPECT_EQ(last.leavesOf(73), 4);
    EXPECT_EQ(last.number(), 3);
    EXPECT_EQ((Leaf{20, 80}.countOf(73)), 0) << "beyond the end there is nothing";
    EXPECT_EQ((Leaf{20, 0}.leavesOf(0)), 1) << "nothing at all is one that is empty";
    EXPECT_EQ(Leaf().countOf(73), 73);
}

TEST(Leaf, TheBarNamesTheEndsAndThoseNear) {
    EXPECT_EQ(leavesNamed(0, 1), (Named{0}));
    EXPECT_EQ(leavesNamed(0, 4), (Named{0, 1, 2, 3}));
    EXPECT_EQ(leavesNamed(0, 50'000), (Named{0, 1, 2, -1, 49'999}));
    EXPECT_EQ(leavesNamed(10, 50'000), (Named{0, -1, 8, 9, 10, 11, 12, -1, 49'999}));
    EXPECT_EQ(leavesNamed(3, 7), (Named{0, 1, 2, 3, 4, 5, 6})) << "a gap of one is that one";
}

RC_GTEST_PROP(Leaf, WhateverItNamesRisesAndHasThePresentOne, ()) {
    const auto count = *rc::gen::inRange<std::int64_t>(1, 1000);
    const auto present = *rc::gen::inRange<std::int64_t>(0, count);
    const Named named = leavesNamed(present, count);
    RC_ASSERT(std::ranges::find(named, present) != named.end());
    RC_ASSERT(named.front() == 0);
    RC_ASSERT(named.back() == count - 1);
    RC_ASSERT(named.size() <= 9U);
    Named real;
    std::ranges::copy_if(named, std::back_inserter(real), [](std::int64_t leaf) { return leaf >= 0; });
    RC_ASSERT(std::ranges::adjacent_find(real, std::greater_equal<>()) == real.end());
}

} // namespace
} // namespace scorrere
