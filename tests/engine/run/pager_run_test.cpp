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

ArrangementSpec endlessOf(int gapPx, int peekPx, bool several = false) {
    ArrangementSpec spec = pagerOf(gapPx, peekPx, several);
    std::get<PagerSpec>(spec.form).endless = true;
    return spec;
}

/// What shows, from the window's start; empty where there is a gap, or where one does not follow the other.
std::vector<std::int64_t> roundFrom(Bench& bench, Length gap) {
    std::vector<Placement> showing;
    std::ranges::copy_if(bench.run.placements(), std::back_inserter(showing), &Placement::showing);
    std::ranges::sort(showing, {}, [](const Placement& p) { return p.box.start; });
    std::vector<std::int64_t> all;
    for (std::size_t i = 0; i < showing.size(); ++i) {
        const Box& box = showing[i].box;
        const bool follows = i == 0 || (showing[i].position ==
                                            (showing[i - 1].position + 1) % bench.run.arrangement().size() &&
                                        box.start == showing[i - 1].box.end() + gap);
        if (!follows) {
            return {};
        }
        all.push_back(showing[i].position);
    }
    const bool isCovered = !showing.empty() && showing.front().box.start <= gap &&
                           showing.back().box.end() + gap >= bench.run.window();
    return isCovered ? all : std::vector<std::int64_t>();
}

TEST(PagerRun, AnEndlessOneGoesOnFromTheLastToTheFirstAndBack) {
    for (const std::int64_t count : {std::int64_t{3}, std::int64_t{20}}) {
        Bench bench(count, endlessOf(10, 30), 0.5);
        bench.settle();
        EXPECT_EQ(restsOn(bench), 0);
        EXPECT_EQ(roundFrom(bench, Length::px(10)), (std::vector<std::int64_t>{count - 1, 0, 1}));
        bench.run.key(KeyStep::PageBack);
        bench.settle();
        EXPECT_EQ(restsOn(bench), count - 1);
        touch(bench, 900, 100);
        EXPECT_EQ(restsOn(bench), 0);
        touch(bench, -900, -100);
        EXPECT_EQ(restsOn(bench), count - 1);
        bench.run.goTo(0, bench.now);
        bench.settle();
        EXPECT_EQ(restsOn(bench), 0);
        bench.run.key(KeyStep::ToEnd);
        bench.settle();
        EXPECT_EQ(restsOn(bench), count - 1);
        bench.run.jumpTo(1);
        bench.settle();
        EXPECT_EQ(restsOn(bench), 1);
    }
}

TEST(PagerRun, TooFewToGoRoundHaveEnds) {
    Bench bench(2, endlessOf(10, 30), 0.5);
    bench.settle();
    touch(bench, -900, -100);
    EXPECT_EQ(restsOn(bench), 0);
    touch(bench, 900, 100);
    touch(bench, 900, 100);
    EXPECT_EQ(restsOn(bench), 1);
    bench.host.order.insert(0, 900, 1); // one comes: now there are enough
    bench.run.insertRecords(0, 1);
    bench.settle();
    EXPECT_EQ(restsOn(bench), 2);
    touch(bench, 900, 100);
    EXPECT_EQ(restsOn(bench), 0);
    bench.host.order.erase(1, 1);
    bench.run.eraseRecords(1, 1);
    bench.settle();
    touch(bench, -900, -100);
    EXPECT_EQ(restsOn(bench), 0);
}

RC_GTEST_PROP(PagerRunProperty, AnEndlessOneShowsEachAfterTheOneBeforeItWhereverOneGoes, ()) {
    const int gap = *rc::gen::element(0, 10);
    const auto count = *rc::gen::element<std::int64_t>(3, 4, 7, 1000);
    Bench bench(count, endlessOf(gap, *rc::gen::element(0, 30), *rc::gen::arbitrary<bool>()),
                *rc::gen::element(0.0, 0.5, 2.0));
    const int steps = *rc::gen::inRange(1, 30);
    for (int i = 0; i < steps; ++i) {
        const std::int64_t size = bench.run.arrangement().size();
        switch (*rc::gen::inRange(0, 8)) {
        case 0:
            bench.run.motion().fling(*rc::gen::inRange(-20'000, 20'000), bench.now);
            break;
        case 1:
            bench.run.jumpTo(*rc::gen::inRange<std::int64_t>(0, size));
            break;
        case 2:
            bench.run.key(static_cast<KeyStep>(*rc::gen::inRange(0, 6)));
            break;
        case 3: {
            const auto at = *rc::gen::inRange<std::int64_t>(0, size + 1);
            bench.host.order.insert(at, 5000 + i, 2);
            bench.run.insertRecords(at, 2);
            break;
        }
        case 4:
            if (size > 3) {
                const auto at = *rc::gen::inRange<std::int64_t>(0, size);
                bench.host.order.erase(at, 1);
                bench.run.eraseRecords(at, 1);
            }
            break;
        case 5:
            bench.run.travelTo(Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, bench.run.total().raw())));
            break;
        case 6:
            bench.run.resize(Length::px(*rc::gen::element(500, 700)), Length::px(360));
            break;
        default:
            bench.run.wheel(Length::px(*rc::gen::inRange(-3000, 3000)));
        }
        for (int f = *rc::gen::inRange(1, 6); f > 0; --f) {
            RC_ASSERT(bench.frame().jump == Length{});
            for (const Placement& p : bench.run.placements()) {
                RC_LOG() << p.position << " at " << p.box.start.toPx() << (p.showing ? " shows; " : "; ");
            }
            RC_LOG() << "of " << bench.run.arrangement().size() << " in " << bench.run.window().toPx()
                     << "\n";
            RC_ASSERT(!roundFrom(bench, Length::px(gap)).empty());
        }
    }
    bench.settle();
    RC_ASSERT(restsOn(bench) >= 0);
    RC_ASSERT(!roundFrom(bench, Length::px(gap)).empty());
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
