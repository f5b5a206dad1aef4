// SPDX-License-Identifier: Apache-2.0
// How a frame covers the window with items, and prepares some beyond it.
#include "engine/run/run.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere {

namespace {

constexpr Length kSaysNothing = Length::px(-1);
constexpr int kMostRounds = 8; ///< a wider column may bring others into the window, and these widen another

} // namespace

/// Makes sure a view carries the item with its present content; gives the item's measured extent.
Length Run::ensure(std::int64_t position, bool ahead) {
    ViewId id = recycler_.carrierOf(position);
    bool built = false;
    const int kind = arrangement_->kindAt(position);
    const auto before = meter_.soFar();
    if (id.index < 0 || recycler_.view(id).stale) {
        const int viewKind = host_.viewKind(arrangement_->slotAt(position));
        if (id.index >= 0 && recycler_.view(id).kind != viewKind) {
            recycler_.release(id); // its item is of another kind now
            id = {};
        }
        // Preparing ahead takes no view from an item; what must show may take one from beyond the window.
        const auto mayTakeFrom = [&](std::int64_t other) {
            return !ahead && !isCovering(other) && !staying_.has(other) &&
                   !isSeenMoving(recycler_.carrierOf(other));
        };
        const auto acquired = id.index >= 0 ? Recycler::Acquired{id, false}
                                            : recycler_.acquire(position, viewKind, mayTakeFrom);
        id = acquired.view;
        built = acquired.built;
        if (built) {
            const CostMeter::Span span(meter_, Phase::Build);
            host_.build(id, viewKind);
            ++record_.built;
            modelledUs_ += settings_.modelledBuildUs;
        }
    }
    if (recycler_.view(id).stale) {
        const Given given = arrangement_->givenFor(position);
        Length extent;
        {
            const CostMeter::Span span(meter_, Phase::Fill);
            extent = host_.fill(id, arrangement_->slotAt(position), given, meter_);
        }
        extent = given.extent.value_or(std::clamp(extent, Length{}, arrangement_->mostExtent()));
        recycler_.filled(id);
        const Given became = arrangement_->givenFor(position); // what it holds may have widened its columns
        laidOut_.resize(std::max(laidOut_.size(), static_cast<std::size_t>(id.index) + 1));
        const bool isPlaceholder = host_.isPlaceholder(arrangement_->slotAt(position));
        laidOut_[static_cast<std::size_t>(id.index)] = {became, isPlaceholder ? kSaysNothing : extent};
        if (became != given) {
            recallAlive();
            isGivenOtherwise_ = true;
        }
        ++record_.filled;
        record_.filledAhead += ahead ? 1 : 0;
        modelledUs_ += settings_.modelledFillUs;
        const Length estimated = arrangement_->extentOf(position);
        const bool wasMeasured = arrangement_->stateOf(position) == ExtentState::Measured;
        if (!isPlaceholder) {
            arrangement_->setMeasured(position, extent);
        }
        const Length is = arrangement_->extentOf(position);
        record_.misestimate += std::max(is - estimated, estimated - is);
        const auto& now = meter_.soFar();
        std::int64_t ns = 0;
        for (std::size_t p = 1; p < kPhases; ++p) {
            ns += now[p] - before[p];
        }
        trace_.viewFilled(id.index, kind, built, record_.number, ns, estimated, wasMeasured);
    }
    const Length extent = arrangement_->extentOf(position);
    if (position != hold_.position && extent == Length{}) {
        recycler_.release(id); // any number of them may stand at one place
    }
    return extent;
}

/// A view carries it with its present content.
bool Run::isReady(std::int64_t position) const {
    const ViewId id = recycler_.carrierOf(position);
    return id.index >= 0 && !recycler_.view(id).stale;
}

/// It stands in the window, as far as is known, or beside what is held.
bool Run::isCovering(std::int64_t position) {
    const Box box = arrangement_->boxOf(position);
    const Length held = arrangement_->startOf(hold_.position);
    const Length top = held - hold_.onScreen;
    return position == hold_.position || (box.start < top + window_ && box.end() > top) ||
           (box.start <= held && box.end() > held);
}

/// The first item in a stretch, from one of its ends, that is not ready; -1: all are. Lengths from the window's
/// start: where that is on the strip may change while items are named.
std::int64_t Run::firstUnready(Length from, Length until, Toward toward) {
    std::array<std::int64_t, 2 * Arrangement::kMostInALine> buffer{};
    const std::size_t line = arrangement_->mostInALine();
    const std::span room = std::span(buffer).first(std::max<std::size_t>(2 * line, 4));
    std::int64_t past = Arrangement::kFromTheEnd;
    while (true) {
        const Length top = offset();
        const std::size_t count = arrangement_->touching(top + from, top + until, toward, past, room);
        for (std::size_t i = 0; i < count; ++i) {
            if (!isReady(room[i])) {
                return room[i];
            }
        }
        if (count == 0) {
            return -1;
        }
        past = room[count - 1];
    }
}

/// Fills what stands in the window from the hold point to one of its ends, the nearest first: each may turn
/// out to be of another extent than was thought, which moves those beyond it.
void Run::coverToward(Toward toward) {
    std::int64_t nearest = hold_.position;
    while (true) {
        // What stands beside it beyond the window is nobody's concern.
        const Length start = arrangement_->startOf(nearest) - offset();
        const Length end = start + std::max(arrangement_->extentOf(nearest), Length::fromRaw(1));
        const bool isAway = nearest == hold_.position && isHoldAway();
        const Length from = isAway ? Length{} : std::clamp(Length{}, start, end);
        const Length until = isAway ? window_ : std::clamp(window_, start, end);
        const std::int64_t position = toward == Toward::End ? firstUnready(from, window_, toward)
                                                            : firstUnready(Length{}, until, toward);
        if (position < 0) {
            return;
        }
        if (!mayFill()) {
            return bounded();
        }
        (void)ensure(position, false);
        nearest = arrangement_->isInOrder() ? position : nearest;
    }
}

/// At the strip's ends there is nothing to show beyond: the content is drawn against the window's edge.
void Run::settle() {
    if (arrangement_->circle() > Length{}) {
        return;
    }
    const auto shift = [&](Length by) {
        hold_.onScreen += by;
        settled_ += by;
        motion_.stop();
    };
    if (const Length above = -offset(); above > Length{} && pullable_ && motion_.isPressed()) {
        pulled_ += above;
    }
    if (const Length below = offset() + window_ - arrangement_->total();
        below > Length{} && !record_.bounded) {
        shift(below);
        coverToward(Toward::Start);
        coverToward(Toward::End); // where nothing showed what is held may be on either side
    }
    if (const Length above = -offset(); above > Length{}) {
        shift(-above);
        coverToward(Toward::End);
        coverToward(Toward::Start);
    }
}

/// What is held is beyond the window's edge, and so sure of where it stands that it needs no view: it is given its
/// extent, or nothing shows at all, in a gap between it and the next.
bool Run::isHoldAway() {
    if (arrangement_->stateOf(hold_.position) != ExtentState::Measured ||
        (hold_.onScreen < window_ && hold_.onScreen + arrangement_->extentOf(hold_.position) >= Length{})) {
        return false;
    }
    std::array<std::int64_t, Arrangement::kMostInALine> room{};
    const Length top = offset();
    return arrangement_->givenFor(hold_.position).extent ||
           arrangement_->touching(top, top + window_, Toward::End, Arrangement::kFromTheEnd, room) == 0;
}

/// Where it covered the window and, laid out again, no longer reaches it: shows its end.
void Run::reachHeld() {
    const Length extent = arrangement_->extentOf(hold_.position);
    if (hold_.onScreen < Length{} && hold_.onScreen + extent <= Length{}) {
        const Length reach = std::min(extent, window_ / 2) - extent;
        settled_ += reach - hold_.onScreen;
        hold_.onScreen = reach;
    }
}

void Run::cover() {
    arrangement_->keepStill(hold_.position, hold_.onScreen + scrolled_);
    const bool isAway = isHoldAway();
    if (!isAway) {
        (void)ensure(hold_.position, false);
        if (hold_.onScreen >= window_ + lead()) { // laid out it turned out to be none of those that show
            releasedAt_ = {};
        }
    }
    const bool isKnown = isAway || arrangement_->givenFor(hold_.position).extent.has_value();
    for (std::int64_t beside = isKnown ? -1 : 0;
         beside >= 0 && mayFill();) { // what stands in its line may be the longer one
        beside = firstUnready(hold_.onScreen, hold_.onScreen + Length::fromRaw(1), Toward::End);
        if (beside >= 0) {
            (void)ensure(beside, false);
        }
    }
    if (!isAway) {
        reachHeld();
    }
    coverToward(Toward::End);
    const int ready = record_.filled;
    coverToward(Toward::Start);
    if (record_.filled !=
        ready) { // by what was laid out since, one that was thought to take no room may take some
        coverToward(Toward::End);
    }
    settle();
    for (int rounds = 0; std::exchange(isGivenOtherwise_, false) && mayFill() && rounds < kMostRounds;
         ++rounds) { // those before it are laid out again, each wide enough for all by now
        (void)ensure(hold_.position, false);
        reachHeld();
        coverToward(Toward::End);
        coverToward(Toward::Start);
        settle();
    }
    for (int filled = -1; !arrangement_->isInOrder() && filled != record_.filled && mayFill();) {
        filled = record_.filled; // what stands before an item may have moved others behind it
        coverToward(Toward::End);
        coverToward(Toward::Start);
        settle();
    }
}

void Run::releaseBeyondLead() {
    const Length top = offset();
    const ReleasedAt now{record_.number, top, record_.misestimate, staying_.all[0].position,
                         staying_.all[1].position};
    if (arrangement_->isInOrder() && now == releasedAt_) {
        return; // nothing moved since: what was filled meanwhile was as long as it was thought to be
    }
    releasedAt_ = now;
    keptMoving_.clear();
    if (isAnimating()) {
        for (const ViewId id : recycler_.alive()) {
            if (isSeenMoving(id)) {
                keptMoving_.push_back(recycler_.view(id).position);
            }
        }
    }
    const bool isKept = keptView_.index >= 0 && recycler_.view(keptView_).turn == keptTurn_;
    const std::int64_t kept = isKept ? recycler_.view(keptView_).position : -1;
    record_.released += recycler_.releaseUnless([&](std::int64_t position) {
        const Box box = arrangement_->boxOf(position);
        return (box.start < top + window_ + lead() && box.end() > top - lead()) || staying_.has(position) ||
               position == kept || std::ranges::binary_search(keptMoving_, position);
    });
}

/// What stays at the window's start needs a view, wherever it stands and however much else did. Laid out, it may show
/// elsewhere, or another stays.
void Run::keepStaying() {
    staying_ = arrangement_->stayingAt(offset());
    Stayings ready;
    for (int rounds = 0; staying_ != ready && (mayFill() || rounds < kMostRounds); ++rounds) {
        ready = staying_;
        for (const Staying& one : ready.all) {
            if (one.position >= 0) {
                (void)ensure(one.position, false);
            }
        }
        staying_ = arrangement_->stayingAt(offset());
        if (staying_ != ready) { // the one that got its view stands where it stands after all, maybe far away
            releasedAt_ = {};
        }
    }
}

void Run::prepareAhead() {
    bool complete = false;
    for (bool on = forward_; mayFill(); on = !on) {
        const auto next = [&](bool below) {
            return below ? firstUnready(window_, window_ + lead(), Toward::End)
                         : firstUnready(-lead(), Length{}, Toward::Start);
        };
        std::int64_t position = next(on);
        position = position >= 0 ? position : next(!on);
        complete = position < 0;
        if (complete ||
            (record_.filled > 0 && modelledUs_ + settings_.modelledFillUs > settings_.aheadBudgetUs)) {
            break;
        }
        (void)ensure(position, true);
    }
    dirty_ = !complete || record_.bounded || arrangement_->areMeansDue();
}

void Run::place() {
    placements_.clear();
    const Length top = offset();
    record_.first = record_.last = -1;
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        Placement p{id, position, arrangement_->boxOf(position)};
        p.box.start -= top;
        p.showing = p.box.start < window_ && p.box.end() > Length{};
        for (const Staying& one : staying_.all) {
            if (position == one.position) {
                p.staysAt = one.start - top;
            }
        }
        if (const auto stays = arrangement_->staysAcross(position); stays && acrossOffset_ > Length{}) {
            p.staysAcross = {p.box.crossStart, *stays};
            p.box.crossStart -= acrossOffset_;
        }
        if (p.showing) {
            record_.first = record_.first < 0 ? position : record_.first;
            record_.last = position;
        }
        placements_.push_back(p);
    }
    if (arrangement_->circle() > Length{} && record_.first >= 0) { // the last may show before the first
        const auto start = [](const Placement& p) { return p.showing ? p.box.start : Length::px(1 << 24); };
        record_.first = std::ranges::min_element(placements_, {}, start)->position;
        const auto end = [](const Placement& p) { return p.showing ? p.box.end() : -Length::px(1 << 24); };
        record_.last = std::ranges::max_element(placements_, {}, end)->position;
    }
    record_.offset = top;
}

/// How far what showed before moved on screen, less what was asked for. An item that grew moves those after
/// it, one that came in pushes some aside: as long as one stands still, the reader is where they were.
Length Run::jumped() const {
    Length least;
    bool isAny = false;
    for (const Watched& item : watched_) {
        const auto now = std::ranges::lower_bound(placements_, item.position, {}, &Placement::position);
        if (now == placements_.end() || now->position != item.position || !now->showing) {
            continue;
        }
        const Length by = withinTurn(now->box.start - (item.start - scrolled_ + settled_));
        if (!isAny || std::max(by, -by) < std::max(least, -least)) {
            least = by;
        }
        isAny = true;
    }
    return least;
}

} // namespace scorrere
