// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/sectioned_arrangement.h"
#include "engine/arrange/table_arrangement.h"
#include "engine/design/item_design.h"
#include "engine/record/record_builder.h"

#include <initializer_list>

namespace scorrere::testing {

/// The table that a run's arrangement is, or that its sections stand over; null: none.
inline TableArrangement* tableIn(Arrangement& arrangement) {
    auto* over = dynamic_cast<SectionedArrangement*>(&arrangement);
    return dynamic_cast<TableArrangement*>(over != nullptr ? &over->below() : &arrangement);
}

/// What a cell says of its width.
inline PartSpec cell(std::optional<Length> width, double grow = 0) {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = "x";
    part.width = width;
    part.grow = grow;
    return part;
}

inline PartSpec rowOf(std::initializer_list<PartSpec> cells, Length gap = Length::px(10)) {
    PartSpec row;
    row.type = PartType::Row;
    row.gap = gap;
    row.children = cells;
    return row;
}

inline ItemDesign compiled(const PartSpec& part) {
    RecordBuilder builder;
    return std::move(ItemDesign::compile(part, builder.finish(), "en").value());
}

/// One of 60 px, one that follows its cells, one that has what is left, and another that follows its cells.
inline TableColumns someColumns() {
    const ItemDesign design = compiled(rowOf({cell(Length::px(60)), cell({}), cell({}, 1), cell({})}));
    const ItemDesign* const one = &design;
    return TableColumns({&one, 1});
}

/// How wide a record's cell is that nothing narrows.
inline Length cellWidth(std::int64_t record, std::size_t column) {
    const std::uint64_t bits = (static_cast<std::uint64_t>(record + 11) * 0x9e3779b97f4a7c15ULL) ^
                               (static_cast<std::uint64_t>(column) * 0xbf58476d1ce4e5b9ULL);
    return Length::px(20 + static_cast<std::int64_t>((bits * 0x94d049bb133111ebULL >> 40) % 160));
}

} // namespace scorrere::testing
