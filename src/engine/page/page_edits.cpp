// SPDX-License-Identifier: Apache-2.0
#include "engine/page/page_edits.h"

#include "engine/record/field_profile.h"
#include "engine/record/json_outline.h"
#include "engine/record/reading.h"
#include "engine/record/record_builder.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>

namespace scorrere {

namespace {

bool bringsSomething(const RecordEdit& edit) {
    return edit.kind == RecordEdit::Kind::Insert ||
           (edit.kind == RecordEdit::Kind::Set && !edit.value.empty());
}

std::string typeInWords(FieldType type) {
    switch (type) {
    case FieldType::Boolean:
        return "yes or no";
    case FieldType::Integer:
        return "a whole number";
    case FieldType::Real:
        return "a number";
    case FieldType::Time:
        return "a time";
    case FieldType::List:
        return "a list";
    case FieldType::Object:
        return "an object";
    case FieldType::Text:
    case FieldType::Unknown:
        break;
    }
    return "a text";
}

} // namespace

PageEdits::PageEdits(RecordEdits edits, const std::vector<std::string>& key, const std::vector<Field>& fields)
    : edits_(std::move(edits)), refusals_(edits_.size()), fields_(fields.size()) {
    std::string array = "[";
    std::vector<std::int64_t> rows(edits_.size(), -1);
    std::int64_t next = 0;
    for (std::size_t i = 0; i < edits_.size(); ++i) {
        const RecordEdit& edit = *edits_[i];
        if (!bringsSomething(edit) || !(refusals_[i] = faultOf(edit)).empty()) {
            continue;
        }
        array += next > 0 ? ",\n" : "";
        array += edit.kind == RecordEdit::Kind::Insert
                     ? edit.value
                     : fmt::format("{{{}: {}}}", quotedJson(edit.field), edit.value);
        rows[i] = next++;
    }
    array += "]";
    ReadOptions options;
    options.form = SourceForm::Json;
    options.items = "$[*]";
    for (const Field& field : fields) { // a value that is none of its field's is missing
        options.fields.emplace_back().name = field.name;
        options.fields.back().type = field.type;
    }
    RecordTable read;
    if (next > 0) {
        if (auto reading = readRecordsText(array, "the edits", options, "UTF-8")) {
            read = std::move(reading->records);
        } else {
            for (std::size_t i = 0; i < edits_.size(); ++i) {
                refusals_[i] = rows[i] >= 0 ? reading.error().message : refusals_[i];
            }
        }
    }
    brought_ = std::make_shared<const RecordTable>(conformed(read, fields));
    std::vector<FieldHandle> handles;
    for (const std::string& name : key) {
        if (const auto handle = brought_->find(name)) {
            handles.push_back(*handle);
        }
    }
    handles.resize(handles.size() == key.size() ? handles.size() : 0);
    for (std::size_t i = 0; i < edits_.size(); ++i) {
        if (refusals_[i].empty()) {
            take(i, handles, rows[i]);
        }
    }
    for (PageRecord& record : inserted_) {
        if (const auto shown = over(record)) {
            record.table = shown->table;
            record.row = shown->row;
            record.content = shown->content;
        } else {
            record.key.clear();
        }
    }
    std::erase_if(inserted_, [](const PageRecord& record) { return record.key.empty(); });
    std::ranges::reverse(inserted_);
}

/// Lays one edit over those before it, or says why not.
void PageEdits::take(std::size_t index, const std::vector<FieldHandle>& key, std::int64_t row) {
    const RecordEdit& edit = *edits_[index];
    std::string& refusal = refusals_[index];
    std::string known = edit.key;
    switch (edit.kind) {
    case RecordEdit::Kind::Move:
        refusal = "the order of its records is its service's";
        return;
    case RecordEdit::Kind::Insert:
        if (key.empty()) {
            refusal = "its source does not say by which field a record is known";
        } else if (const auto own = keyOf(*brought_, row, key); !own) {
            refusal = "it has no key";
        } else if (byKey_.contains(*own)) {
            refusal = fmt::format("there is an edit of {} already", *own);
        } else {
            known = *own;
            inserted_.push_back({*own, contentHash(*brought_, row), brought_, row, nullptr, true});
        }
        break;
    case RecordEdit::Kind::Set:
        refusal = faultOfSet(edit, row);
        break;
    case RecordEdit::Kind::Remove:
        break;
    }
    const auto before = byKey_.find(known);
    if (refusal.empty() && before != byKey_.end() && before->second.isRemoved) {
        refusal = fmt::format("{} is removed by an edit before it", known);
    }
    if (!refusal.empty()) {
        return;
    }
    Own& own = byKey_[known];
    own.edits.push_back(edits_[index]);
    own.isRemoved = edit.kind == RecordEdit::Kind::Remove;
    if (edit.kind == RecordEdit::Kind::Set) {
        own.values[brought_->find(edit.field)->index] = row;
    }
}

std::string PageEdits::faultOfSet(const RecordEdit& edit, std::int64_t row) const {
    const auto field = brought_->find(edit.field);
    if (!field || field->index >= static_cast<int>(fields_)) {
        return fmt::format("its service knows no field \"{}\"", edit.field);
    }
    if (row >= 0 && edit.value != "null" && !brought_->has(row, *field)) {
        return fmt::format("its service has {} there", typeInWords(brought_->field(*field).type));
    }
    return {};
}

std::optional<PageRecord> PageEdits::over(const PageRecord& served) const {
    const auto found = byKey_.find(served.key);
    if (found == byKey_.end()) {
        return served;
    }
    const Own& own = found->second;
    if (own.isRemoved) {
        return std::nullopt;
    }
    std::map<int, std::int64_t> values = own.values;
    std::erase_if(values, [&served](const auto& value) { // an old table may not have it yet
        return value.first >= static_cast<int>(served.table->fields().size());
    });
    if (values.empty()) {
        return served;
    }
    PageRecord shown = served;
    shown.table =
        std::make_shared<const RecordTable>(withValues({served.table, served.row}, *brought_, values));
    shown.row = 0;
    shown.content = contentHash(*shown.table, 0);
    shown.served = std::make_shared<const PageRecord>(served);
    return shown;
}

std::vector<std::string> PageEdits::differing(const PageEdits& other) const {
    std::vector<std::string> keys;
    for (const auto& [key, own] : byKey_) {
        const auto there = other.byKey_.find(key);
        if (there == other.byKey_.end() || !areSame(own.edits, there->second.edits)) {
            keys.push_back(key);
        }
    }
    for (const auto& [key, own] : other.byKey_) {
        if (!byKey_.contains(key)) {
            keys.push_back(key);
        }
    }
    return keys;
}

} // namespace scorrere
