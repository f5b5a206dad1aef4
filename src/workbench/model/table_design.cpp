// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/table_design.h"

#include <algorithm>
#include <array>

namespace scorrere::workbench {

namespace {

using Json = nlohmann::ordered_json;

constexpr int kLongText = 240; ///< px; a text of several lines has a column so wide
constexpr int kPictureSide = 40;
constexpr std::size_t kMostCells = 16;

bool showsRecord(const Json& part) {
    static constexpr std::array kBound{"text", "badge", "picture", "meter", "scale", "repeat", "piece"};
    const auto bound = std::ranges::find_if(kBound, [&](const char* word) { return part.contains(word); });
    if (bound == kBound.end()) {
        return false;
    }
    const bool isText = *bound == kBound[0] || *bound == kBound[1];
    const Json& says = part[*bound];
    return !isText || (says.is_string() && says.get_ref<const std::string&>().find('{') != std::string::npos);
}

/// "code {code}" says in each cell what the heading says.
std::string withoutName(const std::string& text) {
    const std::size_t open = text.find('{');
    const std::size_t end = text.find_first_of(",}", open);
    if (open == 0 || open == std::string::npos || end == std::string::npos) {
        return text;
    }
    std::string name = text.substr(open + 1, end - open - 1);
    std::string before = text.substr(0, open);
    const auto plain = [](std::string& words) {
        std::erase_if(words, [](char c) { return c == ' ' || c == '_' || c == ':'; });
        std::ranges::transform(words, words.begin(), [](char c) {
            return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
        });
    };
    plain(name);
    plain(before);
    return name == before ? text.substr(open) : text;
}

Json cellOf(Json part) {
    part.erase("grow");
    if (part.contains("text") && part["text"].is_string()) {
        part["text"] = withoutName(part["text"].get<std::string>());
    }
    if (part.contains("text")) {
        const int lines =
            part.contains("lines") && part["lines"].is_number_integer() ? part["lines"].get<int>() : 0;
        const bool isLong = part.contains("lines") && (lines == 0 || lines > 2);
        part["lines"] = isLong ? 2 : 1;
        if (isLong && !part.contains("width")) {
            part["width"] = kLongText;
        }
    } else if (part.contains("picture")) {
        part["width"] = kPictureSide;
        part["height"] = kPictureSide;
    } else if (part.contains("repeat") && !part.contains("width")) {
        part["width"] = kLongText;
    }
    return part;
}

void gather(const Json& part, std::vector<Json>& cells) {
    if (const std::string box = boxWord(part); !box.empty()) {
        for (const Json& child : part[box]) {
            gather(child, cells);
        }
    } else if (showsRecord(part) && cells.size() < kMostCells) {
        cells.push_back(cellOf(part));
    }
}

bool standsInColumns(const Json& item) {
    return boxWord(item) == "row" && std::ranges::all_of(item["row"], [](const Json& cell) {
               std::vector<Json> parts;
               gather(cell, parts);
               return parts.size() <= 1;
           });
}

} // namespace

CollectionDocument asTable(CollectionDocument document) {
    DesignDraft draft(document.designText());
    const Json* item = draft.part("/items/record");
    if (!std::holds_alternative<TableSpec>(document.arrangement.form) || item == nullptr ||
        standsInColumns(*item)) {
        return document;
    }
    std::vector<Json> cells;
    gather(*item, cells);
    const auto title = std::ranges::find_if(cells, [](const Json& cell) { return cell.contains("text"); });
    if (title != cells.end()) { // what an item is called by stands first, and stays
        std::rotate(cells.begin(), title, title + 1);
    }
    Json row = {{"row", cells}, {"gap", 16}, {"padding", {8, 16}}, {"align", "center"}};
    for (const char* kept : {"tap", "ground", "radius"}) {
        if (item->contains(kept)) {
            row[kept] = (*item)[kept];
        }
    }
    if (cells.empty()) { // it says the same for every record
        row["row"] = Json::array({*item});
    }
    draft.replace("/items/record", row);
    auto made = document.withDesign(draft.text());
    return made ? std::move(*made) : document;
}

DesignDraft withHeadingOver(const CollectionDocument& before, DesignDraft draft) {
    const DesignDraft was(before.designText());
    const auto cellsOf = [](const DesignDraft& of, const char* item) {
        const Json* design = of.part(item);
        return design != nullptr && design->contains("row") ? (*design)["row"] : Json();
    };
    const Json cells = cellsOf(was, "/items/record");
    const Json to = cellsOf(draft, "/items/record");
    const Json headings = cellsOf(was, "/items/heading");
    const bool isTable = std::holds_alternative<TableSpec>(before.arrangement.form);
    if (!isTable || before.isHeadingUsual || cells == to || !cells.is_array() || !to.is_array() ||
        cells.size() != headings.size() || headings != cellsOf(draft, "/items/heading")) {
        return draft;
    }
    const auto after = before.withDesign(draft.text());
    if (!after) {
        return draft; // it is refused anyway
    }
    const Json usual = Json::parse(usualHeading(after->item))["row"];
    std::vector<bool> isTaken(cells.size(), false);
    std::vector<std::optional<std::size_t>> stood(to.size());
    for (std::size_t i = 0; i < to.size(); ++i) { // those that are as they were, wherever
        for (std::size_t old = 0; old < cells.size() && !stood[i]; ++old) {
            if (!isTaken[old] && cells[old] == to[i]) {
                isTaken[old] = true;
                stood[i] = old;
            }
        }
    }
    Json above = Json::array();
    for (std::size_t i = 0; i < to.size(); ++i) {
        if (!stood[i] && to.size() == cells.size() && !isTaken[i]) {
            stood[i] = i; // it was changed in its place
        }
        above.push_back(stood[i] ? headings[*stood[i]] : usual[i]);
    }
    draft.set("/items/heading", "row", above);
    return draft;
}

} // namespace scorrere::workbench
