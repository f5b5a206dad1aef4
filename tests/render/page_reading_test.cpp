// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/page_reading.h"

#include "service/moths.h"

#include <gmock/gmock.h>

namespace scorrere::render {
namespace {

HttpAnswer answerOf(const std::string& body, HttpHeaders headers = {}) {
    HttpAnswer answer;
    answer.address = "http://127.0.0.1:1/by-link?page=2";
    answer.status = 200;
    answer.headers = std::move(headers);
    answer.headers.emplace_back("Content-Type", "application/json");
    answer.body = body;
    return answer;
}

TEST(PageReading, LinksAreFoundByRelationWhateverStandsBetween) {
    const HttpAnswer answer = answerOf(
        "[]", {{"Link", "</a?x=1,2>; title=\"one, two\"; rel=\"first\", <?page=3>; rel=\"next last\", "
                        "<http://other/x>;rel=prev"}});
    EXPECT_EQ(linkTarget(answer, "first"), "http://127.0.0.1:1/a?x=1,2");
    EXPECT_EQ(linkTarget(answer, "next"), "http://127.0.0.1:1/by-link?page=3");
    EXPECT_EQ(linkTarget(answer, "prev"), "http://other/x");
    EXPECT_EQ(linkTarget(answer, "up"), "");
}

TEST(PageReading, RetryAfterIsSecondsOrADate) {
    EXPECT_EQ(retryAfterMs(answerOf("", {{"Retry-After", "7"}}), 0), 7000);
    EXPECT_EQ(retryAfterMs(answerOf("", {{"Retry-After", "Thu, 01 Jan 1970 00:00:30 GMT"}}), 10'000), 20'000);
    EXPECT_EQ(retryAfterMs(answerOf("", {{"Retry-After", "soon"}}), 0), 0);
    EXPECT_EQ(retryAfterMs(answerOf("", {{"Retry-After", "-5"}}), 0), 0);
    EXPECT_EQ(retryAfterMs(answerOf("", {{"Retry-After", "999999999"}}), 0), 86'400'000);
}

TEST(PageReading, GivesRecordsKeysNextAndTotal) {
    SourceSpec source;
    source.pages.style = PageStyle::Cursor;
    source.pages.next = "$.cursor.next";
    source.pages.previous = "$.cursor.previous";
    source.pages.total = "$.total";
    source.reading.items = "$.rows[*]";
    source.key = {"id"};
    const auto page = readPage(
        source,
        answerOf(
            R"({"rows": [{"id": 3, "n": "a"}, {"n": "b"}], "total": 40, "cursor": {"next": "x\"y", "previous": null}})"),
        {{"n", FieldType::Text}, {"id", FieldType::Integer}}, 7, {});
    ASSERT_TRUE(page) << page.error().text();
    ASSERT_EQ(page->records.size(), 2U);
    EXPECT_EQ(page->records[0].key, "3");
    EXPECT_NE(page->records[1].key, "");
    EXPECT_NE(page->records[0].content, page->records[1].content);
    EXPECT_EQ(page->records[0].table->fields()[0].name, "n"); // in the order of the collection
    EXPECT_EQ(page->next, "x\"y");
    EXPECT_EQ(page->previous, "");
    EXPECT_EQ(page->total, 40);
}

TEST(PageReading, AnAddressInTheBodyIsResolved) {
    SourceSpec source;
    source.pages.style = PageStyle::Next;
    source.pages.next = "$.next";
    source.reading.items = "$.rows[*]";
    const auto page = readPage(source, answerOf(R"({"rows": [{"id": 3}], "next": "?after=3"})"), {}, 0, {});
    ASSERT_TRUE(page);
    EXPECT_EQ(page->next, "http://127.0.0.1:1/by-link?after=3");
}

TEST(PageReading, WhatIsNoPageSaysSo) {
    SourceSpec source;
    source.pages.style = PageStyle::Number;
    source.reading.items = "$.rows[*]";
    const auto page = readPage(source, answerOf("<html>sign in</html>"), {}, 0, {});
    ASSERT_FALSE(page);
    EXPECT_FALSE(page.error().message.empty());
}

} // namespace
} // namespace scorrere::render
