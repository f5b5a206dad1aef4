// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/stream_patch.h"

#include "render/page_reading.h"
#include "service/moths.h"

#include <gmock/gmock.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;
using Kind = StreamChange::Kind;

SourceSpec source() {
    SourceSpec made;
    made.key = {"id"};
    return made;
}

PageRecord moth(std::int64_t at) {
    return keyedRecords(service::makeSightings(20, 1).value(), {"id"}, 0)[static_cast<std::size_t>(at)];
}

TEST(StreamPatch, IsTakenApartByRecord) {
    const auto changes = streamChanges(
        R"([{"op": "replace", "path": "/s/7/status", "value": "x"}, {"op": "remove", "path": "/s/7/note"},
            {"op": "add", "path": "/s/a~1b", "value": {"id": "a/b"}}, {"op": "remove", "path": "/s/9"}])",
        "/s");
    ASSERT_TRUE(changes) << changes.error().text();
    ASSERT_EQ(changes->size(), 3U);
    EXPECT_EQ((*changes)[0].kind, Kind::Patch);
    EXPECT_EQ((*changes)[0].key, "7");
    EXPECT_THAT((*changes)[0].json, HasSubstr("/note"));
    EXPECT_EQ((*changes)[1].kind, Kind::Put);
    EXPECT_EQ((*changes)[1].key, "a/b");
    EXPECT_EQ((*changes)[2].kind, Kind::Remove);
}

TEST(StreamPatch, WhatIsNoPatchOfRecordsIsRefused) {
    EXPECT_FALSE(streamChanges("{", "/s"));
    EXPECT_FALSE(streamChanges("42", "/s"));
    EXPECT_FALSE(streamChanges(R"([{"op": "add", "path": "/elsewhere/7", "value": 1}])", "/s"));
    EXPECT_FALSE(streamChanges(R"([{"op": "move", "from": "/s/1/a", "path": "/s/2/a"}])", "/s"));
    EXPECT_FALSE(streamChanges(R"([7])", "/s"));
}

TEST(StreamPatch, MakesTheChangedRecordInTheCollectionsFields) {
    const PageRecord before = moth(3);
    const auto fields = before.table->fields();
    auto changes = streamChanges(
        R"([{"op": "replace", "path": "/s/)" + before.key + R"(/status", "value": "seen twice"}])", "/s");
    (*changes)[0].base = before;
    int refused = 0;
    const auto made = madeStreamed(*changes, source(), fields, refused);
    ASSERT_EQ(made.size(), 1U);
    EXPECT_EQ(refused, 0);
    const PageRecord& after = made[0].record;
    EXPECT_EQ(after.key, before.key);
    EXPECT_NE(after.content, before.content);
    const auto at = [&](const PageRecord& record, const char* name) {
        return record.table->display(record.row, *record.table->find(name));
    };
    EXPECT_EQ(at(after, "status"), "seen twice");
    EXPECT_EQ(at(after, "species"), at(before, "species"));
    for (std::size_t i = 0; i < fields.size(); ++i) {
        EXPECT_EQ(after.table->fields()[i].name, fields[i].name);
    }
}

TEST(StreamPatch, LaterChangesInABatchBuildOnEarlierOnes) {
    auto changes = streamChanges(
        R"([{"op": "add", "path": "/s/1", "value": {"id": 1, "count": 3}},
            {"op": "replace", "path": "/s/1/count", "value": 4}])",
        "/s");
    int refused = 0;
    const auto made = madeStreamed(*changes, source(), {}, refused);
    ASSERT_EQ(made.size(), 2U);
    EXPECT_EQ(made[1].record.table->display(made[1].record.row, *made[1].record.table->find("count")), "4");
}

TEST(StreamPatch, AChangeThatDoesNotFitIsPassedOverAndCounted) {
    const PageRecord before = moth(0);
    auto changes = streamChanges(
        R"([{"op": "test", "path": "/s/1/species", "value": "no such moth"}, {"op": "remove", "path": "/s/1/status"},
            {"op": "add", "path": "/s/2", "value": "no record"}])",
        "/s");
    ASSERT_TRUE(changes);
    (*changes)[0].base = before;
    int refused = 0;
    EXPECT_TRUE(madeStreamed(*changes, source(), before.table->fields(), refused).empty());
    EXPECT_EQ(refused, 2);
}

TEST(StreamPatch, AnEventNestsNoDeeperThanAStackHolds) {
    const std::string deep =
        R"([{"op":"add","path":"/s/1","value":)" + std::string(70'000, '[') + std::string(70'000, ']') + "}]";
    const auto changes = streamChanges(deep, "/s");
    ASSERT_FALSE(changes);
    EXPECT_EQ(changes.error().code, ErrorCode::TooLarge);
}

TEST(StreamPatch, CopiesOfCopiesHaveAnEnd) {
    std::string steps;
    for (int i = 0; i < 40; ++i) { // each doubles what is there: 2^40 in the end
        steps += R"(,{"op":"copy","from":"/s/1/note","path":"/s/1/note/-"})";
    }
    auto changes = streamChanges(R"([{"op":"add","path":"/s/1/note","value":[1]})" + steps + "]", "/s");
    ASSERT_TRUE(changes) << changes.error().text();
    const PageRecord before = moth(0);
    (*changes)[0].base = before;
    int refused = 0;
    EXPECT_TRUE(madeStreamed(*changes, source(), before.table->fields(), refused).empty());
    EXPECT_EQ(refused, 1);
}

} // namespace
} // namespace scorrere::render
