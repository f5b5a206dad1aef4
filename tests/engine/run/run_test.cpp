// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/arrangement_spec.h"
#include "engine/run/run.h"
#include "examples/stairs.h"

#include "testing/engine/any_arrangement.h"
#include "testing/engine/run_bench.h"
#include "testing/engine/sparse_host.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {

namespace {

using testing::FakeHost;

using testing::Bench;
using testing::disturb;
using testing::kEstimates;
using testing::kFrameUs;

std::unique_ptr<Arrangement> listOf(std::int64_t records, const Arrangement::Estimates& estimates,
                                    Ends ends = {}) {
    return std::make_unique<ListArrangement>(Spacing(), ends, records, estimates);
}

RC_GTEST_PROP(Run, EveryFrameKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anyLines());
}

RC_GTEST_PROP(OwnRun, EveryFrameKeepsWhatMustHold, ()) {
    examples::addStairs();
    testing::keepEveryFrame(testing::anyOwn());
}

TEST(Run, WhatIsReadIsNotHeldByWhatStandsBehindAnEstimate) {
    Bench bench(60, {}, 0.5);
    bench.settle();
    ASSERT_EQ(bench.run.placements()[0].box.start, Length{});
    // One comes in below the first, thought to be far longer than it is; then the first leaves the top edge.
    bench.host.order.insert(1, 5'000'000, 1);
    bench.run.insertRecords(1, 1);
    bench.run.setEstimated(1, std::vector<std::int32_t>{40'000});
    bench.run.wheel(Length::px(3));
    for (int i = 0; i < 40 && !bench.run.isIdle(); ++i) {
        EXPECT_EQ(bench.frame().jump, Length{});
    }
    EXPECT_EQ(bench.run.placements()[0].position, 0);
    EXPECT_EQ(bench.run.placements()[0].box.start, Length::px(-3));
}

TEST(Run, ATurnHoldsWhatTheWindowShowedBefore) {
    Bench bench(60, {{Length::px(10), {}}, {}}, 0.5);
    bench.settle();
    // As far as it goes with the first still in the window, and the second where only a longer one reaches.
    bench.run.resize(bench.run.placements()[0].box.extent + Length::px(5), bench.run.cross());
    bench.settle();
    bench.run.wheel(Length::px(3));
    bench.settle();
    ASSERT_EQ(bench.run.placements()[0].box.start, Length::px(-3));
    ASSERT_FALSE(bench.run.placements()[1].showing);
    bench.run.resize(Length::px(700), Length::px(330));
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(bench.run.placements()[0].position, 0);
    EXPECT_EQ(bench.run.placements()[0].box.start, Length::px(-3));
}

RC_GTEST_PROP(Run, WhatIsReadStandsStillWhileThingsChangeAroundIt, ()) {
    Bench bench(5000, testing::anyLines(), 0.5, testing::anyEnds());
    bench.run.jumpTo(*rc::gen::inRange<std::int64_t>(200, 4800));
    bench.settle();
    for (int i = 0; i < 12; ++i) {
        const bool atEnd = bench.run.offset() <= Length::px(1) ||
                           bench.run.offset() + bench.run.window() >= bench.run.total() - Length::px(1);
        // The first item that starts in the window: what the eye rests on.
        const auto& placed = bench.run.placements();
        const auto eye = std::ranges::find_if(
            placed, [](const Placement& p) { return p.showing && p.box.start >= Length{}; });
        if (eye == placed.end()) {
            disturb(bench); // one long item covers the whole window
            bench.settle();
            continue;
        }
        const std::int64_t record = bench.host.recordAt(bench.run.arrangement().slotAt(eye->position));
        const Length start = eye->box.start;
        if (disturb(bench)) {
            bench.settle();
            continue;
        }
        bench.frame();
        if (atEnd || start >= bench.run.window()) {
            bench.settle();
            continue;
        }
        for (const Placement& p : bench.run.placements()) {
            const bool edge = p.position == 0 || p.position == bench.run.arrangement().size() - 1;
            if (edge && p.showing) {
                return; // drawn against an end of the strip
            }
        }
        for (const Placement& p : bench.run.placements()) {
            if (bench.host.recordAt(bench.run.arrangement().slotAt(p.position)) == record && p.showing) {
                RC_ASSERT(p.box.start == start);
            }
        }
        bench.settle();
    }
}

RC_GTEST_PROP(Run, TheSameInputsGiveTheSameTraceBitForBit, ()) {
    const auto seed = *rc::gen::inRange(0, 100'000);
    const auto play = [seed](std::int64_t costNs) {
        Bench bench(20'000, {}, 0.5);
        for (int i = 0; i < 30; ++i) {
            const int what = (seed >> (i % 15)) % 5;
            if (what == 0) {
                bench.run.motion().fling((seed % 97) * 150.0 - 7000, bench.now);
            } else if (what == 1) {
                bench.run.jumpTo((seed * 31 + i * 977) % 20'000);
            } else if (what == 2) {
                bench.run.insertRecords(seed % 500, 2);
                bench.host.order.insert(seed % 500, 9'000'000, 2);
            } else {
                bench.run.wheel(Length::px(seed % 400));
            }
            for (int f = 0; f < 10; ++f) {
                bench.host.watch.now += costNs; // what it costs must not matter
                bench.frame();
            }
        }
        return bench.run.trace().fingerprint();
    };
    RC_ASSERT(play(0) == play(40'000'000));
}

TEST(Run, AViewThatCarriesTheWantedItemIsNeverRefilled) {
    Bench bench(10'000, {}, 0.5);
    bench.host.checkRefills = true;
    bench.run.motion().fling(9000, 0);
    for (int i = 0; i < 600; ++i) {
        bench.frame();
        ASSERT_EQ(bench.faults(), "");
    }
    bench.run.motion().fling(-9000, bench.now);
    for (int i = 0; i < 600; ++i) {
        bench.frame();
        ASSERT_EQ(bench.faults(), "");
    }
}

TEST(Run, AFlingOfTenThousandFramesBuildsOnlyWhatWasEverWantedAtOnce) {
    Bench bench(1'000'000, {}, 0.5);
    std::size_t mostWanted = 0;
    for (int i = 0; i < 10'000; ++i) {
        if (i % 400 == 0) {
            bench.run.motion().fling(100'000, bench.now);
        }
        bench.frame();
        mostWanted = std::max(mostWanted, bench.run.recycler().alive().size());
    }
    EXPECT_GT(bench.host.fills, 5000);
    EXPECT_LE(bench.run.recycler().views().size(), mostWanted + 1);
}

TEST(Run, AFrameFillsNoMoreInAMillionThanInAThousand) {
    const auto worst = [](std::int64_t records) {
        Bench bench(records, {}, 0.5);
        int most = 0;
        for (int i = 0; i < 50; ++i) {
            bench.run.travelTo(Length::fromRaw(bench.run.total().raw() / 50 * i));
            most = std::max(most, bench.frame().filled);
        }
        return most;
    };
    EXPECT_LE(worst(1'000'000), worst(1000) + 4);
    EXPECT_LE(worst(1'000'000), 40);
}

TEST(Run, AWidthChangeMeasuresOnlyWhatShows) {
    Bench bench(100'000, {}, 0);
    for (int i = 0; i < 50; ++i) {
        bench.run.jumpTo(i * 1500);
        bench.frame();
    }
    bench.run.resize(Length::px(700), Length::px(500));
    const FrameRecord& frame = bench.frame();
    EXPECT_LE(frame.filled, 20);
    EXPECT_EQ(bench.run.arrangement().measuredBefore(100'000), frame.filled);
}

TEST(Run, InsertAtTheTopWhileReadingLeavesEverythingWhereItIs) {
    Bench bench(1000, {}, 0.5);
    bench.run.jumpTo(500);
    bench.settle();
    const auto before = bench.run.placements();
    bench.host.order.insert(0, 7000, 12);
    bench.run.insertRecords(0, 12);
    const std::int64_t fills = bench.host.fills;
    bench.frame();
    ASSERT_EQ(bench.run.placements().size(), before.size());
    for (std::size_t i = 0; i < before.size(); ++i) {
        EXPECT_EQ(bench.run.placements()[i].position, before[i].position + 12);
        EXPECT_EQ(bench.run.placements()[i].box.start, before[i].box.start);
        EXPECT_EQ(bench.run.placements()[i].view, before[i].view);
    }
    EXPECT_EQ(bench.host.fills, fills);
}

TEST(Run, TheEndsStopAFlingAndAreNotOverrun) {
    Bench bench(300, {}, 0.5);
    bench.run.motion().fling(190'000, 0);
    for (int i = 0; i < 900; ++i) {
        bench.frame();
    }
    EXPECT_TRUE(bench.run.isIdle());
    EXPECT_EQ(bench.run.offset() + bench.run.window(), bench.run.total());
    bench.run.motion().fling(-190'000, bench.now);
    for (int i = 0; i < 900; ++i) {
        bench.frame();
    }
    EXPECT_EQ(bench.run.offset(), Length{});
}

TEST(Run, FewItemsStandAtTheTop) {
    Bench bench(2, {}, 0.5);
    bench.run.wheel(Length::px(500));
    bench.frame();
    EXPECT_EQ(bench.run.placements().front().box.start, Length{});
    EXPECT_EQ(bench.run.placements().size(), 2u);
}

TEST(Run, APullGivesWayLessAndLessAndIsToldOnceWhenLetGo) {
    Bench bench(100, {}, 0.5);
    bench.run.setPullable(true);
    bench.settle();
    const auto drag = [&bench](std::int64_t by) {
        bench.run.motion().press(bench.now, Length::px(300));
        for (std::int64_t moved = 0; moved < by; moved += 20) {
            bench.run.motion().drag(bench.now, Length::px(300 + moved + 20));
            bench.frame();
        }
    };
    drag(100);
    EXPECT_EQ(bench.run.pull().toPx(), 128.0 * 100 / 228 - std::fmod(128.0 * 100 / 228, 1.0 / 64));
    EXPECT_EQ(bench.run.offset(), Length{}); // the strip itself stays at its start
    bench.run.motion().letGo(bench.now);
    bench.settle();
    EXPECT_EQ(bench.run.pull(), Length{});
    EXPECT_FALSE(bench.run.takePulled()); // not far enough
    drag(200);
    EXPECT_GT(bench.run.pull(), scorrere::Run::kPullThreshold);
    bench.run.motion().letGo(bench.now);
    bench.settle();
    EXPECT_TRUE(bench.run.takePulled());
    EXPECT_FALSE(bench.run.takePulled());
    EXPECT_EQ(bench.run.pull(),
              scorrere::Run::kPullThreshold); // it waits there while the refresh is under way
    bench.run.holdPull(false);
    bench.settle();
    EXPECT_EQ(bench.run.pull(), Length{});
}

TEST(Run, APullThatIsTakenBackScrollsNothing) {
    Bench bench(100, {}, 0.5);
    bench.run.setPullable(true);
    bench.settle();
    bench.run.motion().press(bench.now, Length::px(100));
    bench.run.motion().drag(bench.now, Length::px(200));
    bench.frame();
    bench.run.motion().drag(bench.now, Length::px(120));
    bench.frame();
    EXPECT_EQ(bench.run.offset(), Length{});
    EXPECT_GT(bench.run.pull(), Length{});
    bench.run.motion().drag(bench.now, Length::px(70));
    bench.frame();
    EXPECT_EQ(bench.run.pull(), Length{});
    EXPECT_EQ(bench.run.offset(), Length::px(30));
}

TEST(Run, PlaceholdersKeepTheExtentTheirItemsAreThoughtToHave) {
    class Holes final : public RunHost {
    public:
        explicit Holes(FakeHost& of) : inner(of) {}
        bool isPlaceholder(const Slot& slot) override { return slot.place >= 3; }
        void build(ViewId view, int kind) override { inner.build(view, kind); }
        Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override {
            return inner.fill(view, slot, given, meter);
        }
        FakeHost& inner;
    };
    FakeHost host(100);
    Holes holes(host);
    scorrere::Run run(holes, host.watch, listOf(100, kEstimates), kEstimates);
    host.run = &run;
    run.resize(Length::px(700), Length::px(360));
    for (std::int64_t now = 0; !run.isIdle(); now += kFrameUs) {
        run.frame(now);
    }
    EXPECT_EQ(run.arrangement().stateOf(0), ExtentState::Measured);
    EXPECT_EQ(run.arrangement().stateOf(5), ExtentState::KindEstimate);
    EXPECT_EQ(run.arrangement().extentOf(5), run.arrangement().extentOf(90));
}

TEST(Run, SpeedIsThatOfTheMovementNotOfJumps) {
    Bench bench(100'000, {}, 0.5);
    bench.settle();
    for (int i = 0; i < 30; ++i) {
        bench.run.wheel(Length::px(25));
        bench.frame();
    }
    EXPECT_NEAR(bench.run.speed(), 3000, 100);
    bench.run.jumpTo(90'000);
    bench.now += 1'000'000;
    bench.frame();
    EXPECT_LT(bench.run.speed(), 50);
}

TEST(Run, AJumpThatNobodyAskedForIsTold) {
    Bench bench(5000, {}, 0.5);
    bench.run.jumpTo(2000);
    bench.settle();
    bench.run.insertRecords(10, 3);
    EXPECT_EQ(bench.frame().jump, Length{});
    // As if the insertion had not been told to the hold point.
    RunProbe::moveHold(bench.run, Length::px(525));
    bench.run.insertRecords(10, 3);
    EXPECT_EQ(bench.frame().jump, Length::px(525));
    EXPECT_EQ(bench.run.trace().totals().worstJump, Length::px(525));
    bench.settle();
    bench.run.wheel(Length::px(300));
    for (int i = 0; i < 20; ++i) {
        EXPECT_EQ(bench.frame().jump, Length{}) << "what is asked for is no jump";
    }
    bench.run.jumpTo(10);
    EXPECT_EQ(bench.frame().jump, Length{});
}

TEST(Run, AMillionItemsOfNoExtentMakeNoFrameGrow) {
    testing::SparseHost host([](std::int64_t) { return Length{}; });
    constexpr Arrangement::Estimates kNone{Length{}, Length::px(50), Length::px(50)};
    scorrere::Run run(host, host.watch, listOf(1'000'000, kNone, {false, true}), kNone);
    run.resize(Length::px(700), Length::px(360));
    std::int64_t most = 0;
    std::int64_t bounded = 0;
    for (int i = 1; i <= 100; ++i) {
        const FrameRecord& frame = run.frame(i * kFrameUs);
        most = std::max<std::int64_t>(most, frame.filled);
        bounded += frame.bounded ? 1 : 0;
        EXPECT_LE(frame.alive, 3) << "what takes no room needs no view";
    }
    EXPECT_LE(most, run.settings().mostFills);
    EXPECT_EQ(bounded, 100) << "and says that there is more";
    EXPECT_EQ(run.trace().totals().bounded, 100);
    EXPECT_FALSE(run.isIdle()) << "the rest comes";
    EXPECT_LE(host.builds, 3);
}

TEST(Run, WhatTakesNoRoomIsPassedOverOnceItIsKnown) {
    testing::SparseHost host(
        [](std::int64_t place) { return place % 1000 == 999 ? Length::px(100) : Length{}; });
    constexpr Arrangement::Estimates kThought{Length::px(40), Length{}, Length{}};
    scorrere::Run run(host, host.watch, listOf(50'000, kThought), kThought);
    run.resize(Length::px(700), Length::px(360));
    std::int64_t now = 0;
    while (!run.isIdle() && now < 10'000 * kFrameUs) {
        run.frame(now += kFrameUs);
    }
    ASSERT_TRUE(run.isIdle());
    ASSERT_EQ(std::ranges::count(run.placements(), true, &Placement::showing), 7);
    Length start;
    for (const Placement& placement : run.placements()) {
        if (placement.showing) {
            EXPECT_EQ(placement.position % 1000, 999);
            EXPECT_EQ(placement.box.start, start);
            start += Length::px(100);
        }
    }
    const std::int64_t before = host.fills;
    run.wheel(Length::px(1));
    run.frame(now += kFrameUs);
    run.wheel(Length::px(-1));
    run.frame(now += kFrameUs);
    EXPECT_LE(host.fills - before, 4) << "known ones are not filled again";
}

TEST(Run, AnItemThatTakesRoomAgainIsLookedAt) {
    bool isThere = false;
    testing::SparseHost host(
        [&](std::int64_t place) { return place == 2 && !isThere ? Length{} : Length::px(60); });
    constexpr Arrangement::Estimates kThought{Length::px(60), Length{}, Length{}};
    scorrere::Run run(host, host.watch, listOf(100, kThought), kThought);
    run.resize(Length::px(700), Length::px(360));
    std::int64_t now = 0;
    const auto settle = [&] {
        do {
            run.frame(now += kFrameUs);
        } while (!run.isIdle());
    };
    settle();
    EXPECT_EQ(run.placements()[2].position, 3);
    isThere = true;
    run.recordChanged(2);
    EXPECT_FALSE(run.isIdle());
    settle();
    EXPECT_EQ(run.placements()[2].position, 2);
    EXPECT_EQ(run.placements()[3].box.start, Length::px(180));
}

TEST(Run, AMeanThatChangesLeavesNoGapAmongPlaceholders) {
    class Holes final : public RunHost {
    public:
        bool isPlaceholder(const Slot& slot) override { return slot.place >= 4; }
        void build(ViewId, int) override {}
        Length fill(ViewId, const Slot&, const Given&, CostMeter&) override { return Length::px(10); }
    } host;
    testing::FakeWatch watch;
    constexpr Arrangement::Estimates kThought{Length::px(90), Length{}, Length{}};
    scorrere::Run run(host, watch, listOf(1000, kThought), kThought);
    run.resize(Length::px(700), Length::px(360));
    for (std::int64_t now = 0; !run.isIdle(); now += kFrameUs) {
        run.frame(now);
        Length end;
        for (const Placement& p : run.placements()) {
            EXPECT_EQ(p.box.start, end);
            end = p.box.start + p.box.extent;
        }
        EXPECT_GE(end, run.window()) << "the window is covered in every frame";
    }
    EXPECT_EQ(run.arrangement().extentOf(900), Length::px(10));
}

} // namespace
} // namespace scorrere
