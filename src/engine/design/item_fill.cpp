// SPDX-License-Identifier: Apache-2.0
// What a compiled design does with a record. How it is compiled is in item_design.cpp.
#include "engine/design/item_design.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace scorrere {

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

/// One of nothing does not show; where no record is here it keeps its place.
bool ItemDesign::hideStrips(const FillContext& context, ItemContent& content) const {
    bool differs = false;
    for (const Strip& strip : strips_) {
        const auto part = static_cast<std::size_t>(strip.part);
        const bool isEmpty = context.record >= 0 && !parts_[part].keepsPlace &&
                             (!context.records.has(context.record, strip.field) ||
                              context.records.text(context.record, strip.field) == "[]");
        differs = differs || (content.hidden[part] != 0) != isEmpty;
        content.hidden[part] = isEmpty ? 1 : 0;
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
        float& found = content.numbers[part];
        if (found != value) {
            moves = moves || number.isAspect || (found < 0) != (value < 0);
            found = value;
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
        Tone& found = content.tones[static_cast<std::size_t>(index)];
        change.paint = change.paint || found != tone;
        found = tone;
    }
    for (const int index : hiddenParts_) {
        const PlanPart& part = parts_[static_cast<std::size_t>(index)];
        const FillContext own = contextOf(part, context);
        const bool lacks = part.entry >= 0 && part.entry >= static_cast<int>(own.entries->size());
        const bool lacksRest = part.entry == -2 && own.more <= 0;
        const bool isEmpty = (part.repeat >= 0 && part.entry == -1 && !part.keepsPlace &&
                              entries_[static_cast<std::size_t>(part.repeat)].size() == 0) ||
                             (part.strip >= 0 && content.hidden[static_cast<std::size_t>(index)] != 0);
        const Rule& rule = hides_[static_cast<std::size_t>(part.hide)];
        const std::uint8_t hidden =
            lacks || lacksRest || isEmpty || ((own.record >= 0 || !rule.readsRecord()) && rule.holds(own));
        std::uint8_t& found = content.hidden[static_cast<std::size_t>(index)];
        change.layout = change.layout || found != hidden;
        found = hidden;
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
    change.layout = hideStrips(context, content) || change.layout;
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
    if ((!readsParameters_ && !readsState_.any()) || content.hidden.size() != parts_.size()) {
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
