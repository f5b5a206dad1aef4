// SPDX-License-Identifier: Apache-2.0
#include "engine/gesture/swipe_motion.h"

#include <algorithm>
#include <cmath>

namespace scorrere {

namespace {

constexpr std::int64_t kStillUs = 60'000; ///< let go so long after the last move it stood still
constexpr double kResisted = 0.25;        ///< of what is dragged beyond what there is

} // namespace

void SwipeMotion::begin(const SwipeSides& sides) {
    if (!(sides == sides_)) {
        *this = SwipeMotion();
        sides_ = sides;
    }
}

void SwipeMotion::press(std::int64_t timeUs, Length at) {
    isPressed_ = true;
    pressedAt_ = at;
    pressedOffset_ = offset_;
    now_ = before_ = {timeUs, at};
}

void SwipeMotion::drag(std::int64_t timeUs, Length at) {
    if (!isPressed_) {
        return;
    }
    if (timeUs > now_.timeUs) {
        before_ = now_;
    }
    now_ = {timeUs, at};
    const Length wanted = pressedOffset_ + (at - pressedAt_);
    const bool isAny = wanted > Length{} ? sides_.atStart > 0 : sides_.atEnd > 0;
    const Length most = isAny ? sides_.item : Length{};
    const Length size = wanted < Length{} ? -wanted : wanted;
    const Length kept = size <= most ? size : most + Length::fromPx((size - most).toPx() * kResisted);
    offset_ = wanted < Length{} ? -kept : kept;
}

double SwipeMotion::velocity() const {
    const std::int64_t us = now_.timeUs - before_.timeUs;
    return us > 0 ? (now_.at - before_.at).toPx() * 1e6 / static_cast<double>(us) : 0;
}

double SwipeMotion::share() const {
    return sides_.item > Length{} ? std::abs(offset_.toPx()) / sides_.item.toPx() : 0;
}

bool SwipeMotion::isPulled() const {
    return (offset_ > Length{} ? sides_.atStart : sides_.atEnd) > 0 && share() >= sides_.pulled;
}

SwipeMotion::Outcome SwipeMotion::letGo(std::int64_t timeUs) {
    if (!isPressed_) {
        return Outcome::Back;
    }
    isPressed_ = false;
    const bool isToEnd = offset_ > Length{};
    if (isPulled()) {
        springTo(Length{}, timeUs);
        return isToEnd ? Outcome::DoStart : Outcome::DoEnd;
    }
    const double speed = timeUs - now_.timeUs > kStillUs ? 0 : velocity();
    const int actions = isToEnd ? sides_.atStart : sides_.atEnd;
    const Length width = widthOf(actions);
    const double onward = isToEnd ? speed : -speed;
    const Length size = isToEnd ? offset_ : -offset_;
    const bool opens = actions > 0 && onward > -kFlingPxPerS && (onward > kFlingPxPerS || size * 2 >= width);
    springTo(!opens ? Length{} : isToEnd ? width : -width, timeUs);
    return opens ? Outcome::Opens : Outcome::Back;
}

void SwipeMotion::springTo(Length rest, std::int64_t timeUs) {
    rest_ = rest;
    from_ = offset_;
    springUs_ = timeUs;
}

void SwipeMotion::close(std::int64_t timeUs) {
    if (isOpen() || isPressed_) {
        isPressed_ = false;
        springTo(Length{}, timeUs);
    }
}

void SwipeMotion::advance(std::int64_t timeUs) {
    if (!isSpringing()) {
        return;
    }
    const double done = std::clamp(static_cast<double>(timeUs - springUs_) / (kSpringMs * 1000), 0.0, 1.0);
    const double left = (1 - done) * (1 - done) * (1 - done); // fast first, and it comes to rest
    offset_ = done >= 1 ? rest_ : rest_ + Length::fromPx((from_ - rest_).toPx() * left);
}

double edgeSpeed(Length at, Length window, Length zone, double most) {
    const Length room = std::min(zone, window / 3);
    const Length fromEnd = window - at;
    const bool isAtStart = at < room;
    if (room <= Length{} || (!isAtStart && fromEnd >= room)) {
        return 0;
    }
    const double depth = std::clamp(1 - (isAtStart ? at : fromEnd).toPx() / room.toPx(), 0.0, 1.0);
    return (isAtStart ? -1 : 1) * most * depth * depth;
}

} // namespace scorrere
