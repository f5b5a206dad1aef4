// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/extent/extent_index.h"

#include "testing/engine/plain_extents.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::PlainExtents;

/// One random edit, done to both and printed when a property fails.
void editBoth(ExtentIndex& index, PlainExtents& plain) {
    const auto size = static_cast<std::int64_t>(plain.items.size());
    const int what = *rc::gen::inRange(0, size == 0 ? 1 : 11);
    const auto many = [](std::int64_t most) {
        return *rc::gen::oneOf(rc::gen::inRange<std::int64_t>(0, std::min<std::int64_t>(most, 5) + 1),
                               rc::gen::inRange<std::int64_t>(0, most + 1));
    };
    const auto at = [&](std::int64_t end) { return *rc::gen::inRange<std::int64_t>(0, end); };
    switch (what) {
    case 0: {
        const std::int64_t p = at(size + 1);
        const std::int64_t n = many(1500);
        const int kind = *rc::gen::inRange(0, 3);
        RC_LOG() << "insert " << p << " " << n << " kind " << kind << "\n";
        index.insert(p, n, kind);
        plain.items.insert(plain.items.begin() + p, static_cast<std::size_t>(n), {0, kind, 0});
        break;
    }
    case 1: {
        const std::int64_t p = at(size);
        const std::int64_t n = many(std::min<std::int64_t>(size - p, 1200));
        RC_LOG() << "erase " << p << " " << n << "\n";
        index.erase(p, n);
        plain.items.erase(plain.items.begin() + p, plain.items.begin() + p + n);
        break;
    }
    case 2: {
        const std::int64_t from = at(size);
        const std::int64_t to = at(size);
        RC_LOG() << "move " << from << " " << to << "\n";
        index.move(from, to);
        const auto item = plain.items[static_cast<std::size_t>(from)];
        plain.items.erase(plain.items.begin() + from);
        plain.items.insert(plain.items.begin() + to, item);
        break;
    }
    case 3: {
        const std::int64_t p = at(size);
        std::vector<std::int32_t> extents(
            static_cast<std::size_t>(many(std::min<std::int64_t>(size - p, 700))));
        for (std::size_t i = 0; i < extents.size(); ++i) {
            extents[i] = static_cast<std::int32_t>((i * 2654435761u) % 5000) - 600;
            auto& item = plain.items[static_cast<std::size_t>(p) + i];
            if (item.state != 2) {
                item.state = extents[i] < 0 ? 0 : 1;
                item.value = extents[i];
            }
        }
        RC_LOG() << "setEstimated " << p << " " << extents.size() << "\n";
        index.setEstimated(p, extents);
        break;
    }
    case 4: {
        const int kind = *rc::gen::inRange(0, 3);
        const std::int64_t estimate = *rc::gen::inRange<std::int64_t>(0, 4000);
        RC_LOG() << "setEstimate " << kind << " " << estimate << "\n";
        index.setEstimate(kind, Length::fromRaw(estimate));
        plain.estimates[static_cast<std::size_t>(kind)] = estimate;
        break;
    }
    case 5: {
        const std::int64_t p = at(size);
        std::int64_t n = many(std::min<std::int64_t>(size - p, 1200));
        const int kind = plain.items[static_cast<std::size_t>(p)].kind;
        const auto from = plain.items.begin() + p;
        n = std::find_if(from, from + n, [kind](const auto& item) { return item.kind != kind; }) - from;
        RC_LOG() << "evenOut " << p << " " << n << "\n";
        index.evenOut(p, n);
        const std::int64_t sum =
            plain.offset(static_cast<std::size_t>(p + n)) - plain.offset(static_cast<std::size_t>(p));
        for (std::int64_t i = 0; i < n; ++i) {
            from[i] = {1, kind, sum / n + (i < sum % n ? 1 : 0)};
        }
        break;
    }
    case 6: { // found first, written when others were asked for
        const std::int64_t p = at(size);
        auto& item = plain.items[static_cast<std::size_t>(p)];
        const auto state = static_cast<ExtentState>(*rc::gen::inRange(0, 3));
        const std::int64_t extent = *rc::gen::inRange<std::int64_t>(0, 9000);
        RC_LOG() << "setKnown " << p << " " << extent << " " << static_cast<int>(state) << "\n";
        auto place = index.find(p);
        (void)index.extentOf(at(size));
        const auto before = index.setKnown(place, {Length::fromRaw(extent), state});
        RC_ASSERT(static_cast<int>(before) == item.state);
        item.state = static_cast<int>(state);
        item.value = extent;
        break;
    }
    case 7: {
        const std::int64_t p = at(size);
        const std::int64_t extent = *rc::gen::inRange<std::int64_t>(0, 9000);
        RC_LOG() << "setMeasured among others " << p << " " << extent << "\n";
        const std::int64_t first = std::max<std::int64_t>(0, p - at(30));
        std::vector<ExtentIndex::Known> around(
            static_cast<std::size_t>(std::min(p + 1 + at(30), size) - first));
        auto place = index.find(p);
        index.setMeasured(place, Length::fromRaw(extent), first, around);
        plain.items[static_cast<std::size_t>(p)].state = 2;
        plain.items[static_cast<std::size_t>(p)].value = extent;
        for (std::size_t i = 0; i < around.size(); ++i) {
            const std::size_t is = static_cast<std::size_t>(first) + i;
            RC_ASSERT(around[i].extent.raw() == plain.extent(is));
            RC_ASSERT(static_cast<int>(around[i].state) == plain.items[is].state);
        }
        break;
    }
    default: {
        const std::int64_t p = at(size);
        const std::int64_t extent =
            *rc::gen::oneOf(rc::gen::just<std::int64_t>(0), rc::gen::inRange<std::int64_t>(0, 9000));
        RC_LOG() << "setMeasured " << p << " " << extent << "\n";
        const auto before = index.setMeasured(p, Length::fromRaw(extent));
        RC_ASSERT(static_cast<int>(before) == plain.items[static_cast<std::size_t>(p)].state);
        plain.items[static_cast<std::size_t>(p)].state = 2;
        plain.items[static_cast<std::size_t>(p)].value = extent;
    }
    }
}

void compare(ExtentIndex& index, const PlainExtents& plain, ExtentIndex::Sums sums) {
    const auto size = static_cast<std::int64_t>(plain.items.size());
    RC_ASSERT(index.size() == size);
    const bool hasSums = sums == ExtentIndex::Sums::Kept;
    RC_ASSERT((!hasSums || index.total().raw() == plain.offset(plain.items.size())));
    for (int i = 0; i < 12; ++i) {
        const std::int64_t p = *rc::gen::inRange<std::int64_t>(0, size + 1);
        const auto u = static_cast<std::size_t>(p);
        RC_ASSERT((!hasSums || index.offsetOf(p).raw() == plain.offset(u)));
        RC_ASSERT(index.measuredBefore(p) == plain.count(u, 2));
        RC_ASSERT(index.knownBefore(p) == plain.count(u, 1));
        if (p < size) {
            RC_ASSERT(index.extentOf(p).raw() == plain.extent(u));
            RC_ASSERT((!hasSums || index.standOf(p).offset.raw() == plain.offset(u)));
            RC_ASSERT((!hasSums || index.standOf(p).extent.raw() == plain.extent(u)));
            RC_ASSERT(static_cast<int>(index.stateOf(p)) == plain.items[u].state);
            RC_ASSERT(index.kindOf(p) == plain.items[u].kind);
        }
        std::vector<ExtentIndex::Known> known(static_cast<std::size_t>(
            *rc::gen::inRange<std::int64_t>(0, std::min<std::int64_t>(size - p, 700) + 1)));
        index.read(p, known);
        for (std::size_t k = 0; k < known.size(); ++k) {
            RC_ASSERT(known[k].extent.raw() == plain.extent(u + k));
            RC_ASSERT(static_cast<int>(known[k].state) == plain.items[u + k].state);
        }
        if (hasSums && index.total() > Length{}) {
            const Length x = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, index.total().raw()));
            const std::int64_t found = index.indexAt(x);
            RC_ASSERT(index.offsetOf(found) <= x);
            RC_ASSERT(x < index.offsetOf(found + 1));
        }
    }
}

RC_GTEST_PROP(ExtentIndex, AgreesWithAPlainVectorUnderRandomEdits, ()) {
    const auto sums = *rc::gen::element(ExtentIndex::Sums::Kept, ExtentIndex::Sums::None);
    ExtentIndex index(sums);
    PlainExtents plain;
    for (int kind = 0; kind < 3; ++kind) {
        plain.estimates[static_cast<std::size_t>(kind)] = 100 * (kind + 1);
        index.setEstimate(kind, Length::fromRaw(100 * (kind + 1)));
    }
    if (*rc::gen::arbitrary<bool>()) { // begins with many at once
        std::vector<ExtentIndex::Run> runs;
        const auto longest = *rc::gen::element<std::int64_t>(3, 60, 600);
        for (int n = *rc::gen::inRange(0, 300), kind = 0; n > 0; --n) {
            kind = (kind + *rc::gen::inRange(1, 3)) % 3;
            runs.push_back({*rc::gen::inRange<std::int64_t>(1, longest), kind});
            plain.items.insert(plain.items.end(), static_cast<std::size_t>(runs.back().count), {0, kind, 0});
        }
        index.insertAll(runs);
        index.checkInvariants();
    }
    const int edits = *rc::gen::inRange(1, 60);
    for (int i = 0; i < edits; ++i) {
        editBoth(index, plain);
    }
    index.checkInvariants();
    compare(index, plain, sums);
}

TEST(ExtentIndex, AnEmptyOneHasNoLength) {
    ExtentIndex index;
    EXPECT_EQ(index.total(), Length{});
    EXPECT_EQ(index.indexAt(Length::px(5)), 0);
    EXPECT_EQ(index.offsetOf(0), Length{});
}

TEST(ExtentIndex, OffsetsOutsideAreTheEnds) {
    ExtentIndex index;
    index.setEstimate(0, Length::px(10));
    index.insert(0, 5, 0);
    EXPECT_EQ(index.indexAt(Length::px(-1)), 0);
    EXPECT_EQ(index.indexAt(Length::px(49)), 4);
    EXPECT_EQ(index.indexAt(Length::px(50)), 5);
}

TEST(ExtentIndex, ANewEstimateReachesUnmeasuredItemsOnly) {
    ExtentIndex index;
    index.setEstimate(0, Length::px(10));
    index.insert(0, 1000, 0);
    index.setMeasured(500, Length::px(70));
    index.setEstimate(0, Length::px(20));
    EXPECT_EQ(index.total(), Length::px(999 * 20 + 70));
    EXPECT_EQ(index.offsetOf(501), Length::px(500 * 20 + 70));
}

TEST(ExtentIndex, UnmeasuredItemsCostNothingAndMeasuredOnesLittle) {
    ExtentIndex index;
    index.setEstimate(0, Length::px(80));
    const std::int64_t n = 1'000'000;
    index.insert(0, n, 0);
    EXPECT_LT(index.memoryBytes(), 200'000u);
    for (std::int64_t i = 0; i < n; ++i) {
        index.setMeasured(i, Length::fromRaw(1000 + i % 900));
    }
    EXPECT_LT(static_cast<double>(index.memoryBytes()) / static_cast<double>(n), 8.0);
    index.checkInvariants();
}

TEST(ExtentIndex, WhatIsEvenedOutKeepsItsLengthAndCostsNothingAnItem) {
    ExtentIndex index;
    index.setEstimate(0, Length::px(80));
    const std::int64_t n = 500'000;
    index.insert(0, n, 0);
    std::size_t early = 0;
    for (std::int64_t i = 0; i < n; ++i) {
        index.setMeasured(i, Length::fromRaw(1000 + i % 900));
        if (i % 1000 == 999 && i > 20'000) {
            const Length before = index.offsetOf(i - 19'999);
            index.evenOut(i - 20'999, 1000);
            ASSERT_EQ(index.offsetOf(i - 19'999), before);
        }
        early = i == n / 10 ? index.memoryBytes() : early;
    }
    EXPECT_LT(index.memoryBytes(), early + static_cast<std::size_t>(n) / 2);
    EXPECT_EQ(index.measuredBefore(n), 20'000);
    EXPECT_EQ(index.knownBefore(n), n);
    index.setEstimate(0, Length::px(90)); // what was evened out does not follow it
    EXPECT_EQ(index.total(),
              Length::fromRaw(n * 1000 + 899 * 900 / 2 * (n / 900) + (n % 900) * (n % 900 - 1) / 2));
    index.checkInvariants();
}

TEST(ExtentIndex, ErasingGivesLeavesBackForUseAgain) {
    ExtentIndex index;
    index.setEstimate(0, Length::px(80));
    index.insert(0, 100'000, 0);
    for (std::int64_t i = 0; i < 100'000; i += 3) {
        index.setMeasured(i, Length::px(9));
    }
    const std::size_t full = index.memoryBytes();
    for (int round = 0; round < 5; ++round) {
        index.erase(0, 90'000);
        index.insert(0, 90'000, 0);
        for (std::int64_t i = 0; i < 90'000; i += 3) {
            index.setMeasured(i, Length::px(9));
        }
        index.checkInvariants();
    }
    EXPECT_LT(index.memoryBytes(), full + full / 4);
}

} // namespace
} // namespace scorrere
