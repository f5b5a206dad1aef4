// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/extent/hold_point.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

TEST(HoldPoint, InsertBeforeItMovesItsPositionOnly) {
    HoldPoint hold{5, Length::px(12)};
    hold.inserted(5, 3);
    EXPECT_EQ(hold, (HoldPoint{8, Length::px(12)}));
    hold.inserted(9, 3);
    EXPECT_EQ(hold.position, 8);
}

TEST(HoldPoint, TheNextSurvivorTakesItsPlaceOnScreen) {
    HoldPoint hold{5, Length::px(12)};
    EXPECT_TRUE(hold.erased(4, 3, 10));
    EXPECT_EQ(hold, (HoldPoint{4, Length::px(12)}));
}

TEST(HoldPoint, TheLastSurvivorTakesOverAtTheEnd) {
    HoldPoint hold{5, Length::px(12)};
    EXPECT_TRUE(hold.erased(4, 2, 4));
    EXPECT_EQ(hold.position, 3);
    EXPECT_TRUE(hold.erased(0, 4, 0));
    EXPECT_EQ(hold.position, -1);
}

TEST(HoldPoint, ItGoesWithAMovedItemAndMakesRoomForOthers) {
    HoldPoint hold{5, Length{}};
    hold.moved(5, 9);
    EXPECT_EQ(hold.position, 9);
    hold.moved(2, 9);
    EXPECT_EQ(hold.position, 8);
    hold.moved(20, 8);
    EXPECT_EQ(hold.position, 9);
    hold.moved(1, 3);
    EXPECT_EQ(hold.position, 9);
}

} // namespace
} // namespace scorrere
