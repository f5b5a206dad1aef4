// SPDX-License-Identifier: Apache-2.0
#include "engine/document/edits_json.h"

#include "engine/record/uri_template.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <iterator>

namespace scorrere {

namespace {

constexpr std::size_t kMostEdits = 10'000;

struct EditName {
    const char* name;
    RecordEdit::Kind kind;
};
constexpr std::array<EditName, 4> kEditNames{{{"set", RecordEdit::Kind::Set},
                                              {"insert", RecordEdit::Kind::Insert},
                                              {"remove", RecordEdit::Kind::Remove},
                                              {"move", RecordEdit::Kind::Move}}};

struct SendName {
    const char* name;
    SendRule SendSpec::*rule;
};
constexpr std::array<SendName, 3> kSendNames{
    {{"set", &SendSpec::set}, {"insert", &SendSpec::insert}, {"remove", &SendSpec::remove}}};

} // namespace

RecordEdit readEdit(Members& m) {
    RecordEdit edit;
    const auto* name = std::ranges::find_if(kEditNames, [&](const EditName& one) { return m.has(one.name); });
    if (name == kEditNames.end()) {
        m.fail(
            "set", "it is not said what is edited",
            R"(Write one of "set", "insert", "remove" and "move", as in {"set": "42", "field": "count", "value": 7}.)");
        return edit;
    }
    edit.kind = name->kind;
    if (edit.kind == RecordEdit::Kind::Insert) {
        const Json* record = m.member("insert");
        if (!record->is_object()) {
            m.fail("insert", "\"insert\" is not a record", "Write the record as a JSON object.");
        }
        edit.value = record->dump();
    } else {
        edit.key = m.text(name->name);
        if (edit.key.empty()) {
            m.fail(name->name, "it is not said of which record", "Name it by its key.");
        }
    }
    if (edit.kind == RecordEdit::Kind::Set) {
        edit.field = m.text("field");
        if (edit.field.empty()) {
            m.fail("field", "it is not said which field is set", "Name it, as in \"field\": \"count\".");
        }
        const Json* value = m.member("value");
        edit.value = value != nullptr ? value->dump() : std::string();
    } else if (edit.kind != RecordEdit::Kind::Remove) {
        edit.before = m.text("before");
    }
    return edit;
}

RecordEdits readEdits(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown) {
    RecordEdits edits;
    const Json* json = top.member("edits");
    if (json == nullptr) {
        return edits;
    }
    if (!json->is_array()) {
        top.fail("edits", "\"edits\" is not a list", "Write one entry for each edit, the first one first.");
        return edits;
    }
    if (json->size() > kMostEdits) {
        top.fail("edits", fmt::format("there are {} edits", json->size()),
                 fmt::format("At most {} are taken; write them into the source instead.", kMostEdits),
                 ErrorCode::TooLarge);
        return edits;
    }
    for (std::size_t i = 0; i < json->size(); ++i) {
        Members one((*json)[i], fmt::format("/edits/{}", i), error);
        edits.push_back(std::make_shared<const RecordEdit>(readEdit(one)));
        std::ranges::move(one.unknown(), std::back_inserter(unknown));
    }
    return edits;
}

void writeEdits(Json& json, const RecordEdits& edits) {
    if (edits.empty()) {
        json.erase("edits");
        return;
    }
    Json all = Json::array();
    for (const auto& edit : edits) {
        Json& one = all.emplace_back(Json::object());
        const auto value = [&] { return Json::parse(edit->value, nullptr, false); };
        const auto* name = std::ranges::find(kEditNames, edit->kind, &EditName::kind);
        one[name->name] = edit->kind == RecordEdit::Kind::Insert ? value() : Json(edit->key);
        if (edit->kind == RecordEdit::Kind::Set) {
            one["field"] = edit->field;
            if (!edit->value.empty()) {
                one["value"] = value();
            }
        } else if (!edit->before.empty()) {
            one["before"] = edit->before;
        }
    }
    json["edits"] = std::move(all);
}

SendSpec readSend(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown) {
    SendSpec spec;
    const Json* json = top.member("send");
    if (json == nullptr) {
        return spec;
    }
    Members send(*json, "/send", error);
    for (const SendName& name : kSendNames) {
        const Json* rule = send.member(name.name);
        if (rule == nullptr) {
            continue;
        }
        Members m(*rule, fmt::format("/send/{}", name.name), error);
        SendRule& to = spec.*name.rule;
        to.method = m.oneOf<std::string>(
            "method", to.method,
            {{"PATCH", "PATCH"}, {"PUT", "PUT"}, {"POST", "POST"}, {"DELETE", "DELETE"}});
        to.address = m.text("address");
        if (to.address.empty()) {
            m.fail("address", "it is not said where such an edit is sent",
                   R"(Write its address, as in "address": "https://example.org/records/{id}".)");
        } else if (const auto made = UriTemplate::parse(to.address); !made) {
            m.fail("address", made.error().message, made.error().advice, made.error().code);
        }
        if (const Json* body = m.member("body")) {
            to.body = body->dump();
        }
        std::ranges::move(m.unknown(), std::back_inserter(unknown));
    }
    std::ranges::move(send.unknown(), std::back_inserter(unknown));
    return spec;
}

void writeSend(Json& json, const SendSpec& send) {
    const SendSpec usual;
    for (const SendName& name : kSendNames) {
        const SendRule& rule = send.*name.rule;
        if (!rule.isGiven()) {
            if (json.contains("send")) {
                json["send"].erase(name.name);
            }
            continue;
        }
        Json& to = json["send"][name.name];
        if (to.contains("method") || rule.method != (usual.*name.rule).method) {
            to["method"] = rule.method;
        }
        to["address"] = rule.address;
        if (rule.body.empty()) {
            to.erase("body");
        } else {
            to["body"] = Json::parse(rule.body, nullptr, false);
        }
    }
    if (json.contains("send") && json["send"].empty()) {
        json.erase("send");
    }
}

} // namespace scorrere
