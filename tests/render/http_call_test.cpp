// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/http_call.h"

#include "testing/program/raw_server.h"

#include <QTcpServer>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <thread>

namespace scorrere::render {
namespace {

using scorrere::testing::RawServer;
using ::testing::HasSubstr;
using ::testing::Not;

HttpCall callTo(const std::string& address) {
    HttpCall call;
    call.address = address;
    return call;
}
std::string answerWith(const std::string& body, const std::string& headers = {}) {
    return "HTTP/1.1 200 Fine\r\nContent-Length: " + std::to_string(body.size()) +
           "\r\nConnection: close\r\n" + headers + "\r\n" + body;
}

TEST(HttpCall, GivesStatusHeadersTimesAndBody) {
    const RawServer server(
        answerWith("[1]", "Content-Type: application/json; charset=\"ISO-8859-1\"\r\nX-Trap: north\r\n"));
    HttpCall call = callTo(server.address() + "/a?b=c");
    call.headers = {{"X-Ask", "yes"}};
    const auto answer = askHttp(call);
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_EQ(answer->status, 200);
    EXPECT_EQ(answer->reason, "Fine");
    EXPECT_EQ(answer->body, "[1]");
    EXPECT_EQ(answer->charset, "iso-8859-1");
    EXPECT_EQ(answer->header("x-trap"), "north");
    EXPECT_TRUE(answer->cutOff.empty());
    EXPECT_GE(answer->waitMs, 0);
    EXPECT_THAT(server.heard(), HasSubstr("GET /a?b=c HTTP/1.1"));
    EXPECT_THAT(server.heard(), HasSubstr("X-Ask: yes"));
    EXPECT_THAT(server.heard(), HasSubstr("gzip")) << "packed answers are asked for";
}

TEST(HttpCall, UnpacksGzip) {
    // {"a":1} as gzip
    const unsigned char packed[] = {0x1f, 0x8b, 0x08, 0x00, 0x00, 0x00, 0x00, 0x00, 0x02,
                                    0xff, 0xab, 0x56, 0x4a, 0x54, 0xb2, 0x32, 0xac, 0x05,
                                    0x00, 0xaf, 0xac, 0x1b, 0x56, 0x07, 0x00, 0x00, 0x00};
    const RawServer server(answerWith(std::string(reinterpret_cast<const char*>(packed), sizeof packed),
                                      "Content-Encoding: gzip\r\n"));
    const auto answer = askHttp(callTo(server.address()));
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_EQ(answer->body, "{\"a\":1}");
}

TEST(HttpCall, ABodyThatEndsEarlyIsKeptAndSaidToBeCutOff) {
    const RawServer server("HTTP/1.1 200 OK\r\nContent-Length: 1000\r\n\r\n[{\"a\":1}");
    const auto answer = askHttp(callTo(server.address()));
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_EQ(answer->body, "[{\"a\":1}");
    EXPECT_THAT(answer->cutOff, HasSubstr("8 of 1000"));
}

TEST(HttpCall, SecretsStayWithTheirOrigin) {
    const RawServer other(answerWith("[]"));
    const RawServer first("HTTP/1.1 302 Found\r\nLocation: " + other.address() +
                          "/there\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");
    HttpCall call = callTo(first.address());
    call.originHeaders = {{"Authorization", "Bearer light-trap"}};
    const auto answer = askHttp(call);
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_EQ(answer->redirects, 1);
    EXPECT_EQ(answer->address, other.address() + "/there");
    EXPECT_THAT(first.heard(), HasSubstr("light-trap"));
    EXPECT_THAT(other.heard(), Not(HasSubstr("light-trap")));
}

TEST(HttpCall, CirclesOfRedirectsEnd) {
    const RawServer server(
        "HTTP/1.1 302 Found\r\nLocation: /again\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");
    const auto answer = askHttp(callTo(server.address()));
    ASSERT_FALSE(answer);
    EXPECT_THAT(answer.error().text(), HasSubstr("redirects more than"));
}

TEST(HttpCall, WhatIsNoAddressIsRefused) {
    for (const char* address : {"", "trap", "ftp://example.org/", "http://", "http:// space/"}) {
        const auto answer = askHttp(callTo(address));
        ASSERT_FALSE(answer) << address;
        EXPECT_EQ(answer.error().code, ErrorCode::Invalid) << address;
        EXPECT_FALSE(answer.error().advice.empty());
    }
}

TEST(HttpCall, ConnectionFaultsHaveWordsOfTheirOwn) {
    QTcpServer free;
    free.listen(QHostAddress::LocalHost, 0);
    const int port = free.serverPort();
    free.close();
    EXPECT_THAT(askHttp(callTo("http://127.0.0.1:" + std::to_string(port))).error().text(),
                HasSubstr("refused the connection"));
    EXPECT_THAT(askHttp(callTo("http://no-such-host.invalid/")).error().text(),
                HasSubstr("there is no host named no-such-host.invalid"));
    const RawServer plain("this is not TLS");
    std::string secure = plain.address();
    secure.replace(0, 4, "https");
    HttpCall call = callTo(secure);
    call.timeoutMs = 2000;
    const auto tls = askHttp(call);
    ASSERT_FALSE(tls);
    EXPECT_EQ(tls.error().code, ErrorCode::Unreadable);
    EXPECT_FALSE(tls.error().advice.empty());
    const RawServer silent("", true);
    EXPECT_THAT(askHttp(callTo(silent.address())).error().text(), HasSubstr("without an answer"));
}

TEST(HttpCall, SilenceEndsWithATimeout) {
    const RawServer server("", false);
    HttpCall call = callTo(server.address());
    call.timeoutMs = 120;
    const auto answer = askHttp(call);
    ASSERT_FALSE(answer);
    EXPECT_THAT(answer.error().text(), HasSubstr("did not answer within 0.12 s"));
}

TEST(HttpCall, StopsWhenAsked) {
    const RawServer server("", false);
    std::stop_source stop;
    std::thread later([&stop] { stop.request_stop(); });
    const auto answer = askHttp(callTo(server.address()), stop.get_token());
    later.join();
    ASSERT_FALSE(answer);
    EXPECT_EQ(answer.error().code, ErrorCode::Cancelled);
}

TEST(HttpCall, AnAnswerBeyondTheLimitIsNotKept) {
    const RawServer server(answerWith(std::string(100'000, 'x')));
    HttpCall call = callTo(server.address());
    call.maxBytes = 1000;
    const auto answer = askHttp(call);
    ASSERT_FALSE(answer);
    EXPECT_EQ(answer.error().code, ErrorCode::TooLarge);
}

TEST(HttpStatus, EachThatMattersSaysWhatToDo) {
    HttpAnswer answer;
    answer.status = 204;
    EXPECT_FALSE(statusError(answer));
    answer.headers = {{"Retry-After", "7"}};
    for (const auto& [status, says] :
         std::vector<std::pair<int, const char*>>{{401, "who asks"},
                                                  {403, "refuses"},
                                                  {404, "nothing at this address"},
                                                  {429, "wait 7 s"},
                                                  {500, "failed inside"},
                                                  {503, "wait 7 s"},
                                                  {418, "answers"}}) {
        answer.status = status;
        const auto error = statusError(answer);
        ASSERT_TRUE(error) << status;
        EXPECT_THAT(error->text(), HasSubstr(says));
        EXPECT_FALSE(error->advice.empty()) << status;
    }
}

TEST(Weather, HoldsACallBackAndItsBytesToo) {
    const RawServer server(answerWith(std::string(2000, 'x')));
    HttpCall call = callTo(server.address());
    call.weather.latencyMs = 40;
    call.weather.bytesPerSecond = 20'000;
    const auto answer = askHttp(call);
    ASSERT_TRUE(answer) << answer.error().text();
    EXPECT_GE(answer->waitMs, 40);
    EXPECT_GE(answer->transferMs, 99);
    EXPECT_EQ(answer->body.size(), 2000U);
    EXPECT_FALSE(answer->byWeather);
}

TEST(Weather, WhatIsOnItsWayWhenTheNetworkGoesDoesNotCome) {
    const RawServer server(answerWith("[1]"));
    const auto manager = HttpFlight::makeManager();
    HttpFlight flight(*manager, callTo(server.address()));
    std::optional<Result<HttpAnswer>> came;
    QObject::connect(&flight, &HttpFlight::ended,
                     [&came](const Result<HttpAnswer>& answer) { came = answer; });
    flight.start();
    Weather storm;
    storm.offline = true;
    flight.setWeather(storm);
    ASSERT_TRUE(QTest::qWaitFor([&came] { return came.has_value(); }));
    ASSERT_FALSE(*came);
    EXPECT_THAT(came->error().text(), HasSubstr("there is no network"));
    EXPECT_EQ(flight.fault(), HttpFlight::Fault::Unreachable);
}

TEST(Weather, LosesFailsOrCutsOffWithoutAskingAnybody) {
    const RawServer server(answerWith("[1]"));
    HttpCall call = callTo(server.address());
    call.timeoutMs = 30;
    call.weather.lossShare = 1;
    EXPECT_THAT(askHttp(call).error().text(), HasSubstr("the weather you set lost it"));
    call.weather = {};
    call.weather.failShare = 1;
    const auto failing = askHttp(call);
    ASSERT_TRUE(failing);
    EXPECT_EQ(failing->status, 503);
    EXPECT_THAT(statusError(*failing)->message, HasSubstr("503, by the weather"));
    call.weather = {};
    call.weather.offline = true;
    EXPECT_THAT(askHttp(call).error().text(), HasSubstr("there is no network"));
    EXPECT_EQ(server.heard(), "");
    call.weather = {};
    EXPECT_EQ(askHttp(call)->body, "[1]");
}

} // namespace
} // namespace scorrere::render
