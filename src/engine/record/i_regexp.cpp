// SPDX-License-Identifier: Apache-2.0
//
// The grammar of RFC 9485, section 3, is checked here, since every engine knows more than it says; what
// passes is written out as the engine takes it (section 5.5 tells what differs). The engine builds an
// automaton and never tries one way after the other: (a+)+$ takes years on forty letters elsewhere.
#include "engine/record/i_regexp.h"

#include "engine/base/ascii.h"
#include "engine/base/nesting.h"

#include <fmt/format.h>
#include <optional>
#include <re2/re2.h>

namespace scorrere {

namespace {

constexpr int kMostRepeats = 1000; ///< as many as the engine takes

class Translator {
public:
    explicit Translator(std::string_view pattern) : pattern_(pattern) {}

    Result<std::string> translate() {
        branches();
        if (!error_ && at_ < pattern_.size()) {
            fail(fmt::format("'{}' closes nothing", pattern_[at_]), "Write \\) for the character.");
        }
        if (error_) {
            return std::move(*error_);
        }
        return std::move(out_);
    }

private:
    bool more() const { return at_ < pattern_.size(); }
    char peek() const { return more() ? pattern_[at_] : '\0'; }
    void copy() { out_ += pattern_[at_++]; }
    void fail(std::string message, std::string advice, ErrorCode code = ErrorCode::Syntax) {
        if (!error_) {
            error_ = Error{code, std::move(message), std::move(advice), {}};
            error_->place.column = static_cast<std::int64_t>(at_) + 1;
        }
    }

    void branches() {
        if (++depth_ > kMaxNesting) {
            fail(fmt::format("it nests more than {} deep", kMaxNesting), "Make it simpler.",
                 ErrorCode::TooLarge);
        }
        while (more() && peek() != ')' && !error_) {
            if (peek() == '|') {
                copy();
            } else {
                piece();
            }
        }
        --depth_;
    }

    void piece() {
        const std::size_t start = at_;
        atom();
        if (!error_ && (peek() == '*' || peek() == '+' || peek() == '?')) {
            copy();
        } else if (!error_ && peek() == '{') {
            range();
        }
        if (!error_ && more() && (peek() == '*' || peek() == '+' || peek() == '?' || peek() == '{')) {
            fail(fmt::format("'{}' stands behind a repeat", peek()),
                 "RFC 9485 has one repeat to a part, and none that takes as little as it can.");
        }
        if (!error_ && at_ == start) {
            fail(fmt::format("'{}' cannot stand here", peek()), "Write a \\ before it for the character.");
        }
    }

    void atom() {
        const char c = peek();
        switch (c) {
        case '(':
            if (pattern_.substr(at_).starts_with("(?")) {
                return fail("\"(?\" is not part of RFC 9485", "Groups are written ( ) and take no options.");
            }
            out_ += "(?:";
            ++at_;
            branches();
            if (peek() != ')') {
                return fail("a parenthesis is not closed", "Add the ).");
            }
            copy();
            return;
        case '.':
            out_ += "[^\\n\\r]";
            ++at_;
            return;
        case '[':
            return charClass();
        case '\\':
            return escape();
        case '*':
        case '+':
        case '?':
        case '{':
            return fail(fmt::format("'{}' has nothing to repeat", c),
                        fmt::format("Write \\{} for the character.", c));
        case ']':
        case '}':
            return fail(fmt::format("'{}' closes nothing", c),
                        fmt::format("Write \\{} for the character.", c));
        case '^':
        case '$': // characters like any other: the standard has no anchors
            out_ += '\\';
            copy();
            return;
        default:
            copy();
        }
    }

    void number(int& value) {
        value = 0;
        if (!isDigit(peek())) {
            return fail("a repeat in braces is no number", "Write {2}, {2,} or {2,5}.");
        }
        while (isDigit(peek()) && value <= kMostRepeats) {
            value = value * 10 + (peek() - '0');
            copy();
        }
        if (value > kMostRepeats) {
            fail(fmt::format("more than {} repeats", kMostRepeats), "Use * or +.", ErrorCode::TooLarge);
        }
    }
    void range() {
        copy();
        int least = 0;
        number(least);
        if (!error_ && peek() == ',') {
            copy();
            if (isDigit(peek())) {
                int most = 0;
                number(most);
                if (!error_ && most < least) {
                    fail("a repeat that ends before it begins", "Write the lesser number first.");
                }
            }
        }
        if (!error_ && peek() != '}') {
            return fail("a repeat in braces is not closed", "Write {2}, {2,} or {2,5}.");
        }
        if (!error_) {
            copy();
        }
    }

    /// SingleCharEsc, or a category: \p{Lu}, \P{N}.
    void escape() {
        const char c = at_ + 1 < pattern_.size() ? pattern_[at_ + 1] : '\0';
        if (c == 'p' || c == 'P') {
            const std::size_t end = pattern_.find('}', at_);
            const std::string_view name = end == std::string_view::npos || pattern_.substr(at_ + 2, 1) != "{"
                                              ? std::string_view()
                                              : pattern_.substr(at_ + 3, end - at_ - 3);
            const bool isCategory = !name.empty() && name.size() <= 2 &&
                                    std::string_view("LMNPZSC").find(name[0]) != std::string_view::npos;
            if (!isCategory) {
                return fail("no category of characters", "As in \\p{Lu} or \\P{N}.");
            }
            out_ += pattern_.substr(at_, end + 1 - at_);
            at_ = end + 1;
            return;
        }
        if (c == '\0' || std::string_view("()*+-.?[\\]^nrt{|}").find(c) == std::string_view::npos) {
            return fail(c == '\0' ? std::string("a \\ stands at the end")
                                  : fmt::format("\\{} is not part of RFC 9485", c),
                        c == 'd'   ? "Write [0-9]."
                        : c == 'w' ? "Write [A-Za-z0-9_], or \\p{L} for letters."
                        : c == 's' ? "Write [ \\t\\n\\r]."
                                   : "A \\ stands before ( ) * + - . ? [ \\ ] ^ { | } and n, r, t only.");
        }
        copy();
        copy();
    }

    void charClass() {
        const std::size_t start = at_;
        copy();
        if (peek() == '^') {
            copy();
        }
        bool isAny = false;
        while (more() && peek() != ']' && !error_) {
            if (peek() == '\\') {
                escape();
            } else if (peek() == '[') {
                return fail("a [ inside brackets", "Write \\[ for the character.");
            } else if (peek() == '-' && isAny && at_ + 1 < pattern_.size() && pattern_[at_ + 1] != ']') {
                copy();
                continue; // a range
            } else if (peek() == '-') {
                out_ += "\\-";
                ++at_;
            } else {
                if (peek() == '^' || peek() == '&' || peek() == '~') {
                    out_ += '\\'; // whatever the engine would make of them
                }
                copy();
            }
            isAny = true;
        }
        if (!error_ && (!isAny || peek() != ']')) {
            at_ = start;
            return fail(isAny ? "a bracket is not closed" : "brackets with nothing in them", "As in [a-z].");
        }
        if (!error_) {
            copy();
        }
    }

    std::string_view pattern_;
    std::size_t at_ = 0;
    int depth_ = 0;
    std::string out_;
    std::optional<Error> error_;
};

} // namespace

Result<IRegexp> IRegexp::compile(std::string_view pattern) {
    auto written = Translator(pattern).translate();
    if (!written) {
        Error error = std::move(written.error());
        error.message = fmt::format("\"{}\" is not a regular expression: {}", pattern, error.message);
        return error;
    }
    re2::RE2::Options options;
    options.set_log_errors(false);
    options.set_never_capture(true);
    auto engine = std::make_shared<const re2::RE2>(*written, options);
    if (!engine->ok()) {
        return Error{engine->error_code() == re2::RE2::ErrorPatternTooLarge ? ErrorCode::TooLarge
                                                                            : ErrorCode::Syntax,
                     fmt::format("\"{}\" is not a regular expression: {}", pattern, engine->error()),
                     "Write it as RFC 9485 has it, as in \"[A-Z].*\".",
                     {}};
    }
    IRegexp made;
    made.engine_ = std::move(engine);
    return made;
}

bool IRegexp::matches(std::string_view text, bool whole) const {
    const re2::StringPiece subject(text.data(), text.size());
    return whole ? re2::RE2::FullMatch(subject, *engine_) : re2::RE2::PartialMatch(subject, *engine_);
}

bool AskedPatterns::matches(std::string_view text, const std::string& pattern, bool whole) {
    constexpr std::size_t kMost = 100;
    auto known = known_.find(pattern);
    if (known == known_.end()) {
        if (known_.size() >= kMost) {
            known_.clear();
        }
        auto made = IRegexp::compile(pattern);
        known = known_.emplace(pattern, made ? std::optional(std::move(*made)) : std::nullopt).first;
    }
    return known->second && known->second->matches(text, whole);
}

std::string misreadOf(std::string_view pattern) {
    const bool start = pattern.starts_with('^');
    const bool end = pattern.ends_with('$') && !pattern.ends_with("\\$");
    if (!start && !end) {
        return {};
    }
    return fmt::format("{} in \"{}\" is a character like any other: RFC 9485 has no anchors",
                       start ? '^' : '$', pattern);
}

} // namespace scorrere
