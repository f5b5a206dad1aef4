// SPDX-License-Identifier: Apache-2.0
//
// A recursive-descent parser after the ABNF of RFC 9535, appendix A; functions are checked for well-typedness
// (section 2.4.3) as they are read, so that evaluation meets no surprises.
#include "engine/record/json_outline.h"

#include "engine/base/ascii.h"
#include "engine/base/nesting.h"
#include "engine/record/json_path.h"
#include "engine/record/record_builder.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace scorrere {

namespace {

using jsonpath::Comparable;
using jsonpath::Comparison;
using jsonpath::Function;
using jsonpath::FunctionCall;
using jsonpath::Literal;
using jsonpath::Logical;
using jsonpath::Null;
using jsonpath::Query;
using jsonpath::Selector;
using Step = jsonpath::Segment;

constexpr std::int64_t kMaxInteger = (std::int64_t{1} << 53) - 1; // what I-JSON keeps exact (RFC 7493)

bool isLower(char c) {
    return c >= 'a' && c <= 'z';
}
bool startsName(char c) {
    return isLower(c) || (c >= 'A' && c <= 'Z') || c == '_' || static_cast<unsigned char>(c) >= 0x80;
}

class Parser {
public:
    explicit Parser(std::string_view text) : text_(text) {}

    std::shared_ptr<const Query> parse() {
        if (const std::size_t bad = firstBadUtf8(text_); bad < text_.size()) {
            at_ = bad;
            fail("it is not valid UTF-8", "Write it in UTF-8.");
            return nullptr;
        }
        if (!take('$')) {
            fail("a path starts with $", "Begin at the document's root, as in $.items[*].");
            return nullptr;
        }
        Query query;
        segments(query);
        if (!error_ && at_ < text_.size()) {
            fail(fmt::format("{} cannot stand here", shown()),
                 "A step is .name, [index], [*], ..name or [?filter].");
        }
        return error_ ? nullptr : std::make_shared<const Query>(std::move(query));
    }
    const std::optional<Error>& error() const { return error_; }

private:
    bool more() const { return at_ < text_.size() && !error_; }
    char peek(std::size_t on = 0) const { return at_ + on < text_.size() ? text_[at_ + on] : '\0'; }
    bool take(char c) {
        if (!error_ && peek() == c && at_ < text_.size()) {
            ++at_;
            return true;
        }
        return false;
    }
    bool take(std::string_view word) {
        if (!error_ && text_.substr(at_).starts_with(word)) {
            at_ += word.size();
            return true;
        }
        return false;
    }
    void space() {
        while (more() && (peek() == ' ' || peek() == '\t' || peek() == '\n' || peek() == '\r')) {
            ++at_;
        }
    }
    std::string shown() const {
        return at_ >= text_.size() ? std::string("the end") : fmt::format("'{}'", text_.substr(at_, 1));
    }
    void fail(std::string message, std::string advice) {
        if (!error_) {
            error_ = Error{ErrorCode::Syntax, std::move(message), std::move(advice), {}};
            error_->place.column = static_cast<std::int64_t>(at_) + 1;
        }
    }

    void segments(Query& query) {
        while (!error_) {
            const std::size_t before = at_;
            space();
            if (peek() != '.' && peek() != '[') {
                at_ = before;
                return;
            }
            Step segment;
            if (take("..")) {
                segment.descendant = true;
                if (peek() == '[') {
                    bracketed(segment);
                } else {
                    shorthand(segment);
                }
            } else if (take('.')) {
                shorthand(segment);
            } else {
                bracketed(segment);
            }
            query.segments.push_back(std::move(segment));
        }
    }

    void shorthand(Step& segment) {
        Selector selector;
        if (take('*')) {
            segment.selectors.push_back(std::move(selector));
            return;
        }
        if (!startsName(peek())) {
            return fail(fmt::format("{} cannot start a name", shown()),
                        "Write other names in brackets and quotes, as in ['first name'].");
        }
        selector.kind = Selector::Kind::Name;
        while (at_ < text_.size() && (startsName(peek()) || isDigit(peek()))) {
            selector.name += text_[at_++];
        }
        segment.selectors.push_back(std::move(selector));
    }

    void bracketed(Step& segment) {
        take('[');
        do {
            space();
            selector(segment);
            space();
        } while (take(','));
        if (!take(']')) {
            fail(fmt::format("expected , or ] here, found {}", shown()), "Close the brackets.");
        }
    }

    void selector(Step& segment) {
        Selector made;
        if (take('*')) {
            segment.selectors.push_back(std::move(made));
        } else if (peek() == '\'' || peek() == '"') {
            made.kind = Selector::Kind::Name;
            made.name = string();
            segment.selectors.push_back(std::move(made));
        } else if (take('?')) {
            space();
            made.kind = Selector::Kind::Filter;
            made.filter = std::make_shared<const Logical>(logicalOr());
            segment.selectors.push_back(std::move(made));
        } else {
            indexOrSlice(segment);
        }
    }

    void indexOrSlice(Step& segment) {
        Selector made;
        made.kind = Selector::Kind::Index;
        std::optional<std::int64_t> first;
        if (peek() != ':') {
            first = integer();
            if (error_) {
                return;
            }
            const std::size_t before = at_;
            space();
            if (peek() != ':') {
                at_ = before;
                made.index = *first;
                segment.selectors.push_back(std::move(made));
                return;
            }
        }
        take(':');
        made.kind = Selector::Kind::Slice;
        made.start = first;
        space();
        if (isDigit(peek()) || peek() == '-') {
            made.end = integer();
            space();
        }
        if (take(':')) {
            space();
            if (isDigit(peek()) || peek() == '-') {
                made.step = integer().value_or(1);
            }
        }
        segment.selectors.push_back(std::move(made));
    }

    std::optional<std::int64_t> integer() {
        const std::size_t start = at_;
        take('-');
        if (!isDigit(peek())) {
            at_ = start;
            fail(fmt::format("expected a selector, found {}", shown()),
                 "In brackets stand: a name in quotes, an index, a slice as in 0:10, * or ?filter.");
            return std::nullopt;
        }
        std::int64_t value = 0;
        while (isDigit(peek()) && value <= kMaxInteger) {
            value = value * 10 + (text_[at_++] - '0');
        }
        const std::size_t digits = start + (text_[start] == '-' ? 1 : 0);
        const bool zero = text_[digits] == '0';
        if (value > kMaxInteger || (zero && (at_ > digits + 1 || digits > start))) {
            at_ = start;
            fail("an index is a whole number without needless zeros, at most 2^53 - 1", "Write it plainly.");
            return std::nullopt;
        }
        return text_[start] == '-' ? -value : value;
    }

    std::string string() {
        const char quote = text_[at_];
        const std::size_t start = at_++;
        std::string json = "\"";
        while (at_ < text_.size() && peek() != quote) {
            const char c = text_[at_];
            if (static_cast<unsigned char>(c) < 0x20) {
                fail("a name holds a control character", "Escape it, as in \\n.");
                return {};
            }
            if (c == '\\') {
                const char kind = peek(1);
                const bool known =
                    kind == quote || std::string_view("bfnrt/\\u").find(kind) != std::string_view::npos;
                if (!known || kind == '\0' || (kind == 'u' && !unicode())) {
                    fail("this escape is not one of JSONPath's",
                         "Known are \\b \\f \\n \\r \\t \\/ \\\\ \\uXXXX and the quote.");
                    return {};
                }
                if (kind == '\'') {
                    json += '\'';
                    at_ += 2;
                    continue;
                }
                json += c;
                json += kind;
                at_ += 2;
                continue;
            }
            json += c == '"' ? "\\\"" : std::string(1, c);
            ++at_;
        }
        if (!take(quote)) {
            at_ = start;
            fail("a name or text is not closed", "Add the closing quote.");
            return {};
        }
        return unescapedJson(json + '"');
    }

    static constexpr unsigned kNoHex = ~0U;
    /// The four hexadecimal digits at a place; kNoHex when there are none.
    unsigned hexAt(std::size_t at) const {
        unsigned value = 0;
        for (std::size_t i = at; i < at + 4; ++i) {
            const char c = i < text_.size() ? text_[i] : '\0';
            const bool letter = (c >= 'a' && c <= 'f') || (c >= 'A' && c <= 'F');
            if (!isDigit(c) && !letter) {
                return kNoHex;
            }
            value = value * 16 + static_cast<unsigned>(isDigit(c) ? c - '0' : (c | 0x20) - 'a' + 10);
        }
        return value;
    }
    /// Whether \uXXXX at the place is a character, or the first half of one followed by its second.
    bool unicode() const {
        const unsigned code = hexAt(at_ + 2);
        if (code == kNoHex) {
            return false;
        }
        const bool high = code >= 0xD800 && code < 0xDC00;
        const bool low = code >= 0xDC00 && code < 0xE000;
        if (low) {
            // right only behind its first half, which was looked at just before
            const unsigned before = at_ >= 6 && text_.substr(at_ - 6, 2) == "\\u" ? hexAt(at_ - 4) : kNoHex;
            return before >= 0xD800 && before < 0xDC00;
        }
        if (!high) {
            return true;
        }
        const unsigned second =
            text_.substr(std::min(at_ + 6, text_.size())).starts_with("\\u") ? hexAt(at_ + 8) : kNoHex;
        return second >= 0xDC00 && second < 0xE000;
    }

    Logical logicalOr() {
        Logical first = logicalAnd();
        space();
        if (!text_.substr(std::min(at_, text_.size())).starts_with("||")) {
            return first;
        }
        Logical whole;
        whole.kind = Logical::Kind::Or;
        whole.parts.push_back(std::move(first));
        while (take("||")) {
            space();
            whole.parts.push_back(logicalAnd());
            space();
        }
        return whole;
    }

    Logical logicalAnd() {
        Logical first = basic();
        space();
        if (!text_.substr(std::min(at_, text_.size())).starts_with("&&")) {
            return first;
        }
        Logical whole;
        whole.kind = Logical::Kind::And;
        whole.parts.push_back(std::move(first));
        while (take("&&")) {
            space();
            whole.parts.push_back(basic());
            space();
        }
        return whole;
    }

    Logical negated(Logical inner, bool isNegated) {
        if (!isNegated) {
            return inner;
        }
        Logical made;
        made.kind = Logical::Kind::Not;
        made.parts.push_back(std::move(inner));
        return made;
    }

    Logical basic() {
        if (++depth_ > kMaxNesting) {
            fail(fmt::format("filters are nested more than {} deep", kMaxNesting),
                 "Make the filter simpler.");
            return {};
        }
        const bool isNegated = take('!');
        if (isNegated) {
            space();
        }
        Logical made;
        if (take('(')) {
            space();
            made = logicalOr();
            space();
            if (!take(')')) {
                fail(fmt::format("expected ) here, found {}", shown()), "Close the parenthesis.");
            }
        } else {
            made = testOrComparison(isNegated);
        }
        --depth_;
        return negated(std::move(made), isNegated);
    }

    Logical testOrComparison(bool isNegated) {
        const std::size_t start = at_;
        Comparable left = comparable();
        if (error_) {
            return {};
        }
        const std::size_t afterLeft = at_;
        space();
        Logical made;
        if (const auto comparison = this->comparison()) {
            if (isNegated) {
                fail("! stands before a comparison", "Put the comparison in parentheses.");
            }
            space();
            made.kind = Logical::Kind::Compare;
            made.comparison = *comparison;
            made.left = std::move(left);
            made.right = comparable();
            mustHaveValue(made.left, start);
            mustHaveValue(made.right, at_);
            return made;
        }
        at_ = afterLeft;
        if (auto* query = std::get_if<std::shared_ptr<const Query>>(&left.of)) {
            made.kind = Logical::Kind::Exists;
            made.query = *query;
        } else if (auto* call = std::get_if<std::shared_ptr<const FunctionCall>>(&left.of)) {
            if ((*call)->function != Function::Match && (*call)->function != Function::Search) {
                at_ = start;
                fail("this function gives a value, not yes or no",
                     "Compare it with something, as in length(@.a) > 2.");
            }
            made.kind = Logical::Kind::Call;
            made.call = *call;
        } else {
            at_ = start;
            fail("a literal alone is no condition", "Compare it with something.");
        }
        return made;
    }

    std::optional<Comparison> comparison() {
        if (take("==")) {
            return Comparison::Equal;
        }
        if (take("!=")) {
            return Comparison::Unequal;
        }
        if (take("<=")) {
            return Comparison::LessOrEqual;
        }
        if (take(">=")) {
            return Comparison::GreaterOrEqual;
        }
        if (take('<')) {
            return Comparison::Less;
        }
        if (take('>')) {
            return Comparison::Greater;
        }
        return std::nullopt;
    }

    void mustHaveValue(const Comparable& of, std::size_t at) {
        if (error_) {
            return;
        }
        if (const auto* query = std::get_if<std::shared_ptr<const Query>>(&of.of)) {
            if (!(*query)->isSingular()) {
                at_ = at;
                fail("a path that may select several nodes cannot be compared",
                     "Use names and indexes only, or count().");
            }
        } else if (const auto* call = std::get_if<std::shared_ptr<const FunctionCall>>(&of.of)) {
            if ((*call)->function == Function::Match || (*call)->function == Function::Search) {
                at_ = at;
                fail("match() and search() give yes or no, which cannot be compared",
                     "Use it alone, or with !.");
            }
        }
    }

    Comparable comparable() {
        if (peek() == '$' || peek() == '@') {
            Query query;
            query.fromRoot = peek() == '$';
            ++at_;
            if (++depth_ > kMaxNesting) {
                fail("paths are nested too deeply", "Make the filter simpler.");
            }
            segments(query);
            --depth_;
            return {std::make_shared<const Query>(std::move(query))};
        }
        if (peek() == '"' || peek() == '\'') {
            return {Literal(string())};
        }
        if (isDigit(peek()) || peek() == '-') {
            return {number()};
        }
        if (isLower(peek())) {
            std::string word;
            while (isLower(peek()) || isDigit(peek()) || peek() == '_') {
                word += text_[at_++];
            }
            if (peek() == '(') {
                return {call(word)};
            }
            if (word == "true" || word == "false") {
                return {Literal(word == "true")};
            }
            if (word == "null") {
                return {Literal(Null{})};
            }
            at_ -= word.size();
        }
        fail(fmt::format("expected a path, a value or a function here, found {}", shown()),
             "As in @.count > 3, 'text', or length(@.note).");
        return {Literal(Null{})};
    }

    Literal number() {
        const std::size_t start = at_;
        take('-');
        const std::size_t digits = at_;
        while (isDigit(peek())) {
            ++at_;
        }
        bool right = at_ > digits && (text_[digits] != '0' || at_ == digits + 1);
        bool real = text_.substr(start, at_ - start) == "-0";
        if (peek() == '.') {
            ++at_;
            right = right && isDigit(peek());
            real = true;
            while (isDigit(peek())) {
                ++at_;
            }
        }
        if (peek() == 'e' || peek() == 'E') {
            ++at_;
            at_ += peek() == '+' || peek() == '-' ? 1 : 0;
            right = right && isDigit(peek());
            real = true;
            while (isDigit(peek())) {
                ++at_;
            }
        }
        const std::string_view written = text_.substr(start, at_ - start);
        if (!right) {
            at_ = start;
            fail("a number is not written as JSON writes numbers", "As in 12, -3 or 0.5.");
            return Null{};
        }
        if (const auto whole = real ? std::nullopt : parseInteger(written)) {
            return *whole;
        }
        return std::strtold(std::string(written).c_str(), nullptr);
    }

    std::shared_ptr<const FunctionCall> call(const std::string& name) {
        static constexpr std::array<std::pair<std::string_view, Function>, 5> kFunctions{
            {{"length", Function::Length},
             {"count", Function::Count},
             {"match", Function::Match},
             {"search", Function::Search},
             {"value", Function::Value}}};
        const auto known = std::find_if(kFunctions.begin(), kFunctions.end(),
                                        [&](const auto& found) { return found.first == name; });
        auto made = std::make_shared<FunctionCall>();
        if (known == kFunctions.end()) {
            at_ -= name.size();
            fail(fmt::format("there is no function {}()", name),
                 "Known are length, count, match, search and value.");
            return made;
        }
        made->function = known->second;
        take('(');
        space();
        while (more() && peek() != ')') {
            if (++depth_ > kMaxNesting) {
                fail("functions are nested too deeply", "Make the filter simpler.");
            }
            const std::size_t start = at_;
            made->arguments.push_back(comparable());
            --depth_;
            const bool nodes = made->function == Function::Count || made->function == Function::Value;
            if (nodes && !std::holds_alternative<std::shared_ptr<const Query>>(made->arguments.back().of)) {
                at_ = start;
                fail(fmt::format("{}() takes a path", name), "As in count(@.traits[*]).");
            } else if (!nodes) {
                mustHaveValue(made->arguments.back(), start);
            }
            space();
            if (!take(',')) {
                break;
            }
            space();
            if (peek() == ')') {
                fail("an argument is missing", "Remove the comma, or add the argument.");
            }
        }
        if (!take(')')) {
            fail(fmt::format("expected ) here, found {}", shown()), "Close the function's parenthesis.");
        }
        const std::size_t wanted =
            made->function == Function::Match || made->function == Function::Search ? 2 : 1;
        if (made->arguments.size() != wanted) {
            fail(fmt::format("{}() takes {}", name, wanted == 1 ? "one argument" : "two arguments"),
                 "Give it just those.");
        }
        return made;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    int depth_ = 0;
    std::optional<Error> error_;
};

} // namespace

bool jsonpath::Query::isSingular() const {
    for (const Segment& segment : segments) {
        if (segment.descendant || segment.selectors.size() != 1 ||
            (segment.selectors[0].kind != Selector::Kind::Name &&
             segment.selectors[0].kind != Selector::Kind::Index)) {
            return false;
        }
    }
    return true;
}

Result<JsonPath> JsonPath::parse(std::string_view text) {
    Parser parser(text);
    auto query = parser.parse();
    if (!query) {
        Error error = *parser.error();
        error.message = fmt::format("in the path {}: {}", text.substr(0, 120), error.message);
        return error;
    }
    JsonPath path;
    path.text_ = std::string(text);
    path.query_ = std::move(query);
    return path;
}

std::optional<std::vector<std::string>> JsonPath::namesToArray() const {
    const auto& segments = query_->segments;
    if (segments.empty() || segments.back().descendant || segments.back().selectors.size() != 1 ||
        segments.back().selectors[0].kind != Selector::Kind::Wildcard) {
        return std::nullopt;
    }
    std::vector<std::string> names;
    for (std::size_t i = 0; i + 1 < segments.size(); ++i) {
        if (segments[i].descendant || segments[i].selectors.size() != 1 ||
            segments[i].selectors[0].kind != Selector::Kind::Name) {
            return std::nullopt;
        }
        names.push_back(segments[i].selectors[0].name);
    }
    return names;
}

} // namespace scorrere
