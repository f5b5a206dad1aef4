// SPDX-License-Identifier: Apache-2.0
// Values as RFC 9535 compares them (section 2.3.5.2.2): an implementation header, for paths and rules alike.
#pragma once

#include "engine/record/json_path_syntax.h"

#include <simdjson.h>
#include <string_view>

namespace scorrere::jsonpath {

/// One value in a comparison; texts are borrowed. A number is exact: no integer of 64 bits, signed or not,
/// and no double is rounded in a long double of at least 64 bits.
struct Scalar {
    enum class Kind : std::uint8_t { Nothing, Null, Boolean, Number, Text, Structure };
    Kind kind = Kind::Nothing;
    bool boolean = false;
    long double number = 0;
    std::string_view text; ///< Text; Structure: its JSON, where there is no node
    simdjson::dom::element node;

    static Scalar of(long double number) { return {Kind::Number, false, number, {}, {}}; }
    static Scalar of(std::string_view text) { return {Kind::Text, false, 0, text, {}}; }
    static Scalar of(bool yes) { return {Kind::Boolean, yes, 0, {}, {}}; }
    static Scalar of(const Literal& literal);
    static Scalar of(const simdjson::dom::element& node);
};
static_assert(std::numeric_limits<long double>::digits >= 64);

/// Values of different kinds are not equal; two nothings are. Structures by what they hold.
bool equal(const Scalar& a, const Scalar& b);
/// Only numbers and texts have an order; texts by their characters, which UTF-8 keeps.
bool less(const Scalar& a, const Scalar& b);
bool compare(Comparison how, const Scalar& a, const Scalar& b);

/// What length() says of a value: characters, entries or members; nothing of any other.
Scalar lengthOf(const Scalar& of);

} // namespace scorrere::jsonpath
