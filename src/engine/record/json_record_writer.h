// SPDX-License-Identifier: Apache-2.0
// A JSON value as a record: an implementation header of record/.
#pragma once

#include "engine/record/json_outline.h"
#include "engine/record/json_path_eval.h"
#include "engine/record/reading.h"

#include <fmt/format.h>
#include <memory>
#include <simdjson.h>
#include <utility>

namespace scorrere {

/// Puts one parsed value into the builder as a record.
class JsonRecordWriter {
public:
    explicit JsonRecordWriter(RecordSink& sink) : sink_(sink) {
        for (const FieldChoice& choice : sink.options().fields) {
            if (choice.path.empty() || choice.leftOut) {
                continue;
            }
            Nested nested;
            nested.name = choice.name;
            nested.pointer = choice.path;
            if (choice.path[0] == '$') {
                if (auto path = JsonPath::parse(choice.path)) {
                    nested.path = std::make_shared<const JsonPath>(std::move(*path));
                }
            }
            nested_.push_back(std::move(nested));
        }
    }

    /// The first path among the fields' that is none, if any.
    static std::optional<Error> badPath(const RecordSink& sink) {
        for (const FieldChoice& choice : sink.options().fields) {
            if (choice.path.empty() || choice.path[0] == '/') {
                continue;
            }
            auto path = JsonPath::parse(choice.path);
            if (!path) {
                path.error().place.field = choice.name;
                return path.error();
            }
        }
        return std::nullopt;
    }

    void write(const simdjson::dom::element& value) {
        RecordBuilder& builder = sink_.builder();
        if (!value.is_object()) {
            set(builder.fieldNamed("value"), value);
        } else {
            int expected = 0;
            const simdjson::dom::object object = jsonpath::objectOf(value);
            for (const auto member : object) {
                const int field = builder.fieldNamed(member.key, expected);
                expected = field < 0 ? expected : field + 1;
                set(field, member.value);
            }
        }
        for (const Nested& nested : nested_) {
            writeNested(value, nested);
        }
        sink_.endRecord();
    }

    /// The same from an outline, for what the bulk parser does not take.
    void write(const JsonOutline& outline, std::string_view text) {
        RecordBuilder& builder = sink_.builder();
        const auto raw = [&](const JsonOutline::Node& node) {
            return text.substr(node.start, node.end - node.start);
        };
        if (outline.nodes[0].type != JsonOutline::Type::Object) {
            set(builder.fieldNamed("value"), outline.nodes[0].type, raw(outline.nodes[0]));
        } else {
            for (std::size_t i = 1; i < outline.nodes.size();
                 i = static_cast<std::size_t>(outline.nodes[i].subtreeEnd)) {
                const int field = builder.fieldNamed(JsonOutline::nameOf(outline.nodes[i], text));
                set(field, outline.nodes[i].type, raw(outline.nodes[i]));
            }
        }
        sink_.endRecord();
    }

private:
    struct Nested {
        std::string name;
        std::string pointer;
        std::shared_ptr<const JsonPath> path;
    };

    void writeNested(const simdjson::dom::element& record, const Nested& nested) {
        simdjson::dom::element found;
        if (nested.path) {
            auto nodes = jsonpath::select(nested.path->query(), record, record, false, sink_.stop());
            if (!nodes || nodes->empty()) {
                return;
            }
            found = nodes->front().value;
        } else if (record.at_pointer(nested.pointer).get(found) != simdjson::SUCCESS) {
            return;
        }
        set(sink_.builder().fieldNamed(nested.name), found);
    }

    void set(int field, const simdjson::dom::element& value) {
        RecordBuilder& builder = sink_.builder();
        switch (value.type()) {
        case simdjson::dom::element_type::STRING:
            builder.setText(field, value.get_string().value_unsafe());
            break;
        case simdjson::dom::element_type::INT64:
            builder.setInteger(field, value.get_int64().value_unsafe());
            break;
        case simdjson::dom::element_type::UINT64: // beyond 63 bits: as a text, which keeps every digit
            builder.setText(field, fmt::format("{}", value.get_uint64().value_unsafe()));
            break;
        case simdjson::dom::element_type::DOUBLE:
            builder.setReal(field, value.get_double().value_unsafe());
            break;
        case simdjson::dom::element_type::BOOL:
            builder.setBoolean(field, value.get_bool().value_unsafe());
            break;
        case simdjson::dom::element_type::NULL_VALUE:
            break;
        default:
            json_.clear();
            appendJson(value);
            builder.setJson(field, value.is_array() ? FieldType::List : FieldType::Object, json_);
            break;
        }
    }

    /// The value as JSON without needless spaces. The library does this, too, but into memory of its own.
    void appendJson(const simdjson::dom::element& value) {
        switch (value.type()) {
        case simdjson::dom::element_type::ARRAY: {
            char before = '[';
            const simdjson::dom::array items = jsonpath::arrayOf(value);
            for (const simdjson::dom::element item : items) {
                json_ += std::exchange(before, ',');
                appendJson(item);
            }
            json_ += before == '[' ? "[]" : "]";
            break;
        }
        case simdjson::dom::element_type::OBJECT: {
            char before = '{';
            const simdjson::dom::object members = jsonpath::objectOf(value);
            for (const auto member : members) {
                json_ += std::exchange(before, ',');
                appendText(member.key);
                json_ += ':';
                appendJson(member.value);
            }
            json_ += before == '{' ? "{}" : "}";
            break;
        }
        case simdjson::dom::element_type::STRING:
            appendText(value.get_string().value_unsafe());
            break;
        default:
            json_ += simdjson::minify(value);
            break;
        }
    }
    void appendText(std::string_view text) {
        const auto plain = [](char c) {
            return static_cast<unsigned char>(c) >= 0x20 && c != '"' && c != '\\';
        };
        if (std::ranges::all_of(text, plain)) {
            json_ += '"';
            json_ += text;
            json_ += '"';
        } else {
            json_ += quotedJson(text);
        }
    }

    void set(int field, JsonOutline::Type type, std::string_view raw) {
        RecordBuilder& builder = sink_.builder();
        switch (type) {
        case JsonOutline::Type::String:
            builder.setText(field, unescapedJson(raw));
            break;
        case JsonOutline::Type::Number:
            if (const auto whole = parseInteger(raw)) {
                builder.setInteger(field, *whole);
            } else if (raw.find_first_of(".eE") == std::string_view::npos || !parseReal(raw)) {
                builder.setText(field, raw);
            } else {
                builder.setReal(field, *parseReal(raw));
            }
            break;
        case JsonOutline::Type::Boolean:
            builder.setBoolean(field, raw == "true");
            break;
        case JsonOutline::Type::Null:
            break;
        default:
            builder.setJson(field, type == JsonOutline::Type::Array ? FieldType::List : FieldType::Object,
                            raw);
            break;
        }
    }

    RecordSink& sink_;
    std::vector<Nested> nested_;
    std::string json_;
};

} // namespace scorrere
