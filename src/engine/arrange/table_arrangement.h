// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_over.h"
#include "engine/arrange/list_arrangement.h"
#include "engine/design/table_columns.h"

namespace scorrere {

struct TableSpec {
    bool heading = true;      ///< above the first record
    bool headingStays = true; ///< at the window's start
    bool firstStays = true;   ///< the first column does, while the others are scrolled across
    Length clear = {};        ///< so far from the window's start, where something covers that
    bool operator==(const TableSpec&) const = default;
};

/// A list whose items' cells stand in columns that all of them and a heading have in common. Where the columns
/// take more room than there is, items are wider than the window, which is scrolled across.
///
/// Complexity  As a list.
class TableArrangement final : public ArrangementOver {
public:
    /// `ends`: whether there is a heading is the spec's to say.
    TableArrangement(const TableSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records,
                     const Estimates& estimates);

    /// What items are laid out in; who lays one out tells how wide its cells are.
    TableColumns& columns() { return columns_; }
    const TableColumns& columns() const { return columns_; }
    /// Items look otherwise. What is known of extents must be forgotten.
    void setColumns(TableColumns columns);

    void setCross(Length cross) override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t position) override;
    Stayings stayingAt(Length top) override;
    Length restOf(std::int64_t position) override;
    Length acrossTotal() override;
    std::optional<Length> staysAcross(std::int64_t position) override;
    Forgotten forgetExtents(const Estimates& estimates) override;

private:
    bool isInColumns(std::int64_t position);
    std::int64_t heading() const { return hasHeader() ? 1 : 0; }

    TableSpec spec_;
    ListArrangement* list_;
    Length insets_; ///< across
    TableColumns columns_;
    Length cross_;
};

} // namespace scorrere
