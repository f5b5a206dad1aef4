// SPDX-License-Identifier: Apache-2.0
#include "engine/design/text_pattern.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cstdio>
#include <fmt/format.h>
#include <unicode/datefmt.h>
#include <unicode/dcfmtsym.h>
#include <unicode/messagepattern.h>
#include <unicode/msgfmt.h>
#include <unicode/numfmt.h>
#include <unicode/timezone.h>

namespace scorrere {

struct TextPattern::Complex {
    std::unique_ptr<icu::MessageFormat> format;
    std::vector<icu::UnicodeString> names;
    std::vector<FieldType> types;
    std::vector<icu::Formattable> values;
    icu::UnicodeString result;
};

TextPattern::TextPattern() = default;
TextPattern::TextPattern(TextPattern&&) noexcept = default;
TextPattern& TextPattern::operator=(TextPattern&&) noexcept = default;
TextPattern::~TextPattern() = default;

namespace {

std::string utf8(const icu::UnicodeString& text) {
    std::string out;
    text.toUTF8String(out);
    return out;
}

std::string fieldList(const RecordTable& table) {
    std::string out;
    for (const Field& field : table.fields()) {
        out += (out.empty() ? "" : ", ") + field.name;
    }
    return out.empty() ? "none" : out;
}

struct Argument {
    std::string name;
    UMessagePatternArgType type;
    std::string format; ///< "date", "number" for simple ones
    int start;          ///< index into the pattern
    int limit;
};

Error syntaxError(std::string_view pattern, const UParseError& at) {
    Error error{
        ErrorCode::Syntax,
        fmt::format("the text pattern \"{}\" cannot be read near character {}", pattern, at.offset + 1),
        "Write fields in braces, as in {name}; a brace meant as text is quoted: '{'.",
        {}};
    error.place.column = at.offset + 1;
    return error;
}

std::vector<Argument> argumentsOf(const icu::MessagePattern& parsed) {
    std::vector<Argument> found;
    for (int i = 0; i < parsed.countParts(); ++i) {
        const auto& part = parsed.getPart(i);
        if (part.getType() != UMSGPAT_PART_TYPE_ARG_START) {
            continue;
        }
        Argument argument;
        argument.type = part.getArgType();
        argument.start = part.getIndex();
        argument.limit = parsed.getPart(parsed.getLimitPartIndex(i)).getLimit();
        argument.name = utf8(parsed.getSubstring(parsed.getPart(i + 1)));
        if (argument.type == UMSGPAT_ARG_TYPE_SIMPLE) {
            argument.format = utf8(parsed.getSubstring(parsed.getPart(i + 2)));
        }
        found.push_back(std::move(argument));
    }
    return found;
}

/// Why an argument's format does not fit its field's type; empty when it does.
std::string misfit(const Argument& argument, FieldType type) {
    const bool number = type == FieldType::Integer || type == FieldType::Real || type == FieldType::Unknown;
    const bool time = type == FieldType::Time || type == FieldType::Integer || type == FieldType::Unknown;
    if ((argument.format == "date" || argument.format == "time") && !time) {
        return "a time";
    }
    const bool counts = argument.type == UMSGPAT_ARG_TYPE_PLURAL ||
                        argument.type == UMSGPAT_ARG_TYPE_CHOICE ||
                        argument.type == UMSGPAT_ARG_TYPE_SELECTORDINAL ||
                        (!argument.format.empty() && argument.format != "date" && argument.format != "time");
    return counts && !number ? "a number" : "";
}

void useUtc(icu::MessageFormat& format, const std::vector<icu::UnicodeString>& names) {
    for (const icu::UnicodeString& name : names) {
        UErrorCode status = U_ZERO_ERROR;
        if (auto* date = dynamic_cast<icu::DateFormat*>(format.getFormat(name, status))) {
            date->setTimeZone(*icu::TimeZone::getGMT());
        }
    }
}

void appendInteger(std::string& out, std::int64_t value, const std::string& separator) {
    std::array<char, 24> digits;
    const auto end = fmt::format_to(digits.data(), "{}", value);
    const std::size_t length = static_cast<std::size_t>(end - digits.data());
    const std::size_t first = digits[0] == '-' ? 1 : 0;
    for (std::size_t i = 0; i < length; ++i) {
        if (i > first && (length - i) % 3 == 0) {
            out += separator;
        }
        out += digits[i];
    }
}

} // namespace

Result<TextPattern> TextPattern::compile(std::string_view pattern, const RecordTable& fields,
                                         const std::string& locale) {
    UErrorCode status = U_ZERO_ERROR;
    UParseError at{};
    const auto text =
        icu::UnicodeString::fromUTF8(icu::StringPiece(pattern.data(), static_cast<int>(pattern.size())));
    icu::MessagePattern parsed(text, &at, status);
    if (U_FAILURE(status)) {
        return syntaxError(pattern, at);
    }
    const std::vector<Argument> arguments = argumentsOf(parsed);
    TextPattern compiled;
    std::vector<FieldType> types;
    bool plain = true;
    for (const Argument& argument : arguments) {
        const auto handle = fields.find(argument.name);
        if (!handle) {
            Error error{ErrorCode::NotFound,
                        fmt::format("there is no field \"{}\" in the records", argument.name),
                        fmt::format("The fields are: {}.", fieldList(fields)),
                        {}};
            error.place.field = argument.name;
            return error;
        }
        const FieldType type = fields.field(*handle).type;
        if (const std::string wanted = misfit(argument, type); !wanted.empty()) {
            Error error{ErrorCode::Invalid,
                        fmt::format("\"{}\" is formatted as {}, but the field holds {}", argument.name,
                                    wanted, typeName(type)),
                        "Choose another format, or leave it out: {" + argument.name + "}.",
                        {}};
            error.place.field = argument.name;
            return error;
        }
        compiled.arguments_.push_back(*handle);
        types.push_back(type);
        plain = plain && argument.type == UMSGPAT_ARG_TYPE_NONE &&
                (type == FieldType::Integer || type == FieldType::Text || type == FieldType::Boolean ||
                 type >= FieldType::List);
    }
    const icu::Locale icuLocale(locale.c_str());
    const bool latinDigits = [&] {
        icu::DecimalFormatSymbols symbols(icuLocale, status);
        compiled.groupSeparator_ =
            utf8(symbols.getSymbol(icu::DecimalFormatSymbols::kGroupingSeparatorSymbol));
        return U_SUCCESS(status) && symbols.getSymbol(icu::DecimalFormatSymbols::kZeroDigitSymbol) == u"0" &&
               (locale.starts_with("en") || locale.starts_with("de") || locale.starts_with("it"));
    }();
    const bool apostrophes = pattern.find('\'') != std::string_view::npos;
    const auto cut = [&](auto formatterOf) {
        int from = 0;
        for (std::size_t i = 0; i < arguments.size(); ++i) {
            compiled.segments_.push_back({utf8(text.tempSubStringBetween(from, arguments[i].start)),
                                          compiled.arguments_[i], types[i], formatterOf(i)});
            from = arguments[i].limit;
        }
        compiled.segments_.push_back({utf8(text.tempSubString(from)), {}, FieldType::Unknown, nullptr});
    };
    if (plain && !apostrophes &&
        (latinDigits || std::ranges::find(types, FieldType::Integer) == types.end())) {
        cut([](std::size_t) { return nullptr; });
        return compiled;
    }
    auto complex = std::make_unique<Complex>();
    complex->format = std::make_unique<icu::MessageFormat>(text, icuLocale, at, status);
    if (U_FAILURE(status)) {
        return syntaxError(pattern, at);
    }
    for (const Argument& argument : arguments) {
        complex->names.push_back(icu::UnicodeString::fromUTF8(argument.name));
    }
    complex->types = types;
    complex->values.resize(arguments.size());
    useUtc(*complex->format, complex->names);
    const auto isSimple = [&](std::size_t i) {
        const UMessagePatternArgType type = arguments[i].type;
        return type == UMSGPAT_ARG_TYPE_SIMPLE ||
               (type == UMSGPAT_ARG_TYPE_NONE &&
                (types[i] == FieldType::Text || (types[i] == FieldType::Integer && latinDigits)));
    };
    compiled.whole_ = apostrophes;
    for (std::size_t i = 0; i < arguments.size(); ++i) {
        const bool twice = std::ranges::count(complex->names, complex->names[i]) > 1;
        compiled.whole_ = compiled.whole_ || !isSimple(i) || twice;
    }
    if (!compiled.whole_) {
        cut([&](std::size_t i) -> const icu::Format* {
            const bool simple = arguments[i].type == UMSGPAT_ARG_TYPE_SIMPLE;
            return simple ? complex->format->getFormat(complex->names[i], status) : nullptr;
        });
    }
    compiled.complex_ = std::move(complex);
    return compiled;
}

namespace {

icu::Formattable valueOf(const RecordTable& table, std::int64_t record, FieldHandle handle, FieldType type) {
    switch (type) {
    case FieldType::Integer:
        return icu::Formattable(static_cast<int64_t>(table.integer(record, handle)));
    case FieldType::Real:
        return icu::Formattable(table.real(record, handle));
    case FieldType::Time:
        return icu::Formattable(static_cast<UDate>(parseTime(table.text(record, handle)).value_or(0)),
                                icu::Formattable::kIsDate);
    default:
        return icu::Formattable(icu::UnicodeString::fromUTF8(table.display(record, handle)));
    }
}

} // namespace

void TextPattern::appendArgument(const Segment& segment, const RecordTable& table, std::int64_t record,
                                 std::string& out) const {
    if (segment.formatter != nullptr) {
        UErrorCode status = U_ZERO_ERROR;
        icu::UnicodeString& shown = complex_->result;
        shown.remove();
        if (const auto* date = dynamic_cast<const icu::DateFormat*>(segment.formatter);
            date != nullptr && segment.type == FieldType::Time) {
            date->format(static_cast<UDate>(parseTime(table.text(record, segment.field)).value_or(0)), shown);
        } else {
            segment.formatter->format(valueOf(table, record, segment.field, segment.type), shown, status);
        }
        shown.toUTF8String(out);
    } else if (segment.type == FieldType::Integer) {
        appendInteger(out, table.integer(record, segment.field), groupSeparator_);
    } else if (segment.type == FieldType::Boolean) {
        out += table.boolean(record, segment.field) ? "true" : "false";
    } else {
        out += table.text(record, segment.field);
    }
}

bool TextPattern::format(const RecordTable& table, std::int64_t record, std::string& out) const {
    out.clear();
    for (const FieldHandle handle : arguments_) {
        if (!table.has(record, handle)) {
            return false;
        }
    }
    if (!whole_) {
        for (const Segment& segment : segments_) {
            out += segment.literal;
            if (segment.field.index >= 0) {
                appendArgument(segment, table, record, out);
            }
        }
        return true;
    }
    Complex& c = *complex_;
    for (std::size_t i = 0; i < arguments_.size(); ++i) {
        c.values[i] = valueOf(table, record, arguments_[i], c.types[i]);
    }
    UErrorCode status = U_ZERO_ERROR;
    c.result.remove();
    c.format->format(c.names.data(), c.values.data(), static_cast<int>(c.values.size()), c.result, status);
    c.result.toUTF8String(out);
    return U_SUCCESS(status);
}

} // namespace scorrere
