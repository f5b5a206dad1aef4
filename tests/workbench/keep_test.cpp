// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing that somebody made is lost, whatever comes in its way.
#include "testing/program/held_workers.h"
#include "testing/program/layout_count.h"
#include "testing/program/window_fixture.h"
#include "workbench/model/starting_points.h"

#include <QCheckBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <filesystem>
#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::MainWindow;

class KeepTest : public WindowTest {
protected:
    /// Answers the question that stands.
    void answer(const char* choice) {
        auto* button =
            window->question().findChild<QPushButton*>(QStringLiteral("ask_%1").arg(QLatin1String(choice)));
        ASSERT_NE(button, nullptr) << choice << ": " << window->question().text().toStdString();
        QTest::mouseClick(button, Qt::LeftButton);
    }
    bool isAsked() const { return window->question().isAsking(); }
    /// A change of the design, as Item makes one.
    void edit(const std::string& words) {
        const std::string design = R"({"items": {"record": {"text": ")" + words + "\"}}}";
        window->workspace().changeDesign(QStringLiteral("edit"), QString::fromStdString(design), {});
        ASSERT_THAT(document()->designText(), HasSubstr(words));
    }
    std::string shown() { return document() == nullptr ? "" : document()->designText(); }
    std::string records(const char* name, int count) {
        std::string text;
        for (int i = 0; i < count; ++i) {
            text += "{\"id\": " + std::to_string(i) + ", \"name\": \"Wren " + std::to_string(i) + "\"}\n";
        }
        return write(name, text);
    }
    bool until(const std::function<bool()>& holds) { return QTest::qWaitFor(holds, 30'000); }
};

TEST_F(KeepTest, WhatWasChangedIsAskedAboutBeforeItGoesThoughItHasNoFile) {
    openFile(records("a.ndjson", 5));
    edit("mine");
    window->workspace().opening().open(QString::fromStdString(records("b.ndjson", 3)));
    ASSERT_TRUE(isAsked());
    EXPECT_THAT(shown(), HasSubstr("mine"));
    answer("cancel");
    EXPECT_FALSE(isAsked());
    EXPECT_THAT(shown(), HasSubstr("mine"));
    window->workspace().opening().open(QString::fromStdString(records("b.ndjson", 3)));
    toSave = folder.filePath(QStringLiteral("kept.collection.json"));
    answer("save");
    ASSERT_TRUE(until([&] { return document()->name == "b"; }));
    EXPECT_THAT(CollectionDocument::load(toSave.toStdString())->designText(), HasSubstr("mine"));
}

TEST_F(KeepTest, AQuestionDoesNotMoveThePage) {
    openDemo(20);
    window->goTo(QStringLiteral("flow"));
    QTest::keyClick(&flow().cutaway(), Qt::Key_T); // something to lose
    ASSERT_TRUE(settle());
    const QPoint before = flow().cutaway().mapToGlobal(QPoint());
    const QSize size = flow().cutaway().size();
    window->workspace().opening().openDemo(20'000);
    auto* card = find<QWidget>("askCard");
    ASSERT_TRUE(card->isVisible());
    QCoreApplication::processEvents();
    EXPECT_EQ(flow().cutaway().mapToGlobal(QPoint()), before);
    EXPECT_EQ(flow().cutaway().size(), size);
    EXPECT_TRUE(window->rect().contains(QRect(card->mapTo(window.get(), QPoint()), card->size())));
    for (auto* button : card->findChildren<QPushButton*>()) {
        EXPECT_TRUE(card->rect().contains(QRect(button->mapTo(card, QPoint()), button->size())));
        EXPECT_GE(button->width(), button->sizeHint().width());
    }
    QTest::keyClick(card, Qt::Key_Escape);
    EXPECT_FALSE(card->isVisible());
}

TEST_F(KeepTest, ADemoThatWasChangedAnAddressAndAListAreAskedAboutToo) {
    openDemo(20);
    edit("mine");
    for (const auto& go : std::vector<std::function<void()>>{
             [&] { window->workspace().opening().openDemo(1000); },
             [&] { window->workspace().opening().openDemoService(); },
             [&] { window->workspace().opening().openList(QStringLiteral("x")); },
             [&] { window->workspace().opening().openPlace(QStringLiteral("http://127.0.0.1:1/")); },
             [&] { static_cast<QWidget&>(*window).close(); }}) {
        go();
        EXPECT_TRUE(isAsked());
        answer("cancel");
        EXPECT_THAT(shown(), HasSubstr("mine"));
        EXPECT_TRUE(window->isVisible());
    }
}

TEST_F(KeepTest, ATypedListIsSomebodysWork) {
    window->workspace().opening().openList(QStringLiteral("Pale lantern\nMarsh harlequin"));
    ASSERT_TRUE(until([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    window->workspace().opening().openDemo(20);
    EXPECT_TRUE(isAsked());
    answer("discard");
    EXPECT_TRUE(until([&] { return document()->source.isDemo; }));
}

TEST_F(KeepTest, ClosingAsksAndThenCloses) {
    openDemo(20);
    edit("mine");
    EXPECT_FALSE(static_cast<QWidget&>(*window).close());
    answer("discard");
    EXPECT_FALSE(window->isVisible());
}

TEST_F(KeepTest, AChangeMadeWhileSomethingLoadsIsAskedAboutWhenThatArrives) {
    openFile(records("a.ndjson", 5));
    window->workspace().opening().open(QString::fromStdString(records("b.ndjson", 3)));
    edit("meanwhile"); // before events bring the other one
    ASSERT_TRUE(until([&] { return isAsked(); }));
    EXPECT_EQ(document()->name, "a");
    EXPECT_EQ(window->workspace().undo().count(), 1);
    // While the question stands the other one goes on arriving, and changes nothing here.
    ASSERT_TRUE(until([&] { return !window->workspace().opening().isBusy(); }));
    EXPECT_EQ(live().records().size(), 5);
    edit("still mine");
    toSave = folder.filePath(QStringLiteral("kept.collection.json"));
    answer("save");
    ASSERT_TRUE(until([&] { return document()->name == "b"; }));
    EXPECT_EQ(live().records().size(), 3);
    EXPECT_THAT(CollectionDocument::load(toSave.toStdString())->designText(), HasSubstr("still mine"))
        << "what is saved is what was asked about";
}

TEST_F(KeepTest, WhatArrivedCanBeSentAway) {
    openFile(records("a.ndjson", 5));
    window->workspace().opening().open(QString::fromStdString(records("b.ndjson", 3)));
    edit("meanwhile");
    ASSERT_TRUE(until([&] { return isAsked(); }));
    answer("cancel");
    ASSERT_TRUE(until([&] { return !window->workspace().opening().isBusy(); }));
    QCoreApplication::processEvents();
    EXPECT_EQ(document()->name, "a");
    EXPECT_THAT(shown(), HasSubstr("meanwhile"));
    window->workspace().undo().undo();
    EXPECT_THAT(shown(), Not(HasSubstr("meanwhile")));
}

TEST_F(KeepTest, ReadingTheSourceAgainLeavesTheDesignAsItIs) {
    openFile(records("a.ndjson", 5000));
    edit("{name} one");
    QTest::keyClick(window.get(), Qt::Key_Return, Qt::ControlModifier);
    edit("{name} two"); // while it is read
    ASSERT_TRUE(until([&] { return !window->workspace().opening().isBusy(); }));
    QCoreApplication::processEvents();
    EXPECT_THAT(shown(), HasSubstr("{name} two"));
    EXPECT_EQ(window->workspace().undo().count(), 2);
    window->workspace().undo().undo();
    EXPECT_THAT(shown(), HasSubstr("{name} one"));
}

TEST_F(KeepTest, GivingATokenThatWasMissingKeepsUndo) {
    const std::string path = write("c.collection.json", R"({"scorrere": 1, "name": "signed",
        "source": {"address": "demo:/sightings{?page,size}", "items": "$.data.sightings[*]", "key": "id", "sign": {"bearer": "TRAP_KEY"}},
        "items": {"record": {"text": "x"}}})");
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(until([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    edit("mine");
    ASSERT_EQ(window->workspace().undo().count(), 1);
    auto* line = find<QLineEdit>("secretLine");
    line->setText(QStringLiteral("light-trap-7"));
    QTest::mouseClick(find<QPushButton>("secretUse"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return document() != nullptr && live().records().size() > 0; }));
    EXPECT_EQ(window->workspace().undo().count(), 1);
    EXPECT_THAT(shown(), HasSubstr("mine"));
}

TEST_F(KeepTest, AWrongTokenCanBeGivenAnew) {
    const std::string path = write("c.collection.json", R"({"scorrere": 1, "name": "signed",
        "source": {"address": "demo:/sightings{?page,size}", "items": "$.data.sightings[*]", "key": "id", "sign": {"bearer": "TRAP_KEY"}},
        "items": {"record": {"text": "x"}}})");
    secrets->held["TRAP_KEY"] = "wrong";
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(until([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    auto* card = find<QWidget>("secretCard");
    ASSERT_TRUE(until([&] { return !card->isHidden(); }));
    EXPECT_THAT(find<QLabel>("secretText")->text().toStdString(), HasSubstr("does not take TRAP_KEY"));
    find<QLineEdit>("secretLine")->setText(QStringLiteral("light-trap-7"));
    QTest::mouseClick(find<QPushButton>("secretUse"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return live().records().size() > 0; }));
    EXPECT_TRUE(card->isHidden());
}

TEST_F(KeepTest, AFileThatAnotherProgramChangedIsNotOverwrittenUnasked) {
    const std::string path = folder.filePath(QStringLiteral("c.collection.json")).toStdString();
    openFile(records("a.ndjson", 5));
    edit("mine");
    ASSERT_TRUE(isSaved(path));
    edit("mine two");
    std::string theirs = CollectionDocument::load(path)->serialise();
    theirs.replace(theirs.find("mine"), 4, "theirs");
    write("c.collection.json", theirs);
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(until([&] { return isAsked(); }));
    EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("theirs"));
    answer("beside");
    const std::string beside = folder.filePath(QStringLiteral("c (mine).collection.json")).toStdString();
    ASSERT_TRUE(until([&] { return window->workspace().undo().isClean(); }));
    EXPECT_THAT(CollectionDocument::load(beside)->designText(), HasSubstr("mine two"));
    EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("theirs"));
    EXPECT_EQ(document()->path, beside);
}

TEST_F(KeepTest, TheirsOrMineCanBeKept) {
    const std::string path = folder.filePath(QStringLiteral("c.collection.json")).toStdString();
    openFile(records("a.ndjson", 5));
    edit("mine");
    ASSERT_TRUE(isSaved(path));
    std::string theirs = CollectionDocument::load(path)->serialise();
    theirs.replace(theirs.find("mine"), 4, "theirs");
    edit("mine two");
    write("c.collection.json", theirs);
    EXPECT_FALSE(isSaved(path));
    answer("mine");
    ASSERT_TRUE(until([&] { return window->workspace().undo().isClean(); }));
    EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("mine two"));
    edit("mine three");
    write("c.collection.json", theirs);
    EXPECT_FALSE(isSaved(path));
    answer("theirs");
    ASSERT_TRUE(until([&] {
        return !window->workspace().opening().isBusy() && shown().find("theirs") != std::string::npos;
    }));
}

TEST_F(KeepTest, AQuestionThatStandsAsksForNoLayoutForEver) {
    workbench::Question question;
    question.text = QStringLiteral(
        "One that is so long that it does not stand in a line, and goes on in the next: what was not saved "
        "is still here, and so on.");
    question.lines = {QStringLiteral("one thing"), QStringLiteral("another")};
    question.choices = {{QStringLiteral("a"), QStringLiteral("A")},
                        {QStringLiteral("b"), QStringLiteral("B")}};
    window->workspace().ask(question);
    const auto process = [] {
        for (int i = 0; i < 200; ++i) {
            QCoreApplication::processEvents();
        }
    };
    process();
    const LayoutCount asked(window->question());
    process();
    EXPECT_LT(asked.count, 5);
    EXPECT_GE(window->question().height(),
              window->question().layout()->totalHeightForWidth(window->question().width()));
}

TEST_F(KeepTest, WhatIsChangedWhileItIsSavedIsNotSavedYet) {
    const std::string path = folder.filePath(QStringLiteral("c.collection.json")).toStdString();
    openFile(records("a.ndjson", 5));
    edit("one");
    ASSERT_TRUE(isSaved(path));
    edit("two");
    {
        const HeldWorkers held;
        QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
        QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
        edit("three");
        EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("one"));
    }
    // The first writes what was there when it began, the second what there is.
    ASSERT_TRUE(until([&] { return window->workspace().undo().isClean(); }));
    EXPECT_FALSE(isAsked()) << "what was written here is nobody else's";
    EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("three"));
    edit("four");
    {
        const HeldWorkers held;
        QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
        edit("five");
    }
    ASSERT_TRUE(until(
        [&] { return CollectionDocument::load(path)->designText().find("four") != std::string::npos; }));
    ASSERT_TRUE(isSaved(folder.filePath(QStringLiteral("elsewhere.collection.json"))));
    EXPECT_THAT(CollectionDocument::load(path)->designText(), HasSubstr("four"));
    EXPECT_THAT(shown(), HasSubstr("five"));
    window->workspace().undo().undo();
    EXPECT_FALSE(window->workspace().undo().isClean());
}

TEST_F(KeepTest, AnotherFileDoesNotTakeThePlaceOfTheOneThatIsStillSaved) {
    toSave = folder.filePath(QStringLiteral("mine.collection.json"));
    openFile(records("a.ndjson", 5));
    edit("mine");
    window->workspace().opening().open(QString::fromStdString(records("b.ndjson", 3)));
    ASSERT_TRUE(isAsked());
    {
        const HeldWorkers held;
        answer("save");
        edit("mine since");
    }
    ASSERT_TRUE(until([&] { return isAsked(); })) << "about what came while it was written";
    EXPECT_THAT(shown(), HasSubstr("mine since"));
    answer("discard");
    ASSERT_TRUE(until([&] { return document()->name == "b"; }));
    EXPECT_THAT(CollectionDocument::load(toSave.toStdString())->designText(), Not(HasSubstr("since")));
}

TEST_F(KeepTest, WhatAProgramThatEndedLeftIsBroughtBackWithItsUndo) {
    window.reset();
    journal = folder.filePath(QStringLiteral("journal"));
    const std::string path =
        write("c.collection.json", R"({"scorrere": 1, "name": "kept", "source": {"list": "a\nb"},
        "items": {"record": {"text": "first"}}})");
    makeWindow();
    openFile(path);
    edit("second");
    edit("third");
    const QDir left(journal);
    ASSERT_TRUE(until([&] { return !left.entryList({QStringLiteral("*.json")}).isEmpty(); }));
    ASSERT_TRUE(until([&] {
        const auto files = left.entryInfoList({QStringLiteral("*.json")});
        QFile file(files.isEmpty() ? QString() : files.first().filePath());
        return file.open(QIODevice::ReadOnly) && file.readAll().contains("third");
    }));
    // As when it is killed: nothing is tidied away, but the lock goes with the process.
    const QString aside = folder.filePath(QStringLiteral("aside"));
    QDir().mkpath(aside);
    for (const QFileInfo& file : left.entryInfoList(QDir::Files)) {
        QFile::copy(file.filePath(), aside + QLatin1Char('/') + file.fileName());
    }
    window.reset();
    journal = aside;
    makeWindow();
    ASSERT_TRUE(until([&] { return isAsked(); }));
    EXPECT_THAT(window->question().text().toStdString(), HasSubstr("kept was not saved"));
    answer("restore");
    ASSERT_TRUE(until([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    EXPECT_THAT(shown(), HasSubstr("third"));
    EXPECT_EQ(document()->path, path);
    EXPECT_FALSE(window->workspace().undo().isClean());
    window->workspace().undo().undo();
    EXPECT_THAT(shown(), HasSubstr("second"));
    window->workspace().undo().undo();
    EXPECT_THAT(shown(), HasSubstr("first"));
    window->workspace().undo().redo();
    EXPECT_THAT(shown(), HasSubstr("second"));
    ASSERT_TRUE(isSaved(path));
    ASSERT_TRUE(until([&] { return QDir(aside).entryList({QStringLiteral("*.json")}).isEmpty(); }))
        << "what is saved is not offered again";
}

TEST_F(KeepTest, ItemSurvivesAnotherFileAndTheFirstAgain) {
    const std::string pictured = write("p.collection.json", R"({"scorrere": 1, "name": "pictured",
        "source": {"list": "[{\"id\": 1, \"pic\": \"none.png\"}]", "form": "json"},
        "items": {"record": {"row": [{"picture": "{pic}", "width": 40, "height": 40}, {"text": "{id}"}]}}})");
    const std::string plain = records("plain.ndjson", 4);
    for (int round = 0; round < 3; ++round) {
        for (const std::string& path : {pictured, plain}) {
            openFile(path);
            QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
            const auto deadline = QDeadlineTimer(400);
            (void)QTest::qWaitFor([&] { return deadline.hasExpired() || window->grab().isNull(); });
            (void)window->grab(); // what the gallery draws with must live
        }
    }
    EXPECT_EQ(document()->name, "plain");
}

TEST_F(KeepTest, PicturesStandBesideTheRecordsThatNameThemWhereverTheCollectionIsSaved) {
    QDir(folder.path()).mkdir(QStringLiteral("data"));
    QDir(folder.path()).mkdir(QStringLiteral("kept"));
    QImage red(20, 20, QImage::Format_RGB32);
    red.fill(QColor(230, 0, 0));
    ASSERT_TRUE(red.save(folder.filePath(QStringLiteral("data/p.png"))));
    std::string list = "[";
    for (int i = 0; i < 25; ++i) {
        list += std::string(i > 0 ? "," : "") + R"({"name": "Trap )" + std::to_string(i) +
                R"(", "photo": "p.png"})";
    }
    const auto isRed = [this] {
        window->goTo(QStringLiteral("flow"));
        EXPECT_TRUE(QTest::qWaitFor([this] { return flow().collection() != nullptr && settle(); }));
        return QTest::qWaitFor([this] {
            const QImage shown = flow().cutaway().grab().toImage();
            for (int y = 0; y < shown.height(); y += 3) {
                for (int x = 0; x < shown.width(); x += 3) {
                    const QColor at = shown.pixelColor(x, y);
                    if (at.red() > 215 && at.green() < 25 && at.blue() < 25) {
                        return true;
                    }
                }
            }
            return false;
        });
    };
    openFile(write("data/traps.json", list + "]"));
    EXPECT_TRUE(isRed()) << "not in a file yet";
    const QString kept = folder.filePath(QStringLiteral("kept/traps.collection.json"));
    ASSERT_TRUE(isSaved(kept));
    EXPECT_EQ(document()->source.file, "../data/traps.json");
    openDemo(20);
    openFile(kept.toStdString());
    EXPECT_TRUE(isRed()) << "opened again from elsewhere";
}

} // namespace
} // namespace scorrere::testing
