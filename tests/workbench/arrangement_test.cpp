// SPDX-License-Identifier: GPL-3.0-or-later
// A grid, as people make one: by the words of Flow's sentence, in the file, and on the screen.
#include "engine/record/record_builder.h"
#include "testing/program/flow_fixture.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QHelpEvent>
#include <QMenu>
#include <QTest>
#include <QToolButton>
#include <QToolTip>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <map>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::Cutaway;
using workbench::SentenceWord;

class ArrangementTest : public FlowTest {
protected:
    /// Short items, so that several lines of any grid show; the first one takes taps.
    void openShort() {
        openFile(write("short.collection.json",
                       R"({"scorrere": 1, "noun": "moths", "source": {"demo": {"count": 200}},
            "items": {"record": {"column": [{"text": "{species}", "lines": 2}, {"text": "{wingspan_mm}"}],
                                 "padding": 6, "tap": "open"},
                      "header": {"text": "Moths"}},
            "arrangement": {"list": {}}})"));
        ASSERT_TRUE(settle());
    }
};

TEST_F(ArrangementTest, AGridIsAWordOfTheSentenceAndOneUndo) {
    openShort();
    EXPECT_THAT(sentence(), HasSubstr("as a list running down, in no sections, all in one strip, in a"));
    const Length cross = run().cross();
    choose("wordArrangement", "a grid of 3 columns");
    EXPECT_THAT(sentence(), HasSubstr("as a grid of 3 columns running down, cells as high as their line, 0 "
                                      "px apart, in no sections, all in one strip, in a"));
    // The header has a line for itself; then three stand side by side.
    const Box first = placed(1).box;
    const Box third = placed(3).box;
    EXPECT_EQ(placed(0).box.crossExtent, cross);
    EXPECT_EQ(first.start, third.start);
    EXPECT_EQ(first.extent, third.extent);
    EXPECT_EQ(third.crossStart, first.crossExtent * 2);
    EXPECT_EQ(placed(4).box.start, first.end());
    choose("wordGaps", "12 px");
    EXPECT_EQ(placed(4).box.start - placed(1).box.end(), Length::px(12));
    EXPECT_EQ(placed(2).box.crossStart - placed(1).box.crossExtent, Length::px(12));
    choose("wordCells", "120 px high");
    EXPECT_EQ(placed(1).box.extent, Length::px(120));
    choose("wordArrangement", "a grid of cells 190 px wide or more");
    EXPECT_EQ(placed(3).box.crossStart, Length{}) << "two fit in a handset";
    while (window->workspace().undo().canUndo()) {
        window->workspace().undo().undo();
    }
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(), HasSubstr("as a list running down, in no sections, all in one strip, in a"));
    EXPECT_EQ(placed(1).box.crossExtent, cross);
}

TEST_F(ArrangementTest, InRaggedColumnsEachGoesToTheOneThatEndsFirst) {
    openShort();
    choose("wordArrangement", "3 ragged columns");
    EXPECT_THAT(
        sentence(),
        HasSubstr("as 3 ragged columns running down, 0 px apart, in no sections, all in one strip, in a"));
    choose("wordGaps", "10 px and 4 px");
    EXPECT_EQ(placed(0).box.crossExtent, run().cross()) << "the header stands across all";
    std::map<Length, Length> ends; // by where the lane begins across
    for (const std::int64_t position : {1, 2, 3}) {
        EXPECT_EQ(placed(position).box.start, placed(1).box.start);
        ends[placed(position).box.crossStart] = placed(position).box.end();
    }
    ASSERT_EQ(ends.size(), 3U);
    EXPECT_EQ(placed(2).box.crossStart - placed(1).box.crossExtent, Length::px(10));
    const auto first = std::ranges::min_element(ends, {}, [](const auto& lane) { return lane.second; });
    EXPECT_EQ(placed(4).box.crossStart, first->first);
    EXPECT_EQ(placed(4).box.start - first->second, Length::px(4));
    choose("wordArrangement", "ragged columns 220 px wide or more");
    EXPECT_EQ(placed(2).box.crossStart, Length{}) << "one fits in a handset";
    choose("wordArrangement", "a grid of 2 columns");
    EXPECT_THAT(sentence(), HasSubstr("cells as high as their line, 10 px and 4 px apart"))
        << "distances stay";
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(),
                HasSubstr("as ragged columns 220 px wide or more running down, 10 px and 4 px apart"));
    const std::string path = folder.filePath(QStringLiteral("board.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    const auto again = CollectionDocument::load(path);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->arrangement, document()->arrangement);
    EXPECT_THAT(document()->serialise(), HasSubstr("\"leastLane\": 220"));
}

TEST_F(ArrangementTest, AKindOfItemsTakesAsManyColumnsAsItsWordSays) {
    openFile(write("kinds.collection.json",
                   R"({"scorrere": 1, "noun": "moths", "source": {"demo": {"count": 200}},
        "items": {"record": {"text": "{species}", "padding": 6},
                  "kinds": [{"name": "large", "when": "@.wingspan_mm > 60",
                             "design": {"text": "{species}", "size": 20}}]},
        "arrangement": {"grid": {"columns": 3, "gap": 8}}})"));
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(), HasSubstr("cells as high as their line, every kind in one column, 8 px apart"));
    const auto isLarge = [&](std::int64_t position) {
        const RecordTable& records = live().records();
        return std::stod(records.display(position, *records.find("wingspan_mm"))) > 60;
    };
    std::int64_t large = 0;
    while (!isLarge(large)) {
        ++large;
    }
    ASSERT_GT(large, 0);
    const auto widthOf = [&](std::int64_t position) {
        live().showRecord(position);
        EXPECT_TRUE(settle());
        return placed(position).box.crossExtent;
    };
    const Length one = widthOf(large);
    choose("wordSpans", "large across all columns");
    EXPECT_THAT(sentence(),
                HasSubstr("large across all columns, lines filled by their last cell, 8 px apart"));
    EXPECT_EQ(widthOf(large), run().cross());
    choose("wordSpans", "large across 2 columns");
    EXPECT_GE(widthOf(large), one * 2 + Length::px(8));
    // A line that has one column left before a large one: the one before it fills it, or there is a hole.
    const auto& grid = dynamic_cast<const GridArrangement&>(run().arrangement());
    std::int64_t filling = 0;
    while (isLarge(filling) || grid.spanOf(filling) == 1) {
        ++filling;
    }
    EXPECT_GT(widthOf(filling), one * 2);
    choose("wordArrangement", "a grid of 4 columns");
    EXPECT_THAT(sentence(), HasSubstr("a grid of 4 columns running down, cells as high as their line, large "
                                      "across 2 columns"))
        << "what was said of kinds stays";
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    choose("wordHoles", "holes where one does not fit");
    EXPECT_EQ(widthOf(filling), one);
    const std::string path = folder.filePath(QStringLiteral("spans.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    EXPECT_THAT(document()->serialise(), HasSubstr("\"spans\": { \"large\": 2 }"));
    while (window->workspace().undo().canUndo()) {
        window->workspace().undo().undo();
    }
    ASSERT_TRUE(settle());
    EXPECT_EQ(widthOf(large), one);
}

TEST(SpanWords, AreReadAsTheyAreWrittenAndOfKindsThatThereAreOnly) {
    const QStringList kinds{QStringLiteral("odd one"), QStringLiteral("heading")};
    const auto read = [&](const char* typed) {
        const auto spans = workbench::spansFromWords(QString::fromUtf8(typed), kinds);
        return spans ? workbench::spansInWords(*spans, false).toStdString() : std::string("?");
    };
    EXPECT_EQ(read("odd one across 2"), "odd one across 2 columns");
    EXPECT_EQ(read("odd one across 2 columns, heading across all"),
              "odd one across 2 columns, heading across all columns");
    EXPECT_EQ(read("every kind in one column"), "every kind in one column");
    EXPECT_EQ(read("odd one in one column"), "every kind in one column");
    for (const char* const wrong :
         {"moths across 2", "odd one across 0", "odd one across 33", "odd one", "2"}) {
        EXPECT_EQ(read(wrong), "?") << wrong;
    }
    for (const QString& choice : workbench::spanChoices(kinds, true)) {
        const auto spans = workbench::spansFromWords(choice, kinds);
        ASSERT_TRUE(spans) << choice.toStdString();
        EXPECT_EQ(workbench::spansInWords(*spans, true), choice);
    }
}

TEST_F(ArrangementTest, TheDemoIsOfferedInEachByItsMenuAndByKey) {
    makeWindow();
    auto* demos = find<QToolButton>("demosButton");
    ASSERT_NE(demos->menu(), nullptr);
    const auto choose = [&](int key, const char* words, Qt::KeyboardModifiers with = Qt::ControlModifier) {
        QTest::keyClick(window.get(), static_cast<Qt::Key>(Qt::Key_0 + key), with);
        ASSERT_TRUE(QTest::qWaitFor(
            [&] {
                return !window->workspace().opening().isBusy() && flow().collection() != nullptr &&
                       sentence().find(words) != std::string::npos;
            },
            60'000))
            << key << ": " << sentence();
    };
    choose(5, "20,000 sightings, all, containing anything, in their order, as a grid of 3 columns");
    choose(6, "20,000 sightings, all, containing anything, in their order, as 2 ragged columns");
    choose(7, "20,000 sightings, all, containing anything, in their order, as a list running sideways");
    choose(8, "20,000 sightings, all, containing anything, in their order, as a pager running sideways");
    choose(9, "in sections by the day of night whose headers stay, with a jump list");
    choose(1,
           "20,000 watches, all, containing anything, in their order, as placed by from running down, each "
           "to until, 1.5 px a minute",
           Qt::ControlModifier | Qt::ShiftModifier);
    choose(
        2,
        "20,000 sightings, all, containing anything, in their order, as a table under a heading that stays",
        Qt::ControlModifier | Qt::ShiftModifier);
    choose(3, "5,000 sightings, all, containing anything, in their order, as a list running down",
           Qt::ControlModifier | Qt::ShiftModifier);
    choose(4, "20,000 sightings, all, containing anything, in their order, as a list running down",
           Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(demos->menu()->actions().size(), 13);
    EXPECT_EQ(demos->menu()->actions().at(5)->shortcut(), QKeySequence(QStringLiteral("Ctrl+6")));
    demos->menu()->actions().at(0)->trigger();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            return sentence().find(
                       "Show 20 sightings, all, containing anything, in their order, as a list") == 0;
        },
        60'000));
}

TEST_F(ArrangementTest, WhatIsReadStaysWhenTheNumberOfColumnsChanges) {
    openDemo(20'000);
    ASSERT_TRUE(settle());
    run().jumpTo(9001);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    choose("wordArrangement", "a grid of 2 columns");
    EXPECT_EQ(placed(9001).box.start, Length{});
    choose("wordArrangement", "a grid of 4 columns");
    EXPECT_EQ(placed(9001).box.start, Length{});
    choose("wordArrangement", "3 ragged columns");
    EXPECT_EQ(placed(9001).box.start, Length{});
    choose("wordArrangement", "a list");
    EXPECT_EQ(placed(9001).box.start, Length{});
}

TEST_F(ArrangementTest, ATapFindsTheCellItIsIn) {
    openShort();
    choose("wordArrangement", "a grid of 2 columns");
    const Box second = placed(2).box;
    const double y = (second.start + second.extent / 2).toPx();
    const auto right = live().tapAt(second.crossStart.toPx() + 40, y);
    const auto left = live().tapAt(40, y);
    ASSERT_TRUE(right && left);
    EXPECT_EQ(right->record, 1);
    EXPECT_EQ(left->record, 0);
}

TEST_F(ArrangementTest, TheNumbersOfACellAreToldWhereThePointerRests) {
    openShort();
    choose("wordArrangement", "a grid of 3 columns");
    auto* cutaway = find<Cutaway>("cutaway");
    const auto told = [&](const Placement& placement) {
        const Box& box = placement.box;
        const QPoint at =
            (cutaway->windowRect().topLeft() +
             QPointF((box.crossStart + box.crossExtent / 2).toPx(), (box.start + box.extent / 2).toPx()) *
                 cutaway->scale())
                .toPoint();
        QHelpEvent rest(QEvent::ToolTip, at, cutaway->mapToGlobal(at));
        QApplication::sendEvent(cutaway, &rest);
        return QToolTip::text().toStdString();
    };
    const Placement& third = placed(3);
    EXPECT_THAT(told(third), HasSubstr("item 3, in view " + std::to_string(third.view.index + 1)));
    EXPECT_THAT(told(third), HasSubstr(std::to_string(std::llround(third.box.crossExtent.toPx())) + " × " +
                                       std::to_string(std::llround(third.box.extent.toPx())) + " px"));
    EXPECT_THAT(told(placed(0)), HasSubstr("the header"));
}

TEST_F(ArrangementTest, TheCornerOfACellHasTheColourOfItsView) {
    openShort();
    auto* cutaway = find<Cutaway>("cutaway");
    const auto cornerOf = [&](const Placement& placement) {
        const QImage image = cutaway->grab().toImage();
        const Box& box = placement.box;
        const QPointF corner =
            cutaway->windowRect().topLeft() +
            QPointF((box.crossStart + box.crossExtent).toPx(), box.start.toPx()) * cutaway->scale();
        return image.pixelColor((corner + QPointF(-5, 5)).toPoint());
    };
    for (const char* words : {"a grid of 3 columns", "2 ragged columns"}) {
        choose("wordArrangement", words);
        for (const std::int64_t position : {1, 2}) {
            const Placement& cell = placed(position);
            EXPECT_EQ(cornerOf(cell), window->look().ofView(cell.view.index)) << words << position;
        }
    }
    choose("wordArrangement", "a list");
    EXPECT_NE(cornerOf(placed(1)), window->look().ofView(placed(1).view.index)) << "it has its margin note";
}

TEST_F(ArrangementTest, CellsArePaintedWhereTheyStand) {
    openShort();
    choose("wordArrangement", "a grid of 3 columns");
    choose("wordGaps", "20 px");
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().pictures().isQuiet(); }));
    QImage image(392, 780, QImage::Format_RGB32);
    QPainter painter(&image);
    const render::ItemColours colours = render::ItemColours::light();
    live().paintWindow(painter, colours, 1);
    painter.end();
    const auto inked = [&](const Box& box) {
        int found = 0;
        for (int y = static_cast<int>(box.start.toPx()); y < box.end().toPx() && y < 780; ++y) {
            for (int x = static_cast<int>(box.crossStart.toPx());
                 x < (box.crossStart + box.crossExtent).toPx() && x < 392; ++x) {
                found += image.pixel(x, std::max(y, 0)) != colours.paper.rgb() ? 1 : 0;
            }
        }
        return found;
    };
    for (const std::int64_t position : {1, 2, 3, 4, 5}) {
        EXPECT_GT(inked(placed(position).box), 100) << position;
    }
    const Box cell = placed(2).box;
    EXPECT_EQ(
        inked({cell.start, cell.extent, cell.crossStart + cell.crossExtent + Length::px(1), Length::px(18)}),
        0)
        << "nothing stands in the gap";
}

TEST_F(ArrangementTest, IsSavedAndOpenedAsItWas) {
    openDemo(200);
    choose("wordArrangement", "a grid of 5 columns");
    choose("wordArrangement", "a grid of cells 110 px wide or more");
    choose("wordCells", "3 wide to 4 high");
    choose("wordGaps", "4 px and 10 px");
    const std::string path = folder.filePath(QStringLiteral("grid.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    const auto again = CollectionDocument::load(path);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->arrangement, document()->arrangement);
    const std::string text = document()->serialise();
    EXPECT_THAT(text, HasSubstr("\"leastCell\": 110"));
    EXPECT_THAT(text, HasSubstr("\"crossGap\": 4"));
    EXPECT_EQ(text.find("\"list\""), std::string::npos);
}

TEST_F(ArrangementTest, ItemShowsSpecimensAsWideAsTheirCells) {
    openDemo(200);
    ASSERT_TRUE(settle());
    const Length cross = run().cross();
    choose("wordArrangement", "a grid of 2 columns");
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 60'000));
    const auto shown = [this] { return item().model().specimens().at(0).view->boxes().at(0).width.toPx(); };
    EXPECT_NEAR(shown(), (cross / 2).toPx(), 0.1);
    auto* which = find<SentenceWord>("wordWhich");
    which->setWord(QStringLiteral("header"));
    Q_EMIT which->wordChosen(QStringLiteral("header"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 60'000));
    EXPECT_NEAR(shown(), cross.toPx(), 0.1) << "a header has a line for itself";
}

TEST_F(ArrangementTest, RecordsWithoutACollectionBecomeAGridThatIsSaved) {
    openFile(write("names.csv", "id,name\n1,Sallow\n2,Thorn\n3,Tussock\n"));
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(settle());
    choose("wordArrangement", "a grid of 2 columns");
    EXPECT_EQ(placed(0).box.start, placed(1).box.start);
    const auto again = CollectionDocument::parse(document()->serialise(), "");
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->arrangement, document()->arrangement);
}

TEST(ArrangementFile, WhatIsWrongWithAGridIsToldWhereItStands) {
    const auto errorOf = [](const char* arrangement) {
        const auto document = CollectionDocument::parse(
            std::string(
                R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"x"}},"arrangement":)") +
                arrangement + "}",
            "");
        return document ? std::string() : document.error().place.pointer + ": " + document.error().message;
    };
    EXPECT_EQ(errorOf(R"({"grid": {"columns": 4}})"), "");
    EXPECT_THAT(errorOf(R"({"grid": {"columns": 0}})"), HasSubstr("columns"));
    EXPECT_THAT(errorOf(R"({"grid": {"columns": 2, "leastCell": 100}})"), HasSubstr("given twice"));
    EXPECT_THAT(errorOf(R"({"grid": {"extent": 2, "shape": [1, 1]}})"), HasSubstr("given twice"));
    EXPECT_THAT(errorOf(R"({"grid": {"shape": [3]}})"), HasSubstr("not two numbers"));
    EXPECT_EQ(errorOf(R"({"columns": {"leastLane": 140}})"), "");
    EXPECT_THAT(errorOf(R"({"columns": {"lanes": 33}})"), HasSubstr("lanes"));
    EXPECT_THAT(errorOf(R"({"columns": {"lanes": 2, "leastLane": 140}})"), HasSubstr("given twice"));
    EXPECT_THAT(errorOf(R"({"grid": {}, "list": {}})"), HasSubstr("two arrangements"));
    EXPECT_THAT(errorOf(R"({"columns": {}, "list": {}})"), HasSubstr("two arrangements"));
    EXPECT_THAT(errorOf(R"({"spiral": {}})"), HasSubstr("no arrangement"));
}

TEST(ArrangementWords, AreReadAsTheyAreWritten) {
    const auto back = [](const char* typed) {
        const auto spec = workbench::arrangementFromWords(QString::fromUtf8(typed), {});
        return spec ? workbench::arrangementInWords(*spec).toStdString() : std::string();
    };
    EXPECT_EQ(back("5"), "a grid of 5 columns");
    EXPECT_EQ(back("1 column"), "a grid of 1 column");
    EXPECT_EQ(back("120 px"), "a grid of cells 120 px wide or more");
    EXPECT_EQ(back("4 ragged"), "4 ragged columns");
    EXPECT_EQ(back("1 ragged column"), "1 ragged column");
    EXPECT_EQ(back("ragged 90px"), "ragged columns 90 px wide or more");
    EXPECT_EQ(back("33 ragged columns"), "");
    EXPECT_EQ(back("ragged columns 3 px"), "");
    EXPECT_EQ(back("list"), "a list");
    EXPECT_EQ(back("33 columns"), "");
    EXPECT_EQ(back("a spiral"), "");
    for (const QString& choice : workbench::arrangementChoices(false, {{QStringLiteral("From"), true}})) {
        EXPECT_EQ(back(choice.toUtf8().constData()), choice.toStdString());
    }
    for (const QString& choice : workbench::cellChoices(false)) {
        EXPECT_EQ(workbench::cellsInWords(*workbench::cellsFromWords(choice), false), choice);
    }
    EXPECT_FALSE(workbench::cellsFromWords(QStringLiteral("0 to 4")));
    const auto gaps = workbench::gapsFromWords(QStringLiteral("3 and 9"));
    ASSERT_TRUE(gaps);
    EXPECT_EQ(workbench::gapsInWords(gaps->front(), gaps->back()), QStringLiteral("3 px and 9 px"));
    EXPECT_FALSE(workbench::gapsFromWords(QStringLiteral("wide")));
    const ArrangementSpec list{{Length::px(7), {}}, ListSpec()};
    const auto grid = workbench::arrangementFromWords(QStringLiteral("2"), list);
    EXPECT_EQ(grid->spacing, list.spacing) << "distances stay";
    EXPECT_EQ(std::get<GridSpec>(grid->form).columns.gap, Length::px(7));
}

} // namespace
} // namespace scorrere::testing
