// SPDX-License-Identifier: Apache-2.0
#include "engine/document/design_json.h"

#include "engine/document/form_json.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace scorrere {

namespace {

constexpr int kMaxDepth = 40;
constexpr int kMaxParts = 1000;
constexpr std::string_view kParameter = "$.parameters.";

/// Reads the parts of an item design; stops at the first error.
class DesignReader {
public:
    DesignReader(std::optional<Error>& error, std::vector<std::string>& unknown,
                 std::map<std::string, ArrangementSpec>& strips)
        : error_(error), unknown_(unknown), strips_(strips) {}

    /// Each design is counted by itself.
    PartSpec design(const Json& json, const std::string& pointer) {
        count_ = 0;
        return read(json, pointer, false, 0);
    }

private:
    PartSpec read(const Json& json, const std::string& pointer, bool inRow, int depth) {
        PartSpec part;
        part.pointer = pointer;
        Members members(json, pointer, error_);
        if (error_ || !chooseType(members, part, depth)) {
            return part;
        }
        readLook(members, part);
        readRules(members, part);
        switch (part.type) {
        case PartType::Text:
        case PartType::Badge:
            readText(members, part);
            break;
        case PartType::Picture:
            readPicture(members, part);
            break;
        case PartType::Meter:
        case PartType::Scale:
            readNumber(members, part);
            break;
        case PartType::Line:
            readThickness(members, part, "line", inRow, 1);
            part.fade = members.oneOf<Fade>(
                "fade", Fade::None,
                {{"none", Fade::None}, {"start", Fade::Start}, {"end", Fade::End}, {"both", Fade::Both}});
            break;
        case PartType::Space:
            readThickness(members, part, "space", inRow, 0);
            break;
        case PartType::Repeat:
            readRepeat(members, part, depth);
            break;
        case PartType::Strip:
            readStrip(members, part, depth);
            break;
        case PartType::Piece:
            part.binding = members.text("piece");
            readInputs(members, part);
            break;
        default:
            readChildren(members, part, depth);
            break;
        }
        for (std::string& name : members.unknown()) {
            unknown_.push_back(std::move(name));
        }
        return part;
    }

    static constexpr std::array<PartType, 14> kTypes{
        PartType::Text, PartType::Picture, PartType::Badge, PartType::Meter,  PartType::Scale,
        PartType::Line, PartType::Space,   PartType::Row,   PartType::Column, PartType::Over,
        PartType::Wrap, PartType::Repeat,  PartType::Strip, PartType::Piece};

    bool chooseType(Members& members, PartSpec& part, int depth) {
        int found = 0;
        for (const PartType type : kTypes) {
            if (members.has(partWord(type))) {
                part.type = type;
                ++found;
            }
        }
        if (depth > kMaxDepth || ++count_ > kMaxParts) {
            error_ = Error{ErrorCode::TooLarge,
                           depth > kMaxDepth ? fmt::format("parts are nested more than {} deep", kMaxDepth)
                                             : fmt::format("a design has more than {} parts", kMaxParts),
                           "Make the design simpler.",
                           {}};
            error_->place.pointer = part.pointer;
        } else if (found != 1) {
            std::string words;
            for (const PartType type : kTypes) {
                words += fmt::format("{}{}", words.empty() ? "" : ", ", partWord(type));
            }
            error_ = Error{ErrorCode::Invalid,
                           found == 0 ? "this part does not say what it is"
                                      : "this part says it is several things",
                           fmt::format("A part has exactly one of: {}.", words),
                           {}};
            error_->place.pointer = part.pointer;
        }
        return !error_;
    }

    void readLook(Members& members, PartSpec& part) {
        const bool stretches = isBox(part.type)
                                   ? part.type == PartType::Column || part.type == PartType::Over
                                   : part.type == PartType::Text || part.type == PartType::Picture;
        part.align = members.oneOf<Align>("align", stretches ? Align::Stretch : Align::Start,
                                          {{"start", Align::Start},
                                           {"center", Align::Center},
                                           {"end", Align::End},
                                           {"stretch", Align::Stretch}});
        part.grow = members.number("grow", 0, 0, 1000);
        part.gap = members.length("gap").value_or(Length{});
        part.lineGap = members.length("lineGap").value_or(part.gap);
        part.width = members.length("width");
        part.height = members.length("height");
        part.minHeight = members.length("minHeight");
        part.maxHeight = members.length("maxHeight");
        if (part.minHeight && part.maxHeight && *part.minHeight > *part.maxHeight) {
            members.fail("minHeight", "\"minHeight\" is more than \"maxHeight\"",
                         "Give the lesser one first.");
        }
        const bool badge = part.type == PartType::Badge;
        part.radius = members.length("radius").value_or(Length::px(badge                          ? 9
                                                                   : part.type == PartType::Meter ? 3
                                                                                                  : 0));
        part.colour = members.text("colour", part.type == PartType::Line ? "faint" : "ink");
        part.ground = members.text("ground");
        checkColour(members, "colour", part.colour);
        checkColour(members, "ground", part.ground);
        const std::vector<double> padding = members.numbers("padding", 0, 10'000);
        const auto side = [&](std::size_t i) {
            return padding.empty() ? badge ? (i % 2 == 0 ? 1.0 : 8.0) : 0.0 : padding[i % padding.size()];
        };
        if (padding.size() == 3 || padding.size() > 4) {
            members.fail("padding", fmt::format("\"padding\" has {} numbers", padding.size()),
                         "Give one, or two (top and bottom, sides), or four (top, end, bottom, start).");
        }
        for (std::size_t i = 0; i < 4; ++i) {
            part.padding[i] = Length::fromPx(side(i));
        }
    }

    static void checkColour(Members& members, const char* name, const std::string& colour) {
        static constexpr std::array<std::string_view, 10> kRoles{
            "", "ink", "quiet", "accent", "faint", "note", "good", "caution", "bad", "paper"};
        const bool hex = (colour.size() == 4 || colour.size() == 7) && colour[0] == '#' &&
                         colour.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string::npos;
        if (std::ranges::find(kRoles, colour) == kRoles.end() && !hex) {
            members.fail(name, fmt::format("\"{}\" is not a colour", colour),
                         "Give #rgb or #rrggbb, or one of: ink, quiet, accent, faint, note, good, caution, "
                         "bad, paper.");
        }
    }

    static Tone toneNamed(Members& members, const char* name, const std::string& word) {
        for (std::size_t i = 0; i < kTones; ++i) {
            if (word == toneWord(static_cast<Tone>(i))) {
                return static_cast<Tone>(i);
            }
        }
        members.fail(name, fmt::format("\"{}\" is not a tone", word),
                     "Choose one of: neutral, note, good, caution, bad.");
        return Tone::Neutral;
    }

    void readRules(Members& members, PartSpec& part) {
        part.hide = members.text("hide");
        part.tap = members.text("tap");
        part.keepsPlace = members.yesNo("keepsPlace", false);
        const Json* tone = members.member("tone");
        if (tone == nullptr || error_) {
            return;
        }
        if (tone->is_string()) {
            part.tones.push_back({toneNamed(members, "tone", tone->get<std::string>()), {}});
            return;
        }
        if (!tone->is_array()) {
            members.fail("tone", "\"tone\" is neither a tone nor a list of rules",
                         "Write \"good\", or [{\"tone\": \"good\", \"when\": \"@.count > 5\"}].");
            return;
        }
        for (std::size_t i = 0; i < tone->size() && !error_; ++i) {
            Members rule((*tone)[i], fmt::format("{}/tone/{}", part.pointer, i), error_);
            ToneRule read;
            read.tone = toneNamed(rule, "tone", rule.text("tone"));
            read.when = rule.text("when");
            part.tones.push_back(std::move(read));
            std::ranges::move(rule.unknown(), std::back_inserter(unknown_));
        }
    }

    void readStyle(Members& members, PartSpec& part, double size, int weight) {
        part.style.size = Length::fromPx(members.number("size", size, 4, 400));
        part.style.weight = static_cast<int>(members.whole("weight", weight, 100, 900));
        part.style.italic = members.yesNo("italic", false);
    }

    void readText(Members& members, PartSpec& part) {
        const bool badge = part.type == PartType::Badge;
        part.binding = members.text(partWord(part.type));
        part.missing = members.optionalText("missing");
        readStyle(members, part, badge ? 11 : 15, badge ? 600 : 400);
        part.lines = static_cast<int>(members.whole("lines", 1, 0, 10'000));
    }

    void readPicture(Members& members, PartSpec& part) {
        part.binding = members.text("picture");
        part.fit = members.oneOf<Fit>("fit", Fit::Fill,
                                      {{"fit", Fit::Fit}, {"fill", Fit::Fill}, {"stretch", Fit::Stretch}});
        const std::vector<double> focus = members.numbers("focus", 0, 1);
        if (!focus.empty()) {
            part.focus = {focus[0], focus[focus.size() - 1]};
        }
        if (focus.size() > 2) {
            members.fail("focus", "\"focus\" has more than two numbers",
                         "Give the share from the start and the share from the top, as in [0.5, 0.2].");
        }
        const Json* aspect = members.member("aspect");
        if (aspect != nullptr && aspect->is_string() && aspect->get<std::string>() == "measured") {
            part.aspectMeasured = true;
            part.aspect = 1;
        } else if (aspect != nullptr && aspect->is_array()) {
            const bool two = aspect->size() == 2 && (*aspect)[0].is_string() && (*aspect)[1].is_string();
            if (!two) {
                members.fail("aspect", "\"aspect\" is a list, but not of two fields",
                             "Name the fields of width and height, as in [\"width_px\", \"height_px\"].");
            } else {
                part.aspectFields = {(*aspect)[0].get<std::string>(), (*aspect)[1].get<std::string>()};
                part.aspect = 1;
            }
        } else if (aspect != nullptr && aspect->is_string()) {
            members.fail("aspect", fmt::format("\"aspect\" is \"{}\"", aspect->get<std::string>()),
                         "Give a number, \"measured\", or two fields.");
        } else {
            part.aspect = members.number("aspect", 0, 0.01, 100);
        }
        part.placeholder = members.text("placeholder", part.placeholder);
        checkColour(members, "placeholder", part.placeholder);
        part.label = members.text("label");
        if (const Json* fallback = members.member("fallback"); fallback != nullptr && !error_) {
            Members words(*fallback, part.pointer + "/fallback", error_);
            part.fallback = {words.text("none"), words.text("missing"), words.text("broken")};
            std::ranges::move(words.unknown(), std::back_inserter(unknown_));
        }
    }

    Bound bound(Members& members, const char* name, double otherwise) {
        const Json* value = members.member(name);
        if (value != nullptr && value->is_string()) {
            const std::string text = value->get<std::string>();
            if (text.starts_with(kParameter)) {
                return {0, text.substr(kParameter.size())};
            }
            members.fail(name, fmt::format("\"{}\" is \"{}\"", name, text),
                         "Give a number, or a parameter as $.parameters.NAME.");
        }
        return {members.number(name, otherwise, -1e15, 1e15), {}};
    }

    void readNumber(Members& members, PartSpec& part) {
        part.binding = members.text(partWord(part.type));
        if (part.type == PartType::Meter) {
            part.low = bound(members, "from", 0);
            part.high = bound(members, "to", 100);
            return;
        }
        readStyle(members, part, 14, 400);
        part.steps = static_cast<int>(members.whole("steps", 5, 1, 20));
        const Json* glyphs = members.member("glyphs");
        for (const Json& glyph : glyphs == nullptr ? Json::array() : *glyphs) {
            if (!glyph.is_string()) {
                members.fail("glyphs", "\"glyphs\" must be a list of texts",
                             "Give a full and an empty mark, or one glyph a step.");
                return;
            }
            part.glyphs.push_back(glyph.get<std::string>());
        }
        if (part.glyphs.size() > 2 && static_cast<int>(part.glyphs.size()) != part.steps) {
            members.fail("glyphs",
                         fmt::format("there are {} glyphs for {} steps", part.glyphs.size(), part.steps),
                         "Give a full and an empty mark, or one glyph a step.");
        }
    }

    static void readThickness(Members& members, PartSpec& part, const char* name, bool inRow, double lowest) {
        const Length thickness = Length::fromPx(members.number(name, 1, lowest, 10'000));
        (inRow ? part.width : part.height) = thickness;
    }

    void readRepeat(Members& members, PartSpec& part, int depth) {
        part.binding = members.text("repeat");
        part.most = static_cast<int>(members.whole("most", 6, 1, 60));
        part.more = members.text("more", part.more);
        part.repeatAs = members.oneOf<PartType>(
            "as", PartType::Wrap,
            {{"wrap", PartType::Wrap}, {"row", PartType::Row}, {"column", PartType::Column}});
        if (!members.has("align")) {
            part.align = part.repeatAs == PartType::Column ? Align::Stretch : Align::Start;
        }
        const Json* child = members.member("part");
        if (child == nullptr) {
            members.fail("part", "a repeat does not say what is repeated",
                         "Add \"part\": {\"badge\": \"{entry}\"}.");
            return;
        }
        part.children.push_back(
            read(*child, part.pointer + "/part", part.repeatAs == PartType::Row, depth + 1));
    }

    void readStrip(Members& members, PartSpec& part, int depth) {
        part.binding = members.text("strip");
        const Json* child = members.member("part");
        if (child == nullptr) {
            members.fail("part", "a strip does not say how its entries look",
                         "Add \"part\": {\"text\": \"{entry}\"}.");
            return;
        }
        part.children.push_back(read(*child, part.pointer + "/part", false, depth + 1));
        strips_[part.pointer] = readStripArrangement(members, error_, unknown_);
    }

    void readInputs(Members& members, PartSpec& part) {
        const Json* with = members.member("with");
        if (with == nullptr) {
            return;
        }
        Members inputs(*with, part.pointer + "/with", error_);
        for (const auto& [name, value] : with->items()) {
            part.inputs[name] = inputs.text(name.c_str());
        }
    }

    void readChildren(Members& members, PartSpec& part, int depth) {
        const char* word = partWord(part.type);
        const Json* list = members.member(word);
        if (!list->is_array()) {
            members.fail(word, fmt::format("\"{}\" must be a list of parts", word), "Write it in brackets.");
            return;
        }
        for (std::size_t i = 0; i < list->size() && !error_; ++i) {
            part.children.push_back(read((*list)[i], fmt::format("{}/{}/{}", part.pointer, word, i),
                                         part.type == PartType::Row, depth + 1));
        }
    }

    std::optional<Error>& error_;
    std::vector<std::string>& unknown_;
    std::map<std::string, ArrangementSpec>& strips_;
    int count_ = 0;
};

/// A kind chosen by one field's value is one chosen by a rule.
std::string ruleOf(Members& kind) {
    const std::string field = kind.text("field");
    const Json* is = kind.member("is");
    if (is == nullptr || field.empty()) {
        kind.fail("when", "a kind does not say which records it takes",
                  "Add \"when\": \"@.status == 'queried'\", or \"field\" and \"is\".");
        return {};
    }
    std::string rule;
    for (const Json& value : is->is_array() ? *is : Json::array({*is})) {
        rule += fmt::format("{}@[{}] == {}", rule.empty() ? "" : " || ", Json(field).dump(), value.dump());
    }
    return rule;
}

void readKinds(Members& items, CollectionDocument& document, DesignReader& reader,
               std::optional<Error>& error, std::vector<std::string>& unknown) {
    const Json* list = items.member("kinds");
    if (list == nullptr || error) {
        return;
    }
    if (!list->is_array()) {
        items.fail("kinds", "\"kinds\" must be a list", "Write [{\"name\": …, \"when\": …, \"design\": …}].");
        return;
    }
    if (list->size() > 20) {
        items.fail("kinds", fmt::format("there are {} kinds", list->size()), "At most 20 can be told apart.",
                   ErrorCode::TooLarge);
        return;
    }
    for (std::size_t i = 0; i < list->size() && !error; ++i) {
        KindSpec kind;
        kind.pointer = fmt::format("/items/kinds/{}", i);
        Members members((*list)[i], kind.pointer, error);
        kind.name = members.text("name", fmt::format("kind {}", i + 1));
        kind.when = members.has("when") ? members.text("when") : ruleOf(members);
        const Json* design = members.member("design");
        if (design == nullptr) {
            members.fail("design", fmt::format("the kind \"{}\" has no design", kind.name),
                         "Add \"design\": {\"text\": \"{name}\"}.", ErrorCode::NotFound);
        } else if (!error) {
            kind.design = reader.design(*design, kind.pointer + "/design");
        }
        std::ranges::move(members.unknown(), std::back_inserter(unknown));
        document.kinds.push_back(std::move(kind));
    }
}

/// What is shown where the document has no design of its own. {noun}, {message}, {advice} and {count} are
/// what a state knows.
const char* const kUsualStates = R"json({
  "error": {
    "column": [
      { "text": "The {noun} did not come", "size": 17, "weight": 600, "lines": 2 },
      { "text": "{message}", "size": 13, "lines": 4 },
      { "text": "{advice}", "size": 13, "colour": "quiet", "lines": 4 },
      { "badge": "try again", "tone": "note", "tap": "retry" }
    ],
    "padding": [72, 24], "gap": 10, "align": "center"
  },
  "empty": {
    "column": [
      { "text": "There are no {noun}", "size": 17, "weight": 600, "lines": 2 },
      { "text": "When there are some, they stand here.", "size": 13, "colour": "quiet", "lines": 3 },
      { "badge": "look again", "tone": "note", "tap": "refresh" }
    ],
    "padding": [72, 24], "gap": 10, "align": "center"
  },
  "loading": {
    "column": [ { "text": "More {noun} are on their way", "size": 13, "colour": "quiet" } ],
    "padding": [18, 16], "align": "center"
  },
  "failed": {
    "row": [
      { "text": "{message}", "size": 13, "lines": 3, "grow": 1 },
      { "badge": "try again", "tone": "caution", "tap": "retry" }
    ],
    "padding": [14, 16], "gap": 12, "align": "center"
  },
  "end": {
    "column": [ { "text": "No more {noun}", "size": 13, "colour": "quiet" } ],
    "padding": [18, 16], "align": "center"
  }
})json";

/// It may stay over what scrolls below it: it has a ground.
constexpr const char* kUsualSectionHeader = R"json({
  "column": [
    { "row": [
        { "text": "{section}", "size": 13, "weight": 600, "lines": 1, "grow": 1 },
        { "text": "{count, number}", "size": 12, "colour": "quiet" }
      ], "gap": 12, "padding": [7, 16] },
    { "line": 1, "colour": "faint" }
  ], "ground": "paper"
})json";

/// The field that a part shows first; empty: none.
std::string fieldOf(const PartSpec& part) {
    switch (part.type) {
    case PartType::Meter:
    case PartType::Scale:
    case PartType::Repeat:
        return part.binding;
    case PartType::Text:
    case PartType::Badge:
    case PartType::Picture: {
        const std::size_t open = part.binding.find('{');
        const std::size_t end = part.binding.find_first_of(",}", open);
        return open == std::string::npos || end == std::string::npos
                   ? std::string()
                   : part.binding.substr(open + 1, end - open - 1);
    }
    default:
        for (const PartSpec& child : part.children) {
            if (std::string field = fieldOf(child); !field.empty()) {
                return field;
            }
        }
        return {};
    }
}

/// A field's name as people would write it: "wingspan_mm" is "Wingspan mm".
std::string asTitle(std::string field) {
    std::ranges::replace(field, '_', ' ');
    if (const std::size_t dot = field.rfind('.'); dot != std::string::npos) {
        field.erase(0, dot + 1);
    }
    if (!field.empty() && field[0] >= 'a' && field[0] <= 'z') {
        field[0] = static_cast<char>(field[0] - 'a' + 'A');
    }
    return field;
}

Json headingOver(const PartSpec& item) {
    const auto px = [](Length length) { return length.toPx(); };
    Json cells = Json::array();
    for (const PartSpec& part : item.children) {
        const std::string field = fieldOf(part);
        if (field.empty() || part.type == PartType::Picture) { // it says by itself what it is
            cells.push_back({{"space", 0}});
            continue;
        }
        std::string says = asTitle(field);
        for (std::size_t at = 0; (at = says.find('\'', at)) != std::string::npos; at += 2) {
            says.insert(at, "'"); // as a pattern writes it
        }
        Json cell{{"text", says}, {"size", 12}, {"weight", 600}, {"lines", 2}, {"tap", "order by " + field}};
        if (part.type == PartType::Text && (part.align == Align::End || part.align == Align::Center)) {
            cell["align"] = part.align == Align::End ? "end" : "center";
        }
        cells.push_back(std::move(cell));
    }
    const auto& [top, end, bottom, start] = item.padding;
    return {{"row", cells},
            {"gap", px(item.gap)},
            {"align", "end"},
            {"padding", {8, px(end), 8, px(start)}},
            {"ground", "faint"}};
}

void readStates(Members& items, CollectionDocument& document, DesignReader& reader,
                std::optional<Error>& error, std::vector<std::string>& unknown) {
    const std::array<std::pair<const char*, TailState>, 5> names{{{"error", TailState::FirstFailed},
                                                                  {"empty", TailState::Empty},
                                                                  {"loading", TailState::Loading},
                                                                  {"failed", TailState::Failed},
                                                                  {"end", TailState::End}}};
    const auto take = [&](Members& states) {
        for (const auto& [name, state] : names) {
            if (const Json* design = states.member(name); design != nullptr && !error) {
                document.states[static_cast<std::size_t>(state)] = std::make_shared<const PartSpec>(
                    reader.design(*design, std::string("/items/states/") + name));
            }
        }
    };
    static const Json usual = Json::parse(kUsualStates);
    Members ours(usual, "/items/states", error);
    take(ours);
    if (document.footer) {
        document.states[static_cast<std::size_t>(TailState::End)] =
            std::make_shared<const PartSpec>(*document.footer);
    }
    if (const Json* json = items.member("states"); json != nullptr && !error) {
        Members states(*json, "/items/states", error);
        take(states);
        std::ranges::move(states.unknown(), std::back_inserter(unknown));
    }
}

void readItems(Members& top, CollectionDocument& document, std::optional<Error>& error,
               std::vector<std::string>& unknown) {
    const Json* json = top.member("items");
    if (json == nullptr) {
        top.fail("items", "\"items\" is missing",
                 "Say how a record looks: {\"record\": {\"text\": \"{name}\"}}.", ErrorCode::NotFound);
        return;
    }
    Members items(*json, "/items", error);
    DesignReader reader(error, unknown, document.strips);
    const auto one = [&](const char* name) -> std::optional<PartSpec> {
        const Json* design = items.member(name);
        return design == nullptr || error
                   ? std::nullopt
                   : std::optional(reader.design(*design, std::string("/items/") + name));
    };
    if (auto design = one("record")) {
        document.item = std::move(*design);
    } else {
        items.fail("record", "there is no design for a record", "Add \"record\" to \"items\".",
                   ErrorCode::NotFound);
    }
    document.header = one("header");
    document.footer = one("footer");
    document.detail = one("detail");
    static const Json usualHeader = Json::parse(kUsualSectionHeader);
    auto ownHeader = one("sectionHeader");
    document.isSectionHeaderUsual = !ownHeader;
    document.sectionHeader =
        ownHeader ? std::move(*ownHeader) : reader.design(usualHeader, "/items/sectionHeader");
    document.sectionFooter = one("sectionFooter");
    auto ownHeading = one("heading");
    document.isHeadingUsual = !ownHeading;
    document.heading =
        ownHeading ? std::move(*ownHeading) : reader.design(headingOver(document.item), "/items/heading");
    readKinds(items, document, reader, error, unknown);
    readStates(items, document, reader, error, unknown);
    std::ranges::move(items.unknown(), std::back_inserter(unknown));
}

void readPieces(Members& top, CollectionDocument& document, std::optional<Error>& error,
                std::vector<std::string>& unknown) {
    const Json* json = top.member("pieces");
    if (json == nullptr || error) {
        return;
    }
    Members pieces(*json, "/pieces", error);
    if (error) {
        return;
    }
    for (const auto& [name, value] : json->items()) {
        const std::string pointer = "/pieces/" + name;
        Members members(value, pointer, error);
        if (error) {
            return;
        }
        PieceSpec read;
        const Json* inputs = members.member("inputs");
        const bool isList =
            inputs == nullptr || (inputs->is_array() && std::ranges::all_of(*inputs, &Json::is_string));
        if (!isList) {
            members.fail("inputs", "\"inputs\" must be a list of names", "Write [\"label\"].");
            return;
        }
        for (const Json& input : inputs == nullptr ? Json::array() : *inputs) {
            read.inputs.push_back(input.get<std::string>());
        }
        const Json* part = members.member("part");
        if (part == nullptr) {
            members.fail("part", fmt::format("the piece \"{}\" has no part", name),
                         "Add \"part\": {\"badge\": \"{label}\"}.", ErrorCode::NotFound);
            return;
        }
        read.body = DesignReader(error, unknown, document.strips).design(*part, pointer + "/part");
        std::ranges::move(members.unknown(), std::back_inserter(unknown));
        document.pieces[name] = std::move(read);
    }
}

Parameter readParameter(const std::string& name, const Json& value, std::optional<Error>& error,
                        std::vector<std::string>& unknown) {
    Parameter parameter;
    parameter.name = name;
    const Json* known = &value;
    std::optional<Members> members;
    if (value.is_object()) {
        members.emplace(value, "/parameters/" + name, error);
        known = members->member("value");
        if (known == nullptr) {
            members->fail("value", fmt::format("the parameter \"{}\" has no value", name),
                          "Add \"value\": 10.");
            return parameter;
        }
        parameter.title = members->text("title");
        parameter.unit = members->text("unit");
    }
    if (known->is_number()) {
        parameter.number = known->get<double>();
        parameter.from = std::min(0.0, parameter.number);
        parameter.to = std::max(100.0, parameter.number * 2);
    } else if (known->is_boolean()) {
        parameter.type = ParameterType::YesNo;
        parameter.yes = known->get<bool>();
    } else if (known->is_string()) {
        parameter.type = ParameterType::Text;
        parameter.text = known->get<std::string>();
    } else {
        error = Error{
            ErrorCode::Invalid,
            fmt::format("the value of the parameter \"{}\" is neither a number, a text nor true or false",
                        name),
            "Give one of them.",
            {}};
        error->place.pointer = "/parameters/" + name;
    }
    if (members) {
        parameter.from = members->number("from", parameter.from, -1e15, 1e15);
        parameter.to = members->number("to", parameter.to, -1e15, 1e15);
        parameter.step = members->number("step", 1, 1e-9, 1e15);
        if (parameter.from >= parameter.to) {
            members->fail("to", "\"to\" is not more than \"from\"", "Give the lesser one first.");
        }
        const Json* choices = members->member("choices");
        if (choices != nullptr && !choices->is_array()) {
            members->fail("choices", "\"choices\" must be a list", "Write [\"one\", \"other\"].");
            choices = nullptr;
        }
        for (const Json& choice : choices == nullptr ? Json::array() : *choices) {
            if (choice.is_string()) {
                parameter.choices.push_back(choice.get<std::string>());
            }
        }
        std::ranges::move(members->unknown(), std::back_inserter(unknown));
    }
    return parameter;
}

void readParameters(Members& top, CollectionDocument& document, std::optional<Error>& error,
                    std::vector<std::string>& unknown) {
    const Json* json = top.member("parameters");
    if (json == nullptr || error) {
        return;
    }
    Members names(*json, "/parameters", error);
    for (const auto& [name, value] : json->items()) {
        const bool plain = !name.empty() && std::ranges::all_of(name, [](char c) {
            return (std::isalnum(static_cast<unsigned char>(c)) != 0 &&
                    static_cast<unsigned char>(c) < 0x80) ||
                   c == '_';
        });
        if (!plain) {
            names.fail(name.c_str(), fmt::format("\"{}\" cannot name a parameter", name),
                       "Use letters, digits and _ only.");
        }
        if (error) {
            return;
        }
        document.parameters.push_back(readParameter(name, value, error, unknown));
    }
}

} // namespace

std::string usualHeading(const PartSpec& item) {
    return headingOver(item).dump();
}

const char* usualSectionHeader() {
    return kUsualSectionHeader;
}

void readDesign(Members& top, CollectionDocument& document, std::optional<Error>& error,
                std::vector<std::string>& unknown) {
    readParameters(top, document, error, unknown);
    readPieces(top, document, error, unknown);
    readItems(top, document, error, unknown);
}

} // namespace scorrere
