// SPDX-License-Identifier: Apache-2.0
// What a tap in the window means.
#include "render/live_collection.h"

namespace scorrere::render {

void LiveCollection::press(std::int64_t timeUs, QPointF at, LiveHands::Reach reach) {
    if (!detail_->press(timeUs, at)) {
        hands_->press(timeUs, at, reach);
    }
}

void LiveCollection::move(std::int64_t timeUs, QPointF at) {
    if (!detail_->move(timeUs, at)) {
        hands_->move(timeUs, at);
    }
}

void LiveCollection::release(std::int64_t timeUs) {
    if (!detail_->release(timeUs)) {
        hands_->release(timeUs);
    }
}

std::optional<LiveCollection::Tap> LiveCollection::tapAt(double x, double y) {
    // In order: what stays covers items behind it.
    for (const Placement& placement : run_->placements()) {
        const bool isStaying =
            placement.staysAcross && axis().onScreen(placement.staying(), run_->pull()).contains(x, y);
        const QRectF box =
            axis().onScreen(isStaying ? placement.unscrolled() : placement.drawnBox(), run_->pull());
        if ((!placement.isDrawnIn(run_->window()) && !placement.staysAt) || !box.contains(x, y)) {
            continue;
        }
        const ItemView& tapped = view(placement.view);
        if (tapped.isSkeleton()) {
            const bool failed = records_.isFailedAt(run_->arrangement().slotAt(placement.position).place);
            return failed ? std::optional(Tap{"retry", -1, -1, {}, true, -1, {}}) : std::nullopt;
        }
        if (auto within = tapWithin(QPointF(x, y), placement)) {
            return within;
        }
        const int part = tapped.tapTarget(x - box.left(), y - box.top());
        if (part < 0) {
            return std::nullopt;
        }
        const PlanPart& plan = tapped.design().parts()[static_cast<std::size_t>(part)];
        const Slot slot = run_->arrangement().slotAt(placement.position);
        Tap tap{plan.tap, -1,          slot.place, {}, records_.hasTail() && slot.role == Role::Footer,
                -1,       plan.pointer};
        tap.section =
            slot.role == Role::SectionHeader || slot.role == Role::SectionFooter ? slot.section : -1;
        if (slot.role == Role::Record) {
            tap.record = records_.recordAt(slot.place);
            tap.key = records_.keyAt(slot.place);
        }
        return tap;
    }
    return std::nullopt;
}

/// Of an entry of a strip within an item, that there is one at a point of the window.
std::optional<LiveCollection::Tap> LiveCollection::tapWithin(QPointF at, const Placement& placement) {
    LiveStrips::Strip* strip = stripAt(at);
    if (strip == nullptr || strip->outer() != placement.view) {
        return std::nullopt;
    }
    const QPointF within = at - strips_.boxOf(*strip, axis(), run_->pull()).topLeft();
    for (const Placement& entry : strip->run().placements()) {
        const QRectF box = strip->axis().onScreen(entry.shown());
        const ItemView& tapped = strip->view(entry.view);
        const int part = entry.showing && box.contains(within)
                             ? tapped.tapTarget(within.x() - box.left(), within.y() - box.top())
                             : -1;
        if (part >= 0) {
            const PlanPart& plan = tapped.design().parts()[static_cast<std::size_t>(part)];
            Tap tap{plan.tap, -1, strip->place(), {}, false, -1, plan.pointer, entry.position};
            tap.record = strip->place() < 0 ? -1 : records_.recordAt(strip->place());
            tap.key = strip->place() < 0 ? std::string() : records_.keyAt(strip->place());
            return tap;
        }
    }
    return std::nullopt;
}

} // namespace scorrere::render
