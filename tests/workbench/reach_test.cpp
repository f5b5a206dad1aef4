// SPDX-License-Identifier: GPL-3.0-or-later
// What a collection from elsewhere may reach, and what it may not before somebody says so.
#include "workbench/model/reach.h"

#include "testing/program/raw_server.h"
#include "testing/program/window_fixture.h"

#include <QCheckBox>
#include <QPushButton>
#include <fmt/format.h>
#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Reach;
using workbench::reachOf;

const std::string kAnswer = "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: 32\r\n\r\n"
                            "[{\"id\":1,\"pic\":\"http://x/1.png\"}]";

CollectionDocument parsed(const std::string& source, const std::string& record,
                          const std::string& path = "/d/c.json") {
    auto document = CollectionDocument::parse(
        fmt::format(R"({{"scorrere": 1, "source": {}, "items": {{"record": {}}}}})", source, record), path);
    EXPECT_TRUE(document) << (document ? "" : document.error().text());
    return std::move(*document);
}

TEST(Reach, OfACollectionIsAllThatItAsksBeyondItsFolder) {
    EXPECT_TRUE(reachOf(parsed(R"({"file": "r.csv"})", R"({"picture": "wings/{id}.png"})")).empty());
    EXPECT_THAT(reachOf(parsed(R"({"file": "../r.csv"})", R"({"text": "x"})")),
                ElementsAre(Reach{Reach::Kind::File, "../r.csv", ""}));
    EXPECT_THAT(reachOf(parsed(R"({"file": "/etc/passwd"})", R"({"text": "x"})")),
                ElementsAre(Reach{Reach::Kind::File, "/etc/passwd", ""}));
    EXPECT_THAT(
        reachOf(parsed(R"({"address": "https://a.org/x{?page}", "sign": {"bearer": "KEY"},
                           "live": {"address": "https://b.org/live"}})",
                       R"({"column": [{"picture": "https://c.org/{id}.png"}, {"picture": "/w/{id}.png"}]})")),
        ElementsAre(Reach{Reach::Kind::Host, "https://a.org", ""},
                    Reach{Reach::Kind::Host, "https://b.org", ""},
                    Reach{Reach::Kind::Secret, "KEY", "https://a.org"},
                    Reach{Reach::Kind::Host, "https://c.org", ""}));
    EXPECT_THAT(reachOf(parsed(R"({"list": "a"})", R"({"picture": "{value}"})")),
                ElementsAre(Reach{Reach::Kind::AnyHost, "*", ""}));
    EXPECT_THAT(reachOf(parsed(R"({"list": "a"})", R"({"picture": "https://{value}"})")),
                ElementsAre(Reach{Reach::Kind::AnyHost, "*", ""}));
    EXPECT_TRUE(reachOf(parsed(R"({"address": "demo:/sightings", "sign": {"bearer": "HOLLOWMERE"}})",
                               R"({"picture": "{picture}"})"))
                    .empty());
}

class ReachTest : public WindowTest {
protected:
    bool until(const std::function<bool()>& holds) { return QTest::qWaitFor(holds, 20'000); }
    void answer(const char* choice) {
        auto* button =
            window->question().findChild<QPushButton*>(QStringLiteral("ask_%1").arg(QLatin1String(choice)));
        ASSERT_NE(button, nullptr) << choice;
        QTest::mouseClick(button, Qt::LeftButton);
    }
    bool opened() {
        return until([&] { return document() != nullptr && !window->workspace().opening().isBusy(); });
    }
    std::string collection(const char* name, const std::string& source) {
        return write(name, fmt::format(R"({{"scorrere": 1, "name": "theirs", "source": {},
            "items": {{"record": {{"text": "{{id}}"}}}}}})",
                                       source));
    }
};

TEST_F(ReachTest, ItsHostAndItsSecretWaitForAnAnswerAndTheAnswerIsRemembered) {
    const RawServer server(kAnswer);
    secrets->held["OTHER_PROGRAM"] = "do-not-tell";
    const std::string path = collection(
        "c.collection.json",
        fmt::format(R"({{"address": "{}/x", "sign": {{"bearer": "OTHER_PROGRAM"}}}})", server.address()));
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(opened());
    ASSERT_TRUE(until([&] { return window->question().isAsking(); }));
    EXPECT_THAT(window->question().text().toStdString(), HasSubstr("1 host, 1 secret"));
    EXPECT_EQ(server.heard(), "") << "nobody was asked";
    EXPECT_TRUE(secrets->asked.empty()) << "nor was the secret looked for";
    answer("allow");
    ASSERT_TRUE(until([&] { return flow().collection() != nullptr && live().records().size() == 1; }));
    EXPECT_THAT(server.heard(), HasSubstr("do-not-tell"));
    window.reset();
    makeWindow();
    secrets->held["OTHER_PROGRAM"] = "do-not-tell";
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(until([&] { return flow().collection() != nullptr && live().records().size() == 1; }));
    EXPECT_FALSE(window->question().isAsking());
    // Other content under the same name is another collection.
    collection(
        "c.collection.json",
        fmt::format(R"({{"address": "{}/y", "sign": {{"bearer": "OTHER_PROGRAM"}}}})", server.address()));
    window->workspace().opening().open(QString::fromStdString(path));
    EXPECT_TRUE(until([&] { return window->question().isAsking(); }));
}

TEST_F(ReachTest, PartOfItCanBeAllowed) {
    const RawServer server(kAnswer);
    const std::string path = collection(
        "c.collection.json",
        fmt::format(R"({{"address": "{}/x", "sign": {{"bearer": "OTHER_PROGRAM"}}}})", server.address()));
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(until([&] { return window->question().isAsking(); }));
    window->question().findChild<QCheckBox*>(QStringLiteral("ask_line1"))->setChecked(false);
    answer("allow");
    ASSERT_TRUE(until([&] { return window->question().isAsking(); })) << "the secret is still to be allowed";
    EXPECT_THAT(window->question().text().toStdString(), Not(HasSubstr("host")));
    EXPECT_EQ(server.heard(), "");
}

TEST_F(ReachTest, AFileOutsideItsFolderWaits) {
    QTemporaryDir elsewhere;
    std::ofstream(elsewhere.filePath(QStringLiteral("key")).toStdString()) << "line one\nline two\n";
    const std::string path =
        collection("c.collection.json",
                   fmt::format(R"({{"file": "{}/key", "form": "lines"}})", elsewhere.path().toStdString()));
    window->workspace().opening().open(QString::fromStdString(path));
    ASSERT_TRUE(until([&] { return window->question().isAsking(); }));
    EXPECT_THAT(window->question().text().toStdString(), HasSubstr("1 file outside its folder"));
    EXPECT_EQ(live().records().size(), 0);
    answer("not");
    EXPECT_EQ(live().records().size(), 0);
}

TEST_F(ReachTest, WhatIsTypedOrSavedHereNeedsNoQuestion) {
    const RawServer server(kAnswer);
    window->workspace().opening().openPlace(QString::fromStdString(server.address() + "/list"));
    ASSERT_TRUE(until([&] { return flow().collection() != nullptr && live().records().size() == 1; }));
    EXPECT_FALSE(window->question().isAsking());
    const QString path = folder.filePath(QStringLiteral("mine.collection.json"));
    ASSERT_TRUE(isSaved(path));
    window.reset();
    makeWindow();
    window->workspace().opening().open(path);
    ASSERT_TRUE(until([&] { return flow().collection() != nullptr && live().records().size() == 1; }));
    EXPECT_FALSE(window->question().isAsking());
}

TEST_F(ReachTest, ASecretIsNotToldToAnotherServiceUnasked) {
    const RawServer first(kAnswer);
    const RawServer other(kAnswer);
    secrets->held["TRAP_KEY"] = "light-trap";
    window->workspace().opening().openPlace(QString::fromStdString(first.address() + "/list"));
    ASSERT_TRUE(opened());
    SourceSpec source = document()->source;
    source.sign = {SignSpec::Kind::Bearer, "TRAP_KEY", {}};
    source.headers = {{"X-Trap", "north"}};
    window->workspace().changeSource(QStringLiteral("sign"), source);
    ASSERT_TRUE(until([&] { return first.heard().find("light-trap") != std::string::npos; }));
    ASSERT_TRUE(opened());
    // Another address typed over it takes neither along.
    window->workspace().opening().openPlace(QString::fromStdString(other.address() + "/list"));
    ASSERT_TRUE(until([&] { return !other.heard().empty() && !window->workspace().opening().isBusy(); }));
    EXPECT_THAT(other.heard(), Not(HasSubstr("light-trap")));
    EXPECT_THAT(other.heard(), Not(HasSubstr("X-Trap")));
    EXPECT_EQ(document()->source.sign.kind, SignSpec::Kind::None);
    // Named for the other one, it is asked about: it was given for the first.
    source = document()->source;
    source.sign = {SignSpec::Kind::Bearer, "TRAP_KEY", {}};
    window->workspace().changeSource(QStringLiteral("sign"), source);
    ASSERT_TRUE(until([&] { return window->question().isAsking(); }));
    EXPECT_THAT(window->question().text().toStdString(), HasSubstr("given for another service"));
    EXPECT_THAT(other.heard(), Not(HasSubstr("light-trap")));
    answer("allow");
    EXPECT_TRUE(until([&] { return other.heard().find("light-trap") != std::string::npos; }));
}

TEST_F(ReachTest, AfterTheDemoServiceAnAddressOfOnesOwnIsAskedWithoutItsToken) {
    const RawServer server(kAnswer);
    QTest::keyClick(window.get(), Qt::Key_4, Qt::ControlModifier);
    ASSERT_TRUE(opened());
    window->workspace().opening().openPlace(QString::fromStdString(server.address() + "/list"));
    ASSERT_TRUE(until([&] { return !server.heard().empty() && !window->workspace().opening().isBusy(); }));
    EXPECT_THAT(server.heard(), Not(HasSubstr("Authorization")));
    EXPECT_EQ(document()->source.sign.kind, SignSpec::Kind::None);
}

} // namespace
} // namespace scorrere::testing
