// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"

namespace scorrere {

/// How a list is arranged: nothing but its spacing is to be said.
struct ListSpec {
    bool operator==(const ListSpec&) const = default;
};

/// One item after the other, each as wide as the strip less its insets.
///
/// Intervals   Item i covers [startOf(i), startOf(i) + extentOf(i)); the gap after it belongs to no item.
/// Complexity  As the extent index: O(log n).
class ListArrangement final : public Arrangement {
public:
    ListArrangement(const Spacing& spacing, Ends ends, std::int64_t records, const Estimates& estimates);

    void setCross(Length cross) override { cross_ = cross; }
    Length total() override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t) override { return {crossExtent(), std::nullopt}; }
    std::int64_t indexAt(Length offset) override;
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override;

    ExtentState stateOf(std::int64_t position) override { return index_.stateOf(position); }
    std::int64_t measuredBefore(std::int64_t position) override { return index_.measuredBefore(position); }
    std::int64_t knownBefore(std::int64_t position) override { return index_.knownBefore(position); }
    /// Of what stands there, whoever told it to be what.
    int entryKindAt(std::int64_t position) { return index_.kindOf(position); }
    Length estimateOf(int kind) const override { return index_.estimate(kind) - spacing_.gap; }
    Length mostExtent() const override { return ExtentIndex::kMaxExtent - spacing_.gap; }

    void insertRecords(std::int64_t place, std::int64_t count) override;
    void eraseRecords(std::int64_t place, std::int64_t count) override;
    void moveRecord(std::int64_t from, std::int64_t to) override;
    void setMeasured(std::int64_t position, Length extent) override;
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) override;
    void evenOut(std::int64_t place, std::int64_t count) override {
        index_.evenOut(positionOf(place), count);
    }
    bool forgetNothing(std::int64_t position) override;
    bool takesOthers() const override { return true; }
    void insertOther(std::int64_t place, int kind) override;
    void tellKinds(std::span<const KindRun> records, bool areOthers) override;
    Forgotten forgetExtents(const Estimates& estimates) override;
    std::size_t memoryBytes() const override { return index_.memoryBytes(); }
    std::int64_t nodesVisited() const override { return index_.nodesVisited(); }
    void checkInvariants() override { index_.checkInvariants(); }

private:
    void setKindEstimate(int kind, Length extent) override;
    Length crossExtent() const {
        return std::max(cross_ - spacing_.insets[1] - spacing_.insets[3], Length{});
    }
    void fill(std::span<const KindRun> records);
    std::int64_t next(std::int64_t position);
    std::int64_t previous(std::int64_t position);
    bool isNothing(std::int64_t position);

    Spacing spacing_;
    Length cross_;
    ExtentIndex index_;
    std::vector<std::int32_t> slotExtents_; ///< room for setEstimated
};

} // namespace scorrere
