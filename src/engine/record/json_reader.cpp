// SPDX-License-Identifier: Apache-2.0
//
// The bulk parser wants one padded buffer with whole values in it; a file may be larger than memory. So the
// stream is cut at record boundaries (a line end, or the end of an array's element), and each record is
// parsed where it lies in a window that has the parser's padding behind it. Its tree interface is used, not
// its streaming one: the library carries it compiled for each kind of processor and chooses when it starts,
// while the other is compiled into us for the plainest. What the bulk parser refuses is looked at again,
// slowly, by the outline: that names the place, and reads what JSON allows but the parser does not (nesting
// beyond its limit, whole numbers of any length).
#include "engine/record/json_blocks.h"
#include "engine/record/json_outline.h"
#include "engine/record/json_path_eval.h"
#include "engine/record/json_record_writer.h"
#include "engine/record/read_window.h"
#include "engine/record/reading.h"

#include <algorithm>
#include <cstring>
#include <fmt/format.h>
#include <set>
#include <simdjson.h>

namespace scorrere {

namespace {

constexpr std::size_t kMaxDocument = std::size_t{512} << 20;
constexpr std::size_t kBatch = std::size_t{256} << 10; ///< the bulk parser looks ahead by so much
constexpr const char* kMemberField = "member"; ///< what a record is called where records stand by name
constexpr std::int64_t kHopeless = 200;        ///< so many bad records and no good one: it is something else

using simdjson::dom::element;
using Kind = ReadFinding::Kind;

std::string shown(char c) {
    return c >= 32 && c < 127 ? fmt::format("'{}'", c)
                              : fmt::format("byte 0x{:02x}", static_cast<unsigned char>(c));
}

/// Where the value at `from` ends in a text, or npos when it is cut off.
std::size_t endOfValue(std::string_view text, std::size_t from) {
    if (from < text.size() && (text[from] == '{' || text[from] == '[')) {
        JsonBlocks blocks;
        const std::size_t length = blocks.feed(text.substr(from));
        return length == JsonBlocks::npos ? length : from + length;
    }
    if (from < text.size() && text[from] == '"') {
        for (std::size_t i = from + 1; i < text.size(); ++i) {
            if (text[i] == '\\') {
                ++i;
            } else if (text[i] == '"') {
                return i + 1;
            }
        }
        return std::string_view::npos;
    }
    const std::size_t end = text.find_first_of(",]} \t\r\n", from);
    return end;
}

static_assert(ReadWindow::kPadding >= simdjson::SIMDJSON_PADDING);

class JsonReading {
public:
    JsonReading(std::istream& in, RecordSink& sink) : sink_(sink), window_(in, sink), writer_(sink) {
#ifdef SIMDJSON_THREADS_ENABLED
        parser_.threaded =
            false; // the engine starts no thread, and the caller's other core belongs to others
#endif
    }

    Result<Reading> read() {
        if (auto bad = JsonRecordWriter::badPath(sink_)) {
            return std::move(*bad);
        }
        if (sink_.isStopped()) {
            return sink_.cancelled();
        }
        window_.refill();
        if (window_.view().starts_with("\xEF\xBB\xBF")) {
            window_.at = 3;
            bomEnd_ = 3;
        }
        if (!window_.skipSpace()) {
            return sink_.error(ErrorCode::Syntax, "there is nothing in it",
                               "Expected a JSON array of records, or one JSON record a line.",
                               window_.lineOf(window_.at));
        }
        if (Outcome read = readForm(); !read) {
            return std::move(read.error());
        }
        if (window_.isBroken()) {
            sink_.find(Kind::CutOff, "reading stopped: the disk reported an error", "Check the disk.");
        }
        return sink_.finish(window_.bytes());
    }

private:
    Outcome readForm() {
        ReadOptions& used = sink_.used();
        if (used.form == SourceForm::Guess) {
            used.form = used.items.empty() && window_.now() != '[' && looksLikeLines() ? SourceForm::Ndjson
                                                                                       : SourceForm::Json;
        }
        if (used.form == SourceForm::Ndjson) {
            return readLines();
        }
        if (used.items.empty()) {
            used.items = window_.now() == '[' ? "$[*]" : guessItems();
        }
        auto path = JsonPath::parse(used.items);
        if (!path) {
            path.error().place.file.clear();
            return std::move(path.error());
        }
        if (auto names = path->namesToArray()) {
            return readStream(*names);
        }
        return readWhole(*path);
    }

    /// Whether the first line is a whole value and another one begins behind it.
    bool looksLikeLines() const {
        const std::string_view rest = window_.rest();
        const std::size_t line = rest.find('\n');
        if (line == std::string_view::npos) {
            return false;
        }
        const std::size_t next = rest.find_first_not_of(" \t\r\n", line);
        return !JsonOutline::of(rest.substr(0, line), {0, 0}).fault && next != std::string_view::npos &&
               std::string_view("{[\"").find(rest[next]) != std::string_view::npos;
    }

    /// The path to the array of objects that holds the most of what the window shows; the nearer to the root,
    /// the likelier.
    std::string guessItems() const {
        const std::string_view text = window_.rest();
        const JsonOutline outline = JsonOutline::of(text);
        std::size_t best = 0;
        double most = 0;
        for (std::size_t i = 0; i < outline.nodes.size(); ++i) {
            const auto& node = outline.nodes[i];
            const bool objects = node.type == JsonOutline::Type::Array && node.children > 0 &&
                                 i + 1 < outline.nodes.size() &&
                                 outline.nodes[i + 1].type == JsonOutline::Type::Object;
            bool inArray = false;
            for (std::int32_t up = node.parent; up >= 0;
                 up = outline.nodes[static_cast<std::size_t>(up)].parent) {
                inArray =
                    inArray || outline.nodes[static_cast<std::size_t>(up)].type == JsonOutline::Type::Array;
            }
            const double weight = static_cast<double>(node.end - node.start) / (1 + node.depth);
            if (objects && !inArray && weight > most) {
                most = weight;
                best = i;
            }
        }
        for (std::size_t i = 0; most == 0 && i < outline.nodes.size(); ++i) {
            if (areRecordsByName(outline, i, text)) {
                most = 1;
                best = i;
            }
        }
        if (most == 0) {
            return "$";
        }
        std::string path = outline.pathOf(best, text);
        // Plain names read better with dots.
        std::string dotted;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const std::size_t close = path.compare(i, 2, "['") == 0 ? path.find("']", i) : std::string::npos;
            const std::string name = close == std::string::npos ? "" : path.substr(i + 2, close - i - 2);
            const bool plain = !name.empty() && std::ranges::all_of(name, [](char c) {
                return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_';
            });
            if (plain) {
                dotted += "." + name;
                i = close + 1;
            } else {
                dotted += path[i];
            }
        }
        return dotted + "[*]";
    }

    /// Whether a node is an object of records by their names: objects only, with much the same members.
    static bool areRecordsByName(const JsonOutline& outline, std::size_t node, std::string_view text) {
        constexpr int kLookedAt = 8;
        const JsonOutline::Node& kept = outline.nodes[node];
        if (kept.type != JsonOutline::Type::Object || kept.children < 2) {
            return false;
        }
        std::set<std::string> first;
        int looked = 0;
        const auto end = static_cast<std::size_t>(kept.subtreeEnd);
        for (std::size_t child = node + 1; child < end && looked < kLookedAt; ++looked) {
            const auto childEnd = static_cast<std::size_t>(outline.nodes[child].subtreeEnd);
            if (outline.nodes[child].type != JsonOutline::Type::Object) {
                return false;
            }
            std::size_t members = 0;
            std::size_t known = 0;
            for (std::size_t member = child + 1; member < childEnd;
                 member = static_cast<std::size_t>(outline.nodes[member].subtreeEnd)) {
                const std::string name = JsonOutline::nameOf(outline.nodes[member], text);
                ++members;
                known += looked == 0 ? (first.insert(name).second ? 1U : 0U) : first.count(name);
            }
            if (known * 2 < members || known == 0) {
                return false;
            }
            child = childEnd;
        }
        return looked >= 2;
    }

    Outcome readLines() {
        while (window_.skipSpace()) {
            if (sink_.isStopped()) {
                return sink_.cancelled();
            }
            std::size_t until = window_.view().rfind('\n');
            while (until == std::string_view::npos || until < window_.at) {
                if (window_.end - window_.at > kMaxRecord) {
                    return tooLong();
                }
                if (!window_.refill()) {
                    until = window_.end;
                    break;
                }
                until = window_.view().rfind('\n');
            }
            if (Outcome read = readWholeLines(until); !read || hopeless()) {
                return read;
            }
        }
        return done();
    }

    /// Many lines are parsed in one go, which is what the bulk parser is fast at; from the first thing on
    /// that it does not like, they are looked at one by one.
    Outcome readWholeLines(std::size_t until) {
        const std::size_t first = window_.at;
        std::size_t last = first; // where the last value that was taken begins
        bool any = false;
        simdjson::dom::document_stream values;
        const bool alike = parser_.parse_many(window_.data() + first, until - first, kBatch).get(values) ==
                           simdjson::SUCCESS;
        for (auto it = values.begin(); alike && it != values.end(); ++it) {
            element value;
            const std::size_t start = first + it.current_index();
            if ((*it).get(value) != simdjson::SUCCESS || !startsItsLine(start)) {
                break;
            }
            if (!sink_.options().fields.empty()) {
                sink_.startRecord(window_.lineOf(start));
            }
            writer_.write(value);
            last = start;
            any = true;
        }
        if (any) {
            const std::size_t end = endOfValue(window_.view().substr(0, until), last);
            window_.at = end == std::string_view::npos ? until : end;
        }
        return readOneByOne(until);
    }

    bool startsItsLine(std::size_t start) const {
        const std::string_view text = window_.view();
        while (start > 0 && (text[start - 1] == ' ' || text[start - 1] == '\t' || text[start - 1] == '\r')) {
            --start;
        }
        return start == 0 || text[start - 1] == '\n' || start == bomEnd_;
    }

    Outcome readOneByOne(std::size_t until) {
        std::int64_t count = 0;
        while (window_.at < until) {
            if (++count % 512 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            if (isBlank(window_.now())) {
                ++window_.at;
                continue;
            }
            const std::size_t end = std::min(window_.view().find('\n', window_.at), until);
            if (end - window_.at > kMaxRecord) {
                return tooLong();
            }
            if (!startsItsLine(window_.at)) {
                find(Kind::Unreadable, "not a JSON record: there is more after the end of the value",
                     "Each line must be one whole JSON value; mend this one. The others are read.",
                     window_.at);
                ++failed_;
            } else {
                parseRecord(end, true);
            }
            window_.at = end;
        }
        return done();
    }

    bool hopeless() const {
        return sink_.builder().size() == 0 && failed_ >= kHopeless;
    }

    Error tooLong() {
        return sink_.error(ErrorCode::TooLarge,
                           fmt::format("one record is larger than {} MiB", kMaxRecord >> 20),
                           "Is this really JSON records? A quote, a bracket or a line end may be missing.",
                           window_.lineOf(window_.at));
    }

    /// Follows the names to an array, passing over everything else, and reads its elements.
    Outcome readStream(const std::vector<std::string>& names) {
        for (const std::string& name : names) {
            if (window_.now() != '{') {
                return nothingThere(name);
            }
            ++window_.at;
            auto found = findMember(name);
            if (!found) {
                return std::move(found.error());
            }
            if (!*found) {
                return nothingThere(name);
            }
        }
        if (window_.now() == '{') { // [*] of an object: its members' values, which are known by their names
            ++window_.at;
            if (Outcome read = readMembers(); !read || cutOff_) {
                return read;
            }
            return readTail(names.size());
        }
        if (window_.now() != '[') {
            return sink_.error(
                ErrorCode::Invalid,
                fmt::format("the path {} leads to a value that is no list", sink_.options().items),
                "Choose a path to an array, and end it with [*].", window_.lineOf(window_.at),
                window_.columnOf(window_.at));
        }
        ++window_.at;
        if (Outcome read = readElements(); !read || cutOff_) {
            return read;
        }
        return readTail(names.size());
    }

    Error nothingThere(const std::string& name) {
        return sink_.error(ErrorCode::NotFound,
                           fmt::format("the path {} selects nothing: there is no member \"{}\"",
                                       sink_.options().items, name),
                           "Choose another array in the answer, or mend the path.",
                           window_.lineOf(window_.at));
    }

    /// Inside an object: at the value of the member of that name, or false at the object's end.
    Result<bool> findMember(const std::string& name) {
        while (window_.skipSpace() && window_.now() != '}') {
            if (sink_.isStopped()) {
                return sink_.cancelled();
            }
            if (window_.now() == ',') {
                ++window_.at;
                continue;
            }
            auto key = wholeValue();
            if (!key) {
                return std::move(key.error());
            }
            const std::string found = unescapedJson(window_.view().substr(window_.at, *key - window_.at));
            if (window_.now() != '"') {
                return syntax("expected a member's name in quotes");
            }
            window_.at = *key;
            if (!window_.skipSpace() || window_.now() != ':') {
                return syntax("expected : after a member's name");
            }
            ++window_.at;
            if (!window_.skipSpace()) {
                return syntax("the document ends early");
            }
            if (found == name) {
                return true;
            }
            if (Outcome skipped = skipValue(); !skipped) {
                return std::move(skipped.error());
            }
        }
        return false;
    }

    Error syntax(std::string message) {
        return sink_.error(ErrorCode::Syntax, "this is not JSON: " + std::move(message),
                           "Mend the file at that place.", window_.lineOf(window_.at),
                           window_.columnOf(window_.at));
    }

    /// Where the value here ends, with all of it in the window.
    Result<std::size_t> wholeValue() {
        std::size_t until = endOfValue(window_.view(), window_.at);
        while (until == std::string_view::npos) {
            if (window_.end - window_.at > kMaxRecord) {
                return tooLong();
            }
            if (!window_.refill()) {
                cutOff_ = true;
                return window_.end;
            }
            until = endOfValue(window_.view(), window_.at);
        }
        if (until - window_.at > kMaxRecord) {
            return tooLong();
        }
        return until;
    }

    /// Passes over a value of any size.
    Outcome skipValue() {
        if (window_.now() != '{' && window_.now() != '[') {
            auto until = wholeValue();
            if (!until) {
                return std::move(until.error());
            }
            window_.at = *until;
            return done();
        }
        JsonBlocks blocks;
        while (true) {
            if (sink_.isStopped()) {
                return sink_.cancelled();
            }
            const std::size_t length = blocks.feed(window_.rest());
            if (length != JsonBlocks::npos) {
                window_.at += length;
                return done();
            }
            window_.at = window_.end;
            if (!window_.refill()) {
                cutOff_ = true;
                return done();
            }
        }
    }

    Outcome readElements() {
        while (window_.skipSpace()) {
            if (sink_.builder().size() % 512 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            if (window_.now() == ']') {
                ++window_.at;
                return done();
            }
            if (window_.now() == ',') {
                const std::size_t comma = window_.at++;
                if (!window_.skipSpace()) {
                    break;
                }
                if (window_.now() == ']') {
                    find(Kind::Unreadable, "a comma has nothing behind it",
                         "Take it out: other programs refuse the file.", comma);
                    continue;
                }
            } else if (sink_.builder().size() + failed_ > 0) {
                find(Kind::Unreadable,
                     fmt::format("expected , or ] after a record, found {}", shown(window_.now())),
                     "Records in an array are separated by commas.", window_.at);
                ++failed_;
            }
            auto until = wholeValue();
            if (!until) {
                return std::move(until.error());
            }
            if (cutOff_ || *until == window_.at) {
                break;
            }
            parseRecord(*until, false);
            window_.at = *until;
            if (hopeless()) {
                return done();
            }
        }
        cutOff_ = true;
        find(
            Kind::CutOff, "the array is never closed: the data seems cut off",
            "What came before is here. Check that it was written, or sent, completely; it should end with ].",
            window_.at);
        return done();
    }

    /// The values of an object's members as records; what a member is called is a field of its own.
    Outcome readMembers() {
        while (window_.skipSpace() && window_.now() != '}') {
            if (sink_.builder().size() % 512 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            if (window_.now() == ',') {
                ++window_.at;
                continue;
            }
            if (window_.now() != '"') {
                return syntax("expected a member's name in quotes");
            }
            auto key = wholeValue();
            if (!key) {
                return std::move(key.error());
            }
            const std::string name = unescapedJson(window_.view().substr(window_.at, *key - window_.at));
            window_.at = *key;
            if (!window_.skipSpace() || window_.now() != ':') {
                return syntax("expected : after a member's name");
            }
            ++window_.at;
            auto until = window_.skipSpace() ? wholeValue() : Result<std::size_t>(window_.at);
            if (!until) {
                return std::move(until.error());
            }
            if (cutOff_ || *until == window_.at) {
                break;
            }
            memberName_ = name;
            parseRecord(*until, false);
            memberName_.reset();
            window_.at = *until;
            if (hopeless()) {
                return done();
            }
        }
        if (!cutOff_ && window_.skipSpace() && window_.now() == '}') {
            ++window_.at;
            return done();
        }
        cutOff_ = true;
        find(Kind::CutOff, "the object is never closed: the data seems cut off",
             "What came before is here. Check that it was written, or sent, completely.", window_.at);
        return done();
    }

    /// Before a record is written.
    void beginRecord() {
        if (memberName_) {
            sink_.builder().setText(sink_.builder().fieldNamed(kMemberField), *memberName_);
        }
    }

    /// What stands behind the array: nothing but the ends of the objects it is in.
    Outcome readTail(std::size_t depth) {
        while (window_.skipSpace()) {
            if (depth == 0) {
                find(Kind::Unreadable, "there is more after the end of the document",
                     "A file holds one document; remove what follows it.", window_.at);
                return done();
            }
            if (window_.now() == '}') {
                --depth;
                ++window_.at;
                continue;
            }
            // Other members: passed over, whatever their names.
            auto found = findMember("\x01 no such name");
            if (!found) {
                return std::move(found.error());
            }
            if (cutOff_) {
                break;
            }
        }
        if (depth > 0) {
            find(Kind::CutOff, "the document ends before it is closed",
                 "Check that it was written completely.", window_.at);
        }
        return done();
    }

    /// A path that needs the whole document in memory.
    Outcome readWhole(const JsonPath& path) {
        while (window_.refill()) {
            if (sink_.isStopped()) {
                return sink_.cancelled();
            }
            if (window_.end > kMaxDocument) {
                return sink_.error(
                    ErrorCode::TooLarge,
                    fmt::format(
                        "the path {} needs the whole document in memory, and it is larger than {} MiB",
                        path.text(), kMaxDocument >> 20),
                    "Use a path of names to one array, as in $.data.items[*]: that is read piece by piece.");
            }
        }
        if (path.query().segments.empty()) { // the document itself is the one record
            parseRecord(window_.end, false);
            window_.at = window_.end;
            return done();
        }
        simdjson::dom::parser parser;
        element root;
        const auto error =
            parser.parse(window_.data() + window_.at, window_.end - window_.at, false).get(root);
        if (error != simdjson::SUCCESS) {
            const JsonOutline outline = JsonOutline::of(window_.rest(), {0, 0});
            if (outline.fault) {
                window_.at += outline.fault->offset;
                return syntax(outline.fault->message);
            }
            return syntax(error == simdjson::DEPTH_ERROR ? "it is nested more than 1,024 deep"
                                                         : simdjson::error_message(error));
        }
        auto nodes = jsonpath::select(path.query(), root, root, false, sink_.stop());
        if (!nodes) {
            return std::move(nodes.error());
        }
        if (nodes->empty()) {
            return sink_.error(ErrorCode::NotFound, fmt::format("the path {} selects nothing", path.text()),
                               "Choose an array in the answer, or mend the path.");
        }
        if (nodes->size() == 1 && !nodes->front().value.is_object() && path.isSingular()) {
            const bool list = nodes->front().value.is_array();
            return sink_.error(ErrorCode::Invalid,
                               fmt::format("the path {} leads to {}, not to records", path.text(),
                                           list ? "a list as a whole" : "a single value"),
                               list ? "End it with [*] to take each of its elements."
                                    : "Choose a path to an array, and end it with [*].");
        }
        for (const jsonpath::Node& node : *nodes) {
            if (sink_.builder().size() % 512 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            writer_.write(node.value);
        }
        window_.at = window_.end;
        return done();
    }

    /// Parses the record at the window's place up to `until` and writes it, or finds what is wrong with it.
    void parseRecord(std::size_t until, bool isLine) {
        std::size_t length = until - window_.at;
        const char* start = window_.data() + window_.at;
        while (length > 0 && isBlank(start[length - 1])) {
            --length;
        }
        // Lines are numbered when they are asked for; in a file of lines each record is one.
        element value;
        const auto error = parser_.parse(start, length, false).get(value);
        if (error == simdjson::SUCCESS) {
            if (!sink_.options().fields.empty()) {
                sink_.startRecord(window_.lineOf(window_.at));
            }
            beginRecord();
            return writer_.write(value);
        }
        const std::string_view text(start, length);
        if (error == simdjson::UTF8_ERROR && firstBadUtf8(text) < text.size()) {
            return writeMended(text);
        }
        const JsonOutline outline = JsonOutline::of(text, {.nodes = 100'000, .depth = 1});
        if (!outline.fault) {
            sink_.startRecord(window_.lineOf(window_.at));
            beginRecord();
            return writer_.write(outline, text);
        }
        ++failed_;
        find(outline.fault->cutOff ? Kind::CutOff : Kind::Unreadable,
             fmt::format("not a JSON record: {}", outline.fault->message),
             isLine ? "Each line must be one whole JSON value; mend this one. The others are read."
                    : "Mend the record, or leave it out. The others are read.",
             window_.at + outline.fault->offset);
    }

    /// Bytes that are no text must not cost the record: they are replaced, and it is said where.
    void writeMended(std::string_view text) {
        const std::size_t first = firstBadUtf8(text);
        const std::string mended = mendedUtf8(text);
        const JsonOutline outline = JsonOutline::of(mended, {.nodes = 100'000, .depth = 1});
        find(Kind::NotUtf8, "the record holds bytes that are not UTF-8; they show as \xEF\xBF\xBD",
             "Choose the character set it was written in, or mend the record.", window_.at + first);
        if (outline.fault) {
            ++failed_;
            find(Kind::Unreadable, fmt::format("not a JSON record: {}", outline.fault->message),
                 "Mend the record.", window_.at + first);
        } else {
            beginRecord();
            writer_.write(outline, mended);
        }
    }

    void find(Kind kind, std::string message, std::string advice, std::size_t offset) {
        const std::int64_t line = window_.lineOf(offset);
        sink_.find(kind, std::move(message), std::move(advice), line, window_.columnOf(offset));
    }

    RecordSink& sink_;
    ReadWindow window_;
    JsonRecordWriter writer_;
    simdjson::dom::parser parser_;
    std::int64_t failed_ = 0;
    std::size_t bomEnd_ = 0; ///< in the first window
    bool cutOff_ = false;
    std::optional<std::string> memberName_; ///< of the record that comes, among an object's members
};

} // namespace

Result<Reading> readJson(std::istream& in, RecordSink& sink) {
    return JsonReading(in, sink).read();
}

} // namespace scorrere
