// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of records while they run: what is read stays, only what carries them is filled again.
#include "engine/record/record_builder.h"
#include "engine/record/record_json.h"
#include "render/live_collection.h"
#include "testing/program/settled.h"

#include <QTest>
#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <random>

namespace scorrere::render {
namespace {

using Kind = RecordEdit::Kind;
using ::testing::HasSubstr;

constexpr const char* kSays = R"({"record": {"row": [{"text": "{note}", "lines": 0, "width": 300}]}})";

std::shared_ptr<const RecordTable> watches(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("id"), "w" + std::to_string(i));
        builder.setInteger(builder.fieldNamed("number"), i * 7919 % 1000);
        builder.setInteger(builder.fieldNamed("part"), i / 100);
        builder.setText(builder.fieldNamed("note"),
                        "note " + std::string(static_cast<std::size_t>(i * 31 % 83), 'm'));
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

class Edited : public testing::Settled {
public:
    explicit Edited(std::int64_t count, Estimating how = Estimating::Background,
                    const std::string& arrangement = R"({"list": {"gap": 3}})",
                    const std::string& order = "{}", const std::string& items = kSays)
        : Settled(*CollectionDocument::parse(
                      R"({"scorrere": 1, "source": {"demo": {}, "key": ["id"]}, "items": )" + items +
                          R"(, "arrangement": )" + arrangement + R"(, "order": )" + order + "}",
                      ""),
                  watches(count), how) {}
    void put(const std::vector<RecordEdit>& more) {
        for (const RecordEdit& edit : more) {
            edits.push_back(std::make_shared<const RecordEdit>(edit));
        }
        put();
    }
    void put() {
        live->setEdits(edits);
        ASSERT_TRUE(QTest::qWaitFor([this] {
            settle();
            return !live->isOrdering();
        }));
        settle();
    }
    std::vector<std::string> records() const {
        std::vector<std::string> all;
        for (std::int64_t place = 0; place < live->recordCount(); ++place) {
            const auto context = live->contextAt(place);
            all.push_back(recordJson(context->records, context->record));
        }
        return all;
    }
    std::string idOfHeld() {
        const Slot slot = live->run().arrangement().slotAt(live->run().hold().position);
        const auto context = live->contextAt(slot.place);
        return context->records.display(context->record, *context->records.find("id"));
    }
    RecordEdits edits;
};

RecordEdit set(std::string key, std::string field, std::string value) {
    return {Kind::Set, std::move(key), std::move(field), std::move(value), {}};
}

TEST(LiveEdits, OnlyTheViewThatCarriesItIsFilledAgainAndWhatIsReadStays) {
    Edited shown(3000);
    shown.live->showRecord(1500);
    shown.settle();
    const auto before = shown.live->run().placements();
    const FieldHandle note = *shown.live->records().find("note");
    std::string other = shown.live->records().display(1503, note); // as long as it was
    std::ranges::replace(other, 'm', 'n');
    shown.live->setEdits({std::make_shared<const RecordEdit>(set("w1503", "note", '"' + other + '"'))});
    int filled = 0;
    ASSERT_TRUE(QTest::qWaitFor([&] {
        filled = shown.live->frame(shown.now += 8000).filled;
        return shown.live->edited() != nullptr;
    }));
    EXPECT_EQ(filled, 1);
    EXPECT_EQ(shown.live->contextAt(1503)->records.display(1503, note), other);
    EXPECT_EQ(shown.live->run().placements().front().box.start, before.front().box.start);
    EXPECT_EQ(shown.live->ordersEver(), 0) << "nobody moved";
}

TEST(LiveEdits, WhereOthersMoveToo) {
    Edited shown(3000, Estimating::AtOnce);
    shown.settle(); // so that what shows at the start is measured
    shown.live->showRecord(1500);
    shown.settle();
    const Length total = shown.live->run().total();
    const auto longAt = [&](std::int64_t record, std::size_t length) {
        const std::string text(length, 'm');
        return set("w" + std::to_string(record), "note", '"' + text + '"');
    };
    shown.put({{Kind::Move, "w0", {}, {}, ""},
               longAt(1503, 2000),
               longAt(10, 9000)}); // one shows, the other is far away
    const Length now = shown.live->run().total();
    EXPECT_GT(now - total, Length::px(5000)) << "both are known to be longer";
    bool isLong = false;
    for (const Placement& placement : shown.live->run().placements()) {
        isLong = isLong || placement.box.extent > Length::px(1000);
    }
    EXPECT_TRUE(isLong);
    shown.edits.clear();
    shown.put();
    EXPECT_LT(std::abs((shown.live->run().total() - total).toPx()), 100);
}

TEST(LiveEdits, AnExtentAboveTheWindowMovesNothingOnScreen) {
    Edited shown(3000);
    shown.live->showRecord(1500);
    shown.settle();
    const auto shows = [&] {
        std::vector<std::pair<std::int64_t, std::int64_t>> where;
        for (const Placement& placement : shown.live->run().placements()) {
            if (placement.showing) {
                where.emplace_back(placement.position, placement.box.start.raw());
            }
        }
        return where;
    };
    const auto before = shows();
    const Length total = shown.live->run().total();
    shown.put({set("w1498", "note", '"' + std::string(2000, 'm') + '"')});
    EXPECT_EQ(shows(), before);
    EXPECT_GT(shown.live->run().total(), total + Length::px(200)) << "it is ready there, and longer";
}

TEST(LiveEdits, InAnOrderItGoesWhereItBelongs) {
    Edited shown(3000, Estimating::Background, R"({"list": {}})",
                 R"({"by": [{"field": "number"}], "where": "@.number < 500"})");
    ASSERT_TRUE(QTest::qWaitFor([&] {
        shown.settle();
        return shown.live->recordCount() == 1500;
    }));
    shown.put({set("w0", "number", "-5"), set("w1", "number", "3")}); // the second was filtered out
    EXPECT_EQ(shown.live->recordCount(), 1501);
    EXPECT_THAT(shown.records().front(), HasSubstr("\"w0\""));
    Edited fresh(3000, Estimating::AtOnce, R"({"list": {}})",
                 R"({"by": [{"field": "number"}], "where": "@.number < 500"})");
    fresh.edits = shown.edits;
    fresh.put();
    EXPECT_EQ(shown.records(), fresh.records());
}

TEST(LiveEdits, RecordsComeGoAndAreBroughtBackAndWhatIsReadStays) {
    Edited shown(2000);
    const auto before = shown.records();
    shown.live->showRecord(1000);
    shown.settle();
    const std::string held = shown.idOfHeld();
    const Length at = shown.live->run().hold().onScreen;
    shown.put({{Kind::Remove, "w3", {}, {}, {}},
               {Kind::Insert, {}, {}, R"({"id": "new", "note": "new"})", "w5"},
               {Kind::Move, "w1990", {}, {}, "w0"}});
    EXPECT_EQ(shown.live->recordCount(), 2000);
    EXPECT_EQ(shown.idOfHeld(), held);
    EXPECT_EQ(shown.live->run().hold().onScreen, at);
    EXPECT_THAT(shown.records().front(), HasSubstr("w1990"));
    EXPECT_THAT(shown.records()[5], HasSubstr("\"new\""));
    shown.edits.erase(shown.edits.begin()); // brought back where it was
    shown.put();
    EXPECT_THAT(shown.records()[4], HasSubstr("w3"));
    shown.edits.clear();
    shown.put();
    EXPECT_EQ(shown.records(), before);
    EXPECT_EQ(shown.live->edited(), nullptr);
    EXPECT_EQ(shown.idOfHeld(), held);
}

TEST(LiveEdits, WhatWasInsertedIsTheSameWhenAnotherInsertedBeforeItGoes) {
    Edited shown(50);
    shown.put({{Kind::Insert, {}, {}, R"({"id": "one", "note": "one"})", ""},
               {Kind::Insert, {}, {}, R"({"id": "two", "note": "two"})", ""}});
    shown.live->run().key(KeyStep::ToEnd);
    shown.settle();
    shown.edits.erase(shown.edits.begin());
    shown.put();
    EXPECT_EQ(shown.live->recordCount(), 51);
    EXPECT_THAT(shown.records().back(), HasSubstr("two"));
    EXPECT_EQ(shown.live->orderTold().went, 1);
    EXPECT_EQ(shown.live->orderTold().came, 0);
}

TEST(LiveEdits, ABurstIsGatheredAndItsLastStateIsInForce) {
    Edited shown(5000, Estimating::Background, R"({"list": {}})", R"({"by": [{"field": "number"}]})");
    shown.settle();
    const std::int64_t orders = shown.live->ordersEver();
    for (int i = 0; i < 1000; ++i) {
        shown.edits.push_back(std::make_shared<const RecordEdit>(
            set("w" + std::to_string(i * 5), "number", std::to_string(-i))));
        shown.live->setEdits(shown.edits);
        if (i % 100 == 0) {
            shown.live->frame(shown.now += 8000);
        }
    }
    shown.put();
    EXPECT_THAT(shown.records().front(), HasSubstr("\"w4995\""));
    EXPECT_LT(shown.live->ordersEver() - orders, 100) << "not each by itself";
}

TEST(LiveEdits, AFieldThatBecomesAnotherTypeIsReadAsThatEverywhere) {
    // In the arrangement, too: sections by it.
    for (const char* order : {"{}", R"({"by": [{"field": "number"}]})"}) {
        Edited shown(2000, Estimating::Background, R"({"list": {"sections": {"by": "{part}"}}})", order);
        ASSERT_TRUE(QTest::qWaitFor([&] {
            shown.settle();
            return shown.live->headings().has_value();
        }));
        EXPECT_EQ(shown.live->headings(), 20);
        shown.put({set("w0", "part", "\"first\"")});
        ASSERT_TRUE(QTest::qWaitFor([&] {
            shown.settle();
            return shown.live->headings() == 21;
        }));
        EXPECT_EQ(shown.live->records().field(*shown.live->records().find("part")).type, FieldType::Text);
        shown.edits.clear();
        shown.put();
        ASSERT_TRUE(QTest::qWaitFor([&] {
            shown.settle();
            return shown.live->headings() == 20;
        }));
    }
}

TEST(LiveEdits, WhereADesignDoesNotFitThemItIsToldAndWhatRanGoesOn) {
    Edited shown(200, Estimating::Background, R"({"list": {}})", "{}",
                 R"({"record": {"row": [{"text": "{number, number}"}]}})");
    std::string told;
    QObject::connect(shown.live.get(), &LiveCollection::orderFailed,
                     [&](const Error& error) { told = error.text(); });
    const auto before = shown.records();
    shown.put({set("w0", "number", "\"many\"")});
    EXPECT_THAT(told, HasSubstr("number"));
    EXPECT_EQ(shown.records(), before);
}

TEST(LiveEdits, ATapMeansWhatIsDrawnThereWhileItMoves) {
    Edited shown(200, Estimating::AtOnce, R"({"list": {}})", "{}",
                 R"({"record": {"tap": "open", "row": [{"text": "{note}", "lines": 0, "width": 300}]}})");
    shown.settle();
    shown.live->eraseRecords(0, 3);
    shown.live->frame(shown.now += 8000);
    bool isElsewhere = false;
    for (const Placement& placement : shown.live->run().placements()) {
        if (!placement.isDrawnIn(shown.live->run().window()) || placement.position > 3) {
            continue;
        }
        const QRectF box = shown.live->axis().onScreen(placement.drawnBox());
        const auto tap = shown.live->tapAt(box.left() + 9, box.top() + 9);
        ASSERT_TRUE(tap);
        EXPECT_EQ(tap->record, placement.position + 3);
        isElsewhere = isElsewhere || placement.drawnBox().start != placement.box.start;
    }
    EXPECT_TRUE(isElsewhere);
}

TEST(LiveEdits, AnotherCollectionOfThisSourceBeginsWithThem) {
    Edited shown(500);
    shown.put({set("w0", "note", "\"another\""), {Kind::Remove, "w1", {}, {}, {}}});
    const auto source = shown.live->edited()->source;
    CollectionDocument document = shown.live->document();
    auto inForce = shown.live->inForceFor(*source, document);
    ASSERT_TRUE(inForce);
    auto made =
        LiveCollection::create(document, source, nullptr, Estimating::AtOnce, nullptr, std::move(inForce));
    ASSERT_TRUE(made);
    EXPECT_EQ((*made)->recordCount(), 499);
    EXPECT_EQ((*made)->contextAt(0)->records.display(0, *source->find("note")), "another");
    document.edits.clear();
    EXPECT_FALSE(shown.live->inForceFor(*source, document));
}

/// Random edits, orders and scrolls in any arrangement: what a collection is that begins so.
TEST(LiveEdits, AnyEditsOrdersAndScrollsEndInWhatOneBegunSoIs) {
    std::mt19937_64 random(20);
    const auto any = [&](std::int64_t below) {
        return static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(below));
    };
    const std::vector<std::string> arrangements{R"({"list": {"gap": 3}})",
                                                R"({"grid": {"columns": 3}})",
                                                R"({"columns": {"lanes": 2}})",
                                                R"({"list": {"sections": {"by": "{part}"}}})",
                                                R"({"table": {}})",
                                                R"({"pager": {}})"};
    for (int round = 0; round < 24; ++round) {
        const std::string& arrangement = arrangements[static_cast<std::size_t>(round) % arrangements.size()];
        Edited shown(400, Estimating::AtOnce, arrangement);
        OrderSpec spec;
        for (int step = 0; step < 12; ++step) {
            const std::string key = "w" + std::to_string(any(400));
            switch (any(7)) {
            case 0:
                spec.by = any(3) == 0
                              ? std::vector<SortBy>()
                              : std::vector<SortBy>{{any(2) == 0 ? "number" : "note", any(2) == 0, false}};
                break;
            case 1:
                spec.where = any(2) == 0 ? "" : "@.number < " + std::to_string(any(1000));
                break;
            case 2:
                shown.live->run().wheel(Length::px(any(4000) - 2000));
                break;
            case 3:
                shown.edits.push_back(
                    std::make_shared<const RecordEdit>(RecordEdit{Kind::Remove, key, {}, {}, {}}));
                break;
            case 4:
                shown.edits.push_back(std::make_shared<const RecordEdit>(
                    RecordEdit{Kind::Insert,
                               {},
                               {},
                               "{\"id\": \"n" + std::to_string(step) +
                                   "\", \"number\": 7, \"part\": 1, \"note\": \"n\"}",
                               any(2) == 0 ? key : ""}));
                break;
            case 5:
                if (!shown.edits.empty()) {
                    shown.edits.erase(shown.edits.begin() + any(std::ssize(shown.edits)));
                }
                break;
            default:
                shown.edits.push_back(std::make_shared<const RecordEdit>(
                    any(2) == 0 ? set(key, "number", std::to_string(any(1000)))
                                : set(key, "note",
                                      '"' + std::string(static_cast<std::size_t>(any(300)), 'x') + '"')));
                break;
            }
            shown.live->setOrder(spec);
            shown.live->setEdits(shown.edits);
            for (std::int64_t frame = any(4); frame > 0; --frame) {
                shown.live->frame(shown.now += 8000);
                shown.live->run().checkInvariants();
            }
        }
        shown.settle();
        Edited fresh(400, Estimating::AtOnce, arrangement);
        fresh.edits = shown.edits;
        fresh.live->setOrder(spec);
        fresh.put();
        ASSERT_EQ(shown.records(), fresh.records()) << "round " << round;
        shown.live->run().travelTo(Length{});
        shown.settle();
        fresh.live->run().travelTo(Length{});
        fresh.settle();
        const auto starts = [](const Edited& of) {
            std::vector<std::pair<std::int64_t, std::int64_t>> all;
            for (const Placement& placement : of.live->run().placements()) {
                if (placement.showing) {
                    all.emplace_back(placement.position, placement.box.start.raw());
                }
            }
            std::ranges::sort(all);
            return all;
        };
        ASSERT_EQ(starts(shown), starts(fresh)) << "round " << round;
    }
}

} // namespace
} // namespace scorrere::render
