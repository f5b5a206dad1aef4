// SPDX-License-Identifier: GPL-3.0-or-later
// Strips within the items of a collection that runs: each scrolls by itself, is where it was when its item comes back,
// is built only when it shows, and leaves its views to the next.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "render/scroll_input.h"
#include "testing/program/paged_fixture.h"
#include "testing/program/settled.h"

#include <QImage>
#include <QPainter>
#include <QTest>
#include <QWheelEvent>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;

/// Each with a list of 12 to 20 entries; every seventh has none.
std::shared_ptr<const RecordTable> shelves(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("name"), "shelf " + std::to_string(i));
        std::string list = "[";
        for (std::int64_t e = 0; i % 7 != 6 && e < 12 + i % 9; ++e) {
            list += fmt::format(R"({}{{"name": "{} of {}", "odd": {}}})", e > 0 ? "," : "", e, i, e % 2);
        }
        builder.setJson(builder.fieldNamed("things"), FieldType::List, list + "]");
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

std::string shelfDocument(const std::string& strip, const std::string& arrangement = R"({"list": {}})",
                          const std::string& locale = "en") {
    return R"({"scorrere": 1, "source": {"demo": {}}, "locale": ")" + locale +
           R"(", "items": {"record": {"column": [{"text": "{name}", "lines": 1, "height": 20}, )" + strip +
           R"(], "padding": 10}}, "arrangement": )" + arrangement + "}";
}

const char* const kStrip =
    R"({"strip": "things", "height": 60, "arrangement": {"list": {"gap": 10, "sideways": 90}},
    "part": {"column": [{"text": "{entry_name}", "lines": 1}], "ground": "#336699", "height": 60, "tap": "take"}})";

CollectionDocument parsed(const std::string& text) {
    auto document = CollectionDocument::parse(text, "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

class StripsLive : public testing::Settled {
public:
    explicit StripsLive(const std::string& document = shelfDocument(kStrip), std::int64_t records = 300)
        : Settled(parsed(document), shelves(records), Estimating::AtOnce) {
        settle();
    }
    LiveStrips::Strip* of(std::int64_t place) {
        const auto& all = live->strips().showing();
        const auto found =
            std::ranges::find(all, place, [](const LiveStrips::Strip* strip) { return strip->place(); });
        return found == all.end() ? nullptr : *found;
    }
    QPointF in(std::int64_t place, QPointF by = {20, 30}) {
        return live->strips().boxOf(*of(place), live->axis(), {}).topLeft() + by;
    }
    void wheel(std::int64_t place, QPoint by, Qt::KeyboardModifiers with = {}) {
        const QPointF at = in(place);
        const QWheelEvent event(at, at, {}, by, Qt::NoButton, with, Qt::NoScrollPhase, false);
        ScrollInput::wheel(event, *live, 1, at);
        settle();
    }
    void drag(QPointF from, QPointF by) {
        live->press(now, from);
        for (int step = 1; step <= 5; ++step) {
            live->frame(now += 8333);
            live->move(now, from + by * step / 5);
        }
        live->frame(now += 200'000); // it stands still when it is let go
        live->release(now);
        settle();
    }
    QImage painted() {
        QImage image(QSize(360, 700), QImage::Format_ARGB32_Premultiplied);
        QPainter painter(&image);
        live->paintWindow(painter, ItemColours::light(), 1);
        return image;
    }
    std::size_t alive() {
        std::size_t all = 0;
        for (const LiveStrips::Strip* strip : live->strips().showing()) {
            all += strip->run().recycler().alive().size();
        }
        return all;
    }
};

TEST(LiveStrips, ShowEachItemsEntriesAndOnlyThoseThatShowAreBuilt) {
    StripsLive shown;
    ASSERT_NE(shown.of(0), nullptr);
    EXPECT_EQ(shown.of(0)->entries(), 12);
    EXPECT_EQ(shown.of(1)->entries(), 13);
    EXPECT_EQ(shown.of(6), nullptr) << "it has none, and takes no room";
    const Placement& last = shown.live->run().placements().back();
    EXPECT_FALSE(last.showing);
    EXPECT_EQ(shown.of(shown.live->run().arrangement().slotAt(last.position).place), nullptr)
        << "what is ready beyond the edge has none yet";
    // A window of 340 px holds four of 90 px that stand 10 px apart.
    EXPECT_EQ(shown.of(0)->run().recycler().alive().size(), 4U);
    const ItemView& entry = shown.of(2)->view(shown.of(2)->run().placements()[1].view);
    EXPECT_EQ(entry.title(), QStringLiteral("1 of 2"));
    const QImage image = shown.painted();
    EXPECT_EQ(image.pixelColor(shown.in(0, {85, 55}).toPoint()), QColor(0x33, 0x66, 0x99));
    EXPECT_NE(image.pixelColor(shown.in(0, {95, 55}).toPoint()), QColor(0x33, 0x66, 0x99)) << "between two";
    EXPECT_EQ(image.pixelColor(shown.in(0, {105, 55}).toPoint()), QColor(0x33, 0x66, 0x99));
}

TEST(LiveStrips, LeaveTheirViewsToTheNext) {
    StripsLive shown;
    std::size_t most = shown.alive();
    for (int i = 0; i < 400; ++i) {
        shown.live->run().wheel(Length::px(i % 50 < 40 ? 90 : -300));
        shown.live->frame(shown.now += 8333);
        most = std::max(most, shown.alive());
    }
    EXPECT_LE(shown.live->strips().viewsBuilt(), most + 4) << "one strip's more, at an edge";
}

TEST(LiveStrips, AreWhereTheyWereWhenTheirItemComesBack) {
    StripsLive shown;
    shown.wheel(1, {-150, 0});
    EXPECT_EQ(shown.of(1)->run().offset(), Length::px(150));
    EXPECT_EQ(shown.of(0)->run().offset(), Length{}) << "each by itself";
    shown.live->run().jumpTo(200);
    shown.settle();
    EXPECT_EQ(shown.of(1), nullptr);
    shown.live->run().jumpTo(0);
    shown.settle();
    EXPECT_EQ(shown.of(1)->run().offset(), Length::px(150));
    // Also where it stands elsewhere by then.
    shown.live->insertRecords(0, 50, 2);
    shown.live->run().jumpTo(0);
    shown.settle();
    EXPECT_EQ(shown.of(3)->run().offset(), Length::px(150));
    EXPECT_EQ(shown.of(1)->run().offset(), Length{});
    shown.live->setTextScale(1.5);
    shown.settle();
    EXPECT_EQ(shown.of(3)->run().hold().position, 2) << "and after all was made anew";
}

TEST(LiveStrips, TakeADragAlongThemAndLeaveOneAcrossThem) {
    StripsLive shown;
    shown.drag(shown.in(1, {200, 30}), {-120, 3});
    EXPECT_EQ(shown.of(1)->run().offset(), Length::px(120 - 8)) << "from where it was theirs";
    EXPECT_EQ(shown.live->run().offset(), Length{});
    EXPECT_EQ(shown.live->gestures().story().taker, WindowTakers::kWithin);
    shown.drag(shown.in(1, {200, 30}), {3, -100});
    EXPECT_GT(shown.live->run().offset(), Length{});
    EXPECT_EQ(shown.live->gestures().story().taker, WindowTakers::kStrip);
}

TEST(LiveStrips, TheWheelGoesAlongThemAsFarAsTheyGo) {
    StripsLive shown;
    shown.wheel(0, {0, -60});
    EXPECT_EQ(shown.of(0)->run().offset(), Length{}) << "a plain one goes down";
    EXPECT_EQ(shown.live->run().offset(), Length::px(60));
    shown.wheel(1, {0, -70}, Qt::ShiftModifier);
    EXPECT_EQ(shown.of(1)->run().offset(), Length::px(70));
    EXPECT_EQ(shown.live->run().offset(), Length::px(60));
}

TEST(LiveStrips, OneThatRunsTheSameWayGoesFirstAndHandsOverAtItsEnd) {
    StripsLive shown(shelfDocument(
        R"({"strip": "things", "height": 100, "arrangement": {"list": {"gap": 0}}, "part": {"text": "{entry_name}", "lines": 1, "height": 30}})"));
    shown.wheel(0, {0, -50});
    EXPECT_EQ(shown.of(0)->run().offset(), Length::px(50));
    EXPECT_EQ(shown.live->run().offset(), Length{});
    shown.wheel(0, {0, -5000});
    EXPECT_EQ(shown.of(0)->run().offset(), Length::px(12 * 30 - 100));
    shown.wheel(0, {0, -40});
    EXPECT_EQ(shown.live->run().offset(), Length::px(40)) << "it is at its end";
}

TEST(LiveStrips, TapsMeanTheEntryThatShowsThere) {
    StripsLive shown;
    auto tap = shown.live->tapAt(shown.in(1, {120, 30}).x(), shown.in(1, {120, 30}).y());
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->action, "take");
    EXPECT_EQ(tap->place, 1);
    EXPECT_EQ(tap->entry, 1);
    shown.wheel(1, {-200, 0});
    tap = shown.live->tapAt(shown.in(1, {120, 30}).x(), shown.in(1, {120, 30}).y());
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->entry, 3);
    EXPECT_FALSE(shown.live->tapAt(shown.in(1, {95, 30}).x(), shown.in(1, {95, 30}).y())) << "between two";
}

TEST(LiveStrips, AreMirroredWhereOneReadsFromTheRight) {
    StripsLive shown(shelfDocument(kStrip, R"({"list": {}})", "ar"));
    const auto tap = shown.live->tapAt(shown.in(0, {330, 30}).x(), shown.in(0, {330, 30}).y());
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->entry, 0);
    shown.wheel(0, {50, 0});
    EXPECT_EQ(shown.of(0)->run().offset(), Length::px(50));
}

TEST(LiveStrips, WhatMovesInOneIsPaintedThoughTheItemIsKeptAsAPicture) {
    StripsLive shown;
    const QImage before = shown.painted();
    EXPECT_EQ(shown.painted(), before) << "kept by now";
    EXPECT_EQ(shown.painted(), before);
    shown.wheel(0, {-45, 0});
    const QImage moved = shown.painted();
    const QRect strip(shown.in(0, {0, 0}).toPoint(), QSize(340, 60));
    EXPECT_EQ(moved.copy(strip.adjusted(0, 0, -45, 0)), before.copy(strip.adjusted(45, 0, 0, 0)));
    EXPECT_EQ(shown.painted(), moved);
    shown.wheel(0, {45, 0});
    EXPECT_EQ(shown.painted(), before);
}

TEST(LiveStrips, OneThatIsHeldWhileItGoesOutOfSightIsLetGo) {
    StripsLive shown;
    const QPointF from = shown.in(1, {200, 30});
    shown.live->press(shown.now, from);
    for (const int by : {20, 40}) {
        shown.live->frame(shown.now += 8333);
        shown.live->move(shown.now, from - QPointF(by, 0));
    }
    ASSERT_TRUE(shown.of(1)->run().motion().isPressed());
    shown.live->run().jumpTo(200); // as a key does, or records that come before it
    shown.live->frame(shown.now += 8333);
    shown.live->move(shown.now, from - QPointF(60, 0));
    shown.live->release(shown.now);
    for (const std::int64_t position : {200, 100, 40}) { // whichever takes its place
        shown.live->run().jumpTo(position);
        shown.settle();
        for (LiveStrips::Strip* strip : shown.live->strips().showing()) {
            EXPECT_FALSE(strip->run().motion().isMoving());
            EXPECT_EQ(strip->run().offset(), Length{}) << "another's drag moves none of them";
        }
    }
}

/// Also where the parameter moves parts of the items around them, which are filled again then.
TEST(LiveStrips, WhatEntriesSayFollowsParameters) {
    for (const bool movesItems : {false, true}) {
        std::string text = shelfDocument(
            R"({"strip": "things", "height": 60, "arrangement": {"list": {"gap": 10, "sideways": 90}},
                "part": {"column": [{"text": "{entry_name}", "lines": 1},
                                    {"text": "{name}", "lines": 1, "hide": "$.parameters.most < 5"}]}})");
        text.insert(1, R"("parameters": {"most": 10},)");
        if (movesItems) {
            const std::string first = R"("lines": 1, "height": 20)";
            text.insert(text.find(first), R"("hide": "$.parameters.most < 5", )");
        }
        StripsLive shown(text);
        const auto isSaid = [&] {
            const ItemView& entry = shown.of(0)->view(shown.of(0)->run().placements()[0].view);
            return entry.boxes()[2].shown;
        };
        EXPECT_TRUE(isSaid());
        Parameters parameters = shown.live->document().parameters;
        ASSERT_EQ(parameters.size(), 1U);
        for (const double most : {1.0, 10.0}) {
            parameters[0].number = most;
            shown.live->setParameters(parameters);
            shown.settle();
            EXPECT_EQ(isSaid(), most >= 5) << movesItems;
        }
    }
}

TEST(LiveStrips, ARecordThatSaysSomethingElseKeepsWhereItsStripIs) {
    StripsLive shown;
    shown.wheel(2, {-100, 0});
    shown.live->setParameters({});
    shown.settle();
    EXPECT_EQ(shown.of(2)->run().offset(), Length::px(100));
}

TEST(LiveStrips, MayBeGridsAndPagers) {
    StripsLive grid(shelfDocument(
        R"({"strip": "things", "height": 80, "arrangement": {"grid": {"columns": 2, "gap": 4, "sideways": 50}}, "part": {"text": "{entry_name}"}})"));
    const Placement& second = grid.of(0)->run().placements()[1];
    EXPECT_EQ(second.box.start, Length{}) << "below the first";
    EXPECT_EQ(second.box.crossStart, Length::px(42));
    StripsLive pager(shelfDocument(
        R"({"strip": "things", "height": 80, "arrangement": {"pager": {"sideways": true}}, "part": {"text": "{entry_name}"}})"));
    pager.drag(pager.in(0, {250, 30}), {-220, 0});
    EXPECT_EQ(pager.of(0)->run().offset(), pager.of(0)->run().window()) << "it rests on the next";
}

TEST(LiveStrips, WhatIsWrongIsToldWhereItStands) {
    const auto errorOf = [](const std::string& strip) {
        auto document = CollectionDocument::parse(shelfDocument(strip), "");
        if (!document) {
            return document.error().text();
        }
        const Outcome checked = LiveCollection::check(*document, *shelves(3));
        return checked ? std::string() : checked.error().text();
    };
    using ::testing::AllOf;
    EXPECT_EQ(errorOf(kStrip), "");
    EXPECT_THAT(errorOf(R"({"strip": "things"})"), HasSubstr("does not say how its entries look"));
    EXPECT_THAT(errorOf(R"({"strip": "name", "part": {"text": "x"}})"),
                AllOf(HasSubstr("/strip"), HasSubstr("shown entry by entry")));
    EXPECT_THAT(errorOf(R"({"strip": "thing", "part": {"text": "x"}})"), HasSubstr("thing"));
    EXPECT_THAT(errorOf(R"({"strip": "things", "part": {"strip": "things", "part": {"text": "x"}}})"),
                HasSubstr("within an entry"));
    EXPECT_THAT(errorOf(R"({"strip": "things", "part": {"text": "x"}, "arrangement": {"table": {}}})"),
                AllOf(HasSubstr("/arrangement"), HasSubstr("is no \"table\"")));
    EXPECT_THAT(
        errorOf(
            R"({"strip": "things", "part": {"text": "x"}, "arrangement": {"list": {"sections": "{a}"}}})"),
        HasSubstr("has no sections"));
}

class PagedStrips : public testing::PagedFixture {};

TEST_F(PagedStrips, AreWhereTheyWereAfterTheirPageWentAndCame) {
    open(2000, [](CollectionDocument& document, WireSetup&) {
        document = *document.withDesign(
            R"({"items": {"record": {"column": [{"text": "{species}", "lines": 1}, {"strip": "traits", "height": 40,
                "arrangement": {"list": {"sideways": 300}}, "part": {"text": "{entry}"}}]}}})");
        document.paging.keep = 3;
    });
    ASSERT_TRUE(until([&] { return pager().strip().places() > 20 && quiet(); }));
    const auto wide = [&]() -> LiveStrips::Strip* { // more than its window holds
        const auto& all = live->strips().showing();
        const auto found =
            std::ranges::find_if(all, [](LiveStrips::Strip* strip) { return strip->entries() > 1; });
        return found == all.end() ? nullptr : *found;
    };
    ASSERT_NE(wide(), nullptr);
    const std::string key = keyAt(wide()->place());
    wide()->run().wheel(Length::px(100));
    ASSERT_TRUE(until([&] { return quiet() && wide()->run().offset() == Length::px(100); }));
    live->run().jumpTo(1500);
    ASSERT_TRUE(until([&] { return quiet() && !pager().strip().isLoaded(0); })) << "its page is dropped";
    live->run().jumpTo(0);
    ASSERT_TRUE(until([&] { return quiet() && wide() != nullptr && keyAt(wide()->place()) == key; }));
    EXPECT_EQ(wide()->run().offset(), Length::px(100));
    // Where others stand now, none of them is where it was.
    live->setVariables(now, {{"status", "queried"}});
    ASSERT_TRUE(until([&] { return pager().total() < 2000 && quiet() && wide() != nullptr; }));
    for (LiveStrips::Strip* strip : live->strips().showing()) {
        EXPECT_EQ(strip->run().offset(), Length::px(keyAt(strip->place()) == key ? 100 : 0));
    }
}

} // namespace
} // namespace scorrere::render
