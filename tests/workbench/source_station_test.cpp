// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/source_station.h"

#include "testing/program/window_fixture.h"
#include "workbench/ui/look/record_card.h"
#include "workbench/ui/source/answer_tree.h"
#include "workbench/ui/source/fields_view.h"
#include "workbench/ui/source/findings_list.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTableWidget>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::AnswerTree;
using workbench::FieldsView;
using workbench::MainWindow;

class SourceStationTest : public WindowTest {
protected:
    /// Everything that was asked for is there and was looked at.
    bool ready() {
        return QTest::qWaitFor(
            [this] {
                const auto& rows = fields().rows();
                return !window->workspace().opening().isBusy() && !rows.empty() &&
                       std::ranges::any_of(rows, [](const auto& row) { return row.profile != nullptr; });
            },
            20'000);
    }
    FieldsView& fields() { return *find<FieldsView>("fieldsView"); }
    AnswerTree& tree() { return *find<AnswerTree>("answerTree"); }
    QString said() {
        QCoreApplication::processEvents();
        return sentenceOf(source()).sentence();
    }
    int rowOf(const char* name) {
        const auto& rows = fields().rows();
        const auto found = std::ranges::find(rows, std::string(name), &FieldsView::Row::name);
        return found == rows.end() ? -1 : static_cast<int>(found - rows.begin());
    }
    /// The tree's node that shows this text.
    int nodeSaying(const QString& text) {
        for (int node = 0; node < 500; ++node) {
            if (tree().isShown(node) && tree().rowText(node) == text) {
                return node;
            }
        }
        ADD_FAILURE() << "no row says " << text.toStdString();
        return -1;
    }
    void press(QWidget* on, Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
        on->setFocus();
        QTest::keyClick(on, key, with);
    }
    void openService() {
        press(window.get(), Qt::Key_4, Qt::ControlModifier);
        ASSERT_TRUE(ready());
    }
    void type(const char* name, const QString& text) {
        auto* line = find<QLineEdit>(name);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    }
    void openRecords(const char* name, const std::string& text) {
        openFile(write(name, text));
        ASSERT_TRUE(ready());
    }
    QString problem() { return find<QLabel>("answerProblem")->text(); }
};

TEST_F(SourceStationTest, WithNothingOpenAListCanBeTypedAndRuns) {
    EXPECT_EQ(window->station().id(), QStringLiteral("source"));
    EXPECT_EQ(said(), QStringLiteral("Read records from nowhere yet."));
    auto* list = find<QPlainTextEdit>("listEdit");
    EXPECT_TRUE(list->hasFocus());
    QTest::keyClicks(list, QStringLiteral("Pale lantern"));
    QTest::keyClick(list, Qt::Key_Return);
    QTest::keyClicks(list, QStringLiteral("Marsh harlequin"));
    QTest::keyClick(list, Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(ready());
    EXPECT_EQ(live().records().size(), 2);
    EXPECT_THAT(said().toStdString(), HasSubstr("a list typed here"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return source().strip().collection() != nullptr; }));
    EXPECT_EQ(source().strip().collection()->records().size(), 2);
    EXPECT_EQ(window->station().id(), QStringLiteral("source"));
}

TEST_F(SourceStationTest, AFileIsReadTypedKeyedAndItsFaultsAreListed) {
    openRecords("r.csv", "id;n;note\n1;3;a\n2;x;b\n2;5\n");
    EXPECT_EQ(
        said(),
        QStringLiteral(
            "Read records from r.csv, written as CSV in UTF-8, cells separated by semicolons, the first row "
            "being their names, each known by n."));
    const auto& n = fields().rows()[static_cast<std::size_t>(rowOf("n"))];
    EXPECT_EQ(n.type, FieldType::Text);
    EXPECT_THAT(n.why, HasSubstr("whole number until record 2"));
    EXPECT_TRUE(n.isKey);
    std::string all;
    for (const auto& finding : find<workbench::FindingsList>("findings")->findings()) {
        all += finding.text + "\n";
    }
    EXPECT_THAT(all, HasSubstr("2 cells"));
    EXPECT_THAT(all, HasSubstr("a record with the same id as an earlier one"));
    EXPECT_TRUE(find("findingsButton")->isVisible());
    (void)window->grab();
}

TEST_F(SourceStationTest, TheDemoServiceIsAskedAndItsAnswerShown) {
    openService();
    EXPECT_EQ(said(), QStringLiteral("Read sightings from demo:/sightings{?page,size,sort,status,fault} as "
                                     "pages by number, 20 at a time, "
                                     "written as JSON in UTF-8, items at $.data.sightings[*], each known by "
                                     "id, signed with token HOLLOWMERE."));
    EXPECT_THAT(find<QLabel>("answerStatus")->text().toStdString(), HasSubstr("200 OK"));
    EXPECT_THAT(find<QLabel>("callShown")->text().toStdString(), HasSubstr("GET http://127.0.0.1:"));
    EXPECT_THAT(find<QLabel>("callShown")->text().toStdString(), HasSubstr("/sightings?page=1&size=20"));
    EXPECT_THAT(find<QLabel>("callHeaders")->text().toStdString(), HasSubstr("Bearer •••• (HOLLOWMERE)"));
    EXPECT_EQ(fields().rows().size(), 12U);
    EXPECT_TRUE(fields().rows()[0].isKey);
    ASSERT_TRUE(QTest::qWaitFor([&] { return find<QTableWidget>("receivedTable")->rowCount() == 1; }));
    EXPECT_EQ(live().records().size(), 20);
    (void)window->grab();
}

TEST_F(SourceStationTest, AnotherVariableAsksAgainAndUndoTakesItBack) {
    openService();
    type("variable_page", QStringLiteral("3"));
    ASSERT_TRUE(QTest::qWaitFor([&] {
        return !window->workspace().opening().isBusy() &&
               live().records().integer(0, *live().records().find("id")) == 41;
    }));
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    if (window->workspace().undo().canUndo()) { // the line had the keys and took its own typing back
        window->workspace().undo().undo();
    }
    ASSERT_TRUE(QTest::qWaitFor([&] {
        return !window->workspace().opening().isBusy() &&
               live().records().integer(0, *live().records().find("id")) == 1;
    }));
}

TEST_F(SourceStationTest, HeadersAreAddedAndSecretsAreNot) {
    openService();
    type("headerLine", QStringLiteral("X-Trap: north"));
    EXPECT_EQ(document()->source.headers.size(), 1U);
    ASSERT_TRUE(ready());
    EXPECT_THAT(find<QLabel>("callHeaders")->text().toStdString(), HasSubstr("X-Trap: north"));
    type("headerLine", QStringLiteral("Authorization: Bearer abc"));
    EXPECT_EQ(document()->source.headers.size(), 1U);
    EXPECT_THAT(find<QLabel>("callProblem")->text().toStdString(), HasSubstr("secret"));
    find<QLineEdit>("headerLine")->clear();
    type("headerLine", QStringLiteral("X-Trap:"));
    EXPECT_TRUE(document()->source.headers.empty());
    ASSERT_TRUE(ready());
}

TEST_F(SourceStationTest, EveryTwinCanBeSeen) {
    openRecords("r.json", R"([{"id":1,"n":"a"},{"id":1,"n":"b"},{"id":2,"n":"c"},{"id":2,"n":"d"}])");
    ASSERT_TRUE(QTest::qWaitFor([&] { return source().strip().collection() != nullptr; }));
    auto* see = find<QPushButton>("seeFinding");
    EXPECT_EQ(see->text(), QStringLiteral("see 1 of 2"));
    see->click();
    EXPECT_EQ(see->text(), QStringLiteral("see 2 of 2"));
    see->click();
    EXPECT_EQ(see->text(), QStringLiteral("see 1 of 2"));
}

TEST_F(SourceStationTest, AFaultIsToldAtTheAnswerAndTheLastRecordsStay) {
    openService();
    for (const auto& [fault, says] : std::vector<std::pair<const char*, const char*>>{
             {"unauthorised", "(401)"}, {"page", "web page"}, {"truncated", ""}}) {
        type("variable_fault", QString::fromLatin1(fault));
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }));
        QCoreApplication::processEvents();
        EXPECT_THAT(problem().toStdString(), HasSubstr(says));
        EXPECT_EQ(problem().isEmpty(), *says == '\0');
        EXPECT_GT(live().records().size(), 5);
        EXPECT_TRUE(window->notice().isHidden());
    }
}

TEST_F(SourceStationTest, AnArrayClickedInTheTreeBecomesTheItems) {
    openRecords(
        "r.json",
        R"({"traps":[{"name":"north"},{"name":"south"}],"sightings":[{"id":1,"note":"a long one to win"},{"id":2,"note":"another"}]})");
    EXPECT_THAT(said().toStdString(), HasSubstr("$.sightings[*]"));
    tree().setFocus();
    tree().select(nodeSaying(QStringLiteral("traps [ 2 ]")));
    press(&tree(), Qt::Key_I);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return rowOf("name") >= 0 && !window->workspace().opening().isBusy(); }));
    EXPECT_EQ(document()->source.reading.items, "$['traps'][*]");
    EXPECT_EQ(live().records().size(), 2);
    window->workspace().undo().undo();
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return rowOf("note") >= 0 && !window->workspace().opening().isBusy(); }));
    EXPECT_EQ(document()->source.reading.items, "");
}

TEST_F(SourceStationTest, AValueInTheTreeIsTypedOverAndTheSourceStaysBesideIt) {
    openRecords("r.json",
                R"([{"id":1,"note":"a long one","place":{"trap":"north"}},{"id":2,"note":"another"}])");
    tree().select(nodeSaying(QStringLiteral("note a long one")));
    double y = 0;
    bool isItself = false;
    ASSERT_TRUE(tree().rowOf(tree().selected(), y, isItself));
    QTest::mouseDClick(tree().viewport(), Qt::LeftButton, {},
                       tree().viewport()->mapFrom(&tree(), QPoint(90, static_cast<int>(y))));
    auto* card = find<workbench::RecordCard>("recordCard");
    ASSERT_NE(card, nullptr);
    auto* line = find<QLineEdit>("value_note");
    EXPECT_TRUE(line->hasFocus());
    QTest::keyClicks(line, QStringLiteral("a new one"));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_EQ(document()->edits.size(), 1u);
    (void)nodeSaying(QStringLiteral("note a long one, edited: \"a new one\""));
    EXPECT_EQ(find<QLabel>("said_note")->text(), QStringLiteral("a long one in the source"));
    card->close();
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().edited() != nullptr; }));
    EXPECT_EQ(live().records().text(0, *live().records().find("note")), "a new one");
    window->workspace().undo().undo();
    (void)nodeSaying(QStringLiteral("note a long one"));
}

TEST_F(SourceStationTest, AMemberClickedInTheTreeBecomesTheKeyOrAColumn) {
    openRecords("r.json", R"([{"id":1,"place":{"trap":"north"}},{"id":2,"place":{"trap":"south"}}])");
    tree().select(nodeSaying(QStringLiteral("place { 1 }")));
    press(&tree(), Qt::Key_Right);
    tree().select(nodeSaying(QStringLiteral("trap north")));
    press(&tree(), Qt::Key_C);
    ASSERT_TRUE(QTest::qWaitFor([&] { return rowOf("place_trap") >= 0 && ready(); }));
    EXPECT_EQ(live().records().text(1, *live().records().find("place_trap")), "south");
    fields().select(rowOf("place_trap"));
    press(&fields(), Qt::Key_K);
    EXPECT_THAT(said().toStdString(), HasSubstr("each known by place_trap."));
    press(&fields(), Qt::Key_Up);
    press(&fields(), Qt::Key_Up);
    ASSERT_EQ(fields().selected(), 0);
    press(&fields(), Qt::Key_K, Qt::ShiftModifier);
    EXPECT_THAT(said().toStdString(), HasSubstr("each known by place_trap + id."));
}

TEST_F(SourceStationTest, AFieldIsRetypedRenamedAndLeftOutFromItsCard) {
    openRecords("r.csv", "code,n\n7,1\n8,many\n");
    fields().select(rowOf("n"));
    press(&fields(), Qt::Key_Return);
    auto* whole = find<QPushButton>("type2"); // FieldType::Integer
    whole->click();
    ASSERT_TRUE(QTest::qWaitFor([&] { return fields().rows()[1].isChosen && ready(); }));
    EXPECT_EQ(fields().rows()[1].type, FieldType::Integer);
    EXPECT_FALSE(live().records().has(1, *live().records().find("n")));
    const auto& findings = find<workbench::FindingsList>("findings")->findings();
    ASSERT_FALSE(findings.empty());
    EXPECT_THAT(findings[0].text, HasSubstr("n is not a whole number"));
    EXPECT_THAT(findings[0].text, HasSubstr("line 3"));

    press(&fields(), Qt::Key_Return);
    auto* title = find<QLineEdit>("fieldTitle");
    QTest::keyClicks(title, QStringLiteral("Count"));
    QTest::keyClick(title, Qt::Key_Return);
    EXPECT_EQ(fields().rows()[1].title, "Count");

    press(&fields(), Qt::Key_X);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !live().records().find("n") && ready(); }));
    EXPECT_TRUE(fields().rows()[static_cast<std::size_t>(rowOf("n"))].isLeftOut);
    while (window->workspace().undo().canUndo()) {
        window->workspace().undo().undo();
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return rowOf("n") == 1 && !fields().rows()[1].isChosen && ready(); }));
    EXPECT_EQ(fields().rows()[1].type, FieldType::Text);
}

TEST_F(SourceStationTest, AFieldIsReadAsItsLanguageWritesIt) {
    openRecords("r.csv", "code;weight;on\n7;1.234,56;31.12.2023\n8;2,5;01.02.2024\n");
    const auto choose = [&](const char* field, const QString& locale) {
        fields().select(rowOf(field));
        press(&fields(), Qt::Key_Return);
        const auto actions = find<QPushButton>("fieldLocale")->menu()->actions();
        const auto found = std::ranges::find(actions, QVariant(locale), &QAction::data);
        ASSERT_NE(found, actions.end());
        (*found)->trigger();
    };
    const auto typeOf = [&](const char* field) {
        return fields().rows()[static_cast<std::size_t>(rowOf(field))].type;
    };
    choose("weight", QStringLiteral("de"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return typeOf("weight") == FieldType::Real && ready(); }));
    EXPECT_EQ(live().records().real(0, *live().records().find("weight")), 1234.56);
    choose("on", QStringLiteral("de"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return typeOf("on") == FieldType::Time && ready(); }));
    EXPECT_EQ(live().records().display(1, *live().records().find("on")), "2024-02-01");
    EXPECT_THAT(fields().rows()[static_cast<std::size_t>(rowOf("on"))].why, HasSubstr("as written in de"));
    window->workspace().undo().undo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return typeOf("on") == FieldType::Text && ready(); }));
}

TEST_F(SourceStationTest, TextDecodedTwiceIsMendedWithOneClick) {
    openRecords("r.json", R"([{"id":1,"s":"cafÃ©"},{"id":2,"s":"plain"}])");
    find<QPushButton>("mendFinding")->click();
    const auto text = [&] { return std::string(live().records().text(0, *live().records().find("s"))); };
    ASSERT_TRUE(QTest::qWaitFor([&] { return text() == "café" && ready(); }));
    window->workspace().undo().undo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return text() == "cafÃ©" && ready(); }));
}

TEST_F(SourceStationTest, AMissingSecretIsAskedForAndNeverWritten) {
    workbench::DemoService other;
    const std::string path =
        write("s.collection.json",
              R"({"scorrere":1,"source":{"address":")" + *other.address() +
                  R"(/sightings","sign":{"bearer":"MARSH_TOKEN"}},"items":{"record":{"text":"x"}}})");
    openFile(path);
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->question().isAsking(); })) << "it came from elsewhere";
    EXPECT_TRUE(secrets->asked.empty());
    QTest::mouseClick(window->question().findChild<QPushButton*>(QStringLiteral("ask_allow")),
                      Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return find("secretCard")->isVisible(); }));
    EXPECT_THAT(secrets->asked, ::testing::ElementsAre("MARSH_TOKEN"));
    EXPECT_EQ(document()->source.sign.secret, "MARSH_TOKEN");
    EXPECT_EQ(live().records().size(), 0) << "the collection is there even without its records";
    EXPECT_EQ(find<QLineEdit>("secretLine")->echoMode(), QLineEdit::Password);
    type("secretLine", QString::fromLatin1(workbench::DemoService::kToken));
    ASSERT_TRUE(QTest::qWaitFor([&] { return live().records().size() == 20; }));
    EXPECT_FALSE(find("secretCard")->isVisible());
    const QString saved = folder.filePath(QStringLiteral("saved.collection.json"));
    ASSERT_TRUE(isSaved(saved));
    std::ifstream in(saved.toStdString());
    const std::string text(std::istreambuf_iterator<char>(in), {});
    EXPECT_THAT(text, HasSubstr("MARSH_TOKEN"));
    EXPECT_THAT(text, Not(HasSubstr(workbench::DemoService::kToken)));
}

TEST_F(SourceStationTest, SchemaAndTypeCanBeTaken) {
    openRecords("r.json", R"([{"id":1,"s":"a"},{"id":2}])");
    toSave = folder.filePath(QStringLiteral("r.schema.json"));
    find<QPushButton>("saveSchema")->click();
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->notice().message().contains(toSave); }, 60'000));
    std::ifstream in(toSave.toStdString());
    EXPECT_THAT(std::string(std::istreambuf_iterator<char>(in), {}), HasSubstr("\"required\": [\"id\"]"));
    press(window.get(), Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_THAT(QGuiApplication::clipboard()->text().toStdString(), HasSubstr("struct Record {"));
    EXPECT_THAT(QGuiApplication::clipboard()->text().toStdString(),
                HasSubstr("std::optional<std::string> s;"));
}

TEST_F(SourceStationTest, WhatWasDecidedIsSavedAndOpensAgain) {
    openRecords("r.csv", "id;n\n1;2\n");
    fields().select(0);
    press(&fields(), Qt::Key_K);
    QDir(folder.path()).mkdir(QStringLiteral("deep"));
    const QString path = folder.filePath(QStringLiteral("deep/c.collection.json"));
    ASSERT_TRUE(isSaved(path));
    EXPECT_EQ(document()->source.file, "../r.csv");
    openFile(path.toStdString());
    ASSERT_TRUE(ready());
    EXPECT_EQ(document()->source.key, std::vector<std::string>{"id"});
    EXPECT_EQ(live().records().size(), 1);
}

TEST_F(SourceStationTest, AFileThatFailsBesideAnOpenServiceDoesNotSpeakForIt) {
    openService();
    openFile(write("bad.json", "{\"a\":"));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("bad.json was not opened"));
    EXPECT_FALSE(find<QLabel>("answerProblem")->isVisible());
    EXPECT_EQ(tree().rowText(0), QStringLiteral("$ { 4 }")) << "the answer is still the service's";
}

TEST_F(SourceStationTest, AskingForAListKeepsTheOneThatIsThere) {
    window->workspace().opening().openList(QStringLiteral("mine\nand mine"));
    ASSERT_TRUE(ready());
    press(window.get(), Qt::Key_L, Qt::ControlModifier);
    EXPECT_EQ(document()->source.list, "mine\nand mine");
    EXPECT_FALSE(window->workspace().undo().canUndo());
}

TEST_F(SourceStationTest, AFileWithoutAnExtensionIsReadForWhatItHolds) {
    openRecords("records", "id,n\n1,2\n3,4\n");
    EXPECT_EQ(live().records().size(), 2);
    EXPECT_EQ(fields().rows().size(), 2U);
}

TEST_F(SourceStationTest, WhatStandsInALineCountsWhenOneAsksThoughNobodyEnteredIt) {
    openService();
    auto* fault = find<QLineEdit>("variable_fault");
    fault->setFocus();
    QTest::keyClicks(fault, QStringLiteral("unauthorised"));
    QTest::keyClick(fault, Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return find<QLabel>("answerStatus")->text().contains(QLatin1String("401")); }));
}

TEST_F(SourceStationTest, AnotherPlaceInTheLineIsOpenedWhenOneAsks) {
    openService();
    const QString other = QString::fromStdString(write("other.csv", "id,n\n1,2\n3,4\n"));
    auto* address = find<QLineEdit>("addressLine");
    address->setFocus();
    address->selectAll();
    QTest::keyClicks(address, other);
    QTest::keyClick(address, Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return document()->source.file.find("other.csv") != std::string::npos; }));
}

TEST_F(SourceStationTest, AskingCanBeCancelled) {
    openService();
    auto* fault = find<QLineEdit>("variable_fault");
    fault->setFocus();
    QTest::keyClicks(fault, QStringLiteral("slow"));
    QTest::keyClick(fault, Qt::Key_Return);
    EXPECT_TRUE(window->workspace().opening().isBusy());
    EXPECT_THAT(find<QPushButton>("askButton")->text().toStdString(), HasSubstr("Cancel"));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_FALSE(window->workspace().opening().isBusy());
    EXPECT_THAT(find<QPushButton>("askButton")->text().toStdString(), HasSubstr("Ask"));
    EXPECT_EQ(live().records().size(), 20);
}

TEST_F(SourceStationTest, ALargeFileShowsItsFirstRecordsAndGrows) {
    std::string text;
    for (int i = 0; i < 60'000; ++i) {
        text += R"({"id":)" + std::to_string(i) + R"(,"s":"record )" + std::to_string(i) + "\"}\n";
    }
    std::vector<std::int64_t> sizes;
    QObject::connect(&window->workspace(), &workbench::Workspace::grew, window.get(),
                     [&] { sizes.push_back(live().records().size()); });
    openRecords("large.ndjson", text);
    EXPECT_GE(sizes.size(), 2U);
    EXPECT_TRUE(std::ranges::is_sorted(sizes));
    EXPECT_EQ(live().records().size(), 60'000);
    EXPECT_EQ(run().arrangement().size(), 60'000);
    ASSERT_TRUE(settle());
}

TEST_F(SourceStationTest, StationsAreGoneToByKeyAndEachHasItsOwn) {
    openDemo(20);
    EXPECT_EQ(window->station().id(), QStringLiteral("flow"));
    EXPECT_TRUE(find<QAction>("pauseAction")->isEnabled());
    press(window.get(), Qt::Key_1, Qt::AltModifier);
    EXPECT_EQ(window->station().id(), QStringLiteral("source"));
    EXPECT_FALSE(find<QAction>("pauseAction")->isEnabled()) << "a letter typed here is a letter";
    EXPECT_TRUE(sentenceOf(source()).isVisible());
    EXPECT_THAT(said().toStdString(), HasSubstr("the demo, made up here"));
    press(window.get(), Qt::Key_3, Qt::AltModifier);
    EXPECT_TRUE(sentenceOf(flow()).isVisible());
    EXPECT_FALSE(sentenceOf(source()).isVisible());
}

TEST_F(SourceStationTest, SelectingAFieldSelectsItInTheAnswerAndBack) {
    openService();
    fields().select(rowOf("site"));
    EXPECT_EQ(tree().rowText(tree().selected()).section(QLatin1Char(' '), 0, 0), QStringLiteral("site"));
    tree().select(tree().selected() + 2);
    EXPECT_EQ(fields().selected(), rowOf("count"));
}

} // namespace
} // namespace scorrere::testing
