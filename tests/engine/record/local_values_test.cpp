// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/local_values.h"

#include "testing/engine/read_text.h"

#include <gmock/gmock.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

std::string timeIn(const char* locale, std::string_view text) {
    return LocalValues(locale).time(text).value_or("");
}
double numberIn(const char* locale, std::string_view text) {
    const auto number = LocalValues(locale).number(text);
    return number ? number->value : -999;
}

TEST(LocalValues, ReadsDatesAsPeopleOfALocaleWriteThem) {
    EXPECT_EQ(timeIn("de", "31.12.2023"), "2023-12-31");
    EXPECT_EQ(timeIn("de", " 1.2.23 "), "2023-02-01");
    EXPECT_EQ(timeIn("de", "31.12.2023, 14:05"), "2023-12-31T14:05:00");
    EXPECT_EQ(timeIn("de", "31.12.2023, 14:05:59"), "2023-12-31T14:05:59");
    EXPECT_EQ(timeIn("fr", "31/12/23"), "2023-12-31") << "the locale writes four digits";
    EXPECT_EQ(timeIn("en-US", "12/31/2023"), "2023-12-31");
    EXPECT_EQ(timeIn("en-GB", "31/12/2023"), "2023-12-31");
    EXPECT_EQ(timeIn("en_US", "Dec 31, 2023"), "2023-12-31");
    EXPECT_EQ(timeIn("de", "31.12.1987"), "1987-12-31");
}

TEST(LocalValues, ADayThatIsNoneOrMoreThanADateIsNotRead) {
    for (const char* text : {"31.02.2023", "31.13.2023", "31.12.2023 or so", "31.12.", "", "1.234,56"}) {
        EXPECT_EQ(timeIn("de", text), "") << text;
    }
}

TEST(LocalValues, ReadsNumbersWithTheirGroups) {
    EXPECT_EQ(numberIn("de", "1.234,56"), 1234.56);
    EXPECT_EQ(numberIn("de", "1234,5"), 1234.5);
    EXPECT_EQ(numberIn("de", "-0,25"), -0.25);
    EXPECT_EQ(numberIn("fr", "1 234,5"), 1234.5) << "a plain space where French has a narrow one";
    EXPECT_EQ(numberIn("de-CH", "1'234.5"), 1234.5);
    EXPECT_EQ(numberIn("en", "1,234.5"), 1234.5);
    for (const char* text : {"1.23,4", "1,2,3", "12 kg", "", "1.234.56"}) {
        EXPECT_EQ(numberIn("de", text), -999) << text;
    }
    EXPECT_EQ(LocalValues("de").number("9.007.199.254.740.993")->whole, 9007199254740993) << "exact";
    EXPECT_FALSE(LocalValues("de").number("1,5")->whole);
}

TEST(LocalValues, AFieldWithALocaleIsReadByIt) {
    ReadOptions options;
    options.form = SourceForm::Csv;
    options.delimiter = ';';
    options.fields = {{"on", "", FieldType::Time, "de", "", false},
                      {"weight", "", FieldType::Real, "de", "", false},
                      {"count", "", FieldType::Integer, "de", "", false}};
    const auto reading = readRecordsText(
        "on;weight;count\n31.12.2023;1.234,56;1.000\n2024-01-02;2,5;7\n31.02.2024;3;1,5\n", "x.csv", options);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "on"), "2023-12-31");
    EXPECT_EQ(shown(reading->records, 0, "weight"), "1234.56");
    EXPECT_EQ(shown(reading->records, 0, "count"), "1000");
    EXPECT_EQ(shown(reading->records, 1, "on"), "2024-01-02") << "as JSON has them is right everywhere";
    ASSERT_EQ(reading->counts[static_cast<std::size_t>(ReadFinding::Kind::Misfit)], 2);
    EXPECT_THAT(reading->findings[0].message, HasSubstr("on is not a time: 31.02.2024"));
    EXPECT_THAT(reading->findings[1].message, HasSubstr("count is not a whole number: 1,5"));
}

} // namespace
} // namespace scorrere
