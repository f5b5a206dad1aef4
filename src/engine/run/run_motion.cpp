// SPDX-License-Identifier: Apache-2.0
//
// How a change is shown as movement. Where items stand is decided as ever, in one frame; what moves is only where they are
// drawn: from where they were drawn last to where they stand now, both edges of each along one curve. Items that lay end to
// end before and do so after lie end to end all the while, so nothing overlaps and no gap opens, whenever the next change
// comes: that begins from what is drawn then. What comes in between others grows out of nothing where it comes, what goes
// shrinks into nothing; what comes from beyond the window or goes there does so at its edge.
#include "engine/run/run.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <iterator>
#include <utility>

namespace scorrere {

namespace {

/// Shares of a motion in whole parts: what is computed from them is exact, and what stands in order stays in order.
constexpr std::int64_t kWhole = std::int64_t{1} << 20;

Length between(Length from, Length to, std::int64_t share) {
    return Length::fromRaw(from.raw() + (((to - from).raw() * share + kWhole / 2) >> 20));
}

/// Both edges by themselves, so that what two items share stays shared.
Box between(const Box& from, const Box& to, std::int64_t share) {
    const Length start = between(from.start, to.start, share);
    const Length cross = between(from.crossStart, to.crossStart, share);
    return {start, between(from.end(), to.end(), share) - start, cross,
            between(from.crossStart + from.crossExtent, to.crossStart + to.crossExtent, share) - cross};
}

} // namespace

void Run::setAnimation(const AnimationSpec& animation) {
    animation_ = animation;
    curve_ = curveNamed(animation.curve).value_or(Curve());
    if (!animation_.isAny()) {
        cutMotion();
    }
    noteSeen();
}

void Run::animate(MotionKind kind) {
    if (!seen_.empty() && arrangement_->circle() == Length{}) {
        pendingMs_ = std::max(pendingMs_, animation_.msOf(kind));
        isMovePending_ = isMovePending_ || kind == MotionKind::Move;
    }
}

void Run::beginFrom(std::function<std::optional<Box>(std::int64_t place)> drawn) {
    if (animation_.msOf(MotionKind::Move) > 0 && arrangement_->circle() == Length{}) {
        drawnElsewhere_ = std::move(drawn);
        pendingMs_ = std::max(pendingMs_, animation_.msOf(MotionKind::Move));
        isMovePending_ = true;
        dirty_ = true;
    }
}

/// Something changed that nobody asked to see: what moves meanwhile goes on from where it is, for the time it had left.
void Run::bendMotion() {
    placeBefore_ = nullptr; // of another change
    if (!moving_.empty()) {
        const std::int64_t leftUs = motionStartUs_ + motionUs_ - record_.timeUs;
        pendingMs_ = std::max(pendingMs_, static_cast<int>(std::max<std::int64_t>(leftUs / 1000, 1)));
    }
}

/// All stand where they stand, and what was leaving is gone.
void Run::cutMotion() {
    recycler_.allGone(); // also what began to leave with this frame
    moving_.clear();
    leaving_.clear();
    for (Placement& placement : placements_) {
        placement.drawn.reset();
    }
    std::erase_if(seen_, [](const Seen& one) { return one.leaves; });
    pendingMs_ = 0;
    isMovePending_ = false;
    drawnElsewhere_ = nullptr;
}

/// Another place is asked for: nothing that was drawn has to do with what will be.
void Run::leaveMotion() {
    cutMotion();
    seen_.clear();
}

bool Run::isSeenMoving(ViewId view) const {
    const auto is = [&](const auto& one) {
        return one.view == view && one.turn == recycler_.view(view).turn;
    };
    // Where another motion begins with this frame, it is of what the last one showed.
    return pendingMs_ > 0 ? std::ranges::any_of(seen_, is) : std::ranges::any_of(moving_, is);
}

/// Of what was drawn and went: nobody takes their views before they are gone.
void Run::keepLeaving() {
    for (Seen& one : seen_) {
        const Recycler::View& view = recycler_.view(one.view);
        one.leaves = one.leaves || (view.position < 0 && view.turn == one.turn && recycler_.leave(one.view));
    }
}

void Run::noteSeen() {
    seen_.clear();
    if (!animation_.isAny()) {
        return;
    }
    for (const Placement& placement : placements_) {
        // What stays goes on from where it stands, among the others.
        if (placement.isDrawnIn(window_)) {
            const Box box = placement.staysAt ? boxAmongOthers(placement) : placement.drawnBox();
            seen_.push_back({placement.view, recycler_.view(placement.view).turn, box,
                             placement.drawn ? placement.drawn->presence : 1, placement.box.extent,
                             placement.box.crossExtent, false});
        }
    }
    for (const Leaving& one : leaving_) {
        seen_.push_back({one.view, recycler_.view(one.view).turn, one.drawn.box, one.drawn.presence,
                         one.extent, one.crossExtent, true});
    }
}

/// Where one that stays would be drawn if it did not: what is before and behind it may be on its way.
Box Run::boxAmongOthers(const Placement& staying) const {
    Box box = staying.box;
    if (moving_.empty() || arrangement_->mostInALine() != 1 || !arrangement_->isInOrder()) {
        return box;
    }
    const auto goesAlong = [](const Placement& other) { return !other.staysAt; };
    const auto own = placements_.begin() + (&staying - placements_.data());
    const auto above = std::find_if(std::make_reverse_iterator(own), placements_.rend(), goesAlong);
    const auto below = std::find_if(own, placements_.end(), goesAlong);
    Length start = above == placements_.rend() ? Length{} : above->drawnBox().end() - above->box.end();
    Length end = below == placements_.end() ? start : below->drawnBox().start - below->box.start;
    start = above == placements_.rend() ? end : start;
    end += box.end();
    box.start = std::min(box.start + start, end);
    box.extent = end - box.start;
    return box;
}

/// Where each of those that move comes from and, of those that leave, where it goes.
void Run::beginMotion(std::int64_t timeUs) {
    const bool wasMoving = !moving_.empty();
    const auto elsewhere = std::exchange(drawnElsewhere_, nullptr);
    if (elsewhere) {
        seen_.clear(); // nobody saw them here
    }
    moving_.clear();
    motionStartUs_ = timeUs;
    motionUs_ = std::int64_t{std::exchange(pendingMs_, 0)} * 1000;
    std::ranges::sort(seen_, {}, [](const Seen& one) { return one.box.start; });
    const auto seenOf = [&](ViewId view) {
        const auto found = std::ranges::find(seen_, view, &Seen::view);
        return found != seen_.end() && found->turn == recycler_.view(view).turn ? &*found : nullptr;
    };
    const auto leaving = std::ranges::count_if(seen_, &Seen::leaves);
    const auto isOf = [&](const Placement& placement) {
        return !placement.staysAt && (placement.showing || seenOf(placement.view) != nullptr);
    };
    const auto staying = std::ranges::count_if(placements_, isOf);
    const bool isEndToEnd = arrangement_->mostInALine() == 1 && arrangement_->isInOrder();
    mayPass_ = std::exchange(isMovePending_, false) || (mayPass_ && wasMoving) || !isEndToEnd;
    if (staying + leaving > animation_.most) { // what leaves is cut first
        recycler_.allGone();
        std::erase_if(seen_, &Seen::leaves);
    }
    if (staying > animation_.most) {
        return;
    }
    // And what stands between those.
    const auto first = std::ranges::find_if(placements_, isOf);
    const auto last = std::find_if(placements_.rbegin(), placements_.rend(), isOf).base();
    for (auto it = first; it < last; ++it) {
        const Placement& placement = *it;
        const Seen* seen = seenOf(placement.view);
        if (placement.staysAt) {
            continue;
        }
        Moving one{placement.view, recycler_.view(placement.view).turn, placement.box, 1, placement.box};
        if (seen != nullptr) {
            one.from = seen->box;
            one.fromPresence = seen->presence;
        } else {
            one.fromPresence = -1; // to be found out
        }
        moving_.push_back(one);
    }
    for (std::size_t i = 0; i < moving_.size(); ++i) {
        if (moving_[i].fromPresence < 0 && elsewhere) {
            const Slot slot = arrangement_->slotAt(recycler_.view(moving_[i].view).position);
            const auto drawn = slot.role == Role::Record ? elsewhere(slot.place) : std::nullopt;
            const bool isOfBoth = drawn || slot.role == Role::Header || slot.role == Role::Footer;
            moving_[i].from = drawn.value_or(moving_[i].to);
            moving_[i].fromPresence = isOfBoth ? 1 : 0;
        } else if (moving_[i].fromPresence < 0) {
            comeFrom(i, isEndToEnd);
        }
    }
    for (std::size_t i = 0; i < seen_.size(); ++i) {
        if (!seen_[i].leaves) {
            continue;
        }
        const Seen& went = seen_[i];
        Moving one{went.view, went.turn, went.box,    went.presence,
                   went.box,  true,      went.extent, went.crossExtent};
        const auto standing = [&](const Seen& other) -> const Moving* {
            const auto found = std::ranges::find(moving_, other.view, &Moving::view);
            return other.leaves || found == moving_.end() ? nullptr : &*found;
        };
        const Moving* beside = nullptr;
        bool isBehind = false;
        for (std::size_t j = i + 1; isEndToEnd && beside == nullptr && j < seen_.size(); ++j) {
            beside = standing(seen_[j]);
            isBehind = beside != nullptr;
        }
        for (std::size_t j = i; isEndToEnd && beside == nullptr && j-- > 0;) {
            beside = standing(seen_[j]);
        }
        if (beside != nullptr) {
            one.to.start = isBehind ? beside->to.start : beside->to.end();
            one.to.extent = Length{};
        }
        moving_.push_back(one);
    }
    const bool isAnything = std::ranges::any_of(
        moving_, [](const Moving& one) { return one.leaves || one.from != one.to || one.fromPresence != 1; });
    if (!isAnything) {
        moving_.clear();
    }
}

/// One that was not drawn before. Requires: those before it in `moving_` are known, those behind it may be.
void Run::comeFrom(std::size_t at, bool isEndToEnd) {
    Moving& one = moving_[at];
    one.fromPresence = 0;
    const std::int64_t place = arrangement_->slotAt(recycler_.view(one.view).position).place;
    const std::int64_t before = placeBefore_ && place >= 0 ? placeBefore_(place) : -1;
    if (before >= 0 && (before < firstSeenPlace_ || before > lastSeenPlace_)) { // it moved in over an edge
        one.from.start = before < firstSeenPlace_ ? -one.to.extent : window_;
        one.fromPresence = 1;
        return;
    }
    if (!isEndToEnd) {
        return; // it appears where it stands
    }
    const Moving* above = at > 0 ? &moving_[at - 1] : nullptr;
    const Moving* below = nullptr;
    for (std::size_t i = at + 1; below == nullptr && i < moving_.size(); ++i) {
        below = moving_[i].fromPresence >= 0 ? &moving_[i] : nullptr;
    }
    if (above != nullptr && below != nullptr) {
        one.from.start = below->from.start;
        one.from.extent = Length{};
    } else if (above != nullptr) { // behind them all, as if it had always been there
        one.from.start = above->from.end() + one.to.start - above->to.end();
        one.fromPresence = one.from.start >= window_ ? 1 : 0;
    } else if (below != nullptr) { // those in front of the first: from that on backwards
        Length end = below->from.start;
        for (std::size_t i = at + 1; moving_[i].fromPresence < 0; ++i) {
            end -= moving_[i].to.extent;
        }
        one.from.start = end - one.to.extent;
        one.fromPresence = one.from.end() <= Length{} ? 1 : 0;
    }
}

/// After a frame's items are placed: where they are drawn.
void Run::moveDrawn(std::int64_t timeUs) {
    if (pendingMs_ == 0 && moving_.empty()) {
        isMovePending_ = false;
        return;
    }
    const bool isHeld = anchor_.position >= 0 && anchor_.position < arrangement_->size();
    const Length shift =
        isHeld ? arrangement_->startOf(anchor_.position) - offset() - anchor_.onScreen : Length{};
    if (std::max(shift, -shift) > window_) { // scrolled away from all that moved
        cutMotion();
    }
    for (Moving& one : moving_) {
        one.from.start += shift;
        one.to.start += shift;
    }
    for (Seen& one : seen_) {
        one.box.start += shift;
    }
    if (pendingMs_ > 0) {
        beginMotion(timeUs);
    }
    leaving_.clear();
    if (moving_.empty()) { // what was kept to be seen moving is not
        releasedAt_ = {};
        releaseBeyondLead();
        return place();
    }
    const double share =
        curve_.at(static_cast<double>(timeUs - motionStartUs_) / static_cast<double>(motionUs_));
    const std::int64_t parts = std::llround(share * static_cast<double>(kWhole));
    findWhereTo();
    for (const Moving& one : moving_) {
        const Box box = between(one.from, one.to, parts);
        if (one.leaves) {
            leaving_.push_back(
                {one.view, {box, one.fromPresence * (1 - share)}, one.extent, one.crossExtent});
        } else if (Placement* placement = placementOf(one)) {
            placement->drawn = Drawn{box, one.fromPresence + (1 - one.fromPresence) * share};
        }
    }
    if (arrangement_->mostInALine() == 1 && arrangement_->isInOrder()) {
        moveAlong();
    }
}

/// Where one that moves stands; null: nowhere any more.
Placement* Run::placementOf(const Moving& one) {
    const auto found = std::ranges::find(placements_, one.view, &Placement::view);
    return one.leaves || found == placements_.end() || found->staysAt ||
                   recycler_.view(one.view).turn != one.turn
               ? nullptr
               : &*found;
}

/// Where they stand or, beyond the window, no further from its edge and from each other than can be seen.
void Run::findWhereTo() {
    const Length furthest = window_ / 2;
    const auto movingOf = [this](const Placement& placement) {
        const auto found = std::ranges::find(moving_, placement.view, &Moving::view);
        return found == moving_.end() || placementOf(*found) == nullptr ? nullptr : &*found;
    };
    Length firstStart;
    Length edge = window_; // as far as those before it reach, where they are drawn and where they stand
    for (const Placement& placement : placements_) {
        if (placement.showing && !placement.staysAt) {
            edge = std::max(edge, placement.box.end());
            firstStart = std::min(firstStart, placement.box.start);
        }
    }
    Length stands = edge;
    for (const Placement& placement : placements_) {
        Moving* one = movingOf(placement);
        if (one == nullptr) {
            continue;
        }
        one->to = placement.box;
        if (placement.box.start >= window_) {
            one->to.start = edge + std::clamp(placement.box.start - stands, Length{}, furthest);
            edge = one->to.end();
            stands = std::max(placement.box.end(), stands);
        }
    }
    edge = stands = firstStart;
    for (std::size_t i = placements_.size(); i-- > 0;) {
        const Placement& placement = placements_[i];
        Moving* one = movingOf(placement);
        if (one != nullptr && placement.box.end() <= Length{}) {
            one->to.start =
                edge - std::clamp(stands - placement.box.end(), Length{}, furthest) - placement.box.extent;
            edge = one->to.start;
            stands = std::min(placement.box.start, stands);
        }
    }
}

/// What came into the window since it began moves with what it stands beside, and has the room that is left there.
void Run::moveAlong() {
    const Placement* above = nullptr;
    for (std::size_t i = 0; i < placements_.size(); ++i) {
        Placement& placement = placements_[i];
        if (placement.staysAt) {
            continue;
        }
        if (placement.drawn) {
            above = &placement;
            continue;
        }
        const auto next =
            std::find_if(placements_.begin() + static_cast<std::ptrdiff_t>(i), placements_.end(),
                         [](const Placement& one) { return one.drawn && !one.staysAt; });
        const Placement* below = next == placements_.end() ? nullptr : &*next;
        if (above == nullptr && below == nullptr) {
            return;
        }
        placement.drawn = Drawn{placement.box, 1};
        Box& box = placement.drawn->box;
        box.start += above != nullptr ? above->drawn->box.end() - above->box.end()
                                      : below->drawn->box.start - below->box.start;
        if (above != nullptr && below != nullptr) {
            const Length end = std::min(box.end(), below->drawn->box.start);
            box.start = std::min(box.start, end);
            box.extent = end - box.start;
        }
        above = above != nullptr ? &placement : nullptr;
    }
}

} // namespace scorrere
