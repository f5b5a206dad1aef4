// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <map>
#include <memory>
#include <vector>

namespace scorrere {

class RecordBuilder;

/// One record as a JSON object of the fields it has.
std::string recordJson(const RecordTable& records, std::int64_t record);

/// Gives a value on in its own type, or that of `wanted` where that is wider; the builder widens its field where it must.
/// Requires: the record has it.
void copyValue(RecordBuilder& builder, int to, const RecordTable& records, std::int64_t record,
               FieldHandle from, FieldType wanted);

/// The same records with `fields` first, in that order and at least of those types, and after them what else
/// they have: so that handles found in one table fit the other. A type that is too narrow for a value here is
/// widened, never the value lost.
///
/// Complexity  O(records x fields). Blocks: for workers.
RecordTable conformed(const RecordTable& records, const std::vector<Field>& fields);

/// One record of one of several tables.
struct RecordAt {
    std::shared_ptr<const RecordTable> table;
    std::int64_t row = 0;
};
/// One table of these records, in order, its fields as conformed() makes them for all their tables.
///
/// Complexity  O(records x fields). Blocks: for workers.
RecordTable gathered(const std::vector<RecordAt>& records, const std::vector<Field>& fields);

/// A table of one record: `of`, but where `others` (by field) has a row, its value is that row's of `from`, or missing at -1.
/// Requires: `from` conforms to the fields of `of` that `others` names. O(fields).
RecordTable withValues(const RecordAt& of, const RecordTable& from,
                       const std::map<int, std::int64_t>& others);

/// Whether handles and types of `fields` hold in the table.
bool conforms(const RecordTable& records, const std::vector<Field>& fields);

/// Whether what reads fields by handle and type of one finds them in the other, as far as both have fields.
bool haveSameTypes(const RecordTable& a, const RecordTable& b);

/// A hash of everything a record holds.
std::uint64_t contentHash(const RecordTable& records, std::int64_t record);

} // namespace scorrere
