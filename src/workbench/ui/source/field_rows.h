// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/source/fields_view.h"

namespace scorrere::workbench {

/// What is known of a source's fields.
struct FieldsKnown {
    const SourceSpec& source;
    const RecordTable* records = nullptr;             ///< null: nothing was read
    const Examination* examination = nullptr;         ///< null: not looked at yet
    const std::vector<Widening>* widenings = nullptr; ///< null: none
};

/// A row for each field, those that are left out last, with why each has its type.
///
/// Complexity  O(fields squared). Threads  Any.
std::vector<FieldsView::Row> fieldRows(const FieldsKnown& known);

} // namespace scorrere::workbench
