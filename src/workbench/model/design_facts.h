// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// The fields that a document's designs and kinds ask for and no record has: mistyped, more likely than not.
/// In order; none while the records have no fields.
///
/// Complexity  O(parts). Threads  Any.
std::vector<std::string> absentFields(const CollectionDocument& document, const RecordTable& records);

/// What is wrong with a text as a document's design, on these records: placed in the text. Nothing: it is one.
/// `records` may be null: whether it fits them is then not asked.
///
/// Complexity  O(parts). Threads  Any.
std::optional<Error> designProblem(const CollectionDocument& document, const RecordTable* records,
                                   const std::string& text);

/// The strips within items that run the same way as the strip around them, by their pointers and the lists they show:
/// both follow the same drags.
std::vector<std::pair<std::string, std::string>> stripsAlong(const CollectionDocument& document);

} // namespace scorrere::workbench
