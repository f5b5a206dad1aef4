// SPDX-License-Identifier: Apache-2.0
//
// Each item's entry in the extent index is its extent and the gap after it, so one sum gives offsets with
// gaps; the last gap is taken off the total.
#include "engine/arrange/list_arrangement.h"

#include <algorithm>
#include <utility>

namespace scorrere {

ListArrangement::ListArrangement(const ListSpec& spec, std::int64_t records,
                                 std::array<Length, kKinds> estimates)
    : spec_(spec) {
    for (int kind = 0; kind < kKinds; ++kind) {
        setKindEstimate(kind, estimates[static_cast<std::size_t>(kind)]);
    }
    index_.insert(0, records, kRecordKind);
    if (spec.header) {
        index_.insert(0, 1, kHeaderKind);
    }
    if (spec.footer) {
        index_.insert(index_.size(), 1, kFooterKind);
    }
}

Slot ListArrangement::slotAt(std::int64_t position) const {
    if (spec_.header && position == 0) {
        return {Role::Header, -1};
    }
    if (spec_.footer && position == size() - 1) {
        return {Role::Footer, -1};
    }
    return {Role::Record, position - (spec_.header ? 1 : 0)};
}

Length ListArrangement::total() {
    const Length gaps = size() > 0 ? spec_.gap : Length{};
    return spec_.insets[0] + index_.total() - gaps + spec_.insets[2];
}

Length ListArrangement::startOf(std::int64_t position) {
    return spec_.insets[0] + index_.offsetOf(position);
}

Length ListArrangement::extentOf(std::int64_t position) {
    return index_.extentOf(position) - spec_.gap;
}

std::int64_t ListArrangement::indexAt(Length offset) {
    return std::min(index_.indexAt(offset - spec_.insets[0]), size() - 1);
}

void ListArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    index_.insert(positionOf(place), count, kRecordKind);
}

void ListArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    index_.erase(positionOf(place), count);
}

void ListArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    index_.move(positionOf(from), positionOf(to));
}

void ListArrangement::setMeasured(std::int64_t position, Length extent) {
    index_.setMeasured(position, std::min(extent + spec_.gap, ExtentIndex::kMaxExtent));
}

void ListArrangement::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    slotExtents_.assign(extents.begin(), extents.end());
    for (std::int32_t& extent : slotExtents_) {
        extent += extent < 0 ? 0 : static_cast<std::int32_t>(spec_.gap.raw());
    }
    index_.setEstimated(positionOf(firstPlace), slotExtents_);
}

bool ListArrangement::forgetNothing(std::int64_t position) {
    if (index_.stateOf(position) == ExtentState::KindEstimate || index_.extentOf(position) != Length{}) {
        return false;
    }
    const int kind = index_.kindOf(position);
    index_.erase(position, 1);
    index_.insert(position, 1, kind);
    return true;
}

void ListArrangement::setKindEstimate(int kind, Length extent) {
    index_.setEstimate(kind, std::min(extent + spec_.gap, ExtentIndex::kMaxExtent));
}

ExtentIndex ListArrangement::forgetExtents() {
    const std::int64_t records = recordCount();
    ExtentIndex old = std::exchange(index_, ExtentIndex());
    for (int kind = 0; kind < kKinds; ++kind) {
        index_.setEstimate(kind, old.estimate(kind));
    }
    index_.insert(0, records, kRecordKind);
    if (spec_.header) {
        index_.insert(0, 1, kHeaderKind);
    }
    if (spec_.footer) {
        index_.insert(index_.size(), 1, kFooterKind);
    }
    return old;
}

} // namespace scorrere
