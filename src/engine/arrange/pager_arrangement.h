// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"
#include "engine/arrange/position_marks.h"

#include <optional>

namespace scorrere {

/// How a pager is arranged. Lengths in density-independent px.
struct PagerSpec {
    Length peek;          ///< so much of the neighbours shows, beyond the gap of the spacing
    bool several = false; ///< a fast fling goes past more than one
    std::optional<MarksSpec> marks;
    bool endless = false; ///< the first item follows the last, where there are enough to fill the window
    bool operator==(const PagerSpec&) const = default;
};

/// One item to a window, less what shows of its neighbours: all of one extent, which follows the window's. It
/// comes to rest on an item. Header and footer are items like the others. Where it is endless each item is named
/// once: it stands where it is nearest to the window, and offsets go on beyond both ends.
///
/// Complexity  O(1), and nothing is kept of an item.
class PagerArrangement final : public Arrangement {
public:
    PagerArrangement(const PagerSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records)
        : Arrangement(ends, records), spec_(spec), spacing_(spacing) {}

    void setCross(Length cross) override { cross_ = cross; }
    void setWindow(Length along) override { window_ = along; }
    bool followsWindow() const override { return true; }
    Length total() override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t) override { return {room(), extent()}; }
    std::int64_t indexAt(Length offset) override;
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override;
    std::optional<Length> restFor(Length offset, double velocity) override;
    std::optional<Length> restBeside(Length offset, Toward toward) override;
    Length restOf(std::int64_t position) override { return step() * turned(position); }
    Length circle() const override { return isEndless() ? step() * size() : Length{}; }
    Length windowAt(std::int64_t position, Length showed) override;
    void beginAt(std::int64_t position) override { nearest_ = position; }

    ExtentState stateOf(std::int64_t) override { return ExtentState::Measured; }
    std::int64_t measuredBefore(std::int64_t position) override { return position; }
    std::int64_t knownBefore(std::int64_t position) override { return position; }
    Length estimateOf(int) const override { return extent(); }
    Length mostExtent() const override { return ExtentIndex::kMaxExtent; }

    void insertRecords(std::int64_t, std::int64_t count) override { addRecords(count); }
    void eraseRecords(std::int64_t, std::int64_t count) override { addRecords(-count); }
    void moveRecord(std::int64_t, std::int64_t) override {}
    bool takesOthers() const override { return true; } // each an item like the others
    void insertOther(std::int64_t, int) override { addRecords(1); }
    void tellKinds(std::span<const KindRun> records, bool areOthers) override;
    void setMeasured(std::int64_t, Length) override {}
    void setEstimated(std::int64_t, std::span<const std::int32_t>) override {}
    void evenOut(std::int64_t, std::int64_t) override {}
    bool forgetNothing(std::int64_t) override { return false; }
    Forgotten forgetExtents(const Estimates&) override { return {}; }
    std::size_t memoryBytes() const override { return 0; }
    std::int64_t nodesVisited() const override { return 0; }
    void checkInvariants() override {}

private:
    void setKindEstimate(int, Length) override {}
    Length room() const;
    Length lead() const;
    Length extent() const;
    Length step() const { return extent() + spacing_.gap; }
    bool isEndless() const;
    Length before() const { return spacing_.insets[0] + lead(); }
    std::int64_t turned(std::int64_t position) const;
    std::int64_t untilTurned() const { return nearest_ + size() / 2; }

    PagerSpec spec_;
    Spacing spacing_;
    Length cross_;
    Length window_;
    std::int64_t nearest_ = 0; ///< the item that is nearest to the window, turns counted; of an endless one
};

} // namespace scorrere
