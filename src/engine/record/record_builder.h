// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <memory>
#include <string_view>
#include <vector>

namespace scorrere {

/// Collects records field by field into a RecordTable, inferring and widening each field's type on the way.
///
/// Complexity  A value is O(1), amortised; a value that widens a field rewrites that field once.
/// Ownership   Copies what it is given.
/// Threads     One thread.
class RecordBuilder {
public:
    /// The field of that name, made when new. `expected` is where it was in the last record: a hint.
    int fieldNamed(std::string_view name, int expected = 0);

    void setText(int field, std::string_view value); ///< Time when it reads as one
    void setInteger(int field, std::int64_t value);
    void setReal(int field, double value);
    void setBoolean(int field, bool value);
    void setJson(int field, FieldType listOrObject, std::string_view json);
    /// Ends the record: fields not set in it are missing.
    void endRecord();

    std::int64_t size() const { return size_; }
    /// The table of all that was ended so far. The builder is empty afterwards.
    RecordTable finish();

private:
    Column& columnFor(int field, FieldType type);
    static void widen(Column& column, FieldType to, std::size_t rows);
    static void pad(Column& column, std::size_t rows);
    void closeSegment();

    std::vector<Field> fields_;
    std::vector<std::shared_ptr<Segment>> segments_;
    std::shared_ptr<Segment> open_ = std::make_shared<Segment>();
    std::int64_t size_ = 0;
};

} // namespace scorrere
