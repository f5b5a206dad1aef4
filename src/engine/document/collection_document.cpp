// SPDX-License-Identifier: Apache-2.0
#include "engine/document/collection_document.h"

#include "engine/document/design_json.h"
#include "engine/document/edits_json.h"
#include "engine/document/form_json.h"
#include "engine/document/hands_json.h"
#include "engine/document/json_check.h"
#include "engine/document/json_text.h"
#include "engine/document/order_json.h"
#include "engine/document/source_json.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere {

namespace {

constexpr std::array kDesignMembers{"parameters", "pieces", "items"};
constexpr std::size_t kMaxBytes = std::size_t{32} << 20;

void readDevice(Members& members, DeviceSpec& device) {
    device.device = members.text("device", device.device);
    device.upright = members.yesNo("upright", true);
    device.underBars = members.yesNo("underBars", false);
    device.textScale = members.number("textScale", 1, 0.5, 4);
}

void readBeside(Members& window, const Json& json, WindowSpec& spec, std::optional<Error>& error,
                std::vector<std::string>& unknown) {
    if (!json.is_array() || json.size() > WindowSpec::kMostBeside) {
        return window.fail("beside", "\"beside\" is not a list of at most three windows",
                           "Write [{\"device\": \"tablet\"}].");
    }
    static const std::vector<std::pair<const char*, std::string>> looks{{"light", "light"}, {"dark", "dark"}};
    for (std::size_t i = 0; i < json.size(); ++i) {
        Members members(json[i], window.pointerTo("beside") + "/" + std::to_string(i), error);
        BesideSpec beside;
        readDevice(members, beside);
        beside.look = members.oneOf("look", beside.look, looks);
        beside.locale = members.text("locale");
        spec.beside.push_back(std::move(beside));
        std::ranges::move(members.unknown(), std::back_inserter(unknown));
    }
}

/// A window beside the first: what is as usual is not said.
Json writtenBeside(const BesideSpec& beside) {
    const BesideSpec usual;
    Json json = {{"device", beside.device}};
    const auto put = [&json](const char* name, const Json& value, bool isUsual) {
        if (!isUsual) {
            json[name] = value;
        }
    };
    put("upright", beside.upright, beside.upright == usual.upright);
    put("underBars", beside.underBars, beside.underBars == usual.underBars);
    put("textScale", beside.textScale, beside.textScale == usual.textScale);
    put("look", beside.look, beside.look.empty());
    put("locale", beside.locale, beside.locale.empty());
    return json;
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
        readDevice(m, document.window);
        document.window.together = m.yesNo("together", true);
        if (const Json* beside = m.member("beside")) {
            readBeside(m, *beside, document.window, error, unknown);
        }
    });
    document.order = readOrder(top, error, unknown);
    document.edits = readEdits(top, error, unknown);
    document.send = readSend(top, error, unknown);
    document.hands = readHands(top, error, unknown);
    document.actions = readActions(top, error, unknown);
    document.areEditsKept = top.yesNo("editsKept", !document.edits.empty());
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
    with("animation", [&](Members& m) {
        const auto ms = [&m](const char* name, int& to) {
            to = static_cast<int>(m.whole(name, to, 0, CollectionDocument::kMostMotionMs));
        };
        AnimationSpec& animation = document.animation;
        ms("insert", animation.insertMs);
        ms("remove", animation.removeMs);
        ms("move", animation.moveMs);
        ms("extent", animation.extentMs);
        animation.curve = m.text("curve", animation.curve);
        if (!curveNamed(animation.curve)) {
            m.fail("curve", "\"" + animation.curve + "\" is no curve",
                   "Choose linear, ease, ease-in, ease-out or ease-in-out, or write one as in "
                   "\"cubic-bezier(0.2, 0, 0.4, 1)\".");
        }
        animation.most = static_cast<int>(m.whole("most", animation.most, 0, 1000));
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
    readArrangement(top, document.arrangement, error, unknown);
    if (const auto* grid = std::get_if<GridSpec>(&document.arrangement.form)) {
        for (const GridSpec::Span& span : grid->spans) {
            if (std::ranges::find(document.kinds, span.kind, &KindSpec::name) == document.kinds.end()) {
                document.notices.push_back("/arrangement/grid/spans: there is no kind \"" + span.kind +
                                           "\" among /items/kinds; it is kept as it is");
            }
        }
    }
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
    document.detail.reset();
    document.sectionHeader = {};
    document.sectionFooter.reset();
    document.heading = {};
    document.states = {};
    document.kinds.clear();
    document.pieces.clear();
    document.strips.clear();
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
    return jsonText(written(false)) + "\n";
}

std::string CollectionDocument::stateText() const {
    return jsonText(written(true)) + "\n";
}

nlohmann::ordered_json CollectionDocument::written(bool withAllEdits) const {
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
    set("window", "underBars", window.underBars, plain.underBars);
    set("window", "textScale", window.textScale, plain.textScale);
    set("window", "together", window.together, plain.together);
    Json beside = Json::array();
    std::ranges::transform(window.beside, std::back_inserter(beside), writtenBeside);
    set("window", "beside", beside, Json::array());
    set("run", "viewLead", viewLead, 0.5);
    if (asIf) {
        json["run"]["asIf"] = *asIf;
    } else if (json.contains("run")) {
        json["run"].erase("asIf");
    }
    const AnimationSpec usualMotion = usualAnimation();
    set("animation", "insert", animation.insertMs, usualMotion.insertMs);
    set("animation", "remove", animation.removeMs, usualMotion.removeMs);
    set("animation", "move", animation.moveMs, usualMotion.moveMs);
    set("animation", "extent", animation.extentMs, usualMotion.extentMs);
    set("animation", "curve", animation.curve, usualMotion.curve);
    set("animation", "most", animation.most, usualMotion.most);
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
    writeOrder(json, order);
    writeEdits(json, areEditsKept || withAllEdits ? edits : RecordEdits());
    writeSend(json, send);
    writeHands(json, hands);
    writeActions(json, actions);
    json.erase("editsKept");
    if (withAllEdits && !areEditsKept && !edits.empty()) {
        json["editsKept"] = false;
    }
    const BoardSpec noBoard;
    set("board", "widths", board.widths, noBoard.widths);
    set("board", "textScales", board.textScales, noBoard.textScales);
    set("board", "densities", board.densities, noBoard.densities);
    set("board", "pinned", board.pinned, noBoard.pinned);
    set("board", "hardest", board.hardest, noBoard.hardest);
    writeSource(json["source"], source);
    return json;
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
