// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/record_table.h"

#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

/// An ICU MessageFormat pattern, parsed once, whose named arguments are fields of a record.
///
/// Complexity  A pattern of plain arguments (`{species} at {site}`) is put together without ICU and without
///             allocating beyond the target's capacity; any other goes through ICU.
/// Ownership   Keeps field handles, never the table.
/// Threads     One thread at a time: ICU keeps caches inside. Workers compile their own.
/// Errors      compile: Syntax with the column, NotFound for a field that is not there, Invalid for an argument
///             whose format does not fit its field's type.
class TextPattern {
public:
    static Result<TextPattern> compile(std::string_view pattern, const RecordTable& fields,
                                       const std::string& locale);
    TextPattern(TextPattern&&) noexcept;
    TextPattern& operator=(TextPattern&&) noexcept;
    ~TextPattern();

    /// Puts the record's text into `out` (cleared first). False when a field it names is missing: `out` is empty.
    bool format(const RecordTable& table, std::int64_t record, std::string& out) const;
    /// The pattern with no record behind it: for items that show fixed text.
    bool isFixed() const { return arguments_.empty(); }
    bool isPlain() const { return complex_ == nullptr; }

private:
    TextPattern();
    struct Segment {
        std::string literal;
        FieldHandle field; ///< follows the literal; index -1 when none does
        FieldType type = FieldType::Unknown;
    };
    struct Complex;
    std::vector<Segment> segments_;
    std::vector<FieldHandle> arguments_;
    std::unique_ptr<Complex> complex_;
    std::string groupSeparator_;
};

} // namespace scorrere
