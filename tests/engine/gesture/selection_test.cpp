// SPDX-License-Identifier: GPL-3.0-or-later
// Selection beside a plain set of keys, and what is so of items beside a plain map.
#include "engine/change/order_change.h"
#include "engine/gesture/item_states.h"
#include "engine/gesture/selection.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <map>
#include <numeric>
#include <rapidcheck/gtest.h>
#include <set>

namespace scorrere {
namespace {

constexpr std::int64_t kAll = 30;

std::string keyOfNumber(std::int64_t record) {
    return "k" + std::to_string(record);
}

std::vector<std::uint32_t> anyOfThem() {
    std::vector<std::uint32_t> all(kAll);
    std::iota(all.begin(), all.end(), 0U);
    const auto weights =
        *rc::gen::container<std::vector<int>>(static_cast<std::size_t>(kAll), rc::gen::inRange(0, 50));
    std::erase_if(all, [&](std::uint32_t record) { return weights[record] % 3 == 0; });
    std::ranges::stable_sort(all, {}, [&](std::uint32_t record) { return weights[record]; });
    return all;
}

RC_GTEST_PROP(Selection, IsWhatAPlainSetSays, ()) {
    Selection selection;
    selection.setMode(SelectMode::Many);
    std::set<std::int64_t> plain;
    const auto invertPlain = [&] {
        std::set<std::int64_t> other;
        for (std::int64_t record = 0; record < kAll; ++record) {
            if (!plain.contains(record)) {
                other.insert(record);
            }
        }
        plain = other;
    };
    for (int step = 0; step < 25; ++step) {
        const auto record = *rc::gen::inRange<std::int64_t>(0, kAll);
        const std::string key = keyOfNumber(record);
        switch (*rc::gen::inRange(0, 7)) {
        case 0:
            selection.choose({key, record});
            plain = {record};
            RC_ASSERT(selection.anchor() == key);
            break;
        case 1:
        case 2:
            selection.turn({key, record});
            plain.contains(record) ? void(plain.erase(record)) : void(plain.insert(record));
            break;
        case 3: {
            const auto order = anyOfThem();
            if (order.empty()) {
                break;
            }
            const auto last = std::ssize(order) - 1;
            const auto a = *rc::gen::inRange<std::int64_t>(0, last + 1);
            const auto b = *rc::gen::inRange<std::int64_t>(0, last + 1);
            selection.chooseRange(RecordOrder(withPlaces(order, kAll)), a, b);
            plain.clear();
            for (std::int64_t place = std::min(a, b); place <= std::max(a, b); ++place) {
                plain.insert(order[static_cast<std::size_t>(place)]);
            }
            break;
        }
        case 4:
            selection.chooseAll();
            for (std::int64_t each = 0; each < kAll; ++each) {
                plain.insert(each);
            }
            break;
        case 5:
            selection.invert();
            invertPlain();
            break;
        case 6:
            selection.drop({key, record});
            plain.erase(record);
            break;
        }
        for (std::int64_t each = 0; each < kAll; ++each) {
            const std::string one = keyOfNumber(each);
            RC_ASSERT(selection.has({one, each}) == plain.contains(each));
        }
        RC_ASSERT(selection.countOf(kAll) == std::ssize(plain));
    }
}

TEST(Selection, OneAtATimeMeansOne) {
    Selection selection;
    selection.choose({"a", 0});
    EXPECT_TRUE(selection.isNone()) << "none can be selected as it begins";
    selection.setMode(SelectMode::One);
    selection.turn({"a", 0});
    selection.turn({"b", 1});
    EXPECT_FALSE(selection.has({"a", 0}));
    EXPECT_TRUE(selection.has({"b", 1}));
    selection.turn({"b", 1});
    EXPECT_EQ(selection.countOf(10), 0);
    selection.chooseAll();
    selection.invert();
    EXPECT_EQ(selection.countOf(10), 0);
    selection.choose({"", 3});
    EXPECT_EQ(selection.countOf(10), 0) << "what has no key cannot be";
    selection.setMode(SelectMode::Many);
    selection.chooseAll();
    selection.setMode(SelectMode::One);
    EXPECT_EQ(selection.countOf(10), 0) << "fewer than were: none are";
}

TEST(Selection, AllOfAMillionButThreeTakesTheRoomOfThree) {
    Selection selection;
    selection.setMode(SelectMode::Many);
    selection.chooseAll();
    for (const std::int64_t record : {5, 7, 9}) {
        selection.turn({keyOfNumber(record), record});
    }
    EXPECT_EQ(selection.countOf(1'000'000), 999'997);
    EXPECT_FALSE(selection.has({"k7", 7}));
    EXPECT_TRUE(selection.has({"anything that comes later", 2'000'000}));
    selection.turn({"k7", 7});
    EXPECT_EQ(selection.countOf(1'000'000), 999'998);
    EXPECT_FALSE(selection.forgetRange()) << "all are all, whatever their numbers";
    selection.chooseRange(RecordOrder(10), 2, 4);
    EXPECT_TRUE(selection.forgetRange());
    EXPECT_TRUE(selection.isNone());
}

RC_GTEST_PROP(ItemStates, WhatIsSoStaysWithTheKey, ()) {
    ItemStates states;
    std::map<ItemFlag, std::string> plain;
    std::set<std::string> seen;
    const auto keys = *rc::gen::container<std::vector<std::string>>(
        6, rc::gen::element<std::string>("", "a", "b", "c", "d"));
    for (int step = 0; step < 20; ++step) {
        const std::string key = *rc::gen::elementOf(keys);
        const auto flag = static_cast<ItemFlag>(*rc::gen::inRange(0, 7));
        if (flag == ItemFlag::Seen) {
            RC_ASSERT(states.see(key) == (!key.empty() && !seen.contains(key)));
            if (!key.empty()) {
                seen.insert(key);
            }
        } else {
            RC_ASSERT(states.give(flag, key) == plain[flag]);
            plain[flag] = key;
        }
        for (const std::string& each : keys) {
            ItemState wanted;
            for (const auto& [of, whose] : plain) {
                wanted.set(of, !each.empty() && whose == each);
            }
            wanted.set(ItemFlag::Seen, seen.contains(each));
            RC_ASSERT(states.of(each) == wanted);
        }
    }
}

} // namespace
} // namespace scorrere
