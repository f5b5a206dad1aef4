// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/change/order_change.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <numeric>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

constexpr std::int64_t kRecords = 40;

/// Some of the records, in any order.
std::vector<std::uint32_t> anyOrderOfSome() {
    std::vector<std::uint32_t> all(kRecords);
    std::iota(all.begin(), all.end(), 0U);
    const auto keys =
        *rc::gen::container<std::vector<int>>(static_cast<std::size_t>(kRecords), rc::gen::inRange(0, 100));
    const bool isSorted = *rc::gen::arbitrary<bool>();
    std::erase_if(all, [&](std::uint32_t record) { return keys[record] % 4 == 0; });
    if (!isSorted) {
        std::ranges::stable_sort(all, {}, [&](std::uint32_t record) { return keys[record]; });
    }
    return all;
}

/// By trying every one: the longest ascending run that ends at each.
std::int64_t plainLongest(const std::vector<std::uint32_t>& places) {
    std::vector<std::int64_t> longest(places.size(), 1);
    std::int64_t most = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
        for (std::size_t j = 0; j < i; ++j) {
            longest[i] = places[j] < places[i] ? std::max(longest[i], longest[j] + 1) : longest[i];
        }
        most = std::max(most, longest[i]);
    }
    return most;
}

RC_GTEST_PROP(OrderChange, IsWhatComparingPlaceByPlaceFinds, ()) {
    auto before = anyOrderOfSome();
    const auto after = anyOrderOfSome();
    const bool isGiven = *rc::gen::arbitrary<bool>(); // the table's own order, as far as it was known then
    if (isGiven) {
        before.resize(static_cast<std::size_t>(*rc::gen::inRange<std::int64_t>(0, kRecords + 1)));
        std::iota(before.begin(), before.end(), 0U);
    }
    if (!isGiven && *rc::gen::arbitrary<bool>()) { // all of them, and not in the table's order
        before.resize(static_cast<std::size_t>(kRecords));
        std::iota(before.rbegin(), before.rend(), 0U);
    }
    const RecordOrder was =
        isGiven ? RecordOrder(std::ssize(before)) : RecordOrder(withPlaces(before, kRecords));
    RC_ASSERT(was.isTableOrder() == (isGiven || before.empty()));
    const auto forced =
        *rc::gen::element<std::optional<ChangeWay>>(std::nullopt, ChangeWay::InPlace, ChangeWay::Afresh);
    std::vector<std::int64_t> shown;
    for (std::int64_t place = 3; place < std::min<std::int64_t>(std::ssize(before), 8); ++place) {
        shown.push_back(place);
    }
    const std::int64_t held = shown.empty() || *rc::gen::arbitrary<bool>() ? -1 : shown.front();
    const auto change = OrderChange::make(was, withPlaces(after, kRecords), shown, held, forced, {});
    std::vector<std::uint32_t> kept;
    const auto nowOf = [&](std::int64_t place) {
        const auto found = std::ranges::find(after, before[static_cast<std::size_t>(place)]);
        return found == after.end() ? -1 : found - after.begin();
    };
    std::int64_t together = 0;
    for (const std::int64_t place : shown) {
        const std::int64_t read = held < 0 ? 0 : nowOf(held);
        const bool isNear =
            read >= 0 && nowOf(place) >= 0 && std::abs(nowOf(place) - read) <= std::ssize(shown);
        together += place != held && isNear ? 1 : 0;
    }
    for (std::size_t place = 0; place < before.size(); ++place) {
        const std::int64_t now = nowOf(static_cast<std::int64_t>(place));
        RC_ASSERT(change->placeNow(static_cast<std::int64_t>(place)) == now);
        if (now >= 0) {
            RC_ASSERT(change->keptBefore(std::ssize(kept)) == static_cast<std::int64_t>(place));
            kept.push_back(static_cast<std::uint32_t>(now));
        }
    }
    RC_ASSERT(change->kept() == std::ssize(kept));
    RC_ASSERT(change->went() == std::ssize(before) - std::ssize(kept));
    RC_ASSERT(change->came() == std::ssize(after) - std::ssize(kept));
    RC_ASSERT(change->choice().together == together);
    const bool isInPlace = forced ? *forced == ChangeWay::InPlace : together > 0;
    RC_ASSERT((change->choice().way == ChangeWay::InPlace) == isInPlace);
    RC_ASSERT(change->stayed() == (isInPlace ? plainLongest(kept) : 0));
    RC_ASSERT(change->moved() == std::ssize(kept) - change->stayed());
    const auto place = *rc::gen::inRange<std::int64_t>(0, kRecords);
    std::int64_t nearest = -1;
    for (std::int64_t one = 0; one < std::ssize(before); ++one) {
        const bool isNearer = std::abs(one - place) <= std::abs(nearest - place); // the one behind it of two
        nearest = change->placeNow(one) >= 0 && (nearest < 0 || isNearer) ? one : nearest;
    }
    RC_ASSERT(change->nearestBefore(place) == nearest);
}

RC_GTEST_PROP(OrderChange, SaysWhatCameOrWentTogether, ()) {
    auto some = anyOrderOfSome();
    RC_PRE(some.size() > 4U);
    const auto from = *rc::gen::inRange<std::size_t>(0, some.size());
    const auto count = *rc::gen::inRange<std::size_t>(1, some.size() - from + 1);
    auto fewer = some;
    fewer.erase(fewer.begin() + static_cast<std::ptrdiff_t>(from),
                fewer.begin() + static_cast<std::ptrdiff_t>(from + count));
    const auto change = [](const std::vector<std::uint32_t>& was, const std::vector<std::uint32_t>& is) {
        auto made = OrderChange::make(RecordOrder(withPlaces(was, kRecords)), withPlaces(is, kRecords), {},
                                      -1, ChangeWay::InPlace, {});
        RC_ASSERT(static_cast<bool>(made));
        return made->together();
    };
    const OrderChange::Together gone{static_cast<std::int64_t>(from), -static_cast<std::int64_t>(count)};
    RC_ASSERT(change(some, fewer) == gone);
    RC_ASSERT(change(fewer, some) == (OrderChange::Together{gone.place, -gone.count}));
    RC_ASSERT(change(some, some) == std::nullopt);
    // Two runs with one between them that stays, and some that only moved, are no one run.
    auto holes = some;
    holes.erase(holes.begin() + 2);
    holes.erase(holes.begin());
    RC_ASSERT(change(some, holes) == std::nullopt);
    std::swap(some[0], some[1]);
    RC_ASSERT(from < 2 || change(fewer, some) == std::nullopt);
}

TEST(OrderChange, InPlaceTakesLongerByModelAndOneCanStopIt) {
    std::vector<std::uint32_t> all(20'000);
    std::iota(all.begin(), all.end(), 0U);
    std::vector<std::uint32_t> reversed(all.rbegin(), all.rend());
    const RecordOrder before(std::ssize(all));
    const auto after = withPlaces(reversed, std::ssize(all));
    const auto change = OrderChange::make(before, after, {}, -1, std::nullopt, {});
    EXPECT_EQ(change->choice().way, ChangeWay::Afresh) << "nothing that shows stays";
    EXPECT_GT(change->choice().inPlaceMs, change->choice().afreshMs);
    std::stop_source source;
    source.request_stop();
    EXPECT_EQ(OrderChange::make(before, after, {}, -1, ChangeWay::InPlace, source.get_token()).error().code,
              ErrorCode::Cancelled);
    EXPECT_EQ(longestAscending(reversed, source.get_token()), -1);
}

} // namespace
} // namespace scorrere
