// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/position_marks.h"
#include "engine/run/run.h"
#include "render/axis_map.h"
#include "render/item_colours.h"

#include <array>
#include <optional>

class QPainter;

namespace scorrere::render {

/// The marks of a pager where they stand in its window now: a row along one of its edges.
///
/// Complexity  O(marks) and O(1) questions to the arrangement; allocates nothing.
class MarkRow {
public:
    MarkRow(const MarksSpec& spec, Run& run, const AxisMap& axis);

    void paint(QPainter& painter, const ItemColours& colours) const;
    /// The position of the item whose mark is meant at a point of the window, which is larger than the mark.
    std::optional<std::int64_t> itemAt(QPointF at) const;
    /// Where a mark of an item stands, px of the window; empty: none does.
    QRectF markOf(std::int64_t position) const;

private:
    QRectF boxOf(const PositionMark& mark) const;
    QRectF rowBox() const;
    double pitch() const;

    const MarksSpec& spec_;
    AxisMap axis_;
    std::array<PositionMark, MarksSpec::kMost + 2> marks_{};
    std::size_t count_ = 0;
};

} // namespace scorrere::render
