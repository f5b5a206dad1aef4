// SPDX-License-Identifier: Apache-2.0
//
// A field's type is the narrowest that holds all its values so far. Within the open segment a value that does
// not fit widens the column at once; closed segments keep their own type until finish(), which widens those
// that are narrower than the field became. Times are kept as their text, so widening one to text loses
// nothing.
#include "engine/record/record_builder.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

int RecordBuilder::fieldNamed(std::string_view name, int expected) {
    const std::size_t hint = static_cast<std::size_t>(expected);
    if (hint < fields_.size() && fields_[hint].name == name) {
        return expected;
    }
    const auto it = std::ranges::find(fields_, name, &Field::name);
    if (it != fields_.end()) {
        return static_cast<int>(it - fields_.begin());
    }
    fields_.push_back({std::string(name), FieldType::Unknown});
    return static_cast<int>(fields_.size()) - 1;
}

/// Gives every row before `rows` a slot, so that the next value lands in its own row.
void RecordBuilder::pad(Column& column, std::size_t rows) {
    switch (column.type) {
    case FieldType::Unknown:
        break;
    case FieldType::Boolean:
        column.booleans.resize(rows);
        break;
    case FieldType::Integer:
        column.integers.resize(rows);
        break;
    case FieldType::Real:
        column.reals.resize(rows);
        break;
    default:
        column.ends.resize(rows, static_cast<std::uint32_t>(column.bytes.size()));
        break;
    }
    column.present.resize((rows + 63) / 64);
}

void RecordBuilder::widen(Column& column, FieldType to, std::size_t rows) {
    pad(column, rows);
    const FieldType from = column.type;
    column.type = to;
    if (to == FieldType::Real) { // from Integer
        column.reals.assign(column.integers.begin(), column.integers.end());
        column.integers = {};
        return;
    }
    if (from >= FieldType::Time || from == FieldType::Unknown) { // kept as text already
        pad(column, rows);
        return;
    }
    for (std::size_t i = 0; i < rows; ++i) {
        if (column.has(i)) {
            column.bytes += from == FieldType::Integer ? fmt::format("{}", column.integers[i])
                            : from == FieldType::Real  ? fmt::format("{}", column.reals[i])
                            : column.booleans[i] != 0  ? "true"
                                                       : "false";
        }
        column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
    }
    column.integers = {};
    column.reals = {};
    column.booleans = {};
}

Column& RecordBuilder::columnFor(int field, FieldType type) {
    const std::size_t index = static_cast<std::size_t>(field);
    if (open_->columns.size() <= index) {
        open_->columns.resize(index + 1);
    }
    Column& column = open_->columns[index];
    const std::size_t row = open_->size;
    const FieldType wide = widened(column.type, type);
    if (wide != column.type) {
        if (column.type == FieldType::Unknown) {
            column.type = wide;
        } else {
            widen(column, wide, row);
        }
    }
    pad(column, row);
    column.present.resize(row / 64 + 1);
    column.present[row / 64] |= std::uint64_t{1} << (row % 64);
    return column;
}

void RecordBuilder::setText(int field, std::string_view value) {
    const bool time = !value.empty() && value[0] >= '0' && value[0] <= '9' && parseTime(value).has_value();
    Column& column = columnFor(field, time ? FieldType::Time : FieldType::Text);
    column.bytes += value;
    column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
}

void RecordBuilder::setJson(int field, FieldType listOrObject, std::string_view json) {
    Column& column = columnFor(field, listOrObject);
    column.bytes += json;
    column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
}

void RecordBuilder::setInteger(int field, std::int64_t value) {
    Column& column = columnFor(field, FieldType::Integer);
    if (column.type == FieldType::Integer) {
        column.integers.push_back(value);
    } else if (column.type == FieldType::Real) {
        column.reals.push_back(static_cast<double>(value));
    } else {
        column.bytes += fmt::format("{}", value);
        column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
    }
}

void RecordBuilder::setReal(int field, double value) {
    Column& column = columnFor(field, FieldType::Real);
    if (column.type == FieldType::Real) {
        column.reals.push_back(value);
    } else {
        column.bytes += fmt::format("{}", value);
        column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
    }
}

void RecordBuilder::setBoolean(int field, bool value) {
    Column& column = columnFor(field, FieldType::Boolean);
    if (column.type == FieldType::Boolean) {
        column.booleans.push_back(value ? 1 : 0);
    } else {
        column.bytes += value ? "true" : "false";
        column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
    }
}

void RecordBuilder::endRecord() {
    ++open_->size;
    ++size_;
    // 32-bit ends: a segment closes early never, so a segment's text must stay below 4 GiB.
    if (open_->size == static_cast<std::size_t>(RecordTable::kSegment)) {
        closeSegment();
    }
}

void RecordBuilder::closeSegment() {
    for (std::size_t i = 0; i < open_->columns.size(); ++i) {
        Column& column = open_->columns[i];
        pad(column, open_->size);
        column.bytes.shrink_to_fit();
        column.ends.shrink_to_fit();
        column.integers.shrink_to_fit();
        column.reals.shrink_to_fit();
        fields_[i].type = widened(fields_[i].type, column.type);
    }
    segments_.push_back(std::move(open_));
    open_ = std::make_shared<Segment>();
    open_->columns.resize(fields_.size());
}

RecordTable RecordBuilder::finish() {
    if (open_->size > 0) {
        closeSegment();
    }
    for (const auto& segment : segments_) {
        for (std::size_t i = 0; i < segment->columns.size(); ++i) {
            Column& column = segment->columns[i];
            if (column.type != fields_[i].type) {
                widen(column, fields_[i].type, segment->size);
                pad(column, segment->size);
            }
        }
    }
    std::vector<std::shared_ptr<const Segment>> whole(segments_.begin(), segments_.end());
    RecordTable table(std::move(fields_), std::move(whole));
    *this = RecordBuilder();
    return table;
}

} // namespace scorrere
