// SPDX-License-Identifier: GPL-3.0-or-later
// A pager as a run scrolls it: where it comes to rest, and that it does.
#include "testing/engine/run_bench.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::Bench;

ArrangementSpec pagerOf(int gapPx, int peekPx, bool several = false) {
    ArrangementSpec spec;
    spec.spacing.gap = Length::px(gapPx);
    spec.form = PagerSpec{Length::px(peekPx), several, {}};
    return spec;
}

/// The position that fills the window at rest; -1: it does not rest on one.
std::int64_t restsOn(Bench& bench) {
    scorrere::Run& run = bench.run;
    for (const Placement& p : run.placements()) {
        if (run.arrangement().restOf(p.position) == run.offset()) {
            return p.position;
        }
    }
    return -1;
}

void touch(Bench& bench, double velocity, int dragPx) {
    ScrollMotion& motion = bench.run.motion();
    motion.press(bench.now, Length::px(500));
    bench.frame();
    motion.drag(bench.now, Length::px(500 - dragPx));
    bench.frame();
    motion.letGo(bench.now + 200'000); // it stood still before
    bench.now += 200'000;
    if (velocity != 0) {
        motion.fling(velocity, bench.now);
    }
    bench.frame();
    bench.settle();
}

TEST(PagerRun, ALittleDragFallsBackAndMoreThanHalfGoesOn) {
    Bench bench(20, pagerOf(0, 0), 0.5);
    bench.settle();
    touch(bench, 0, 200); // of 700 px
    EXPECT_EQ(restsOn(bench), 0);
    touch(bench, 0, 400);
    EXPECT_EQ(restsOn(bench), 1);
    touch(bench, 0, -300);
    EXPECT_EQ(restsOn(bench), 1);
    touch(bench, 0, -360);
    EXPECT_EQ(restsOn(bench), 0);
}

TEST(PagerRun, AFlingGoesToTheNextAndSeveralOnlyWhenAsked) {
    Bench one(20, pagerOf(10, 0), 0.5);
    one.settle();
    touch(one, 300, 20);
    EXPECT_EQ(restsOn(one), 1) << "slow is enough";
    touch(one, 12'000, 20);
    EXPECT_EQ(restsOn(one), 2) << "and fast is no more";
    touch(one, -12'000, -20);
    EXPECT_EQ(restsOn(one), 1);
    Bench several(20, pagerOf(10, 0, true), 0.5);
    several.settle();
    touch(several, 12'000, 20);
    EXPECT_GT(restsOn(several), 3);
    touch(several, 200'000, 20);
    EXPECT_EQ(restsOn(several), 19);
}

TEST(PagerRun, AWheelsNotchAndKeysGoOneOnAndBack) {
    Bench bench(20, pagerOf(10, 30), 0.5);
    bench.settle();
    bench.now += 5'000'000; // nothing happened for a while
    bench.run.wheel(Length::px(120));
    bench.settle();
    EXPECT_EQ(restsOn(bench), 1);
    bench.run.key(KeyStep::PageOn);
    bench.frame();
    bench.run.key(KeyStep::LineOn); // while it still glides
    bench.settle();
    EXPECT_EQ(restsOn(bench), 3);
    bench.run.key(KeyStep::LineBack);
    bench.settle();
    EXPECT_EQ(restsOn(bench), 2);
    bench.run.key(KeyStep::ToEnd);
    bench.settle();
    EXPECT_EQ(restsOn(bench), 19);
    bench.run.key(KeyStep::PageOn);
    bench.settle();
    EXPECT_EQ(restsOn(bench), 19);
    bench.run.goTo(17, bench.now);
    bench.frame();
    EXPECT_NE(restsOn(bench), 17) << "what is near it glides to";
    bench.settle();
    EXPECT_EQ(restsOn(bench), 17);
    bench.run.goTo(3, bench.now);
    bench.frame();
    EXPECT_EQ(restsOn(bench), 3);
}

TEST(PagerRun, WhatPeeksIsAsWideAsAskedOnBothSides) {
    Bench bench(20, pagerOf(10, 30), 0);
    bench.settle();
    bench.run.jumpTo(5);
    bench.frame();
    const auto& placed = bench.run.placements();
    ASSERT_EQ(placed.size(), 3U);
    EXPECT_EQ(placed[0].box.end(), Length::px(30));
    EXPECT_EQ(placed[1].box.start, Length::px(40));
    EXPECT_EQ(placed[1].box.extent, Length::px(700 - 80));
    EXPECT_EQ(placed[2].box.start, Length::px(700 - 30));
}

TEST(PagerRun, TurnedItShowsTheSameItemAtRest) {
    Bench bench(1'000'000, pagerOf(10, 0), 0.5);
    bench.settle();
    bench.run.jumpTo(777'777);
    bench.frame();
    bench.run.wheel(Length::px(40));
    bench.frame(); // on its way
    bench.run.resize(Length::px(360), Length::px(700));
    bench.frame();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_EQ(restsOn(bench), 777'777);
    EXPECT_EQ(bench.run.placements()[0].box.extent, Length::px(360));
}

RC_GTEST_PROP(PagerRun, WhateverWasDoneItComesToRestOnAnItem, ()) {
    const auto records = *rc::gen::element<std::int64_t>(1, 2, 20, 100'000);
    Bench bench(records,
                pagerOf(*rc::gen::inRange(0, 20), *rc::gen::element(0, 24), *rc::gen::arbitrary<bool>()),
                0.5);
    for (int i = *rc::gen::inRange(1, 12); i > 0; --i) {
        testing::disturb(bench);
        bench.frame();
        RC_ASSERT(bench.faults() == std::string());
    }
    bench.frame();
    bench.settle();
    RC_ASSERT(bench.run.isIdle());
    RC_ASSERT(bench.run.arrangement().size() == 0 || restsOn(bench) >= 0);
}

} // namespace
} // namespace scorrere
