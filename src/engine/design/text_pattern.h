// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/record_table.h"

#include <memory>
#include <string>
#include <string_view>
#include <unicode/utypes.h>
#include <vector>

U_NAMESPACE_BEGIN
class Format;
U_NAMESPACE_END

namespace scorrere {

/// An ICU MessageFormat pattern, parsed once, whose named arguments are fields of a record.
///
/// Complexity  A pattern of plain arguments (`{species} at {site}`) is put together without ICU and without
///             allocating beyond the target's capacity; a date, time or number in it calls its own formatter
///             alone; plurals and selections go through the whole pattern.
/// Ownership   Keeps field handles, never the table.
/// Threads     One thread at a time: ICU keeps caches inside. Workers compile their own.
/// Errors      compile: Syntax with the column, NotFound for a field that is not there, Invalid for an
/// argument
///             whose format does not fit its field's type.
class TextPattern {
public:
    static Result<TextPattern> compile(std::string_view pattern, const RecordTable& fields,
                                       const std::string& locale);
    TextPattern(TextPattern&&) noexcept;
    TextPattern& operator=(TextPattern&&) noexcept;
    ~TextPattern();

    /// Puts the record's text into `out` (cleared first). False when a field it names is missing: `out` is
    /// empty.
    bool format(const RecordTable& table, std::int64_t record, std::string& out) const;
    /// The pattern with no record behind it: for items that show fixed text.
    bool isFixed() const { return arguments_.empty(); }

private:
    TextPattern();
    struct Segment {
        std::string literal;
        FieldHandle field; ///< follows the literal; index -1 when none does
        FieldType type = FieldType::Unknown;
        const icu::Format* formatter = nullptr; ///< owned by `complex_`
    };
    void appendArgument(const Segment& segment, const RecordTable& table, std::int64_t record,
                        std::string& out) const;
    struct Complex;
    std::vector<Segment> segments_;
    std::vector<FieldHandle> arguments_;
    std::unique_ptr<Complex> complex_;
    bool whole_ = false; ///< only the pattern as a whole can be formatted
    std::string groupSeparator_;
};

} // namespace scorrere
