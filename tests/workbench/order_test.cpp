// SPDX-License-Identifier: GPL-3.0-or-later
// Which of the records Flow shows, and in which order: by the sentence, by typing, by keys; told, undone, saved.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/flow/changes_instrument.h"
#include "workbench/ui/flow/strip_map.h"

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::ChangesInstrument;
using workbench::SentenceWord;
using workbench::Target;

class OrderTest : public FlowTest {
protected:
    bool isInOrder() {
        return QTest::qWaitFor(
            [this] { return !live().isOrdering() && live().isIdle() && !live().isEstimating(); }, 60'000);
    }
    void say(const char* word, const char* chosen) {
        choose(word, chosen);
        ASSERT_TRUE(isInOrder());
    }
    std::int64_t shown() { return live().recordCount(); }
    std::int64_t countOf(std::int64_t place) {
        const auto context = live().contextAt(place);
        const FieldHandle field = *live().records().find("count");
        return context->records.has(context->record, field) ? context->records.integer(context->record, field)
                                                            : -1;
    }
    void open() {
        makeWindow();
        openDemo(20'000);
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
    }
};

TEST_F(OrderTest, TheSentenceSaysWhatIsShownAndInWhichOrderAndUndoBringsItBack) {
    open();
    say("wordWhere", "those where status is queried and count is over 5");
    const std::int64_t some = shown();
    EXPECT_GT(some, 100);
    EXPECT_LT(some, 10'000);
    say("wordOrder", "the order of count, largest first");
    EXPECT_EQ(shown(), some);
    for (std::int64_t place = 1; place < some; ++place) {
        ASSERT_GE(countOf(place - 1), countOf(place)) << place;
    }
    EXPECT_THAT(sentence(),
                HasSubstr("those where status is queried and count is over 5, containing anything, in the "
                          "order of count, largest first, as a list"));
    EXPECT_EQ(document()->order.where, "@.status == \"queried\" && @.count > 5");
    const std::string path = folder.filePath(QStringLiteral("o.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    EXPECT_EQ(CollectionDocument::load(path)->order, document()->order);
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(shown(), 20'000);
    EXPECT_THAT(sentence(), HasSubstr("20,000 sightings, all, containing anything, in their order"));
    EXPECT_FALSE(window->workspace().undo().canUndo());
}

TEST_F(OrderTest, OneStaysWithWhatIsReadOrGoesToTheStartAsIsSaidForTheKindOfChange) {
    open();
    const auto isAtStart = [this] { return run().offset() == Length{}; };
    run().jumpTo(9000);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    say("wordOrder", "the order of count, largest first");
    EXPECT_FALSE(isAtStart());
    auto* after = find<QToolButton>("afterChange");
    EXPECT_EQ(after->text(), QStringLiteral("stays with what is read"));
    after->menu()->actions().at(3)->trigger(); // behind the heading: a filter, a search, a sort
    EXPECT_EQ(after->text(), QStringLiteral("to the start after a sort"));
    EXPECT_TRUE(document()->order.toStart.sort);
    EXPECT_FALSE(isAtStart()) << "it is of the next one";
    say("wordOrder", "the order of count");
    EXPECT_TRUE(isAtStart());
    run().jumpTo(9000);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    say("wordWhere", "those where status is queried");
    EXPECT_FALSE(isAtStart()) << "a filter is another kind";
    window->workspace().undo().setIndex(1);
    EXPECT_EQ(after->text(), QStringLiteral("stays with what is read"));
}

TEST_F(OrderTest, AFilterIsPickedFromTheValuesThereAre) {
    open();
    auto* word = find<SentenceWord>("wordWhere");
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return word->choices().contains(QStringLiteral("those where status is queried")); }));
    EXPECT_FALSE(word->choices().join(QLatin1Char('|')).contains(QLatin1String("note")))
        << "it has more than few";
    std::int64_t queried = 0;
    for (std::int64_t record = 0; record < 20'000; ++record) {
        queried += live().records().text(record, *live().records().find("status")) == "queried" ? 1 : 0;
    }
    QTest::keyClick(word, Qt::Key_Return);
    auto* list = find<QListWidget>("wordList");
    const auto items = list->findItems(QStringLiteral("status is queried"), Qt::MatchContains);
    ASSERT_EQ(items.size(), 1);
    EXPECT_THAT(items[0]->text().toStdString(), HasSubstr(workbench::grouped(queried).toStdString()));
    list->scrollToItem(items[0]);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(items[0]).center());
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(shown(), queried);
    EXPECT_EQ(word->word(), QStringLiteral("those where status is queried"));
}

TEST_F(OrderTest, ReturnTakesWhatIsMarked) {
    open();
    auto* word = find<SentenceWord>("wordWhere");
    const auto type = [&](const char* words) {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        word->setFocus();
        QTest::keyClick(word, Qt::Key_Return);
        QTest::keyClicks(find<QLineEdit>("wordLine"), QLatin1String(words));
        return find<QListWidget>("wordList");
    };
    QListWidget* list = type("status is q"); // which means something as it stands, though nobody has it
    EXPECT_EQ(list->currentItem(), nullptr);
    QTest::keyClick(find<QLineEdit>("wordLine"), Qt::Key_Return);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(word->word(), QStringLiteral("those where status is q"));
    list = type("status is q");
    QTest::keyClick(find<QLineEdit>("wordLine"), Qt::Key_Down);
    ASSERT_NE(list->currentItem(), nullptr);
    EXPECT_THAT(list->currentItem()->text().toStdString(), HasSubstr("those where status is queried"));
    QTest::keyClick(find<QLineEdit>("wordLine"), Qt::Key_Return);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(word->word(), QStringLiteral("those where status is queried"));
    list = type("status is verified"); // one of those there are
    ASSERT_NE(list->currentItem(), nullptr);
    EXPECT_THAT(list->currentItem()->text().toStdString(), HasSubstr("those where status is verified"));
    QTest::keyClick(find<QLineEdit>("wordLine"), Qt::Key_Return);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(word->word(), QStringLiteral("those where status is verified"));
}

TEST_F(OrderTest, ASearchFindsWhileOneTypesAndIsOneStep) {
    open();
    auto* word = find<SentenceWord>("wordSearch");
    QTest::keyClicks(word, QStringLiteral("p"));
    auto* line = find<QLineEdit>("wordLine");
    ASSERT_NE(line, nullptr);
    QTest::keyClicks(line, QStringLiteral("ale"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->order.containing == "pale"; }));
    ASSERT_TRUE(isInOrder());
    const std::int64_t pale = shown();
    EXPECT_GT(pale, 10);
    EXPECT_LT(pale, 20'000);
    EXPECT_TRUE(line->isVisible()) << "one types on";
    QTest::keyClicks(line, QStringLiteral(" lantern"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return document()->order.containing == "pale lantern"; }));
    ASSERT_TRUE(isInOrder());
    EXPECT_LT(shown(), pale);
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_THAT(sentence(), HasSubstr("containing \u201cpale lantern\u201d"));
    window->workspace().undo().undo();
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(shown(), 20'000) << "all that was typed is one step";
    EXPECT_FALSE(window->workspace().undo().canUndo());
}

TEST_F(OrderTest, OneKeyClearsAWordAndAnotherShuffles) {
    open();
    say("wordSearch", "\u201cpale\u201d in species");
    EXPECT_LT(shown(), 20'000);
    auto* word = find<SentenceWord>("wordSearch");
    QTest::mouseClick(word, Qt::LeftButton);
    QTest::keyClick(find<QLineEdit>("wordLine"), Qt::Key_Delete);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(shown(), 20'000);
    say("wordSearch", "\u201cpale\u201d in species");
    word->setFocus();
    QTest::keyClick(word, Qt::Key_Delete);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(shown(), 20'000);
    window->activateWindow(); // which the card was
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->isActiveWindow(); }));
    QTest::keyClick(&flow(), Qt::Key_S, Qt::ShiftModifier);
    EXPECT_EQ(document()->order.shuffled, 1u);
    QTest::keyClick(&flow(), Qt::Key_S, Qt::ShiftModifier);
    EXPECT_EQ(document()->order.shuffled, 2u);
    ASSERT_TRUE(isInOrder());
    EXPECT_NE(live().contextAt(0)->record, 0);
    word = find<SentenceWord>("wordOrder");
    EXPECT_EQ(word->word(), QStringLiteral("an order shuffled by 2"));
    EXPECT_THAT(word->choices().join(QLatin1Char('|')).toStdString(), HasSubstr("shuffled by 3"));
    word->setFocus();
    QTest::keyClick(word, Qt::Key_Backspace);
    ASSERT_TRUE(isInOrder());
    EXPECT_EQ(live().contextAt(0)->record, 0);
}

TEST_F(OrderTest, WhatAChangeDidIsToldAndDrawn) {
    open();
    auto* changes = find<ChangesInstrument>("changes");
    EXPECT_FALSE(changes->isVisible()) << "there was none";
    say("wordWhere", "those where count is over 5");
    EXPECT_TRUE(changes->isVisible());
    const std::string kept = workbench::grouped(shown()).toStdString();
    EXPECT_THAT(changes->lines().join(QLatin1Char('\n')).toStdString(),
                HasSubstr(kept + " stayed, 0 moved, 0 came, "));
    EXPECT_THAT(changes->lines().join(QLatin1Char('\n')).toStdString(),
                HasSubstr("changed in place: of the "));
    EXPECT_THAT(changes->summary().toStdString(), HasSubstr(kept + " shown"));
    QTest::mouseClick(find<QToolButton>("compare"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            return changes->lines()
                .join(QLatin1Char('\n'))
                .contains(QLatin1String("record by record on the interface thread"));
        },
        30'000));
    // The bank of what was is longer than that of what is.
    const QImage image = changes->grab().toImage();
    const auto lengthAt = [&](int y) {
        int many = 0;
        for (int x = 0; x < image.width(); ++x) {
            many += image.pixelColor(x, y) == window->look().loaded ? 1 : 0;
        }
        return many;
    };
    int longest = 0;
    int last = 0;
    for (int y = 0; y < image.height(); ++y) {
        longest = std::max(longest, lengthAt(y));
        last = lengthAt(y) > 20 ? lengthAt(y) : last;
    }
    EXPECT_NEAR(static_cast<double>(last) / longest, static_cast<double>(shown()) / 20'000, 0.02);
    run().jumpTo(3000);
    flow().runner().driver().want();
    ASSERT_TRUE(isInOrder());
    say("wordOrder", "an order shuffled by 4");
    EXPECT_THAT(changes->lines().join(QLatin1Char('\n')).toStdString(), HasSubstr("started afresh: of the "));
}

TEST_F(OrderTest, ThreadsShowInTheStripMapWhereRecordsWentAndFade) {
    open();
    auto* map = find<workbench::StripMap>("stripMap");
    const auto accented = [&] {
        const QImage image = map->grab().toImage();
        const QColor accent = window->look().accent;
        int many = 0;
        for (int y = image.height() / 2; y < image.height() * 3 / 4; ++y) { // far from where the window is
            for (int x = 0; x < image.width(); ++x) {
                const QColor at = image.pixelColor(x, y);
                many += at.hue() == accent.hue() || std::abs(at.hue() - accent.hue()) < 6
                            ? at.saturation() > 90
                            : 0;
            }
        }
        return many;
    };
    ASSERT_TRUE(QTest::qWaitFor([&] { return accented() < 60; }));
    say("wordOrder", "an order shuffled by 4");
    EXPECT_TRUE(QTest::qWaitFor([&] { return accented() > 300; }, 1500));
    EXPECT_TRUE(QTest::qWaitFor([&] { return accented() < 60; }, 8000)) << "they fade";
}

TEST_F(OrderTest, ARuleThatIsWrongIsToldAndWhatRanGoesOn) {
    open();
    say("wordWhere", "those where count is over 5");
    const std::int64_t some = shown();
    choose("wordWhere", "those where @.count >");
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->notice().isVisible(); }));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("cannot be done with these records"));
    EXPECT_EQ(shown(), some);
}

TEST_F(OrderTest, ARecordThatIsNotShownIsSaidToBeElsewhere) {
    open();
    say("wordOrder", "the order of count, largest first");
    Target target;
    target.record = 1234;
    flow().reveal(target);
    ASSERT_TRUE(isInOrder());
    const Slot slot = run().arrangement().slotAt(run().hold().position);
    EXPECT_EQ(live().contextAt(slot.place)->record, 1234) << "by its number, wherever it stands";
    say("wordWhere", "those where count is over 100000");
    say("wordWhere", "those where count is under 0");
    target.record = 0;
    flow().reveal(target);
    EXPECT_EQ(shown(), 0);
    EXPECT_THAT(window->notice().message().toStdString(),
                HasSubstr("Record 1 is not among those that are shown"));
    EXPECT_EQ(flow().offers(QStringLiteral("20,000")).size(), 1u);
    EXPECT_EQ(flow().offers(QStringLiteral("20,001")).size(), 0u);
}

TEST_F(OrderTest, AnotherDesignGoesOnInTheOrderAndWhereItWas) {
    open();
    say("wordOrder", "an order shuffled by 9");
    live().showRecord(15'000);
    flow().runner().driver().want();
    ASSERT_TRUE(isInOrder());
    const std::int64_t read = live().contextAt(15'000)->record;
    window->workspace().changeDesign(QStringLiteral("edit"),
                                     QStringLiteral(R"({"items": {"record": {"text": "{species}"}}})"), {});
    ASSERT_TRUE(settle());
    EXPECT_EQ(shown(), 20'000);
    const Slot slot = run().arrangement().slotAt(run().hold().position);
    EXPECT_EQ(slot.place, 15'000);
    EXPECT_EQ(live().contextAt(slot.place)->record, read);
}

TEST_F(OrderTest, AServiceOrdersItsOwnPages) {
    makeWindow();
    openFile(SCORRERE_SOURCE_DIR "/demo/service.collection.json");
    window->goTo(QStringLiteral("flow"));
    EXPECT_THAT(sentence(), Not(HasSubstr("in their order")));
}

} // namespace
} // namespace scorrere::testing
