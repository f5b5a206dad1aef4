// SPDX-License-Identifier: Apache-2.0
#include "engine/document/json_text.h"

#include <nlohmann/json.hpp>

namespace scorrere {

namespace {

using Json = nlohmann::ordered_json;
constexpr std::size_t kLine = 104;

void appendFlat(std::string& out, const Json& json) {
    const char* between = "";
    if (json.is_object() && !json.empty()) {
        out += "{ ";
        for (const auto& [name, value] : json.items()) {
            out += between;
            out += Json(name).dump();
            out += ": ";
            appendFlat(out, value);
            between = ", ";
        }
        out += " }";
    } else if (json.is_array()) {
        out += "[";
        for (const Json& value : json) {
            out += between;
            appendFlat(out, value);
            between = ", ";
        }
        out += "]";
    } else {
        out += json.dump();
    }
}

void append(std::string& out, const Json& json, std::size_t indent) {
    const std::size_t before = out.size();
    appendFlat(out, json);
    if (!json.is_structured() || json.empty() || out.size() - before + indent <= kLine) {
        return;
    }
    out.resize(before);
    const bool object = json.is_object();
    out += object ? "{" : "[";
    const char* between = "\n";
    for (const auto& [name, value] : json.items()) {
        out += between;
        out.append(indent + 2, ' ');
        if (object) {
            out += Json(name).dump();
            out += ": ";
        }
        append(out, value, indent + 2);
        between = ",\n";
    }
    out += '\n';
    out.append(indent, ' ');
    out += object ? "}" : "]";
}

} // namespace

std::string jsonText(const Json& json) {
    std::string out;
    append(out, json, 0);
    return out;
}

} // namespace scorrere
