// SPDX-License-Identifier: Apache-2.0
#include "engine/record/json_path_eval.h"

#include "engine/record/i_regexp.h"
#include "engine/record/json_outline.h"
#include "engine/record/json_scalar.h"

#include <fmt/format.h>

namespace scorrere::jsonpath {

namespace {

using simdjson::dom::element;

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
            const Scalar subject = valueOf(logical.call->arguments[0], current);
            const Scalar wanted = valueOf(logical.call->arguments[1], current);
            return subject.kind == Scalar::Kind::Text && wanted.kind == Scalar::Kind::Text &&
                   patterns_.matches(subject.text, std::string(wanted.text),
                                     logical.call->function == Function::Match);
        }
        case Logical::Kind::Compare:
            break;
        }
        return compare(logical.comparison, valueOf(logical.left, current), valueOf(logical.right, current));
    }

    Scalar valueOf(const Comparable& of, const element& current) {
        if (const auto* literal = std::get_if<Literal>(&of.of)) {
            return Scalar::of(*literal);
        }
        if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&of.of)) {
            const std::vector<Node> nodes = select(**query, current, false);
            return nodes.size() == 1 ? Scalar::of(nodes[0].value) : Scalar();
        }
        return valueOf(*std::get<std::shared_ptr<const FunctionCall>>(of.of), current);
    }

    Scalar valueOf(const FunctionCall& call, const element& current) {
        if (call.function == Function::Count || call.function == Function::Value) {
            const auto& query = std::get<std::shared_ptr<const Query>>(call.arguments[0].of);
            const std::vector<Node> nodes = select(*query, current, false);
            if (call.function == Function::Count) {
                return Scalar::of(static_cast<long double>(nodes.size()));
            }
            return nodes.size() == 1 ? Scalar::of(nodes[0].value) : Scalar();
        }
        return lengthOf(valueOf(call.arguments[0], current));
    }

    element root_;
    const std::stop_token& stop_;
    std::size_t steps_ = 0;
    std::optional<Error> error_;
    AskedPatterns patterns_;
};

} // namespace

Result<std::vector<Node>> select(const Query& query, element root, element current, bool withPaths,
                                 const std::stop_token& stop) {
    Evaluator evaluator(root, stop);
    std::vector<Node> nodes = evaluator.select(query, current, withPaths);
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
    auto nodes = jsonpath::select(*query_, root, root, true, stop);
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
