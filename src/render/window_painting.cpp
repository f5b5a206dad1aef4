// SPDX-License-Identifier: Apache-2.0
#include "render/window_painting.h"

#include <QCoreApplication>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::render {

namespace {

/// Pictures of items that show for the first time, made in one painting: what comes while one scrolls, not what a
/// jump brings.
constexpr int kMadeAtOnce = 6;

/// A ring that closes as the pull nears the point where letting go refreshes.
void paintPull(QPainter& painter, const WindowScene& scene, double pulled) {
    const double share = std::min(1.0, pulled / Run::kPullThreshold.toPx());
    const double size = 22;
    const Length extent = Length::fromPx(size);
    const QRectF ring = scene.axis.onScreen({Length::fromPx((pulled - size) / 2), extent,
                                             Length::fromPx((scene.axis.across - size) / 2), extent});
    QPen pen(share >= 1 ? scene.colours.accent : scene.colours.quiet, scene.refreshes ? 3.5 : 2.5);
    pen.setCapStyle(Qt::RoundCap);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    painter.setOpacity(0.3 + 0.7 * share);
    painter.drawArc(ring, 90 * 16, -static_cast<int>(share * (scene.refreshes ? 270 : 350) * 16));
    painter.setOpacity(1);
}

/// What stands where no record is: what it is shaped like may be longer than the place it stands for.
void paintPlaceholder(QPainter& painter, const WindowScene& scene, const ItemView& view,
                      const ItemView::PaintNeeds& needs, const QRectF& box, bool failed) {
    painter.save();
    painter.setClipRect(box, Qt::IntersectClip);
    painter.translate(box.topLeft());
    view.paint(painter, needs);
    if (failed) {
        QFont font(textFamily());
        font.setPixelSize(12);
        painter.setFont(font);
        painter.setPen(scene.colours.bad);
        painter.drawText(QRectF(0, 4, box.width() - 12, 18), Qt::AlignRight | Qt::AlignVCenter,
                         QCoreApplication::translate("scorrere::render::LiveCollection",
                                                     "✕ did not come · tap to try again"));
    }
    painter.restore();
}

} // namespace

void paintKept(QPainter& painter, const QImage& kept, const QPointF& at) {
    const QTransform world = painter.worldTransform();
    const double dpr = painter.device()->devicePixelRatioF();
    const QPointF to = world.map(at) * dpr;
    painter.setWorldTransform(QTransform());
    painter.drawImage(
        QRectF(QPointF(std::round(to.x()), std::round(to.y())) / dpr, QSizeF(kept.size()) / dpr), kept);
    painter.setWorldTransform(world);
}

void paintWindow(QPainter& painter, const WindowScene& scene) {
    const Run& run = scene.run;
    const QRectF window(QPointF(), scene.axis.window());
    painter.save();
    painter.setClipRect(window, Qt::IntersectClip); // lets long texts leave out the lines that do not show
    if (!scene.isWithin) {
        painter.fillRect(window, scene.colours.paper);
    }
    const double pulled = run.pull().toPx();
    if (pulled > 0) {
        paintPull(painter, scene, pulled);
    }
    const std::vector<Placement>& placements = run.placements();
    int atOnce = kMadeAtOnce;
    const auto paintItem = [&](const Placement& placement, const QRectF& box,
                               const ItemView::Parted& parted) {
        ItemView& view = scene.view(placement.view);
        ItemView::PaintNeeds needs{.colours = scene.colours,
                                   .pictures = scene.pictures,
                                   .shapes = scene.shapes,
                                   .density = scene.density};
        if (!view.isSkeleton() && scene.keepsPictures) {
            if (const QImage* kept = view.keptPicture(needs, box.size(), parted, atOnce)) {
                return paintKept(painter, *kept, box.topLeft());
            }
        }
        needs.top = -box.top();
        needs.bottom = window.height() - box.top();
        needs.left = -box.left();
        needs.right = window.width() - box.left();
        if (view.isSkeleton()) {
            return paintPlaceholder(painter, scene, view, needs, box,
                                    placement.position >= 0 &&
                                        scene.isFailedAt(run.arrangement().slotAt(placement.position).place));
        }
        painter.translate(box.topLeft());
        view.paintParted(painter, needs, box.width(), parted);
        painter.translate(-box.topLeft());
    };
    // Where it is drawn it has the room it is laid out in, cut off to what of it is there yet.
    const auto drawnIn = [](const Drawn& drawn, Length extent, Length crossExtent) {
        return Box{drawn.box.start, extent, drawn.box.crossStart, crossExtent};
    };
    const auto cutOff = [&](const Drawn& drawn) {
        const QRectF box = scene.axis.onScreen(drawn.box, run.pull());
        painter.setClipRect(box, Qt::IntersectClip);
        painter.setOpacity(painter.opacity() * drawn.presence);
        if (!scene.isWithin) { // what passes another hides it
            painter.fillRect(box, scene.colours.paper);
        }
    };
    const auto paintStanding = [&](const Placement& placement, const Box& shown) {
        QRectF box = scene.axis.onScreen(shown, run.pull());
        ItemView::Parted parted;
        if (placement.staysAcross && placement.staysAcross->extent > Length{}) { // as it shows in the window
            const Length start = placement.staysAcross->crossStart;
            Box shows = placement.unscrolled();
            shows.start = shown.start;
            shows.crossExtent = std::min(shows.crossExtent, run.cross() - start);
            box = scene.axis.onScreen(shows, run.pull());
            parted = {(start - placement.box.crossStart).toPx(), placement.staysAcross->extent.toPx()};
        }
        const bool hasStrips =
            scene.within != nullptr && !scene.view(placement.view).design().strips().empty();
        const bool mayBeWhole =
            hasStrips && parted == ItemView::Parted() && !scene.view(placement.view).isSkeleton();
        if (const QImage* whole = mayBeWhole ? scene.within->whole(placement, box.size(), atOnce) : nullptr) {
            return paintKept(painter, *whole, box.topLeft());
        }
        paintItem(placement, box, parted);
        if (hasStrips) {
            scene.within->paint(painter, placement, scene.axis.onScreen(shown, run.pull()).topLeft());
        }
    };
    const auto paintOne = [&](const Placement& placement) {
        if (!placement.drawn) {
            return paintStanding(placement, placement.shown());
        }
        const Drawn& drawn = *placement.drawn;
        const Box shown = drawnIn(drawn, placement.box.extent, placement.box.crossExtent);
        if (drawn.presence == 1 && shown == drawn.box && !run.mayPass()) {
            return paintStanding(placement, shown); // it is only on its way
        }
        painter.save();
        cutOff(drawn);
        paintStanding(placement, shown);
        painter.restore();
    };
    for (const Run::Leaving& one : run.leaving()) {
        painter.save();
        cutOff(one.drawn);
        const QRectF box = scene.axis.onScreen(drawnIn(one.drawn, one.extent, one.crossExtent), run.pull());
        Placement nowhere;
        nowhere.view = one.view;
        paintItem(nowhere, box, {});
        painter.restore();
    }
    // From the last to the first: where rounding lets two pictures share a row of px, the upper one's divider
    // stays.
    for (std::size_t i = placements.size(); i-- > 0;) {
        if (placements[i].isDrawnIn(run.window()) && !placements[i].staysAt) {
            paintOne(placements[i]);
        }
    }
    std::ranges::for_each(placements, [&](const Placement& placement) {
        if (placement.staysAt) { // over what passes below it
            paintOne(placement);
        }
    });
    painter.restore();
}

void paintStripWithin(QPainter& painter, const Run& run, const AxisMap& axis,
                      const std::vector<std::unique_ptr<ItemView>>& views, const ItemView::PaintNeeds& needs,
                      bool keepsPictures) {
    paintWindow(painter, {.run = run,
                          .axis = axis,
                          .view = [&views](ViewId id) -> ItemView& {
                              return *views[static_cast<std::size_t>(id.index)];
                          },
                          .isFailedAt = [](std::int64_t) { return false; },
                          .colours = needs.colours,
                          .pictures = needs.pictures,
                          .shapes = needs.shapes,
                          .density = needs.density,
                          .isWithin = true,
                          .keepsPictures = keepsPictures});
}

} // namespace scorrere::render
