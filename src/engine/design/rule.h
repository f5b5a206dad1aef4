// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/values.h"

#include <memory>
#include <span>
#include <string>
#include <string_view>

namespace scorrere {

/// A condition on a record: an RFC 9535 filter expression in which @ is the record and $.parameters.NAME a
/// parameter of the collection, as in @.wingspan_mm > $.parameters.odd, and $.state.NAME whether that is so of the item. Inside a
/// repeat @ alone is the entry.
///
/// A field that is null or absent is missing: it equals null and nothing else, and @.field does not hold.
///
/// Complexity  Comparing fields, literals and parameters is O(their text) and allocates nothing; match() and
///             search() are linear in the text, whatever the pattern; what looks into lists and objects, or
///             at the record as a whole, works on a copy.
/// Ownership   Keeps field handles, never the table.
/// Threads     One thread at a time; workers compile their own.
/// Errors      compile: Syntax with the column; NotFound for a parameter that is not there; Invalid for what
///             cannot be asked of one record.
class Rule {
public:
    static Result<Rule> compile(std::string_view text, const NameScope& scope);
    Rule(Rule&&) noexcept;
    Rule& operator=(Rule&&) noexcept;
    ~Rule();

    bool holds(const FillContext& context) const;
    /// Of which records it holds: one bit each, from the lowest of the first word; `to` has room for `count`. Where it
    /// compares fields with literals or parameters it reads columns, some ten times as fast as holds() one by one.
    /// `like`: everything else it reads; its record has no say.
    void mark(const FillContext& like, std::int64_t first, std::int64_t count,
              std::span<std::uint64_t> to) const;
    bool readsParameters() const { return readsParameters_; }
    bool readsRecord() const { return readsRecord_; }
    /// Those that it asks for.
    ItemState readsState() const { return readsState_; }
    /// Fields it asks for that no record has: there is nothing in them, as the standard says of what is
    /// absent; or their names are mistyped.
    const std::vector<std::string>& absent() const { return absent_; }

private:
    Rule();
    friend class RuleCompiler;
    friend class RuleEvaluation;
    friend class RuleColumns;
    struct Node;
    static bool holds(const Node& node, const FillContext& context);
    std::unique_ptr<Node> root_;
    bool readsParameters_ = false;
    bool readsRecord_ = false;
    ItemState readsState_;
    std::vector<std::string> absent_;
};

} // namespace scorrere
