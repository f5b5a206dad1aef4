// SPDX-License-Identifier: GPL-3.0-or-later
// What the log holds, and what it never does; the note that is left by a fall; how far something is.
#include "testing/program/flow_fixture.h"
#include "testing/program/raw_server.h"
#include "workbench/model/chronicle.h"
#include "workbench/model/crash_note.h"
#include "workbench/model/log.h"
#include "workbench/ui/text_reader.h"

#include <QDir>
#include <QFile>
#include <QLabel>
#include <QProcess>
#include <QPushButton>
#include <algorithm>
#include <csignal>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::LogLevel;

std::string textOf(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
}

class LogTest : public FlowTest {
protected:
    LogTest() { workbench::Chronicle::listenToCalls(); }
    ~LogTest() override { workbench::endLog(); }
    std::string told() { // all of it is in the file then
        workbench::endLog();
        return textOf(folder.filePath(QStringLiteral("log/scorrere.log")));
    }
    void startLog(LogLevel level) {
        workbench::startLog(folder.filePath(QStringLiteral("log")).toStdString(), level);
    }
};

TEST_F(LogTest, ItTellsWhatHappenedAndNeitherSecretsNorRecords) {
    startLog(LogLevel::Debug);
    secrets->held["PLANTED_NAME"] = "planted-secret";
    const std::string body =
        R"([{"id": 1, "name": "planted-record", "count": "planted-number"}, {"id": 1, "count": 3}, 7])";
    const std::string answer = fmt::format("HTTP/1.1 200 OK\r\nContent-Type: application/json\r\n"
                                           "Content-Length: {}\r\nConnection: close\r\n\r\n{}",
                                           body.size(), body);
    const RawServer server(answer);
    std::string named = server.address();
    named.insert(named.find("127"), "user:planted-password@");
    window->workspace().opening().openPlace(QString::fromStdString(named)); // refused
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }));
    window->workspace().opening().openPlace(
        QString::fromStdString(server.address() + "/planted-path/list?key=planted-query&size=3"));
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return flow().collection() != nullptr && live().records().size() > 0; }));
    SourceSpec source = document()->source;
    source.sign = {SignSpec::Kind::Bearer, "PLANTED_NAME", {}};
    window->workspace().changeSource(QStringLiteral("sign"), source);
    ASSERT_TRUE(QTest::qWaitFor([&] { return server.heard().find("planted-secret") != std::string::npos; }));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }));
    const std::string path = folder.filePath(QStringLiteral("kept.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    openFile(write("bad.json", R"([{"name": "planted-text", "x": tru}])"));
    openFile(write("good.json", R"([{"name": "planted-again"}])"));
    EXPECT_FALSE(window->question().isAsking()) << window->question().text().toStdString();
    const std::string log = told();
    EXPECT_THAT(log, HasSubstr("call GET http://127.0.0.1:"));
    EXPECT_THAT(log, HasSubstr("path of 2, with key, size: 200"));
    EXPECT_THAT(log, HasSubstr("opened "));
    EXPECT_THAT(log, HasSubstr("good.json: 1 records, 1 fields"));
    EXPECT_THAT(log, HasSubstr("not the notation, "));
    EXPECT_THAT(log, HasSubstr("bad.json, line 1"));
    EXPECT_THAT(log, HasSubstr("saved " + path));
    EXPECT_THAT(log, Not(HasSubstr("planted"))) << "not from a secret, an address or a record";
    for (const std::string& line : workbench::lastLogLines()) {
        EXPECT_THAT(line, Not(HasSubstr("planted")));
    }
}

TEST(SlowFrame, IsToldWithWhy) {
    FrameRecord frame;
    frame.number = 42;
    frame.built = 2;
    frame.filled = 7;
    frame.costNs = {100'000, 2'000'000, 9'000'000, 3'000'000, 400'000};
    EXPECT_EQ(workbench::slowFrameLine(frame, 8.3, 0),
              "slow frame 42: 14.5 ms of 8.3: decide 0.1, build 2.0, fill 9.0, measure 3.0, paint 0.4 ms; "
              "2 built, 7 filled");
    EXPECT_THAT(workbench::slowFrameLine(frame, 8.3, 3), HasSubstr("; 3 more since the last"));
}

TEST_F(LogTest, OfMuchTheOldestIsPutAsideAndOfWhatIsNotWantedNothingIsKept) {
    startLog(LogLevel::Warning);
    workbench::tellLog(LogLevel::Info, "too small to be told");
    workbench::tellLog(LogLevel::Error, "large enough");
    const std::string log = told();
    EXPECT_THAT(log, HasSubstr("error   large enough"));
    EXPECT_THAT(log, Not(HasSubstr("too small")));
    startLog(LogLevel::Info);
    for (int i = 0; i < 1000; ++i) {
        workbench::tellLog(LogLevel::Info, fmt::format("line {}", i));
    }
    const auto last = workbench::lastLogLines();
    ASSERT_EQ(last.size(), workbench::kLastLines);
    EXPECT_THAT(last.back(), HasSubstr("line 999"));
    EXPECT_THAT(last.front(), HasSubstr("line 800"));
    EXPECT_EQ(workbench::logLevelNamed("debug"), LogLevel::Debug);
}

TEST(CrashNote, IsLeftWhenItFallsOfferedOnceAndShown) {
    const QTemporaryDir home;
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("offscreen"));
    for (const char* kind : {"STATE", "CONFIG", "CACHE", "DATA"}) {
        environment.insert(QStringLiteral("XDG_%1_HOME").arg(QLatin1String(kind)), home.path());
    }
    program.setProcessEnvironment(environment);
    program.start(QStringLiteral(SCORRERE_PROGRAM_PATH),
                  {QStringLiteral(SCORRERE_SOURCE_DIR "/demo/hands.collection.json")});
    const QString log = home.filePath(QStringLiteral("scorrere/log/scorrere.log"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return textOf(log).find("opened ") != std::string::npos; }, 60'000));
    ::kill(static_cast<pid_t>(program.processId()), SIGSEGV);
    ASSERT_TRUE(program.waitForFinished(30'000));
    EXPECT_EQ(program.exitStatus(), QProcess::CrashExit) << "it falls as it would have";
    const QString folder = home.filePath(QStringLiteral("scorrere/crash"));
    const auto notes = workbench::untoldNotes(folder);
    ASSERT_EQ(notes.size(), 1U);
    const std::string note = textOf(notes.front().file);
    for (const char* part : {"Scorrere 0.1.0", "signal 11", "hands.collection.json", "The stack", "libc.so",
                             "started: scorrere", "opened "}) {
        EXPECT_THAT(note, HasSubstr(part));
    }
}

class CrashOfferTest : public FlowTest {
protected:
    /// A window of a state where a note was left.
    void openWith(const QString& folderOfNotes) {
        workbench::Surroundings surroundings;
        surroundings.secrets = std::make_unique<FakeSecrets>();
        surroundings.settings =
            std::make_unique<QSettings>(folder.filePath(QStringLiteral("o.ini")), QSettings::IniFormat);
        surroundings.crashFolder = folderOfNotes;
        window = std::make_unique<workbench::MainWindow>(std::move(surroundings), makers);
        window->show();
    }
};

TEST_F(CrashOfferTest, TheNextStartOffersTheNoteUntilItIsAnswered) {
    const QString notes = folder.filePath(QStringLiteral("crash"));
    QDir().mkpath(notes);
    write("crash/20261128-101112-7.crash.txt", "what was going on\n");
    openWith(notes);
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->question().isAsking(); }));
    EXPECT_THAT(window->question().text().toStdString(), HasSubstr("ended unexpectedly"));
    window->question().decline();
    openWith(notes);
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->question().isAsking(); })) << "it asks again";
    QTest::mouseClick(window->question().findChild<QPushButton*>(QStringLiteral("ask_show")), Qt::LeftButton);
    workbench::TextReader* reader = nullptr;
    ASSERT_TRUE(QTest::qWaitFor([&] {
        reader = window->findChild<workbench::TextReader*>();
        return reader != nullptr && !reader->toPlainText().isEmpty();
    }));
    EXPECT_EQ(reader->toPlainText(), QStringLiteral("what was going on\n"));
    EXPECT_TRUE(workbench::untoldNotes(notes).empty());
    EXPECT_EQ(QDir(notes).entryList(QDir::Files).size(), 1) << "it is kept";
}

TEST_F(LogTest, TheMenuShowsIt) {
    workbench::Surroundings surroundings;
    surroundings.secrets = std::make_unique<FakeSecrets>();
    surroundings.settings =
        std::make_unique<QSettings>(folder.filePath(QStringLiteral("o.ini")), QSettings::IniFormat);
    surroundings.logFolder = folder.filePath(QStringLiteral("log"));
    window = std::make_unique<workbench::MainWindow>(std::move(surroundings), makers);
    startLog(LogLevel::Info);
    workbench::tellLog(LogLevel::Info, "something happened");
    workbench::endLog();
    find<QAction>("log")->trigger();
    workbench::TextReader* reader = nullptr;
    EXPECT_TRUE(QTest::qWaitFor([&] {
        reader = window->findChild<workbench::TextReader*>();
        return reader != nullptr && reader->toPlainText().contains(QStringLiteral("something happened"));
    }));
    QTest::keyClick(reader, Qt::Key_Escape);
    EXPECT_FALSE(reader->isVisible());
}

TEST_F(CrashOfferTest, TheTitleSaysHowFarWhatIsUnderWayIs) {
    const QString about = QStringLiteral("reading");
    workbench::Notice half = workbench::Notice::under(about, QStringLiteral("Reading"), -1);
    Q_EMIT window->workspace().noticed(half);
    EXPECT_EQ(window->windowTitle(), QStringLiteral("\u2026 \u00b7 Scorrere"));
    half.share = 0.5;
    Q_EMIT window->workspace().noticed(half);
    EXPECT_EQ(window->windowTitle(), QStringLiteral("50% \u00b7 Scorrere"));
    Q_EMIT window->workspace().noticed(workbench::Notice::over(about));
    EXPECT_EQ(window->windowTitle(), QStringLiteral("Scorrere"));
}

} // namespace
} // namespace scorrere::testing
