// SPDX-License-Identifier: GPL-3.0-or-later
// Items that stand where they are told to, in a run: long stretches where nothing does, and places told while it runs.
#include "testing/engine/run_bench.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

RC_GTEST_PROP(PlacedRun, EveryFrameKeepsWhatMustHold, ()) {
    testing::keepEveryFrame(testing::anyPlaced());
}

class PlacedRunTest : public ::testing::Test {
protected:
    PlacedRunTest() : bench(400, {{}, PlacedSpec()}, 0.5) {
        tell([](std::int64_t record) { // two beside each other every 2,000 px
            return GivenPlace{Length::px(record / 2 * 2000), Length::px(100), 0};
        });
        bench.settle();
    }
    template <typename PlaceOf>
    void tell(PlaceOf place) {
        std::vector<std::optional<GivenPlace>> places;
        for (std::int64_t record = 0; record < over().recordCount(); ++record) {
            places.emplace_back(place(record));
        }
        bench.run.regroup([&] { (void)over().takeTold(PlacedArrangement::Told(places, 1)); });
    }
    PlacedArrangement& over() { return dynamic_cast<PlacedArrangement&>(bench.run.arrangement()); }
    std::size_t showing() const {
        return static_cast<std::size_t>(
            std::ranges::count(bench.run.placements(), true, &Placement::showing));
    }
    Length shownAt(std::int64_t place) {
        const std::int64_t position = over().find({Role::Record, place});
        const auto found = std::ranges::find(bench.run.placements(), position, &Placement::position);
        return found == bench.run.placements().end() ? Length::px(-9999) : found->box.start;
    }
    testing::Bench bench;
};

TEST_F(PlacedRunTest, BeginsWithTheFirstThatAreTold) {
    EXPECT_EQ(bench.run.offset(), Length{});
    EXPECT_EQ(showing(), 2U);
    EXPECT_EQ(bench.run.total(), Length::px(199 * 2000 + 100));
}

TEST_F(PlacedRunTest, WhereNothingStandsTheWindowStandsStillAndFillsNothing) {
    bench.run.travelTo(Length::px(1000));
    for (int i = 0; i < 4; ++i) {
        const FrameRecord& frame = bench.frame();
        EXPECT_EQ(showing(), 0U);
        EXPECT_EQ(frame.offset, Length::px(1000));
        EXPECT_EQ(i > 0 ? frame.filled : 0, 0);
        ASSERT_EQ(bench.faults(), "");
    }
    EXPECT_TRUE(bench.run.isIdle());
    bench.run.wheel(Length::px(1000)); // on, to where something stands
    bench.settle();
    EXPECT_EQ(bench.run.offset(), Length::px(2000));
    EXPECT_EQ(showing(), 2U);
}

TEST_F(PlacedRunTest, AListWithAGapLargerThanTheWindowStandsStillInIt) {
    testing::Bench list(10, {{Length::px(2000), {}}, ListSpec()}, 0.5);
    list.settle();
    list.run.travelTo(Length::px(900));
    list.settle();
    EXPECT_EQ(list.run.offset(), Length::px(900));
}

TEST_F(PlacedRunTest, WhoeverIsReadStaysWhenItsPlaceIsToldAnewAndOthersComeBefore) {
    bench.run.jumpTo(over().positionOf(100));
    bench.settle();
    const Length shows = shownAt(100);
    ASSERT_GE(shows, Length{});
    tell([](std::int64_t record) { return GivenPlace{Length::px(record / 2 * 2500), Length::px(100), 0}; });
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(shownAt(100), shows);
    // Another begins before all: the strip grows at its start.
    const std::optional<GivenPlace> early = GivenPlace{Length::px(-5000), Length::px(100), 0};
    bench.host.order.insert(0, 9000, 1);
    bench.run.insertRecords(0, 1);
    bench.run.regroup([&] { over().tell(0, {&early, 1}, 1); });
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(shownAt(101), shows);
    EXPECT_EQ(bench.faults(), "");
}

TEST_F(PlacedRunTest, WhenWhatIsReadGoesTheOthersStay) {
    bench.run.jumpTo(over().positionOf(100));
    bench.settle();
    const Length shows = shownAt(101);
    bench.host.order.erase(100, 1);
    bench.run.eraseRecords(100, 1);
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(shownAt(100), shows) << "that was 101";
    EXPECT_EQ(over().boxOf(over().positionOf(100)).crossExtent, Length::px(360))
        << "it has the whole lane now";
    EXPECT_EQ(bench.faults(), "");
    bench.host.order.erase(0, over().recordCount());
    bench.run.eraseRecords(0, over().recordCount());
    bench.frame();
    EXPECT_EQ(bench.faults(), "");
}

TEST_F(PlacedRunTest, WhenTheFirstGoesThatCoveredTheWindowWhatElseCoversItStays) {
    tell([](std::int64_t record) {
        return record < 2 ? std::optional(GivenPlace{Length::px(record * 50), Length::px(3000), 0})
                          : std::nullopt;
    });
    bench.run.travelTo(Length::px(500));
    bench.settle();
    ASSERT_EQ(bench.run.hold().position, 0);
    bench.host.order.erase(0, 1);
    bench.run.eraseRecords(0, 1);
    EXPECT_EQ(bench.frame().jump, Length{});
    EXPECT_EQ(shownAt(0), Length::px(-450)) << "that was 1";
    EXPECT_EQ(bench.faults(), "");
}

} // namespace
} // namespace scorrere
