// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/columns_arrangement.h"
#include "engine/arrange/grid_arrangement.h"
#include "engine/arrange/list_arrangement.h"

#include <memory>
#include <variant>

namespace scorrere {

/// How a collection is arranged, whichever way.
struct ArrangementSpec {
    Spacing spacing;
    std::variant<ListSpec, GridSpec, ColumnsSpec> form;
    bool operator==(const ArrangementSpec&) const = default;
};

/// The arrangement that a spec asks for, over so many records.
std::unique_ptr<Arrangement> makeArrangement(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                             const Arrangement::Estimates& estimates);

/// How wide a record's item is in a strip of that width.
Length itemWidth(const ArrangementSpec& spec, Length strip);

} // namespace scorrere
