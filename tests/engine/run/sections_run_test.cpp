// SPDX-License-Identifier: GPL-3.0-or-later
// Sections in a run: their headers stay, are pushed out, fold and say how many records are below them.
#include "testing/engine/run_bench.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

RC_GTEST_PROP(SectionsRun, EveryFrameKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anySections());
}

RC_GTEST_PROP(SectionsRun, EveryFrameOfRaggedColumnsKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anyRaggedSections());
}

class SectionsRunTest : public ::testing::Test {
protected:
    static ArrangementSpec spec() {
        ArrangementSpec made{{}, ListSpec()};
        made.sections = SectionsSpec();
        return made;
    }
    SectionsRunTest() : bench(400, spec(), 0.5) {
        told({20, 30, 350});
        bench.settle();
    }
    SectionedArrangement& over() { return dynamic_cast<SectionedArrangement&>(bench.run.arrangement()); }
    void told(const std::vector<std::int32_t>& counts) {
        bench.run.regroup([&] { (void)over().takeSections(counts, true); });
    }
    void fold(std::int64_t section, bool isFolded) {
        bench.run.regroup([&] { over().setFolded(section, isFolded); });
        bench.settle();
        ASSERT_EQ(bench.faults(), "");
    }
    const Placement* staying() {
        const auto& all = bench.run.placements();
        const auto found =
            std::ranges::find_if(all, [](const Placement& p) { return p.staysAt.has_value(); });
        return found == all.end() ? nullptr : &*found;
    }
    Length shownAt(std::int64_t position) {
        const auto& all = bench.run.placements();
        const auto found = std::ranges::find(all, position, &Placement::position);
        return found == all.end() ? Length::px(-9999) : found->shown().start;
    }
    testing::Bench bench;
};

TEST_F(SectionsRunTest, BeginsWithTheFirstHeader) {
    EXPECT_EQ(bench.run.offset(), Length{});
    EXPECT_EQ(bench.run.arrangement().slotAt(0).role, Role::SectionHeader);
    EXPECT_EQ(staying(), nullptr) << "it stands where it shows";
}

TEST_F(SectionsRunTest, AHeaderStaysAndTheNextPushesItOut) {
    bench.run.wheel(Length::px(300));
    bench.settle();
    ASSERT_NE(staying(), nullptr);
    EXPECT_EQ(staying()->position, 0);
    EXPECT_EQ(*staying()->staysAt, Length{});
    const Length header = bench.run.arrangement().extentOf(0);
    // The next header's start half a header below the window's.
    bench.run.jumpTo(21);
    bench.settle();
    bench.run.wheel(-header / 2);
    bench.settle();
    ASSERT_NE(staying(), nullptr);
    EXPECT_EQ(staying()->position, 0);
    EXPECT_EQ(*staying()->staysAt + header, shownAt(21)) << "they touch";
    EXPECT_LT(*staying()->staysAt, Length{});
    bench.run.wheel(header);
    bench.settle();
    EXPECT_EQ(staying()->position, 21);
}

TEST_F(SectionsRunTest, AJumpShowsARecordClearOfTheHeader) {
    bench.run.jumpTo(bench.run.arrangement().positionOf(200));
    bench.settle();
    ASSERT_NE(staying(), nullptr);
    EXPECT_GE(shownAt(bench.run.arrangement().positionOf(200)), Length::px(33))
        << "what a header is thought to have";
}

TEST_F(SectionsRunTest, FoldingWhatIsReadLeavesItsHeaderWhereItShows) {
    bench.run.jumpTo(bench.run.arrangement().positionOf(200));
    bench.settle();
    const std::int64_t header = staying()->position;
    fold(2, true);
    EXPECT_EQ(bench.run.arrangement().size(), 3 + 20 + 30);
    EXPECT_EQ(bench.run.arrangement().slotAt(header).role, Role::SectionHeader);
    EXPECT_GE(shownAt(header), Length{});
    fold(2, false);
    EXPECT_EQ(bench.run.arrangement().size(), 403);
}

TEST_F(SectionsRunTest, AnotherWindowShowsWhatIsReadWhateverIsFoldedThere) {
    testing::Bench beside(400, spec(), 0.5);
    auto& there = dynamic_cast<SectionedArrangement&>(beside.run.arrangement());
    beside.run.regroup([&] { (void)there.takeSections(std::vector<std::int32_t>{20, 30, 350}, true); });
    beside.run.regroup([&] { there.setFolded(0, true); });
    bench.run.jumpTo(bench.run.arrangement().positionOf(200));
    bench.settle();
    const Slot held = bench.run.arrangement().slotAt(bench.run.hold().position);
    const auto stand = [&] {
        beside.settle();
        beside.run.standWith(bench.run, bench.run.hold().onScreen);
    };
    stand();
    EXPECT_EQ(there.slotAt(beside.run.hold().position).place, held.place);
    EXPECT_EQ(beside.run.hold().onScreen, bench.run.hold().onScreen);
    beside.run.regroup([&] { there.setFolded(2, true); });
    stand();
    EXPECT_EQ(beside.run.hold().position, there.startOfSection(2)) << "its header stands for it";
    bench.run.jumpTo(bench.run.arrangement().startOfSection(1));
    bench.settle();
    beside.run.regroup([&] { (void)there.takeSections(std::vector<std::int32_t>{400}, true); });
    stand();
    EXPECT_EQ(there.slotAt(beside.run.hold().position).place, 20)
        << "without a header, its first record does";
}

TEST_F(SectionsRunTest, FoldingBeforeWhatIsReadMovesNothing) {
    bench.run.jumpTo(bench.run.arrangement().positionOf(60));
    bench.settle();
    const auto before = bench.run.arrangement().positionOf(65);
    const Length shows = shownAt(before);
    bench.run.regroup([&] { over().setFolded(0, true); });
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(bench.run.arrangement().positionOf(65), before - 20);
    EXPECT_EQ(shownAt(before - 20), shows);
}

TEST_F(SectionsRunTest, AHeaderIsFilledAgainWhenItHeadsMore) {
    const ViewId view = bench.run.recycler().carrierOf(0);
    const auto said = bench.host.carried[static_cast<std::size_t>(view.index)].record;
    bench.host.order.insert(5, 9000, 2);
    bench.run.insertRecords(5, 2);
    bench.frame();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_NE(bench.host.carried[static_cast<std::size_t>(bench.run.recycler().carrierOf(0).index)].record,
              said);
    EXPECT_EQ(over().sections()->at(0).records, 22);
}

TEST_F(SectionsRunTest, RecordsThatAreErasedTakeTheirHeaderAlong) {
    bench.host.order.erase(20, 30);
    bench.run.eraseRecords(20, 30);
    bench.settle();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_EQ(over().sections()->count(), 2);
    EXPECT_EQ(bench.run.arrangement().slotAt(21).section, 1);
}

TEST_F(SectionsRunTest, WhereAllAreFoldedHeadersStandBelowEachOther) {
    bench.run.jumpTo(300);
    bench.settle();
    bench.run.regroup([&] { (void)over().setAllFolded(true); });
    bench.settle();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_EQ(bench.run.arrangement().size(), 3);
    bench.run.regroup([&] { (void)over().setAllFolded(false); });
    bench.settle();
    EXPECT_EQ(bench.faults(), "");
    EXPECT_EQ(bench.run.arrangement().size(), 403);
}

} // namespace
} // namespace scorrere
