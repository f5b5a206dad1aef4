// SPDX-License-Identifier: Apache-2.0
#include "engine/record/reading.h"

#include <algorithm>
#include <fmt/format.h>
#include <numeric>

namespace scorrere {

std::string_view formName(SourceForm form) {
    switch (form) {
    case SourceForm::Guess:
        return "to be found out";
    case SourceForm::Json:
        return "JSON";
    case SourceForm::Ndjson:
        return "NDJSON";
    case SourceForm::Csv:
        return "CSV";
    case SourceForm::Xml:
        return "XML";
    case SourceForm::Sqlite:
        return "SQLite";
    case SourceForm::Lines:
        return "lines";
    }
    return "";
}

std::int64_t Reading::findingCount() const {
    return std::accumulate(counts.begin(), counts.end(), std::int64_t{0});
}

RecordSink::RecordSink(const ReadOptions& options, std::stop_token stop, const ReadHandlers& handlers,
                       std::string name, std::int64_t totalBytes)
    : name_(std::move(name)), stop_(std::move(stop)), handlers_(handlers), totalBytes_(totalBytes),
      builder_(options.fields, [this](const std::string& field, FieldType wanted, std::string_view value) {
          find(ReadFinding::Kind::Misfit,
               fmt::format("{} is not a {}: {}", field, typeName(wanted), value.substr(0, 60)),
               wanted == FieldType::Integer || wanted == FieldType::Real || wanted == FieldType::Time
                   ? "Give the field another type, say in which language it is written, or mend the record."
                   : "Give the field another type, or mend the record.",
               line_);
          reading_.findings.back().place.field = field;
      }) {
    reading_.used = options;
    builder_.setUndoDoubleDecoding(options.undoDoubleDecoding);
}

void RecordSink::endRecord() {
    builder_.endRecord();
    const std::int64_t size = builder_.size();
    if (size >= nextGrowth_ && handlers_.grown) {
        const std::int64_t segment = RecordTable::kSegment;
        nextGrowth_ = size < segment ? segment : (size * 3 / 2 + segment - 1) / segment * segment;
        handlers_.grown(builder_.snapshot());
    }
}

void RecordSink::find(ReadFinding::Kind kind, std::string message, std::string advice, std::int64_t line,
                      std::int64_t column) {
    ++reading_.counts[static_cast<std::size_t>(kind)];
    if (reading_.findings.size() >= Reading::kKeptFindings) {
        reading_.findings.pop_back(); // the first ones and the newest: a sample that can be looked at
    }
    ReadFinding finding{kind, std::move(message), std::move(advice), {}};
    finding.place.file = name_;
    finding.place.line = line;
    finding.place.column = column;
    finding.place.record = builder_.size();
    reading_.findings.push_back(std::move(finding));
}

void RecordSink::tellProgress(std::int64_t bytes) {
    reading_.bytes = bytes;
    if (handlers_.progress) {
        handlers_.progress({bytes, totalBytes_, builder_.size()});
    }
}

Error RecordSink::error(ErrorCode code, std::string message, std::string advice, std::int64_t line,
                        std::int64_t column) const {
    Error error{code, std::move(message), std::move(advice), {}};
    error.place.file = name_;
    error.place.line = line;
    error.place.column = column;
    return error;
}

Error RecordSink::cancelled() const {
    Error error = this->error(ErrorCode::Cancelled, "reading was cancelled", "");
    error.place.record = builder_.size();
    return error;
}

Result<Reading> RecordSink::finish(std::int64_t bytes) {
    if (builder_.twiceCount() > 0) {
        const RecordBuilder::Twice& first = builder_.firstTwice();
        find(ReadFinding::Kind::Twice,
             fmt::format("{} is given twice in record {}", first.field, first.record + 1),
             "The first value stands. Mend what writes it: programs differ in which one they take.");
        reading_.findings.back().place.record = first.record;
        reading_.findings.back().place.field = first.field;
        reading_.counts[static_cast<std::size_t>(ReadFinding::Kind::Twice)] = builder_.twiceCount();
    }
    if (builder_.size() == 0 && !reading_.findings.empty()) {
        ReadFinding& first = reading_.findings.front();
        constexpr std::string_view kOthers = " The others are read.";
        if (const std::size_t at = first.advice.find(kOthers); at != std::string::npos) {
            first.advice.erase(at, kOthers.size()); // there are none
        }
        return Error{ErrorCode::Syntax, std::move(first.message), std::move(first.advice),
                     std::move(first.place)};
    }
    tellProgress(bytes);
    reading_.widenings = builder_.widenings();
    reading_.records = builder_.finish();
    return std::move(reading_);
}

} // namespace scorrere
