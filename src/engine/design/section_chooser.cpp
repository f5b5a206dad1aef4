// SPDX-License-Identifier: Apache-2.0
#include "engine/design/section_chooser.h"

#include <algorithm>
#include <fmt/format.h>
#include <unicode/alphaindex.h>
#include <unicode/locid.h>
#include <unicode/unistr.h>

namespace scorrere {

namespace {
constexpr int kMostLetters = 1000;
}

class SectionChooser::Letters {
public:
    explicit Letters(const std::string& locale) {
        UErrorCode status = U_ZERO_ERROR;
        icu::AlphabeticIndex index(icu::Locale::forLanguageTag(locale, status), status);
        index.setMaxLabelCount(kMostLetters, status); // it leaves some out where there are more
        // Beside the language's own, so that a name from elsewhere is not among "others".
        for (const char* other : {"en", "el", "ru", "ar", "he", "ja", "ko"}) {
            index.addLabels(icu::Locale(other), status);
        }
        made_.reset(index.buildImmutableIndex(status));
        if (U_FAILURE(status)) {
            made_.reset();
        }
    }
    void letterOf(const std::string& text, std::string& out) const {
        out.clear();
        if (!made_) {
            return;
        }
        UErrorCode status = U_ZERO_ERROR;
        const std::int32_t at = made_->getBucketIndex(icu::UnicodeString::fromUTF8(text), status);
        const icu::AlphabeticIndex::Bucket* bucket = U_SUCCESS(status) ? made_->getBucket(at) : nullptr;
        if (bucket == nullptr) {
            return;
        }
        if (bucket->getLabelType() == U_ALPHAINDEX_NORMAL) {
            bucket->getLabel().toUTF8String(out);
        } else { // before all letters, or of another script: digits and signs
            out = "#";
        }
    }

private:
    std::unique_ptr<icu::AlphabeticIndex::ImmutableIndex> made_;
};

SectionChooser::SectionChooser() = default;
SectionChooser::SectionChooser(SectionChooser&&) noexcept = default;
SectionChooser& SectionChooser::operator=(SectionChooser&&) noexcept = default;
SectionChooser::~SectionChooser() = default;

Result<SectionChooser> SectionChooser::compile(const SectionBy& by, const NameScope& scope,
                                               const std::string& pointer) {
    SectionChooser chooser;
    const auto located = [&](Error error, const std::string& below) {
        error.place.pointer = pointer + below;
        return error;
    };
    if (const auto* rules = std::get_if<SectionBy::Rules>(&by.is)) {
        for (std::size_t i = 0; i < rules->all.size(); ++i) {
            const auto& [name, when] = rules->all[i];
            std::optional<Rule> rule;
            if (!when.empty()) {
                auto compiled = Rule::compile(when, scope);
                if (!compiled) {
                    return located(std::move(compiled.error()), fmt::format("/rules/{}/when", i));
                }
                rule = std::move(*compiled);
            }
            chooser.rules_.emplace_back(name, std::move(rule));
        }
        return chooser;
    }
    const auto* letter = std::get_if<SectionBy::FirstLetter>(&by.is);
    auto pattern = TextPattern::compile(
        letter != nullptr ? "{" + letter->field + "}" : std::get<SectionBy::Text>(by.is).pattern, scope);
    if (!pattern) {
        return located(std::move(pattern.error()), letter != nullptr ? "/firstLetter" : "");
    }
    chooser.pattern_ = std::move(*pattern);
    if (letter != nullptr) {
        chooser.letters_ = std::make_unique<Letters>(scope.locale);
    }
    return chooser;
}

void SectionChooser::textOf(const FillContext& context, std::string& out) const {
    out.clear();
    if (!pattern_) {
        const auto holds = [&](const auto& one) { return !one.second || one.second->holds(context); };
        const auto first = std::ranges::find_if(rules_, holds);
        out = first == rules_.end() ? kNothing : first->first;
        return;
    }
    if (letters_) {
        (void)pattern_->format(context, text_);
        if (!text_.empty()) {
            letters_->letterOf(text_, out);
        }
    } else {
        (void)pattern_->format(context, out);
    }
    if (out.empty()) {
        out = kNothing;
    }
}

bool SectionChooser::isAlike(const RecordTable& records, std::int64_t one, std::int64_t other) const {
    return pattern_ && std::ranges::all_of(pattern_->fields(), [&](FieldHandle field) {
               if (records.has(one, field) != records.has(other, field)) {
                   return false;
               }
               if (!records.has(one, field)) {
                   return true;
               }
               switch (records.field(field).type) {
               case FieldType::Integer:
                   return records.integer(one, field) == records.integer(other, field);
               case FieldType::Real:
                   return records.real(one, field) == records.real(other, field);
               case FieldType::Boolean:
                   return records.boolean(one, field) == records.boolean(other, field);
               default:
                   return records.text(one, field) == records.text(other, field);
               }
           });
}

bool SectionChooser::readsParameters() const {
    return (pattern_ && pattern_->readsParameters()) || std::ranges::any_of(rules_, [](const auto& one) {
               return one.second && one.second->readsParameters();
           });
}

} // namespace scorrere
