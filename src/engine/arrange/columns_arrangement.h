// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"
#include "engine/arrange/lane_stretch.h"
#include "engine/arrange/lanes.h"

namespace scorrere {

/// How ragged columns are arranged. Lengths in density-independent px.
struct ColumnsSpec {
    Lanes lanes; ///< along them there is the gap of the spacing
    bool operator==(const ColumnsSpec&) const = default;
};

/// Lanes of equal width, side by side: each item goes to the one that ends first. Header and footer stand
/// across all of them.
///
/// An item gets its lane when it is first asked for, and keeps it. Around each place that was jumped to a
/// stretch of items with lanes grows at both ends as it is scrolled; between stretches, where nobody was, only
/// the sum of what is thought of the items counts. So a jump is as cheap as any query, and scrolling back
/// shows the same picture. Where two stretches meet, lanes can be apart by an item's extent.
///
/// What begins above all that showed moves up when it turns out to be of another extent, and what is before it
/// in its lane, so that lanes never slide along each other where somebody reads.
///
/// What is no record, as the header of a section, stands across all lanes, behind all that is before it; behind it
/// lanes begin level.
///
/// An edit leaves lanes before it as they are, and behind it when what is read stands there; else those
/// behind it get theirs anew.
///
/// Complexity  n = items, s = stretches, at most 256 items each: queries and setMeasured are O(log n + log s),
///             an edit O(log n + s). What is estimated anew (setEstimated, takeMeans) costs the next query
///             O(s log n).
/// Memory      6 bytes an item that has a lane.
class ColumnsArrangement final : public Arrangement {
public:
    ColumnsArrangement(const ColumnsSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records,
                       const Estimates& estimates);

    int lanes() const { return lanes_; }
    /// How many items have one. O(s).
    int withLanes() const;

    Given givenForRecords() const { return {laneWidth_, std::nullopt}; }

    void setCross(Length cross) override;
    Length total() override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t position) override;
    std::int64_t indexAt(Length offset) override;
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override;
    std::size_t mostInALine() const override { return static_cast<std::size_t>(lanes_); }
    bool isInOrder() const override { return lanes_ == 1; }
    void keepStill(std::int64_t position, Length showed) override {
        still_ = position;
        showed_ = showed;
    }
    void beginAt(std::int64_t position) override;
    void recall(std::int64_t position) override;

    ExtentState stateOf(std::int64_t position) override { return cells_.stateOf(position); }
    std::int64_t measuredBefore(std::int64_t position) override { return cells_.measuredBefore(position); }
    std::int64_t knownBefore(std::int64_t position) override { return cells_.knownBefore(position); }
    Length estimateOf(int kind) const override {
        return cells_.estimate(kind) / sharesOf(kind) - spacing_.gap;
    }
    Length mostExtent() const override { return LaneStretch::kMostEntry - spacing_.gap; }

    void insertRecords(std::int64_t place, std::int64_t count) override;
    void eraseRecords(std::int64_t place, std::int64_t count) override;
    void moveRecord(std::int64_t from, std::int64_t to) override;
    void setMeasured(std::int64_t position, Length extent) override;
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) override;
    void evenOut(std::int64_t place, std::int64_t count) override;
    bool forgetNothing(std::int64_t position) override;
    bool takesOthers() const override { return true; }
    void insertOther(std::int64_t place, int kind) override;
    void tellKinds(std::span<const KindRun> records, bool areOthers) override;
    Forgotten forgetExtents(const Estimates& estimates) override;
    std::size_t memoryBytes() const override;
    std::int64_t nodesVisited() const override { return cells_.nodesVisited(); }
    void checkInvariants() override;

private:
    void setKindEstimate(int kind, Length extent) override;
    Length room() const;
    Length recordsStart();
    Length recordsEnd();
    Length shared(Length entry, int kind) const;
    ExtentIndex::Known knownOf(std::int64_t place);
    void fillCells(std::span<const KindRun> records);
    /// What is kept of one across all lanes is multiplied, since what has no lane is shared by them.
    int sharesOf(int kind) const {
        return kind == kSectionHeaderKind || kind == kSectionFooterKind ? lanes_ : 1;
    }
    bool isOther(std::int64_t place) { return hasOthers_ && cells_.kindOf(positionOf(place)) != kRecordKind; }
    Length entryOf(std::int64_t place) { return cells_.extentOf(positionOf(place)); }
    Length looseSum(std::int64_t from, std::int64_t until);
    Length looseLength(std::int64_t from, std::int64_t until);
    Length baseOf(std::size_t stretch);
    Length endOf(std::size_t stretch);
    Length overlapAfter(std::size_t stretch);
    void movedFrom(std::size_t stretch);
    std::size_t behind(std::int64_t place) const;
    std::size_t behindOffset(Length offset);
    std::int64_t looseAt(std::size_t behind, Length offset);
    std::int64_t looseFrom(std::size_t behind) const;
    std::int64_t looseUntil(std::size_t behind) const;
    Length looseStart(std::size_t behind);
    bool isNothing(std::int64_t from, std::int64_t until);
    bool isRoomBefore(std::size_t behind);
    bool joins(std::size_t stretch);
    bool isSpare(std::size_t stretch);
    bool mayGrowOn(std::size_t stretch);
    bool mayGrowBack(std::size_t stretch);
    std::size_t growOn(std::size_t stretch);
    std::size_t growBack(std::size_t stretch);
    std::int64_t sinceOther(std::int64_t place, std::int64_t least);
    std::size_t settle(std::size_t behind, std::int64_t place);
    /// What stands somewhere: one of a stretch, or one across all lanes.
    struct Spot {
        std::size_t stretch = 0;
        std::int64_t other = -1; ///< its place; -1: it is none
    };
    Spot settledAt(std::int64_t place);
    Spot settleAt(Length offset);
    Length stillAt();
    void dropChain(std::size_t stretch);
    std::size_t cutAt(std::int64_t place);
    void takeOut(std::int64_t place, std::int64_t count);
    void putIn(std::int64_t place, std::int64_t count);
    struct Naming;
    void take(Naming& to, const LaneStretch& of, Length base, std::size_t index) const;
    void nameOn(Naming& to);
    void nameBack(Naming& to);
    std::int64_t nameOther(Naming& to, std::int64_t place);

    ColumnsSpec spec_;
    Spacing spacing_;
    Length cross_;
    int lanes_ = 1;
    Length laneWidth_;
    bool hasOthers_ = false; ///< among the records
    std::int64_t still_ = -1;
    Length showed_;
    ExtentIndex cells_;                  ///< by position, each with the gap after it
    std::vector<LaneStretch> stretches_; ///< in order
    std::vector<Length> bases_;          ///< where each begins, as far as is known
    std::size_t basesKnown_ = 0;         ///< so many of them, from the first
    std::vector<std::int32_t> entries_;  ///< room for setEstimated
};

} // namespace scorrere
