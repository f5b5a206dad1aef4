// SPDX-License-Identifier: GPL-3.0-or-later
// How large parts that take taps really are, and an item's states on the board.
#include "testing/program/window_fixture.h"
#include "workbench/model/touch_areas.h"
#include "workbench/ui/item/extremes_board.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/item/state_row.h"

#include <QPushButton>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using workbench::ExtremesBoard;
using workbench::StateRow;
using workbench::TouchArea;

class TouchTest : public WindowTest {
protected:
    /// The demo's records in a design, on Item's board.
    void design(const char* record) {
        makeWindow();
        openDemo(200);
        window->workspace().changeDesign(
            QStringLiteral("design"),
            QStringLiteral("{\"items\": {\"record\": %1}}").arg(QString::fromUtf8(record)), {});
        window->goTo(QStringLiteral("item"));
        ASSERT_TRUE(QTest::qWaitFor([&] { return !board().specimens().empty(); }, 20'000));
    }
    workbench::BoardModel& board() { return window->findChild<workbench::ItemStation*>()->model(); }
    QImage pictureOfBoard() { return find<ExtremesBoard>("extremesBoard")->viewport()->grab().toImage(); }
};

TEST_F(TouchTest, AreAsLargeAsTheyStandAndTellWhatIsTooSmallOrOverlaps) {
    ASSERT_NO_FATAL_FAILURE(design(
        R"({"column": [{"row": [{"text": "a", "width": 20, "height": 60, "tap": "small"},
               {"text": "b", "width": 30, "height": 44, "tap": "enough"}, {"text": "c", "width": 60, "height": 48, "tap": "fine"}]},
             {"over": [{"text": "d", "width": 100, "height": 50, "tap": "under"}, {"text": "e", "width": 90, "height": 50, "tap": "over"}]},
             {"column": [{"text": "f", "width": 50, "height": 50, "tap": "inner"}], "tap": "outer"}]})"));
    const auto areas = workbench::touchAreas(*board().specimens().front().view);
    ASSERT_EQ(areas.size(), 7U);
    EXPECT_EQ(areas[0].size, TouchArea::Size::TooSmall);
    EXPECT_EQ(areas[0].at.size(), QSizeF(20, 60));
    EXPECT_EQ(areas[1].size, TouchArea::Size::Enough);
    EXPECT_EQ(areas[2].size, TouchArea::Size::Fine);
    EXPECT_LT(areas[2].overlaps, 0);
    EXPECT_EQ(areas[3].overlaps, areas[4].part) << "one over the other";
    EXPECT_LT(areas[6].overlaps, 0) << "the inner one takes it, as it is meant";
    EXPECT_EQ(workbench::touchInWords(areas[0]), QStringLiteral("20 × 60 px: too small, 24 is the least"));
    EXPECT_EQ(workbench::touchInWords(areas[3]), QStringLiteral("100 × 50 px, fine; overlaps another"));
    const QImage before = pictureOfBoard();
    window->findChild<QPushButton*>(QStringLiteral("touchButton"))->click();
    EXPECT_NE(pictureOfBoard(), before) << "they are outlined";
}

TEST_F(TouchTest, SpecimensShowAsIfAStateWereSoThatTheDesignReads) {
    ASSERT_NO_FATAL_FAILURE(design(
        R"({"row": [{"text": "{species}", "grow": 1}, {"text": "chosen", "hide": "!$.state.selected"}]})"));
    auto* row = find<StateRow>("stateRow");
    EXPECT_TRUE(row->isVisibleTo(window.get()));
    auto* selected = row->findChild<QPushButton*>(QStringLiteral("state3"));
    EXPECT_TRUE(selected->isVisibleTo(row));
    EXPECT_FALSE(row->findChild<QPushButton*>(QStringLiteral("state0"))->isVisibleTo(row)) << "nobody asks";
    const auto isShown = [&] { return board().specimens().front().view->boxes()[2].shown; };
    EXPECT_FALSE(isShown());
    selected->click();
    EXPECT_TRUE(isShown());
    selected->click();
    EXPECT_FALSE(isShown());
}

} // namespace
} // namespace scorrere::testing
