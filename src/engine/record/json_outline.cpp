// SPDX-License-Identifier: Apache-2.0
#include "engine/record/json_outline.h"

#include "engine/base/ascii.h"
#include "engine/base/utf8.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

namespace {

bool isSpace(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

class Scanner {
public:
    Scanner(std::string_view text, const JsonOutline::Limits& limits, JsonOutline& out)
        : text_(text), limits_(limits), out_(out) {}

    void scan() {
        if (text_.starts_with("\xEF\xBB\xBF")) {
            at_ = 3;
        }
        skipSpace();
        if (at_ == text_.size()) {
            return fail("there is nothing in it", true);
        }
        bool whole = value(0, 0);
        while (whole && !open_.empty()) {
            whole = next();
        }
        if (whole) {
            skipSpace();
            if (at_ < text_.size()) {
                fail("there is more after the end of the value");
            }
        }
        while (!open_.empty()) {
            close();
        }
    }

private:
    struct Open {
        std::int32_t node; ///< -1: passed over
        char closes;
    };

    void skipSpace() {
        while (at_ < text_.size() && isSpace(text_[at_])) {
            ++at_;
        }
    }
    bool fail(std::string message, bool cutOff, std::size_t at) {
        if (!out_.fault) {
            out_.fault = JsonOutline::Fault{at, std::move(message), cutOff};
        }
        return false;
    }
    void fail(std::string message, bool cutOff = false) { fail(std::move(message), cutOff, at_); }

    /// What follows inside the innermost open value: its end, or a comma and one more child.
    bool next() {
        skipSpace();
        if (at_ == text_.size()) {
            return fail("it ends before it is closed", true, at_);
        }
        const char closes = open_.back().closes;
        if (text_[at_] == closes) {
            ++at_;
            close();
            return true;
        }
        if (!first_) {
            if (text_[at_] != ',') {
                return fail(closes == '}' ? "expected , or } after a member"
                                          : "expected , or ] after a value",
                            false, at_);
            }
            const std::size_t comma = at_++;
            skipSpace();
            if (at_ == text_.size()) {
                return fail("it ends before it is closed", true, at_);
            }
            if (text_[at_] == closes) {
                return fail("a comma has nothing behind it", false, comma);
            }
        }
        std::size_t keyStart = 0;
        std::size_t keyEnd = 0;
        if (closes == '}') {
            if (text_[at_] != '"') {
                return fail("expected a member's name in quotes", false, at_);
            }
            keyStart = at_;
            if (!string()) {
                return false;
            }
            keyEnd = at_;
            skipSpace();
            if (at_ == text_.size()) {
                return fail("it ends before it is closed", true, at_);
            }
            if (text_[at_] != ':') {
                return fail("expected : after a member's name", false, at_);
            }
            ++at_;
            skipSpace();
            if (at_ == text_.size()) {
                return fail("it ends before it is closed", true, at_);
            }
        }
        return value(keyStart, keyEnd);
    }

    bool value(std::size_t keyStart, std::size_t keyEnd) {
        const std::size_t start = at_;
        first_ = false;
        using Type = JsonOutline::Type;
        switch (text_[at_]) {
        case '{':
        case '[': {
            const bool object = text_[at_] == '{';
            ++at_;
            const std::int32_t node = add(keyStart, keyEnd, start, object ? Type::Object : Type::Array);
            open_.push_back({node, object ? '}' : ']'});
            first_ = true;
            return true;
        }
        case '"': {
            const bool whole = string();
            finish(add(keyStart, keyEnd, start, Type::String));
            return whole;
        }
        case 't':
            return word("true", keyStart, keyEnd, Type::Boolean);
        case 'f':
            return word("false", keyStart, keyEnd, Type::Boolean);
        case 'n':
            return word("null", keyStart, keyEnd, Type::Null);
        default:
            if (text_[at_] == '-' || isDigit(text_[at_])) {
                const bool whole = number();
                finish(add(keyStart, keyEnd, start, Type::Number));
                return whole;
            }
            return fail("a value cannot start here", false, at_);
        }
    }

    bool word(std::string_view wanted, std::size_t keyStart, std::size_t keyEnd, JsonOutline::Type type) {
        const std::string_view found = text_.substr(at_, wanted.size());
        if (found != wanted) {
            return fail(fmt::format("expected {}", wanted), wanted.starts_with(found), at_);
        }
        const std::size_t start = at_;
        at_ += wanted.size();
        finish(add(keyStart, keyEnd, start, type));
        return true;
    }

    bool digits(const char* what) {
        if (at_ == text_.size() || !isDigit(text_[at_])) {
            return fail(what, at_ == text_.size(), at_);
        }
        while (at_ < text_.size() && isDigit(text_[at_])) {
            ++at_;
        }
        return true;
    }

    bool number() {
        at_ += text_[at_] == '-' ? 1 : 0;
        const std::size_t whole = at_;
        if (!digits("a number is not written as JSON writes numbers")) {
            return false;
        }
        if (text_[whole] == '0' && at_ > whole + 1) {
            return fail("a number is not written as JSON writes numbers: it starts with 0", false, whole);
        }
        if (at_ < text_.size() && text_[at_] == '.') {
            ++at_;
            if (!digits("a number is not written as JSON writes numbers")) {
                return false;
            }
        }
        if (at_ < text_.size() && (text_[at_] == 'e' || text_[at_] == 'E')) {
            ++at_;
            at_ += at_ < text_.size() && (text_[at_] == '+' || text_[at_] == '-') ? 1 : 0;
            return digits("a number is not written as JSON writes numbers");
        }
        return true;
    }

    bool string() {
        const std::size_t start = at_++;
        while (at_ < text_.size() && text_[at_] != '"') {
            const auto byte = static_cast<unsigned char>(text_[at_]);
            if (byte < 0x20) {
                return fail(byte == 0 ? "a text holds a NUL byte"
                                      : "a text holds a control character that is not escaped",
                            false, at_);
            }
            if (text_[at_] == '\\') {
                if (at_ + 1 < text_.size() &&
                    std::string_view("\"\\/bfnrtu").find(text_[at_ + 1]) == std::string_view::npos) {
                    return fail("a text holds an escape that JSON does not know", false, at_);
                }
                ++at_;
            }
            ++at_;
        }
        if (at_ >= text_.size()) {
            at_ = text_.size();
            return fail("a text is not closed", true, start);
        }
        ++at_;
        return true;
    }

    std::int32_t add(std::size_t keyStart, std::size_t keyEnd, std::size_t start, JsonOutline::Type type) {
        std::int32_t place = 0;
        const std::int32_t parent = open_.empty() ? -1 : open_.back().node;
        if (!open_.empty()) {
            if (parent < 0) {
                return -1;
            }
            place = out_.nodes[static_cast<std::size_t>(parent)].children++;
        }
        if (static_cast<std::int32_t>(out_.nodes.size()) >= limits_.nodes ||
            static_cast<std::int32_t>(open_.size()) > limits_.depth) {
            out_.partial = true;
            return -1;
        }
        JsonOutline::Node node;
        node.keyStart = keyStart;
        node.keyEnd = keyEnd;
        node.start = start;
        node.end = at_;
        node.parent = parent;
        node.place = place;
        node.depth = static_cast<std::int32_t>(open_.size());
        node.type = type;
        out_.nodes.push_back(node);
        return static_cast<std::int32_t>(out_.nodes.size()) - 1;
    }
    void finish(std::int32_t node) {
        if (node >= 0) {
            auto& kept = out_.nodes[static_cast<std::size_t>(node)];
            kept.end = at_;
            kept.subtreeEnd = static_cast<std::int32_t>(out_.nodes.size());
        }
    }
    void close() {
        finish(open_.back().node);
        open_.pop_back();
        first_ = false;
    }

    std::string_view text_;
    const JsonOutline::Limits& limits_;
    JsonOutline& out_;
    std::vector<Open> open_;
    std::size_t at_ = 0;
    bool first_ = false;
};

void appendUtf8(std::string& out, std::uint32_t c) {
    if (c < 0x80) {
        out += static_cast<char>(c);
    } else if (c < 0x800) {
        out += static_cast<char>(0xC0 | (c >> 6));
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        out += static_cast<char>(0xE0 | (c >> 12));
        out += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    } else {
        out += static_cast<char>(0xF0 | (c >> 18));
        out += static_cast<char>(0x80 | ((c >> 12) & 0x3F));
        out += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (c & 0x3F));
    }
}

/// The four hex digits at `at`, or nothing.
std::optional<std::uint32_t> hex4(std::string_view text, std::size_t at) {
    std::uint32_t value = 0;
    if (at + 4 > text.size()) {
        return std::nullopt;
    }
    for (std::size_t i = at; i < at + 4; ++i) {
        const char c = text[i];
        const int digit = c >= '0' && c <= '9'   ? c - '0'
                          : c >= 'a' && c <= 'f' ? c - 'a' + 10
                          : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                                 : -1;
        if (digit < 0) {
            return std::nullopt;
        }
        value = value * 16 + static_cast<std::uint32_t>(digit);
    }
    return value;
}

} // namespace

JsonOutline JsonOutline::of(std::string_view text, const Limits& limits) {
    JsonOutline out;
    Scanner(text, limits, out).scan();
    return out;
}

std::string JsonOutline::nameOf(const Node& node, std::string_view text) {
    return node.keyEnd > node.keyStart
               ? unescapedJson(text.substr(node.keyStart, node.keyEnd - node.keyStart))
               : std::string();
}

std::string JsonOutline::pathOf(std::size_t node, std::string_view text) const {
    const Node& kept = nodes[node];
    if (kept.parent < 0) {
        return "$";
    }
    const std::string above = pathOf(static_cast<std::size_t>(kept.parent), text);
    if (nodes[static_cast<std::size_t>(kept.parent)].type == Type::Array) {
        return fmt::format("{}[{}]", above, kept.place);
    }
    return above + normalizedStep(nameOf(kept, text));
}

std::string JsonOutline::pointerOf(std::size_t node, std::string_view text, std::int32_t ancestor) const {
    if (static_cast<std::int32_t>(node) == ancestor || nodes[node].parent < 0) {
        return {};
    }
    const Node& kept = nodes[node];
    std::string step;
    if (nodes[static_cast<std::size_t>(kept.parent)].type == Type::Array) {
        step = fmt::format("{}", kept.place);
    } else {
        for (const char c : nameOf(kept, text)) {
            step += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
        }
    }
    return pointerOf(static_cast<std::size_t>(kept.parent), text, ancestor) + "/" + step;
}

std::string unescapedJson(std::string_view quoted) {
    if (quoted.size() >= 2 && quoted.front() == '"' && quoted.back() == '"') {
        quoted = quoted.substr(1, quoted.size() - 2);
    }
    std::string out;
    out.reserve(quoted.size());
    for (std::size_t i = 0; i < quoted.size(); ++i) {
        if (quoted[i] != '\\' || i + 1 == quoted.size()) {
            out += quoted[i];
            continue;
        }
        const char kind = quoted[++i];
        static constexpr std::string_view kLetters = "bfnrt";
        static constexpr std::string_view kMeant = "\b\f\n\r\t";
        if (kind == 'u') {
            auto code = hex4(quoted, i + 1);
            if (!code) {
                out += "\\u";
                continue;
            }
            i += 4;
            if (*code >= 0xD800 && *code < 0xDC00 && quoted.substr(i + 1, 2) == "\\u") {
                if (const auto low = hex4(quoted, i + 3); low && *low >= 0xDC00 && *low < 0xE000) {
                    code = 0x10000 + ((*code - 0xD800) << 10) + (*low - 0xDC00);
                    i += 6;
                }
            }
            appendUtf8(out, *code >= 0xD800 && *code < 0xE000 ? 0xFFFD : *code);
        } else if (const std::size_t known = kLetters.find(kind); known != std::string_view::npos) {
            out += kMeant[known];
        } else {
            out += kind;
        }
    }
    return out;
}

std::string quotedJson(std::string_view text) {
    std::string out = "\"";
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\') {
            out += '\\';
            out += c;
        } else if (c == '\n') {
            out += "\\n";
        } else if (byte < 0x20) {
            out += fmt::format("\\u{:04x}", byte);
        } else {
            out += c;
        }
    }
    return out + '"';
}

std::size_t firstBadUtf8(std::string_view text) {
    std::size_t i = 0;
    while (i < text.size()) {
        const auto lead = static_cast<unsigned char>(text[i]);
        if (lead < 0x80) {
            ++i;
            continue;
        }
        const std::size_t more = lead >= 0xF0 ? 3 : lead >= 0xE0 ? 2 : 1;
        if (lead < 0xC2 || lead > 0xF4 || i + more >= text.size()) {
            return i;
        }
        const auto second = static_cast<unsigned char>(text[i + 1]);
        const unsigned low = lead == 0xE0 ? 0xA0 : lead == 0xF0 ? 0x90 : 0x80;
        const unsigned high = lead == 0xED ? 0x9F : lead == 0xF4 ? 0x8F : 0xBF;
        if (second < low || second > high) {
            return i;
        }
        for (std::size_t k = 2; k <= more; ++k) {
            if (!goesOn(text[i + k])) {
                return i;
            }
        }
        i += more + 1;
    }
    return text.size();
}

std::string mendedUtf8(std::string_view text) {
    std::string mended;
    for (std::size_t bad = firstBadUtf8(text); bad < text.size(); bad = firstBadUtf8(text)) {
        mended += text.substr(0, bad);
        mended += "\xEF\xBF\xBD";
        text.remove_prefix(bad + 1);
    }
    mended += text;
    return mended;
}

std::string normalizedStep(std::string_view name) {
    static constexpr std::string_view kShort = "\b\t\n\f\r";
    static constexpr std::string_view kLetters = "btnfr";
    std::string step = "['";
    for (const char c : name) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x20) {
            const std::size_t known = kShort.find(c);
            step += known == std::string_view::npos ? fmt::format("\\u{:04x}", byte)
                                                    : std::string{'\\', kLetters[known]};
            continue;
        }
        if (c == '\'' || c == '\\') {
            step += '\\';
        }
        step += c;
    }
    return step + "']";
}

} // namespace scorrere
