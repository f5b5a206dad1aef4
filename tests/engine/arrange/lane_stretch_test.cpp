// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/lane_stretch.h"

#include <algorithm>
#include <deque>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

/// The same with a deque of items that know where they stand.
struct PlainStretch {
    struct Item {
        int lane = 0;
        std::int64_t start = 0;
        std::int64_t entry = 0;
    };
    explicit PlainStretch(const std::vector<std::int32_t>& edges)
        : tops(edges.begin(), edges.end()), ends(tops) {}
    void append(std::int64_t entry) {
        const auto lane = std::ranges::min_element(ends) - ends.begin();
        items.push_back({static_cast<int>(lane), ends[static_cast<std::size_t>(lane)], entry});
        ends[static_cast<std::size_t>(lane)] += entry;
    }
    void prepend(std::int64_t entry) {
        std::size_t lane = tops.size() - 1;
        for (std::size_t other = tops.size(); other-- > 0;) {
            lane = tops[other] > tops[lane] ? other : lane;
        }
        tops[lane] -= entry;
        items.push_front({static_cast<int>(lane), tops[lane], entry});
    }
    void setEntry(std::size_t index, std::int64_t entry, bool upward) {
        const int lane = items[index].lane;
        const std::int64_t by = entry - items[index].entry;
        items[index].entry = entry;
        for (std::size_t i = 0; i < items.size(); ++i) {
            if (items[i].lane == lane && (upward ? i <= index : i > index)) {
                items[i].start += upward ? -by : by;
            }
        }
        (upward ? tops : ends)[static_cast<std::size_t>(lane)] += upward ? -by : by;
    }
    std::int64_t top() const { return *std::ranges::min_element(tops); }

    std::vector<std::int64_t> tops;
    std::vector<std::int64_t> ends;
    std::deque<Item> items;
};

void expectSame(const LaneStretch& real, const PlainStretch& plain) {
    real.checkInvariants();
    RC_ASSERT(real.size() == plain.items.size());
    RC_ASSERT(real.height().raw() == *std::ranges::max_element(plain.ends) - plain.top());
    for (std::size_t i = 0; i < plain.items.size(); ++i) {
        RC_ASSERT(real.lane(i) == plain.items[i].lane);
        RC_ASSERT(real.start(i).raw() == plain.items[i].start - plain.top());
        RC_ASSERT(real.entry(i).raw() == plain.items[i].entry);
    }
    for (int lane = 0; lane < real.lanes(); ++lane) {
        RC_ASSERT(real.laneTop(lane).raw() == plain.tops[static_cast<std::size_t>(lane)] - plain.top());
        RC_ASSERT(real.laneEnd(lane).raw() == plain.ends[static_cast<std::size_t>(lane)] - plain.top());
    }
    const Length offset = Length::fromRaw(*rc::gen::inRange<std::int64_t>(-500, real.height().raw() + 500));
    const std::size_t first = real.firstBeyond(offset);
    for (std::size_t i = 0; i < first; ++i) {
        RC_ASSERT(real.start(i) + real.entry(i) <= offset);
    }
    if (first < real.size()) { // and none that could be passed over, but for the last one of a lane
        bool isLast = true;
        for (std::size_t i = first + 1; i < real.size(); ++i) {
            isLast = isLast && real.lane(i) != real.lane(first);
        }
        RC_ASSERT((isLast || real.start(first) + real.entry(first) > offset));
    }
}

RC_GTEST_PROP(LaneStretch, StandsItemsAsAPlainOneDoes, ()) {
    std::vector<std::int32_t> edges(static_cast<std::size_t>(*rc::gen::inRange(1, 6)));
    for (std::int32_t& edge : edges) {
        edge = *rc::gen::element(0, 0, 900, 5000);
    }
    LaneStretch real(1000, edges);
    PlainStretch plain(edges);
    const int steps = *rc::gen::inRange(1, 60);
    for (int step = 0; step < steps; ++step) {
        const std::int64_t entry = *rc::gen::inRange<std::int64_t>(0, 20'000);
        switch (*rc::gen::inRange(0, 8)) {
        case 0:
        case 1:
        case 2:
            real.append(Length::fromRaw(entry));
            plain.append(entry);
            break;
        case 3:
        case 4:
            real.prepend(Length::fromRaw(entry));
            plain.prepend(entry);
            break;
        case 5:
            if (real.size() > 0) {
                const auto index = *rc::gen::inRange<std::size_t>(0, real.size());
                const bool upward = *rc::gen::arbitrary<bool>();
                real.setEntry(index, Length::fromRaw(entry), upward);
                plain.setEntry(index, entry, upward);
            }
            break;
        case 6:
            if (real.size() > 0) {
                real.dropLast();
                plain.ends[static_cast<std::size_t>(plain.items.back().lane)] = plain.items.back().start;
                plain.items.pop_back();
            }
            break;
        default:
            if (real.size() > 0) {
                real.dropFirst();
                const auto& item = plain.items.front();
                plain.tops[static_cast<std::size_t>(item.lane)] = item.start + item.entry;
                plain.items.pop_front();
            }
        }
        expectSame(real, plain);
    }
    // Parted, both stand as they did: the one behind moves up to where its lanes touch those before it.
    const auto count = static_cast<std::int64_t>(real.size());
    const std::int64_t at = real.first() + *rc::gen::inRange<std::int64_t>(0, count + 1);
    const LaneStretch whole = real;
    const LaneStretch rest = real.splitAt(at);
    real.checkInvariants();
    rest.checkInvariants();
    RC_ASSERT(real.until() == at);
    RC_ASSERT(rest.first() == at);
    RC_ASSERT(rest.until() == whole.until());
    // From the whole's top; the first part's top may be lower when it has no items.
    const Length base = real.height() - real.overlapWith(rest);
    for (std::size_t i = 0; i < rest.size(); ++i) {
        const std::size_t before = real.size() + i;
        RC_ASSERT(rest.lane(i) == whole.lane(before));
        RC_ASSERT(base + rest.start(i) == whole.start(before));
    }
}

TEST(LaneStretch, TheNextGoesWhereItEndsFirstThePreviousWhereItBeginsLast) {
    LaneStretch stretch(10, {0, 0, 0});
    for (const int px : {50, 20, 30}) {
        stretch.append(Length::px(px));
    }
    stretch.append(Length::px(5));
    EXPECT_EQ(stretch.lane(3), 1);
    EXPECT_EQ(stretch.start(3), Length::px(20));
    EXPECT_EQ(stretch.firstEnd(), Length::px(25));
    stretch.prepend(Length::px(40));
    EXPECT_EQ(stretch.lane(0), 2) << "of level ones the last, so that they read from the first";
    stretch.prepend(Length::px(10));
    EXPECT_EQ(stretch.lane(0), 1);
    EXPECT_EQ(stretch.first(), 8);
    EXPECT_EQ(stretch.lastTop(), Length::px(40)) << "the first lane has nothing there yet";
    EXPECT_FALSE(stretch.beginsLevel());
    EXPECT_EQ(stretch.height(), Length::px(90));
}

} // namespace
} // namespace scorrere
