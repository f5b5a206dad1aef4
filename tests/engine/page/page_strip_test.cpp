// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/page_strip.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using Kind = PlaceEdit::Kind;

std::vector<PageRecord> records(std::initializer_list<const char*> keys, std::uint64_t content = 1) {
    std::vector<PageRecord> made;
    for (const char* key : keys) {
        made.push_back({key, content, nullptr, 0});
    }
    return made;
}

TEST(PageStrip, PagesNobodyLookedAtHavePlaces) {
    PageStrip strip(20);
    strip.append(50'000, 20);
    EXPECT_EQ(strip.places(), 1'000'000);
    EXPECT_EQ(strip.pageAt(999'999), 49'999);
    EXPECT_EQ(strip.recordAt(123'456), nullptr);
    strip.setCount(49'999, 3);
    EXPECT_EQ(strip.places(), 999'983);
    EXPECT_THAT(strip.takeEdits(),
                ElementsAre(PlaceEdit{Kind::Insert, 0, 1'000'000}, PlaceEdit{Kind::Erase, 999'983, 17}));
}

TEST(PageStrip, APageThatComesFillsItsPlaces) {
    PageStrip strip(3);
    strip.append(2, 3);
    (void)strip.takeEdits();
    const auto taken = strip.take(1, records({"a", "b"}), 10);
    EXPECT_EQ(taken.fresh, 2);
    EXPECT_THAT(strip.takeEdits(), ElementsAre(PlaceEdit{Kind::Refill, 3, 2}, PlaceEdit{Kind::Erase, 5, 1}));
    EXPECT_EQ(strip.recordAt(3)->key, "a");
    EXPECT_EQ(strip.placeOfKey("b"), 4);
    strip.checkInvariants();
}

TEST(PageStrip, WhatSlidOverThePagesEdgeMovesNothingOnScreen) {
    PageStrip strip(3);
    strip.append(1, 0);
    strip.take(0, records({"a", "b", "c"}), 1);
    strip.append(1, 0);
    (void)strip.takeEdits();
    const auto taken =
        strip.take(1, records({"c", "d", "e"}), 1); // one was inserted at the service before "a"
    EXPECT_THAT(taken.from, ElementsAre(0));
    EXPECT_EQ(taken.known, 1);
    EXPECT_EQ(taken.fresh, 2);
    EXPECT_THAT(strip.takeEdits(), ElementsAre(PlaceEdit{Kind::Insert, 3, 2}));
    EXPECT_EQ(strip.countOf(0), 2);
    strip.checkInvariants();
}

TEST(PageStrip, ChangedAndGoneAreTold) {
    PageStrip strip(4);
    strip.append(1, 0);
    strip.take(0, records({"a", "b", "c"}), 1);
    (void)strip.takeEdits();
    auto next = records({"c", "a"});
    next[1].content = 2;
    const auto taken = strip.take(0, next, 1);
    EXPECT_EQ(taken.known, 1);
    EXPECT_EQ(taken.changed, 1);
    EXPECT_EQ(taken.gone, 1);
    EXPECT_THAT(strip.takeEdits(), ElementsAre(PlaceEdit{Kind::Move, 2, 0}, PlaceEdit{Kind::Refill, 1, 1},
                                               PlaceEdit{Kind::Erase, 2, 1}));
}

TEST(PageStrip, ADroppedPageKeepsItsLength) {
    PageStrip strip(10);
    strip.append(1, 0);
    strip.take(0, records({"a", "b", "c"}), 30);
    EXPECT_EQ(strip.loadedBytes(), 30);
    strip.drop(0);
    EXPECT_EQ(strip.places(), 3);
    EXPECT_TRUE(strip.wasDropped(0));
    EXPECT_EQ(strip.find("a"), nullptr);
    EXPECT_EQ(strip.loadedBytes(), 0);
    strip.setPageSize(50); // what pages are thought to have says nothing of one that was here
    EXPECT_EQ(strip.places(), 3);
    strip.checkInvariants();
}

TEST(PageStrip, StreamedRecordsStandAboveAndAPageTakesThemOver) {
    PageStrip strip(3);
    strip.append(1, 0);
    strip.take(0, records({"a", "b"}), 1);
    strip.addStreamed(records({"new"}));
    (void)strip.takeEdits();
    EXPECT_EQ(strip.pageAt(0), PageStrip::kStreamed);
    strip.take(0, records({"new", "a", "b"}), 1);
    EXPECT_TRUE(strip.takeEdits().empty()); // it stands where it stood
    EXPECT_EQ(strip.streamedCount(), 0);
    strip.checkInvariants();
}

TEST(PageStrip, OfFarPagesOneKnowsTheLengthInAll) {
    PageStrip strip(2);
    strip.append(4, 2);
    strip.take(0, records({"a0", "b0"}), 1);
    strip.take(1, records({"a1", "b1"}), 1);
    strip.take(2, records({"a2", "b2"}), 1);
    strip.take(3, records({"a3", "b3"}), 1);
    strip.drop(0);
    strip.drop(1);
    strip.drop(3);
    EXPECT_THAT(strip.remembered(), ElementsAre(0, 1, 3));
    (void)strip.takeEdits();
    strip.setFar(0, 2);
    EXPECT_THAT(strip.takeEdits(), ElementsAre(PlaceEdit{Kind::Far, 0, 4}));
    EXPECT_THAT(strip.remembered(), ElementsAre(3));
    EXPECT_TRUE(strip.wasDropped(0)); // it can be asked for as any other
    strip.take(0, records({"a0", "b0"}), 1);
    strip.cutFrom(2);
    EXPECT_TRUE(strip.remembered().empty());
    strip.checkInvariants();
}

TEST(PageStrip, OfWhatCameLiveOnlyTheNewestAreLeft) {
    PageStrip strip(2);
    strip.append(1, 0);
    strip.take(0, records({"a", "b"}), 1);
    strip.addStreamed(records({"new"}));
    strip.addStreamed(records({"newer", "new too"}));
    EXPECT_EQ(strip.newestStreamed(), "newer");
    EXPECT_THAT(strip.streamedAbove("new"), ElementsAre("newer", "new too"));
    EXPECT_TRUE(strip.isStreamed("new"));
    EXPECT_FALSE(strip.isStreamed("a"));
    (void)strip.takeEdits();
    strip.cutStreamed(1);
    EXPECT_THAT(strip.takeEdits(), ElementsAre(PlaceEdit{Kind::Erase, 1, 2}));
    EXPECT_EQ(strip.recordAt(0)->key, "newer");
    EXPECT_EQ(strip.recordAt(1)->key, "a");
    EXPECT_EQ(strip.find("new"), nullptr);
    strip.checkInvariants();
}

RC_GTEST_PROP(PageStrip, TakesAnyAnswerByEditsThatLeadToIt, ()) {
    PageStrip strip(4);
    strip.append(3, 4);
    std::vector<std::string> mirror(12);
    (void)strip.takeEdits();
    for (int step = *rc::gen::inRange(1, 20); step > 0; --step) {
        const auto page = *rc::gen::inRange<std::int64_t>(0, 3);
        std::vector<PageRecord> answer;
        for (int i = *rc::gen::inRange(0, 7); i > 0; --i) {
            answer.push_back({std::string(1, static_cast<char>('a' + *rc::gen::inRange(0, 12))),
                              *rc::gen::inRange<std::uint64_t>(0, 3), nullptr, 0});
        }
        strip.take(page, answer, 1);
        if (*rc::gen::inRange(0, 4) == 0) {
            strip.addStreamed(records({"x", "y"}));
        }
        for (const PlaceEdit& edit : strip.takeEdits()) {
            const auto at = mirror.begin() + edit.place;
            switch (edit.kind) {
            case Kind::Insert:
                mirror.insert(at, static_cast<std::size_t>(edit.count), "?");
                break;
            case Kind::Erase:
                mirror.erase(at, at + edit.count);
                break;
            case Kind::Move: {
                const std::string held = *at;
                mirror.erase(at);
                mirror.insert(mirror.begin() + edit.count, held);
                break;
            }
            case Kind::Refill:
                std::fill(at, at + edit.count, "?");
                break;
            case Kind::Far:
                RC_FAIL("no page was dropped");
            }
        }
        RC_ASSERT(static_cast<std::int64_t>(mirror.size()) == strip.places());
        for (std::size_t i = 0; i < mirror.size(); ++i) {
            const PageRecord* record = strip.recordAt(static_cast<std::int64_t>(i));
            const std::string held = record == nullptr ? "" : record->key + std::to_string(record->content);
            RC_ASSERT(mirror[i] == "?" || mirror[i] == held);
            mirror[i] = held;
        }
        strip.checkInvariants();
    }
}

} // namespace
} // namespace scorrere
