// SPDX-License-Identifier: Apache-2.0
#include "engine/document/send_spec.h"

#include "engine/record/uri_template.h"

#include <map>
#include <nlohmann/json.hpp>

namespace scorrere {

namespace {

using SentJson = nlohmann::ordered_json;
using SentValues = std::map<std::string, SentJson>;

Error notSaid() {
    return {ErrorCode::Invalid,
            "the collection does not say how its service is told of such an edit",
            "Say it under Edits, or as \"send\" in the collection file.",
            {}};
}

std::string asText(const SentJson& value) {
    return value.is_string() ? value.get<std::string>() : value.is_null() ? std::string() : value.dump();
}

/// Names in braces by their texts; what is no name of anything stays as it is.
std::string filledText(const std::string& text, const SentValues& values) {
    std::string out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = text[at] == '{' ? text.find('}', at) : std::string::npos;
        const auto known =
            end == std::string::npos ? values.end() : values.find(text.substr(at + 1, end - at - 1));
        if (known == values.end()) {
            out += text[at++];
        } else {
            out += asText(known->second);
            at = end + 1;
        }
    }
    return out;
}

SentJson filled(const SentJson& body, const SentValues& values) {
    if (body.is_string()) {
        const auto text = body.get<std::string>();
        const bool isName = text.size() > 2 && text.front() == '{' && text.find('}') == text.size() - 1;
        const auto known = isName ? values.find(text.substr(1, text.size() - 2)) : values.end();
        return known == values.end() ? SentJson(filledText(text, values)) : known->second;
    }
    if (body.is_array()) {
        SentJson all = SentJson::array();
        for (const SentJson& one : body) {
            all.push_back(filled(one, values));
        }
        return all;
    }
    if (body.is_object()) {
        SentJson all = SentJson::object();
        for (const auto& [name, value] : body.items()) {
            all[filledText(name, values)] = filled(value, values);
        }
        return all;
    }
    return body;
}

SentJson parsed(const std::string& json) {
    return SentJson::parse(json, nullptr, false);
}

SentValues valuesOf(const std::string& key, const std::string& record) {
    const SentJson whole = parsed(record);
    SentValues values;
    if (whole.is_object()) {
        for (const auto& [name, value] : whole.items()) {
            values[name] = value;
        }
    }
    values["record"] = whole.is_discarded() ? SentJson(nullptr) : whole;
    values["key"] = key;
    return values;
}

Result<EditRequest> requestWith(const SendRule& rule, const SentValues& values) {
    if (auto fault = faultOfBody(rule.body)) {
        return std::move(*fault);
    }
    auto address = UriTemplate::parse(rule.address);
    if (!address) {
        return std::move(address.error());
    }
    UriVariables variables;
    for (const auto& [name, value] : values) {
        if (!value.is_structured() && !value.is_null()) {
            variables[name] = asText(value);
        }
    }
    EditRequest request{rule.method, address->expand(variables), {}, "application/json"};
    if (!rule.body.empty()) {
        request.body = filled(parsed(rule.body), values).dump();
    }
    return request;
}

} // namespace

const SendRule& SendSpec::of(RecordEdit::Kind kind) const {
    static const SendRule kNone;
    switch (kind) {
    case RecordEdit::Kind::Set:
        return set;
    case RecordEdit::Kind::Insert:
        return insert;
    case RecordEdit::Kind::Remove:
        return remove;
    case RecordEdit::Kind::Move:
        break;
    }
    return kNone;
}

std::optional<Error> faultOfBody(const std::string& body) {
    if (body.empty() || !parsed(body).is_discarded()) {
        return std::nullopt;
    }
    return Error{ErrorCode::Syntax,
                 "the body is no JSON",
                 R"(Write JSON with names in braces where values go, as in {"{field}": "{value}"}.)",
                 {}};
}

Result<EditRequest> requestOf(const SendSpec& spec, const RecordEdit& edit, const std::string& key,
                              const std::string& record) {
    const SendRule& rule = spec.of(edit.kind);
    if (!rule.isGiven()) {
        return notSaid();
    }
    SentValues values = valuesOf(key, record);
    if (edit.kind == RecordEdit::Kind::Set) {
        values["field"] = edit.field;
        values["value"] = edit.value.empty() ? SentJson(nullptr) : parsed(edit.value);
    }
    auto request = requestWith(rule, values);
    if (request && rule.body.empty()) {
        if (edit.kind == RecordEdit::Kind::Set) {
            request->body = SentJson{{edit.field, values["value"]}}.dump();
            request->contentType = "application/merge-patch+json";
        } else if (edit.kind == RecordEdit::Kind::Insert) {
            request->body = values["record"].dump();
        }
    }
    return request;
}

Result<EditRequest> requestOf(const SendRule& rule, const std::string& key, const std::string& record) {
    return requestWith(rule, valuesOf(key, record));
}

} // namespace scorrere
