// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_json.h"

#include "engine/base/fnv.h"
#include "engine/record/json_outline.h"
#include "engine/record/record_builder.h"

#include <algorithm>
#include <map>

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

namespace {

/// How the fields of several tables become those of one.
class Merge {
public:
    explicit Merge(const std::vector<Field>& fields) {
        for (const Field& field : fields) {
            add(field);
        }
    }
    void add(const Field& field) {
        const auto known = std::ranges::find(choices_, field.name, &FieldChoice::name);
        if (known != choices_.end()) {
            known->type = widened(known->type, field.type);
            return;
        }
        // A chosen type keeps the field at it; what is wider here is chosen wider.
        FieldChoice choice;
        choice.name = field.name;
        choice.type = field.type;
        choices_.push_back(std::move(choice));
    }
    const std::vector<FieldChoice>& choices() const { return choices_; }
    std::vector<FieldHandle> handlesIn(const RecordTable& records) const {
        std::vector<FieldHandle> handles;
        for (const FieldChoice& choice : choices_) {
            handles.push_back(records.find(choice.name).value_or(FieldHandle{}));
        }
        return handles;
    }

private:
    std::vector<FieldChoice> choices_;
};

/// Writes records of any tables by a merge.
class MergedBuilder {
public:
    explicit MergedBuilder(const Merge& merge) : merge_(merge), builder_(merge.choices()) {
        for (const FieldChoice& choice : merge.choices()) {
            to_.push_back(builder_.fieldNamed(choice.name, static_cast<int>(to_.size())));
        }
    }
    void write(const RecordTable& records, std::int64_t record, const std::vector<FieldHandle>& from) {
        for (std::size_t i = 0; i < to_.size(); ++i) {
            if (from[i].index >= 0 && records.has(record, from[i])) {
                copyValue(builder_, to_[i], records, record, from[i], merge_.choices()[i].type);
            }
        }
        builder_.endRecord();
    }
    RecordTable finish() { return builder_.finish(); }

private:
    const Merge& merge_;
    RecordBuilder builder_;
    std::vector<int> to_;
};

} // namespace

RecordTable conformed(const RecordTable& records, const std::vector<Field>& fields) {
    if (conforms(records, fields)) {
        return records;
    }
    Merge merge(fields);
    for (const Field& field : records.fields()) {
        merge.add(field);
    }
    const auto from = merge.handlesIn(records);
    MergedBuilder builder(merge);
    for (std::int64_t record = 0; record < records.size(); ++record) {
        builder.write(records, record, from);
    }
    return builder.finish();
}

RecordTable gathered(const std::vector<RecordAt>& records, const std::vector<Field>& fields) {
    Merge merge(fields);
    std::map<const RecordTable*, std::vector<FieldHandle>> handles;
    for (const RecordAt& at : records) {
        if (handles.try_emplace(at.table.get()).second) {
            std::ranges::for_each(at.table->fields(), [&merge](const Field& field) { merge.add(field); });
        }
    }
    for (auto& [table, from] : handles) {
        from = merge.handlesIn(*table);
    }
    MergedBuilder builder(merge);
    for (const RecordAt& at : records) {
        builder.write(*at.table, at.row, handles.at(at.table.get()));
    }
    return builder.finish();
}

RecordTable withValues(const RecordAt& of, const RecordTable& from,
                       const std::map<int, std::int64_t>& others) {
    const Merge merge(of.table->fields());
    RecordBuilder builder(merge.choices());
    for (int index = 0; index < static_cast<int>(merge.choices().size()); ++index) {
        const FieldChoice& choice = merge.choices()[static_cast<std::size_t>(index)];
        const int to = builder.fieldNamed(choice.name, index);
        const auto other = others.find(index);
        const RecordTable& table = other == others.end() ? *of.table : from;
        const std::int64_t row = other == others.end() ? of.row : other->second;
        if (row >= 0 && table.has(row, {index})) {
            copyValue(builder, to, table, row, {index}, choice.type);
        }
    }
    builder.endRecord();
    return builder.finish();
}

bool haveSameTypes(const RecordTable& a, const RecordTable& b) {
    const std::size_t both = std::min(a.fields().size(), b.fields().size());
    return std::equal(a.fields().begin(), a.fields().begin() + static_cast<std::ptrdiff_t>(both),
                      b.fields().begin(),
                      [](const Field& one, const Field& other) { return one.type == other.type; });
}

std::uint64_t contentHash(const RecordTable& records, std::int64_t record) {
    Fnv hash;
    const auto mix = [&hash](std::string_view bytes) {
        hash.add(bytes);
        hash.addEnd();
    };
    for (std::size_t i = 0; i < records.fields().size(); ++i) {
        const FieldHandle field{static_cast<int>(i)};
        if (records.has(record, field)) {
            mix(records.fields()[i].name);
            mix(records.display(record, field));
        }
    }
    return hash.value();
}

} // namespace scorrere
