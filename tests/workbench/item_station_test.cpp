// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/program/window_fixture.h"

#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollBar>
#include <QSlider>

namespace scorrere::workbench {
namespace {

using ::testing::HasSubstr;
using Json = nlohmann::ordered_json;

class ItemStationTest : public testing::WindowTest {
protected:
    ExtremesBoard& board() { return item().board(); }
    BoardModel& model() { return item().model(); }
    bool settleItem() {
        return QTest::qWaitFor([&] { return item().isSettled(); }, 30'000);
    }
    void openItem(qint64 count = 500) {
        openDemo(count);
        QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
        ASSERT_EQ(window->station().id(), QStringLiteral("item"));
        ASSERT_TRUE(settleItem());
        ASSERT_FALSE(model().specimens().empty());
    }
    void clickPart(const std::string& pointer, std::size_t specimen = 0, Qt::KeyboardModifiers with = {}) {
        const QRectF at = board().partOnViewport(specimen, pointer);
        ASSERT_FALSE(at.isNull()) << pointer;
        QTest::mouseClick(board().viewport(), Qt::LeftButton, with, at.center().toPoint());
    }
    Json memberOf(const std::string& pointer, const char* name) {
        return DesignDraft(document()->designText()).member(pointer, name);
    }
    void type(QLineEdit* line, const QString& text) {
        EXPECT_TRUE(QTest::qWaitFor([line] { return line->isVisible(); })); // a card is laid out a turn later
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
    }
    void key(Qt::Key pressed, Qt::KeyboardModifiers with = {}) { QTest::keyClick(&board(), pressed, with); }
    /// Presses on a handle, moves and lets go.
    void drag(QPointF from, QPointF to) { testing::dragOn(board().viewport(), from, to); }

    const std::string kRow = "/items/record/column/0/row/1/column/0";
    const std::string kSpecies = kRow + "/row/0";
    const std::string kBadge = kRow + "/row/1";
    const std::string kNote = "/items/record/column/0/row/1/column/2";
};

TEST_F(ItemStationTest, ShowsTheHardestRecordsFromShortestToTallest) {
    openItem();
    EXPECT_GE(model().specimens().size(), 6u);
    for (std::size_t i = 1; i < model().specimens().size(); ++i) {
        EXPECT_LE(model().specimens()[i - 1].view->height(), model().specimens()[i].view->height());
    }
    EXPECT_THAT(sentenceOf(item()).sentence().toStdString(),
                HasSubstr("A sighting looks like this in en, shown 392 wide, text at 100%"));
    EXPECT_THAT(sentenceOf(item()).sentence().toStdString(), HasSubstr("hardest of 500 records"));
    std::vector<Extreme> why;
    for (const Specimen& specimen : model().specimens()) {
        why.insert(why.end(), specimen.why.begin(), specimen.why.end());
    }
    EXPECT_THAT(why,
                ::testing::IsSupersetOf({Extreme::Shortest, Extreme::Tallest, Extreme::Median,
                                         Extreme::RightToLeft, Extreme::NoPicture, Extreme::PictureMissing}));
}

TEST_F(ItemStationTest, APartClickedOnOneSpecimenIsChosenOnAllAndItsCardOpens) {
    openItem();
    clickPart(kBadge, 1);
    EXPECT_EQ(board().selected(), kBadge);
    EXPECT_EQ(find<QLabel>("cardTitle")->text(), QStringLiteral("Badge"));
    EXPECT_EQ(find<QLabel>("cardShown")->text(),
              QStringLiteral("on %1 of %1").arg(model().specimens().size()));
    EXPECT_EQ(find<QLineEdit>("bindingLine")->text(), QStringLiteral("{status}"));
    clickPart(kBadge, 1, Qt::AltModifier);
    EXPECT_EQ(board().selected(), kRow) << "Alt chooses the box around";
    key(Qt::Key_Escape);
    EXPECT_EQ(board().selected(), "");
    EXPECT_TRUE(find<QWidget>("startingGallery")->isVisible());
}

TEST_F(ItemStationTest, TypingABindingShowsOnEverySpecimenAndIsOneStepToUndo) {
    openItem();
    clickPart(kSpecies);
    type(find<QLineEdit>("bindingLine"), QStringLiteral("{site}: {species}"));
    for (const std::string& outcome : model().outcomes(kSpecies, 50)) {
        EXPECT_THAT(outcome, HasSubstr(": "));
    }
    EXPECT_EQ(memberOf(kSpecies, "text"), Json("{site}: {species}"));
    EXPECT_EQ(window->workspace().undo().count(), 1);
    EXPECT_EQ(window->workspace().undo().undoText(), QStringLiteral("what text says"));
    window->workspace().undo().undo();
    EXPECT_EQ(memberOf(kSpecies, "text"), Json("{species}"));
    for (const std::string& outcome : model().outcomes(kSpecies, 50)) {
        EXPECT_EQ(outcome.find(": "), std::string::npos);
    }
}

TEST_F(ItemStationTest, WhatIsNoDesignYetStandsInPlaceAndTheLastGoodOneStays) {
    openItem();
    clickPart(kSpecies);
    const std::vector<std::string> before = model().outcomes(kSpecies, 3);
    auto* line = find<QLineEdit>("bindingLine");
    type(line, QStringLiteral("{spec"));
    auto* problem = find<QLabel>("cardProblem");
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_TRUE(problem->isVisible());
    EXPECT_THAT(problem->text().toStdString(), HasSubstr("cannot be read"));
    EXPECT_EQ(line->text(), QStringLiteral("{spec")) << "what is typed stays";
    type(line, QStringLiteral("{nothing}"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return problem->text().contains(QStringLiteral("nothing")); }))
        << "told when nothing more is typed for a while";
    EXPECT_THAT(problem->text().toStdString(), HasSubstr("no field \"nothing\""));
    type(line, QStringLiteral("{species}!"));
    EXPECT_FALSE(problem->isVisible());
    EXPECT_EQ(model().outcomes(kSpecies, 1)[0], before[0] + "!");
}

TEST_F(ItemStationTest, KeysWalkMoveAddAndTakeOutParts) {
    openItem();
    board().setFocus();
    key(Qt::Key_Right);
    EXPECT_EQ(board().selected(), "/items/record");
    clickPart(kSpecies);
    key(Qt::Key_Right);
    EXPECT_EQ(board().selected(), kBadge);
    key(Qt::Key_Up);
    EXPECT_EQ(board().selected(), kRow);
    key(Qt::Key_Down);
    EXPECT_EQ(board().selected(), kSpecies);
    key(Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(board().selected(), kRow + "/row/1");
    EXPECT_EQ(memberOf(kRow + "/row/1", "text"), Json("{species}"));
    key(Qt::Key_Delete);
    EXPECT_EQ(DesignDraft(document()->designText()).part(kRow + "/row/1"), nullptr);
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    EXPECT_EQ(memberOf(kSpecies, "text"), Json("{species}"));
    key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_GE(window->workspace().undo().index(), 1);
}

TEST_F(ItemStationTest, DraggingMovesAPartIntoTheBoxUnderIt) {
    openItem();
    clickPart(kBadge);
    const QRectF from = board().partOnViewport(0, kBadge);
    const QRectF row = board().partOnViewport(0, "/items/record/column/0/row/1/column/1");
    drag(from.center(), QPointF(row.right() - 2, row.center().y()));
    const Json moved = memberOf("/items/record/column/0/row/1/column/1", "row");
    ASSERT_TRUE(moved.is_array()) << document()->designText();
    EXPECT_TRUE(std::ranges::any_of(moved, [](const Json& part) { return part.contains("badge"); }));
    window->workspace().undo().undo();
    EXPECT_EQ(memberOf(kBadge, "badge"), Json("{status}"));
}

TEST_F(ItemStationTest, HandlesSetSizesAndGaps) {
    openItem();
    const std::string picture = "/items/record/column/0/row/0";
    clickPart(picture);
    const QRectF at = board().partOnViewport(0, picture);
    drag(at.bottomRight(), at.bottomRight() + QPointF(16, 24));
    EXPECT_EQ(memberOf(picture, "width"), Json(64.0));
    EXPECT_EQ(memberOf(picture, "height"), Json(72.0));
    board().select("/items/record/column/0");
    const QRectF a = board().partOnViewport(0, picture);
    const QRectF b = board().partOnViewport(0, "/items/record/column/0/row/1");
    const QRectF row = board().partOnViewport(0, "/items/record/column/0");
    const QPointF gap((a.right() + b.left()) / 2, row.bottom() + 7); // beside the row, level with its gap
    drag(gap, gap + QPointF(10, 0));
    EXPECT_EQ(memberOf("/items/record/column/0", "gap"), Json(22.0));
}

TEST_F(ItemStationTest, ThePlusBetweenPartsAddsOne) {
    openItem();
    clickPart(kNote, model().specimens().size() - 1);
    const std::size_t last = model().specimens().size() - 1;
    board().verticalScrollBar()->setValue(board().verticalScrollBar()->maximum());
    const QRectF at = board().partOnViewport(last, kNote);
    QTimer::singleShot(0, [&] {
        auto* menu = window->findChild<QMenu*>(QStringLiteral("addMenu"));
        ASSERT_NE(menu, nullptr);
        for (QAction* action : menu->actions()) {
            if (action->text() == QStringLiteral("&Line")) {
                action->trigger();
            }
        }
        menu->close();
    });
    QTest::mouseClick(board().viewport(), Qt::LeftButton, {},
                      QPointF(at.center().x(), at.bottom() + 9).toPoint());
    EXPECT_EQ(memberOf("/items/record/column/0/row/1/column/3", "line"), Json(1));
    EXPECT_EQ(board().selected(), "/items/record/column/0/row/1/column/3");
}

TEST_F(ItemStationTest, TheCardsWordsAndRulesChangeTheDesign) {
    openItem();
    clickPart(kBadge);
    auto* size = find<SentenceWord>("wordSize");
    size->setFocus();
    QTest::keyClick(size, Qt::Key_Down);
    EXPECT_EQ(memberOf(kBadge, "size"), Json(12.0));
    type(find<QLineEdit>("rule1"), QStringLiteral("@.count > 3"));
    EXPECT_EQ(memberOf(kBadge, "tone")[1]["when"], Json("@.count > 3"));
    type(find<QLineEdit>("rule1"), QStringLiteral("@.count >"));
    EXPECT_FALSE(find<QLabel>("cardProblem")->isVisible()) << "it is still being typed";
    QTest::keyClick(find<QLineEdit>("rule1"), Qt::Key_Return);
    EXPECT_THAT(find<QLabel>("cardProblem")->text().toStdString(), HasSubstr("cannot be read"));
    EXPECT_EQ(memberOf(kBadge, "tone")[1]["when"], Json("@.count")) << "the last that was a rule";
    type(find<QLineEdit>("hideLine"), QStringLiteral("@.rarity < 3"));
    EXPECT_LT(model().shownOn(kBadge), static_cast<int>(model().specimens().size()));
    EXPECT_THAT(find<QLabel>("cardFacts")->text().toStdString(), HasSubstr("Contrast"));
}

TEST_F(ItemStationTest, ARuleForAFieldThatNoRecordHasSaysSo) {
    openItem();
    clickPart(kBadge);
    const auto hint = [&] { return find<QLabel>("itemHint")->text().toStdString(); };
    type(find<QLineEdit>("hideLine"), QStringLiteral("@.rarety < 3"));
    EXPECT_THAT(hint(), HasSubstr("A rule asks for rarety, which no record has."));
    type(find<QLineEdit>("hideLine"), QStringLiteral("@.rarity < 3"));
    EXPECT_THAT(hint(), ::testing::Not(HasSubstr("no record has")));
}

TEST_F(ItemStationTest, AFieldOfTheTrayIsAddedWithAClick) {
    openItem();
    auto* rarity = find<QPushButton>("field_rarity");
    QTest::mouseClick(rarity, Qt::LeftButton);
    EXPECT_THAT(document()->designText(), HasSubstr("{rarity}"));
    EXPECT_EQ(window->findChild<QPushButton*>(QStringLiteral("field_rarity")), nullptr) << "it is shown now";
}

TEST_F(ItemStationTest, AStartingPointReplacesTheDesignAndUndoBringsItBack) {
    openItem();
    const std::string before = document()->designText();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return window->findChild<QWidget*>(QStringLiteral("start_reading")) != nullptr; }));
    auto* reading = find<QAbstractButton>("start_reading");
    QTest::mouseClick(reading, Qt::LeftButton);
    EXPECT_THAT(document()->designText(), HasSubstr("{temperature_c, number}"));
    ASSERT_TRUE(settleItem());
    window->workspace().undo().undo();
    EXPECT_EQ(document()->designText(), before);
}

TEST_F(ItemStationTest, TheTextPaneEditsTheSameDesignBothWays) {
    openItem();
    QTest::keyClick(window.get(), Qt::Key_T, Qt::ControlModifier);
    auto* text = find<QPlainTextEdit>("designText");
    EXPECT_TRUE(text->isVisible());
    EXPECT_EQ(text->toPlainText().toStdString(), document()->designText());
    QString changed = text->toPlainText();
    changed.replace(QStringLiteral("\"{species}\", \"size\": 15"),
                    QStringLiteral("\"{species}?\", \"size\": 15"));
    text->setPlainText(changed);
    ASSERT_TRUE(QTest::qWaitFor([&] { return memberOf(kSpecies, "text") == Json("{species}?"); }));
    const std::string good = document()->designText();
    text->setPlainText(changed.replace(QStringLiteral("{species}?"), QStringLiteral("{species")));
    auto* problem = find<QLabel>("designProblem");
    ASSERT_TRUE(QTest::qWaitFor([&] { return problem->isVisible(); }));
    EXPECT_THAT(problem->text().toStdString(), ::testing::ContainsRegex("[0-9]+:[0-9]+"));
    EXPECT_EQ(document()->designText(), good) << "the last good one stays";
    window->workspace().undo().undo();
    EXPECT_THAT(text->toPlainText().toStdString(), ::testing::Not(HasSubstr("{species}?")));
}

TEST_F(ItemStationTest, TheSentenceChoosesWidthsScalesDensitiesAndPins) {
    openItem();
    const std::size_t before = model().specimens().size();
    const auto choose = [&](const char* name, const QString& words) {
        auto* word = find<SentenceWord>(name);
        word->setWord(words);
        Q_EMIT word->wordChosen(words);
    };
    choose("wordWidths", QStringLiteral("392 and 300"));
    ASSERT_TRUE(settleItem());
    choose("wordScales", QStringLiteral("100% and 150%"));
    ASSERT_TRUE(settleItem());
    EXPECT_EQ(model().settings().size(), 4u);
    EXPECT_EQ(model().specimens().size(), before * 4);
    choose("wordPinned", QStringLiteral("no. 77 pinned"));
    ASSERT_TRUE(settleItem());
    EXPECT_EQ(std::ranges::count(model().specimens(), 76, &Specimen::record), 4);
    EXPECT_EQ(document()->board.pinned, std::vector<std::int64_t>{76});
    const std::string path = folder.filePath(QStringLiteral("kept.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    EXPECT_EQ(CollectionDocument::load(path)->board, document()->board);
    for (int i = 0; i < 3; ++i) {
        window->workspace().undo().undo();
    }
    EXPECT_EQ(model().settings().size(), 1u);
}

TEST_F(ItemStationTest, ANewKindHasADesignOfItsOwn) {
    openItem();
    auto* which = find<SentenceWord>("wordWhich");
    which->setWord(QStringLiteral("new kind"));
    Q_EMIT which->wordChosen(QStringLiteral("new kind"));
    ASSERT_TRUE(settleItem());
    ASSERT_EQ(document()->kinds.size(), 1u);
    EXPECT_EQ(item().which(), 0);
    EXPECT_THAT(sentenceOf(item()).sentence().toStdString(), HasSubstr("when @.status =="));
    const auto status = model().records()->find("status");
    for (const Specimen& specimen : model().specimens()) {
        EXPECT_THAT(document()->kinds[0].when,
                    HasSubstr(std::string(model().records()->text(specimen.record, *status))));
    }
}

TEST_F(ItemStationTest, SpecimensKeepTheirPlaceWhileOneEditsAndAreSortedOnDemand) {
    openItem();
    const auto order = [&] {
        std::vector<std::int64_t> records;
        for (const Specimen& specimen : model().specimens()) {
            records.push_back(specimen.record);
        }
        return records;
    };
    const std::vector<std::int64_t> before = order();
    CollectionDocument pinned = *document();
    pinned.board.pinned = {before.back()};
    window->workspace().change(QStringLiteral("pin"), pinned);
    ASSERT_TRUE(settleItem());
    board().select(kNote);
    // The note makes most of the tallest one's height.
    const QString rule = QStringLiteral("@.id == %1").arg(before.back() + 1);
    type(find<QLineEdit>("hideLine"), rule);
    EXPECT_EQ(memberOf(kNote, "hide"), rule.toStdString());
    ASSERT_TRUE(settleItem());
    ASSERT_FALSE(model().isSorted());
    std::vector<std::int64_t> kept = order();
    std::vector<std::int64_t> common;
    for (const std::int64_t record : before) {
        if (std::ranges::find(kept, record) != kept.end()) {
            common.push_back(record);
        }
    }
    std::erase_if(kept,
                  [&](std::int64_t record) { return std::ranges::find(before, record) == before.end(); });
    EXPECT_EQ(kept, common);
    const std::vector<std::int64_t> unsorted = order();
    QTest::mouseClick(find("sortButton"), Qt::LeftButton);
    EXPECT_TRUE(model().isSorted());
    EXPECT_NE(order(), unsorted);
}

TEST_F(ItemStationTest, HowManyOfTheHardestIsPartOfTheDocument) {
    openItem();
    const std::size_t all = model().specimens().size();
    auto* word = find<SentenceWord>("wordHardest");
    QTest::keyClick(word, Qt::Key_Up);
    QTest::keyClick(word, Qt::Key_Up);
    ASSERT_TRUE(settleItem());
    const std::size_t fewer = model().specimens().size();
    EXPECT_LT(fewer, all);
    EXPECT_EQ(document()->board.hardest, static_cast<int>(fewer));
    EXPECT_THAT(document()->serialise(), HasSubstr("\"hardest\": " + std::to_string(fewer)));
    while (window->workspace().undo().canUndo()) {
        window->workspace().undo().undo();
    }
    ASSERT_TRUE(settleItem());
    EXPECT_EQ(model().specimens().size(), all);
}

TEST_F(ItemStationTest, TheLanguageOfTheDocumentIsAWordOfTheSentence) {
    openItem();
    auto* word = find<SentenceWord>("wordLocale");
    EXPECT_EQ(word->word(), QStringLiteral("en"));
    QTest::keyClick(word, Qt::Key_Down);
    QTest::keyClick(word, Qt::Key_Down);
    ASSERT_TRUE(settleItem());
    EXPECT_EQ(document()->locale, "de");
    bool anyGerman = false;
    for (const Specimen& specimen : model().specimens()) {
        for (const std::string& value : specimen.view->content().values) {
            anyGerman = anyGerman || (value.size() == 10 && value[2] == '.' && value[5] == '.');
        }
    }
    EXPECT_TRUE(anyGerman) << "22.03.2025";
}

TEST_F(ItemStationTest, AParameterIsMadeWhereARuleFirstNamesItThenBoundedAndRenamed) {
    openItem();
    clickPart(kSpecies);
    QTest::keyClick(&board(), Qt::Key_Return);
    auto* rule = find<QLineEdit>("hideLine");
    type(rule, QStringLiteral("@.count > $.parameters.crowd"));
    EXPECT_TRUE(rule->hasFocus()) << "no edit takes the focus away";
    const std::string before = document()->designText();
    EXPECT_FALSE(find<QLabel>("cardProblem")->isVisible()) << "a word that is being typed is no mistake yet";
    QTest::keyClick(rule, Qt::Key_Return);
    ASSERT_TRUE(find<QLabel>("cardProblem")->isVisible());
    EXPECT_THAT(find<QLabel>("cardProblem")->text().toStdString(), HasSubstr("Not in force"));
    EXPECT_EQ(document()->designText(), before);
    auto* make = find<QPushButton>("makeParameter");
    ASSERT_TRUE(make->isVisible());
    EXPECT_THAT(make->text().toStdString(), HasSubstr("crowd"));
    QTest::mouseClick(make, Qt::LeftButton);
    ASSERT_EQ(document()->parameters.size(), 2U);
    EXPECT_EQ(document()->parameters.back().name, "crowd");
    EXPECT_GT(document()->parameters.back().to, 100) << "what the field holds";
    EXPECT_EQ(memberOf(kSpecies, "hide"), "@.count > $.parameters.crowd");
    window->workspace().undo().undo();
    EXPECT_EQ(document()->designText(), before) << "one step";
    window->workspace().undo().redo();
    ASSERT_TRUE(QTest::qWaitFor([&] {
        auto* edit = window->findChild<QWidget*>(QStringLiteral("editParameter_crowd"));
        return edit != nullptr && edit->isVisible();
    }));
    QTest::mouseClick(find("editParameter_crowd"), Qt::LeftButton);
    auto* card = window->findChild<QWidget*>(QStringLiteral("parameterCard"));
    ASSERT_NE(card, nullptr) << "a click opens it";
    type(card->findChild<QLineEdit*>(QStringLiteral("parameterName")), QStringLiteral("swarm"));
    type(card->findChild<QLineEdit*>(QStringLiteral("parameterTo")), QStringLiteral("20"));
    QTest::keyClick(card->findChild<QLineEdit*>(QStringLiteral("parameterTo")), Qt::Key_Return);
    EXPECT_EQ(document()->parameters.back().name, "swarm");
    EXPECT_EQ(document()->parameters.back().to, 20);
    EXPECT_LE(document()->parameters.back().number, 20);
    EXPECT_EQ(memberOf(kSpecies, "hide"), "@.count > $.parameters.swarm");
}

TEST_F(ItemStationTest, ADateIsWrittenAsChosenFromWhatComesOfIt) {
    openItem();
    const std::string kSeen = kRow.substr(0, kRow.size() - 1) + "1/row/1";
    clickPart(kSeen);
    auto* button = find<QPushButton>("formatButton");
    QTest::mouseClick(button, Qt::LeftButton);
    auto* menu = find<QMenu>("formatMenu");
    QAction* chosen = nullptr;
    for (QAction* action : menu->actions()) {
        chosen = action->text().contains(QStringLiteral("month and year")) ? action : chosen;
    }
    ASSERT_NE(chosen, nullptr);
    EXPECT_THAT(chosen->text().toStdString(), ::testing::ContainsRegex("[A-Z][a-z]+ 20[0-9][0-9]"));
    chosen->trigger();
    menu->close();
    EXPECT_THAT(memberOf(kSeen, "text").get<std::string>(), HasSubstr("{seen, date, ::yMMMM}"));
}

TEST_F(ItemStationTest, AHeaderIsNotOfferedTheRecordsFields) {
    openItem();
    EXPECT_TRUE(item().findChild<QWidget*>(QStringLiteral("fieldsTray"))->isVisible());
    item().setWhich(kHeaderDesign);
    ASSERT_TRUE(settleItem());
    EXPECT_FALSE(item().findChild<QWidget*>(QStringLiteral("fieldsTray"))->isVisible());
}

TEST_F(ItemStationTest, AParameterMovedInFlowRetonesWithoutRebuilding) {
    openItem();
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(settle());
    const auto built = run().recycler().views().size();
    auto* slider = flow().findChild<QSlider*>(QStringLiteral("parameter_odd"));
    ASSERT_NE(slider, nullptr);
    slider->setFocus();
    const auto bads = [&] {
        std::ptrdiff_t count = 0;
        for (const Placement& placement : run().placements()) {
            count += std::ranges::count(live().view(placement.view).content().tones, Tone::Bad);
        }
        return count;
    };
    const auto before = bads();
    for (int i = 0; i < 30; ++i) {
        QTest::keyClick(slider, Qt::Key_Left);
    }
    EXPECT_GT(bads(), before);
    EXPECT_EQ(run().recycler().views().size(), built);
    EXPECT_EQ(window->workspace().undo().count(), 1) << "thirty steps of a slider are one change";
    EXPECT_DOUBLE_EQ(document()->parameters[0].number, 30);
    window->workspace().undo().undo();
    EXPECT_EQ(bads(), before);
}

TEST_F(ItemStationTest, ATapInFlowNamesItsActionAndTheRecordItMeantThen) {
    openItem();
    board().select("/items/record/column/0/row/0");
    auto* tap = find<SentenceWord>("wordTap");
    tap->setWord(QStringLiteral("open"));
    Q_EMIT tap->wordChosen(QStringLiteral("open"));
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(settle());
    auto& cutaway = flow().cutaway();
    const Placement& second = run().placements()[2]; // behind the header and the first record
    const QPointF picture(16 + 24, second.box.start.toPx() + 12 + 24);
    QTest::mouseClick(&cutaway, Qt::LeftButton, {},
                      (cutaway.windowRect().topLeft() + picture * cutaway.scale()).toPoint());
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("Tapped: open, on"));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("record 2"));
    window->notice().dismiss();
    QTest::mouseClick(
        &cutaway, Qt::LeftButton, {},
        (cutaway.windowRect().topLeft() + QPointF(200, second.box.start.toPx() + 20) * cutaway.scale())
            .toPoint());
    EXPECT_TRUE(window->notice().isHidden()) << "only the picture takes taps";
}

TEST_F(ItemStationTest, FlowGoesOnWhereItWasWithTheChangedDesign) {
    openItem();
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(settle());
    run().jumpTo(200);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_TRUE(settleItem());
    board().select(kSpecies);
    type(find<QLineEdit>("bindingLine"), QStringLiteral("changed"));
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().hold().position, 200);
    EXPECT_THAT(live().view(run().placements().front().view).content().values,
                ::testing::Contains("changed"));
}

TEST_F(ItemStationTest, WithoutRecordsItSaysWhatToDo) {
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    EXPECT_TRUE(model().isEmpty());
    openFile(write("empty.json", "[]"));
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    EXPECT_FALSE(window->grab().isNull());
}

} // namespace
} // namespace scorrere::workbench
