// SPDX-License-Identifier: Apache-2.0
// Selecting nodes of a parsed document: an implementation header of record/, for readers that have one.
#pragma once

#include "engine/record/json_path.h"

#include <simdjson.h>

namespace scorrere::jsonpath {

// The library's own results are views into a temporary when used in a range for.
inline simdjson::dom::array arrayOf(const simdjson::dom::element& node) {
    return node.get_array().value_unsafe();
}
inline simdjson::dom::object objectOf(const simdjson::dom::element& node) {
    return node.get_object().value_unsafe();
}

struct Node {
    simdjson::dom::element value;
    std::string path; ///< kept only when asked for
};

/// The nodes the query selects, in order; duplicates stay, as the standard says. `root` is what $ means,
/// `current` what @ means.
Result<std::vector<Node>> select(const Query& query, simdjson::dom::element root,
                                 simdjson::dom::element current, bool withPaths, const std::stop_token& stop);

} // namespace scorrere::jsonpath
