// SPDX-License-Identifier: GPL-3.0-or-later
// The columns of a table on the board: the heading above the specimens, and the edges that are dragged.
#include "workbench/model/board_table.h"
#include "workbench/ui/item/extremes_board.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

namespace {

constexpr double kEdgeReach = 4; ///< px beside the edge of a column that still mean it

} // namespace

/// The items of a table may be wider than what they are looked at in. `first`: a specimen of the setting.
double ExtremesBoard::settingWidth(std::size_t first) const {
    const std::size_t setting = model_.specimens()[first].setting;
    const double width = model_.settings()[setting].width;
    const BoardTable* table = model_.columnsOfTable();
    return table == nullptr ? width : std::max(width, table->columns(setting).across().toPx());
}

void ExtremesBoard::paintHeading(QPainter& painter, const HeadingAt& heading) {
    const QRectF at = heading.at.translated(origin());
    const QRectF line(at.left(), at.top() - captionHeight(), at.width(), captionHeight() - 4);
    painter.setFont(look_.font(11.5));
    painter.setPen(look_.quiet);
    painter.drawText(line, Qt::AlignLeft | Qt::AlignBottom,
                     tr("Heading · drag a cell to place its column, an edge to set its width"));
    painter.fillRect(at, look_.items.paper);
    painter.save();
    painter.setClipRect(at);
    painter.translate(at.topLeft());
    painter.scale(zoom(), zoom());
    model_.columnsOfTable()
        ->heading(heading.setting)
        ->paint(painter, {.colours = look_.items,
                          .pictures = *pictures_,
                          .shapes = shapes_,
                          .density = model_.settings()[heading.setting].density});
    painter.restore();
    painter.setPen(QPen(look_.edge, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(at.adjusted(-0.5, -0.5, 0.5, 0.5));
}

/// In the middle between a column and the next, px of the viewport. `at`: of an item there.
double ExtremesBoard::edgeOf(std::size_t setting, int column, const QRectF& at) const {
    const TableColumns& columns = model_.columnsOfTable()->columns(setting);
    const auto index = static_cast<std::size_t>(column);
    const Length end = columns.startOf(index) + columns.widthOf(index);
    const bool isLast = index + 1 == columns.count();
    const double from = (isLast ? end : end + (columns.startOf(index + 1) - end) / 2).toPx() * zoom();
    return model_.design()->isMirrored() ? at.right() - from : at.left() + from;
}

/// The edges of columns: where they can be dragged, and where one is dragged to.
void ExtremesBoard::paintEdges(QPainter& painter) {
    const BoardTable* table = model_.columnsOfTable();
    if (table == nullptr) {
        return;
    }
    const auto paintOver = [&](std::size_t setting, const QRectF& at, bool isHeading) {
        for (int column = 0; std::cmp_less(column, table->columns(setting).count()); ++column) {
            const bool isOver = edge_ && edge_->column == column && edge_->setting == setting;
            if (!isHeading && !isOver) {
                continue;
            }
            const double by = isOver && dragging_ && grip_ == Grip::Column ? now_.x() - pressed_.x() : 0;
            painter.setPen(QPen(isOver ? look_.accent : look_.edge, isOver ? 2 : 1));
            const double x = edgeOf(setting, column, at) + by;
            painter.drawLine(QPointF(x, at.top()), QPointF(x, at.bottom()));
        }
    };
    for (const HeadingAt& heading : tableHeadings_) {
        paintOver(heading.setting, heading.at.translated(origin()), true);
    }
    for (const Specimen& specimen : model_.specimens()) {
        paintOver(specimen.setting, specimen.at.translated(origin()), false);
    }
}

std::optional<ExtremesBoard::ColumnHit> ExtremesBoard::edgeAt(QPointF point) const {
    const BoardTable* table = model_.columnsOfTable();
    if (table == nullptr) {
        return std::nullopt;
    }
    const auto over = [&](std::size_t setting, const QRectF& at) -> std::optional<ColumnHit> {
        if (!at.adjusted(-kEdgeReach, 0, kEdgeReach, 0).contains(point)) {
            return std::nullopt;
        }
        for (int column = 0; std::cmp_less(column, table->columns(setting).count()); ++column) {
            if (std::abs(edgeOf(setting, column, at) - point.x()) <= kEdgeReach) {
                return ColumnHit{setting, column};
            }
        }
        return std::nullopt;
    };
    for (const HeadingAt& heading : tableHeadings_) {
        if (const auto hit = over(heading.setting, heading.at.translated(origin()))) {
            return hit;
        }
    }
    for (const Specimen& specimen : model_.specimens()) {
        if (const auto hit = over(specimen.setting, specimen.at.translated(origin()))) {
            return hit;
        }
    }
    return std::nullopt;
}

/// The cell of a heading there.
std::optional<ExtremesBoard::ColumnHit> ExtremesBoard::headingAt(QPointF point) const {
    for (const HeadingAt& heading : tableHeadings_) {
        const QRectF at = heading.at.translated(origin());
        const TableColumns& columns = model_.columnsOfTable()->columns(heading.setting);
        for (int column = 0; at.contains(point) && std::cmp_less(column, columns.count()); ++column) {
            const bool isLast = std::cmp_equal(column + 1, columns.count());
            const double edge = edgeOf(heading.setting, column, at);
            if (isLast || (model_.design()->isMirrored() ? point.x() > edge : point.x() < edge)) {
                return ColumnHit{heading.setting, column};
            }
        }
    }
    return std::nullopt;
}

/// The part of the design that stands in a column; empty: none does.
std::string ExtremesBoard::cellPointer(int column) const {
    const auto& parts = model_.design()->parts();
    for (int part = 1; part < parts.front().subtreeEnd;) {
        if (column-- == 0) {
            return parts[static_cast<std::size_t>(part)].pointer;
        }
        part = parts[static_cast<std::size_t>(part)].subtreeEnd;
    }
    return {};
}

} // namespace scorrere::workbench
