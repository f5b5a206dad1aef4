// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/edit/record_edit.h"
#include "engine/record/record_order.h"
#include "engine/record/record_table.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// Finds records of a table by key.
///
/// Complexity  With a right hint O(1); else all keys are read once: O(n).
/// Ownership   Shares the table.
/// Threads     One at a time.
class RecordKeys {
public:
    /// `fields`: what the key is made of; where that is none of the table's, what looks like a key; else a record's number,
    /// from 1, is its key.
    RecordKeys(std::shared_ptr<const RecordTable> records, const std::vector<std::string>& fields);

    const std::shared_ptr<const RecordTable>& records() const { return records_; }
    /// Empty: it has none.
    std::string of(std::int64_t record) const { return ofIn(*records_, record); }
    /// The same of a record of another table that has the key's fields where this one has them.
    std::string ofIn(const RecordTable& records, std::int64_t record) const;
    /// -1: no record has it. The first one where several do.
    std::int64_t find(const std::string& key, std::int64_t hint, const std::stop_token& stop);
    /// By name; none: records are numbered.
    std::vector<std::string> fields() const;

private:
    std::shared_ptr<const RecordTable> records_;
    std::vector<FieldHandle> fields_;
    std::optional<std::unordered_map<std::string, std::uint32_t>> all_;
};

/// A table with edits in force: what-if over a source, which stays as it is.
struct EditedRecords {
    std::shared_ptr<const RecordTable> source;
    RecordEdits edits;
    /// The source's records under their numbers, with the values they are to have; behind them what was inserted.
    std::shared_ptr<const RecordTable> records;
    RecordOrder given;                  ///< those that are there, in the order they have then
    bool isGivenAsSource = true;        ///< none came, went or moved
    std::vector<std::uint32_t> touched; ///< those of the source that were given other values; ascending
    std::vector<std::string> refusals;  ///< by edit: why it is not in force; empty: it is

    std::vector<std::int64_t> numbers; ///< by edit: its record's in `records`; -1: it has none
    std::vector<std::string> inserted; ///< the keys of those from source->size() on
};

/// Puts edits in force, each over what those before it made. One that cannot be is left out, and says why.
///
/// Complexity  A segment's column for each field that is set in it, all of a field's that must become wider, all fields of the
///             last segment where records are inserted; O(edits) beside, O(edits squared) where records come, go or move.
/// Threads     A worker's.
/// Errors      Cancelled.
Result<EditedRecords> withEdits(RecordKeys& keys, const RecordEdits& edits, const std::stop_token& stop);

/// An order of the records of one state of edits, in the numbers that they have in the next: what was inserted may have
/// another there, or be no record of it. Null: as the source is.
RecordOrder inNumbersOf(const RecordOrder& order, const EditedRecords* before, const EditedRecords* after);

/// Those of a ranking that are there, and where it is not sorted in the order given. `of`: how many records the table has.
std::vector<std::uint32_t> keptOf(std::vector<std::uint32_t> ranked, const RecordOrder& given,
                                  std::int64_t of, bool isSorted);

/// What must be looked at again where one state of edits takes the place of another over the same source; ascending. Null: as
/// the source is.
std::vector<std::uint32_t> touchedBetween(const EditedRecords* before, const EditedRecords* after);

} // namespace scorrere
