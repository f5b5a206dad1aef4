// SPDX-License-Identifier: GPL-3.0-or-later
// The strip beyond the window's edges: items that are ready, others as they are thought to be, pages.
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/look/low_fills.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere::workbench {

namespace {

constexpr double kThinnest = 2.2;   ///< items drawn thinner than this run together
constexpr int kMostLookedAt = 2000; ///< items on one side of the window in one painting

/// How much the strip narrows with depth.
double narrowing(double depth) {
    return 0.95 - 0.66 * std::pow(depth, 0.85);
}

} // namespace

QRectF Cutaway::shown(double crossFrom, double crossUntil, double beyondFrom, double beyondUntil,
                      bool below) const {
    const QRectF window = screenRect();
    const render::AxisMap axis = live_->axis();
    if (!axis.isSideways) {
        const double x = window.center().x();
        const QRectF at(x + crossFrom, 0, crossUntil - crossFrom, beyondUntil - beyondFrom);
        return at.translated(0, below ? window.bottom() + CutawayGeometry::kBezel + beyondFrom
                                      : window.top() - CutawayGeometry::kBezel - beyondUntil);
    }
    const double y = window.center().y();
    const QRectF at(0, y + crossFrom, beyondUntil - beyondFrom, crossUntil - crossFrom);
    return at.translated(below != axis.isMirrored ? window.right() + CutawayGeometry::kBezel + beyondFrom
                                                  : window.left() - CutawayGeometry::kBezel - beyondUntil,
                         0);
}

double Cutaway::halfAcross() const {
    return (live_->axis().isSideways ? screenRect().height() : screenRect().width()) / 2;
}

double Cutaway::roomBeyond(bool below) const {
    const QRectF window = screenRect();
    const render::AxisMap axis = live_->axis();
    if (axis.isSideways) {
        return (below != axis.isMirrored ? width() - window.right() : window.left()) -
               CutawayGeometry::kBezel - 6;
    }
    return below ? height() - window.bottom() - CutawayGeometry::kBezel - 6
                 : window.top() - CutawayGeometry::kBezel - geometry().heading() - 6;
}

QRectF Cutaway::cardAt(const Recession& recession, bool below, double near, double far, double from,
                       double until) const {
    const double half = halfAcross() * narrowing(recession.depth((near + far) / 2));
    if (!live_->axis().isSideways && live_->axis().isMirrored) {
        from = 1 - std::exchange(until, 1 - from);
    }
    return shown(half * (2 * from - 1), half * (2 * until - 1), recession.at(near), recession.at(far), below);
}

void Cutaway::paintBeyond(QPainter& painter, bool below) {
    Run& run = live_->run();
    Arrangement& list = run.arrangement();
    const double room = roomBeyond(below);
    if (room < 8) {
        return;
    }
    const Recession recession(room, zoom_ * run.window().toPx(), scale() * 0.8);
    const Length top = run.offset();
    // Starts beside the last item that shows; nothing here touches more than the few hundred items it draws.
    const FrameRecord* last = run.trace().find(run.trace().framesEver());
    if (last == nullptr || list.size() == 0) {
        return;
    }
    const double cross = std::max(run.cross().toPx(), 1.0);
    int ready = 0;
    double readyUntil = 0;
    double estimatedFrom = -1;
    double drawnUntil = 0;
    bool ended = false;
    const auto& live = run.placements();
    int looked = 0;
    const std::int64_t step = below ? 1 : -1;
    // Records may have gone since that frame.
    const std::int64_t beside = below ? last->last : last->first;
    std::int64_t i = beside < 0 ? list.indexAt(top) : std::min(beside, list.size() - 1);
    // Those beside it stand beyond the edge as far as it does.
    for (const Length line = list.startOf(i);
         i - step >= 0 && i - step < list.size() && list.startOf(i - step) == line;) {
        i -= step;
    }
    const bool isEndless = list.circle() > Length{};
    for (;; i += step) {
        if (isEndless) {
            i = (i + list.size()) % list.size();
        } else if (i < 0 || i >= list.size()) {
            ended = true;
            break;
        }
        if (++looked > (isEndless ? list.size() / 2 : kMostLookedAt)) {
            break; // any number of items may take no room; of an endless strip, each stands on one side
        }
        const Box box = list.boxOf(i);
        const Length start = box.start - top;
        const Length end = start + box.extent;
        const double near = below ? (start - run.window()).toPx() : -end.toPx();
        const double far = below ? (end - run.window()).toPx() : -start.toPx();
        if (far <= 0) {
            continue; // it ends inside the window
        }
        // What is wider than the window goes on beside it; its start shows.
        const double from = box.crossStart.toPx() / cross;
        const double until = std::min(from + box.crossExtent.toPx() / cross, 1.0);
        const QRectF at = cardAt(recession, below, std::max(near, 0.0), far, from, until);
        if (near >= 0 && (near >= recession.reach() || recession.at(far) - recession.at(near) < kThinnest)) {
            drawnUntil = recession.at(near);
            break;
        }
        const auto carrier = std::ranges::find(live, i, &Placement::position);
        const double depth = recession.depth(near);
        if (carrier != live.end()) {
            ready += near >= 0 ? 1 : 0;
            readyUntil = recession.at(far);
            paintReady(painter, *carrier, at, depth, std::max(-near, 0.0), below);
        } else if (list.slotAt(i).role == Role::Record && !live_->contextAt(list.slotAt(i).place)) {
            i = paintPage(painter, recession, i, below, drawnUntil);
            continue;
        } else {
            const bool isKnown = list.stateOf(i) == ExtentState::Measured;
            estimatedFrom = estimatedFrom < 0 && !isKnown ? recession.at(near) : estimatedFrom;
            paintOutline(painter, at, depth, isKnown);
        }
        drawnUntil = recession.at(far);
    }
    const Pager* pager = live_->paged() == nullptr ? nullptr : &live_->paged()->pager();
    if (ended && below && pager != nullptr && !pager->endKnown() && pager->tail() != TailState::FirstFailed) {
        // Nobody knows how far it goes; the next page would stand here.
        const std::int64_t next = live_->paged()->pager().strip().endPage();
        const double each = list.estimateOf(Arrangement::kRecordKind).toPx();
        for (std::int64_t page = next; page < next + 3 && drawnUntil < recession.room() - 8; ++page) {
            const double far = recession.from(drawnUntil) + each * static_cast<double>(pager->rules().size);
            paintPageCard(painter, cardAt(recession, below, recession.from(drawnUntil), far),
                          recession.depth(far), page);
            drawnUntil = recession.at(far);
        }
        ended = false;
    }
    const auto pointAt = [&](double across, double beyond) {
        return shown(across, across, beyond, beyond, below).topLeft();
    };
    const double half = halfAcross() * narrowing(drawnUntil / recession.room());
    if (ended) {
        painter.setPen(QPen(look_.ink, 1.5));
        painter.drawLine(pointAt(-half, drawnUntil + 3), pointAt(half, drawnUntil + 3));
        paintSideLabel(painter, drawnUntil + 3, below, below ? tr("the end") : tr("the start"), look_.quiet);
    } else if (drawnUntil < recession.room() - 2) {
        // What is too far to tell apart: the strip simply goes on.
        QPainterPath path;
        const double farHalf = halfAcross() * narrowing(1);
        path.moveTo(pointAt(-half, drawnUntil));
        path.lineTo(pointAt(half, drawnUntil));
        path.lineTo(pointAt(farHalf, recession.room()));
        path.lineTo(pointAt(-farHalf, recession.room()));
        painter.setPen(Qt::NoPen);
        painter.setBrush(QBrush(look_.hatch, Qt::Dense6Pattern));
        painter.drawPath(path);
    }
    if (ready > 0) {
        paintSideLabel(painter, readyUntil / 2, below, tr("%1 ready").arg(ready), look_.loaded);
    }
    if (estimatedFrom >= 0 && drawnUntil - estimatedFrom > look_.scaled(12)) {
        const double apart = look_.scaled(live_->axis().isSideways ? 64 : 16);
        paintSideLabel(painter, std::max(estimatedFrom + look_.scaled(9), readyUntil / 2 + apart), below,
                       tr("estimated"), look_.quiet);
    }
}

/// What stands at such a distance beyond the edge, said beside the strip.
void Cutaway::paintSideLabel(QPainter& painter, double beyond, bool below, const QString& text,
                             const QColor& colour) {
    if (!geometry().hasWords()) {
        return;
    }
    painter.setFont(look_.font(11, 600));
    painter.setPen(colour);
    const QPointF at = shown(0, 0, beyond, beyond, below).topLeft();
    if (live_->axis().isSideways) {
        const double wide = painter.fontMetrics().horizontalAdvance(text) + 4;
        const double x = std::clamp(at.x() - wide / 2, 2.0, std::max(2.0, width() - wide - 2));
        painter.drawText(
            QRectF(x, screenRect().bottom() + CutawayGeometry::kBezel + 6, wide, look_.scaled(16)),
            Qt::AlignCenter, text);
        return;
    }
    painter.drawText(QRectF(screenRect().right() + CutawayGeometry::kBezel + 12, at.y() - look_.scaled(8),
                            width(), look_.scaled(16)),
                     Qt::AlignVCenter, text);
}

/// A view that is alive beyond the edge; `inside` px of it are in the window and not drawn again.
void Cutaway::paintReady(QPainter& painter, const Placement& p, const QRectF& at, double depth, double inside,
                         bool below) {
    const QColor colour = look_.ofView(p.view.index);
    const QRectF card = at.adjusted(0.5, 0.8, -0.5, -0.8);
    QColor paper = items().paper;
    paper.setAlphaF(static_cast<float>(0.95 - 0.3 * depth));
    painter.setPen(QPen(colour, 1.3));
    painter.setBrush(paper);
    drawLowBox(painter, card, 3);
    const render::AxisMap axis = live_->axis();
    if (card.height() < 5 || card.width() < 5) {
        return;
    }
    const QRectF box = axis.onScreen(p.box);
    const QSizeF whole = box.size().boundedTo(axis.window());
    const bool isAfter = below != (axis.isSideways && axis.isMirrored); // it goes on to the right, or down
    painter.save();
    painter.setOpacity(0.62 - 0.3 * depth);
    painter.setClipRect(card);
    painter.translate(card.topLeft());
    const QSizeF cut = axis.isSideways ? QSizeF(inside, 0) : QSizeF(0, inside);
    painter.scale(card.width() / std::max(whole.width() - cut.width(), 1.0),
                  card.height() / std::max(whole.height() - cut.height(), 1.0));
    if (isAfter) {
        painter.translate(-cut.width(), -cut.height());
    }
    live_->paintReady(painter, p, items(), scale() * devicePixelRatioF());
    painter.restore();
}

std::int64_t Cutaway::paintPage(QPainter& painter, const Recession& recession, std::int64_t position,
                                bool below, double& drawnUntil) {
    Run& run = live_->run();
    Arrangement& list = run.arrangement();
    const std::int64_t place = list.slotAt(position).place;
    std::int64_t page = 0;
    std::int64_t first = place; // what is placed, and a state on demand: each stands for itself
    std::int64_t end = place + 1;
    const bool isOne = live_->paged() == nullptr || live_->placed() != nullptr;
    if (!isOne) {
        PageStrip& strip = live_->paged()->pager().strip();
        const std::int64_t leaf = live_->leaf().first;
        page = strip.pageAt(leaf + place);
        first = std::max<std::int64_t>(strip.placeOf(page) - leaf, 0);
        end = std::min(strip.placeOf(page) + strip.countOf(page) - leaf, list.recordCount());
    }
    const Length top = run.offset();
    const Length start = list.startOf(list.positionOf(first)) - top;
    const Length last =
        list.startOf(list.positionOf(end - 1)) + list.extentOf(list.positionOf(end - 1)) - top;
    const double near = below ? (start - run.window()).toPx() : -last.toPx();
    const double far = below ? (last - run.window()).toPx() : -start.toPx();
    const double from = std::max({near, 0.0, recession.from(drawnUntil)});
    if (far > from) {
        const QRectF at = cardAt(recession, below, from, far);
        if (recession.at(far) - recession.at(from) >= kThinnest) {
            paintPageCard(painter, at, recession.depth(from), page);
        }
        drawnUntil = recession.at(far);
    }
    return isOne ? position : below ? list.positionOf(end) - 1 : list.positionOf(first);
}

/// How far a page in flight is likely to be, by how long the last ones took.
double Cutaway::filled(std::int64_t page) const {
    const Pager& pager = live_->paged()->pager();
    const auto flying = pager.inFlight().find(page);
    if (flying == pager.inFlight().end()) {
        return 0;
    }
    double took = 0;
    int count = 0;
    double elapsed = 0;
    const auto& entries = pager.log().entries();
    for (auto entry = entries.rbegin(); entry != entries.rend() && count < 8; ++entry) {
        if (entry->number == flying->second) {
            elapsed = static_cast<double>(driver_.nowUs()) / 1000 - static_cast<double>(entry->askedMs);
        } else if (entry->outcome == AskOutcome::Came) {
            took += static_cast<double>(entry->endedMs - entry->askedMs);
            ++count;
        }
    }
    const double expected = count == 0 ? 500 : std::max(took / count, 30.0);
    return std::clamp(elapsed / expected, 0.05, 0.92);
}

/// A page that is not here: dotted while nobody asked, filling in flight, crossed when it failed.
void Cutaway::paintPageCard(QPainter& painter, const QRectF& at, double depth, std::int64_t page) {
    const PlaceState state =
        live_->paged() == nullptr ? PlaceState::InFlight : live_->paged()->pager().stateOfPage(page);
    const QRectF card = at.adjusted(0.5, 1, -0.5, -1);
    QColor line = state == PlaceState::Failed                                     ? look_.bad
                  : state == PlaceState::InFlight || state == PlaceState::Waiting ? look_.accent
                                                                                  : look_.quiet;
    line.setAlphaF(static_cast<float>(1.0 - 0.5 * depth));
    painter.setBrush(Qt::NoBrush);
    if (state == PlaceState::InFlight && live_->paged() != nullptr) {
        QColor fill = line;
        fill.setAlphaF(0.22f);
        fillLow(painter, QRectF(card.left(), card.top(), card.width() * filled(page), card.height()), fill);
    } else if (state == PlaceState::Dropped) {
        QColor fill = look_.hatch;
        fill.setAlphaF(0.35f);
        fillLow(painter, card, QBrush(fill, Qt::Dense6Pattern));
    }
    painter.setPen(QPen(line, 1.3, state == PlaceState::Failed ? Qt::SolidLine : Qt::DotLine));
    drawLowBox(painter, card, 4);
    if (state == PlaceState::Failed) {
        painter.drawLine(card.topLeft(), card.bottomRight());
    }
    painter.setFont(look_.font(11, 600));
    if (card.height() < look_.scaled(13) || live_->paged() == nullptr ||
        card.width() < painter.fontMetrics().horizontalAdvance(grouped(page + 1)) + 4) {
        return;
    }
    const QString number = tr("page %1").arg(grouped(page + 1));
    const QString says = state == PlaceState::Failed     ? tr("%1 failed").arg(number)
                         : state == PlaceState::Waiting  ? tr("%1 waits").arg(number)
                         : state == PlaceState::InFlight ? tr("%1 in flight").arg(number)
                         : state == PlaceState::Dropped  ? tr("%1 dropped").arg(number)
                                                         : number;
    painter.drawText(card, Qt::AlignCenter,
                     card.width() < painter.fontMetrics().horizontalAdvance(says) + 6 ? grouped(page + 1)
                                                                                      : says);
}

/// An item that no view carries; hatched where its extent is an estimate.
void Cutaway::paintOutline(QPainter& painter, const QRectF& at, double depth, bool isKnown) {
    QColor line = look_.hatch;
    line.setAlphaF(static_cast<float>(1.0 - 0.45 * depth));
    const QRectF card = at.adjusted(0.5, 0.6, -0.5, -0.6);
    painter.setPen(QPen(line, 1));
    painter.setBrush(!isKnown && std::min(card.height(), card.width()) > 4 ? QBrush(line, Qt::BDiagPattern)
                                                                           : QBrush(Qt::NoBrush));
    drawLowBox(painter, card, 0);
}

} // namespace scorrere::workbench
