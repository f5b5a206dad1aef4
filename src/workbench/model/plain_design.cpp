// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/plain_design.h"

#include "engine/record/json_outline.h"
#include "workbench/model/starting_points.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

using Json = nlohmann::ordered_json;

constexpr int kMostDetails = 4;

/// In a pattern braces and apostrophes mean something: words of the user's stand in quotes.
std::string quoted(const std::string& words) {
    std::string plain;
    for (const char c : words) {
        plain += c == '\'' ? "\'\'" : c == '{' || c == '}' ? std::string("'") + c + "'" : std::string(1, c);
    }
    return plain;
}

/// What a field says as a detail: its value, behind its name where the value does not say what it is.
std::string detailOf(const RecordTable& records, FieldHandle field, const std::vector<FieldChoice>& choices) {
    const FieldWriting writing = fieldWriting(records, field);
    const auto choice = std::ranges::find(choices, records.field(field).name, &FieldChoice::name);
    const bool isNamed = choice != choices.end() && !choice->title.empty();
    if (!isNamed && writing.saysItself) {
        return writing.pattern;
    }
    return quoted(isNamed ? choice->title : writing.label) + " " + writing.pattern;
}

/// A title with its picture and status beside it, details in a line that wraps, the longest text below.
Json plainItem(const RecordTable& records, const SourceSpec& source) {
    const std::vector<FieldChoice>& choices = source.reading.fields;
    const bool isDemo = source.isDemo || source.address.starts_with("demo:/");
    const FieldRoles roles = fieldRoles(records);
    Json column = Json::array();
    if (!roles.title.empty()) {
        Json title = {{"text", "{" + roles.title + "}"}, {"size", 15}, {"weight", 600}, {"lines", 2}};
        if (!roles.status.empty()) {
            title["grow"] = 1;
            title = {{"row", Json::array({title, {{"badge", "{" + roles.status + "}"}}})}, {"gap", 8}};
        }
        column.push_back(title);
    }
    Json details = Json::array();
    for (int i = 0; i < static_cast<int>(records.fields().size()); ++i) {
        const Field& field = records.field(FieldHandle{i});
        const bool isTaken = field.name == roles.title || field.name == roles.body ||
                             field.name == roles.picture || field.name == roles.list ||
                             (field.name == roles.status && !roles.title.empty());
        if (!isPatternName(field.name) || field.type >= FieldType::List || isTaken ||
            static_cast<int>(details.size()) == kMostDetails) {
            continue;
        }
        details.push_back(
            {{"text", detailOf(records, FieldHandle{i}, choices)}, {"size", 12}, {"colour", "quiet"}});
    }
    if (!details.empty()) {
        column.push_back({{"wrap", details}, {"gap", 12}, {"lineGap", 2}});
    }
    if (!roles.body.empty()) {
        column.push_back({{"text", "{" + roles.body + "}"}, {"size", 13}, {"lines", 0}});
    }
    if (!roles.list.empty()) {
        column.push_back({{"repeat", roles.list},
                          {"part", {{"badge", "{entry}"}, {"weight", 400}}},
                          {"most", 5},
                          {"gap", 4}});
    }
    if (column.empty()) {
        column.push_back({{"text", "No field of this record can stand in a text"}, {"colour", "quiet"}});
    }
    Json item = {{"column", column}, {"gap", 3}};
    if (!roles.picture.empty()) {
        item["grow"] = 1;
        Json picture = {{"picture", (isDemo ? "wings/{" : "{+") + roles.picture + "}"},
                        {"width", 56},
                        {"height", 56},
                        {"radius", 8}};
        if (!roles.title.empty()) {
            picture["label"] = "{" + roles.title + "}";
        }
        item = {{"row", Json::array({picture, item})}, {"gap", 12}};
    }
    item["padding"] = {12, 16};
    return {{"column", Json::array({item, {{"line", 1}}})}};
}

} // namespace

Result<CollectionDocument> plainDocument(const std::string& name, const SourceSpec& source,
                                         const RecordTable& records) {
    auto made =
        CollectionDocument::parse(fmt::format("{{\"scorrere\": 1, \"name\": {}, \"source\": {{\"list\": "
                                              "\"\"}}, \"items\": {{\"record\": {}}}}}",
                                              quotedJson(name), plainItem(records, source).dump()),
                                  {});
    if (made) {
        made->source = source;
    }
    return made;
}

} // namespace scorrere::workbench
