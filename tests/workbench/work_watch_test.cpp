// SPDX-License-Identifier: GPL-3.0-or-later
// Long work says how far it is, for how long still, and can be ended.
#include "testing/program/flow_fixture.h"
#include "testing/program/held_workers.h"
#include "workbench/model/hard_search.h"
#include "workbench/model/work_watch.h"
#include "workbench/ui/flow/changes_instrument.h"

#include <QProgressBar>
#include <QSignalSpy>
#include <QToolButton>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <memory>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Notice;
using workbench::NoticeCard;
using workbench::WorkWatch;

TEST(WorkWatch, TellsOfWhatTakesLongAndOfNothingElse) {
    std::vector<Notice> told;
    WorkWatch quick(QStringLiteral("quick"));
    WorkWatch slow(QStringLiteral("slow"));
    for (WorkWatch* watch : {&quick, &slow}) {
        QObject::connect(watch, &WorkWatch::told, [&told](const Notice& notice) { told.push_back(notice); });
    }
    double share = 0.25;
    quick.begin(QStringLiteral("Blinking"), [] { return 0.5; });
    slow.begin(
        QStringLiteral("Reading"), [&] { return share; }, [&] { return share > 0.3; });
    EXPECT_FALSE(slow.isLong());
    EXPECT_EQ(slow.farInWords(), QString()) << "it may be over at once";
    quick.end();
    ASSERT_TRUE(QTest::qWaitFor([&] { return told.size() >= 2; }));
    EXPECT_TRUE(slow.isLong());
    EXPECT_EQ(told.front().about, QStringLiteral("slow"));
    EXPECT_EQ(told.front().kind, Notice::Kind::Progress);
    EXPECT_EQ(told.front().text, QStringLiteral("Reading: 25%"));
    EXPECT_EQ(told.front().share, 0.25);
    EXPECT_FALSE(told.front().canCancel);
    share = 0.5;
    slow.begin(QStringLiteral("Sorting"), [&] { return share; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return told.back().text.contains(QStringLiteral("s left")); }));
    EXPECT_THAT(told.back().text.toStdString(), HasSubstr("Sorting: 50%, about "));
    EXPECT_TRUE(told.back().canCancel);
    share = -1;
    ASSERT_TRUE(QTest::qWaitFor([&] { return told.back().text == QStringLiteral("Sorting"); }));
    const std::size_t before = told.size();
    slow.end();
    ASSERT_EQ(told.size(), before + 1);
    EXPECT_EQ(told.back().kind, Notice::Kind::Over);
    EXPECT_EQ(told.back().about, QStringLiteral("slow"));
    slow.end();
    EXPECT_EQ(told.size(), before + 1) << "it was over";
}

TEST(HardSearch, WhatIsStoppedKeepsWhatWasFoundAndCanBeTakenUpAgain) {
    workbench::HardSearch search;
    const auto ask = [&search] {
        workbench::HardQuestion question;
        question.document = *CollectionDocument::parse(
            R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": {"text": "{site}", "lines": 0}}})",
            "");
        question.records = std::make_shared<const RecordTable>(*service::makeSightings(2000, 1));
        search.ask(std::move(question));
    };
    ask();
    ASSERT_TRUE(QTest::qWaitFor([&] { return search.isWhole() && !search.isBusy(); }, 30'000));
    const std::size_t found = search.found().size();
    {
        const HeldWorkers held;
        ask();
        ASSERT_TRUE(QTest::qWaitFor([&] { return search.isLong(); }));
        EXPECT_EQ(search.farInWords(), QStringLiteral("0%"));
        QSignalSpy looked(&search, &workbench::HardSearch::looked);
        search.stop();
        EXPECT_GE(looked.count(), 1);
        EXPECT_TRUE(search.isStopped());
        EXPECT_FALSE(search.isBusy() || search.isLong() || search.isWhole());
        EXPECT_EQ(search.found().size(), found);
    }
    ask();
    EXPECT_FALSE(search.isStopped());
    ASSERT_TRUE(QTest::qWaitFor([&] { return search.isWhole() && !search.isBusy(); }, 30'000));
}

class LongWork : public FlowTest {
protected:
    void open(qint64 count = 3000) {
        openDemo(count);
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
        ASSERT_TRUE(isDone());
    }
    bool isDone() {
        return QTest::qWaitFor(
            [this] { return !live().isOrdering() && live().isIdle() && !live().isEstimating(); }, 60'000);
    }
    NoticeCard* card() {
        for (NoticeCard* each : window->notice().findChildren<NoticeCard*>()) {
            if (each->kind() == Notice::Kind::Progress && !each->isHidden()) {
                return each;
            }
        }
        return nullptr;
    }
    bool comes(const char* words) {
        return QTest::qWaitFor(
            [&] { return card() != nullptr && card()->text().startsWith(QLatin1String(words)); });
    }
    void say(const char* word, const char* chosen) {
        Q_EMIT find<workbench::SentenceWord>(word)->wordChosen(QString::fromUtf8(chosen));
    }
    bool isKnownBy(const char* key) {
        return QTest::qWaitFor([&] {
            return sentenceOf(source()).sentence().contains(QLatin1String("each known by ") +
                                                            QLatin1String(key));
        });
    }
    void escape() { QTest::keyClick(window.get(), Qt::Key_Escape); }
};

TEST_F(LongWork, AnotherOrderCanBeCancelledAndIsAsItWas) {
    open();
    say("wordWhere", "those where count is over 5");
    ASSERT_TRUE(isDone());
    const std::int64_t some = live().recordCount();
    const std::int64_t record = live().contextAt(7)->record;
    const int step = window->workspace().undo().index();
    {
        const HeldWorkers held;
        say("wordOrder", "an order shuffled by 4");
        ASSERT_TRUE(comes("Putting the sightings in order: 0%"));
        EXPECT_THAT(window->windowTitle().toStdString(), HasSubstr("0% "));
        EXPECT_EQ(card()->findChild<QProgressBar*>()->maximum(), 1000) << "how far it is is known";
        EXPECT_THAT(sentence(), HasSubstr("shuffled by 4"));
        escape();
        EXPECT_EQ(card(), nullptr);
        EXPECT_EQ(window->workspace().undo().index(), step);
        EXPECT_THAT(sentence(), Not(HasSubstr("shuffled")));
        EXPECT_FALSE(live().isOrdering()) << "what is in force is not looked for again";
        EXPECT_THAT(window->windowTitle().toStdString(), Not(HasSubstr("%")));
    }
    ASSERT_TRUE(isDone());
    EXPECT_EQ(live().recordCount(), some);
    EXPECT_EQ(live().contextAt(7)->record, record);
    window->workspace().undo().redo();
    EXPECT_TRUE(live().isOrdering()) << "what was given up can be wanted again";
    ASSERT_TRUE(isDone());
    EXPECT_EQ(live().recordCount(), some);
    EXPECT_EQ(live().orderTold().spec.shuffled, 4);
}

TEST_F(LongWork, AnEditCanBeCancelledAndTheRunIsAsIfThereWereNone) {
    open();
    {
        const HeldWorkers held;
        CollectionDocument to = *document();
        RecordEdit edit;
        edit.kind = RecordEdit::Kind::Remove;
        edit.key = "2";
        to.edits = {std::make_shared<const RecordEdit>(edit)};
        window->workspace().change(QStringLiteral("remove"), std::move(to));
        ASSERT_TRUE(comes("Putting the sightings in order"));
        escape();
        EXPECT_TRUE(document()->edits.empty());
        EXPECT_FALSE(live().isOrdering());
    }
    ASSERT_TRUE(isDone());
    EXPECT_EQ(live().recordCount(), 3000);
    EXPECT_EQ(live().contextAt(1)->record, 1);
}

TEST_F(LongWork, WhatWasDoneBeforeIsNotTakenBackWithIt) {
    open();
    say("wordWhere", "those where count is over 5");
    ASSERT_TRUE(isDone());
    CollectionDocument named = *document();
    named.name = "Some of them";
    window->workspace().change(QStringLiteral("name"), std::move(named)); // a step that orders nothing
    const int step = window->workspace().undo().index();
    const HeldWorkers held;
    say("wordOrder", "an order shuffled by 4");
    ASSERT_TRUE(comes("Putting the"));
    escape();
    EXPECT_EQ(window->workspace().undo().index(), step);
}

TEST_F(LongWork, AComparisonOfTheWaysCanBeCancelled) {
    open();
    say("wordWhere", "those where count is over 5");
    ASSERT_TRUE(isDone());
    {
        const HeldWorkers held;
        QTest::mouseClick(find<QToolButton>("compare"), Qt::LeftButton);
        ASSERT_TRUE(comes("Comparing the ways: 0%"));
        escape();
        EXPECT_FALSE(live().isComparing());
        EXPECT_EQ(card(), nullptr);
    }
    EXPECT_THAT(find<workbench::ChangesInstrument>("changes")->lines().join(QLatin1Char('\n')).toStdString(),
                Not(HasSubstr("comparing")));
    QTest::mouseClick(find<QToolButton>("compare"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().orderCosts() != nullptr; }, 30'000));
}

TEST_F(LongWork, ASearchForAnItemCanBeCancelled) {
    open();
    auto& cutaway = flow().cutaway();
    cutaway.setFocus();
    QTest::keyClick(&cutaway, Qt::Key_Return); // into the items
    ASSERT_TRUE(live().hands().focused());
    {
        const HeldWorkers held;
        QTest::keyClicks(&cutaway, QStringLiteral("zz"));
        ASSERT_TRUE(comes("Looking for the item: 0%"));
        QTest::keyClick(&cutaway, Qt::Key_Escape);
        EXPECT_EQ(card(), nullptr);
        EXPECT_FALSE(live().hands().isSearching());
    }
    bool isOver = false; // once all workers have let go, the search would have ended, too
    render::Job after;
    after.start([](const std::stop_token&, const render::Job::Post&) { return true; },
                [&isOver](bool done) { isOver = done; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return isOver; }));
    EXPECT_THAT(window->notice().history().join(QLatin1Char('\n')).toStdString(),
                Not(HasSubstr("No item begins so")));
}

TEST_F(LongWork, TheSearchForTheHardestSaysHowFarItIsAndCanBeStopped) {
    open();
    std::unique_ptr<HeldWorkers> held = std::make_unique<HeldWorkers>();
    window->goTo(QStringLiteral("item"));
    auto* hint = find<QLabel>("itemHint");
    auto* button = find<QPushButton>("lookingButton");
    ASSERT_TRUE(QTest::qWaitFor([&] { return button->isVisible(); }));
    EXPECT_THAT(hint->text().toStdString(), HasSubstr("Looking at all 3,000: 0%"));
    EXPECT_EQ(button->text(), QStringLiteral("Stop looking"));
    QTest::mouseClick(button, Qt::LeftButton);
    EXPECT_THAT(hint->text().toStdString(), HasSubstr("0 of 3,000 were looked at"));
    EXPECT_EQ(button->text(), QStringLiteral("Look at all"));
    QTest::mouseClick(button, Qt::LeftButton);
    held.reset();
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 60'000));
    EXPECT_FALSE(button->isVisible());
    EXPECT_THAT(hint->text().toStdString(), Not(HasSubstr("looked at")));
}

TEST_F(LongWork, LookingAtTheValuesSaysHowFarItIsAndCanBeStopped) {
    std::unique_ptr<HeldWorkers> held;
    QObject::connect(&window->workspace().opening(), &workbench::Opening::read,
                     [&held] { held = std::make_unique<HeldWorkers>(); });
    window->goTo(QStringLiteral("source"));
    window->workspace().opening().openDemo(3000);
    auto* hint = find<QLabel>("fieldsHint");
    auto* button = find<QPushButton>("lookAtValues");
    ASSERT_TRUE(QTest::qWaitFor([&] { return held != nullptr; }, 30'000));
    window->goTo(QStringLiteral("source"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return button->isVisible(); }));
    EXPECT_THAT(hint->text().toStdString(), HasSubstr("looking at values: 0%"));
    QTest::mouseClick(button, Qt::LeftButton);
    EXPECT_THAT(hint->text().toStdString(), HasSubstr("not every value was looked at"));
    EXPECT_TRUE(isKnownBy("nothing"));
    EXPECT_EQ(button->text(), QStringLiteral("Look at all"));
    QTest::mouseClick(button, Qt::LeftButton);
    held.reset();
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return hint->text().contains(QStringLiteral("K makes it the key")); }, 30'000));
    EXPECT_FALSE(button->isVisible());
    EXPECT_TRUE(isKnownBy("id"));
}

} // namespace
} // namespace scorrere::testing
