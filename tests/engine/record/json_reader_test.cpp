// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/json_reader.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <sstream>

namespace scorrere {
namespace {

Result<RecordTable> read(const std::string& text, std::stop_token stop = {}) {
    std::istringstream in(text);
    return readJsonRecords(in, "t.json", std::move(stop));
}

TEST(JsonReader, ReadsAnArrayAndLinesAlike) {
    const auto array = read(R"([ {"a":1,"b":"x"}, {"a":2} ])");
    const auto lines = read("{\"a\":1,\"b\":\"x\"}\n\n{\"a\":2}\n");
    ASSERT_TRUE(array) << array.error().text();
    ASSERT_TRUE(lines) << lines.error().text();
    for (const RecordTable* table : {&*array, &*lines}) {
        ASSERT_EQ(table->size(), 2);
        EXPECT_EQ(table->integer(1, *table->find("a")), 2);
        EXPECT_EQ(table->text(0, *table->find("b")), "x");
        EXPECT_FALSE(table->has(1, *table->find("b")));
    }
}

TEST(JsonReader, InfersTypesAndKeepsMissingAsMissing) {
    const auto table = read(
        R"([{"t":"2024-05-01T20:15:00Z","n":3,"r":1.5,"y":true,"s":"é","l":[1,2],"o":{"k":"v"},"m":null}])");
    ASSERT_TRUE(table) << table.error().text();
    const auto type = [&](const char* name) { return table->field(*table->find(name)).type; };
    EXPECT_EQ(type("t"), FieldType::Time);
    EXPECT_EQ(type("n"), FieldType::Integer);
    EXPECT_EQ(type("r"), FieldType::Real);
    EXPECT_EQ(type("y"), FieldType::Boolean);
    EXPECT_EQ(type("s"), FieldType::Text);
    EXPECT_EQ(type("l"), FieldType::List);
    EXPECT_EQ(type("o"), FieldType::Object);
    EXPECT_EQ(type("m"), FieldType::Unknown);
    EXPECT_EQ(table->text(0, *table->find("l")), "[1,2]");
    EXPECT_FALSE(table->has(0, *table->find("m")));
}

TEST(JsonReader, WidensWithoutLosingAValue) {
    const auto table = read("{\"v\":7}\n{\"v\":2.5}\n{\"v\":\"seven\"}\n{}\n{\"v\":true}\n");
    ASSERT_TRUE(table) << table.error().text();
    const FieldHandle v = *table->find("v");
    EXPECT_EQ(table->field(v).type, FieldType::Text);
    EXPECT_EQ(table->text(0, v), "7");
    EXPECT_EQ(table->text(1, v), "2.5");
    EXPECT_EQ(table->text(2, v), "seven");
    EXPECT_FALSE(table->has(3, v));
    EXPECT_EQ(table->text(4, v), "true");
}

TEST(JsonReader, WidensAcrossSegments) {
    std::string text;
    for (std::int64_t i = 0; i < RecordTable::kSegment; ++i) {
        text += "{\"v\":1}\n";
    }
    text += "{\"v\":\"x\",\"late\":1}\n";
    const auto table = read(text);
    ASSERT_TRUE(table) << table.error().text();
    EXPECT_EQ(table->text(5, *table->find("v")), "1");
    EXPECT_EQ(table->text(RecordTable::kSegment, *table->find("v")), "x");
    EXPECT_FALSE(table->has(5, *table->find("late")));
}

TEST(JsonReader, ValuesThatAreNoObjectsBecomeRecordsOfOneField) {
    const auto table = read(R"(["one","two"])");
    ASSERT_TRUE(table) << table.error().text();
    EXPECT_EQ(table->text(1, *table->find("value")), "two");
}

TEST(JsonReader, AMemberGivenTwiceCountsOnce) {
    const auto table = read("{\"a\":1,\"a\":2}\n{\"a\":3}\n");
    ASSERT_TRUE(table) << table.error().text();
    EXPECT_EQ(table->integer(0, *table->find("a")), 1);
    EXPECT_EQ(table->integer(1, *table->find("a")), 3);
}

struct BadInput {
    const char* name;
    std::string text;
    ErrorCode code;
    std::int64_t line;
    std::int64_t record;
    friend void PrintTo(const BadInput& input, std::ostream* out) { *out << input.name; }
};

class JsonReaderBadInput : public ::testing::TestWithParam<BadInput> {};

TEST_P(JsonReaderBadInput, GivesALocatedError) {
    const auto table = read(GetParam().text);
    ASSERT_FALSE(table);
    EXPECT_EQ(table.error().code, GetParam().code) << table.error().text();
    EXPECT_EQ(table.error().place.line, GetParam().line) << table.error().text();
    EXPECT_EQ(table.error().place.record, GetParam().record) << table.error().text();
    EXPECT_FALSE(table.error().advice.empty()) << table.error().text();
}

INSTANTIATE_TEST_SUITE_P(
    Each, JsonReaderBadInput,
    ::testing::Values(BadInput{"Empty", "", ErrorCode::Syntax, 1, 0},
                      BadInput{"Blank", " \n\n ", ErrorCode::Syntax, 3, 0},
                      BadInput{"Nuls", std::string(1000, '\0'), ErrorCode::Syntax, 1, 0},
                      BadInput{"Words", "hello\n", ErrorCode::Syntax, 1, 0},
                      BadInput{"Page", "<!doctype html>", ErrorCode::Syntax, 1, 0},
                      BadInput{"CutArray", "[{\"a\":1},\n{\"a\":2}", ErrorCode::Syntax, 2, 2},
                      BadInput{"CutRecord", "{\"a\":1}\n{\"a\":", ErrorCode::Syntax, 2, 1},
                      BadInput{"NoComma", "[{\"a\":1}\n {\"a\":2}]", ErrorCode::Syntax, 2, 1},
                      BadInput{"After", "[1]\n2", ErrorCode::Syntax, 2, 1},
                      BadInput{"BadNumber", "{\"a\":1}\n{\"a\":01x}\n", ErrorCode::Syntax, 2, 1},
                      BadInput{"BadUtf8", "{\"a\":\"\xff\xfe\"}\n", ErrorCode::Syntax, 1, 0},
                      BadInput{"TwoOnALine", "{\"a\":1} {\"a\":2}\n", ErrorCode::Syntax, 1, 1}),
    [](const auto& given) { return given.param.name; });

TEST(JsonReader, DeepNestingIsKeptAsItIs) {
    const std::string deep = std::string(100'000, '[') + std::string(100'000, ']');
    const auto table = read("{\"a\":" + deep + "}\n");
    ASSERT_TRUE(table) << table.error().text();
    EXPECT_EQ(table->text(0, *table->find("a")), deep);
}

TEST(JsonReader, StopsWhenAsked) {
    std::stop_source source;
    source.request_stop();
    const auto table = read("{\"a\":1}\n", source.get_token());
    ASSERT_FALSE(table);
    EXPECT_EQ(table.error().code, ErrorCode::Cancelled);
}

TEST(JsonReader, MissingFilesAndFoldersAreNamed) {
    const auto missing = readJsonFile("/nowhere/at-all.ndjson");
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().code, ErrorCode::NotFound);
    EXPECT_THAT(missing.error().text(), ::testing::HasSubstr("/nowhere/at-all.ndjson"));
    EXPECT_EQ(readJsonFile("/tmp").error().code, ErrorCode::Unreadable);
}

RC_GTEST_PROP(JsonReader, RecordsOfAnyTextComeBackUnchanged,
              (const std::vector<std::string>& texts, bool array)) {
    std::string json = array ? "[" : "";
    std::vector<std::string> kept;
    for (const std::string& text : texts) {
        std::string clean;
        for (const char c : text) {
            clean += c >= 32 && c < 127 && c != '"' && c != '\\' ? c : '_';
        }
        clean = "t" + clean; // so that none reads as a time
        json += (array && !kept.empty() ? "," : "") + std::string("{\"v\":\"") + clean + "\"}" +
                (array ? "" : "\n");
        kept.push_back(clean);
    }
    json += array ? "]" : "";
    if (kept.empty()) {
        return;
    }
    const auto table = read(json);
    RC_ASSERT(static_cast<bool>(table));
    RC_ASSERT(table->size() == static_cast<std::int64_t>(kept.size()));
    for (std::size_t i = 0; i < kept.size(); ++i) {
        RC_ASSERT(table->text(static_cast<std::int64_t>(i), *table->find("v")) == kept[i]);
    }
}

TEST(ParseTime, ReadsDatesAndZones) {
    EXPECT_EQ(parseTime("1970-01-01"), 0);
    EXPECT_EQ(parseTime("1970-01-02T00:00:01Z"), 86'401'000);
    EXPECT_EQ(parseTime("1970-01-01T02:00:00.250+02:00"), 250);
    EXPECT_EQ(parseTime("2024-02-30"), std::nullopt);
    EXPECT_EQ(parseTime("2024-13-01"), std::nullopt);
    EXPECT_EQ(parseTime("2024-01-01T25:00"), std::nullopt);
    EXPECT_EQ(parseTime("2024-01-01 noon"), std::nullopt);
    EXPECT_EQ(parseTime("12"), std::nullopt);
}

} // namespace
} // namespace scorrere
