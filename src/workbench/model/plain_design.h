// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "engine/record/record_table.h"

namespace scorrere::workbench {

/// A collection for records that came without one: what reads like a title as one, its picture and status
/// beside it, the other fields below, each written as what it is.
Result<CollectionDocument> plainDocument(const std::string& name, const SourceSpec& source,
                                         const RecordTable& records);

} // namespace scorrere::workbench
