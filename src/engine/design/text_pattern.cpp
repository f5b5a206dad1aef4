// SPDX-License-Identifier: Apache-2.0
//
// ICU names arguments by plain identifiers and keeps one value for each name. Here every mention is an
// argument of its own: after a first parse the names are replaced by generated ones, so that a field can be
// shown as a date and as "3 days ago" in one text, and parameters and the inputs of a piece need no syntax of
// their own.
#include "engine/design/text_pattern.h"

#include "engine/base/nesting.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fmt/format.h>
#include <unicode/datefmt.h>
#include <unicode/dcfmtsym.h>
#include <unicode/messagepattern.h>
#include <unicode/msgfmt.h>
#include <unicode/numfmt.h>
#include <unicode/reldatefmt.h>
#include <unicode/timezone.h>

namespace scorrere {

struct TextPattern::Complex {
    std::unique_ptr<icu::MessageFormat> format;
    std::unique_ptr<icu::RelativeDateTimeFormatter> relative;
    std::vector<icu::UnicodeString> names;
    std::vector<icu::Formattable> values;
    icu::UnicodeString result;
    std::string scratch;
};

TextPattern::TextPattern() = default;
TextPattern::TextPattern(TextPattern&&) noexcept = default;
TextPattern& TextPattern::operator=(TextPattern&&) noexcept = default;
TextPattern::~TextPattern() = default;

namespace {

constexpr std::string_view kParameterWritten = "$.parameters.";
constexpr std::string_view kParameterNamed = "__parameters_"; ///< as long, and an identifier
constexpr std::string_view kStateWritten = "$.state.";
constexpr std::string_view kStateNamed = "__state_"; ///< the same

std::string utf8(const icu::UnicodeString& text) {
    std::string out;
    text.toUTF8String(out);
    return out;
}
icu::UnicodeString utf16(std::string_view text) {
    return icu::UnicodeString::fromUTF8(icu::StringPiece(text.data(), static_cast<int>(text.size())));
}

struct Mention {
    std::string name;
    UMessagePatternArgType type;
    std::string format; ///< "date", "number" for simple ones
    int start;          ///< of the argument in the pattern
    int limit;
    int nameStart;
    int nameLength;
    int formatStart = -1; ///< from the comma on, up to the closing brace
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

/// ICU reads a pattern by calling itself for what stands inside; in time that grows with the square of it.
std::optional<Error> nestsTooDeep(std::string_view pattern) {
    int depth = 0;
    for (std::size_t i = 0; i < pattern.size(); ++i) {
        depth += pattern[i] == '{' ? 1 : pattern[i] == '}' ? -1 : 0;
        if (depth > kMaxNesting) {
            Error error{ErrorCode::TooLarge,
                        fmt::format("the text pattern nests more than {} deep", kMaxNesting),
                        "Look for braces that are not closed.",
                        {}};
            error.place.column = static_cast<std::int64_t>(i) + 1;
            return error;
        }
    }
    return std::nullopt;
}

std::vector<Mention> mentionsIn(const icu::MessagePattern& parsed) {
    std::vector<Mention> found;
    for (int i = 0; i < parsed.countParts(); ++i) {
        const auto& part = parsed.getPart(i);
        if (part.getType() != UMSGPAT_PART_TYPE_ARG_START) {
            continue;
        }
        const auto& name = parsed.getPart(i + 1);
        Mention mention{utf8(parsed.getSubstring(name)),
                        part.getArgType(),
                        {},
                        part.getIndex(),
                        parsed.getPart(parsed.getLimitPartIndex(i)).getLimit(),
                        name.getIndex(),
                        name.getLength()};
        if (mention.type == UMSGPAT_ARG_TYPE_SIMPLE) {
            mention.format = utf8(parsed.getSubstring(parsed.getPart(i + 2)));
            mention.formatStart = name.getLimit();
        }
        found.push_back(std::move(mention));
    }
    return found;
}

/// Parameters and states as ICU can name them; text in quotes stays as it is.
std::string withNamedParameters(std::string_view pattern) {
    std::string out(pattern);
    bool quoted = false;
    for (std::size_t i = 0; i < out.size(); ++i) {
        if (out[i] == '\'') {
            const bool opens = i + 1 < out.size() && (out[i + 1] == '{' || out[i + 1] == '}');
            quoted = quoted ? false : opens;
        } else if (!quoted && out[i] == '$') {
            const std::size_t before = out.find_last_not_of(' ', i == 0 ? 0 : i - 1);
            const bool isName = i > 0 && before != std::string::npos && out[before] == '{';
            for (const auto& [written, named] :
                 {std::pair(kParameterWritten, kParameterNamed), {kStateWritten, kStateNamed}}) {
                if (isName && std::string_view(out).substr(i).starts_with(written)) {
                    out.replace(i, written.size(), named);
                }
            }
        }
    }
    return out;
}

/// Whether an input is just one argument, {name}: it can stand wherever a name can.
std::string_view soleName(std::string_view input) {
    if (input.size() > 2 && input.front() == '{' && input.back() == '}' &&
        input.find_first_of("{},' ", 1) == input.size() - 1) {
        return input.substr(1, input.size() - 2);
    }
    return {};
}

Result<std::string> inputsPutIn(const std::string& pattern, const NameScope& scope) {
    if (scope.inputs == nullptr || scope.inputs->empty()) {
        return pattern;
    }
    UErrorCode status = U_ZERO_ERROR;
    UParseError at{};
    icu::UnicodeString text = utf16(pattern);
    const icu::MessagePattern parsed(text, &at, status);
    if (U_FAILURE(status)) {
        return syntaxError(pattern, at);
    }
    std::vector<Mention> mentions = mentionsIn(parsed);
    std::ranges::reverse(mentions); // from the end, so that places before stay right
    for (const Mention& mention : mentions) {
        const auto input = scope.inputs->find(mention.name);
        if (input == scope.inputs->end()) {
            continue;
        }
        const std::string given = withNamedParameters(input->second);
        if (const std::string_view name = soleName(given); !name.empty()) {
            text.replace(mention.nameStart, mention.nameLength, utf16(name));
        } else if (mention.type == UMSGPAT_ARG_TYPE_NONE) {
            text.replace(mention.start, mention.limit - mention.start, utf16(given));
        } else {
            return Error{ErrorCode::Invalid,
                         fmt::format("the piece formats its input \"{}\", but is given the text \"{}\"",
                                     mention.name, input->second),
                         "Give it one field in braces, as in {count}.",
                         {}};
        }
    }
    return utf8(text);
}

/// Why an argument's format does not fit its field's type; empty when it does.
std::string misfit(const Mention& mention, const ValueRef& ref) {
    const FieldType type = ref.type;
    const bool open = type == FieldType::Unknown || ref.from == ValueRef::From::Entry ||
                      ref.from == ValueRef::From::EntryMember;
    const bool number = type == FieldType::Integer || type == FieldType::Real || open;
    const bool time = type == FieldType::Time || type == FieldType::Integer || open;
    const bool ofTime = mention.format == "date" || mention.format == "time" || mention.format == "relative";
    if (ofTime && !time) {
        return "a time";
    }
    const bool counts = mention.type == UMSGPAT_ARG_TYPE_PLURAL || mention.type == UMSGPAT_ARG_TYPE_CHOICE ||
                        mention.type == UMSGPAT_ARG_TYPE_SELECTORDINAL ||
                        (!mention.format.empty() && !ofTime);
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

std::int64_t timeOf(const ValueRef& ref, const FillContext& context) {
    return ref.type == FieldType::Integer
               ? context.records.integer(context.record, ref.field)
               : parseTime(context.records.text(context.record, ref.field)).value_or(0);
}

/// How long ago, or how long until, in the largest unit that is passed.
double relativeSteps(std::int64_t awayMs, UDateRelativeUnit& unit) {
    struct Step {
        double ms;
        UDateRelativeUnit unit;
    };
    static constexpr std::array<Step, 7> kSteps{{{365.25 * 86'400'000.0, UDAT_RELATIVE_YEARS},
                                                 {30.44 * 86'400'000.0, UDAT_RELATIVE_MONTHS},
                                                 {7 * 86'400'000.0, UDAT_RELATIVE_WEEKS},
                                                 {86'400'000.0, UDAT_RELATIVE_DAYS},
                                                 {3'600'000.0, UDAT_RELATIVE_HOURS},
                                                 {60'000.0, UDAT_RELATIVE_MINUTES},
                                                 {1'000.0, UDAT_RELATIVE_SECONDS}}};
    const double away = std::abs(static_cast<double>(awayMs));
    for (const Step& step : kSteps) {
        if (away >= step.ms) {
            unit = step.unit;
            return std::floor(away / step.ms);
        }
    }
    unit = UDAT_RELATIVE_SECONDS;
    return 0;
}

} // namespace

Result<TextPattern> TextPattern::compile(std::string_view pattern, const NameScope& scope) {
    TextPattern compiled;
    if (Outcome linked = compiled.link(pattern, scope); !linked) {
        return std::move(linked.error());
    }
    return compiled;
}

Result<std::string> TextPattern::withInputs(const std::string& pattern, const NameScope& scope) {
    if (auto error = nestsTooDeep(pattern)) {
        return std::move(*error);
    }
    return inputsPutIn(withNamedParameters(pattern), scope);
}

Outcome TextPattern::link(std::string_view pattern, const NameScope& scope) {
    if (auto error = nestsTooDeep(pattern)) {
        return std::move(*error);
    }
    auto written = inputsPutIn(withNamedParameters(pattern), scope);
    if (!written) {
        return std::move(written.error());
    }
    if (auto error = nestsTooDeep(*written)) { // what a piece is given may nest, too
        return std::move(*error);
    }
    UErrorCode status = U_ZERO_ERROR;
    UParseError at{};
    icu::UnicodeString text = utf16(*written);
    const icu::MessagePattern parsed(text, &at, status);
    if (U_FAILURE(status)) {
        return syntaxError(pattern, at);
    }
    const std::vector<Mention> mentions = mentionsIn(parsed);
    bool plain = true;
    bool integers = false;
    for (const Mention& mention : mentions) {
        const bool isParameter = mention.name.starts_with(kParameterNamed);
        const bool isState = mention.name.starts_with(kStateNamed);
        auto ref = isParameter ? scope.resolveParameter(mention.name.substr(kParameterNamed.size()))
                   : isState   ? scope.resolveState(mention.name.substr(kStateNamed.size()))
                               : scope.resolve(mention.name);
        if (!ref) {
            return std::move(ref.error());
        }
        if (const std::string wanted = misfit(mention, *ref); !wanted.empty()) {
            Error error{ErrorCode::Invalid,
                        fmt::format("\"{}\" is formatted as {}, but the field holds {}", mention.name, wanted,
                                    typeName(ref->type)),
                        "Choose another format, or leave it out: {" + mention.name + "}.",
                        {}};
            error.place.field = mention.name;
            return error;
        }
        readsParameters_ = readsParameters_ || isParameter;
        readsRecord_ = readsRecord_ || (!isParameter && !isState);
        if (isState) {
            readsState_.set(ref->flag);
        }
        if (ref->from == ValueRef::From::Field && std::ranges::find(fields_, ref->field) == fields_.end()) {
            fields_.push_back(ref->field);
        }
        integers = integers || ref->type == FieldType::Integer;
        plain = plain && mention.type == UMSGPAT_ARG_TYPE_NONE && ref->type != FieldType::Real &&
                ref->type != FieldType::Time;
        arguments_.push_back({std::move(*ref), mention.format == "relative"});
    }
    const icu::Locale icuLocale(scope.locale.c_str());
    if (icuLocale.isBogus() != 0) { // ICU's formats do not reckon with one
        return Error{ErrorCode::Invalid,
                     fmt::format("\"{}\" names no locale", scope.locale),
                     "Write a language tag, as in en, de-CH or ar.",
                     {}};
    }
    const bool latinDigits = [&] {
        icu::DecimalFormatSymbols symbols(icuLocale, status);
        groupSeparator_ = utf8(symbols.getSymbol(icu::DecimalFormatSymbols::kGroupingSeparatorSymbol));
        return U_SUCCESS(status) && symbols.getSymbol(icu::DecimalFormatSymbols::kZeroDigitSymbol) == u"0" &&
               (scope.locale.starts_with("en") || scope.locale.starts_with("de") ||
                scope.locale.starts_with("it"));
    }();
    const bool apostrophes = written->find('\'') != std::string::npos;
    const auto cut = [&](auto formatterOf) {
        int from = 0;
        for (std::size_t i = 0; i < mentions.size(); ++i) {
            segments_.push_back({utf8(text.tempSubStringBetween(from, mentions[i].start)),
                                 static_cast<int>(i), formatterOf(i)});
            from = mentions[i].limit;
        }
        segments_.push_back({utf8(text.tempSubString(from)), -1, nullptr});
    };
    if (plain && !apostrophes && (latinDigits || !integers)) {
        cut([](std::size_t) { return nullptr; });
        return done();
    }
    auto complex = std::make_unique<Complex>();
    icu::UnicodeString renamed = text;
    for (std::size_t i = mentions.size(); i-- > 0;) {
        if (arguments_[i].relative) { // ICU knows no such format: the words are made here
            complex->relative = std::make_unique<icu::RelativeDateTimeFormatter>(icuLocale, status);
            renamed.replace(mentions[i].formatStart, mentions[i].limit - 1 - mentions[i].formatStart,
                            icu::UnicodeString());
        }
        const icu::UnicodeString name = utf16(fmt::format("v{}", i));
        renamed.replace(mentions[i].nameStart, mentions[i].nameLength, name);
        complex->names.insert(complex->names.begin(), name);
    }
    complex->format = std::make_unique<icu::MessageFormat>(renamed, icuLocale, at, status);
    if (U_FAILURE(status)) {
        Error error{
            ErrorCode::Syntax,
            fmt::format("a format in the text pattern \"{}\" is not known: {}", pattern, u_errorName(status)),
            "Formats are number, date, time, relative, plural, select, or a skeleton as in "
            "{seen, date, ::yMMMd}.",
            {}};
        error.place.column = 1;
        return error;
    }
    complex->values.resize(mentions.size());
    useUtc(*complex->format, complex->names);
    const auto isSimple = [&](std::size_t i) {
        const UMessagePatternArgType type = mentions[i].type;
        const FieldType known = arguments_[i].ref.type;
        return type == UMSGPAT_ARG_TYPE_SIMPLE ||
               (type == UMSGPAT_ARG_TYPE_NONE &&
                (known == FieldType::Text || (known == FieldType::Integer && latinDigits)));
    };
    whole_ = apostrophes;
    for (std::size_t i = 0; i < mentions.size(); ++i) {
        whole_ = whole_ || !isSimple(i);
    }
    if (!whole_) {
        cut([&](std::size_t i) -> const icu::Format* {
            const bool formatted = mentions[i].type == UMSGPAT_ARG_TYPE_SIMPLE && !arguments_[i].relative;
            return formatted ? complex->format->getFormat(complex->names[i], status) : nullptr;
        });
    }
    complex_ = std::move(complex);
    return done();
}

namespace {

const Parameter& parameterOf(const ValueRef& ref, const FillContext& context) {
    return (*context.parameters)[static_cast<std::size_t>(ref.parameter)];
}

/// Puts an entry, or a member of one, into `out`.
bool entryText(const ValueRef& ref, const FillContext& context, std::string& out) {
    if (context.entries == nullptr || context.entry < 0) {
        out.clear();
        return false;
    }
    const auto entry = static_cast<std::size_t>(context.entry);
    return ref.from == ValueRef::From::Entry ? context.entries->text(entry, out)
                                             : context.entries->member(entry, ref.member, out);
}

/// A text as a number where it is one: what an entry holds has no type of its own.
icu::Formattable numberOrText(const std::string& text) {
    char* end = nullptr;
    const double number = std::strtod(text.c_str(), &end);
    return !text.empty() && end == text.c_str() + text.size() ? icu::Formattable(number)
                                                              : icu::Formattable(utf16(text));
}

icu::Formattable valueOf(const ValueRef& ref, const FillContext& context, std::string& scratch) {
    switch (ref.from) {
    case ValueRef::From::Parameter: {
        const Parameter& parameter = parameterOf(ref, context);
        return parameter.type == ParameterType::Number ? icu::Formattable(parameter.number)
               : parameter.type == ParameterType::Text
                   ? icu::Formattable(utf16(parameter.text))
                   : icu::Formattable(utf16(parameter.yes ? "true" : "false"));
    }
    case ValueRef::From::State:
        return icu::Formattable(utf16(context.state.has(ref.flag) ? "true" : "false"));
    case ValueRef::From::EntryCount:
        return icu::Formattable(static_cast<int32_t>(context.more));
    case ValueRef::From::Entry:
    case ValueRef::From::EntryMember:
        entryText(ref, context, scratch);
        return numberOrText(scratch);
    case ValueRef::From::Field:
        break;
    }
    switch (ref.type) {
    case FieldType::Integer:
        return icu::Formattable(static_cast<int64_t>(context.records.integer(context.record, ref.field)));
    case FieldType::Real:
        return icu::Formattable(context.records.real(context.record, ref.field));
    case FieldType::Time:
        return icu::Formattable(static_cast<UDate>(timeOf(ref, context)), icu::Formattable::kIsDate);
    default:
        return icu::Formattable(utf16(context.records.display(context.record, ref.field)));
    }
}

void appendRelative(const icu::RelativeDateTimeFormatter& formatter, std::int64_t awayMs,
                    icu::UnicodeString& shown) {
    UErrorCode status = U_ZERO_ERROR;
    UDateRelativeUnit unit = UDAT_RELATIVE_SECONDS;
    const double steps = relativeSteps(awayMs, unit);
    formatter.format(steps, awayMs <= 0 ? UDAT_DIRECTION_LAST : UDAT_DIRECTION_NEXT, unit, shown, status);
}

} // namespace

void TextPattern::appendArgument(const Segment& segment, const FillContext& context, std::string& out) const {
    const Argument& argument = arguments_[static_cast<std::size_t>(segment.argument)];
    const ValueRef& ref = argument.ref;
    if (segment.formatter != nullptr || argument.relative) {
        UErrorCode status = U_ZERO_ERROR;
        icu::UnicodeString& shown = complex_->result;
        shown.remove();
        if (argument.relative) {
            appendRelative(*complex_->relative, timeOf(ref, context) - context.nowMs, shown);
        } else if (const auto* date = dynamic_cast<const icu::DateFormat*>(segment.formatter);
                   date != nullptr && ref.from == ValueRef::From::Field && ref.type == FieldType::Time) {
            date->format(static_cast<UDate>(timeOf(ref, context)), shown);
        } else {
            segment.formatter->format(valueOf(ref, context, complex_->scratch), shown, status);
        }
        shown.toUTF8String(out);
        return;
    }
    switch (ref.from) {
    case ValueRef::From::Parameter: {
        const Parameter& parameter = parameterOf(ref, context);
        out += parameter.type == ParameterType::Text ? parameter.text : parameter.yes ? "true" : "false";
        return;
    }
    case ValueRef::From::State:
        out += context.state.has(ref.flag) ? "true" : "false";
        return;
    case ValueRef::From::EntryCount:
        appendInteger(out, context.more, groupSeparator_);
        return;
    case ValueRef::From::Entry:
    case ValueRef::From::EntryMember: {
        thread_local std::string entry; // keeps its room from fill to fill
        entryText(ref, context, entry);
        out += entry;
        return;
    }
    case ValueRef::From::Field:
        break;
    }
    if (ref.type == FieldType::Integer) {
        appendInteger(out, context.records.integer(context.record, ref.field), groupSeparator_);
    } else if (ref.type == FieldType::Boolean) {
        out += context.records.boolean(context.record, ref.field) ? "true" : "false";
    } else {
        out += context.records.text(context.record, ref.field);
    }
}

bool TextPattern::isThere(const Argument& argument, const FillContext& context) const {
    switch (argument.ref.from) {
    case ValueRef::From::Field:
        return context.record >= 0 && context.records.has(context.record, argument.ref.field);
    case ValueRef::From::Parameter:
        return context.parameters != nullptr;
    case ValueRef::From::State:
        return true;
    case ValueRef::From::EntryCount:
        return context.entries != nullptr;
    default: {
        thread_local std::string entry;
        return entryText(argument.ref, context, entry);
    }
    }
}

bool TextPattern::format(const FillContext& context, std::string& out) const {
    out.clear();
    for (const Argument& argument : arguments_) {
        if (!isThere(argument, context)) {
            return false;
        }
    }
    if (!whole_) {
        for (const Segment& segment : segments_) {
            out += segment.literal;
            if (segment.argument >= 0) {
                appendArgument(segment, context, out);
            }
        }
        return true;
    }
    Complex& c = *complex_;
    for (std::size_t i = 0; i < arguments_.size(); ++i) {
        if (arguments_[i].relative) {
            icu::UnicodeString words;
            appendRelative(*c.relative, timeOf(arguments_[i].ref, context) - context.nowMs, words);
            c.values[i] = icu::Formattable(words);
        } else {
            c.values[i] = valueOf(arguments_[i].ref, context, c.scratch);
        }
    }
    UErrorCode status = U_ZERO_ERROR;
    c.result.remove();
    c.format->format(c.names.data(), c.values.data(), static_cast<int>(c.values.size()), c.result, status);
    c.result.toUTF8String(out);
    return U_SUCCESS(status);
}

} // namespace scorrere
