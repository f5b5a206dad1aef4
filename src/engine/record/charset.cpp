// SPDX-License-Identifier: Apache-2.0
#include "engine/record/charset.h"

#include "engine/record/json_outline.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <optional>
#include <unicode/ucnv.h>
#include <unicode/ucsdet.h>
#include <unicode/unistr.h>
#include <vector>

namespace scorrere {

namespace {

/// What windows-1252 has at 0x80 to 0x9F where Latin-1 has control characters; 0: nothing.
constexpr std::array<char16_t, 32> kWindows1252{
    0x20AC, 0,      0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021, 0x02C6, 0x2030, 0x0160,
    0x2039, 0x0152, 0,      0x017D, 0,      0,      0x2018, 0x2019, 0x201C, 0x201D, 0x2022,
    0x2013, 0x2014, 0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0,      0x017E, 0x0178};

/// One character of right UTF-8 at `at`, which moves behind it; 0 at the end.
char32_t nextChar(std::string_view text, std::size_t& at) {
    if (at >= text.size()) {
        return 0;
    }
    const auto byte = [&](std::size_t i) {
        return static_cast<char32_t>(static_cast<unsigned char>(at + i < text.size() ? text[at + i] : '\0'));
    };
    const char32_t lead = byte(0);
    if (lead < 0xC0) {
        at += 1;
        return lead;
    }
    if (lead < 0xE0) {
        const char32_t c = ((lead & 0x1F) << 6) | (byte(1) & 0x3F);
        at += 2;
        return c;
    }
    if (lead < 0xF0) {
        const char32_t c = ((lead & 0x0F) << 12) | ((byte(1) & 0x3F) << 6) | (byte(2) & 0x3F);
        at += 3;
        return c;
    }
    const char32_t c =
        ((lead & 0x07) << 18) | ((byte(1) & 0x3F) << 12) | ((byte(2) & 0x3F) << 6) | (byte(3) & 0x3F);
    at += 4;
    return c;
}

/// The byte that windows-1252 (or Latin-1) shows as this character; nothing below 0x80 or beyond.
std::optional<unsigned char> byteOf(char32_t c) {
    if (c >= 0x80 && c <= 0xFF) {
        return static_cast<unsigned char>(c);
    }
    const auto found = std::find(kWindows1252.begin(), kWindows1252.end(), static_cast<char16_t>(c));
    if (c < 0x100 || c > 0xFFFF || found == kWindows1252.end()) {
        return std::nullopt;
    }
    return static_cast<unsigned char>(0x80 + (found - kWindows1252.begin()));
}

/// The bytes that the characters at `at` stand for when they are a whole UTF-8 sequence decoded once more;
/// `at` moves behind them. Empty: they are not.
std::string sequenceAt(std::string_view text, std::size_t& at) {
    std::size_t next = at;
    const auto lead = byteOf(nextChar(text, next));
    if (!lead || *lead < 0xC2 || *lead > 0xF4) {
        return {};
    }
    std::string bytes(1, static_cast<char>(*lead));
    const int more = *lead >= 0xF0 ? 3 : *lead >= 0xE0 ? 2 : 1;
    for (int i = 0; i < more; ++i) {
        const auto follows = byteOf(nextChar(text, next));
        if (!follows || *follows < 0x80 || *follows > 0xBF) {
            return {};
        }
        bytes += static_cast<char>(*follows);
    }
    if (firstBadUtf8(bytes) < bytes.size()) {
        return {};
    }
    at = next;
    return bytes;
}

std::string upper(std::string text) {
    std::ranges::transform(text, text.begin(), [](char c) {
        return static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    });
    return text;
}

/// The encoding that an XML declaration names, if there is one.
std::string declaredInXml(std::string_view start) {
    if (!start.starts_with("<?xml")) {
        return {};
    }
    const std::string_view declaration = start.substr(0, start.find("?>"));
    const std::size_t at = declaration.find("encoding");
    const std::size_t open = at == std::string_view::npos ? at : declaration.find_first_of("\"'", at);
    if (open == std::string_view::npos) {
        return {};
    }
    return std::string(
        declaration.substr(open + 1, declaration.find(declaration[open], open + 1) - open - 1));
}

std::string lookOf(std::string_view start) {
    UErrorCode status = U_ZERO_ERROR;
    UCharsetDetector* detector = ucsdet_open(&status);
    std::string found = "windows-1252";
    if (U_SUCCESS(status)) {
        ucsdet_setText(detector, start.data(), static_cast<int32_t>(start.size()), &status);
        const UCharsetMatch* match = ucsdet_detect(detector, &status);
        if (U_SUCCESS(status) && match != nullptr && ucsdet_getConfidence(match, &status) >= 30) {
            found = ucsdet_getName(match, &status);
        }
        ucsdet_close(detector);
    }
    // What is called Latin-1 is windows-1252 nearly everywhere: it has the same letters, and quotes too.
    return found == "ISO-8859-1" ? "windows-1252" : found;
}

class TranscodingBuffer final : public std::streambuf {
public:
    TranscodingBuffer(std::istream& in, const std::string& charset) : in_(in) {
        UErrorCode status = U_ZERO_ERROR;
        converter_ = ucnv_open(charset.c_str(), &status);
    }
    ~TranscodingBuffer() override { ucnv_close(converter_); }
    TranscodingBuffer(const TranscodingBuffer&) = delete;
    TranscodingBuffer& operator=(const TranscodingBuffer&) = delete;

protected:
    int_type underflow() override {
        while (!ended_) {
            in_.read(bytes_.data(), static_cast<std::streamsize>(bytes_.size()));
            const char* from = bytes_.data();
            const char* until = from + in_.gcount();
            ended_ = in_.gcount() == 0 || in_.eof();
            UErrorCode status = U_ZERO_ERROR;
            UChar* to = units_.data();
            ucnv_toUnicode(converter_, &to, units_.data() + units_.size(), &from, until, nullptr,
                           ended_ ? 1 : 0, &status);
            utf8_.clear();
            auto* first = units_.data();
            if (!started_ && to > first && *first == 0xFEFF) {
                ++first;
            }
            started_ = started_ || to > first;
            icu::UnicodeString(false, first, static_cast<int32_t>(to - first)).toUTF8String(utf8_);
            if (!utf8_.empty()) {
                setg(utf8_.data(), utf8_.data(), utf8_.data() + utf8_.size());
                return traits_type::to_int_type(utf8_[0]);
            }
        }
        return traits_type::eof();
    }

private:
    std::istream& in_;
    UConverter* converter_ = nullptr;
    std::vector<char> bytes_ = std::vector<char>(64 << 10);
    std::vector<UChar> units_ = std::vector<UChar>((64 << 10) * 2 + 64);
    std::string utf8_;
    bool ended_ = false;
    bool started_ = false;
};

class TranscodingStream final : public std::istream {
public:
    TranscodingStream(std::istream& from, const std::string& charset)
        : std::istream(nullptr), buffer_(from, charset) {
        rdbuf(&buffer_);
    }

private:
    TranscodingBuffer buffer_;
};

} // namespace

bool isUtf8(const std::string& name) {
    const std::string plain = upper(name);
    return plain == "UTF-8" || plain == "UTF8" || plain == "US-ASCII" || plain == "ASCII";
}

bool isCharset(const std::string& name) {
    UErrorCode status = U_ZERO_ERROR;
    UConverter* converter = ucnv_open(name.c_str(), &status);
    ucnv_close(converter);
    return !name.empty() && U_SUCCESS(status);
}

Charset findCharset(std::string_view start, const std::string& said) {
    const auto mark = [&](std::string_view bytes) { return start.starts_with(bytes); };
    if (mark("\xEF\xBB\xBF")) {
        return {"UTF-8", "it starts with a byte order mark", false};
    }
    if (mark(std::string_view("\xFF\xFE\0\0", 4)) || mark(std::string_view("\0\0\xFE\xFF", 4))) {
        return {"UTF-32", "it starts with a byte order mark", false};
    }
    if (mark("\xFF\xFE") || mark("\xFE\xFF")) {
        return {"UTF-16", "it starts with a byte order mark", false};
    }
    std::string unknown;
    if (!said.empty()) {
        if (isUtf8(said) || isCharset(said)) {
            return {isUtf8(said) ? "UTF-8" : said, "the answer's header says so", false};
        }
        unknown = "the header says " + said + ", which nobody knows; ";
    }
    if (const std::string declared = declaredInXml(start); !declared.empty()) {
        if (isUtf8(declared) || isCharset(declared)) {
            return {isUtf8(declared) ? "UTF-8" : declared, unknown + "the document says so", false};
        }
        unknown += "the document says " + declared + ", which nobody knows; ";
    }
    // The start may end inside a character.
    const std::size_t bad = firstBadUtf8(start);
    const auto nuls = std::ranges::count(start, '\0');
    if (nuls > 0 && start.size() >= 4 && nuls * 3 >= static_cast<std::ptrdiff_t>(start.size()) &&
        (start[0] == '\0') != (start[1] == '\0')) {
        return {start[0] == '\0' ? "UTF-16BE" : "UTF-16LE", unknown + "every second byte is NUL", true};
    }
    if (bad + 4 > start.size()) {
        return {"UTF-8",
                unknown + (bad == start.size() &&
                                   std::ranges::all_of(
                                       start, [](char c) { return static_cast<unsigned char>(c) < 0x80; })
                               ? "it is plain ASCII so far"
                               : "it is right UTF-8"),
                false};
    }
    return {lookOf(start), unknown + "it is not UTF-8, and looks like this", true};
}

std::unique_ptr<std::istream> transcoded(std::istream& in, const std::string& charset) {
    return std::make_unique<TranscodingStream>(in, charset);
}

bool looksDoubleDecoded(std::string_view text) {
    // Each such sequence begins with a character from U+00C2 to U+00F4: 0xC3 in UTF-8.
    for (std::size_t at = text.find('\xC3'); at != std::string_view::npos; at = text.find('\xC3', at + 1)) {
        std::size_t next = at;
        if (!sequenceAt(text, next).empty()) {
            return true;
        }
    }
    return false;
}

std::string undoDoubleDecoding(std::string_view text) {
    std::string out;
    std::size_t at = 0;
    while (at < text.size()) {
        const std::string bytes = sequenceAt(text, at);
        if (!bytes.empty()) {
            out += bytes;
            continue;
        }
        const std::size_t from = at;
        nextChar(text, at);
        at = std::min(at, text.size());
        out += text.substr(from, at - from);
    }
    return out;
}

} // namespace scorrere
