// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/answer.h"

#include "engine/record/charset.h"
#include "engine/record/json_path.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <sstream>

namespace scorrere::workbench {

namespace {

using Node = JsonOutline::Node;

std::int32_t childNamed(const JsonOutline& tree, std::string_view text, std::int32_t parent,
                        const std::string& name) {
    const auto& nodes = tree.nodes;
    for (std::int32_t i = parent + 1; i < nodes[static_cast<std::size_t>(parent)].subtreeEnd;
         i = nodes[static_cast<std::size_t>(i)].subtreeEnd) {
        if (JsonOutline::nameOf(nodes[static_cast<std::size_t>(i)], text) == name) {
            return i;
        }
    }
    return -1;
}

std::int32_t childAt(const JsonOutline& tree, std::int32_t parent, std::int64_t place) {
    const auto& nodes = tree.nodes;
    for (std::int32_t i = parent + 1; i < nodes[static_cast<std::size_t>(parent)].subtreeEnd;
         i = nodes[static_cast<std::size_t>(i)].subtreeEnd) {
        if (nodes[static_cast<std::size_t>(i)].place == place) {
            return i;
        }
    }
    return -1;
}

/// Follows a singular query's names and indexes from the root.
std::int32_t follow(const JsonOutline& tree, std::string_view text, const jsonpath::Query& query,
                    std::int32_t from) {
    std::int32_t at = from;
    for (const jsonpath::Segment& segment : query.segments) {
        if (at < 0) {
            return -1;
        }
        const jsonpath::Selector& selector = segment.selectors[0];
        at = selector.kind == jsonpath::Selector::Kind::Name ? childNamed(tree, text, at, selector.name)
                                                             : childAt(tree, at, selector.index);
    }
    return at;
}

/// Follows a JSON Pointer (RFC 6901).
std::int32_t follow(const JsonOutline& tree, std::string_view text, std::string_view pointer,
                    std::int32_t from) {
    std::int32_t at = from;
    while (!pointer.empty() && at >= 0) {
        const std::size_t end = std::min(pointer.find('/', 1), pointer.size());
        std::string step;
        for (std::size_t i = 1; i < end; ++i) {
            const bool escaped = pointer[i] == '~' && i + 1 < end;
            step += escaped ? (pointer[i + 1] == '1' ? '/' : '~') : pointer[i];
            i += escaped ? 1 : 0;
        }
        const bool list = tree.nodes[static_cast<std::size_t>(at)].type == JsonOutline::Type::Array;
        at = list ? childAt(tree, at, parseInteger(step).value_or(-1)) : childNamed(tree, text, at, step);
        pointer = pointer.substr(end);
    }
    return at;
}

std::int32_t itemsNode(const JsonOutline& tree, std::string_view text, const std::string& items) {
    const auto path = JsonPath::parse(items);
    if (!path || tree.nodes.empty()) {
        return -1;
    }
    jsonpath::Query query = path->query();
    if (!query.segments.empty()) {
        query.segments.pop_back();
    }
    return query.isSingular() ? follow(tree, text, query, 0) : -1;
}

} // namespace

void Answer::take(std::string_view body, const std::string& charset, const Reading* reading,
                  const std::vector<FieldChoice>& choices) {
    isPart = body.size() > kShownBytes || bytes > static_cast<std::int64_t>(body.size());
    text = std::string(body.substr(0, kShownBytes));
    if (!charset.empty() && !isUtf8(charset) && isCharset(charset)) {
        std::istringstream in(text);
        const auto decoded = transcoded(in, charset);
        text.assign(std::istreambuf_iterator<char>(*decoded), {});
    }
    const SourceForm form = reading != nullptr ? reading->used.form : SourceForm::Guess;
    const std::size_t first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    const bool json = form == SourceForm::Json || (form == SourceForm::Guess && first != std::string::npos &&
                                                   (text[first] == '{' || text[first] == '['));
    treeIsRecords = !json && form != SourceForm::Guess;
    treeText.clear();
    if (json) {
        treeText = text;
    } else if (treeIsRecords) {
        for (std::int64_t i = 0; i < std::min(reading->records.size(), kShownRecords); ++i) {
            treeText += (i > 0 ? ",\n" : "[") + recordJson(reading->records, i);
        }
        treeText += treeText.empty() ? "" : "]";
    }
    tree = treeText.empty() ? JsonOutline() : JsonOutline::of(treeText, {.nodes = 60'000, .depth = 200});
    items = -1;
    fields.clear();
    if (reading == nullptr || tree.nodes.empty()) {
        return;
    }
    items = treeIsRecords ? 0 : itemsNode(tree, treeText, reading->used.items);
    const auto& nodes = tree.nodes;
    for (const Field& field : reading->records.fields()) {
        const auto choice = std::ranges::find(choices, field.name, &FieldChoice::name);
        std::int32_t found = -1;
        const std::int32_t end = items < 0 ? 0 : nodes[static_cast<std::size_t>(items)].subtreeEnd;
        int looked = 0;
        for (std::int32_t item = items + 1; item < end && found < 0 && looked < 50;
             item = nodes[static_cast<std::size_t>(item)].subtreeEnd, ++looked) {
            if (choice == choices.end() || choice->path.empty() || treeIsRecords) {
                found = field.name == "value" &&
                                nodes[static_cast<std::size_t>(item)].type != JsonOutline::Type::Object
                            ? item
                            : childNamed(tree, treeText, item, field.name);
            } else if (choice->path[0] == '/') {
                found = follow(tree, treeText, choice->path, item);
            } else if (const auto path = JsonPath::parse(choice->path); path && path->isSingular()) {
                found = follow(tree, treeText, path->query(), item);
            }
        }
        fields.push_back(found);
    }
}

std::vector<std::string> Answer::itemPaths() const {
    constexpr std::size_t kMostNodes = 5000;
    constexpr std::size_t kMostPaths = 12;
    std::vector<std::string> paths;
    if (treeIsRecords) {
        return paths;
    }
    const auto& nodes = tree.nodes;
    for (std::size_t i = 0; i < nodes.size() && i < kMostNodes && paths.size() < kMostPaths; ++i) {
        const bool inArray = nodes[i].parent >= 0 && nodes[static_cast<std::size_t>(nodes[i].parent)].type ==
                                                         JsonOutline::Type::Array;
        if (nodes[i].type == JsonOutline::Type::Array && !inArray && nodes[i].depth < 6 &&
            nodes[i].children > 0) {
            const std::string path = tree.pathOf(i, treeText) + "[*]";
            if (path.find('[') == path.rfind("[*]") || path.find("][0]") == std::string::npos) {
                paths.push_back(path);
            }
        }
        if (nodes[i].depth > 0 && nodes[i].type == JsonOutline::Type::Array) {
            i = static_cast<std::size_t>(nodes[i].subtreeEnd) -
                1; // arrays inside items are none of the whole
        }
    }
    return paths;
}

} // namespace scorrere::workbench
