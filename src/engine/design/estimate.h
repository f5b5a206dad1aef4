// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/layout.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

namespace scorrere {

/// How far each character of one text style advances, as given by `render`.
struct AdvanceTable {
    static constexpr char32_t kFirstBlock = 0x530; ///< Latin, Greek, Cyrillic
    static constexpr char32_t kPunctuation = 0x2010;
    static constexpr std::size_t kPunctuationCount = 0x30;

    Length lineHeight;
    Length ascent; ///< from a line's top to its baseline
    double textScale = 1;
    std::array<std::int32_t, kFirstBlock> first{}; ///< 1/64 px; negative: not in the table
    std::array<std::int32_t, kPunctuationCount> punctuation{};

    std::int32_t wide = -1;   ///< ideographs and kana: all alike, and lines break between any two
    std::int32_t arabic = -1; ///< the Arabic letters' mean: joined letters have no advance of their own

    static bool isWide(char32_t c) {
        return (c >= 0x2e80 && c < 0xa000) || (c >= 0xac00 && c < 0xd7b0) || (c >= 0xf900 && c < 0xfb00) ||
               (c >= 0xff00 && c < 0xff61) || (c >= 0x20000 && c < 0x30000);
    }
    /// Negative when the table does not know the character.
    std::int32_t advance(char32_t c) const {
        if (c < kFirstBlock) {
            return first[c];
        }
        if (c >= kPunctuation && c < kPunctuation + kPunctuationCount) {
            return punctuation[c - kPunctuation];
        }
        return isWide(c) ? wide : c >= 0x600 && c < 0x780 ? arabic : -1;
    }
};

/// Greedy line breaking over a table of advances: nearly every Latin paragraph gets its exact height for
/// about a hundredth of what shaping costs. Nothing when the text holds a character the table does not know.
///
/// Complexity  O(text).
std::optional<TextSize> estimateText(const AdvanceTable& table, std::string_view text, Length maxWidth,
                                     int maxLines);

/// Estimates item heights from content by laying a design out with estimated texts.
///
/// Threads     One thread; a worker has its own design and estimator. Tables are shared, read only.
class ItemEstimator final : private TextMeasurer {
public:
    /// `tables`: one for each of design.styles(). Both must outlive the estimator. `onlyLayout`: content()
    /// will not be asked for tones, addresses and labels.
    ItemEstimator(const ItemDesign& design, const std::vector<AdvanceTable>& tables, bool onlyLayout = true)
        : design_(design), tables_(tables), onlyLayout_(onlyLayout) {}

    /// Nothing when a text that decides the height is in a script the tables do not cover.
    std::optional<ItemSize> estimate(const FillContext& context, const ItemRoom& room);
    /// What the last estimate filled in and where it put it.
    const ItemContent& content() const { return content_; }
    /// How much text of the last estimate lies beyond the lines it may have. O(those texts).
    Length cut() const;

private:
    TextSize measure(int part, std::string_view text, const TextStyle& style, Length maxWidth,
                     int maxLines) override;
    Length ascent(int part) override;
    double textScale() const override { return tables_.empty() ? 1 : tables_.front().textScale; }

    const ItemDesign& design_;
    const std::vector<AdvanceTable>& tables_;
    ItemContent content_;
    std::vector<std::uint8_t> changed_;
    std::vector<PartBox> boxes_;
    const bool onlyLayout_;
    bool unknown_ = false;
};

} // namespace scorrere
