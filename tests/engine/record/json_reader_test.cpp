// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/read_text.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

Result<RecordTable> read(const std::string& text, std::stop_token stop = {}) {
    auto reading = readText(text, SourceForm::Guess, {}, std::move(stop));
    if (!reading) {
        return std::move(reading.error());
    }
    return std::move(reading->records);
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

INSTANTIATE_TEST_SUITE_P(Each, JsonReaderBadInput,
                         ::testing::Values(BadInput{"Empty", "", ErrorCode::Syntax, 1, -1},
                                           BadInput{"Blank", " \n\n ", ErrorCode::Syntax, 3, -1},
                                           BadInput{"Nuls", std::string(1000, '\0'), ErrorCode::Syntax, 1,
                                                    -1},
                                           BadInput{"Words", "[hello]\n", ErrorCode::Syntax, 1, 0},
                                           BadInput{"Page", "<!doctype html>", ErrorCode::Syntax, 0, -1},
                                           BadInput{"CutRecord", "{\"a\":", ErrorCode::Syntax, 1, 0},
                                           BadInput{"BadNumber", "[{\"a\":01}]", ErrorCode::Syntax, 1, 0},
                                           BadInput{"NoValue", "[{\"a\":}\n]", ErrorCode::Syntax, 1, 0}),
                         [](const auto& given) { return given.param.name; });

/// Where one record is wrong, the others stay, and the place of the wrong one is told.
struct Flawed {
    const char* name;
    std::string text;
    ReadFinding::Kind kind;
    std::int64_t line;
    std::int64_t kept;
    friend void PrintTo(const Flawed& input, std::ostream* out) { *out << input.name; }
};

class JsonReaderFlawed : public ::testing::TestWithParam<Flawed> {};

TEST_P(JsonReaderFlawed, KeepsTheOtherRecordsAndSaysWhere) {
    const auto reading = readText(GetParam().text);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), GetParam().kept);
    ASSERT_FALSE(reading->findings.empty());
    EXPECT_EQ(reading->findings[0].kind, GetParam().kind) << reading->findings[0].message;
    EXPECT_EQ(reading->findings[0].place.line, GetParam().line) << reading->findings[0].message;
    EXPECT_FALSE(reading->findings[0].advice.empty());
}

INSTANTIATE_TEST_SUITE_P(
    Each, JsonReaderFlawed,
    ::testing::Values(
        Flawed{"CutArray", "[{\"a\":1},\n{\"a\":2}", ReadFinding::Kind::CutOff, 2, 2},
        Flawed{"CutInARecord", "[{\"a\":1},\n{\"a\":2},{\"a\"", ReadFinding::Kind::CutOff, 2, 2},
        Flawed{"CutLine", "{\"a\":1}\n{\"a\":", ReadFinding::Kind::CutOff, 2, 1},
        Flawed{"NoComma", "[{\"a\":1}\n {\"a\":2}]", ReadFinding::Kind::Unreadable, 2, 2},
        Flawed{"After", "[1]\n2", ReadFinding::Kind::Unreadable, 2, 1},
        Flawed{"BadNumber", "{\"a\":1}\n{\"a\":01x}\n{\"a\":3}\n", ReadFinding::Kind::Unreadable, 2, 2},
        Flawed{"TwoOnALine", "{\"a\":0}\n{\"a\":1} {\"a\":2}\n", ReadFinding::Kind::Unreadable, 2, 2},
        Flawed{"Nul",
               std::string("{\"a\":0}\n{\"a\":\"x") + std::string(1030, 'y') + std::string(1, '\0') + "\"}\n",
               ReadFinding::Kind::Unreadable, 2, 1}),
    [](const auto& given) { return given.param.name; });

TEST(JsonReader, BytesThatAreNoTextAreReplacedAndTheRecordStays) {
    ReadOptions options;
    options.charset = "UTF-8";
    const auto reading = readRecordsText("[{\"a\":\"x\xffy\",\"n\":7}]", "t", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "a"), "x\xEF\xBF\xBDy");
    EXPECT_EQ(shown(reading->records, 0, "n"), "7");
}

TEST(JsonReader, FollowsAPathOfNamesPastEverythingElse) {
    const auto reading = readText(
        R"({"meta":{"sightings":[9],"s":"]}\"{"},"data":{"x":[[1],{"a":"}"}],"sightings":[{"id":1},{"id":2}],"z":0},"end":{}})",
        SourceForm::Json, "$.data.sightings[*]");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 2);
    EXPECT_EQ(shown(reading->records, 1, "id"), "2");
    EXPECT_EQ(reading->findingCount(), 0);
}

TEST(JsonReader, FindsTheItemsOfADocumentByItself) {
    const auto reading =
        readText(R"({"page":1,"tags":["a"],"data":{"sightings":[{"id":1,"l":[{"k":1}]},{"id":2}]}})");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.items, "$.data.sightings[*]");
    EXPECT_EQ(reading->records.size(), 2);
}

TEST(JsonReader, TakesAnyPathFromAWholeDocument) {
    const auto reading = readText(R"({"traps":[{"s":[{"n":1},{"n":5}]},{"s":[{"n":7}]}]})", SourceForm::Json,
                                  "$.traps[*].s[?@.n > 2]");
    ASSERT_TRUE(reading) << reading.error().text();
    ASSERT_EQ(reading->records.size(), 2);
    EXPECT_EQ(shown(reading->records, 1, "n"), "7");
}

TEST(JsonReader, SaysWhatAPathLedToInstead) {
    const std::string text = R"({"total":3,"data":{"list":[{"a":1}]}})";
    const auto nothing = readText(text, SourceForm::Json, "$.data.lists[*]");
    ASSERT_FALSE(nothing);
    EXPECT_EQ(nothing.error().code, ErrorCode::NotFound);
    EXPECT_THAT(nothing.error().text(), ::testing::HasSubstr("lists"));
    const auto number = readText(text, SourceForm::Json, "$.total");
    ASSERT_FALSE(number);
    EXPECT_THAT(number.error().text(), ::testing::HasSubstr("single value"));
    const auto inside = readText(text, SourceForm::Json, "$.total[*]");
    ASSERT_FALSE(inside);
    EXPECT_THAT(inside.error().text(), ::testing::HasSubstr("no list"));
    const auto filtered = readText(text, SourceForm::Json, "$.data.list[?@.a > 9]");
    ASSERT_FALSE(filtered);
    EXPECT_EQ(filtered.error().code, ErrorCode::NotFound);
}

TEST(JsonReader, ReadsNestedValuesByPointerAndByPath) {
    ReadOptions options;
    options.fields = {nested("trap", "/place/trap"), nested("first", "$.tags[0]")};
    const auto reading =
        readRecordsText(R"([{"place":{"trap":"north"},"tags":["a","b"]},{"place":{}}])", "t", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "trap"), "north");
    EXPECT_EQ(shown(reading->records, 0, "first"), "a");
    EXPECT_EQ(shown(reading->records, 1, "trap"), "-");
    options.fields = {nested("trap", "$.[")};
    EXPECT_FALSE(readRecordsText("[{}]", "t", options));
}

TEST(JsonReader, KeepsEveryDigitOfALongNumber) {
    const auto table = read(R"([{"id":123456789012345678901234567890},{"id":18446744073709551615}])");
    ASSERT_TRUE(table) << table.error().text();
    EXPECT_EQ(shown(*table, 0, "id"), "123456789012345678901234567890");
    EXPECT_EQ(shown(*table, 1, "id"), "18446744073709551615");
}

TEST(JsonReader, OneRecordMayNotTakeAllMemory) {
    const auto table = read("[\"" + std::string(std::size_t{70} << 20, 'x') + "\"]");
    ASSERT_FALSE(table);
    EXPECT_EQ(table.error().code, ErrorCode::TooLarge);
}

TEST(JsonReader, TellsOfTheTableAsItGrows) {
    std::string text;
    for (int i = 0; i < 40'000; ++i) {
        text += "{\"n\":" + std::to_string(i) + "}\n";
    }
    std::vector<std::int64_t> sizes;
    ReadHandlers handlers;
    handlers.grown = [&](const RecordTable& table) {
        sizes.push_back(table.size());
        EXPECT_EQ(shown(table, table.size() - 1, "n"), std::to_string(table.size() - 1));
    };
    const auto reading = readText(text, SourceForm::Ndjson, {}, {}, handlers);
    ASSERT_TRUE(reading);
    EXPECT_THAT(sizes, ::testing::ElementsAre(256, 16'384, 32'768));
}

TEST(JsonReader, TablesGivenOutStayAsTheyWereWhenAFieldIsWidened) {
    std::string text;
    for (int i = 0; i < 20'000; ++i) {
        text += i < 17'000 ? "{\"v\":1}\n" : "{\"v\":\"x\"}\n";
    }
    std::vector<RecordTable> tables;
    ReadHandlers handlers;
    handlers.grown = [&](const RecordTable& table) { tables.push_back(table); };
    const auto reading = readText(text, SourceForm::Ndjson, {}, {}, handlers);
    ASSERT_TRUE(reading);
    ASSERT_EQ(tables.size(), 2U);
    EXPECT_EQ(typeOf(tables[1], "v"), FieldType::Integer);
    EXPECT_EQ(tables[1].integer(9, *tables[1].find("v")), 1);
    EXPECT_EQ(typeOf(reading->records, "v"), FieldType::Text);
    EXPECT_EQ(shown(reading->records, 9, "v"), "1");
    ASSERT_EQ(reading->widenings.size(), 1U);
    EXPECT_EQ(reading->widenings[0].record, 17'000);
    EXPECT_EQ(reading->widenings[0].value, "x");
}

TEST(JsonReader, ChosenTypesHoldAndMisfitsAreFindingsWithTheirLine) {
    ReadOptions options;
    options.fields = {ofType("n", FieldType::Integer), leftOut("secret")};
    const auto reading =
        readRecordsText("{\"n\":\"1\",\"secret\":1}\n{\"n\":\"many\"}\n{\"n\":3.0}\n", "t", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 3);
    EXPECT_EQ(typeOf(reading->records, "n"), FieldType::Integer);
    EXPECT_EQ(shown(reading->records, 0, "n"), "1");
    EXPECT_EQ(shown(reading->records, 1, "n"), "-");
    EXPECT_EQ(shown(reading->records, 2, "n"), "3");
    EXPECT_EQ(shown(reading->records, 0, "secret"), "?");
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_EQ(reading->findings[0].place.line, 2);
    EXPECT_EQ(reading->findings[0].place.record, 1);
    EXPECT_EQ(reading->findings[0].place.field, "n");
}

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
    const auto missing = readRecordsFile("/nowhere/at-all.ndjson", {});
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().code, ErrorCode::NotFound);
    EXPECT_THAT(missing.error().text(), ::testing::HasSubstr("/nowhere/at-all.ndjson"));
    EXPECT_EQ(readRecordsFile("/tmp", {}).error().code, ErrorCode::Unreadable);
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
