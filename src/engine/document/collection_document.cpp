// SPDX-License-Identifier: Apache-2.0
#include "engine/document/collection_document.h"

#include "engine/document/json_check.h"
#include "engine/document/source_json.h"

#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere {

namespace {

constexpr std::size_t kMaxBytes = std::size_t{32} << 20;
constexpr int kMaxDepth = 40;

/// Reads the parts of an item design; stops at the first error.
class DesignReader {
public:
    DesignReader(std::optional<Error>& error, std::vector<std::string>& unknown)
        : error_(error), unknown_(unknown) {}

    PartSpec read(const Json& json, const std::string& pointer, bool inRow, int depth) {
        PartSpec part;
        part.pointer = pointer;
        Members members(json, pointer, error_);
        if (error_ || !chooseType(members, part, depth)) {
            return part;
        }
        readLook(members, part);
        switch (part.type) {
        case PartType::Text:
            readText(members, part);
            break;
        case PartType::Picture:
            part.binding = members.text("picture");
            break;
        case PartType::Line:
            readThickness(members, part, "line", inRow, 1);
            break;
        case PartType::Space:
            readThickness(members, part, "space", inRow, 0);
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

private:
    static constexpr std::array<std::pair<const char*, PartType>, 7> kTypes{{{"text", PartType::Text},
                                                                             {"picture", PartType::Picture},
                                                                             {"line", PartType::Line},
                                                                             {"space", PartType::Space},
                                                                             {"row", PartType::Row},
                                                                             {"column", PartType::Column},
                                                                             {"over", PartType::Over}}};

    bool chooseType(Members& members, PartSpec& part, int depth) {
        int found = 0;
        for (const auto& [word, type] : kTypes) {
            if (members.has(word)) {
                part.type = type;
                typeName_ = word;
                ++found;
            }
        }
        if (depth > kMaxDepth) {
            members.fail("", fmt::format("parts are nested more than {} deep", kMaxDepth),
                         "Make the design simpler.", ErrorCode::TooLarge);
        } else if (found != 1) {
            error_ = Error{ErrorCode::Invalid,
                           found == 0 ? "this part does not say what it is"
                                      : "this part says it is several things",
                           "A part has exactly one of: text, picture, line, space, row, column, over.",
                           {}};
            error_->place.pointer = part.pointer;
        }
        return !error_;
    }

    void readLook(Members& members, PartSpec& part) {
        part.align = members.oneOf<Align>("align", part.type == PartType::Row ? Align::Start : Align::Stretch,
                                          {{"start", Align::Start},
                                           {"center", Align::Center},
                                           {"end", Align::End},
                                           {"stretch", Align::Stretch}});
        part.fit = members.oneOf<Fit>("fit", Fit::Fill, {{"fit", Fit::Fit}, {"fill", Fit::Fill}});
        part.grow = members.number("grow", 0, 0, 1000);
        part.gap = members.length("gap").value_or(Length{});
        part.width = members.length("width");
        part.height = members.length("height");
        part.aspect = members.number("aspect", 0, 0.01, 100);
        part.radius = members.length("radius").value_or(Length{});
        part.colour = members.text("colour", part.type == PartType::Line ? "faint" : "ink");
        part.ground = members.text("ground");
        checkColour(members, "colour", part.colour);
        checkColour(members, "ground", part.ground);
        const std::vector<double> padding = members.numbers("padding", 0, 10'000);
        const auto side = [&](std::size_t i) { return padding.empty() ? 0.0 : padding[i % padding.size()]; };
        if (padding.size() == 3 || padding.size() > 4) {
            members.fail("padding", fmt::format("\"padding\" has {} numbers", padding.size()),
                         "Give one, or two (top and bottom, sides), or four (top, end, bottom, start).");
        }
        for (std::size_t i = 0; i < 4; ++i) {
            part.padding[i] = Length::fromPx(side(i));
        }
    }

    static void checkColour(Members& members, const char* name, const std::string& colour) {
        const bool role = colour.empty() || colour == "ink" || colour == "quiet" || colour == "accent" ||
                          colour == "faint" || colour == "good" || colour == "caution" || colour == "bad" ||
                          colour == "paper";
        const bool hex = (colour.size() == 4 || colour.size() == 7) && colour[0] == '#' &&
                         colour.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string::npos;
        if (!role && !hex) {
            members.fail(
                name, fmt::format("\"{}\" is not a colour", colour),
                "Give #rgb or #rrggbb, or one of: ink, quiet, accent, faint, good, caution, bad, paper.");
        }
    }

    static void readText(Members& members, PartSpec& part) {
        part.binding = members.text("text");
        part.missing = members.optionalText("missing");
        part.style.size = Length::fromPx(members.number("size", 15, 4, 400));
        part.style.weight = static_cast<int>(members.whole("weight", 400, 100, 900));
        part.style.italic = members.yesNo("italic", false);
        part.lines = static_cast<int>(members.whole("lines", 1, 0, 10'000));
    }

    static void readThickness(Members& members, PartSpec& part, const char* name, bool inRow, double lowest) {
        const Length thickness = Length::fromPx(members.number(name, 1, lowest, 10'000));
        (inRow ? part.width : part.height) = thickness;
    }

    void readChildren(Members& members, PartSpec& part, int depth) {
        const std::string word = typeName_;
        const Json* list = members.member(word.c_str());
        if (!list->is_array()) {
            members.fail(word.c_str(), fmt::format("\"{}\" must be a list of parts", word),
                         "Write it in brackets.");
            return;
        }
        for (std::size_t i = 0; i < list->size() && !error_; ++i) {
            part.children.push_back(read((*list)[i], fmt::format("{}/{}/{}", part.pointer, word, i),
                                         part.type == PartType::Row, depth + 1));
        }
    }

    std::optional<Error>& error_;
    std::vector<std::string>& unknown_;
    std::string typeName_;
};

void readItems(Members& top, CollectionDocument& document, std::optional<Error>& error,
               std::vector<std::string>& unknown) {
    const Json* json = top.member("items");
    if (json == nullptr) {
        top.fail("items", "\"items\" is missing",
                 "Say how a record looks: {\"record\": {\"text\": \"{name}\"}}.", ErrorCode::NotFound);
        return;
    }
    Members items(*json, "/items", error);
    DesignReader reader(error, unknown);
    const auto one = [&](const char* name) -> std::optional<PartSpec> {
        const Json* design = items.member(name);
        return design == nullptr || error
                   ? std::nullopt
                   : std::optional(reader.read(*design, std::string("/items/") + name, false, 0));
    };
    if (auto design = one("record")) {
        document.item = std::move(*design);
    } else {
        items.fail("record", "there is no design for a record", "Add \"record\" to \"items\".",
                   ErrorCode::NotFound);
    }
    document.header = one("header");
    document.footer = one("footer");
    std::ranges::move(items.unknown(), std::back_inserter(unknown));
}

void readArrangement(Members& top, CollectionDocument& document, std::optional<Error>& error,
                     std::vector<std::string>& unknown) {
    const Json* json = top.member("arrangement");
    if (json == nullptr) {
        return;
    }
    Members arrangement(*json, "/arrangement", error);
    const Json* list = arrangement.member("list");
    if (list == nullptr) {
        arrangement.fail("list", "there is no arrangement this version knows", "Use \"list\".");
        return;
    }
    Members members(*list, "/arrangement/list", error);
    document.list.gap = members.length("gap").value_or(Length{});
    const std::vector<double> insets = members.numbers("insets", 0, 10'000);
    for (std::size_t i = 0; i < 4 && !insets.empty(); ++i) {
        document.list.insets[i] = Length::fromPx(insets[i % insets.size()]);
    }
    std::ranges::move(members.unknown(), std::back_inserter(unknown));
    std::ranges::move(arrangement.unknown(), std::back_inserter(unknown));
}

void readSettings(Members& top, CollectionDocument& document, std::optional<Error>& error,
                  std::vector<std::string>& unknown) {
    const auto with = [&](const char* name, auto read) {
        if (const Json* json = top.member(name)) {
            Members members(*json, std::string("/") + name, error);
            read(members);
            std::ranges::move(members.unknown(), std::back_inserter(unknown));
        }
    };
    with("window", [&](Members& m) {
        document.window.device = m.text("device", document.window.device);
        document.window.upright = m.yesNo("upright", true);
        document.window.textScale = m.number("textScale", 1, 0.5, 4);
    });
    with("run", [&](Members& m) { document.viewLead = m.number("viewLead", 0.5, 0, 10); });
    with("pictures", [&](Members& m) { document.pictureBudgetMiB = m.whole("budgetMiB", 64, 1, 4096); });
    with("budgets", [&](Members& m) {
        document.budgets.medianMs = m.number("medianMs", 0, 0, 10'000);
        document.budgets.p99Ms = m.number("p99Ms", 0, 0, 10'000);
        document.budgets.built = m.whole("built", 0, 0, 1'000'000);
    });
}

} // namespace

Result<CollectionDocument> CollectionDocument::parse(std::string text, const std::string& path) {
    auto json = parseJson(text, path);
    if (!json) {
        return std::move(json.error());
    }
    CollectionDocument document;
    document.path = path;
    document.text_ = std::move(text);
    std::optional<Error> error;
    std::vector<std::string> unknown;
    Members top(*json, "", error);
    if (!error) {
        const std::int64_t version = top.whole("scorrere", 0, 0, 1'000'000);
        if (!error && version != kVersion) {
            top.fail("scorrere",
                     version == 0 ? "this is not a collection file: it has no \"scorrere\" member"
                                  : fmt::format("this file is of version {}; this program reads version {}",
                                                version, kVersion),
                     version == 0 ? "A collection file starts with {\"scorrere\": 1, ...}."
                                  : "Open it with a newer program.",
                     ErrorCode::Version);
        }
    }
    document.name = top.text("name", std::filesystem::path(path).stem().stem().string());
    document.noun = top.text("noun", document.noun);
    document.locale = top.text("locale", document.locale);
    readSource(top, document, error, unknown);
    readItems(top, document, error, unknown);
    readArrangement(top, document, error, unknown);
    readSettings(top, document, error, unknown);
    document.list.header = document.header.has_value();
    document.list.footer = document.footer.has_value();
    if (error) {
        return document.located(std::move(*error));
    }
    std::ranges::move(top.unknown(), std::back_inserter(unknown));
    for (const std::string& pointer : unknown) {
        if (pointer != "/$schema") {
            document.notices.push_back(pointer + " is not known to this version; it is kept as it is");
        }
    }
    document.raw_ = std::make_shared<const Json>(std::move(*json));
    return document;
}

Result<CollectionDocument> CollectionDocument::load(const std::string& path) {
    auto text = readTextFile(path, kMaxBytes);
    if (!text) {
        return std::move(text.error());
    }
    return parse(std::move(*text), path);
}

Error CollectionDocument::located(Error error) const {
    const std::string field = error.place.field;
    error.place = placeOfPointer(text_, error.place.pointer, path);
    error.place.field = field;
    return error;
}

std::string CollectionDocument::serialise() const {
    Json json = raw_ ? *raw_ : Json::object();
    const auto set = [&json](const char* group, const char* member, const Json& value,
                             const Json& otherwise) {
        if (json.contains(group) || value != otherwise) {
            if (json[group].contains(member) || value != otherwise) {
                json[group][member] = value;
            }
        }
    };
    const WindowSpec plain;
    set("window", "device", window.device, plain.device);
    set("window", "upright", window.upright, plain.upright);
    set("window", "textScale", window.textScale, plain.textScale);
    set("run", "viewLead", viewLead, 0.5);
    writeSource(json["source"], source);
    return json.dump(2) + "\n";
}

Outcome CollectionDocument::save(const std::string& target) const {
    // Written beside and moved into place: a full disk must not cost the file that was there.
    const std::string beside = target + ".part";
    Place place;
    place.file = target;
    {
        std::ofstream out(beside, std::ios::binary | std::ios::trunc);
        out << serialise();
        out.close();
        if (!out) {
            std::error_code ignored;
            std::filesystem::remove(beside, ignored);
            return Error{ErrorCode::Unwritable, "it cannot be written",
                         "Check the folder and the space left on the disk.", place};
        }
    }
    std::error_code failed;
    std::filesystem::rename(beside, target, failed);
    if (failed) {
        return Error{ErrorCode::Unwritable, "it cannot be replaced: " + failed.message(),
                     "Save it elsewhere.", place};
    }
    return done();
}

std::string CollectionDocument::folder() const {
    return path.empty() ? std::string() : std::filesystem::path(path).parent_path().string();
}

} // namespace scorrere
