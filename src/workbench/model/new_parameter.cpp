// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/new_parameter.h"

#include "workbench/model/starting_points.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace scorrere::workbench {

namespace {

constexpr std::string_view kNamed = "$.parameters.";

bool isNameByte(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_' ||
           static_cast<unsigned char>(c) >= 0x80;
}

/// Every text of a design, to be read or changed.
void forEachText(DesignDraft::Json& json, const std::function<void(std::string&)>& visit) {
    if (json.is_string()) {
        visit(json.get_ref<std::string&>());
    } else if (json.is_structured()) {
        for (DesignDraft::Json& inner : json) {
            forEachText(inner, visit);
        }
    }
}

/// The name behind `$.parameters.` at `at`.
std::string nameAt(const std::string& text, std::size_t at) {
    const std::size_t from = at + kNamed.size();
    std::size_t until = from;
    while (until < text.size() && isNameByte(text[until])) {
        ++until;
    }
    return text.substr(from, until - from);
}

/// The field that a rule compares with the parameter: the nearest `@.NAME` before it, else behind it.
std::string fieldBeside(const std::string& rule, const std::string& name) {
    const std::size_t at = rule.find(std::string(kNamed) + name);
    std::size_t field = rule.rfind("@.", at);
    field = field == std::string::npos ? rule.find("@.", at) : field;
    if (field == std::string::npos) {
        return {};
    }
    std::size_t until = field + 2;
    while (until < rule.size() && isNameByte(rule[until])) {
        ++until;
    }
    return rule.substr(field + 2, until - field - 2);
}

/// A step of 1, 2 or 5 times a power of ten that divides a range into about a hundred.
double stepFor(double range) {
    const double rough = std::max(range / 100, 1e-9);
    const double power = std::pow(10, std::floor(std::log10(rough)));
    const double part = rough / power;
    return (part < 1.5 ? 1 : part < 3.5 ? 2 : part < 7.5 ? 5 : 10) * power;
}

DesignDraft::Json numberParameter(const RecordTable& records, FieldHandle field) {
    const bool whole = records.field(field).type == FieldType::Integer;
    double least = 0;
    double most = 0;
    bool isAny = false;
    for (std::int64_t r = 0; r < std::min<std::int64_t>(records.size(), 2000); ++r) {
        if (records.has(r, field)) {
            const double number =
                whole ? static_cast<double>(records.integer(r, field)) : records.real(r, field);
            least = isAny ? std::min(least, number) : number;
            most = isAny ? std::max(most, number) : number;
            isAny = true;
        }
    }
    if (!isAny || least == most) {
        most = least + 100;
    }
    const double step = whole ? std::max(1.0, std::round(stepFor(most - least))) : stepFor(most - least);
    const double middle = least + std::round((most - least) / 2 / step) * step;
    return {{"value", middle}, {"from", least}, {"to", most}, {"step", step}};
}

} // namespace

std::string missingParameter(const DesignDraft& draft) {
    DesignDraft::Json items = draft.json();
    const DesignDraft::Json parameters = draft.member({}, "parameters");
    std::string missing;
    forEachText(items, [&](std::string& text) {
        for (std::size_t at = text.find(kNamed); at != std::string::npos && missing.empty();
             at = text.find(kNamed, at + 1)) {
            const std::string name = nameAt(text, at);
            const bool isThere = parameters.is_object() && parameters.contains(name);
            missing = name.empty() || isThere ? missing : name;
        }
    });
    return missing;
}

DesignDraft::Json newParameter(const DesignDraft& draft, const std::string& name,
                               const RecordTable& records) {
    DesignDraft::Json items = draft.json();
    std::string field;
    forEachText(items, [&](std::string& text) {
        if (field.empty() && text.find(std::string(kNamed) + name) != std::string::npos) {
            field = fieldBeside(text, name);
        }
    });
    const auto handle = field.empty() ? std::nullopt : records.find(field);
    if (handle && records.field(*handle).type == FieldType::Text) {
        for (std::int64_t r = 0; r < std::min<std::int64_t>(records.size(), 2000); ++r) {
            if (records.has(r, *handle)) {
                return {{"value", std::string(records.text(r, *handle))}};
            }
        }
    }
    const bool isNumber = handle && (records.field(*handle).type == FieldType::Integer ||
                                     records.field(*handle).type == FieldType::Real);
    return isNumber ? numberParameter(records, *handle)
                    : DesignDraft::Json{{"value", 50}, {"from", 0}, {"to", 100}, {"step", 1}};
}

bool renameParameter(DesignDraft& draft, const std::string& from, const std::string& to) {
    const DesignDraft::Json parameters = draft.member({}, "parameters");
    if (!parameters.is_object() || !parameters.contains(from) || parameters.contains(to) ||
        !isPatternName(to)) {
        return false;
    }
    DesignDraft::Json whole = draft.json();
    DesignDraft::Json renamed = DesignDraft::Json::object();
    for (const auto& [name, value] : parameters.items()) {
        renamed[name == from ? to : name] = value;
    }
    forEachText(whole, [&](std::string& text) {
        for (std::size_t at = text.find(kNamed); at != std::string::npos; at = text.find(kNamed, at + 1)) {
            if (nameAt(text, at) == from) {
                text.replace(at + kNamed.size(), from.size(), to);
            }
        }
    });
    whole["parameters"] = renamed;
    draft = DesignDraft(whole.dump());
    return true;
}

void setParameter(DesignDraft& draft, const Parameter& to) {
    DesignDraft::Json parameters = draft.member({}, "parameters");
    DesignDraft::Json json = parameters[to.name].is_object()
                                 ? parameters[to.name]
                                 : DesignDraft::Json{{"value", parameters[to.name]}};
    if (to.type == ParameterType::Number) {
        json["from"] = to.from;
        json["to"] = to.to;
        json["step"] = to.step;
        json["value"] = std::clamp(to.number, std::min(to.from, to.to), std::max(to.from, to.to));
    }
    const auto put = [&json](const char* member, const std::string& text) {
        if (text.empty()) {
            json.erase(member);
        } else {
            json[member] = text;
        }
    };
    put("unit", to.unit);
    put("title", to.title);
    parameters[to.name] = json;
    (void)draft.set({}, "parameters", parameters);
}

} // namespace scorrere::workbench
