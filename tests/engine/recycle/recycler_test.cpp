// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/recycle/recycler.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

TEST(Recycler, BuildsOnlyWhenNoneOfTheKindWaits) {
    Recycler recycler;
    const auto a = recycler.acquire(0, 0, 0, 100);
    EXPECT_TRUE(a.built);
    recycler.releaseOutside(5, 9);
    const auto other = recycler.acquire(5, 1, 0, 100);
    EXPECT_TRUE(other.built) << "one of another kind is of no use";
    const auto again = recycler.acquire(6, 0, 0, 100);
    EXPECT_FALSE(again.built);
    EXPECT_EQ(again.view, a.view);
}

TEST(Recycler, TakesTheFarthestBeyondWhatIsKept) {
    Recycler recycler;
    for (std::int64_t p = 0; p < 5; ++p) {
        (void)recycler.acquire(p, 0, 0, 4);
    }
    const auto taken = recycler.acquire(9, 0, 3, 9);
    EXPECT_FALSE(taken.built);
    EXPECT_EQ(recycler.carrierOf(0).index, -1);
    EXPECT_EQ(recycler.carrierOf(9), taken.view);
    recycler.checkInvariants();
}

TEST(Recycler, FollowsEdits) {
    Recycler recycler;
    for (std::int64_t p = 10; p < 14; ++p) {
        (void)recycler.acquire(p, 0, 0, 100);
    }
    const ViewId eleven = recycler.carrierOf(11);
    recycler.inserted(11, 5);
    EXPECT_EQ(recycler.carrierOf(16), eleven);
    recycler.erased(10, 6);
    EXPECT_EQ(recycler.carrierOf(10), eleven);
    EXPECT_EQ(recycler.pooled(), 1u);
    recycler.moved(10, 12);
    EXPECT_EQ(recycler.carrierOf(12), eleven);
    recycler.checkInvariants();
}

TEST(Recycler, StaleViewsGoUntilFilledAgain) {
    Recycler recycler;
    (void)recycler.acquire(1, 0, 0, 9);
    const auto b = recycler.acquire(2, 0, 0, 9);
    recycler.filled(b.view);
    EXPECT_EQ(recycler.releaseStale(), 1);
    recycler.markStale(2);
    EXPECT_EQ(recycler.releaseStale(), 1);
}

} // namespace
} // namespace scorrere
