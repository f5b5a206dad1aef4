// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/placed_arrangement.h"

#include <algorithm>
#include <cassert>

namespace scorrere {

namespace {

constexpr Length kEndless = Length::fromRaw(INT64_MAX);

/// Takes the items of one lane in order of their starts, and says which stand beside each other: each has the first
/// place that is free where it starts.
class BesideSweep {
public:
    /// False: there is no room for it.
    bool take(PlacedItems::Item& item) {
        if (item.start >= reach_) {
            finish();
        }
        const auto free = std::ranges::find_if(busy_, [&](Length until) { return until <= item.start; });
        if (free == busy_.end()) {
            return false;
        }
        *free = item.end();
        reach_ = std::max(reach_, item.end());
        item.among = static_cast<std::uint8_t>(free - busy_.begin());
        abreast_ = std::max(abreast_, item.among + 1);
        beside_.push_back(&item);
        return true;
    }
    /// Those taken so far stand beside none of those that follow.
    void finish() {
        for (PlacedItems::Item* item : beside_) {
            item->abreast = static_cast<std::uint8_t>(abreast_);
        }
        beside_.clear();
        abreast_ = 0;
        busy_.fill(Length::fromRaw(INT64_MIN));
        reach_ = Length::fromRaw(INT64_MIN);
    }
    BesideSweep() { finish(); }

private:
    std::array<Length, Arrangement::kMostInALine> busy_{};
    Length reach_;
    int abreast_ = 0;
    std::vector<PlacedItems::Item*> beside_;
};

} // namespace

PlacedItems::Item PlacedArrangement::itemOf(const GivenPlace& place, std::int32_t id) {
    return {place.start, std::clamp(place.extent, kLeastEstimate, ExtentIndex::kMaxExtent), id, place.lane};
}

PlacedArrangement::Told::Told(std::span<const std::optional<GivenPlace>> places, int lanes)
    : lanes_(lanes), ids_(static_cast<std::int64_t>(places.size())) {
    std::vector<PlacedItems::Item> items;
    items.reserve(places.size());
    for (const auto& place : places) {
        if (place) {
            items.push_back(itemOf(*place, static_cast<std::int32_t>(&place - places.data())));
        }
    }
    stand(std::move(items));
}

/// All at once, where none stands yet.
void PlacedArrangement::Told::stand(std::vector<PlacedItems::Item> items) {
    const auto goesBefore = [](const PlacedItems::Item& a, const PlacedItems::Item& b) {
        return a.start != b.start ? a.start < b.start : a.id < b.id;
    };
    if (!std::ranges::is_sorted(items, goesBefore)) {
        std::ranges::sort(items, goesBefore);
    }
    std::vector<BesideSweep> sweeps(PlaceReader::kMostLanes);
    std::vector<bool> isLeftOut(items.size());
    for (std::size_t i = 0; i < items.size(); ++i) {
        isLeftOut[i] = !sweeps[items[i].lane].take(items[i]);
    }
    std::ranges::for_each(sweeps, &BesideSweep::finish);
    std::size_t kept = 0;
    for (std::size_t i = 0; i < items.size(); ++i) {
        if (isLeftOut[i]) {
            setStart(items[i].id, kLeftOut);
        } else {
            items[kept++] = items[i];
        }
    }
    leftOut_ += static_cast<std::int64_t>(items.size() - kept);
    items.resize(kept);
    for (const PlacedItems::Item& item : items) {
        setStart(item.id, item.start);
    }
    items_ = PlacedItems(items);
}

std::size_t PlacedArrangement::Told::memoryOfStarts() const {
    return starts_.size() * sizeof(starts_[0]) +
           static_cast<std::size_t>(
               std::ranges::count_if(starts_, [](const auto& some) { return some != nullptr; })) *
               sizeof(Starts);
}

void PlacedArrangement::Told::setStart(std::int32_t id, Length start) {
    const auto at = static_cast<std::size_t>(id / kTogether);
    if (start == startOf(id)) {
        return; // of those of whom nothing is known nothing is kept
    }
    if (at >= starts_.size()) {
        starts_.resize(at + 1);
    }
    if (!starts_[at]) {
        starts_[at] = std::make_unique<Starts>();
        starts_[at]->fill(kNowhere);
    }
    (*starts_[at])[static_cast<std::size_t>(id % kTogether)] = start;
}

PlacedArrangement::PlacedArrangement(const PlacedSpec& spec, const Spacing& spacing, Ends ends,
                                     std::int64_t records, const Estimates& estimates)
    : Arrangement(ends, records), spec_(spec), spacing_(spacing), told_({}, 1), nextId_(records) {
    told_.ids_ = RecordOrder(records);
    (void)forgetExtents(estimates);
    counted();
}

/// After items came or went.
void PlacedArrangement::counted() {
    setOthers(told_.items_.size() - recordCount());
    const bool isAny = told_.items_.size() > 0;
    zero_ = isAny ? told_.items_.at(0).start : Length{};
    reach_ = isAny ? told_.items_.reach() : Length{};
}

PlacedArrangement::Told PlacedArrangement::takeTold(Told told) {
    assert(told.records() == recordCount());
    std::swap(told_, told);
    nextId_ = recordCount();
    counted();
    return told;
}

void PlacedArrangement::tell(std::int64_t firstPlace, std::span<const std::optional<GivenPlace>> places,
                             int lanes) {
    told_.lanes_ = std::max(told_.lanes_, lanes);
    const bool isFirst = told_.items_.size() == 0;
    std::vector<PlacedItems::Item> items;
    for (const auto& place : places) {
        const auto id = static_cast<std::int32_t>(told_.ids_.at(firstPlace + (&place - places.data())));
        takeOut(id);
        if (place && isFirst) {
            items.push_back(itemOf(*place, id));
        } else if (place) {
            put(itemOf(*place, id));
        }
    }
    if (isFirst) {
        told_.stand(std::move(items));
    }
    counted();
}

void PlacedArrangement::takeOut(std::int32_t id) {
    const Length start = told_.startOf(id);
    if (start <= kLeftOut) {
        told_.leftOut_ -= start == kLeftOut ? 1 : 0;
        told_.setStart(id, kNowhere);
        return;
    }
    const std::int64_t position = told_.items_.countBefore(start, id);
    const PlacedItems::Item item = told_.items_.at(position);
    assert(item.id == id);
    told_.items_.erase(position);
    told_.setStart(id, kNowhere);
    (void)standBeside(item);
}

void PlacedArrangement::leaveOut(std::int32_t id) {
    told_.items_.erase(told_.items_.countBefore(told_.startOf(id), id));
    told_.setStart(id, kLeftOut);
    ++told_.leftOut_;
}

/// All that hang together with it: those it overlaps in its lane, and those that these overlap. Nothing where they
/// are very many.
std::optional<std::vector<PlacedItems::Item*>> PlacedArrangement::bunchOf(const PlacedItems::Item& item) {
    const auto atOnce = [](Length at) { return at + Length::fromRaw(1); };
    Length from = item.start;
    for (std::size_t steps = 0;; ++steps) {
        Length least = from;
        told_.items_.on(from, atOnce(from), 0, [&](std::int64_t, const PlacedItems::Item& one) {
            least = one.lane == item.lane ? one.start : least;
            return one.lane != item.lane;
        });
        if (least == from) {
            break;
        }
        if (steps == kMostMoved) {
            return std::nullopt;
        }
        from = least;
    }
    Length until = item.end();
    std::vector<PlacedItems::Item*> bunch;
    told_.items_.on(from, kEndless, 0, [&](std::int64_t, PlacedItems::Item& one) {
        if (one.start >= until || bunch.size() > kMostMoved) {
            return false;
        }
        if (one.lane == item.lane) {
            until = std::max(until, one.end());
            bunch.push_back(&one);
        }
        return true;
    });
    return bunch.size() > kMostMoved ? std::nullopt : std::optional(std::move(bunch));
}

/// Nobody moves: it stands where there is room between those that it overlaps.
bool PlacedArrangement::squeezeIn(PlacedItems::Item& item) {
    std::vector<PlacedItems::Item> beside;
    told_.items_.on(item.start, item.end(), 0, [&](std::int64_t, const PlacedItems::Item& one) {
        if (one.lane == item.lane && one.id != item.id) {
            beside.push_back(one);
        }
        return true;
    });
    for (const PlacedItems::Item& like : beside) {
        for (item.abreast = like.abreast, item.among = 0; item.among < item.abreast; ++item.among) {
            const bool isFree = std::ranges::none_of(beside, [&](const PlacedItems::Item& one) {
                return item.among * one.abreast < (one.among + 1) * item.abreast &&
                       one.among * item.abreast < (item.among + 1) * one.abreast;
            });
            if (isFree) {
                return true;
            }
        }
    }
    item.among = 0;
    item.abreast = 1;
    return beside.empty();
}

/// Those that it hangs together with stand beside each other anew. Where they are very many, they stay.
void PlacedArrangement::put(const PlacedItems::Item& item) {
    told_.setStart(item.id, item.start);
    told_.items_.insert(item);
    if (!standBeside(item) && !squeezeIn(told_.items_.at(told_.items_.countBefore(item.start, item.id)))) {
        leaveOut(item.id);
    }
}

bool PlacedArrangement::standBeside(const PlacedItems::Item& item) {
    const auto bunch = bunchOf(item);
    if (!bunch) {
        return false;
    }
    std::vector<std::int32_t> leftOut;
    BesideSweep sweep;
    for (PlacedItems::Item* one : *bunch) {
        if (!sweep.take(*one)) {
            leftOut.push_back(one->id);
        }
    }
    sweep.finish();
    std::ranges::for_each(leftOut, [this](std::int32_t id) { leaveOut(id); });
    return true;
}

Slot PlacedArrangement::slotAt(std::int64_t position) const {
    const Slot slot = Arrangement::slotAt(position);
    return slot.role == Role::Record ? Slot{Role::Record, told_.ids_.placeOf(told_.items_.at(slot.place).id)}
                                     : slot;
}

std::int64_t PlacedArrangement::positionOf(std::int64_t place) const {
    if (place >= recordCount()) {
        return first() + told_.items_.size();
    }
    const std::int64_t id = told_.ids_.at(place);
    const Length start = told_.startOf(id);
    return first() + (start <= kLeftOut ? 0 : told_.items_.countBefore(start, static_cast<std::int32_t>(id)));
}

PlacedArrangement::End* PlacedArrangement::endAt(std::int64_t position) {
    return hasHeader() && position == 0            ? &header_
           : hasFooter() && position == size() - 1 ? &footer_
                                                   : nullptr;
}

Length PlacedArrangement::recordsStart() const {
    return spacing_.insets[0] + (hasHeader() ? header_.extent + spacing_.gap : Length{});
}

Length PlacedArrangement::recordsEnd() const {
    return recordsStart() + (reach_ - zero_);
}

Length PlacedArrangement::footerStart() const {
    return told_.items_.size() > 0 ? recordsEnd() + spacing_.gap : recordsStart();
}

Length PlacedArrangement::total() {
    const Length gap = told_.items_.size() == 0 && hasHeader() ? spacing_.gap : Length{}; // behind nothing
    const Length end = hasFooter() ? footerStart() + footer_.extent : recordsEnd() - gap;
    return end + spacing_.insets[2];
}

Box PlacedArrangement::boxOf(std::int64_t position) {
    if (const End* end = endAt(position)) {
        return {end == &header_ ? spacing_.insets[0] : footerStart(), end->extent, spacing_.insets[3],
                room()};
    }
    const PlacedItems::Item& item = told_.items_.at(position - first());
    Lanes lanes{told_.lanes_, {}, spec_.laneGap};
    const Length lane = lanes.startOf(item.lane, room());
    const Length width = lanes.widthIn(room());
    lanes.count = item.abreast;
    return {recordsStart() + item.start - zero_, item.extent,
            spacing_.insets[3] + lane + lanes.startOf(item.among, width), lanes.widthIn(width)};
}

Given PlacedArrangement::givenFor(std::int64_t position) {
    const Box box = boxOf(position);
    return {box.crossExtent, endAt(position) != nullptr ? std::nullopt : std::optional(box.extent)};
}

std::int64_t PlacedArrangement::indexAt(Length offset) {
    const std::int64_t items = told_.items_.size();
    if (hasFooter() && offset >= footerStart()) {
        return size() - 1;
    }
    const Length at = onItems(offset);
    if (items == 0 || at < zero_) {
        return std::min<std::int64_t>(0, size() - 1);
    }
    std::int64_t found = -1;
    told_.items_.on(at, at + Length::fromRaw(1), 0, [&](std::int64_t position, const PlacedItems::Item&) {
        found = position;
        return false;
    });
    if (found < 0) {
        found = told_.items_.countBefore(at + Length::fromRaw(1), INT32_MIN) - 1;
    }
    return first() + std::max<std::int64_t>(found, 0);
}

std::size_t PlacedArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                        std::span<std::int64_t> room) {
    from = std::max(from, Length{});
    if (from >= until) {
        return 0;
    }
    std::size_t named = 0;
    const auto takeEnd = [&](std::int64_t position) {
        const Box box = boxOf(position);
        if (named < room.size() && box.start < until && box.end() > from && box.extent > Length{}) {
            room[named++] = position;
        }
    };
    const auto take = [&](std::int64_t position, const PlacedItems::Item&) {
        room[named++] = first() + position;
        return named < room.size();
    };
    const std::int64_t last = size() - 1;
    if (toward == Toward::End) {
        if (hasHeader() && past == kFromTheEnd) {
            takeEnd(0);
        }
        told_.items_.on(onItems(from), onItems(until), past == kFromTheEnd ? 0 : past + 1 - first(), take);
        if (hasFooter() && past < last) {
            takeEnd(last);
        }
        return named;
    }
    if (hasFooter() && past == kFromTheEnd) {
        takeEnd(last);
    }
    told_.items_.back(onItems(from), onItems(until), (past == kFromTheEnd ? last + 1 : past) - 1 - first(),
                      take);
    if (hasHeader() && past != 0) {
        takeEnd(0);
    }
    return named;
}

ExtentState PlacedArrangement::stateOf(std::int64_t position) {
    const End* end = endAt(position);
    return end == nullptr || end->isMeasured ? ExtentState::Measured : ExtentState::KindEstimate;
}

std::int64_t PlacedArrangement::measuredBefore(std::int64_t position) {
    const bool isHeaderUnknown = hasHeader() && position > 0 && !header_.isMeasured;
    const bool isFooterUnknown = hasFooter() && position == size() && !footer_.isMeasured;
    return position - (isHeaderUnknown ? 1 : 0) - (isFooterUnknown ? 1 : 0);
}

Length PlacedArrangement::estimateOf(int kind) const {
    return kind == kHeaderKind ? header_.estimate : kind == kFooterKind ? footer_.estimate : spec_.by.least;
}

void PlacedArrangement::setKindEstimate(int kind, Length extent) {
    if (kind == kHeaderKind || kind == kFooterKind) {
        End& end = kind == kHeaderKind ? header_ : footer_;
        end.estimate = extent;
        end.extent = end.isMeasured ? end.extent : extent;
    }
}

void PlacedArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    assert(nextId_ + count <= INT32_MAX);
    told_.ids_.insert(place, nextId_, count);
    nextId_ += count;
    addRecords(count);
    counted();
}

void PlacedArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    for (std::int64_t at = place; at < place + count; ++at) {
        takeOut(static_cast<std::int32_t>(told_.ids_.at(at)));
    }
    told_.ids_.erase(place, count);
    addRecords(-count);
    counted();
}

void PlacedArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    const std::int64_t id = told_.ids_.at(from);
    told_.ids_.erase(from, 1);
    told_.ids_.insert(to, id, 1);
}

void PlacedArrangement::setMeasured(std::int64_t position, Length extent) {
    if (End* end = endAt(position)) {
        if (!std::exchange(end->isMeasured, true)) {
            countMeasured(kindAt(position), extent);
        }
        end->extent = extent;
    }
}

bool PlacedArrangement::forgetNothing(std::int64_t position) {
    End* end = endAt(position);
    if (end == nullptr || end->extent > Length{}) {
        return false;
    }
    *end = {end->estimate, end->estimate, false};
    return true;
}

Arrangement::Forgotten PlacedArrangement::forgetExtents(const Estimates& estimates) {
    forgetMeans();
    for (const int kind : {kHeaderKind, kFooterKind}) {
        const Length estimate = std::max(estimates[static_cast<std::size_t>(kind)], kLeastEstimate);
        (kind == kHeaderKind ? header_ : footer_) = {estimate, estimate, false};
    }
    return {};
}

std::size_t PlacedArrangement::memoryBytes() const {
    return told_.items_.memoryBytes() + told_.memoryOfStarts();
}

void PlacedArrangement::checkInvariants() {
    told_.items_.checkInvariants();
    assert(size() == told_.items_.size() + first() + (hasFooter() ? 1 : 0));
}

} // namespace scorrere
