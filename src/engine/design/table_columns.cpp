// SPDX-License-Identifier: Apache-2.0
#include "engine/design/table_columns.h"

#include "engine/design/item_design.h"

#include <algorithm>

namespace scorrere {

bool TableColumns::areIn(const ItemDesign& item) {
    return item.parts().front().type == PartType::Row;
}

TableColumns::TableColumns(std::span<const ItemDesign* const> items) {
    bool isFirst = true;
    for (const ItemDesign* item : items) {
        const PlanPart& row = item->parts().front();
        if (!areIn(*item)) {
            continue;
        }
        if (isFirst) {
            gap_ = row.gap;
            before_ = row.padding[3];
            behind_ = row.padding[1];
            isFirst = false;
        }
        std::size_t column = 0;
        for (int part = 1; part < row.subtreeEnd; ++column) {
            const PlanPart& cell = item->parts()[static_cast<std::size_t>(part)];
            part = cell.subtreeEnd;
            if (column < columns_.size()) {
                continue;
            }
            Column& made = columns_.emplace_back();
            if (cell.width >= Length{}) {
                made.is = Column::Is::Fixed;
                made.width = cell.width;
            } else if (cell.grow > 0) {
                made.is = Column::Is::Share;
                made.share = cell.grow;
            }
        }
    }
    stand();
}

Length TableColumns::most() const {
    return std::max(room_ - before_ - behind_, Length{});
}

void TableColumns::setRoom(Length room) {
    if (room != room_) {
        room_ = room;
        forget();
    }
}

void TableColumns::forget() {
    for (Column& column : columns_) {
        column.width = column.is == Column::Is::Widest ? Length{} : column.width;
    }
    stand();
    ++revision_;
}

void TableColumns::see(std::size_t column, Length width) {
    Column& seen = columns_[column];
    const Length whole = Length::px((width.raw() + Length::px(1).raw() - 1) / Length::px(1).raw());
    const Length wanted = std::min(whole, most());
    if (seen.is == Column::Is::Widest && wanted > seen.width) {
        seen.width = wanted;
        stand();
        ++revision_;
    }
}

void TableColumns::stand() {
    Length left = most();
    double shares = 0;
    for (const Column& column : columns_) {
        shares += column.share;
        left -= column.is == Column::Is::Share ? Length{} : column.width;
    }
    left -= gap_ * (std::max(std::ssize(columns_), std::ptrdiff_t{1}) - 1);
    Length at = before_;
    for (Column& column : columns_) {
        if (column.is == Column::Is::Share) {
            column.width = std::max(Length::fromPx(std::max(left, Length{}).toPx() * column.share / shares),
                                    kLeastShare);
        }
        column.start = at;
        at += column.width + gap_;
    }
    at -= columns_.empty() ? Length{} : gap_;
    across_ = std::max(room_, at + behind_);
}

Length TableColumns::firstEnds() const {
    return columns_.empty() ? Length{} : columns_.front().start + columns_.front().width;
}

} // namespace scorrere
