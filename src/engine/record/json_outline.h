// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

/// What a JSON text is made of, and where each piece stands in it: for showing a text that was received as it
/// is, whole or cut off, and for finding exactly what is wrong with one. (The bulk parser gives values, not
/// places, and refuses a text that ends early.)
///
/// Nodes lie in preorder; the children of node i are found by stepping from i + 1 over `subtreeEnd`.
///
/// Complexity  One pass, O(text); no recursion, so nesting is bounded by memory (a byte a level) only.
struct JsonOutline {
    enum class Type : std::uint8_t { Object, Array, String, Number, Boolean, Null };
    struct Node {
        std::size_t keyStart = 0; ///< of the name with its quotes; equal to keyEnd when it has none
        std::size_t keyEnd = 0;
        std::size_t start = 0;
        std::size_t end = 0;
        std::int32_t parent = -1;
        std::int32_t subtreeEnd = 0;
        std::int32_t children = 0; ///< all of them, whether they have nodes or not
        std::int32_t place = 0;    ///< among its parent's children
        std::int32_t depth = 0;
        Type type = Type::Null;
    };
    struct Fault {
        std::size_t offset = 0;
        std::string message;
        bool cutOff = false; ///< it is right as far as it goes, but ends early
    };
    struct Limits {
        std::int32_t nodes = 200'000; ///< more are passed over
        std::int32_t depth = 512;     ///< deeper ones are passed over
    };

    std::vector<Node> nodes;
    std::optional<Fault> fault; ///< the first; nodes up to it are there, those open at it end at it
    bool partial = false;       ///< some nodes were passed over

    static JsonOutline of(std::string_view text, const Limits& limits);
    static JsonOutline of(std::string_view text) { return of(text, Limits()); }

    /// The member's name, escapes undone; empty when it has none.
    static std::string nameOf(const Node& node, std::string_view text);
    /// RFC 9535 normalized path of a node, as in $['data']['sightings'][3].
    std::string pathOf(std::size_t node, std::string_view text) const;
    /// RFC 6901 pointer from `ancestor` to the node below it.
    std::string pointerOf(std::size_t node, std::string_view text, std::int32_t ancestor = 0) const;
};

/// A JSON string with its quotes, escapes undone. Broken escapes come as they are.
std::string unescapedJson(std::string_view quoted);
/// A text as a JSON string, with quotes.
std::string quotedJson(std::string_view text);
/// Where the first byte stands that no UTF-8 text has there; size() when there is none (RFC 3629).
std::size_t firstBadUtf8(std::string_view text);
/// The text with U+FFFD for every byte that no UTF-8 text has there.
std::string mendedUtf8(std::string_view text);
/// A member's name as a step of a normalized path (RFC 9535, 2.7), as in ['first name'].
std::string normalizedStep(std::string_view name);

} // namespace scorrere
