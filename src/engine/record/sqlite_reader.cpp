// SPDX-License-Identifier: Apache-2.0
#include "engine/record/json_outline.h"
#include "engine/record/reading.h"

#include <array>
#include <fmt/format.h>
#include <memory>
#include <sqlite3.h>

namespace scorrere {

namespace {

constexpr int kBusyMs = 1500; // another program may be just writing

struct Closer {
    void operator()(sqlite3* db) const { sqlite3_close_v2(db); }
    void operator()(sqlite3_stmt* statement) const { sqlite3_finalize(statement); }
};
using Database = std::unique_ptr<sqlite3, Closer>;
using Statement = std::unique_ptr<sqlite3_stmt, Closer>;

Error sqliteError(sqlite3* db, int code, const std::string& file, const std::string& what) {
    Error error{ErrorCode::Unreadable, {}, {}, {}};
    error.place.file = file;
    switch (code & 0xff) {
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        error.message = "the database is locked: another program is writing to it";
        error.advice = "Close that program, or wait until it is done, and ask again.";
        break;
    case SQLITE_NOTADB:
        error.message = "this is not an SQLite database, or it is encrypted";
        error.advice = "Check which program wrote it.";
        break;
    case SQLITE_CORRUPT:
        error.message = fmt::format("the database is damaged: {}", db != nullptr ? sqlite3_errmsg(db) : "");
        error.advice = "Restore it from a copy; sqlite3's .recover may save the rest.";
        break;
    case SQLITE_CANTOPEN:
        error.message = "it cannot be opened for reading";
        error.advice = "Check its permissions, and that its journal beside it can be read.";
        break;
    case SQLITE_INTERRUPT:
        error.code = ErrorCode::Cancelled;
        error.message = "reading was cancelled";
        break;
    default:
        error.code = ErrorCode::Syntax;
        error.message =
            fmt::format("{}: {}", what, db != nullptr ? sqlite3_errmsg(db) : sqlite3_errstr(code));
        error.advice = "Mend the query, or choose a table.";
        break;
    }
    return error;
}

Result<Database> openReadOnly(const std::string& path) {
    sqlite3* raw = nullptr;
    const int code = sqlite3_open_v2(path.c_str(), &raw, SQLITE_OPEN_READONLY | SQLITE_OPEN_NOMUTEX, nullptr);
    Database db(raw);
    if (code != SQLITE_OK) {
        return sqliteError(raw, code, path, "it cannot be opened");
    }
    sqlite3_busy_timeout(raw, kBusyMs);
    return db;
}

Result<Statement> prepare(sqlite3* db, const std::string& query, const std::string& path) {
    sqlite3_stmt* raw = nullptr;
    const char* rest = nullptr;
    const int code = sqlite3_prepare_v2(db, query.c_str(), static_cast<int>(query.size()), &raw, &rest);
    Statement statement(raw);
    if (code != SQLITE_OK) {
        return sqliteError(db, code, path, "the query is not right");
    }
    Error error{ErrorCode::Invalid, {}, {}, {}};
    error.place.file = path;
    if (raw == nullptr) {
        error.message = "the query is empty";
        error.advice = "Write one SELECT.";
        return error;
    }
    if (sqlite3_stmt_readonly(raw) == 0) {
        error.message = "the query would change the database";
        error.advice = "Only queries that read are run: write a SELECT.";
        return error;
    }
    if (std::string_view(rest).find_first_not_of(" \t\r\n;") != std::string_view::npos) {
        error.message = "there is more than one query";
        error.advice = "Write one SELECT.";
        return error;
    }
    return statement;
}

/// What a blob is, by how it begins.
std::string_view kindOf(std::string_view bytes) {
    constexpr std::array<std::pair<std::string_view, std::string_view>, 8> kKinds{
        {{"\x89PNG", "PNG picture"},
         {"\xff\xd8\xff", "JPEG picture"},
         {"GIF8", "GIF picture"},
         {"RIFF", "WebP picture or sound"},
         {"%PDF", "PDF"},
         {"PK\x03\x04", "ZIP archive"},
         {"\x1f\x8b", "packed data"},
         {"SQLite format 3", "SQLite database"}}};
    for (const auto& [start, kind] : kKinds) {
        if (bytes.starts_with(start)) {
            return kind;
        }
    }
    return "blob";
}

void setColumn(RecordSink& sink, int field, sqlite3_stmt* statement, int column) {
    RecordBuilder& builder = sink.builder();
    const auto bytes = [&] {
        const void* text = sqlite3_column_blob(statement, column);
        return std::string_view(static_cast<const char*>(text == nullptr ? "" : text),
                                static_cast<std::size_t>(sqlite3_column_bytes(statement, column)));
    };
    switch (sqlite3_column_type(statement, column)) {
    case SQLITE_INTEGER:
        builder.setInteger(field, sqlite3_column_int64(statement, column));
        break;
    case SQLITE_FLOAT:
        builder.setReal(field, sqlite3_column_double(statement, column));
        break;
    case SQLITE_TEXT: {
        const std::string_view text = bytes();
        if (firstBadUtf8(text) == text.size()) {
            builder.setText(field, text);
            break;
        }
        sink.find(ReadFinding::Kind::NotUtf8,
                  "a text holds bytes that are not UTF-8; they show as \xEF\xBF\xBD", "Mend the row.");
        builder.setText(field, mendedUtf8(text));
        break;
    }
    case SQLITE_BLOB:
        builder.setText(
            field, fmt::format("({}, {} bytes)", kindOf(bytes()), sqlite3_column_bytes(statement, column)));
        break;
    default:
        break; // NULL: missing
    }
}

std::string quotedName(const std::string& name) {
    std::string quoted = "\"";
    for (const char c : name) {
        quoted += c == '"' ? "\"\"" : std::string(1, c);
    }
    return quoted + '"';
}

} // namespace

Result<std::vector<std::string>> sqliteTables(const std::string& path) {
    auto db = openReadOnly(path);
    if (!db) {
        return std::move(db.error());
    }
    auto statement =
        prepare(db->get(),
                "SELECT name FROM sqlite_master WHERE type IN ('table', 'view') AND name NOT LIKE "
                "'sqlite\\_%' ESCAPE '\\' ORDER BY rootpage = 0, rowid",
                path);
    if (!statement) {
        return std::move(statement.error());
    }
    std::vector<std::string> tables;
    int code = SQLITE_ROW;
    while ((code = sqlite3_step(statement->get())) == SQLITE_ROW) {
        tables.emplace_back(reinterpret_cast<const char*>(sqlite3_column_text(statement->get(), 0)));
    }
    if (code != SQLITE_DONE) {
        return sqliteError(db->get(), code, path, "its tables cannot be listed");
    }
    return tables;
}

Result<Reading> readSqlite(const std::string& path, RecordSink& sink) {
    ReadOptions& used = sink.used();
    used.form = SourceForm::Sqlite;
    if (used.query.empty() && used.table.empty()) {
        auto tables = sqliteTables(path);
        if (!tables) {
            return std::move(tables.error());
        }
        if (tables->empty()) {
            return sink.error(ErrorCode::NotFound, "there is no table in this database",
                              "Choose another file.");
        }
        used.table = tables->front();
    }
    auto db = openReadOnly(path);
    if (!db) {
        return std::move(db.error());
    }
    sqlite3_progress_handler(
        db->get(), 10'000,
        [](void* token) { return static_cast<const std::stop_token*>(token)->stop_requested() ? 1 : 0; },
        const_cast<std::stop_token*>(&sink.stop()));
    auto statement =
        prepare(db->get(), used.query.empty() ? "SELECT * FROM " + quotedName(used.table) : used.query, path);
    if (!statement) {
        return std::move(statement.error());
    }
    sqlite3_stmt* rows = statement->get();
    const int columns = sqlite3_column_count(rows);
    std::vector<int> fields;
    fields.reserve(static_cast<std::size_t>(columns));
    for (int i = 0; i < columns; ++i) {
        fields.push_back(sink.builder().fieldNamed(sqlite3_column_name(rows, i), i));
    }
    int code = SQLITE_ROW;
    while ((code = sqlite3_step(rows)) == SQLITE_ROW) {
        if (sink.builder().size() % 512 == 0 && sink.isStopped()) {
            return sink.cancelled();
        }
        sink.startRecord(sink.builder().size() + 1);
        for (int i = 0; i < columns; ++i) {
            setColumn(sink, fields[static_cast<std::size_t>(i)], rows, i);
        }
        sink.endRecord();
        if (sink.builder().size() % 4096 == 0) {
            sink.tellProgress(0);
        }
    }
    if (code != SQLITE_DONE) {
        Error error = sqliteError(db->get(), code, path, "the query failed");
        if (error.code == ErrorCode::Cancelled || sink.builder().size() == 0) {
            return error;
        }
        sink.find(ReadFinding::Kind::CutOff, error.message, error.advice + " The rows before it are here.");
    }
    return sink.finish(0);
}

} // namespace scorrere
