// SPDX-License-Identifier: Apache-2.0
//
// The bulk parser wants one padded buffer with whole values in it; a file may be larger than memory. So a
// small scanner cuts the stream at record boundaries (a line end, or a comma at the array's own level), and
// each record is parsed where it lies in a window that has the parser's padding behind it. The scanner knows
// strings and nesting, nothing more: what is wrong inside a record is found, and located, by the parser.
#include "engine/record/json_reader.h"

#include "engine/record/record_builder.h"

#include <algorithm>
#include <cstring>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <simdjson.h>

namespace scorrere {

namespace {

constexpr std::size_t kWindow = std::size_t{4} << 20;
constexpr std::size_t kMaxRecord = std::size_t{64} << 20;

bool isSpace(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

/// Where the JSON value that starts at `from` ends, or npos when the window ends first.
std::size_t endOfValue(std::string_view window, std::size_t from) {
    int depth = 0;
    bool inString = false;
    for (std::size_t i = from; i < window.size(); ++i) {
        const char c = window[i];
        if (inString) {
            const char* quote = static_cast<const char*>(std::memchr(&window[i], '"', window.size() - i));
            if (quote == nullptr) {
                return std::string_view::npos;
            }
            i = static_cast<std::size_t>(quote - window.data());
            std::size_t slashes = 0;
            while (window[i - 1 - slashes] == '\\') {
                ++slashes;
            }
            inString = slashes % 2 == 1;
            if (!inString && depth == 0) {
                return i + 1;
            }
            continue;
        }
        if (c == '"') {
            inString = true;
        } else if (c == '{' || c == '[') {
            ++depth;
        } else if (c == '}' || c == ']') {
            if (depth == 0) {
                return i;
            }
            if (--depth == 0) {
                return i + 1;
            }
        } else if (depth == 0 && (c == ',' || isSpace(c))) {
            return i;
        }
    }
    return std::string_view::npos;
}

Place placeIn(const std::string& file) {
    Place place;
    place.file = file;
    return place;
}

class Reader {
public:
    Reader(std::istream& in, const std::string& name, std::stop_token stop,
           const ReadProgressHandler& progress, std::int64_t totalBytes)
        : in_(in), name_(name), stop_(std::move(stop)), progress_(progress), totalBytes_(totalBytes) {}

    Result<RecordTable> read() {
        refill();
        if (view().starts_with("\xEF\xBB\xBF")) {
            at_ = 3;
        }
        skipSpace();
        if (at_ == end_) {
            return fail(ErrorCode::Syntax, "there is nothing in it",
                        "Expected a JSON array of records, or one JSON record a line.");
        }
        array_ = buffer_[at_] == '[';
        if (array_) {
            ++at_;
        }
        while (true) {
            if (builder_.size() % 512 == 0 && stop_.stop_requested()) {
                return fail(ErrorCode::Cancelled, "reading was cancelled", "");
            }
            skipSpace();
            if (at_ == end_) {
                break;
            }
            if (array_ && buffer_[at_] == ']') {
                closed_ = true;
                ++at_;
                skipSpace();
                if (at_ < end_) {
                    return fail(ErrorCode::Syntax, "there is more after the end of the array",
                                "A file holds one array; remove what follows it.");
                }
                break;
            }
            if (Outcome read = readOne(); !read) {
                return std::move(read.error());
            }
        }
        if (in_.bad()) {
            return fail(ErrorCode::Unreadable, "reading stopped: the disk reported an error", "");
        }
        if (array_ && !closed_) {
            return fail(ErrorCode::Syntax, "the array is never closed: the file seems cut off",
                        "Check that it was written completely; it should end with ].");
        }
        return builder_.finish();
    }

private:
    std::string_view view() const { return std::string_view(buffer_.data(), end_); }

    /// Moves what is left to the front and reads on behind it. False when nothing more came.
    bool refill() {
        line_ += std::count(buffer_.data() + counted_, buffer_.data() + at_, '\n');
        if (const auto found = view().substr(0, at_).rfind('\n'); found != std::string_view::npos) {
            lineStart_ = base_ + static_cast<std::int64_t>(found) + 1;
        }
        std::memmove(buffer_.data(), buffer_.data() + at_, end_ - at_);
        base_ += static_cast<std::int64_t>(at_);
        end_ -= at_;
        at_ = 0;
        counted_ = 0;
        if (buffer_.size() - simdjson::SIMDJSON_PADDING < end_ + kWindow / 2) {
            buffer_.resize(end_ + kWindow + simdjson::SIMDJSON_PADDING);
        }
        in_.read(buffer_.data() + end_,
                 static_cast<std::streamsize>(buffer_.size() - simdjson::SIMDJSON_PADDING - end_));
        const auto came = static_cast<std::size_t>(in_.gcount());
        end_ += came;
        std::memset(buffer_.data() + end_, ' ', simdjson::SIMDJSON_PADDING);
        if (progress_) {
            progress_({base_, totalBytes_, builder_.size()});
        }
        return came > 0;
    }

    void skipSpace() {
        while (true) {
            while (at_ < end_ && isSpace(buffer_[at_])) {
                ++at_;
            }
            if (at_ < end_ || !refill()) {
                return;
            }
        }
    }

    Outcome readOne() {
        if (std::string_view("{[\"-0123456789tfn").find(buffer_[at_]) == std::string_view::npos) {
            return fail(ErrorCode::Syntax, fmt::format("a record cannot start with {}", shown(buffer_[at_])),
                        "Expected a JSON array of records, or one JSON record a line.");
        }
        std::size_t until = findEnd();
        while (until == std::string_view::npos) {
            if (end_ - at_ > kMaxRecord) {
                return fail(ErrorCode::TooLarge,
                            fmt::format("one record is larger than {} MiB", kMaxRecord >> 20),
                            "Is this really JSON records? A quote or bracket may be missing.");
            }
            if (!refill()) {
                until = end_;
                break;
            }
            until = findEnd();
        }
        if (Outcome parsed = parse(until); !parsed) {
            return parsed;
        }
        at_ = until;
        if (array_) {
            skipSpace();
            if (at_ < end_ && buffer_[at_] == ',') {
                ++at_;
            } else if (at_ < end_ && buffer_[at_] != ']') {
                return fail(ErrorCode::Syntax,
                            fmt::format("expected , or ] after a record, found {}", shown(buffer_[at_])),
                            "Records in an array are separated by commas.");
            }
        }
        return done();
    }

    std::size_t findEnd() const {
        if (array_) {
            return endOfValue(view(), at_);
        }
        const std::size_t end = view().find('\n', at_);
        return end;
    }

    static std::string shown(char c) {
        return c >= 32 && c < 127 ? fmt::format("'{}'", c)
                                  : fmt::format("byte 0x{:02x}", static_cast<unsigned char>(c));
    }

    Outcome parse(std::size_t until) {
        std::size_t length = until - at_;
        while (length > 0 && isSpace(buffer_[at_ + length - 1])) {
            --length;
        }
        const char* start = buffer_.data() + at_;
        simdjson::ondemand::document document;
        auto error = parser_.iterate(start, length, buffer_.size() - at_).get(document);
        const bool isOpen = error == simdjson::SUCCESS; // the document is nothing before that
        if (isOpen) {
            error = readDocument(document);
        }
        const char* rest = nullptr;
        if (error == simdjson::SUCCESS && document.current_location().get(rest) == simdjson::SUCCESS) {
            error = simdjson::TRAILING_CONTENT;
        }
        if (error != simdjson::SUCCESS) {
            const char* location = nullptr;
            std::size_t offset = at_;
            if (isOpen && document.current_location().get(location) == simdjson::SUCCESS &&
                location >= start && location <= start + length) {
                offset = static_cast<std::size_t>(location - buffer_.data());
            }
            at_ = offset;
            return fail(ErrorCode::Syntax, fmt::format("not a JSON record: {}", plain(error)),
                        array_ ? "Mend the record, or leave it out."
                               : "Each line must be one whole JSON value; mend this one.");
        }
        return done();
    }

    static std::string plain(simdjson::error_code error) {
        switch (error) {
        case simdjson::UTF8_ERROR:
            return "it is not valid UTF-8";
        case simdjson::UNCLOSED_STRING:
            return "a text is not closed";
        case simdjson::INCOMPLETE_ARRAY_OR_OBJECT:
            return "it ends before it is closed";
        case simdjson::NUMBER_ERROR:
            return "a number is not written as JSON writes numbers";
        case simdjson::TRAILING_CONTENT:
            return "there is more than one value";
        case simdjson::DEPTH_ERROR:
            return "it is nested too deeply";
        case simdjson::UNESCAPED_CHARS:
            return "a text holds a control character that is not escaped";
        default:
            return "there is a value, comma, colon or bracket missing or out of place";
        }
    }

    simdjson::error_code readDocument(simdjson::ondemand::document& document) {
        simdjson::ondemand::json_type type;
        if (auto error = document.type().get(type)) {
            return error;
        }
        if (type != simdjson::ondemand::json_type::object) {
            simdjson::ondemand::value value;
            auto error = document.get_value().get(value);
            if (error == simdjson::SCALAR_DOCUMENT_AS_VALUE) {
                error = readScalar(document, type);
            } else if (error == simdjson::SUCCESS) {
                error = readValue(value, builder_.fieldNamed("value"));
            }
            builder_.endRecord();
            return error;
        }
        simdjson::ondemand::object object;
        if (auto error = document.get_object().get(object)) {
            return error;
        }
        int expected = 0;
        for (auto member : object) {
            std::string_view name;
            if (auto error = member.unescaped_key().get(name)) {
                return error;
            }
            const int field = builder_.fieldNamed(name, expected);
            expected = field + 1;
            simdjson::ondemand::value value;
            if (auto error = member.value().get(value)) {
                return error;
            }
            if (seenAt_.size() <= static_cast<std::size_t>(field)) {
                seenAt_.resize(static_cast<std::size_t>(field) + 1, -1);
            }
            if (seenAt_[static_cast<std::size_t>(field)] == builder_.size()) {
                continue; // a member given twice: the first one stands
            }
            seenAt_[static_cast<std::size_t>(field)] = builder_.size();
            if (auto error = readValue(value, field)) {
                return error;
            }
        }
        builder_.endRecord();
        return simdjson::SUCCESS;
    }

    simdjson::error_code readScalar(simdjson::ondemand::document& document,
                                    simdjson::ondemand::json_type type) {
        const int field = builder_.fieldNamed("value");
        if (type == simdjson::ondemand::json_type::string) {
            std::string_view text;
            auto error = document.get_string().get(text);
            return error ? error : (builder_.setText(field, text), simdjson::SUCCESS);
        }
        if (type == simdjson::ondemand::json_type::boolean) {
            bool yes = false;
            auto error = document.get_bool().get(yes);
            return error ? error : (builder_.setBoolean(field, yes), simdjson::SUCCESS);
        }
        if (type == simdjson::ondemand::json_type::null) {
            return document.is_null() ? simdjson::SUCCESS : simdjson::N_ATOM_ERROR;
        }
        simdjson::ondemand::number number;
        auto error = document.get_number().get(number);
        return error ? error : (setNumber(field, number), simdjson::SUCCESS);
    }

    void setNumber(int field, const simdjson::ondemand::number& number) {
        if (number.is_int64()) {
            builder_.setInteger(field, number.get_int64());
        } else {
            builder_.setReal(field, number.as_double());
        }
    }

    simdjson::error_code readValue(simdjson::ondemand::value& value, int field) {
        simdjson::ondemand::json_type type;
        if (auto error = value.type().get(type)) {
            return error;
        }
        std::string_view text;
        switch (type) {
        case simdjson::ondemand::json_type::string: {
            auto error = value.get_string().get(text);
            return error ? error : (builder_.setText(field, text), simdjson::SUCCESS);
        }
        case simdjson::ondemand::json_type::number: {
            simdjson::ondemand::number number;
            auto error = value.get_number().get(number);
            return error ? error : (setNumber(field, number), simdjson::SUCCESS);
        }
        case simdjson::ondemand::json_type::boolean: {
            bool yes = false;
            auto error = value.get_bool().get(yes);
            return error ? error : (builder_.setBoolean(field, yes), simdjson::SUCCESS);
        }
        case simdjson::ondemand::json_type::null:
            return value.is_null() ? simdjson::SUCCESS : simdjson::N_ATOM_ERROR;
        default: {
            auto error = simdjson::to_json_string(value).get(text);
            const bool list = type == simdjson::ondemand::json_type::array;
            return error ? error
                         : (builder_.setJson(field, list ? FieldType::List : FieldType::Object, text),
                            simdjson::SUCCESS);
        }
        }
    }

    Error fail(ErrorCode code, std::string message, std::string advice) {
        const std::int64_t line = line_ + std::count(buffer_.data() + counted_, buffer_.data() + at_, '\n');
        std::int64_t lineStart = lineStart_;
        if (const auto found = view().substr(0, at_).rfind('\n'); found != std::string_view::npos) {
            lineStart = base_ + static_cast<std::int64_t>(found) + 1;
        }
        Error error{code, std::move(message), std::move(advice), {}};
        error.place.file = name_;
        error.place.line = line;
        error.place.column = base_ + static_cast<std::int64_t>(at_) - lineStart + 1;
        error.place.record = builder_.size();
        return error;
    }

    std::istream& in_;
    const std::string& name_;
    std::stop_token stop_;
    const ReadProgressHandler& progress_;
    std::int64_t totalBytes_;
    RecordBuilder builder_;
    simdjson::ondemand::parser parser_;
    std::vector<char> buffer_ = std::vector<char>(kWindow + simdjson::SIMDJSON_PADDING);
    std::vector<std::int64_t> seenAt_; ///< the last record in which each field was set
    std::size_t at_ = 0;
    std::size_t end_ = 0;
    std::size_t counted_ = 0;
    std::int64_t base_ = 0; ///< bytes before the window
    std::int64_t line_ = 1;
    std::int64_t lineStart_ = 0;
    bool array_ = false;
    bool closed_ = false;
};

} // namespace

Result<RecordTable> readJsonRecords(std::istream& in, const std::string& name, std::stop_token stop,
                                    const ReadProgressHandler& progress, std::int64_t totalBytes) {
    return Reader(in, name, std::move(stop), progress, totalBytes).read();
}

Result<RecordTable> readJsonFile(const std::string& path, std::stop_token stop,
                                 const ReadProgressHandler& progress) {
    std::error_code ignored;
    const auto status = std::filesystem::status(path, ignored);
    if (!std::filesystem::exists(status)) {
        return Error{ErrorCode::NotFound, "there is no such file", "Check the path.", placeIn(path)};
    }
    if (std::filesystem::is_directory(status)) {
        return Error{ErrorCode::Unreadable, "this is a folder", "Choose a file in it.", placeIn(path)};
    }
    std::ifstream in(path, std::ios::binary);
    if (!in) {
        return Error{ErrorCode::Unreadable, "it cannot be opened for reading", "Check its permissions.",
                     placeIn(path)};
    }
    const auto size = std::filesystem::file_size(path, ignored);
    return readJsonRecords(in, path, std::move(stop), progress,
                           ignored ? 0 : static_cast<std::int64_t>(size));
}

} // namespace scorrere
