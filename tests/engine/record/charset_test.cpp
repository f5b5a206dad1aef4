// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/charset.h"

#include "testing/engine/read_text.h"

#include <gmock/gmock.h>
#include <sstream>

namespace scorrere {
namespace {

TEST(Charset, IsFoundInTheOrderOfWhoKnowsBest) {
    EXPECT_EQ(findCharset("\xEF\xBB\xBF{}", "ISO-8859-1").name, "UTF-8");
    EXPECT_EQ(findCharset(std::string("\xFF\xFE{\0", 4), "").name, "UTF-16");
    EXPECT_EQ(findCharset("caf\xE9", "iso-8859-15").name, "iso-8859-15");
    EXPECT_EQ(findCharset("<?xml version='1.0' encoding='windows-1251'?>", "").name, "windows-1251");
    EXPECT_EQ(findCharset("\xC3\xA9t\xC3", "").name, "UTF-8") << "the start may end inside a character";
    const Charset guessed =
        findCharset("Le caf\xE9 est ferm\xE9 \xE0 huit heures, d\xE9sol\xE9 pour \x91vous\x92", "");
    EXPECT_EQ(guessed.name, "windows-1252");
    EXPECT_TRUE(guessed.isGuess);
    const Charset unknown = findCharset("abc", "klingon-8");
    EXPECT_EQ(unknown.name, "UTF-8");
    EXPECT_THAT(unknown.why, ::testing::HasSubstr("klingon-8"));
    EXPECT_EQ(findCharset(std::string("{\0\"\0a\0", 6), "").name, "UTF-16LE");
}

TEST(Charset, StreamsAreDecodedWhateverTheirPieces) {
    std::string utf16 = "\xFF\xFE";
    std::string wanted;
    for (int i = 0; i < 100'000; ++i) {
        utf16 += std::string("\xE9\0", 2); // é
        wanted += "\xC3\xA9";
    }
    std::istringstream in(utf16);
    const auto stream = transcoded(in, "UTF-16");
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(*stream), {}), wanted);
}

TEST(Charset, RecordsComeInTheCharsetTheyAreIn) {
    const auto reading = readRecordsText("[{\"a\":\"caf\xE9\"}]", "t", {}, "iso-8859-1");
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(shown(reading->records, 0, "a"), "café");
    EXPECT_EQ(reading->charsetWhy, "the answer's header says so");
    ReadOptions options;
    options.charset = "nonsense-9";
    EXPECT_THAT(readRecordsText("[1]", "t", options).error().text(), ::testing::HasSubstr("nonsense-9"));
}

TEST(Charset, TextDecodedTwiceIsSeenAndUndone) {
    EXPECT_TRUE(looksDoubleDecoded("cafÃ©"));
    EXPECT_TRUE(looksDoubleDecoded("â€œquotedâ€\u009d"));
    EXPECT_FALSE(looksDoubleDecoded("café, naïve, Ångström, ÄÖÜ, Ã"));
    EXPECT_FALSE(looksDoubleDecoded("Λευκή νύχτα ヨシノ"));
    EXPECT_EQ(undoDoubleDecoding("cafÃ© â€“ Λευκή Î›ÎµÏ…"), "café – Λευκή Λευ");
    EXPECT_EQ(undoDoubleDecoding("Ångström Ã"), "Ångström Ã");
    ReadOptions options;
    options.undoDoubleDecoding = true;
    const auto reading = readRecordsText(R"([{"a":"caf\u00c3\u00a9","l":["Ã¼"]}])", "t", options);
    ASSERT_TRUE(reading);
    EXPECT_EQ(shown(reading->records, 0, "a"), "café");
    EXPECT_EQ(shown(reading->records, 0, "l"), R"(["ü"])");
}

} // namespace
} // namespace scorrere
