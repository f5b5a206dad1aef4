// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/extent_index.h"

#include <array>
#include <cstdint>

namespace scorrere {

/// What stands at a position of the collection.
enum class Role : std::uint8_t { Header, Record, Footer };

struct Slot {
    Role role = Role::Record;
    std::int64_t place = -1; ///< Record: its place in the record order
};

/// How a list is arranged. Lengths in density-independent px.
struct ListSpec {
    Length gap;
    std::array<Length, 4> insets{}; ///< top, end, bottom, start: between the strip's edge and the items
    bool header = false;
    bool footer = false;
    bool operator==(const ListSpec&) const = default;
};

/// The upright list: one item below the other, each as wide as the strip less its insets.
///
/// Units       Positions count header, records and footer; places count records only.
/// Intervals   Item i covers [startOf(i), startOf(i) + extentOf(i)); the gap after it belongs to no item.
/// Complexity  As the extent index: O(log n).
/// Threads     As the extent index: sole access.
class ListArrangement {
public:
    static constexpr int kRecordKind = 0;
    static constexpr int kHeaderKind = 1;
    static constexpr int kFooterKind = 2;
    static constexpr int kKinds = 3;

    /// `estimates`: first extents for the kinds, by the constants above.
    ListArrangement(const ListSpec& spec, std::int64_t records, std::array<Length, kKinds> estimates);

    std::int64_t size() const { return index_.size(); }
    Slot slotAt(std::int64_t position) const;
    std::int64_t positionOf(std::int64_t place) const { return place + (spec_.header ? 1 : 0); }
    std::int64_t recordCount() const { return size() - (spec_.header ? 1 : 0) - (spec_.footer ? 1 : 0); }
    static int kindOf(Role role) {
        return role == Role::Record ? kRecordKind : role == Role::Header ? kHeaderKind : kFooterKind;
    }
    int kindAt(std::int64_t position) const { return kindOf(slotAt(position).role); }
    const ListSpec& spec() const { return spec_; }

    Length total();
    Length startOf(std::int64_t position);
    Length extentOf(std::int64_t position);
    /// The item that covers `offset`, or the one before the gap it falls in; clamped to the first and last
    /// item. -1 when there are none.
    std::int64_t indexAt(Length offset);
    Length crossExtent(Length stripWidth) const {
        return std::max(stripWidth - spec_.insets[1] - spec_.insets[3], Length{});
    }
    Length crossStart() const { return spec_.insets[3]; }

    void insertRecords(std::int64_t place, std::int64_t count);
    void eraseRecords(std::int64_t place, std::int64_t count);
    void moveRecord(std::int64_t from, std::int64_t to);
    void setMeasured(std::int64_t position, Length extent);
    /// Raw extents estimated from content for consecutive records; negative ones are left to the mean.
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents);
    /// As ExtentIndex::evenOut.
    void evenOut(std::int64_t place, std::int64_t count) { index_.evenOut(positionOf(place), count); }
    /// An item that takes no room is known by its kind's estimate again; tells whether it was one.
    bool forgetNothing(std::int64_t position);
    void setKindEstimate(int kind, Length extent);
    ExtentState stateOf(std::int64_t position) { return index_.stateOf(position); }

    /// All extents become their kind's estimate again: a new index in O(1). The old one is handed out, so
    /// that its memory can be given back elsewhere than in a frame.
    ExtentIndex forgetExtents();

    ExtentIndex& index() { return index_; }

private:
    ListSpec spec_;
    ExtentIndex index_;
    std::vector<std::int32_t> slotExtents_; ///< room for setEstimated
};

} // namespace scorrere
