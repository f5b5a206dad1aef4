// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/reading.h"

#include <cstdint>
#include <cstdlib>

/// Reads whatever it is given in one form and holds the reader to what it promises: a table whose every value
/// can be read, or an error that says something.
inline int readAnything(const std::uint8_t* data, std::size_t size, scorrere::SourceForm form) {
    using namespace scorrere;
    ReadOptions options;
    options.form = form;
    if (size > 0 && form == SourceForm::Json && (data[0] & 1) != 0) {
        options.items = "$.a.b[*]";
    }
    if (size < 2 || data[1] % 16 != 0) {
        options.charset = "UTF-8"; // guessing one takes longer than all the rest
    }
    const std::string text(reinterpret_cast<const char*>(data), size);
    std::int64_t grown = 0;
    ReadHandlers handlers;
    handlers.grown = [&grown](const RecordTable& table) { grown = table.size(); };
    const auto reading = readRecordsText(text, "fuzz", options, {}, {}, handlers);
    if (!reading) {
        if (reading.error().message.empty()) {
            std::abort();
        }
        return 0;
    }
    const RecordTable& table = reading->records;
    if (table.size() < grown) {
        std::abort();
    }
    std::size_t bytes = 0;
    for (std::int64_t record = 0; record < table.size(); ++record) {
        for (std::size_t field = 0; field < table.fields().size(); ++field) {
            bytes += table.display(record, FieldHandle{static_cast<int>(field)}).size();
        }
    }
    return bytes == std::string::npos ? -1 : 0;
}
