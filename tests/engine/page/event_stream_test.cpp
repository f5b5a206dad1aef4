// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/event_stream.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;

TEST(EventStream, ReadsWhatTheStandardShows) {
    EventStream stream;
    EXPECT_THAT(
        stream.feed("\xEF\xBB\xBF: a comment\n\ndata: one\ndata:two\nid: 7\n\nevent: patch\ndata\n\n"),
        ElementsAre(StreamEvent{"7", "message", "one\ntwo"}, StreamEvent{"7", "patch", ""}));
    EXPECT_EQ(stream.lastId(), "7");
}

TEST(EventStream, AnEventIsThereOnlyWhenItEnds) {
    EventStream stream;
    EXPECT_TRUE(stream.feed("id: 3\r\ndata: x\r").empty());
    EXPECT_THAT(stream.feed("\n\r\n"), ElementsAre(StreamEvent{"3", "message", "x"}));
    EXPECT_TRUE(stream.feed("id: 4\ndata: half").empty());
    stream.restart();
    EXPECT_EQ(stream.lastId(), "3"); // 4 was not finished: it must come again
    EXPECT_THAT(stream.feed("data: y\n\n"), ElementsAre(StreamEvent{"3", "message", "y"}));
}

TEST(EventStream, RetryIsWholeMsOrNothing) {
    EventStream stream;
    (void)stream.feed("retry: soon\n\nretry: -1\n\n");
    EXPECT_FALSE(stream.retryMs());
    (void)stream.feed("retry: 1500\n");
    EXPECT_EQ(stream.retryMs(), 1500);
}

TEST(EventStream, AnEventWithoutEndIsPassedOver) {
    EventStream stream;
    const std::string piece(1 << 20, 'x');
    (void)stream.feed("data: ");
    for (int i = 0; i < 6; ++i) {
        EXPECT_TRUE(stream.feed(piece).empty());
    }
    EXPECT_THAT(stream.feed("\n\ndata: fine\n\n"), ElementsAre(StreamEvent{"", "message", "fine"}));
    EXPECT_EQ(stream.passedOver(), 1);
}

RC_GTEST_PROP(EventStream, DoesNotCareWhereTheBytesAreCut, ()) {
    std::string text;
    for (int i = *rc::gen::inRange(0, 12); i > 0; --i) {
        text += *rc::gen::element<std::string>("data: a\n", "id: 1\r\n", "\n", "\r\n", "\r", "event: p\n",
                                               "data:b\r", ":\n", "retry: 5\n");
    }
    EventStream whole;
    const auto expected = whole.feed(text);
    EventStream cut;
    std::vector<StreamEvent> got;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t size = *rc::gen::inRange<std::size_t>(1, 5);
        for (auto& event : cut.feed(std::string_view(text).substr(at, size))) {
            got.push_back(event);
        }
        at += size;
    }
    RC_ASSERT(got == expected);
}

} // namespace
} // namespace scorrere
