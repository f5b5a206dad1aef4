// SPDX-License-Identifier: GPL-3.0-or-later
// Records edited over their source: in the card of one, listed, undone, kept in the file where that is asked for.
#include "engine/document/script_file.h"
#include "testing/program/flow_fixture.h"
#include "workbench/model/record_changes.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/edits_list.h"
#include "workbench/ui/look/record_card.h"
#include "workbench/ui/source/answer_tree.h"

#include <QCheckBox>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

bool isIn(const std::string& text, const char* part) {
    return text.find(part) != std::string::npos;
}

using ::testing::ElementsAre;
using ::testing::HasSubstr;
using workbench::EditsList;
using workbench::RecordCard;
using workbench::valueTyped;

class EditsTest : public FlowTest {
protected:
    void open() {
        makeWindow();
        openDemo(2000);
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
    }
    bool isInForce() {
        return QTest::qWaitFor(
            [this] { return !live().isOrdering() && live().isIdle() && !live().isEstimating(); }, 30'000);
    }
    QString valueAt(std::int64_t place, const char* field) {
        const auto context = live().contextAt(place);
        return QString::fromStdString(
            context->records.display(context->record, *context->records.find(field)));
    }
    RecordCard* card() { return window->findChild<RecordCard*>(QStringLiteral("recordCard")); }
    RecordCard* openFirst() {
        window->activateWindow(); // a card that closed leaves nobody active on this platform
        flow().cutaway().setFocus();
        EXPECT_TRUE(QTest::qWaitForWindowActive(window.get()));
        QTest::keyClick(&flow().cutaway(), Qt::Key_E);
        return card();
    }
    void type(const char* field, const QString& value) {
        auto* line = card()->findChild<QLineEdit*>(QStringLiteral("value_") + QLatin1String(field));
        ASSERT_NE(line, nullptr);
        line->setFocus();
        line->selectAll();
        if (value.isEmpty()) {
            QTest::keyClick(line, Qt::Key_Delete);
        } else {
            QTest::keyClicks(line, value);
        }
        QTest::keyClick(line, Qt::Key_Return);
        ASSERT_TRUE(isInForce());
    }
    QStringList lines() { return find<EditsList>("edits")->lines(); }
};

TEST_F(EditsTest, AValueIsTypedOverInTheCardAndUndoBringsItBack) {
    open();
    const QString count = valueAt(0, "count");
    const QString species = valueAt(0, "species");
    ASSERT_NE(openFirst(), nullptr);
    type("count", QStringLiteral("4242"));
    EXPECT_EQ(valueAt(0, "count"), QStringLiteral("4242"));
    EXPECT_TRUE(card()->isVisible()) << "more can be typed";
    EXPECT_EQ(card()->findChild<QLabel*>(QStringLiteral("said_count"))->text(),
              count + QStringLiteral(" in the source"));
    type("species", QStringLiteral("A very \"new\" one"));
    EXPECT_EQ(valueAt(0, "species"), QStringLiteral("A very \"new\" one"));
    EXPECT_EQ(lines().size(), 2);
    EXPECT_THAT(lines().last().toStdString(), HasSubstr("count of "));
    EXPECT_EQ(window->workspace().records()->display(0, *live().records().find("count")), count.toStdString())
        << "the source stays as it is";
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueAt(0, "species"), species);
    EXPECT_EQ(valueAt(0, "count"), QStringLiteral("4242"));
    type("count", count); // as the source has it
    EXPECT_TRUE(document()->edits.empty());
    EXPECT_FALSE(find<EditsList>("edits")->isVisible());
}

TEST_F(EditsTest, WhatIsNoValueOfTheFieldIsSaidAndNothingIsEdited) {
    open();
    ASSERT_NE(openFirst(), nullptr);
    const QString count = valueAt(0, "count");
    type("count", QStringLiteral("many"));
    auto* said = card()->findChild<QLabel*>(QStringLiteral("said_count"));
    EXPECT_THAT(said->text().toStdString(), HasSubstr("no number"));
    EXPECT_TRUE(said->isVisible());
    EXPECT_TRUE(document()->edits.empty());
    EXPECT_EQ(valueAt(0, "count"), count);
}

TEST_F(EditsTest, TwoPressesOpenTheRecordThatStandsThere) {
    open();
    const Placement* second = nullptr;
    for (const Placement& placement : live().run().placements()) {
        const Slot slot = live().run().arrangement().slotAt(placement.position);
        second = placement.showing && slot.role == Role::Record && slot.place == 1 ? &placement : second;
    }
    ASSERT_NE(second, nullptr);
    auto& cutaway = flow().cutaway();
    const QRectF in = live().axis().onScreen(second->box);
    const QRectF drawn = cutaway.windowRect();
    const double scale = drawn.width() / live().axis().window().width();
    QTest::mouseDClick(&cutaway, Qt::LeftButton, {}, (drawn.topLeft() + in.center() * scale).toPoint());
    ASSERT_NE(card(), nullptr);
    EXPECT_EQ(card()->facts().number, 1);
    QTest::keyClick(card(), Qt::Key_Escape);
    EXPECT_TRUE(QTest::qWaitFor([&] { return card() == nullptr; }));
}

TEST_F(EditsTest, RecordsAreRemovedAddedAndMovedAndEachIsTakenBackByItself) {
    open();
    const QString first = valueAt(0, "id");
    const QString second = valueAt(1, "id");
    QTest::mouseClick(openFirst()->findChild<QPushButton*>(QStringLiteral("removeRecord")), Qt::LeftButton);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().recordCount(), 1999);
    EXPECT_EQ(valueAt(0, "id"), second);
    ASSERT_TRUE(QTest::qWaitFor([&] { return card() == nullptr; }));
    QTest::mouseClick(openFirst()->findChild<QPushButton*>(QStringLiteral("likeRecord")), Qt::LeftButton);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().recordCount(), 2000);
    ASSERT_TRUE(QTest::qWaitFor([&] { return card() == nullptr; }));
    live().run().travelTo(Length{});
    flow().runner().driver().want();
    ASSERT_TRUE(isInForce());
    auto* to = openFirst()->findChild<QLineEdit*>(QStringLiteral("moveRecord"));
    const QString moved = valueAt(0, "id");
    QTest::keyClicks(to, QStringLiteral("1,000"));
    QTest::keyClick(to, Qt::Key_Return);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueAt(999, "id"), moved);
    EXPECT_EQ(lines().size(), 3);
    auto* back = find<QToolButton>("takeBack0"); // the first edit: the removal
    ASSERT_NE(back, nullptr);
    QTest::mouseClick(back, Qt::LeftButton);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueAt(0, "id"), first);
    EXPECT_EQ(document()->edits.size(), 2u);
    QTest::mouseClick(find<QToolButton>("takeAllBack"), Qt::LeftButton);
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().recordCount(), 2000);
    EXPECT_EQ(valueAt(1, "id"), second);
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(document()->edits.size(), 2u);
}

TEST_F(EditsTest, TheyAreInTheFileWhereThatIsAskedForAndInForceWhenItIsOpened) {
    open();
    ASSERT_NE(openFirst(), nullptr);
    type("count", QStringLiteral("4242"));
    card()->close();
    const std::string path = folder.filePath(QStringLiteral("e.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    EXPECT_TRUE(CollectionDocument::load(path)->edits.empty());
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("Saved without the edits"));
    EXPECT_EQ(document()->edits.size(), 1u) << "it goes on as it is";
    QTest::mouseClick(find<QCheckBox>("keepEdits"), Qt::LeftButton, {},
                      QPoint(8, find<QCheckBox>("keepEdits")->height() / 2));
    EXPECT_TRUE(document()->areEditsKept);
    ASSERT_TRUE(isSaved(path));
    EXPECT_EQ(CollectionDocument::load(path)->edits.size(), 1u);
    openDemo(300);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().recordCount() == 300 && document()->edits.empty(); }));
    window->workspace().opening().openNow(QString::fromStdString(path));
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().recordCount() == 2000 && live().edited() != nullptr; }, 30'000));
    EXPECT_EQ(valueAt(0, "count"), QStringLiteral("4242"));
    ASSERT_EQ(lines().size(), 1);
    window->goTo(QStringLiteral("item")); // and with another design
    window->goTo(QStringLiteral("flow"));
    EXPECT_EQ(valueAt(0, "count"), QStringLiteral("4242"));
}

TEST_F(EditsTest, AScriptOrdersAndEditsAndEachIsAStep) {
    open();
    const std::string key = valueAt(3, "id").toStdString();
    const auto script = parseScript(R"({"scorrereScript": 1, "steps": [{"at": 0, "edit": {"set": ")" + key +
                                        R"(", "field": "count", "value": 4242}}, {"wait": "idle"},
            {"at": 0, "order": {"by": [{"field": "count", "descending": true}]}}]})",
                                    "s.json");
    ASSERT_TRUE(script) << script.error().text();
    workbench::ScriptPlayer player(*script, flow().runner().scriptTarget());
    std::int64_t us = 0;
    ASSERT_TRUE(QTest::qWaitFor([&] {
        player.advanceTo(us += 8333);
        flow().runner().driver().want();
        return player.isOver();
    }));
    EXPECT_EQ(valueAt(0, "count"), QStringLiteral("4242"));
    EXPECT_EQ(valueAt(0, "id").toStdString(), key);
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueAt(3, "count"), QStringLiteral("4242"));
}

TEST_F(EditsTest, WhileRecordsAreStillComingTheyWaitAndSaySo) {
    makeWindow();
    workbench::EditsList list(window->look());
    const RecordEdits one = workbench::withEdit({}, {RecordEdit::Kind::Remove, "1", {}, {}, {}});
    list.take({one, false, false, {}, {}, {}, false});
    EXPECT_EQ(list.summary(), QStringLiteral("1 edit over the source, in force when all records are here"));
    list.take({one, false, true, {}, {}, {}, false});
    EXPECT_EQ(list.summary(), QStringLiteral("1 edit over the source"));
    // Wanted in the middle of reading, and in force at its end; another file meanwhile knows nothing of them.
    openDemo(200'000);
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow().collection() != nullptr && live().recordCount() > 0; }));
    CollectionDocument to = *document();
    to.edits = workbench::withEdit({}, {RecordEdit::Kind::Set, "2", "count", "4242", {}, 1});
    window->workspace().change(QStringLiteral("x"), to);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().edited() != nullptr; }, 120'000));
    EXPECT_EQ(live().recordCount(), 200'000);
    EXPECT_EQ(valueAt(1, "count"), QStringLiteral("4242"));
    window->workspace().undo().undo();
    openDemo(300);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().recordCount() == 300; }, 60'000));
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(live().edited(), nullptr);
}

TEST_F(EditsTest, AnItemsMenuTurnsWhatIsYesOrNoAndRemovesIt) {
    openCollection(
        R"("source": {"list": "id,name,rare\n1,Ash,true\n2,Beech,false\n3,Elm,true\n", "form": "csv", "key": "id"},
           "items": {"record": {"text": "{name}: {rare}", "padding": 20}})");
    const auto openMenu = [this](QContextMenuEvent::Reason reason) {
        auto& cutaway = flow().cutaway();
        const QRectF drawn = cutaway.windowRect();
        const double scale = drawn.width() / live().axis().window().width();
        const Placement* second = &placed(1);
        const QPoint at = (drawn.topLeft() + live().axis().onScreen(second->box).center() * scale).toPoint();
        QContextMenuEvent event(reason, at, cutaway.mapToGlobal(at));
        QCoreApplication::sendEvent(&cutaway, &event);
        return window->findChild<QMenu*>(QStringLiteral("recordMenu"));
    };
    const auto trigger = [this](QMenu* menu, const char* name) {
        menu->findChild<QAction*>(QLatin1String(name))->trigger();
        menu->close();
        ASSERT_TRUE(isInForce());
    };
    QMenu* menu = openMenu(QContextMenuEvent::Mouse);
    ASSERT_NE(menu, nullptr);
    EXPECT_FALSE(menu->findChild<QAction*>(QStringLiteral("turn_rare"))->isChecked());
    trigger(menu, "turn_rare");
    EXPECT_EQ(valueAt(1, "rare"), QStringLiteral("true"));
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return window->findChild<QMenu*>(QStringLiteral("recordMenu")) == nullptr; }));
    trigger(openMenu(QContextMenuEvent::Mouse), "turn_rare");
    EXPECT_TRUE(document()->edits.empty()) << "it is as the source has it again";
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return window->findChild<QMenu*>(QStringLiteral("recordMenu")) == nullptr; }));
    trigger(openMenu(QContextMenuEvent::Mouse), "removeHere");
    EXPECT_EQ(live().recordCount(), 2);
    EXPECT_EQ(valueAt(1, "name"), QStringLiteral("Elm"));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("2 removed"));
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return window->findChild<QMenu*>(QStringLiteral("recordMenu")) == nullptr; }));
    trigger(openMenu(QContextMenuEvent::Keyboard), "removeHere");
    EXPECT_EQ(valueAt(0, "name"), QStringLiteral("Elm")) << "by a key the first in the window is meant";
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(isInForce());
    EXPECT_EQ(valueAt(1, "name"), QStringLiteral("Beech"));
}

/// The demo service's sightings, in its own window.
class ServiceEditsTest : public EditsTest {
protected:
    void openService() {
        makeWindow();
        QTest::keyClick(window.get(), Qt::Key_4, Qt::ControlModifier);
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return flow().collection() != nullptr && flow().runner().paged() != nullptr; }, 30'000));
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(QTest::qWaitFor([&] { return isHere(19); }, 30'000));
    }
    PageStrip& strip() { return live().paged()->pager().strip(); }
    bool isHere(std::int64_t place) {
        return live().recordCount() > place && strip().recordAt(place) != nullptr;
    }
    QString valueOf(const std::string& key, const char* field) {
        const PageRecord* record = strip().find(key);
        return record == nullptr
                   ? QStringLiteral("gone")
                   : QString::fromStdString(record->table->display(record->row, *record->table->find(field)));
    }
    /// The first of the page that has that status.
    std::string keyOf(const char* status) {
        for (std::int64_t place = 0; place < 20; ++place) {
            if (valueOf(strip().recordAt(place)->key, "status") == QLatin1String(status)) {
                return strip().recordAt(place)->key;
            }
        }
        return {};
    }
    void edit(const RecordEdit& edit) {
        CollectionDocument to = *document();
        to.edits = workbench::withEdit(to.edits, edit);
        window->workspace().change(QStringLiteral("x"), to);
        ASSERT_TRUE(QTest::qWaitFor([&] {
            return !live().paged()->isEditing() &&
                   find<EditsList>("edits")->lines().size() == std::ssize(document()->edits);
        }));
    }
    std::vector<std::string> told() {
        std::vector<std::string> calls;
        for (const auto& call : window->workspace().demo().server()->received()) {
            if (call.what.find(' ') != std::string::npos) {
                calls.push_back(call.what + " " + std::to_string(call.status));
            }
        }
        return calls;
    }
    std::string lineOf(int edit) {
        return window->findChild<QLabel*>(QStringLiteral("edit%1").arg(edit))->text().toStdString();
    }
};

TEST_F(ServiceEditsTest, AnEditIsLocalUntilItIsSentAndStaysWhenTheServiceAgrees) {
    openService();
    ASSERT_TRUE(QTest::qWaitFor([&] { return openFirst() != nullptr; }, 30'000));
    EXPECT_THAT(card()->findChild<QLabel*>(QStringLiteral("recordWhy"))->text().toStdString(),
                HasSubstr("until the edit is sent"));
    EXPECT_FALSE(card()->findChild<QLineEdit*>(QStringLiteral("moveRecord"))->isVisible());
    const std::string key = card()->facts().key;
    const QString before = valueOf(key, "count");
    type("count", QStringLiteral("4242"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return valueOf(key, "count") == QStringLiteral("4242"); }, 30'000));
    ASSERT_TRUE(QTest::qWaitFor([&] {
        return card()->findChild<QLabel*>(QStringLiteral("said_count"))->text() ==
               QStringLiteral("the service has ") + before;
    }));
    QTest::keyClick(card(), Qt::Key_Escape);
    EXPECT_TRUE(told().empty());
    QTest::mouseClick(find<QToolButton>("send0"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->edits.empty(); }, 30'000));
    EXPECT_EQ(told(), (std::vector<std::string>{"PATCH /sightings/" + key + " 200"}));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !live().paged()->isEditing(); }));
    EXPECT_EQ(valueOf(key, "count"), QStringLiteral("4242")) << "it is the service's now";
    EXPECT_EQ(strip().find(key)->served, nullptr);
    flow().runner().refresh();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !live().paged()->pager().isRefreshing(); }, 30'000));
    EXPECT_EQ(valueOf(key, "count"), QStringLiteral("4242"));
}

TEST_F(ServiceEditsTest, ARefusalTakesItBackAndSaysSo) {
    openService();
    const std::string key = keyOf("verified");
    const auto place = strip().placeOfKey(key);
    edit({RecordEdit::Kind::Remove, key, {}, {}, {}, -1});
    ASSERT_TRUE(QTest::qWaitFor([&] { return strip().find(key) == nullptr; }));
    QTest::mouseClick(find<QToolButton>("sendAll"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->edits.empty(); }, 30'000));
    EXPECT_EQ(told(), (std::vector<std::string>{"DELETE /sightings/" + key + " 409"}));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("refused an edit"));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("what is verified stays"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return strip().find(key) != nullptr; }));
    EXPECT_EQ(strip().placeOfKey(key), place);
    window->workspace().undo().undo(); // it is wanted all the same
    ASSERT_TRUE(QTest::qWaitFor([&] { return strip().find(key) == nullptr; }));
    EXPECT_EQ(document()->edits.size(), 1U);
}

TEST_F(ServiceEditsTest, WhatCannotBeSentStaysAndMayBeSentAgain) {
    openService();
    const std::string first = keyOf("queried");
    edit({RecordEdit::Kind::Set, first, "count", "7", {}, -1});
    edit({RecordEdit::Kind::Set, first, "note", "\"Seen again\"", {}, -1});
    flow().runner().setWeather({.offline = true});
    QTest::mouseClick(find<QToolButton>("sendAll"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return isIn(lineOf(0), "was not sent"); }, 30'000));
    EXPECT_EQ(document()->edits.size(), 2U);
    EXPECT_EQ(valueOf(first, "count"), QStringLiteral("7"));
    flow().runner().setWeather({});
    QTest::mouseClick(find<QToolButton>("sendAll"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->edits.empty(); }, 30'000));
    EXPECT_EQ(told().size(), 2U);
}

TEST_F(ServiceEditsTest, HowTheyAreSentIsSaidInACardAndIsAStep) {
    openService();
    edit({RecordEdit::Kind::Set, keyOf("queried"), "count", "7", {}, -1});
    QTest::mouseClick(find<QToolButton>("howSent"), Qt::LeftButton);
    auto* sendCard = window->findChild<QWidget*>(QStringLiteral("sendCard"));
    ASSERT_NE(sendCard, nullptr);
    auto* body = sendCard->findChild<QLineEdit*>(QStringLiteral("setBody"));
    body->setText(QStringLiteral("{\"{field}\": "));
    QTest::keyClick(body, Qt::Key_Return);
    EXPECT_TRUE(sendCard->findChild<QLabel*>(QStringLiteral("sendWrong"))->isVisible());
    body->setText(QStringLiteral("{\"{field}\": \"{value}\"}"));
    auto* method = sendCard->findChild<QComboBox*>(QStringLiteral("setMethod"));
    method->setCurrentText(QStringLiteral("PUT"));
    QTest::keyClick(body, Qt::Key_Return);
    EXPECT_EQ(document()->send.set.method, "PUT");
    QTest::mouseClick(find<QToolButton>("send0"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !told().empty(); }, 30'000));
    EXPECT_THAT(told().front(), ::testing::StartsWith("PUT /sightings/"));
    window->workspace().undo().setIndex(1);
    EXPECT_EQ(document()->send.set.method, "PATCH");
}

TEST_F(EditsTest, OfTwoWithOneKeyOnlyTheFirstIsEditedAndSaysSo) {
    openCollection(
        R"("source": {"list": "id,name\n1,Ash\n1,Beech\n2,Elm\n", "form": "csv", "key": "id"},
           "items": {"record": {"text": "{name}", "padding": 20}})");
    CollectionDocument to = *document();
    to.edits = workbench::withEdit({}, {RecordEdit::Kind::Set, "1", "name", "\"Oak\"", {}, -1});
    window->workspace().change(QStringLiteral("x"), to);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().edited() != nullptr; }));
    ASSERT_TRUE(isInForce());
    EXPECT_TRUE(workbench::recordFacts(live(), 0)->values[1].isEdited);
    EXPECT_FALSE(workbench::recordFacts(live(), 1)->values[1].isEdited);
}

TEST_F(ServiceEditsTest, KeptInTheFileTheyAreInForceWhenItIsOpenedAndAnotherDesignKeepsThem) {
    openService();
    const std::string key = keyOf("queried");
    edit({RecordEdit::Kind::Set, key, "count", "4242", {}, -1});
    CollectionDocument to = *document();
    to.areEditsKept = true;
    window->workspace().change(QStringLiteral("keep"), to);
    const QString path = folder.filePath(QStringLiteral("service.collection.json"));
    ASSERT_TRUE(isSaved(path));
    window->workspace().changeDesign(QStringLiteral("design"),
                                     QStringLiteral(R"({"items": {"record": {"text": "{species}"}}})"), {});
    ASSERT_TRUE(QTest::qWaitFor([&] { return isHere(19); }, 30'000));
    EXPECT_EQ(valueOf(key, "count"), QStringLiteral("4242"));
    openDemo(20);
    openFile(path.toStdString());
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return live().paged() != nullptr && isHere(19) && !live().paged()->isEditing(); }, 30'000));
    EXPECT_EQ(valueOf(key, "count"), QStringLiteral("4242"));
    ASSERT_NE(strip().find(key)->served, nullptr);
}

TEST_F(ServiceEditsTest, TheyAreEditedInTheTreeOfItsAnswerAsWell) {
    ASSERT_NO_FATAL_FAILURE(openService());
    const std::string key = keyOf("queried");
    window->goTo(QStringLiteral("source"));
    auto& tree = *find<workbench::AnswerTree>("answerTree");
    const auto select = [&](const QString& text) {
        for (int node = 0; node < 2000; ++node) {
            tree.select(node); // unfolds what holds it
            if (tree.selected() == node && tree.rowText(node) == text) {
                return true;
            }
        }
        return false;
    };
    ASSERT_TRUE(select(QStringLiteral("status queried")));
    window->activateWindow();
    tree.setFocus();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
    QTest::keyClick(&tree, Qt::Key_E);
    ASSERT_NE(card(), nullptr);
    ASSERT_EQ(card()->facts().key, key);
    ASSERT_NO_FATAL_FAILURE(type("status", QStringLiteral("provisional")));
    ASSERT_EQ(document()->edits.size(), 1U);
    EXPECT_EQ(document()->edits[0]->key, key);
    EXPECT_EQ(card()->findChild<QLabel*>(QStringLiteral("said_status"))->text(),
              QStringLiteral("the service has queried"));
    card()->close();
    window->goTo(QStringLiteral("flow"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return valueOf(key, "status") == QLatin1String("provisional"); }));
    // Without a key that was chosen no page would know which record is meant.
    window->goTo(QStringLiteral("source"));
    CollectionDocument to = *document();
    to.edits.clear();
    to.source.key.clear();
    window->workspace().change(QStringLiteral("x"), to);
    const auto records = window->workspace().records();
    EXPECT_EQ(workbench::recordFactsIn(records, *document(), 0)->key, "");
}

TEST_F(EditsTest, OneThatCannotBeInForceSaysWhy) {
    open();
    CollectionDocument to = *document();
    to.edits = workbench::withEdit({}, {RecordEdit::Kind::Remove, "nobody", {}, {}, {}});
    window->workspace().change(QStringLiteral("x"), to);
    ASSERT_TRUE(isInForce());
    EXPECT_THAT(find<EditsList>("edits")->summary().toStdString(), HasSubstr("1 not in force"));
}

TEST(ValueTyped, IsWhatTheFieldTakesOrSaysWhatWould) {
    const auto json = [](const char* typed, FieldType type) {
        return valueTyped(QString::fromUtf8(typed), type).json.value_or("fault");
    };
    EXPECT_EQ(json("a \"b\"", FieldType::Text), R"("a \"b\"")");
    EXPECT_EQ(json("", FieldType::Text), "\"\"");
    EXPECT_EQ(json("", FieldType::Integer), "");
    EXPECT_EQ(json(" 12 ", FieldType::Integer), "12");
    EXPECT_EQ(json("3.5", FieldType::Integer), "3.5");
    EXPECT_EQ(json("12 moths", FieldType::Integer), "fault");
    EXPECT_EQ(json("\"12 moths\"", FieldType::Integer), "\"12 moths\"");
    EXPECT_EQ(json("Yes", FieldType::Boolean), "true");
    EXPECT_EQ(json("maybe", FieldType::Boolean), "fault");
    EXPECT_EQ(json("2026-05-01", FieldType::Time), "\"2026-05-01\"");
    EXPECT_EQ(json("soon", FieldType::Time), "fault");
    EXPECT_EQ(json("[1]", FieldType::List), "[1]");
    EXPECT_EQ(json("{}", FieldType::List), "fault");
    EXPECT_EQ(json("[1", FieldType::List), "fault");
    EXPECT_EQ(json("7", FieldType::Unknown), "7");
    EXPECT_EQ(json("seven", FieldType::Unknown), "\"seven\"");
}

} // namespace
} // namespace scorrere::testing
