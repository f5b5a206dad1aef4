// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/position_marks.h"

#include <array>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using Room = std::array<PositionMark, MarksSpec::kMost + 2>;

TEST(PositionMarks, OfFewItemsAllStandWholeAroundTheMiddle) {
    Room room;
    ASSERT_EQ(positionMarks(3, 1, 7, room), 3U);
    EXPECT_EQ(room[0].at, -1);
    EXPECT_EQ(room[2].at, 1);
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_EQ(room[i].item, static_cast<std::int64_t>(i));
        EXPECT_EQ(room[i].size, 1);
        EXPECT_EQ(room[i].present, i == 1 ? 1 : 0);
    }
    EXPECT_EQ(positionMarks(0, 0, 7, room), 0U);
}

TEST(PositionMarks, FollowTheFingerBetweenTwoItems) {
    Room room;
    ASSERT_EQ(positionMarks(5, 1.25, 7, room), 5U);
    EXPECT_DOUBLE_EQ(room[1].present, 0.75);
    EXPECT_DOUBLE_EQ(room[2].present, 0.25);
    EXPECT_EQ(room[3].present, 0);
}

TEST(PositionMarks, OfManyItemsThoseNearStandThereAndTheLastIsSmallWhereMoreFollow) {
    Room room;
    ASSERT_EQ(positionMarks(1'000'000, 0, 5, room), 5U);
    EXPECT_EQ(room[0].size, 1) << "nothing is before the first";
    EXPECT_LT(room[4].size, 1);
    const std::size_t count = positionMarks(1'000'000, 500'000, 5, room);
    ASSERT_EQ(count, 5U);
    EXPECT_EQ(room[2].item, 500'000);
    EXPECT_EQ(room[2].at, 0);
    EXPECT_EQ(room[2].present, 1);
    EXPECT_LT(room[0].size, 1);
    EXPECT_LT(room[4].size, 1);
}

RC_GTEST_PROP(PositionMarks, MoveALittleWhereWhatShowsMovesALittle, ()) {
    const auto count = *rc::gen::inRange<std::int64_t>(1, 60);
    const int most = *rc::gen::inRange(MarksSpec::kLeast, 12);
    const double from = *rc::gen::inRange(0, 1000) / 1000.0 * static_cast<double>(count - 1);
    Room before;
    Room after;
    const std::size_t had = positionMarks(count, from, most, before);
    const std::size_t has = positionMarks(count, from + 0.01, most, after);
    double present = 0;
    for (std::size_t i = 0; i < had; ++i) {
        present += before[i].present;
        const auto same = std::ranges::find(after.begin(), after.begin() + static_cast<std::ptrdiff_t>(has),
                                            before[i].item, &PositionMark::item);
        if (same == after.begin() + static_cast<std::ptrdiff_t>(has)) {
            RC_ASSERT(before[i].size < 0.02); // it faded
        } else {
            RC_ASSERT(std::abs(same->at - before[i].at) < 0.011);
            RC_ASSERT(std::abs(same->size - before[i].size) < 0.02);
        }
    }
    RC_ASSERT(std::abs(present - 1) < 1e-9);
    RC_ASSERT(had <= static_cast<std::size_t>(std::min<std::int64_t>(count, most + 1)));
}

TEST(PositionMarks, OnTheWayFromTheLastToTheFirstOneFadesAndTheOtherComes) {
    Room room;
    ASSERT_EQ(positionMarks(4, 3.25, 7, room), 4U);
    EXPECT_NEAR(room[3].present, 0.75, 1e-9);
    EXPECT_NEAR(room[0].present, 0.25, 1e-9);
    EXPECT_EQ(room[1].present, 0);
    ASSERT_GE(positionMarks(1000, 999.999, 5, room), 5U);
    EXPECT_EQ(room[0].item, 0) << "the row is back at its start";
}

} // namespace
} // namespace scorrere
