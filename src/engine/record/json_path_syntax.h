// SPDX-License-Identifier: Apache-2.0
// What a JSONPath is made of, once parsed and checked (RFC 9535).
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace scorrere::jsonpath {

struct Logical;
struct Query;
struct FunctionCall;

struct Null {};
using Literal = std::variant<Null, bool, std::int64_t, long double, std::string>;

/// Something that has at most one value: one side of a comparison, or an argument.
struct Comparable {
    std::variant<Literal, std::shared_ptr<const Query>, std::shared_ptr<const FunctionCall>> of;
};

enum class Function : std::uint8_t { Length, Count, Match, Search, Value };
struct FunctionCall {
    Function function = Function::Length;
    std::vector<Comparable> arguments;
};

enum class Comparison : std::uint8_t { Equal, Unequal, Less, LessOrEqual, Greater, GreaterOrEqual };

struct Logical {
    enum class Kind : std::uint8_t { Or, And, Not, Compare, Exists, Call };
    Kind kind = Kind::Exists;
    std::vector<Logical> parts; ///< Or, And: two or more; Not: one
    Comparison comparison = Comparison::Equal;
    Comparable left, right;                   ///< Compare
    std::shared_ptr<const Query> query;       ///< Exists
    std::shared_ptr<const FunctionCall> call; ///< Call: match or search
};

struct Selector {
    enum class Kind : std::uint8_t { Name, Wildcard, Index, Slice, Filter };
    Kind kind = Kind::Wildcard;
    std::string name;
    std::int64_t index = 0;
    std::optional<std::int64_t> start, end;
    std::int64_t step = 1;
    std::shared_ptr<const Logical> filter;
};

struct Segment {
    bool descendant = false;
    std::vector<Selector> selectors;
};

struct Query {
    bool fromRoot = true; ///< $, else @
    std::vector<Segment> segments;
    /// Selects at most one node: nothing but names and indexes.
    bool isSingular() const;
};

} // namespace scorrere::jsonpath
