// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/table_arrangement.h"

#include <algorithm>

namespace scorrere {

namespace {

Ends withHeading(Ends ends, const TableSpec& spec) {
    ends.heading = spec.heading;
    return ends;
}

} // namespace

TableArrangement::TableArrangement(const TableSpec& spec, const Spacing& spacing, Ends ends,
                                   std::int64_t records, const Estimates& estimates)
    : ArrangementOver(withHeading(ends, spec), std::make_unique<ListArrangement>(
                                                   spacing, withHeading(ends, spec), records, estimates)),
      spec_(spec), list_(static_cast<ListArrangement*>(&below())),
      insets_(spacing.insets[1] + spacing.insets[3]) {}

void TableArrangement::setColumns(TableColumns columns) {
    columns_ = std::move(columns);
    columns_.setRoom(std::max(cross_ - insets_, Length{}));
}

void TableArrangement::setCross(Length cross) {
    cross_ = cross;
    below().setCross(cross);
    columns_.setRoom(std::max(cross - insets_, Length{}));
}

/// Records and the heading; not what stands among them and beside them.
bool TableArrangement::isInColumns(std::int64_t position) {
    const int kind = list_->entryKindAt(position);
    return kind == kRecordKind || kind == kHeadingKind;
}

Box TableArrangement::boxOf(std::int64_t position) {
    Box box = below().boxOf(position);
    if (isInColumns(position)) {
        box.crossExtent = columns_.across();
    }
    return box;
}

Given TableArrangement::givenFor(std::int64_t position) {
    Given given = below().givenFor(position);
    if (isInColumns(position)) {
        given.crossExtent = columns_.across();
        given.columns = columns_.revision();
    }
    return given;
}

Stayings TableArrangement::stayingAt(Length top) {
    if (!spec_.heading || !spec_.headingStays) {
        return {};
    }
    const Length at = top + spec_.clear;
    return at > startOf(heading()) ? Stayings{Staying{heading(), at}} : Stayings{};
}

Length TableArrangement::restOf(std::int64_t position) {
    const bool isUnder = spec_.heading && spec_.headingStays && position > heading();
    return startOf(position) - (isUnder ? spec_.clear + extentOf(heading()) : Length{});
}

Length TableArrangement::acrossTotal() {
    return std::max(cross_, columns_.across() + insets_);
}

std::optional<Length> TableArrangement::staysAcross(std::int64_t position) {
    if (!isInColumns(position)) {
        return std::nullopt;
    }
    return spec_.firstStays && columns_.count() > 1 ? columns_.firstEnds() : Length{};
}

Arrangement::Forgotten TableArrangement::forgetExtents(const Estimates& estimates) {
    columns_.forget();
    return below().forgetExtents(estimates);
}

} // namespace scorrere
