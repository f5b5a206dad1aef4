// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <cstdint>
#include <vector>

namespace scorrere {

/// Consecutive items that have their lanes: each stands in its lane right after the one before it there.
///
/// It grows at both ends. Behind its last item the next goes to the lane that ends first, before its first one
/// the previous goes to the lane that begins last; no other moves. Lanes need not begin or end level.
///
/// Units       Places are those of the record order. An entry is an item's extent and the gap after it. Lengths
///             count from the stretch's top, where its highest lane begins.
/// Complexity  s = size(), never more than kMost: append and the drops are O(lanes), prepend, setEntry and
///             splitAt O(s), entry O(1) where lanes are about as long. 5 bytes an item.
class LaneStretch {
public:
    static constexpr std::size_t kMost = 256;
    static constexpr int kMostLanes = 32;
    /// So long that no stretch of them can be too long to be counted.
    static constexpr Length kMostEntry = Length::fromRaw(std::int64_t{1} << 22);

    /// Empty, with every lane at an edge of its own: as long as the lanes have been before, or are behind.
    LaneStretch(std::int64_t first, std::vector<std::int32_t> edges);

    std::int64_t first() const { return first_; }
    std::int64_t until() const { return first_ + static_cast<std::int64_t>(starts_.size()); }
    bool has(std::int64_t place) const { return place >= first_ && place < until(); }
    std::size_t size() const { return starts_.size(); }
    bool isFull() const { return size() >= kMost; }
    /// Its places are other ones now.
    void moveBy(std::int64_t places) { first_ += places; }

    int lanes() const { return static_cast<int>(tops_.size()); }
    /// From its top to where its longest lane ends.
    Length height() const { return Length::fromRaw(bottom() - top_); }
    Length laneTop(int lane) const { return Length::fromRaw(tops_[at(lane)] - top_); }
    Length laneEnd(int lane) const { return Length::fromRaw(ends_[at(lane)] - top_); }
    /// Where the lane that ends first does, and where the one that begins last does.
    Length firstEnd() const;
    Length lastTop() const;
    /// Whether all that it has take no room.
    bool isNothing() const { return tops_ == ends_; }
    bool beginsLevel() const { return lastTop() == Length{}; }
    const std::vector<std::int32_t>& tops() const { return tops_; }
    const std::vector<std::int32_t>& ends() const { return ends_; }
    /// How far the one behind it can move into what its lanes leave free: no farther than they touch.
    Length overlapWith(const LaneStretch& behind) const;

    // By index from its first item.
    int lane(std::size_t index) const { return lanes_[index]; }
    Length start(std::size_t index) const { return Length::fromRaw(starts_[index] - top_); }
    Length entry(std::size_t index) const;
    /// Those before it all end at or before `offset`.
    std::size_t firstBeyond(Length offset) const;

    void append(Length entry);
    void prepend(Length entry);
    void dropLast();
    void dropFirst();
    /// Another entry moves what is behind it in its lane, or (`upward`) it and what is before it.
    void setEntry(std::size_t index, Length entry, bool upward);
    /// Takes the items from a place on out, as a stretch of their own that stands as they did.
    LaneStretch splitAt(std::int64_t place);

    std::size_t memoryBytes() const {
        return sizeof(*this) + (tops_.capacity() + ends_.capacity()) * sizeof(std::int32_t) +
               starts_.capacity() * sizeof(std::int32_t) + lanes_.capacity();
    }
    void checkInvariants() const;

private:
    static std::size_t at(int lane) { return static_cast<std::size_t>(lane); }
    void findTop();
    std::int32_t bottom() const;

    std::int64_t first_;
    std::int32_t top_ = 0;           ///< the least of them
    std::vector<std::int32_t> tops_; ///< by lane, raw
    std::vector<std::int32_t> ends_;
    std::vector<std::int32_t>
        starts_; ///< of each item, from where the stretch had its origin when it was made
    std::vector<std::uint8_t> lanes_; ///< of each item
};

} // namespace scorrere
