// SPDX-License-Identifier: GPL-3.0-or-later
// Strips within items as people meet them: dragged, cut open, told of where two run the same way, and designed in Item.
#include "testing/program/flow_fixture.h"
#include "workbench/model/hard_records.h"

#include <QLabel>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using Json = nlohmann::ordered_json;
using workbench::DesignDraft;
using workbench::SentenceWord;

class WithinTest : public FlowTest {
protected:
    void open(const char* strip = R"({"list": {"gap": 10, "sideways": 90}})") {
        std::string list;
        for (int i = 0; i < 12; ++i) {
            list += std::string(i > 0 ? "," : "") + R"({\"what\": \"thing )" + std::to_string(i) + R"(\"})";
        }
        const std::string one = R"({\"name\": \"shelf\", \"things\": [)" + list + "]}";
        openCollection(R"("source": {"list": "[)" + one + "," + one + "," + one +
                       R"(]"}, "items": {"record": {"column": [{"text": "{name}"},
                       {"strip": "things", "height": 60, "part": {"column": [{"text": "{what}"}], "ground": "#336699", "tap": "take"},
                        "arrangement": )" +
                       strip + R"(}], "gap": 4, "padding": 8}}, "arrangement": {"list": {}})");
    }
    workbench::Cutaway& cutaway() { return *find<workbench::Cutaway>("cutaway"); }
    render::LiveStrips::Strip& strip(std::size_t n) { return *live().strips().showing()[n]; }
    QPoint in(std::size_t n, QPointF by) {
        const QPointF at = live().strips().boxOf(strip(n), live().axis(), {}).topLeft() + by;
        return (cutaway().windowRect().topLeft() + at * cutaway().scale()).toPoint();
    }
    Json member(const std::string& pointer, const char* name) {
        return DesignDraft(document()->designText()).member(pointer, name);
    }
    void openItem() {
        QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
        ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 30'000));
    }
    int inked(const QImage& of, const QRectF& within) {
        int found = 0;
        const QRect at = within.toAlignedRect() & of.rect();
        for (int y = at.top(); y < at.bottom(); ++y) {
            for (int x = at.left(); x < at.right(); ++x) {
                found += of.pixelColor(x, y) == QColor(0x33, 0x66, 0x99) ? 1 : 0;
            }
        }
        return found;
    }
};

const std::string kPart = "/items/record/column/1";

TEST_F(WithinTest, ADragAlongOneMovesItAndFlowSaysWhy) {
    open();
    ASSERT_EQ(live().strips().showing().size(), 3U);
    const QPoint from = in(1, {200, 30});
    QTest::mousePress(&cutaway(), Qt::LeftButton, {}, from);
    for (const int by : {10, 30, 50}) {
        QTest::mouseMove(&cutaway(), from - QPoint(by, 1));
    }
    EXPECT_THAT(find<QLabel>("gestureSaid")->text().toStdString(), HasSubstr("the inner strip"));
    QTest::mouseRelease(&cutaway(), Qt::LeftButton, {}, from - QPoint(50, 1));
    ASSERT_TRUE(settle());
    EXPECT_GT(strip(1).run().offset(), Length::px(30));
    EXPECT_EQ(strip(0).run().offset(), Length{});
    QTest::keyClick(&cutaway(), Qt::Key_Right);
    ASSERT_TRUE(settle());
    EXPECT_EQ(strip(0).run().offset(), Length::px(48)) << "keys move the first";
    EXPECT_THAT(cutaway().numbersAt(in(0, {50, 30})).toStdString(), HasSubstr("in it a strip: entries 1 to"));
}

TEST_F(WithinTest, CutOpenTheyShowWhatTheyHaveBesideTheDevice) {
    open();
    QTest::keyClick(&cutaway(), Qt::Key_Right);
    ASSERT_TRUE(settle());
    const QRectF beside(0, in(0, {0, 0}).y(), cutaway().windowRect().left() - 20, 40);
    const QImage closed = cutaway().grab().toImage();
    QTest::keyClick(window.get(), Qt::Key_X);
    const QImage open = cutaway().grab().toImage();
    EXPECT_NE(open.copy(beside.toAlignedRect()), closed.copy(beside.toAlignedRect()));
    const QRect device = cutaway().windowRect().toAlignedRect().adjusted(2, 2, -2, -2);
    EXPECT_EQ(open.copy(device), closed.copy(device)) << "in the window all is as it was";
    QTest::keyClick(window.get(), Qt::Key_X);
    EXPECT_EQ(cutaway().grab().toImage().copy(beside.toAlignedRect()), closed.copy(beside.toAlignedRect()));
}

TEST_F(WithinTest, ATapTellsTheEntry) {
    open();
    QTest::mouseClick(&cutaway(), Qt::LeftButton, {}, in(1, {120, 30}));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("Tapped: take, on entry 2 of record 2"));
}

TEST_F(WithinTest, TwoThatRunTheSameWayAreAFinding) {
    open();
    const auto found = [&] {
        const auto all = window->workspace().findings().all();
        return std::ranges::any_of(all, [](const workbench::Finding& one) {
            return one.text.contains(QLatin1String("The strip of things runs"));
        });
    };
    EXPECT_FALSE(found());
    choose("wordAxis", "sideways");
    ASSERT_TRUE(settle());
    EXPECT_TRUE(found());
    window->workspace().undo().undo();
    EXPECT_FALSE(found());
}

TEST_F(WithinTest, ItemShowsThemAndSaysHowTheyStand) {
    open();
    openItem();
    workbench::ExtremesBoard& board = item().board();
    const QRectF at = board.partOnViewport(0, kPart);
    ASSERT_FALSE(at.isNull());
    EXPECT_GT(inked(board.viewport()->grab().toImage(), at), 1000) << "its entries";
    board.select(kPart);
    Q_EMIT find<SentenceWord>("wordStripWidth")->wordChosen(QStringLiteral("200 px wide"));
    EXPECT_EQ(document()->strips.at(kPart).sideways->width, Sideways::Width(Length::px(200)));
    Q_EMIT find<SentenceWord>("wordStripForm")->wordChosen(QStringLiteral("a grid of 2 rows"));
    EXPECT_EQ(member(kPart, "arrangement")["grid"]["columns"], 2);
    Q_EMIT find<SentenceWord>("wordStripAxis")->wordChosen(QStringLiteral("down"));
    EXPECT_FALSE(document()->strips.at(kPart).sideways);
    Q_EMIT find<SentenceWord>("wordStripGap")->wordChosen(QStringLiteral("16 px"));
    EXPECT_EQ(document()->strips.at(kPart).spacing.gap, Length::px(16));
    for (int i = 0; i < 4; ++i) {
        window->workspace().undo().undo(); // each is one
    }
    EXPECT_EQ(document()->strips.at(kPart).sideways->width, Sideways::Width(Length::px(90)));
}

TEST_F(WithinTest, ItemDesignsAnEntryOnThoseOfRealRecords) {
    open();
    openItem();
    Q_EMIT find<SentenceWord>("wordWhich")->wordChosen(QStringLiteral("things entry"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled() && !item().model().isEmpty(); }, 30'000));
    const auto& specimens = item().model().specimens();
    ASSERT_GT(specimens.size(), 2U);
    EXPECT_EQ(specimens.front().view->width(), Length::px(90)) << "as wide as in the strip";
    EXPECT_THAT(item().model().outcomes(kPart + "/part/column/0", 20), ::testing::Contains("thing 11"));
    workbench::ExtremesBoard& board = item().board();
    board.select(kPart + "/part/column/0");
    QTest::keyClick(&board, Qt::Key_Delete);
    EXPECT_EQ(member(kPart, "part")["column"].size(), 0U);
    window->workspace().undo().undo();
    EXPECT_EQ(member(kPart, "part")["column"].size(), 1U);
}

} // namespace
} // namespace scorrere::testing
