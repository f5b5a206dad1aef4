// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/read_text.h"

#include <gmock/gmock.h>

namespace scorrere {
namespace {

const char* const kSurvey = R"(<?xml version="1.0"?>
<!DOCTYPE survey [ <!ELEMENT survey (sighting)*> ]>
<survey year="2024"><!-- <sighting id="0"/> -->
  <sighting id="1" rare="true"><species>Pale &amp; quiet</species><n>3</n>
    <trait>wing</trait><trait>eye</trait></sighting>
  <sighting id="2"><species><![CDATA[<b>]]></species><place lat="1.5"><trap>north</trap></place></sighting>
  <sighting id="3"/>
</survey>
)";

TEST(XmlReader, ElementsAtAPathBecomeRecords) {
    const auto reading = readText(kSurvey);
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.form, SourceForm::Xml);
    EXPECT_EQ(reading->used.items, "/survey/sighting");
    ASSERT_EQ(reading->records.size(), 3);
    EXPECT_EQ(shown(reading->records, 0, "species"), "Pale & quiet");
    EXPECT_EQ(shown(reading->records, 0, "trait"), R"(["wing","eye"])");
    EXPECT_EQ(shown(reading->records, 1, "species"), "<b>");
    EXPECT_EQ(shown(reading->records, 1, "place"), R"({"lat":"1.5","trap":"north"})");
    EXPECT_EQ(shown(reading->records, 2, "id"), "3");
    EXPECT_EQ(typeOf(reading->records, "n"), FieldType::Integer);
    EXPECT_EQ(typeOf(reading->records, "rare"), FieldType::Boolean);
    EXPECT_EQ(reading->findingCount(), 0);
}

TEST(XmlReader, WhatIsAListDeepInsideOnceIsAListEverywhere) {
    const auto reading = readText("<a><r><p><t>one</t><u/></p></r>"
                                  "<r><p><t>two</t><t>three</t></p><p><t>four</t></p></r>"
                                  "<r><p><t>five</t></p><q><t>six</t></q></r></a>",
                                  SourceForm::Xml, "/a/r");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "p"), R"([{"t":["one"],"u":""}])");
    EXPECT_EQ(shown(reading->records, 1, "p"), R"([{"t":["two","three"]},{"t":["four"]}])");
    EXPECT_EQ(shown(reading->records, 2, "p"), R"([{"t":["five"]}])");
    EXPECT_EQ(shown(reading->records, 2, "q"), R"({"t":"six"})");
}

TEST(XmlReader, ListsFoundBehindManyRecordsReachTheFirstOnes) {
    std::string text = "<a>";
    for (int i = 0; i < 40'000; ++i) { // more than two closed segments
        text += "<r><p lat=\"1\"><t>one</t></p></r>";
    }
    const auto reading = readText(text + "<r><p><t>x</t><t>y</t></p></r></a>", SourceForm::Xml, "/a/r");
    ASSERT_TRUE(reading) << reading.error().text();
    for (const std::int64_t record : {0, 20'000, 39'999}) {
        EXPECT_EQ(shown(reading->records, record, "p"), R"({"lat":"1","t":["one"]})");
    }
}

TEST(XmlReader, APathThatTakesAnElementByItsPlaceFindsItAlone) {
    ReadOptions options;
    options.form = SourceForm::Xml;
    options.items = "/a/r";
    options.fields = {nested("place", "$.trap[0].place")};
    const auto reading =
        readRecordsText("<a><r><trap id=\"1\"><place>north</place></trap></r>"
                        "<r><trap><place>south</place></trap><trap><place>east</place></trap></r></a>",
                        "t", options, {}, {}, {});
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "place"), "north");
    EXPECT_EQ(shown(reading->records, 1, "place"), "south");
}

TEST(XmlReader, APathThatSelectsNothingIsAnError) {
    const auto reading = readText(kSurvey, SourceForm::Xml, "/survey/moth");
    ASSERT_FALSE(reading);
    EXPECT_EQ(reading.error().code, ErrorCode::NotFound);
    EXPECT_FALSE(readText(kSurvey, SourceForm::Xml, "sighting"));
}

TEST(XmlReader, WhatIsCutOffKeepsWhatCameBefore) {
    const std::string text(kSurvey);
    const auto reading = readText(text.substr(0, text.find("id=\"2\"")), SourceForm::Xml, "/survey/sighting");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 1);
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_EQ(reading->findings[0].kind, ReadFinding::Kind::CutOff);
}

TEST(XmlReader, ABrokenElementIsFoundAtItsLineAndTheOthersStay) {
    const auto reading =
        readText("<a>\n<r><x>1</x></r>\n<r><x a=1>2</x></r>\n<r><x>3</x></r>\n</a>", SourceForm::Xml, "/a/r");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->records.size(), 2);
    ASSERT_EQ(reading->findings.size(), 1U);
    EXPECT_EQ(reading->findings[0].place.line, 3);
}

TEST(XmlReader, ElementsThatCloseWrongAreSaidSo) {
    const auto reading = readText("<a><r>1</r><b></a>", SourceForm::Xml, "/a/r");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_THAT(reading->findings.at(0).message, ::testing::HasSubstr("</a>"));
}

TEST(XmlReader, AWebPageIsNamedAsOne) {
    const auto reading = readText("<!DOCTYPE html><html><head><title>Sign in</title></head></html>");
    ASSERT_FALSE(reading);
    EXPECT_THAT(reading.error().text(), ::testing::HasSubstr("web page titled \"Sign in\""));
}

TEST(XmlReader, DeepNestingIsRefusedNotFatal) {
    std::string deep;
    for (int i = 0; i < 100'000; ++i) {
        deep += "<a>";
    }
    const auto reading = readText(deep, SourceForm::Xml, "/x/y");
    ASSERT_FALSE(reading);
    EXPECT_EQ(reading.error().code, ErrorCode::TooLarge);
}

TEST(XmlReader, AnElementAcrossWindowsIsWhole) {
    std::string text = "<a>";
    for (int i = 0; i < 3000; ++i) {
        text += "<r><n>" + std::to_string(i) + "</n><t>" + std::string(1000, 'x') + "</t></r>\n";
    }
    const auto reading = readText(text + "</a>");
    ASSERT_TRUE(reading) << reading.error().text();
    ASSERT_EQ(reading->records.size(), 3000);
    EXPECT_EQ(shown(reading->records, 2999, "n"), "2999");
    EXPECT_EQ(reading->findingCount(), 0);
}

} // namespace
} // namespace scorrere
