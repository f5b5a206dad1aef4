// SPDX-License-Identifier: GPL-3.0-or-later
// A collection that is turned by hand: by its bar and by keys, over a file and over a service.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QLabel>
#include <QTest>
#include <QToolButton>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::Cutaway;
using workbench::SentenceWord;

class LeafTest : public FlowTest {
protected:
    void open(const char* arrangement = R"({"list": {"byHand": 20}})") {
        openCollection(std::string(R"("source": {"demo": {"count": 73}},
            "items": {"record": {"text": "{species}", "padding": 6}}, "arrangement": )") +
                       arrangement);
    }
    void click(const char* button) {
        QTest::mouseClick(find<QToolButton>(button), Qt::LeftButton);
        ASSERT_TRUE(settle());
    }
    std::string told() { return find<QLabel>("leafTold")->text().toStdString(); }
    /// What the item at a position shows, and what it is called.
    std::string shows(std::int64_t position) {
        const auto& all = run().placements();
        const auto at = std::ranges::find(all, position, &Placement::position);
        return at == all.end() ? "nothing" : live().view(at->view).title().toStdString();
    }
    std::string species(std::int64_t record) {
        const RecordTable& records = live().records();
        return std::string(records.text(record, *records.find("species")));
    }
};

TEST_F(LeafTest, TheBarTurnsAndSaysWhatOfHowManyShows) {
    open();
    EXPECT_EQ(told(), "1 to 20 of 73");
    EXPECT_EQ(run().arrangement().recordCount(), 20);
    EXPECT_FALSE(find<QToolButton>("leafBefore")->isEnabled());
    click("leafOn");
    EXPECT_EQ(told(), "21 to 40 of 73");
    EXPECT_EQ(shows(0), species(20));
    EXPECT_EQ(live().nameAt(0).toStdString(), "21") << "records keep their numbers";
    run().wheel(Length::px(200));
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    click("leaf4");
    EXPECT_EQ(told(), "61 to 73 of 73");
    EXPECT_EQ(run().arrangement().recordCount(), 13);
    EXPECT_EQ(run().offset(), Length{}) << "each begins at its start";
    EXPECT_FALSE(find<QToolButton>("leafOn")->isEnabled());
    EXPECT_FALSE(find<QToolButton>("leafLast")->isEnabled());
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_BracketLeft);
    ASSERT_TRUE(settle());
    EXPECT_EQ(told(), "41 to 60 of 73");
    EXPECT_TRUE(find<QToolButton>("leaf3")->isChecked());
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_BracketRight);
    QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_BracketRight);
    ASSERT_TRUE(settle());
    EXPECT_EQ(told(), "61 to 73 of 73") << "beyond the last there is none";
    click("leafFirst");
    EXPECT_EQ(shows(0), species(0));
}

TEST_F(LeafTest, IsAWordThatUndoTakesBackAndTheRecordThatIsReadStays) {
    open(R"({"list": {}})");
    flow().runner().showRecord(45);
    ASSERT_TRUE(settle());
    choose("wordTurning", "10 at a time, turned by hand");
    EXPECT_EQ(told(), "41 to 50 of 73");
    EXPECT_TRUE(find("leafBar")->isVisible());
    EXPECT_THAT(document()->serialise(), HasSubstr("\"byHand\": 10"));
    choose("wordArrangement", "a grid of 2 columns");
    EXPECT_EQ(told(), "41 to 50 of 73") << "another arrangement turns no page";
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_FALSE(find("leafBar")->isVisible());
    EXPECT_EQ(run().arrangement().recordCount(), 73);
}

TEST_F(LeafTest, RecordsThatComeAndGoBeforeItsEndMoveThroughIt) {
    open();
    click("leafOn");
    live().eraseRecords(0, 3);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    EXPECT_EQ(shows(0), species(23));
    EXPECT_EQ(told(), "21 to 40 of 70");
    live().insertRecords(0, 0, 1);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    EXPECT_EQ(shows(0), species(22));
    run().checkInvariants();
}

TEST_F(LeafTest, AServiceIsAskedForTheLeafThatIsOpen) {
    window->workspace().opening().openDemoService();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return !window->workspace().opening().isBusy() && document() != nullptr; }, 30'000));
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().recordCount() > 0 && live().contextAt(0).has_value(); }, 30'000));
    Q_EMIT find<SentenceWord>("wordTurning")->wordChosen(QStringLiteral("10 at a time, turned by hand"));
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().leaf().isOne() && live().contextAt(9).has_value(); }, 60'000));
    EXPECT_EQ(run().arrangement().recordCount(), 10);
    std::set<std::int64_t> keys;
    for (int leaf = 0; leaf < 5; ++leaf) {
        const auto isHere = [&] {
            return live().leaf().number() == leaf && run().isIdle() && live().contextAt(0).has_value() &&
                   live().contextAt(9).has_value();
        };
        ASSERT_TRUE(QTest::qWaitFor(isHere, 60'000)) << leaf << ": " << told();
        for (std::int64_t place = 0; place < 10; ++place) {
            const FillContext context = *live().contextAt(place);
            keys.insert(context.records.integer(context.record, *context.records.find("id")));
        }
        EXPECT_THAT(told(),
                    HasSubstr(std::to_string(leaf * 10 + 1) + " to " + std::to_string(leaf * 10 + 10)));
        QTest::keyClick(find<Cutaway>("cutaway"), Qt::Key_BracketRight);
    }
    EXPECT_EQ(keys.size(), 50U) << "each once";
}

TEST(LeafWords, AreReadAsTheyAreWritten) {
    const auto back = [](const char* typed) {
        const auto read = workbench::turningFromWords(QString::fromUtf8(typed));
        return read ? workbench::turningInWords(*read).toStdString() : std::string();
    };
    EXPECT_EQ(back("25"), "25 at a time, turned by hand");
    EXPECT_EQ(back("1,000 by hand"), "1,000 at a time, turned by hand");
    EXPECT_EQ(back("all"), "all in one strip");
    EXPECT_EQ(back("0"), "");
    EXPECT_EQ(back("20000"), "");
    for (const QString& choice : workbench::turningChoices()) {
        EXPECT_EQ(back(choice.toUtf8().constData()), choice.toStdString());
    }
}

} // namespace
} // namespace scorrere::testing
