// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"
#include "engine/gesture/gesture_arena.h"

#include <cstdint>

namespace scorrere {

/// What an item has at either side of it, under what is swiped aside.
struct SwipeSides {
    int atStart = 0;                ///< so many actions show when it is swiped towards its end
    int atEnd = 0;                  ///< and towards its start
    Length item;                    ///< how far the item reaches across
    Length action = Length::px(84); ///< how far one action does
    double pulled = 0.55; ///< swiped over so much of the item, the first action of that side is done at once
    bool operator==(const SwipeSides&) const = default;
};

/// One item that is swiped aside: follows the pointer, stays open where its actions show, or springs back.
///
/// Units       px across, positive towards the item's end; times in microseconds, on the run's clock.
/// Complexity  O(1).
/// Threads     One thread.
/// Errors      None.
class SwipeMotion {
public:
    static constexpr std::int64_t kSpringMs = 220;
    static constexpr double kFlingPxPerS = 500; ///< let go so fast it goes on to where it was going

    /// What was decided when it was let go.
    enum class Outcome : std::uint8_t {
        Back,    ///< it goes back to where it stands
        Opens,   ///< its actions stay to be chosen
        DoStart, ///< the first action at its start is done
        DoEnd,
    };
    /// Another item, which stands; or the same with other sides.
    void begin(const SwipeSides& sides);
    const SwipeSides& sides() const { return sides_; }
    void press(std::int64_t timeUs, Length at);
    void drag(std::int64_t timeUs, Length at);
    Outcome letGo(std::int64_t timeUs);
    /// It goes back, as it does when somebody scrolls.
    void close(std::int64_t timeUs);
    void advance(std::int64_t timeUs);

    /// How far the item is shifted now.
    Length offset() const { return offset_; }
    bool isOpen() const { return rest_ != Length{}; }
    bool isPressed() const { return isPressed_; }
    /// Whether time alone changes it.
    bool isSpringing() const { return !isPressed_ && offset_ != rest_; }
    bool isAway() const { return isPressed_ || offset_ != Length{} || rest_ != Length{}; }
    /// Which outcome letting go would have now, and the share of the item it is swiped over.
    bool isPulled() const;
    double share() const;

private:
    Length widthOf(int actions) const { return sides_.action * actions; }
    void springTo(Length rest, std::int64_t timeUs);
    double velocity() const;

    SwipeSides sides_;
    bool isPressed_ = false;
    Length offset_;
    Length rest_; ///< where it comes to, let go
    Length pressedAt_;
    Length pressedOffset_;
    Length from_; ///< where a spring began
    std::int64_t springUs_ = 0;
    struct Sample {
        std::int64_t timeUs = 0;
        Length at;
    };
    Sample now_{};
    Sample before_{};
};

/// How fast the strip goes by itself while what is lifted is held near an edge of the window: px/s, positive towards the end; the
/// deeper, the faster, up to `most`.
double edgeSpeed(Length at, Length window, Length zone = Length::px(96), double most = 2400);

} // namespace scorrere
