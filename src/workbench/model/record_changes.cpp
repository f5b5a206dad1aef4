// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/record_changes.h"

#include "engine/record/json_outline.h"
#include "engine/record/record_json.h"

#include <QCoreApplication>
#include <algorithm>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {

namespace {

constexpr qsizetype kLongestSaid = 60;

QString say(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::edits", text);
}

QString shortened(const std::string& text) {
    const QString all = QString::fromStdString(text);
    return all.size() > kLongestSaid ? all.left(kLongestSaid - 1) + QChar(0x2026) : all;
}

bool isNumberType(FieldType type) {
    return type == FieldType::Integer || type == FieldType::Real;
}

} // namespace

TypedValue valueTyped(const QString& typed, FieldType type) {
    const std::string text = typed.toStdString();
    if (type == FieldType::Text) {
        return {quotedJson(text), {}};
    }
    const QString trimmed = typed.trimmed();
    if (trimmed.isEmpty()) {
        return {std::string(), {}};
    }
    const auto parsed = nlohmann::json::parse(trimmed.toStdString(), nullptr, false);
    if (parsed.is_string()) {
        return {trimmed.toStdString(), {}};
    }
    if (isNumberType(type)) {
        return parsed.is_number()
                   ? TypedValue{trimmed.toStdString(), {}}
                   : TypedValue{{},
                                say("That is no number: write one as in 12 or 3.5, or a text in quotes.")};
    }
    if (type == FieldType::Boolean) {
        const QString word = trimmed.toLower();
        if (word == say("yes") || word == QLatin1String("true")) {
            return {"true", {}};
        }
        if (word == say("no") || word == QLatin1String("false")) {
            return {"false", {}};
        }
        return {{}, say("That is neither yes nor no: write one of them, or a text in quotes.")};
    }
    if (type == FieldType::Time) {
        return parseTime(trimmed.toStdString())
                   ? TypedValue{quotedJson(trimmed.toStdString()), {}}
                   : TypedValue{{},
                                say("That is no time: write it as in 2026-05-01 or 2026-05-01T21:30:00Z, or "
                                    "a text in quotes.")};
    }
    if (type == FieldType::List || type == FieldType::Object) {
        const bool isRight = type == FieldType::List ? parsed.is_array() : parsed.is_object();
        return isRight ? TypedValue{trimmed.toStdString(), {}}
                       : TypedValue{{},
                                    type == FieldType::List
                                        ? say("That is no list: write JSON, as in [\"a\", \"b\"].")
                                        : say("That is no object: write JSON, as in {\"a\": 1}.")};
    }
    return {parsed.is_discarded() ? quotedJson(text) : trimmed.toStdString(),
            {}}; // of what nobody has yet, as it reads
}

std::string keyOfRecord(const render::LiveCollection& live, std::int64_t number) {
    const EditedRecords* edited = live.edited();
    const auto& source = live.source();
    if (edited != nullptr && number >= source->size()) {
        return edited->inserted[static_cast<std::size_t>(number - source->size())];
    }
    return RecordKeys(source, live.document().source.key).of(number);
}

namespace {

/// Whether one of the edits that are in force, and of those that `isOfRecord` takes, sets a field.
template <typename IsOfRecord>
bool isSet(const RecordEdits& edits, const std::vector<std::string>& refusals, const std::string& field,
           IsOfRecord isOfRecord) {
    for (std::size_t i = 0; i < edits.size(); ++i) {
        if (edits[i]->kind == RecordEdit::Kind::Set && edits[i]->field == field && refusals[i].empty() &&
            isOfRecord(i)) {
            return true;
        }
    }
    return false;
}

RecordFacts::Value valueOf(const RecordTable& records, std::int64_t record, FieldHandle field) {
    RecordFacts::Value value;
    value.field = records.field(field).name;
    value.type = records.field(field).type;
    value.isThere = records.has(record, field);
    value.text = QString::fromStdString(records.display(record, field));
    return value;
}

RecordFacts factsOfPage(render::PagedRecords& pages, const PageRecord& record, std::int64_t place) {
    RecordFacts facts;
    facts.isOfPage = true;
    facts.isInserted = record.isLocal;
    facts.number = place;
    facts.key = record.key.starts_with('\x1f') ? std::string() : record.key;
    for (int index = 0; index < static_cast<int>(record.table->fields().size()); ++index) {
        RecordFacts::Value value = valueOf(*record.table, record.row, {index});
        value.isEdited = isSet(pages.edits().edits(), pages.edits().refusals(), value.field,
                               [&](std::size_t i) { return pages.edits().edits()[i]->key == facts.key; });
        if (value.isEdited && record.served) {
            value.before = QString::fromStdString(record.served->table->display(record.served->row, {index}));
        }
        facts.values.push_back(std::move(value));
    }
    return facts;
}

} // namespace

std::optional<RecordFacts> recordFacts(render::LiveCollection& live, std::int64_t place) {
    if (render::PagedRecords* pages = live.paged()) {
        const PageRecord* record =
            place < pages->pager().strip().places() ? pages->pager().strip().recordAt(place) : nullptr;
        return record == nullptr ? std::nullopt : std::optional(factsOfPage(*pages, *record, place));
    }
    const auto context = live.contextAt(place);
    if (!context || context->record < 0) {
        return std::nullopt;
    }
    const RecordTable& records = context->records;
    const EditedRecords* edited = live.edited();
    RecordFacts facts;
    facts.number = context->record;
    facts.key = keyOfRecord(live, facts.number);
    facts.isInserted = facts.number >= live.source()->size();
    facts.isMadeUp = live.source()->isMadeUp(facts.number);
    for (int index = 0; index < static_cast<int>(records.fields().size()); ++index) {
        RecordFacts::Value value = valueOf(records, facts.number, {index});
        value.isEdited =
            edited != nullptr && isSet(edited->edits, edited->refusals, value.field, [&](std::size_t i) {
                return edited->numbers[i] == facts.number; // a key may be there twice
            });
        if (const auto own = live.source()->find(value.field); value.isEdited && own && !facts.isInserted) {
            value.before = QString::fromStdString(live.source()->display(facts.number, *own));
        }
        facts.values.push_back(std::move(value));
    }
    return facts;
}

std::optional<RecordFacts> recordFactsIn(const std::shared_ptr<const RecordTable>& source,
                                         const CollectionDocument& document, std::int64_t number) {
    if (number < 0 || number >= source->size()) {
        return std::nullopt;
    }
    RecordFacts facts;
    facts.number = number;
    facts.isOfPage = document.source.isPaged();
    const RecordKeys keys(source, document.source.key);
    if (!facts.isOfPage || (!document.source.key.empty() && keys.fields() == document.source.key)) {
        facts.key = keys.of(number); // pages are known by the key that was chosen alone
    }
    for (int index = 0; index < static_cast<int>(source->fields().size()); ++index) {
        const Field& field = source->fields()[static_cast<std::size_t>(index)];
        RecordFacts::Value value;
        value.field = field.name;
        value.type = field.type;
        value.isThere = source->has(number, {index});
        value.text = QString::fromStdString(source->display(number, {index}));
        for (const auto& edit : document.edits) {
            if (edit->kind == RecordEdit::Kind::Set && edit->key == facts.key && edit->field == field.name) {
                value.isEdited = true;
                value.before = QString::fromStdString(source->display(number, {index}));
                value.isThere = !edit->value.empty();
                const auto json = nlohmann::json::parse(edit->value, nullptr, false);
                value.text = QString::fromStdString(json.is_string() ? json.get<std::string>() : edit->value);
            }
        }
        facts.values.push_back(std::move(value));
    }
    return facts;
}

RecordEdits withEdit(RecordEdits edits, const RecordEdit& edit, bool isAsSource) {
    const auto isSame = [&](const std::shared_ptr<const RecordEdit>& one) {
        return one->kind == RecordEdit::Kind::Set && one->key == edit.key && one->field == edit.field;
    };
    const auto same = edit.kind == RecordEdit::Kind::Set ? std::ranges::find_if(edits, isSame) : edits.end();
    if (isAsSource) {
        std::erase_if(edits, isSame);
    } else if (same != edits.end()) {
        *same = std::make_shared<const RecordEdit>(edit);
    } else {
        edits.push_back(std::make_shared<const RecordEdit>(edit));
    }
    return edits;
}

RecordEdits withoutEdit(RecordEdits edits, std::size_t index) {
    if (index < edits.size()) {
        edits.erase(edits.begin() + static_cast<std::ptrdiff_t>(index));
    }
    return edits;
}

QString editInWords(const RecordEdit& edit) {
    const QString key = shortened(edit.key);
    const QString before = shortened(edit.before);
    switch (edit.kind) {
    case RecordEdit::Kind::Set:
        return edit.value.empty()
                   ? say("%1 of %2 taken away").arg(shortened(edit.field), key)
                   : say("%1 of %2: %3").arg(shortened(edit.field), key, shortened(edit.value));
    case RecordEdit::Kind::Insert:
        return before.isEmpty() ? say("a new record at the end: %1").arg(shortened(edit.value))
                                : say("a new record in front of %1: %2").arg(before, shortened(edit.value));
    case RecordEdit::Kind::Remove:
        return say("%1 removed").arg(key);
    case RecordEdit::Kind::Move:
        return before.isEmpty() ? say("%1 moved to the end").arg(key)
                                : say("%1 moved in front of %2").arg(key, before);
    }
    return {};
}

std::string recordLike(const RecordTable& records, std::int64_t record,
                       const std::vector<std::string>& fields, std::int64_t number) {
    auto json = nlohmann::ordered_json::parse(recordJson(records, record), nullptr, false);
    if (!fields.empty() && json.is_object()) {
        auto& key = json[fields.front()];
        if (key.is_number_integer()) {
            key = number;
        } else {
            key = (key.is_string() ? key.get<std::string>() : key.dump()) + "~" + std::to_string(number);
        }
    }
    return json.dump();
}

} // namespace scorrere::workbench
