// SPDX-License-Identifier: Apache-2.0
#include "engine/document/source_json.h"

#include "engine/design/item_design.h"
#include "engine/record/json_path.h"
#include "engine/record/uri_template.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

namespace {

template <typename T>
using Words = std::vector<std::pair<const char*, T>>;

const Words<SourceForm>& formWords() {
    static const Words<SourceForm> words{{"json", SourceForm::Json},     {"ndjson", SourceForm::Ndjson},
                                         {"csv", SourceForm::Csv},       {"xml", SourceForm::Xml},
                                         {"sqlite", SourceForm::Sqlite}, {"lines", SourceForm::Lines}};
    return words;
}
const Words<PageStyle>& styleWords() {
    static const Words<PageStyle> words{{"none", PageStyle::None},     {"number", PageStyle::Number},
                                        {"offset", PageStyle::Offset}, {"cursor", PageStyle::Cursor},
                                        {"next", PageStyle::Next},     {"link", PageStyle::Link}};
    return words;
}
const Words<FieldType>& typeWords() {
    static const Words<FieldType> words{{"text", FieldType::Text},    {"whole", FieldType::Integer},
                                        {"number", FieldType::Real},  {"yesno", FieldType::Boolean},
                                        {"time", FieldType::Time},    {"list", FieldType::List},
                                        {"object", FieldType::Object}};
    return words;
}
template <typename T>
const char* wordOf(const Words<T>& words, T value) {
    const auto found = std::ranges::find(words, value, &std::pair<const char*, T>::second);
    return found == words.end() ? "" : found->first;
}

class SourceReader {
public:
    SourceReader(const Json& json, std::optional<Error>& error, std::vector<std::string>& unknown)
        : error_(error), unknown_(unknown), source_(json, "/source", error) {}

    void read(SourceSpec& spec) {
        readWhere(spec);
        readCall(spec);
        readPages(spec.pages);
        readStream(spec.stream);
        readOptions(spec.reading);
        if (const Json* key = source_.member("key")) {
            spec.key = texts("key", *key);
        }
        keep(source_);
    }

private:
    void keep(const Members& members) { std::ranges::move(members.unknown(), std::back_inserter(unknown_)); }

    void readWhere(SourceSpec& spec) {
        spec.file = source_.text("file");
        spec.address = source_.text("address");
        spec.list = source_.text("list");
        int given =
            (spec.file.empty() ? 0 : 1) + (spec.address.empty() ? 0 : 1) + (source_.has("list") ? 1 : 0);
        if (const Json* demo = source_.member("demo")) {
            ++given;
            Members made(*demo, "/source/demo", error_);
            spec.isDemo = true;
            spec.demoCount = made.whole("count", 20'000, 0, 20'000'000);
            spec.demoByNight = made.yesNo("byNight", false);
            spec.demoWatches = made.yesNo("watches", false);
            spec.demoCompany = made.yesNo("company", false);
            spec.demoSeed = static_cast<std::uint64_t>(made.whole("seed", 1, 0, 1'000'000'000));
            keep(made);
        }
        if (given != 1 && !error_) {
            source_.fail(
                given == 0 ? "file" : "address",
                given == 0 ? "it does not say where the records come from" : "it names several places",
                "Give one of \"file\" (relative to the collection file), \"address\", \"list\" or \"demo\".",
                given == 0 ? ErrorCode::NotFound : ErrorCode::Invalid);
        }
        if (!spec.address.empty() && !error_) {
            if (auto parsed = UriTemplate::parse(spec.address); !parsed) {
                source_.fail("address", parsed.error().message, parsed.error().advice, ErrorCode::Syntax);
            }
        }
    }

    std::vector<std::pair<std::string, std::string>> pairs(const char* name) {
        std::vector<std::pair<std::string, std::string>> made;
        const Json* json = source_.member(name);
        if (json == nullptr || error_) {
            return made;
        }
        Members members(*json, source_.pointerTo(name), error_);
        for (auto it = json->begin(); json->is_object() && it != json->end(); ++it) {
            if (it->is_string()) {
                made.emplace_back(it.key(), it->get<std::string>());
            } else if (it->is_number() || it->is_boolean()) {
                made.emplace_back(it.key(), it->dump());
            } else {
                members.fail(it.key().c_str(), fmt::format("\"{}\" must be a text", it.key()),
                             "Give a text.");
            }
        }
        return made;
    }

    std::vector<std::string> texts(const char* name, const Json& json) {
        std::vector<std::string> made;
        if (json.is_string()) {
            return {json.get<std::string>()};
        }
        for (const Json& item : json) {
            if (!json.is_array() || !item.is_string()) {
                source_.fail(name, fmt::format("\"{}\" must be a list of texts", name), "As in [\"id\"].");
                break;
            }
            made.push_back(item.get<std::string>());
        }
        return made;
    }

    void readCall(SourceSpec& spec) {
        spec.variables = pairs("variables");
        spec.headers = pairs("headers");
        for (const auto& [name, value] : spec.headers) {
            if (holdsSecret(name)) {
                source_.fail("headers",
                             fmt::format("the header \"{}\" would keep a secret in the file", name),
                             "Name the secret in \"sign\" instead, as in {\"bearer\": \"HOLLOWMERE\"}.");
            }
        }
        spec.timeoutMs = source_.whole("timeoutMs", 15'000, 100, 600'000);
        if (const Json* json = source_.member("sign")) {
            Members sign(*json, "/source/sign", error_);
            if (sign.has("bearer")) {
                spec.sign = {SignSpec::Kind::Bearer, sign.text("bearer"), {}};
            } else if (const Json* basic = sign.member("basic")) {
                Members members(*basic, "/source/sign/basic", error_);
                spec.sign = {SignSpec::Kind::Basic, members.text("password"), members.text("user")};
                keep(members);
            } else if (const Json* header = sign.member("header")) {
                Members members(*header, "/source/sign/header", error_);
                spec.sign = {SignSpec::Kind::Header, members.text("secret"), members.text("name")};
                keep(members);
            } else if (!error_) {
                source_.fail("sign", "it does not say how to sign",
                             "Give {\"bearer\": NAME} or {\"basic\": {\"user\": ..., \"password\": NAME}} "
                             "or {\"header\": {\"name\": ..., \"secret\": NAME}}.");
            }
            keep(sign);
        }
    }

    void readPages(PageSpec& pages) {
        const Json* json = source_.member("pages");
        if (json == nullptr) {
            return;
        }
        Members members(*json, "/source/pages", error_);
        pages.style = members.oneOf<PageStyle>("style", PageStyle::Number, styleWords());
        pages.size = members.whole("size", 20, 1, 100'000);
        pages.from = members.text("from", pages.style == PageStyle::Offset   ? "offset"
                                          : pages.style == PageStyle::Cursor ? "cursor"
                                                                             : "page");
        pages.count = members.text("count", pages.style == PageStyle::Number ? "size" : "limit");
        pages.first = members.whole("first", 1, 0, 1);
        pages.next = members.text("next");
        pages.nextHeader = members.text("nextHeader");
        pages.previous = members.text("previous");
        pages.total = members.text("total");
        for (const char* name : {"next", "previous", "total"}) {
            const std::string text = members.text(name);
            if (!text.empty() && !error_) {
                if (auto path = JsonPath::parse(text); !path) {
                    members.fail(name, path.error().message, path.error().advice, ErrorCode::Syntax);
                }
            }
        }
        keep(members);
    }

    void readStream(StreamSpec& live) {
        const Json* json = source_.member("live");
        if (json == nullptr) {
            return;
        }
        Members members(*json, "/source/live", error_);
        live.address = members.text("address");
        live.records = members.text("records", "");
        if (auto parsed = UriTemplate::parse(live.address); !parsed) {
            members.fail("address", parsed.error().message, parsed.error().advice, ErrorCode::Syntax);
        } else if (live.address.empty()) {
            members.fail("address", "it does not say where changes come from",
                         "Give the stream's \"address\", or leave \"live\" out.", ErrorCode::NotFound);
        } else if (!live.records.empty() && live.records[0] != '/') {
            members.fail("records", "this is no JSON Pointer", "It starts with /, as in /sightings.");
        }
        keep(members);
    }

    void readOptions(ReadOptions& reading) {
        reading.form = source_.oneOf<SourceForm>("form", SourceForm::Guess, formWords());
        reading.items = source_.text("items");
        if (reading.items.starts_with('$') && !error_) {
            if (auto path = JsonPath::parse(reading.items); !path) {
                source_.fail("items", path.error().message, path.error().advice, ErrorCode::Syntax);
            }
        }
        reading.table = source_.text("table");
        reading.query = source_.text("query");
        reading.charset = source_.text("charset");
        reading.undoDoubleDecoding = source_.yesNo("undoDoubleDecoding", false);
        if (const Json* json = source_.member("csv")) {
            Members csv(*json, "/source/csv", error_);
            const std::string delimiter = csv.text("delimiter");
            if (delimiter.size() > 1) {
                csv.fail("delimiter", "a delimiter is one character", "As in \";\" or \"\\t\".");
            }
            reading.delimiter = delimiter.empty() ? '\0' : delimiter[0];
            if (csv.has("header")) {
                reading.header = csv.yesNo("header", true);
            }
            keep(csv);
        }
        if (const Json* json = source_.member("fields")) {
            Members fields(*json, "/source/fields", error_);
            for (auto it = json->begin(); json->is_object() && it != json->end() && !error_; ++it) {
                Members members(*it, "/source/fields/" + it.key(), error_);
                FieldChoice choice;
                choice.name = it.key();
                choice.path = members.text("path");
                choice.type = members.oneOf<FieldType>("type", FieldType::Unknown, typeWords());
                choice.locale = members.text("locale");
                if (!choice.locale.empty() && !isLocale(choice.locale)) {
                    members.fail("locale",
                                 fmt::format("\"{}\" names no language that is known", choice.locale),
                                 "Write one as BCP 47 has it, as in \"de\" or \"pt-BR\".");
                } else if (!choice.locale.empty() && choice.type != FieldType::Integer &&
                           choice.type != FieldType::Real && choice.type != FieldType::Time) {
                    members.fail("locale", "only numbers and times are written in a language's way",
                                 "Give the field a type: \"whole\", \"number\" or \"time\".");
                }
                choice.title = members.text("title");
                choice.leftOut = members.yesNo("leftOut", false);
                keep(members);
                reading.fields.push_back(std::move(choice));
            }
        }
    }

    std::optional<Error>& error_;
    std::vector<std::string>& unknown_;
    Members source_;
};

void put(Json& json, const char* name, const Json& value, bool isDefault) {
    if (isDefault) {
        json.erase(name);
    } else {
        json[name] = value;
    }
}

Json pairsJson(const std::vector<std::pair<std::string, std::string>>& pairs) {
    Json json = Json::object();
    for (const auto& [name, value] : pairs) {
        json[name] = value;
    }
    return json;
}

void writeFields(Json& json, const std::vector<FieldChoice>& choices) {
    if (choices.empty()) {
        json.erase("fields");
        return;
    }
    Json fields = Json::object();
    const Json before = json.contains("fields") ? json["fields"] : Json::object();
    for (const FieldChoice& choice : choices) {
        Json field = before.contains(choice.name) ? before[choice.name] : Json::object();
        put(field, "path", choice.path, choice.path.empty());
        put(field, "type", wordOf(typeWords(), choice.type), choice.type == FieldType::Unknown);
        put(field, "locale", choice.locale, choice.locale.empty());
        put(field, "title", choice.title, choice.title.empty());
        put(field, "leftOut", choice.leftOut, !choice.leftOut);
        fields[choice.name] = std::move(field);
    }
    json["fields"] = std::move(fields);
}

void writePages(Json& json, const PageSpec& pages) {
    if (pages.style == PageStyle::None) {
        json.erase("pages");
        return;
    }
    Json& known = json["pages"];
    known["style"] = wordOf(styleWords(), pages.style);
    known["size"] = pages.size;
    const bool calls = pages.style != PageStyle::Next && pages.style != PageStyle::Link;
    put(known, "from", pages.from, !calls);
    known["count"] = pages.count;
    put(known, "first", pages.first, pages.style != PageStyle::Number || pages.first == 1);
    put(known, "next", pages.next, pages.next.empty());
    put(known, "nextHeader", pages.nextHeader, pages.nextHeader.empty());
    put(known, "previous", pages.previous, pages.previous.empty());
    put(known, "total", pages.total, pages.total.empty());
}

} // namespace

bool holdsSecret(std::string name) {
    std::ranges::transform(name, name.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    return name == "authorization" || name == "proxy-authorization" || name == "cookie" ||
           name == "x-api-key";
}

void readSource(Members& top, CollectionDocument& document, std::optional<Error>& error,
                std::vector<std::string>& unknown) {
    const Json* json = top.member("source");
    if (json == nullptr) {
        top.fail("source", "\"source\" is missing",
                 "Say where the records come from: {\"file\": \"records.ndjson\"}.", ErrorCode::NotFound);
        return;
    }
    SourceReader(*json, error, unknown).read(document.source);
}

void writeSource(Json& json, const SourceSpec& source) {
    if (!json.is_object()) {
        json = Json::object();
    }
    put(json, "file", source.file, source.file.empty());
    put(json, "address", source.address, source.address.empty());
    const bool isList = !source.isDemo && source.file.empty() && source.address.empty();
    put(json, "list", source.list, !isList);
    if (source.isDemo) {
        json["demo"]["count"] = source.demoCount;
        json["demo"]["seed"] = source.demoSeed;
        put(json["demo"], "byNight", true, !source.demoByNight);
        put(json["demo"], "watches", true, !source.demoWatches);
        put(json["demo"], "company", true, !source.demoCompany);
    } else {
        json.erase("demo");
    }
    put(json, "variables", pairsJson(source.variables), source.variables.empty());
    put(json, "headers", pairsJson(source.headers), source.headers.empty());
    put(json, "timeoutMs", source.timeoutMs, source.timeoutMs == 15'000);
    if (source.sign.kind == SignSpec::Kind::None) {
        json.erase("sign");
    } else if (source.sign.kind == SignSpec::Kind::Bearer) {
        json["sign"] = Json{{"bearer", source.sign.secret}};
    } else if (source.sign.kind == SignSpec::Kind::Header) {
        json["sign"] = Json{{"header", {{"name", source.sign.user}, {"secret", source.sign.secret}}}};
    } else {
        json["sign"] = Json{{"basic", {{"user", source.sign.user}, {"password", source.sign.secret}}}};
    }
    writePages(json, source.pages);
    if (source.stream.address.empty()) {
        json.erase("live");
    } else {
        json["live"]["address"] = source.stream.address;
        put(json["live"], "records", source.stream.records, source.stream.records.empty());
    }
    const ReadOptions& reading = source.reading;
    put(json, "form", wordOf(formWords(), reading.form), reading.form == SourceForm::Guess);
    put(json, "items", reading.items, reading.items.empty());
    put(json, "table", reading.table, reading.table.empty());
    put(json, "query", reading.query, reading.query.empty());
    put(json, "charset", reading.charset, reading.charset.empty());
    put(json, "undoDoubleDecoding", true, !reading.undoDoubleDecoding);
    if (reading.delimiter != 0 || reading.header) {
        put(json["csv"], "delimiter", std::string(1, reading.delimiter), reading.delimiter == 0);
        put(json["csv"], "header", reading.header.value_or(true), !reading.header);
    } else {
        json.erase("csv");
    }
    writeFields(json, reading.fields);
    put(json, "key", source.key, source.key.empty());
}

} // namespace scorrere
