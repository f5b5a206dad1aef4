// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

namespace scorrere::workbench {

/// Of a document whose arrangement is a table, one whose item design can stand in columns: where it is no row, or one
/// that holds boxes of several parts, each part that shows something of a record becomes a cell. Any other as it is.
CollectionDocument asTable(CollectionDocument document);

} // namespace scorrere::workbench
