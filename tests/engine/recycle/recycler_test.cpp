// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/recycle/recycler.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

constexpr auto fromNone = [](std::int64_t) { return false; };

TEST(Recycler, BuildsOnlyWhenNoneOfTheKindWaits) {
    Recycler recycler;
    const auto a = recycler.acquire(0, 0, fromNone);
    EXPECT_TRUE(a.built);
    recycler.releaseUnless([](std::int64_t p) { return p >= 5 && p <= 9; });
    const auto other = recycler.acquire(5, 1, fromNone);
    EXPECT_TRUE(other.built) << "one of another kind is of no use";
    const auto again = recycler.acquire(6, 0, fromNone);
    EXPECT_FALSE(again.built);
    EXPECT_EQ(again.view, a.view);
}

TEST(Recycler, TakesFromTheFarthestThatItMayTakeFrom) {
    Recycler recycler;
    for (std::int64_t p = 0; p < 5; ++p) {
        (void)recycler.acquire(p, 0, fromNone);
    }
    const auto taken = recycler.acquire(9, 0, [](std::int64_t from) { return from != 0; });
    EXPECT_FALSE(taken.built);
    EXPECT_GE(recycler.carrierOf(0).index, 0) << "not from this one";
    EXPECT_EQ(recycler.carrierOf(1).index, -1);
    EXPECT_EQ(recycler.carrierOf(9), taken.view);
    EXPECT_EQ(recycler.acquire(10, 0, [](std::int64_t) { return true; }).view, ViewId{0});
    recycler.checkInvariants();
}

TEST(Recycler, FollowsEdits) {
    Recycler recycler;
    for (std::int64_t p = 10; p < 14; ++p) {
        (void)recycler.acquire(p, 0, fromNone);
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
    (void)recycler.acquire(1, 0, fromNone);
    const auto b = recycler.acquire(2, 0, fromNone);
    recycler.filled(b.view);
    EXPECT_EQ(recycler.releaseStale(), 1);
    recycler.markStale(2);
    EXPECT_EQ(recycler.releaseStale(), 1);
}

} // namespace
} // namespace scorrere
