// SPDX-License-Identifier: GPL-3.0-or-later
// Ragged columns as a run scrolls them: who stands in which lane, and that nothing slides along what is read.
#include "engine/arrange/columns_arrangement.h"

#include "testing/engine/any_arrangement.h"
#include "testing/engine/run_bench.h"
#include "testing/engine/sparse_host.h"

#include <functional>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <map>
#include <rapidcheck/gtest.h>
#include <set>

namespace scorrere {
namespace {

using ::testing::AllOf;
using testing::Bench;
using testing::disturb;
using ::testing::Ge;
using ::testing::Le;

ArrangementSpec columnsOf(int lanes, int gapPx = 8) {
    ArrangementSpec spec;
    spec.spacing.gap = Length::px(gapPx);
    ColumnsSpec columns;
    columns.lanes.count = lanes;
    columns.lanes.gap = Length::px(6);
    spec.form = columns;
    return spec;
}

/// What shows: by record, its box.
std::map<std::int64_t, Box> picture(Bench& bench) {
    std::map<std::int64_t, Box> shown;
    for (const Placement& p : bench.run.placements()) {
        if (p.showing) {
            shown[bench.host.recordAt(bench.run.arrangement().slotAt(p.position))] = p.box;
        }
    }
    return shown;
}

RC_GTEST_PROP(ColumnsRun, EveryFrameKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anyColumns());
}

RC_GTEST_PROP(ColumnsRun, WhileItScrollsAllThatShowsMovesTogether, ()) {
    Bench bench(*rc::gen::element<std::int64_t>(30, 5000), testing::anyColumns(),
                *rc::gen::element(0.0, 0.5, 1.5), testing::anyEnds());
    for (int i = *rc::gen::inRange(1, 30); i > 0; --i) {
        switch (*rc::gen::inRange(0, 6)) {
        case 0:
            bench.run.jumpTo(*rc::gen::inRange<std::int64_t>(0, bench.run.arrangement().size()));
            bench.frame();
            break;
        case 1:
            bench.run.travelTo(Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, bench.run.total().raw())));
            bench.frame();
            break;
        default:
            bench.run.wheel(Length::px(*rc::gen::inRange(-600, 600)));
        }
        for (int f = 0; f < 4; ++f) {
            const auto before = picture(bench);
            bench.frame();
            RC_LOG() << "a frame; held " << bench.run.hold().position << "\n";
            std::optional<Length> by;
            for (const auto& [record, box] : picture(bench)) {
                const auto was = before.find(record);
                if (was == before.end()) {
                    continue;
                }
                RC_ASSERT(box.crossStart == was->second.crossStart);
                by = by.value_or(box.start - was->second.start);
                RC_LOG() << record << ": lane at " << box.crossStart.raw() << ", from "
                         << was->second.start.raw() << " to " << box.start.raw() << ", so long "
                         << box.extent.raw() << "\n";
                RC_ASSERT(box.start - was->second.start == *by);
            }
        }
    }
}

TEST(ColumnsRun, ReadFromTheStartEachGoesToTheLaneThatEndsFirst) {
    Bench bench(400, columnsOf(3), 0.5);
    std::vector<Length> ends(3);
    std::map<std::int64_t, Box> all;
    bench.settle();
    while (bench.run.offset() + bench.run.window() < bench.run.total()) {
        const Length top = bench.run.offset();
        for (auto [record, box] : picture(bench)) {
            box.start += top;
            const auto& [was, isNew] = all.emplace(record, box);
            EXPECT_EQ(was->second, box) << record << " moved on the strip";
        }
        bench.run.wheel(Length::px(137));
        bench.frame();
    }
    ASSERT_GT(all.size(), 380U);
    const Length width = (Length::px(360) + Length::px(6)) / 3;
    for (const auto& [record, box] : all) {
        const auto lane = static_cast<std::size_t>(std::ranges::min_element(ends) - ends.begin());
        EXPECT_EQ(box.start, ends[lane]) << record;
        EXPECT_EQ(box.crossStart, width * static_cast<std::int64_t>(lane)) << record;
        ends[lane] = box.end() + Length::px(8);
    }
}

TEST(ColumnsRun, ScrollingBackShowsTheSamePictureWhereverItBegan) {
    Bench bench(100'000, columnsOf(4), 0.5);
    bench.run.jumpTo(60'000);
    bench.settle();
    std::vector<std::map<std::int64_t, Box>> way;
    for (const int step : {-211, 307}) {
        way.clear();
        for (int i = 0; i < 150; ++i) {
            way.push_back(picture(bench));
            bench.run.wheel(Length::px(step));
            bench.frame();
        }
        for (int i = 149; i >= 0; --i) {
            bench.run.wheel(Length::px(-step));
            bench.frame();
            EXPECT_EQ(picture(bench), way[static_cast<std::size_t>(i)]) << step << " at " << i;
        }
    }
}

TEST(ColumnsRun, AJumpLooksAtNoMoreInAMillionThanInAThousand) {
    const auto filled = [](std::int64_t records) {
        Bench bench(records, columnsOf(3), 0.5);
        bench.settle();
        int most = 0;
        for (const int part : {3, 7, 9, 5, 1}) {
            bench.run.jumpTo(records / 10 * part);
            for (int i = 0; i < 60 && !bench.run.isIdle(); ++i) {
                most = std::max(most, bench.frame().filled);
                EXPECT_EQ(bench.faults(), "");
            }
        }
        return most;
    };
    EXPECT_LE(filled(1'000'000), filled(1000) + 6);
}

/// A run over a million or some records that were estimated, by place.
struct Sparse {
    Sparse(std::int64_t records, Length thought, std::function<Length(std::int64_t)> extent)
        : host(std::move(extent)),
          run(host, host.watch, makeArrangement(columnsOf(2, 0), {}, records, {thought}), {thought}) {
        run.resize(Length::px(700), Length::px(360));
    }
    void frames(int count) {
        for (; count > 0; --count) {
            run.frame(now += testing::kFrameUs);
        }
    }
    /// Positions of what shows, each with where it stands.
    std::map<std::int64_t, Length> shown() {
        std::map<std::int64_t, Length> shown;
        for (const Placement& p : run.placements()) {
            if (p.showing) {
                shown[p.position] = p.box.start;
            }
        }
        return shown;
    }
    int lanesGiven() { return static_cast<const ColumnsArrangement&>(run.arrangement()).withLanes(); }
    testing::SparseHost host;
    scorrere::Run run;
    std::int64_t now = 0;
};

TEST(ColumnsRun, ARowOfAMillionThatTakesNoRoomGetsNoLanes) {
    Sparse sparse(1'000'000, Length::px(80), [](std::int64_t) { return Length::px(80); });
    const std::vector<std::int32_t> nothing(999'960, 0);
    sparse.run.setEstimated(20, nothing);
    sparse.frames(5);
    sparse.run.wheel(
        Length::px(600)); // ten lines stand before the row: what shows stands on both sides of it
    sparse.frames(100);
    EXPECT_LE(sparse.lanesGiven(), 60);
    const std::map<std::int64_t, Length> shown = sparse.shown();
    ASSERT_TRUE(shown.contains(19) && shown.contains(999'980));
    EXPECT_EQ(shown.at(999'980) - shown.at(19), Length::px(80)) << "right behind it";
    EXPECT_EQ(shown.at(999'980), shown.at(999'981));
    sparse.run.jumpTo(999'999);
    sparse.frames(30);
    sparse.run.wheel(Length::px(-10'000));
    sparse.frames(100);
    EXPECT_EQ(sparse.run.offset(), Length{});
    EXPECT_LE(sparse.lanesGiven(), 80);
    EXPECT_EQ(sparse.shown().size(), 18U);
}

TEST(ColumnsRun, WhatIsFoundToTakeNoRoomGivesItsLaneBack) {
    Sparse sparse(50'000, Length::px(40),
                  [](std::int64_t place) { return place % 1000 == 999 ? Length::px(100) : Length{}; });
    for (int i = 0; !sparse.run.isIdle() && i < 10'000; ++i) {
        sparse.frames(1);
    }
    ASSERT_TRUE(sparse.run.isIdle());
    const std::map<std::int64_t, Length> shown = sparse.shown();
    EXPECT_THAT(shown.size(), AllOf(Ge(12U), Le(14U))) << "seven lines, but for where stretches met";
    for (const auto& [position, start] : shown) {
        EXPECT_EQ(position % 1000, 999);
    }
    EXPECT_LE(sparse.lanesGiven(), 40 * 256);
}

TEST(ColumnsRun, AnotherNumberOfLanesKeepsWhatIsReadWhereItWas) {
    ArrangementSpec spec = columnsOf(1);
    std::get<ColumnsSpec>(spec.form).lanes.least = Length::px(160);
    Bench bench(5000, spec, 0.5);
    bench.run.jumpTo(2000);
    bench.settle();
    bench.run.wheel(Length::px(333));
    bench.settle();
    for (const int cross : {720, 200, 360}) {
        const std::int64_t held = bench.run.hold().position;
        const Length at = bench.run.hold().onScreen;
        bench.run.resize(Length::px(700), Length::px(cross));
        EXPECT_EQ(bench.frame().jump, Length{});
        EXPECT_EQ(bench.faults(), "");
        const auto& placed = bench.run.placements();
        const auto now = std::ranges::find(placed, held, &Placement::position);
        ASSERT_NE(now, placed.end());
        EXPECT_EQ(now->box.start, at) << cross;
    }
}

TEST(ColumnsRun, AfterAJumpIntoTheMiddleTheStartIsLevelWhenOneGoesThere) {
    Bench bench(3000, columnsOf(3), 0.5);
    bench.run.jumpTo(90);
    bench.settle();
    while (bench.run.offset() > Length{}) {
        bench.run.wheel(Length::px(-150));
        bench.frame();
    }
    bench.run.key(KeyStep::PageOn);
    bench.settle();
    bench.run.key(KeyStep::ToStart);
    bench.settle();
    for (const auto& [record, box] : picture(bench)) {
        if (record < 3) {
            EXPECT_EQ(box.start, Length{}) << record;
        }
    }
}

/// Records that come page by page: what is not here yet says nothing of its extent.
class Pages final : public RunHost {
public:
    explicit Pages(testing::FakeHost& of) : inner(of) {}
    bool isPlaceholder(const Slot& slot) override { return !here.contains(slot.place / 20); }
    void build(ViewId view, int kind) override { inner.build(view, kind); }
    Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override {
        return inner.fill(view, slot, given, meter);
    }
    testing::FakeHost& inner;
    std::set<std::int64_t> here;
};

RC_GTEST_PROP(ColumnsRun, PagesThatArriveMoveNothingAboveThem, ()) {
    constexpr std::int64_t kRecords = 4000;
    testing::FakeHost host(kRecords);
    Pages pages(host);
    scorrere::Run run(pages, host.watch, makeArrangement(columnsOf(3), {}, kRecords, testing::kEstimates),
                      testing::kEstimates);
    host.run = &run;
    run.resize(Length::px(700), Length::px(360));
    std::int64_t now = 0;
    const auto frame = [&] { return run.frame(now += testing::kFrameUs); };
    for (int i = *rc::gen::inRange(1, 30); i > 0; --i) {
        if (*rc::gen::inRange(0, 4) == 0) {
            run.jumpTo(*rc::gen::inRange<std::int64_t>(0, kRecords));
        } else {
            run.wheel(Length::px(*rc::gen::inRange(-600, 600)));
        }
        frame();
        const std::vector<Placement> before = run.placements();
        if (before.empty()) {
            continue;
        }
        const std::int64_t page = before[*rc::gen::inRange<std::size_t>(0, before.size())].position / 20;
        pages.here.insert(page);
        run.recordsChanged(page * 20, 20);
        RC_ASSERT(frame().jump == Length{});
        run.checkInvariants();
        // What shows and was here already stands still down to where the page begins in its lane.
        for (const Placement& is : run.placements()) {
            const auto was = std::ranges::find(before, is.position, &Placement::position);
            if (is.showing && was != before.end() && was->showing && is.position < page * 20 &&
                was->box.start >= Length{} && pages.here.contains(is.position / 20)) {
                RC_ASSERT(is.box.start == was->box.start);
            }
        }
    }
}

} // namespace
} // namespace scorrere
