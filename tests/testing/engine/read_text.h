// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/reading.h"

#include <gtest/gtest.h>

namespace scorrere {

inline Result<Reading> readText(const std::string& text, SourceForm form = SourceForm::Guess,
                                const std::string& items = {}, std::stop_token stop = {},
                                const ReadHandlers& handlers = {}) {
    ReadOptions options;
    options.form = form;
    options.items = items;
    return readRecordsText(text, "t", options, {}, std::move(stop), handlers);
}

inline FieldChoice nested(const std::string& name, const std::string& path) {
    FieldChoice choice;
    choice.name = name;
    choice.path = path;
    return choice;
}
inline FieldChoice ofType(const std::string& name, FieldType type) {
    FieldChoice choice;
    choice.name = name;
    choice.type = type;
    return choice;
}
inline FieldChoice leftOut(const std::string& name) {
    FieldChoice choice;
    choice.name = name;
    choice.leftOut = true;
    return choice;
}

/// The value in words, or "-" when it is missing, or "?" when there is no such field.
inline std::string shown(const RecordTable& table, std::int64_t record, const std::string& field) {
    const auto handle = table.find(field);
    return !handle ? "?" : table.has(record, *handle) ? table.display(record, *handle) : "-";
}
inline FieldType typeOf(const RecordTable& table, const std::string& field) {
    const auto handle = table.find(field);
    return handle ? table.field(*handle).type : FieldType::Unknown;
}

} // namespace scorrere
