// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <array>
#include <cstdint>

namespace scorrere {

/// Turns drags and flings into distances to scroll, on whatever clock the times come from.
///
/// Units       Times in microseconds, velocities in px/s; positive moves towards the end of the strip.
///             Friction is applied in steps of 1 ms with IEEE arithmetic only, so equal inputs give equal
///             bits.
/// Complexity  advance is O(elapsed ms), at most 250 steps.
/// Threads     One thread.
class ScrollMotion {
public:
    static constexpr double kKeptPerMs = 0.998;
    static constexpr double kStopBelow = 20;
    static constexpr double kGlidesPerMs = 0.014; ///< of what is left

    /// The pointer went down, was moved to, was let go at `at` along the axis (px grow towards the strip's
    /// end).
    void press(std::int64_t timeUs, Length at);
    void drag(std::int64_t timeUs, Length at);
    void letGo(std::int64_t timeUs);
    void fling(double velocity, std::int64_t timeUs);
    void push(Length distance) {
        endGlide();
        pending_ += distance;
    }
    /// Goes so far, fast first and then ever slower, instead of flying on.
    void glide(Length distance, std::int64_t timeUs);
    /// What it was pushed and dragged by and has not given yet.
    Length pending() const { return pending_; }
    bool isGliding() const { return glide_ != 0; }
    /// How far it has still to glide.
    Length gliding() const { return glideLeft_; }
    void stop();

    /// What to scroll by since the last call.
    Length advance(std::int64_t timeUs);
    bool isMoving() const { return velocity_ != 0 || glide_ != 0 || pressed_ || pending_ != Length{}; }
    bool isPressed() const { return pressed_; }
    double velocity() const { return velocity_; }

private:
    void endGlide() {
        glide_ = 0;
        glideLeft_ = Length{};
    }
    struct Sample {
        std::int64_t timeUs = 0;
        Length at;
    };
    bool pressed_ = false;
    Length last_;
    Length pending_;
    double velocity_ = 0;
    double rest_ = 0;  ///< of a 1/64 px
    double glide_ = 0; ///< what is left to glide, 1/64 px
    Length glideLeft_; ///< the same, less what was given of it
    std::int64_t movedUntilUs_ = 0;
    std::array<Sample, 8> samples_{};
    std::size_t sampleCount_ = 0;
};

} // namespace scorrere
