// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_table.h"

#include <algorithm>
#include <cassert>
#include <chrono>
#include <cstring>
#include <fmt/format.h>

namespace scorrere {

std::string_view typeName(FieldType type) {
    switch (type) {
    case FieldType::Unknown:
        return "never given";
    case FieldType::Boolean:
        return "yes or no";
    case FieldType::Integer:
        return "whole number";
    case FieldType::Real:
        return "number";
    case FieldType::Time:
        return "time";
    case FieldType::Text:
        return "text";
    case FieldType::List:
        return "list";
    case FieldType::Object:
        return "object";
    }
    return "";
}

FieldType widened(FieldType a, FieldType b) {
    if (a == b || b == FieldType::Unknown) {
        return a;
    }
    if (a == FieldType::Unknown) {
        return b;
    }
    const auto number = [](FieldType t) { return t == FieldType::Integer || t == FieldType::Real; };
    return number(a) && number(b) ? FieldType::Real : FieldType::Text;
}

std::size_t Column::memoryBytes() const {
    return sizeof(Column) + present.capacity() * 8 + integers.capacity() * 8 + packed.capacity() +
           reals.capacity() * 8 + booleans.capacity() + codes.capacity() + bytes.capacity() +
           ends.capacity() * 4;
}

namespace {

template <typename Narrow>
std::int64_t unpacked(const std::string& packed, std::size_t row) {
    Narrow value;
    std::memcpy(&value, packed.data() + row * sizeof(Narrow), sizeof(Narrow));
    return static_cast<std::int64_t>(value);
}

} // namespace

std::int64_t Column::integerAt(std::size_t row) const {
    switch (width) {
    case 1:
        return base + unpacked<std::uint8_t>(packed, row);
    case 2:
        return base + unpacked<std::uint16_t>(packed, row);
    case 4:
        return base + unpacked<std::uint32_t>(packed, row);
    case 8:
        return unpacked<std::int64_t>(packed, row);
    default:
        return integers[row];
    }
}

RecordTable::RecordTable(std::vector<Field> fields, std::vector<std::shared_ptr<const Segment>> segments)
    : fields_(std::move(fields)), segments_(std::move(segments)) {
    for (const auto& segment : segments_) {
        size_ += static_cast<std::int64_t>(segment->size);
    }
    assert(segments_.empty() || static_cast<std::int64_t>(segments_.size() - 1) * kSegment +
                                        static_cast<std::int64_t>(segments_.back()->size) ==
                                    size_);
}

std::optional<FieldHandle> RecordTable::find(std::string_view name) const {
    const auto it = std::ranges::find(fields_, name, &Field::name);
    if (it == fields_.end()) {
        return std::nullopt;
    }
    return FieldHandle{static_cast<int>(it - fields_.begin())};
}

const Column* RecordTable::column(std::int64_t record, FieldHandle field) const {
    assert(record >= 0 && record < size_ && field.index >= 0);
    const Segment& segment = *segments_[static_cast<std::size_t>(record / kSegment)];
    const std::size_t index = static_cast<std::size_t>(field.index);
    return index < segment.columns.size() ? segment.columns[index].get() : nullptr;
}

bool RecordTable::has(std::int64_t record, FieldHandle field) const {
    const Column* found = column(record, field);
    return found != nullptr && found->has(row(record));
}

std::string_view RecordTable::text(std::int64_t record, FieldHandle field) const {
    const Column* found = column(record, field);
    const std::size_t at = row(record);
    if (found == nullptr || !found->has(at)) {
        return {};
    }
    assert(found->type >= FieldType::Time);
    return found->textAt(at);
}

std::int64_t RecordTable::integer(std::int64_t record, FieldHandle field) const {
    const Column* found = column(record, field);
    assert(found != nullptr && found->type == FieldType::Integer);
    return found->integerAt(row(record));
}

double RecordTable::real(std::int64_t record, FieldHandle field) const {
    const Column* found = column(record, field);
    assert(found != nullptr && (found->type == FieldType::Real || found->type == FieldType::Integer));
    return found->type == FieldType::Real ? found->reals[row(record)]
                                          : static_cast<double>(found->integerAt(row(record)));
}

bool RecordTable::boolean(std::int64_t record, FieldHandle field) const {
    const Column* found = column(record, field);
    assert(found != nullptr && found->type == FieldType::Boolean);
    return found->booleans[row(record)] != 0;
}

std::string RecordTable::display(std::int64_t record, FieldHandle handle) const {
    if (!has(record, handle)) {
        return {};
    }
    switch (column(record, handle)->type) {
    case FieldType::Boolean:
        return boolean(record, handle) ? "true" : "false";
    case FieldType::Integer:
        return fmt::format("{}", integer(record, handle));
    case FieldType::Real:
        return fmt::format("{}", real(record, handle));
    default:
        return std::string(text(record, handle));
    }
}

std::size_t RecordTable::memoryBytes() const {
    std::size_t sum = 0;
    for (const auto& segment : segments_) {
        for (const auto& found : segment->columns) {
            sum += found->memoryBytes();
        }
    }
    return sum;
}

namespace {

/// Reads `digits` decimal digits at `at`; -1 where there is anything else.
int number(std::string_view text, std::size_t at, std::size_t digits) {
    if (at + digits > text.size()) {
        return -1;
    }
    int value = 0;
    for (std::size_t i = at; i < at + digits; ++i) {
        if (text[i] < '0' || text[i] > '9') {
            return -1;
        }
        value = value * 10 + (text[i] - '0');
    }
    return value;
}

} // namespace

std::optional<std::int64_t> parseTime(std::string_view text) {
    if (text.size() < 10 || text[4] != '-' || text[7] != '-') {
        return std::nullopt;
    }
    using namespace std::chrono;
    const year_month_day date{year{number(text, 0, 4)}, month{static_cast<unsigned>(number(text, 5, 2))},
                              day{static_cast<unsigned>(number(text, 8, 2))}};
    if (number(text, 0, 4) < 0 || !date.ok()) {
        return std::nullopt;
    }
    std::int64_t ms = sys_days{date}.time_since_epoch().count() * std::int64_t{86'400'000};
    if (text.size() == 10) {
        return ms;
    }
    const int hour = number(text, 11, 2);
    const int minute = number(text, 14, 2);
    if ((text[10] != 'T' && text[10] != 't' && text[10] != ' ') || hour < 0 || hour > 23 || minute < 0 ||
        minute > 59 || text[13] != ':') {
        return std::nullopt;
    }
    ms += (std::int64_t{hour} * 60 + minute) * 60'000;
    std::size_t at = 16;
    if (at < text.size() && text[at] == ':') {
        const int second = number(text, at + 1, 2);
        if (second < 0 || second > 60) {
            return std::nullopt;
        }
        ms += std::int64_t{second} * 1000;
        at += 3;
        if (at < text.size() && text[at] == '.') {
            std::int64_t scale = 100;
            for (++at; at < text.size() && text[at] >= '0' && text[at] <= '9'; ++at, scale /= 10) {
                ms += (text[at] - '0') * scale;
            }
        }
    }
    if (at == text.size() || (at + 1 == text.size() && (text[at] == 'Z' || text[at] == 'z'))) {
        return ms;
    }
    const int zoneHour = number(text, at + 1, 2);
    const int zoneMinute = number(text, at + 4, 2);
    if ((text[at] != '+' && text[at] != '-') || text.size() != at + 6 || text[at + 3] != ':' ||
        zoneHour < 0 || zoneMinute < 0) {
        return std::nullopt;
    }
    return ms - (text[at] == '+' ? 1 : -1) * (std::int64_t{zoneHour} * 60 + zoneMinute) * 60'000;
}

} // namespace scorrere
