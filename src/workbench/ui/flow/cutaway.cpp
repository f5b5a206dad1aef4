// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/cutaway.h"

#include "render/scroll_input.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere::workbench {

namespace {

constexpr double kBezel = CutawayGeometry::kBezel;
constexpr double kTapSlop = 6;    ///< px a finger may move and still tap
constexpr double kThinnest = 2.2; ///< items drawn thinner than this run together

constexpr int kMostLookedAt = 2000; ///< items on one side of the window in one painting

/// How much the strip narrows with depth.
double narrowing(double depth) {
    return 0.95 - 0.66 * std::pow(depth, 0.85);
}

} // namespace

Cutaway::Cutaway(Look& look, render::FrameDriver& driver, QWidget* parent)
    : QWidget(parent), look_(look), driver_(driver) {
    setObjectName(QStringLiteral("cutaway"));
    setAccessibleName(tr("Cutaway: the live window and the strip beyond its edges"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(260);
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

void Cutaway::setCollection(render::LiveCollection* live) {
    live_ = live;
    update();
}

void Cutaway::setBars(const Bars& bars, bool isOver) {
    bars_ = bars;
    areBarsOver_ = isOver;
    update();
}

void Cutaway::setWindow(const QString& name, std::optional<bool> dark) {
    name_ = name;
    items_.reset();
    if (dark) {
        items_ = *dark ? render::ItemColours::dark() : render::ItemColours::light();
    }
    setAccessibleDescription(name);
    update();
}

void Cutaway::setMostScale(double scale) {
    if (scale != mostScale_) {
        mostScale_ = scale;
        update();
    }
}

double Cutaway::ownScale() const {
    CutawayGeometry own = geometry();
    own.mostScale = 1;
    return own.scale();
}

void Cutaway::setMessage(const QString& message) {
    message_ = message;
    update();
}

void Cutaway::setZoom(int screens) {
    screens = std::clamp(screens, kNearest, kFarthest);
    if (screens != zoom_) {
        zoom_ = screens;
        update();
        Q_EMIT zoomChanged(zoom_);
    }
}

CutawayGeometry Cutaway::geometry() const {
    CutawayGeometry geometry;
    geometry.width = width();
    geometry.height = height();
    geometry.textScale = look_.textScale();
    geometry.mostScale = mostScale_;
    geometry.beyond = zoom_;
    const render::AxisMap axis = live_ == nullptr ? render::AxisMap{false, false, 420, 240} : live_->axis();
    geometry.across = axis.across;
    geometry.along = axis.along;
    geometry.isSideways = axis.isSideways;
    geometry.barTop = areBarsOver_ ? 0 : bars_.top;
    geometry.barBottom = areBarsOver_ ? 0 : bars_.bottom;
    return geometry;
}

void Cutaway::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), look_.ground);
    if (!name_.isEmpty()) {
        painter.setFont(look_.font(12, 600));
        painter.setPen(hasFocus() ? look_.accent : look_.quiet);
        const QRectF line(0, look_.scaled(4), width(), look_.scaled(26));
        painter.drawText(line, Qt::AlignCenter,
                         painter.fontMetrics().elidedText(name_, Qt::ElideRight, width() - 8));
    }
    if (live_ != nullptr && live_->run().arrangement().size() > 0) {
        if (zoom_ > 0) {
            paintBeyond(painter, false);
            paintBeyond(painter, true);
        }
        paintNotes(painter);
    }
    paintWindow(painter);
}

void Cutaway::paintWindow(QPainter& painter) {
    const QRectF window = windowRect();
    painter.setPen(hasFocus() ? QPen(look_.accent, 2) : QPen(Qt::NoPen));
    painter.setBrush(look_.isDark() ? QColor(0x0e, 0x11, 0x14) : QColor(0x27, 0x2d, 0x35));
    painter.drawRoundedRect(screenRect().adjusted(-kBezel, -kBezel, kBezel, kBezel), 9, 9);
    if (live_ == nullptr || live_->run().arrangement().size() == 0) {
        painter.fillRect(window, items().paper);
        painter.setPen(items().quiet);
        painter.setFont(look_.font(13));
        painter.drawText(window.adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap, message_);
        return;
    }
    const double k = scale();
    painter.save();
    painter.setClipRect(window);
    painter.translate(window.topLeft());
    painter.scale(k, k);
    live_->paintWindow(painter, items(), k * devicePixelRatioF());
    painter.restore();
    paintBars(painter);
    for (const Placement& placement : live_->run().placements()) {
        if (placement.showing && isCell(placement)) {
            paintTag(painter, placement);
        }
    }
}

/// What the system has of the screen: the strip goes on under it, or stops there.
void Cutaway::paintBars(QPainter& painter) {
    const QRectF window = windowRect();
    const QRectF screen = screenRect();
    const double k = scale();
    QColor paper = items().paper;
    QColor mark = items().quiet;
    if (areBarsOver_) {
        paper.setAlphaF(0.72f);
    } else {
        paper = paper.darker(look_.isDark() ? 80 : 106);
    }
    painter.setPen(Qt::NoPen);
    if (bars_.top > 0) {
        const QRectF bar(screen.left(), screen.top(), screen.width(),
                         areBarsOver_ ? bars_.top * k : window.top() - screen.top());
        painter.fillRect(bar, paper);
        painter.setBrush(mark);
        const double r = std::min(3.0, bar.height() / 5);
        painter.drawEllipse(QPointF(bar.left() + 4 * r, bar.center().y()), r, r);
        painter.drawRoundedRect(QRectF(bar.right() - 11 * r, bar.center().y() - r, 7 * r, 2 * r), r / 2,
                                r / 2);
    }
    if (bars_.bottom > 0) {
        const double high = areBarsOver_ ? bars_.bottom * k : screen.bottom() - window.bottom();
        const QRectF bar(screen.left(), screen.bottom() - high, screen.width(), high);
        painter.fillRect(bar, paper);
        painter.setBrush(mark);
        const double r = std::min(2.0, bar.height() / 6);
        painter.drawRoundedRect(
            QRectF(bar.center().x() - bar.width() / 8, bar.center().y() - r, bar.width() / 4, 2 * r), r, r);
    }
}

/// One of several beside each other: there is no margin beside it.
bool Cutaway::isCell(const Placement& placement) const {
    return placement.box.crossExtent < live_->run().cross() / 4 * 3;
}

QRectF Cutaway::drawnBox(const Box& box) const {
    const QRectF at = live_->axis().onScreen(box);
    const double k = scale();
    return {windowRect().topLeft() + at.topLeft() * k, at.size() * k};
}

/// Which view carries a cell, in the corner of what shows of it; where that is small, in colour only.
void Cutaway::paintTag(QPainter& painter, const Placement& placement) {
    const QRectF cell = drawnBox(placement.box) & windowRect();
    const double wide = std::min(look_.scaled(22), cell.width() * 0.32);
    const QSizeF size(wide, wide * 0.68);
    if (cell.height() < size.height() + 4) {
        return;
    }
    const QRectF tag(QPointF(cell.right() - size.width() - 2, cell.top() + 2), size);
    painter.setPen(Qt::NoPen);
    painter.setBrush(look_.ofView(placement.view.index));
    painter.drawRoundedRect(tag, 4, 4);
    painter.setFont(look_.font(std::min(10.0, size.height() * 0.72 / look_.scaled(1)), 700));
    const QString number = QString::number(placement.view.index + 1);
    if (painter.fontMetrics().boundingRect(number).width() + 4 <= tag.width()) {
        painter.setPen(look_.isDark() ? QColor(0x14, 0x18, 0x1c) : QColor(Qt::white));
        painter.drawText(tag, Qt::AlignCenter, number);
    }
}

/// What the margin would say of an item, wherever it stands.
bool Cutaway::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) {
        return QWidget::event(event);
    }
    const auto* help = static_cast<QHelpEvent*>(event); // its type says what it is
    QToolTip::showText(help->globalPos(), numbersAt(help->pos()), this);
    return true;
}

QString Cutaway::numbersAt(QPointF at) const {
    if (live_ == nullptr || !windowRect().contains(at)) {
        return {};
    }
    Run& run = live_->run();
    const auto under = std::ranges::find_if(run.placements(), [&](const Placement& placement) {
        return placement.showing && drawnBox(placement.box).contains(at);
    });
    if (under == run.placements().end()) {
        return {};
    }
    const ViewHistory& history = run.trace().views()[static_cast<std::size_t>(under->view.index)];
    const Slot slot = run.arrangement().slotAt(under->position);
    const QString what = slot.role == Role::Header   ? tr("the header")
                         : slot.role == Role::Footer ? tr("the footer")
                                                     : tr("item %1").arg(live_->nameAt(under->position));
    const auto px = [](Length length) { return QString::number(length.toPx(), 'f', 0); };
    return tr("%1, in view %2\n%3 × %4 px, %5\n%6")
        .arg(what)
        .arg(under->view.index + 1)
        .arg(px(under->box.crossExtent), px(under->box.extent),
             history.wasMeasured ? tr("known before") : tr("thought to be %1").arg(px(history.estimated)),
             history.carried == 1 ? tr("the first this view carries")
                                  : tr("%1 carried by this view so far").arg(grouped(history.carried)));
}

void Cutaway::paintNotes(QPainter& painter) {
    const QRectF window = windowRect();
    const QRectF screen = screenRect();
    const auto& views = live_->run().trace().views();
    const bool isSideways = live_->axis().isSideways;
    double free = -1e9;
    const double room = look_.scaled(isSideways ? 64 : 30);
    for (const Placement& p : live_->run().placements()) {
        if (!p.showing || static_cast<std::size_t>(p.view.index) >= views.size() || isCell(p)) {
            continue; // a cell has a tag in its corner
        }
        const QRectF at = drawnBox(p.box) & window;
        const double middle = isSideways ? at.center().x() : at.center().y();
        if ((isSideways ? at.width() : at.height()) < 8 || std::abs(middle - free) < room) {
            continue;
        }
        free = middle;
        const ViewHistory& history = views[static_cast<std::size_t>(p.view.index)];
        const QSizeF chip(look_.scaled(26), look_.scaled(18));
        if (isSideways) { // above: how long it is; below: which view carries it
            paintExtentNote(
                painter,
                QRectF(middle - room / 2, screen.top() - kBezel - look_.scaled(32), room, look_.scaled(30)),
                p.box.extent.toPx(), history);
            paintViewNote(painter, QPointF(middle, screen.bottom() + kBezel),
                          QRectF(QPointF(middle - chip.width() / 2, screen.bottom() + kBezel + 6), chip),
                          p.view.index, history);
            continue;
        }
        const double left = screen.left() - kBezel - 9;
        paintExtentNote(painter, QRectF(0, middle - look_.scaled(15), left, look_.scaled(30)),
                        p.box.extent.toPx(), history);
        paintViewNote(painter, QPointF(screen.right() + kBezel, middle),
                      QRectF(QPointF(screen.right() + kBezel + 12, middle - chip.height() / 2), chip),
                      p.view.index, history);
    }
}

/// How long it is, and how long it was thought to be.
void Cutaway::paintExtentNote(QPainter& painter, const QRectF& at, double measured,
                              const ViewHistory& history) {
    const int side = static_cast<int>(live_->axis().isSideways ? Qt::AlignHCenter : Qt::AlignRight) |
                     static_cast<int>(Qt::AlignVCenter);
    const double half = at.height() / 2;
    painter.setFont(look_.font(12, 700));
    painter.setPen(look_.ink);
    painter.drawText(QRectF(at.left(), at.top(), at.width(), half), side, QString::number(measured, 'f', 0));
    if (!geometry().hasWords()) {
        return;
    }
    const double estimated = history.estimated.toPx();
    const bool off = std::abs(estimated - measured) >= 0.5;
    painter.setFont(look_.font(10));
    painter.setPen(look_.quiet);
    painter.drawText(QRectF(at.left(), at.top() + half, at.width(), half), side,
                     history.wasMeasured ? tr("known")
                     : off               ? tr("est. %1").arg(QString::number(estimated, 'f', 0))
                                         : tr("as estimated"));
}

/// Which view carries it, and how many it has carried.
void Cutaway::paintViewNote(QPainter& painter, QPointF from, const QRectF& chip, int view,
                            const ViewHistory& history) {
    const QColor colour = look_.ofView(view);
    const bool isSideways = live_->axis().isSideways;
    painter.setPen(QPen(colour, 1.6));
    painter.drawLine(from, isSideways ? QPointF(from.x(), chip.top()) : QPointF(chip.left(), from.y()));
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawRoundedRect(chip, 4, 4);
    painter.setFont(look_.font(11, 700));
    painter.setPen(look_.isDark() ? QColor(0x14, 0x18, 0x1c) : QColor(Qt::white));
    painter.drawText(chip, Qt::AlignCenter, QString::number(view + 1));
    if (!geometry().hasWords()) {
        return;
    }
    painter.setFont(look_.font(10.5));
    painter.setPen(look_.quiet);
    const QString says =
        history.carried == 1 ? tr("first fill") : tr("%1 carried").arg(grouped(history.carried));
    if (isSideways) {
        painter.drawText(QRectF(chip.center().x() - 60, chip.bottom(), 120, look_.scaled(16)),
                         Qt::AlignCenter, says);
    } else {
        painter.drawText(QRectF(chip.right() + 5, chip.top(), width(), chip.height()), Qt::AlignVCenter,
                         says);
    }
}

QRectF Cutaway::shown(double crossFrom, double crossUntil, double beyondFrom, double beyondUntil,
                      bool below) const {
    const QRectF window = screenRect();
    const render::AxisMap axis = live_->axis();
    if (!axis.isSideways) {
        const double x = window.center().x();
        const QRectF at(x + crossFrom, 0, crossUntil - crossFrom, beyondUntil - beyondFrom);
        return at.translated(0, below ? window.bottom() + kBezel + beyondFrom
                                      : window.top() - kBezel - beyondUntil);
    }
    const double y = window.center().y();
    const QRectF at(0, y + crossFrom, beyondUntil - beyondFrom, crossUntil - crossFrom);
    return at.translated(below != axis.isMirrored ? window.right() + kBezel + beyondFrom
                                                  : window.left() - kBezel - beyondUntil,
                         0);
}

double Cutaway::halfAcross() const {
    return (live_->axis().isSideways ? screenRect().height() : screenRect().width()) / 2;
}

double Cutaway::roomBeyond(bool below) const {
    const QRectF window = screenRect();
    const render::AxisMap axis = live_->axis();
    if (axis.isSideways) {
        return (below != axis.isMirrored ? width() - window.right() : window.left()) - kBezel - 6;
    }
    return below ? height() - window.bottom() - kBezel - 6 : window.top() - kBezel - geometry().heading() - 6;
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
    if (last == nullptr || last->first < 0) {
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
    std::int64_t i = std::min(below ? last->last : last->first, list.size() - 1);
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
        const double from = box.crossStart.toPx() / cross;
        const QRectF at =
            cardAt(recession, below, std::max(near, 0.0), far, from, from + box.crossExtent.toPx() / cross);
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
        painter.drawText(QRectF(x, screenRect().bottom() + kBezel + 6, wide, look_.scaled(16)),
                         Qt::AlignCenter, text);
        return;
    }
    painter.drawText(
        QRectF(screenRect().right() + kBezel + 12, at.y() - look_.scaled(8), width(), look_.scaled(16)),
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
    painter.drawRoundedRect(card, 3, 3);
    const render::AxisMap axis = live_->axis();
    if (card.height() < 5 || card.width() < 5) {
        return;
    }
    const QSizeF whole = axis.onScreen(p.box).size();
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
    live_->paintView(painter, p.view, items(), scale() * devicePixelRatioF());
    painter.restore();
}

std::int64_t Cutaway::paintPage(QPainter& painter, const Recession& recession, std::int64_t position,
                                bool below, double& drawnUntil) {
    Run& run = live_->run();
    Arrangement& list = run.arrangement();
    const std::int64_t place = list.slotAt(position).place;
    std::int64_t page = 0;
    std::int64_t first = place; // a state on demand has no pages: each stands for itself
    std::int64_t end = place + 1;
    if (live_->paged() != nullptr) {
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
    return below ? list.positionOf(end) - 1 : list.positionOf(first);
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
        painter.fillRect(QRectF(card.left(), card.top(), card.width() * filled(page), card.height()), fill);
    } else if (state == PlaceState::Dropped) {
        QColor fill = look_.hatch;
        fill.setAlphaF(0.35f);
        painter.fillRect(card, QBrush(fill, Qt::Dense6Pattern));
    }
    painter.setPen(QPen(line, 1.3, state == PlaceState::Failed ? Qt::SolidLine : Qt::DotLine));
    painter.drawRoundedRect(card, 4, 4);
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
    painter.drawRect(card);
}

void Cutaway::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    Q_EMIT focused();
}

void Cutaway::wheelEvent(QWheelEvent* event) {
    if (event->modifiers() & Qt::ControlModifier) {
        setZoom(zoom_ + (event->angleDelta().y() > 0 ? -1 : 1));
    } else if (live_ != nullptr) {
        render::ScrollInput::wheel(*event, *live_, scale());
        Q_EMIT gestured();
    }
    event->accept();
}

void Cutaway::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Minus && event->modifiers() == Qt::NoModifier) {
        setZoom(zoom_ + 1);
    } else if ((event->key() == Qt::Key_Plus || event->key() == Qt::Key_Equal) &&
               !(event->modifiers() & Qt::ControlModifier)) {
        setZoom(zoom_ - 1);
    } else if (live_ != nullptr && render::ScrollInput::key(*event, *live_)) {
        Q_EMIT gestured();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void Cutaway::mousePressEvent(QMouseEvent* event) {
    if (live_ != nullptr && event->button() == Qt::LeftButton) {
        pressed_ = event->position();
        render::ScrollInput::press(*live_, driver_.nowUs(), event->position(), scale());
        Q_EMIT gestured();
    }
}

void Cutaway::mouseMoveEvent(QMouseEvent* event) {
    if (live_ != nullptr && (event->buttons() & Qt::LeftButton)) {
        render::ScrollInput::move(*live_, driver_.nowUs(), event->position(), scale());
        Q_EMIT gestured();
    }
}

void Cutaway::mouseReleaseEvent(QMouseEvent* event) {
    if (live_ != nullptr && event->button() == Qt::LeftButton) {
        render::ScrollInput::release(*live_, driver_.nowUs());
        Q_EMIT gestured();
        const bool still = (event->position() - pressed_).manhattanLength() < kTapSlop;
        if (still && windowRect().contains(pressed_)) {
            Q_EMIT tapped((pressed_ - windowRect().topLeft()) / scale());
        }
    }
}

} // namespace scorrere::workbench

#include "moc_cutaway.cpp"
