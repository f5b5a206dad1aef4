// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/record_table.h"

#include <functional>
#include <istream>
#include <stop_token>
#include <string>
#include <string_view>

namespace scorrere {

struct ReadProgress {
    std::int64_t bytes = 0;
    std::int64_t totalBytes = 0; ///< 0 when unknown
    std::int64_t records = 0;
};
using ReadProgressHandler = std::function<void(const ReadProgress&)>;

/// Reads records from a JSON array or from NDJSON (one JSON value a line); the first byte tells which.
///
/// A record is an object; any other value becomes a record with the one field `value`. Lists and objects
/// inside records are kept as their JSON. A member that is null counts as missing.
///
/// Complexity  One pass, in windows of a few MiB: memory is the table's, whatever the file's size. One record
/// may
///             be at most 64 MiB.
/// Threads     Any; blocks: for workers. Looks at `stop` at least every 1,000 records and returns Cancelled.
///             `progress` is called on the calling thread, about every 1 MiB.
/// Errors      Unreadable, Syntax, TooLarge, Cancelled, with line, column and record.
Result<RecordTable> readJsonRecords(std::istream& in, const std::string& name, std::stop_token stop = {},
                                    const ReadProgressHandler& progress = {}, std::int64_t totalBytes = 0);
Result<RecordTable> readJsonFile(const std::string& path, std::stop_token stop = {},
                                 const ReadProgressHandler& progress = {});

} // namespace scorrere
