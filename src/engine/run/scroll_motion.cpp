// SPDX-License-Identifier: Apache-2.0
#include "engine/run/scroll_motion.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere {

void ScrollMotion::press(std::int64_t timeUs, Length at) {
    stop();
    pressed_ = true;
    last_ = at;
    sampleCount_ = 0;
    samples_[sampleCount_++] = {timeUs, at};
}

void ScrollMotion::drag(std::int64_t timeUs, Length at) {
    if (!pressed_) {
        return;
    }
    pending_ += last_ - at; // the content follows the finger: down the screen is back along the strip
    last_ = at;
    if (sampleCount_ == samples_.size()) {
        std::shift_left(samples_.begin(), samples_.end(), 1);
        --sampleCount_;
    }
    samples_[sampleCount_++] = {timeUs, at};
}

void ScrollMotion::letGo(std::int64_t timeUs) {
    if (!pressed_) {
        return;
    }
    pressed_ = false;
    // The speed over the last 100 ms decides whether it flies on.
    std::size_t first = 0;
    while (first < sampleCount_ && timeUs - samples_[first].timeUs > 100'000) {
        ++first;
    }
    if (first + 1 < sampleCount_) {
        const Sample& a = samples_[first];
        const Sample& b = samples_[sampleCount_ - 1];
        const double seconds = static_cast<double>(std::max<std::int64_t>(b.timeUs - a.timeUs, 1000)) / 1e6;
        fling((a.at - b.at).toPx() / seconds, timeUs);
    }
}

void ScrollMotion::fling(double velocity, std::int64_t timeUs) {
    velocity_ = std::abs(velocity) < kStopBelow ? 0 : std::clamp(velocity, -200'000.0, 200'000.0);
    movedUntilUs_ = timeUs;
    rest_ = 0;
}

void ScrollMotion::glide(Length distance, std::int64_t timeUs) {
    stop();
    glide_ = static_cast<double>(distance.raw());
    glideLeft_ = distance;
    movedUntilUs_ = timeUs;
}

void ScrollMotion::stop() {
    velocity_ = 0;
    endGlide();
    rest_ = 0;
    pending_ = Length{};
}

Length ScrollMotion::advance(std::int64_t timeUs) {
    Length distance = pending_;
    pending_ = Length{};
    if (velocity_ == 0 && glide_ == 0) {
        return distance;
    }
    std::int64_t steps = (timeUs - movedUntilUs_) / 1000;
    movedUntilUs_ += steps * 1000;
    steps = std::min<std::int64_t>(steps, 250);
    for (std::int64_t left = steps; left > 0 && glide_ != 0; --left) {
        // No slower than a 1/64 px a ms, so that it arrives.
        const double by = std::max(std::abs(glide_) * kGlidesPerMs, 1.0);
        glide_ = std::abs(glide_) <= by ? 0 : glide_ - std::copysign(by, glide_);
    }
    const Length left = Length::fromRaw(std::llround(glide_));
    distance += std::exchange(glideLeft_, left) - left;
    for (; steps > 0 && velocity_ != 0; --steps) {
        rest_ += velocity_ * 0.001 * Length::kPerPx;
        velocity_ *= kKeptPerMs;
        if (std::abs(velocity_) < kStopBelow) {
            velocity_ = 0;
        }
    }
    const double whole = std::trunc(rest_);
    rest_ -= whole;
    return distance + Length::fromRaw(static_cast<std::int64_t>(whole));
}

} // namespace scorrere
