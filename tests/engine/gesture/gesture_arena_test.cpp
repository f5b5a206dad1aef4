// SPDX-License-Identifier: GPL-3.0-or-later
// Who takes a drag, and why: single cases as people meet them, and what holds of any.
#include "engine/gesture/gesture_arena.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <map>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using What = GestureCommand::What;
using Loss = GestureLoss;

GestureTaker down(int id) {
    return {id, false};
}
/// Where the pointer was beside its axis is told, too: another test looks at that.
GestureCommand alongOnly(GestureCommand command) {
    command.point = {};
    return command;
}
GestureTaker sideways(int id) {
    return {id, true};
}

class ArenaTest : public ::testing::Test {
protected:
    void press(std::vector<GestureTaker> under) {
        takers = std::move(under);
        arena.press(now, at(100, 100), takers);
    }
    void move(int x, int y) { arena.move(now += 8000, at(100 + x, 100 + y), takers); }
    static GestureArena::At at(int x, int y) { return {Length::px(x), Length::px(y)}; }
    GestureArena arena;
    std::vector<GestureTaker> takers;
    std::int64_t now = 0;
};

TEST_F(ArenaTest, UpToTheSlopItIsATapAndNobodyMoves) {
    press({down(1)});
    move(5, -8);
    EXPECT_TRUE(arena.takeCommands().empty());
    EXPECT_TRUE(arena.release(now));
    press({down(1)});
    move(0, -9);
    EXPECT_FALSE(arena.release(now));
}

TEST_F(ArenaTest, TheAxisItGoesAlongFirstIsKept) {
    press({down(1), sideways(2)});
    move(-14, 6);
    EXPECT_EQ(arena.story(), (GestureStory{GestureReason::FirstAlong,
                                           2,
                                           -1,
                                           Length::px(-14),
                                           Length::px(6),
                                           true,
                                           false,
                                           true,
                                           {{Loss::What::Tap, Loss::Lack::MovedFar, 14, 8},
                                            {Loss::What::Taker, Loss::Lack::LessThatWay, 6, 14, 1}}}));
    move(-14, 90); // down by much now, and still sideways
    const auto commands = arena.takeCommands();
    ASSERT_EQ(commands.size(), 3U);
    EXPECT_EQ(alongOnly(commands[0]), (GestureCommand{What::Press, 2, 8000, Length::px(92)}))
        << "from the slop on";
    EXPECT_EQ(alongOnly(commands[1]), (GestureCommand{What::Drag, 2, 8000, Length::px(86)}));
    EXPECT_EQ(alongOnly(commands[2]), (GestureCommand{What::Drag, 2, 16'000, Length::px(86)}));
    press({down(1), sideways(2)});
    move(6, -14);
    EXPECT_EQ(arena.story().taker, 1);
}

TEST_F(ArenaTest, WhereNobodyMovesAcrossItNeedNotGoStraight) {
    press({down(1)});
    move(20, 9);
    EXPECT_EQ(arena.story().taker, 1);
    EXPECT_EQ(arena.story().reason, GestureReason::OnlyAxis);
    press({down(1)});
    move(40, 3);
    EXPECT_EQ(arena.story().taker, -1) << "but down by the slop";
    move(0, 0);
    EXPECT_FALSE(arena.release(now)) << "and it is no tap, though it came back";
}

TEST_F(ArenaTest, OfTwoOnOneAxisTheInnerGoesFirstWhileItCan) {
    press({down(1), down(2)});
    move(0, -9);
    EXPECT_EQ(arena.story().taker, 2);
    EXPECT_TRUE(arena.story().areNested);
    GestureTaker atEnd = down(2);
    atEnd.followsBack = false;
    press({down(1), atEnd});
    move(0, -9);
    EXPECT_EQ(arena.story().taker, 1);
    EXPECT_EQ(arena.story().reason, GestureReason::InnerAtEnd);
    EXPECT_EQ(arena.story().before, 2);
    atEnd.chains = false;
    press({down(1), atEnd});
    move(0, -9);
    EXPECT_EQ(arena.story().taker, 2) << "it keeps what it cannot follow";
    EXPECT_EQ(arena.story().reason, GestureReason::NobodyCan);
}

TEST_F(ArenaTest, AtItsEndItHandsOverAndDoesNotGetItBack) {
    press({down(1), down(2)});
    move(0, -20);
    (void)arena.takeCommands();
    takers[1].followsBack = false;
    move(0, -30);
    const auto commands = arena.takeCommands();
    ASSERT_EQ(commands.size(), 3U);
    EXPECT_EQ(alongOnly(commands[0]), (GestureCommand{What::LetGo, 2, now, Length::px(80)}));
    EXPECT_EQ(alongOnly(commands[1]), (GestureCommand{What::Press, 1, now, Length::px(80)}));
    EXPECT_EQ(alongOnly(commands[2]), (GestureCommand{What::Drag, 1, now, Length::px(70)}));
    EXPECT_EQ(arena.story().reason, GestureReason::HandedOver);
    takers[1].followsBack = true;
    move(0, 40);
    EXPECT_EQ(arena.story().taker, 1);
}

TEST_F(ArenaTest, WhoeverPressesWhatFliesCatchesIt) {
    GestureTaker flying = down(1);
    flying.isFlying = true;
    press({flying, sideways(2)});
    const auto caught = arena.takeCommands();
    ASSERT_EQ(caught.size(), 1U);
    EXPECT_EQ(alongOnly(caught[0]), (GestureCommand{What::Press, 1, 0, Length::px(100)}));
    move(-30, 0);
    EXPECT_EQ(arena.story().taker, 1);
    EXPECT_FALSE(arena.release(now)) << "a catch is no tap";
}

RC_GTEST_PROP(GestureArena, GivesEachDragToOneAndKeepsItsAxis, ()) {
    GestureArena arena;
    std::int64_t now = 0;
    std::map<int, bool> pressed;
    for (int gesture = *rc::gen::inRange(1, 6); gesture > 0; --gesture) {
        std::vector<GestureTaker> takers;
        for (int id = *rc::gen::inRange(0, 5); id > 0; --id) {
            takers.push_back({static_cast<int>(takers.size()), *rc::gen::arbitrary<bool>(),
                              *rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>(),
                              *rc::gen::inRange(0, 6) == 0, *rc::gen::arbitrary<bool>()});
        }
        const auto any = [] { return Length::px(*rc::gen::inRange(-40, 40)); };
        GestureArena::At at{any(), any()};
        arena.press(now, at, takers);
        const GestureArena::At from = at;
        Length furthest;
        std::optional<bool> axis;
        int holder = -1;
        const auto follow = [&] {
            for (const GestureCommand& command : arena.takeCommands()) {
                const auto taker = std::ranges::find(takers, command.taker, &GestureTaker::id);
                RC_ASSERT(taker != takers.end());
                RC_ASSERT(axis.value_or(taker->isSideways) == taker->isSideways);
                axis = taker->isSideways;
                switch (command.what) {
                case What::Press:
                    RC_ASSERT(std::ranges::none_of(pressed, [](const auto& one) { return one.second; }));
                    RC_ASSERT((holder < 0 || command.taker < holder)); // outwards only
                    holder = command.taker;
                    pressed[command.taker] = true;
                    break;
                case What::Drag:
                    RC_ASSERT(pressed[command.taker]);
                    break;
                case What::LetGo:
                    RC_ASSERT(pressed[command.taker]);
                    pressed[command.taker] = false;
                }
            }
        };
        follow();
        const bool wasCaught = holder >= 0;
        for (int moves = *rc::gen::inRange(0, 12); moves > 0; --moves) {
            at = {at.x + any(), at.y + any()};
            furthest = std::max({furthest, at.x - from.x, from.x - at.x, at.y - from.y, from.y - at.y});
            for (GestureTaker& taker : takers) {
                taker.followsOn = *rc::gen::arbitrary<bool>();
            }
            arena.move(now += 8000, at, takers);
            follow();
            RC_ASSERT((wasCaught || holder < 0 || furthest > GestureTimes().slop));
            RC_ASSERT(arena.story().taker == holder);
        }
        const bool isTap = arena.release(now);
        follow();
        RC_ASSERT((!isTap || holder < 0));
        RC_ASSERT(std::ranges::none_of(pressed, [](const auto& one) { return one.second; }));
    }
}

using Found = GestureFound::What;

TEST_F(ArenaTest, HeldStillForLongItIsALongPressAndNoTap) {
    arena.press(now, at(100, 100), std::vector<GestureTaker>{down(1)}, {true, false});
    EXPECT_EQ(arena.dueUs(), now + 500'000);
    arena.tick(now + 499'000);
    EXPECT_TRUE(arena.takeFound().empty());
    arena.tick(now += 500'000);
    const auto found = arena.takeFound();
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].what, Found::Held);
    EXPECT_EQ(found[0].heldMs, 500);
    EXPECT_EQ(found[0].losses, (std::vector<Loss>{{Loss::What::Drag, Loss::Lack::MovedLittle, 0, 8},
                                                  {Loss::What::Tap, Loss::Lack::HeldLong, 500, 500}}));
    EXPECT_EQ(arena.dueUs(), -1);
    takers = {down(1)};
    move(0, 20);
    EXPECT_EQ(arena.story().losses, (std::vector<Loss>{{Loss::What::Tap, Loss::Lack::MovedFar, 20, 8}}))
        << "it was a long press";
    EXPECT_FALSE(arena.release(now += 1000));
    EXPECT_TRUE(arena.takeFound().empty());
    // A drag is none, nor is one that nobody waits for.
    press({down(1)});
    arena.tick(now += 900'000);
    EXPECT_TRUE(arena.release(now)) << "nobody waits for it: a tap, however long";
    ASSERT_EQ(arena.takeFound().size(), 1U);
    arena.press(now, at(100, 100), std::vector<GestureTaker>{down(1)}, {true, false});
    takers = {down(1)};
    move(0, 20);
    arena.tick(now += 900'000);
    EXPECT_TRUE(arena.takeFound().empty());
}

TEST_F(ArenaTest, ASecondTapSoonAndNearMakesADoubleTap) {
    const std::vector<GestureTaker> under{down(1)};
    arena.press(now, at(100, 100), under, {false, true});
    EXPECT_FALSE(arena.release(now += 60'000)) << "it is not sure yet";
    EXPECT_TRUE(arena.takeFound().empty());
    arena.press(now += 200'000, at(104, 98), under, {false, true});
    EXPECT_FALSE(arena.release(now += 50'000));
    auto found = arena.takeFound();
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].what, Found::DoubleTap);
    EXPECT_EQ(found[0].waitedMs, 250);
    EXPECT_EQ(found[0].losses, (std::vector<Loss>{{Loss::What::Drag, Loss::Lack::MovedLittle, 0, 8},
                                                  {Loss::What::Tap, Loss::Lack::SecondCame, 250, 300}}));
    // Too late, or elsewhere: two taps.
    arena.press(now += 1'000'000, at(100, 100), under, {false, true});
    (void)arena.release(now += 60'000);
    EXPECT_EQ(arena.dueUs(), now + 300'000);
    arena.tick(now += 300'000);
    found = arena.takeFound();
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].what, Found::Tap);
    EXPECT_EQ(found[0].waitedMs, 300);
    EXPECT_EQ(found[0].losses.back(), (Loss{Loss::What::DoubleTap, Loss::Lack::NoSecond, 0, 300}));
    arena.press(now, at(100, 100), under, {false, true});
    (void)arena.release(now += 60'000);
    arena.press(now += 60'000, at(300, 100), under, {false, true});
    found = arena.takeFound();
    ASSERT_EQ(found.size(), 1U) << "sure as soon as another begins elsewhere";
    EXPECT_EQ(found[0].losses.back(), (Loss{Loss::What::DoubleTap, Loss::Lack::SecondFar, 200, 24}));
    (void)arena.release(now += 60'000);
    EXPECT_TRUE(arena.takeFound().empty());
}

TEST_F(ArenaTest, WhoClaimsADragHasItWhereverItGoes) {
    press({down(1), sideways(2)});
    move(0, 20);
    (void)arena.takeCommands();
    arena.claim(now, 9, GestureReason::Held);
    move(60, 25);
    move(-40, 90);
    EXPECT_EQ(arena.story().taker, 9);
    EXPECT_EQ(arena.story().before, 1);
    const auto commands = arena.takeCommands();
    ASSERT_EQ(commands.size(), 4U);
    EXPECT_EQ(commands[0].what, What::LetGo) << "of who had it";
    EXPECT_EQ(commands[0].taker, 1);
    EXPECT_EQ(commands[1].what, What::Press);
    EXPECT_EQ(commands[3].point, at(60, 190));
    EXPECT_FALSE(arena.release(now));
    arena.claim(now, 9, GestureReason::Held);
    EXPECT_TRUE(arena.takeCommands().size() == 1U) << "let go, and nothing is claimed that is not pressed";
}

TEST_F(ArenaTest, WhoDoesNotGetADragIsToldWhatItLacked) {
    GestureTaker inner = down(2);
    inner.followsBack = false;
    takers = {down(1), inner, down(3)};
    takers[2].followsBack = false;
    arena.press(now, at(100, 100), takers, {true, false});
    arena.move(now += 90'000, at(100, 80), takers);
    EXPECT_EQ(arena.story().taker, 1);
    EXPECT_EQ(arena.story().losses, (std::vector<Loss>{{Loss::What::Tap, Loss::Lack::MovedFar, 20, 8},
                                                       {Loss::What::Held, Loss::Lack::MovedEarly, 90, 500},
                                                       {Loss::What::Taker, Loss::Lack::AtItsEnd, 0, 0, 2},
                                                       {Loss::What::Taker, Loss::Lack::AtItsEnd, 0, 0, 3}}));
    arena.claim(now, 9, GestureReason::Held);
    EXPECT_EQ(arena.story().losses, (std::vector<Loss>{{Loss::What::Taker, Loss::Lack::Claimed, 0, 0, 1}}));
    press({down(1), down(2)});
    move(0, 20);
    EXPECT_EQ(arena.story().losses.back(), (Loss{Loss::What::Taker, Loss::Lack::InnerFirst, 0, 0, 1}));
}

TEST_F(ArenaTest, WhatIsTakenAwayIsNoTap) {
    press({down(1)});
    arena.cancel(now += 1000);
    EXPECT_TRUE(arena.takeFound().empty());
    GestureTimes times;
    times.slop = Length::px(20);
    arena.setTimes(times);
    press({down(1)});
    move(0, -18);
    EXPECT_TRUE(arena.release(now)) << "within the slop that was asked for";
}

} // namespace
} // namespace scorrere
