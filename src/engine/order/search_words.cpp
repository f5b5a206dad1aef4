// SPDX-License-Identifier: Apache-2.0
#include "engine/order/search_words.h"

#include <algorithm>
#include <cstdint>
#include <functional>
#include <unicode/normalizer2.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>
#include <unicode/utf8.h>
#include <vector>

namespace scorrere {

namespace {

/// Marks of the kana: what they are on is another letter.
bool isVoicing(UChar32 c) {
    return c == 0x3099 || c == 0x309a;
}

/// One character as it is searched. What is before and behind it has no say: marks go, and what was composed comes
/// apart again.
void foldOne(UChar32 c, const icu::Normalizer2& folding, const icu::Normalizer2& apart, std::string& to) {
    UErrorCode status = U_ZERO_ERROR;
    icu::UnicodeString folded;
    icu::UnicodeString parts;
    folding.normalize(icu::UnicodeString(c), folded, status);
    apart.normalize(folded, parts, status);
    icu::UnicodeString kept;
    for (std::int32_t i = 0; i < parts.length(); i = parts.moveIndex32(i, 1)) {
        const UChar32 part = parts.char32At(i);
        if (u_charType(part) != U_NON_SPACING_MARK || isVoicing(part)) {
            kept.append(part);
        }
    }
    kept.toUTF8String(to);
}

/// How each character of the first plane is searched: asking ICU for each text takes ten times as long.
class Folds {
public:
    static constexpr UChar32 kEnd = 0x10000;

    Folds() {
        UErrorCode status = U_ZERO_ERROR;
        folding_ = icu::Normalizer2::getNFKCCasefoldInstance(status);
        apart_ = icu::Normalizer2::getNFDInstance(status);
        areThere_ = U_SUCCESS(status);
        starts_.reserve(kEnd + 1);
        for (UChar32 c = 0; c < kEnd; ++c) {
            starts_.push_back(static_cast<std::uint32_t>(bytes_.size()));
            if (areThere_ && !U_IS_SURROGATE(c)) {
                foldOne(c, *folding_, *apart_, bytes_);
            }
        }
        starts_.push_back(static_cast<std::uint32_t>(bytes_.size()));
    }
    /// False where ICU's data is missing.
    bool areThere() const { return areThere_; }
    void add(UChar32 c, std::string& to) const {
        if (c < kEnd) {
            const auto at = static_cast<std::size_t>(c);
            to.append(bytes_, starts_[at], starts_[at + 1] - starts_[at]);
        } else {
            foldOne(c, *folding_, *apart_, to);
        }
    }

private:
    const icu::Normalizer2* folding_ = nullptr;
    const icu::Normalizer2* apart_ = nullptr;
    bool areThere_ = false;
    std::vector<std::uint32_t> starts_;
    std::string bytes_;
};

void foldOthers(std::string_view text, std::string& to) {
    static const Folds folds;
    if (!folds.areThere()) { // what is there is searched as it is
        to += text;
        return;
    }
    const auto length = static_cast<std::int32_t>(text.size());
    for (std::int32_t i = 0; i < length;) {
        UChar32 c = 0;
        U8_NEXT_OR_FFFD(reinterpret_cast<const std::uint8_t*>(text.data()), i, length, c);
        folds.add(c, to);
    }
}

} // namespace

void foldForSearch(std::string_view text, std::string& to) {
    const auto isPlain = [](char c) { return static_cast<unsigned char>(c) < 0x80; };
    if (!std::ranges::all_of(text, isPlain)) {
        return foldOthers(text, to);
    }
    const std::size_t from = to.size();
    to.resize(from + text.size());
    std::ranges::transform(text, to.begin() + static_cast<std::ptrdiff_t>(from), [](char c) {
        return static_cast<char>(c + (c >= 'A' && c <= 'Z' ? 'a' - 'A' : 0));
    });
}

std::vector<std::string> searchWords(std::string_view typed) {
    std::string folded;
    foldForSearch(typed, folded);
    const icu::UnicodeString text = icu::UnicodeString::fromUTF8(folded);
    std::vector<std::string> words;
    icu::UnicodeString word;
    const auto end = [&] {
        if (!word.isEmpty()) {
            word.toUTF8String(words.emplace_back());
            word.remove();
        }
    };
    for (std::int32_t i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        const UChar32 c = text.char32At(i);
        u_isUWhiteSpace(c) ? end() : static_cast<void>(word.append(c));
    }
    end();
    // The longest first: it leaves the least to look at.
    std::ranges::stable_sort(words, std::greater(), &std::string::size);
    std::vector<std::string> kept;
    for (std::string& one : words) {
        if (std::ranges::none_of(
                kept, [&](const std::string& longer) { return longer.find(one) != std::string::npos; })) {
            kept.push_back(std::move(one));
        }
    }
    return kept;
}

} // namespace scorrere
