// SPDX-License-Identifier: Apache-2.0
#include "engine/design/item_design.h"

#include "engine/design/layout.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <unicode/locid.h>

namespace scorrere {

const char* partWord(PartType type) {
    static constexpr std::array kWords{"text", "picture", "badge", "meter", "scale",  "line", "space",
                                       "row",  "column",  "over",  "wrap",  "repeat", "piece"};
    return kWords[static_cast<std::size_t>(type)];
}

const char* toneWord(Tone tone) {
    static constexpr std::array kWords{"neutral", "note", "good", "caution", "bad"};
    return kWords[static_cast<std::size_t>(tone)];
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
        Outcome children =
            spec.type == PartType::Repeat ? addRepeat(spec, index, around) : addAll(spec, around);
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
        return {scope_.records, scope_.locale, scope_.parameters, around.inputs, around.repeat >= 0};
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

    Outcome addRepeat(const PartSpec& spec, std::size_t index, const Around& around) {
        if (around.repeat >= 0) {
            return located({ErrorCode::Invalid,
                            "a repeat stands in a repeat",
                            "Repeat one list only; show what its entries hold as text.",
                            {}},
                           spec, "");
        }
        auto field = names(around).resolve(spec.binding);
        if (!field) {
            return located(std::move(field.error()), spec, "/repeat");
        }
        if (field->type != FieldType::List && field->type != FieldType::Unknown) {
            return located({ErrorCode::Invalid,
                            fmt::format("\"{}\" is repeated, but the field holds {}", spec.binding,
                                        typeName(field->type)),
                            "Choose a field that holds a list.",
                            {}},
                           spec, "/repeat");
        }
        if (spec.children.size() != 1) {
            return located(
                {ErrorCode::Invalid, "a repeat has exactly one part", "Put several into a box.", {}}, spec,
                "/part");
        }
        note(*field);
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
        // A piece's inputs stand for fields in an address, too.
        std::string written = spec.binding;
        if (around.inputs != nullptr) {
            for (const auto& [name, given] : *around.inputs) {
                for (std::size_t at = written.find("{" + name); at != std::string::npos;
                     at = written.find("{" + name, at + 1)) {
                    const char after =
                        at + 1 + name.size() < written.size() ? written[at + 1 + name.size()] : 0;
                    if (given.size() > 2 && given.front() == '{' &&
                        (after == '}' || after == ':' || after == ',')) {
                        written.replace(at + 1, name.size(), given.substr(1, given.size() - 2));
                    }
                }
            }
        }
        auto address = UriTemplate::parse(written);
        if (!address) {
            return located(std::move(address.error()), spec, "/picture");
        }
        ItemDesign::Binding made;
        made.kind = ItemDesign::Binding::Kind::Address;
        for (const std::string& name : address->names()) {
            auto ref = names(around).resolve(name);
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
        std::string field = name;
        if (around.inputs != nullptr && around.inputs->contains(name)) {
            const std::string& given = around.inputs->find(name)->second;
            field = given.size() > 2 && given.front() == '{' ? given.substr(1, given.size() - 2) : given;
        }
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

FillContext ItemDesign::contextOf(const PlanPart& part, const FillContext& context) const {
    FillContext own = context;
    if (part.repeat >= 0 && part.entry != -1) {
        const EntryList& entries = entries_[static_cast<std::size_t>(part.repeat)];
        own.entries = &entries;
        own.entry = part.entry;
        own.more = static_cast<int>(entries.size()) - repeats_[static_cast<std::size_t>(part.repeat)].most;
    }
    return own;
}

namespace {

/// Puts a value into `out` as it is written; false when it is missing.
bool written(const ValueRef& ref, const FillContext& context, std::string& out) {
    if (ref.from == ValueRef::From::Field) {
        if (context.record < 0 || !context.records.has(context.record, ref.field)) {
            return false;
        }
        switch (ref.type) {
        case FieldType::Integer:
            out.clear();
            fmt::format_to(std::back_inserter(out), "{}", context.records.integer(context.record, ref.field));
            break;
        case FieldType::Real:
        case FieldType::Boolean:
            out = context.records.display(context.record, ref.field);
            break;
        default:
            out.assign(context.records.text(context.record, ref.field));
            break;
        }
        return true;
    }
    if (context.entries == nullptr || context.entry < 0) {
        return false;
    }
    const auto entry = static_cast<std::size_t>(context.entry);
    return ref.from == ValueRef::From::Entry ? context.entries->text(entry, out)
                                             : context.entries->member(entry, ref.member, out);
}

std::optional<double> numberOf(const ValueRef& ref, const FillContext& context) {
    if (context.record < 0 || !context.records.has(context.record, ref.field) ||
        (ref.type != FieldType::Integer && ref.type != FieldType::Real)) {
        return std::nullopt;
    }
    const double number = context.records.real(context.record, ref.field);
    return std::isfinite(number) ? std::optional(number) : std::nullopt;
}

} // namespace

bool ItemDesign::bindingValue(const Binding& binding, const FillContext& context, std::string& out) const {
    const PlanPart& part = parts_[static_cast<std::size_t>(binding.part)];
    const FillContext own = contextOf(part, context);
    if (part.entry >= 0 && part.entry >= static_cast<int>(own.entries->size())) {
        out.clear();
        return false;
    }
    if (part.entry == -2 && own.more <= 0) {
        out.clear();
        return false;
    }
    switch (binding.kind) {
    case Binding::Kind::Pattern:
        return (context.record >= 0 || binding.pattern->isFixed()) && binding.pattern->format(own, out);
    case Binding::Kind::Address:
        texts_.resize(std::max(texts_.size(), binding.names.size()));
        views_.clear();
        for (std::size_t i = 0; i < binding.names.size(); ++i) {
            if (!written(binding.names[i], own, texts_[i]) || texts_[i].empty()) {
                out.clear();
                return false;
            }
            views_.push_back(texts_[i]);
        }
        binding.address->expandInto(views_, out);
        return true;
    case Binding::Kind::Glyphs: {
        out.clear();
        const auto number = numberOf(binding.names[0], own);
        if (!number) {
            return false;
        }
        const int step = std::clamp(static_cast<int>(std::lround(*number)), 0, part.steps);
        if (part.glyphs.size() > 2) { // one for each step
            out = step == 0 ? ""
                            : part.glyphs[std::min(static_cast<std::size_t>(step), part.glyphs.size()) - 1];
        } else {
            for (int i = 0; i < part.steps; ++i) {
                out += i < step ? part.glyphs[0] : part.glyphs.size() > 1 ? part.glyphs[1] : "";
            }
        }
        return true;
    }
    }
    return false;
}

/// Reads the lists that are repeated and hides the places that have no entry. True when that differs.
bool ItemDesign::readRepeats(const FillContext& context, ItemContent& content) const {
    bool differs = false;
    for (std::size_t r = 0; r < repeats_.size(); ++r) {
        const Repeat& repeat = repeats_[r];
        EntryList& entries = entries_[r];
        const bool there = context.record >= 0 && context.records.has(context.record, repeat.field);
        entries.read(there ? context.records.text(context.record, repeat.field) : std::string_view("[]"));
        const auto size = static_cast<int>(entries.size());
        const PlanPart& box = parts_[static_cast<std::size_t>(repeat.part)];
        for (int i = repeat.part + 1; i < box.subtreeEnd;
             i = parts_[static_cast<std::size_t>(i)].subtreeEnd) {
            const PlanPart& part = parts_[static_cast<std::size_t>(i)];
            const std::uint8_t hidden = part.entry == -2 ? size <= repeat.most : part.entry >= size;
            differs = differs || content.hidden[static_cast<std::size_t>(i)] != hidden;
            content.hidden[static_cast<std::size_t>(i)] = hidden;
        }
        const std::uint8_t none = size == 0 && !box.keepsPlace;
        differs = differs || content.hidden[static_cast<std::size_t>(repeat.part)] != none;
        content.hidden[static_cast<std::size_t>(repeat.part)] = none;
    }
    return differs;
}

/// True when a number that decides sizes differs (a picture's aspect, or that one is missing).
bool ItemDesign::fillNumbers(const FillContext& context, ItemContent& content) const {
    bool moves = false;
    for (const Number& number : numbers_) {
        const auto part = static_cast<std::size_t>(number.part);
        float value = -1; // missing
        if (const auto given = numberOf(number.value, context)) {
            if (number.isAspect) {
                const auto height = numberOf(number.second, context);
                value = height && *height > 0 && *given > 0
                            ? static_cast<float>(std::clamp(*given / *height, 0.01, 100.0))
                            : 0;
            } else if (parts_[part].type == PartType::Scale) {
                value =
                    static_cast<float>(std::clamp(std::round(*given), 0.0, double{1} * parts_[part].steps));
            } else {
                const auto end = [&](const Bound& bound, int parameter) {
                    return parameter < 0 || context.parameters == nullptr
                               ? bound.number
                               : (*context.parameters)[static_cast<std::size_t>(parameter)].number;
                };
                const double low = end(number.low, number.lowParameter);
                const double high = end(number.high, number.highParameter);
                value =
                    high > low ? static_cast<float>(std::clamp((*given - low) / (high - low), 0.0, 1.0)) : 0;
            }
        } else if (number.isAspect) {
            value = 0;
        }
        float& held = content.numbers[part];
        if (held != value) {
            moves = moves || number.isAspect || (held < 0) != (value < 0);
            held = value;
        }
    }
    return moves;
}

FillChange ItemDesign::decide(const FillContext& context, ItemContent& content) const {
    FillChange change;
    for (const int index : context.onlyLayout ? std::span<const int>() : std::span<const int>(tonedParts_)) {
        const PlanPart& part = parts_[static_cast<std::size_t>(index)];
        const FillContext own = contextOf(part, context);
        Tone tone = part.tone;
        for (int t = part.firstTone; t < part.firstTone + part.tones; ++t) {
            const ToneTest& test = tones_[static_cast<std::size_t>(t)];
            const bool asks = test.rule && (own.record >= 0 || !test.rule->readsRecord());
            if (!test.rule || (asks && test.rule->holds(own))) {
                tone = test.tone;
                break;
            }
        }
        Tone& held = content.tones[static_cast<std::size_t>(index)];
        change.paint = change.paint || held != tone;
        held = tone;
    }
    for (const int index : hiddenParts_) {
        const PlanPart& part = parts_[static_cast<std::size_t>(index)];
        const FillContext own = contextOf(part, context);
        const bool lacks = part.entry >= 0 && part.entry >= static_cast<int>(own.entries->size());
        const bool lacksRest = part.entry == -2 && own.more <= 0;
        const bool isEmpty = part.repeat >= 0 && part.entry == -1 && !part.keepsPlace &&
                             entries_[static_cast<std::size_t>(part.repeat)].size() == 0;
        const Rule& rule = hides_[static_cast<std::size_t>(part.hide)];
        const std::uint8_t hidden =
            lacks || lacksRest || isEmpty || ((own.record >= 0 || !rule.readsRecord()) && rule.holds(own));
        std::uint8_t& held = content.hidden[static_cast<std::size_t>(index)];
        change.layout = change.layout || held != hidden;
        held = hidden;
    }
    return change;
}

FillChange ItemDesign::fill(const FillContext& context, ItemContent& content,
                            std::vector<std::uint8_t>& changed) const {
    FillChange change;
    const bool first = content.present.size() != bindings_.size() || content.hidden.size() != parts_.size();
    if (first) {
        content.values.resize(bindings_.size());
        content.present.assign(bindings_.size(), 0);
        content.hidden.assign(parts_.size(), 0);
        content.numbers.assign(parts_.size(), 0);
        content.tones.clear();
        for (const PlanPart& part : parts_) {
            content.tones.push_back(part.tone);
        }
        change = {true, true};
    }
    changed.assign(bindings_.size(), 0);
    change.layout = readRepeats(context, content) || change.layout;
    for (std::size_t b = 0; b < bindings_.size(); ++b) {
        const Binding& binding = bindings_[b];
        if (context.onlyLayout && (binding.label || binding.kind == Binding::Kind::Address)) {
            continue;
        }
        const PlanPart& part = parts_[static_cast<std::size_t>(binding.part)];
        bool present = bindingValue(binding, context, scratch_);
        const bool entryMissing =
            part.entry != -1 && content.hidden[static_cast<std::size_t>(binding.part)] != 0;
        if (!present) {
            scratch_.clear();
            if (part.hasMissing && !binding.label && !entryMissing && part.isText()) {
                scratch_ = part.missing;
                present = true;
            }
        }
        present = present && !scratch_.empty();
        if (first || (content.present[b] != 0) != present || content.values[b] != scratch_) {
            content.values[b].assign(scratch_);
            content.present[b] = present ? 1 : 0;
            changed[b] = 1;
            change.layout = change.layout || !binding.label;
        }
    }
    change.layout = fillNumbers(context, content) || change.layout;
    const FillChange decided = decide(context, content);
    change.layout = change.layout || decided.layout;
    change.paint = true;
    return change;
}

FillChange ItemDesign::retone(const FillContext& context, ItemContent& content) const {
    FillChange change;
    if (!readsParameters_ || content.hidden.size() != parts_.size()) {
        return change;
    }
    (void)readRepeats(context, content);
    change.layout = fillNumbers(context, content);
    const FillChange decided = decide(context, content);
    change.layout = change.layout || decided.layout;
    change.paint = true;
    return change;
}

} // namespace scorrere
