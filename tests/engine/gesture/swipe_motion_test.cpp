// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/gesture/swipe_motion.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using Outcome = SwipeMotion::Outcome;

class SwipeTest : public ::testing::Test {
protected:
    SwipeTest() {
        SwipeSides sides;
        sides.atStart = 1;
        sides.atEnd = 2;
        sides.item = Length::px(300);
        swipe.begin(sides);
    }
    /// So far in so many ms, in four moves.
    Outcome drag(std::int64_t px, std::int64_t ms, std::int64_t restMs = 0) {
        swipe.press(now, Length::px(100));
        for (int i = 1; i <= 4; ++i) {
            swipe.drag(now += ms * 250, Length::px(100 + px * i / 4));
        }
        return swipe.letGo(now += restMs * 1000);
    }
    void settle() {
        for (int i = 0; i < 60 && swipe.isSpringing(); ++i) {
            swipe.advance(now += 8000);
        }
        ASSERT_FALSE(swipe.isSpringing());
    }
    SwipeMotion swipe;
    std::int64_t now = 0;
};

TEST_F(SwipeTest, BeforeHalfOfItsActionsItSpringsBackAndBehindItTheyStay) {
    EXPECT_EQ(drag(40, 400, 100), Outcome::Back);
    EXPECT_FALSE(swipe.isOpen());
    settle();
    EXPECT_EQ(swipe.offset(), Length{});
    EXPECT_FALSE(swipe.isAway());
    EXPECT_EQ(drag(60, 400, 100), Outcome::Opens);
    settle();
    EXPECT_EQ(swipe.offset(), Length::px(84)) << "one action wide";
    swipe.close(now);
    settle();
    EXPECT_EQ(swipe.offset(), Length{});
    EXPECT_EQ(drag(-90, 400, 100), Outcome::Opens);
    settle();
    EXPECT_EQ(swipe.offset(), Length::px(-168)) << "two of them at its end";
}

TEST_F(SwipeTest, PulledFarTheFirstIsDone) {
    EXPECT_EQ(drag(170, 800, 100), Outcome::DoStart);
    settle();
    EXPECT_EQ(drag(-170, 800, 100), Outcome::DoEnd);
    settle();
    EXPECT_EQ(drag(160, 800, 100), Outcome::Opens) << "not 55% of it yet";
}

TEST_F(SwipeTest, AFlingGoesOnToWhereItWasGoing) {
    EXPECT_EQ(drag(30, 40), Outcome::Opens) << "750 px/s";
    settle();
    EXPECT_EQ(drag(-30, 40), Outcome::Back) << "closed by a fling back";
}

TEST_F(SwipeTest, WhereNothingIsItFollowsAgainstAResistance) {
    SwipeSides sides;
    sides.atEnd = 1;
    sides.item = Length::px(300);
    swipe.begin(sides);
    swipe.press(now, Length{});
    swipe.drag(now += 8000, Length::px(80));
    EXPECT_EQ(swipe.offset(), Length::px(20));
    EXPECT_EQ(swipe.letGo(now += 100'000), Outcome::Back);
}

RC_GTEST_PROP(SwipeMotion, ComesToRestClosedOrAtItsActionsAndTheSameEachTime, ()) {
    SwipeSides sides;
    sides.atStart = *rc::gen::inRange(0, 4);
    sides.atEnd = *rc::gen::inRange(0, 4);
    sides.item = Length::px(*rc::gen::inRange(200, 900));
    const auto moves = *rc::gen::container<std::vector<int>>(rc::gen::inRange(-700, 700));
    const auto run = [&] {
        SwipeMotion swipe;
        swipe.begin(sides);
        std::int64_t now = 0;
        std::vector<Length> offsets;
        for (std::size_t i = 0; i < moves.size(); ++i) {
            const bool isPress = i % 5 == 0;
            const bool isLetGo = i % 5 == 4;
            now += 5000;
            swipe.advance(now);
            isPress   ? swipe.press(now, Length::px(moves[i]))
            : isLetGo ? void(swipe.letGo(now))
                      : swipe.drag(now, Length::px(moves[i]));
            offsets.push_back(swipe.offset());
        }
        (void)swipe.letGo(now);
        for (int i = 0; i < 100; ++i) {
            swipe.advance(now += 8000);
            offsets.push_back(swipe.offset());
        }
        RC_ASSERT(!swipe.isSpringing());
        const Length rest = swipe.offset();
        const bool isOpenAtStart = sides.atStart > 0 && rest == sides.action * sides.atStart;
        const bool isOpenAtEnd = sides.atEnd > 0 && rest == -(sides.action * sides.atEnd);
        RC_ASSERT((rest == Length{} || isOpenAtStart || isOpenAtEnd));
        return offsets;
    };
    RC_ASSERT(run() == run());
}

TEST(EdgeSpeed, GrowsWithDepthAndIsNothingInTheMiddle) {
    const Length window = Length::px(600);
    EXPECT_EQ(edgeSpeed(Length::px(300), window), 0);
    EXPECT_EQ(edgeSpeed(Length::px(96), window), 0);
    EXPECT_LT(edgeSpeed(Length::px(10), window), edgeSpeed(Length::px(60), window)) << "back, and faster";
    EXPECT_LT(edgeSpeed(Length::px(60), window), 0);
    EXPECT_GT(edgeSpeed(Length::px(590), window), edgeSpeed(Length::px(540), window));
    EXPECT_EQ(edgeSpeed(Length::px(700), window), edgeSpeed(Length::px(600), window))
        << "no more than at the edge";
    EXPECT_EQ(edgeSpeed(Length::px(10), Length{}), 0);
}

} // namespace
} // namespace scorrere
