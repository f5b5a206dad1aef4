// SPDX-License-Identifier: Apache-2.0
// How a run scrolls, jumps and comes to rest, and what it holds meanwhile.
#include "engine/run/run.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace scorrere {

namespace {

constexpr Length kLine = Length::px(48);
constexpr double kPushes = 100; ///< px/s

} // namespace

/// At a step of a key: where the window rests at some offsets only, it goes to the next of them.
bool Run::glideBeside(Toward toward) {
    const Length from = offset() + motion_.gliding();
    const auto to = arrangement_->restBeside(from, toward);
    if (to) {
        motion_.glide(*to - offset(), movedAtUs_);
    }
    return to.has_value();
}

void Run::key(KeyStep step) {
    const bool isBack = step == KeyStep::LineBack || step == KeyStep::PageBack;
    if ((isBack || step == KeyStep::LineOn || step == KeyStep::PageOn) && arrangement_->size() > 0 &&
        glideBeside(isBack ? Toward::Start : Toward::End)) {
        return;
    }
    const Length page = std::max(window_ - kLine, kLine);
    switch (step) {
    case KeyStep::LineBack:
        motion_.push(-kLine);
        break;
    case KeyStep::LineOn:
        motion_.push(kLine);
        break;
    case KeyStep::PageBack:
        motion_.push(-page);
        break;
    case KeyStep::PageOn:
        motion_.push(page);
        break;
    case KeyStep::ToStart:
        travelTo(Length{});
        break;
    case KeyStep::ToEnd:
        arrangement_->circle() > Length{} ? jumpTo(arrangement_->size() - 1)
                                          : travelTo(arrangement_->total());
        break;
    }
}

void Run::jumpTo(std::int64_t position) {
    assert(!inFrame_);
    motion_.stop();
    leaveMotion();
    if (arrangement_->size() > 0) {
        position = std::clamp<std::int64_t>(position, 0, arrangement_->size() - 1);
        arrangement_->beginAt(position);
        recallAlive();
        holdAtRest(position);
    }
    watched_.clear();
    dirty_ = true;
}

void Run::standWith(const Run& other, Length onScreen) {
    assert(!inFrame_);
    motion_.stop();
    if (other.hold_.position < 0 || arrangement_->size() == 0) {
        return;
    }
    const Slot slot = other.arrangement_->slotAt(other.hold_.position);
    HoldPoint hold{arrangement_->find(slot), onScreen};
    if (hold.position < 0 && slot.place >= 0 && slot.place < arrangement_->recordCount()) {
        hold.position = arrangement_->positionOf(slot.place);
    }
    if (hold.position >= 0) {
        standAt(hold);
    }
}

void Run::standAt(const HoldPoint& hold) {
    assert(!inFrame_ && hold.position >= 0 && hold.position < arrangement_->size());
    if (hold == hold_) {
        return;
    }
    hold_ = hold;
    leaveMotion();
    lookAround();
    recallAlive();
    watched_.clear(); // it was asked for
    dirty_ = true;
}

void Run::goTo(std::int64_t position, std::int64_t timeUs) {
    assert(!inFrame_);
    if (position < 0 || position >= arrangement_->size()) {
        return;
    }
    const Length far = arrangement_->restOf(position) - offset();
    if (std::max(far, -far) > window_ * 3) {
        jumpTo(position);
    } else {
        motion_.glide(far, timeUs);
    }
}

void Run::holdAtRest(std::int64_t position) {
    hold_ = {position, arrangement_->startOf(position) - arrangement_->restOf(position)};
}

/// What was let go, or pushed, goes on to where the window may rest.
void Run::comeToRest(std::int64_t timeUs) {
    if (motion_.isPressed()) {
        return;
    }
    const Length from = offset() + motion_.pending();
    // A wheel has no speed, but a direction.
    const double velocity = motion_.velocity() != 0 ? motion_.velocity()
                            : scrolled_ == Length{} ? 0
                                                    : std::copysign(kPushes, scrolled_.toPx());
    if (const auto to = arrangement_->restFor(from, velocity)) {
        const Length far = *to - offset();
        motion_.stop();
        if (far != Length{}) {
            motion_.glide(far, timeUs);
        }
    }
}

void Run::travelTo(Length offset) {
    assert(!inFrame_);
    motion_.stop();
    leaveMotion();
    standAt(offset);
    dirty_ = true;
}

/// Holds the item that covers an offset which may only be estimated.
void Run::standAt(Length offset) {
    const Length circle = arrangement_->circle();
    if (circle == Length{}) {
        offset = std::clamp(offset, Length{}, std::max(arrangement_->total() - window_, Length{}));
    }
    const std::int64_t position = arrangement_->indexAt(offset);
    arrangement_->beginAt(position);
    recallAlive();
    watched_.clear(); // it was asked for
    hold_ = {position, position < 0 ? Length{} : arrangement_->startOf(position) - offset};
    if (circle > Length{}) {
        hold_.onScreen = withinTurn(hold_.onScreen);
        lookAround();
    }
}

Length Run::offset() {
    return hold_.position < 0 ? Length{} : arrangement_->startOf(hold_.position) - hold_.onScreen;
}

/// After a frame: holds the first item that starts in the window, what the eye rests on, else the one that
/// covers its start. One that is here goes before a placeholder, which may turn out to be of another extent.
/// Whatever becomes of estimates, of items and of lines until the next frame, this one stands where it showed.
void Run::holdWhatShows() {
    const Placement* best = nullptr;
    int bestRank = 0;
    for (const Placement& p : placements_) {
        if (!p.showing) {
            continue;
        }
        const bool isMeasured = arrangement_->stateOf(p.position) == ExtentState::Measured;
        const int rank = (isMeasured ? 2 : 0) + (p.box.start >= Length{} ? 1 : 0) + 1;
        if (rank > bestRank) {
            bestRank = rank;
            best = &p;
        }
    }
    if (best != nullptr) {
        hold_ = {best->position, best->box.start};
    }
}

/// Where what is held left the window, another of the items that showed takes over, where it showed; what they
/// stand apart by may have changed since. Tells whether one is held that still shows.
bool Run::holdWhatShowed(Length scrolled) {
    const auto isIn = [this](Length start) { return start >= Length{} && start < window_; };
    const auto covers = [this](std::int64_t position, Length start) {
        return start < Length{} && start + arrangement_->extentOf(position) > Length{};
    };
    if (hold_.position < 0 || isIn(hold_.onScreen) ||
        (covers(hold_.position, hold_.onScreen) &&
         arrangement_->stateOf(hold_.position) == ExtentState::Measured)) {
        return true;
    }
    for (const Watched& item : watched_) {
        if (isIn(item.start - scrolled)) {
            hold_ = {item.position, item.start - scrolled};
            return true;
        }
    }
    if (covers(hold_.position, hold_.onScreen)) {
        return true;
    }
    for (const Watched& item : watched_) {
        if (covers(item.position, item.start - scrolled)) {
            hold_ = {item.position, item.start - scrolled};
            return true;
        }
    }
    return false;
}

/// Scrolled past all that showed: holds what was prepared beyond the edge and is measured, as all are between it
/// and what was held, so that its place is no estimate. Tells whether there is one that shows now.
bool Run::holdWhatIsPrepared() {
    const auto& alive = recycler_.alive();
    const auto positionOf = [this](ViewId id) { return recycler_.view(id).position; };
    const auto held = std::ranges::find(alive, hold_.position, positionOf);
    const auto isMeasured = [this](std::int64_t position) {
        return arrangement_->stateOf(position) == ExtentState::Measured;
    };
    const Length top = offset();
    const auto holds = [&](std::int64_t position) {
        const Box box = arrangement_->boxOf(position);
        if (box.start - top < window_ && box.end() > top) {
            hold_ = {position, box.start - top};
            return true;
        }
        return false;
    };
    if (held == alive.end() || !isMeasured(hold_.position)) {
        return false;
    }
    for (auto it = held + 1;
         it != alive.end() && positionOf(*it) == positionOf(*(it - 1)) + 1 && isMeasured(positionOf(*it));
         ++it) {
        if (holds(positionOf(*it))) {
            return true;
        }
    }
    for (auto it = held; it != alive.begin() && positionOf(*(it - 1)) == positionOf(*it) - 1 &&
                         isMeasured(positionOf(*(it - 1)));
         --it) {
        if (holds(positionOf(*(it - 1)))) {
            return true;
        }
    }
    return false;
}

/// So many turns of an endless strip on or back are the same.
Length Run::withinTurn(Length distance) const {
    const Length circle = arrangement_->circle();
    return circle == Length{} ? distance : distance - circle * std::llround(distance.toPx() / circle.toPx());
}

/// Items of an endless strip stand where the window is.
void Run::lookAround() {
    if (hold_.position >= 0) {
        hold_.onScreen += arrangement_->windowAt(hold_.position, hold_.onScreen);
    }
}

void Run::scrollBy(Length distance) {
    if (hold_.position < 0 || distance == Length{}) {
        return;
    }
    forward_ = distance > Length{};
    scrolled_ = distance;
    hold_.onScreen -= distance;
    lookAround();
    if (!holdWhatShowed(distance)) {
        if (holdWhatIsPrepared()) { // all that showed left as asked: this is what must stand still now
            watched_.assign(1, {hold_.position, hold_.onScreen + distance});
        } else {
            standAt(offset()); // beyond everything measured: the rest of the way is estimated
        }
    }
    lookAround(); // another may be held, that stood elsewhere since records came between them
}

/// What the gestures ask to scroll by, less what first takes a pull back.
Length Run::advance(std::int64_t timeUs) {
    Length distance = motion_.advance(timeUs);
    const std::int64_t elapsed = timeUs - std::exchange(movedAtUs_, timeUs);
    if (motion_.velocity() != 0) {
        speed_ = motion_.velocity();
    } else if (elapsed > 0) { // over about the last 50 ms
        const double kept = std::max(0.0, 1 - static_cast<double>(elapsed) / 50'000);
        speed_ = speed_ * kept + distance.toPx() * 1e6 / static_cast<double>(elapsed) * (1 - kept);
    }
    if (pulled_ > Length{} && distance > Length{} && motion_.isPressed()) {
        const Length back = std::min(distance, pulled_);
        pulled_ -= back;
        distance -= back;
    }
    return distance;
}

void Run::moveAcross(std::int64_t timeUs) {
    const Length wanted = acrossOffset_ + acrossMotion_.advance(timeUs);
    acrossOffset_ = std::clamp(wanted, Length{}, acrossRoom());
    if (acrossOffset_ != wanted && !acrossMotion_.isPressed()) {
        acrossMotion_.stop();
    }
}

Length Run::pull() const {
    // It gives way less the further it is pulled, and never beyond twice the threshold.
    const std::int64_t most = 2 * kPullThreshold.raw();
    return Length::fromRaw(most * pulled_.raw() / (most + pulled_.raw()));
}

void Run::holdPull(bool hold) {
    holdPull_ = hold;
}

Length Run::pullRest() const {
    return motion_.isPressed() ? pulled_ : holdPull_ ? std::min(pulled_, kPullThreshold * 2) : Length{};
}

/// What was let go comes back, by a sixteenth each ms.
void Run::relaxPull(std::int64_t timeUs) {
    if (motion_.isPressed() || pulled_ == Length{}) {
        relaxedUntilUs_ = timeUs;
        wasPulling_ = motion_.isPressed() && pulled_ > Length{};
        return;
    }
    if (std::exchange(wasPulling_, false) && pull() >= kPullThreshold) {
        letGoPulled_ = true;
        holdPull_ = true; // until the host knows whether a refresh is under way
    }
    std::int64_t steps = std::min<std::int64_t>((timeUs - relaxedUntilUs_) / 1000, 250);
    relaxedUntilUs_ = timeUs;
    for (const Length rest = pullRest(); steps > 0 && pulled_ > rest; --steps) {
        pulled_ = std::max(rest, pulled_ - Length::fromRaw(std::max<std::int64_t>(1, pulled_.raw() / 16)));
    }
}

} // namespace scorrere
