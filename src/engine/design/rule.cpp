// SPDX-License-Identifier: Apache-2.0
//
// The standard's parser gives the expression's tree; here its queries are turned into field handles once, so
// that the usual rule (a field against a literal or a parameter) reads columns and nothing else. Only a query
// that goes on inside a list or object parses that one value and hands the rest to the general evaluator;
// only one that does not begin with a field, or asks for parameters inside, needs the whole record as JSON.
#include "engine/design/rule_node.h"
#include "engine/record/json_outline.h"
#include "engine/record/json_path.h"
#include "engine/record/json_path_eval.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <simdjson.h>

namespace scorrere {

using jsonpath::Comparable;
using jsonpath::Comparison;
using jsonpath::Function;
using jsonpath::FunctionCall;
using jsonpath::Literal;
using jsonpath::Logical;
using jsonpath::Query;
using jsonpath::Selector;
using rule_nodes::Operand;
using rule_nodes::Scalar;

namespace {

constexpr std::string_view kBefore = "$[?";

/// Whether something inside a query begins at $ again.
bool asksRoot(const Logical& logical);
bool asksRoot(const Comparable& of);
bool asksRoot(const Query& query) {
    return query.fromRoot || std::ranges::any_of(query.segments, [](const jsonpath::Segment& segment) {
               return std::ranges::any_of(segment.selectors, [](const Selector& selector) {
                   return selector.filter && asksRoot(*selector.filter);
               });
           });
}
bool asksRoot(const Comparable& of) {
    if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&of.of)) {
        return asksRoot(**query);
    }
    const auto* call = std::get_if<std::shared_ptr<const FunctionCall>>(&of.of);
    return call != nullptr &&
           std::ranges::any_of((*call)->arguments, [](const Comparable& one) { return asksRoot(one); });
}
bool asksRoot(const Logical& logical) {
    return std::ranges::any_of(logical.parts, [](const Logical& part) { return asksRoot(part); }) ||
           (logical.kind == Logical::Kind::Compare && (asksRoot(logical.left) || asksRoot(logical.right))) ||
           (logical.query && asksRoot(*logical.query)) ||
           (logical.call && std::ranges::any_of(logical.call->arguments,
                                                [](const Comparable& one) { return asksRoot(one); }));
}

} // namespace

Rule::Rule() = default;
Rule::Rule(Rule&&) noexcept = default;
Rule& Rule::operator=(Rule&&) noexcept = default;
Rule::~Rule() = default;

/// Turns the standard's tree into one that reads fields by handle.
class RuleCompiler {
public:
    RuleCompiler(const NameScope& scope, Rule& rule) : scope_(scope), rule_(rule) {}

    Rule::Node node(const Logical& from) {
        Rule::Node to;
        to.kind = from.kind;
        for (const Logical& part : from.parts) {
            to.parts.push_back(node(part));
        }
        switch (from.kind) {
        case Logical::Kind::Compare:
            to.comparison = from.comparison;
            to.left = operand(from.left);
            to.right = operand(from.right);
            break;
        case Logical::Kind::Exists:
            to.left = reached(*from.query, Operand::Asks::Value);
            break;
        case Logical::Kind::Call:
            to.left = operand(from.call->arguments[0]);
            to.right = operand(from.call->arguments[1]);
            to.whole = from.call->function == Function::Match;
            preparePattern(to);
            break;
        default:
            break;
        }
        return to;
    }
    std::optional<Error>& error() { return error_; }

private:
    void fail(ErrorCode code, std::string message, std::string advice) {
        if (!error_) {
            error_ = Error{code, std::move(message), std::move(advice), {}};
        }
    }

    void preparePattern(Rule::Node& node) {
        if (node.right.kind != Operand::Kind::Constant || node.right.constant.kind != Scalar::Kind::Text) {
            return;
        }
        auto made = IRegexp::compile(node.right.text);
        if (!made) {
            return fail(made.error().code, made.error().message, made.error().advice);
        }
        if (const std::string misread = misreadOf(node.right.text); !misread.empty()) {
            return fail(ErrorCode::Syntax, misread,
                        node.whole
                            ? "match() is of the whole text already: leave it out. For the character, write "
                              "[$] or \\^."
                            : "Use match() for the whole text. For the character, write [$] or \\^.");
        }
        node.pattern = std::move(*made);
    }

    Operand operand(const Comparable& from) {
        if (const auto* literal = std::get_if<Literal>(&from.of)) {
            Operand to;
            to.constant = Scalar::of(*literal);
            if (const auto* text = std::get_if<std::string>(literal)) {
                to.text = *text; // taken when asked: operands move
            }
            return to;
        }
        if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&from.of)) {
            return reached(**query, Operand::Asks::Value);
        }
        const FunctionCall& call = *std::get<std::shared_ptr<const FunctionCall>>(from.of);
        if (call.function == Function::Count || call.function == Function::Value) {
            return reached(*std::get<std::shared_ptr<const Query>>(call.arguments[0].of),
                           call.function == Function::Count ? Operand::Asks::Count : Operand::Asks::Value);
        }
        Operand inner = operand(call.arguments[0]); // length(): match and search are no values
        if (inner.asks != Operand::Asks::Value) {
            fail(ErrorCode::Invalid, "length() is asked of a number",
                 "Give it a field, as in length(@.note).");
        }
        inner.asks = Operand::Asks::Length;
        return inner;
    }

    Operand reached(const Query& query, Operand::Asks asks) {
        Operand to;
        to.kind = Operand::Kind::Reach;
        to.asks = asks;
        const auto nameOf = [&query](std::size_t i) -> const std::string* {
            const bool one = i < query.segments.size() && !query.segments[i].descendant &&
                             query.segments[i].selectors.size() == 1 &&
                             query.segments[i].selectors[0].kind == Selector::Kind::Name;
            return one ? &query.segments[i].selectors[0].name : nullptr;
        };
        if (query.fromRoot) {
            const std::string* of = nameOf(0);
            const std::string* name = nameOf(1);
            const bool isState = of != nullptr && *of == "state";
            if (of == nullptr || (*of != "parameters" && !isState) || name == nullptr ||
                query.segments.size() != 2) {
                fail(ErrorCode::Invalid,
                     "$ stands for the collection, which has nothing but parameters and state here",
                     "Write $.parameters.NAME or $.state.NAME; the record's fields are @.NAME.");
                return to;
            }
            take(isState ? scope_.resolveState(*name) : scope_.resolveParameter(*name), to);
            return to;
        }
        if (query.segments.empty() && scope_.inRepeat) {
            take(scope_.resolve("entry"), to);
            return to;
        }
        const std::string* name = nameOf(0);
        if (name == nullptr || (query.segments.size() > 1 && asksRoot(query))) {
            if (scope_.inRepeat) {
                fail(ErrorCode::Invalid, "a rule about an entry asks for its members by name",
                     "Begin with a member, as in @.name.");
            }
            to.kind = Operand::Kind::Whole;
            to.query = std::make_shared<const Query>(query);
            rule_.readsRecord_ = true;
            if (asksRoot(query)) {
                rule_.readsParameters_ = true;
                rule_.readsState_ = scope_.hasState ? ItemState::all() : ItemState();
            }
            return to;
        }
        const std::string field = renamed(*name);
        if (!scope_.inRepeat && !scope_.records.find(field)) {
            to.kind = Operand::Kind::Absent; // the standard has it so: services leave out what is not there
            rule_.absent_.push_back(field);
            return to;
        }
        take(scope_.resolve(field), to);
        if (query.segments.size() > 1) {
            auto rest = std::make_shared<Query>(query);
            rest->segments.erase(rest->segments.begin());
            to.reach.rest = std::move(rest);
        }
        return to;
    }

    /// A piece's input stands for the field it was given.
    std::string renamed(const std::string& name) {
        if (scope_.inputs == nullptr || !scope_.inputs->contains(name)) {
            return name;
        }
        const std::string& given = scope_.inputs->find(name)->second;
        if (given.size() > 2 && given.front() == '{' && given.find_first_of("{},$ ", 1) == given.size() - 1) {
            return given.substr(1, given.size() - 2);
        }
        fail(ErrorCode::Invalid,
             fmt::format("a rule of the piece asks for its input \"{}\", which is a text", name),
             "Give the piece one field in braces, as in {status}.");
        return name;
    }

    void take(Result<ValueRef> ref, Operand& to) {
        if (!ref) {
            error_ = error_ ? error_ : std::move(ref.error());
            return;
        }
        const bool parameter = ref->from == ValueRef::From::Parameter;
        const bool state = ref->from == ValueRef::From::State;
        rule_.readsParameters_ = rule_.readsParameters_ || parameter;
        rule_.readsRecord_ = rule_.readsRecord_ || (!parameter && !state);
        if (state) {
            rule_.readsState_.set(ref->flag);
        }
        to.reach.ref = std::move(*ref);
    }

    const NameScope& scope_;
    Rule& rule_;
    std::optional<Error> error_;
};

Result<Rule> Rule::compile(std::string_view text, const NameScope& scope) {
    auto path = JsonPath::parse(std::string(kBefore) + std::string(text) + "]");
    const auto shifted = [](Error error) {
        error.place.column =
            std::max<std::int64_t>(1, error.place.column - static_cast<std::int64_t>(kBefore.size()));
        return error;
    };
    if (!path) {
        Error error = shifted(std::move(path.error()));
        error.message = fmt::format("the rule \"{}\" cannot be read: {}", text, error.message);
        return error;
    }
    const auto& segments = path->query().segments;
    if (segments.size() != 1 || segments[0].descendant || segments[0].selectors.size() != 1 ||
        segments[0].selectors[0].kind != Selector::Kind::Filter) {
        Error error{ErrorCode::Syntax,
                    fmt::format("the rule \"{}\" is not one expression", text),
                    "Write one condition, as in @.count > 5 && @.status == \"queried\".",
                    {}};
        error.place.column = 1;
        return error;
    }
    Rule rule;
    RuleCompiler compiler(scope, rule);
    rule.root_ = std::make_unique<Node>(compiler.node(*segments[0].selectors[0].filter));
    if (compiler.error()) {
        Error error = std::move(*compiler.error());
        error.message = fmt::format("in the rule \"{}\": {}", text, error.message);
        return error;
    }
    return rule;
}

/// One asking of a rule.
class RuleEvaluation {
public:
    explicit RuleEvaluation(const FillContext& context) : context_(context) {}

    bool holds(const Rule::Node& node) {
        switch (node.kind) {
        case Logical::Kind::Or:
            return std::ranges::any_of(node.parts, [&](const Rule::Node& part) { return holds(part); });
        case Logical::Kind::And:
            return std::ranges::all_of(node.parts, [&](const Rule::Node& part) { return holds(part); });
        case Logical::Kind::Not:
            return !holds(node.parts[0]);
        case Logical::Kind::Exists:
            if (node.left.kind == Operand::Kind::Reach && node.left.reach.ref.from == ValueRef::From::State) {
                return context_.state.has(node.left.reach.ref.flag); // what is not so is not there
            }
            return isThere(node.left);
        case Logical::Kind::Call:
            return called(node);
        case Logical::Kind::Compare:
            break;
        }
        return rule_nodes::holds(node.comparison, value(node.left, 0), value(node.right, 1));
    }

private:
    bool called(const Rule::Node& node) {
        const Scalar subject = value(node.left, 0);
        if (subject.kind != Scalar::Kind::Text) {
            return false;
        }
        if (node.pattern) {
            return node.pattern->matches(subject.text, node.whole);
        }
        const Scalar pattern = value(node.right, 1);
        return pattern.kind == Scalar::Kind::Text &&
               node.asked.matches(subject.text, std::string(pattern.text), node.whole);
    }

    bool isThere(const Operand& operand) {
        if (operand.kind == Operand::Kind::Whole || operand.reach.rest) {
            return !nodes(operand, 0).empty();
        }
        return operand.kind != Operand::Kind::Absent &&
               plain(operand.reach.ref, 0).kind != Scalar::Kind::Nothing;
    }

    Scalar value(const Operand& operand, std::size_t side) {
        if (operand.asks == Operand::Asks::Count) {
            const bool isPlain = operand.kind == Operand::Kind::Reach && !operand.reach.rest;
            const std::size_t count = operand.kind == Operand::Kind::Absent ? 0
                                      : isPlain                             ? (isThere(operand) ? 1U : 0U)
                                                                            : nodes(operand, side).size();
            return Scalar::of(static_cast<long double>(count));
        }
        const Scalar of = itself(operand, side);
        return operand.asks == Operand::Asks::Length ? jsonpath::lengthOf(of) : of;
    }

    Scalar itself(const Operand& operand, std::size_t side) {
        switch (operand.kind) {
        case Operand::Kind::Constant:
            return operand.fixed();
        case Operand::Kind::Reach:
            if (!operand.reach.rest) {
                return plain(operand.reach.ref, side);
            }
            break;
        case Operand::Kind::Whole:
            break;
        case Operand::Kind::Absent:
            return {};
        }
        const auto found = nodes(operand, side);
        return found.size() == 1 ? Scalar::of(found[0].value) : Scalar();
    }

    Scalar plain(const ValueRef& ref, std::size_t side) {
        switch (ref.from) {
        case ValueRef::From::Parameter:
            return rule_nodes::valueOf((*context_.parameters)[static_cast<std::size_t>(ref.parameter)]);
        case ValueRef::From::State:
            return Scalar::of(context_.state.has(ref.flag));
        case ValueRef::From::EntryCount:
            return Scalar::of(static_cast<long double>(context_.more));
        case ValueRef::From::Entry:
        case ValueRef::From::EntryMember: {
            if (context_.entries == nullptr || context_.entry < 0) {
                return {};
            }
            const auto entry = static_cast<std::size_t>(context_.entry);
            std::string& room = sides_[side].text;
            const bool there = ref.from == ValueRef::From::Entry
                                   ? context_.entries->text(entry, room)
                                   : context_.entries->member(entry, ref.member, room);
            if (!there) {
                return {};
            }
            char* end = nullptr;
            const long double number = std::strtold(room.c_str(), &end);
            return !room.empty() && end == room.c_str() + room.size() ? Scalar::of(number)
                                                                      : Scalar::of(std::string_view(room));
        }
        case ValueRef::From::Field:
            break;
        }
        const RecordTable& records = context_.records;
        if (context_.record < 0 || !records.has(context_.record, ref.field)) {
            return {};
        }
        switch (ref.type) {
        case FieldType::Boolean:
            return Scalar::of(records.boolean(context_.record, ref.field));
        case FieldType::Integer:
            return Scalar::of(static_cast<long double>(records.integer(context_.record, ref.field)));
        case FieldType::Real:
            return Scalar::of(static_cast<long double>(records.real(context_.record, ref.field)));
        case FieldType::List:
        case FieldType::Object: {
            Scalar structure;
            structure.kind = Scalar::Kind::Structure;
            structure.text = records.text(context_.record, ref.field);
            return structure;
        }
        default:
            return Scalar::of(records.text(context_.record, ref.field));
        }
    }

    /// The nodes that a query selects inside a value, or in the record as a whole. They live until the same
    /// side is asked again.
    std::vector<jsonpath::Node> nodes(const Operand& operand, std::size_t side) {
        Side& room = sides_[side];
        simdjson::dom::element current;
        simdjson::dom::element root;
        const bool isWhole = operand.kind == Operand::Kind::Whole;
        if (isWhole) {
            if (context_.record < 0) {
                return {};
            }
            room.json = recordJson(context_.records, context_.record);
        } else {
            const Scalar of = plain(operand.reach.ref, side);
            if (of.kind != Scalar::Kind::Structure) {
                return {};
            }
            room.json.assign(of.text);
        }
        if (room.parser.parse(room.json).get(current) != simdjson::SUCCESS) {
            return {};
        }
        root = current;
        if (isWhole && room.rootParser.parse(rootJson()).get(root) != simdjson::SUCCESS) {
            return {};
        }
        auto found =
            jsonpath::select(isWhole ? *operand.query : *operand.reach.rest, root, current, false, {});
        return found ? std::move(*found) : std::vector<jsonpath::Node>{};
    }

    /// What $ is for a query that needs the whole record.
    std::string rootJson() const {
        std::string json;
        for (const Parameter& parameter :
             context_.parameters == nullptr ? Parameters{} : *context_.parameters) {
            json += fmt::format("{}{}:{}", json.empty() ? "" : ",", quotedJson(parameter.name),
                                parameter.type == ParameterType::Number ? fmt::format("{}", parameter.number)
                                : parameter.type == ParameterType::Text
                                    ? quotedJson(parameter.text)
                                    : std::string(parameter.yes ? "true" : "false"));
        }
        std::string state; // what is not so is not there
        for (std::size_t flag = 0; flag < kItemFlagNames.size(); ++flag) {
            if (context_.state.has(static_cast<ItemFlag>(flag))) {
                state += fmt::format("{}\"{}\":true", state.empty() ? "" : ",", kItemFlagNames[flag]);
            }
        }
        return fmt::format(R"({{"parameters":{{{}}},"state":{{{}}}}})", json, state);
    }

    struct Side {
        std::string text;
        std::string json;
        simdjson::dom::parser parser;
        simdjson::dom::parser rootParser;
    };
    const FillContext& context_;
    std::array<Side, 2> sides_;
};

bool Rule::holds(const FillContext& context) const {
    return holds(*root_, context);
}

bool Rule::holds(const Node& node, const FillContext& context) {
    return RuleEvaluation(context).holds(node);
}

} // namespace scorrere
