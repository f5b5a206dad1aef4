// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_json.h"

#include "engine/record/json_outline.h"
#include "engine/record/record_builder.h"

#include <algorithm>

namespace scorrere {

std::string recordJson(const RecordTable& records, std::int64_t record) {
    std::string out = "{";
    for (std::size_t i = 0; i < records.fields().size(); ++i) {
        const FieldHandle field{static_cast<int>(i)};
        if (!records.has(record, field)) {
            continue;
        }
        const FieldType type = records.fields()[i].type;
        const bool quoted = type == FieldType::Text || type == FieldType::Time;
        const std::string value = records.display(record, field);
        out += (out.size() > 1 ? ", " : "") + quotedJson(records.fields()[i].name) + ": " +
               (quoted ? quotedJson(value) : value);
    }
    return out + "}";
}

bool conforms(const RecordTable& records, const std::vector<Field>& fields) {
    return records.fields().size() >= fields.size() &&
           std::equal(fields.begin(), fields.end(), records.fields().begin(),
                      [](const Field& a, const Field& b) { return a.name == b.name && a.type == b.type; });
}

namespace {

/// Gives a value on in its own type; the builder widens the field where it must.
void copyValue(RecordBuilder& builder, int to, const RecordTable& records, std::int64_t record,
               FieldHandle from, FieldType wanted) {
    const FieldType has = records.field(from).type;
    if (wanted == FieldType::Text && has != FieldType::Text) {
        return builder.setText(to, records.display(record, from));
    }
    switch (has) {
    case FieldType::Boolean:
        return builder.setBoolean(to, records.boolean(record, from));
    case FieldType::Integer:
        return wanted == FieldType::Real ? builder.setReal(to, records.real(record, from))
                                         : builder.setInteger(to, records.integer(record, from));
    case FieldType::Real:
        return builder.setReal(to, records.real(record, from));
    case FieldType::Time:
    case FieldType::Text:
        return builder.setText(to, records.text(record, from));
    case FieldType::List:
    case FieldType::Object:
        return builder.setJson(to, has, records.text(record, from));
    case FieldType::Unknown:
        break;
    }
}

} // namespace

RecordTable conformed(const RecordTable& records, const std::vector<Field>& fields) {
    if (conforms(records, fields)) {
        return records;
    }
    // A chosen type keeps the field at it; what is wider here is chosen wider.
    std::vector<FieldChoice> choices;
    std::vector<std::pair<FieldHandle, FieldType>> from;
    const auto add = [&](const std::string& name, FieldType type) {
        const auto handle = records.find(name);
        const FieldType wide = handle ? widened(type, records.field(*handle).type) : type;
        FieldChoice choice;
        choice.name = name;
        choice.type = wide;
        choices.push_back(std::move(choice));
        from.emplace_back(handle.value_or(FieldHandle{}), wide);
    };
    for (const Field& field : fields) {
        add(field.name, field.type);
    }
    for (const Field& field : records.fields()) {
        if (std::ranges::none_of(fields, [&](const Field& known) { return known.name == field.name; })) {
            add(field.name, field.type);
        }
    }
    RecordBuilder builder(choices);
    std::vector<int> to;
    for (const FieldChoice& choice : choices) {
        to.push_back(builder.fieldNamed(choice.name, static_cast<int>(to.size())));
    }
    for (std::int64_t record = 0; record < records.size(); ++record) {
        for (std::size_t i = 0; i < to.size(); ++i) {
            if (from[i].first.index >= 0 && records.has(record, from[i].first)) {
                copyValue(builder, to[i], records, record, from[i].first, from[i].second);
            }
        }
        builder.endRecord();
    }
    return builder.finish();
}

std::uint64_t contentHash(const RecordTable& records, std::int64_t record) {
    std::uint64_t hash = 14695981039346656037ull; // FNV-1a
    const auto mix = [&hash](std::string_view bytes) {
        for (const char c : bytes) {
            hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ull;
        }
        hash = (hash ^ 0xff) * 1099511628211ull;
    };
    for (std::size_t i = 0; i < records.fields().size(); ++i) {
        const FieldHandle field{static_cast<int>(i)};
        if (records.has(record, field)) {
            mix(records.fields()[i].name);
            mix(records.display(record, field));
        }
    }
    return hash;
}

} // namespace scorrere
