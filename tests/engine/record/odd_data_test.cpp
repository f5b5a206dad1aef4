// SPDX-License-Identifier: GPL-3.0-or-later
// Data as others really write it.
#include "testing/engine/read_text.h"

#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <sys/stat.h>
#include <unistd.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;
using Kind = ReadFinding::Kind;

std::int64_t countOf(const Reading& reading, Kind kind) {
    return reading.counts[static_cast<std::size_t>(kind)];
}

TEST(OddData, RecordsByNameAreReadWithTheirNames) {
    const auto reading = readText(
        R"({"v": 1, "users": {"u1": {"age": 3}, "u\"2": {"age": 4, "x": [1]}, "u3": 7}, "more": [1]})",
        SourceForm::Json, "$.users[*]");
    ASSERT_TRUE(reading) << reading.error().text();
    ASSERT_EQ(reading->records.size(), 3);
    EXPECT_EQ(shown(reading->records, 0, "member"), "u1");
    EXPECT_EQ(shown(reading->records, 1, "member"), "u\"2");
    EXPECT_EQ(shown(reading->records, 1, "age"), "4");
    EXPECT_EQ(shown(reading->records, 2, "value"), "7");
    EXPECT_EQ(readText(R"({"a": {"n": 1}, "b": {"n": 2}})", SourceForm::Json, "$[*]")->records.size(), 2);
    const auto cut = readText(R"({"users": {"u1": {"age": 3}, "u2": {"a)", SourceForm::Json, "$.users[*]");
    ASSERT_TRUE(cut) << cut.error().text();
    EXPECT_EQ(cut->records.size(), 1);
    EXPECT_EQ(countOf(*cut, Kind::CutOff), 1);
}

TEST(OddData, RecordsByNameAreFoundWhereNoListIs) {
    const auto guessed = [](const char* json) { return readText(json, SourceForm::Json)->used.items; };
    EXPECT_EQ(guessed(R"({"v": 1, "users": {"u1": {"age": 3, "n": 1}, "u2": {"age": 4}}})"), "$.users[*]");
    EXPECT_EQ(guessed(R"({"a": {"n": 1}, "b": {"n": 2}, "c": {"n": 2}})"), "$[*]");
    EXPECT_EQ(guessed(R"({"meta": {"page": 1}, "about": {"name": "x"}})"), "$") << "they are not alike";
    EXPECT_EQ(guessed(R"({"users": {"u1": {"age": 3}, "u2": {"age": 4}}, "traps": [{"n": 1}]})"),
              "$.traps[*]")
        << "a list goes before";
}

TEST(OddData, ATextOfAnyNameIsReadALineEach) {
    const auto reading =
        readRecordsText("# a list of things\nC 00  Unclassified\n\t01  Something\n", "things.ids", {});
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.form, SourceForm::Lines);
    EXPECT_EQ(reading->records.size(), 3);
    EXPECT_EQ(guessForm("x.ids", "{\"a\": 1}"), SourceForm::Json);
}

TEST(OddData, ATrailingCommaIsNamedAsOne) {
    const auto reading = readText("[{\"a\":1},\n {\"a\":2},\n]", SourceForm::Json);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 2);
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_THAT(reading->findings[0].message, HasSubstr("comma has nothing behind it"));
    EXPECT_EQ(reading->findings[0].place.line, 2);
    const auto inside = readText("[{\"a\":1,}]", SourceForm::Json);
    ASSERT_FALSE(inside);
    EXPECT_THAT(inside.error().message, HasSubstr("comma has nothing behind it"));
}

TEST(OddData, TheOthersAreReadIsSaidOnlyWhenTheyAre) {
    const auto none = readText("[{\"a\":1,}]", SourceForm::Json);
    ASSERT_FALSE(none);
    EXPECT_THAT(none.error().advice, ::testing::Not(HasSubstr("The others are read")));
    const auto some = readText("[{\"a\":1,},{\"a\":2}]", SourceForm::Json);
    ASSERT_TRUE(some);
    EXPECT_THAT(some->findings[0].advice, HasSubstr("The others are read"));
}

TEST(OddData, AMemberThatIsGivenTwiceIsTold) {
    const auto reading = readText(R"([{"id":1,"n":2},{"id":2,"n":3,"n":4},{"n":1,"n":1}])", SourceForm::Json);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 1, "n"), "3");
    EXPECT_EQ(countOf(*reading, Kind::Twice), 2);
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_THAT(reading->findings[0].message, HasSubstr("n is given twice in record 2"));
    EXPECT_EQ(reading->findings[0].place.record, 1);
}

TEST(OddData, AHeaderMayRepeatAndLackNames) {
    ReadOptions options;
    options.form = SourceForm::Csv;
    const auto reading = readRecordsText("id,name,name,\n1,a,b,2.5\n2,c,d,3.5\n", "t.csv", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 2);
    EXPECT_EQ(shown(reading->records, 0, "name_2"), "b");
    EXPECT_EQ(shown(reading->records, 0, "column_4"), "2.5");
    const auto texts = readRecordsText("a,a\nb,b\n", "t.csv", options);
    EXPECT_EQ(texts->records.size(), 2) << "nothing tells that these words are names";
}

TEST(OddData, WhatIsEmptyIsSaidToBe) {
    const std::string path =
        (std::filesystem::temp_directory_path() / ("empty-" + std::to_string(::getpid()) + ".json")).string();
    std::ofstream(path).flush();
    const auto reading = readRecordsFile(path, {}, {}, {});
    ASSERT_FALSE(reading);
    EXPECT_THAT(reading.error().message, HasSubstr("empty: 0 bytes"));
    std::filesystem::remove(path);
}

TEST(OddData, APipeIsNotWaitedFor) {
    const std::string path =
        (std::filesystem::temp_directory_path() / ("pipe-" + std::to_string(::getpid()))).string();
    ASSERT_EQ(::mkfifo(path.c_str(), 0600), 0);
    const auto reading = readRecordsFile(path, {}, {}, {}); // opening it would wait for ever
    std::filesystem::remove(path);
    ASSERT_FALSE(reading);
    EXPECT_THAT(reading.error().message, HasSubstr("pipe"));
}

TEST(OddData, XmlThatIsAListOnceIsAListEverywhere) {
    const auto reading = readText("<s><r><id>1</id><t>wing</t></r><r><id>2</id><t>a</t><t>b</t></r>"
                                  "<r><id>3</id><t>\"c\"</t></r><r><id>4</id></r></s>",
                                  SourceForm::Xml);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(typeOf(reading->records, "t"), FieldType::List);
    EXPECT_EQ(shown(reading->records, 0, "t"), R"(["wing"])");
    EXPECT_EQ(shown(reading->records, 1, "t"), R"(["a","b"])");
    EXPECT_EQ(shown(reading->records, 2, "t"), R"(["\"c\""])");
    EXPECT_EQ(shown(reading->records, 3, "t"), "-");
    const auto objects = readText("<s><r><p x='1'/></r><r><p x='2'/><p x='3'/></r></s>", SourceForm::Xml);
    EXPECT_EQ(shown(objects->records, 0, "p"), R"([{"x":"1"}])");
    const auto numbers = readText("<s><r><n>1</n></r><r><n>2</n><n>3</n></r></s>", SourceForm::Xml);
    EXPECT_EQ(shown(numbers->records, 0, "n"), "[1]");
}

TEST(OddData, XmlThatIsAListAfterASegmentWasClosed) {
    std::string text = "<s>";
    for (std::int64_t i = 0; i < RecordTable::kSegment + 5; ++i) {
        text += "<r><t>one</t></r>";
    }
    const auto reading = readText(text + "<r><t>a</t><t>b</t></r></s>", SourceForm::Xml);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "t"), R"(["one"])");
    EXPECT_EQ(shown(reading->records, RecordTable::kSegment + 1, "t"), R"(["one"])");
    EXPECT_EQ(shown(reading->records, RecordTable::kSegment + 5, "t"), R"(["a","b"])");
}

TEST(OddData, XmlValuesFromDeepInsideAreFieldsAndChosenTypesHold) {
    ReadOptions options;
    options.form = SourceForm::Xml;
    options.fields = {nested("trap", "$.place.trap"), ofType("t", FieldType::List)};
    const auto reading = readRecordsText(
        "<s><r><place><trap>north</trap></place><t>x</t></r><r><place/></r></s>", "t.xml", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "trap"), "north");
    EXPECT_EQ(shown(reading->records, 1, "trap"), "-");
    EXPECT_EQ(shown(reading->records, 0, "t"), R"(["x"])");
    options.fields = {nested("trap", "/place/trap")};
    const auto refused = readRecordsText("<s><r/><r/></s>", "t.xml", options);
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().text(), HasSubstr("is no path into an element"));
}

TEST(OddData, EntitiesOfADocumentsOwnAreNotExpandedAndThatIsSaid) {
    const auto reading = readText("<!DOCTYPE s [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;\">]>"
                                  "<s><r><t>&b;</t></r><r><t>x</t></r></s>",
                                  SourceForm::Xml);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "t"), "&b;");
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_THAT(reading->findings[0].message, HasSubstr("declares 2 entities of its own"));
}

TEST(OddData, ANumberTooSmallToTellIsNothing) {
    const auto reading = readText(R"([{"n": 1e-400}, {"n": 2.5}])", SourceForm::Json);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(typeOf(reading->records, "n"), FieldType::Real);
    ReadOptions options;
    options.form = SourceForm::Csv;
    EXPECT_EQ(typeOf(readRecordsText("n,s\n1e-400,a\n2.5,b\n", "t.csv", options)->records, "n"),
              FieldType::Real);
}

} // namespace
} // namespace scorrere
