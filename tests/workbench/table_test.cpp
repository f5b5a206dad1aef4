// SPDX-License-Identifier: GPL-3.0-or-later
// A table as people make it: by the word of Flow's sentence, scrolled to the side, and its columns dragged in Item.
#include "testing/program/flow_fixture.h"
#include "workbench/model/board_table.h"
#include "workbench/model/design_facts.h"
#include "workbench/model/table_design.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QLabel>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using Json = nlohmann::ordered_json;
using workbench::DesignDraft;

const char* const kLedger =
    R"({"row": [{"text": "{Name}", "width": 120}, {"text": "{site}"}, {"text": "{note}", "width": 300}], "gap": 10})";

class TableTest : public FlowTest {
protected:
    void open(const std::string& record, const char* arrangement = R"({"table": {}})",
              const char* more = "") {
        const std::string records =
            R"([{\"Name\": \"early\", \"site\": \"reeds\", \"note\": \"a\"},)"
            R"({\"Name\": \"late\", \"site\": \"the old sluice\", \"note\": \"b\"}, {\"Name\": \"never\"}])";
        openCollection(R"("source": {"list": ")" + records + R"("}, "items": {"record": )" + record + more +
                       R"(}, "arrangement": )" + arrangement);
    }
    Json record() { return DesignDraft(document()->designText()).member("/items", "record"); }
    std::vector<std::string> texts(const char* item) {
        std::vector<std::string> all;
        const Json items = DesignDraft(document()->designText()).member("/items", item);
        for (const Json& cell : items["row"]) {
            all.push_back(cell.value("text", ""));
        }
        return all;
    }
    workbench::ExtremesBoard& board() { return item().board(); }
    void openItem() {
        QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
        ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 30'000));
        ASSERT_FALSE(item().model().specimens().empty());
    }
    const TableColumns& columns() { return item().model().columnsOfTable()->columns(0); }
    /// In the heading above the specimens, so far from its start.
    QPointF inHeading(double x) {
        const QRectF first = board().partOnViewport(0, "/items/record");
        return {first.left() + x, first.top() - 40};
    }
    void drag(QPointF from, QPointF to) {
        dragOn(board().viewport(), from, to);
        ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 30'000));
    }
    double edgeBehind(int column) {
        const auto index = static_cast<std::size_t>(column);
        return ((columns().startOf(index) + columns().widthOf(index)).toPx() + 5) * board().zoom();
    }
};

TEST_F(TableTest, TheWordMakesCellsOfTheItemsPartsAndOneUndoBringsItBack) {
    open(R"({"column": [{"row": [{"badge": "{note}"}, {"text": "{Name}", "lines": 3}]}, {"line": 1},
             {"badge": "{site}"}, {"text": "always the same"}, {"text": "Site {site}"}], "tap": "open"})",
         R"({"list": {"gap": 6}})");
    const std::string before = document()->designText();
    choose("wordArrangement", "a table");
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(),
                HasSubstr("as a table under a heading that stays, whose first column stays, in no "
                          "sections, all in one strip"));
    const Json row = record();
    ASSERT_EQ(row["row"].size(), 4U) << "what says the same of every record is no cell";
    EXPECT_EQ(row["row"][3]["text"], "{site}") << "the heading says the rest";
    EXPECT_EQ(row["row"][0]["text"], "{Name}") << "what it is called by stands first";
    EXPECT_TRUE(row["row"][1].value("badge", "") == "{note}");
    EXPECT_EQ(row["row"][2].value("badge", ""), "{site}");
    EXPECT_EQ(row["tap"], "open");
    EXPECT_EQ(run().arrangement().slotAt(0).role, Role::Heading);
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("stand in columns now"));
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(document()->designText(), before);
    EXPECT_THAT(sentence(), HasSubstr("as a list"));
}

TEST_F(TableTest, AnItemThatStandsInColumnsStaysAsItIs) {
    open(kLedger, R"({"list": {}})");
    const std::string before = document()->designText();
    choose("wordArrangement", "a table");
    ASSERT_TRUE(settle());
    EXPECT_EQ(document()->designText(), before);
}

TEST_F(TableTest, EachWordOfItChangesWhatShows) {
    open(kLedger);
    choose("wordHeading", "no heading");
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().arrangement().slotAt(0).role, Role::Record);
    choose("wordHeading", "a heading that scrolls away");
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().arrangement().stayingAt(Length::px(20)), Stayings());
    choose("wordHeading", "a heading that stays");
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().arrangement().stayingAt(Length::px(20)).all[0].position, 0);
    EXPECT_GT(run().arrangement().staysAcross(1).value_or(Length{}), Length{});
    choose("wordFirstColumn", "goes with the others");
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().arrangement().staysAcross(1), Length{});
    EXPECT_EQ(window->findChild<QWidget*>(QStringLiteral("wordAxis")), nullptr) << "it does not run sideways";
}

TEST_F(TableTest, IsScrolledToTheSideByKeysTheWheelAndADrag) {
    open(kLedger);
    auto* cutaway = find<workbench::Cutaway>("cutaway");
    ASSERT_GT(run().acrossRoom(), Length::px(100));
    QTest::keyClick(cutaway, Qt::Key_Right);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().acrossOffset(), Length::px(48));
    QTest::keyClick(cutaway, Qt::Key_Left);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().acrossOffset(), Length{});
    wheel(*cutaway, {0, -60}, Qt::ShiftModifier);
    EXPECT_EQ(run().acrossOffset(), Length::px(60));
    EXPECT_EQ(run().offset(), Length{});
    wheel(*cutaway, {25, 0});
    EXPECT_EQ(run().acrossOffset(), Length::px(35));
    const QPoint from = cutaway->windowRect().center().toPoint();
    QTest::mousePress(cutaway, Qt::LeftButton, {}, from);
    for (const int by : {10, 30, 35}) {
        QTest::mouseMove(cutaway, from - QPoint(by, 1));
    }
    EXPECT_THAT(find<QLabel>("gestureSaid")->text().toStdString(), HasSubstr("the columns"));
    QTest::mouseRelease(cutaway, Qt::LeftButton, {}, from - QPoint(35, 1));
    ASSERT_TRUE(settle());
    EXPECT_GT(run().acrossOffset(), Length::px(35));
}

TEST_F(TableTest, InItemCellsStandInColumnsBelowTheHeading) {
    open(kLedger);
    openItem();
    for (const workbench::Specimen& specimen : item().model().specimens()) {
        const auto& boxes = specimen.view->boxes();
        for (std::size_t part = 2; part < 4; ++part) {
            EXPECT_TRUE(!boxes[part].shown || boxes[part].x == columns().startOf(part - 1)) << part;
        }
    }
    EXPECT_EQ(item().model().columnsOfTable()->heading(0)->title(), QStringLiteral("Name"));
}

TEST_F(TableTest, InItemAnEdgeIsDraggedToAWidthAndTwiceClickedFollowsItsCells) {
    open(kLedger);
    openItem();
    drag(inHeading(edgeBehind(0)), inHeading(edgeBehind(0) + 30 * board().zoom()));
    EXPECT_EQ(record()["row"][0]["width"], 150);
    EXPECT_EQ(columns().widthOf(0), Length::px(150));
    const QRectF row = board().partOnViewport(1, "/items/record");
    const QPointF onRow(row.left() + edgeBehind(0), row.center().y());
    drag(onRow, onRow - QPointF(50 * board().zoom(), 0));
    EXPECT_EQ(record()["row"][0]["width"], 100) << "on any of them";
    QTest::mouseDClick(board().viewport(), Qt::LeftButton, {}, inHeading(edgeBehind(0)).toPoint());
    EXPECT_FALSE(record()["row"][0].contains("width"));
    window->workspace().undo().undo();
    EXPECT_EQ(record()["row"][0]["width"], 100) << "each is one undo";
}

TEST_F(TableTest, InItemACellOfTheHeadingDragsItsColumnAndAHeadingOfOnesOwnGoesWithIt) {
    open(kLedger, R"({"table": {}})",
         R"(, "heading": {"row": [{"text": "Who"}, {"text": "Where"}, {"text": "What"}], "padding": 8})");
    openItem();
    const double last = columns().startOf(2).toPx() * board().zoom();
    drag(inHeading(20), inHeading(last + 200 * board().zoom()));
    EXPECT_EQ(texts("record"), (std::vector<std::string>{"{site}", "{note}", "{Name}"}));
    EXPECT_EQ(texts("heading"), (std::vector<std::string>{"Where", "What", "Who"}));
    board().select("/items/record/row/1");
    QTest::keyClick(&board(), Qt::Key_Delete);
    EXPECT_EQ(texts("heading"), (std::vector<std::string>{"Where", "Who"}));
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    EXPECT_EQ(texts("heading"), (std::vector<std::string>{"Who", "Where", "What"}));
}

TEST_F(TableTest, InItemAHeadingOfOnesOwnIsMadeOfTheUsualOneAndDesigned) {
    open(kLedger);
    openItem();
    Q_EMIT find<workbench::SentenceWord>("wordWhich")->wordChosen(QStringLiteral("new heading"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 30'000));
    EXPECT_EQ(texts("heading"), (std::vector<std::string>{"Name", "Site", "Note"}));
    ASSERT_EQ(item().model().specimens().size(), 1U);
    EXPECT_GE(columns().widthOf(1), Length::px(60)) << "as wide as the cells of records need";
    EXPECT_FALSE(document()->isHeadingUsual);
}

TEST_F(TableTest, ADesignThatStandsInNoRowIsRefused) {
    open(kLedger);
    openItem();
    const auto problem = workbench::designProblem(
        *document(), &*window->workspace().records(),
        DesignDraft(R"({"items": {"record": {"column": [{"text": "{Name}"}]}}})").text());
    ASSERT_TRUE(problem);
    EXPECT_THAT(problem->text(), HasSubstr("does not stand in a row"));
    DesignDraft draft(document()->designText());
    draft.replace("/items/record", Json::parse(R"({"column": [{"text": "{Name}"}, {"text": "{site}"}]})"));
    const auto made = document()->withDesign(draft.text());
    ASSERT_TRUE(made);
    EXPECT_EQ(DesignDraft(workbench::asTable(*made).designText()).member("/items", "record")["row"].size(),
              2U)
        << "what a starting point becomes";
}

TEST(TableWords, SayWhatTheyAreUnderstoodAs) {
    ArrangementSpec now;
    now.sideways = Sideways();
    const auto table = workbench::arrangementFromWords(QStringLiteral("Table"), now);
    ASSERT_TRUE(table);
    EXPECT_TRUE(std::holds_alternative<TableSpec>(table->form));
    EXPECT_FALSE(table->sideways);
    EXPECT_EQ(workbench::arrangementInWords(*table), QStringLiteral("a table"));
    for (const QString& words : workbench::headingChoices()) {
        TableSpec spec;
        workbench::headingFromWords(words, spec);
        EXPECT_EQ(workbench::headingInWords(spec), words);
    }
}

} // namespace
} // namespace scorrere::testing
