// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/axis_map.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

using render::AxisMap;

constexpr Box kBox{Length::px(10), Length::px(100), Length::px(5), Length::px(30)};

TEST(AxisMap, UprightWhatStandsAlongStandsDown) {
    const AxisMap map{false, false, 700, 360};
    EXPECT_EQ(map.window(), QSizeF(360, 700));
    EXPECT_EQ(map.onScreen(kBox), QRectF(5, 10, 30, 100));
    EXPECT_EQ(map.onScreen(kBox, Length::px(7)), QRectF(5, 17, 30, 100)) << "pulled down";
    EXPECT_EQ(map.alongOf({3, 9}), 9);
}

TEST(AxisMap, SidewaysWhatStandsAlongStandsToTheRight) {
    const AxisMap map{true, false, 700, 360};
    EXPECT_EQ(map.window(), QSizeF(700, 360));
    EXPECT_EQ(map.onScreen(kBox), QRectF(10, 5, 100, 30));
    EXPECT_EQ(map.onScreen(kBox, Length::px(7)), QRectF(17, 5, 100, 30));
    EXPECT_EQ(map.alongOf({3, 9}), 3);
}

TEST(AxisMap, MirroredItBeginsAtTheRight) {
    const AxisMap upright{false, true, 700, 360};
    EXPECT_EQ(upright.onScreen(kBox), QRectF(360 - 35, 10, 30, 100)) << "only across";
    EXPECT_EQ(upright.alongOf({3, 9}), 9);
    const AxisMap sideways{true, true, 700, 360};
    EXPECT_EQ(sideways.onScreen(kBox), QRectF(700 - 110, 5, 100, 30)) << "only along";
    // A drag to the right goes back, as a drag down does where the strip runs down.
    EXPECT_LT(sideways.alongOf({20, 0}), sideways.alongOf({10, 0}));
}

} // namespace
} // namespace scorrere
