// SPDX-License-Identifier: Apache-2.0
#include "engine/gesture/gesture_arena.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere {

namespace {

Length sizeOf(Length length) {
    return std::max(length, -length);
}

bool follows(const GestureTaker& taker, Length by) {
    return by > Length{} ? taker.followsOn : by < Length{} ? taker.followsBack : true;
}

/// Between two points, along the axis on which they are further apart.
Length apart(GesturePoint one, GesturePoint other) {
    return std::max(sizeOf(one.x - other.x), sizeOf(one.y - other.y));
}

std::int64_t wholePx(Length length) {
    return std::llround(length.toPx());
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

GestureFound GestureArena::foundNow(GestureFound::What what, std::int64_t timeUs) const {
    using Loss = GestureLoss;
    GestureFound found{what, timeUs, from_, (timeUs - pressedUs_) / 1000};
    found.losses.push_back(
        {Loss::What::Drag, Loss::Lack::MovedLittle, wholePx(moved_), wholePx(times_.slop)});
    if (what == GestureFound::What::Held) {
        found.losses.push_back({Loss::What::Tap, Loss::Lack::HeldLong, found.heldMs, times_.pressMs});
    } else if (wants_.isHeld) {
        found.losses.push_back({Loss::What::Held, Loss::Lack::HeldShortly, found.heldMs, times_.pressMs});
    }
    return found;
}

/// The tap before was one, and no double tap.
void GestureArena::flushTap(std::int64_t timeUs, GestureLoss::Lack lack, std::int64_t had,
                            std::int64_t limit) {
    GestureFound tap = *std::exchange(tapped_, std::nullopt);
    tap.waitedMs = (timeUs - tap.timeUs) / 1000;
    tap.timeUs = timeUs;
    tap.losses.push_back({GestureLoss::What::DoubleTap, lack, had, limit});
    found_.push_back(std::move(tap));
}

/// Why a drag is neither a tap nor a long press, nor of those that do not have it: `along` the axis it is kept to and `across` it.
void GestureArena::lose(std::vector<GestureLoss>& losses, std::int64_t timeUs,
                        std::span<const GestureTaker> takers, Length along, Length across) const {
    using Loss = GestureLoss;
    losses.push_back({Loss::What::Tap, Loss::Lack::MovedFar, wholePx(sizeOf(along)), wholePx(times_.slop)});
    if (wants_.isHeld) {
        losses.push_back(
            {Loss::What::Held, Loss::Lack::MovedEarly, (timeUs - pressedUs_) / 1000, times_.pressMs});
    }
    const auto mine = std::ranges::find(takers, story_.taker, &GestureTaker::id);
    for (auto one = takers.begin(); one != takers.end(); ++one) {
        if (one == mine) {
            continue;
        }
        Loss loss{Loss::What::Taker, Loss::Lack::InnerFirst, 0, 0, one->id};
        if (one->isSideways != story_.isSideways) {
            loss.lack = Loss::Lack::LessThatWay;
            loss.had = wholePx(sizeOf(across));
            loss.limit = wholePx(sizeOf(along));
        } else if (!follows(*one, along)) {
            loss.lack = Loss::Lack::AtItsEnd;
        }
        losses.push_back(loss);
    }
}

void GestureArena::giveTo(int taker, std::int64_t timeUs, At at) {
    story_.taker = taker;
    commands_.push_back({GestureCommand::What::Press, taker, timeUs, along(at), at});
}

void GestureArena::press(std::int64_t timeUs, At at, std::span<const GestureTaker> takers,
                         GestureWants wants) {
    cancel(timeUs);
    tick(timeUs);
    if (const Length near = times_.slop * 3; tapped_ && apart(at, tapped_->at) > near) {
        flushTap(timeUs, GestureLoss::Lack::SecondFar, wholePx(apart(at, tapped_->at)), wholePx(near));
    }
    isPressed_ = mayTap_ = true;
    isFree_ = false;
    wants_ = wants;
    pressedUs_ = timeUs;
    from_ = last_ = at;
    moved_ = {};
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
    lose(story_.losses, timeUs, takers, by, isSideways ? down : sideways);
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
    story_.losses.clear();
    lose(story_.losses, timeUs, takers, by, {});
}

void GestureArena::move(std::int64_t timeUs, At at, std::span<const GestureTaker> takers) {
    if (!isPressed_) {
        return;
    }
    tick(timeUs);
    moved_ = std::max(moved_, apart(at, from_));
    mayTap_ = mayTap_ && moved_ <= times_.slop;
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
    GestureFound found = foundNow(GestureFound::What::Tap, timeUs);
    if (!wants_.isTwice) {
        tapped_.reset();
        found_.push_back(std::move(found));
        return true;
    }
    if (tapped_) { // soon after, and there
        found.what = GestureFound::What::DoubleTap;
        found.waitedMs = (timeUs - tapped_->timeUs) / 1000;
        found.losses.push_back(
            {GestureLoss::What::Tap, GestureLoss::Lack::SecondCame, found.waitedMs, times_.doubleMs});
        tapped_.reset();
        found_.push_back(std::move(found));
        return false;
    }
    tapped_ = std::move(found); // sure when no second one came
    return false;
}

void GestureArena::tick(std::int64_t timeUs) {
    if (isPressed_ && mayTap_ && story_.taker < 0 && wants_.isHeld &&
        timeUs - pressedUs_ >= times_.pressMs * 1000) {
        mayTap_ = false;
        if (tapped_) { // the second one is held
            flushTap(timeUs, GestureLoss::Lack::NoSecond, 0, times_.doubleMs);
        }
        found_.push_back(foundNow(GestureFound::What::Held, timeUs));
        wants_.isHeld = false;
    }
    if (tapped_ && !isPressed_ && timeUs - tapped_->timeUs >= times_.doubleMs * 1000) {
        flushTap(timeUs, GestureLoss::Lack::NoSecond, 0, times_.doubleMs);
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
    story_.losses = {{GestureLoss::What::Taker, GestureLoss::Lack::Claimed, 0, 0, story_.before}};
    if (story_.before < 0) {
        story_.losses.clear();
    }
    giveTo(taker, timeUs, last_);
}

void GestureArena::cancel(std::int64_t timeUs) {
    mayTap_ = false;
    (void)release(timeUs);
}

} // namespace scorrere
