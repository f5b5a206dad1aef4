// SPDX-License-Identifier: GPL-3.0-or-later
// A strip that runs to the side, and a pager: by the words of the sentence, by wheel, keys and pointer, on screen
// and in the file.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QPointer>
#include <QTest>
#include <QWheelEvent>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Cutaway;
using workbench::SentenceWord;

class AxisTest : public FlowTest {
protected:
    void open(const char* arrangement, const char* locale = "en") {
        openCollection(std::string(R"("locale": ")") + locale + R"(", "source": {"demo": {"count": 200}},
            "items": {"record": {"column": [{"text": "{species}"}, {"text": "{note}", "lines": 0}],
                                 "ground": "#336699", "padding": 6}},
            "arrangement": )" +
                       arrangement);
    }
    std::int64_t firstShowing() {
        return std::ranges::find(run().placements(), true, &Placement::showing)->position;
    }
    void wheel(QPoint by, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        FlowTest::wheel(*find<Cutaway>("cutaway"), by, modifiers);
    }
    void key(Qt::Key key) {
        QTest::keyClick(find<Cutaway>("cutaway"), key);
        ASSERT_TRUE(settle());
    }
    /// Where a place of the device's window stands in the cutaway.
    QPoint onCutaway(QPointF at) {
        auto* cutaway = find<Cutaway>("cutaway");
        return (cutaway->windowRect().topLeft() + at * cutaway->scale()).toPoint();
    }
    QColor colourAt(QPointF at) {
        return find<Cutaway>("cutaway")->grab().toImage().pixelColor(onCutaway(at));
    }
};

TEST_F(AxisTest, SidewaysIsAWordThatUndoTakesBack) {
    open(R"({"list": {"gap": 10}})");
    const Length wide = run().cross();
    EXPECT_THAT(sentence(), HasSubstr("as a list running down, in no sections, all in one strip, in a"));
    choose("wordAxis", "sideways");
    EXPECT_THAT(
        sentence(),
        HasSubstr("as a list running sideways, items 200 px wide, in no sections, all in one strip, in a"));
    EXPECT_EQ(run().window(), wide) << "what was across is along now";
    EXPECT_EQ(placed(0).box.extent, Length::px(200));
    EXPECT_EQ(placed(1).box.start, Length::px(210));
    // Side by side, each as high as the window, and nothing in the gap.
    EXPECT_EQ(colourAt({196, 700}), QColor(0x33, 0x66, 0x99));
    EXPECT_EQ(colourAt({214, 700}), QColor(0x33, 0x66, 0x99));
    EXPECT_EQ(colourAt({205, 700}), window->look().items.paper);
    // The strip map lies along the strip, below it.
    auto* map = find("stripMap");
    EXPECT_GT(map->width(), 3 * map->height());
    EXPECT_GE(map->y(), find("cutaway")->geometry().bottom());
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().cross(), wide);
    EXPECT_LT(map->width(), map->height());
}

TEST_F(AxisTest, ItemsAreAsWideAsTheWordSays) {
    open(R"({"list": {"sideways": {"share": 0.5}}})");
    EXPECT_THAT(sentence(), HasSubstr("items 50% of the window wide"));
    EXPECT_EQ(placed(0).box.extent, run().window() / 2);
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_T);
    ASSERT_TRUE(settle());
    EXPECT_EQ(placed(0).box.extent, run().window() / 2) << "of the window as it is";
    choose("wordItemWidth", "as wide as they need up to 300 px");
    std::set<Length> widths;
    for (const Placement& placement : run().placements()) {
        widths.insert(placement.box.extent);
        EXPECT_LE(placement.box.extent, Length::px(300));
    }
    EXPECT_GT(widths.size(), 1U) << "some need less";
    EXPECT_THAT(document()->serialise(), HasSubstr("\"most\": 300"));
}

TEST_F(AxisTest, WhatIsEstimatedOfWidthsIsWhatIsMeasured) {
    open(R"({"list": {"sideways": {"most": 300}}})");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !live().isEstimating() && live().isIdle(); }));
    std::vector<Length> thought;
    for (std::int64_t position = 100; position < 103; ++position) {
        EXPECT_EQ(run().arrangement().stateOf(position), ExtentState::ContentEstimate);
        thought.push_back(run().arrangement().extentOf(position));
    }
    flow().runner().showRecord(100);
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().isIdle() && firstShowing() == 100; }));
    for (std::size_t i = 0; i < thought.size(); ++i) {
        const Length is = placed(100 + static_cast<std::int64_t>(i)).box.extent;
        EXPECT_LE(std::abs((is - thought[i]).toPx()), 1) << i;
    }
}

TEST_F(AxisTest, TheWheelKeysAndDragsGoAlongIt) {
    open(R"({"list": {"sideways": 100}})");
    wheel({-240, 0});
    EXPECT_EQ(run().offset(), Length::px(240)) << "the tilt wheel";
    wheel({0, -60}, Qt::ShiftModifier);
    EXPECT_EQ(run().offset(), Length::px(300));
    key(Qt::Key_Left);
    EXPECT_EQ(run().offset(), Length::px(252));
    key(Qt::Key_Right);
    EXPECT_EQ(run().offset(), Length::px(300));
    key(Qt::Key_Down);
    EXPECT_EQ(run().offset(), Length::px(300)) << "it does not go down";
    key(Qt::Key_Home);
    EXPECT_EQ(run().offset(), Length{});
    auto* cutaway = find<Cutaway>("cutaway");
    QTest::mousePress(cutaway, Qt::LeftButton, {}, onCutaway({300, 300}));
    QTest::mouseMove(cutaway, onCutaway({300, 100}));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !run().motion().isPressed() || run().offset() == Length{}; }));
    EXPECT_EQ(run().offset(), Length{}) << "up and down is not its axis";
    QTest::mouseMove(cutaway, onCutaway({100, 100}));
    EXPECT_TRUE(QTest::qWaitFor([&] { return run().offset() > Length::px(150); }));
    QTest::mouseRelease(cutaway, Qt::LeftButton, {}, onCutaway({100, 100}));
}

TEST_F(AxisTest, WhereOneReadsFromTheRightItBeginsThere) {
    open(R"({"list": {"gap": 10, "sideways": 100}})", "ar");
    const double wide = run().window().toPx();
    EXPECT_EQ(colourAt({wide - 50, 700}), QColor(0x33, 0x66, 0x99));
    EXPECT_EQ(colourAt({wide - 105, 700}), window->look().items.paper) << "the first gap";
    key(Qt::Key_Left);
    EXPECT_EQ(run().offset(), Length::px(48)) << "on is to the left";
    wheel({120, 0});
    EXPECT_EQ(run().offset(), Length::px(168));
    const auto tap = live().tapAt(wide - 1, 10);
    EXPECT_FALSE(tap) << "nothing there takes taps, and nothing breaks";
    // A grid that runs down has its first column at the right.
    choose("wordAxis", "down");
    choose("wordArrangement", "a grid of 2 columns");
    key(Qt::Key_Home);
    const QRectF first = live().axis().onScreen(placed(0).box);
    EXPECT_GT(first.left(), live().axis().onScreen(placed(1).box).right());
    EXPECT_EQ(colourAt(first.center()), QColor(0x33, 0x66, 0x99));
}

TEST_F(AxisTest, APagerRestsOnOneItemAndItsMarksSayWhich) {
    open(R"({"list": {"gap": 12}})");
    choose("wordArrangement", "a pager");
    EXPECT_THAT(sentence(),
                HasSubstr("as a pager running down, nothing of the neighbours, 12 px apart, one at "
                          "a fling, nothing after the last, with round marks, in no sections, all in "
                          "one strip, in a"));
    choose("wordAxis", "sideways");
    choose("wordPeek", "20 px");
    EXPECT_EQ(placed(0).box.extent, run().window() - Length::px(64));
    EXPECT_EQ(placed(1).box.start, run().window() - Length::px(20));
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    EXPECT_EQ(placed(2).box.start, Length::px(32));
    const auto colourOfMark = [&](std::int64_t position) {
        return colourAt(live().marks()->markOf(position).center());
    };
    EXPECT_EQ(colourOfMark(2), window->look().items.accent);
    EXPECT_EQ(colourOfMark(1), window->look().items.faint);
    // A mark is tapped.
    const QPointF third = live().marks()->markOf(4).center();
    QTest::mouseClick(find<Cutaway>("cutaway"), Qt::LeftButton, {}, onCutaway(third));
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().isIdle() && placed(4).box.start == Length::px(32); }));
    // Round it goes, and the marks with it.
    choose("wordAfterLast", "the first");
    key(Qt::Key_Home);
    key(Qt::Key_Left);
    const std::int64_t last = run().arrangement().size() - 1;
    EXPECT_EQ(placed(last).box.start, Length::px(32));
    EXPECT_EQ(placed(0).box.start, run().window() - Length::px(20));
    EXPECT_EQ(colourOfMark(last), window->look().items.accent);
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    EXPECT_EQ(placed(1).box.start, Length::px(32));
    choose("wordMarks", "9 long marks at the top");
    EXPECT_THAT(sentence(), HasSubstr("with 9 long marks at the first edge,"));
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    EXPECT_LT(live().marks()->markOf(4).center().y(), 40);
    EXPECT_GT(live().marks()->markOf(4).width(), live().marks()->markOf(3).width());
    choose("wordFling", "several at a fling");
    const std::string path = folder.filePath(QStringLiteral("pager.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    const auto again = CollectionDocument::load(path);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->arrangement, document()->arrangement);
    choose("wordMarks", "no marks");
    EXPECT_FALSE(live().marks());
    choose("wordArrangement", "a list");
    EXPECT_THAT(document()->serialise(), Not(HasSubstr("pager")));
}

TEST_F(AxisTest, TheStripGoesUnderTheDevicesBarsAndItsEndsRestClearOfThem) {
    open(R"({"list": {"gap": 10}})");
    EXPECT_THAT(sentence(), HasSubstr("held upright, between its bars, half a screen"));
    auto* cutaway = find<Cutaway>("cutaway");
    const QRectF screen = cutaway->geometry().screen();
    EXPECT_LT(screen.top(), cutaway->windowRect().top() - 10) << "the bars stand outside the window";
    EXPECT_EQ(placed(0).box.start, Length{});
    const QColor between =
        cutaway->grab().toImage().pixelColor(QPointF(screen.center().x(), screen.top() + 4).toPoint());
    EXPECT_NE(between, QColor(0x33, 0x66, 0x99));
    choose("wordBars", "under");
    EXPECT_EQ(run().window(), Length::px(780 + 36 + 20));
    EXPECT_EQ(placed(0).box.start, Length::px(36)) << "the first stands clear";
    key(Qt::Key_Down);
    EXPECT_LT(placed(0).box.start, Length::px(36)) << "and scrolls under it";
    key(Qt::Key_End);
    const Placement& last = run().placements().back();
    EXPECT_EQ(last.box.end(), run().window() - Length::px(20));
    // What passes under shows through.
    run().jumpTo(20);
    flow().runner().driver().want();
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().isIdle() && firstShowing() == 20; }));
    const QColor through = colourAt({200, 30});
    EXPECT_LT(through.red(), through.blue()) << "tinted by what is under it";
    EXPECT_THAT(document()->serialise(), HasSubstr("\"underBars\": true"));
    key(Qt::Key_T);
    EXPECT_EQ(run().window(), Length::px(392 + 18)) << "on its side it has one at the bottom only";
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().window(), Length::px(780));
}

TEST_F(AxisTest, EachArrangementRunsSmallOverOnesOwnRecordsAndOneClickTakesIt) {
    open(R"({"list": {"gap": 10}})");
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_G);
    QPointer<QWidget> card = find("arrangementCard");
    auto* tile = find<QAbstractButton>("arrange_a_pager,_sideways");
    const auto inked = [&](QAbstractButton* of) {
        const QImage image = of->grab().toImage();
        int found = 0;
        for (int y = 30; y < image.height(); y += 2) {
            for (int x = 2; x < image.width(); x += 2) {
                found += image.pixelColor(x, y) == QColor(0x33, 0x66, 0x99) ? 1 : 0;
            }
        }
        return found;
    };
    for (auto* each : card->findChildren<QAbstractButton*>()) {
        EXPECT_TRUE(QTest::qWaitFor([&] { return inked(each) > 300; })) << each->text().toStdString();
    }
    // It scrolls under the pointer.
    auto* list = find<QAbstractButton>("arrange_a_list");
    const QImage before = list->grab().toImage();
    QWheelEvent event(QPointF(40, 80), list->mapToGlobal(QPointF(40, 80)), {}, {0, -120}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(list, &event);
    EXPECT_TRUE(QTest::qWaitFor([&] { return list->grab().toImage() != before; }));
    for (const Qt::Key each : {Qt::Key_Down, Qt::Key_Right, Qt::Key_Right, Qt::Key_Right, Qt::Key_Right}) {
        QTest::keyClick(card->focusWidget() != nullptr ? card->focusWidget() : list, each);
    }
    EXPECT_TRUE(tile->hasFocus() || card->focusWidget() == tile) << "arrows go from one to the next";
    QTest::keyClick(tile, Qt::Key_Return);
    ASSERT_TRUE(QTest::qWaitFor([&] { return card == nullptr; }));
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(), HasSubstr("as a pager running sideways"));
    EXPECT_EQ(document()->arrangement.spacing.gap, Length::px(10));
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_G);
    EXPECT_EQ(find<QAbstractButton>("arrange_a_pager,_sideways")->parentWidget()->focusWidget(),
              find<QAbstractButton>("arrange_a_pager,_sideways"))
        << "one begins at the present one";
    find("arrangementCard")->close();
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(), HasSubstr("as a list running down"));
}

TEST_F(AxisTest, APagerOfManyHasAFewViews) {
    const qint64 count = manyRecords() / 5;
    openDemo(count);
    window->goTo(QStringLiteral("flow"));
    choose("wordArrangement", "a pager");
    choose("wordAxis", "sideways");
    key(Qt::Key_End);
    EXPECT_EQ(firstShowing(), count + 1) << "the footer is the last";
    EXPECT_LE(run().recycler().views().size(), 8U);
    key(Qt::Key_Left);
    EXPECT_EQ(firstShowing(), count);
}

TEST(AxisFile, WhatIsWrongIsToldWhereItStands) {
    const auto errorOf = [](const char* arrangement) {
        const auto document = CollectionDocument::parse(
            std::string(
                R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"x"}},"arrangement":)") +
                arrangement + "}",
            "");
        return document ? std::string() : document.error().place.pointer + ": " + document.error().message;
    };
    EXPECT_EQ(errorOf(R"({"list": {"sideways": {"share": 0.8}}})"), "");
    EXPECT_EQ(errorOf(R"({"list": {"sideways": false}})"), "");
    EXPECT_THAT(errorOf(R"({"list": {"sideways": {}}})"),
                HasSubstr("list/sideways: it does not say how wide"));
    EXPECT_THAT(errorOf(R"({"list": {"sideways": {"share": 0.8, "most": 3}}})"), HasSubstr("how wide"));
    EXPECT_THAT(errorOf(R"({"grid": {"sideways": 0}})"), HasSubstr("grid/sideways"));
    EXPECT_THAT(errorOf(R"({"list": {"sideways": {"share": 9}}})"), HasSubstr("sideways/share"));
    EXPECT_EQ(errorOf(R"({"pager": {"peek": 10, "marks": {}}})"), "");
    EXPECT_THAT(errorOf(R"({"pager": {"peek": -1}})"), HasSubstr("pager/peek"));
    EXPECT_THAT(errorOf(R"({"pager": {"marks": {"shape": "star"}}})"), HasSubstr("marks/shape"));
    EXPECT_THAT(errorOf(R"({"pager": {"marks": {"most": 2}}})"), HasSubstr("marks/most"));
    EXPECT_THAT(errorOf(R"({"pager": {}, "list": {}})"), HasSubstr("two arrangements"));
}

TEST(AxisWords, AreReadAsTheyAreWritten) {
    const auto width = [](const char* typed) {
        const auto read = workbench::widthFromWords(QString::fromUtf8(typed));
        return read ? workbench::widthInWords(*read).toStdString() : std::string();
    };
    EXPECT_EQ(width("240"), "240 px wide");
    EXPECT_EQ(width("62.5 %"), "62.5% of the window wide");
    EXPECT_EQ(width("up to 90px"), "as wide as they need up to 90 px");
    EXPECT_EQ(width("0 px"), "");
    EXPECT_EQ(width("500%"), "");
    EXPECT_EQ(width("wide"), "");
    for (const QString& choice : workbench::widthChoices()) {
        EXPECT_EQ(width(choice.toUtf8().constData()), choice.toStdString());
    }
    ArrangementSpec sideways;
    sideways.sideways = Sideways();
    for (const QString& choice : workbench::arrangementChoices(true, {{QStringLiteral("From"), true}})) {
        EXPECT_EQ(workbench::arrangementInWords(*workbench::arrangementFromWords(choice, sideways)), choice);
        EXPECT_FALSE(choice.contains(QLatin1String("column"))) << choice.toStdString();
    }
    for (const QString& choice : workbench::cellChoices(true)) {
        EXPECT_EQ(workbench::cellsInWords(*workbench::cellsFromWords(choice), true), choice);
    }
    const auto marks = [](const char* typed) {
        const auto read = workbench::marksFromWords(QString::fromUtf8(typed), std::nullopt);
        return read ? workbench::marksInWords(*read).toStdString() : std::string();
    };
    EXPECT_EQ(marks("none"), "no marks");
    EXPECT_EQ(marks("12 square marks"), "12 square marks");
    EXPECT_EQ(marks("marks"), "round marks");
    EXPECT_EQ(marks("2 marks"), "");
    EXPECT_EQ(marks("stars"), "");
    for (const QString& choice : workbench::markChoices()) {
        EXPECT_EQ(marks(choice.toUtf8().constData()), choice.toStdString());
    }
    for (const QString& choice : workbench::peekChoices()) {
        EXPECT_EQ(workbench::peekInWords(*workbench::peekFromWords(choice)), choice);
    }
    EXPECT_FALSE(workbench::pxFromWords(QStringLiteral("2000 px")));
}

} // namespace
} // namespace scorrere::testing
