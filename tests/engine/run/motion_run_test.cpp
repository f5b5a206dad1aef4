// SPDX-License-Identifier: GPL-3.0-or-later
// Changes shown as movement: where items are drawn on the way to where they stand. What must hold whatever happens is in the
// properties of run_test.cpp and its like, which animate as they disturb.
#include "testing/engine/run_bench.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using testing::Bench;
using testing::kFrameUs;

const AnimationSpec kSlow{200, 100, 400, 200, "linear", 60};

Bench& stood(Bench& bench, const AnimationSpec& animation = kSlow) {
    bench.run.setAnimation(animation);
    bench.settle();
    return bench;
}

void insertAt(Bench& bench, std::int64_t place, std::int64_t count = 1) {
    bench.host.order.insert(place, 5'000'000, count);
    bench.run.insertRecords(place, count);
    bench.run.animate(MotionKind::Insert);
}
void eraseAt(Bench& bench, std::int64_t place, std::int64_t count = 1) {
    bench.host.order.erase(place, count);
    bench.run.eraseRecords(place, count);
    bench.run.animate(MotionKind::Remove);
}

const Placement& placedAt(const Bench& bench, std::int64_t position) {
    return *std::ranges::find(bench.run.placements(), position, &Placement::position);
}

/// Frames until so many ms after the one that came last.
void pass(Bench& bench, std::int64_t ms) {
    for (const std::int64_t until = bench.now + ms * 1000; bench.now + kFrameUs <= until;) {
        bench.frame();
        ASSERT_EQ(bench.faults(), "");
    }
}

TEST(Motion, WhatComesGrowsWhereItComesAndWhatIsBehindMovesAsOne) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    const Length second = placedAt(bench, 1).box.start;
    insertAt(bench, 1);
    bench.frame();
    const Placement& came = placedAt(bench, 1);
    ASSERT_TRUE(came.drawn);
    EXPECT_EQ(came.drawn->box.start, second);
    EXPECT_EQ(came.drawn->box.extent, Length{});
    EXPECT_EQ(came.drawn->presence, 0);
    EXPECT_EQ(placedAt(bench, 2).drawnBox().start, second);
    pass(bench, 100);
    const Placement& half = placedAt(bench, 1);
    EXPECT_NEAR(half.drawn->box.extent.toPx(), half.box.extent.toPx() / 2, half.box.extent.toPx() / 12);
    EXPECT_NEAR(half.drawn->presence, 0.5, 0.1);
    for (const Placement& p : bench.run.placements()) {
        if (p.position >= 2) {
            EXPECT_EQ(p.box.start - p.drawnBox().start,
                      placedAt(bench, 2).box.start - placedAt(bench, 2).drawnBox().start);
        }
    }
    EXPECT_FALSE(bench.run.isIdle());
    bench.settle();
    EXPECT_FALSE(placedAt(bench, 1).drawn);
    EXPECT_TRUE(bench.run.isIdle());
}

TEST(Motion, WhatGoesIsLiveUntilItIsGone) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    const Placement went = placedAt(bench, 1);
    eraseAt(bench, 1);
    bench.frame();
    ASSERT_EQ(bench.run.leaving().size(), 1u);
    EXPECT_EQ(bench.run.leaving()[0].view, went.view);
    EXPECT_EQ(bench.run.leaving()[0].drawn.box, went.box);
    EXPECT_EQ(bench.run.leaving()[0].drawn.presence, 1);
    pass(bench, 50);
    EXPECT_NEAR(bench.run.leaving()[0].drawn.presence, 0.5, 0.1);
    EXPECT_EQ(bench.run.leaving()[0].drawn.box.end(), placedAt(bench, 1).drawnBox().start) << "it gives way";
    for (const Placement& p : bench.run.placements()) {
        EXPECT_NE(p.view, went.view);
    }
    bench.settle();
    EXPECT_TRUE(bench.run.leaving().empty());
    const auto& waiting = bench.run.recycler().waiting();
    EXPECT_NE(std::ranges::find(waiting, went.view), waiting.end());
}

TEST(Motion, ItTakesTheTimeOfItsKindOnTheRunsClock) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    insertAt(bench, 1);
    bench.frame();
    const std::int64_t began = bench.now;
    while (bench.run.isAnimating()) {
        bench.frame();
    }
    EXPECT_EQ((bench.now - began + kFrameUs - 1) / kFrameUs, (200'000 + kFrameUs - 1) / kFrameUs);
}

TEST(Motion, WhatIsChangedMeanwhileGoesOnFromWhereItIsDrawn) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    insertAt(bench, 1);
    bench.frame();
    pass(bench, 100);
    const Length drawn = placedAt(bench, 2).drawnBox().start;
    eraseAt(bench, 1);
    bench.frame();
    EXPECT_EQ(placedAt(bench, 1).drawnBox().start, drawn);
    ASSERT_EQ(bench.run.leaving().size(), 1u);
    EXPECT_LT(bench.run.leaving()[0].drawn.presence, 0.7) << "it never was all there";
    bench.settle();
    EXPECT_TRUE(bench.run.leaving().empty());
}

TEST(Motion, WhatComesFromFarAwayComesFromTheEdgeAndWhatGoesThereStopsAtIt) {
    Bench bench(5000, {}, 0.5);
    stood(bench);
    bench.run.jumpTo(2000);
    bench.settle();
    const std::int64_t first = bench.run.placements().front().position;
    bench.run.adopt(makeArrangement(bench.of, bench.ends, 5000, testing::kEstimates),
                    {.placeNow = [](std::int64_t place) { return 4999 - place; },
                     .nearest = [](std::int64_t place) { return place; },
                     .placeBefore = [](std::int64_t place) { return 4999 - place; }},
                    [&] {
                        RecordOrder turned;
                        for (std::int64_t place = 0; place < 5000; ++place) {
                            turned.insert(place, bench.host.order.at(4999 - place), 1);
                        }
                        bench.host.order = turned;
                    });
    bench.run.animate(MotionKind::Move);
    bench.moved = true;
    EXPECT_GE(first, 0);
    const Length window = bench.run.window();
    for (int i = 0; i < 60; ++i) {
        bench.frame();
        ASSERT_EQ(bench.faults(), "");
        for (const Placement& p : bench.run.placements()) {
            if (p.drawn) {
                EXPECT_LT(p.drawn->box.start, window * 3);
                EXPECT_GT(p.drawn->box.end(), -(window * 3));
            }
        }
    }
    EXPECT_TRUE(bench.run.isIdle());
}

TEST(Motion, OneThatMovedInShowsFromWhichSideItCame) {
    Bench bench(5000, {}, 0.5);
    stood(bench);
    bench.run.jumpTo(2000);
    bench.settle();
    const std::int64_t held = bench.run.arrangement().slotAt(bench.run.hold().position).place;
    const auto moveTo = [&](std::int64_t from) { // to the place behind what is held
        const std::int64_t to = held + 1;
        const auto before = [=](std::int64_t now) {
            return now == to   ? from
                   : from > to ? now - (now > to && now <= from ? 1 : 0)
                               : now + (now < to && now >= from ? 1 : 0);
        };
        const auto now = [=](std::int64_t was) {
            return was == from ? to
                   : from > to ? was + (was >= to && was < from ? 1 : 0)
                               : was - (was <= to && was > from ? 1 : 0);
        };
        bench.run.adopt(
            makeArrangement(bench.of, bench.ends, 5000, testing::kEstimates),
            {.placeNow = now, .nearest = [](std::int64_t place) { return place; }, .placeBefore = before},
            [&] {
                const std::int64_t record = bench.host.order.at(from);
                bench.host.order.erase(from, 1);
                bench.host.order.insert(to, record, 1);
            });
        bench.run.animate(MotionKind::Move);
        bench.moved = true;
        bench.frame();
        const Box box = placedAt(bench, bench.run.arrangement().positionOf(to)).drawnBox();
        bench.settle();
        return box;
    };
    EXPECT_EQ(moveTo(4500).start, bench.run.window());
    EXPECT_EQ(moveTo(10).end(), Length{});
}

TEST(Motion, NobodyTakesTheViewOfWhatIsPushedOutWhileItShows) {
    Bench bench(200, {}, 0);
    stood(bench);
    std::vector<std::pair<ViewId, std::uint32_t>> showed; // and what each carried
    for (const Placement& p : bench.run.placements()) {
        showed.emplace_back(p.view, bench.run.recycler().view(p.view).turn);
    }
    insertAt(bench, 1, 400);
    bench.frame();
    for (const auto& [view, turn] : showed) {
        EXPECT_EQ(bench.run.recycler().view(view).turn, turn);
        const auto now = std::ranges::find(bench.run.placements(), view, &Placement::view);
        ASSERT_NE(now, bench.run.placements().end());
        EXPECT_LT(now->drawnBox().start, bench.run.window());
    }
    bench.settle();
    EXPECT_EQ(bench.faults(), "");
}

TEST(Motion, WhatIsScrolledAwayFromAsItBeginsLeavesNoViewBehind) {
    Bench bench(2000, {}, 0.5);
    stood(bench);
    bench.run.jumpTo(1000);
    bench.settle();
    eraseAt(bench, bench.run.arrangement().slotAt(bench.run.hold().position).place + 1);
    bench.run.wheel(Length::px(5000));
    bench.frame();
    EXPECT_EQ(bench.run.recycler().leaving(), 0u);
    EXPECT_EQ(bench.faults(), "");
}

TEST(Motion, ARunThatTakesAnothersPlaceBeginsFromWhereThatDrew) {
    ArrangementSpec grid{{}, GridSpec()};
    Bench bench(200, grid, 0.5, {true, false});
    bench.run.setAnimation(kSlow);
    const auto drawn = [](std::int64_t place) {
        return place < 4 ? std::optional(Box{Length::px(100) * static_cast<std::int64_t>(place),
                                             Length::px(90), Length{}, Length::px(300)})
                         : std::nullopt;
    };
    bench.run.beginFrom(drawn);
    bench.frame();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_TRUE(bench.run.mayPass());
    for (const Placement& p : bench.run.placements()) {
        if (p.position == 0) {
            EXPECT_EQ(p.drawn->presence, 1) << "the header is of both";
            EXPECT_EQ(p.drawn->box, p.box);
        } else if (p.position < 5) {
            ASSERT_TRUE(p.drawn);
            EXPECT_EQ(p.drawn->box, *drawn(p.position - 1));
            EXPECT_EQ(p.drawn->presence, 1);
        } else if (p.drawn) {
            EXPECT_EQ(p.drawn->box.crossStart, p.box.crossStart) << "it appears where it stands";
            EXPECT_EQ(p.drawn->presence, 0);
        }
    }
    pass(bench, 200); // the half of what a move takes
    const Placement& second = placedAt(bench, 1);
    EXPECT_NEAR(second.drawn->box.crossExtent.toPx(), (300 + second.box.crossExtent.toPx()) / 2, 12);
    bench.settle();
    EXPECT_FALSE(placedAt(bench, 1).drawn);
    EXPECT_EQ(bench.faults(), "");
    Bench still(200, grid, 0.5);
    still.run.beginFrom(drawn);
    still.frame();
    EXPECT_FALSE(placedAt(still, 1).drawn) << "at once, where nothing moves";
}

TEST(Motion, AnotherExtentIsGrownInto) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    const Placement was = placedAt(bench, 1);
    const Length next = placedAt(bench, 2).box.start;
    bench.host.order.erase(1, 1);
    bench.host.order.insert(1, 7'000'123, 1);
    bench.run.recordChanged(1);
    bench.run.animate(MotionKind::Extent);
    bench.frame();
    ASSERT_NE(placedAt(bench, 1).box.extent, was.box.extent) << "the test needs another record's extent";
    EXPECT_EQ(placedAt(bench, 1).drawnBox(), was.box);
    EXPECT_EQ(placedAt(bench, 2).drawnBox().start, next);
    bench.settle();
    EXPECT_EQ(placedAt(bench, 2).drawnBox().start, placedAt(bench, 2).box.start);
}

TEST(Motion, WhereMoreWouldMoveThanMayAllStandAtOnceAndWhatLeavesIsCutFirst) {
    Bench bench(200, {}, 0.5);
    const auto showing = [&] {
        return static_cast<int>(std::ranges::count_if(bench.run.placements(), &Placement::showing));
    };
    AnimationSpec few = kSlow;
    bench.settle();
    few.most = showing() + 1;
    stood(bench, few);
    insertAt(bench, 1);
    eraseAt(bench, 2, 3);
    bench.frame();
    EXPECT_TRUE(bench.run.leaving().empty());
    bench.settle();
    few.most = 2;
    stood(bench, few);
    insertAt(bench, 1);
    bench.frame();
    EXPECT_FALSE(bench.run.isAnimating());
    EXPECT_EQ(bench.faults(), "");
}

TEST(Motion, WithoutTimesNothingMovesAndAskedForAnotherPlaceNeither) {
    Bench bench(200, {}, 0.5);
    bench.settle();
    insertAt(bench, 1);
    bench.frame();
    EXPECT_FALSE(bench.run.isAnimating());
    stood(bench);
    insertAt(bench, 1);
    bench.run.jumpTo(150);
    bench.frame();
    EXPECT_FALSE(bench.run.isAnimating());
    eraseAt(bench, 148, 4);
    bench.frame();
    EXPECT_TRUE(bench.run.isAnimating());
    bench.run.jumpTo(10);
    EXPECT_FALSE(bench.run.isAnimating());
    bench.frame();
    EXPECT_EQ(bench.faults(), "");
}

TEST(Motion, ScrollingTakesAlongWhatMoves) {
    Bench bench(200, {}, 0.5);
    stood(bench);
    bench.run.jumpTo(100);
    bench.settle();
    const std::int64_t place = bench.run.arrangement().slotAt(bench.run.hold().position).place;
    insertAt(bench, place + 1);
    bench.frame();
    pass(bench, 90);
    const Length before = placedAt(bench, bench.run.arrangement().positionOf(place)).drawnBox().start;
    bench.run.wheel(Length::px(40));
    bench.frame();
    EXPECT_EQ(placedAt(bench, bench.run.arrangement().positionOf(place)).drawnBox().start,
              before - Length::px(40));
    pass(bench, 90);
    bench.settle();
    EXPECT_EQ(bench.faults(), "");
}

TEST(Curve, IsWhatItsNameSays) {
    EXPECT_NEAR(curveNamed("linear")->at(0.3), 0.3, 1e-9);
    // From the standard's own definition, solved by hand for x = 0.5.
    EXPECT_NEAR(curveNamed("ease-in-out")->at(0.5), 0.5, 1e-9);
    EXPECT_NEAR(curveNamed("ease")->at(0.5), 0.8024, 1e-3);
    EXPECT_GT(curveNamed("ease-out")->at(0.25), 0.25);
    EXPECT_LT(curveNamed("ease-in")->at(0.25), 0.25);
    EXPECT_EQ(*curveNamed("cubic-bezier(0.42, 0, 0.58,1)"), *curveNamed("ease-in-out"));
    EXPECT_EQ(curveNamed("ease")->at(-1), 0);
    EXPECT_EQ(curveNamed("ease")->at(2), 1);
    for (const char* wrong :
         {"", "springy", "cubic-bezier(0, 0, 1)", "cubic-bezier(-0.1, 0, 1, 1)",
          "cubic-bezier(0, 0, 1, 1, 1)", "cubic-bezier(0, 0, 2, 1)", "cubic-bezier(a, 0, 1, 1)"}) {
        EXPECT_FALSE(curveNamed(wrong)) << wrong;
    }
}

} // namespace
} // namespace scorrere
