// SPDX-License-Identifier: GPL-3.0-or-later
// Sections as people make them: by the words of Flow's sentence, by a tap and by keys, and their headers in Item.
#include "testing/program/flow_fixture.h"
#include "workbench/model/board_model.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QHelpEvent>
#include <QTest>
#include <QToolTip>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Cutaway;

class SectionsTest : public FlowTest {
protected:
    void open(const char* arrangement = R"({"list": {}})", const char* items = "") {
        openCollection(R"("source": {"demo": {"count": 5000, "byNight": true}}, "items": {)" +
                       std::string(items) +
                       R"("record": {"text": "{species}", "padding": 6}}, "arrangement": )" + arrangement);
    }
    std::vector<Role> roles() {
        std::vector<Role> all;
        for (const Placement& placed : run().placements()) {
            if (placed.showing) {
                all.push_back(run().arrangement().slotAt(placed.position).role);
            }
        }
        return all;
    }
    std::string undoText() { return window->workspace().undo().undoText().toStdString(); }
    std::int64_t sectionAtTop() {
        return run().arrangement().slotAt(run().arrangement().indexAt(run().offset())).section;
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(find<Cutaway>("cutaway"), key, modifiers);
        ASSERT_TRUE(settle());
        ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle(); }));
    }
};

TEST_F(SectionsTest, AreWordsOfTheSentenceAndOneUndoEach) {
    open();
    EXPECT_THAT(sentence(), HasSubstr("running down, in no sections, all in one strip"));
    choose("wordSections", "sections by night");
    EXPECT_THAT(sentence(),
                HasSubstr("in sections by night whose headers stay, with no jump list, all in one strip"));
    EXPECT_EQ(roles().front(), Role::SectionHeader);
    EXPECT_EQ(live().sections()->records(), 5000);
    EXPECT_GT(live().sections()->count(), 3);
    EXPECT_EQ(undoText(), "sections");
    choose("wordStay", "scroll away");
    EXPECT_FALSE(run().arrangement().stayingAt(Length::px(400)).all[0].position >= 0);
    choose("wordJumps", "a jump list");
    EXPECT_TRUE(live().jumpList());
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(live().sections(), nullptr);
}

TEST_F(SectionsTest, GoWithTheRecordsFromOneArrangementToTheNext) {
    open(R"({"list": {"sections": "{status}"}})");
    const auto inWindow = [this](Role role) { // whose boxes, in order
        std::vector<Box> boxes;
        for (const Placement& placement : live().run().placements()) {
            if (live().run().arrangement().slotAt(placement.position).role == role) {
                boxes.push_back(placement.box);
            }
        }
        return boxes;
    };
    choose("wordArrangement", "2 ragged columns");
    EXPECT_THAT(sentence(), HasSubstr("in sections by status whose headers stay"));
    ASSERT_GT(inWindow(Role::SectionHeader).size(), 1U);
    for (const Box& header : inWindow(Role::SectionHeader)) {
        EXPECT_EQ(header.crossExtent, live().run().cross()) << "across all lanes";
        for (const Box& item : inWindow(Role::Record)) {
            EXPECT_TRUE(item.end() <= header.start || item.start >= header.end());
            EXPECT_LT(item.crossExtent, header.crossExtent);
        }
    }
    choose("wordArrangement", "a pager");
    EXPECT_THAT(sentence(), HasSubstr("in sections by status, with"));
    EXPECT_THAT(sentence(), Not(HasSubstr("headers"))) << "one that fills the window does not stay";
    press(Qt::Key_Home);
    ASSERT_FALSE(inWindow(Role::SectionHeader).empty());
    EXPECT_EQ(inWindow(Role::SectionHeader)[0].extent, live().run().window()) << "a page of its own";
    choose("wordArrangement", "your own stairs");
    EXPECT_NE(live().sections(), nullptr);
    const auto again = CollectionDocument::parse(window->workspace().document().serialise(), "");
    EXPECT_TRUE(again) << (again ? "" : again.error().text());
}

TEST_F(SectionsTest, WhatIsPlacedHasNone) {
    open(R"({"list": {"sections": "{night}"}})");
    choose("wordArrangement", "placed by night");
    EXPECT_EQ(live().sections(), nullptr);
    EXPECT_THAT(sentence(), Not(HasSubstr("sections")));
    const auto again = CollectionDocument::parse(window->workspace().document().serialise(), "");
    EXPECT_TRUE(again) << (again ? "" : again.error().text());
}

TEST_F(SectionsTest, WordsAreUnderstoodBothWays) {
    using workbench::sectionsFromWords;
    using workbench::sectionsInWords;
    const std::vector<workbench::SectionField> fields{{QStringLiteral("site"), false},
                                                      {QStringLiteral("seen"), true}};
    for (const QString& choice : workbench::sectionChoices(fields)) {
        const auto read = sectionsFromWords(choice, std::nullopt);
        ASSERT_TRUE(read) << choice.toStdString();
        EXPECT_EQ(sectionsInWords(*read), choice);
    }
    EXPECT_EQ(sectionsInWords(*sectionsFromWords(QStringLiteral("by the first letter of site"), std::nullopt))
                  .toStdString(),
              "sections by the first letter of site");
    const auto month = sectionsFromWords(QStringLiteral("by the month of seen"), std::nullopt);
    ASSERT_TRUE(month && *month);
    EXPECT_EQ(std::get<SectionBy::Text>((*month)->by.is).pattern, "{seen, date, ::yMMMM}");
    EXPECT_EQ((*month)->jumpName, "{seen, date, ::yMMM}") << "a jump list has less room";
    EXPECT_FALSE(sectionsFromWords(QStringLiteral("somehow"), std::nullopt));
    SectionsSpec rules;
    rules.by.is = SectionBy::Rules{{{"a", "@.x"}, {"b", ""}}};
    EXPECT_EQ(sectionsFromWords(sectionsInWords(rules), rules), std::optional(std::optional(rules)));
}

TEST_F(SectionsTest, KeysGoFromOneToTheNextAndFold) {
    open(R"({"list": {"sections": "{night}"}})");
    EXPECT_EQ(sectionAtTop(), 0);
    press(Qt::Key_Down, Qt::ControlModifier);
    EXPECT_EQ(sectionAtTop(), 1);
    press(Qt::Key_Down, Qt::ControlModifier);
    EXPECT_EQ(sectionAtTop(), 2);
    run().wheel(Length::px(120));
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    press(Qt::Key_Up, Qt::ControlModifier);
    EXPECT_EQ(sectionAtTop(), 2) << "its own start comes first";
    EXPECT_EQ(run().arrangement().slotAt(run().arrangement().indexAt(run().offset())).role,
              Role::SectionHeader);
    const std::int64_t before = run().arrangement().size();
    press(Qt::Key_O);
    EXPECT_TRUE(live().sections()->at(2).isFolded);
    EXPECT_EQ(run().arrangement().size(), before - live().sections()->at(2).records);
    press(Qt::Key_O, Qt::ShiftModifier);
    EXPECT_EQ(run().arrangement().size(), live().sections()->count());
    press(Qt::Key_O, Qt::ShiftModifier);
    EXPECT_EQ(run().arrangement().size(), before);
}

TEST_F(SectionsTest, ATapOnAHeaderFoldsIt) {
    open(R"({"list": {"sections": "{night}"}})",
         R"("sectionHeader": {"text": "{section}", "padding": 10, "tap": "fold"},)");
    auto* cutaway = find<Cutaway>("cutaway");
    const QPointF at = cutaway->windowRect().topLeft() + QPointF(60, 12) * cutaway->scale();
    QTest::mouseClick(cutaway, Qt::LeftButton, Qt::NoModifier, at.toPoint());
    ASSERT_TRUE(settle());
    EXPECT_TRUE(live().sections()->at(0).isFolded);
    QTest::mouseClick(cutaway, Qt::LeftButton, Qt::NoModifier, at.toPoint());
    ASSERT_TRUE(settle());
    EXPECT_FALSE(live().sections()->at(0).isFolded);
}

TEST_F(SectionsTest, WhatIsPointedAtIsTheHeaderThatStays) {
    open(R"({"list": {"sections": "{night}"}})");
    auto* cutaway = find<Cutaway>("cutaway");
    wheel(*cutaway, {0, -700});
    const auto pointedAt = [&](double down) {
        const QPoint at = (cutaway->windowRect().topLeft() + QPointF(60, down) * cutaway->scale()).toPoint();
        QHelpEvent rest(QEvent::ToolTip, at, cutaway->mapToGlobal(at));
        QCoreApplication::sendEvent(cutaway, &rest);
        return QToolTip::text().toStdString();
    };
    EXPECT_THAT(pointedAt(12), HasSubstr("the header of 3/10/21"));
    EXPECT_THAT(pointedAt(200), HasSubstr("item "));
}

TEST_F(SectionsTest, ItemDesignsTheirHeadersOnRealSections) {
    open(R"({"list": {"sections": "{night, date, ::yMMMd}"}})");
    window->goTo(QStringLiteral("item"));
    ASSERT_TRUE(settle());
    auto* word = find<workbench::SentenceWord>("wordWhich");
    const auto& specimens = window->findChild<workbench::ItemStation*>()->model().specimens();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !specimens.empty() && !word->choices().isEmpty(); }, 20'000));
    EXPECT_THAT(word->choices(), ::testing::Contains(QStringLiteral("new section header")));
    Q_EMIT word->wordChosen(QStringLiteral("new section header"));
    ASSERT_TRUE(settle());
    EXPECT_EQ(word->word().toStdString(), "section header");
    EXPECT_EQ(find<workbench::SentenceWord>("wordHardest")->word().toStdString(), "some of the sections");
    EXPECT_THAT(window->workspace().document().designText(), HasSubstr("sectionHeader"));
    ASSERT_FALSE(specimens.empty());
    EXPECT_THAT(specimens.front().view->title().toStdString(), HasSubstr("Mar 10, 2021"))
        << "a night there is";
    Q_EMIT word->wordChosen(QStringLiteral("new section footer"));
    ASSERT_TRUE(settle());
    EXPECT_TRUE(window->workspace().document().sectionFooter);
}

TEST_F(SectionsTest, WhatDoesNotFitIsSaidAndWhatRanRunsOn) {
    open();
    Q_EMIT find<workbench::SentenceWord>("wordSections")->wordChosen(QStringLiteral("sections by nowhere"));
    ASSERT_TRUE(settle());
    EXPECT_EQ(live().sections(), nullptr);
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("nowhere"));
}

TEST_F(SectionsTest, TheirNumberTakesNoRoomFromAnythingInANarrowWindow) {
    window->resize(900, 600);
    open(R"({"list": {"sections": "{status}"}})"); // thousands of them
    ASSERT_GT(live().sections()->count(), 1000);
    QCoreApplication::processEvents(); // its layout hears of the longer name
    EXPECT_LE(flow().minimumSizeHint().width(), 900) << "else all of Flow is scrolled, and laid out for good";
}

} // namespace
} // namespace scorrere::testing
