// SPDX-License-Identifier: GPL-3.0-or-later
// A table of a collection that runs: cells stand below each other, the heading takes taps, and the first column stays
// where it is painted while the others are scrolled to the side.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "testing/program/settled.h"

#include <QImage>
#include <QPainter>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;

std::shared_ptr<const RecordTable> ledgerRecords(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("name"), "wing " + std::to_string(i));
        if (i % 5 != 4) {
            builder.setText(builder.fieldNamed("site"),
                            std::string(static_cast<std::size_t>(2 + i % 9), 'o'));
        }
        builder.setText(builder.fieldNamed("note"), i == count - 1 ? std::string(40, 'w') : "short");
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument tableDocument(const std::string& record, const std::string& more = "",
                                 const std::string& table = "{}", const std::string& locale = "en") {
    auto document = CollectionDocument::parse(R"({"scorrere": 1, "source": {"demo": {}}, "locale": ")" +
                                                  locale + R"(", "items": {"record": )" + record + more +
                                                  R"(}, "arrangement": {"table": )" + table + "}}",
                                              "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

const char* const kRow =
    R"({"row": [{"text": "{name}", "width": 90, "lines": 1}, {"text": "{site}", "lines": 1, "tap": "site"},
    {"text": "{note}", "lines": 1}, {"badge": "{name}", "width": 200}], "gap": 10, "padding": [4, 12]})";

class TableLive : public testing::Settled {
public:
    explicit TableLive(const CollectionDocument& document, std::int64_t records = 200)
        : Settled(document, ledgerRecords(records), Estimating::AtOnce) {
        settle();
    }
    const Placement* at(std::int64_t position) {
        const auto& all = live->run().placements();
        const auto found = std::ranges::find(all, position, &Placement::position);
        return found == all.end() ? nullptr : &*found;
    }
    /// The box of the n-th cell of the item at a position.
    PartBox cell(std::int64_t position, int n) {
        const ItemView& view = live->view(at(position)->view);
        int part = 1;
        for (; n > 0; --n) {
            part = view.design().parts()[static_cast<std::size_t>(part)].subtreeEnd;
        }
        return view.boxes()[static_cast<std::size_t>(part)];
    }
    QImage painted() {
        QImage image(QSize(360, 700), QImage::Format_ARGB32_Premultiplied);
        image.fill(Qt::white);
        QPainter painter(&image);
        live->paintWindow(painter, ItemColours::light(), 1);
        return image;
    }
    void scrollAcross(int px) {
        live->run().acrossMotion().push(Length::px(px));
        settle();
    }
};

TEST(LiveTable, CellsStandBelowEachOtherAndBelowTheirHeading) {
    TableLive shown(tableDocument(kRow));
    const TableColumns& columns = shown.live->table()->columns();
    for (const Placement& p : shown.live->run().placements()) {
        for (int n = 0; n < 4; ++n) {
            const PartBox box = shown.cell(p.position, n);
            if (box.shown) {
                EXPECT_EQ(box.x, columns.startOf(static_cast<std::size_t>(n))) << p.position << " " << n;
                EXPECT_LE(box.width, columns.widthOf(static_cast<std::size_t>(n)));
            }
        }
    }
    EXPECT_EQ(columns.startOf(0), Length::px(12));
    EXPECT_EQ(columns.startOf(1), Length::px(12 + 90 + 10));
    EXPECT_FALSE(shown.cell(5, 1).shown) << "it has no site, and the cells behind it stay where they are";
}

TEST(LiveTable, ACellThatIsWiderThanAnySeenWidensItsColumnForAllThatShow) {
    TableLive shown(tableDocument(kRow));
    const Length before = shown.live->table()->columns().widthOf(2);
    shown.live->run().jumpTo(shown.live->run().arrangement().size() - 1);
    shown.live->frame(shown.now += 8333);
    const Length after = shown.live->table()->columns().widthOf(2);
    EXPECT_GT(after, before);
    for (const Placement& p : shown.live->run().placements()) {
        if (p.showing) {
            EXPECT_EQ(shown.cell(p.position, 2).width, after) << "in the same frame";
        }
    }
    shown.live->run().travelTo({});
    shown.settle();
    EXPECT_EQ(shown.live->table()->columns().widthOf(2), after) << "it does not shrink under the reader";
    shown.live->setTextScale(2);
    shown.settle();
    shown.live->setTextScale(1);
    shown.settle();
    EXPECT_EQ(shown.live->table()->columns().widthOf(2), before) << "all was laid out anew";
}

TEST(LiveTable, TheFirstColumnIsPaintedWhereItStaysAndTheOthersMove) {
    for (const char* locale : {"en", "ar"}) {
        TableLive shown(tableDocument(kRow, "", "{}", locale));
        ASSERT_GT(shown.live->run().acrossRoom(), Length::px(40));
        const bool isMirrored = shown.live->axis().isMirrored;
        ASSERT_EQ(isMirrored, std::string(locale) == "ar");
        const QImage before = shown.painted();
        shown.scrollAcross(40);
        const QImage after = shown.painted();
        const QRect first = isMirrored ? QRect(360 - 100, 0, 99, 700) : QRect(0, 0, 100, 700);
        EXPECT_EQ(before.copy(first), after.copy(first)) << locale;
        const QRect rest = isMirrored ? QRect(100, 0, 100, 700) : QRect(200, 0, 100, 700);
        EXPECT_EQ(before.copy(rest), after.copy(rest.translated(isMirrored ? 40 : -40, 0))) << locale;
        EXPECT_NE(before.copy(rest), after.copy(rest)) << locale;
    }
}

TEST(LiveTable, WithoutAColumnThatStaysAllMove) {
    TableLive shown(tableDocument(kRow, "", R"({"firstStays": false})"));
    const QImage before = shown.painted();
    shown.scrollAcross(40);
    const QRect all(40, 0, 300, 700);
    EXPECT_EQ(before.copy(all), shown.painted().copy(all.translated(-40, 0)));
}

TEST(LiveTable, TapsMeanTheCellThatShowsThere) {
    TableLive shown(tableDocument(
        kRow, R"(, "heading": {"row": [{"text": "N", "tap": "by name"}, {"text": "S", "tap": "by site"},
        {"text": "T", "tap": "by note"}, {"text": "B"}], "ground": "faint", "padding": [6, 12]})"));
    const auto tap = [&](double x, double y) {
        const auto hit = shown.live->tapAt(x, y);
        return hit ? hit->action : std::string();
    };
    EXPECT_EQ(tap(20, 10), "by name");
    EXPECT_EQ(tap(116, 10), "by site");
    const double row = shown.at(1)->box.start.toPx() + 10;
    EXPECT_EQ(tap(116, row), "site");
    EXPECT_EQ(shown.live->tapAt(116, row)->place, 0);
    shown.scrollAcross(40);
    EXPECT_EQ(tap(20, 10), "by name") << "it stays";
    EXPECT_EQ(tap(106, row), "site");
    EXPECT_EQ(tap(95, row), "") << "there it went below the first";
    shown.live->run().wheel(Length::px(2000));
    shown.settle();
    EXPECT_EQ(tap(20, 10), "by name") << "the heading stays";
    EXPECT_EQ(shown.live->nameAt(0), QStringLiteral("heading"));
}

TEST(LiveTable, TheUsualHeadingSaysWhatFieldsAreCalled) {
    TableLive shown(tableDocument(R"({"row": [{"column": [{"text": "{site}"}]}, {"picture": "a/{note}"},
        {"text": "it's {name}", "align": "end"}], "padding": 10})"));
    const ItemView& heading = shown.live->view(shown.at(0)->view);
    EXPECT_EQ(heading.title(), QStringLiteral("Site"));
    const auto hit = shown.live->tapAt(14, 12);
    ASSERT_TRUE(hit);
    EXPECT_EQ(hit->action, "order by site");
}

TEST(LiveTable, WhatStandsInNoRowIsToldWhereAndWhatToDo) {
    const auto errorOf = [](const CollectionDocument& document) {
        const Outcome checked = LiveCollection::check(document, *ledgerRecords(3));
        return checked ? std::string() : checked.error().text();
    };
    EXPECT_THAT(errorOf(tableDocument(R"({"column": [{"text": "{name}"}]})")),
                ::testing::AllOf(HasSubstr("/items/record"), HasSubstr("does not stand in a row")));
    EXPECT_THAT(errorOf(tableDocument(kRow, R"(, "heading": {"text": "x"})")), HasSubstr("/items/heading"));
    EXPECT_EQ(errorOf(tableDocument(kRow)), "");
}

TEST(LiveTable, WhatIsEstimatedIsLaidOutInTheSameColumns) {
    // Texts that wrap in a column of 60 px, and would not in the whole width.
    TableLive shown(
        tableDocument(R"({"row": [{"text": "{name} and what it was seen beside", "width": 60, "lines": 0},
        {"text": "{site}", "lines": 1}], "padding": [4, 12]})"));
    Arrangement& all = shown.live->run().arrangement();
    const std::int64_t far = all.positionOf(150);
    ASSERT_EQ(all.stateOf(far), ExtentState::ContentEstimate);
    const Length estimated = all.extentOf(far);
    shown.live->run().jumpTo(far);
    shown.settle();
    EXPECT_EQ(all.extentOf(far), estimated);
}

} // namespace
} // namespace scorrere::render
