// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>

namespace scorrere {

/// How a service gives its records out in pages.
enum class PageStyle : std::uint8_t { None, Number, Offset, Cursor, Next, Link };

/// Any page can be asked for by its number alone; else each answer tells where the next one is.
constexpr bool isPositional(PageStyle style) {
    return style == PageStyle::Number || style == PageStyle::Offset;
}

/// The most records that a collection is believed to have. What a service says beyond it is a mistake of its,
/// and would not fit an ExtentIndex.
inline constexpr std::int64_t kMostRecords = 2'000'000'000;

/// How pages are asked for, kept and tried again.
struct PageRules {
    PageStyle style = PageStyle::Number;
    std::int64_t size = 20;                  ///< records asked for at a time
    double leadScreens = 1.5;                ///< how far beyond the window pages are asked for, in windows
    std::int64_t leadMs = 600;               ///< and in time, at the speed the window moves
    int atOnce = 3;                          ///< requests in flight
    std::int64_t keepPages = 12;             ///< pages about the window that stay in memory
    std::int64_t keepBytes = 0;              ///< and how much they may take together; 0: any
    std::int64_t rememberedPlaces = 100'000; ///< dropped ones whose extents are remembered one by one
    int tries = 4;                           ///< of one page, until it is given up
    std::int64_t backOffMs = 500;            ///< before the second try; doubled for each one more
    std::int64_t mostBackOffMs = 30'000;
    std::int64_t firstShownMs = 150; ///< a first load shorter than this shows no placeholders
    std::int64_t debounceMs = 250;   ///< how long another query is waited out
    std::int64_t firstRecord = 0;    ///< where it opens, counted from 0 (Number, Offset)
    std::uint64_t seed = 1;          ///< of the jitter
    bool operator==(const PageRules&) const = default;
};

} // namespace scorrere
