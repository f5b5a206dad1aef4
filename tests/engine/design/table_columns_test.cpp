// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/table_columns.h"

#include "testing/engine/tables.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

TEST(TableColumns, AreFixedOrHaveAShareOrFollowTheirCells) {
    TableColumns columns = testing::someColumns();
    columns.setRoom(Length::px(360));
    ASSERT_EQ(columns.count(), 4U);
    EXPECT_EQ(columns.widthOf(0), Length::px(60));
    EXPECT_EQ(columns.widthOf(1), Length{}) << "nothing was seen";
    EXPECT_EQ(columns.widthOf(2), Length::px(360 - 60 - 30));
    const std::uint32_t before = columns.revision();
    columns.see(1, Length::fromPx(80.2));
    EXPECT_NE(columns.revision(), before);
    EXPECT_EQ(columns.widthOf(1), Length::px(81)) << "whole px";
    EXPECT_EQ(columns.widthOf(2), Length::px(360 - 60 - 81 - 30));
    EXPECT_EQ(columns.startOf(3), Length::px(360));
    EXPECT_EQ(columns.across(), Length::px(360));
    const std::uint32_t grown = columns.revision();
    columns.see(1, Length::px(40));
    columns.see(0, Length::px(400));
    EXPECT_EQ(columns.revision(), grown) << "narrower, and one that is fixed";
}

TEST(TableColumns, GoBeyondTheirRoomRatherThanStarveAShare) {
    TableColumns columns = testing::someColumns();
    columns.setRoom(Length::px(360));
    columns.see(1, Length::px(150));
    columns.see(3, Length::px(150));
    EXPECT_EQ(columns.widthOf(2), TableColumns::kLeastShare);
    EXPECT_EQ(columns.across(), Length::px(60 + 150 + 64 + 150 + 30));
    columns.see(3, Length::px(9000));
    EXPECT_EQ(columns.widthOf(3), Length::px(360)) << "no cell is wider than the window";
    columns.forget();
    EXPECT_EQ(columns.across(), Length::px(360));
}

TEST(TableColumns, AnotherKindMayHaveMoreCells) {
    const ItemDesign item = testing::compiled(testing::rowOf({testing::cell(Length::px(30))}));
    const ItemDesign kind =
        testing::compiled(testing::rowOf({testing::cell(Length::px(99)), testing::cell(Length::px(40))}));
    PartSpec other;
    other.type = PartType::Column;
    const ItemDesign whole = testing::compiled(other);
    const std::array<const ItemDesign*, 3> all{&item, &whole, &kind};
    const TableColumns columns(all);
    ASSERT_EQ(columns.count(), 2U);
    EXPECT_EQ(columns.widthOf(0), Length::px(30)) << "the item says it";
    EXPECT_EQ(columns.startOf(1), Length::px(40));
    EXPECT_FALSE(TableColumns::areIn(whole));
    EXPECT_EQ(TableColumns({all.data() + 1, 1}).count(), 0U);
}

RC_GTEST_PROP(TableColumns, StandSideBySideAndOnlyGrow, ()) {
    TableColumns columns = testing::someColumns();
    columns.setRoom(Length::px(*rc::gen::inRange(0, 900)));
    for (int step = *rc::gen::inRange(0, 20); step > 0; --step) {
        const auto column = *rc::gen::inRange<std::size_t>(0, columns.count());
        const Length before = columns.widthOf(column);
        const Length sees = Length::fromRaw(*rc::gen::inRange(0, 50'000));
        columns.see(column, sees);
        if (columns.followsCells(column)) {
            RC_ASSERT(columns.widthOf(column) >= std::max(before, std::min(sees, columns.most())));
        }
        Length at;
        for (std::size_t i = 0; i < columns.count(); ++i) {
            RC_ASSERT(columns.startOf(i) == at);
            at += columns.widthOf(i) + Length::px(10);
        }
        RC_ASSERT(columns.across() >= at - Length::px(10));
    }
}

} // namespace
} // namespace scorrere
