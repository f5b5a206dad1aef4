// SPDX-License-Identifier: Apache-2.0
#include "engine/record/json_path_eval.h"

#include "engine/record/json_outline.h"

#include <cmath>
#include <fmt/format.h>
#include <unicode/regex.h>
#include <unicode/unistr.h>

namespace scorrere::jsonpath {

/// Its dot leaves out line ends, and only these two.
std::string iRegexpForIcu(std::string_view pattern) {
    std::string out;
    bool inClass = false;
    for (std::size_t i = 0; i < pattern.size(); ++i) {
        const char c = pattern[i];
        if (c == '\\' && i + 1 < pattern.size()) {
            out += c;
            out += pattern[++i];
            continue;
        }
        inClass = c == '[' ? true : c == ']' ? false : inClass;
        out += c == '.' && !inClass ? "[^\\n\\r]" : std::string(1, c);
    }
    return out;
}

namespace {

using simdjson::dom::element;
using simdjson::dom::element_type;

/// A value in a comparison: something of the document, a literal's or function's value, or nothing.
struct Nothing {};
using Value = std::variant<Nothing, element, Literal>;

/// The scalar that a value is, for comparing; strings are borrowed.
struct Scalar {
    enum class Kind : std::uint8_t { Nothing, Null, Boolean, Number, Text, Structure };
    Kind kind = Kind::Nothing;
    bool boolean = false;
    bool whole = false;
    std::int64_t integer = 0;
    double real = 0;
    std::string_view text;
};

Scalar scalarOf(const Value& value) {
    Scalar scalar;
    const auto number = [&scalar](std::int64_t whole) {
        scalar.kind = Scalar::Kind::Number;
        scalar.whole = true;
        scalar.integer = whole;
        scalar.real = static_cast<double>(whole);
    };
    if (const auto* literal = std::get_if<Literal>(&value)) {
        if (const auto* whole = std::get_if<std::int64_t>(literal)) {
            number(*whole);
        } else if (const auto* real = std::get_if<double>(literal)) {
            scalar.kind = Scalar::Kind::Number;
            scalar.real = *real;
        } else if (const auto* text = std::get_if<std::string>(literal)) {
            scalar.kind = Scalar::Kind::Text;
            scalar.text = *text;
        } else if (const auto* yes = std::get_if<bool>(literal)) {
            scalar.kind = Scalar::Kind::Boolean;
            scalar.boolean = *yes;
        } else {
            scalar.kind = Scalar::Kind::Null;
        }
    } else if (const auto* node = std::get_if<element>(&value)) {
        switch (node->type()) {
        case element_type::INT64:
            number(node->get_int64().value_unsafe());
            break;
        case element_type::UINT64:
            scalar.kind = Scalar::Kind::Number;
            scalar.real = static_cast<double>(node->get_uint64().value_unsafe());
            break;
        case element_type::DOUBLE:
            scalar.kind = Scalar::Kind::Number;
            scalar.real = node->get_double().value_unsafe();
            break;
        case element_type::STRING:
            scalar.kind = Scalar::Kind::Text;
            scalar.text = node->get_string().value_unsafe();
            break;
        case element_type::BOOL:
            scalar.kind = Scalar::Kind::Boolean;
            scalar.boolean = node->get_bool().value_unsafe();
            break;
        case element_type::NULL_VALUE:
            scalar.kind = Scalar::Kind::Null;
            break;
        default:
            scalar.kind = Scalar::Kind::Structure;
            break;
        }
    }
    return scalar;
}

bool equalNodes(const element& a, const element& b);

bool equalScalars(const Scalar& a, const Scalar& b) {
    if (a.kind != b.kind) {
        return false;
    }
    switch (a.kind) {
    case Scalar::Kind::Boolean:
        return a.boolean == b.boolean;
    case Scalar::Kind::Number:
        return a.whole && b.whole ? a.integer == b.integer : a.real == b.real;
    case Scalar::Kind::Text:
        return a.text == b.text;
    default:
        return true;
    }
}

bool equalNodes(const element& a, const element& b) {
    const Scalar left = scalarOf(a);
    const Scalar right = scalarOf(b);
    if (left.kind != Scalar::Kind::Structure || right.kind != Scalar::Kind::Structure) {
        return equalScalars(left, right);
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

bool equalValues(const Value& a, const Value& b) {
    const auto* left = std::get_if<element>(&a);
    const auto* right = std::get_if<element>(&b);
    return left != nullptr && right != nullptr ? equalNodes(*left, *right)
                                               : equalScalars(scalarOf(a), scalarOf(b));
}

/// Section 2.3.5.2.2: only numbers and texts have an order; texts by their characters, which UTF-8 keeps.
bool lessValues(const Value& a, const Value& b) {
    const Scalar left = scalarOf(a);
    const Scalar right = scalarOf(b);
    if (left.kind != right.kind) {
        return false;
    }
    if (left.kind == Scalar::Kind::Number) {
        return left.whole && right.whole ? left.integer < right.integer : left.real < right.real;
    }
    return left.kind == Scalar::Kind::Text && left.text < right.text;
}

bool matches(std::string_view text, std::string_view pattern, bool whole) {
    UErrorCode status = U_ZERO_ERROR;
    const icu::UnicodeString subject =
        icu::UnicodeString::fromUTF8(icu::StringPiece(text.data(), static_cast<int32_t>(text.size())));
    icu::RegexMatcher matcher(icu::UnicodeString::fromUTF8(iRegexpForIcu(pattern)), 0, status);
    if (U_FAILURE(status)) {
        return false; // a pattern that is none matches nothing (section 2.4.6)
    }
    matcher.setTimeLimit(2000, status); // some patterns would take years on some texts
    matcher.setStackLimit(1 << 22, status);
    matcher.reset(subject);
    const bool found = whole ? matcher.matches(status) : matcher.find(status);
    return U_SUCCESS(status) && found;
}

class Evaluator {
public:
    Evaluator(const element& root, const std::stop_token& stop) : root_(root), stop_(stop) {}

    std::vector<Node> select(const Query& query, const element& from, bool withPaths) {
        std::vector<Node> nodes;
        nodes.push_back({query.fromRoot ? root_ : from, withPaths ? "$" : ""});
        for (const Segment& segment : query.segments) {
            std::vector<Node> next;
            for (const Node& node : nodes) {
                if (segment.descendant) {
                    descend(segment, node, next, withPaths);
                } else {
                    apply(segment, node, next, withPaths);
                }
                if (error_) {
                    return {};
                }
            }
            nodes = std::move(next);
        }
        return nodes;
    }
    std::optional<Error>& error() { return error_; }

private:
    void descend(const Segment& segment, const Node& node, std::vector<Node>& out, bool withPaths) {
        apply(segment, node, out, withPaths);
        static const Selector all;
        std::vector<Node> children;
        choose(all, node, children, withPaths);
        for (const Node& child : children) {
            if (error_) {
                return;
            }
            if (child.value.is_array() || child.value.is_object()) {
                descend(segment, child, out, withPaths);
            }
        }
    }

    void apply(const Segment& segment, const Node& node, std::vector<Node>& out, bool withPaths) {
        for (const Selector& selector : segment.selectors) {
            choose(selector, node, out, withPaths);
        }
    }

    void add(std::vector<Node>& out, const element& value, std::string path) {
        if (error_) {
            return;
        }
        if (out.size() >= JsonPath::kMaxNodes) {
            error_ =
                Error{ErrorCode::TooLarge, "the path selects more than 10,000,000 nodes", "Select less.", {}};
        } else if (++steps_ % 1000 == 0 && stop_.stop_requested()) {
            error_ = Error{ErrorCode::Cancelled, "selecting was cancelled", "", {}};
        } else {
            out.push_back({value, std::move(path)});
        }
    }
    static std::string below(const Node& node, std::string_view name, bool withPaths) {
        return withPaths ? node.path + normalizedStep(name) : std::string();
    }
    static std::string below(const Node& node, std::int64_t index, bool withPaths) {
        return withPaths ? fmt::format("{}[{}]", node.path, index) : std::string();
    }

    void choose(const Selector& selector, const Node& node, std::vector<Node>& out, bool withPaths) {
        if (node.value.is_object()) {
            const simdjson::dom::object object = objectOf(node.value);
            if (selector.kind == Selector::Kind::Name) {
                element value;
                if (object.at_key(selector.name).get(value) == simdjson::SUCCESS) {
                    add(out, value, below(node, selector.name, withPaths));
                }
            } else if (selector.kind == Selector::Kind::Wildcard || selector.kind == Selector::Kind::Filter) {
                for (const auto field : object) {
                    if (selector.kind == Selector::Kind::Wildcard || holds(*selector.filter, field.value)) {
                        add(out, field.value, below(node, field.key, withPaths));
                    }
                }
            }
        } else if (node.value.is_array()) {
            chooseOfArray(selector, node, out, withPaths);
        }
    }

    void chooseOfArray(const Selector& selector, const Node& node, std::vector<Node>& out, bool withPaths) {
        const simdjson::dom::array array = arrayOf(node.value);
        std::int64_t index = 0;
        switch (selector.kind) {
        case Selector::Kind::Name:
            return;
        case Selector::Kind::Wildcard:
        case Selector::Kind::Filter:
            for (const element item : array) {
                if (selector.kind == Selector::Kind::Wildcard || holds(*selector.filter, item)) {
                    add(out, item, below(node, index, withPaths));
                }
                ++index;
            }
            return;
        case Selector::Kind::Index:
        case Selector::Kind::Slice:
            break;
        }
        std::vector<element> items;
        for (const element item : array) {
            items.push_back(item);
        }
        const auto length = static_cast<std::int64_t>(items.size());
        const auto take = [&](std::int64_t i) {
            add(out, items[static_cast<std::size_t>(i)], below(node, i, withPaths));
        };
        if (selector.kind == Selector::Kind::Index) {
            const std::int64_t i = selector.index >= 0 ? selector.index : length + selector.index;
            if (i >= 0 && i < length) {
                take(i);
            }
            return;
        }
        slice(selector, length, take);
    }

    /// Section 2.3.4.2.2.
    template <typename Take>
    static void slice(const Selector& selector, std::int64_t length, Take take) {
        const std::int64_t step = selector.step;
        if (step == 0) {
            return;
        }
        const auto normal = [length](std::int64_t i) { return i >= 0 ? i : length + i; };
        const std::int64_t start = normal(selector.start.value_or(step > 0 ? 0 : length - 1));
        const std::int64_t end = selector.end ? normal(*selector.end) : step > 0 ? length : -1;
        if (step > 0) {
            const std::int64_t lower = std::clamp<std::int64_t>(start, 0, length);
            const std::int64_t upper = std::clamp<std::int64_t>(end, 0, length);
            for (std::int64_t i = lower; i < upper; i += step) {
                take(i);
            }
        } else {
            const std::int64_t upper = std::clamp<std::int64_t>(start, -1, length - 1);
            const std::int64_t lower = std::clamp<std::int64_t>(end, -1, length - 1);
            for (std::int64_t i = upper; i > lower; i += step) {
                take(i);
            }
        }
    }

    bool holds(const Logical& logical, const element& current) {
        switch (logical.kind) {
        case Logical::Kind::Or:
            return std::ranges::any_of(logical.parts,
                                       [&](const Logical& part) { return holds(part, current); });
        case Logical::Kind::And:
            return std::ranges::all_of(logical.parts,
                                       [&](const Logical& part) { return holds(part, current); });
        case Logical::Kind::Not:
            return !holds(logical.parts[0], current);
        case Logical::Kind::Exists:
            return !select(*logical.query, current, false).empty();
        case Logical::Kind::Call: {
            const Value text = valueOf(logical.call->arguments[0], current);
            const Value pattern = valueOf(logical.call->arguments[1], current);
            const Scalar subject = scalarOf(text);
            const Scalar wanted = scalarOf(pattern);
            return subject.kind == Scalar::Kind::Text && wanted.kind == Scalar::Kind::Text &&
                   matches(subject.text, wanted.text, logical.call->function == Function::Match);
        }
        case Logical::Kind::Compare:
            break;
        }
        const Value left = valueOf(logical.left, current);
        const Value right = valueOf(logical.right, current);
        switch (logical.comparison) {
        case Comparison::Equal:
            return equalValues(left, right);
        case Comparison::Unequal:
            return !equalValues(left, right);
        case Comparison::Less:
            return lessValues(left, right);
        case Comparison::LessOrEqual:
            return lessValues(left, right) || equalValues(left, right);
        case Comparison::Greater:
            return lessValues(right, left);
        case Comparison::GreaterOrEqual:
            return lessValues(right, left) || equalValues(left, right);
        }
        return false;
    }

    Value valueOf(const Comparable& of, const element& current) {
        if (const auto* literal = std::get_if<Literal>(&of.of)) {
            return *literal;
        }
        if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&of.of)) {
            const std::vector<Node> nodes = select(**query, current, false);
            return nodes.size() == 1 ? Value(nodes[0].value) : Value(Nothing{});
        }
        return valueOf(*std::get<std::shared_ptr<const FunctionCall>>(of.of), current);
    }

    Value valueOf(const FunctionCall& call, const element& current) {
        const auto whole = [](std::size_t n) { return Value(Literal(static_cast<std::int64_t>(n))); };
        if (call.function == Function::Count || call.function == Function::Value) {
            const auto& query = std::get<std::shared_ptr<const Query>>(call.arguments[0].of);
            const std::vector<Node> nodes = select(*query, current, false);
            if (call.function == Function::Count) {
                return whole(nodes.size());
            }
            return nodes.size() == 1 ? Value(nodes[0].value) : Value(Nothing{});
        }
        const Value value = valueOf(call.arguments[0], current);
        const Scalar scalar = scalarOf(value);
        if (scalar.kind == Scalar::Kind::Text) {
            return whole(static_cast<std::size_t>(std::ranges::count_if(
                scalar.text, [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; })));
        }
        if (scalar.kind == Scalar::Kind::Structure) {
            const element& node = std::get<element>(value);
            std::size_t size = 0;
            if (node.is_array()) {
                const simdjson::dom::array items = arrayOf(node);
                for ([[maybe_unused]] const element item : items) {
                    ++size;
                }
            } else {
                const simdjson::dom::object members = objectOf(node);
                for ([[maybe_unused]] const auto field : members) {
                    ++size;
                }
            }
            return whole(size);
        }
        return Nothing{};
    }

    element root_;
    const std::stop_token& stop_;
    std::size_t steps_ = 0;
    std::optional<Error> error_;
};

} // namespace

Result<std::vector<Node>> select(const Query& query, element root, bool withPaths,
                                 const std::stop_token& stop) {
    Evaluator evaluator(root, stop);
    std::vector<Node> nodes = evaluator.select(query, root, withPaths);
    if (evaluator.error()) {
        return std::move(*evaluator.error());
    }
    return nodes;
}

} // namespace scorrere::jsonpath

namespace scorrere {

Result<std::vector<JsonMatch>> JsonPath::select(std::string_view json, std::stop_token stop) const {
    simdjson::dom::parser parser;
    simdjson::dom::element root;
    if (parser.parse(json.data(), json.size()).get(root) != simdjson::SUCCESS) {
        const JsonOutline outline = JsonOutline::of(json, {0, 0});
        Error error{ErrorCode::Syntax,
                    outline.fault ? outline.fault->message : "it is not valid UTF-8, or nested too deeply",
                    "Mend the document.",
                    {}};
        return error;
    }
    auto nodes = jsonpath::select(*query_, root, true, stop);
    if (!nodes) {
        return std::move(nodes.error());
    }
    std::vector<JsonMatch> matches;
    for (jsonpath::Node& node : *nodes) {
        matches.push_back({std::move(node.path), simdjson::minify(node.value)});
    }
    return matches;
}

} // namespace scorrere
