// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/telling.h"
#include "render/http_call.h"

#include <QDir>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace {

using ::testing::HasSubstr;

struct Ran {
    int code = -1;
    std::string out;
    std::string err;
};

Ran runProgram(const QStringList& arguments) {
    QProcess process;
    process.start(QStringLiteral(SCORRERE_PROGRAM_PATH), arguments);
    EXPECT_TRUE(process.waitForFinished(120'000));
    return {process.exitCode(), process.readAllStandardOutput().toStdString(),
            process.readAllStandardError().toStdString()};
}

struct CommandLine : ::testing::Test {
    QTemporaryDir folder;
    QString at(const char* name) { return folder.filePath(QString::fromLatin1(name)); }
    std::string read(const char* name) {
        std::ifstream in(at(name).toStdString(), std::ios::binary);
        return {std::istreambuf_iterator<char>(in), {}};
    }
    void write(const char* name, const std::string& text) { std::ofstream(at(name).toStdString()) << text; }
};

TEST_F(CommandLine, TellsHelpAndVersion) {
    EXPECT_THAT(
        runProgram({QStringLiteral("--version")}).out,
        ::testing::AllOf(::testing::StartsWith("scorrere 0.1.0\nbuilt with g++ "), HasSubstr("Qt 6.")));
    const Ran help = runProgram({QStringLiteral("--help")});
    EXPECT_EQ(help.code, 0);
    for (const char* word : {"demo", "play", "demo-data", "Exit codes"}) {
        EXPECT_THAT(help.out, HasSubstr(word));
    }
    EXPECT_EQ(runProgram({QStringLiteral("play"), QStringLiteral("--frobnicate")}).code, 2);
}

TEST_F(CommandLine, ManualAndCompletionSayWhatHelpSays) {
    const std::string page = runProgram({QStringLiteral("manual"), QStringLiteral("man")}).out;
    for (const char* word : {".TH SCORRERE 1", "demo\\-data", "allow\\-secret", "over a budget",
                             "XDG_STATE_HOME/scorrere/log"}) {
        EXPECT_THAT(page, HasSubstr(word));
    }
    EXPECT_THAT(runProgram({QStringLiteral("--help")}).out, ::testing::Not(HasSubstr("manual")))
        << "it is for those who make packages";
    write("completion", runProgram({QStringLiteral("manual"), QStringLiteral("bash")}).out);
    const auto completed = [this](const std::string& words) {
        const std::string script = "source " + at("completion").toStdString() + "; cd " +
                                   folder.path().toStdString() + "; COMP_WORDS=(" + words +
                                   "); COMP_CWORD=$((${#COMP_WORDS[@]}-1)); compopt() { :; }; _scorrere; "
                                   "echo \"${COMPREPLY[@]}\"";
        QProcess bash;
        bash.start(QStringLiteral("bash"), {QStringLiteral("-c"), QString::fromStdString(script)});
        EXPECT_TRUE(bash.waitForFinished(20'000));
        EXPECT_EQ(bash.readAllStandardError().toStdString(), "");
        return bash.readAllStandardOutput().trimmed().toStdString();
    };
    EXPECT_EQ(completed("scorrere pl"), "play");
    EXPECT_EQ(completed("scorrere play --rep"), "--report");
    EXPECT_EQ(completed("scorrere demo-data --form nd"), "ndjson");
    EXPECT_EQ(completed("scorrere --log warn"), "warning");
    EXPECT_EQ(completed("scorrere play --script compl"), "completion") << "files";
    EXPECT_EQ(completed("scorrere serve --qui"), "--quiet")
        << "what is said of all stands behind a command, too";
}

TEST_F(CommandLine, TellsProgramsWhatPeopleAreTold) {
    const Ran failed = runProgram({QStringLiteral("play"), at("none.json"), QStringLiteral("--json")});
    EXPECT_EQ(failed.code, 2);
    const auto error = nlohmann::json::parse(failed.err.substr(failed.err.find('{')))["error"];
    EXPECT_EQ(error["file"], at("none.json").toStdString());
    EXPECT_EQ(error["what"], "there is no such file");
    const Ran made = runProgram({QStringLiteral("demo-data"), QStringLiteral("--count"), QStringLiteral("9"),
                                 QStringLiteral("-o"), at("m.ndjson"), QStringLiteral("--json")});
    EXPECT_EQ(nlohmann::json::parse(made.out)["records"], 9);
    const Ran played =
        runProgram({QStringLiteral("play"), QStringLiteral("--count"), QStringLiteral("300"),
                    QStringLiteral("--json"), QStringLiteral("--script"), [this] {
                        write("s.json", R"({"scorrereScript":1,"steps":[{"at":0,"fling":400}]})");
                        return at("s.json");
                    }()});
    EXPECT_EQ(nlohmann::json::parse(played.out)["records"], 300);
    EXPECT_EQ(runProgram({QStringLiteral("demo-data"), QStringLiteral("--count"), QStringLiteral("9"),
                          QStringLiteral("-o"), at("q.ndjson"), QStringLiteral("--quiet")})
                  .out,
              "");
    EXPECT_THAT(runProgram({QStringLiteral("demo"), QStringLiteral("some.json")}).err,
                HasSubstr("nothing that demo takes"));
}

TEST_F(CommandLine, SaysHowFarItIsOnATerminalAndNothingInAPipe) {
    const QString count = QStringLiteral("400000");
    const Ran piped = runProgram({QStringLiteral("demo-data"), QStringLiteral("--count"), count,
                                  QStringLiteral("-o"), at("p.ndjson")});
    EXPECT_EQ(piped.err, "");
    QProcess
        terminal; // script(1) gives it one; exec, as a shell that waits hears of Ctrl+C as well, and says 130
    terminal.start(
        QStringLiteral("script"),
        {QStringLiteral("-qec"),
         QStringLiteral("exec " SCORRERE_PROGRAM_PATH " demo-data --count 6000000 -o ") + at("t.ndjson"),
         QStringLiteral("/dev/null")});
    std::string told;
    while (told.find('%') == std::string::npos && terminal.waitForReadyRead(60'000)) {
        told += terminal.readAllStandardOutput().toStdString();
    }
    EXPECT_THAT(told, HasSubstr("writing records "));
    EXPECT_THAT(told, HasSubstr("(Ctrl+C stops)"));
    terminal.write("\x03"); // as Ctrl+C does
    ASSERT_TRUE(terminal.waitForFinished(60'000));
    EXPECT_EQ(terminal.exitCode(), 3);
    EXPECT_THAT(terminal.readAllStandardOutput().toStdString(), HasSubstr("t.ndjson is not whole"));
}

TEST(ProgressLine, SaysWhatHowFarAndForHowLongStill) {
    using scorrere::cli::progressLine;
    EXPECT_EQ(progressLine("playing", 0.456, 500), "playing 45% (Ctrl+C stops)") << "too early to guess";
    EXPECT_EQ(progressLine("playing", 0.25, 2000), "playing 25%, 6 s left (Ctrl+C stops)");
    EXPECT_EQ(progressLine("playing", 0.1, 60'000), "playing 10%, 9 min left (Ctrl+C stops)");
    EXPECT_EQ(progressLine("playing", 3, 60'000), "playing 100%, 0 s left (Ctrl+C stops)");
}

TEST_F(CommandLine, ServesTheSurveyUntilItIsStopped) {
    QProcess process;
    process.start(QStringLiteral(SCORRERE_PROGRAM_PATH),
                  {QStringLiteral("serve"), QStringLiteral("--count"), QStringLiteral("30"),
                   QStringLiteral("--token"), QStringLiteral("t"), QStringLiteral("--latency"),
                   QStringLiteral("0..2")});
    ASSERT_TRUE(process.waitForReadyRead(20'000));
    const QString said = QString::fromUtf8(process.readAllStandardOutput());
    EXPECT_THAT(said.toStdString(), HasSubstr("30 sightings"));
    const QString address =
        said.mid(said.indexOf(QStringLiteral("http://")), 100).section(QLatin1Char('\n'), 0, 0);
    scorrere::render::HttpCall call;
    call.address = address.toStdString() + "/sightings?size=40";
    call.originHeaders = {{"Authorization", "Bearer t"}};
    const auto answer = scorrere::render::askHttp(call);
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_EQ(nlohmann::json::parse(answer->body)["data"]["sightings"].size(), 30u);
    std::string log = process.readAllStandardOutput().toStdString(); // some may have come while asking
    while (log.find("/sightings?size=40") == std::string::npos && process.waitForReadyRead(5000)) {
        log += process.readAllStandardOutput().toStdString();
    }
    EXPECT_THAT(log, HasSubstr("/sightings?size=40"));
    process.terminate();
    ASSERT_TRUE(process.waitForFinished(10'000));
    EXPECT_EQ(process.exitCode(), 0);
    EXPECT_EQ(runProgram({QStringLiteral("serve"), QStringLiteral("--latency"), QStringLiteral("fast")}).code,
              2);
}

TEST_F(CommandLine, PlaysACollectionThatIsReadInPagesTheSameEveryTime) {
    write("s.json", R"({"scorrereScript": 1, "name": "Down", "steps": [
        {"at": 0, "drag": {"by": -3000, "for": 500}}, {"at": 900, "map": 0.43},
        {"at": 1000, "insert": {"at": 0, "record": 3, "count": 2}}, {"at": 1500, "fling": 9000},
        {"wait": "idle"}]})");
    const auto played = [this](const char* latency) {
        const Ran ran = runProgram({QStringLiteral("play"),
                                    QStringLiteral(SCORRERE_SOURCE_DIR "/demo/service.collection.json"),
                                    QStringLiteral("--script"), at("s.json"), QStringLiteral("--report"),
                                    at("r.json"), QStringLiteral("--latency"), QString::fromLatin1(latency)});
        EXPECT_NE(ran.code, 2) << ran.err;
        return nlohmann::json::parse(read("r.json"));
    };
    const auto first = played("100");
    EXPECT_EQ(first["records"], 20'000);
    EXPECT_GT(first["requests"], 5);
    EXPECT_EQ(first["work"]["worstJumpPx"], 0);
    EXPECT_THAT(read("r.txt"), HasSubstr("20000 records, read by"));
    const auto second = played("100");
    EXPECT_EQ(first["work"], second["work"]);
    EXPECT_EQ(first["requests"], second["requests"]);
    EXPECT_NE(played("900")["work"]["fingerprint"], first["work"]["fingerprint"]);
}

TEST_F(CommandLine, WritesDemoDataThatItCanPlay) {
    ASSERT_EQ(runProgram({QStringLiteral("demo-data"), QStringLiteral("--count"), QStringLiteral("40"),
                          QStringLiteral("-o"), at("m.json"), QStringLiteral("--form"),
                          QStringLiteral("json"), QStringLiteral("--collection"), at("m.collection.json"),
                          QStringLiteral("--pictures"), at("wings")})
                  .code,
              0);
    EXPECT_EQ(nlohmann::json::parse(read("m.json")).size(), 40u);
    EXPECT_GT(QDir(at("wings")).entryList(QDir::Files).size(), 20);
    const Ran played =
        runProgram({QStringLiteral("play"), at("m.collection.json"), QStringLiteral("--report"), at("r.json"),
                    QStringLiteral("--picture"), at("p.png"), QStringLiteral("--size"),
                    QStringLiteral("1000x700"), QStringLiteral("--trace"), at("t.csv")});
    EXPECT_NE(played.code, 2) << played.err;
    const auto report = nlohmann::json::parse(read("r.json"));
    EXPECT_EQ(report["records"], 40);
    EXPECT_EQ(report["work"]["worstJumpPx"], 0);
    EXPECT_THAT(read("r.txt"), HasSubstr("40 records"));
    EXPECT_THAT(read("t.csv"), HasSubstr("frame,time_us"));
    EXPECT_EQ(QImage(at("p.png")).size(), QSize(1000, 700));
}

TEST_F(CommandLine, TheSameScriptGivesTheSameWork) {
    const QStringList arguments{QStringLiteral("play"), QStringLiteral("--count"), QStringLiteral("3000"),
                                QStringLiteral("--report"), at("r.json")};
    ASSERT_NE(runProgram(arguments).code, 2);
    const auto first = nlohmann::json::parse(read("r.json"))["work"];
    ASSERT_NE(runProgram(arguments).code, 2);
    EXPECT_EQ(nlohmann::json::parse(read("r.json"))["work"], first);
    EXPECT_GT(first["filled"], 50);
}

TEST_F(CommandLine, OverBudgetIsOneAndCannotIsTwo) {
    write("s.json", R"({"scorrereScript":1,"steps":[{"at":0,"fling":4000}]})");
    write("r.ndjson", "{\"a\":\"x\"}\n{\"a\":\"y\"}\n");
    write(
        "c.collection.json",
        R"({"scorrere":1,"source":{"file":"r.ndjson"},"items":{"record":{"text":"{a}"}},"budgets":{"built":1}})");
    const Ran over = runProgram(
        {QStringLiteral("play"), at("c.collection.json"), QStringLiteral("--script"), at("s.json")});
    EXPECT_EQ(over.code, 1) << over.err;
    EXPECT_THAT(over.out, HasSubstr("OVER   built 2.00, limit 1.00"));
    const Ran missing = runProgram({QStringLiteral("play"), at("none.collection.json")});
    EXPECT_EQ(missing.code, 2);
    EXPECT_THAT(missing.err, HasSubstr("there is no such file"));
    write("bad.json", "{\"scorrereScript\":1,\"steps\":[{\"at\":0}]}");
    EXPECT_EQ(runProgram({QStringLiteral("play"), QStringLiteral("--script"), at("bad.json")}).code, 2);
    EXPECT_EQ(runProgram({QStringLiteral("play"), QStringLiteral("--size"), QStringLiteral("huge")}).code, 2);
    EXPECT_EQ(
        runProgram({QStringLiteral("demo-data"), QStringLiteral("-o"), QStringLiteral("/nowhere/x")}).code,
        2);
}

TEST_F(CommandLine, TheDemoFilesInTheRepositoryPlay) {
    const QString demo = QStringLiteral(SCORRERE_SOURCE_DIR "/demo/");
    for (const char* name : {"hollowmere", "cards", "board", "strip", "pager", "nights", "timetable",
                             "ledger", "company", "stairs"}) {
        const Ran played = runProgram(
            {QStringLiteral("play"), demo + QLatin1String(name) + QStringLiteral(".collection.json"),
             QStringLiteral("--script"), demo + QStringLiteral("evening.script.json")});
        EXPECT_NE(played.code, 2) << played.err;
        EXPECT_THAT(played.out, HasSubstr("hold point jumped at most 0 px")) << name;
    }
}

} // namespace
