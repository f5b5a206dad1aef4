// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace scorrere {

/// One of those under a pointer that a drag may move.
struct GestureTaker {
    int id = 0;              ///< the caller's name for it
    bool isSideways = false; ///< the axis of the screen it moves along
    /// Whether it can follow a pointer that goes down or to the right; that goes up or to the left.
    bool followsOn = true;
    bool followsBack = true;
    bool isFlying = false; ///< it moves by itself: who presses it catches it
    bool chains = true;    ///< where it cannot follow, one around it on its axis may
    bool operator==(const GestureTaker&) const = default;
};

/// Why a drag went to who has it.
enum class GestureReason : std::uint8_t {
    Undecided,  ///< it is no further than a tap may be
    Caught,     ///< who has it was flying
    FirstAlong, ///< it went along its axis by the slop first, and it is the innermost there
    OnlyAxis,   ///< the same, further across; nobody moves that way
    InnerAtEnd, ///< the innermost on that axis cannot follow
    HandedOver, ///< the inner one came to its end
    NobodyCan,  ///< all on that axis are at their ends: the outermost has it, and stays
    Held,       ///< it was pressed for long: who has it follows wherever it goes
    Handle,     ///< it began on a handle: the same
};

/// After how long, and how far, a press becomes what.
struct GestureTimes {
    std::int64_t pressMs = 500;  ///< held for so long it is a long press
    std::int64_t doubleMs = 300; ///< a second tap within this makes a double tap
    Length slop = Length::px(8); ///< so far it may still be a tap
    bool operator==(const GestureTimes&) const = default;
};

/// What can come of a press beside a tap and a drag.
struct GestureWants {
    bool isHeld = false;  ///< something is to be done when it is held
    bool isTwice = false; ///< when it is tapped twice: a single tap is then known of later
};

/// Something that a press did not become, and what it lacked for that.
struct GestureLoss {
    enum class What : std::uint8_t { Tap, DoubleTap, Held, Drag, Taker };
    enum class Lack : std::uint8_t {
        MovedFar,    ///< `had` px, where `limit` may be
        MovedLittle, ///< `had` px, where more than `limit` are needed
        MovedEarly,  ///< it moved after `had` ms, where it is to be still for `limit`
        HeldShortly, ///< `had` ms, where `limit` are needed
        HeldLong,    ///< `had` ms: from `limit` on it is something else
        NoSecond,    ///< none came within `limit` ms
        SecondCame,  ///< after `had` ms, within `limit`
        SecondFar,   ///< `had` px away, where `limit` may be
        LessThatWay, ///< a taker along the other axis: it went `had` px that way, and `limit` the other
        AtItsEnd,    ///< a taker that cannot follow
        InnerFirst,  ///< a taker with one inside it that can
        Claimed,     ///< a taker: another has it wherever it goes
    };
    What what = What::Tap;
    Lack lack = Lack::MovedFar;
    std::int64_t had = 0;
    std::int64_t limit = 0;
    int taker = -1; ///< whose, of Taker
    bool operator==(const GestureLoss&) const = default;
};

/// What came of the last press, to be told.
struct GestureStory {
    GestureReason reason = GestureReason::Undecided;
    int taker = -1;  ///< who has or had it; -1: nobody
    int before = -1; ///< who had it before, or would have
    Length sideways; ///< how far it had gone when that was decided
    Length down;
    bool isSideways = false;           ///< the axis it is kept to
    bool areNested = false;            ///< there was another on that axis
    bool areAcross = false;            ///< somebody moves along the other one
    std::vector<GestureLoss> losses{}; ///< what it might have been else
    bool operator==(const GestureStory&) const = default;
};

/// A point of the screen.
struct GesturePoint {
    Length x;
    Length y;
    bool operator==(const GesturePoint&) const = default;
};

/// What a press turned out to be that is no drag.
struct GestureFound {
    enum class What : std::uint8_t { Tap, DoubleTap, Held };
    What what = What::Tap;
    std::int64_t timeUs = 0;           ///< when that was sure
    GesturePoint at;                   ///< where it was pressed
    std::int64_t heldMs = 0;           ///< for how long it was down
    std::int64_t waitedMs = 0;         ///< whether a second tap came
    std::vector<GestureLoss> losses{}; ///< what it might have been else
    bool operator==(const GestureFound&) const = default;
};

/// To be done to a taker: a pointer pressed it, dragged it to here, let it go.
struct GestureCommand {
    enum class What : std::uint8_t { Press, Drag, LetGo };
    What what = What::Press;
    int taker = -1;
    std::int64_t timeUs = 0;
    Length at;            ///< along its axis, on the screen
    GesturePoint point{}; ///< where the pointer is
    bool operator==(const GestureCommand&) const = default;
};

/// Decides who takes a drag, among what is nested under the pointer: pointer events and time in, commands out.
/// Up to the slop it is nobody's, and may be a tap; whoever takes it then is dragged from there on, so that nothing
/// jumps by the slop. Its axis is the one along which it went by the slop first, as long as anybody moves along that; it stays
/// kept to it. On one axis the innermost goes first that can follow. One that comes to its end hands over to one around
/// it, if it chains, and does not get it back before the next press. One that claims it follows wherever it goes. Held still
/// for long it is a long press, and no tap.
///
/// Units       Screen px, of density-independent size; right and down are positive.
/// Complexity  O(takers).
/// Threads     One thread.
/// Errors      None. A move or an end without a press changes nothing.
class GestureArena {
public:
    using At = GesturePoint;

    void setTimes(const GestureTimes& times) { times_ = times; }
    const GestureTimes& times() const { return times_; }
    /// `takers`: those under the pointer, the outermost first.
    void press(std::int64_t timeUs, At at, std::span<const GestureTaker> takers, GestureWants wants = {});
    /// `takers`: the same, as they are now.
    void move(std::int64_t timeUs, At at, std::span<const GestureTaker> takers);
    /// Tells whether it was a tap: one that may become a double tap is not yet.
    bool release(std::int64_t timeUs);
    /// Another has it: nothing more comes of it.
    void cancel(std::int64_t timeUs);
    /// Time passes: what is held or was not tapped twice is found.
    void tick(std::int64_t timeUs);
    /// When the next tick finds something, if nothing else happens; -1: none does.
    std::int64_t dueUs() const;
    /// One has it from now on, wherever it goes; requires: it is pressed.
    void claim(std::int64_t timeUs, int taker, GestureReason why);

    /// What is to be done, in order, since this was last asked.
    std::vector<GestureCommand> takeCommands();
    /// What was found, in order, since this was last asked.
    std::vector<GestureFound> takeFound();
    const GestureStory& story() const { return story_; }
    bool isPressed() const { return isPressed_; }

private:
    Length along(At at) const { return story_.isSideways ? at.x : at.y; }
    void decide(std::int64_t timeUs, At at, std::span<const GestureTaker> takers);
    void giveTo(int taker, std::int64_t timeUs, At at);
    void handOver(std::int64_t timeUs, At at, std::span<const GestureTaker> takers);

    GestureFound foundNow(GestureFound::What what, std::int64_t timeUs) const;
    void lose(std::vector<GestureLoss>& losses, std::int64_t timeUs, std::span<const GestureTaker> takers,
              Length along, Length across) const;
    void flushTap(std::int64_t timeUs, GestureLoss::Lack lack, std::int64_t had, std::int64_t limit);

    GestureTimes times_;
    GestureWants wants_;
    bool isPressed_ = false;
    bool mayTap_ = false; ///< it never went beyond the slop, and was not held
    bool isFree_ = false; ///< who has it follows wherever it goes
    Length moved_;        ///< so far it was from where it was pressed, at most
    std::int64_t pressedUs_ = 0;
    At from_;
    At last_;
    std::optional<GestureFound> tapped_; ///< once so far
    std::vector<GestureFound> found_;
    GestureStory story_;
    std::vector<GestureCommand> commands_;
};

} // namespace scorrere
