// SPDX-License-Identifier: Apache-2.0
//
// The standard's parser gives the expression's tree; here its queries are turned into field handles once, so
// that the usual rule (a field against a literal or a parameter) reads columns and nothing else. Only a query
// that goes on inside a list or object parses that one value and hands the rest to the general evaluator.
#include "engine/design/rule.h"

#include "engine/record/json_path.h"
#include "engine/record/json_path_eval.h"

#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <simdjson.h>
#include <unicode/regex.h>

namespace scorrere {

using jsonpath::Comparable;
using jsonpath::Comparison;
using jsonpath::Function;
using jsonpath::FunctionCall;
using jsonpath::Literal;
using jsonpath::Logical;
using jsonpath::Query;
using jsonpath::Selector;

namespace {

constexpr std::string_view kBefore = "$[?";

icu::UnicodeString utf16(std::string_view text) {
    return icu::UnicodeString::fromUTF8(icu::StringPiece(text.data(), static_cast<int>(text.size())));
}

/// One value in a comparison; texts are borrowed from the record, the rule or the evaluation's own room.
struct Scalar {
    enum class Kind : std::uint8_t { Nothing, Null, Boolean, Number, Text, Structure };
    Kind kind = Kind::Nothing;
    bool boolean = false;
    double number = 0;
    std::string_view text;

    static Scalar of(double number) { return {Kind::Number, false, number, {}}; }
    static Scalar of(std::string_view text) { return {Kind::Text, false, 0, text}; }
    static Scalar of(bool yes) { return {Kind::Boolean, yes, 0, {}}; }
};

/// A query on the record: a name's value, and where the query goes on inside it.
struct Reach {
    ValueRef ref;
    std::shared_ptr<const Query> rest; ///< from the value's root; null: the value itself
};

struct Operand {
    enum class Kind : std::uint8_t { Constant, Reach, Length, Count };
    Kind kind = Kind::Constant;
    Scalar constant;
    std::string text; ///< of a constant text
    Reach reach;
};

} // namespace

struct Rule::Node {
    Logical::Kind kind = Logical::Kind::Exists;
    std::vector<Node> parts;
    Comparison comparison = Comparison::Equal;
    Operand left, right;                        ///< Compare; Call: subject and pattern. Exists: left
    bool whole = false;                         ///< Call: match, not search
    std::shared_ptr<icu::RegexPattern> pattern; ///< when it is a literal
};

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
            to.left = reached(*from.query, Operand::Kind::Reach);
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
        UErrorCode status = U_ZERO_ERROR;
        UParseError at{};
        node.pattern = std::shared_ptr<icu::RegexPattern>(
            icu::RegexPattern::compile(utf16(jsonpath::iRegexpForIcu(node.right.text)), 0, at, status));
        if (U_FAILURE(status)) {
            fail(ErrorCode::Syntax, fmt::format("\"{}\" is not a regular expression", node.right.text),
                 "Write it as RFC 9485 has it, as in \"[A-Z].*\".");
        }
    }

    Operand operand(const Comparable& from) {
        if (const auto* literal = std::get_if<Literal>(&from.of)) {
            Operand to;
            if (const auto* text = std::get_if<std::string>(literal)) {
                to.text = *text;
                to.constant.kind = Scalar::Kind::Text; // its text is taken when asked: operands move
            } else if (const auto* whole = std::get_if<std::int64_t>(literal)) {
                to.constant = Scalar::of(static_cast<double>(*whole));
            } else if (const auto* real = std::get_if<double>(literal)) {
                to.constant = Scalar::of(*real);
            } else if (const auto* yes = std::get_if<bool>(literal)) {
                to.constant = Scalar::of(*yes);
            } else {
                to.constant.kind = Scalar::Kind::Null;
            }
            return to;
        }
        if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&from.of)) {
            return reached(**query, Operand::Kind::Reach);
        }
        const FunctionCall& call = *std::get<std::shared_ptr<const FunctionCall>>(from.of);
        if (call.function == Function::Count || call.function == Function::Value) {
            return reached(*std::get<std::shared_ptr<const Query>>(call.arguments[0].of),
                           call.function == Function::Count ? Operand::Kind::Count : Operand::Kind::Reach);
        }
        Operand inner = operand(call.arguments[0]); // length(): match and search are no values
        if (inner.kind != Operand::Kind::Reach) {
            fail(ErrorCode::Invalid, "length() is asked of something that is not a field",
                 "Give it a field, as in length(@.note).");
        }
        inner.kind = Operand::Kind::Length;
        return inner;
    }

    Operand reached(const Query& query, Operand::Kind kind) {
        Operand to;
        to.kind = kind;
        const auto nameOf = [&query](std::size_t i) -> const std::string* {
            const bool one = i < query.segments.size() && !query.segments[i].descendant &&
                             query.segments[i].selectors.size() == 1 &&
                             query.segments[i].selectors[0].kind == Selector::Kind::Name;
            return one ? &query.segments[i].selectors[0].name : nullptr;
        };
        std::size_t taken = 1;
        if (query.fromRoot) {
            const std::string* name = nameOf(1);
            if (nameOf(0) == nullptr || *nameOf(0) != "parameters" || name == nullptr ||
                query.segments.size() != 2) {
                fail(ErrorCode::Invalid, "$ stands for the collection, which has nothing but parameters here",
                     "Write $.parameters.NAME; the record's fields are @.NAME.");
                return to;
            }
            take(scope_.resolveParameter(*name), to);
            return to;
        }
        if (query.segments.empty() && scope_.inRepeat) {
            take(scope_.resolve("entry"), to);
            return to;
        }
        if (const std::string* name = nameOf(0)) {
            take(scope_.resolve(renamed(*name)), to);
        } else {
            fail(ErrorCode::Invalid, "a rule asks for fields by name", "Begin with a field, as in @.status.");
            return to;
        }
        if (query.segments.size() > taken) {
            auto rest = std::make_shared<Query>(query);
            rest->fromRoot = true;
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
        rule_.readsParameters_ = rule_.readsParameters_ || parameter;
        rule_.readsRecord_ = rule_.readsRecord_ || !parameter;
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
            return node.left.reach.rest ? count(node.left) > 0
                                        : value(node.left, 0).kind != Scalar::Kind::Nothing;
        case Logical::Kind::Call:
            return called(node);
        case Logical::Kind::Compare:
            break;
        }
        const Scalar left = value(node.left, 0);
        const Scalar right = value(node.right, 1);
        switch (node.comparison) {
        case Comparison::Equal:
            return equal(left, right);
        case Comparison::Unequal:
            return !equal(left, right);
        case Comparison::Less:
            return less(left, right);
        case Comparison::LessOrEqual:
            return less(left, right) || equal(left, right);
        case Comparison::Greater:
            return less(right, left);
        case Comparison::GreaterOrEqual:
            return less(right, left) || equal(left, right);
        }
        return false;
    }

private:
    static bool equal(const Scalar& a, const Scalar& b) {
        const auto isNone = [](const Scalar& s) {
            return s.kind == Scalar::Kind::Nothing || s.kind == Scalar::Kind::Null;
        };
        if (isNone(a) || isNone(b)) {
            return isNone(a) && isNone(b);
        }
        if (a.kind != b.kind) {
            return false;
        }
        return a.kind == Scalar::Kind::Number    ? a.number == b.number
               : a.kind == Scalar::Kind::Boolean ? a.boolean == b.boolean
                                                 : a.text == b.text;
    }
    /// Section 2.3.5.2.2: only numbers and texts have an order.
    static bool less(const Scalar& a, const Scalar& b) {
        if (a.kind != b.kind) {
            return false;
        }
        return a.kind == Scalar::Kind::Number ? a.number < b.number
                                              : a.kind == Scalar::Kind::Text && a.text < b.text;
    }

    bool called(const Rule::Node& node) {
        const Scalar subject = value(node.left, 0);
        if (subject.kind != Scalar::Kind::Text) {
            return false;
        }
        UErrorCode status = U_ZERO_ERROR;
        const icu::UnicodeString text = utf16(subject.text);
        std::unique_ptr<icu::RegexMatcher> matcher;
        if (node.pattern) {
            matcher.reset(node.pattern->matcher(text, status));
        } else {
            const Scalar pattern = value(node.right, 1);
            if (pattern.kind != Scalar::Kind::Text) {
                return false;
            }
            matcher =
                std::make_unique<icu::RegexMatcher>(utf16(jsonpath::iRegexpForIcu(pattern.text)), 0, status);
            if (U_SUCCESS(status)) {
                matcher->reset(text);
            }
        }
        if (U_FAILURE(status)) {
            return false; // a pattern that is none matches nothing (section 2.4.6)
        }
        matcher->setTimeLimit(50, status); // a frame has no time for a pattern that runs away
        return (node.whole ? matcher->matches(status) : matcher->find(status) != 0) && U_SUCCESS(status);
    }

    Scalar value(const Operand& operand, std::size_t side) {
        switch (operand.kind) {
        case Operand::Kind::Constant: {
            Scalar constant = operand.constant;
            constant.text = operand.text;
            return constant;
        }
        case Operand::Kind::Count:
            return Scalar::of(static_cast<double>(count(operand)));
        case Operand::Kind::Reach:
            return operand.reach.rest ? inside(operand, side) : plain(operand.reach.ref, side);
        case Operand::Kind::Length:
            return length(operand, side);
        }
        return {};
    }

    Scalar length(const Operand& operand, std::size_t side) {
        const Scalar of = operand.reach.rest ? inside(operand, side) : plain(operand.reach.ref, side);
        if (of.kind == Scalar::Kind::Text) {
            return Scalar::of(static_cast<double>(std::ranges::count_if(
                of.text, [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; })));
        }
        if (of.kind != Scalar::Kind::Structure) {
            return {};
        }
        simdjson::dom::element root;
        if (parser_.parse(of.text.data(), of.text.size()).get(root) != simdjson::SUCCESS) {
            return {};
        }
        return Scalar::of(static_cast<double>(root.is_array() ? jsonpath::arrayOf(root).size()
                                                              : jsonpath::objectOf(root).size()));
    }

    Scalar plain(const ValueRef& ref, std::size_t side) {
        switch (ref.from) {
        case ValueRef::From::Parameter: {
            const Parameter& parameter = (*context_.parameters)[static_cast<std::size_t>(ref.parameter)];
            return parameter.type == ParameterType::Number ? Scalar::of(parameter.number)
                   : parameter.type == ParameterType::Text ? Scalar::of(std::string_view(parameter.text))
                                                           : Scalar::of(parameter.yes);
        }
        case ValueRef::From::EntryCount:
            return Scalar::of(static_cast<double>(context_.more));
        case ValueRef::From::Entry:
        case ValueRef::From::EntryMember: {
            if (context_.entries == nullptr || context_.entry < 0) {
                return {};
            }
            const auto entry = static_cast<std::size_t>(context_.entry);
            std::string& room = rooms_[side];
            const bool there = ref.from == ValueRef::From::Entry
                                   ? context_.entries->text(entry, room)
                                   : context_.entries->member(entry, ref.member, room);
            if (!there) {
                return {};
            }
            char* end = nullptr;
            const double number = std::strtod(room.c_str(), &end);
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
        case FieldType::Real:
            return Scalar::of(records.real(context_.record, ref.field));
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

    std::vector<jsonpath::Node> nodes(const Operand& operand) {
        const ValueRef& ref = operand.reach.ref;
        const Scalar of = plain(ref, 0);
        simdjson::dom::element root;
        if (of.kind != Scalar::Kind::Structure ||
            parser_.parse(of.text.data(), of.text.size()).get(root) != simdjson::SUCCESS) {
            return {};
        }
        auto found = jsonpath::select(*operand.reach.rest, root, false, {});
        return found ? std::move(*found) : std::vector<jsonpath::Node>{};
    }
    std::size_t count(const Operand& operand) {
        return operand.reach.rest                                          ? nodes(operand).size()
               : plain(operand.reach.ref, 0).kind != Scalar::Kind::Nothing ? 1
                                                                           : 0;
    }
    Scalar inside(const Operand& operand, std::size_t side) {
        const auto found = nodes(operand);
        if (found.size() != 1) {
            return {};
        }
        const simdjson::dom::element& value = found[0].value;
        using Type = simdjson::dom::element_type;
        switch (value.type()) {
        case Type::INT64:
            return Scalar::of(static_cast<double>(value.get_int64().value_unsafe()));
        case Type::UINT64:
            return Scalar::of(static_cast<double>(value.get_uint64().value_unsafe()));
        case Type::DOUBLE:
            return Scalar::of(value.get_double().value_unsafe());
        case Type::BOOL:
            return Scalar::of(value.get_bool().value_unsafe());
        case Type::NULL_VALUE: {
            Scalar null;
            null.kind = Scalar::Kind::Null;
            return null;
        }
        case Type::STRING:
            rooms_[side].assign(value.get_string().value_unsafe());
            return Scalar::of(std::string_view(rooms_[side]));
        default: {
            rooms_[side] = simdjson::minify(value);
            Scalar structure;
            structure.kind = Scalar::Kind::Structure;
            structure.text = rooms_[side];
            return structure;
        }
        }
    }

    const FillContext& context_;
    std::array<std::string, 2> rooms_;
    simdjson::dom::parser parser_;
};

bool Rule::holds(const FillContext& context) const {
    return RuleEvaluation(context).holds(*root_);
}

} // namespace scorrere
