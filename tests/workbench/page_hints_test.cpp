// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/page_hints.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

using ::testing::Contains;
using ::testing::ElementsAre;
using ::testing::HasSubstr;

PageHints hintsOf(const std::string& body, const render::HttpHeaders& headers = {}) {
    Answer answer;
    answer.isCall = true;
    answer.http.address = "http://there/list";
    answer.http.headers = headers;
    answer.take(body, "UTF-8", nullptr, {});
    return pageHints(answer);
}

TEST(PageHints, AnAnswerTellsWhereTheNextPageIs) {
    const PageHints link = hintsOf("[]", {{"Link", "</list?page=2>; rel=\"next\""}});
    EXPECT_EQ(link.style, PageStyle::Link);
    const PageHints address = hintsOf(R"({"links": {"next": "/list?after=9"}, "data": [{"next": "no"}]})");
    EXPECT_EQ(address.style, PageStyle::Next);
    EXPECT_THAT(address.nexts, ElementsAre("$['links']['next']"));
    EXPECT_TRUE(address.cursors.empty());
    const PageHints cursor = hintsOf(R"({"meta": {"next_cursor": "bTk="}, "items": [1]})");
    EXPECT_EQ(cursor.style, PageStyle::Cursor);
    EXPECT_THAT(cursor.cursors, ElementsAre("$['meta']['next_cursor']"));
    EXPECT_THAT(hintsOf(R"({"nextPageToken": "x"})").cursors, ElementsAre("$['nextPageToken']"));
    const PageHints header = hintsOf("[1]", {{"X-Next-Cursor", "abc"}});
    EXPECT_EQ(header.style, PageStyle::Cursor);
    EXPECT_THAT(header.headers, ElementsAre("X-Next-Cursor"));
}

TEST(PageHints, NumbersAndTotalsTellOfPagesToo) {
    const PageHints number = hintsOf(R"({"page": 1, "total_count": 90, "items": []})");
    EXPECT_EQ(number.style, PageStyle::Number);
    EXPECT_EQ(number.total, "$['total_count']");
    EXPECT_EQ(hintsOf(R"({"offset": 0, "items": []})").style, PageStyle::Offset);
    EXPECT_EQ(hintsOf(R"({"total": 90, "items": []})").style, PageStyle::Number);
    EXPECT_FALSE(hintsOf(R"([{"page": 1, "total": 3, "next": "x"}])").style)
        << "what records hold is their own";
    EXPECT_FALSE(hintsOf(R"({"items": []})").style);
}

TEST(PageHints, AStyleTakesItsPlaceFromTheAnswerAndAddsNoSizeUnasked) {
    SourceSpec source;
    source.address = "https://there/list?kind=moth";
    const PageHints hints =
        hintsOf(R"({"paging": {"next": "https://there/list?after=9", "cursor": "c9"}, "total": 5})");
    const SourceSpec next = withPages(source, PageStyle::Next, hints);
    EXPECT_EQ(next.pages.next, "$['paging']['next']");
    EXPECT_EQ(next.address, source.address);
    const SourceSpec cursor = withPages(source, PageStyle::Cursor, hints);
    EXPECT_EQ(cursor.pages.next, "$['paging']['cursor']");
    EXPECT_EQ(cursor.address, "https://there/list?kind=moth{&cursor}");
    const SourceSpec number = withPages(source, PageStyle::Number, hints);
    EXPECT_EQ(number.address, "https://there/list?kind=moth{&page}");
    EXPECT_EQ(number.pages.total, "$['total']");
    EXPECT_FALSE(asksForSize(number));
    EXPECT_EQ(withSizeAsked(number).address, "https://there/list?kind=moth{&page}{&size}");
    EXPECT_EQ(withSizeAsked(withSizeAsked(number)).address, withSizeAsked(number).address);
}

TEST(PageHints, WhereNobodyAsksForASizeAPageHasAsManyAsCame) {
    PageHints hints;
    hints.size = 40;
    SourceSpec source;
    source.address = "https://there/list?size=40";
    EXPECT_EQ(withPages(source, PageStyle::Number, hints).pages.size, 40);
    source.address = "https://there/list{?size}";
    EXPECT_EQ(withPages(source, PageStyle::Number, hints).pages.size, 20) << "there it is asked for";
    Answer answer;
    answer.isCall = true;
    answer.take(R"({"page": 1, "items": [1, 2, 3]})", "UTF-8", nullptr, {});
    EXPECT_EQ(pageHints(answer).size, 0) << "nobody knows where its records are";
    answer.items = answer.tree.nodes[0].subtreeEnd > 2 ? 2 : -1;
    EXPECT_EQ(pageHints(answer).size, 3);
}

} // namespace
} // namespace scorrere::workbench
