// SPDX-License-Identifier: Apache-2.0
#include "render/live_designs.h"

#include "engine/record/record_builder.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

/// Every text takes the whole width and two lines, where it may.
class TwoLines final : public TextMeasurer {
public:
    explicit TwoLines(const LiveDesigns::Design& of) : of_(of) {}
    TextSize measure(int part, std::string_view, const TextStyle&, Length maxWidth, int maxLines) override {
        const int style = of_.design.parts()[static_cast<std::size_t>(part)].style;
        const double line = of_.fonts.faces[static_cast<std::size_t>(style)].lineHeight;
        return {maxWidth, Length::fromPx(line) * (maxLines == 1 ? 1 : 2)};
    }
    Length ascent(int part) override {
        const int style = of_.design.parts()[static_cast<std::size_t>(part)].style;
        return Length::fromPx(of_.fonts.faces[static_cast<std::size_t>(style)].ascent);
    }

private:
    const LiveDesigns::Design& of_;
};

/// Where the file says something of sections.
std::string sectionsPointer(const ArrangementSpec& arrangement, const char* member) {
    const std::string form = std::holds_alternative<GridSpec>(arrangement.form) ? "grid" : "list";
    const bool isText = std::holds_alternative<SectionBy::Text>(arrangement.sections->by.is);
    const bool isShort =
        isText && arrangement.sections->stay && !arrangement.sections->jumps; // may be written so
    return "/arrangement/" + form + "/sections" + (isShort ? "" : member);
}

} // namespace

std::optional<Error> tableProblem(const CollectionDocument& document) {
    if (!std::holds_alternative<TableSpec>(document.arrangement.form)) {
        return std::nullopt;
    }
    for (const auto& [spec, called] : {std::pair(&document.item, "record"), {&document.heading, "heading"}}) {
        if (spec->type != PartType::Row) {
            Error error{ErrorCode::Invalid,
                        fmt::format("what a table's {} holds does not stand in a row", called),
                        "Make its outermost part a \"row\": each part of it is a cell.",
                        {}};
            error.place.pointer = std::string("/items/") + called;
            return document.located(std::move(error));
        }
    }
    return std::nullopt;
}

Result<Compiled> compileDesigns(const CollectionDocument& document, const RecordTable& records,
                                bool withStates) {
    Compiled compiled;
    const PartSpec none;
    const DesignScope scope = document.scope(records);
    const RecordTable ofSection = sectionRecord({}, 0);
    const DesignScope sectionScope = document.scope(ofSection);
    // Before a record has come no field is known: what binds to fields shows nothing.
    const bool mayLackFields = records.fields().empty();
    const auto add = [&](const PartSpec& spec, const DesignScope& of) -> Outcome {
        auto design = ItemDesign::compile(spec, of);
        if (!design && mayLackFields) {
            design = ItemDesign::compile(none, scope);
        }
        if (!design) {
            return document.located(std::move(design.error()));
        }
        compiled.designs.push_back(std::move(*design));
        return done();
    };
    const auto addAll = [&](const std::vector<const PartSpec*>& specs, const DesignScope& of) -> Outcome {
        for (const PartSpec* spec : specs) {
            if (Outcome added = add(*spec, of); !added) {
                return added;
            }
        }
        return done();
    };
    const auto orNone = [&none](const std::optional<PartSpec>& spec) { return spec ? &*spec : &none; };
    const bool areSections = document.arrangement.sections.has_value(); // else a slip in them harms nobody
    if (Outcome added = addAll({&document.item, orNone(document.header), orNone(document.footer)}, scope);
        !added) {
        return std::move(added.error());
    }
    if (Outcome added = addAll({areSections ? &document.sectionHeader : &none,
                                areSections ? orNone(document.sectionFooter) : &none},
                               sectionScope);
        !added) {
        return std::move(added.error());
    }
    const bool isTable = std::holds_alternative<TableSpec>(document.arrangement.form);
    if (Outcome added = addAll({isTable ? &document.heading : &none}, scope); !added) {
        return std::move(added.error());
    }
    if (auto problem = tableProblem(document)) {
        return std::move(*problem);
    }
    std::vector<const PartSpec*> specs;
    for (const KindSpec& kind : document.kinds) {
        specs.push_back(&kind.design);
    }
    if (withStates) {
        specs.push_back(&document.item); // as placeholders are shaped
    }
    if (Outcome added = addAll(specs, scope); !added) {
        return std::move(added.error());
    }
    if (withStates) {
        const RecordTable says = stateRecord(document, {}, 0);
        const DesignScope stateScope = document.scope(says);
        for (const auto& state : document.states) {
            auto design = ItemDesign::compile(state ? *state : none, stateScope);
            if (!design) {
                return document.located(std::move(design.error()));
            }
            compiled.designs.push_back(std::move(*design));
        }
    }
    if (document.detail && !mayLackFields) {
        auto design = ItemDesign::compile(*document.detail, scope);
        if (!design) {
            return document.located(std::move(design.error()));
        }
        compiled.detail = std::move(*design);
    }
    auto kinds = KindChooser::compile(mayLackFields ? std::vector<KindSpec>{} : document.kinds, scope);
    if (!kinds) {
        return document.located(std::move(kinds.error()));
    }
    compiled.kinds = std::move(*kinds);
    if (areSections && !mayLackFields) {
        const bool isText = std::holds_alternative<SectionBy::Text>(document.arrangement.sections->by.is);
        auto chooser =
            SectionChooser::compile(document.arrangement.sections->by,
                                    {records, document.locale, &document.parameters, nullptr, false},
                                    sectionsPointer(document.arrangement, isText ? "/by" : ""));
        if (!chooser) {
            return document.located(std::move(chooser.error()));
        }
        compiled.sections = std::move(*chooser);
        if (const std::string& name = document.arrangement.sections->jumpName; !name.empty()) {
            auto pattern =
                TextPattern::compile(name, {records, document.locale, &document.parameters, nullptr, false});
            if (!pattern) {
                pattern.error().place.pointer = sectionsPointer(document.arrangement, "/jumpList");
                return document.located(std::move(pattern.error()));
            }
            compiled.jumpName = std::move(*pattern);
        }
    }
    if (const auto* own = std::get_if<OwnSpec>(&document.arrangement.form)) {
        if (const auto names = OwnArrangements::names(); std::ranges::find(names, own->name) == names.end()) {
            std::string all;
            for (const std::string& name : names) {
                all += (all.empty() ? "" : ", ") + name;
            }
            Error error{ErrorCode::NotFound,
                        fmt::format("this program brings no arrangement \"{}\"", own->name),
                        names.empty() ? "It brings none." : "It brings " + all + ".",
                        {}};
            error.place.pointer = "/arrangement/own/name";
            return document.located(std::move(error));
        }
    }
    if (const auto* placed = std::get_if<PlacedSpec>(&document.arrangement.form); placed && !mayLackFields) {
        auto reader =
            PlaceReader::compile(placed->by, {records, document.locale, &document.parameters, nullptr, false},
                                 "/arrangement/placed");
        if (!reader) {
            return document.located(std::move(reader.error()));
        }
        compiled.places = std::move(*reader);
    }
    return compiled;
}

RecordTable sectionRecord(const std::string& section, std::int64_t count) {
    RecordBuilder builder;
    builder.setText(builder.fieldNamed("section"), section);
    builder.setInteger(builder.fieldNamed("count"), count);
    builder.endRecord();
    return builder.finish();
}

RecordTable stateRecord(const CollectionDocument& document, const PageFailure& failure, std::int64_t count) {
    RecordBuilder builder;
    const auto text = [&builder](const char* name, const std::string& value) {
        builder.setText(builder.fieldNamed(name), value);
    };
    text("noun", document.noun);
    std::string message = failure.message; // as a sentence
    if (!message.empty() && message[0] >= 'a' && message[0] <= 'z') {
        message[0] = static_cast<char>(message[0] - 'a' + 'A');
    }
    text("message", message);
    text("advice", failure.advice);
    builder.setInteger(builder.fieldNamed("count"), count);
    builder.endRecord();
    return builder.finish();
}

LiveDesigns::LiveDesigns(Compiled compiled, bool withStates, double textScale)
    : kinds_(std::move(compiled.kinds)), sections_(std::move(compiled.sections)),
      jumpName_(std::move(compiled.jumpName)), places_(std::move(compiled.places)), withStates_(withStates),
      textScale_(textScale) {
    for (ItemDesign& design : compiled.designs) {
        designs_.push_back(std::make_unique<Design>(Design{std::move(design), {}}));
    }
    putDetail(std::move(compiled.detail));
    makeFonts();
}

void LiveDesigns::put(Compiled compiled) {
    for (std::size_t i = 0; i < compiled.designs.size(); ++i) {
        designs_[i]->design = std::move(compiled.designs[i]);
    }
    kinds_ = std::move(compiled.kinds);
    sections_ = std::move(compiled.sections);
    jumpName_ = std::move(compiled.jumpName);
    places_ = std::move(compiled.places);
    putDetail(std::move(compiled.detail));
    makeFonts();
}

void LiveDesigns::putDetail(std::optional<ItemDesign> design) {
    detail_ = design ? std::make_unique<Design>(Design{std::move(*design), {}}) : nullptr;
}

void LiveDesigns::setTextScale(double scale) {
    textScale_ = scale;
    makeFonts();
}

void LiveDesigns::makeFonts() {
    haveStrips_ = false;
    readState_ = {};
    if (detail_) {
        detail_->fonts = FontSet(detail_->design, textScale_);
    }
    for (const auto& design : designs_) {
        design->fonts = FontSet(design->design, textScale_);
        readState_ = readState_ | design->design.readsState();
        haveStrips_ = haveStrips_ || !design->design.strips().empty();
    }
}

TableColumns LiveDesigns::columns() const {
    std::vector<const ItemDesign*> items{&of(Arrangement::kRecordKind).design};
    for (std::size_t own = kFirstOwnKind; own < designs_.size() - (withStates_ ? kTailStates + 1 : 0);
         ++own) {
        items.push_back(&designs_[own]->design);
    }
    items.push_back(&of(Arrangement::kHeadingKind).design);
    return TableColumns(items);
}

int LiveDesigns::kindOf(const FillContext& record) const {
    const int own = kinds_.isEmpty() ? -1 : kinds_.kindOf(record);
    return own < 0 ? Arrangement::kRecordKind : kFirstOwnKind + own;
}

bool LiveDesigns::any(bool (ItemDesign::*asks)() const) const {
    return std::ranges::any_of(designs_, [asks](const auto& design) { return (design->design.*asks)(); });
}

bool LiveDesigns::parametersMoveParts() const {
    return kinds_.readsParameters() || (sections_ && sections_->readsParameters()) ||
           any(&ItemDesign::parametersMoveParts);
}

Arrangement::Estimates LiveDesigns::firstEstimates(const FillContext& nothing, int across) const {
    const auto heightOf = [&](const Design& each) {
        ItemContent content;
        std::vector<std::uint8_t> changed;
        (void)each.design.fill(nothing, content, changed);
        content.values.assign(each.design.bindingCount(), std::string("Lorem ipsum"));
        content.present.assign(each.design.bindingCount(), 1);
        TwoLines measurer(each);
        std::vector<PartBox> boxes;
        return ItemLayout(each.design, content, measurer, boxes).solve({Length::px(360)}).height;
    };
    Arrangement::Estimates estimates{};
    for (std::size_t kind = 0; kind < Arrangement::kRoles; ++kind) {
        estimates[kind] = heightOf(*designs_[kind]);
    }
    if (across >= 0) {
        estimates[Arrangement::kAcrossKind] = heightOf(of(kFirstOwnKind + across));
    }
    return estimates;
}

} // namespace scorrere::render
