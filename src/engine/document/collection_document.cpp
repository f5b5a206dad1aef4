// SPDX-License-Identifier: Apache-2.0
#include "engine/document/collection_document.h"

#include "engine/document/design_json.h"
#include "engine/document/json_check.h"
#include "engine/document/json_text.h"
#include "engine/document/source_json.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere {

namespace {

constexpr std::array kDesignMembers{"parameters", "pieces", "items"};
constexpr std::size_t kMaxBytes = std::size_t{32} << 20;

Spacing readSpacing(Members& members) {
    Spacing spacing;
    spacing.gap = members.length("gap").value_or(Length{});
    const std::vector<double> insets = members.numbers("insets", 0, 10'000);
    for (std::size_t i = 0; i < 4 && !insets.empty(); ++i) {
        spacing.insets[i] = Length::fromPx(insets[i % insets.size()]);
    }
    return spacing;
}

GridSpec readGrid(Members& members, const Spacing& spacing) {
    constexpr auto kMost = static_cast<std::int64_t>(Arrangement::kMostInALine);
    GridSpec grid;
    grid.columns = static_cast<int>(members.whole("columns", grid.columns, 1, kMost));
    grid.leastCell = Length::fromPx(members.number("leastCell", 0, 0, 10'000));
    if (members.has("columns") && members.has("leastCell")) {
        members.fail("leastCell", "the columns are given twice, by number and by their least width",
                     "Have either \"columns\" or \"leastCell\".");
    }
    grid.crossGap = members.length("crossGap").value_or(spacing.gap);
    if (members.has("extent") && members.has("shape")) {
        members.fail("shape", "the cells' height is given twice", "Have either \"extent\" or \"shape\".");
    } else if (members.has("extent")) {
        grid.extent = Length::fromPx(members.number("extent", 100, 1, 100'000));
    } else if (members.has("shape")) {
        const std::vector<double> sides = members.numbers("shape", 1, 10'000);
        if (sides.size() == 2) {
            grid.extent = GridSpec::Aspect{std::llround(sides[0]), std::llround(sides[1])};
        } else {
            members.fail("shape", "\"shape\" is not two numbers", "Write [width, height], as in [3, 4].");
        }
    }
    return grid;
}

ColumnsSpec readColumns(Members& members, const Spacing& spacing) {
    constexpr auto kMost = static_cast<std::int64_t>(Arrangement::kMostInALine);
    ColumnsSpec columns;
    columns.lanes = static_cast<int>(members.whole("lanes", columns.lanes, 1, kMost));
    columns.leastLane = Length::fromPx(members.number("leastLane", 0, 0, 10'000));
    if (members.has("lanes") && members.has("leastLane")) {
        members.fail("leastLane", "the lanes are given twice, by number and by their least width",
                     "Have either \"lanes\" or \"leastLane\".");
    }
    columns.crossGap = members.length("crossGap").value_or(spacing.gap);
    return columns;
}

Json writtenLength(Length length) {
    const double px = length.toPx();
    return px == std::floor(px) ? Json(static_cast<std::int64_t>(px)) : Json(px);
}

/// As the file says it. Members that this version does not know stay.
void writeArrangement(Json& json, const ArrangementSpec& spec) {
    static constexpr std::array<const char*, 3> kForms{"list", "grid", "columns"}; // as the variant has them
    const char* form = kForms[spec.form.index()];
    Json& to = json["arrangement"];
    to = to.is_object() ? to : Json::object();
    for (const char* other : kForms) {
        if (other != form) {
            to.erase(other);
        }
    }
    Json& one = to[form];
    const auto put = [&one](const char* name, const Json& value, bool isUsual) {
        if (!isUsual) {
            one[name] = value;
        } else if (one.is_object()) {
            one.erase(name);
        }
    };
    one = one.is_object() ? one : Json::object();
    const auto& [gap, insets] = spec.spacing;
    put("gap", writtenLength(gap), false);
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        const bool isByWidth = grid->leastCell > Length{};
        put("columns", grid->columns, isByWidth);
        put("leastCell", writtenLength(grid->leastCell), !isByWidth);
        put("crossGap", writtenLength(grid->crossGap), grid->crossGap == gap);
        const auto* extent = std::get_if<Length>(&grid->extent);
        put("extent", extent == nullptr ? Json() : writtenLength(*extent), extent == nullptr);
        const auto* aspect = std::get_if<GridSpec::Aspect>(&grid->extent);
        put("shape", aspect == nullptr ? Json() : Json{aspect->width, aspect->height}, aspect == nullptr);
    }
    if (const auto* columns = std::get_if<ColumnsSpec>(&spec.form)) {
        const bool isByWidth = columns->leastLane > Length{};
        put("lanes", columns->lanes, isByWidth);
        put("leastLane", writtenLength(columns->leastLane), !isByWidth);
        put("crossGap", writtenLength(columns->crossGap), columns->crossGap == gap);
    }
    Json all = Json::array();
    std::ranges::transform(insets, std::back_inserter(all), writtenLength);
    put("insets", all, insets == std::array<Length, 4>{});
}

void readArrangement(Members& top, CollectionDocument& document, std::optional<Error>& error,
                     std::vector<std::string>& unknown) {
    const Json* json = top.member("arrangement");
    if (json == nullptr) {
        return;
    }
    Members arrangement(*json, "/arrangement", error);
    const auto with = [&](const char* name, auto read) {
        const Json* one = arrangement.member(name);
        if (one != nullptr) {
            Members members(*one, std::string("/arrangement/") + name, error);
            document.arrangement.spacing = readSpacing(members);
            document.arrangement.form = read(members);
            std::ranges::move(members.unknown(), std::back_inserter(unknown));
        }
        return one != nullptr;
    };
    const Spacing& spacing = document.arrangement.spacing;
    const bool isList = with("list", [](Members&) { return ListSpec(); });
    const bool isGrid = with("grid", [&](Members& members) { return readGrid(members, spacing); });
    const bool isColumns = with("columns", [&](Members& members) { return readColumns(members, spacing); });
    if (const int count = (isList ? 1 : 0) + (isGrid ? 1 : 0) + (isColumns ? 1 : 0); count != 1) {
        arrangement.fail(isColumns ? "columns"
                         : isGrid  ? "grid"
                                   : "list",
                         count > 1 ? "there are two arrangements"
                                   : "there is no arrangement this version knows",
                         "Have one of \"list\", \"grid\" and \"columns\".");
    }
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
    with("board", [&](Members& m) {
        document.board.widths = m.numbers("widths", 40, 4000);
        document.board.textScales = m.numbers("textScales", 0.5, 4);
        if (m.has("densities")) {
            document.board.densities = m.numbers("densities", 0.5, 8);
        }
        for (const double record : m.numbers("pinned", 0, 1e15)) {
            document.board.pinned.push_back(static_cast<std::int64_t>(record));
        }
        document.board.hardest = static_cast<int>(m.number("hardest", 0, 0, 1000));
    });
    with("paging", [&](Members& m) {
        PagingSpec& paging = document.paging;
        paging.lead = m.number("lead", paging.lead, 0, 20);
        paging.leadMs = m.whole("leadMs", paging.leadMs, 0, 60'000);
        paging.atOnce = static_cast<int>(m.whole("atOnce", paging.atOnce, 1, 32));
        paging.keep = m.whole("keep", paging.keep, 1, 100'000);
        paging.keepMiB = m.number("keepMiB", 0, 0, 100'000);
        paging.tries = static_cast<int>(m.whole("tries", paging.tries, 1, 20));
        paging.startAt = m.whole("startAt", 0, 0, kMostRecords - 1);
        paging.byPull = m.yesNo("pull", true);
        paging.everyS = m.whole("everyS", 0, 0, 86'400);
        paging.stand =
            m.oneOf<RefreshStand>("stand", RefreshStand::AtTop,
                                  {{"top", RefreshStand::AtTop}, {"reader", RefreshStand::WithReader}});
        paging.streams = m.yesNo("live", true);
        paging.diskMiB = m.number("diskMiB", paging.diskMiB, 0, 100'000);
        paging.diskDays = m.number("diskDays", paging.diskDays, 0, 3650);
    });
    with("run", [&](Members& m) {
        document.viewLead = m.number("viewLead", 0.5, 0, 10);
        if (m.has("asIf")) {
            document.asIf = m.whole("asIf", 0, 0, CollectionDocument::kMostAsIf);
        }
    });
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
    if (!isLocale(document.locale)) {
        top.fail("locale", fmt::format("\"locale\" is \"{}\", which names none", document.locale),
                 "Write a language tag (BCP 47), as in en, de-CH or ar.");
    }
    document.now = top.text("now");
    if (!document.now.empty() && !parseTime(document.now)) {
        top.fail("now", fmt::format("\"now\" is \"{}\", which is no time", document.now),
                 "Write it as ISO 8601 does, as in 2026-07-01T22:00:00Z, or leave it out.");
    }
    readSource(top, document, error, unknown);
    readDesign(top, document, error, unknown);
    readArrangement(top, document, error, unknown);
    readSettings(top, document, error, unknown);
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
    document.writtenArrangement_ = document.arrangement;
    return document;
}

Result<CollectionDocument> CollectionDocument::load(const std::string& path) {
    auto text = readTextFile(path, kMaxBytes);
    if (!text) {
        return std::move(text.error());
    }
    const FileMark mark = FileMark::of(*text);
    auto document = parse(std::move(*text), path);
    if (document) {
        document->mark_ = mark;
    }
    return document;
}

Error CollectionDocument::located(Error error) const {
    const std::string field = error.place.field;
    const std::int64_t inside = error.place.column;
    const std::string& pointer = error.place.pointer;
    const bool ofDesign =
        !designText_.empty() && (pointer.starts_with("/items") || pointer.starts_with("/pieces") ||
                                 pointer.starts_with("/parameters"));
    error.place = placeOfPointer(ofDesign ? designText_ : text_, pointer, ofDesign ? std::string() : path);
    error.place.field = field;
    error.place.column += inside; // inside a text: behind its quote
    return error;
}

std::string CollectionDocument::designText() const {
    Json design = Json::object();
    for (const char* member : kDesignMembers) {
        if (raw_ && raw_->contains(member)) {
            design[member] = (*raw_)[member];
        }
    }
    return jsonText(design) + "\n";
}

Result<CollectionDocument> CollectionDocument::withDesign(std::string text) const {
    auto json = parseJson(text, {});
    if (!json) {
        return std::move(json.error());
    }
    CollectionDocument document = *this;
    document.designText_ = std::move(text);
    document.item = {};
    document.header.reset();
    document.footer.reset();
    document.states = {};
    document.kinds.clear();
    document.pieces.clear();
    document.parameters.clear();
    std::optional<Error> error;
    std::vector<std::string> unknown;
    {
        Members top(*json, "", error);
        readDesign(top, document, error, unknown);
        for (const std::string& pointer : top.unknown()) {
            if (!error) {
                error = Error{ErrorCode::Invalid,
                              fmt::format("{} is no part of a design", pointer.substr(1)),
                              "Here stand parameters, pieces and items only.",
                              {}};
                error->place.pointer = pointer;
            }
        }
    }
    if (error) {
        Error located = std::move(*error);
        located.place = placeOfPointer(document.designText_, located.place.pointer, {});
        return located;
    }
    std::erase_if(document.notices, [](const std::string& notice) {
        return notice.starts_with("/items") || notice.starts_with("/pieces") ||
               notice.starts_with("/parameters");
    });
    for (const std::string& pointer : unknown) {
        document.notices.push_back(pointer + " is not known to this version; it is kept as it is");
    }
    auto raw = raw_ ? std::make_shared<Json>(*raw_) : std::make_shared<Json>(Json::object());
    for (const char* member : kDesignMembers) {
        if (json->contains(member)) {
            (*raw)[member] = (*json)[member];
        } else {
            raw->erase(member);
        }
    }
    document.raw_ = std::move(raw);
    return document;
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
    if (asIf) {
        json["run"]["asIf"] = *asIf;
    } else if (json.contains("run")) {
        json["run"].erase("asIf");
    }
    if (arrangement != writtenArrangement_) {
        writeArrangement(json, arrangement);
    }
    const PagingSpec usual;
    set("paging", "lead", paging.lead, usual.lead);
    set("paging", "leadMs", paging.leadMs, usual.leadMs);
    set("paging", "atOnce", paging.atOnce, usual.atOnce);
    set("paging", "keep", paging.keep, usual.keep);
    set("paging", "keepMiB", paging.keepMiB, usual.keepMiB);
    set("paging", "tries", paging.tries, usual.tries);
    set("paging", "startAt", paging.startAt, usual.startAt);
    set("paging", "pull", paging.byPull, usual.byPull);
    set("paging", "everyS", paging.everyS, usual.everyS);
    set("paging", "stand", paging.stand == RefreshStand::AtTop ? "top" : "reader", "top");
    set("paging", "live", paging.streams, usual.streams);
    set("paging", "diskMiB", paging.diskMiB, usual.diskMiB);
    set("paging", "diskDays", paging.diskDays, usual.diskDays);
    const BoardSpec noBoard;
    set("board", "widths", board.widths, noBoard.widths);
    set("board", "textScales", board.textScales, noBoard.textScales);
    set("board", "densities", board.densities, noBoard.densities);
    set("board", "pinned", board.pinned, noBoard.pinned);
    set("board", "hardest", board.hardest, noBoard.hardest);
    writeSource(json["source"], source);
    return jsonText(json) + "\n";
}

Result<CollectionDocument> CollectionDocument::savedAs(const std::string& target, bool overTheirs) const {
    namespace fs = std::filesystem;
    std::error_code failed;
    const bool isSame =
        !path.empty() && fs::weakly_canonical(target, failed) == fs::weakly_canonical(path, failed);
    const std::string content = serialise();
    if (Outcome written =
            writeFileSafely(target, content, isSame && !overTheirs ? mark_ : std::optional<FileMark>());
        !written) {
        return std::move(written.error());
    }
    CollectionDocument saved = *this;
    saved.path = target;
    saved.mark_ = FileMark::of(content);
    return saved;
}

void CollectionDocument::keepAs(const CollectionDocument& other) {
    source.file = sourceFileFrom(other.path);
    path = other.path;
    mark_ = other.mark_;
}

std::string CollectionDocument::sourceFileFrom(const std::string& target) const {
    namespace fs = std::filesystem;
    if (source.file.empty() || target == path) {
        return source.file;
    }
    std::error_code failed; // of a working folder that is gone: then the path stays as it is
    const fs::path from = fs::absolute(fs::path(folder()) / source.file, failed);
    const fs::path there = fs::absolute(target, failed).parent_path();
    return failed ? source.file : from.lexically_proximate(there).string();
}

std::string CollectionDocument::folder() const {
    if (path.empty()) {
        return {};
    }
    const std::string folder = std::filesystem::path(path).parent_path().string();
    return folder.empty() ? "." : folder;
}

} // namespace scorrere
