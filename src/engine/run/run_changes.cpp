// SPDX-License-Identifier: Apache-2.0
// What becomes of a run when its window, its records or what they say change.
#include "engine/run/run.h"

#include <algorithm>
#include <cassert>

namespace scorrere {

Arrangement::Forgotten Run::resize(Length extent, Length cross) {
    assert(!inFrame_);
    const bool isLaidOutAnew = cross != cross_ || (extent != window_ && arrangement_->followsWindow());
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
    recycler_.markAllStale();
    estimates_ = estimates;
    dirty_ = true;
    return arrangement_->forgetExtents(estimates);
}

void Run::insertRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
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
    change();
    recallAlive();
    dirty_ = true;
}

void Run::moveRecord(std::int64_t from, std::int64_t to) {
    assert(!inFrame_);
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

Arrangement::Forgotten Run::permute(const std::function<std::int64_t(std::int64_t)>& to) {
    assert(!inFrame_);
    const auto moved = [&](std::int64_t position) {
        const Slot slot = arrangement_->slotAt(position);
        return slot.role == Role::Record ? arrangement_->positionOf(to(slot.place)) : position;
    };
    recycler_.permuted(moved);
    hold_.position = hold_.position < 0 ? -1 : moved(hold_.position);
    for (Watched& item : watched_) {
        item.position = moved(item.position);
    }
    std::ranges::sort(watched_, {}, &Watched::position);
    Arrangement::Estimates estimates{};
    for (int kind = 0; kind < Arrangement::kKinds; ++kind) {
        estimates[static_cast<std::size_t>(kind)] = std::max(arrangement_->estimateOf(kind), Length{});
    }
    auto forgotten = arrangement_->forgetExtents(estimates);
    arrangement_->beginAt(hold_.position);
    lookAround();
    for (const ViewId id : recycler_.alive()) {
        const Length extent = laidOut_[static_cast<std::size_t>(id.index)].extent;
        if (!recycler_.view(id).stale && extent >= Length{}) {
            arrangement_->setMeasured(recycler_.view(id).position, extent);
        }
    }
    recallAlive();
    dirty_ = true;
    return forgotten;
}

void Run::recordsChanged(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    const std::int64_t first = arrangement_->positionOf(place);
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        if (position >= first && position < first + count) {
            recycler_.markStale(position);
            dirty_ = true;
        }
    }
    if (count <= settings_.mostFills) {
        for (std::int64_t position = first; position < first + count; ++position) {
            dirty_ = arrangement_->forgetNothing(position) || dirty_; // what takes no room has no view
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
