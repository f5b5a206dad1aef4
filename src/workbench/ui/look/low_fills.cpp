// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/low_fills.h"

#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

namespace {

constexpr double kLow = 64; ///< px: a rectangle is one span a row, and 96 are handed on

} // namespace

void fillLow(QPainter& painter, const QRectF& box, const QBrush& brush) {
    const double scale = std::max(1.0, painter.device()->devicePixelRatio());
    const double low = std::floor(kLow / scale);
    const double top = std::round(box.top());
    const double bottom = std::round(box.bottom());
    const double left = std::round(box.left());
    const double wide = std::round(box.right()) - left;
    for (double y = top; y < bottom; y += low) {
        painter.fillRect(QRectF(left, y, wide, std::min(low, bottom - y)), brush);
    }
}

void drawLowBox(QPainter& painter, const QRectF& box, double radius) {
    const QPen pen = painter.pen();
    const double thick = pen.style() == Qt::NoPen ? 0 : std::max(1.0, std::round(pen.widthF()));
    const double cap = std::ceil(radius + thick + 1);
    const bool isPlain = pen.style() == Qt::NoPen || pen.style() == Qt::SolidLine;
    if (!isPlain || painter.transform().type() > QTransform::TxScale || box.height() < 2 * cap + 8 ||
        box.width() < 2 * thick) {
        painter.drawRoundedRect(box, radius, radius);
        return;
    }
    const double half = thick / 2;
    const double top = std::round(box.top() + cap);
    const double bottom = std::round(box.bottom() - cap);
    for (const QRectF& end :
         {QRectF(box.left() - thick, box.top() - thick, box.width() + 2 * thick, top - box.top() + thick),
          QRectF(box.left() - thick, bottom, box.width() + 2 * thick, box.bottom() + thick - bottom)}) {
        painter.save();
        painter.setClipRect(end, Qt::IntersectClip);
        painter.drawRoundedRect(box, radius, radius);
        painter.restore();
    }
    if (painter.brush().style() != Qt::NoBrush) {
        fillLow(painter, QRectF(box.left() + half, top, box.width() - thick, bottom - top), painter.brush());
    }
    if (thick > 0) {
        for (const double x : {box.left() - half, box.right() - half}) {
            fillLow(painter, QRectF(std::round(x), top, thick, bottom - top), pen.brush());
        }
    }
}

} // namespace scorrere::workbench
