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

/// What is so of an item, over it; told apart by shape and not by colour alone.
void paintState(QPainter& painter, const WindowScene& scene, ItemState state, const QRectF& box) {
    const ItemColours& colours = scene.colours;
    const auto fill = [&](const QRectF& at,
                          const QColor& colour) { // whole px: twice as fast, and nobody sees it
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.fillRect(at, colour);
        painter.setRenderHint(QPainter::Antialiasing, true);
    };
    const auto tint = [&](QColor colour, float alpha) {
        colour.setAlphaF(alpha);
        fill(box, colour);
    };
    if (state.has(ItemFlag::Pressed)) {
        tint(colours.ink, 0.10F);
    }
    if (state.has(ItemFlag::Selected)) {
        tint(colours.accent, 0.14F);
        const double side = scene.axis.isMirrored ? box.right() - 4 : box.left();
        fill(QRectF(side, box.top(), 4, box.height()), colours.accent);
        const QPointF centre(scene.axis.isMirrored ? box.left() + 14 : box.right() - 14, box.top() + 14);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colours.accent);
        painter.drawEllipse(centre, 8, 8);
        painter.setPen(QPen(colours.paper, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(
            QPolygonF({centre + QPointF(-3.5, 0), centre + QPointF(-1, 2.8), centre + QPointF(3.8, -2.8)}));
    }
    if (state.has(ItemFlag::Focused)) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colours.paper, 1));
        painter.drawRect(box.adjusted(3.5, 3.5, -3.5, -3.5));
        painter.setPen(QPen(colours.accent, 2));
        painter.drawRect(box.adjusted(2, 2, -2, -2));
    }
}

/// What an item that is swiped aside uncovers: its actions, each in its tone.
void paintUncovered(QPainter& painter, const WindowScene& scene, const AsideScene& aside, const Box& item) {
    if (aside.actions.empty()) {
        return;
    }
    const Length by = aside.by < Length{} ? -aside.by : aside.by;
    const auto count = static_cast<std::int64_t>(aside.actions.size());
    for (std::int64_t i = 0; i < count; ++i) {
        const Length from = by * i / count;
        const Length until = aside.isPulled ? (i == 0 ? by : Length{}) : by * (i + 1) / count;
        if (until <= from) {
            continue;
        }
        const Length start =
            aside.atStart ? item.crossStart + from : item.crossStart + item.crossExtent - until;
        const QRectF at =
            scene.axis.onScreen({item.start, item.extent, start, until - from}, scene.run.pull());
        const auto& [title, tone] = aside.actions[static_cast<std::size_t>(i)];
        const QColor ink = tone == Tone::Neutral ? scene.colours.ink : scene.colours.inkOf(tone);
        painter.fillRect(at, aside.isPulled ? ink : scene.colours.groundOf(tone));
        QFont font(textFamily());
        font.setPixelSize(13);
        font.setWeight(QFont::DemiBold);
        painter.setFont(font);
        painter.setPen(aside.isPulled ? scene.colours.paper : ink);
        painter.save();
        painter.setClipRect(at, Qt::IntersectClip);
        const QRectF room = at.width() < 76 ? QRectF(at.center().x() - 38, at.top(), 76, at.height()) : at;
        painter.drawText(room.adjusted(4, 2, -4, -2), Qt::AlignCenter | Qt::TextWordWrap, title);
        painter.restore();
    }
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
    /// As it stands, with what hands do to it.
    const auto paintHanded = [&](const Placement& placement, Box shown) {
        const HandsScene& hands = scene.hands;
        if (hands.carried && hands.carried->view == placement.view) { // its place is kept for it
            return painter.fillRect(scene.axis.onScreen(shown, run.pull()).toAlignedRect(),
                                    scene.colours.faint);
        }
        if (hands.aside && hands.aside->view == placement.view) {
            painter.save();
            painter.setClipRect(scene.axis.onScreen(shown, run.pull()), Qt::IntersectClip);
            paintUncovered(painter, scene, *hands.aside, shown);
            shown.crossStart += hands.aside->by;
            painter.fillRect(scene.axis.onScreen(shown, run.pull()), scene.colours.paper);
            paintStanding(placement, shown);
            painter.restore();
        } else {
            paintStanding(placement, shown);
        }
        if (hands.said && hands.said->first == placement.view) {
            const QRectF box = scene.axis.onScreen(shown, run.pull());
            QFont font(textFamily());
            font.setPixelSize(12);
            painter.setFont(font);
            const QRectF line(box.left(), box.bottom() - 22, box.width(), 22);
            painter.fillRect(line, scene.colours.groundOf(Tone::Bad));
            painter.setPen(scene.colours.inkOf(Tone::Bad));
            painter.drawText(line.adjusted(10, 0, -10, 0), Qt::AlignLeft | Qt::AlignVCenter,
                             hands.said->second);
        }
        if (const ItemState state = hands.stateOf ? hands.stateOf(placement.view) : ItemState();
            state.any()) {
            paintState(painter, scene, state, scene.axis.onScreen(shown, run.pull()));
        }
    };
    const auto paintOne = [&](const Placement& placement) {
        if (!placement.drawn) {
            return paintHanded(placement, placement.shown());
        }
        const Drawn& drawn = *placement.drawn;
        const Box shown = drawnIn(drawn, placement.box.extent, placement.box.crossExtent);
        if (drawn.presence == 1 && shown == drawn.box && !run.mayPass()) {
            return paintHanded(placement, shown); // it is only on its way
        }
        painter.save();
        cutOff(drawn);
        paintHanded(placement, shown);
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
    if (const auto& carried = scene.hands.carried) { // over all others
        const auto stands = std::ranges::find(placements, carried->view, &Placement::view);
        if (stands != placements.end()) {
            Box box = carried->box;
            box.extent = stands->box.extent;
            box.crossExtent = stands->box.crossExtent;
            const QRectF at = scene.axis.onScreen(box, run.pull());
            QColor shade = scene.colours.ink;
            painter.setBrush(Qt::NoBrush);
            for (int wide = 1; wide <= 6; ++wide) { // fainter the further it is
                shade.setAlphaF(0.16F - 0.024F * static_cast<float>(wide));
                painter.setPen(QPen(shade, 1));
                painter.drawRect(at.toAlignedRect().adjusted(-wide, -wide + 2, wide - 1, wide + 1));
            }
            painter.fillRect(at.toAlignedRect(), scene.colours.paper);
            paintStanding(*stands, box);
            painter.setPen(QPen(scene.colours.accent, carried->isHeld ? 2 : 1));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(at.adjusted(1, 1, -1, -1));
        }
    }
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
