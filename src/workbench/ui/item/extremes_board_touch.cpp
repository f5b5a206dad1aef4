// SPDX-License-Identifier: GPL-3.0-or-later
// The part of ExtremesBoard that shows which parts take taps, and how large they are.
#include "workbench/model/touch_areas.h"
#include "workbench/ui/item/extremes_board.h"

#include <QPainter>
#include <algorithm>

namespace scorrere::workbench {

void ExtremesBoard::setShowsTouch(bool shows) {
    showsTouch_ = shows;
    viewport()->update();
}

void ExtremesBoard::paintTouch(QPainter& painter, const Specimen& specimen) {
    painter.save();
    painter.setFont(look_.font(10.5, 600));
    for (const TouchArea& area : touchAreas(*specimen.view)) {
        const bool isBad = area.size == TouchArea::Size::TooSmall || area.overlaps >= 0;
        const QColor colour = isBad                                  ? look_.bad
                              : area.size == TouchArea::Size::Enough ? look_.accent
                                                                     : look_.loaded;
        const QRectF at = rectOf(specimen, area.part);
        painter.setBrush(isBad ? QBrush(colour, Qt::BDiagPattern) : QBrush(Qt::NoBrush));
        painter.setPen(
            QPen(colour, 1.6, area.size == TouchArea::Size::Fine && !isBad ? Qt::SolidLine : Qt::DashLine));
        painter.drawRect(at.adjusted(0.5, 0.5, -0.5, -0.5));
        const QString words = touchInWords(area);
        const QFontMetricsF metrics(painter.font());
        const double wide = metrics.horizontalAdvance(words) + 8;
        const double right = specimen.at.translated(origin()).right();
        const QRectF label(std::min(at.left(), std::max(right - wide, 0.0)), at.bottom() + 1, wide,
                           metrics.height() + 2);
        painter.fillRect(label, look_.card);
        painter.setPen(colour);
        painter.drawText(label, Qt::AlignCenter, words);
    }
    painter.restore();
}

} // namespace scorrere::workbench
