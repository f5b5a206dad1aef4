// SPDX-License-Identifier: GPL-3.0-or-later
// Strips within items, cut open: their entries beyond the item's edges, beside the device.
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/look/low_fills.h"

#include <QPainter>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr int kMostShown = 40; ///< entries, each way

} // namespace

void Cutaway::setCutOpen(bool isOpen) {
    isCutOpen_ = isOpen;
    update();
}

void Cutaway::paintWithin(QPainter& painter) {
    const QRectF screen = screenRect().adjusted(-CutawayGeometry::kBezel, -CutawayGeometry::kBezel,
                                                CutawayGeometry::kBezel, CutawayGeometry::kBezel);
    for (render::LiveStrips::Strip* strip : live_->strips().showing()) {
        const QRectF box = live_->strips().boxOf(*strip, live_->axis(), live_->run().pull());
        const QRectF at(windowRect().topLeft() + box.topLeft() * scale(), box.size() * scale());
        if (strip->axis().isSideways == live_->axis().isSideways) {
            continue; // it lies along the strip around it, which is drawn there
        }
        const QRectF shows = at & windowRect(); // a part of the item may be out of sight
        const QRectF before = strip->axis().isSideways ? QRectF(0, shows.top(), screen.left(), shows.height())
                                                       : QRectF(shows.left(), 0, shows.width(), screen.top());
        const QRectF behind =
            strip->axis().isSideways
                ? QRectF(screen.right(), shows.top(), width() - screen.right(), shows.height())
                : QRectF(shows.left(), screen.bottom(), shows.width(), height() - screen.bottom());
        for (const QRectF& beside : {before, behind}) {
            painter.save();
            painter.setClipRect(beside, Qt::IntersectClip);
            paintStripBeyond(painter, *strip, at, beside);
            painter.restore();
        }
    }
}

void Cutaway::paintStripBeyond(QPainter& painter, render::LiveStrips::Strip& strip, const QRectF& at,
                               const QRectF& beside) {
    Run& run = strip.run();
    Arrangement& entries = run.arrangement();
    const std::int64_t middle = std::max<std::int64_t>(run.hold().position, 0);
    const double k = scale();
    for (const int step : {1, -1}) {
        int drawn = 0;
        for (std::int64_t i = middle; i >= 0 && i < entries.size() && drawn < kMostShown;
             i += step, ++drawn) {
            Box box = entries.boxOf(i);
            box.start -= run.offset();
            const QRectF inside = strip.axis().onScreen(box);
            const QRectF card(at.topLeft() + inside.topLeft() * k, inside.size() * k);
            if (!beside.intersects(card)) {
                if (!QRectF(rect()).intersects(card)) {
                    break; // all that way are further out
                }
                continue;
            }
            const ViewId carrier = run.recycler().carrierOf(i);
            const bool isReady = carrier.index >= 0;
            painter.setBrush(isReady ? items().paper : Qt::transparent);
            painter.setPen(QPen(isReady ? look_.ofView(carrier.index) : look_.quiet, isReady ? 1.3 : 1,
                                isReady ? Qt::SolidLine : Qt::DotLine));
            drawLowBox(painter, card.adjusted(0.5, 0.5, -0.5, -0.5), 3);
            if (!isReady) {
                painter.setPen(look_.quiet);
                painter.setFont(look_.font(11));
                painter.drawText(card, Qt::AlignCenter, grouped(i + 1));
                continue;
            }
            painter.save();
            painter.setOpacity(0.7);
            painter.setClipRect(card, Qt::IntersectClip);
            painter.translate(card.topLeft());
            painter.scale(k, k);
            live_->paintEntry(painter, strip, carrier, items(), k * devicePixelRatioF());
            painter.restore();
        }
    }
}

/// What there is to say of the strip within an item at a place of this widget.
QString Cutaway::numbersWithin(QPointF at) const {
    const render::LiveStrips::Strip* strip = live_->stripAt(inWindow(at));
    if (strip == nullptr) {
        return {};
    }
    const FrameRecord* last = strip->run().trace().find(strip->run().trace().framesEver());
    const bool shows = last != nullptr && last->first >= 0;
    const auto& strips = live_->strips();
    return tr("\nin it a strip: entries %1 to %2 of %3, in %4 views of %5 that all strips here share")
        .arg(grouped(shows ? last->first + 1 : 0), grouped(shows ? last->last + 1 : 0),
             grouped(strip->entries()))
        .arg(strip->run().recycler().alive().size())
        .arg(strips.viewsBuilt());
}

} // namespace scorrere::workbench
