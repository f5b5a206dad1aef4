// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"
#include "engine/extent/hold_point.h"
#include "engine/recycle/recycler.h"
#include "engine/run/animation.h"
#include "engine/run/scroll_motion.h"
#include "engine/trace/trace.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace scorrere {

/// What a run needs done with real item views. Called only from inside Run::frame().
class RunHost {
public:
    virtual ~RunHost() = default;
    /// The kind of item view that an item needs: views are reused within a kind. Asked only when an item has
    /// no view, or its content changed. Any small number.
    virtual int viewKind(const Slot& slot) { return Arrangement::kindOf(slot.role); }
    /// Whether the item's record is not here: what fills its view then says nothing of its extent, which
    /// stays as it is known.
    virtual bool isPlaceholder(const Slot&) { return false; }
    /// Makes an item view: builds its tree, looks its children up, attaches its handlers; once.
    virtual void build(ViewId view, int kind) = 0;
    /// Puts an item's values in the view and lays it out in what it is given; gives its extent, which counts
    /// only where none is given. Must not wait and must not call the run. `meter` stands in phase Fill; what
    /// is shaping belongs to Phase::Measure.
    virtual Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) = 0;
};

struct RunSettings {
    /// How far beyond the window item views are prepared, in windows.
    double viewLead = 0.5;
    /// Work a frame may spend on preparing ahead, in modelled microseconds. Decisions never look at a clock.
    int aheadBudgetUs = 1500;
    int modelledFillUs = 150;
    int modelledBuildUs = 250;
    /// A frame fills no more items than this for the window; what would show beyond them comes in the next
    /// frame, and the trace says so. More than any screen has.
    int mostFills = 400;
    std::size_t framesKept = 16'384; ///< of its trace
};

enum class KeyStep : std::uint8_t { LineBack, LineOn, PageBack, PageOn, ToStart, ToEnd };

/// Where an item is drawn while it moves to where it stands; cut off to that where it is longer.
struct Drawn {
    Box box;
    double presence = 1; ///< 0: not to be seen yet, or any more
};

/// Where a live item view stands after a frame, relative to the window's start.
struct Placement {
    ViewId view;
    std::int64_t position = -1;
    Box box; ///< `start` from the window's start
    /// It stays at the window's start while it stands before that: it shows from here, over what stands there.
    std::optional<Length> staysAt = std::nullopt;
    /// While it is scrolled across: so much of its start shows where the strip has it, over the rest.
    struct Across {
        Length crossStart;
        Length extent;
    };
    std::optional<Across> staysAcross = std::nullopt;
    std::optional<Drawn> drawn = std::nullopt; ///< while it moves
    bool showing =
        false; ///< where it stands: at least partly inside the window; otherwise ready beyond its edge
    Box drawnBox() const { return drawn ? drawn->box : shown(); }
    /// Whether anything of it is to be seen in a window of this extent.
    bool isDrawnIn(Length window) const {
        return drawn ? drawn->box.start < window && drawn->box.end() > Length{} : showing;
    }
    /// Where it shows, if it does.
    Box shown() const { return {staysAt.value_or(box.start), box.extent, box.crossStart, box.crossExtent}; }
    /// As if it were not scrolled across; and the start of that, over the rest. Requires: staysAcross.
    Box unscrolled() const {
        return {staysAt.value_or(box.start), box.extent, staysAcross->crossStart, box.crossExtent};
    }
    Box staying() const {
        return {staysAt.value_or(box.start), box.extent, staysAcross->crossStart, staysAcross->extent};
    }
};

/// One run of a collection: gestures, edits and time in, frames out.
///
/// Units       Lengths along the axis; times in microseconds on the caller's clock, which must not go back.
/// Complexity  A frame is O((live views + items newly shown) * log n), n = items. Nothing loops over the
///             collection. A steady frame allocates nothing.
/// Ownership   Refers to the host and the stopwatch: both must outlive it.
/// Threads     One thread. Changing the run from inside one of the host's calls asserts.
/// Errors      None: it reads no outside input.
class Run {
public:
    /// `estimates`: what is thought of each kind before any is measured, as the arrangement was made with.
    /// `views`: shared with other runs; null: its own.
    Run(RunHost& host, Stopwatch& watch, std::unique_ptr<Arrangement> arrangement,
        const Arrangement::Estimates& estimates, const RunSettings& settings = {},
        std::shared_ptr<ItemViews> views = nullptr);

    /// The window's extents. The hold point keeps its place; when the width changes, what does not show is an
    /// estimate again. Gives what was known of them, to be freed elsewhere.
    Arrangement::Forgotten resize(Length extent, Length cross);
    /// Every item's extent may differ now (another text scale or design): as a change of width. `estimates`:
    /// what is thought of each kind before any is measured, as for a run that starts so.
    Arrangement::Forgotten contentChanged(const Arrangement::Estimates& estimates);
    Arrangement::Forgotten contentChanged() { return contentChanged(estimates_); }

    /// Across the strip, where that is wider than the window.
    ScrollMotion& acrossMotion() { return acrossMotion_; }
    /// How far it is scrolled across, and may be.
    Length acrossOffset() const { return acrossOffset_; }
    Length acrossRoom() { return std::max(arrangement_->acrossTotal() - cross_, Length{}); }

    ScrollMotion& motion() { return motion_; }
    void wheel(Length distance) { motion_.push(distance); }
    void key(KeyStep step);
    /// Brings the item's start to the window's start, or the item to where it rests.
    void jumpTo(std::int64_t position);
    /// Stands as another window of the same records does: its hold point's start so far from the window's start, as
    /// near as the strip's ends allow. Where its section is folded here, or has no heading here, its header or
    /// first record does.
    void standWith(const Run& other, Length onScreen);
    /// Stands as it did at another time; as near as the strip's ends allow. Requires: there is such an item.
    void standAt(const HoldPoint& hold);
    /// The same by gliding there where that is near.
    void goTo(std::int64_t position, std::int64_t timeUs);
    /// Brings an offset along the strip to the window's start, as drags of the strip map do.
    void travelTo(Length offset);

    void insertRecords(std::int64_t place, std::int64_t count);
    void eraseRecords(std::int64_t place, std::int64_t count);
    void moveRecord(std::int64_t from, std::int64_t to);
    /// The same of one that is carried by hand: whatever is held instead stays where it is.
    void carryRecord(std::int64_t from, std::int64_t to);
    /// One view stays alive with what it carries, wherever that stands; none: `index` -1.
    void keepView(ViewId view);
    /// What a change of all records does with what is read.
    struct Reading {
        /// The place now of the record that stood at a place; -1: it went.
        std::function<std::int64_t(std::int64_t)> placeNow;
        /// The place before that is nearest to one and whose record is still there; -1: none is.
        std::function<std::int64_t(std::int64_t)> nearest;
        bool isKept = true; ///< else one stands at the start
        /// The place before of the record that stands at a place now; -1: it came. Asked until the next frame is done, where
        /// the change is animated; without it nothing is said to come from elsewhere.
        std::function<std::int64_t(std::int64_t)> placeBefore = nullptr;
    };
    /// Other records, or the same in another order, in an arrangement of the same kind that was made elsewhere, for this
    /// window, and knows what is known of them. `exchange`: what else changes at that moment. What is read stays where
    /// it is; of what went the nearest that is still there takes over. O(live views). Gives the arrangement that was,
    /// to be freed elsewhere.
    std::unique_ptr<Arrangement> adopt(std::unique_ptr<Arrangement> arrangement, const Reading& reading,
                                       const std::function<void()>& exchange = {});
    void recordChanged(std::int64_t place) { recordsChanged(place, 1); }
    /// How changes are shown as movement; as it begins: not at all.
    void setAnimation(const AnimationSpec& animation);
    const AnimationSpec& animation() const { return animation_; }
    /// What is changed between the last frame and the next is shown as movement of this kind, and of others that are
    /// named, in the time of the longest. Where one is asked for another place meanwhile, it is not.
    void animate(MotionKind kind);
    /// It takes the place of another run of the same records, where they were drawn so: the next frame begins a movement from
    /// there. Those that were not drawn appear where they stand. `drawn` is called in that frame.
    void beginFrom(std::function<std::optional<Box>(std::int64_t place)> drawn);
    /// What moves may pass over what else does: it is no longer end to end.
    bool mayPass() const { return mayPass_; }
    bool isAnimating() const { return !moving_.empty() || pendingMs_ > 0; }
    /// O(live views).
    void recordsChanged(std::int64_t place, std::int64_t count);
    /// The header or footer says something else now.
    void itemChanged(std::int64_t position);
    /// Extents estimated from content: see ExtentIndex::setEstimated.
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents);
    /// Of records far from the window, keeps the extent in all: see ExtentIndex::evenOut. Requires: no item
    /// view carries one of them.
    void evenOut(std::int64_t place, std::int64_t count);
    /// Does what makes the arrangement stand items otherwise. What shows keeps its place; items that are given
    /// others extents by that are laid out again.
    void rearrange(const std::function<void()>& change);
    /// Does what makes items come, go or stand elsewhere, as sections do that are told or folded, though records
    /// stay. What is read stays where it is; of what goes, its section's header takes over. O(live views).
    void regroup(const std::function<void()>& change);
    void setViewLead(double windows);

    /// Whether dragging past the strip's start pulls the content down, against a resistance.
    void setPullable(bool pullable) { pullable_ = pullable; }
    bool isPullable() const { return pullable_; }
    /// How far it is pulled down on screen. Placements do not have it: what paints adds it.
    Length pull() const;
    /// It was let go beyond the threshold since this was last asked.
    bool takePulled() { return std::exchange(letGoPulled_, false); }
    /// While set, what is pulled comes back only as far as the threshold.
    void holdPull(bool hold);
    static constexpr Length kPullThreshold = Length::px(64);

    /// Does everything due at `timeUs`: moves, fills what shows, prepares ahead, releases the rest.
    const FrameRecord& frame(std::int64_t timeUs);
    /// Nothing would change by another frame.
    bool isIdle() const {
        return !dirty_ && !isAnimating() && !motion_.isMoving() && !acrossMotion_.isMoving() &&
               pulled_ == pullRest();
    }
    /// How fast the window moves, px/s, positive towards the end; jumps are no movement.
    double speed() const { return speed_; }

    const std::vector<Placement>& placements() const { return placements_; }
    /// Of an item that is no more: where it is still drawn, below the others.
    struct Leaving {
        ViewId view;
        Drawn drawn;
        Length extent; ///< as it was laid out
        Length crossExtent;
    };
    const std::vector<Leaving>& leaving() const { return leaving_; }
    /// Where the window starts on the strip, from 0.
    Length offset();
    Length total() { return arrangement_->total(); }
    Length window() const { return window_; }
    Length cross() const { return cross_; }
    const HoldPoint& hold() const { return hold_; }
    Arrangement& arrangement() { return *arrangement_; }
    const Arrangement& arrangement() const { return *arrangement_; }
    const Recycler& recycler() const { return recycler_; }
    Trace& trace() { return trace_; }
    const Trace& trace() const { return trace_; }
    const RunSettings& settings() const { return settings_; }
    void checkInvariants();

private:
    friend struct RunProbe; ///< tests break the hold point on purpose with it

    /// An item that showed in the last frame, wherever it stands in the order now.
    struct Watched {
        std::int64_t position = -1;
        Length start;
    };
    /// An item that was known by its position, by what it is.
    struct Stood {
        Slot slot;
        std::int64_t inSection = 0; ///< so many records were in its section
        Length onScreen;
    };
    /// What a frame drew in the window, by its view and what that carried.
    struct Seen {
        ViewId view;
        std::uint32_t turn = 0;
        Box box;
        double presence = 1;
        Length extent; ///< as it was laid out
        Length crossExtent;
        bool leaves = false;
    };
    struct Moving {
        ViewId view;
        std::uint32_t turn = 0;
        Box from;
        double fromPresence = 1;
        Box to;
        bool leaves = false;
        Length extent{}; ///< of one that leaves, as it was laid out
        Length crossExtent{};
    };
    void keepLeaving();
    void noteSeen();
    Box boxAmongOthers(const Placement& staying) const;
    void beginMotion(std::int64_t timeUs);
    void comeFrom(std::size_t at, bool isEndToEnd);
    void moveDrawn(std::int64_t timeUs);
    Placement* placementOf(const Moving& one);
    void findWhereTo();
    void moveAlong();
    void bendMotion();
    void cutMotion();
    void leaveMotion();
    bool isSeenMoving(ViewId view) const;
    Stood stoodAt(std::int64_t position) const;
    template <typename To>
    void edit(const std::function<void()>& change, To placeNow);
    template <typename To>
    std::int64_t standsNow(const Slot& was, To placeNow) const;
    template <typename Now>
    void holdSurvivor(const std::vector<std::pair<std::int64_t, Stood>>& stood, Now now, Length top);
    void knowAlive();
    void keepStaying();
    Arrangement::Forgotten forgetContent(const Arrangement::Estimates& estimates);
    void recallAlive();
    void holdWhatShows();
    bool holdWhatShowed(Length scrolled);
    bool holdWhatIsPrepared();
    Length advance(std::int64_t timeUs);
    void relaxPull(std::int64_t timeUs);
    void moveAcross(std::int64_t timeUs);
    Length pullRest() const;
    void scrollBy(Length distance);
    void lookAround();
    Length withinTurn(Length distance) const;
    void standAt(Length offset);
    void holdAtRest(std::int64_t position);
    void comeToRest(std::int64_t timeUs);
    bool glideBeside(Toward toward);
    Length ensure(std::int64_t position, bool ahead);
    bool isCovering(std::int64_t position);
    bool isReady(std::int64_t position) const;
    bool isHoldAway();
    void reachHeld();
    void cover();
    void coverToward(Toward toward);
    void settle();
    void releaseBeyondLead();
    std::int64_t firstUnready(Length from, Length until, Toward toward);
    void prepareAhead();
    void place();
    Length jumped() const;
    bool mayFill() const { return record_.filled < settings_.mostFills; }
    void bounded() { record_.bounded = true; }
    Length lead() const { return Length::fromPx(window_.toPx() * settings_.viewLead); }

    RunHost& host_;
    CostMeter meter_;
    RunSettings settings_;
    std::unique_ptr<Arrangement> arrangement_;
    Recycler recycler_;
    ScrollMotion motion_;
    Trace trace_;
    HoldPoint hold_;
    Length window_;
    Length cross_;
    std::vector<Placement> placements_;
    FrameRecord record_;
    Arrangement::Estimates estimates_; ///< before anything is measured
    std::vector<Watched> watched_;
    /// What a view's item was laid out in, and how long it was; negative: that says nothing.
    struct LaidOut {
        Given given;
        Length extent;
    };
    std::vector<LaidOut> laidOut_; ///< by view
    /// When items beyond the lead were last let go, and what decides whether others are beyond it now.
    struct ReleasedAt {
        std::int64_t frame = 0;
        Length top;
        Length misestimate;
        std::int64_t staying = -1;
        std::int64_t stayingBelow = -1;
        bool operator==(const ReleasedAt&) const = default;
    };
    ReleasedAt releasedAt_;
    ViewId keptView_;
    std::uint32_t keptTurn_ = 0;
    Stayings staying_;
    bool isGivenOtherwise_ = false; ///< what is laid out stands in narrower columns than there are now
    ScrollMotion acrossMotion_;
    Length acrossOffset_;
    AnimationSpec animation_;
    Curve curve_;
    std::vector<Seen> seen_;     ///< in the last frame
    std::vector<Moving> moving_; ///< in the order of positions; then those that leave
    std::vector<Leaving> leaving_;
    std::vector<std::int64_t>
        keptMoving_; ///< positions of what moves, while the rest beyond the lead is let go
    std::function<std::int64_t(std::int64_t)> placeBefore_;
    std::function<std::optional<Box>(std::int64_t)> drawnElsewhere_; ///< by the run before
    std::int64_t firstSeenPlace_ = -1;
    std::int64_t lastSeenPlace_ = -1;
    HoldPoint anchor_; ///< what was held as the frame began
    bool isMovePending_ = false;
    bool mayPass_ = false;
    int pendingMs_ = 0; ///< for what was changed since the last frame
    std::int64_t motionStartUs_ = 0;
    std::int64_t motionUs_ = 0;
    Length scrolled_; ///< what this frame was asked to scroll by
    Length pulled_;   ///< past the strip's start, before the resistance
    std::int64_t relaxedUntilUs_ = 0;
    std::int64_t movedAtUs_ = 0;
    double speed_ = 0;
    Length settled_; ///< how far this frame moved the content to meet an end of the strip
    int modelledUs_ = 0;
    bool forward_ = true;
    bool dirty_ = true;
    bool inFrame_ = false;
    bool pullable_ = false;
    bool holdPull_ = false;
    bool letGoPulled_ = false;
    bool wasPulling_ = false;
};

} // namespace scorrere
