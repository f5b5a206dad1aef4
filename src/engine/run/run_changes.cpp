// SPDX-License-Identifier: Apache-2.0
// What becomes of a run when its window, its records or what they say change.
#include "engine/run/run.h"

#include <algorithm>
#include <cassert>
#include <tuple>

namespace scorrere {

Arrangement::Forgotten Run::resize(Length extent, Length cross) {
    assert(!inFrame_);
    const bool isLaidOutAnew = cross != cross_ || (extent != window_ && arrangement_->followsWindow());
    if (cross != cross_ || extent != window_) {
        leaveMotion();
    }
    window_ = extent;
    holdWhatShowed(Length{}); // and still will
    cross_ = cross;
    dirty_ = true;
    if (!isLaidOutAnew) {
        return {};
    }
    arrangement_->setCross(cross);
    arrangement_->setWindow(extent);
    auto forgotten = forgetContent(estimates_);
    if (hold_.position >= 0 && arrangement_->restFor(Length{}, 0)) {
        motion_.stop();
        holdAtRest(hold_.position);
        watched_.clear(); // it moves to where it rests now
    }
    return forgotten;
}

Arrangement::Forgotten Run::contentChanged(const Arrangement::Estimates& estimates) {
    assert(!inFrame_);
    return forgetContent(estimates);
}

Arrangement::Forgotten Run::forgetContent(const Arrangement::Estimates& estimates) {
    leaveMotion();
    recycler_.markAllStale();
    estimates_ = estimates;
    dirty_ = true;
    return arrangement_->forgetExtents(estimates);
}

Run::Stood Run::stoodAt(std::int64_t position) const {
    const Slot slot = arrangement_->slotAt(position);
    return {slot, slot.section < 0 ? 0 : arrangement_->sections()->at(slot.section).records, {}};
}

/// Where it stands now; -1: nowhere. `placeNow` gives the place of the record that was at a place, or -1.
template <typename To>
std::int64_t Run::standsNow(const Slot& was, To placeNow) const {
    Slot now = was;
    now.place = was.place < 0 ? -1 : placeNow(was.place);
    return arrangement_->find(now);
}

/// Where what was held went and nobody moves up, who stood next to it stays where it showed.
template <typename Now>
void Run::holdSurvivor(const std::vector<std::pair<std::int64_t, Stood>>& stood, Now now, Length top) {
    const std::pair<std::int64_t, Stood>* next = nullptr;
    // Records stand still among each other; header and footer move as the strip begins and ends elsewhere.
    const auto far = [&](const std::pair<std::int64_t, Stood>& one) {
        const bool isWatched =
            std::ranges::find(watched_, now(one.first), &Watched::position) != watched_.end();
        return std::tuple(!isWatched, one.second.slot.role != Role::Record,
                          std::abs(one.first - hold_.position));
    };
    for (const auto& one : stood) {
        if (now(one.first) >= 0 && (next == nullptr || far(one) < far(*next))) {
            next = &one;
        }
    }
    if (next != nullptr) {
        hold_ = {now(next->first), next->second.onScreen};
    } else {
        standAt(top);
    }
}

/// An edit that moves more than what stands behind it: all that lives, is held or is watched is found again by
/// what it is.
template <typename To>
void Run::edit(const std::function<void()>& change, To placeNow) {
    assert(!inFrame_);
    bendMotion();
    const Length top = offset();
    std::vector<std::pair<std::int64_t, Stood>> stood;
    const auto note = [&](std::int64_t position) {
        if (position >= 0 &&
            std::ranges::find(stood, position, &std::pair<std::int64_t, Stood>::first) == stood.end()) {
            stood.push_back({position, stoodAt(position)});
            stood.back().second.onScreen = arrangement_->startOf(position) - top;
        }
    };
    for (const ViewId id : recycler_.alive()) {
        note(recycler_.view(id).position);
    }
    std::ranges::for_each(watched_, note, &Watched::position);
    note(hold_.position);
    const Stood held = hold_.position >= 0 ? stoodAt(hold_.position) : Stood();
    Length headerShows = hold_.onScreen;
    if (held.slot.role == Role::Record && held.slot.section >= 0 &&
        arrangement_->sections()->at(held.slot.section).isHeaded) {
        headerShows = std::max(
            arrangement_->startOf(arrangement_->startOfSection(held.slot.section)) - offset(), Length{});
    }
    const Arrangement* const before = arrangement_.get();
    change();
    const auto now = [&](std::int64_t position) {
        const auto found = std::ranges::find(stood, position, &std::pair<std::int64_t, Stood>::first);
        return standsNow(found->second.slot, placeNow);
    };
    (void)recycler_.releaseUnless([&](std::int64_t position) { return now(position) >= 0; });
    for (const auto& [position, item] : stood) { // what tells how many they are says another number
        const bool tells = item.slot.role == Role::SectionHeader || item.slot.role == Role::SectionFooter;
        if (const std::int64_t to = now(position);
            tells && to >= 0 && stoodAt(to).inSection != item.inSection) {
            recycler_.markStale(position);
        }
    }
    recycler_.permuted(now);
    // A section's footer goes to where the section ends now, past what it ended with.
    std::int64_t furthest = -1;
    std::ranges::sort(stood, {}, &std::pair<std::int64_t, Stood>::first);
    for (const auto& one : stood) {
        const std::int64_t to = now(one.first);
        isMovePending_ = isMovePending_ || (to >= 0 && to < furthest);
        furthest = std::max(furthest, to);
    }
    for (Watched& item : watched_) {
        item.position = now(item.position);
    }
    if (hold_.position >= 0 && now(hold_.position) >= 0) {
        hold_.position = now(hold_.position);
    } else if (hold_.position >= 0 && arrangement_->sections() == nullptr) {
        holdSurvivor(stood, now, top);
    } else if (hold_.position >= 0) {
        // Where it was folded away its section's header takes over, where that showed; else who stands there now.
        const std::int64_t last = arrangement_->recordCount() - 1;
        const std::int64_t place = placeNow(held.slot.place);
        const std::int64_t next = std::min(place >= 0 ? place : held.slot.place, last);
        hold_.position =
            next >= 0 ? arrangement_->positionOf(next) : std::min<std::int64_t>(0, arrangement_->size() - 1);
        hold_.onScreen = place >= 0 && held.slot.role == Role::Record ? headerShows : hold_.onScreen;
        watched_.clear();
        if (hold_.position >= 0) {
            watched_.push_back({hold_.position, hold_.onScreen});
        }
    }
    std::erase_if(watched_, [](const Watched& item) { return item.position < 0; });
    std::ranges::sort(watched_, {}, &Watched::position);
    if (arrangement_.get() != before && hold_.position >= 0) {
        arrangement_->beginAt(hold_.position);
    }
    lookAround();
    knowAlive();
    recallAlive();
    dirty_ = true;
}

/// What is alive tells how long it is, where the arrangement forgot it.
void Run::knowAlive() {
    for (const ViewId id : recycler_.alive()) {
        if (recycler_.view(id).stale) {
            continue;
        }
        if (const Length extent = laidOut_[static_cast<std::size_t>(id.index)].extent; extent >= Length{}) {
            arrangement_->setMeasured(recycler_.view(id).position, extent);
        }
    }
}

void Run::regroup(const std::function<void()>& change) {
    const bool isAtStart = hold_.position >= 0 && offset() == Length{};
    edit(change, [](std::int64_t place) { return place; });
    if (isAtStart && offset() != Length{}) {
        standAt(Length{}); // what stands first now is the start
    }
}

void Run::insertRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    if (!arrangement_->areByPlace() && hold_.position >= 0) {
        return edit([&] { arrangement_->insertRecords(place, count); },
                    [&](std::int64_t at) { return at >= place ? at + count : at; });
    }
    bendMotion();
    const bool empty = hold_.position < 0;
    arrangement_->insertRecords(place, count);
    recycler_.inserted(arrangement_->positionOf(place), count);
    hold_.inserted(arrangement_->positionOf(place), count);
    for (Watched& item : watched_) {
        item.position += item.position >= arrangement_->positionOf(place) ? count : 0;
    }
    lookAround();
    recallAlive();
    if (empty) {
        standAt(Length{});
    }
    dirty_ = true;
}

void Run::eraseRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    if (!arrangement_->areByPlace()) {
        return edit([&] { arrangement_->eraseRecords(place, count); },
                    [&](std::int64_t was) {
                        return was < place ? was : was < place + count ? -1 : was - count;
                    });
    }
    bendMotion();
    const std::int64_t at = arrangement_->positionOf(place);
    const HoldPoint before = hold_;
    arrangement_->eraseRecords(place, count);
    recycler_.erased(at, count);
    hold_.erased(at, count, arrangement_->size());
    if (before.position >= at && before.position < at + count) {
        // The next survivor takes over the place of what was held.
        watched_.assign(arrangement_->size() > 0 ? 1 : 0,
                        {std::min(at, arrangement_->size() - 1), before.onScreen});
    } else {
        std::erase_if(watched_,
                      [&](const Watched& item) { return item.position >= at && item.position < at + count; });
        for (Watched& item : watched_) {
            item.position -= item.position >= at + count ? count : 0;
        }
    }
    lookAround();
    recallAlive();
    dirty_ = true;
}

/// Where lines hold other items than before, those that are alive tell what they are; and those that are given
/// others extents now are laid out again.
void Run::recallAlive() {
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        arrangement_->recall(position);
        const auto index = static_cast<std::size_t>(id.index);
        if (!recycler_.view(id).stale && arrangement_->givenFor(position) != laidOut_[index].given) {
            recycler_.markStale(position);
        }
    }
}

void Run::rearrange(const std::function<void()>& change) {
    assert(!inFrame_);
    bendMotion();
    change();
    recallAlive();
    dirty_ = true;
}

void Run::moveRecord(std::int64_t from, std::int64_t to) {
    assert(!inFrame_);
    if (!arrangement_->areByPlace()) {
        return edit([&] { arrangement_->moveRecord(from, to); },
                    [&](std::int64_t was) {
                        const std::int64_t without = was > from ? was - 1 : was;
                        return was == from ? to : without >= to ? without + 1 : without;
                    });
    }
    bendMotion();
    arrangement_->moveRecord(from, to);
    recycler_.moved(arrangement_->positionOf(from), arrangement_->positionOf(to));
    hold_.moved(arrangement_->positionOf(from), arrangement_->positionOf(to));
    const std::int64_t left = arrangement_->positionOf(from);
    const std::int64_t came = arrangement_->positionOf(to);
    for (Watched& item : watched_) {
        item.position = item.position == left
                            ? came
                            : item.position - (item.position > left ? 1 : 0) +
                                  (item.position - (item.position > left ? 1 : 0) >= came ? 1 : 0);
    }
    std::ranges::sort(watched_, {}, &Watched::position);
    lookAround();
    recallAlive();
    dirty_ = true;
}

void Run::carryRecord(std::int64_t from, std::int64_t to) {
    const std::int64_t carried = arrangement_->positionOf(from);
    std::erase_if(watched_, [carried](const Watched& item) { return item.position == carried; });
    if (hold_.position == carried && !watched_.empty()) {
        hold_ = {watched_.front().position, watched_.front().start};
    }
    moveRecord(from, to);
}

void Run::keepView(ViewId view) {
    keptView_ = view;
    keptTurn_ = view.index < 0 ? 0 : recycler_.view(view).turn;
    releasedAt_ = {};
    dirty_ = true;
}

std::unique_ptr<Arrangement> Run::adopt(std::unique_ptr<Arrangement> arrangement, const Reading& reading,
                                        const std::function<void()>& exchange) {
    assert(!inFrame_);
    const std::int64_t held = hold_.position;
    const std::int64_t place = held < 0 ? -1 : arrangement_->slotAt(held).place;
    const bool isAnythingLeft = std::ranges::any_of(recycler_.alive(), [&](ViewId id) {
        const Slot slot = arrangement_->slotAt(recycler_.view(id).position);
        return slot.role == Role::Record && reading.placeNow(slot.place) >= 0;
    });
    const Length showed = hold_.onScreen;
    firstSeenPlace_ = lastSeenPlace_ = -1;
    for (const Placement& placement : placements_) {
        const std::int64_t seen = placement.showing ? arrangement_->slotAt(placement.position).place : -1;
        if (seen >= 0) {
            firstSeenPlace_ = firstSeenPlace_ < 0 ? seen : std::min(firstSeenPlace_, seen);
            lastSeenPlace_ = std::max(lastSeenPlace_, seen);
        }
    }
    edit(
        [&] {
            arrangement_.swap(arrangement);
            if (exchange) {
                exchange();
            }
        },
        reading.placeNow);
    placeBefore_ = animation_.isAny() ? reading.placeBefore : nullptr;
    const auto goToStart = [this] { // as it may be seen to move there
        motion_.stop();
        standAt(Length{});
        dirty_ = true;
    };
    if (!reading.isKept || held < 0) {
        goToStart();
    } else if (place >= 0 && !isAnythingLeft) { // nobody who showed can take over
        const std::int64_t nearest = reading.nearest(place);
        const std::int64_t position =
            nearest < 0 ? -1 : arrangement_->find({Role::Record, reading.placeNow(nearest)});
        if (position < 0) {
            goToStart();
        } else {
            hold_ = {position, showed};
            arrangement_->beginAt(position);
            watched_.assign(1, {position, showed});
            lookAround();
        }
    }
    return arrangement;
}

void Run::recordsChanged(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    if (count <= 0) {
        return;
    }
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        const Slot slot = arrangement_->slotAt(position);
        if (slot.place >= place && slot.place < place + count) {
            recycler_.markStale(position);
            dirty_ = true;
        }
    }
    if (count < settings_.mostFills) {
        for (std::int64_t at = place; at < place + count; ++at) { // what takes no room has no view
            dirty_ = arrangement_->forgetNothing(arrangement_->positionOf(at)) || dirty_;
        }
    }
}

void Run::itemChanged(std::int64_t position) {
    assert(!inFrame_);
    recycler_.markStale(position);
    (void)arrangement_->forgetNothing(position);
    dirty_ = true;
}

void Run::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    assert(!inFrame_);
    arrangement_->setEstimated(firstPlace, extents);
}

void Run::evenOut(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    arrangement_->evenOut(place, count);
}

void Run::setViewLead(double windows) {
    settings_.viewLead = windows;
    dirty_ = true;
}

} // namespace scorrere
