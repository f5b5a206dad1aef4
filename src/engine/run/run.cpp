// SPDX-License-Identifier: Apache-2.0
//
// The window's place is not an offset but a hold point: one item and where its start stands on screen.
// Offsets before it may be estimates that come true, items may come and go there: nothing on screen moves,
// because nothing on screen is computed from them. A frame covers the window outward from the hold point with
// items that are filled, and so measured, before they show; then it prepares some of those beyond the edge
// with what is left of a fixed allowance, counted in modelled work and not in time, so that the same inputs
// give the same frames.
#include "engine/run/run.h"

#include <cassert>

namespace scorrere {

Run::Run(RunHost& host, Stopwatch& watch, std::unique_ptr<Arrangement> arrangement,
         const Arrangement::Estimates& estimates, const RunSettings& settings,
         std::shared_ptr<ItemViews> views)
    : host_(host), meter_(watch), settings_(settings), arrangement_(std::move(arrangement)),
      recycler_(std::move(views)), trace_(settings.framesKept), estimates_(estimates) {
    watched_.reserve(128);
    laidOut_.reserve(128);
    seen_.reserve(128);
    moving_.reserve(128);
    leaving_.reserve(128);
    keptMoving_.reserve(128);
    placements_.reserve(128); // no frame allocates once as many live as ever will
    standAt(Length{});
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
    anchor_ = hold_;
    if (pendingMs_ > 0) {
        keepLeaving();
    } else if (!moving_.empty() && timeUs >= motionStartUs_ + motionUs_) {
        cutMotion(); // all are where they were to go
        releasedAt_ = {};
    }
    if (arrangement_->size() == 0) {
        hold_ = {};
        staying_ = {};
        (void)recycler_.releaseUnless([](std::int64_t) { return false; });
        motion_.stop();
        acrossMotion_.stop();
        place();
        dirty_ = false;
    } else {
        if (hold_.position < 0) {
            standAt(Length{});
        }
        lookAround();
        anchor_ = hold_;
        if (motion_.velocity() != 0) { // before it flies past where it may rest
            comeToRest(timeUs);
        }
        const bool isGliding = motion_.isGliding();
        scrollBy(advance(timeUs));
        moveAcross(timeUs);
        if (!isGliding) {
            comeToRest(timeUs);
        }
        releaseBeyondLead();
        cover();
        // What shows is up to date now; what is not must not wait beyond the edge with old content.
        record_.released += recycler_.releaseStale();
        releaseBeyondLead();
        keepStaying();
        prepareAhead();
        dirty_ = dirty_ || (isGliding && !motion_.isGliding()); // does it rest where it arrived?
        const bool isPreparedAnew = isGivenOtherwise_;
        if (!arrangement_->isInOrder() || isPreparedAnew) {
            cover(); // what was measured beyond the edge may have brought another into the window
        }
        if (isPreparedAnew) {
            record_.released += recycler_.releaseStale();
            dirty_ = true;
        }
        keepStaying();
        releaseBeyondLead();
        place();
        record_.jump = jumped();
        holdWhatShows();
    }
    moveDrawn(timeUs);
    placeBefore_ = nullptr;
    noteSeen();
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
