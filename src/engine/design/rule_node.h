// SPDX-License-Identifier: Apache-2.0
// What a rule is compiled to: an implementation header of rule.cpp and rule_columns.cpp.
#pragma once

#include "engine/design/rule.h"
#include "engine/record/i_regexp.h"
#include "engine/record/json_path_syntax.h"
#include "engine/record/json_scalar.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

namespace rule_nodes {

using jsonpath::Scalar;

/// A query on the record: a name's value, and where the query goes on inside it.
struct Reach {
    ValueRef ref;
    std::shared_ptr<const jsonpath::Query> rest; ///< from the value on; null: the value itself
};

struct Operand {
    enum class Kind : std::uint8_t {
        Constant,
        Reach,
        Whole,  ///< a query that needs the record as JSON: it does not begin with a field, or asks $ inside
        Absent, ///< a field that no record has
    };
    /// What is asked of it.
    enum class Asks : std::uint8_t { Value, Count, Length };
    Kind kind = Kind::Constant;
    Asks asks = Asks::Value;
    Scalar constant;
    std::string text; ///< of a constant text
    Reach reach;
    std::shared_ptr<const jsonpath::Query> query; ///< Whole

    /// Of a constant. It refers to this.
    Scalar fixed() const {
        Scalar value = constant;
        if (value.kind == Scalar::Kind::Text) {
            value.text = text;
        }
        return value;
    }
};

/// It refers to the parameter.
inline Scalar valueOf(const Parameter& parameter) {
    return parameter.type == ParameterType::Number ? Scalar::of(static_cast<long double>(parameter.number))
           : parameter.type == ParameterType::Text ? Scalar::of(std::string_view(parameter.text))
                                                   : Scalar::of(parameter.yes);
}

/// Records do not tell a null from what is not there.
inline bool holds(jsonpath::Comparison how, const Scalar& left, const Scalar& right) {
    using jsonpath::Comparison;
    const auto isNone = [](const Scalar& s) {
        return s.kind == Scalar::Kind::Nothing || s.kind == Scalar::Kind::Null;
    };
    return isNone(left) && isNone(right)
               ? how != Comparison::Unequal && how != Comparison::Less && how != Comparison::Greater
               : jsonpath::compare(how, left, right);
}

} // namespace rule_nodes

struct Rule::Node {
    jsonpath::Logical::Kind kind = jsonpath::Logical::Kind::Exists;
    std::vector<Node> parts;
    jsonpath::Comparison comparison = jsonpath::Comparison::Equal;
    rule_nodes::Operand left, right; ///< Compare; Call: subject and pattern. Exists: left
    bool whole = false;              ///< Call: match, not search
    std::optional<IRegexp> pattern;  ///< when it is a literal
    mutable AskedPatterns asked;     ///< when it is not. A rule is asked by one thread at a time
};

} // namespace scorrere
