// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/arrangement_spec.h"

#include <algorithm>
#include <utility>

namespace scorrere {

const Lanes* lanesOf(const ArrangementSpec& spec) {
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        return &grid->columns;
    }
    const auto* columns = std::get_if<ColumnsSpec>(&spec.form);
    return columns != nullptr ? &columns->lanes : nullptr;
}

Lanes* lanesOf(ArrangementSpec& spec) {
    return const_cast<Lanes*>(lanesOf(std::as_const(spec))); // it belongs to what is not const
}

namespace {

std::unique_ptr<Arrangement> makeWithoutSections(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                                 const Arrangement::Estimates& estimates) {
    Spacing spacing = spec.spacing;
    if (spec.sideways) { // arrangements know along and across only
        const auto [top, end, bottom, start] = spacing.insets;
        spacing.insets = {start, bottom, end, top};
    }
    if (const auto* pager = std::get_if<PagerSpec>(&spec.form)) {
        return std::make_unique<PagerArrangement>(*pager, spacing, ends, records);
    }
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        GridSpec cells = *grid;
        if (auto* aspect = std::get_if<GridSpec::Aspect>(&cells.extent); aspect != nullptr && spec.sideways) {
            std::swap(aspect->width, aspect->height);
        }
        return std::make_unique<GridArrangement>(cells, spacing, ends, records, estimates);
    }
    if (const auto* columns = std::get_if<ColumnsSpec>(&spec.form)) {
        return std::make_unique<ColumnsArrangement>(*columns, spacing, ends, records, estimates);
    }
    if (const auto* placed = std::get_if<PlacedSpec>(&spec.form)) {
        return std::make_unique<PlacedArrangement>(*placed, spacing, ends, records, estimates);
    }
    if (const auto* table = std::get_if<TableSpec>(&spec.form)) {
        return std::make_unique<TableArrangement>(*table, spacing, ends, records, estimates);
    }
    if (const auto* own = std::get_if<OwnSpec>(&spec.form)) {
        if (auto made = OwnArrangements::make(*own, spacing, ends, records, estimates)) {
            return made;
        }
    }
    return std::make_unique<ListArrangement>(spacing, ends, records, estimates);
}

} // namespace

bool takesSections(const ArrangementSpec& spec) {
    return makeWithoutSections(spec, {}, 0, {})->takesOthers();
}

std::unique_ptr<Arrangement> makeArrangement(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                             const Arrangement::Estimates& estimates) {
    auto made = makeWithoutSections(spec, ends, records, estimates);
    if (!spec.sections || !made->takesOthers()) {
        return made;
    }
    const auto* table = std::get_if<TableSpec>(&spec.form);
    ends.heading = table != nullptr && table->heading;
    return std::make_unique<SectionedArrangement>(*spec.sections, std::move(made), ends);
}

int spanOf(const ArrangementSpec& spec, const std::string& kind) {
    const auto* grid = std::get_if<GridSpec>(&spec.form);
    if (grid == nullptr) {
        return 1;
    }
    const auto span = std::ranges::find(grid->spans, kind, &GridSpec::Span::kind);
    return span == grid->spans.end() ? 1 : span->columns;
}

Length itemWidth(const ArrangementSpec& spec, Length width, Length height, int span) {
    const auto one = makeArrangement(spec, {}, 1, {});
    one->setCross(spec.sideways ? height : width);
    one->setWindow(spec.sideways ? width : height);
    if (auto* placed = dynamic_cast<PlacedArrangement*>(one.get())) { // one that has its lane for itself
        const std::optional<GivenPlace> place = GivenPlace{{}, std::get<PlacedSpec>(spec.form).by.least};
        placed->tell(0, {&place, 1}, 1);
    }
    const auto* grid = dynamic_cast<const GridArrangement*>(one.get());
    const Given given = grid != nullptr ? grid->givenToBe(span) : one->givenFor(0);
    if (!spec.sideways) {
        return given.crossExtent;
    }
    if (given.extent && !std::holds_alternative<PlacedSpec>(spec.form)) { // each is of another there
        return *given.extent;
    }
    if (const auto* share = std::get_if<Sideways::Share>(&spec.sideways->width)) {
        return Length::fromPx(width.toPx() * share->of);
    }
    const auto* content = std::get_if<Sideways::Content>(&spec.sideways->width);
    return content != nullptr ? content->most : std::get<Length>(spec.sideways->width);
}

} // namespace scorrere
