// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/page_strip.h"

#include <gtest/gtest.h>
#include <numeric>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using Kind = PlaceEdit::Kind;

std::vector<PageRecord> recordsOf(const std::vector<int>& keys, std::uint64_t content = 0) {
    std::vector<PageRecord> records;
    for (const int key : keys) {
        PageRecord record;
        record.key = std::to_string(key);
        record.content = content;
        records.push_back(std::move(record));
    }
    return records;
}

/// What somebody who only hears of the edits knows: how many places, and which of them to look at anew.
class Follower {
public:
    void follow(PageStrip& strip) {
        for (const PlaceEdit& edit : strip.takeEdits()) {
            const auto at = keys_.begin() + edit.place;
            switch (edit.kind) {
            case Kind::Insert:
                keys_.insert(at, static_cast<std::size_t>(edit.count), kLook);
                break;
            case Kind::Erase:
                keys_.erase(at, at + edit.count);
                break;
            case Kind::Move: {
                const std::string key = *at;
                keys_.erase(at);
                keys_.insert(keys_.begin() + edit.count, key);
                break;
            }
            case Kind::Refill:
                std::fill(at, at + edit.count, kLook);
                break;
            case Kind::Far:
                break;
            }
        }
        for (std::size_t place = 0; place < keys_.size(); ++place) {
            if (keys_[place] == kLook) {
                keys_[place] = shown(strip, static_cast<std::int64_t>(place));
            }
        }
    }
    /// Nothing that was not told to be looked at is another.
    bool isRight(PageStrip& strip) const {
        for (std::size_t place = 0; place < keys_.size(); ++place) {
            if (keys_[place] != shown(strip, static_cast<std::int64_t>(place))) {
                return false;
            }
        }
        return static_cast<std::int64_t>(keys_.size()) == strip.places();
    }

private:
    static std::string shown(PageStrip& strip, std::int64_t place) {
        const PageRecord* record = strip.recordAt(place);
        return record == nullptr ? "-" : record->key + "/" + std::to_string(record->content);
    }
    static constexpr const char* kLook = "?";
    std::vector<std::string> keys_;
};

RC_GTEST_PROP(PageTaking, InSlicesOrAtOnceTheEditsLeadThere, ()) {
    PageStrip atOnce(4);
    PageStrip slices(4);
    Follower followsAtOnce;
    Follower followsSlices;
    for (PageStrip* strip : {&atOnce, &slices}) {
        strip->append(3, 4);
    }
    for (int answers = *rc::gen::inRange(1, 8); answers > 0; --answers) {
        const std::int64_t page = *rc::gen::inRange(0, 3);
        const auto keys = *rc::gen::container<std::vector<int>>(rc::gen::inRange(0, 20));
        const auto content = static_cast<std::uint64_t>(*rc::gen::inRange(0, 2));
        const PageStrip::Taken whole = atOnce.take(page, recordsOf(keys, content), 10);
        slices.beginTaking(page, recordsOf(keys, content), 10);
        std::optional<PageStrip::Taken> taken;
        while (!taken) {
            taken = slices.takeSome(*rc::gen::inRange(1, 5));
            followsSlices.follow(slices);
            RC_ASSERT(followsSlices.isRight(slices));
            for (int key = 0; key < 20; ++key) {
                const auto place = taken ? slices.placeOfKey(std::to_string(key)) : std::nullopt;
                if (place) {
                    RC_ASSERT(slices.recordAt(*place)->key == std::to_string(key));
                }
            }
        }
        followsAtOnce.follow(atOnce);
        RC_ASSERT(followsAtOnce.isRight(atOnce));
        RC_ASSERT(taken->fresh == whole.fresh && taken->known == whole.known &&
                  taken->changed == whole.changed && taken->gone == whole.gone &&
                  taken->twice == whole.twice && taken->from == whole.from);
        atOnce.checkInvariants();
        slices.checkInvariants();
    }
}

TEST(PageTaking, OfAPageReversedEachRecordMovesOnce) {
    constexpr int kRecords = 100'000; // searching and shifting arrays took three minutes
    PageStrip strip(kRecords);
    strip.append(1, kRecords);
    std::vector<int> keys(kRecords);
    std::iota(keys.begin(), keys.end(), 0);
    strip.take(0, recordsOf(keys), 1);
    (void)strip.takeEdits();
    std::ranges::reverse(keys);
    const auto taken = strip.take(0, recordsOf(keys), 1);
    EXPECT_EQ(taken.known, kRecords);
    EXPECT_EQ(strip.takeEdits().size(), kRecords - 1U);
    EXPECT_EQ(strip.recordAt(0)->key, std::to_string(kRecords - 1));
    for (int& key : keys) {
        key += kRecords;
    }
    const auto fresh = strip.take(0, recordsOf(keys), 1);
    EXPECT_EQ(fresh.fresh, kRecords);
    EXPECT_EQ(fresh.gone, kRecords);
    EXPECT_EQ(strip.takeEdits().size(), 2U) << "all come at once, and all go";
}

TEST(LeftOf, CountsAndFindsWhatIsLeft) {
    LeftOf left(10);
    left.take(0);
    left.take(4);
    EXPECT_EQ(left.count(), 8U);
    EXPECT_EQ(left.before(5), 3U);
    EXPECT_EQ(left.nth(0), 1U);
    EXPECT_EQ(left.nth(3), 5U);
    EXPECT_EQ(left.nth(7), 9U);
    EXPECT_FALSE(left.has(4));
}

} // namespace
} // namespace scorrere
