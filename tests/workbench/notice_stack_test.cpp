// SPDX-License-Identifier: GPL-3.0-or-later
// What people are told stands beside the page, as long as it must.
#include "testing/program/layout_count.h"
#include "testing/program/window_fixture.h"

#include <QPlainTextEdit>
#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::Notice;
using workbench::NoticeCard;
using workbench::NoticeStack;

const QString kReading = QStringLiteral("reading");

class NoticeStackTest : public WindowTest {
protected:
    NoticeStack& notices() { return window->notice(); }
    QList<NoticeCard*> cards() {
        QList<NoticeCard*> all = notices().findChildren<NoticeCard*>();
        all.removeIf([](const NoticeCard* card) { return card->isHidden(); });
        return all;
    }
    static Notice failed(const char* text) {
        return Notice::failed(QString::fromLatin1(text), Error{ErrorCode::NotFound, "it is gone", {}, {}});
    }
    static Notice told(const char* text) { return Notice::told(QString::fromLatin1(text)); }
};

TEST_F(NoticeStackTest, TheProgressStaysWhateverElseIsTold) {
    notices().tell(Notice::under(kReading, QStringLiteral("reading"), -1));
    EXPECT_EQ(cards().front()->findChild<QProgressBar*>()->maximum(), 0) << "nobody knows how far it is";
    notices().tell(failed("A picture."));
    notices().tell(told("Copied."));
    EXPECT_EQ(cards().size(), 3);
    notices().tell(Notice::under(kReading, QStringLiteral("reading: 7 records so far"), 0.5));
    ASSERT_EQ(cards().size(), 3);
    EXPECT_THAT(cards().front()->text().toStdString(), HasSubstr("7 records so far"));
    EXPECT_EQ(cards().front()->findChild<QProgressBar*>()->value(), 500);
    notices().tell(Notice::over(kReading));
    EXPECT_EQ(cards().size(), 2);
    EXPECT_THAT(cards().front()->text().toStdString(), HasSubstr("A picture. it is gone"));
}

TEST_F(NoticeStackTest, EachThatIsUnderWayIsCancelledByItselfTheNewestFirst) {
    QStringList cancelled;
    QObject::connect(&notices(), &NoticeStack::cancelled, [&](const QString& about) { cancelled << about; });
    const auto under = [&](const char* about, bool canCancel = true) {
        notices().tell(Notice::under(QLatin1String(about), QLatin1String(about), 0.5, canCancel));
    };
    under("first");
    under("second");
    under("fixed", false);
    notices().tell(told("Copied."));
    ASSERT_EQ(cards().size(), 4);
    EXPECT_TRUE(cards()[2]->findChild<QPushButton*>()->isHidden())
        << "what cannot be cancelled has no button";
    EXPECT_THAT(cards()[1]->findChild<QPushButton*>()->text().toStdString(), HasSubstr("Esc"));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_EQ(cancelled, QStringList{QStringLiteral("second")});
    QTest::mouseClick(cards().front()->findChild<QPushButton*>(), Qt::LeftButton);
    EXPECT_EQ(cancelled.last(), QStringLiteral("first"));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_EQ(notices().message(), QStringLiteral("fixed")) << "what was told is closed";
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_EQ(cards().size(), 1);
    EXPECT_EQ(cancelled.size(), 2);
    notices().tell(Notice::over(QStringLiteral("another")));
    EXPECT_EQ(cards().size(), 1);
    notices().tell(Notice::over(QStringLiteral("fixed")));
    EXPECT_TRUE(cards().isEmpty());
}

TEST_F(NoticeStackTest, SeveralStandStillOnceTheyArePlaced) {
    for (const char* text : {"One that is so long that it does not stand in a line, and goes on in the next: "
                             "/items/record/column/0/row/2/label is not known",
                             "A short one."}) {
        notices().tell(told(text));
    }
    const auto process = [] {
        for (int i = 0; i < 200; ++i) {
            QCoreApplication::processEvents();
        }
    };
    process();
    const LayoutCount asked(notices());
    process();
    EXPECT_LT(asked.count, 5) << "it asks for its own layout for ever";
}

TEST_F(NoticeStackTest, ThePageIsNotMoved) {
    openDemo(20);
    const QPoint before = flow().cutaway().mapTo(window.get(), QPoint());
    const QSize size = flow().cutaway().size();
    notices().tell(
        failed("Something long enough to take more than one line of the room that there is, and more."));
    QCoreApplication::processEvents();
    EXPECT_EQ(flow().cutaway().mapTo(window.get(), QPoint()), before);
    EXPECT_EQ(flow().cutaway().size(), size);
    EXPECT_TRUE(window->rect().contains(QRect(notices().mapTo(window.get(), QPoint()), notices().size())));
    window->resize(900, 600);
    QCoreApplication::processEvents();
    EXPECT_TRUE(window->rect().contains(QRect(notices().mapTo(window.get(), QPoint()), notices().size())));
}

TEST_F(NoticeStackTest, EscapeClosesTheNewestAndAnotherTheOneBefore) {
    notices().tell(failed("first"));
    notices().tell(told("second"));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    ASSERT_EQ(cards().size(), 1);
    EXPECT_THAT(notices().message().toStdString(), HasSubstr("first"));
    QTest::mouseClick(cards().front()->findChild<QPushButton*>(), Qt::LeftButton);
    EXPECT_TRUE(cards().isEmpty());
    EXPECT_TRUE(notices().isHidden());
}

TEST_F(NoticeStackTest, ManyMakeRoomForTheNewestAndErrorsStayLongest) {
    notices().tell(failed("an error"));
    for (int i = 0; i < 10; ++i) {
        notices().tell(told("told"));
    }
    EXPECT_EQ(cards().size(), NoticeStack::kMostCards);
    EXPECT_THAT(cards().front()->text().toStdString(), HasSubstr("an error"));
}

TEST_F(NoticeStackTest, AnUpdateOfWhatWasClosedIsNotShown) {
    Notice first = told("1 picture");
    first.about = QStringLiteral("pictures");
    notices().tell(first);
    Notice more = told("2 pictures");
    more.about = first.about;
    more.isUpdate = true;
    notices().tell(more);
    ASSERT_EQ(cards().size(), 1);
    EXPECT_EQ(notices().message(), QStringLiteral("2 pictures"));
    notices().dismiss();
    notices().tell(more);
    EXPECT_TRUE(cards().isEmpty());
}

TEST_F(NoticeStackTest, WhatFailedIsNotUnderWayAnyMoreAndItsWordsAreWhole) {
    openDemo(20);
    openFile(write("torn.collection.json",
                   R"({"scorrere": 1, "name": "torn", "source": {"file": "nowhere-to-be-found-at-all.ndjson"},
                       "items": {"record": {"text": "{name}"}}})"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !cards().isEmpty(); }, 60'000));
    QCoreApplication::processEvents();
    ASSERT_EQ(cards().size(), 1);
    EXPECT_EQ(cards().front()->kind(), Notice::Kind::Failed);
    const auto* text = cards().front()->findChild<QLabel*>(QStringLiteral("noticeText"));
    EXPECT_GE(text->height(), text->heightForWidth(text->width()));
    EXPECT_LE(cards().front()->geometry().bottom(), notices().rect().bottom());
}

TEST_F(NoticeStackTest, AllCanBeReadAgain) {
    notices().tell(failed("What was read too fast."));
    notices().dismiss();
    QTest::keyClick(window.get(), Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    auto* told = find<QPlainTextEdit>("toldSoFar");
    ASSERT_NE(told, nullptr);
    EXPECT_THAT(told->toPlainText().toStdString(), HasSubstr("What was read too fast. it is gone"));
    told->close();
}

} // namespace
} // namespace scorrere::testing
