// SPDX-License-Identifier: GPL-3.0-or-later
// A table in a run: its heading stays, its columns grow with what is seen and never under the reader, and it is
// scrolled across where it is wider than the window.
#include "testing/engine/run_bench.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

RC_GTEST_PROP(TableRun, EveryFrameKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anyTable());
}

ArrangementSpec tableSpec(bool firstStays = true) {
    return {{}, TableSpec{true, true, firstStays}};
}

class TableRunTest : public ::testing::Test {
protected:
    TableRunTest() : bench(400, tableSpec(), 0.5) { bench.settle(); }
    TableColumns& columns() { return testing::tableIn(bench.run.arrangement())->columns(); }
    const Placement* at(std::int64_t position) {
        const auto& all = bench.run.placements();
        const auto found = std::ranges::find(all, position, &Placement::position);
        return found == all.end() ? nullptr : &*found;
    }
    testing::Bench bench;
};

TEST_F(TableRunTest, BeginsWithItsHeadingWhichStays) {
    EXPECT_EQ(bench.run.arrangement().slotAt(0).role, Role::Heading);
    EXPECT_FALSE(at(0)->staysAt) << "it stands where it shows";
    bench.run.wheel(Length::px(5000));
    bench.settle();
    ASSERT_NE(at(0), nullptr);
    EXPECT_EQ(at(0)->staysAt, Length{});
    EXPECT_GT(*at(0)->staysAt, at(0)->box.start);
}

TEST_F(TableRunTest, AJumpShowsARecordBelowTheHeading) {
    bench.run.jumpTo(bench.run.arrangement().positionOf(200));
    bench.settle();
    EXPECT_EQ(at(201)->box.start, bench.run.arrangement().extentOf(0));
}

TEST_F(TableRunTest, ColumnsGrowWithWhatIsSeenAndNeverShrink) {
    Length widest;
    for (int page = 0; page < 30; ++page) {
        const Length before = columns().widthOf(1);
        bench.run.wheel(Length::px(600));
        bench.settle();
        ASSERT_EQ(bench.faults(), "");
        for (const Placement& p : bench.run.placements()) {
            const std::int64_t record = bench.host.recordAt(bench.run.arrangement().slotAt(p.position));
            widest = std::max(widest, testing::cellWidth(record, 1));
        }
        EXPECT_GE(columns().widthOf(1), before);
        EXPECT_GE(columns().widthOf(1), widest) << "all that shows has room in it";
    }
    EXPECT_EQ(columns().widthOf(0), Length::px(60)) << "its part says so";
    bench.run.travelTo({});
    bench.settle();
    EXPECT_GE(columns().widthOf(1), widest) << "not under the reader";
    bench.run.resize(Length::px(700), Length::px(420));
    bench.settle();
    EXPECT_LT(columns().widthOf(1), widest) << "what is laid out anew begins anew";
}

TEST_F(TableRunTest, WhatShowsIsInOneFrameLaidOutInTheSameColumns) {
    for (int i = 0; i < 300; ++i) {
        bench.run.wheel(Length::px(i % 7 == 0 ? -900 : 400));
        bench.frame();
        ASSERT_EQ(bench.faults(), "") << i;
        for (const Placement& p : bench.run.placements()) {
            EXPECT_EQ(p.box.crossExtent, columns().across());
        }
    }
}

TEST_F(TableRunTest, IsScrolledAcrossAsFarAsItReaches) {
    ASSERT_GT(bench.run.acrossRoom(), Length{}) << "columns are wider than the window";
    EXPECT_FALSE(at(1)->staysAcross) << "it is not scrolled";
    bench.run.acrossMotion().push(Length::px(50));
    bench.settle();
    EXPECT_EQ(bench.run.acrossOffset(), Length::px(50));
    EXPECT_EQ(at(1)->box.crossStart, -Length::px(50));
    ASSERT_TRUE(at(1)->staysAcross);
    EXPECT_EQ(at(1)->staysAcross->crossStart, Length{});
    EXPECT_EQ(at(1)->staysAcross->extent, Length::px(60)) << "the first column stays";
    EXPECT_EQ(at(1)->staying().crossExtent, Length::px(60));
    bench.run.acrossMotion().fling(90'000, bench.now);
    bench.settle();
    EXPECT_EQ(bench.run.acrossOffset(), bench.run.acrossRoom());
    bench.run.acrossMotion().push(-Length::px(100'000));
    bench.settle();
    EXPECT_EQ(bench.run.acrossOffset(), Length{});
}

TEST(TableRun, NothingStaysOfOneWhoseFirstColumnGoesWithTheOthers) {
    testing::Bench bench(400, tableSpec(false), 0.5);
    bench.settle();
    bench.run.acrossMotion().push(Length::px(50));
    bench.settle();
    EXPECT_EQ(bench.run.placements().front().staysAcross->extent, Length{});
}

TEST(TableRun, SectionsStayBelowTheHeading) {
    ArrangementSpec spec = tableSpec();
    spec.sections = SectionsSpec();
    testing::Bench bench(400, spec, 0.5);
    auto& over = dynamic_cast<SectionedArrangement&>(bench.run.arrangement());
    bench.run.regroup([&] { (void)over.takeSections(std::vector<std::int32_t>{100, 300}, true); });
    bench.settle();
    bench.run.wheel(Length::px(3000));
    bench.settle();
    ASSERT_EQ(bench.faults(), "");
    const Stayings all = over.stayingAt(bench.run.offset());
    EXPECT_EQ(over.slotAt(all.all[0].position).role, Role::Heading);
    EXPECT_EQ(over.slotAt(all.all[1].position).role, Role::SectionHeader);
    EXPECT_EQ(all.all[1].start, all.all[0].start + over.extentOf(all.all[0].position));
    for (int twice = 0; twice < 2; ++twice) { // at first its header's extent is a guess
        bench.run.jumpTo(over.positionOf(300));
        bench.settle();
    }
    const Placement* record = nullptr;
    for (const Placement& p : bench.run.placements()) {
        record = p.position == over.positionOf(300) ? &p : record;
    }
    ASSERT_NE(record, nullptr);
    const Staying header = over.stayingAt(bench.run.offset()).all[1];
    EXPECT_NE(header.position, all.all[1].position) << "it is in another section";
    EXPECT_EQ(bench.run.offset() + record->box.start, header.start + over.extentOf(header.position));
}

} // namespace
} // namespace scorrere
