// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"

#include <QPointF>
#include <QRectF>
#include <QSizeF>

namespace scorrere::render {

/// Where what stands along and across a strip stands on screen: upright or sideways, and mirrored where one
/// reads from right to left. Nothing else knows.
///
/// Units       px from the window's start, and on screen from its top left corner.
struct AxisMap {
    bool isSideways = false;
    bool isMirrored = false;
    double along = 0; ///< the window's extents
    double across = 0;

    QSizeF window() const { return isSideways ? QSizeF(along, across) : QSizeF(across, along); }
    QRectF onScreen(const Box& box, Length pull = {}) const {
        const double start = (box.start + pull).toPx();
        const double cross = box.crossStart.toPx();
        QRectF at = isSideways ? QRectF(start, cross, box.extent.toPx(), box.crossExtent.toPx())
                               : QRectF(cross, start, box.crossExtent.toPx(), box.extent.toPx());
        if (isMirrored) {
            at.moveLeft(window().width() - at.right());
        }
        return at;
    }
    /// How far along a point of the screen is, growing towards the strip's end; from wherever, since gestures
    /// are told by what they move.
    double alongOf(QPointF point) const {
        return !isSideways ? point.y() : isMirrored ? -point.x() : point.x();
    }
    /// The same across, growing towards where lines end.
    double crossOf(QPointF point) const {
        return isSideways ? point.y() : isMirrored ? -point.x() : point.x();
    }
    /// Along and across from the window's start.
    QPointF inWindow(QPointF point) const {
        const double x = isMirrored ? window().width() - point.x() : point.x();
        return isSideways ? QPointF(x, point.y()) : QPointF(point.y(), x);
    }
};

} // namespace scorrere::render
