// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/lanes.h"
#include "engine/arrange/placed_items.h"
#include "engine/design/place_reader.h"
#include "engine/record/record_order.h"

#include <array>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace scorrere {

/// How items are placed: what of each record says where it stands, and the gap between lanes.
struct PlacedSpec {
    PlacedBy by;
    Length laneGap; ///< between lanes, and between items that stand beside each other in one
    bool operator==(const PlacedSpec&) const = default;
};

/// Items that stand where their records say, as on a timetable: any may overlap, and there may be nothing at all for
/// long stretches. Those that overlap in a lane share its width. The strip begins with the first item. Positions
/// are in the order of starts, whatever the order of records. Where a record's item stands is somebody's to say;
/// until then, and where its record says nothing, it stands nowhere and has no position.
///
/// Where more than kMostInALine overlap in a lane, those for which there is no room are left out.
///
/// Complexity  n = items: queries and edits are O(log n) for each item they name, and O(log n) for each item that
///             stands beside each other with it or with those, up to kMostMoved. Telling all at once is O(n) of
///             what was prepared elsewhere.
/// Memory      About 45 bytes an item.
class PlacedArrangement final : public Arrangement {
public:
    /// Where all items stand, worked out: a worker's task.
    class Told {
    public:
        /// Of all records, by place; nothing where it says nothing.
        Told(std::span<const std::optional<GivenPlace>> places, int lanes);
        std::int64_t records() const { return ids_.size(); }

    private:
        friend class PlacedArrangement;
        void stand(std::vector<PlacedItems::Item> items);
        static constexpr std::int64_t kTogether = 512;
        using Starts = std::array<Length, kTogether>;
        Length startOf(std::int64_t id) const {
            const auto at = static_cast<std::size_t>(id / kTogether);
            return at < starts_.size() && starts_[at]
                       ? (*starts_[at])[static_cast<std::size_t>(id % kTogether)]
                       : kNowhere;
        }
        void setStart(std::int32_t id, Length start);
        std::size_t memoryOfStarts() const;

        PlacedItems items_;
        std::vector<std::unique_ptr<Starts>> starts_; ///< by id; of most pages of a service there are none
        std::int64_t leftOut_ = 0;
        int lanes_ = 1;
        RecordOrder ids_; ///< by place
    };

    PlacedArrangement(const PlacedSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records,
                      const Estimates& estimates);

    /// Where items of consecutive records stand from now on. `lanes`: so many there are.
    void tell(std::int64_t firstPlace, std::span<const std::optional<GivenPlace>> places, int lanes);
    /// Gives what was told before, to be freed elsewhere. Requires: it is of all records.
    Told takeTold(Told told);
    int lanes() const { return told_.lanes_; }
    /// So many have no room in their lane.
    std::int64_t leftOut() const { return told_.leftOut_; }
    std::int64_t placed() const { return told_.items_.size(); }
    static constexpr std::size_t kMostMoved = 1024;

    bool areByPlace() const override { return false; }
    Slot slotAt(std::int64_t position) const override;
    /// Of one that stands nowhere: the first position.
    std::int64_t positionOf(std::int64_t place) const override;

    void setCross(Length cross) override { cross_ = cross; }
    Length total() override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t position) override;
    std::int64_t indexAt(Length offset) override;
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override;
    std::size_t mostInALine() const override { return kMostInALine; }

    ExtentState stateOf(std::int64_t position) override;
    std::int64_t measuredBefore(std::int64_t position) override;
    std::int64_t knownBefore(std::int64_t position) override { return measuredBefore(position); }
    Length estimateOf(int kind) const override;
    Length mostExtent() const override { return ExtentIndex::kMaxExtent - spacing_.gap; }

    void insertRecords(std::int64_t place, std::int64_t count) override;
    void eraseRecords(std::int64_t place, std::int64_t count) override;
    void moveRecord(std::int64_t from, std::int64_t to) override;
    void setMeasured(std::int64_t position, Length extent) override;
    void setEstimated(std::int64_t, std::span<const std::int32_t>) override {}
    void evenOut(std::int64_t, std::int64_t) override {}
    bool forgetNothing(std::int64_t position) override;
    Forgotten forgetExtents(const Estimates& estimates) override;
    std::size_t memoryBytes() const override;
    std::int64_t nodesVisited() const override { return told_.items_.nodesVisited(); }
    void checkInvariants() override;

private:
    /// The header or the footer.
    struct End {
        Length extent;
        Length estimate;
        bool isMeasured = false;
    };
    static constexpr Length kNowhere = Length::fromRaw(INT64_MIN);
    static constexpr Length kLeftOut = Length::fromRaw(INT64_MIN + 1); ///< there was no room for it
    static PlacedItems::Item itemOf(const GivenPlace& place, std::int32_t id);
    void setKindEstimate(int kind, Length extent) override;
    Length room() const { return std::max(cross_ - spacing_.insets[1] - spacing_.insets[3], Length{}); }
    std::int64_t first() const { return hasHeader() ? 1 : 0; }
    End* endAt(std::int64_t position);
    Length recordsStart() const;
    Length recordsEnd() const;
    Length footerStart() const;
    Length onItems(Length offset) const { return offset - recordsStart() + zero_; }
    void counted();
    void takeOut(std::int32_t id);
    void leaveOut(std::int32_t id);
    void put(const PlacedItems::Item& item);
    std::optional<std::vector<PlacedItems::Item*>> bunchOf(const PlacedItems::Item& item);
    bool squeezeIn(PlacedItems::Item& item);
    bool standBeside(const PlacedItems::Item& item);

    PlacedSpec spec_;
    Spacing spacing_;
    Length cross_;
    End header_;
    End footer_;
    mutable Told told_; ///< queries count what they visit
    std::int64_t nextId_ = 0;
    Length zero_;  ///< of items, where the strip begins
    Length reach_; ///< where the furthest ends
};

} // namespace scorrere
