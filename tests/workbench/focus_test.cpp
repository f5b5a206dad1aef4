// SPDX-License-Identifier: GPL-3.0-or-later
//
// Keys reach everything: Tab goes in reading order, what has the focus shows it, and no edit takes it away.
#include "testing/program/window_fixture.h"
#include "workbench/ui/source/fields_view.h"

#include <QAccessible>
#include <QApplication>
#include <QPushButton>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::FieldsView;
using workbench::SentenceWord;

class FocusTest : public WindowTest {
protected:
    QRect placeOf(const QWidget* widget) const {
        return QRect(widget->mapTo(window.get(), QPoint()), widget->size()).intersected(window->rect());
    }
    static std::string nameOf(const QWidget* widget) {
        return widget == nullptr ? "nothing"
                                 : (widget->objectName() + QLatin1Char(' ') +
                                    QString::fromLatin1(widget->metaObject()->className()))
                                       .toStdString();
    }
    void tab() {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QCoreApplication::processEvents();
    }
};

TEST_F(FocusTest, WhatLiesOverThePageGivesTheFocusBack) {
    openDemo(20);
    window->goTo(QStringLiteral("flow"));
    auto& cutaway = flow().cutaway();
    cutaway.setFocus();
    QStringList answers;
    for (const char* about : {"one", "two"}) {
        workbench::Question question;
        question.about = QLatin1String(about);
        question.text = question.about;
        question.choices = {{QStringLiteral("go"), QStringLiteral("Go")},
                            {QStringLiteral("stay"), QStringLiteral("Stay")}};
        question.answered = [&answers](const QString& choice, const QList<int>&) { answers << choice; };
        window->workspace().ask(question);
    }
    EXPECT_EQ(nameOf(window->focusWidget()), "ask_stay QPushButton");
    QTest::mouseClick(find("ask_go"), Qt::LeftButton);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_EQ(nameOf(window->focusWidget()), "ask_stay QPushButton") << "of the next question";
    QTest::mouseClick(find("ask_go"), Qt::LeftButton);
    EXPECT_EQ(answers.size(), 2);
    EXPECT_EQ(window->focusWidget(), &cutaway) << nameOf(window->focusWidget());
    Q_EMIT window->workspace().noticed(workbench::Notice::told(QStringLiteral("Copied.")));
    EXPECT_EQ(window->focusWidget(), &cutaway);
    auto* close = find<QPushButton>("noticeButton");
    close->setFocus();
    QTest::keyClick(close, Qt::Key_Space);
    EXPECT_EQ(window->focusWidget(), &cutaway) << nameOf(window->focusWidget());
    // Where somebody went on elsewhere meanwhile, it stays there.
    Q_EMIT window->workspace().noticed(workbench::Notice::told(QStringLiteral("Copied.")));
    find("stationFlow")->setFocus();
    window->notice().dismiss();
    EXPECT_EQ(window->focusWidget(), find("stationFlow"));
}

TEST_F(FocusTest, TabGoesInReadingOrderAndEveryStopIsSeen) {
    openDemo(20);
    for (const char* station : {"source", "item", "flow"}) {
        window->goTo(QString::fromLatin1(station));
        ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled() || station[0] != 'i'; }));
        flow().setPaused(true); // nothing moves but the focus
        QTest::qWait(0);
        find("stationSource")->setFocus(Qt::TabFocusReason);
        QCoreApplication::processEvents();
        QSet<const QWidget*> seen;
        const QWidget* before = QApplication::focusWidget();
        for (int i = 0; i < 200 && !seen.contains(QApplication::focusWidget()); ++i) {
            seen << QApplication::focusWidget();
            const QImage without = window->grab().toImage();
            tab();
            const QWidget* here = QApplication::focusWidget();
            ASSERT_NE(here, nullptr) << station;
            if (seen.contains(here)) {
                break; // once around
            }
            const QRect a = placeOf(before);
            const QRect b = placeOf(here);
            EXPECT_TRUE(b.top() + 12 >= a.top() || b.left() + 12 >= a.right())
                << station << ": from " << nameOf(before) << " back to " << nameOf(here);
            EXPECT_NE(window->grab().toImage().copy(b), without.copy(b)) << station << ": " << nameOf(here);
            before = here;
        }
        EXPECT_TRUE(seen.contains(find("menuButton"))) << station;
        EXPECT_GT(seen.size(), 12) << station;
        flow().setPaused(false);
    }
    EXPECT_TRUE(flow().cutaway().isVisible());
}

TEST_F(FocusTest, AddingFieldsAndRulesLeavesTheFocusWhereItWas) {
    openDemo(20);
    window->goTo(QStringLiteral("item"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 30'000));
    auto* field = find<QPushButton>("field_id");
    field->setFocus();
    QTest::keyClick(field, Qt::Key_Space);
    ASSERT_NE(QApplication::focusWidget(), nullptr);
    EXPECT_TRUE(item().isAncestorOf(QApplication::focusWidget())) << nameOf(QApplication::focusWidget());
    EXPECT_THAT(nameOf(QApplication::focusWidget()), HasSubstr("field_"))
        << "on to the next that is not shown";
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
    EXPECT_TRUE(item().isAncestorOf(QApplication::focusWidget()));
    ASSERT_TRUE(QTest::qWaitFor([&] { return find("addTone")->isVisible(); }));
    auto* add = find<QPushButton>("addTone");
    add->setFocus();
    QTest::keyClick(add, Qt::Key_Space);
    EXPECT_EQ(nameOf(QApplication::focusWidget()), "addTone QPushButton");
    EXPECT_EQ(window->station().id(), QStringLiteral("item"));
}

TEST_F(FocusTest, ASentenceThatIsWrittenAnewKeepsTheWordThatHasTheFocus) {
    openFile(write("a.csv", "id;name\n1;a\n2;b\n"));
    auto* word = source().sentence()->findChild<SentenceWord*>(QStringLiteral("wordHeader"));
    ASSERT_NE(word, nullptr);
    word->setFocus();
    QTest::keyClick(word, Qt::Key_Down); // it is read again, and the sentence says other things
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }));
    QCoreApplication::processEvents();
    EXPECT_EQ(nameOf(QApplication::focusWidget()), "wordHeader scorrere::workbench::SentenceWord");
}

TEST_F(FocusTest, WordsSayTheirValueToThoseWhoDoNotSeeThem) {
    openDemo(20);
    auto* word = flow().sentence()->findChild<SentenceWord*>(QStringLiteral("wordDevice"));
    QAccessibleInterface* access = QAccessible::queryAccessibleInterface(word);
    ASSERT_NE(access, nullptr);
    EXPECT_THAT(access->text(QAccessible::Name).toStdString(), HasSubstr("tall handset"));
    QTest::keyClick(word, Qt::Key_Down);
    EXPECT_THAT(access->text(QAccessible::Name).toStdString(), HasSubstr(word->word().toStdString()));
}

TEST_F(FocusTest, ThePaintedTableOfFieldsHasRowsAndCells) {
    openDemo(20);
    window->goTo(QStringLiteral("source"));
    auto* fields = find<FieldsView>("fieldsView");
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return fields->rows().size() == 12 && fields->rows()[0].profile != nullptr; }));
    QAccessibleInterface* access = QAccessible::queryAccessibleInterface(fields);
    ASSERT_NE(access, nullptr);
    EXPECT_EQ(access->role(), QAccessible::Table);
    QAccessibleTableInterface* table = access->tableInterface();
    ASSERT_NE(table, nullptr);
    EXPECT_EQ(table->rowCount(), 12);
    EXPECT_EQ(table->columnCount(), 6);
    EXPECT_EQ(table->columnDescription(1), QStringLiteral("type"));
    EXPECT_EQ(table->cellAt(0, 0)->text(QAccessible::Name), QStringLiteral("id, the key"));
    EXPECT_THAT(table->cellAt(0, 1)->text(QAccessible::Name).toStdString(), HasSubstr("whole number"));
    EXPECT_THAT(table->cellAt(1, 5)->text(QAccessible::Name).toStdString(), HasSubstr("Ashen tussock"));
    EXPECT_TRUE(table->cellAt(1, 5)->text(QAccessible::Name).contains(QStringLiteral("\u2069, \u2068")))
        << "samples of whichever direction stand beside each other";
    EXPECT_EQ(table->cellAt(12, 0), nullptr);
    QTest::keyClick(fields, Qt::Key_Down);
    EXPECT_EQ(table->selectedRows(), QList<int>{fields->selected()});
    EXPECT_TRUE(table->cellAt(fields->selected(), 2)->state().selected);
    EXPECT_TRUE(fields->rect().contains(fields->mapFromGlobal(table->cellAt(1, 0)->rect().center())));
    EXPECT_EQ(access->indexOfChild(table->cellAt(2, 3)), 2 * 6 + 3);
}

} // namespace
} // namespace scorrere::testing
