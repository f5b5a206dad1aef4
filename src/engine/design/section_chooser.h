// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/rule.h"
#include "engine/design/text_pattern.h"

#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace scorrere {

/// What puts records under one heading: as long as it says the same of those that follow each other, they are of
/// one section.
struct SectionBy {
    /// A text pattern: "{site}", "{seen, date, ::yMMMM}".
    struct Text {
        std::string pattern;
        bool operator==(const Text&) const = default;
    };
    /// The first letter of a field's text, as the collection's language orders texts.
    struct FirstLetter {
        std::string field;
        bool operator==(const FirstLetter&) const = default;
    };
    /// The name of the first rule that holds.
    struct Rules {
        struct One {
            std::string name;
            std::string when; ///< empty: always
            bool operator==(const One&) const = default;
        };
        std::vector<One> all;
        bool operator==(const Rules&) const = default;
    };
    std::variant<Text, FirstLetter, Rules> is;
    bool operator==(const SectionBy&) const = default;
};

/// Says under which heading a record stands.
///
/// Threads     One thread at a time, as TextPattern and Rule.
/// Errors      compile: as TextPattern and Rule, located below `pointer`.
class SectionChooser {
public:
    static Result<SectionChooser> compile(const SectionBy& by, const NameScope& scope,
                                          const std::string& pointer);
    SectionChooser(SectionChooser&&) noexcept;
    SectionChooser& operator=(SectionChooser&&) noexcept;
    ~SectionChooser();

    /// The heading's text in `out`; kNothing where the record has none.
    void textOf(const FillContext& context, std::string& out) const;
    static constexpr const char* kNothing = "\u2014";
    /// Whether both are certain to have the same heading: what is read of them is the same. No text is made for it.
    bool isAlike(const RecordTable& records, std::int64_t one, std::int64_t other) const;
    /// The fields that a text pattern names; nothing: headings are not told by one.
    const std::vector<FieldHandle>* fields() const { return pattern_ ? &pattern_->fields() : nullptr; }
    bool readsParameters() const;

private:
    SectionChooser();
    /// The letters of a language, each with the first text that is filed under it.
    class Letters;

    std::optional<TextPattern> pattern_;
    std::unique_ptr<Letters> letters_;
    std::vector<std::pair<std::string, std::optional<Rule>>> rules_;
    mutable std::string text_;
};

} // namespace scorrere
