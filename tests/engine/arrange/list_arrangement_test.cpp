// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/list_arrangement.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

constexpr Spacing kSpacing{Length::px(4), {Length::px(10), Length::px(6), Length::px(20), Length::px(8)}};
constexpr Ends kBoth{true, true};
constexpr Arrangement::Estimates kThought{Length::px(50), Length::px(30), Length::px(15)};

TEST(ListArrangement, StandsItemsBelowEachOtherWithGapsAndInsets) {
    ListArrangement list(kSpacing, kBoth, 3, kThought);
    list.setCross(Length::px(100));
    EXPECT_EQ(list.size(), 5);
    EXPECT_EQ(list.startOf(0), Length::px(10));
    EXPECT_EQ(list.startOf(1), Length::px(44));
    EXPECT_EQ(list.extentOf(1), Length::px(50));
    EXPECT_EQ(list.total(), Length::px(10 + 30 + 4 + 3 * 54 + 15 + 20));
    EXPECT_EQ(list.givenFor(0).crossExtent, Length::px(86));
    EXPECT_EQ(list.indexAt(Length::px(0)), 0);
    EXPECT_EQ(list.indexAt(Length::px(44)), 1);
    EXPECT_EQ(list.indexAt(Length::px(43)), 0) << "a gap belongs to the item before it";
    EXPECT_EQ(list.indexAt(Length::px(9999)), 4);
}

TEST(ListArrangement, KnowsWhatStandsWhere) {
    ListArrangement list(kSpacing, kBoth, 2, kThought);
    EXPECT_EQ(list.slotAt(0).role, Role::Header);
    EXPECT_EQ(list.slotAt(1).place, 0);
    EXPECT_EQ(list.slotAt(3).role, Role::Footer);
    list.insertRecords(2, 4);
    EXPECT_EQ(list.slotAt(7).role, Role::Footer);
    list.eraseRecords(0, 6);
    EXPECT_EQ(list.recordCount(), 0);
    EXPECT_EQ(list.slotAt(1).role, Role::Footer);
}

TEST(ListArrangement, ForgettingKeepsItemsAndKindsAndHandsTheOldOut) {
    ListArrangement list(kSpacing, kBoth, 100, kThought);
    list.setMeasured(5, Length::px(500));
    Arrangement::Forgotten old = list.forgetExtents(kThought);
    EXPECT_EQ(old[0].measuredBefore(102), 1);
    EXPECT_EQ(list.measuredBefore(102), 0);
    EXPECT_EQ(list.extentOf(0), Length::px(30));
    EXPECT_EQ(list.extentOf(101), Length::px(15));
    EXPECT_EQ(list.size(), 102);
}

TEST(ListArrangement, NothingAtAllHasOnlyInsets) {
    ListArrangement list(kSpacing, {}, 0, kThought);
    EXPECT_EQ(list.total(), Length::px(30));
    EXPECT_EQ(list.indexAt(Length{}), -1);
}

} // namespace
} // namespace scorrere
