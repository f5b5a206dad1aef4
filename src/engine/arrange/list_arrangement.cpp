// SPDX-License-Identifier: Apache-2.0
//
// Each item's entry in the extent index is its extent and the gap after it, so one sum gives offsets with
// gaps; the last gap is taken off the total.
#include "engine/arrange/list_arrangement.h"

#include <algorithm>
#include <utility>

namespace scorrere {

ListArrangement::ListArrangement(const Spacing& spacing, Ends ends, std::int64_t records,
                                 const Estimates& estimates)
    : Arrangement(ends, records), spacing_(spacing) {
    (void)forgetExtents(estimates);
}

void ListArrangement::fill(std::span<const KindRun> records) {
    index_.insertAll(records);
    if (hasHeading()) {
        index_.insert(0, 1, kHeadingKind);
    }
    if (hasHeader()) {
        index_.insert(0, 1, kHeaderKind);
    }
    if (hasFooter()) {
        index_.insert(index_.size(), 1, kFooterKind);
    }
}

Length ListArrangement::total() {
    const Length gaps = size() > 0 ? spacing_.gap : Length{};
    return spacing_.insets[0] + index_.total() - gaps + spacing_.insets[2];
}

Box ListArrangement::boxOf(std::int64_t position) {
    const ExtentIndex::Stand stand = index_.standOf(position);
    return {spacing_.insets[0] + stand.offset, stand.extent - spacing_.gap, spacing_.insets[3],
            crossExtent()};
}

std::int64_t ListArrangement::indexAt(Length offset) {
    return std::min(index_.indexAt(offset - spacing_.insets[0]), size() - 1);
}

/// Whether an item takes no room at all: there may be any number of them at one place.
bool ListArrangement::isNothing(std::int64_t position) {
    return index_.extentOf(position) == Length{};
}

/// The next item that takes room, or may; size() when there is none.
std::int64_t ListArrangement::next(std::int64_t position) {
    if (++position < size() && isNothing(position)) {
        // The index finds what covers the place where it would stand: the first after it with an extent.
        const Length at = index_.offsetOf(position);
        position = at >= index_.offsetOf(size() - 1) && isNothing(size() - 1) ? size() : index_.indexAt(at);
    }
    return position;
}

/// The one before, or -1.
std::int64_t ListArrangement::previous(std::int64_t position) {
    if (--position >= 0 && isNothing(position)) {
        const Length at = index_.offsetOf(position);
        position = at <= Length{} ? -1 : index_.indexAt(at - Length::fromRaw(1));
    }
    return position;
}

std::size_t ListArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                      std::span<std::int64_t> room) {
    from = std::max(from, Length{});
    if (size() == 0 || from >= until) {
        return 0;
    }
    std::size_t named = 0;
    const auto take = [&](std::int64_t position, Length start, Length extent) {
        if (start < until && start + extent > from && extent > Length{}) {
            room[named++] = position;
        }
    };
    if (toward == Toward::End) {
        std::int64_t position = indexAt(from);
        if (past >= position) {
            position = next(past);
        }
        Length start = position < size() ? startOf(position) : until;
        while (position < size() && start < until && named < room.size()) {
            const Length entry = index_.extentOf(position);
            take(position, start, entry - spacing_.gap);
            position = next(position);
            start += entry;
        }
        return named;
    }
    std::int64_t position = indexAt(until - Length::fromRaw(1));
    if (past != kFromTheEnd && past <= position) {
        position = previous(past);
    }
    if (position < 0) {
        return 0;
    }
    Length start = startOf(position);
    while (named < room.size()) {
        const Length extent = index_.extentOf(position) - spacing_.gap;
        if (start + extent <= from) {
            break;
        }
        take(position, start, extent);
        position = previous(position);
        if (position < 0) {
            break;
        }
        start -= index_.extentOf(position);
    }
    return named;
}

void ListArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    addRecords(count);
    index_.insert(positionOf(place), count, kRecordKind);
}

void ListArrangement::insertOther(std::int64_t place, int kind) {
    addRecords(1);
    index_.insert(positionOf(place), 1, kind);
}

void ListArrangement::tellKinds(std::span<const KindRun> records, bool) {
    ExtentIndex told;
    for (int kind = 0; kind < kRoles; ++kind) {
        told.setEstimate(kind, index_.estimate(kind));
    }
    index_ = std::move(told);
    addRecords(-recordCount());
    for (const KindRun& stretch : records) {
        addRecords(stretch.count);
    }
    fill(records);
}

void ListArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    addRecords(-count);
    index_.erase(positionOf(place), count);
}

void ListArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    index_.move(positionOf(from), positionOf(to));
}

void ListArrangement::setMeasured(std::int64_t position, Length extent) {
    const ExtentState before =
        index_.setMeasured(position, std::min(extent + spacing_.gap, ExtentIndex::kMaxExtent));
    if (before == ExtentState::KindEstimate) {
        countMeasured(index_.kindOf(position), extent);
    }
}

void ListArrangement::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    slotExtents_.assign(extents.begin(), extents.end());
    for (std::int32_t& extent : slotExtents_) {
        extent += extent < 0 ? 0 : static_cast<std::int32_t>(spacing_.gap.raw());
    }
    index_.setEstimated(positionOf(firstPlace), slotExtents_);
}

bool ListArrangement::forgetNothing(std::int64_t position) {
    if (index_.stateOf(position) == ExtentState::KindEstimate || extentOf(position) != Length{}) {
        return false;
    }
    const int kind = index_.kindOf(position);
    index_.erase(position, 1);
    index_.insert(position, 1, kind);
    return true;
}

void ListArrangement::setKindEstimate(int kind, Length extent) {
    index_.setEstimate(kind, std::min(extent + spacing_.gap, ExtentIndex::kMaxExtent));
}

Arrangement::Forgotten ListArrangement::forgetExtents(const Estimates& estimates) {
    Forgotten old;
    old.push_back(std::exchange(index_, ExtentIndex()));
    forgetMeans();
    for (int kind = 0; kind < kRoles; ++kind) {
        setKindEstimate(kind, std::max(estimates[static_cast<std::size_t>(kind)], kLeastEstimate));
    }
    const KindRun records{recordCount(), kRecordKind};
    fill({&records, 1});
    return old;
}

} // namespace scorrere
