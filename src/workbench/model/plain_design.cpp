// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/plain_design.h"

#include "engine/record/json_outline.h"
#include "workbench/model/starting_points.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

/// In a pattern braces and apostrophes mean something: a title says them in quotes.
std::string titleOf(const std::string& name, const std::vector<FieldChoice>& choices) {
    const auto choice = std::ranges::find(choices, name, &FieldChoice::name);
    const std::string& title = choice == choices.end() || choice->title.empty() ? name : choice->title;
    std::string plain;
    for (const char c : title) {
        plain += c == '\'' ? "\'\'" : c == '{' || c == '}' ? std::string("'") + c + "'" : std::string(1, c);
    }
    return plain;
}

/// A design for records that came without one: the first text as title, the next fields below it.
std::string plainItem(const RecordTable& records, const std::vector<FieldChoice>& choices) {
    std::string title;
    std::string detail;
    std::string body;
    int details = 0;
    for (const Field& field : records.fields()) {
        const bool text = field.type == FieldType::Text;
        if (!isPatternName(field.name) || field.type >= FieldType::List) {
            continue;
        }
        const std::string part = "{" + field.name + "}";
        if (text && title.empty()) {
            title = part;
        } else if (text && body.empty() && details > 0) {
            body = part;
        } else if (details < 3) {
            detail += fmt::format("{}{{\"text\": {}, \"size\": 12, \"colour\": \"quiet\"}}",
                                  detail.empty() ? "" : ", ",
                                  quotedJson(titleOf(field.name, choices) + " " + part));
            ++details;
        }
    }
    std::string parts;
    const auto add = [&parts](const std::string& part) { parts += (parts.empty() ? "" : ", ") + part; };
    if (!title.empty()) {
        add(fmt::format("{{\"text\": {}, \"size\": 15, \"weight\": 600, \"lines\": 2}}", quotedJson(title)));
    }
    if (!detail.empty()) {
        add(fmt::format("{{\"row\": [{}], \"gap\": 12}}", detail));
    }
    if (!body.empty()) {
        add(fmt::format("{{\"text\": {}, \"size\": 13, \"lines\": 0}}", quotedJson(body)));
    }
    if (parts.empty()) {
        add("{\"text\": \"No field of this record can stand in a text\", \"colour\": \"quiet\"}");
    }
    return fmt::format(
        "{{\"column\": [{{\"column\": [{}], \"gap\": 3, \"padding\": [12, 16]}}, {{\"line\": 1}}]}}", parts);
}

} // namespace

Result<CollectionDocument> plainDocument(const std::string& name, const SourceSpec& source,
                                         const RecordTable& records) {
    auto made =
        CollectionDocument::parse(fmt::format("{{\"scorrere\": 1, \"name\": {}, \"source\": {{\"list\": "
                                              "\"\"}}, \"items\": {{\"record\": {}}}}}",
                                              quotedJson(name), plainItem(records, source.reading.fields)),
                                  {});
    if (made) {
        made->source = source;
    }
    return made;
}

} // namespace scorrere::workbench
