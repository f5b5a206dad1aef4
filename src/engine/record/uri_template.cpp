// SPDX-License-Identifier: Apache-2.0
#include "engine/record/uri_template.h"

#include "engine/base/utf8.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>

namespace scorrere {

namespace {

/// RFC 6570, appendix A.
struct Operator {
    char op;
    const char* first;
    const char* separator;
    bool named;
    const char* ifEmpty;
    bool reserved;
};
constexpr Operator kOperators[] = {
    {0, "", ",", false, "", false},    {'+', "", ",", false, "", true},  {'.', ".", ".", false, "", false},
    {'/', "/", "/", false, "", false}, {';', ";", ";", true, "", false}, {'?', "?", "&", true, "=", false},
    {'&', "&", "&", true, "=", false}, {'#', "#", ",", false, "", true},
};

const Operator& operatorOf(char op) {
    return *std::find_if(std::begin(kOperators), std::end(kOperators),
                         [op](const Operator& o) { return o.op == op; });
}

bool isHex(char c) {
    return std::isxdigit(static_cast<unsigned char>(c)) != 0;
}

void appendEncoded(std::string& out, std::string_view text, bool reserved) {
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool plain =
            std::isalnum(static_cast<unsigned char>(c)) != 0 && static_cast<unsigned char>(c) < 0x80;
        const bool escape =
            reserved && c == '%' && i + 2 < text.size() && isHex(text[i + 1]) && isHex(text[i + 2]);
        if (plain || std::string_view("-._~").find(c) != std::string_view::npos || escape ||
            (reserved && std::string_view(":/?#[]@!$&'()*+,;=").find(c) != std::string_view::npos)) {
            out += c;
        } else {
            fmt::format_to(std::back_inserter(out), "%{:02X}", static_cast<unsigned char>(c));
        }
    }
}

std::string encoded(std::string_view text, bool reserved) {
    std::string out;
    appendEncoded(out, text, reserved);
    return out;
}

/// The first `characters` of a UTF-8 text; 0: all.
std::string_view prefixOf(std::string_view text, std::size_t characters) {
    if (characters == 0) {
        return text;
    }
    std::size_t at = 0;
    while (at < text.size()) {
        if (!goesOn(text[at]) && characters-- == 0) {
            break;
        }
        ++at;
    }
    return text.substr(0, at);
}

bool isGiven(const UriValue& value) {
    if (const auto* list = std::get_if<UriList>(&value)) {
        return !list->empty();
    }
    const auto* pairs = std::get_if<UriPairs>(&value);
    return pairs == nullptr || !pairs->empty();
}

} // namespace

Result<UriTemplate> UriTemplate::parse(std::string_view text) {
    UriTemplate made;
    made.text_ = std::string(text);
    const auto fail = [&](std::size_t at, std::string message, std::string advice) {
        Error error{ErrorCode::Syntax,
                    fmt::format("in the address {}: {}", text.substr(0, 200), message),
                    std::move(advice),
                    {}};
        error.place.column = static_cast<std::int64_t>(at) + 1;
        return error;
    };
    Piece piece;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '}') {
            return fail(i, "a } has no {", "Open it, or write %7D.");
        }
        if (text[i] != '{') {
            piece.literal += text[i];
            continue;
        }
        const std::size_t close = text.find('}', i);
        if (close == std::string_view::npos) {
            return fail(i, "a { is not closed", "Close it with }, as in {?page,size}.");
        }
        std::size_t at = i + 1;
        if (at < close && std::string_view("+#./;?&").find(text[at]) != std::string_view::npos) {
            piece.op = text[at++];
        }
        while (true) {
            const std::size_t end = std::min(text.find(',', at), close);
            std::string_view name = text.substr(at, end - at);
            Variable variable;
            if (name.ends_with('*')) {
                variable.explode = true;
                name.remove_suffix(1);
            }
            if (const std::size_t colon = name.find(':'); colon != std::string_view::npos) {
                const std::string_view digits = name.substr(colon + 1);
                if (digits.empty() || digits.size() > 4 || digits[0] == '0' ||
                    !std::ranges::all_of(digits, [](char c) { return c >= '0' && c <= '9'; })) {
                    return fail(at, "after : stands how many characters to take",
                                "From 1 to 9999, as in {name:3}.");
                }
                for (const char c : digits) {
                    variable.prefix = variable.prefix * 10 + static_cast<std::size_t>(c - '0');
                }
                name = name.substr(0, colon);
            }
            const bool right = !name.empty() && std::ranges::all_of(name, [](char c) {
                return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_' || c == '.' || c == '%';
            });
            if (!right) {
                return fail(at, "a variable's name is missing or not right",
                            "Names are letters, digits, _ and ., as in {?page,size}.");
            }
            variable.name = std::string(name);
            piece.variables.push_back(std::move(variable));
            if (end == close) {
                break;
            }
            at = end + 1;
        }
        i = close;
        made.pieces_.push_back(std::move(piece));
        piece = {};
    }
    if (!piece.literal.empty()) {
        made.pieces_.push_back(std::move(piece));
    }
    const std::vector<std::string> names = made.names();
    for (Piece& each : made.pieces_) {
        for (Variable& variable : each.variables) {
            variable.index =
                static_cast<std::size_t>(std::ranges::find(names, variable.name) - names.begin());
        }
    }
    return made;
}

std::string UriTemplate::expand(const UriVariables& variables) const {
    std::string out;
    for (const Piece& piece : pieces_) {
        out += encoded(piece.literal, true);
        const Operator& op = operatorOf(piece.op);
        bool isFirst = true;
        const auto begin = [&] {
            out += isFirst ? op.first : op.separator;
            isFirst = false;
        };
        const auto named = [&](const std::string& name, std::string_view value) {
            if (op.named) {
                out += name;
                out += value.empty() ? op.ifEmpty : "=";
            }
            out += encoded(value, op.reserved);
        };
        for (const Variable& variable : piece.variables) {
            const auto found = variables.find(variable.name);
            if (found == variables.end() || !isGiven(found->second)) {
                continue;
            }
            if (const auto* text = std::get_if<std::string>(&found->second)) {
                begin();
                named(variable.name, prefixOf(*text, variable.prefix));
            } else if (const auto* list = std::get_if<UriList>(&found->second)) {
                for (std::size_t i = 0; i < list->size(); ++i) {
                    if (variable.explode || i == 0) {
                        begin();
                        named(variable.name, (*list)[i]);
                    } else {
                        out += ',';
                        out += encoded((*list)[i], op.reserved);
                    }
                }
            } else {
                const auto& pairs = std::get<UriPairs>(found->second);
                for (std::size_t i = 0; i < pairs.size(); ++i) {
                    const auto& [name, value] = pairs[i];
                    if (variable.explode) {
                        begin();
                        out += encoded(name, op.reserved);
                        out += op.named && value.empty() ? op.ifEmpty : "=";
                    } else {
                        if (i == 0) {
                            begin();
                            out += op.named ? variable.name + "=" : "";
                        }
                        out += fmt::format("{}{},", i > 0 ? "," : "", encoded(name, op.reserved));
                    }
                    out += encoded(value, op.reserved);
                }
            }
        }
    }
    return out;
}

void UriTemplate::expandInto(std::span<const std::string_view> values, std::string& out) const {
    out.clear();
    for (const Piece& piece : pieces_) {
        appendEncoded(out, piece.literal, true);
        const Operator& op = operatorOf(piece.op);
        bool isFirst = true;
        for (const Variable& variable : piece.variables) {
            const std::string_view value = values[variable.index];
            out += isFirst ? op.first : op.separator;
            isFirst = false;
            if (op.named) {
                out += variable.name;
                out += value.empty() ? op.ifEmpty : "=";
            }
            appendEncoded(out, prefixOf(value, variable.prefix), op.reserved);
        }
    }
}

std::vector<std::string> UriTemplate::names() const {
    std::vector<std::string> names;
    for (const Piece& piece : pieces_) {
        for (const Variable& variable : piece.variables) {
            if (std::ranges::find(names, variable.name) == names.end()) {
                names.push_back(variable.name);
            }
        }
    }
    return names;
}

} // namespace scorrere
