// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/columns_arrangement.h"
#include "engine/arrange/grid_arrangement.h"
#include "engine/arrange/leaf.h"
#include "engine/arrange/list_arrangement.h"
#include "engine/arrange/own_arrangements.h"
#include "engine/arrange/pager_arrangement.h"
#include "engine/arrange/placed_arrangement.h"
#include "engine/arrange/sectioned_arrangement.h"
#include "engine/arrange/table_arrangement.h"

#include <memory>
#include <variant>

namespace scorrere {

/// The strip runs to the side: an item's extent is its width then, which its content does not say alone.
struct Sideways {
    /// Of the window's width.
    struct Share {
        double of = 0.8;
        bool operator==(const Share&) const = default;
    };
    /// As wide as what it holds, up to so much.
    struct Content {
        Length most = Length::px(320);
        bool operator==(const Content&) const = default;
    };
    /// Or so wide.
    using Width = std::variant<Length, Share, Content>;
    Width width = Length::px(200); ///< has no say where the arrangement gives an item both extents
    bool operator==(const Sideways&) const = default;
};

/// How a collection is arranged, whichever way.
struct ArrangementSpec {
    Spacing spacing; ///< its insets are those of the screen, upright or sideways
    std::variant<ListSpec, GridSpec, ColumnsSpec, PagerSpec, PlacedSpec, OwnSpec, TableSpec> form;
    std::optional<Sideways> sideways = std::nullopt; ///< nothing: upright
    std::int64_t byHand = 0; ///< so many records at a time, turned by hand; 0: all in one strip
    std::optional<SectionsSpec> sections = std::nullopt; ///< where takesSections()
    bool operator==(const ArrangementSpec&) const = default;
};

/// Whether headers of sections may stand among the records.
bool takesSections(const ArrangementSpec& spec);
/// How many stand beside each other; null where it is always one.
const Lanes* lanesOf(const ArrangementSpec& spec);
Lanes* lanesOf(ArrangementSpec& spec);

/// The arrangement that a spec asks for, over so many records.
std::unique_ptr<Arrangement> makeArrangement(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                             const Arrangement::Estimates& estimates);

/// How wide a record's item is on screen in a window of that size; sideways where its content decides: at most.
/// `span`: so many columns of a grid, as GridSpec::Span has them.
Length itemWidth(const ArrangementSpec& spec, Length width, Length height, int span = 1);
/// How many columns of a grid an item of a kind takes.
int spanOf(const ArrangementSpec& spec, const std::string& kind);

} // namespace scorrere
