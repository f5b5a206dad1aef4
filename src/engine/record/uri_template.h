// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <map>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace scorrere {

/// What a variable of an address stands for: a text, a list, or names with values. An empty list or map
/// counts as not given.
using UriList = std::vector<std::string>;
using UriPairs = std::vector<std::pair<std::string, std::string>>;
using UriValue = std::variant<std::string, UriList, UriPairs>;
using UriVariables = std::map<std::string, UriValue, std::less<>>;

/// An address with places for variables (RFC 6570, all four levels): /sightings{?page,size}.
///
/// Complexity  O(text).
/// Ownership   A value.
/// Threads     Immutable after parse.
/// Errors      parse: Syntax with the column.
class UriTemplate {
public:
    static Result<UriTemplate> parse(std::string_view text);

    /// Variables that are not given are left out, as the standard says.
    std::string expand(const UriVariables& variables) const;
    /// The names in it, in order, each once.
    std::vector<std::string> names() const;
    /// Expands with one text for each of names(), in their order; allocates only when `out` must grow.
    void expandInto(std::span<const std::string_view> values, std::string& out) const;
    const std::string& text() const { return text_; }

private:
    struct Variable {
        std::string name;
        std::size_t index = 0;  ///< in names()
        std::size_t prefix = 0; ///< characters; 0: all
        bool explode = false;
    };
    struct Piece {
        std::string literal;
        char op = 0; ///< of the expression behind the literal
        std::vector<Variable> variables;
    };
    std::string text_;
    std::vector<Piece> pieces_;
};

} // namespace scorrere
