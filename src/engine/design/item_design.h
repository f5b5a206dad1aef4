// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/design/part_spec.h"
#include "engine/design/rule.h"
#include "engine/design/text_pattern.h"
#include "engine/record/uri_template.h"

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace scorrere {

/// One part of a compiled design. Parts lie in preorder: the children of part i are found by stepping from i
/// + 1 over `subtreeEnd` until its own. Pieces are put in and repeats written out: a repeat is a box whose
/// children stand for its entries, and the last one for the rest.
struct PlanPart {
    PartType type = PartType::Column;
    Align align = Align::Stretch;
    Fit fit = Fit::Fill;
    Fade fade = Fade::None;
    Tone tone = Tone::Neutral; ///< where no rule decides
    bool keepsPlace = false;
    bool aspectMeasured = false;
    bool hasMissing = false;
    int subtreeEnd = 0;
    int binding = -1; ///< index of its outcome in an ItemContent
    int label = -1;   ///< a binding, too
    int style = -1;   ///< index into styles()
    int firstTone = -1;
    int tones = 0;
    int hide = -1;
    int repeat = -1; ///< the repeat it stands in or is
    int entry = -1;  ///< the entry it stands for; -2: for the rest
    int strip = -1;  ///< index into strips()
    int lines = 1;
    int steps = 0;
    double grow = 0;
    double aspect = 0;
    std::array<double, 2> focus{0.5, 0.5};
    Length gap;
    Length lineGap;
    std::array<Length, 4> padding{};
    Length width = Length::fromRaw(-1); ///< negative: open
    Length height = Length::fromRaw(-1);
    Length minHeight;
    Length maxHeight = Length::fromRaw(-1);
    Length radius;
    std::string colour;
    std::string ground;
    std::string placeholder;
    std::string missing;
    std::string tap;
    PictureFallback fallback;
    std::vector<std::string> glyphs;
    std::string pointer; ///< the part in the document that it was made of

    bool isText() const {
        return type == PartType::Text || type == PartType::Badge ||
               (type == PartType::Scale && !glyphs.empty());
    }
};

/// What one item shows: the outcome of every binding and rule, kept so that the next fill can tell what
/// differs.
struct ItemContent {
    // By binding.
    std::vector<std::string> values;
    std::vector<std::uint8_t> present;
    // By part.
    std::vector<std::uint8_t> hidden;
    std::vector<Tone> tones;
    std::vector<float> numbers; ///< Meter: 0 to 1. Scale: its steps. Picture: its aspect, 0 where unknown
};

/// What a fill changed.
struct FillChange {
    bool layout = false; ///< something that can move parts: lay out again
    bool paint = false;  ///< something that shows
};

/// What a design is compiled against.
struct DesignScope {
    const RecordTable& records;
    std::string locale = "en";
    const Parameters* parameters = nullptr;
    const Pieces* pieces = nullptr;
    bool isEntry = false; ///< of an entry of a list: {entry} and its members have a meaning
};

/// A compiled item design: a flat fill plan.
///
/// Complexity  fill is O(bindings + rules), whatever the design's depth, and allocates nothing once as long
///             values were filled before (ICU's own formatters aside).
/// Ownership   Owns everything it needs but the records, which come in with each call.
/// Threads     One thread at a time (see TextPattern); a worker compiles its own.
/// Errors      compile: NotFound, Syntax, Invalid or TooLarge, located by the part's JSON Pointer; the column
///             is the one inside the pattern or rule.
class ItemDesign {
public:
    static constexpr int kMaxParts = 1000;
    static constexpr int kMaxDepth = 32;

    static Result<ItemDesign> compile(const PartSpec& root, const DesignScope& scope);
    static Result<ItemDesign> compile(const PartSpec& root, const RecordTable& fields,
                                      const std::string& locale) {
        return compile(root, DesignScope{fields, locale, nullptr, nullptr});
    }

    const std::vector<PlanPart>& parts() const { return parts_; }
    const std::vector<TextStyle>& styles() const { return styles_; }
    std::size_t bindingCount() const { return bindings_.size(); }
    /// Written from right to left: the whole item is mirrored.
    bool isMirrored() const { return mirrored_; }
    /// Whether a parameter can change where parts stand, and not only how they look.
    bool parametersMoveParts() const { return parametersMove_; }
    bool readsParameters() const { return readsParameters_; }
    /// Of an item's state, what it asks for, and what of that can change where parts stand.
    ItemState readsState() const { return readsState_; }
    ItemState stateMovesParts() const { return stateMoves_; }
    /// The fields whose values it shows.
    const std::vector<FieldHandle>& fields() const { return fields_; }
    /// The one that its first text names, by which people know an item; nothing: its texts name none.
    std::optional<FieldHandle> titleField() const;
    /// A strip within the item: the list it shows, and how an entry of that looks.
    struct Strip {
        int part = 0;
        FieldHandle field;
        std::shared_ptr<const ItemDesign> entry;
    };
    const std::vector<Strip>& strips() const { return strips_; }
    /// Fields that its rules ask for and no record has.
    const std::vector<std::string>& absentFields() const { return absent_; }

    /// Puts the record's values into `content`; sets `changed[b]` for each binding whose outcome differs from
    /// what was there. A negative record fills fixed texts only (headers and footers).
    FillChange fill(const FillContext& context, ItemContent& content,
                    std::vector<std::uint8_t>& changed) const;
    /// Only what rules and meters say, for a parameter or a state that is another. Touches no text.
    FillChange retone(const FillContext& context, ItemContent& content) const;

private:
    friend class DesignCompiler;
    struct Binding {
        enum class Kind : std::uint8_t { Pattern, Address, Glyphs };
        Kind kind = Kind::Pattern;
        int part = 0;
        std::optional<TextPattern> pattern;
        std::optional<UriTemplate> address;
        std::vector<ValueRef> names; ///< of the address; Glyphs: the one value
        bool label = false;
    };
    struct Number { ///< Meter, Scale, or a picture's aspect
        int part = 0;
        ValueRef value;
        ValueRef second; ///< aspect: the height
        bool isAspect = false;
        Bound low, high;
        int lowParameter = -1;
        int highParameter = -1;
    };
    struct ToneTest {
        Tone tone;
        std::optional<Rule> rule;
    };
    struct Repeat {
        int part = 0;
        FieldHandle field;
        int most = 0;
    };
    bool bindingValue(const Binding& binding, const FillContext& context, std::string& out) const;
    bool fillNumbers(const FillContext& context, ItemContent& content) const;
    FillChange decide(const FillContext& context, ItemContent& content) const;
    FillContext contextOf(const PlanPart& part, const FillContext& context) const;
    bool readRepeats(const FillContext& context, ItemContent& content) const;
    bool hideStrips(const FillContext& context, ItemContent& content) const;

    std::vector<PlanPart> parts_;
    std::vector<TextStyle> styles_;
    std::vector<Binding> bindings_;
    std::vector<Number> numbers_;
    std::vector<ToneTest> tones_;
    std::vector<int> tonedParts_;
    std::vector<Rule> hides_;
    std::vector<std::string> absent_;
    std::vector<int> hiddenParts_; ///< parts with a hide rule
    std::vector<Repeat> repeats_;
    std::vector<Strip> strips_;
    std::vector<FieldHandle> fields_;
    bool mirrored_ = false;
    bool parametersMove_ = false;
    bool readsParameters_ = false;
    ItemState readsState_;
    ItemState stateMoves_;
    mutable std::vector<EntryList> entries_; ///< by repeat, of the record being filled
    mutable std::string scratch_;
    mutable std::vector<std::string> texts_;      ///< of an address's names
    mutable std::vector<std::string_view> views_; ///< of them
};

/// Whether a text names a locale: a BCP 47 tag, as in en, de-CH or ar-u-nu-latn.
bool isLocale(const std::string& name);
/// Whether a locale is written from right to left.
bool isRightToLeft(const std::string& locale);

} // namespace scorrere
