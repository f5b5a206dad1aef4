// SPDX-License-Identifier: Apache-2.0
#include "render/stream_patch.h"

#include "engine/base/nesting.h"
#include "engine/record/record_json.h"
#include "render/page_reading.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace scorrere::render {

namespace {

using Json = nlohmann::ordered_json;

Error wrong(ErrorCode code, std::string message) {
    return {
        code,
        std::move(message),
        "The stream must carry JSON Patch (RFC 6902) for records by their key; see \"live\" in the source.",
        {}};
}

/// The first step of a pointer below `records`, unescaped, and what is left of it; nothing when it is not
/// below.
std::optional<std::pair<std::string, std::string>> belowRecords(const std::string& pointer,
                                                                const std::string& records) {
    if (!pointer.starts_with(records + "/")) {
        return std::nullopt;
    }
    const std::size_t start = records.size() + 1;
    const std::size_t end = std::min(pointer.find('/', start), pointer.size());
    std::string key;
    for (std::size_t i = start; i < end; ++i) { // RFC 6901, section 4
        const bool escaped = pointer[i] == '~' && i + 1 < end;
        key += !escaped ? pointer[i] : pointer[++i] == '1' ? '/' : '~';
    }
    return std::pair(key, pointer.substr(end));
}

/// Each "copy" may double what is there: some twenty steps make a record of any size.
bool growsBeyondMeasure(const Json& record, const Json& steps) {
    constexpr std::size_t kMost = std::size_t{16} << 20;
    std::size_t size = record.dump().size() + steps.dump().size();
    for (const Json& step : steps) {
        size *= step.value("op", std::string()) == "copy" ? 2 : 1;
        if (size > kMost) {
            return true;
        }
    }
    return false;
}

/// Decodes records from JSON objects, in the fields of the collection.
std::vector<PageRecord> decoded(const std::string& array, const SourceSpec& source, bool isRaw,
                                const std::vector<Field>& fields) {
    ReadOptions options;
    options.form = SourceForm::Json;
    options.items = "$[*]";
    options.fields = source.reading.fields;
    for (FieldChoice& choice : options.fields) {
        choice.path = isRaw ? choice.path : std::string(); // what we wrote ourselves has its fields by name
    }
    auto reading = readRecordsText(array, "a live change", options, "UTF-8");
    return reading ? keyedRecords(conformed(reading->records, fields), source.key, 0)
                   : std::vector<PageRecord>();
}

} // namespace

Result<std::vector<StreamChange>> streamChanges(const std::string& patch, const std::string& records) {
    if (tooDeepAt(patch) != std::string::npos) {
        return wrong(ErrorCode::TooLarge, fmt::format("an event nests more than {} deep", kMaxNesting));
    }
    const Json parsed = Json::parse(patch, nullptr, false);
    if (!parsed.is_array()) {
        return wrong(ErrorCode::Syntax, "an event carries no JSON Patch");
    }
    std::vector<StreamChange> changes;
    for (const Json& step : parsed) {
        const auto text = [&step](const char* name) {
            return step.is_object() && step.contains(name) && step[name].is_string()
                       ? step[name].get<std::string>()
                       : std::string();
        };
        const std::string op = text("op");
        const auto at = belowRecords(text("path"), records);
        if (op.empty() || !at) {
            return wrong(ErrorCode::Invalid,
                         fmt::format("a step of a patch is for \"{}\", which is no record", text("path")));
        }
        const auto& [key, rest] = *at;
        if (rest.empty() && (op == "add" || op == "replace") && step.contains("value")) {
            changes.push_back({StreamChange::Kind::Put, key, step["value"].dump(), {}});
            continue;
        }
        if (rest.empty() && op == "remove") {
            changes.push_back({StreamChange::Kind::Remove, key, {}, {}});
            continue;
        }
        Json own = step;
        own["path"] = rest;
        if (step.contains("from")) {
            const auto from = belowRecords(text("from"), records);
            if (!from || from->first != key) {
                return wrong(ErrorCode::Invalid,
                             "a step of a patch moves something from one record to another");
            }
            own["from"] = from->second;
        }
        if (!changes.empty() && changes.back().key == key &&
            changes.back().kind == StreamChange::Kind::Patch) {
            std::string& json = changes.back().json;
            json.back() = ',';
            json += own.dump() + "]";
        } else {
            changes.push_back({StreamChange::Kind::Patch, key, "[" + own.dump() + "]", {}});
        }
    }
    return changes;
}

std::vector<StreamResult> madeStreamed(const std::vector<StreamChange>& changes, const SourceSpec& source,
                                       const std::vector<Field>& fields, int& refused) {
    std::vector<StreamResult> made;
    std::string whole = "[";
    std::string patched = "[";
    std::vector<std::size_t> wholeOf;
    std::vector<std::size_t> patchedOf;
    // Later changes in one batch build on what earlier ones made.
    std::map<std::string, Json> latest;
    for (const StreamChange& change : changes) {
        if (change.kind == StreamChange::Kind::Remove) {
            latest.erase(change.key);
            made.push_back({true, false, change.key, {}});
        } else if (change.kind == StreamChange::Kind::Put) {
            const Json value = Json::parse(change.json, nullptr, false);
            if (!value.is_object()) {
                ++refused;
                continue;
            }
            latest[change.key] = value;
            whole += (whole.size() > 1 ? "," : "") + change.json;
            wholeOf.push_back(made.size());
            made.push_back({false, true, change.key, {}});
        } else {
            auto before = latest.find(change.key);
            if (before == latest.end() && change.base.table == nullptr) {
                continue; // not here: it comes as it is then when its page is asked for
            }
            Json record = before != latest.end()
                              ? before->second
                              : Json::parse(recordJson(*change.base.table, change.base.row), nullptr, false);
            try {
                const Json steps = Json::parse(change.json);
                if (growsBeyondMeasure(record, steps)) {
                    ++refused;
                    continue;
                }
                record = record.patch(steps);
            } catch (const Json::exception&) {
                ++refused;
                continue;
            }
            latest[change.key] = record;
            patched += (patched.size() > 1 ? "," : "") + record.dump();
            patchedOf.push_back(made.size());
            made.push_back({false, false, change.key, {}});
        }
    }
    const auto fillIn = [&](const std::string& array, const std::vector<std::size_t>& of, bool isRaw) {
        auto records = decoded(array + "]", source, isRaw, fields);
        for (std::size_t i = 0; i < of.size() && i < records.size(); ++i) {
            made[of[i]].record = std::move(records[i]);
        }
    };
    if (!wholeOf.empty()) {
        fillIn(whole, wholeOf, true);
    }
    if (!patchedOf.empty()) {
        fillIn(patched, patchedOf, false);
    }
    const auto before = made.size();
    std::erase_if(
        made, [](const StreamResult& result) { return !result.isRemoval && result.record.table == nullptr; });
    refused += static_cast<int>(before - made.size());
    return made;
}

} // namespace scorrere::render
