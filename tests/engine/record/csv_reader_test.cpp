// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/read_text.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

ReadOptions csv(char delimiter = 0, std::optional<bool> header = std::nullopt) {
    ReadOptions options;
    options.form = SourceForm::Csv;
    options.delimiter = delimiter;
    options.header = header;
    return options;
}

TEST(CsvReader, FindsDelimiterAndHeaderAndTypes) {
    const auto reading = readRecordsText(
        "id;name;seen;t;rare\n1;\"a;b\";2024-05-01;1.5;true\n2;c \"d\";2024-05-02;2;false\n", "t.csv", csv());
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.delimiter, ';');
    EXPECT_EQ(reading->used.header, true);
    EXPECT_EQ(reading->records.size(), 2);
    EXPECT_EQ(shown(reading->records, 0, "name"), "a;b");
    EXPECT_EQ(shown(reading->records, 1, "name"), "c \"d\"");
    EXPECT_EQ(typeOf(reading->records, "id"), FieldType::Integer);
    EXPECT_EQ(typeOf(reading->records, "seen"), FieldType::Time);
    EXPECT_EQ(typeOf(reading->records, "t"), FieldType::Real);
    EXPECT_EQ(typeOf(reading->records, "rare"), FieldType::Boolean);
}

TEST(CsvReader, FollowsTheStandardOnQuotesSpacesAndLineEnds) {
    const auto reading =
        readRecordsText("a,b\r\n\"x\"\"y\",\" p \"\r\n q ,\"two\r\nlines\"\r\n\"\",z", "t.csv", csv());
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 3);
    EXPECT_EQ(shown(reading->records, 0, "a"), "x\"y");
    EXPECT_EQ(shown(reading->records, 0, "b"), " p ");
    EXPECT_EQ(shown(reading->records, 1, "a"), " q ");
    EXPECT_EQ(shown(reading->records, 1, "b"), "two\r\nlines");
    EXPECT_EQ(shown(reading->records, 2, "a"), "") << "quotes around nothing are a text of no characters";
    EXPECT_EQ(reading->findingCount(), 0);
}

TEST(CsvReader, ACellThatIsNotGivenIsMissing) {
    const auto reading = readRecordsText("a,b\n,1\n2,\n", "t.csv", csv());
    ASSERT_TRUE(reading);
    EXPECT_EQ(shown(reading->records, 0, "a"), "-");
    EXPECT_EQ(shown(reading->records, 1, "b"), "-");
    EXPECT_EQ(typeOf(reading->records, "a"), FieldType::Integer);
}

TEST(CsvReader, RaggedRowsAreKeptAndPlaced) {
    const auto reading = readRecordsText("a,b\n1,2\n\"multi\nline\",4,5,6\n7\n", "t.csv", csv(','));
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 3);
    EXPECT_EQ(shown(reading->records, 1, "extra_2"), "6");
    EXPECT_EQ(shown(reading->records, 2, "b"), "-");
    ASSERT_EQ(reading->findings.size(), 2U);
    EXPECT_EQ(reading->findings[0].kind, ReadFinding::Kind::Ragged);
    EXPECT_EQ(reading->findings[0].place.line, 3);
    EXPECT_EQ(reading->findings[1].place.line, 5);
}

TEST(CsvReader, NamesThatAreMissingOrTwiceAreMade) {
    const auto reading = readRecordsText("a,,a\n1,2,3\n", "t.csv", csv(',', true));
    ASSERT_TRUE(reading);
    EXPECT_EQ(shown(reading->records, 0, "a"), "1");
    EXPECT_EQ(shown(reading->records, 0, "column_2"), "2");
    EXPECT_EQ(shown(reading->records, 0, "a_2"), "3");
    const auto plain = readRecordsText("1,2\n3,4\n", "t.csv", csv());
    ASSERT_TRUE(plain);
    EXPECT_EQ(plain->used.header, false);
    EXPECT_EQ(plain->records.size(), 2);
    EXPECT_EQ(shown(plain->records, 1, "column_2"), "4");
}

TEST(CsvReader, WritingThatANumberWouldLoseStaysAText) {
    const auto reading =
        readRecordsText("code,n,long\n007,1,12345678901234567890\n012,2,1\n", "t.csv", csv());
    ASSERT_TRUE(reading);
    EXPECT_EQ(shown(reading->records, 0, "code"), "007");
    EXPECT_EQ(typeOf(reading->records, "code"), FieldType::Text);
    EXPECT_EQ(shown(reading->records, 0, "long"), "12345678901234567890");
}

TEST(CsvReader, AQuoteThatNeverEndsIsFoundAtItsRow) {
    const auto reading = readRecordsText("a,b\n1,2\n3,\"open\n5,6\n7,8\n", "t.csv", csv());
    ASSERT_TRUE(reading) << reading.error().text();
    ASSERT_FALSE(reading->findings.empty());
    EXPECT_EQ(reading->findings[0].kind, ReadFinding::Kind::CutOff);
    EXPECT_EQ(reading->findings[0].place.line, 3);
}

TEST(CsvReader, NulsAndBrokenBytesDoNotCostTheRow) {
    ReadOptions options = csv(',', true);
    options.charset = "UTF-8";
    const auto reading = readRecordsText(std::string("a,b\n1,x\xff\n2,y") + '\0' + "z\n", "t.csv", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 2);
    EXPECT_EQ(reading->findings.size(), 2U);
    EXPECT_EQ(reading->findings[1].place.line, 3);
}

TEST(CsvReader, LinesOfTextAreRecordsOfOneField) {
    const auto reading = readText("first\n\nsecond\nthird", SourceForm::Guess);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.form, SourceForm::Lines);
    EXPECT_EQ(reading->records.size(), 3);
    EXPECT_EQ(shown(reading->records, 2, "value"), "third");
}

/// Whatever texts are written as RFC 4180 says come back.
RC_GTEST_PROP(CsvReader, WhatIsQuotedComesBack, (const std::vector<std::vector<std::string>>& given)) {
    std::string text = "a,b,c\n";
    std::vector<std::vector<std::string>> rows;
    for (const auto& row : given) {
        rows.emplace_back();
        for (std::size_t i = 0; i < 3; ++i) {
            std::string cell = "t";
            std::string quoted = "\"t";
            for (const char c : i < row.size() ? row[i] : std::string()) {
                const char plain = c >= 32 && c < 127 ? c : '\n';
                cell += plain;
                quoted += plain == '"' ? "\"\"" : std::string(1, plain);
            }
            rows.back().push_back(cell);
            text += (i > 0 ? "," : "") + quoted + "\"";
        }
        text += "\n";
    }
    if (rows.empty()) {
        return;
    }
    const auto reading = readRecordsText(text, "t.csv", csv(',', true));
    RC_ASSERT(static_cast<bool>(reading));
    RC_ASSERT(reading->records.size() == static_cast<std::int64_t>(rows.size()));
    RC_ASSERT(reading->findingCount() == 0);
    for (std::size_t r = 0; r < rows.size(); ++r) {
        for (std::size_t c = 0; c < 3; ++c) {
            RC_ASSERT(shown(reading->records, static_cast<std::int64_t>(r),
                            std::string(1, static_cast<char>('a' + c))) == rows[r][c]);
        }
    }
}

} // namespace
} // namespace scorrere
