// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/record_builder.h"
#include "engine/record/record_table.h"

#include <array>
#include <functional>
#include <istream>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace scorrere {

/// How records are written. `Guess`: found out from the name and the first bytes.
enum class SourceForm : std::uint8_t { Guess, Json, Ndjson, Csv, Xml, Sqlite, Lines };
/// "JSON", "one JSON value a line", ...
std::string_view formName(SourceForm form);

struct ReadOptions {
    SourceForm form = SourceForm::Guess;
    /// JSON: a JSONPath (RFC 9535). XML: the element's path, as in /survey/sightings/sighting. Empty: found
    /// out.
    std::string items;
    char delimiter = 0;              ///< CSV; 0: found out
    std::optional<bool> header;      ///< CSV: whether the first row names the fields; nothing: found out
    std::string table;               ///< SQLite; empty with no query: the first table
    std::string query;               ///< SQLite; instead of a table
    std::string charset;             ///< empty: found out
    bool undoDoubleDecoding = false; ///< texts were decoded twice on their way: decode them back
    std::vector<FieldChoice> fields;
    bool operator==(const ReadOptions&) const = default;
};

/// What was found wrong with a record, or with the whole, while reading went on.
struct ReadFinding {
    enum class Kind : std::uint8_t {
        Unreadable, ///< not a record in this notation; it was passed over
        Misfit,     ///< a value does not fit its field's chosen type; the record has no such value
        Ragged,     ///< more or fewer cells than the header; kept, under names of their own
        NotUtf8,    ///< bytes that are no text; shown as U+FFFD
        CutOff,     ///< the data ends early; what came before it is kept
        Twice,      ///< has a member twice; the first one stands
    };
    static constexpr std::size_t kKinds = 6;
    Kind kind = Kind::Unreadable;
    std::string message;
    std::string advice;
    Place place;
};

struct ReadProgress {
    std::int64_t bytes = 0;
    std::int64_t totalBytes = 0; ///< 0 when unknown
    std::int64_t records = 0;
};
using ReadProgressHandler = std::function<void(const ReadProgress&)>;

struct ReadHandlers {
    ReadProgressHandler progress; ///< about every MiB
    /// The table so far: soon after the first records, then each time it is half as long again.
    std::function<void(const RecordTable&)> grown;
};

/// Records as read, and everything worth saying about how they were read.
struct Reading {
    static constexpr std::size_t kKeptFindings = 1000; ///< of each reading; all are counted

    RecordTable records;
    ReadOptions used; ///< the options, with what was found out filled in
    std::vector<ReadFinding> findings;
    std::array<std::int64_t, ReadFinding::kKinds> counts{};
    std::vector<Widening> widenings;
    std::int64_t bytes = 0;
    std::string charsetWhy; ///< "it starts with a byte order mark"

    std::int64_t findingCount() const;
};

/// Where readers put what they read: keeps the builder, the findings and the growth; an implementation class
/// of record/.
///
/// Threads     One thread: the reader's.
class RecordSink {
public:
    RecordSink(const ReadOptions& options, std::stop_token stop, const ReadHandlers& handlers,
               std::string name, std::int64_t totalBytes);
    RecordSink(const RecordSink&) = delete;
    RecordSink& operator=(const RecordSink&) = delete;

    RecordBuilder& builder() { return builder_; }
    const std::string& name() const { return name_; }
    const ReadOptions& options() const { return reading_.used; }
    ReadOptions& used() { return reading_.used; }
    Reading& reading() { return reading_; }

    /// The record that is being read started here: findings about its values say so.
    void startRecord(std::int64_t line) { line_ = line; }
    void endRecord();
    /// One finding more; the record is the one being read.
    void find(ReadFinding::Kind kind, std::string message, std::string advice, std::int64_t line = 0,
              std::int64_t column = 0);
    void tellProgress(std::int64_t bytes);
    bool isStopped() const { return stop_.stop_requested(); }
    const std::stop_token& stop() const { return stop_; }
    Error cancelled() const;
    Error error(ErrorCode code, std::string message, std::string advice, std::int64_t line = 0,
                std::int64_t column = 0) const;
    /// All that was read. When nothing was, and something was found: that, as the error.
    Result<Reading> finish(std::int64_t bytes);

private:
    std::string name_;
    std::stop_token stop_;
    const ReadHandlers& handlers_;
    std::int64_t totalBytes_;
    Reading reading_;
    RecordBuilder builder_;
    std::int64_t line_ = 0;
    std::int64_t nextGrowth_ = 256;
};

// The readers. Each blocks: for workers; each looks at the stop token at least every 1,000 records, needs
// memory for the table and for one record of at most 64 MiB, and gives an Error (Unreadable, Syntax,
// TooLarge, NotFound, Cancelled) only when it has no record to give: with records, what is wrong is a
// finding.

/// JSON: a document whose items a path selects (a path of names to an array is followed while streaming; any
/// other needs the whole document, at most 512 MiB, in memory), or one JSON value a line.
Result<Reading> readJson(std::istream& in, RecordSink& sink);
/// CSV (RFC 4180), other delimiters and line ends too.
Result<Reading> readCsv(std::istream& in, RecordSink& sink);
/// XML: every element at one path is a record; its attributes and children are its fields.
Result<Reading> readXml(std::istream& in, RecordSink& sink);
/// The paths of elements that repeat in the start of an XML document: what could be records.
std::vector<std::string> xmlElementPaths(std::string_view start);
/// A text a line.
Result<Reading> readLines(std::istream& in, RecordSink& sink);
/// A table or a query of an SQLite file, which is opened read-only.
Result<Reading> readSqlite(const std::string& path, RecordSink& sink);
/// The tables and views of an SQLite file.
Result<std::vector<std::string>> sqliteTables(const std::string& path);

/// Reads records from a file of any form.
Result<Reading> readRecordsFile(const std::string& path, const ReadOptions& options,
                                std::stop_token stop = {}, const ReadHandlers& handlers = {});
/// Reads records from what is in memory; `name` is where it came from, for messages and for guessing.
/// `headerCharset`: as the one who sent it says it is; empty: nobody said.
Result<Reading> readRecordsText(const std::string& bytes, const std::string& name, const ReadOptions& options,
                                const std::string& headerCharset = {}, std::stop_token stop = {},
                                const ReadHandlers& handlers = {});
/// The form that a name and the first bytes speak for.
SourceForm guessForm(const std::string& name, std::string_view start);

} // namespace scorrere
