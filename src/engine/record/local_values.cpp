// SPDX-License-Identifier: Apache-2.0
#include "engine/record/local_values.h"

#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <unicode/datefmt.h>
#include <unicode/decimfmt.h>
#include <unicode/smpdtfmt.h>
#include <unicode/timezone.h>
#include <vector>

namespace scorrere {

namespace {

icu::UnicodeString utf16(std::string_view text) {
    return icu::UnicodeString::fromUTF8(icu::StringPiece(text.data(), static_cast<int>(text.size())));
}

bool isSpace(char16_t c) {
    return c == u' ' || c == u'\u00A0' || c == u'\u202F' || c == u'\u2009';
}
bool isApostrophe(char16_t c) {
    return c == u'\'' || c == u'\u2019';
}

/// A pattern for dates as they are typed: a year of two digits is of this century or the last one, also where
/// the locale writes four, and days, months and hours need no zero in front.
icu::UnicodeString asTyped(const icu::UnicodeString& pattern) {
    icu::UnicodeString typed;
    bool isQuoted = false;
    for (int i = 0; i < pattern.length();) {
        const char16_t letter = pattern[i];
        int end = i + 1;
        while (end < pattern.length() && pattern[end] == letter) {
            ++end;
        }
        int length = end - i;
        if (letter == u'\'') {
            isQuoted = isQuoted != (length % 2 == 1);
        } else if (!isQuoted && letter == u'y') {
            length = 2;
        } else if (!isQuoted && length == 2 && icu::UnicodeString(u"dMLHh").indexOf(letter) >= 0) {
            length = 1;
        }
        for (int k = 0; k < length; ++k) {
            typed.append(letter);
        }
        i = end;
    }
    return typed;
}

constexpr icu::DateFormat::EStyle kDates[] = {icu::DateFormat::kShort, icu::DateFormat::kMedium,
                                              icu::DateFormat::kLong};

} // namespace

struct LocalValues::Formats {
    std::unique_ptr<icu::DecimalFormat> number;
    char16_t group = 0;
    std::vector<std::unique_ptr<icu::DateFormat>> dates;
    std::vector<std::unique_ptr<icu::DateFormat>> moments; ///< a date and a time of day

    void add(std::vector<std::unique_ptr<icu::DateFormat>>& to, icu::DateFormat* made) const {
        std::unique_ptr<icu::DateFormat> format(made);
        if (format == nullptr) {
            return;
        }
        if (auto* simple = dynamic_cast<icu::SimpleDateFormat*>(made)) {
            icu::UnicodeString pattern;
            simple->applyPattern(asTyped(simple->toPattern(pattern)));
        }
        format->setLenient(false); // there are days that are none
        format->setTimeZone(*icu::TimeZone::getGMT());
        to.push_back(std::move(format));
    }

    /// The moment that the whole text is, in ms since 1970.
    static std::optional<double> parse(const std::vector<std::unique_ptr<icu::DateFormat>>& formats,
                                       const icu::UnicodeString& text) {
        for (const auto& format : formats) {
            icu::ParsePosition at(0);
            const UDate when = format->parse(text, at);
            if (at.getErrorIndex() < 0 && at.getIndex() == text.length()) {
                return when;
            }
        }
        return std::nullopt;
    }
};

LocalValues::LocalValues(const std::string& locale) : formats_(std::make_unique<Formats>()) {
    const icu::Locale known(locale.c_str());
    UErrorCode status = U_ZERO_ERROR;
    std::unique_ptr<icu::NumberFormat> number(icu::NumberFormat::createInstance(known, status));
    if (auto* decimal = U_SUCCESS(status) ? dynamic_cast<icu::DecimalFormat*>(number.get()) : nullptr) {
        (void)number.release();
        formats_->number.reset(decimal);
        decimal->setLenient(false);
        formats_->group = decimal->getDecimalFormatSymbols()->getSymbol(
            icu::DecimalFormatSymbols::kGroupingSeparatorSymbol)[0];
    }
    for (const auto style : kDates) {
        formats_->add(formats_->dates, icu::DateFormat::createDateInstance(style, known));
        for (const auto clock : {icu::DateFormat::kShort, icu::DateFormat::kMedium}) {
            formats_->add(formats_->moments, icu::DateFormat::createDateTimeInstance(style, clock, known));
        }
    }
}

LocalValues::~LocalValues() = default;

std::optional<LocalValues::Number> LocalValues::number(std::string_view text) const {
    icu::UnicodeString written = utf16(text).trim();
    if (formats_->number == nullptr || written.isEmpty()) {
        return std::nullopt;
    }
    // People type the space or apostrophe that is on their keys where the locale has another one.
    for (int i = 0; i < written.length(); ++i) {
        const char16_t c = written[i];
        if ((isSpace(c) && isSpace(formats_->group)) || (isApostrophe(c) && isApostrophe(formats_->group))) {
            written.setCharAt(i, formats_->group);
        }
    }
    icu::Formattable value;
    icu::ParsePosition at(0);
    formats_->number->parse(written, value, at);
    if (at.getErrorIndex() >= 0 || at.getIndex() != written.length()) {
        return std::nullopt;
    }
    UErrorCode status = U_ZERO_ERROR;
    Number number;
    number.value = value.getDouble(status);
    if (U_FAILURE(status) || !std::isfinite(number.value)) {
        return std::nullopt;
    }
    if (value.getType() != icu::Formattable::kDouble) {
        number.whole = value.getInt64();
    } else if (number.value == std::floor(number.value) && std::abs(number.value) < 9e15) {
        number.whole = static_cast<std::int64_t>(number.value);
    }
    return number;
}

std::optional<std::string> LocalValues::time(std::string_view text) const {
    const icu::UnicodeString written = utf16(text).trim();
    const auto date = Formats::parse(formats_->dates, written);
    const auto moment = date ? date : Formats::parse(formats_->moments, written);
    if (!moment || std::abs(*moment) > 1e14) {
        return std::nullopt;
    }
    using namespace std::chrono;
    const sys_time<milliseconds> when{milliseconds(static_cast<std::int64_t>(*moment))};
    const auto day = floor<days>(when);
    const year_month_day on(day);
    const int year = static_cast<int>(on.year());
    if (year < 0 || year > 9999) {
        return std::nullopt;
    }
    std::string iso = fmt::format("{:04}-{:02}-{:02}", year, static_cast<unsigned>(on.month()),
                                  static_cast<unsigned>(on.day()));
    if (!date) {
        const hh_mm_ss clock(floor<seconds>(when - day));
        iso += fmt::format("T{:02}:{:02}:{:02}", clock.hours().count(), clock.minutes().count(),
                           clock.seconds().count());
    }
    return iso;
}

} // namespace scorrere
