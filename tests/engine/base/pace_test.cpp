// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/base/pace.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

TEST(Pace, WhatIsLeftGoesAsWhatIsDoneWent) {
    EXPECT_EQ(secondsLeft(0.25, 2000), 6);
    EXPECT_EQ(secondsLeft(0.5, 1001), 2) << "a second that has begun is one";
    EXPECT_EQ(secondsLeft(1, 5000), 0);
    EXPECT_EQ(secondsLeft(1.2, 5000), 0) << "a guess that was too low leaves nothing";
}

TEST(Pace, WithinASecondOrAPercentNobodyKnows) {
    EXPECT_EQ(secondsLeft(0.5, 999), std::nullopt);
    EXPECT_EQ(secondsLeft(0.009, 60'000), std::nullopt);
    EXPECT_EQ(secondsLeft(0, 60'000), std::nullopt);
    EXPECT_EQ(secondsLeft(-1, 60'000), std::nullopt) << "how far it is is not known";
}

} // namespace
} // namespace scorrere
