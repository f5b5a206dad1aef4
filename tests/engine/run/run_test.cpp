// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/arrangement_spec.h"
#include "engine/run/run.h"

#include "testing/engine/fake_host.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {

/// Breaks what a run must never break, to see that it is told.
struct RunProbe {
    static void moveHold(scorrere::Run& run, Length by) { run.hold_.onScreen += by; }
};

namespace {

using testing::FakeHost;

constexpr Arrangement::Estimates kEstimates{Length::px(90), Length::px(60), Length::px(40)};
constexpr std::int64_t kFrameUs = 8333;

std::unique_ptr<Arrangement> listOf(std::int64_t records, const Arrangement::Estimates& estimates,
                                    Ends ends = {}) {
    return std::make_unique<ListArrangement>(Spacing(), ends, records, estimates);
}

/// A run over the fake host, with everything that must hold checked after each frame.
struct Bench {
    Bench(std::int64_t records, const ArrangementSpec& of, double lead, Ends ends = {})
        : host(records), spacing(of.spacing),
          run(host, host.watch, makeArrangement(of, ends, records, kEstimates), kEstimates, settings(lead)) {
        host.run = &run;
        run.resize(Length::px(700), Length::px(360));
    }
    static RunSettings settings(double lead) {
        RunSettings made;
        made.viewLead = lead;
        return made;
    }
    const FrameRecord& frame() {
        now += kFrameUs;
        return run.frame(now);
    }
    void settle() {
        for (int i = 0; i < 1000 && !run.isIdle(); ++i) {
            frame();
        }
    }
    Length lead() const { return Length::fromPx(run.window().toPx() * run.settings().viewLead); }

    /// What is wrong after a frame; empty when nothing is.
    std::string faults() {
        if (!host.problem.empty()) {
            return host.problem;
        }
        const auto& placed = run.placements();
        Arrangement& list = run.arrangement();
        if (list.size() == 0) {
            return placed.empty() ? "" : "something lives though there is nothing";
        }
        const Length gap = spacing.gap;
        std::int64_t firstShowing = -1;
        std::int64_t lastShowing = -1;
        std::vector<int> used;
        for (std::size_t i = 0; i < placed.size(); ++i) {
            const Placement& p = placed[i];
            if (i > 0 && p.position <= placed[i - 1].position) {
                return "an item twice or out of order";
            }
            const Box before = i > 0 ? placed[i - 1].box : Box();
            const bool isBeside = p.box.start == before.start && p.box.extent == before.extent &&
                                  p.box.crossStart >= before.crossStart + before.crossExtent;
            if (i > 0 && p.position == placed[i - 1].position + 1 && !isBeside &&
                p.box.start != before.end() + gap) {
                return "a gap or an overlap between neighbours";
            }
            Box stands = list.boxOf(p.position);
            stands.start -= run.offset();
            if (p.box != stands) {
                return "a placement that is not where the arrangement says";
            }
            if (p.box.start >= run.window() + lead() + gap || p.box.start + p.box.extent + gap <= -lead()) {
                return "alive outside the wanted range";
            }
            const FakeHost::Carried& held = host.carried[static_cast<std::size_t>(p.view.index)];
            if (held != FakeHost::Carried{host.recordAt(list.slotAt(p.position)), host.revision,
                                          list.givenFor(p.position).crossExtent}) {
                return "a view carries another item, or an outdated one";
            }
            used.push_back(p.view.index);
            if (p.box.start < run.window() && p.box.start + p.box.extent > Length{}) {
                firstShowing = firstShowing < 0 ? p.position : firstShowing;
                lastShowing = p.position;
            }
        }
        std::ranges::sort(used);
        if (std::ranges::adjacent_find(used) != used.end()) {
            return "one view carries two items";
        }
        return coverage(firstShowing, lastShowing);
    }
    std::string coverage(std::int64_t first, std::int64_t last) {
        Arrangement& list = run.arrangement();
        const Length gap = spacing.gap;
        if (first < 0) {
            return "nothing shows";
        }
        for (std::int64_t i = first; i <= last; ++i) {
            if (run.recycler().carrierOf(i).index < 0) {
                return "an item in the window has no view";
            }
        }
        const Length top = list.startOf(first) - run.offset();
        const Length bottom = list.startOf(last) + list.extentOf(last) - run.offset();
        if (first > 0 ? top > gap : top > spacing.insets[0]) {
            return "the window's top is not covered";
        }
        const bool wholeShows = first == 0 && last == list.size() - 1;
        if (last < list.size() - 1 ? bottom + gap < run.window()
                                   : !wholeShows && bottom + spacing.insets[2] < run.window()) {
            return "the window's bottom is not covered";
        }
        return "";
    }

    FakeHost host;
    Spacing spacing;
    Run run;
    std::int64_t now = 0;
};

ArrangementSpec anyArrangement() {
    ArrangementSpec spec;
    spec.spacing.gap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
    spec.spacing.insets = {Length::px(*rc::gen::inRange(0, 30)), Length::px(4),
                           Length::px(*rc::gen::inRange(0, 30)), Length::px(4)};
    if (*rc::gen::arbitrary<bool>()) {
        GridSpec grid;
        grid.columns = *rc::gen::inRange(1, 6);
        grid.leastCell = *rc::gen::element(Length{}, Length{}, Length::px(100));
        grid.crossGap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
        grid.extent = *rc::gen::element<GridSpec::Extent>(GridSpec::AsLine{}, GridSpec::AsLine{},
                                                          Length::px(70), GridSpec::Aspect{3, 4});
        spec.form = grid;
    }
    return spec;
}

Ends anyEnds() {
    return {*rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>()};
}

/// Does something at random; tells whether it scrolls on purpose.
bool disturb(Bench& bench) {
    Run& run = bench.run;
    const std::int64_t records = run.arrangement().recordCount();
    const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
    switch (*rc::gen::inRange(0, 15)) {
    case 0:
        run.motion().fling(static_cast<double>(*rc::gen::inRange(-20'000, 20'000)), bench.now);
        return true;
    case 1:
        run.jumpTo(upTo(run.arrangement().size()));
        return true;
    case 2:
        run.travelTo(Length::fromRaw(upTo(run.total().raw())));
        return true;
    case 3:
        run.key(static_cast<KeyStep>(*rc::gen::inRange(0, 6)));
        return true;
    case 4: {
        const std::int64_t place = upTo(records);
        const std::int64_t count = upTo(*rc::gen::element<std::int64_t>(1, 3, 400));
        RC_LOG() << "insert " << place << " " << count << "\n";
        bench.host.order.insert(place, 5'000'000 + upTo(1000), count);
        run.insertRecords(place, count);
        return false;
    }
    case 5: {
        const std::int64_t place = upTo(records);
        const std::int64_t count =
            upTo(std::min<std::int64_t>(records - place, *rc::gen::element<std::int64_t>(1, 3, 400)));
        RC_LOG() << "erase " << place << " " << count << "\n";
        bench.host.order.erase(place, count);
        run.eraseRecords(place, count);
        return false;
    }
    case 6: {
        if (records == 0) {
            return false;
        }
        const std::int64_t from = upTo(records - 1);
        const std::int64_t to = upTo(records - 1);
        RC_LOG() << "move " << from << " " << to << "\n";
        const std::int64_t record = bench.host.order.at(from);
        bench.host.order.erase(from, 1);
        bench.host.order.insert(to, record, 1);
        run.moveRecord(from, to);
        return false;
    }
    case 7: {
        const std::int64_t first = upTo(records);
        std::vector<std::int32_t> extents(
            static_cast<std::size_t>(std::min<std::int64_t>(records - first, upTo(600))));
        for (std::size_t i = 0; i < extents.size(); ++i) {
            extents[i] = static_cast<std::int32_t>((i * 7919 + 131) % 12'000) - 800;
        }
        RC_LOG() << "setEstimated " << first << " " << extents.size() << "\n";
        run.setEstimated(first, extents);
        return false;
    }
    case 8: {
        const bool turned = run.cross() == Length::px(360);
        RC_LOG() << "turn\n";
        run.resize(Length::px(turned ? 330 : 700), Length::px(turned ? 720 : 360));
        return false;
    }
    case 9:
        ++bench.host.revision;
        RC_LOG() << "content changed\n";
        run.contentChanged();
        return false;
    case 10:
        run.setViewLead(*rc::gen::element(0.0, 0.3, 0.5, 2.0));
        return false;
    case 11: {
        // What no view carries is forgotten but for its length, before or behind what lives.
        const bool isBefore = *rc::gen::arbitrary<bool>();
        std::int64_t from = isBefore ? 0 : upTo(records);
        std::int64_t until = isBefore ? upTo(records) : records;
        for (const ViewId id : run.recycler().alive()) {
            const Slot slot = run.arrangement().slotAt(run.recycler().view(id).position);
            if (slot.role == Role::Record) {
                (isBefore ? until : from) =
                    isBefore ? std::min(until, slot.place) : std::max(from, slot.place + 1);
            }
        }
        if (from < until) {
            RC_LOG() << "evenOut " << from << " " << until - from << "\n";
            const Length total = run.total();
            run.evenOut(from, until - from);
            RC_ASSERT(run.total() == total);
        }
        return false;
    }
    default:
        run.wheel(Length::px(*rc::gen::inRange(-900, 900)));
        return true;
    }
}

/// Items in the window and the lead beyond its edges, whether they are prepared already or not.
std::size_t wantedBy(scorrere::Run& run) {
    if (run.arrangement().size() == 0) {
        return 0;
    }
    const Length lead = Length::fromPx(run.window().toPx() * run.settings().viewLead);
    const std::int64_t first = run.arrangement().indexAt(run.offset() - lead);
    const std::int64_t last = run.arrangement().indexAt(run.offset() + run.window() + lead) +
                              static_cast<std::int64_t>(run.arrangement().mostInALine()) - 1;
    return static_cast<std::size_t>(last - first + 1);
}

RC_GTEST_PROP(Run, EveryFrameKeepsWhatMustHold, ()) {
    const auto records = *rc::gen::element<std::int64_t>(0, 1, 4, 60, 5000);
    Bench bench(records, anyArrangement(), *rc::gen::element(0.0, 0.5, 1.5), anyEnds());
    std::size_t mostWanted = 0;
    std::size_t longestLine = 0;
    const int steps = *rc::gen::inRange(1, 40);
    for (int i = 0; i < steps; ++i) {
        disturb(bench);
        for (int f = *rc::gen::inRange(1, 6); f > 0; --f) {
            const FrameRecord& frame = bench.frame();
            RC_ASSERT(bench.faults() == std::string());
            RC_ASSERT(frame.jump == Length{});
            mostWanted = std::max({mostWanted, bench.run.recycler().alive().size(), wantedBy(bench.run)});
            longestLine = std::max(longestLine, bench.run.arrangement().mostInALine());
        }
        bench.run.checkInvariants();
        // Live and pooled views: never more than were ever wanted at once, and one more line a kind.
        RC_ASSERT(bench.run.recycler().views().size() <= mostWanted + longestLine + Arrangement::kKinds - 1);
    }
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
    Bench bench(5000, anyArrangement(), 0.5, anyEnds());
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
        Length fill(ViewId view, const Slot& slot, Length cross, CostMeter& meter) override {
            return inner.fill(view, slot, cross, meter);
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

/// Items of which most take no room.
class SparseHost final : public RunHost {
public:
    explicit SparseHost(std::function<Length(std::int64_t)> extent) : extent_(std::move(extent)) {}
    void build(ViewId, int) override { ++builds; }
    Length fill(ViewId, const Slot& slot, Length, CostMeter&) override {
        ++fills;
        return slot.role == Role::Record ? extent_(slot.place) : Length::px(50);
    }
    testing::FakeWatch watch;
    std::int64_t builds = 0;
    std::int64_t fills = 0;

private:
    std::function<Length(std::int64_t)> extent_;
};

TEST(Run, AMillionItemsOfNoExtentMakeNoFrameGrow) {
    SparseHost host([](std::int64_t) { return Length{}; });
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
    SparseHost host([](std::int64_t place) { return place % 1000 == 999 ? Length::px(100) : Length{}; });
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
    SparseHost host([&](std::int64_t place) { return place == 2 && !isThere ? Length{} : Length::px(60); });
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
        Length fill(ViewId, const Slot&, Length, CostMeter&) override { return Length::px(10); }
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
