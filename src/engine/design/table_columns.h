// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <cstdint>
#include <span>
#include <vector>

namespace scorrere {

class ItemDesign;

/// How wide the columns are that the cells of a table's items and of its heading stand in: the parts of their
/// outermost rows. One is as wide as its part says, or has a share of what is left, or is as wide as the widest
/// cell seen so far, which grows and never shrinks while the room is the same.
///
/// Units       px, from the start of an item.
/// Complexity  see: O(columns) where one grows, else O(1).
/// Ownership   A value; a worker has one of its own.
/// Threads     One thread at a time.
class TableColumns {
public:
    /// One that has a share is never narrower: rather the table is wider than its room.
    static constexpr Length kLeastShare = Length::px(64);
    /// A picture that does not say how large it is.
    static constexpr Length kPicture = Length::px(64);

    TableColumns() = default;
    /// Of items that look like these; the first of them whose row has a part there says how wide a column is, and
    /// the first of all what stands around and between them.
    explicit TableColumns(std::span<const ItemDesign* const> items);
    /// Whether the parts of such an item stand in columns.
    static bool areIn(const ItemDesign& item);

    std::size_t count() const { return columns_.size(); }
    /// How wide the strip is for items. Forgets what was seen.
    void setRoom(Length room);
    /// What was seen is as if it had not been, as where texts are set larger.
    void forget();
    /// What stands in one takes so much width where nothing narrows it.
    void see(std::size_t column, Length width);
    /// Whether it is as wide as the widest seen.
    bool followsCells(std::size_t column) const { return columns_[column].is == Column::Is::Widest; }
    /// The widest that a cell may be.
    Length most() const;

    Length startOf(std::size_t column) const { return columns_[column].start; }
    Length widthOf(std::size_t column) const { return columns_[column].width; }
    /// How wide an item is: as the room, or more.
    Length across() const { return across_; }
    /// Where the first one ends, and what is between it and the next begins.
    Length firstEnds() const;
    /// Differs whenever a width does.
    std::uint32_t revision() const { return revision_; }

private:
    struct Column {
        enum class Is : std::uint8_t { Fixed, Share, Widest };
        Is is = Is::Widest;
        double share = 0;
        Length width;
        Length start;
    };
    void stand();

    std::vector<Column> columns_;
    Length gap_;
    Length before_; ///< the padding at an item's start
    Length behind_;
    Length room_;
    Length across_;
    std::uint32_t revision_ = 1;
};

} // namespace scorrere
