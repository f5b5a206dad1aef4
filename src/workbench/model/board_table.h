// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"

namespace scorrere::workbench {

/// The columns of a table on the board, and the heading above them: for each setting its own.
///
/// Complexity  make: two compilations, and one fill of each of a few records where others than records are looked at.
/// Threads     The interface thread.
class BoardTable {
public:
    /// Null where the document is no table, or what is looked at does not stand in columns.
    static std::unique_ptr<BoardTable> make(const CollectionDocument& document, int which,
                                            const ItemDesign& design,
                                            const std::shared_ptr<const RecordTable>& records,
                                            const std::vector<BoardSetting>& settings);

    TableColumns& columns(std::size_t setting) { return settings_[setting]->columns; }
    const TableColumns& columns(std::size_t setting) const { return settings_[setting]->columns; }
    /// As wide as the columns are by now; null where there is none, or it is what is looked at.
    const render::ItemView* heading(std::size_t setting);
    /// What a record's item is laid out in.
    ItemRoom room(std::size_t setting, Length width);

private:
    struct Set {
        TableColumns columns;
        std::unique_ptr<render::FontSet> fonts;
        render::ItemView heading;
        double width = 0;
    };
    BoardTable(const CollectionDocument& document, std::shared_ptr<const RecordTable> records);
    void fillHeading(Set& set);

    static constexpr std::int64_t kTextBytes = std::int64_t{1} << 20;

    CollectionDocument document_;
    std::shared_ptr<const RecordTable> records_;
    std::unique_ptr<ItemDesign> headingDesign_;
    bool showsHeading_ = false;
    render::TextCache texts_{kTextBytes};
    std::vector<std::unique_ptr<Set>> settings_;
};

} // namespace scorrere::workbench
