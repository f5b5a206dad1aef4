// SPDX-License-Identifier: GPL-3.0-or-later
// Items that stand where their records say, of a collection that runs: who reads it, when, and what is told where it
// cannot be.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "testing/program/paged_fixture.h"
#include "testing/program/settled.h"

#include <QDateTime>
#include <QImage>
#include <QPainter>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;

/// Each an hour after the one before, and of so many minutes; every eleventh has no start. `isMixed`: the last first.
std::shared_ptr<const RecordTable> hourlyRecords(std::int64_t count, bool isMixed = false) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        const std::int64_t at = isMixed ? count - 1 - i : i;
        builder.setInteger(builder.fieldNamed("number"), at);
        if (at % 11 != 10) {
            const auto time = [&](std::int64_t minutes) {
                const QDateTime start(QDate(2031, 3, 9), QTime(0, 0), Qt::UTC);
                return start.addSecs(minutes * 60).toString(Qt::ISODate).toStdString();
            };
            builder.setText(builder.fieldNamed("from"), time(at * 60));
            builder.setText(builder.fieldNamed("until"), time(at * 60 + 15 + at % 40));
        }
        builder.setText(builder.fieldNamed("site"), at % 3 == 0 ? "reeds" : at % 3 == 1 ? "gate" : "pool");
        builder.endRecord();
    }
    RecordTable made = builder.finish();
    return std::make_shared<const RecordTable>(std::move(made));
}

CollectionDocument placedDocument(const std::string& placed) {
    auto document = CollectionDocument::parse(
        R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": {"text": "{number}", "lines": 0}},
            "arrangement": {"placed": )" +
            placed + "}}",
        "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

const char* const kHours =
    R"({"start": "from", "end": "until", "lane": "site", "per": "hour", "scale": 120})";

class PlacedLive : public testing::Settled {
public:
    PlacedLive(const std::string& placed, std::shared_ptr<const RecordTable> records, Estimating how)
        : Settled(placedDocument(placed), std::move(records), how) {}
    Box boxOf(std::int64_t place) {
        Arrangement& all = live->run().arrangement();
        const std::int64_t position = all.find({Role::Record, place});
        return position < 0 ? Box() : all.boxOf(position);
    }
};

TEST(LivePlaces, AreReadAtOnceOfFewAndByAWorkerOfManyInWhateverOrder) {
    for (const std::int64_t count : {300, 9000}) {
        for (const Estimating how : {Estimating::AtOnce, Estimating::Background}) {
            for (const bool isMixed : {false, true}) {
                PlacedLive shown(kHours, hourlyRecords(count, isMixed), how);
                shown.settle();
                EXPECT_EQ(shown.live->placed()->lanes(), 3);
                EXPECT_EQ(shown.live->run().offset(), Length{}) << "it begins with the first";
                for (const std::int64_t at : {std::int64_t{0}, std::int64_t{7}, count - 5}) {
                    const Box box = shown.boxOf(isMixed ? count - 1 - at : at);
                    EXPECT_EQ(box.start, at % 11 == 10 ? Length{} : Length::px(at * 120)) << at;
                    EXPECT_EQ(box.extent, at % 11 == 10
                                              ? Length{}
                                              : std::max(Length::px(2 * (15 + at % 40)), Length::px(24)));
                }
                const std::int64_t nowhere = (count + 0) / 11;
                EXPECT_EQ(shown.live->placed()->placed(), count - nowhere);
                EXPECT_EQ(shown.live->placed()->leftOut(), 0);
            }
        }
    }
}

TEST(LivePlaces, SizesThatAreGivenAreTaken) {
    PlacedLive shown(R"({"start": "number", "extent": 3, "scale": 10, "least": 5})", hourlyRecords(40),
                     Estimating::AtOnce);
    EXPECT_EQ(shown.boxOf(4), (Box{Length::px(40), Length::px(30), Length::px(120), Length::px(120)}))
        << "three stand beside each other";
    PlacedLive byField(R"({"start": "number", "extent": "number", "scale": 10, "least": 5})",
                       hourlyRecords(40), Estimating::AtOnce);
    EXPECT_EQ(byField.boxOf(4).extent, Length::px(40));
    EXPECT_EQ(byField.boxOf(0).extent, Length::px(5)) << "no shorter";
}

TEST(LivePlaces, OtherSizesTextsAndEditsLeadWhereARunBegunSoStands) {
    PlacedLive shown(kHours, hourlyRecords(9000, true), Estimating::Background);
    shown.settle();
    shown.live->eraseRecords(100, 50);
    shown.live->insertRecords(100, 100, 50); // the same again
    shown.live->setTextScale(1.5);
    shown.live->setWindow(500, 600);
    PlacedLive fresh(kHours, hourlyRecords(9000, true), Estimating::Background);
    fresh.live->setTextScale(1.5);
    fresh.live->setWindow(500, 600);
    for (const std::int64_t place : {0, 120, 4000, 8999}) {
        QImage images[2];
        for (PlacedLive* each : {&shown, &fresh}) {
            each->settle();
            each->live->showRecord(place);
            each->settle();
            QImage& image = images[each == &shown ? 0 : 1];
            image = QImage(500, 600, QImage::Format_RGB32);
            image.fill(Qt::white);
            QPainter painter(&image);
            each->live->paintWindow(painter, ItemColours::light(), 1);
        }
        EXPECT_EQ(shown.live->run().offset(), fresh.live->run().offset()) << place;
        EXPECT_EQ(images[0], images[1]) << place;
    }
}

TEST(LivePlaces, RecordsThatComeAndGoStandWhereTheySay) {
    PlacedLive shown(kHours, hourlyRecords(9000), Estimating::Background);
    shown.settle();
    shown.live->showRecord(50);
    shown.settle();
    shown.live->eraseRecords(20, 10);
    EXPECT_EQ(shown.boxOf(30).start, Length::px(40 * 120));
    shown.live->insertRecords(0, 20, 10); // they were at 20
    EXPECT_EQ(shown.boxOf(0).start, Length::px(20 * 120));
    shown.live->eraseRecords(0, shown.live->recordCount());
    shown.settle();
    shown.live->insertRecords(0, 0, 9000); // so many that a worker reads them
    shown.settle();
    EXPECT_EQ(shown.boxOf(8001).start, Length::px(8001 * 120));
}

TEST(LivePlaces, WhereThereIsRoomAgainWhatWasLeftOutComesBack) {
    RecordBuilder builder;
    for (int i = 0; i < 40; ++i) {
        builder.setInteger(builder.fieldNamed("number"), 7);
        builder.endRecord();
    }
    PlacedLive shown(R"({"start": "number"})", std::make_shared<const RecordTable>(builder.finish()),
                     Estimating::Background);
    shown.settle();
    EXPECT_EQ(shown.live->placed()->leftOut(), 8);
    shown.live->eraseRecords(0, 5);
    shown.settle();
    EXPECT_EQ(shown.live->placed()->leftOut(), 3);
    EXPECT_EQ(shown.live->placed()->placed(), 32);
}

TEST(LivePlaces, WhatDoesNotFitIsToldWithItsPlace) {
    const auto errorOf = [](const char* placed) {
        auto made =
            LiveCollection::create(placedDocument(placed), hourlyRecords(5), nullptr, Estimating::Never);
        return made ? std::string() : made.error().text();
    };
    EXPECT_THAT(errorOf(R"({"start": "begin"})"), HasSubstr("there is no field \"begin\""));
    EXPECT_THAT(errorOf(R"({"start": "begin"})"), HasSubstr("/arrangement/placed/start"));
    EXPECT_THAT(errorOf(R"({"start": "begin"})"), HasSubstr("number, from, until, site"));
    EXPECT_THAT(errorOf(R"({"start": "site"})"), HasSubstr("Name a field of numbers or of times"));
    EXPECT_THAT(errorOf(R"({"start": "from", "extent": "until"})"), HasSubstr("/arrangement/placed/extent"));
    EXPECT_THAT(errorOf(R"({"start": "from", "end": "number"})"), HasSubstr("not of one sort"));
    EXPECT_THAT(errorOf(R"({"start": "from", "lane": "row"})"), HasSubstr("/arrangement/placed/lane"));
    EXPECT_EQ(errorOf(kHours), "");
}

class PagedPlaces : public testing::PagedFixture {};

TEST_F(PagedPlaces, AreToldAsPagesComeAndStayWhenTheyGo) {
    open(2000, [](CollectionDocument& document, WireSetup&) {
        PlacedSpec placed;
        placed.by.start = "id"; // they come in its order
        placed.by.scale = 90;
        placed.by.least = Length::px(60);
        document.arrangement.form = placed;
        document.footer = document.item; // shows at the end of what is here
        document.paging.keep = 3;
    });
    ASSERT_TRUE(until([&] { return pager().strip().places() > 0 && quiet(); }));
    const std::int64_t first = live->placed()->placed();
    EXPECT_GT(first, 0);
    EXPECT_LT(first, 2000) << "what was not asked for stands nowhere";
    for (int i = 0; i < 6; ++i) { // the end of what is here asks for what is behind it
        live->run().key(KeyStep::ToEnd);
        ASSERT_TRUE(until([&] { return quiet(); }));
    }
    EXPECT_GT(live->placed()->placed(), first + 40);
    Arrangement& all = live->run().arrangement();
    const auto startOf = [&](std::int64_t place) { return all.startOf(all.find({Role::Record, place})); };
    EXPECT_EQ(startOf(30) - startOf(0), Length::px(30 * 90)) << "though its page may be gone";
    EXPECT_EQ(all.find({Role::Record, 1990}), -1) << "nobody skipped what is between";
    live->run().checkInvariants();
}

} // namespace
} // namespace scorrere::render
