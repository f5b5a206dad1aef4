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
#include <optional>

namespace scorrere {

namespace {

constexpr Length kLine = Length::px(48);

/// What has not been looked at is never thought to take no room: it would be passed over for good.
constexpr Length kLeastEstimate = Length::px(1);

/// A mean is taken over when the number behind it has doubled: a dozen times in a long run, not every frame.
bool isPowerOfTwo(std::int64_t n) {
    return (n & (n - 1)) == 0;
}

} // namespace

Run::Run(RunHost& host, Stopwatch& watch, const ListSpec& spec, std::int64_t records,
         std::array<Length, ListArrangement::kKinds> estimates, const RunSettings& settings)
    : host_(host), meter_(watch), settings_(settings), list_(spec, records, estimates),
      estimates_(estimates) {
    setFirstEstimates();
    watched_.reserve(128);
    placements_.reserve(128); // no frame allocates once as many live as ever will
    standAt(Length{});
}

ExtentIndex Run::resize(Length extent, Length cross) {
    assert(!inFrame_);
    const bool isLaidOutAnew = cross != cross_;
    if (isLaidOutAnew) {
        chooseHold(std::min(window_, extent)); // what showed so far, and will
    }
    window_ = extent;
    cross_ = cross;
    dirty_ = true;
    return isLaidOutAnew ? forgetContent(estimates_) : ExtentIndex();
}

ExtentIndex Run::contentChanged(const std::array<Length, ListArrangement::kKinds>& estimates) {
    assert(!inFrame_);
    chooseHold(window_);
    return forgetContent(estimates);
}

ExtentIndex Run::forgetContent(const std::array<Length, ListArrangement::kKinds>& estimates) {
    recycler_.markAllStale();
    measuredCount_ = {};
    measuredSum_ = {};
    meanIsDue_ = {};
    estimates_ = estimates;
    dirty_ = true;
    ExtentIndex old = list_.forgetExtents();
    setFirstEstimates();
    return old;
}

void Run::setFirstEstimates() {
    for (int kind = 0; kind < ListArrangement::kKinds; ++kind) {
        list_.setKindEstimate(kind, std::max(estimates_[static_cast<std::size_t>(kind)], kLeastEstimate));
    }
}

void Run::key(KeyStep step) {
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
        travelTo(list_.total());
        break;
    }
}

void Run::jumpTo(std::int64_t position) {
    assert(!inFrame_);
    motion_.stop();
    if (list_.size() > 0) {
        hold_ = {std::clamp<std::int64_t>(position, 0, list_.size() - 1), Length{}};
    }
    watched_.clear();
    dirty_ = true;
}

void Run::travelTo(Length offset) {
    assert(!inFrame_);
    motion_.stop();
    standAt(offset);
    dirty_ = true;
}

/// Holds the item that covers an offset which may only be estimated.
void Run::standAt(Length offset) {
    offset = std::clamp(offset, Length{}, std::max(list_.total() - window_, Length{}));
    const std::int64_t position = list_.indexAt(offset);
    watched_.clear(); // it was asked for
    hold_ = {position, position < 0 ? Length{} : list_.startOf(position) - offset};
}

Length Run::offset() {
    return hold_.position < 0 ? Length{} : list_.startOf(hold_.position) - hold_.onScreen;
}

/// Holds the first item that starts in the window among those measured on screen: what the eye rests on. What
/// stands behind one that came in and is not measured yet stands there by estimate only: it is held last.
void Run::chooseHold(Length window) {
    if (hold_.position < 0 || placements_.empty()) {
        return;
    }
    const auto isMeasured = [this](ViewId id) {
        return list_.stateOf(recycler_.view(id).position) == ExtentState::Measured;
    };
    const auto& live = recycler_.alive();
    const auto held =
        std::ranges::find(live, hold_.position, [this](ViewId id) { return recycler_.view(id).position; });
    if (held == live.end()) {
        holdAmong(live, window);
        return;
    }
    auto from = held;
    auto until = held;
    while (from != live.begin() && isMeasured(*(from - 1)) &&
           recycler_.view(*(from - 1)).position == recycler_.view(*from).position - 1) {
        --from;
    }
    while (until != live.end() && isMeasured(*until) &&
           (until == held || recycler_.view(*until).position == recycler_.view(*(until - 1)).position + 1)) {
        ++until;
    }
    if (!holdAmong(std::span(from, until), window)) {
        holdAmong(live, window);
    }
}

/// Tells whether one of them stands in so much of the window.
bool Run::holdAmong(std::span<const ViewId> views, Length window) {
    const Length top = offset();
    std::optional<HoldPoint> covering;
    for (const ViewId id : views) {
        const std::int64_t position = recycler_.view(id).position;
        if (list_.stateOf(position) != ExtentState::Measured) {
            continue;
        }
        const Length start = list_.startOf(position) - top;
        if (start >= Length{} && start < window) {
            hold_ = {position, start};
            return true;
        }
        if (start < Length{} && start + list_.extentOf(position) > Length{}) {
            covering = {position, start};
        }
    }
    hold_ = covering.value_or(hold_);
    return covering.has_value();
}

void Run::scrollBy(Length distance) {
    if (hold_.position < 0 || distance == Length{}) {
        return;
    }
    forward_ = distance > Length{};
    scrolled_ = distance;
    hold_.onScreen -= distance;
    chooseHold(window_);
    if (hold_.onScreen >= window_ || hold_.onScreen + list_.extentOf(hold_.position) <= Length{}) {
        standAt(offset()); // beyond everything measured: the rest of the way is estimated
    }
}

void Run::insertRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    chooseHold(window_);
    const bool empty = hold_.position < 0;
    list_.insertRecords(place, count);
    recycler_.inserted(list_.positionOf(place), count);
    hold_.inserted(list_.positionOf(place), count);
    for (Watched& item : watched_) {
        item.position += item.position >= list_.positionOf(place) ? count : 0;
    }
    if (empty) {
        standAt(Length{});
    }
    dirty_ = true;
}

void Run::eraseRecords(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    chooseHold(window_);
    const std::int64_t at = list_.positionOf(place);
    const HoldPoint before = hold_;
    list_.eraseRecords(place, count);
    recycler_.erased(at, count);
    hold_.erased(at, count, list_.size());
    if (before.position >= at && before.position < at + count) {
        // The next survivor takes over the place of what was held.
        watched_.assign(list_.size() > 0 ? 1 : 0, {std::min(at, list_.size() - 1), before.onScreen});
    } else {
        std::erase_if(watched_,
                      [&](const Watched& item) { return item.position >= at && item.position < at + count; });
        for (Watched& item : watched_) {
            item.position -= item.position >= at + count ? count : 0;
        }
    }
    dirty_ = true;
}

void Run::moveRecord(std::int64_t from, std::int64_t to) {
    assert(!inFrame_);
    chooseHold(window_);
    list_.moveRecord(from, to);
    recycler_.moved(list_.positionOf(from), list_.positionOf(to));
    hold_.moved(list_.positionOf(from), list_.positionOf(to));
    const std::int64_t left = list_.positionOf(from);
    const std::int64_t came = list_.positionOf(to);
    for (Watched& item : watched_) {
        item.position = item.position == left
                            ? came
                            : item.position - (item.position > left ? 1 : 0) +
                                  (item.position - (item.position > left ? 1 : 0) >= came ? 1 : 0);
    }
    std::ranges::sort(watched_, {}, &Watched::position);
    dirty_ = true;
}

void Run::recordsChanged(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    const std::int64_t first = list_.positionOf(place);
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        if (position >= first && position < first + count) {
            recycler_.markStale(position);
            dirty_ = true;
        }
    }
    if (list_.spec().gap == Length{} && count <= settings_.mostFills) {
        for (std::int64_t position = first; position < first + count; ++position) {
            dirty_ = list_.forgetNothing(position) || dirty_; // nothing is carried by no view
        }
    }
}

void Run::itemChanged(std::int64_t position) {
    assert(!inFrame_);
    recycler_.markStale(position);
    (void)list_.forgetNothing(position);
    dirty_ = true;
}

void Run::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    assert(!inFrame_);
    list_.setEstimated(firstPlace, extents);
}

void Run::evenOut(std::int64_t place, std::int64_t count) {
    assert(!inFrame_);
    list_.evenOut(place, count);
}

void Run::setViewLead(double windows) {
    settings_.viewLead = windows;
    dirty_ = true;
}

/// Makes sure a view carries the item with its present content; gives the item's measured extent.
Length Run::ensure(std::int64_t position, bool ahead) {
    ViewId id = recycler_.carrierOf(position);
    bool built = false;
    const int kind = list_.kindAt(position);
    const auto before = meter_.soFar();
    if (id.index < 0 || recycler_.view(id).stale) {
        const int viewKind = host_.viewKind(list_.slotAt(position));
        if (id.index >= 0 && recycler_.view(id).kind != viewKind) {
            recycler_.release(id); // its item is of another kind now
            id = {};
        }
        // Preparing ahead takes no view from an item; what must show may take one from beyond the window.
        const auto acquired = id.index >= 0 ? Recycler::Acquired{id, false}
                              : ahead       ? recycler_.acquire(position, viewKind, 0, list_.size())
                                            : recycler_.acquire(position, viewKind, keepFirst_, keepLast_);
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
        Length extent;
        {
            const CostMeter::Span span(meter_, Phase::Fill);
            extent = host_.fill(id, list_.slotAt(position), list_.crossExtent(cross_), meter_);
        }
        extent = std::clamp(extent, Length{}, ExtentIndex::kMaxExtent - list_.spec().gap);
        recycler_.filled(id);
        ++record_.filled;
        record_.filledAhead += ahead ? 1 : 0;
        modelledUs_ += settings_.modelledFillUs;
        const Length estimated = list_.extentOf(position);
        const bool isPlaceholder = host_.isPlaceholder(list_.slotAt(position));
        extent = isPlaceholder ? estimated : extent;
        record_.misestimate += std::max(extent - estimated, estimated - extent);
        const std::size_t k = static_cast<std::size_t>(kind);
        const bool wasMeasured = list_.stateOf(position) == ExtentState::Measured;
        if (!isPlaceholder && list_.stateOf(position) == ExtentState::KindEstimate) {
            ++measuredCount_[k];
            measuredSum_[k] += extent;
            meanIsDue_[k] = meanIsDue_[k] || (isPowerOfTwo(measuredCount_[k]) && measuredCount_[k] > 1);
        }
        if (!isPlaceholder && (extent != estimated || !wasMeasured)) {
            list_.setMeasured(position, extent);
        }
        const auto& now = meter_.soFar();
        std::int64_t ns = 0;
        for (std::size_t p = 1; p < kPhases; ++p) {
            ns += now[p] - before[p];
        }
        trace_.viewFilled(id.index, kind, built, record_.number, ns, estimated, wasMeasured);
    }
    const Length extent = list_.extentOf(position);
    if (position != hold_.position && isNothing(position)) {
        recycler_.release(id);
    }
    return extent;
}

/// Whether an item takes no room at all, as far as is known: no view carries it, since there may be any
/// number of them at one place.
bool Run::isNothing(std::int64_t position) {
    return list_.spec().gap == Length{} && list_.extentOf(position) == Length{};
}

/// The next item that takes room, or may; size() when there is none.
std::int64_t Run::next(std::int64_t position) {
    if (++position < list_.size() && isNothing(position)) {
        // The index finds what covers the place where it would stand: the first item after it with an extent.
        const Length at = list_.startOf(position);
        position = at >= list_.startOf(list_.size() - 1) && isNothing(list_.size() - 1) ? list_.size()
                                                                                        : list_.indexAt(at);
    }
    return position;
}

/// The one before, or -1.
std::int64_t Run::previous(std::int64_t position) {
    if (--position >= 0 && isNothing(position)) {
        const Length at = list_.startOf(position);
        position = at <= list_.spec().insets[0] ? -1 : list_.indexAt(at - Length::fromRaw(1));
    }
    return position;
}

void Run::coverDown(Covered& c) {
    while (c.bottom + list_.spec().gap < window_) {
        const std::int64_t position = next(c.last);
        if (position >= list_.size()) {
            c.last = list_.size() - 1;
            return;
        }
        if (!mayFill()) {
            return bounded();
        }
        c.last = position;
        keepLast_ = std::max(keepLast_, position);
        c.bottom += list_.spec().gap + ensure(position, false);
    }
}

void Run::coverUp(Covered& c) {
    while (c.top - list_.spec().gap > Length{}) {
        const std::int64_t position = previous(c.first);
        if (position < 0) {
            c.first = 0;
            return;
        }
        if (!mayFill()) {
            return bounded();
        }
        c.first = position;
        keepFirst_ = std::min(keepFirst_, position);
        c.top -= list_.spec().gap + ensure(position, false);
    }
}

/// Means that changed while items were measured: applied between frames, since they move what has no extent
/// of its own yet, and that may show.
void Run::takeMeans() {
    for (int kind = 0; kind < ListArrangement::kKinds; ++kind) {
        const auto k = static_cast<std::size_t>(kind);
        if (std::exchange(meanIsDue_[k], false)) {
            list_.setKindEstimate(kind, std::max(measuredSum_[k] / measuredCount_[k], kLeastEstimate));
        }
    }
}

/// At the strip's ends there is nothing to show beyond: the content is drawn against the window's edge.
void Run::settle(Covered& c) {
    if (c.first == 0 && c.top > list_.spec().insets[0] && pullable_ && motion_.isPressed()) {
        pulled_ += c.top - list_.spec().insets[0];
    }
    const auto shift = [&](Length by) {
        hold_.onScreen += by;
        settled_ += by;
        c.top += by;
        c.bottom += by;
        motion_.stop();
    };
    const Length topInset = list_.spec().insets[0];
    const Length endInset = list_.spec().insets[2];
    if (c.last == list_.size() - 1 && c.bottom + endInset < window_) {
        shift(window_ - endInset - c.bottom);
        coverUp(c);
    }
    if (c.first == 0 && c.top > topInset) {
        shift(topInset - c.top);
        coverDown(c);
    }
}

/// Items that live and stand in the window as far as is known: their views must not be taken for others.
void Run::keepWhatShows() {
    keepFirst_ = keepLast_ = hold_.position;
    const Length top = offset();
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        const Length start = list_.startOf(position) - top;
        if (start < window_ && start + list_.extentOf(position) > Length{}) {
            keepFirst_ = std::min(keepFirst_, position);
            keepLast_ = std::max(keepLast_, position);
        }
    }
}

Run::Covered Run::cover() {
    keepWhatShows();
    Covered c;
    c.first = c.last = hold_.position;
    const Length extent = ensure(hold_.position, false);
    if (hold_.onScreen < Length{} && hold_.onScreen + extent <= Length{}) {
        // It covered the window and, laid out again, no longer reaches it: show its end.
        const Length reach = std::min(extent, window_ / 2) - extent;
        settled_ += reach - hold_.onScreen;
        hold_.onScreen = reach;
    }
    c.top = hold_.onScreen;
    c.bottom = c.top + extent;
    coverDown(c);
    coverUp(c);
    settle(c);
    return c;
}

std::int64_t Run::lastWanted(Length offset, Length extent) {
    return list_.indexAt(std::max(offset + extent - Length::fromRaw(1), Length{}));
}

void Run::releaseBeyondLead() {
    const Length top = offset();
    const std::int64_t first = list_.indexAt(top - lead());
    record_.released += recycler_.releaseOutside(first, lastWanted(top, window_ + lead()));
}

void Run::prepareAhead(const Covered& covered) {
    Length below = covered.bottom;
    Length above = covered.top;
    std::int64_t after = next(covered.last);
    std::int64_t before = previous(covered.first);
    const Length gap = list_.spec().gap;
    bool complete = false;
    for (bool on = forward_; !complete && mayFill(); on = !on) {
        const bool canOn = after < list_.size() && below + gap < window_ + lead();
        const bool canBack = before >= 0 && above - gap > -lead();
        complete = !canOn && !canBack;
        if (complete) {
            break;
        }
        if (record_.filled > 0 && modelledUs_ + settings_.modelledFillUs > settings_.aheadBudgetUs) {
            break;
        }
        if ((on && canOn) || !canBack) {
            below += gap + ensure(after, true);
            after = next(after);
        } else {
            above -= gap + ensure(before, true);
            before = previous(before);
        }
    }
    dirty_ = !complete || record_.bounded || std::ranges::count(meanIsDue_, true) > 0;
}

void Run::place() {
    placements_.clear();
    const Length top = offset();
    record_.first = record_.last = -1;
    for (const ViewId id : recycler_.alive()) {
        const std::int64_t position = recycler_.view(id).position;
        Placement p{id, position, list_.startOf(position) - top, list_.extentOf(position), false};
        p.showing = p.start < window_ && p.start + p.extent > Length{};
        if (p.showing) {
            record_.first = record_.first < 0 ? position : record_.first;
            record_.last = position;
        }
        placements_.push_back(p);
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
        const Length by = now->start - (item.start - scrolled_ + settled_);
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
    takeMeans();
    if (list_.size() == 0) {
        hold_ = {};
        recycler_.releaseOutside(0, -1);
        motion_.stop();
        place();
        dirty_ = false;
    } else {
        if (hold_.position < 0) {
            standAt(Length{});
        }
        scrollBy(advance(timeUs));
        releaseBeyondLead();
        const Covered covered = cover();
        // What shows is up to date now; what is not must not wait beyond the edge with old content.
        record_.released += recycler_.releaseStale();
        releaseBeyondLead();
        prepareAhead(covered);
        releaseBeyondLead();
        place();
        record_.jump = jumped();
    }
    watched_.clear();
    for (const Placement& placement : placements_) {
        if (placement.showing) {
            watched_.push_back({placement.position, placement.start});
        }
    }
    record_.alive = static_cast<int>(recycler_.alive().size());
    record_.pooled = static_cast<int>(recycler_.pooled());
    record_.costNs = meter_.stop();
    trace_.add(record_);
    if (record_.first >= 0) {
        trace_.addPlaceCost(static_cast<double>(record_.first) / static_cast<double>(list_.size()),
                            record_.totalNs());
    }
    inFrame_ = false;
    return record_;
}

void Run::checkInvariants() {
    list_.index().checkInvariants();
    recycler_.checkInvariants();
}

} // namespace scorrere
