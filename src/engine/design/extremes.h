// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/item_design.h"

#include <array>
#include <cstdint>
#include <string>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// Why a record is hard on a design.
enum class Extreme : std::uint8_t {
    Shortest,
    Median,
    Tallest,
    MostMissing,
    LongestWord,
    MostCut, ///< the most text lies beyond the lines it may have
    NoText,  ///< the most texts have nothing to say
    RightToLeft,
    MostEntries,
    NoPicture,
    PictureMissing, ///< it names one that is not there
    WidestPicture,
    TallestPicture,
    Sample, ///< nothing about it is extreme: one of the others, where there are few of those
};
constexpr std::size_t kExtremes = 14;
constexpr std::size_t kLeastRecords = 6; ///< so many different ones are found where there are as many

/// A record a design should be looked at on, with every reason.
struct HardRecord {
    std::int64_t record = -1;
    std::vector<Extreme> why;
    std::int64_t measure = 0; ///< of the first reason: missing fields, characters, entries, px
    bool operator==(const HardRecord&) const = default;
};

/// Finds the records that break a design, in one pass over all of them.
///
/// What a record says is taken as the design shows it: a word that no part shows breaks nothing.
///
/// Complexity  consider: O(what the record shows). Memory: one entry for each height there is.
/// Threads     One thread; for workers.
class ExtremesFinder {
public:
    ExtremesFinder(const ItemDesign& design, const RecordTable& records)
        : design_(design), records_(records) {}

    /// `content`: the design filled with the record; `cut`: how much of its texts has no room. Records may
    /// come in any order; the first of equals wins.
    void consider(std::int64_t record, Length height, const ItemContent& content, Length cut = {});
    /// What came of looking at a record's picture: its width / height; 0: there is none at its address.
    void considerPicture(std::int64_t record, double aspect);
    /// Those found so far, each record once.
    std::vector<HardRecord> found() const;
    std::int64_t considered() const { return considered_; }

private:
    struct Best {
        std::int64_t record = -1;
        std::int64_t score = 0;
    };
    void offer(Extreme extreme, std::int64_t record, std::int64_t score);
    Best median() const;
    void addSamples(std::vector<HardRecord>& found) const;

    const ItemDesign& design_;
    const RecordTable& records_;
    std::array<Best, kExtremes> best_;
    struct Height {
        std::int64_t count = 0;
        std::int64_t record = -1;
    };
    std::unordered_map<std::int64_t, Height> heights_;
    std::vector<std::int64_t> first_; ///< the lowest records, as many as may be needed for samples
    std::int64_t considered_ = 0;
};

/// Characters of the longest run of a text that no line can break in.
std::int64_t longestUnbroken(std::string_view text);
/// Characters written from right to left.
std::int64_t rightToLeftCharacters(std::string_view text);

} // namespace scorrere
