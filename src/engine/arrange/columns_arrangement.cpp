// SPDX-License-Identifier: Apache-2.0
//
// Offsets: a stretch begins where what is before it ends: the stretch before, and the items between both, of
// which only the sum of their extents, shared by the lanes, counts. Where stretches join, with nothing between
// them that takes room, the one behind moves into what the lanes of the other leave free. Lengths between items of one stretch never change but when one
// of them is measured; everything else moves whole stretches.
#include "engine/arrange/columns_arrangement.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <utility>

namespace scorrere {

namespace {

/// A stretch that is so near, in items, grows to a place instead of another beginning there; over more that
/// take no room it does not grow, so that a row of a million of them costs nothing.
constexpr std::int64_t kNear = 64;

} // namespace

/// What is named of a stretch of the strip, while items get their lanes.
struct ColumnsArrangement::Naming {
    Length from;
    Length until;
    Toward toward;
    std::int64_t past;
    std::span<std::int64_t> room;
    std::size_t named = 0;
    Length still; ///< where what keeps still stood when they were said

    bool isFull() const { return named == room.size(); }
    bool isBeyond(std::int64_t position) const {
        return past == kFromTheEnd || (toward == Toward::End ? position > past : position < past);
    }
    /// The first of a stretch that can be meant, by index, on the way to the end.
    std::size_t firstOf(const LaneStretch& stretch, Length base, std::int64_t records) const {
        const std::int64_t next = past + 1 - records - stretch.first();
        return past == kFromTheEnd || next < 0 ? stretch.firstBeyond(from - base)
                                               : static_cast<std::size_t>(next);
    }
    /// And the first behind all of them on the way to the start.
    std::size_t untilOf(const LaneStretch& stretch, std::int64_t records) const {
        return past == kFromTheEnd
                   ? stretch.size()
                   : static_cast<std::size_t>(std::clamp<std::int64_t>(
                         past - records - stretch.first(), 0, static_cast<std::int64_t>(stretch.size())));
    }
    void take(std::int64_t position, Length start, Length extent) {
        if (!isFull() && isBeyond(position) && start < until && start + extent > from && extent > Length{}) {
            room[named++] = position;
        }
    }
    void follow(Length now) {
        from += now - still;
        until += now - still;
        still = now;
    }
};

ColumnsArrangement::ColumnsArrangement(const ColumnsSpec& spec, const Spacing& spacing, Ends ends,
                                       std::int64_t records, const Estimates& estimates)
    : Arrangement(ends, records), spec_(spec), spacing_(spacing) {
    static_assert(kMostInALine <= static_cast<std::size_t>(LaneStretch::kMostLanes));
    setCross(Length{});
    (void)forgetExtents(estimates);
}

Length ColumnsArrangement::room() const {
    return std::max(cross_ - spacing_.insets[1] - spacing_.insets[3], Length{});
}

void ColumnsArrangement::setCross(Length cross) {
    cross_ = cross;
    const std::array<Length, 2> thought{estimateOf(kSectionHeaderKind), estimateOf(kSectionFooterKind)};
    lanes_ = spec_.lanes.in(room());
    setKindEstimate(kSectionHeaderKind, thought[0]);
    setKindEstimate(kSectionFooterKind, thought[1]);
    laneWidth_ = spec_.lanes.widthIn(room());
}

int ColumnsArrangement::withLanes() const {
    std::size_t count = 0;
    for (const LaneStretch& stretch : stretches_) {
        count += stretch.size();
    }
    return static_cast<int>(count);
}

Given ColumnsArrangement::givenFor(std::int64_t position) {
    const Slot slot = slotAt(position);
    return {slot.role == Role::Record && !isOther(slot.place) ? laneWidth_ : room(), std::nullopt};
}

Length ColumnsArrangement::recordsStart() {
    return spacing_.insets[0] + (hasHeader() ? cells_.extentOf(0) : Length{});
}

Length ColumnsArrangement::recordsEnd() {
    const std::size_t last = stretches_.size();
    return looseStart(last) + looseLength(looseFrom(last), recordCount());
}

Length ColumnsArrangement::total() {
    const Length footer = hasFooter() ? cells_.extentOf(size() - 1) : Length{};
    const Length gaps = size() > 0 ? spacing_.gap : Length{};
    return recordsEnd() + footer - gaps + spacing_.insets[2];
}

/// How long items without lanes are thought to be one behind the other.
Length ColumnsArrangement::looseSum(std::int64_t from, std::int64_t until) {
    return from == until       ? Length{}
           : from + 1 == until ? entryOf(from)
                               : cells_.offsetOf(positionOf(until)) - cells_.offsetOf(positionOf(from));
}

/// And shared by the lanes.
Length ColumnsArrangement::looseLength(std::int64_t from, std::int64_t until) {
    return looseSum(from, until) / lanes_;
}

/// Whether items without lanes take no room, or there are none.
bool ColumnsArrangement::isNothing(std::int64_t from, std::int64_t until) {
    return from == until || (entryOf(from) == Length{} &&
                             cells_.offsetOf(positionOf(from)) == cells_.offsetOf(positionOf(until)));
}

bool ColumnsArrangement::isRoomBefore(std::size_t behind) {
    return !isNothing(looseFrom(behind), looseUntil(behind));
}

/// Whether nothing stands between a stretch and the next.
bool ColumnsArrangement::joins(std::size_t stretch) {
    return stretch + 1 < stretches_.size() && !isRoomBefore(stretch + 1);
}

Length ColumnsArrangement::overlapAfter(std::size_t stretch) {
    return joins(stretch) ? stretches_[stretch].overlapWith(stretches_[stretch + 1]) : Length{};
}

Length ColumnsArrangement::baseOf(std::size_t stretch) {
    bases_.resize(stretches_.size());
    for (; basesKnown_ <= stretch; ++basesKnown_) {
        const std::size_t at = basesKnown_;
        const Length between = looseSum(looseFrom(at), stretches_[at].first());
        Length& base = bases_[at];
        base = at == 0 ? recordsStart() : bases_[at - 1] + stretches_[at - 1].height();
        if (at > 0 && between == Length{}) {
            base -= stretches_[at - 1].overlapWith(stretches_[at]);
        }
        base += between / lanes_;
    }
    return bases_[stretch];
}

Length ColumnsArrangement::endOf(std::size_t stretch) {
    return baseOf(stretch) + stretches_[stretch].height();
}

/// Where it and those behind it stand is no longer known.
void ColumnsArrangement::movedFrom(std::size_t stretch) {
    basesKnown_ = std::min(basesKnown_, stretch);
}

/// The first stretch that begins behind a place.
std::size_t ColumnsArrangement::behind(std::int64_t place) const {
    const auto at = std::ranges::upper_bound(stretches_, place, {}, &LaneStretch::first);
    return static_cast<std::size_t>(at - stretches_.begin());
}

std::size_t ColumnsArrangement::behindOffset(Length offset) {
    if (!stretches_.empty()) {
        (void)baseOf(stretches_.size() - 1);
    }
    const auto until = bases_.begin() + static_cast<std::ptrdiff_t>(stretches_.size());
    return static_cast<std::size_t>(std::upper_bound(bases_.begin(), until, offset) - bases_.begin());
}

// Items without lanes are named by the stretch behind them.

std::int64_t ColumnsArrangement::looseFrom(std::size_t behind) const {
    return behind == 0 ? 0 : stretches_[behind - 1].until();
}

std::int64_t ColumnsArrangement::looseUntil(std::size_t behind) const {
    return behind == stretches_.size() ? recordCount() : stretches_[behind].first();
}

Length ColumnsArrangement::looseStart(std::size_t behind) {
    return behind == 0 ? recordsStart() : endOf(behind - 1) - overlapAfter(behind - 1);
}

std::int64_t ColumnsArrangement::looseAt(std::size_t behind, Length offset) {
    const std::int64_t from = looseFrom(behind);
    const Length at = cells_.offsetOf(positionOf(from)) + (offset - looseStart(behind)) * lanes_;
    return std::clamp(cells_.indexAt(at) - positionOf(0), from, looseUntil(behind) - 1);
}

Box ColumnsArrangement::boxOf(std::int64_t position) {
    const Slot slot = slotAt(position);
    if (slot.role != Role::Record) {
        return {slot.role == Role::Header ? spacing_.insets[0] : recordsEnd(),
                cells_.extentOf(position) - spacing_.gap, spacing_.insets[3], room()};
    }
    const std::size_t next = behind(slot.place);
    std::int64_t lane = 0;
    Box box;
    if (next > 0 && stretches_[next - 1].has(slot.place)) {
        const LaneStretch& stretch = stretches_[next - 1];
        const auto index = static_cast<std::size_t>(slot.place - stretch.first());
        lane = stretch.lane(index);
        box.start = baseOf(next - 1) + stretch.start(index);
        box.extent = stretch.entry(index) - spacing_.gap;
    } else {
        const std::int64_t from = looseFrom(next);
        const ExtentIndex::Known known = knownOf(slot.place);
        box.start = looseStart(next) + looseLength(from, slot.place);
        box.extent = known.extent / sharesOf(known.kind) - spacing_.gap;
        if (known.kind != kRecordKind) {
            box.crossStart = spacing_.insets[3];
            box.crossExtent = room();
            return box;
        }
        lane = (slot.place - from) % lanes_;
    }
    box.crossStart = spacing_.insets[3] + (laneWidth_ + spec_.lanes.gap) * lane;
    box.crossExtent = laneWidth_;
    return box;
}

ExtentIndex::Known ColumnsArrangement::knownOf(std::int64_t place) {
    ExtentIndex::Known known;
    cells_.read(positionOf(place), {&known, 1});
    return known;
}

std::int64_t ColumnsArrangement::indexAt(Length offset) {
    if (size() == 0) {
        return -1;
    }
    if (recordCount() == 0 || (hasHeader() && offset < recordsStart())) {
        return recordCount() == 0 && hasFooter() && offset >= recordsStart() ? size() - 1 : 0;
    }
    if (hasFooter() && offset >= recordsEnd()) {
        return size() - 1;
    }
    const std::size_t next = behindOffset(offset);
    const bool isRoom = isRoomBefore(next);
    if (next == 0 && !isRoom) {
        return positionOf(0); // before the first
    }
    if (next == 0 || (isRoom && offset >= endOf(next - 1))) {
        return positionOf(looseAt(next, offset));
    }
    const LaneStretch& stretch = stretches_[next - 1];
    const Length inside = offset - baseOf(next - 1);
    std::size_t last = 0;
    for (std::size_t i = 0; i < stretch.size(); ++i) {
        const Length start = stretch.start(i);
        if (start <= inside && inside < start + stretch.entry(i)) {
            return positionOf(stretch.first() + static_cast<std::int64_t>(i));
        }
        last = start <= inside ? i : last;
    }
    return positionOf(stretch.first() + static_cast<std::int64_t>(last));
}

/// Whether records without lanes stand behind a stretch, before anything across all lanes.
bool ColumnsArrangement::mayGrowOn(std::size_t stretch) {
    const std::int64_t place = stretches_[stretch].until();
    return place < looseUntil(stretch + 1) && !isOther(place);
}

bool ColumnsArrangement::mayGrowBack(std::size_t stretch) {
    const std::int64_t first = stretches_[stretch].first();
    return first > looseFrom(stretch) && !isOther(first - 1);
}

/// The item behind a stretch gets its lane, or the first behind many that take no room; gives the stretch that
/// has it. Requires: mayGrowOn().
std::size_t ColumnsArrangement::growOn(std::size_t stretch) {
    const std::int64_t place = stretches_[stretch].until();
    std::int64_t to = place;
    Length entry = entryOf(place);
    if (entry == Length{}) {
        to = cells_.indexAt(cells_.offsetOf(positionOf(place))) - positionOf(0);
        to = std::min(to, looseUntil(stretch + 1) - 1);
        to -= isOther(to) ? 1 : 0;
        to = to - place > kNear && !isOther(to) ? to : place;
        entry = entryOf(to);
    }
    if (stretches_[stretch].isFull() || to > place) {
        LaneStretch next(to, stretches_[stretch].ends());
        ++stretch;
        stretches_.insert(stretches_.begin() + static_cast<std::ptrdiff_t>(stretch), std::move(next));
        movedFrom(stretch);
    }
    movedFrom(stretch + 1);
    stretches_[stretch].append(entry);
    return stretch;
}

/// The item before a stretch gets its lane, or the last before many that take no room; gives the stretch that
/// has it. Requires: mayGrowBack().
std::size_t ColumnsArrangement::growBack(std::size_t stretch) {
    const std::int64_t first = stretches_[stretch].first();
    std::int64_t to = first;
    Length entry = entryOf(first - 1);
    if (entry == Length{}) {
        to = cells_.indexAt(cells_.offsetOf(positionOf(first)) - Length::fromRaw(1)) - positionOf(0) + 1;
        to = std::max(to, looseFrom(stretch) + 1);
        to += isOther(to - 1) ? 1 : 0;
        to = first - to > kNear && !isOther(to - 1) ? to : first;
        entry = entryOf(to - 1);
    }
    if (stretches_[stretch].isFull() || to < first) {
        LaneStretch before(to, stretches_[stretch].tops());
        stretches_.insert(stretches_.begin() + static_cast<std::ptrdiff_t>(stretch), std::move(before));
    }
    movedFrom(stretch);
    stretches_[stretch].prepend(entry);
    return stretch;
}

/// From where on, before a place, there are records only; not before `least`.
std::int64_t ColumnsArrangement::sinceOther(std::int64_t place, std::int64_t least) {
    if (!hasOthers_ || place <= least) {
        return std::min(place, least);
    }
    std::array<ExtentIndex::Known, kNear> room;
    const auto known = std::span(room).first(static_cast<std::size_t>(place - least));
    cells_.read(positionOf(least), known);
    while (place > least && known[static_cast<std::size_t>(place - least - 1)].kind == kRecordKind) {
        --place;
    }
    return place;
}

/// A record without a lane gets one, and those between it and a stretch that is near, or what stands across all
/// lanes. Gives its stretch.
std::size_t ColumnsArrangement::settle(std::size_t behind, std::int64_t place) {
    const auto begin = [&](std::int64_t first) {
        stretches_.insert(stretches_.begin() + static_cast<std::ptrdiff_t>(behind),
                          LaneStretch(first, std::vector<std::int32_t>(static_cast<std::size_t>(lanes_))));
        movedFrom(behind);
        return behind;
    };
    const std::int64_t loose = looseFrom(behind);
    const std::int64_t since = sinceOther(place, std::max(loose, place - kNear + 1));
    if (since == loose || since > place - kNear + 1) {
        std::size_t stretch = behind - 1;
        if (behind == 0 || since > loose) {
            stretch = begin(since);
            stretches_[stretch].append(entryOf(since));
        }
        while (stretches_[stretch].until() <= place) {
            stretch = growOn(stretch);
        }
        return stretch;
    }
    const std::int64_t next = looseUntil(behind);
    if (behind < stretches_.size() && next - place <= kNear && sinceOther(next, place) == place) {
        while (stretches_[behind].first() > place) {
            behind = growBack(behind);
        }
        return behind;
    }
    const std::int64_t until = std::min(looseUntil(behind), place + lanes_);
    std::size_t stretch = begin(place);
    stretches_[stretch].append(entryOf(place));
    while (stretches_[stretch].until() < until && mayGrowOn(stretch)) {
        stretch = growOn(stretch);
    }
    return behind;
}

/// A record's stretch, which it gets if it has none; or what else stands at a place.
ColumnsArrangement::Spot ColumnsArrangement::settledAt(std::int64_t place) {
    const std::size_t next = behind(place);
    if (next > 0 && stretches_[next - 1].has(place)) {
        return {next - 1, -1};
    }
    return isOther(place) ? Spot{next, place} : Spot{settle(next, place), -1};
}

/// What stands at an offset. Requires: there are records.
ColumnsArrangement::Spot ColumnsArrangement::settleAt(Length offset) {
    const std::size_t next = behindOffset(offset);
    const bool isRoom = isRoomBefore(next);
    if (next > 0 && (!isRoom || offset < endOf(next - 1))) {
        return {next - 1, -1};
    }
    if (stretches_.empty()) { // none has a lane yet, though none may take room
        return settledAt(looseAt(0, offset));
    }
    return isRoom ? settledAt(looseAt(next, offset)) : Spot{};
}

Length ColumnsArrangement::stillAt() {
    return still_ >= 0 && still_ < size() ? boxOf(still_).start : Length{};
}

void ColumnsArrangement::take(Naming& to, const LaneStretch& of, Length base, std::size_t index) const {
    const Length start = base + of.start(index);
    const std::int64_t position = positionOf(of.first() + static_cast<std::int64_t>(index));
    if (start < to.until && to.isBeyond(position)) {
        to.take(position, start, of.entry(index) - spacing_.gap);
    }
}

/// Names what stands across all lanes; gives the place of what is next that way. -1: that cannot be meant.
std::int64_t ColumnsArrangement::nameOther(Naming& to, std::int64_t place) {
    const Box box = boxOf(positionOf(place));
    const bool isOn = to.toward == Toward::End;
    to.take(positionOf(place), box.start, box.extent);
    if (isOn ? box.end() + spacing_.gap >= to.until : box.start <= to.from) {
        return -1;
    }
    place += isOn ? 1 : -1;
    if (box.extent + spacing_.gap == Length{} && place >= 0 &&
        place < recordCount()) { // past all that take no room
        const Length at =
            cells_.offsetOf(positionOf(isOn ? place : place + 1)) - Length::fromRaw(isOn ? 0 : 1);
        const std::int64_t there = at < Length{} ? -1 : cells_.indexAt(at) - positionOf(0);
        place = isOn ? std::max(place, there) : std::min(place, there);
    }
    return place < recordCount() ? place : -1;
}

void ColumnsArrangement::nameOn(Naming& to) {
    Spot at = settleAt(std::max(to.from, recordsStart()));
    to.follow(stillAt());
    while (at.other < 0) { // what stands before it in other lanes
        std::size_t& s = at.stretch;
        if (s > 0 && joins(s - 1)) {
            if (endOf(s - 1) <= to.from) {
                break;
            }
            --s;
        } else if (isRoomBefore(s) && mayGrowBack(s) && baseOf(s) + stretches_[s].lastTop() > to.from) {
            s = growBack(s);
            to.follow(stillAt());
        } else {
            break;
        }
    }
    for (std::size_t i = 0; !to.isFull();) {
        if (at.other >= 0) {
            const std::int64_t next = nameOther(to, at.other);
            if (next < 0) {
                return;
            }
            at = settledAt(next);
            to.follow(stillAt());
            i = 0;
            continue;
        }
        std::size_t& s = at.stretch;
        const Length base = baseOf(s);
        for (i = std::max(i, to.firstOf(stretches_[s], base, positionOf(0)));
             i < stretches_[s].size() && !to.isFull(); ++i) {
            take(to, stretches_[s], base, i);
        }
        if (to.isFull()) {
            return;
        }
        const std::int64_t next = stretches_[s].until();
        if (joins(s)) {
            if (baseOf(s + 1) >= to.until) {
                return;
            }
            ++s;
            i = 0;
        } else if (!isRoomBefore(s + 1)) {
            return;
        } else if (mayGrowOn(s)) {
            if (baseOf(s) + stretches_[s].firstEnd() >= to.until) {
                return;
            }
            s = growOn(s);
            i = stretches_[s].size() - 1;
        } else {
            at.other = next;
        }
    }
}

void ColumnsArrangement::nameBack(Naming& to) {
    Spot at = settleAt(std::clamp(to.until - Length::fromRaw(1), recordsStart(), recordsEnd()));
    to.follow(stillAt());
    while (at.other < 0) { // what stands behind it in other lanes
        std::size_t& s = at.stretch;
        if (joins(s)) {
            if (baseOf(s + 1) >= to.until) {
                break;
            }
            ++s;
        } else if (isRoomBefore(s + 1) && mayGrowOn(s) && baseOf(s) + stretches_[s].firstEnd() < to.until) {
            s = growOn(s);
        } else {
            break;
        }
    }
    for (std::size_t i = at.other < 0 ? stretches_[at.stretch].size() : 0; !to.isFull();) {
        if (at.other >= 0) {
            const std::int64_t before = nameOther(to, at.other);
            if (before < 0) {
                return;
            }
            at = settledAt(before);
            to.follow(stillAt());
            i = at.other < 0 ? stretches_[at.stretch].size() : 0;
            continue;
        }
        std::size_t& s = at.stretch;
        const Length base = baseOf(s);
        const std::size_t first = stretches_[s].firstBeyond(to.from - base);
        for (i = std::min(i, to.untilOf(stretches_[s], positionOf(0))); i > first && !to.isFull(); --i) {
            take(to, stretches_[s], base, i - 1);
        }
        if (to.isFull()) {
            return;
        }
        if (s > 0 && joins(s - 1)) {
            if (endOf(s - 1) <= to.from) {
                return;
            }
            --s;
            i = stretches_[s].size();
        } else if (!isRoomBefore(s)) {
            return;
        } else if (mayGrowBack(s)) {
            if (baseOf(s) + stretches_[s].lastTop() <= to.from) {
                return;
            }
            s = growBack(s);
            i = 1;
            to.follow(stillAt());
        } else {
            at.other = stretches_[s].first() - 1;
        }
    }
}

std::size_t ColumnsArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                         std::span<std::int64_t> room) {
    assert(room.size() >= mostInALine());
    from = std::max(from, Length{});
    if (size() == 0 || from >= until) {
        return 0;
    }
    Naming to{from, until, toward, past, room, 0, stillAt()};
    const auto takeEnd = [&](bool has, std::int64_t position) {
        if (has) {
            const Box box = boxOf(position);
            to.take(position, box.start, box.extent);
        }
    };
    const bool areRecords = recordCount() > 0 && to.from < recordsEnd() && to.until > recordsStart();
    if (toward == Toward::End) {
        takeEnd(hasHeader(), 0);
        if (areRecords) {
            nameOn(to);
        }
        takeEnd(hasFooter(), size() - 1);
    } else {
        takeEnd(hasFooter(), size() - 1);
        if (areRecords) {
            nameBack(to);
        }
        takeEnd(hasHeader(), 0);
    }
    return to.named;
}

/// One that somebody sees has a lane, wherever it stands now.
void ColumnsArrangement::recall(std::int64_t position) {
    const Slot slot = slotAt(position);
    const std::size_t next = slot.role == Role::Record ? behind(slot.place) : 0;
    const bool hasLane = next > 0 && stretches_[next - 1].has(slot.place);
    if (slot.role == Role::Record && !hasLane && !isOther(slot.place)) {
        (void)settle(next, slot.place);
    }
}

/// Whether everything stands where it does without a stretch that takes no room.
bool ColumnsArrangement::isSpare(std::size_t stretch) {
    const Length before = stretch > 0 ? overlapAfter(stretch - 1) : Length{};
    const bool areBoth = stretch > 0 && joins(stretch - 1) && joins(stretch);
    const Length without = areBoth ? stretches_[stretch - 1].overlapWith(stretches_[stretch + 1]) : Length{};
    return before + overlapAfter(stretch) - stretches_[stretch].height() == without;
}

void ColumnsArrangement::setMeasured(std::int64_t position, Length extent) {
    const Length entry = std::min(extent, mostExtent()) + spacing_.gap;
    const Slot slot = slotAt(position);
    const int kind = slot.role != Role::Record ? kindOf(slot.role)
                     : hasOthers_              ? cells_.kindOf(position)
                                               : kRecordKind;
    if (cells_.setMeasured(position, shared(entry, kind)) == ExtentState::KindEstimate) {
        countMeasured(kind, extent);
    }
    if (slot.role != Role::Record) {
        movedFrom(0);
        return;
    }
    const std::size_t next = behind(slot.place);
    if (next == 0 || !stretches_[next - 1].has(slot.place)) {
        movedFrom(next); // it gets its lane when it is asked for
        return;
    }
    const std::size_t at = next - 1;
    LaneStretch& stretch = stretches_[at];
    const auto index = static_cast<std::size_t>(slot.place - stretch.first());
    if (stretch.entry(index) == entry) {
        return;
    }
    const bool isBefore = still_ >= 0 && still_ < size() && boxOf(position).start < stillAt() - showed_;
    stretch.setEntry(index, entry, isBefore);
    movedFrom(at);
    if (stretch.isNothing() && isSpare(at)) {
        stretches_.erase(stretches_.begin() + static_cast<std::ptrdiff_t>(at));
        return;
    }
    // Those beyond it got their lanes by what was thought of it; nobody has seen them.
    const auto isUnseen = [this](std::int64_t place) {
        return stateOf(positionOf(place)) != ExtentState::Measured;
    };
    if (isBefore && (at == 0 || !joins(at - 1))) {
        while (stretch.first() < slot.place && isUnseen(stretch.first())) {
            stretch.dropFirst();
        }
    } else if (!isBefore && !joins(at)) {
        while (stretch.until() - 1 > slot.place && isUnseen(stretch.until() - 1)) {
            stretch.dropLast();
        }
    }
}

void ColumnsArrangement::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    entries_.assign(extents.begin(), extents.end());
    const auto most = static_cast<std::int32_t>(mostExtent().raw());
    for (std::int32_t& entry : entries_) {
        entry = entry < 0 ? entry : std::min(entry, most) + static_cast<std::int32_t>(spacing_.gap.raw());
    }
    cells_.setEstimated(positionOf(firstPlace), entries_);
    movedFrom(0);
}

/// Items with lanes by themselves: only the sum of the others counts.
void ColumnsArrangement::evenOut(std::int64_t place, std::int64_t count) {
    const std::int64_t end = place + count;
    while (place < end) {
        const std::size_t next = behind(place);
        const bool hasLane = next > 0 && stretches_[next - 1].has(place);
        const std::int64_t until = std::min(end, hasLane ? stretches_[next - 1].until() : looseUntil(next));
        cells_.evenOut(positionOf(place), until - place);
        place = until;
    }
}

bool ColumnsArrangement::forgetNothing(std::int64_t position) {
    const int kind = cells_.kindOf(position);
    if (cells_.stateOf(position) == ExtentState::KindEstimate ||
        cells_.extentOf(position) != shared(spacing_.gap, kind)) {
        return false;
    }
    cells_.erase(position, 1);
    cells_.insert(position, 1, kind);
    const Slot slot = slotAt(position);
    const std::size_t next = slot.role == Role::Record ? behind(slot.place) : 0;
    if (next > 0 && stretches_[next - 1].has(slot.place)) {
        stretches_[next - 1].setEntry(static_cast<std::size_t>(slot.place - stretches_[next - 1].first()),
                                      cells_.extentOf(position), position < still_);
    }
    movedFrom(0);
    return true;
}

void ColumnsArrangement::beginAt(std::int64_t position) {
    if (const Slot slot = slotAt(position); slot.role == Role::Record && isOther(slot.place)) {
        const std::size_t next = behind(slot.place);
        const bool isNext = next < stretches_.size() && stretches_[next].first() == slot.place + 1;
        if (isNext && !stretches_[next].beginsLevel()) {
            dropChain(next);
        }
    }
    if (position <= positionOf(0) && !stretches_.empty() && stretches_[0].first() == 0 &&
        !stretches_[0].beginsLevel()) {
        dropChain(0);
    }
}

/// The items of a stretch, and of those that join it, lose their lanes.
void ColumnsArrangement::dropChain(std::size_t stretch) {
    std::size_t until = stretch;
    while (joins(until)) {
        ++until;
    }
    stretches_.erase(stretches_.begin() + static_cast<std::ptrdiff_t>(stretch),
                     stretches_.begin() + static_cast<std::ptrdiff_t>(until + 1));
    movedFrom(stretch);
}

/// What stands at a place and behind it is in other stretches than what stands before it. Gives the first of
/// those behind it.
std::size_t ColumnsArrangement::cutAt(std::int64_t place) {
    const std::size_t next = behind(place - 1);
    if (next > 0 && stretches_[next - 1].until() > place) {
        LaneStretch rest = stretches_[next - 1].splitAt(place);
        stretches_.insert(stretches_.begin() + static_cast<std::ptrdiff_t>(next), std::move(rest));
    }
    movedFrom(next > 0 ? next - 1 : 0);
    return next;
}

/// Before `count` items go: those behind them are so many places on. Where nobody reads behind them they get
/// their lanes anew.
void ColumnsArrangement::takeOut(std::int64_t place, std::int64_t count) {
    const std::size_t from = cutAt(place);
    const std::size_t until = cutAt(place + count);
    const bool isReadBehind = positionOf(place) <= still_;
    const bool isJoined = until < stretches_.size() && isNothing(place + count, stretches_[until].first());
    if (!isReadBehind && isJoined) {
        dropChain(until);
    }
    stretches_.erase(stretches_.begin() + static_cast<std::ptrdiff_t>(from),
                     stretches_.begin() + static_cast<std::ptrdiff_t>(until));
    for (std::size_t i = from; i < stretches_.size(); ++i) {
        stretches_[i].moveBy(-count);
    }
    movedFrom(from > 0 ? from - 1 : 0);
}

/// Before `count` items come in at a place.
void ColumnsArrangement::putIn(std::int64_t place, std::int64_t count) {
    const std::size_t at = cutAt(place);
    if (positionOf(place) > still_ && at < stretches_.size() && isNothing(place, stretches_[at].first())) {
        dropChain(at);
    }
    for (std::size_t i = at; i < stretches_.size(); ++i) {
        stretches_[i].moveBy(count);
    }
}

void ColumnsArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    putIn(place, count);
    addRecords(count);
    cells_.insert(positionOf(place), count, kRecordKind);
}

void ColumnsArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    takeOut(place, count);
    addRecords(-count);
    cells_.erase(positionOf(place), count);
}

void ColumnsArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    takeOut(from, 1);
    putIn(to, 1);
    cells_.move(positionOf(from), positionOf(to));
    movedFrom(0);
}

void ColumnsArrangement::setKindEstimate(int kind, Length extent) {
    cells_.setEstimate(kind, shared(std::min(extent, mostExtent()) + spacing_.gap, kind));
    movedFrom(0);
}

/// As it is kept. Never longer than can be.
Length ColumnsArrangement::shared(Length entry, int kind) const {
    return std::min(entry * sharesOf(kind), ExtentIndex::kMaxExtent / sharesOf(kind) * sharesOf(kind));
}

void ColumnsArrangement::insertOther(std::int64_t place, int kind) {
    putIn(place, 1);
    hasOthers_ = true;
    addRecords(1);
    cells_.insert(positionOf(place), 1, kind);
    movedFrom(0);
}

void ColumnsArrangement::tellKinds(std::span<const KindRun> records, bool) {
    hasOthers_ = std::ranges::any_of(records, [](const KindRun& each) { return each.kind != kRecordKind; });
    ExtentIndex told;
    for (int kind = 0; kind < kRoles; ++kind) {
        told.setEstimate(kind, cells_.estimate(kind));
    }
    cells_ = std::move(told);
    addRecords(-recordCount());
    for (const KindRun& each : records) {
        addRecords(each.count);
    }
    stretches_.clear();
    basesKnown_ = 0;
    fillCells(records);
}

void ColumnsArrangement::fillCells(std::span<const KindRun> records) {
    cells_.insertAll(records);
    if (hasHeader()) {
        cells_.insert(0, 1, kHeaderKind);
    }
    if (hasFooter()) {
        cells_.insert(cells_.size(), 1, kFooterKind);
    }
}

Arrangement::Forgotten ColumnsArrangement::forgetExtents(const Estimates& estimates) {
    Forgotten old;
    old.push_back(std::exchange(cells_, ExtentIndex()));
    stretches_.clear();
    basesKnown_ = 0;
    forgetMeans();
    for (int kind = 0; kind < kRoles; ++kind) {
        setKindEstimate(kind, std::max(estimates[static_cast<std::size_t>(kind)], kLeastEstimate));
    }
    const KindRun all{recordCount(), kRecordKind};
    fillCells({&all, 1});
    return old;
}

std::size_t ColumnsArrangement::memoryBytes() const {
    std::size_t bytes = cells_.memoryBytes() + bases_.capacity() * sizeof(Length);
    for (const LaneStretch& stretch : stretches_) {
        bytes += stretch.memoryBytes();
    }
    return bytes;
}

void ColumnsArrangement::checkInvariants() {
    cells_.checkInvariants();
    assert(cells_.size() == size());
    std::int64_t until = 0;
    for (const LaneStretch& stretch : stretches_) {
        stretch.checkInvariants();
        assert(stretch.size() > 0 && stretch.lanes() == lanes_);
        assert(stretch.first() >= until && stretch.until() <= recordCount());
        for (std::int64_t place = stretch.first(); place < stretch.until(); ++place) {
            assert(!isOther(place));
        }
        until = stretch.until();
    }
    (void)until;
}

} // namespace scorrere
