// SPDX-License-Identifier: GPL-3.0-or-later
// Orders of a collection that runs: found by a worker, landed in a frame; what is read stays where it is.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "render/worker_slices.h"
#include "testing/program/held_workers.h"
#include "testing/program/settled.h"

#include <QTest>
#include <algorithm>
#include <atomic>
#include <gtest/gtest.h>
#include <map>
#include <set>

namespace scorrere::render {
namespace {

constexpr const char* kItems = R"({"record": {"row": [{"text": "{note}", "lines": 0, "width": 300}]}})";
constexpr const char* kList = R"({"list": {"gap": 3}})";

/// From `lateFrom` on they have a field that those before do not.
std::shared_ptr<const RecordTable> notes(std::int64_t count, std::int64_t lateFrom = -1) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setInteger(builder.fieldNamed("number"), i * 7919 % 1000);
        builder.setText(builder.fieldNamed("group"), "group " + std::to_string(i * 7919 % 1000 / 50));
        builder.setText(builder.fieldNamed("note"),
                        (i % 5 == 0 ? "pale " : "dark ") +
                            std::string(static_cast<std::size_t>(i * 31 % 83), 'm'));
        builder.setBoolean(builder.fieldNamed("far"), i < 1000 || i >= 2900);
        if (lateFrom >= 0 && i >= lateFrom) {
            builder.setBoolean(builder.fieldNamed("late"), true);
        }
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument documentOf(const std::string& arrangement, const std::string& order = "{}") {
    auto document = CollectionDocument::parse(R"({"scorrere": 1, "source": {"demo": {}}, "items": )" +
                                                  std::string(kItems) + R"(, "arrangement": )" + arrangement +
                                                  R"(, "order": )" + order + "}",
                                              "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

class Ordered : public testing::Settled {
public:
    Ordered(std::int64_t count, Estimating how, const std::string& arrangement = kList,
            const std::string& order = "{}")
        : Settled(documentOf(arrangement, order), notes(count), how) {}
    std::vector<std::int64_t> records() const {
        std::vector<std::int64_t> all;
        for (std::int64_t place = 0; place < live->recordCount(); ++place) {
            all.push_back(live->contextAt(place)->record);
        }
        return all;
    }
    void order(const OrderSpec& spec, std::optional<ChangeWay> forced = std::nullopt) {
        live->setOrder(spec, forced);
        EXPECT_TRUE(QTest::qWaitFor([&] {
            settle();
            return !live->isOrdering();
        }));
        settle();
    }
    /// The record that is held, and how far from the window's start it shows.
    std::pair<std::int64_t, Length> read() {
        const HoldPoint& hold = live->run().hold();
        const Slot slot = live->run().arrangement().slotAt(hold.position);
        return {slot.role == Role::Record ? live->contextAt(slot.place)->record : -1, hold.onScreen};
    }
};

OrderSpec where(const std::string& rule) {
    OrderSpec spec;
    spec.where = rule;
    return spec;
}
OrderSpec sortedBy(const std::string& field, bool descending = false) {
    OrderSpec spec;
    spec.by = {{field, descending, false}};
    return spec;
}

TEST(LiveOrdering, FiltersSortsSearchesAndShuffles) {
    for (const Estimating how : {Estimating::AtOnce, Estimating::Background}) {
        Ordered shown(9000, how);
        shown.order(where("@.number < 100"));
        EXPECT_EQ(shown.live->recordCount(), 900);
        for (const std::int64_t record : shown.records()) {
            ASSERT_LT(record * 7919 % 1000, 100);
        }
        OrderSpec both = sortedBy("number", true);
        both.containing = "PALE";
        shown.order(both);
        const auto sorted = shown.records();
        ASSERT_EQ(sorted.size(), 1800u);
        EXPECT_TRUE(std::ranges::is_sorted(sorted, std::ranges::greater(),
                                           [](std::int64_t record) { return record * 7919 % 1000; }));
        OrderSpec shuffle;
        shuffle.shuffled = 3;
        shown.order(shuffle);
        const auto shuffled = shown.records();
        EXPECT_EQ(std::set(shuffled.begin(), shuffled.end()).size(), 9000u);
        EXPECT_FALSE(std::ranges::is_sorted(shuffled));
        shown.order({});
        EXPECT_TRUE(std::ranges::is_sorted(shown.records()));
        EXPECT_EQ(shown.live->ordersEver(), 4);
    }
}

TEST(LiveOrdering, WhatIsReadStaysWhereItIsWhateverTheArrangement) {
    for (const char* arrangement : {kList, R"({"grid": {"columns": 3}})", R"({"columns": {"lanes": 2}})",
                                    R"({"list": {"sections": {"by": "{far}"}}})", R"({"table": {}})"}) {
        Ordered shown(3000, Estimating::Background, arrangement);
        shown.live->run().jumpTo(1500);
        shown.settle();
        const auto [record, at] = shown.read();
        ASSERT_GE(record, 0);
        shown.order(sortedBy("number"), ChangeWay::InPlace);
        const auto& told = shown.live->orderTold();
        EXPECT_EQ(told.stayed + told.moved, 3000);
        bool isThere = false;
        for (const Placement& placement : shown.live->run().placements()) {
            const Slot slot = shown.live->run().arrangement().slotAt(placement.position);
            if (slot.role == Role::Record && shown.live->contextAt(slot.place)->record == record) {
                isThere = true;
                EXPECT_EQ(placement.box.start, at) << arrangement;
            }
        }
        EXPECT_TRUE(isThere) << arrangement;
    }
}

TEST(LiveOrdering, OfWhatWentTheNearestStaysAndOfNobodyTheStart) {
    Ordered shown(3000, Estimating::Background);
    shown.live->showRecord(2000);
    shown.settle();
    const Length at = shown.read().second;
    shown.order(where("@.far == true"));
    EXPECT_EQ(shown.live->orderTold().choice.way, ChangeWay::Afresh) << "nothing that showed is in it";
    EXPECT_EQ(shown.read(), (std::pair<std::int64_t, Length>{2900, at}));
    shown.order({});
    shown.live->showRecord(2000);
    shown.settle();
    shown.order(where("@.number > 5000"));
    EXPECT_EQ(shown.live->recordCount(), 0);
    shown.order({});
    EXPECT_EQ(shown.live->recordCount(), 3000);
    EXPECT_EQ(shown.live->run().offset(), Length{});
}

TEST(LiveOrdering, OneGoesToTheStartWhereTheDocumentSaysSo) {
    Ordered shown(3000, Estimating::Background);
    shown.live->showRecord(2000);
    shown.settle();
    OrderSpec spec = sortedBy("number");
    spec.toStart.sort = true;
    shown.order(spec);
    EXPECT_EQ(shown.live->run().offset(), Length{});
    shown.live->showRecord(2000);
    shown.settle();
    spec.containing = "pale";
    shown.order(spec);
    EXPECT_GT(shown.live->run().offset(), Length{}) << "that was a search";
}

TEST(LiveOrdering, WhatIsKnownOfExtentsGoesAlong) {
    Ordered shown(9000, Estimating::Background);
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isEstimating();
    }));
    shown.settle();
    const Length total = shown.live->run().total();
    const std::int64_t known = shown.live->run().arrangement().knownBefore(9000);
    const std::int64_t measured = shown.live->run().arrangement().measuredBefore(9000);
    ASSERT_EQ(known, 9000);
    ASSERT_GT(measured, 5);
    shown.live->setOrder(sortedBy("number", true));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !shown.live->isIdle(); }));
    shown.live->frame(shown.now += 8000);
    EXPECT_EQ(shown.live->ordersEver(), 1);
    EXPECT_EQ(shown.live->run().arrangement().knownBefore(9000), known) << "in the frame it landed";
    EXPECT_GE(shown.live->run().arrangement().measuredBefore(9000), measured);
    EXPECT_LT(std::abs((shown.live->run().total() - total).toPx()), 400)
        << "but for what was measured in that frame";
    EXPECT_FALSE(shown.live->isEstimating()) << "nothing is unknown";
}

TEST(LiveOrdering, AnotherWidthForgetsWhatWasKnown) {
    Ordered shown(2000, Estimating::Background);
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isEstimating();
    }));
    shown.live->setWindow(180, 700);
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isEstimating();
    }));
    const Length total = shown.live->run().total();
    shown.order(sortedBy("number", true));
    EXPECT_LT(std::abs((shown.live->run().total() - total).toPx()), 500);
}

TEST(LiveOrdering, TheFirstFrameIsInOrderAlready) {
    Ordered shown(9000, Estimating::Background, kList, R"({"where": "@.number < 500"})");
    shown.live->frame(shown.now += 8000);
    EXPECT_FALSE(shown.live->run().placements().empty());
    for (const Placement& placement : shown.live->run().placements()) {
        const Slot slot = shown.live->run().arrangement().slotAt(placement.position);
        EXPECT_LT(shown.live->contextAt(slot.place)->record * 7919 % 1000, 500);
    }
    EXPECT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return shown.live->recordCount() == 4500;
    }));
}

TEST(LiveOrdering, RecordsThatComeArePutInPlace) {
    Ordered shown(2000, Estimating::Background, kList, R"({"by": [{"field": "number"}]})");
    ASSERT_TRUE(shown.live->grow(notes(5000), true));
    EXPECT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return shown.live->recordCount() == 5000 && !shown.live->isOrdering();
    }));
    EXPECT_TRUE(std::ranges::is_sorted(shown.records(), {},
                                       [](std::int64_t record) { return record * 7919 % 1000; }));
}

TEST(LiveOrdering, AFieldThatCameLaterIsFound) {
    Ordered shown(2000, Estimating::Background);
    shown.order(where("@.late == true"));
    EXPECT_EQ(shown.live->recordCount(), 0);
    ASSERT_TRUE(shown.live->grow(notes(2500, 2100), true));
    EXPECT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isOrdering();
    }));
    shown.settle();
    EXPECT_EQ(shown.live->recordCount(), 400);
}

TEST(LiveOrdering, AnEditMeanwhileMakesItBeginAgain) {
    Ordered shown(9000, Estimating::Background);
    shown.live->setOrder(where("@.number < 100"));
    shown.live->eraseRecords(0, 10);
    EXPECT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isOrdering();
    }));
    EXPECT_EQ(shown.live->recordCount(), 900);
}

TEST(LiveOrdering, AnotherWindowMeanwhileIsArrangedFor) {
    // In a grid, so that where items stand across shows what width they were arranged for.
    for (const bool hasCome : {false, true}) {
        Ordered shown(9000, Estimating::Background, R"({"grid": {"columns": 2}})",
                      R"({"by": [{"field": "number"}]})");
        shown.settle();
        shown.live->setOrder(sortedBy("number", true));
        if (hasCome) { // and waits for its frame
            ASSERT_TRUE(QTest::qWaitFor([&] { return !shown.live->isIdle(); }));
        }
        shown.live->setWindow(200, 500);
        ASSERT_TRUE(QTest::qWaitFor([&] {
            shown.settle();
            return !shown.live->isOrdering();
        }));
        shown.settle();
        ASSERT_FALSE(shown.live->run().placements().empty());
        for (const Placement& placement : shown.live->run().placements()) {
            EXPECT_EQ(placement.box.crossExtent, Length::px(100));
        }
        EXPECT_TRUE(std::ranges::is_sorted(shown.records(), std::ranges::greater(),
                                           [](std::int64_t record) { return record * 7919 % 1000; }));
    }
}

TEST(LiveOrdering, SectionsStandOverTheOrderInTheFrameInWhichItLands) {
    Ordered shown(9000, Estimating::Background, R"({"list": {"sections": {"by": "{group}"}}})");
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return shown.live->headings().has_value();
    }));
    EXPECT_GT(shown.live->sections()->count(), 1000);
    shown.live->setOrder(sortedBy("number"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !shown.live->isIdle(); }));
    shown.live->frame(shown.now += 8000);
    EXPECT_EQ(shown.live->sections()->count(), 20);
    EXPECT_EQ(shown.live->headings(), 20);
}

/// Beside a scan: heading by heading as each is met first, in each as they stood.
TEST(LiveOrdering, GatheredThoseUnderOneHeadingStandTogether) {
    const std::string inSections = R"({"list": {"sections": {"by": "{group}"}}})";
    for (const Estimating how : {Estimating::AtOnce, Estimating::Background}) {
        Ordered shown(3000, how, inSections);
        for (OrderSpec spec : {where("@.number > 300"), sortedBy("number", true), OrderSpec()}) {
            shown.order(spec);
            const auto plain = shown.records();
            std::vector<std::string> headings;
            std::map<std::string, std::vector<std::int64_t>> under;
            const FieldHandle group = *shown.live->records().find("group");
            for (const std::int64_t record : plain) {
                const std::string heading(shown.live->records().text(record, group));
                if (under.try_emplace(heading).first->second.empty()) {
                    headings.push_back(heading);
                }
                under[heading].push_back(record);
            }
            std::vector<std::int64_t> expected;
            for (const std::string& heading : headings) {
                expected.insert(expected.end(), under[heading].begin(), under[heading].end());
            }
            spec.isGathered = true;
            shown.order(spec);
            EXPECT_EQ(shown.records(), expected);
            EXPECT_EQ(shown.live->sections()->count(), std::ssize(headings));
        }
    }
    Ordered begun(3000, Estimating::AtOnce, inSections, R"({"gathered": true})");
    EXPECT_EQ(begun.live->sections()->count(), 20) << "it begins so";
    Ordered bare(100, Estimating::AtOnce, kList, R"({"gathered": true})");
    EXPECT_TRUE(std::ranges::is_sorted(bare.records())) << "without sections they stand as they are";
}

TEST(LiveOrdering, WhatCannotBeOrderedIsToldAndWhatRanGoesOn) {
    Ordered shown(500, Estimating::Background);
    std::string told;
    QObject::connect(shown.live.get(), &LiveCollection::orderFailed,
                     [&](const Error& error) { told = error.text(); });
    shown.live->setOrder(sortedBy("wingspan"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return !told.empty(); }));
    EXPECT_NE(told.find("no field \"wingspan\""), std::string::npos) << told;
    EXPECT_EQ(shown.live->recordCount(), 500);
    EXPECT_FALSE(shown.live->isOrdering());
}

TEST(LiveOrdering, InPlaceIsChosenWhereOthersStayBesideWhatIsRead) {
    Ordered shown(3000, Estimating::Background);
    shown.live->showRecord(1500);
    shown.settle();
    shown.order(where("@.number != 5"));
    EXPECT_EQ(shown.live->orderTold().choice.way, ChangeWay::InPlace);
    EXPECT_EQ(shown.live->orderTold().went, 3);
    EXPECT_EQ(shown.live->orderTold().threads.size(), 240u);
    for (const auto& [before, after] : shown.live->orderTold().threads) {
        EXPECT_NEAR(before, after, 0.002) << "nobody moved";
    }
    EXPECT_EQ(shown.live->orderTold().moved, 0);
    OrderSpec shuffle;
    shuffle.shuffled = 1;
    shown.order(shuffle);
    EXPECT_EQ(shown.live->orderTold().choice.way, ChangeWay::Afresh);
}

TEST(LiveOrdering, WhatEachWayCostsIsMeasuredOnDemand) {
    Ordered shown(2000, Estimating::Background);
    shown.live->compareOrders();
    EXPECT_FALSE(shown.live->isComparing()) << "there was no change";
    shown.order(where("@.number < 500"));
    const auto records = shown.records();
    const auto compared = [&] {
        shown.live->compareOrders();
        return QTest::qWaitFor([&] { return shown.live->orderCosts() != nullptr; });
    };
    ASSERT_TRUE(compared());
    EXPECT_GT(shown.live->comparedShare(), 0.95) << "all of it, when it is over";
    EXPECT_EQ(shown.live->orderCosts()->moves, 1000) << "of single records: those that went";
    EXPECT_FALSE(shown.live->orderCosts()->isSinglyCut);
    EXPECT_GT(shown.live->orderCosts()->afreshMs, 0);
    EXPECT_EQ(shown.records(), records) << "what runs is left alone";
    shown.order({});
    EXPECT_EQ(shown.live->orderCosts(), nullptr) << "of another change";
    ASSERT_TRUE(compared());
    EXPECT_EQ(shown.live->orderCosts()->moves, 1000) << "those that came";
}

TEST(LiveOrdering, TheOrderInForceEndsTheSearchForAnother) {
    Ordered shown(2000, Estimating::Background);
    const OrderSpec some = where("@.number < 500");
    shown.order(some);
    const auto records = shown.records();
    const std::int64_t ever = shown.live->ordersEver();
    {
        const testing::HeldWorkers held;
        shown.live->setOrder(sortedBy("number"));
        EXPECT_TRUE(shown.live->isOrdering());
        shown.live->setOrder(some);
        EXPECT_FALSE(shown.live->isOrdering());
        RecordEdit edit;
        edit.kind = RecordEdit::Kind::Remove;
        edit.key = "7";
        shown.live->setEdits({std::make_shared<const RecordEdit>(edit)});
        EXPECT_TRUE(shown.live->isOrdering());
        shown.live->setEdits({});
        EXPECT_FALSE(shown.live->isOrdering());
    }
    shown.settle();
    EXPECT_EQ(shown.records(), records);
    EXPECT_EQ(shown.live->ordersEver(), ever);
    EXPECT_FALSE(shown.live->isEstimating()) << "what was put off for it was done";
}

TEST(LiveOrdering, AnOrderOfFewerRecordsThanThereAreIsNotInForce) {
    Ordered shown(2000, Estimating::Background);
    const OrderSpec sorted = sortedBy("number");
    shown.order(sorted);
    {
        const testing::HeldWorkers held;
        ASSERT_TRUE(shown.live->grow(notes(3000), false));
        shown.live->setOrder(where("@.number < 500"));
        shown.live->setOrder(sorted);
        EXPECT_TRUE(shown.live->isOrdering()) << "those that came are not in it yet";
    }
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return !shown.live->isOrdering();
    }));
    EXPECT_EQ(shown.live->recordCount(), 3000);
    EXPECT_TRUE(std::ranges::is_sorted(shown.records(), {}, [](std::int64_t r) { return r * 7919 % 1000; }));
}

TEST(LiveOrdering, AWayCanBeForced) {
    Ordered shown(3000, Estimating::Background);
    const OrderSpec order = sortedBy("number");
    shown.order(order, ChangeWay::Afresh);
    EXPECT_EQ(shown.live->orderTold().choice.way, ChangeWay::Afresh);
    EXPECT_TRUE(shown.live->orderTold().choice.isForced);
    shown.order(order, ChangeWay::InPlace);
    EXPECT_EQ(shown.live->orderTold().choice.way, ChangeWay::InPlace);
    EXPECT_EQ(shown.live->orderTold().stayed, 3000) << "it was in that order already";
}

TEST(WorkerSlices, EachIsDoneOnceByOneHandAtATime) {
    startWorkers();
    constexpr std::int64_t kSlices = 500;
    std::atomic<bool> isOver = false;
    std::vector<std::atomic<int>> done(kSlices);
    std::atomic<int> together = 0;
    runOnWorker([&] {
        WorkerSlices slices;
        std::vector<std::atomic<int>> busy(static_cast<std::size_t>(slices.hands()));
        slices.run(kSlices, [&](std::int64_t slice, int hand) {
            together += busy[static_cast<std::size_t>(hand)].fetch_add(1) > 0 ? 1 : 0;
            ++done[static_cast<std::size_t>(slice)];
            --busy[static_cast<std::size_t>(hand)];
        });
        slices.run(0, [&](std::int64_t, int) { ++together; });
        isOver = true;
    });
    ASSERT_TRUE(QTest::qWaitFor([&] { return isOver.load(); }));
    EXPECT_EQ(together, 0);
    EXPECT_TRUE(std::ranges::all_of(done, [](const auto& times) { return times == 1; }));
}

} // namespace
} // namespace scorrere::render
