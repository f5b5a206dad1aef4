// SPDX-License-Identifier: Apache-2.0
#include "engine/order/value_counts.h"

#include <algorithm>
#include <array>
#include <map>

namespace scorrere {

namespace {

constexpr std::int64_t kBetweenLooks = 1024;

/// How often each code of a coded column is there; none has the code of a text that is missing.
std::array<std::int64_t, 256> countsOf(const RecordTable::Stretch& stretch, const Column& column) {
    std::array<std::int64_t, 256> counts{};
    for (std::size_t row = stretch.row; row < stretch.row + stretch.rows; ++row) {
        counts[column.codes[row]] += column.has(row) ? 1 : 0;
    }
    return counts;
}

} // namespace

std::optional<std::vector<ValueCount>> fewValues(const RecordTable& records, FieldHandle field,
                                                 std::size_t most, const std::stop_token& stop) {
    std::map<std::string, std::int64_t, std::less<>> counts;
    const auto add = [&](std::string_view value, std::int64_t count) {
        const auto found = counts.find(value);
        (found != counts.end() ? found : counts.emplace(std::string(value), 0).first)->second += count;
        return counts.size() <= most;
    };
    for (std::int64_t record = 0; record < records.size();) {
        if (record % kBetweenLooks == 0 && stop.stop_requested()) {
            return std::nullopt;
        }
        const RecordTable::Stretch stretch = records.stretchAt(record);
        const Column* column = stretch.rows > 0 ? stretch.column(field) : nullptr;
        if (column != nullptr && !column->codes.empty()) {
            const auto coded = countsOf(stretch, *column);
            for (std::size_t code = 0; code < column->ends.size(); ++code) {
                const std::size_t start = code == 0 ? 0 : column->ends[code - 1];
                const auto value = std::string_view(column->bytes).substr(start, column->ends[code] - start);
                if (coded[code] > 0 && !add(value, coded[code])) {
                    return std::vector<ValueCount>();
                }
            }
            record += static_cast<std::int64_t>(stretch.rows);
            continue;
        }
        if (records.has(record, field) && !add(records.display(record, field), 1)) {
            return std::vector<ValueCount>();
        }
        ++record;
    }
    std::vector<ValueCount> values;
    values.reserve(counts.size());
    for (const auto& [value, count] : counts) {
        values.push_back({value, count});
    }
    std::ranges::stable_sort(values, std::ranges::greater(), &ValueCount::records);
    return values;
}

} // namespace scorrere
