// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"

#include <rapidcheck.h>

namespace scorrere::testing {

/// Some arrangement in lines, for RapidCheck: a list, or a grid of up to seven columns.
inline ArrangementSpec anyLines() {
    ArrangementSpec spec;
    spec.spacing.gap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
    for (Length& inset : spec.spacing.insets) {
        inset = Length::px(*rc::gen::inRange(0, 30));
    }
    if (*rc::gen::inRange(0, 3) > 0) {
        GridSpec grid;
        grid.columns = *rc::gen::inRange(1, 8);
        grid.leastCell = *rc::gen::element(Length{}, Length{}, Length::px(90));
        grid.crossGap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
        grid.extent = *rc::gen::element<GridSpec::Extent>(GridSpec::AsLine{}, GridSpec::AsLine{},
                                                          Length::px(70), GridSpec::Aspect{3, 4});
        spec.form = grid;
    }
    return spec;
}

/// Ragged columns, for RapidCheck.
inline ArrangementSpec anyColumns() {
    ArrangementSpec spec = anyLines();
    ColumnsSpec columns;
    columns.lanes = *rc::gen::inRange(1, 6);
    columns.leastLane = *rc::gen::element(Length{}, Length{}, Length::px(100));
    columns.crossGap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
    spec.form = columns;
    return spec;
}

inline Ends anyEnds() {
    return {*rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>()};
}

} // namespace scorrere::testing
