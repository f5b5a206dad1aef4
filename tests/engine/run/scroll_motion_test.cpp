// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/run/scroll_motion.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

TEST(ScrollMotion, ADragFollowsThePointer) {
    ScrollMotion motion;
    motion.press(0, Length::px(100));
    motion.drag(10'000, Length::px(60));
    EXPECT_EQ(motion.advance(10'000), Length::px(40));
    EXPECT_EQ(motion.advance(20'000), Length{});
}

TEST(ScrollMotion, LettingGoInMotionFliesOn) {
    ScrollMotion motion;
    motion.press(0, Length::px(400));
    for (int i = 1; i <= 6; ++i) {
        motion.drag(i * 10'000, Length::px(400 - i * 10));
    }
    motion.letGo(60'000);
    EXPECT_NEAR(motion.velocity(), 1000, 1);
}

TEST(ScrollMotion, LettingGoAtRestStays) {
    ScrollMotion motion;
    motion.press(0, Length::px(400));
    motion.drag(10'000, Length::px(300));
    motion.letGo(900'000);
    EXPECT_EQ(motion.velocity(), 0);
}

TEST(ScrollMotion, AFlingSlowsDownAndStopsWhateverTheFrameRate) {
    const auto flown = [](std::int64_t periodUs) {
        ScrollMotion motion;
        motion.fling(3000, 0);
        Length sum;
        for (std::int64_t t = periodUs; motion.isMoving(); t += periodUs) {
            sum += motion.advance(t);
        }
        return sum;
    };
    EXPECT_EQ(flown(1000), flown(8000));
    EXPECT_EQ(flown(1000), flown(16'000));
    EXPECT_NEAR(flown(8000).toPx(), 1488, 5); // (3000 - 20) / 2 per second
}

TEST(ScrollMotion, PressingStopsAFling) {
    ScrollMotion motion;
    motion.fling(3000, 0);
    motion.press(8000, Length::px(1));
    EXPECT_EQ(motion.advance(16'000), Length{});
}

} // namespace
} // namespace scorrere
