// SPDX-License-Identifier: Apache-2.0
//
// The window's place is not an offset but a hold point: one item and where its start stands on screen.
// Offsets before it may be estimates that come true, items may come and go there: nothing on screen moves,
// because nothing on screen is computed from them. A frame covers the window outward from the hold point with
// items that are filled, and so measured, before they show; then it prepares some of those beyond the edge
// with what is left of a fixed allowance, counted in modelled work and not in time, so that the same inputs
// give the same frames.
#include "engine/run/run.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace scorrere {

namespace {

constexpr Length kLine = Length::px(48);
constexpr double kPushes = 100; ///< px/s
constexpr Length kSaysNothing = Length::px(-1);

} // namespace

Run::Run(RunHost& host, Stopwatch& watch, std::unique_ptr<Arrangement> arrangement,
         const Arrangement::Estimates& estimates, const RunSettings& settings)
    : host_(host), meter_(watch), settings_(settings), arrangement_(std::move(arrangement)),
      estimates_(estimates) {
    watched_.reserve(128);
    laidOut_.reserve(128);
    placements_.reserve(128); // no frame allocates once as many live as ever will
    standAt(Length{});
}

Arrangement::Forgotten Run::resize(Length extent, Length cross) {
    assert(!inFrame_);
    const bool isLaidOutAnew = cross != cross_ || (extent != window_ && arrangement_->followsWindow());
    window_ = extent;
    holdWhatShowed(Length{}); // and still will
    cross_ = cross;
    dirty_ = true;
    if (!isLaidOutAnew) {
        return {};
    }
    arrangement_->setCross(cross);
    arrangement_->setWindow(extent);
    auto forgotten = forgetContent(estimates_);
    if (hold_.position >= 0 && arrangement_->restFor(Length{}, 0)) {
        motion_.stop();
        holdAtRest(hold_.position);
        watched_.clear(); // it moves to where it rests now
    }
    return forgotten;
}

Arrangement::Forgotten Run::contentChanged(const Arrangement::Estimates& estimates) {
    assert(!inFrame_);
    return forgetContent(estimates);
}

Arrangement::Forgotten Run::forgetContent(const Arrangement::Estimates& estimates) {
    recycler_.markAllStale();
    estimates_ = estimates;
    dirty_ = true;
    return arrangement_->forgetExtents(estimates);
}

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
    if (arrangement_->size() > 0) {
        position = std::clamp<std::int64_t>(position, 0, arrangement_->size() - 1);
        arrangement_->beginAt(position);
        recallAlive();
        holdAtRest(position);
    }
    watched_.clear();
    dirty_ = true;
}

void Run::standWith(const HoldPoint& hold) {
    assert(!inFrame_);
    motion_.stop();
    if (hold.position < 0 || hold.position >= arrangement_->size() || hold == hold_) {
        return;
    }
    hold_ = hold;
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
    if (!holdWhatShowed(distance) && !holdWhatIsPrepared()) {
        standAt(offset()); // beyond everything measured: the rest of the way is estimated
    }
    lookAround(); // another may be held, that stood elsewhere since records came between them
}

void Run::insertRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    const bool empty = hold_.position < 0;
    arrangement_->insertRecords(place, count);
    recycler_.inserted(arrangement_->positionOf(place), count);
    hold_.inserted(arrangement_->positionOf(place), count);
    for (Watched& item : watched_) {
        item.position += item.position >= arrangement_->positionOf(place) ? count : 0;
    }
    lookAround();
    recallAlive();
    if (empty) {
        standAt(Length{});
    }
    dirty_ = true;
}

void Run::eraseRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    const std::int64_t at = arrangement_->positionOf(place);
    const HoldPoint before = hold_;
    arrangement_->eraseRecords(place, count);
    recycler_.erased(at, count);
    hold_.erased(at, count, arrangement_->size());
    if (before.position >= at && before.position < at + count) {
        // The next survivor takes over the place of what was held.
        watched_.assign(arrangement_->size() > 0 ? 1 : 0,
                        {std::min(at, arrangement_->size() - 1), before.onScreen});
    } else {
        std::erase_if(watched_,
                      [&](const Watched& item) { return item.position >= at && item.position < at + count; });
        for (Watched& item : watched_) {
            item.position -= item.position >= at + count ? count : 0;
        }
    }
    lookAround();
    recallAlive();
    dirty_ = true;
}

/// Where lines hold other items than before, those that are alive tell what they are; and those that are given
/// others extents now are laid out again.
void Run::recallAlive() {
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        arrangement_->recall(position);
        const auto index = static_cast<std::size_t>(id.index);
        if (!recycler_.view(id).stale && arrangement_->givenFor(position) != laidOut_[index].given) {
            recycler_.markStale(position);
        }
    }
}

void Run::rearrange(const std::function<void()>& change) {
    assert(!inFrame_);
    change();
    recallAlive();
    dirty_ = true;
}

void Run::moveRecord(std::int64_t from, std::int64_t to) {
    assert(!inFrame_);
    arrangement_->moveRecord(from, to);
    recycler_.moved(arrangement_->positionOf(from), arrangement_->positionOf(to));
    hold_.moved(arrangement_->positionOf(from), arrangement_->positionOf(to));
    const std::int64_t left = arrangement_->positionOf(from);
    const std::int64_t came = arrangement_->positionOf(to);
    for (Watched& item : watched_) {
        item.position = item.position == left
                            ? came
                            : item.position - (item.position > left ? 1 : 0) +
                                  (item.position - (item.position > left ? 1 : 0) >= came ? 1 : 0);
    }
    std::ranges::sort(watched_, {}, &Watched::position);
    lookAround();
    recallAlive();
    dirty_ = true;
}

Arrangement::Forgotten Run::permute(const std::function<std::int64_t(std::int64_t)>& to) {
    assert(!inFrame_);
    const auto moved = [&](std::int64_t position) {
        const Slot slot = arrangement_->slotAt(position);
        return slot.role == Role::Record ? arrangement_->positionOf(to(slot.place)) : position;
    };
    recycler_.permuted(moved);
    hold_.position = hold_.position < 0 ? -1 : moved(hold_.position);
    for (Watched& item : watched_) {
        item.position = moved(item.position);
    }
    std::ranges::sort(watched_, {}, &Watched::position);
    Arrangement::Estimates estimates{};
    for (int kind = 0; kind < Arrangement::kKinds; ++kind) {
        estimates[static_cast<std::size_t>(kind)] = std::max(arrangement_->estimateOf(kind), Length{});
    }
    auto forgotten = arrangement_->forgetExtents(estimates);
    arrangement_->beginAt(hold_.position);
    lookAround();
    for (const ViewId id : recycler_.alive()) {
        const Length extent = laidOut_[static_cast<std::size_t>(id.index)].extent;
        if (!recycler_.view(id).stale && extent >= Length{}) {
            arrangement_->setMeasured(recycler_.view(id).position, extent);
        }
    }
    recallAlive();
    dirty_ = true;
    return forgotten;
}

void Run::recordsChanged(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    const std::int64_t first = arrangement_->positionOf(place);
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        if (position >= first && position < first + count) {
            recycler_.markStale(position);
            dirty_ = true;
        }
    }
    if (count <= settings_.mostFills) {
        for (std::int64_t position = first; position < first + count; ++position) {
            dirty_ = arrangement_->forgetNothing(position) || dirty_; // what takes no room has no view
        }
    }
}

void Run::itemChanged(std::int64_t position) {
    assert(!inFrame_);
    recycler_.markStale(position);
    (void)arrangement_->forgetNothing(position);
    dirty_ = true;
}

void Run::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    assert(!inFrame_);
    arrangement_->setEstimated(firstPlace, extents);
}

void Run::evenOut(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    arrangement_->evenOut(place, count);
}

void Run::setViewLead(double windows) {
    settings_.viewLead = windows;
    dirty_ = true;
}

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
        const auto mayTakeFrom = [&](std::int64_t other) { return !ahead && !isCovering(other); };
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
        laidOut_.resize(std::max(laidOut_.size(), static_cast<std::size_t>(id.index) + 1));
        const bool isPlaceholder = host_.isPlaceholder(arrangement_->slotAt(position));
        laidOut_[static_cast<std::size_t>(id.index)] = {given, isPlaceholder ? kSaysNothing : extent};
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
        const std::int64_t position = toward == Toward::End
                                          ? firstUnready(std::clamp(Length{}, start, end), window_, toward)
                                          : firstUnready(Length{}, std::clamp(window_, start, end), toward);
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
    }
    if (const Length above = -offset(); above > Length{}) {
        shift(-above);
        coverToward(Toward::End);
    }
}

void Run::cover() {
    arrangement_->keepStill(hold_.position, hold_.onScreen + scrolled_);
    (void)ensure(hold_.position, false);
    for (std::int64_t beside = 0;
         beside >= 0 && mayFill();) { // what stands in its line may be the longer one
        beside = firstUnready(hold_.onScreen, hold_.onScreen + Length::fromRaw(1), Toward::End);
        if (beside >= 0) {
            (void)ensure(beside, false);
        }
    }
    const Length extent = arrangement_->extentOf(hold_.position);
    if (hold_.onScreen < Length{} && hold_.onScreen + extent <= Length{}) {
        // It covered the window and, laid out again, no longer reaches it: show its end.
        const Length reach = std::min(extent, window_ / 2) - extent;
        settled_ += reach - hold_.onScreen;
        hold_.onScreen = reach;
    }
    coverToward(Toward::End);
    coverToward(Toward::Start);
    settle();
    for (int filled = -1; !arrangement_->isInOrder() && filled != record_.filled && mayFill();) {
        filled = record_.filled; // what stands before an item may have moved others behind it
        coverToward(Toward::End);
        coverToward(Toward::Start);
        settle();
    }
}

void Run::releaseBeyondLead() {
    const Length top = offset();
    const ReleasedAt now{record_.number, top, record_.misestimate};
    if (arrangement_->isInOrder() && now == releasedAt_) {
        return; // nothing moved since: what was filled meanwhile was as long as it was thought to be
    }
    releasedAt_ = now;
    record_.released += recycler_.releaseUnless([&](std::int64_t position) {
        const Box box = arrangement_->boxOf(position);
        return box.start < top + window_ + lead() && box.end() > top - lead();
    });
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
        Placement p{id, position, arrangement_->boxOf(position), false};
        p.box.start -= top;
        p.showing = p.box.start < window_ && p.box.end() > Length{};
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

const FrameRecord& Run::frame(std::int64_t timeUs) {
    assert(!inFrame_);
    inFrame_ = true;
    meter_.start();
    record_ = FrameRecord{};
    record_.number = trace_.framesEver() + 1;
    record_.timeUs = timeUs;
    modelledUs_ = 0;
    settled_ = scrolled_ = Length{};
    relaxPull(timeUs);
    arrangement_->takeMeans();
    if (arrangement_->size() == 0) {
        hold_ = {};
        (void)recycler_.releaseUnless([](std::int64_t) { return false; });
        motion_.stop();
        place();
        dirty_ = false;
    } else {
        if (hold_.position < 0) {
            standAt(Length{});
        }
        lookAround();
        if (motion_.velocity() != 0) { // before it flies past where it may rest
            comeToRest(timeUs);
        }
        const bool isGliding = motion_.isGliding();
        scrollBy(advance(timeUs));
        if (!isGliding) {
            comeToRest(timeUs);
        }
        releaseBeyondLead();
        cover();
        // What shows is up to date now; what is not must not wait beyond the edge with old content.
        record_.released += recycler_.releaseStale();
        releaseBeyondLead();
        prepareAhead();
        dirty_ = dirty_ || (isGliding && !motion_.isGliding()); // does it rest where it arrived?
        if (!arrangement_->isInOrder()) {
            cover(); // what was measured beyond the edge may have brought another into the window
        }
        releaseBeyondLead();
        place();
        record_.jump = jumped();
        holdWhatShows();
    }
    watched_.clear();
    for (const Placement& placement : placements_) {
        if (placement.showing) {
            watched_.push_back({placement.position, placement.box.start});
        }
    }
    record_.alive = static_cast<int>(recycler_.alive().size());
    record_.pooled = static_cast<int>(recycler_.pooled());
    record_.costNs = meter_.stop();
    trace_.add(record_);
    if (record_.first >= 0) {
        trace_.addPlaceCost(static_cast<double>(record_.first) / static_cast<double>(arrangement_->size()),
                            record_.totalNs());
    }
    inFrame_ = false;
    return record_;
}

void Run::checkInvariants() {
    arrangement_->checkInvariants();
    recycler_.checkInvariants();
}

} // namespace scorrere
