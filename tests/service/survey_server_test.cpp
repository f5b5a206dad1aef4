// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/survey_server.h"

#include "render/http_call.h"
#include "service/wing_png.h"

#include <QTcpSocket>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace scorrere::service {
namespace {

using nlohmann::json;
using ::testing::HasSubstr;

class SurveyServerTest : public ::testing::Test {
protected:
    SurveyServer& serve(ServerSettings settings = {}) {
        settings.count = settings.count == 20'000 ? 95 : settings.count;
        server_ = std::make_unique<SurveyServer>(settings, wingPng);
        const Outcome started = server_->start();
        EXPECT_TRUE(started) << started.error().text();
        return *server_;
    }
    render::HttpAnswer ask(const std::string& path, const render::HttpHeaders& headers = {}) {
        render::HttpCall call;
        call.address = path.starts_with("http") ? path : server_->address() + path;
        call.headers = headers;
        auto answer = render::askHttp(call);
        EXPECT_TRUE(answer) << answer.error().text();
        return answer ? *answer : render::HttpAnswer{};
    }
    static std::vector<std::int64_t> ids(const json& sightings) {
        std::vector<std::int64_t> found;
        for (const json& sighting : sightings) {
            found.push_back(sighting["id"]);
        }
        return found;
    }
    std::unique_ptr<SurveyServer> server_;
};

/// Every style gives every sighting once, in the same order, and ends.
TEST_F(SurveyServerTest, EveryPageStyleGivesAllSightingsOnce) {
    serve();
    std::vector<std::int64_t> all;
    for (std::int64_t i = 1; i <= 95; ++i) {
        all.push_back(i);
    }
    const auto collect = [](std::vector<std::int64_t>& to, const json& sightings) {
        for (const std::int64_t id : ids(sightings)) {
            to.push_back(id);
        }
    };
    std::vector<std::int64_t> numbered;
    std::vector<std::int64_t> offset;
    for (int page = 1; page <= 6; ++page) {
        const json a = json::parse(ask("/sightings?page=" + std::to_string(page) + "&size=20").body);
        collect(numbered, a["data"]["sightings"]);
        EXPECT_EQ(a["total"], 95);
        collect(offset,
                json::parse(
                    ask("/by-offset?limit=20&offset=" + std::to_string((page - 1) * 20)).body)["sightings"]);
    }
    EXPECT_EQ(numbered, all);
    EXPECT_EQ(offset, all);
    std::vector<std::int64_t> cursor;
    std::string next;
    do {
        const json page =
            json::parse(ask("/by-cursor?limit=20" + (next.empty() ? "" : "&cursor=" + next)).body);
        collect(cursor, page["sightings"]);
        next = page["cursor"]["next"].is_null() ? "" : page["cursor"]["next"].get<std::string>();
    } while (!next.empty() && cursor.size() < 200);
    EXPECT_EQ(cursor, all);
    std::vector<std::int64_t> followed;
    next = "/by-next?limit=20";
    do {
        const json page = json::parse(ask(next).body);
        collect(followed, page["sightings"]);
        next = page["next"].is_null() ? "" : page["next"].get<std::string>();
    } while (!next.empty() && followed.size() < 200);
    EXPECT_EQ(followed, all);
    std::vector<std::int64_t> linked;
    next = "/by-link?size=20";
    do {
        const auto answer = ask(next);
        collect(linked, json::parse(answer.body));
        const std::string links = answer.header("Link");
        const std::size_t end = links.find(">; rel=\"next\"");
        const std::size_t start = end == std::string::npos ? end : links.rfind('<', end);
        next = end == std::string::npos ? "" : links.substr(start + 1, end - start - 1);
    } while (!next.empty() && linked.size() < 200);
    EXPECT_EQ(linked, all);
}

TEST_F(SurveyServerTest, SortsFiltersAndKeepsTotalsToItself) {
    serve();
    const json sorted = json::parse(ask("/sightings?size=95&sort=-count").body)["data"]["sightings"];
    for (std::size_t i = 1; i < sorted.size(); ++i) {
        EXPECT_GE(sorted[i - 1]["count"], sorted[i]["count"]);
    }
    const json queried = json::parse(ask("/sightings?size=95&status=queried").body);
    EXPECT_GT(queried["total"], 0);
    EXPECT_LT(queried["total"], 95);
    for (const json& sighting : queried["data"]["sightings"]) {
        EXPECT_EQ(sighting["status"], "queried");
    }
    EXPECT_FALSE(json::parse(ask("/sightings?total=no").body).contains("total"));
}

TEST_F(SurveyServerTest, AnUnchangedPageCostsNothing) {
    serve();
    const auto first = ask("/sightings?page=2");
    const auto again = ask("/sightings?page=2", {{"If-None-Match", first.header("ETag")}});
    EXPECT_EQ(again.status, 304);
    EXPECT_TRUE(again.body.empty());
    EXPECT_EQ(ask("/sightings?page=3", {{"If-None-Match", first.header("ETag")}}).status, 200);
}

TEST_F(SurveyServerTest, TheTokenIsNeededWhenOneWasSet) {
    ServerSettings settings;
    settings.token = "t";
    serve(settings);
    EXPECT_EQ(ask("/sightings").status, 401);
    EXPECT_EQ(ask("/sightings", {{"Authorization", "Bearer u"}}).status, 401);
    EXPECT_EQ(ask("/sightings", {{"Authorization", "Bearer t"}}).status, 200);
    EXPECT_EQ(ask("/").status, 200);
}

TEST_F(SurveyServerTest, FaultsComeWhenAskedFor) {
    serve();
    for (const auto& [fault, status] : std::vector<std::pair<std::string, int>>{{"unauthorised", 401},
                                                                                {"forbidden", 403},
                                                                                {"missing", 404},
                                                                                {"busy", 429},
                                                                                {"broken", 500},
                                                                                {"away", 503}}) {
        EXPECT_EQ(ask("/sightings?fault=" + fault).status, status) << fault;
    }
    EXPECT_EQ(ask("/sightings?fault=busy").header("Retry-After"), "2");
    EXPECT_THAT(ask("/sightings?fault=page").body, HasSubstr("<html>"));
    EXPECT_TRUE(ask("/sightings?fault=empty").body.empty());
    EXPECT_FALSE(ask("/sightings?fault=truncated").cutOff.empty());
    EXPECT_FALSE(ask("/sightings?fault=too-long").cutOff.empty());
    EXPECT_THAT(ask("/sightings?fault=lost").cutOff, HasSubstr("after 0 of"));
    EXPECT_FALSE(json::accept(ask("/sightings?fault=too-short").body));
    EXPECT_FALSE(json::accept(ask("/sightings?fault=bad-utf8").body));
    EXPECT_EQ(ask("/sightings?fault=moved&page=1&size=5").redirects, 1);
    EXPECT_EQ(ask("/sightings?fault=deep").body.size(), 200'000U);
    EXPECT_EQ(ask("/sightings?fault=number").body, "42\n");
    const json second = json::parse(ask("/sightings?fault=repeat&page=2&size=20").body)["data"]["sightings"];
    EXPECT_EQ(ids(second)[0], 18) << "three of the page before come again";
    EXPECT_EQ(json::parse(ask("/sightings?fault=endless&page=50&size=20").body)["data"]["sightings"].size(),
              20U);
}

TEST_F(SurveyServerTest, OtherFormsAndPicturesAreThere) {
    serve();
    EXPECT_THAT(ask("/sightings.csv?size=3").body, HasSubstr("id,species,site"));
    EXPECT_THAT(ask("/sightings.xml?size=3").body, HasSubstr("<sighting id=\"1\""));
    EXPECT_EQ(json::parse(ask("/sightings/7").body)["id"], 7);
    EXPECT_EQ(ask("/sightings/70000").status, 404);
    int there = 0;
    int missing = 0;
    for (int i = 1; i <= 60; ++i) {
        const auto answer = ask("/wings/" + std::to_string(i) + "-s11.png");
        there += answer.status == 200 && answer.body.starts_with("\x89PNG") ? 1 : 0;
        missing += answer.status == 404 ? 1 : 0;
    }
    EXPECT_GT(there, 40);
    EXPECT_GT(missing, 0) << "some are missing, as on any server";
}

TEST_F(SurveyServerTest, FailsAsOftenAsItWasTold) {
    ServerSettings settings;
    settings.failRate = 0.5;
    serve(settings);
    int failed = 0;
    for (int i = 0; i < 100; ++i) {
        failed += ask("/sightings?size=1").status == 503 ? 1 : 0;
    }
    EXPECT_GT(failed, 25);
    EXPECT_LT(failed, 75);
}

TEST_F(SurveyServerTest, LosesAsManyAnswersAsItWasTold) {
    ServerSettings settings;
    settings.lossRate = 0.5;
    serve(settings);
    int lost = 0;
    for (int i = 0; i < 100; ++i) {
        lost += ask("/sightings?size=1").cutOff.empty() ? 0 : 1;
    }
    EXPECT_GT(lost, 25);
    EXPECT_LT(lost, 75);
    EXPECT_EQ(ask("/").cutOff, ""); // what there is can always be asked for
}

TEST_F(SurveyServerTest, KeepsALogOfWhatItReceived) {
    SurveyServer& server = serve();
    // A call is logged when its answer is out, which its caller may know first.
    (void)ask("/sightings?page=4&size=2");
    ASSERT_TRUE(QTest::qWaitFor([&] { return server.received().size() == 1; }));
    (void)ask("/sightings?fault=broken");
    ASSERT_TRUE(QTest::qWaitFor([&] { return server.received().size() == 2; }));
    const auto calls = server.received();
    EXPECT_EQ(calls[0].what, "/sightings?page=4&size=2");
    EXPECT_EQ(calls[0].status, 200);
    EXPECT_GT(calls[0].bytes, 100);
    EXPECT_EQ(calls[1].note, "fault: broken");
    EXPECT_EQ(server.received(1).size(), 1U);
}

/// The stream is read from a socket: the call that waits for a whole answer would wait for ever.
TEST_F(SurveyServerTest, LiveChangesComeAsPatchesAndGoOnWhereOneStopped) {
    SurveyServer& server = serve();
    const auto listen = [&](const std::string& more, int events) {
        QTcpSocket socket;
        socket.connectToHost(QStringLiteral("127.0.0.1"), static_cast<quint16>(server.port()));
        EXPECT_TRUE(socket.waitForConnected());
        socket.write(QByteArray::fromStdString("GET /live?every=1 HTTP/1.1\r\nHost: x\r\n" + more + "\r\n"));
        std::string heard;
        while (std::count(heard.begin(), heard.end(), '\n') < 5 * events + 12 &&
               socket.waitForReadyRead(5000)) {
            heard += socket.readAll().toStdString();
        }
        return heard;
    };
    const std::string first = listen("", 4);
    EXPECT_THAT(first, HasSubstr("text/event-stream"));
    EXPECT_THAT(first, HasSubstr("id: 1\n"));
    EXPECT_THAT(first, HasSubstr("\"op\":\"add\""));
    EXPECT_THAT(first, HasSubstr("\"op\":\"replace\""));
    const std::string resumed = listen("Last-Event-ID: 41\r\n", 1);
    EXPECT_THAT(resumed, HasSubstr("id: 42\n"));
    EXPECT_THAT(resumed, ::testing::Not(HasSubstr("id: 1\n")));
}

TEST_F(SurveyServerTest, APortThatIsTakenIsSaidToBe) {
    ServerSettings settings;
    settings.port = serve().port();
    SurveyServer second(settings, wingPng);
    const Outcome started = second.start();
    ASSERT_FALSE(started);
    EXPECT_THAT(started.error().text(), HasSubstr("cannot be had"));
}

TEST_F(SurveyServerTest, SightingsAreChangedAddedAndRemovedOrRefused) {
    serve();
    const auto tell = [this](const char* method, const std::string& path, const std::string& body = {}) {
        render::HttpCall call;
        call.address = server_->address() + path;
        call.method = method;
        call.body = body;
        call.contentType = "application/json";
        auto answer = render::askHttp(call);
        EXPECT_TRUE(answer) << answer.error().text();
        return answer ? *answer : render::HttpAnswer{};
    };
    const auto all = [this](const std::string& query) {
        return ids(json::parse(ask("/sightings?size=100" + query).body)["data"]["sightings"]);
    };
    const render::HttpAnswer changed =
        tell("PATCH", "/sightings/7", R"({"count": 4242, "status": "queried"})");
    EXPECT_EQ(changed.status, 200);
    EXPECT_EQ(json::parse(changed.body)["count"], 4242);
    EXPECT_EQ(json::parse(ask("/sightings/7").body)["status"], "queried");
    EXPECT_EQ(json::parse(ask("/sightings?page=1&size=10").body)["data"]["sightings"][6]["count"], 4242);
    EXPECT_EQ(tell("PATCH", "/sightings/7", R"({"count": -1})").status, 422);
    EXPECT_THAT(tell("PATCH", "/sightings/7", R"({"colour": 1})").body, HasSubstr("no colour"));
    EXPECT_EQ(tell("PATCH", "/sightings/7", R"({"status": "lost"})").status, 422);
    EXPECT_EQ(tell("PATCH", "/sightings/960", "{}").status, 404);
    EXPECT_EQ(json::parse(ask("/sightings/7").body)["count"], 4242) << "what is refused changes nothing";

    EXPECT_EQ(tell("DELETE", "/sightings/7").status, 204);
    EXPECT_EQ(ask("/sightings/7").status, 404);
    EXPECT_EQ(all("").size(), 94U);
    (void)tell("PATCH", "/sightings/9", R"({"status": "verified"})");
    EXPECT_EQ(tell("DELETE", "/sightings/9").status, 409);

    EXPECT_EQ(tell("POST", "/sightings", R"({"id": 5000, "species": "A new one", "count": 2})").status, 201);
    EXPECT_EQ(tell("POST", "/sightings", R"({"id": 5000, "species": "Again"})").status, 409);
    EXPECT_EQ(tell("POST", "/sightings", R"({"species": "Without an id"})").status, 422);
    EXPECT_EQ(all("").front(), 5000);
    EXPECT_EQ(all("&sort=count").size(), 95U);
    EXPECT_THAT(all("&status=provisional"), ::testing::Contains(5000));
    EXPECT_THAT(server_->received(0).front().what, ::testing::StartsWith("PATCH /sightings/7"));
}

} // namespace
} // namespace scorrere::service
