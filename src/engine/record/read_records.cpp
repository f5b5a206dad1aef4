// SPDX-License-Identifier: Apache-2.0
#include "engine/record/charset.h"
#include "engine/record/reading.h"

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <sstream>

namespace scorrere {

namespace {

/// A database begins with sixteen bytes that say so.
bool isSqlite(std::string_view start) {
    return start.starts_with(std::string_view("SQLite format 3\0", 16));
}

constexpr std::size_t kLookedAt = 64 << 10;

std::string lower(std::string_view text) {
    std::string out(text);
    std::ranges::transform(out, out.begin(), [](char c) {
        return static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    });
    return out;
}

std::string_view trimmed(std::string_view text) {
    text = text.starts_with("\xEF\xBB\xBF") ? text.substr(3) : text;
    const std::size_t from = text.find_first_not_of(" \t\r\n");
    return from == std::string_view::npos ? std::string_view() : text.substr(from);
}

/// Whether rows have the same number of cells, two or more, as far as one can see.
bool looksLikeTable(std::string_view text) {
    for (const char delimiter : {',', ';', '\t', '|'}) {
        std::ptrdiff_t cells = -1;
        int rows = 0;
        bool same = true;
        std::size_t at = 0;
        while (at < text.size() && rows < 20) {
            const std::size_t end = text.find('\n', at);
            if (end == std::string_view::npos && rows > 1) {
                break; // the last line may be cut off
            }
            const std::string_view line = text.substr(at, std::min(end, text.size()) - at);
            const auto here = std::count(line.begin(), line.end(), delimiter);
            same = same && (cells < 0 || here == cells);
            cells = here;
            ++rows;
            at = std::min(end, text.size() - 1) + 1;
        }
        if (same && cells > 0 && rows > 1) {
            return true;
        }
    }
    return false;
}

bool isWebPage(std::string_view start) {
    const std::string text = lower(trimmed(start).substr(0, 200));
    return text.starts_with("<!doctype html") || text.starts_with("<html");
}

Error webPage(std::string_view start, const std::string& name) {
    const std::string text = lower(start);
    const std::size_t open = text.find("<title>");
    const std::size_t close = text.find("</title>");
    std::string title;
    if (open != std::string::npos && close != std::string::npos && close > open) {
        title = fmt::format(" titled \"{}\"",
                            start.substr(open + 7, std::min<std::size_t>(close - open - 7, 80)));
    }
    Error error{
        ErrorCode::Syntax,
        "this is a web page" + title + ", not records",
        "The address may lead to a sign-in or an error page; look at the answer's text, and check address "
        "and token.",
        {}};
    error.place.file = name;
    return error;
}

Result<Reading> readStream(std::istream& in, std::string_view start, RecordSink& sink) {
    ReadOptions& used = sink.used();
    if (used.form == SourceForm::Guess && used.items.starts_with('$')) {
        used.form = SourceForm::Json; // only there a path means something
    }
    const SourceForm form = used.form == SourceForm::Guess ? guessForm(sink.name(), start) : used.form;
    if (isWebPage(start) && used.form != SourceForm::Xml && used.form != SourceForm::Lines) {
        return webPage(start, sink.name());
    }
    if (start.substr(0, 1024).find('\0') != std::string_view::npos && form != SourceForm::Csv) {
        return sink.error(ErrorCode::Syntax, "it holds NUL bytes: this is not text",
                          "It may be a picture, an archive, or packed; unpack it, or choose another file.",
                          1);
    }
    switch (form) {
    case SourceForm::Csv:
        return readCsv(in, sink);
    case SourceForm::Xml:
        return readXml(in, sink);
    case SourceForm::Lines:
        return readLines(in, sink);
    case SourceForm::Ndjson:
        used.form = SourceForm::Ndjson;
        return readJson(in, sink);
    default:
        return readJson(in, sink);
    }
}

/// Reads what is in `in`, whose first bytes are `bytes`, in the charset it is in.
Result<Reading> readDecoded(std::istream& in, std::string_view bytes, const std::string& said,
                            RecordSink& sink) {
    Charset charset = findCharset(bytes, said);
    if (!sink.options().charset.empty()) {
        charset = {sink.options().charset, "chosen", false};
        if (!isUtf8(charset.name) && !isCharset(charset.name)) {
            return sink.error(ErrorCode::Invalid,
                              fmt::format("there is no character set \"{}\"", charset.name),
                              "Common ones are UTF-8, windows-1252, ISO-8859-15, UTF-16, Shift_JIS.");
        }
    }
    sink.used().charset = charset.name;
    sink.reading().charsetWhy = charset.why;
    if (charset.isGuess) {
        sink.reading().charsetWhy += " (a guess)";
    }
    if (isUtf8(charset.name)) {
        return readStream(in, bytes, sink);
    }
    std::istringstream head{std::string(bytes)};
    const auto decodedHead = transcoded(head, charset.name);
    const std::string start(std::istreambuf_iterator<char>(*decodedHead), {});
    const auto decoded = transcoded(in, charset.name);
    return readStream(*decoded, start, sink);
}

/// A stream over bytes that are there, without copying them.
class MemoryBuffer final : public std::streambuf {
public:
    explicit MemoryBuffer(const std::string& bytes) {
        char* from = const_cast<char*>(bytes.data()); // nothing is ever put: there is no room for it
        setg(from, from, from + bytes.size());
    }
};

Place placeIn(const std::string& file) {
    Place place;
    place.file = file;
    return place;
}

} // namespace

SourceForm guessForm(const std::string& name, std::string_view start) {
    if (isSqlite(start)) {
        return SourceForm::Sqlite;
    }
    const std::string extension = lower(std::filesystem::path(name).extension().string());
    if (extension == ".ndjson" || extension == ".jsonl") {
        // Many a file of one array is called so, too.
        return trimmed(start).starts_with('[') ? SourceForm::Json : SourceForm::Ndjson;
    }
    if (extension == ".csv" || extension == ".tsv") {
        return SourceForm::Csv;
    }
    const std::string_view text = trimmed(start);
    if (extension == ".json") {
        return SourceForm::Json;
    }
    if (extension == ".xml" || text.starts_with('<')) {
        return SourceForm::Xml;
    }
    if (text.starts_with('{') || text.starts_with('[')) {
        return SourceForm::Json;
    }
    if (looksLikeTable(text)) {
        return SourceForm::Csv;
    }
    return SourceForm::Lines; // whatever it is called
}

Result<Reading> readRecordsFile(const std::string& path, const ReadOptions& options, std::stop_token stop,
                                const ReadHandlers& handlers) {
    std::error_code failed;
    const auto status = std::filesystem::status(path, failed);
    if (!std::filesystem::exists(status)) {
        return Error{ErrorCode::NotFound, "there is no such file", "Check the path.", placeIn(path)};
    }
    if (std::filesystem::is_directory(status)) {
        return Error{ErrorCode::Unreadable, "this is a folder", "Choose a file in it.", placeIn(path)};
    }
    if (!std::filesystem::is_regular_file(status)) {
        // Opening a pipe waits for somebody to write to it, for ever perhaps.
        return Error{ErrorCode::Unreadable, "this is a pipe or a device, not a file",
                     "Write what comes from it to a file, and choose that.", placeIn(path)};
    }
    std::ifstream in(path, std::ios::binary);
    if (!in) {
        return Error{ErrorCode::Unreadable, "it cannot be opened for reading", "Check its permissions.",
                     placeIn(path)};
    }
    std::string start(kLookedAt, '\0');
    in.read(start.data(), static_cast<std::streamsize>(start.size()));
    start.resize(static_cast<std::size_t>(in.gcount()));
    in.clear();
    in.seekg(0);
    const auto size = std::filesystem::file_size(path, failed);
    if (!failed && size == 0) {
        return Error{ErrorCode::Syntax, "it is empty: 0 bytes",
                     "Is what should write it done? Choose another file.", placeIn(path)};
    }
    RecordSink sink(options, std::move(stop), handlers, path, failed ? 0 : static_cast<std::int64_t>(size));
    const bool database = isSqlite(start);
    if (options.form == SourceForm::Sqlite || (options.form == SourceForm::Guess && database)) {
        return readSqlite(path, sink);
    }
    return readDecoded(in, start, {}, sink);
}

Result<Reading> readRecordsText(const std::string& bytes, const std::string& name, const ReadOptions& options,
                                const std::string& headerCharset, std::stop_token stop,
                                const ReadHandlers& handlers) {
    RecordSink sink(options, std::move(stop), handlers, name, static_cast<std::int64_t>(bytes.size()));
    if (isSqlite(bytes)) {
        return sink.error(ErrorCode::Invalid,
                          "this is an SQLite database, which can only be read from a file",
                          "Save it as a file and open that.");
    }
    MemoryBuffer buffer(bytes);
    std::istream in(&buffer);
    return readDecoded(in, std::string_view(bytes).substr(0, kLookedAt), headerCharset, sink);
}

} // namespace scorrere
