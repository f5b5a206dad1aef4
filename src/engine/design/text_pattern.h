// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/design/values.h"

#include <memory>
#include <string>
#include <string_view>
#include <unicode/utypes.h>
#include <vector>

U_NAMESPACE_BEGIN
class Format;
U_NAMESPACE_END

namespace scorrere {

/// An ICU MessageFormat pattern, parsed once, whose named arguments are fields of a record, parameters of the
/// collection as {$.parameters.NAME}, or, inside a repeat, {entry}. Beside ICU's own formats there is
/// {seen, relative}: "3 days ago".
///
/// Complexity  A pattern of plain arguments (`{species} at {site}`) is put together without ICU and without
///             allocating beyond the target's capacity; a date, time or number in it calls its own formatter
///             alone; plurals and selections go through the whole pattern.
/// Ownership   Keeps field handles, never the table.
/// Threads     One thread at a time: ICU keeps caches inside. Workers compile their own.
/// Errors      compile: Syntax with the column, NotFound for a field or parameter that is not there, Invalid
///             for an argument whose format does not fit its type.
class TextPattern {
public:
    static Result<TextPattern> compile(std::string_view pattern, const NameScope& scope);
    static Result<TextPattern> compile(std::string_view pattern, const RecordTable& fields,
                                       const std::string& locale) {
        return compile(pattern, NameScope{fields, locale, nullptr, nullptr, false});
    }
    /// The pattern with the scope's inputs put in where it names them.
    static Result<std::string> withInputs(const std::string& pattern, const NameScope& scope);
    TextPattern(TextPattern&&) noexcept;
    TextPattern& operator=(TextPattern&&) noexcept;
    ~TextPattern();

    /// Puts the record's text into `out` (cleared first). False when a field it names is missing: `out` is
    /// empty.
    bool format(const FillContext& context, std::string& out) const;
    bool format(const RecordTable& table, std::int64_t record, std::string& out) const {
        return format(FillContext{table, record, nullptr, 0, nullptr, -1, 0}, out);
    }
    /// The pattern with no record behind it: for items that show fixed text.
    bool isFixed() const { return !readsRecord_; }
    bool readsParameters() const { return readsParameters_; }
    ItemState readsState() const { return readsState_; }
    /// The fields it names.
    const std::vector<FieldHandle>& fields() const { return fields_; }

private:
    TextPattern();
    struct Argument {
        ValueRef ref;
        bool relative = false;
    };
    struct Segment {
        std::string literal;
        int argument = -1;                      ///< follows the literal; -1 when none does
        const icu::Format* formatter = nullptr; ///< owned by `complex_`
    };
    Outcome link(std::string_view pattern, const NameScope& scope);
    bool isThere(const Argument& argument, const FillContext& context) const;
    void appendArgument(const Segment& segment, const FillContext& context, std::string& out) const;
    struct Complex;
    std::vector<Segment> segments_;
    std::vector<Argument> arguments_; ///< one for each time one is named
    std::vector<FieldHandle> fields_;
    std::unique_ptr<Complex> complex_;
    bool whole_ = false; ///< only the pattern as a whole can be formatted
    bool readsRecord_ = false;
    bool readsParameters_ = false;
    ItemState readsState_;
    std::string groupSeparator_;
};

} // namespace scorrere
