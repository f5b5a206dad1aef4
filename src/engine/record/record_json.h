// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

namespace scorrere {

/// One record as a JSON object of the fields it has.
std::string recordJson(const RecordTable& records, std::int64_t record);

/// The same records with `fields` first, in that order and at least of those types, and after them what else
/// they have: so that handles found in one table fit the other. A type that is too narrow for a value here is
/// widened, never the value lost.
///
/// Complexity  O(records x fields). Blocks: for workers.
RecordTable conformed(const RecordTable& records, const std::vector<Field>& fields);

/// Whether handles and types of `fields` hold in the table.
bool conforms(const RecordTable& records, const std::vector<Field>& fields);

/// A hash of everything a record holds.
std::uint64_t contentHash(const RecordTable& records, std::int64_t record);

} // namespace scorrere
