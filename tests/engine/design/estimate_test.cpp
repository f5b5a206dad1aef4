// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/estimate.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <string>
#include <vector>

namespace scorrere {
namespace {

AdvanceTable table() {
    AdvanceTable made;
    made.lineHeight = Length::px(10);
    made.first.fill(640); // 10 px each
    made.punctuation.fill(640);
    made.wide = 1280;
    made.arabic = 320;
    return made;
}

/// The plain oracle: whole words onto lines, longest first that fits; a word longer than a line by
/// characters.
std::int64_t plainLines(const std::vector<std::string>& words, std::int64_t perLine) {
    std::int64_t lines = 1;
    std::int64_t used = 0;
    for (const std::string& word : words) {
        auto length = static_cast<std::int64_t>(word.size());
        const std::int64_t blank = used > 0 ? 1 : 0;
        if (used + blank + length <= perLine) {
            used += blank + length;
            continue;
        }
        lines += used > 0 ? 1 : 0;
        while (length > perLine) {
            length -= perLine;
            ++lines;
        }
        used = length;
    }
    return lines;
}

RC_GTEST_PROP(EstimateText, AgreesWithBreakingWordByWord, ()) {
    std::vector<std::string> words;
    std::string text;
    for (int i = *rc::gen::inRange(1, 25); i > 0; --i) {
        words.emplace_back(static_cast<std::size_t>(*rc::gen::inRange(1, 14)), 'n');
        text += (text.empty() ? "" : " ") + words.back();
    }
    const auto perLine = *rc::gen::inRange<std::int64_t>(3, 30);
    const auto size = estimateText(table(), text, Length::px(perLine * 10), 0);
    RC_ASSERT(size.has_value());
    RC_ASSERT(size->height == Length::px(10 * plainLines(words, perLine)));
    RC_ASSERT(size->width <= Length::px(perLine * 10 + 10 * 25));
}

RC_GTEST_PROP(EstimateText, AnyBytesAreSurvived, (const std::string& bytes)) {
    const auto size = estimateText(table(), bytes, Length::px(100), 3);
    RC_ASSERT((!size || size->height <= Length::px(30)));
}

TEST(EstimateText, WideCharactersBreakAnywhere) {
    EXPECT_EQ(estimateText(table(), "雨がやんだあと", Length::px(60), 0)->height, Length::px(30));
}

TEST(EstimateText, JoinedLettersHaveAMean) {
    EXPECT_EQ(estimateText(table(), "عثة", Length::px(100), 0)->width, Length::px(15));
}

} // namespace
} // namespace scorrere
