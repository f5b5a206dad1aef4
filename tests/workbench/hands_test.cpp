// SPDX-License-Identifier: GPL-3.0-or-later
// Hands in the real window: pointers, fingers and keys on the live collection; actions, undo, and those who do not see.
#include "engine/document/script_file.h"
#include "testing/program/flow_fixture.h"
#include "workbench/model/hand_actions.h"
#include "workbench/model/record_changes.h"
#include "workbench/model/script_player.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/gestures_instrument.h"
#include "workbench/ui/flow/items_access.h"
#include "workbench/ui/look/hands_words.h"

#include <QAccessible>
#include <QClipboard>
#include <QGuiApplication>
#include <QLineEdit>
#include <QMenu>
#include <QPointingDevice>
#include <QTouchEvent>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;
using workbench::GesturesInstrument;

constexpr const char* kHands =
    R"("hands": {"select": "many", "tap": "detail", "swipe": {"atStart": ["verify"], "atEnd": ["remove", "copy"]}, "lift": "handle"},
       "actions": {"verify": {"title": "mark verified", "tone": "good", "do": [{"set": "status", "value": "verified"}]},
                   "more": {"do": [{"add": "count", "by": 3}, {"tell": "{species} counted"}]},
                   "call": {"title": "report", "do": [{"set": "status", "value": "sent"},
                            {"call": {"address": "demo:/nowhere/{id}"}}]},
                   "copy": {"do": [{"copy": "{species}"}]}, "last": {"do": [{"go": "77"}]}})";

class HandsTest : public FlowTest {
protected:
    QString wordOf(const char* name) { return find<workbench::SentenceWord>(name)->word(); }
    /// The demo's sightings with hands, in Flow.
    void open(const std::string& members = kHands) {
        makeWindow();
        openDemo(300);
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
        const auto given = CollectionDocument::parse(
            R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": {"text": ""}}, )" + members + "}",
            "");
        ASSERT_TRUE(given) << given.error().text();
        CollectionDocument to = *document();
        to.hands = given->hands;
        to.actions = given->actions;
        window->workspace().change(QStringLiteral("hands"), to);
        window->workspace().changeDesign(QStringLiteral("design"), QString::fromUtf8(kDesign), {});
        ASSERT_TRUE(settle());
    }
    QPoint inCutaway(QPointF at) {
        const auto& cutaway = flow().cutaway();
        return (cutaway.windowRect().topLeft() + at * cutaway.scale()).toPoint();
    }
    QPoint middleOf(const char* key) { return inCutaway(live().hands().pointOf(key, false).value()); }
    bool isInForce() {
        return QTest::qWaitFor(
            [this] { return !live().isOrdering() && live().isIdle() && !live().isEstimating(); }, 30'000);
    }
    QString valueOf(const char* key, const char* field) {
        const std::int64_t place = live().hands().placeOfKey(key, std::atoi(key) - 1);
        if (place < 0) {
            return QStringLiteral("gone");
        }
        const auto context = live().contextAt(place);
        return QString::fromStdString(
            context->records.display(context->record, *context->records.find(field)));
    }
    void drag(QPoint from, QPoint by, int ms = 400) {
        auto* cutaway = &flow().cutaway();
        QTest::mousePress(cutaway, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) {
            ASSERT_TRUE(pass(ms / 8));
            QTest::mouseMove(cutaway, from + by * i / 8);
        }
        ASSERT_TRUE(pass(150));
        QTest::mouseRelease(cutaway, Qt::LeftButton, {}, from + by);
        ASSERT_TRUE(isInForce());
    }
    /// So much time on the run's clock.
    bool pass(int ms) {
        const qint64 until = flow().runner().driver().nowUs() + qint64{ms} * 1000;
        return QTest::qWaitFor([&] {
            flow().runner().driver().want();
            return flow().runner().driver().nowUs() >= until;
        });
    }
    /// Types another word over one of the sentence.
    void type(const char* name, const char* words) {
        QTest::keyClicks(find<workbench::SentenceWord>(name), QString::fromUtf8(words).left(1));
        auto* line = find<QLineEdit>("wordLine");
        QTest::keyClicks(line, QString::fromUtf8(words).mid(1));
        QTest::keyClick(line, Qt::Key_Return);
        ASSERT_TRUE(settle());
        ASSERT_TRUE(isInForce());
    }
    std::string told() { return window->notice().message().toStdString(); }

    static constexpr const char* kDesign =
        R"({"items": {"record": {"row": [{"column": [{"text": "{species}", "size": 16, "weight": 600},
              {"text": "{site}"}], "grow": 1}, {"text": "=", "width": 44, "height": 44, "tap": "lift"}],
              "padding": 8}, "detail": {"column": [{"text": "{species}", "size": 30}, {"badge": "verify", "tap": "verify"}]}}})";
};

TEST_F(HandsTest, ASwipeOpensActionsAndPulledFarItIsDoneAndUndoTakesItBack) {
    ASSERT_NO_FATAL_FAILURE(open());
    const double k = flow().cutaway().scale();
    const QString before = valueOf("3", "status");
    ASSERT_NO_FATAL_FAILURE(drag(middleOf("3"), QPoint(static_cast<int>(240 * k), 0)));
    ASSERT_EQ(document()->edits.size(), 1U);
    EXPECT_EQ(valueOf("3", "status"), QStringLiteral("verified"));
    EXPECT_THAT(told(), HasSubstr("mark verified"));
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueOf("3", "status"), before);
    ASSERT_NO_FATAL_FAILURE(drag(middleOf("4"), QPoint(static_cast<int>(-100 * k), 0)));
    ASSERT_TRUE(live().hands().aside());
    const double width = live().run().cross().toPx();
    const double y = live().hands().pointOf("4", false)->y();
    QTest::mouseClick(&flow().cutaway(), Qt::LeftButton, {}, inCutaway({width - 120, y}));
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(QGuiApplication::clipboard()->text(), valueOf("4", "species"));
    auto* track = find<GesturesInstrument>("gestures");
    ASSERT_GE(track->rowsInWords(), 3);
    EXPECT_EQ(track->row(track->rowsInWords() - 1).value(0), QStringLiteral("swipe, done"));
    EXPECT_THAT(track->row(track->rowsInWords() - 1).value(2).toStdString(), HasSubstr("% over"));
}

TEST_F(HandsTest, ATapOpensTheRecordAtLengthAndEscLeadsBackToTheSamePlace) {
    ASSERT_NO_FATAL_FAILURE(open());
    live().run().wheel(Length::px(333));
    flow().runner().driver().want();
    ASSERT_TRUE(isInForce());
    const Length offset = live().run().offset();
    const std::string key = live().hands().itemAt({100, 300})->key;
    QTest::mouseClick(&flow().cutaway(), Qt::LeftButton, {}, inCutaway({100, 300}));
    ASSERT_TRUE(isInForce());
    EXPECT_TRUE(live().detail().isOpen());
    EXPECT_EQ(live().detail().key(), key);
    QTest::keyClick(&flow().cutaway(), Qt::Key_Right);
    EXPECT_EQ(live().detail().key(), std::to_string(std::stoi(key) + 1)) << "the next one";
    QTest::keyClick(&flow().cutaway(), Qt::Key_Escape);
    ASSERT_TRUE(isInForce());
    EXPECT_FALSE(live().detail().isOpen());
    EXPECT_EQ(live().run().offset(), offset);
}

TEST_F(HandsTest, LiftedByItsHandleAnItemIsMovedInTheDocumentAndUndoPutsItBack) {
    ASSERT_NO_FATAL_FAILURE(open());
    const QPoint from = inCutaway(live().hands().pointOf("2", true).value());
    const QPoint to = inCutaway(live().hands().pointOf("5", true).value());
    ASSERT_NO_FATAL_FAILURE(drag(from, to - from + QPoint(0, 8), 600));
    ASSERT_EQ(document()->edits.size(), 1U);
    EXPECT_EQ(document()->edits[0]->kind, RecordEdit::Kind::Move);
    const std::int64_t place = live().hands().placeOfKey("2", 1);
    EXPECT_GE(place, 3);
    EXPECT_EQ(document()->edits[0]->before, live().hands().keyAt(place + 1));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("Ctrl+Z puts it back"));
    const auto cards = [this] {
        QList<workbench::NoticeCard*> all = window->notice().findChildren<workbench::NoticeCard*>();
        all.removeIf([](const workbench::NoticeCard* card) { return card->isHidden(); });
        return all.size();
    };
    ASSERT_NO_FATAL_FAILURE(drag(middleOf("4"), QPoint(static_cast<int>(240 * flow().cutaway().scale()), 0)));
    ASSERT_EQ(document()->edits.size(), 2U);
    EXPECT_EQ(cards(), 1) << "what was done last stands in place of what was done before";
    EXPECT_THAT(window->notice().history().join(QLatin1Char('|')).toStdString(), HasSubstr("puts it back"));
    window->workspace().undo().undo();
    EXPECT_EQ(cards(), 0) << "it was taken back";
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().hands().placeOfKey("2", 1), 1);
}

TEST_F(HandsTest, LiftedToAnotherSectionItTakesOverItsValueInOneStepAndARunOfThatDocumentIsTheSame) {
    std::string hands = kHands;
    hands.replace(hands.find(R"("lift": "handle")"), 16, R"("lift": "handle", "liftTo": "anywhere")");
    ASSERT_NO_FATAL_FAILURE(open(hands));
    CollectionDocument to = *document();
    SectionsSpec sections;
    sections.by.is = SectionBy::Text{"{site}"};
    to.arrangement.sections = sections;
    window->workspace().change(QStringLiteral("sections"), to);
    ASSERT_TRUE(isInForce());
    const QString site = valueOf("2", "site");
    const QPoint from = inCutaway(live().hands().pointOf("2", true).value());
    const QPoint over = inCutaway(live().hands().pointOf("4", true).value());
    ASSERT_NO_FATAL_FAILURE(drag(from, over - from + QPoint(0, 8), 600));
    ASSERT_EQ(document()->edits.size(), 2U);
    EXPECT_EQ(document()->edits[0]->kind, RecordEdit::Kind::Move);
    EXPECT_EQ(document()->edits[1]->field, "site");
    const std::int64_t place = live().hands().placeOfKey("2", 1);
    EXPECT_NE(place, 1);
    EXPECT_NE(valueOf("2", "site"), site);
    EXPECT_EQ(valueOf("2", "site"), valueOf(live().hands().keyAt(place - 1).c_str(), "site"));
    const auto standing = [this] { return live().sections()->recordsOf(0, live().sections()->count()); };
    const auto brought = standing();
    const std::string path = folder.filePath(QStringLiteral("lifted.collection.json")).toStdString();
    to = *document();
    to.areEditsKept = true;
    window->workspace().change(QStringLiteral("keep"), to);
    ASSERT_TRUE(isSaved(path));
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueOf("2", "site"), site) << "one step";
    EXPECT_EQ(live().hands().placeOfKey("2", 1), 1);
    ASSERT_TRUE(isSaved(folder.filePath(QStringLiteral("other.collection.json"))));
    openFile(path);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(standing(), brought) << "begun with those edits";
}

TEST_F(HandsTest, WhereNoneCanBeLiftedThatIsSaid) {
    ASSERT_NO_FATAL_FAILURE(open());
    CollectionDocument to = *document();
    to.order.by = {{"species", false, false}};
    window->workspace().change(QStringLiteral("sort"), to);
    ASSERT_TRUE(isInForce());
    const std::string key = live().hands().itemAt({100, 300})->key;
    QTest::mouseClick(&flow().cutaway(), Qt::LeftButton, {},
                      inCutaway(live().hands().pointOf(key, true).value()));
    EXPECT_THAT(told(), HasSubstr("an order of their own"));
    EXPECT_TRUE(document()->edits.empty());
}

TEST_F(HandsTest, KeysGoThroughItemsSelectTapRemoveAndLeave) {
    ASSERT_NO_FATAL_FAILURE(open());
    auto* cutaway = &flow().cutaway();
    find<QAction>("intoItemsAction")->trigger();
    ASSERT_TRUE(live().hands().focused());
    QTest::keyClick(cutaway, Qt::Key_Escape);
    ASSERT_FALSE(live().hands().focused());
    QTest::keyClick(cutaway, Qt::Key_Return);
    ASSERT_TRUE(live().hands().focused());
    EXPECT_EQ(live().hands().focused()->key, "1");
    QTest::keyClick(cutaway, Qt::Key_Down);
    QTest::keyClick(cutaway, Qt::Key_Space);
    QTest::keyClick(cutaway, Qt::Key_Down, Qt::ShiftModifier);
    EXPECT_EQ(live().hands().selectedCount(), 2);
    QTest::keyClick(cutaway, Qt::Key_Delete);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueOf("3", "status"), QStringLiteral("gone"));
    EXPECT_EQ(live().hands().selectedCount(), 1) << "what is removed is not selected any more";
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    QTest::keyClick(cutaway, Qt::Key_End);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().hands().focused()->key, "300");
    QTest::keyClick(cutaway, Qt::Key_P); // a letter means a title now, and not the clock
    EXPECT_FALSE(flow().runner().driver().isPaused());
    QTest::keyClick(cutaway, Qt::Key_Return);
    EXPECT_TRUE(live().detail().isOpen());
    QTest::keyClick(cutaway, Qt::Key_Escape);
    QTest::keyClick(cutaway, Qt::Key_Escape);
    EXPECT_FALSE(live().hands().focused());
}

TEST_F(HandsTest, TheMenuKeyListsWhatAnItemsGesturesDo) {
    ASSERT_NO_FATAL_FAILURE(open());
    auto* cutaway = &flow().cutaway();
    cutaway->setFocus();
    QTest::keyClick(cutaway, Qt::Key_Return);
    QTest::keyClick(cutaway, Qt::Key_Down);
    QContextMenuEvent event(QContextMenuEvent::Keyboard, QPoint(), cutaway->mapToGlobal(QPoint()));
    QCoreApplication::sendEvent(cutaway, &event);
    auto* menu = window->findChild<QMenu*>(QStringLiteral("recordMenu"));
    ASSERT_NE(menu, nullptr);
    auto* verify = menu->findChild<QAction*>(QStringLiteral("act_verify"));
    ASSERT_NE(verify, nullptr);
    EXPECT_EQ(verify->text(), QStringLiteral("mark verified"));
    verify->trigger();
    menu->close();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(document()->edits[0]->key, "2");
}

TEST_F(HandsTest, ACallThatFailsTakesBackWhatWentWithItAndTheItemSaysSo) {
    ASSERT_NO_FATAL_FAILURE(open());
    const auto item = live().hands().itemOf(live().run().arrangement().positionOf(1));
    flow().runner().hands().perform(live(), QStringLiteral("call"), item, flow().runner().driver().nowUs());
    EXPECT_EQ(document()->edits.size(), 1U);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->edits.empty(); }, 20'000));
    EXPECT_THAT(told(), HasSubstr("did not work, and is taken back"));
    ASSERT_TRUE(live().hands().said());
    EXPECT_EQ(live().hands().said()->key, "2");
}

TEST_F(HandsTest, ActionsAddTellAndGo) {
    ASSERT_NO_FATAL_FAILURE(open());
    const auto item = live().hands().itemOf(live().run().arrangement().positionOf(1));
    const int count = valueOf("2", "count").toInt();
    flow().runner().hands().perform(live(), QStringLiteral("more"), item, 0);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueOf("2", "count").toInt(), count + 3);
    EXPECT_THAT(told(), HasSubstr(valueOf("2", "species").toStdString() + " counted"));
    flow().runner().hands().perform(live(), QStringLiteral("last"), item, flow().runner().driver().nowUs());
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().hands().focused() && live().hands().focused()->key == "77"; }));
    flow().runner().hands().perform(live(), QStringLiteral("share"), item, 0);
    EXPECT_THAT(told(), HasSubstr("Told to the app: share, of 2"));
}

TEST_F(HandsTest, AFingerIsAPointerAndAnotherOneIsNothingToIt) {
    ASSERT_NO_FATAL_FAILURE(open());
    auto* cutaway = &flow().cutaway();
    std::unique_ptr<QPointingDevice> screen(QTest::createTouchDevice());
    const QPoint from = middleOf("4");
    QTest::touchEvent(window.get(), screen.get()).press(0, from, cutaway);
    ASSERT_TRUE(pass(20));
    for (int i = 1; i <= 5; ++i) {
        QTest::touchEvent(window.get(), screen.get()).move(0, from - QPoint(0, 12 * i), cutaway);
        ASSERT_TRUE(pass(16));
    }
    const Length scrolled = live().run().offset();
    EXPECT_GT(scrolled, Length{});
    QTest::touchEvent(window.get(), screen.get()).stationary(0).press(1, from + QPoint(40, 200), cutaway);
    QTest::touchEvent(window.get(), screen.get()).stationary(0).move(1, from + QPoint(40, -200), cutaway);
    ASSERT_TRUE(pass(30));
    EXPECT_EQ(live().run().offset(), scrolled) << "no jump to the second";
    QTest::touchEvent(window.get(), screen.get()).stationary(0).release(1, from + QPoint(40, -200), cutaway);
    QTest::touchEvent(window.get(), screen.get()).release(0, from - QPoint(0, 60), cutaway);
    EXPECT_FALSE(live().hands().finger());
}

TEST_F(HandsTest, AGestureIsMadeAgainFromItsTrack) {
    ASSERT_NO_FATAL_FAILURE(open());
    const double k = flow().cutaway().scale();
    ASSERT_NO_FATAL_FAILURE(drag(middleOf("3"), QPoint(static_cast<int>(240 * k), 0)));
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    ASSERT_TRUE(document()->edits.empty());
    auto* track = find<GesturesInstrument>("gestures");
    track->choose(0);
    const QStringList chosen = track->row(0);
    QTest::keyClick(track, Qt::Key_Return);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->edits.size() == 1; }, 10'000));
    EXPECT_GT(track->rowChosen(), 0) << "what came since stands above it";
    EXPECT_EQ(track->row(track->rowChosen()), chosen);
    EXPECT_EQ(document()->edits[0]->key, "3");
}

TEST_F(HandsTest, TheSentenceSaysWhatHandsDoAndChangesIt) {
    ASSERT_NO_FATAL_FAILURE(open());
    EXPECT_EQ(wordOf("wordSelect"), QStringLiteral("many"));
    EXPECT_EQ(wordOf("wordTap"), QStringLiteral("opens it at length"));
    EXPECT_EQ(wordOf("wordAside"),
              QStringLiteral("to the start: removes it, copy; to the end: mark verified"));
    EXPECT_EQ(wordOf("wordLift"), QStringLiteral("by a handle"));
    HandsSpec hands = document()->hands;
    hands.tap = "more";
    hands.atStart.clear();
    CollectionDocument to = *document();
    to.hands = hands;
    window->workspace().change(QStringLiteral("x"), to);
    EXPECT_EQ(live().hands().spec(), hands) << "what runs follows at once";
    EXPECT_EQ(wordOf("wordTap"), QStringLiteral("more"));
    window->workspace().undo().undo();
    EXPECT_EQ(live().hands().spec().tap, "detail");
}

TEST_F(HandsTest, ActionsTurnSelectAndMoveToEitherEnd) {
    ASSERT_NO_FATAL_FAILURE(open(
        R"("hands": {"select": "many"}, "actions": {"turn": {"do": [{"turn": "checked"}]}, "first": {"do": ["toStart"]},
            "last": {"do": ["toEnd"]}, "pick": {"do": ["select"]}})"));
    const auto act = [&](const char* name, const char* key) {
        const auto place = live().hands().placeOfKey(key, std::atoi(key) - 1);
        flow().runner().hands().perform(live(), QLatin1String(name),
                                        live().hands().itemOf(live().run().arrangement().positionOf(place)),
                                        0);
        ASSERT_TRUE(isInForce());
    };
    ASSERT_NO_FATAL_FAILURE(act("turn", "2"));
    EXPECT_EQ(document()->edits.back()->value, "true") << "it said nothing";
    ASSERT_NO_FATAL_FAILURE(act("turn", "2"));
    EXPECT_EQ(document()->edits.back()->value, "false");
    ASSERT_NO_FATAL_FAILURE(act("first", "5"));
    EXPECT_EQ(live().hands().keyAt(0), "5");
    const auto edits = document()->edits.size();
    ASSERT_NO_FATAL_FAILURE(act("first", "5"));
    EXPECT_EQ(document()->edits.size(), edits) << "it is the first already";
    ASSERT_NO_FATAL_FAILURE(act("last", "5"));
    EXPECT_EQ(live().hands().keyAt(299), "5");
    ASSERT_NO_FATAL_FAILURE(act("pick", "7"));
    EXPECT_EQ(live().hands().selectedCount(), 1);
    ASSERT_NO_FATAL_FAILURE(act("pick", "7"));
    EXPECT_EQ(live().hands().selectedCount(), 0);
}

TEST_F(HandsTest, AnActionTypedIntoTheSentenceIsInTheDocumentAndDoesIt) {
    ASSERT_NO_FATAL_FAILURE(open());
    ASSERT_NO_FATAL_FAILURE(type("wordTap", "sets status to seen"));
    EXPECT_EQ(wordOf("wordTap"), QStringLiteral("Seen"));
    EXPECT_EQ(document()->actions.at("setStatus").steps.at(0).value, "\"seen\"");
    QTest::mouseClick(&flow().cutaway(), Qt::LeftButton, {}, middleOf("4"));
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueOf("4", "status"), QStringLiteral("seen"));
    ASSERT_NO_FATAL_FAILURE(type("wordTimes", "held from 900 ms"));
    EXPECT_EQ(document()->hands.times.pressMs, 900);
    EXPECT_EQ(live().hands().spec().times.pressMs, 900);
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    EXPECT_FALSE(document()->actions.contains("setStatus"));
    EXPECT_EQ(wordOf("wordTap"), QStringLiteral("opens it at length"));
}

TEST_F(HandsTest, WhereTheSentenceIsTooLongForTheWindowItIsScrolledToTheWordThatHasTheKeys) {
    ASSERT_NO_FATAL_FAILURE(open());
    window->look().setTextScale(2);
    window->resize(700, 480);
    auto& bar = sentenceOf(flow());
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->height() == 480 && bar.height() <= 240; }));
    auto* last = find<workbench::SentenceWord>("wordBeside");
    EXPECT_GT(last->geometry().top(), bar.height()) << "it is below what shows";
    last->setFocus();
    EXPECT_TRUE(bar.rect().contains(last->geometry()));
    auto* first = find<workbench::SentenceWord>("wordCount");
    EXPECT_LT(first->geometry().top(), 0);
    QWheelEvent up(QPointF(100, 100), bar.mapToGlobal(QPointF(100, 100)), {}, QPoint(0, 12'000), Qt::NoButton,
                   Qt::NoModifier, Qt::NoScrollPhase, false);
    QCoreApplication::sendEvent(&bar, &up);
    EXPECT_TRUE(bar.rect().contains(first->geometry()));
    window->resize(1280, 800);
    window->look().setTextScale(1);
    ASSERT_TRUE(QTest::qWaitFor([&] { return bar.rect().contains(last->geometry()); })) << "all of it again";
}

TEST_F(HandsTest, TheFingerShowsWhereItIsAndItsWay) {
    ASSERT_NO_FATAL_FAILURE(open());
    auto* cutaway = &flow().cutaway();
    const QPoint at = middleOf("4");
    const auto pictureAt = [&] { return cutaway->grab(QRect(at - QPoint(6, 6), QSize(13, 13))).toImage(); };
    QTest::mousePress(cutaway, Qt::LeftButton, {}, at);
    ASSERT_TRUE(pass(30));
    const QImage without = pictureAt();
    find<QAction>("fingerAction")->trigger();
    EXPECT_NE(pictureAt(), without);
    QTest::mouseRelease(cutaway, Qt::LeftButton, {}, at);
}

TEST_F(HandsTest, WhoDoesNotSeeIsToldOfEachItemWhereItStandsAmongAll) {
    QAccessible::setActive(true); // as where somebody listens from the beginning on
    ASSERT_NO_FATAL_FAILURE(open());
    auto* items = QAccessible::queryAccessibleInterface(&flow().cutaway());
    ASSERT_NE(items, nullptr);
    EXPECT_EQ(items->role(), QAccessible::Table);
    ASSERT_NE(items->tableInterface(), nullptr);
    EXPECT_EQ(items->tableInterface()->rowCount(), 300);
    EXPECT_LT(items->childCount(), 60) << "one for each item view";
    QAccessibleInterface* third = items->tableInterface()->cellAt(2, 0);
    ASSERT_NE(third, nullptr);
    EXPECT_EQ(third->text(QAccessible::Name),
              valueOf("3", "species") + QStringLiteral(", ") + valueOf("3", "site"));
    EXPECT_EQ(third->text(QAccessible::Description), QStringLiteral("3 of 300"));
    EXPECT_EQ(third->tableCellInterface()->rowIndex(), 2);
    EXPECT_TRUE(third->state().selectable && !third->state().selected);
    EXPECT_EQ(items->childAt(third->rect().center().x(), third->rect().center().y()), third);
    EXPECT_TRUE(items->tableInterface()->selectRow(2));
    EXPECT_TRUE(third->state().selected);
    EXPECT_EQ(items->tableInterface()->selectedRows(), QList<int>{2});
    EXPECT_THAT(third->actionInterface()->actionNames(), ::testing::Contains(QStringLiteral("verify")));
    third->actionInterface()->doAction(QStringLiteral("verify"));
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(document()->edits.size(), 1U);
    third = items->tableInterface()->cellAt(2, 0);
    third->actionInterface()->doAction(QAccessibleActionInterface::setFocusAction());
    EXPECT_EQ(items->focusChild(), items->tableInterface()->cellAt(2, 0));
    EXPECT_TRUE(third->state().focused);
    live().hands().focusNothing();
    live().run().jumpTo(200);
    flow().runner().driver().want();
    ASSERT_TRUE(isInForce());
    EXPECT_FALSE(third->isValid()) << "its view carries another";
    EXPECT_EQ(items->tableInterface()->cellAt(2, 0), nullptr);
}

TEST_F(HandsTest, AScriptsHandsDoAllOfThis) {
    ASSERT_NO_FATAL_FAILURE(open(
        R"("hands": {"select": "many", "tap": "more", "doubleTap": "copy", "press": "verify",
             "swipe": {"atEnd": ["remove"]}, "lift": "handle"},
           "actions": {"verify": {"do": [{"set": "status", "value": "verified"}]}, "more": {"do": [{"add": "count"}]},
                       "copy": {"do": [{"copy": "{species}"}]}})"));
    const auto script = parseScript(
        R"({"scorrereScript": 1, "steps": [
             {"at": 0, "select": {"key": "1"}}, {"at": 0, "select": {"key": "3", "range": true}},
             {"at": 20, "tap": {"key": "2"}}, {"wait": "idle"}, {"at": 0, "doubleTap": {"key": "4"}}, {"wait": "idle"},
             {"at": 0, "press": {"key": "5"}}, {"wait": "idle"},
             {"at": 0, "swipe": {"key": "1", "by": -300, "for": 300}}, {"wait": "idle"},
             {"at": 0, "lift": {"key": "2", "to": "4", "for": 500}}, {"wait": "idle"},
             {"at": 0, "tap": {"key": "299"}}, {"at": 10, "hover": {"x": 10, "y": 10}}, {"at": 20, "type": "zzz"}],
            "lasts": 200})",
        "");
    ASSERT_TRUE(script) << script.error().text();
    workbench::ScriptPlayer player(*script, flow().runner().scriptTarget());
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            player.advanceTo(flow().runner().driver().nowUs());
            flow().runner().driver().want();
            return player.isOver();
        },
        30'000));
    ASSERT_TRUE(isInForce());
    std::vector<std::string> edits;
    for (const auto& edit : document()->edits) {
        edits.push_back(workbench::editInWords(*edit).toStdString());
    }
    ASSERT_EQ(edits.size(), 4U) << ::testing::PrintToString(edits);
    EXPECT_THAT(edits[0], HasSubstr("count of 2"));
    EXPECT_EQ(edits[1], "status of 5: \"verified\"");
    EXPECT_EQ(edits[2], "1 removed");
    EXPECT_THAT(edits[3], HasSubstr("2 moved"));
    EXPECT_EQ(QGuiApplication::clipboard()->text(), valueOf("4", "species"));
    EXPECT_EQ(live().hands().selectedCount(), 2) << "1 to 3, and 1 is gone";
}

/// Where nobody listens nothing is told: over_at_spi.py runs these where somebody does.
class HeardTest : public HandsTest {
protected:
    void SetUp() override {
        if (!QAccessible::isActive()) {
            GTEST_SKIP() << "nobody listens on this platform";
        }
    }
};

TEST_F(HeardTest, WhoDoesNotSeeIsToldOfItemsThatComeAndGo) {
    ASSERT_NO_FATAL_FAILURE(open());
    static std::vector<std::string> heard;
    heard.clear();
    const auto before = QAccessible::installUpdateHandler([](QAccessibleEvent* event) {
        if (event->type() == QAccessible::TableModelChanged) {
            const auto* change = static_cast<QAccessibleTableModelChangeEvent*>(event);
            heard.push_back(std::to_string(change->modelChangeType()) + " " +
                            std::to_string(change->firstRow()) + "-" + std::to_string(change->lastRow()));
        }
    });
    const auto item = live().hands().itemOf(live().run().arrangement().positionOf(4));
    flow().runner().hands().perform(live(), QStringLiteral("remove"), item, 0);
    const bool isGone = isInForce();
    window->workspace().undo().undo();
    const bool isBack = isInForce();
    QAccessible::installUpdateHandler(before);
    ASSERT_TRUE(isGone && isBack);
    using Event = QAccessibleTableModelChangeEvent;
    EXPECT_THAT(heard, ElementsAre(std::to_string(Event::RowsRemoved) + " 4-4",
                                   std::to_string(Event::RowsInserted) + " 4-4"));
}

/// The same over a service's pages.
class PagedHandsTest : public HandsTest {
protected:
    void open() {
        window->workspace().opening().openDemoService();
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return !window->workspace().opening().isBusy() && document() != nullptr; }, 30'000));
        window->goTo(QStringLiteral("flow"));
        const auto isLoaded = [this](std::int64_t page) {
            return QTest::qWaitFor(
                [this, page] {
                    flow().runner().driver().want();
                    return live().paged()->pager().strip().isLoaded(page);
                },
                30'000);
        };
        ASSERT_TRUE(isLoaded(0));
        live().run().travelTo(Length::px(1500));
        ASSERT_TRUE(isLoaded(1));
        const auto given = CollectionDocument::parse(
            std::string(R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": {"text": ""}}, )") +
                kHands + "}",
            "");
        ASSERT_TRUE(given) << given.error().text();
        CollectionDocument to = *document();
        to.hands = given->hands;
        to.actions = given->actions;
        window->workspace().change(QStringLiteral("hands"), to);
        ASSERT_TRUE(isInForce());
    }
    std::string keyAt(std::int64_t place) { return live().hands().keyAt(place); }
    QString countOf(std::int64_t place) {
        const auto context = live().contextAt(place);
        return QString::fromStdString(
            context->records.display(context->record, *context->records.find("count")));
    }
};

TEST_F(PagedHandsTest, ARangeTakesThoseThatAreHereAndATitleIsFoundAmongThem) {
    ASSERT_NO_FATAL_FAILURE(open());
    live().hands().focusOn(2, 0);
    live().hands().selectFocused(render::LiveHands::Reach::Alone);
    live().hands().focusOn(33, 0);
    live().hands().selectFocused(render::LiveHands::Reach::Range);
    EXPECT_EQ(live().hands().selectedCount(), 32);
    EXPECT_TRUE(live().hands().selection().has({keyAt(20), -1}));
    EXPECT_FALSE(live().hands().selection().has({keyAt(34), -1}));
    live().hands().focusOn(0, 0);
    const auto context = live().contextAt(30);
    const QString title =
        QString::fromStdString(context->records.display(context->record, *context->records.find("species")));
    std::optional<bool> found;
    QObject::connect(&live().hands(), &render::LiveHands::titleFound, window.get(),
                     [&](bool is) { found = is; });
    ASSERT_TRUE(live().hands().focusTitled(title, 0));
    ASSERT_TRUE(QTest::qWaitFor([&] {
        flow().runner().driver().want();
        return found.has_value();
    }));
    EXPECT_TRUE(*found);
    const auto there = live().contextAt(live().hands().focused()->place);
    EXPECT_EQ(there->records.display(there->record, *there->records.find("species")), title.toStdString());
    found.reset();
    (void)live().hands().focusTitled(QStringLiteral("zzz"), 0);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            flow().runner().driver().want();
            return found.has_value();
        },
        20'000))
        << "20,000 places are looked at, some between two frames";
    EXPECT_FALSE(*found);
}

TEST_F(PagedHandsTest, AnActionIsAnEditOfAPagesRecordAndAFailedCallTakesItBack) {
    ASSERT_NO_FATAL_FAILURE(open());
    const auto item = live().hands().itemOf(live().run().arrangement().positionOf(3));
    const int count = countOf(3).toInt();
    flow().runner().hands().perform(live(), QStringLiteral("more"), item, 0);
    ASSERT_TRUE(QTest::qWaitFor([&] { return countOf(3).toInt() == count + 3; }, 20'000));
    flow().runner().hands().perform(live(), QStringLiteral("call"), item, flow().runner().driver().nowUs());
    EXPECT_EQ(document()->edits.size(), 2U);
    EXPECT_TRUE(QTest::qWaitFor([&] { return document()->edits.size() == 1; }, 20'000));
    EXPECT_THAT(told(), HasSubstr("is taken back"));
    EXPECT_EQ(countOf(3).toInt(), count + 3) << "what another action did stays";
}

TEST(HandsWords, AreReadAsTheyAreWritten) {
    using namespace workbench;
    Actions actions;
    actions["verify"].title = "mark verified";
    HandsSpec hands;
    const std::vector<Field> fields{{"status", FieldType::Text}, {"count", FieldType::Integer}};
    for (const QString& words : asideChoices(hands, actions)) {
        const auto read = asideFromWords(words, hands, actions, fields);
        ASSERT_TRUE(read) << words.toStdString();
        EXPECT_EQ(asideInWords(*read, actions), words);
    }
    for (const QString& words : tapChoices({}, actions)) {
        EXPECT_EQ(tapInWords(tapFromWords(words, actions, fields).value(), actions), words);
    }
    for (const QString& words : liftChoices()) {
        EXPECT_EQ(liftInWords(liftFromWords(words, hands).value()), words);
    }
    for (const QString& words : timesChoices(hands)) {
        EXPECT_EQ(timesInWords(timesFromWords(words, {}).value()), words);
    }
    EXPECT_EQ(timesFromWords(QStringLiteral("held from 700 ms"), hands)->times.pressMs, 700);
    EXPECT_EQ(tapFromWords(QStringLiteral("Mark Verified"), actions, fields), "verify");
    EXPECT_EQ(asideFromWords(QStringLiteral("start: remove; end: verify"), hands, actions, fields)->atStart,
              std::vector<std::string>{"verify"});
    EXPECT_FALSE(asideFromWords(QStringLiteral("to the left: remove"), hands, actions, fields));
    EXPECT_FALSE(asideFromWords(QStringLiteral("to the end: fly"), hands, actions, fields));
    EXPECT_FALSE(tapFromWords(QStringLiteral("fly"), actions, fields));
    EXPECT_FALSE(liftFromWords(QStringLiteral("by a crane"), hands));
    EXPECT_FALSE(selectFromWords(QStringLiteral("two")));
    EXPECT_FALSE(timesFromWords(QStringLiteral("held from 5 ms"), hands));
    EXPECT_FALSE(timesFromWords(QStringLiteral("thrown at 50%"), hands));
    EXPECT_EQ(actions.size(), 1U) << "what is read of what there is adds nothing";
}

TEST(HandsWords, AnActionIsMadeInWords) {
    using namespace workbench;
    using What = ActionStep::What;
    const std::vector<Field> fields{{"status", FieldType::Text}, {"count", FieldType::Integer}};
    Actions actions;
    const auto made = [&](const char* words) {
        const auto name = tapFromWords(QString::fromUtf8(words), actions, fields);
        return name ? actions[*name] : ActionSpec();
    };
    const ActionSpec verified = made("sets Status to verified then tells Done: {site}");
    ASSERT_EQ(verified.steps.size(), 2U);
    EXPECT_EQ(verified.title, "Verified");
    EXPECT_EQ(verified.steps[0].field, "status") << "as the records call it";
    EXPECT_EQ(verified.steps[0].value, "\"verified\"");
    EXPECT_EQ(verified.steps[1].text, "Done: {site}");
    EXPECT_EQ(made("sets count to 3").steps.at(0).value, "3");
    EXPECT_EQ(made("adds -2 to count").steps.at(0).by, -2);
    EXPECT_EQ(made("turns status").steps.at(0).what, What::Turn);
    EXPECT_EQ(made("moves it to the end").steps.at(0).what, What::ToEnd);
    EXPECT_EQ(made("copies {status}").steps.at(0).text, "{status}");
    EXPECT_EQ(made("calls post demo:records/{id}").steps.at(0).call.method, "POST");
    EXPECT_EQ(actions.size(), 7U);
    EXPECT_EQ(made("sets count to 3").title, "3");
    EXPECT_EQ(actions.size(), 7U) << "said once more it is the same one";
    EXPECT_TRUE(made("sets weight to 3").steps.empty()) << "there is no such field";
    EXPECT_TRUE(made("sets status to x then flies").steps.empty());
    EXPECT_EQ(actions.size(), 7U);
}

} // namespace
} // namespace scorrere::testing
