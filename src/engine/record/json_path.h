// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/json_path_syntax.h"

#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

struct JsonMatch {
    std::string path; ///< RFC 9535 section 2.7, normalized
    std::string json; ///< the node's value, without needless spaces
    bool operator==(const JsonMatch&) const = default;
};

/// A JSONPath query (RFC 9535), complete with its functions.
///
/// Complexity  parse O(text), select: nodes visited, at most kMaxNodes kept at a time.
/// Ownership   A value; copies share what is immutable.
/// Threads     Immutable after parse: any thread.
/// Errors      parse: Syntax with the column. select: TooLarge, Cancelled; Syntax for a document that is not
///             JSON.
class JsonPath {
public:
    static constexpr std::size_t kMaxNodes = 10'000'000;

    static Result<JsonPath> parse(std::string_view text);

    const std::string& text() const { return text_; }
    const jsonpath::Query& query() const { return *query_; }
    bool isSingular() const { return query_->isSingular(); }
    /// The names from the root to an array all of whose elements it selects, as in $.data.sightings[*]; the
    /// form of path that can be followed without the whole document.
    std::optional<std::vector<std::string>> namesToArray() const;
    Result<std::vector<JsonMatch>> select(std::string_view json, std::stop_token stop = {}) const;

private:
    std::string text_;
    std::shared_ptr<const jsonpath::Query> query_;
};

} // namespace scorrere
