// SPDX-License-Identifier: GPL-3.0-or-later
// What stands beside the window, or in its cells: which view carries an item, and how long it was thought to be.
#include "workbench/ui/flow/cutaway.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

/// One of several beside each other: there is no margin beside it.
bool Cutaway::isCell(const Placement& placement) const {
    return placement.box.crossExtent < live_->run().cross() / 4 * 3;
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
    if (event->type() == QEvent::TouchBegin || event->type() == QEvent::TouchUpdate ||
        event->type() == QEvent::TouchEnd || event->type() == QEvent::TouchCancel) {
        return takesTouch(static_cast<QTouchEvent*>(event)) || QWidget::event(event);
    }
    if (event->type() == QEvent::ShortcutOverride && live_ != nullptr &&
        (live_->hands().focused() || live_->detail().isOpen())) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool isPlain = key->modifiers() == Qt::NoModifier || key->modifiers() == Qt::ShiftModifier;
        if (isPlain &&
            !key->text()
                 .isEmpty()) { // one letter means the item that has the keys, and no action of the station
            event->accept();
            return true;
        }
    }
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
    // What stays stands over what passes below it.
    auto under = std::ranges::find_if(run.placements(), [&](const Placement& placement) {
        return placement.staysAt && drawnBox(placement.shown()).contains(at);
    });
    if (under == run.placements().end()) {
        under = std::ranges::find_if(run.placements(), [&](const Placement& placement) {
            return placement.showing && drawnBox(placement.box).contains(at);
        });
    }
    if (under == run.placements().end()) {
        return {};
    }
    const ViewHistory& history = run.trace().views()[static_cast<std::size_t>(under->view.index)];
    const Slot slot = run.arrangement().slotAt(under->position);
    const QString what =
        (slot.role == Role::Record ? tr("item %1") : tr("the %1")).arg(live_->nameAt(under->position));
    const auto px = [](Length length) { return QString::number(length.toPx(), 'f', 0); };
    return tr("%1, in view %2\n%3 × %4 px, %5\n%6")
               .arg(what)
               .arg(under->view.index + 1)
               .arg(px(under->box.crossExtent), px(under->box.extent),
                    history.wasMeasured ? tr("known before")
                                        : tr("thought to be %1").arg(px(history.estimated)),
                    history.carried == 1
                        ? tr("the first this view carries")
                        : tr("%1 carried by this view so far").arg(grouped(history.carried))) +
           numbersWithin(at);
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
            paintExtentNote(painter,
                            QRectF(middle - room / 2,
                                   screen.top() - CutawayGeometry::kBezel - look_.scaled(32), room,
                                   look_.scaled(30)),
                            p.box.extent.toPx(), history);
            paintViewNote(
                painter, QPointF(middle, screen.bottom() + CutawayGeometry::kBezel),
                QRectF(QPointF(middle - chip.width() / 2, screen.bottom() + CutawayGeometry::kBezel + 6),
                       chip),
                p.view.index, history);
            continue;
        }
        const double left = screen.left() - CutawayGeometry::kBezel - 9;
        paintExtentNote(painter, QRectF(0, middle - look_.scaled(15), left, look_.scaled(30)),
                        p.box.extent.toPx(), history);
        paintViewNote(
            painter, QPointF(screen.right() + CutawayGeometry::kBezel, middle),
            QRectF(QPointF(screen.right() + CutawayGeometry::kBezel + 12, middle - chip.height() / 2), chip),
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

} // namespace scorrere::workbench
