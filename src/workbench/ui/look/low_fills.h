// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPainter>

namespace scorrere::workbench {

/// The toolkit's painter hands a shape of about a hundred spans or more to threads and waits for them. Where
/// other programs have the processors that takes up to 10 ms, for a fill of 10 us. What is painted in every
/// frame is therefore cut into pieces so low that the painter keeps them.

/// Fills a box whose edges are at whole px (others are rounded).
void fillLow(QPainter& painter, const QRectF& box, const QBrush& brush);

/// A box with round corners, filled with the painter's brush and outlined with its pen, whose sides stand at
/// whole px. A pen with dashes, or a painter that turns, is drawn in one piece.
void drawLowBox(QPainter& painter, const QRectF& box, double radius);

} // namespace scorrere::workbench
