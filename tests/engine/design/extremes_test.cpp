// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/extremes.h"

#include "engine/record/record_builder.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

PartSpec textOf(const std::string& field) {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = "{" + field + "}";
    return part;
}

TEST(LongestUnbroken, CountsCharactersBetweenPlacesALineMayBreak) {
    EXPECT_EQ(longestUnbroken("a bcd-efghi jk"), 5);
    EXPECT_EQ(longestUnbroken(""), 0);
    EXPECT_EQ(longestUnbroken("Motýl"), 5);
    EXPECT_EQ(longestUnbroken("雨夜の灯り"), 0) << "lines break between ideographs";
}

TEST(RightToLeftCharacters, CountsArabicAndHebrew) {
    EXPECT_EQ(rightToLeftCharacters("moth"), 0);
    EXPECT_EQ(rightToLeftCharacters("عثة x"), 3);
    EXPECT_EQ(rightToLeftCharacters("עש"), 2);
}

RC_GTEST_PROP(ExtremesFinder, FindsWhatALookAtAllOfThemFinds, ()) {
    const auto heights = *rc::gen::nonEmpty(rc::gen::container<std::vector<int>>(rc::gen::inRange(10, 40)));
    const auto words = *rc::gen::container<std::vector<int>>(heights.size(), rc::gen::inRange(0, 12));
    RecordBuilder builder;
    for (const int length : words) {
        if (length > 0) {
            builder.setText(builder.fieldNamed("word"), std::string(static_cast<std::size_t>(length), 'w'));
        } else {
            builder.fieldNamed("word");
        }
        builder.endRecord();
    }
    const RecordTable records = builder.finish();
    const auto design = ItemDesign::compile(textOf("word"), records, "en");
    RC_ASSERT(static_cast<bool>(design));
    ExtremesFinder finder(*design, records);
    ItemContent content;
    std::vector<std::uint8_t> changed;
    for (std::size_t i = 0; i < heights.size(); ++i) {
        const auto record = static_cast<std::int64_t>(i);
        design->fill({records, record, nullptr, 0, nullptr, -1, 0}, content, changed);
        finder.consider(record, Length::px(heights[i]), content);
    }
    const std::vector<HardRecord> found = finder.found();
    const auto recordFor = [&](Extreme why) -> std::int64_t {
        for (const HardRecord& hard : found) {
            if (std::ranges::find(hard.why, why) != hard.why.end()) {
                return hard.record;
            }
        }
        return -1;
    };
    RC_ASSERT(recordFor(Extreme::Shortest) == std::ranges::min_element(heights) - heights.begin());
    RC_ASSERT(recordFor(Extreme::Tallest) == std::ranges::max_element(heights) - heights.begin());
    std::vector<int> sorted = heights;
    std::ranges::sort(sorted);
    RC_ASSERT(heights[static_cast<std::size_t>(recordFor(Extreme::Median))] ==
              sorted[(sorted.size() - 1) / 2]);
    const bool anyMissing = std::ranges::find(words, 0) != words.end();
    RC_ASSERT(recordFor(Extreme::MostMissing) ==
              (anyMissing ? std::ranges::find(words, 0) - words.begin() : -1));
    const auto longest = std::ranges::max_element(words);
    RC_ASSERT(recordFor(Extreme::LongestWord) == (*longest > 0 ? longest - words.begin() : -1));
    std::vector<std::int64_t> records_;
    for (const HardRecord& hard : found) {
        records_.push_back(hard.record);
    }
    std::ranges::sort(records_);
    RC_ASSERT(std::ranges::adjacent_find(records_) == records_.end()); // each record once
}

TEST(ExtremesFinder, KnowsWhatIsCutWhatSaysNothingAndShowsSixWhereThereAreSix) {
    RecordBuilder builder;
    for (int i = 0; i < 20; ++i) {
        if (i != 7) {
            builder.setText(builder.fieldNamed("word"), "w");
        }
        builder.endRecord();
    }
    const RecordTable records = builder.finish();
    const auto design = ItemDesign::compile(textOf("word"), records, "en");
    ASSERT_TRUE(design);
    ExtremesFinder finder(*design, records);
    ItemContent content;
    std::vector<std::uint8_t> changed;
    for (std::int64_t record = 19; record >= 0; --record) {
        design->fill({records, record, nullptr, 0, nullptr, -1, 0}, content, changed);
        finder.consider(record, Length::px(40), content, record == 11 ? Length::px(33) : Length{});
    }
    const std::vector<HardRecord> found = finder.found();
    const auto with = [&](Extreme why) {
        return std::ranges::find_if(found, [why](const HardRecord& hard) {
            return std::ranges::find(hard.why, why) != hard.why.end();
        });
    };
    ASSERT_NE(with(Extreme::MostCut), found.end());
    EXPECT_EQ(with(Extreme::MostCut)->record, 11);
    EXPECT_EQ(with(Extreme::MostCut)->measure, 33);
    ASSERT_NE(with(Extreme::NoText), found.end());
    EXPECT_EQ(with(Extreme::NoText)->record, 7);
    EXPECT_EQ(found.size(), kLeastRecords) << "all alike but two";
    EXPECT_EQ(with(Extreme::Sample)->record, 1) << "0 is the shortest of equals";
}

TEST(ExtremesFinder, PicturesAreWideTallMissingOrNotThere) {
    RecordBuilder builder;
    for (int i = 0; i < 4; ++i) {
        if (i != 1) {
            builder.setText(builder.fieldNamed("p"), "x.png");
        }
        builder.endRecord();
    }
    const RecordTable records = builder.finish();
    PartSpec picture;
    picture.type = PartType::Picture;
    picture.binding = "{p}";
    const auto design = ItemDesign::compile(picture, records, "en");
    ExtremesFinder finder(*design, records);
    ItemContent content;
    std::vector<std::uint8_t> changed;
    for (int i = 0; i < 4; ++i) {
        design->fill({records, i, nullptr, 0, nullptr, -1, 0}, content, changed);
        finder.consider(i, Length::px(20), content);
    }
    finder.considerPicture(0, 1.5);
    finder.considerPicture(2, 0.5);
    finder.considerPicture(3, 0);
    std::vector<std::pair<std::int64_t, Extreme>> why;
    for (const HardRecord& hard : finder.found()) {
        for (const Extreme extreme : hard.why) {
            if (extreme >= Extreme::NoPicture) {
                why.emplace_back(hard.record, extreme);
            }
        }
    }
    std::ranges::sort(why);
    EXPECT_EQ(why, (std::vector<std::pair<std::int64_t, Extreme>>{{0, Extreme::WidestPicture},
                                                                  {1, Extreme::NoPicture},
                                                                  {2, Extreme::TallestPicture},
                                                                  {3, Extreme::PictureMissing}}));
}

} // namespace
} // namespace scorrere
