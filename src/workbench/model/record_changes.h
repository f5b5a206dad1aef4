// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/edit/edited_records.h"
#include "render/live_collection.h"

#include <QString>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// What was typed as a field's value.
struct TypedValue {
    std::optional<std::string> json; ///< as an edit takes it; nothing: it is none
    QString fault;                   ///< why it is none, and what would be
};
/// By the field's type: a number, yes or no, a time, JSON for lists and objects. In quotes it is a text, whatever the field is.
/// Nothing typed: the record has no such value; but an empty text in a field of texts.
TypedValue valueTyped(const QString& typed, FieldType type);

/// A record that runs, as it can be edited.
struct RecordFacts {
    struct Value {
        std::string field;
        FieldType type = FieldType::Unknown;
        QString text;
        bool isThere = false;
        bool isEdited = false;
        QString before; ///< what the source has; where it is edited
    };
    std::string key;          ///< by which edits name it; empty: it has none, and cannot be edited
    std::int64_t number = -1; ///< in the table that runs
    bool isOfPage = false;    ///< of a service, which says where it stands
    bool isInserted = false;
    bool isMadeUp = false;     ///< of others: its values are theirs
    std::vector<Value> values; ///< of all fields there are
};
/// Of the record at a place among all; nothing where none is.
std::optional<RecordFacts> recordFacts(render::LiveCollection& live, std::int64_t place);
/// The same of a record of the source, as a document's edits have it; nothing where there is none of that number.
std::optional<RecordFacts> recordFactsIn(const std::shared_ptr<const RecordTable>& source,
                                         const CollectionDocument& document, std::int64_t number);
/// By which edits name a record of the table that runs.
std::string keyOfRecord(const render::LiveCollection& live, std::int64_t number);

/// The edits with one more: one that sets the same again takes the place of the one before. `isAsSource`: it only says what
/// the source says, so what was set there is taken back.
RecordEdits withEdit(RecordEdits edits, const RecordEdit& edit, bool isAsSource = false);
RecordEdits withoutEdit(RecordEdits edits, std::size_t index);

/// "count of 42: 7", "42 removed", "new record in front of 42", "42 in front of 7".
QString editInWords(const RecordEdit& edit);

/// A record like one, under a key of its own, as JSON. `fields`: of the key.
std::string recordLike(const RecordTable& records, std::int64_t record,
                       const std::vector<std::string>& fields, std::int64_t number);

} // namespace scorrere::workbench
