// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"

#include <rapidcheck.h>

namespace scorrere::testing {

/// Some arrangement in lines, for RapidCheck: a list, a grid of up to seven columns, or a pager.
inline ArrangementSpec anyLines() {
    ArrangementSpec spec;
    spec.spacing.gap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
    for (Length& inset : spec.spacing.insets) {
        inset = Length::px(*rc::gen::inRange(0, 30));
    }
    const int form = *rc::gen::inRange(0, 4);
    if (form == 3) {
        spec.form = PagerSpec{*rc::gen::element(Length{}, Length::px(30)), *rc::gen::arbitrary<bool>(), {}};
    } else if (form > 0) {
        GridSpec grid;
        grid.columns.count = *rc::gen::inRange(1, 8);
        grid.columns.least = *rc::gen::element(Length{}, Length{}, Length::px(90));
        grid.columns.gap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
        grid.extent = *rc::gen::element<GridSpec::Extent>(GridSpec::AsLine{}, GridSpec::AsLine{},
                                                          Length::px(70), GridSpec::Aspect{3, 4});
        if (*rc::gen::inRange(0, 2) == 0) {
            grid.spans = {{"wide", 2}, {"across", GridSpec::kAllColumns}};
            grid.leavesHoles = *rc::gen::arbitrary<bool>();
        }
        spec.form = grid;
    }
    return spec;
}

inline SectionsSpec sectionsOf(bool stay, bool haveFooters, Length clear = {}) {
    SectionsSpec spec;
    spec.stay = stay;
    spec.haveFooters = haveFooters;
    spec.clear = clear;
    return spec;
}

/// Sections over anything in lines, for RapidCheck.
inline ArrangementSpec anySections() {
    ArrangementSpec spec = anyLines();
    spec.sections = sectionsOf(*rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>(),
                               Length::px(*rc::gen::element(0, 0, 20)));
    return spec;
}

/// A table, for RapidCheck; in sections or not. Who has it tells what its columns are.
inline ArrangementSpec anyTable() {
    ArrangementSpec spec = anySections();
    if (*rc::gen::arbitrary<bool>()) {
        spec.sections.reset();
    }
    const Length clear = spec.sections ? spec.sections->clear : Length{};
    spec.form = TableSpec{*rc::gen::element(true, true, false), *rc::gen::arbitrary<bool>(),
                          *rc::gen::arbitrary<bool>(), clear};
    return spec;
}

/// Ragged columns, for RapidCheck.
inline ArrangementSpec anyColumns() {
    ArrangementSpec spec = anyLines();
    ColumnsSpec columns;
    columns.lanes.count = *rc::gen::inRange(1, 6);
    columns.lanes.least = *rc::gen::element(Length{}, Length{}, Length::px(100));
    columns.lanes.gap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000));
    spec.form = columns;
    return spec;
}

/// Sections over ragged columns, for RapidCheck.
inline ArrangementSpec anyRaggedSections() {
    ArrangementSpec spec = anyColumns();
    spec.sections = anySections().sections;
    return spec;
}

/// Items that stand where they are told to, for RapidCheck.
inline ArrangementSpec anyPlaced() {
    ArrangementSpec spec = anyLines();
    PlacedSpec placed;
    placed.laneGap = Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 500));
    spec.form = placed;
    return spec;
}

/// One's own, for RapidCheck. Requires: it was added.
inline ArrangementSpec anyOwn() {
    ArrangementSpec spec = anyLines();
    spec.form =
        OwnSpec{"stairs", {{"steps", *rc::gen::inRange(1, 9)}, {"share", *rc::gen::element(0.1, 0.5, 1.0)}}};
    return spec;
}

inline Ends anyEnds() {
    return {*rc::gen::arbitrary<bool>(), *rc::gen::arbitrary<bool>()};
}

} // namespace scorrere::testing
