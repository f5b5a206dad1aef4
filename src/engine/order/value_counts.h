// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <cstdint>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace scorrere {

/// A value of a field, and how many records have it.
struct ValueCount {
    std::string value; ///< as it is displayed
    std::int64_t records = 0;
    bool operator==(const ValueCount&) const = default;
};

/// The values of a field that has few, the most frequent first, those alike by their text; none of a field that has
/// more than `most`. Nothing when stopped.
///
/// Complexity  O(records), and O(distinct) for each segment of a coded text; ends with the value that is too many.
std::optional<std::vector<ValueCount>> fewValues(const RecordTable& records, FieldHandle field,
                                                 std::size_t most, const std::stop_token& stop);

} // namespace scorrere
