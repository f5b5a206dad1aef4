// SPDX-License-Identifier: Apache-2.0
#include "engine/design/values.h"

#include <algorithm>
#include <fmt/format.h>
#include <simdjson.h>

namespace scorrere {

struct EntryList::Reader {
    simdjson::ondemand::parser parser;
    std::string scratch;
    std::string object; ///< the entry a member is looked up in; apart from scratch, which its text may need
};

EntryList::EntryList() : reader_(std::make_unique<Reader>()) {}
EntryList::EntryList(EntryList&&) noexcept = default;
EntryList& EntryList::operator=(EntryList&&) noexcept = default;
EntryList::~EntryList() = default;

void EntryList::read(std::string_view json) {
    entries_.clear();
    json_.assign(json);
    json_.append(simdjson::SIMDJSON_PADDING, ' ');
    simdjson::ondemand::document document;
    simdjson::ondemand::array array;
    if (reader_->parser.iterate(json_.data(), json.size(), json_.size()).get(document) != simdjson::SUCCESS ||
        document.get_array().get(array) != simdjson::SUCCESS) {
        return;
    }
    for (auto item : array) {
        simdjson::ondemand::value value;
        std::string_view raw;
        if (item.get(value) != simdjson::SUCCESS) {
            return;
        }
        simdjson::ondemand::json_type type;
        if (value.type().get(type) != simdjson::SUCCESS) {
            return;
        }
        if (type == simdjson::ondemand::json_type::array || type == simdjson::ondemand::json_type::object) {
            if (simdjson::to_json_string(value).get(raw) != simdjson::SUCCESS) {
                return;
            }
        } else {
            raw = value.raw_json_token();
        }
        while (!raw.empty() && static_cast<unsigned char>(raw.back()) <= ' ') {
            raw.remove_suffix(1);
        }
        const auto start = static_cast<std::uint32_t>(raw.data() - json_.data());
        entries_.push_back({start, start + static_cast<std::uint32_t>(raw.size())});
    }
}

namespace {

/// A JSON value as people read it; false for null.
bool inWords(simdjson::ondemand::parser& parser, std::string& padded, std::string_view raw,
             std::string& out) {
    out.clear();
    if (raw.empty() || raw == "null") {
        return false;
    }
    if (raw.front() != '"') {
        out.assign(raw);
        return true;
    }
    if (raw.find('\\') == std::string_view::npos) {
        out.assign(raw.substr(1, raw.size() - 2));
        return true;
    }
    padded.assign(raw);
    padded.append(simdjson::SIMDJSON_PADDING, ' ');
    simdjson::ondemand::document document;
    std::string_view text;
    if (parser.iterate(padded.data(), raw.size(), padded.size()).get(document) != simdjson::SUCCESS ||
        document.get_string().get(text) != simdjson::SUCCESS) {
        return false;
    }
    out.assign(text);
    return true;
}

} // namespace

bool EntryList::text(std::size_t entry, std::string& out) const {
    if (entry >= entries_.size()) {
        out.clear();
        return false;
    }
    const Span span = entries_[entry];
    return inWords(reader_->parser, reader_->scratch,
                   std::string_view(json_).substr(span.start, span.end - span.start), out);
}

bool EntryList::member(std::size_t entry, std::string_view name, std::string& out) const {
    out.clear();
    if (entry >= entries_.size()) {
        return false;
    }
    const Span span = entries_[entry];
    const std::string_view raw = std::string_view(json_).substr(span.start, span.end - span.start);
    if (raw.empty() || raw.front() != '{') {
        return false;
    }
    std::string& padded = reader_->object;
    padded.assign(raw);
    padded.append(simdjson::SIMDJSON_PADDING, ' ');
    simdjson::ondemand::document document;
    simdjson::ondemand::value value;
    if (reader_->parser.iterate(padded.data(), raw.size(), padded.size()).get(document) !=
            simdjson::SUCCESS ||
        document.find_field_unordered(name).get(value) != simdjson::SUCCESS) {
        return false;
    }
    std::string_view found;
    if (simdjson::to_json_string(value).get(found) != simdjson::SUCCESS) {
        return false;
    }
    return inWords(reader_->parser, reader_->scratch, found, out);
}

namespace {

Error unknownName(const std::string& name, const NameScope& scope) {
    std::string known;
    const auto add = [&known](const std::string& one) { known += (known.empty() ? "" : ", ") + one; };
    if (scope.inputs != nullptr) {
        for (const auto& [input, value] : *scope.inputs) {
            add(input + " (of the piece)");
        }
    }
    for (const Field& field : scope.records.fields()) {
        add(field.name);
    }
    Error error{ErrorCode::NotFound,
                fmt::format("there is no field \"{}\" in the records", name),
                fmt::format("The fields are: {}.", known.empty() ? "none" : known),
                {}};
    error.place.field = name;
    return error;
}

} // namespace

namespace {

constexpr std::string_view kEntryMember = "entry_";

} // namespace

Result<ValueRef> NameScope::resolve(const std::string& name) const {
    ValueRef ref;
    if (inRepeat && (name == "entry" || name == "more")) {
        ref.from = name == "entry" ? ValueRef::From::Entry : ValueRef::From::EntryCount;
        ref.type = name == "entry" ? FieldType::Text : FieldType::Integer;
        return ref;
    }
    if (const auto handle = records.find(name)) {
        ref.field = *handle;
        ref.type = records.field(*handle).type;
        return ref;
    }
    if (inRepeat) { // where a record has a field of that name, the entry's is told apart by what it begins with
        ref.from = ValueRef::From::EntryMember;
        ref.type = FieldType::Text;
        ref.member = name.starts_with(kEntryMember) ? name.substr(kEntryMember.size()) : name;
        return ref;
    }
    return unknownName(name, *this);
}

Result<ValueRef> NameScope::resolveState(const std::string& name) const {
    if (!hasState) {
        return Error{ErrorCode::Invalid,
                     "$.state is of an item, and nothing here is one yet",
                     "Ask for it in an item's design: its texts, tones and what hides a part.",
                     {}};
    }
    if (const auto flag = itemFlagNamed(name)) {
        ValueRef ref;
        ref.from = ValueRef::From::State;
        ref.type = FieldType::Boolean;
        ref.flag = *flag;
        return ref;
    }
    std::string known;
    for (const std::string_view one : kItemFlagNames) {
        known += (known.empty() ? "" : ", ") + std::string(one);
    }
    return Error{ErrorCode::NotFound,
                 fmt::format("an item has no state \"{}\"", name),
                 fmt::format("The states are: {}.", known),
                 {}};
}

Result<ValueRef> NameScope::resolveParameter(const std::string& name) const {
    if (parameters != nullptr) {
        const auto found = std::ranges::find(*parameters, name, &Parameter::name);
        if (found != parameters->end()) {
            ValueRef ref;
            ref.from = ValueRef::From::Parameter;
            ref.parameter = static_cast<int>(found - parameters->begin());
            ref.type = found->type == ParameterType::Number ? FieldType::Real
                       : found->type == ParameterType::Text ? FieldType::Text
                                                            : FieldType::Boolean;
            return ref;
        }
    }
    std::string known;
    for (const Parameter& parameter : parameters == nullptr ? Parameters{} : *parameters) {
        known += (known.empty() ? "" : ", ") + parameter.name;
    }
    return Error{ErrorCode::NotFound,
                 fmt::format("there is no parameter \"{}\"", name),
                 known.empty() ? "The collection has no \"parameters\" yet: add it there."
                               : fmt::format("The parameters are: {}.", known),
                 {}};
}

} // namespace scorrere
