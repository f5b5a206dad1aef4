// SPDX-License-Identifier: Apache-2.0
//
// Cells are cut by libcsv, which is fed line by line: it does not count lines, and a row that is not right
// must be found again. What the delimiter is and whether the first row names the fields is judged from the
// first rows alone, so that a file of any size starts at once.
#include "engine/record/json_outline.h"
#include "engine/record/read_window.h"

#include <array>
#include <cmath>
#include <csv.h>
#include <fmt/format.h>
#include <set>

namespace scorrere {

namespace {

using Kind = ReadFinding::Kind;
constexpr std::array<char, 4> kDelimiters{',', ';', '\t', '|'};
constexpr std::size_t kGuessedFrom = 64 << 10;

struct Cell {
    std::string text;
    bool isGiven = false; ///< an empty cell without quotes is not
};
using Row = std::vector<Cell>;

/// libcsv with rows handed to a function.
class Cutter {
public:
    explicit Cutter(char delimiter) {
        csv_init(&parser_, CSV_APPEND_NULL | CSV_EMPTY_IS_NULL);
        csv_set_delim(&parser_, static_cast<unsigned char>(delimiter));
        csv_set_space_func(&parser_,
                           [](unsigned char) { return 0; }); // spaces belong to the cell (RFC 4180, 2.4)
    }
    ~Cutter() { csv_free(&parser_); }
    Cutter(const Cutter&) = delete;
    Cutter& operator=(const Cutter&) = delete;

    /// False when libcsv ran out of memory.
    bool feed(std::string_view text) {
        return csv_parse(&parser_, text.data(), text.size(), cell, row, this) == text.size();
    }
    void end() { csv_fini(&parser_, cell, row, this); }
    std::size_t found() const { return held_; }

    std::vector<Row> rows; ///< whole ones not taken yet

private:
    static void cell(void* text, std::size_t length, void* self) {
        auto& cutter = *static_cast<Cutter*>(self);
        cutter.open_.push_back(
            {text == nullptr ? std::string() : std::string(static_cast<char*>(text), length),
             text != nullptr});
        cutter.held_ += length;
    }
    static void row(int, void* self) {
        auto& cutter = *static_cast<Cutter*>(self);
        cutter.rows.push_back(std::move(cutter.open_));
        cutter.open_.clear();
        cutter.held_ = 0;
    }
    csv_parser parser_{};
    Row open_;
    std::size_t held_ = 0;
};

std::vector<Row> firstRows(std::string_view text, char delimiter, std::size_t most) {
    Cutter cutter(delimiter);
    cutter.feed(text);
    if (cutter.rows.empty()) {
        cutter.end();
    }
    if (cutter.rows.size() > most) {
        cutter.rows.resize(most);
    }
    return std::move(cutter.rows);
}

/// The delimiter whose rows agree best on how many cells they have.
char guessDelimiter(std::string_view text) {
    char best = ',';
    double most = 0;
    for (const char delimiter : kDelimiters) {
        const std::vector<Row> rows = firstRows(text, delimiter, 100);
        if (rows.empty() || rows[0].size() < 2) {
            continue;
        }
        const auto agree =
            std::ranges::count_if(rows, [&](const Row& row) { return row.size() == rows[0].size(); });
        const double score = static_cast<double>(agree) / static_cast<double>(rows.size()) *
                             std::log2(1.0 + static_cast<double>(rows[0].size()));
        if (score > most) {
            most = score;
            best = delimiter;
        }
    }
    return best;
}

bool looksLikeValue(const std::string& text) {
    return parseReal(text) || parseTime(text) || text == "true" || text == "false";
}

/// A first row of words, none of which could be a value, names the fields. Some may be missing or the same,
/// as in id,name,name, - if the rows below have something that the words have not: values.
bool guessHeader(const std::vector<Row>& rows) {
    if (rows.empty()) {
        return false;
    }
    std::set<std::string> names;
    bool distinct = true;
    for (const Cell& cell : rows[0]) {
        if (cell.text.size() > 80 || looksLikeValue(cell.text)) {
            return false;
        }
        distinct = distinct && cell.isGiven && names.insert(cell.text).second;
    }
    const auto hasValues = [](const Row& row) {
        return std::ranges::any_of(row, [](const Cell& cell) { return looksLikeValue(cell.text); });
    };
    return distinct || (!rows[0].empty() && rows[0][0].isGiven && rows.size() > 1 &&
                        std::all_of(rows.begin() + 1, rows.end(), hasValues));
}

std::vector<std::string> fieldNames(const Row& first, bool header) {
    std::vector<std::string> names;
    std::set<std::string> taken;
    for (std::size_t i = 0; i < first.size(); ++i) {
        std::string name = header && !first[i].text.empty() ? first[i].text : fmt::format("column_{}", i + 1);
        const std::string plain = name;
        for (int copy = 2; !taken.insert(name).second; ++copy) {
            name = fmt::format("{}_{}", plain, copy);
        }
        names.push_back(std::move(name));
    }
    return names;
}

class CsvReading {
public:
    CsvReading(std::istream& in, RecordSink& sink) : sink_(sink), window_(in, sink) {}

    Result<Reading> read() {
        window_.refill();
        if (window_.view().starts_with("\xEF\xBB\xBF")) {
            window_.at = 3;
        }
        if (window_.at == window_.end) {
            return sink_.error(ErrorCode::Syntax, "there is nothing in it", "Expected rows of cells.", 1);
        }
        ReadOptions& used = sink_.used();
        used.form = SourceForm::Csv;
        const std::string_view start = window_.rest().substr(0, kGuessedFrom);
        if (used.delimiter == 0) {
            used.delimiter = guessDelimiter(start);
        }
        if (!used.header) {
            used.header = guessHeader(firstRows(start, used.delimiter, 20));
        }
        if (Outcome rows = readRows(); !rows) {
            return std::move(rows.error());
        }
        return sink_.finish(window_.bytes());
    }

private:
    Outcome readRows() {
        Cutter cutter(sink_.options().delimiter);
        std::int64_t line = 1;
        rowLine_ = 1;
        while (window_.at < window_.end || window_.refill()) {
            if (line % 512 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            std::size_t until = window_.view().find('\n', window_.at);
            const bool whole = until != std::string_view::npos;
            if (!whole && window_.end - window_.at < ReadWindow::kWindow / 2 && window_.refill()) {
                continue;
            }
            until = whole ? until + 1 : window_.end;
            inRow_ += until - window_.at;
            if (inRow_ > kMaxRecord) {
                return sink_.error(
                    ErrorCode::TooLarge, fmt::format("one row is larger than {} MiB", kMaxRecord >> 20),
                    "Look for a quote that is never closed at the line where the row begins.", rowLine_);
            }
            if (!cutter.feed(window_.view().substr(window_.at, until - window_.at))) {
                return sink_.error(ErrorCode::TooLarge, "there is not enough memory for a row", "", rowLine_);
            }
            window_.at = until;
            line += whole ? 1 : 0;
            takeRows(cutter, line);
        }
        const bool open = inRow_ > 0;
        const std::int64_t openLine = rowLine_;
        cutter.end();
        if (open && line > openLine + 1) {
            sink_.find(Kind::CutOff,
                       fmt::format("a quote opened in the row of line {} is never closed", openLine),
                       "Close it; until then everything behind it is one cell.", openLine);
        }
        takeRows(cutter, line);
        return done();
    }

    void takeRows(Cutter& cutter, std::int64_t line) {
        for (Row& row : cutter.rows) {
            takeRow(row);
            rowLine_ = line;
            inRow_ = 0;
        }
        if (!cutter.rows.empty()) {
            cutter.rows.clear();
        } else if (cutter.found() == 0 && inRow_ <= 2) { // an empty line is no row
            rowLine_ = line;
            inRow_ = 0;
        }
    }

    void takeRow(const Row& row) {
        if (names_.empty()) {
            names_ = fieldNames(row, *sink_.options().header);
            if (*sink_.options().header) {
                return;
            }
        }
        RecordBuilder& builder = sink_.builder();
        sink_.startRecord(rowLine_);
        if (row.size() != names_.size()) {
            sink_.find(Kind::Ragged,
                       fmt::format("this row has {} cells, the first one has {}", row.size(), names_.size()),
                       row.size() > names_.size() ? "Look for a delimiter in a cell without quotes. The "
                                                    "cells beyond are kept as extra_1 on."
                                                  : "The cells that are not there count as missing.",
                       rowLine_);
        }
        int expected = 0;
        for (std::size_t i = 0; i < row.size(); ++i) {
            const int field = i < names_.size()
                                  ? builder.fieldNamed(names_[i], expected)
                                  : builder.fieldNamed(fmt::format("extra_{}", i - names_.size() + 1));
            expected = field < 0 ? expected : field + 1;
            if (row[i].isGiven) {
                builder.setWritten(field, whole(row[i].text));
            }
        }
        sink_.endRecord();
    }

    /// The cell as text, whatever bytes are in it.
    std::string_view whole(const std::string& text) {
        if (firstBadUtf8(text) == text.size() && text.find('\0') == std::string::npos) {
            return text;
        }
        mended_ = mendedUtf8(text);
        for (std::size_t nul = mended_.find('\0'); nul != std::string::npos; nul = mended_.find('\0', nul)) {
            mended_.replace(nul, 1, "\xEF\xBF\xBD");
        }
        sink_.find(Kind::NotUtf8, "a cell holds bytes that are no text; they show as \xEF\xBF\xBD",
                   "Choose the character set it was written in, or mend the row.", rowLine_);
        return mended_;
    }

    RecordSink& sink_;
    ReadWindow window_;
    std::vector<std::string> names_;
    std::string mended_;
    std::int64_t rowLine_ = 1;
    std::size_t inRow_ = 0; ///< bytes since the last whole row
};

} // namespace

Result<Reading> readCsv(std::istream& in, RecordSink& sink) {
    return CsvReading(in, sink).read();
}

Result<Reading> readLines(std::istream& in, RecordSink& sink) {
    ReadWindow window(in, sink);
    window.refill();
    sink.used().form = SourceForm::Lines;
    const int field = sink.builder().fieldNamed("value");
    std::int64_t line = 0;
    while (window.at < window.end || window.refill()) {
        if (++line % 512 == 0 && sink.isStopped()) {
            return sink.cancelled();
        }
        std::size_t until = window.view().find('\n', window.at);
        while (until == std::string_view::npos && window.end - window.at <= kMaxRecord && window.refill()) {
            until = window.view().find('\n', window.at);
        }
        if (window.end - window.at > kMaxRecord && until == std::string_view::npos) {
            return sink.error(ErrorCode::TooLarge,
                              fmt::format("a line is longer than {} MiB", kMaxRecord >> 20),
                              "Put line ends between the records.", line);
        }
        until = std::min(until, window.end);
        std::string_view text = window.view().substr(window.at, until - window.at);
        text = text.substr(0, text.find_last_not_of(" \t\r") + 1);
        if (!text.empty()) {
            sink.startRecord(line);
            sink.builder().setWritten(field, text);
            sink.endRecord();
        }
        window.at = std::min(until + 1, window.end);
    }
    if (sink.builder().size() == 0) {
        return sink.error(ErrorCode::Syntax, "there is nothing in it",
                          "Type a record a line, or paste JSON or CSV.", std::max<std::int64_t>(line, 1));
    }
    return sink.finish(window.bytes());
}

} // namespace scorrere
