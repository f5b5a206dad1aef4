// SPDX-License-Identifier: Apache-2.0
#include "engine/design/item_design.h"

#include "engine/design/layout.h"

#include <algorithm>
#include <fmt/format.h>
#include <unicode/locid.h>

namespace scorrere {

const char* partWord(PartType type) {
    static constexpr std::array kWords{"text", "picture", "badge", "meter", "scale",  "line",  "space",
                                       "row",  "column",  "over",  "wrap",  "repeat", "strip", "piece"};
    return kWords[static_cast<std::size_t>(type)];
}

const char* toneWord(Tone tone) {
    static constexpr std::array kWords{"neutral", "note", "good", "caution", "bad"};
    return kWords[static_cast<std::size_t>(tone)];
}

bool isLocale(const std::string& name) {
    std::string tag = name;
    std::ranges::replace(tag, '_', '-'); // as POSIX writes them
    UErrorCode status = U_ZERO_ERROR;
    const icu::Locale locale = icu::Locale::forLanguageTag(tag, status);
    return U_SUCCESS(status) != 0 && !tag.empty() && locale.isBogus() == 0;
}

bool isRightToLeft(const std::string& locale) {
    return icu::Locale(locale.c_str()).isRightToLeft() != 0;
}

/// Writes a design out into its flat plan.
class DesignCompiler {
public:
    DesignCompiler(const DesignScope& scope, ItemDesign& design) : scope_(scope), design_(design) {}

    /// Where a part stands among pieces and repeats.
    struct Around {
        const std::map<std::string, std::string>* inputs = nullptr;
        int repeat = -1;
        int entry = -1;
        int depth = 0;
    };

    Outcome add(const PartSpec& spec, const Around& around) {
        if (static_cast<int>(design_.parts_.size()) >= ItemDesign::kMaxParts ||
            around.depth > ItemDesign::kMaxDepth) {
            return located({ErrorCode::TooLarge,
                            fmt::format("an item design may hold {} parts, {} deep", ItemDesign::kMaxParts,
                                        ItemDesign::kMaxDepth),
                            "Make the design simpler, or give a repeat fewer entries.",
                            {}},
                           spec, "");
        }
        if (spec.type == PartType::Piece) {
            return addPiece(spec, around);
        }
        const std::size_t index = design_.parts_.size();
        design_.parts_.push_back(plain(spec, around));
        for (Outcome bound : {bindText(spec, index, around), bindPicture(spec, index, around),
                              bindNumber(spec, index, around), bindRules(spec, index, around)}) {
            if (!bound) {
                return bound;
            }
        }
        Outcome children = spec.type == PartType::Repeat  ? addRepeat(spec, index, around)
                           : spec.type == PartType::Strip ? addStrip(spec, index, around)
                                                          : addAll(spec, around);
        if (!children) {
            return children;
        }
        design_.parts_[index].subtreeEnd = static_cast<int>(design_.parts_.size());
        return done();
    }

private:
    static Error located(Error error, const PartSpec& spec, const std::string& member) {
        error.place.pointer = spec.pointer + member;
        return error;
    }
    NameScope names(const Around& around) const {
        return {scope_.records,
                scope_.locale,
                scope_.parameters,
                around.inputs,
                scope_.isEntry || around.repeat >= 0,
                true};
    }

    /// Where a piece names a field, its input of that name stands for the field it was given.
    static std::string fieldFor(const std::string& name, const Around& around) {
        const auto input = around.inputs == nullptr ? std::map<std::string, std::string>::const_iterator()
                                                    : around.inputs->find(name);
        if (around.inputs == nullptr || input == around.inputs->end()) {
            return name;
        }
        const std::string& given = input->second;
        return given.size() > 2 && given.front() == '{' ? given.substr(1, given.size() - 2) : given;
    }

    static PlanPart plain(const PartSpec& spec, const Around& around) {
        PlanPart part;
        part.type = spec.type == PartType::Repeat ? spec.repeatAs : spec.type;
        part.align = spec.align;
        part.fit = spec.fit;
        part.fade = spec.fade;
        part.keepsPlace = spec.keepsPlace;
        part.aspectMeasured = spec.aspectMeasured;
        part.hasMissing = spec.missing.has_value();
        part.missing = spec.missing.value_or("");
        part.repeat = around.repeat;
        part.entry = around.entry;
        part.lines = spec.lines;
        part.steps = spec.steps;
        part.grow = spec.grow;
        part.aspect = spec.aspect;
        part.focus = spec.focus;
        part.gap = spec.gap;
        part.lineGap = spec.lineGap;
        part.padding = spec.padding;
        if (spec.type == PartType::Badge && !spec.tones.empty()) {
            part.padding[3] += kToneMark;
        }
        part.width = spec.width.value_or(Length::fromRaw(-1));
        part.height = spec.height.value_or(Length::fromRaw(-1));
        part.minHeight = spec.minHeight.value_or(Length{});
        part.maxHeight = spec.maxHeight.value_or(Length::fromRaw(-1));
        part.radius = spec.radius;
        part.colour = spec.colour;
        part.ground = spec.ground;
        part.placeholder = spec.placeholder;
        part.tap = spec.tap;
        part.fallback = spec.fallback;
        part.glyphs = spec.glyphs;
        part.pointer = spec.pointer;
        return part;
    }

    Outcome addAll(const PartSpec& spec, const Around& around) {
        Around inside = around;
        ++inside.depth;
        for (const PartSpec& child : spec.children) {
            if (Outcome added = add(child, inside); !added) {
                return added;
            }
        }
        return done();
    }

    Outcome addPiece(const PartSpec& spec, const Around& around) {
        const auto* pieces = scope_.pieces;
        const auto piece = pieces == nullptr ? Pieces::const_iterator() : pieces->find(spec.binding);
        if (pieces == nullptr || piece == pieces->end()) {
            std::string known;
            for (const auto& [name, body] : pieces == nullptr ? Pieces{} : *pieces) {
                known += (known.empty() ? "" : ", ") + name;
            }
            return located({ErrorCode::NotFound,
                            fmt::format("there is no piece \"{}\"", spec.binding),
                            known.empty() ? "The collection has no \"pieces\" yet: add it there."
                                          : fmt::format("The pieces are: {}.", known),
                            {}},
                           spec, "/piece");
        }
        if (std::ranges::find(open_, spec.binding) != open_.end()) {
            std::string way;
            for (const std::string& name : open_) {
                way += name + " > ";
            }
            return located(
                {ErrorCode::Invalid,
                 fmt::format("the piece \"{}\" holds itself: {}{}", spec.binding, way, spec.binding),
                 "Take it out of itself.",
                 {}},
                spec, "/piece");
        }
        std::map<std::string, std::string> inputs;
        for (const std::string& input : piece->second.inputs) {
            if (!spec.inputs.contains(input)) {
                return located(
                    {ErrorCode::NotFound,
                     fmt::format("the piece \"{}\" is not given its input \"{}\"", spec.binding, input),
                     fmt::format("Add it: \"with\": {{\"{}\": \"{{field}}\"}}.", input),
                     {}},
                    spec, "/piece");
            }
        }
        for (const auto& [name, given] : spec.inputs) {
            if (std::ranges::find(piece->second.inputs, name) == piece->second.inputs.end()) {
                return located({ErrorCode::NotFound,
                                fmt::format("the piece \"{}\" has no input \"{}\"", spec.binding, name),
                                "Leave it out, or add it to the piece's \"inputs\".",
                                {}},
                               spec, "/with/" + name);
            }
            auto put = TextPattern::withInputs(given, names(around));
            if (!put) {
                return located(std::move(put.error()), spec, "/with/" + name);
            }
            inputs[name] = std::move(*put);
        }
        open_.push_back(spec.binding);
        Around inside = around;
        inside.inputs = &inputs;
        ++inside.depth;
        Outcome added = add(piece->second.body, inside);
        open_.pop_back();
        return added;
    }

    /// The field of a list, for what shows its entries.
    Result<ValueRef> listField(const PartSpec& spec, const Around& around) {
        const std::string word = std::string("/") + partWord(spec.type);
        auto field = names(around).resolve(fieldFor(spec.binding, around));
        if (!field) {
            return located(std::move(field.error()), spec, word);
        }
        if (field->type != FieldType::List && field->type != FieldType::Unknown) {
            return located({ErrorCode::Invalid,
                            fmt::format("\"{}\" is shown entry by entry, but the field holds {}",
                                        spec.binding, typeName(field->type)),
                            "Choose a field that holds a list.",
                            {}},
                           spec, word);
        }
        note(*field);
        return field;
    }

    /// Its entries have a design of their own: which of them show is nothing the item knows.
    Outcome addStrip(const PartSpec& spec, std::size_t index, const Around& around) {
        if (around.repeat >= 0 || scope_.isEntry) {
            return located(
                {ErrorCode::Invalid,
                 "a strip stands within an entry",
                 "Have a strip of one list only; show what its entries hold as text, or repeat it.",
                 {}},
                spec, "");
        }
        const auto field = listField(spec, around);
        if (!field) {
            return field.error();
        }
        if (spec.children.size() != 1) {
            return located({ErrorCode::Invalid,
                            "a strip's entries have exactly one part",
                            "Put several into a box.",
                            {}},
                           spec, "/part");
        }
        DesignScope scope = scope_;
        scope.isEntry = true;
        auto entry = ItemDesign::compile(spec.children[0], scope);
        if (!entry) {
            return std::move(entry.error());
        }
        for (const FieldHandle each : entry->fields()) {
            note({ValueRef::From::Field, FieldType::Unknown, each, -1, {}});
        }
        std::ranges::copy(entry->absentFields(), std::back_inserter(design_.absent_));
        design_.readsParameters_ = design_.readsParameters_ || entry->readsParameters();
        design_.readsState_ = design_.readsState_ | entry->readsState();
        design_.parts_[index].strip = static_cast<int>(design_.strips_.size());
        design_.strips_.push_back(
            {static_cast<int>(index), field->field, std::make_shared<const ItemDesign>(std::move(*entry))});
        return done();
    }

    Outcome addRepeat(const PartSpec& spec, std::size_t index, const Around& around) {
        if (around.repeat >= 0) {
            return located({ErrorCode::Invalid,
                            "a repeat stands in a repeat",
                            "Repeat one list only; show what its entries hold as text.",
                            {}},
                           spec, "");
        }
        const auto field = listField(spec, around);
        if (!field) {
            return field.error();
        }
        if (spec.children.size() != 1) {
            return located(
                {ErrorCode::Invalid, "a repeat has exactly one part", "Put several into a box.", {}}, spec,
                "/part");
        }
        const int repeat = static_cast<int>(design_.repeats_.size());
        design_.repeats_.push_back({static_cast<int>(index), field->field, spec.most});
        design_.parts_[index].repeat = repeat;
        Around inside = around;
        ++inside.depth;
        inside.repeat = repeat;
        for (int i = 0; i < spec.most; ++i) {
            inside.entry = i;
            if (Outcome added = add(spec.children[0], inside); !added) {
                return added;
            }
        }
        // The rest looks like an entry, where an entry is a text.
        const bool alike =
            spec.children[0].type == PartType::Text || spec.children[0].type == PartType::Badge;
        PartSpec rest = alike ? spec.children[0] : PartSpec{};
        if (!alike) {
            rest.type = PartType::Text;
            rest.style.size = Length::px(12);
            rest.colour = "quiet";
        }
        rest.binding = spec.more;
        rest.tones.clear();
        rest.hide.clear();
        rest.tap.clear();
        rest.pointer = spec.pointer;
        inside.entry = -2;
        return add(rest, inside);
    }

    void note(const ValueRef& ref) {
        if (ref.from == ValueRef::From::Field &&
            std::ranges::find(design_.fields_, ref.field) == design_.fields_.end()) {
            design_.fields_.push_back(ref.field);
        }
    }

    int addBinding(ItemDesign::Binding binding, std::size_t part) {
        binding.part = static_cast<int>(part);
        design_.bindings_.push_back(std::move(binding));
        return static_cast<int>(design_.bindings_.size()) - 1;
    }

    Outcome addPattern(const std::string& text, const PartSpec& spec, const std::string& member,
                       std::size_t index, const Around& around, int& binding, bool isLabel) {
        auto pattern = TextPattern::compile(text, names(around));
        if (!pattern) {
            return located(std::move(pattern.error()), spec, member);
        }
        for (const FieldHandle field : pattern->fields()) {
            note({.from = ValueRef::From::Field, .type = {}, .field = field, .parameter = -1, .member = {}});
        }
        design_.readsParameters_ = design_.readsParameters_ || pattern->readsParameters();
        design_.parametersMove_ = design_.parametersMove_ || (pattern->readsParameters() && !isLabel);
        design_.readsState_ = design_.readsState_ | pattern->readsState();
        design_.stateMoves_ = design_.stateMoves_ | (isLabel ? ItemState() : pattern->readsState());
        ItemDesign::Binding made;
        made.pattern = std::move(*pattern);
        made.label = isLabel;
        binding = addBinding(std::move(made), index);
        return done();
    }

    int styleOf(const TextStyle& wanted) {
        auto style = std::ranges::find(design_.styles_, wanted);
        if (style == design_.styles_.end()) {
            style = design_.styles_.insert(design_.styles_.end(), wanted);
        }
        return static_cast<int>(style - design_.styles_.begin());
    }

    Outcome bindText(const PartSpec& spec, std::size_t index, const Around& around) {
        if (spec.type != PartType::Text && spec.type != PartType::Badge) {
            return done();
        }
        design_.parts_[index].style = styleOf(spec.style);
        int binding = -1;
        Outcome added = addPattern(spec.binding, spec, std::string("/") + partWord(spec.type), index, around,
                                   binding, false);
        design_.parts_[index].binding = binding;
        return added;
    }

    Outcome bindPicture(const PartSpec& spec, std::size_t index, const Around& around) {
        if (spec.type != PartType::Picture) {
            return done();
        }
        auto address = UriTemplate::parse(spec.binding);
        if (!address) {
            return located(std::move(address.error()), spec, "/picture");
        }
        ItemDesign::Binding made;
        made.kind = ItemDesign::Binding::Kind::Address;
        for (const std::string& name : address->names()) {
            auto ref = names(around).resolve(fieldFor(name, around));
            if (!ref) {
                return located(std::move(ref.error()), spec, "/picture");
            }
            note(*ref);
            made.names.push_back(std::move(*ref));
        }
        made.address = std::move(*address);
        design_.parts_[index].binding = addBinding(std::move(made), index);
        if (!spec.label.empty()) {
            int label = -1;
            if (Outcome added = addPattern(spec.label, spec, "/label", index, around, label, true); !added) {
                return added;
            }
            design_.parts_[index].label = label;
        }
        design_.parts_[index].style = styleOf({Length::px(11), 400, false}); // of its fallback
        if (spec.aspectFields[0].empty()) {
            return done();
        }
        ItemDesign::Number number;
        number.part = static_cast<int>(index);
        number.isAspect = true;
        for (const std::size_t which : {std::size_t{0}, std::size_t{1}}) {
            auto ref = numberNamed(spec, spec.aspectFields[which], around, fmt::format("/aspect/{}", which));
            if (!ref) {
                return std::move(ref.error());
            }
            (which == 0 ? number.value : number.second) = std::move(*ref);
        }
        design_.numbers_.push_back(std::move(number));
        return done();
    }

    Result<ValueRef> numberNamed(const PartSpec& spec, const std::string& name, const Around& around,
                                 const std::string& member) {
        const std::string field = fieldFor(name, around);
        auto ref = names(around).resolve(field);
        if (!ref) {
            return located(std::move(ref.error()), spec, member);
        }
        const bool number = ref->type == FieldType::Integer || ref->type == FieldType::Real ||
                            ref->type == FieldType::Unknown;
        if (!number || ref->from != ValueRef::From::Field) {
            return located({ErrorCode::Invalid,
                            fmt::format("\"{}\" is shown as a number, but the field holds {}", field,
                                        typeName(ref->type)),
                            "Choose a field that holds numbers, or retype it in Source.",
                            {}},
                           spec, member);
        }
        note(*ref);
        return ref;
    }

    Outcome bindNumber(const PartSpec& spec, std::size_t index, const Around& around) {
        if (spec.type != PartType::Meter && spec.type != PartType::Scale) {
            return done();
        }
        auto ref = numberNamed(spec, spec.binding, around, std::string("/") + partWord(spec.type));
        if (!ref) {
            return std::move(ref.error());
        }
        PlanPart& part = design_.parts_[index];
        if (spec.type == PartType::Scale) {
            part.style = styleOf(spec.style);
            if (!spec.glyphs.empty()) {
                ItemDesign::Binding made;
                made.kind = ItemDesign::Binding::Kind::Glyphs;
                made.names.push_back(*ref);
                design_.parts_[index].binding = addBinding(std::move(made), index);
            }
        }
        ItemDesign::Number number;
        number.part = static_cast<int>(index);
        number.value = std::move(*ref);
        number.low = spec.low;
        number.high = spec.high;
        for (auto& [bound, parameter] :
             {std::pair(&spec.low, &number.lowParameter), std::pair(&spec.high, &number.highParameter)}) {
            if (bound->parameter.empty()) {
                continue;
            }
            auto named = names(around).resolveParameter(bound->parameter);
            if (!named || named->type != FieldType::Real) {
                Error error = named
                                  ? Error{ErrorCode::Invalid,
                                          fmt::format("the parameter \"{}\" is no number", bound->parameter),
                                          "Name one that is.",
                                          {}}
                                  : std::move(named.error());
                return located(std::move(error), spec, bound == &spec.low ? "/from" : "/to");
            }
            *parameter = named->parameter;
            design_.readsParameters_ = true;
        }
        design_.numbers_.push_back(std::move(number));
        return done();
    }

    Outcome bindRules(const PartSpec& spec, std::size_t index, const Around& around) {
        PlanPart& part = design_.parts_[index];
        for (std::size_t i = 0; i < spec.tones.size(); ++i) {
            if (spec.tones[i].when.empty() && spec.tones.size() == 1) {
                part.tone = spec.tones[i].tone;
                return bindHide(spec, index, around);
            }
            ItemDesign::ToneTest test{spec.tones[i].tone, std::nullopt};
            if (!spec.tones[i].when.empty()) {
                auto rule = Rule::compile(spec.tones[i].when, names(around));
                if (!rule) {
                    return located(std::move(rule.error()), spec, fmt::format("/tone/{}/when", i));
                }
                design_.readsParameters_ = design_.readsParameters_ || rule->readsParameters();
                design_.readsState_ = design_.readsState_ | rule->readsState();
                std::ranges::copy(rule->absent(), std::back_inserter(design_.absent_));
                test.rule = std::move(*rule);
            }
            part.firstTone = part.firstTone < 0 ? static_cast<int>(design_.tones_.size()) : part.firstTone;
            ++part.tones;
            design_.tones_.push_back(std::move(test));
        }
        if (part.tones > 0) {
            design_.tonedParts_.push_back(static_cast<int>(index));
        }
        return bindHide(spec, index, around);
    }

    Outcome bindHide(const PartSpec& spec, std::size_t index, const Around& around) {
        if (spec.hide.empty()) {
            return done();
        }
        auto rule = Rule::compile(spec.hide, names(around));
        if (!rule) {
            return located(std::move(rule.error()), spec, "/hide");
        }
        design_.readsParameters_ = design_.readsParameters_ || rule->readsParameters();
        design_.parametersMove_ = design_.parametersMove_ || rule->readsParameters();
        design_.readsState_ = design_.readsState_ | rule->readsState();
        design_.stateMoves_ = design_.stateMoves_ | rule->readsState();
        std::ranges::copy(rule->absent(), std::back_inserter(design_.absent_));
        design_.parts_[index].hide = static_cast<int>(design_.hides_.size());
        design_.hides_.push_back(std::move(*rule));
        design_.hiddenParts_.push_back(static_cast<int>(index));
        return done();
    }

    const DesignScope& scope_;
    ItemDesign& design_;
    std::vector<std::string> open_; ///< pieces that are being put in
};

Result<ItemDesign> ItemDesign::compile(const PartSpec& root, const DesignScope& scope) {
    ItemDesign design;
    DesignCompiler compiler(scope, design);
    if (Outcome added = compiler.add(root, {}); !added) {
        return std::move(added.error());
    }
    design.mirrored_ = isRightToLeft(scope.locale);
    design.entries_.resize(design.repeats_.size());
    return design;
}

std::optional<FieldHandle> ItemDesign::titleField() const {
    for (const Binding& binding : bindings_) {
        const bool isText = !binding.label && binding.pattern &&
                            parts_[static_cast<std::size_t>(binding.part)].type == PartType::Text;
        if (isText && !binding.pattern->fields().empty()) {
            return binding.pattern->fields().front();
        }
    }
    return std::nullopt;
}

} // namespace scorrere
