// SPDX-License-Identifier: Apache-2.0
#include "engine/gesture/gesture_arena.h"

#include <algorithm>
#include <utility>

namespace scorrere {

namespace {

Length sizeOf(Length length) {
    return std::max(length, -length);
}

bool follows(const GestureTaker& taker, Length by) {
    return by > Length{} ? taker.followsOn : by < Length{} ? taker.followsBack : true;
}

/// The innermost on an axis that can follow, as far in as those inside it let it; null: none can.
const GestureTaker* firstToFollow(std::span<const GestureTaker> takers, bool isSideways, Length by) {
    for (std::size_t i = takers.size(); i-- > 0;) {
        if (takers[i].isSideways != isSideways) {
            continue;
        }
        if (follows(takers[i], by)) {
            return &takers[i];
        }
        if (!takers[i].chains) {
            return nullptr;
        }
    }
    return nullptr;
}

} // namespace

std::vector<GestureCommand> GestureArena::takeCommands() {
    return std::exchange(commands_, {});
}

std::vector<GestureFound> GestureArena::takeFound() {
    return std::exchange(found_, {});
}

bool GestureArena::isNear(At one, At other, Length most) const {
    return sizeOf(one.x - other.x) <= most && sizeOf(one.y - other.y) <= most;
}

void GestureArena::giveTo(int taker, std::int64_t timeUs, At at) {
    story_.taker = taker;
    commands_.push_back({GestureCommand::What::Press, taker, timeUs, along(at), at});
}

void GestureArena::press(std::int64_t timeUs, At at, std::span<const GestureTaker> takers,
                         GestureWants wants) {
    cancel(timeUs);
    tick(timeUs);
    isSecond_ = tapped_ && isNear(at, tapped_->at, times_.slop * 3);
    if (tapped_ && !isSecond_) { // elsewhere: the one before was one
        tapped_->timeUs = timeUs;
        found_.push_back(*std::exchange(tapped_, std::nullopt));
    }
    isPressed_ = mayTap_ = true;
    isFree_ = false;
    wants_ = wants;
    pressedUs_ = timeUs;
    from_ = last_ = at;
    story_ = {};
    // The innermost that flies is stopped where it is, and has the drag.
    for (std::size_t i = takers.size(); i-- > 0;) {
        if (takers[i].isFlying) {
            story_.reason = GestureReason::Caught;
            story_.isSideways = takers[i].isSideways;
            return giveTo(takers[i].id, timeUs, at);
        }
    }
}

void GestureArena::decide(std::int64_t timeUs, At at, std::span<const GestureTaker> takers) {
    const Length sideways = at.x - from_.x;
    const Length down = at.y - from_.y;
    const auto areAny = [&](bool isSideways) {
        return std::ranges::count(takers, isSideways, &GestureTaker::isSideways);
    };
    const bool isMoreSideways = sizeOf(sideways) > sizeOf(down);
    const bool isOther = areAny(isMoreSideways) == 0; // nobody moves the way it goes most
    const bool isSideways = isMoreSideways != isOther;
    const Length by = isSideways ? sideways : down;
    if (sizeOf(by) <= times_.slop || areAny(isSideways) == 0) {
        return;
    }
    story_.sideways = sideways;
    story_.down = down;
    story_.isSideways = isSideways;
    story_.areNested = areAny(isSideways) > 1;
    story_.areAcross = areAny(!isSideways) > 0;
    const auto isOn = [&](const GestureTaker& one) { return one.isSideways == isSideways; };
    const auto outermost = std::ranges::find_if(takers, isOn);
    const GestureTaker* innermost = nullptr;
    for (const GestureTaker& one : takers) {
        innermost = isOn(one) ? &one : innermost;
    }
    const GestureTaker* first = firstToFollow(takers, isSideways, by);
    if (first == nullptr) {
        story_.reason = GestureReason::NobodyCan;
        first = innermost->chains ? &*outermost : innermost;
    } else if (first != innermost) {
        story_.reason = GestureReason::InnerAtEnd;
    } else {
        story_.reason = isOther && sizeOf(isSideways ? down : sideways) > times_.slop
                            ? GestureReason::OnlyAxis
                            : GestureReason::FirstAlong;
    }
    story_.before = first == innermost ? -1 : innermost->id;
    const Length slop = by > Length{} ? times_.slop : -times_.slop;
    giveTo(first->id, timeUs, isSideways ? At{from_.x + slop, at.y} : At{at.x, from_.y + slop});
    commands_.push_back({GestureCommand::What::Drag, first->id, timeUs, along(at), at});
}

/// To the next around it on its axis that can follow, where it cannot and lets others.
void GestureArena::handOver(std::int64_t timeUs, At at, std::span<const GestureTaker> takers) {
    const auto mine = std::ranges::find(takers, story_.taker, &GestureTaker::id);
    const Length by = along(at) - along(last_);
    if (mine == takers.end() || by == Length{} || follows(*mine, by) || !mine->chains) {
        return;
    }
    const GestureTaker* next =
        firstToFollow(takers.first(static_cast<std::size_t>(mine - takers.begin())), story_.isSideways, by);
    if (next == nullptr) {
        return;
    }
    commands_.push_back({GestureCommand::What::LetGo, story_.taker, timeUs, along(last_), last_});
    story_.reason = GestureReason::HandedOver;
    story_.before = story_.taker;
    story_.areNested = true;
    story_.sideways = at.x - from_.x;
    story_.down = at.y - from_.y;
    giveTo(next->id, timeUs, last_);
}

void GestureArena::move(std::int64_t timeUs, At at, std::span<const GestureTaker> takers) {
    if (!isPressed_) {
        return;
    }
    tick(timeUs);
    mayTap_ = mayTap_ && isNear(at, from_, times_.slop);
    if (story_.taker < 0) {
        decide(timeUs, at, takers);
        last_ = at;
        return;
    }
    if (!isFree_) {
        handOver(timeUs, at, takers);
    }
    commands_.push_back({GestureCommand::What::Drag, story_.taker, timeUs, along(at), at});
    last_ = at;
}

bool GestureArena::release(std::int64_t timeUs) {
    if (isPressed_) {
        tick(timeUs);
    }
    if (!std::exchange(isPressed_, false)) {
        return false;
    }
    if (story_.taker >= 0) {
        commands_.push_back({GestureCommand::What::LetGo, story_.taker, timeUs, along(last_), last_});
        return false;
    }
    if (!mayTap_) {
        return false;
    }
    GestureFound found{GestureFound::What::Tap, timeUs, from_, (timeUs - pressedUs_) / 1000};
    if (!wants_.isTwice) {
        tapped_.reset();
        found_.push_back(found);
        return true;
    }
    if (isSecond_ && tapped_) {
        found.what = GestureFound::What::DoubleTap;
        found.waitedMs = (timeUs - tapped_->timeUs) / 1000;
        tapped_.reset();
        found_.push_back(found);
        return false;
    }
    tapped_ = found; // sure when no second one came
    return false;
}

void GestureArena::tick(std::int64_t timeUs) {
    if (isPressed_ && mayTap_ && story_.taker < 0 && wants_.isHeld &&
        timeUs - pressedUs_ >= times_.pressMs * 1000) {
        mayTap_ = false;
        if (tapped_) { // the one before was one
            found_.push_back(*std::exchange(tapped_, std::nullopt));
        }
        found_.push_back({GestureFound::What::Held, timeUs, from_, (timeUs - pressedUs_) / 1000});
    }
    if (tapped_ && !isPressed_ && timeUs - tapped_->timeUs >= times_.doubleMs * 1000) {
        tapped_->waitedMs = (timeUs - tapped_->timeUs) / 1000;
        tapped_->timeUs = timeUs;
        found_.push_back(*std::exchange(tapped_, std::nullopt));
    }
}

std::int64_t GestureArena::dueUs() const {
    if (isPressed_ && mayTap_ && story_.taker < 0 && wants_.isHeld) {
        return pressedUs_ + times_.pressMs * 1000;
    }
    return tapped_ && !isPressed_ ? tapped_->timeUs + times_.doubleMs * 1000 : -1;
}

void GestureArena::claim(std::int64_t timeUs, int taker, GestureReason why) {
    if (!isPressed_) {
        return;
    }
    if (story_.taker >= 0) {
        commands_.push_back({GestureCommand::What::LetGo, story_.taker, timeUs, along(last_), last_});
        story_.before = story_.taker;
    }
    mayTap_ = false;
    isFree_ = true;
    story_.reason = why;
    giveTo(taker, timeUs, last_);
}

void GestureArena::cancel(std::int64_t timeUs) {
    mayTap_ = false;
    (void)release(timeUs);
}

} // namespace scorrere
