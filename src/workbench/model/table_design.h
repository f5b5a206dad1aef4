// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "workbench/model/design_edit.h"

namespace scorrere::workbench {

/// Of a document whose arrangement is a table, one whose item design can stand in columns: where it is no row, or one
/// that holds boxes of several parts, each part that shows something of a record becomes a cell. Any other as it is.
CollectionDocument asTable(CollectionDocument document);

/// A draft in which the heading's cells stand above those of the item that they stood above in `before`, whose cells
/// were moved, taken out, doubled or joined by others. As it is where the heading is the usual one, which follows by
/// itself, or had another number of cells.
DesignDraft withHeadingOver(const CollectionDocument& before, DesignDraft draft);

} // namespace scorrere::workbench
