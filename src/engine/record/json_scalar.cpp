// SPDX-License-Identifier: Apache-2.0
#include "engine/record/json_scalar.h"

#include "engine/base/utf8.h"
#include "engine/record/json_path_eval.h"

#include <algorithm>

namespace scorrere::jsonpath {

using simdjson::dom::element;
using simdjson::dom::element_type;

Scalar Scalar::of(const Literal& literal) {
    if (const auto* whole = std::get_if<std::int64_t>(&literal)) {
        return of(static_cast<long double>(*whole));
    }
    if (const auto* real = std::get_if<long double>(&literal)) {
        return of(*real);
    }
    if (const auto* text = std::get_if<std::string>(&literal)) {
        return of(std::string_view(*text));
    }
    if (const auto* yes = std::get_if<bool>(&literal)) {
        return of(*yes);
    }
    Scalar null;
    null.kind = Kind::Null;
    return null;
}

Scalar Scalar::of(const element& node) {
    switch (node.type()) {
    case element_type::INT64:
        return of(static_cast<long double>(node.get_int64().value_unsafe()));
    case element_type::UINT64:
        return of(static_cast<long double>(node.get_uint64().value_unsafe()));
    case element_type::DOUBLE:
        return of(static_cast<long double>(node.get_double().value_unsafe()));
    case element_type::STRING:
        return of(std::string_view(node.get_string().value_unsafe()));
    case element_type::BOOL:
        return of(node.get_bool().value_unsafe());
    default:
        break;
    }
    Scalar scalar;
    scalar.kind = node.is_null() ? Kind::Null : Kind::Structure;
    scalar.node = node;
    return scalar;
}

namespace {

bool equalNodes(const element& a, const element& b) {
    const bool isStructure = (a.is_array() || a.is_object()) && (b.is_array() || b.is_object());
    if (!isStructure) {
        return equal(Scalar::of(a), Scalar::of(b));
    }
    if (a.is_array() != b.is_array()) {
        return false;
    }
    if (a.is_array()) {
        const simdjson::dom::array first = arrayOf(a);
        const simdjson::dom::array second = arrayOf(b);
        auto other = second.begin();
        for (const element item : first) {
            if (other == second.end() || !equalNodes(item, *other)) {
                return false;
            }
            ++other;
        }
        return other == second.end();
    }
    const simdjson::dom::object first = objectOf(a);
    const simdjson::dom::object second = objectOf(b);
    if (first.size() != second.size()) {
        return false;
    }
    for (const auto field : first) {
        element other;
        if (second.at_key(field.key).get(other) != simdjson::SUCCESS || !equalNodes(field.value, other)) {
            return false;
        }
    }
    return true;
}

/// The node of a structure that is known by its JSON; parsed where there is none.
bool nodeOf(const Scalar& of, simdjson::dom::parser& parser, element& node) {
    if (of.text.empty()) {
        node = of.node;
        return true;
    }
    return parser.parse(of.text.data(), of.text.size()).get(node) == simdjson::SUCCESS;
}

} // namespace

bool equal(const Scalar& a, const Scalar& b) {
    if (a.kind != b.kind) {
        return false;
    }
    switch (a.kind) {
    case Scalar::Kind::Boolean:
        return a.boolean == b.boolean;
    case Scalar::Kind::Number:
        return a.number == b.number;
    case Scalar::Kind::Text:
        return a.text == b.text;
    case Scalar::Kind::Structure: {
        if (!a.text.empty() && a.text == b.text) {
            return true;
        }
        simdjson::dom::parser left;
        simdjson::dom::parser right;
        element one;
        element other;
        return nodeOf(a, left, one) && nodeOf(b, right, other) && equalNodes(one, other);
    }
    default:
        return true;
    }
}

bool less(const Scalar& a, const Scalar& b) {
    if (a.kind != b.kind) {
        return false;
    }
    return a.kind == Scalar::Kind::Number ? a.number < b.number
                                          : a.kind == Scalar::Kind::Text && a.text < b.text;
}

bool compare(Comparison how, const Scalar& a, const Scalar& b) {
    switch (how) {
    case Comparison::Equal:
        return equal(a, b);
    case Comparison::Unequal:
        return !equal(a, b);
    case Comparison::Less:
        return less(a, b);
    case Comparison::LessOrEqual:
        return less(a, b) || equal(a, b);
    case Comparison::Greater:
        return less(b, a);
    case Comparison::GreaterOrEqual:
        return less(b, a) || equal(a, b);
    }
    return false;
}

Scalar lengthOf(const Scalar& of) {
    if (of.kind == Scalar::Kind::Text) {
        return Scalar::of(static_cast<long double>(charactersIn(of.text)));
    }
    simdjson::dom::parser parser;
    element node;
    if (of.kind != Scalar::Kind::Structure || !nodeOf(of, parser, node)) {
        return {};
    }
    // Counted: the library's own size stops at 0xFFFFFF.
    std::size_t size = 0;
    if (node.is_array()) {
        const simdjson::dom::array items = arrayOf(node);
        for ([[maybe_unused]] const element item : items) {
            ++size;
        }
    } else {
        const simdjson::dom::object members = objectOf(node);
        for ([[maybe_unused]] const auto member : members) {
            ++size;
        }
    }
    return Scalar::of(static_cast<long double>(size));
}

} // namespace scorrere::jsonpath
