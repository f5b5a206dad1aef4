// SPDX-License-Identifier: Apache-2.0
//
// pugixml wants a whole document in memory; a file may be larger. So a small scanner follows the tags through
// a window, cuts out each element at the chosen path, and pugixml reads that one. The scanner knows tags,
// quotes, comments, CDATA, instructions and the document type, nothing more; what is wrong inside an element
// is found, and placed, by the parser.
#include "engine/record/json_outline.h"
#include "engine/record/json_path.h"
#include "engine/record/read_window.h"

#include <fmt/format.h>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <simdjson.h>
#include <utility>

namespace scorrere {

namespace {

using Kind = ReadFinding::Kind;
constexpr std::size_t kMaxDepth = 10'000;

struct Tag {
    enum class Kind : std::uint8_t { Open, Close, Empty, Other, End, CutOff };
    Kind kind = Kind::End;
    std::size_t start = 0; ///< of its <
    std::size_t end = 0;   ///< behind its >
    std::string_view name;
};

/// The tag at or after `from`. CutOff: the text ends inside it, from `start`.
Tag nextTag(std::string_view text, std::size_t from) {
    Tag tag;
    tag.start = text.find('<', from);
    if (tag.start == std::string_view::npos) {
        return tag;
    }
    const std::string_view rest = text.substr(tag.start);
    const auto until = [&](std::string_view end, std::size_t skip) {
        const std::size_t found = rest.find(end, skip);
        tag.kind = found == std::string_view::npos ? Tag::Kind::CutOff : Tag::Kind::Other;
        tag.end = tag.start + found + end.size();
        return tag;
    };
    if (rest.starts_with("<!--")) {
        return until("-->", 4);
    }
    if (rest.starts_with("<![CDATA[")) {
        return until("]]>", 9);
    }
    if (rest.starts_with("<?")) {
        return until("?>", 2);
    }
    char quote = 0;
    int brackets = 0;
    std::size_t i = 1;
    for (; i < rest.size(); ++i) {
        const char c = rest[i];
        if (quote != 0) {
            quote = c == quote ? '\0' : quote;
        } else if (c == '"' || c == '\'') {
            quote = c;
        } else if (rest[1] == '!' && (c == '[' || c == ']')) {
            brackets += c == '[' ? 1 : -1;
        } else if (c == '>' && brackets <= 0) {
            break;
        }
    }
    if (i >= rest.size()) {
        tag.kind = Tag::Kind::CutOff;
        return tag;
    }
    tag.end = tag.start + i + 1;
    if (rest[1] == '!') {
        tag.kind = Tag::Kind::Other;
        return tag;
    }
    tag.kind = rest[1] == '/' ? Tag::Kind::Close : rest[i - 1] == '/' ? Tag::Kind::Empty : Tag::Kind::Open;
    const std::size_t first = tag.kind == Tag::Kind::Close ? 2 : 1;
    tag.name = rest.substr(first, rest.find_first_of(" \t\r\n/>", first) - first);
    return tag;
}

/// The path of an element in what was seen of a document, and how often it was.
struct SeenPath {
    std::string path;
    std::size_t depth = 0;
    int count = 0;
};

/// Every path down to a few levels, in the order it first comes.
std::vector<SeenPath> seenPaths(std::string_view text) {
    constexpr std::size_t kLevels = 8;
    constexpr std::size_t kMost = 1000;
    std::vector<SeenPath> seen;
    std::map<std::string, std::size_t> known;
    std::vector<std::string> open;
    for (Tag tag = nextTag(text, 0); tag.kind != Tag::Kind::End && tag.kind != Tag::Kind::CutOff;
         tag = nextTag(text, tag.end)) {
        if (tag.kind == Tag::Kind::Close) {
            if (!open.empty()) {
                open.pop_back();
            }
            continue;
        }
        if (tag.kind == Tag::Kind::Other) {
            continue;
        }
        const std::size_t depth = open.size();
        const std::string path =
            depth < kLevels ? fmt::format("{}/{}", open.empty() ? "" : open.back(), tag.name) : std::string();
        if (depth < kLevels && (seen.size() < kMost || known.contains(path))) {
            const auto [kept, isNew] = known.try_emplace(path, seen.size());
            if (isNew) {
                seen.push_back({path, depth, 0});
            }
            ++seen[kept->second].count;
        }
        if (tag.kind == Tag::Kind::Open) {
            if (depth > kMaxDepth) {
                break;
            }
            open.push_back(path);
        }
    }
    return seen;
}

/// The shallowest path that repeats in what the start of the document shows; else the root's.
std::string guessPath(std::string_view text) {
    const std::vector<SeenPath> seen = seenPaths(text);
    const SeenPath* best = nullptr;
    for (const SeenPath& path : seen) {
        const bool better = best == nullptr || path.depth < best->depth ||
                            (path.depth == best->depth && path.count > best->count);
        if (path.count > 1 && better) {
            best = &path;
        }
    }
    return best != nullptr ? best->path : seen.empty() ? std::string() : seen.front().path;
}

/// Which elements, by their path from the record's own (as /trap/place), are lists. XML writes one thing of a
/// kind as itself and two as two, so what is a list shows when the second comes; from then on it is one
/// everywhere, and what was written before is written anew.
class Lists {
public:
    static constexpr std::size_t kMostSingles =
        10'000; ///< of the elements that are remembered as having been alone

    bool has(const std::string& path) const { return lists_.contains(path); }
    /// Always one: a JSONPath of the user's asks for it by its place.
    void demand(const std::string& path) { lists_.insert(path); }
    void sawOne(const std::string& path) {
        if (singles_.size() < kMostSingles) {
            singles_.insert(path);
        }
    }
    void sawSeveral(const std::string& path) {
        if (lists_.insert(path).second && singles_.erase(path) != 0) {
            late_.insert(path.substr(1, path.find('/', 1) - 1));
        }
    }
    /// The record's children in which something was found to be a list after it had been alone; forgets them.
    std::set<std::string> takeLate() { return std::exchange(late_, {}); }

private:
    std::set<std::string> lists_, singles_, late_;
};

/// An element as JSON: its text when it has nothing else, else an object.
std::string asJson(const pugi::xml_node& element, const std::string& path, Lists& lists, int depth = 0) {
    const bool plain = element.attributes().empty() && !element.find_child([](const pugi::xml_node& n) {
        return n.type() == pugi::node_element;
    });
    if (plain || depth > 100) {
        return quotedJson(element.text().get());
    }
    struct Member {
        std::string name;
        std::vector<std::string> values;
        std::string path; ///< of the elements; empty: an attribute or text
    };
    std::vector<Member> members;
    const auto add = [&members](const std::string& name, std::string json, std::string from) {
        for (Member& known : members) {
            if (known.name == name) {
                known.values.push_back(std::move(json));
                return;
            }
        }
        members.push_back({name, {std::move(json)}, std::move(from)});
    };
    for (const pugi::xml_attribute& attribute : element.attributes()) {
        add(attribute.name(), quotedJson(attribute.value()), {});
    }
    for (const pugi::xml_node& child : element.children()) {
        if (child.type() == pugi::node_element) {
            const std::string at = fmt::format("{}/{}", path, child.name());
            add(child.name(), asJson(child, at, lists, depth + 1), at);
        }
    }
    if (*element.text().get() != '\0') {
        add("text", quotedJson(element.text().get()), {});
    }
    std::string out = "{";
    for (const Member& member : members) {
        if (member.values.size() > 1 && !member.path.empty()) {
            lists.sawSeveral(member.path);
        } else if (!member.path.empty()) {
            lists.sawOne(member.path);
        }
        const bool list = member.values.size() > 1 || lists.has(member.path);
        out += fmt::format("{}{}:", out.size() > 1 ? "," : "", quotedJson(member.name));
        out += list ? fmt::format("[{}]", fmt::join(member.values, ",")) : member.values[0];
    }
    return out + "}";
}

/// What asJson made, with what has become a list since as one.
void writeAnew(simdjson::dom::element value, const std::string& path, const Lists& lists, std::string& out) {
    simdjson::dom::array values;
    simdjson::dom::object members;
    if (value.get(values) == simdjson::SUCCESS) {
        out += '[';
        for (const simdjson::dom::element each : values) {
            out += out.back() == '[' ? "" : ",";
            writeAnew(each, path, lists, out);
        }
        out += ']';
    } else if (value.get(members) == simdjson::SUCCESS) {
        out += '{';
        for (const auto [name, each] : members) {
            const std::string at = fmt::format("{}/{}", path, name);
            const bool wrap = !each.is_array() && lists.has(at);
            out += fmt::format("{}{}:{}", out.back() == '{' ? "" : ",", quotedJson(name), wrap ? "[" : "");
            writeAnew(each, at, lists, out);
            out += wrap ? "]" : "";
        }
        out += '}';
    } else {
        out += simdjson::minify(value);
    }
}

class XmlReading {
public:
    XmlReading(std::istream& in, RecordSink& sink) : sink_(sink), window_(in, sink) {
        for (const FieldChoice& choice : sink.options().fields) {
            auto path =
                choice.path.starts_with('$') ? JsonPath::parse(choice.path) : Result<JsonPath>(Error{});
            if (path && !choice.leftOut) {
                demandLists(path->query());
                nested_.push_back({choice.name, std::move(*path)});
            } else if (!choice.path.empty() && !choice.leftOut && badPath_.empty()) {
                badPath_ = choice.path;
            }
        }
    }

    Result<Reading> read() {
        if (!badPath_.empty()) {
            return sink_.error(ErrorCode::Invalid, fmt::format("\"{}\" is no path into an element", badPath_),
                               "Write a JSONPath from the element, as in $.trap.place or $.trap[0]['@id'].");
        }
        window_.refill();
        if (!window_.skipSpace()) {
            return sink_.error(ErrorCode::Syntax, "there is nothing in it", "Expected an XML document.", 1);
        }
        sink_.used().form = SourceForm::Xml;
        if (sink_.options().items.empty()) {
            sink_.used().items = guessPath(window_.rest());
        }
        if (sink_.options().items.empty() || sink_.options().items[0] != '/') {
            return sink_.error(ErrorCode::Syntax,
                               sink_.options().items.empty()
                                   ? std::string("this is not XML: it has no element")
                                   : fmt::format("\"{}\" is not an element's path", sink_.options().items),
                               "Name the elements from the root, as in /survey/sightings/sighting.");
        }
        if (Outcome elements = readElements(); !elements) {
            return std::move(elements.error());
        }
        if (sink_.builder().size() == 0 && sink_.reading().findings.empty()) {
            return sink_.error(ErrorCode::NotFound,
                               fmt::format("the path {} selects nothing", sink_.options().items),
                               "Choose another element in the answer, or mend the path.");
        }
        return sink_.finish(window_.bytes());
    }

private:
    /// A value from deep inside an element.
    struct Nested {
        std::string name;
        JsonPath path;
    };

    /// What a path takes one of by its place, or all of, is a list, also where it stands alone.
    void demandLists(const jsonpath::Query& query) {
        std::string path;
        for (const jsonpath::Segment& segment : query.segments) {
            if (segment.descendant || segment.selectors.size() != 1) {
                return;
            }
            if (segment.selectors[0].kind == jsonpath::Selector::Kind::Name) {
                path += '/' + segment.selectors[0].name;
            } else if (!path.empty()) {
                lists_.demand(path);
            }
        }
    }

    /// Gives what came before the shape that this record showed to be the right one.
    void mendEarlier() {
        for (const std::string& name : lists_.takeLate()) {
            const auto other = renamed_.find(name);
            const int field = sink_.builder().fieldNamed(other == renamed_.end() ? name : other->second);
            sink_.builder().rewriteJson(field, [&](std::string_view json) {
                simdjson::dom::element value;
                if (parser_.parse(json.data(), json.size()).get(value) != simdjson::SUCCESS) {
                    return std::string(json); // cannot be: it was made here
                }
                std::string anew;
                writeAnew(value, '/' + name, lists_, anew);
                return anew;
            });
        }
    }

    void writeNested(const pugi::xml_node& record) {
        if (nested_.empty()) {
            return;
        }
        const std::string json = mendedUtf8(asJson(record, {}, lists_));
        for (const Nested& nested : nested_) {
            const auto found = nested.path.select(json, sink_.stop());
            if (!found || found->empty()) {
                continue;
            }
            RecordBuilder& builder = sink_.builder();
            const int field = builder.fieldNamed(nested.name);
            const std::string& value = found->front().json;
            if (value.starts_with('[')) {
                builder.setMany(field, value);
            } else if (builder.wantsMany(field)) {
                builder.setMany(field, "[" + value + "]");
            } else if (value.starts_with('{')) {
                builder.setJson(field, FieldType::Object, value);
            } else if (value.starts_with('"')) {
                builder.setWritten(field, unescapedJson(value));
            }
        }
    }

    Outcome readElements() {
        const std::string& wanted = sink_.options().items;
        std::vector<std::size_t> ends; // of the path, before each open element
        std::string path;
        std::size_t scanned = 0; // from window_.at; inside an element, `at` stays at its start
        std::size_t recordDepth = 0;
        std::int64_t tags = 0;
        while (true) {
            if (++tags % 1000 == 0 && sink_.isStopped()) {
                return sink_.cancelled();
            }
            const Tag tag = nextTag(window_.rest(), scanned);
            if (tag.kind == Tag::Kind::End || tag.kind == Tag::Kind::CutOff) {
                if (window_.end - window_.at > kMaxRecord) {
                    return sink_.error(ErrorCode::TooLarge,
                                       fmt::format("one element is larger than {} MiB", kMaxRecord >> 20),
                                       "Choose the path of a smaller element.", window_.lineOf(window_.at));
                }
                if (recordDepth == 0) {
                    const std::size_t keep =
                        tag.kind == Tag::Kind::CutOff ? tag.start : window_.end - window_.at;
                    window_.at += keep;
                    scanned = 0;
                }
                if (!window_.refill()) {
                    if (!ends.empty() || tag.kind == Tag::Kind::CutOff) {
                        find(Kind::CutOff, "the document ends before it is closed: it seems cut off",
                             "What came before is here. Check that it was written completely.", window_.end);
                    }
                    return done();
                }
                continue;
            }
            scanned = tag.end;
            if (tag.kind == Tag::Kind::Close) {
                if (ends.empty() || path.substr(ends.back() + 1) != tag.name) {
                    find(Kind::CutOff,
                         fmt::format("</{}> closes an element that is not open", tag.name.substr(0, 60)),
                         "Mend the document there; what came before is here.", window_.at + tag.start);
                    return done();
                }
                if (ends.size() == recordDepth) {
                    element(tag.end);
                    recordDepth = 0;
                    scanned = 0;
                }
                path.resize(ends.back());
                ends.pop_back();
                continue;
            }
            if (tag.kind == Tag::Kind::Other) {
                const std::string_view other = window_.rest().substr(tag.start, tag.end - tag.start);
                if (other.starts_with("<!DOCTYPE")) {
                    for (std::size_t at = other.find("<!ENTITY"); at != std::string_view::npos;
                         at = other.find("<!ENTITY", at + 1)) {
                        ++entities_;
                    }
                }
                continue;
            }
            const bool isRecord = recordDepth == 0 && path.size() + 1 + tag.name.size() == wanted.size() &&
                                  wanted.starts_with(path) && wanted.ends_with(tag.name) &&
                                  wanted[path.size()] == '/';
            if (isRecord) {
                window_.at += tag.start;
                scanned -= tag.start;
                if (tag.kind == Tag::Kind::Empty) {
                    element(scanned);
                    scanned = 0;
                }
            }
            if (tag.kind == Tag::Kind::Open) {
                if (ends.size() >= kMaxDepth) {
                    return sink_.error(ErrorCode::TooLarge,
                                       fmt::format("elements are nested more than {} deep", kMaxDepth),
                                       "This does not look like records.", window_.lineOf(window_.at));
                }
                ends.push_back(path.size());
                path += '/';
                path += tag.name;
                recordDepth = isRecord ? ends.size() : recordDepth;
            }
        }
    }

    /// Reads the element at the window's place, `length` bytes long, and moves behind it.
    void element(std::size_t length) {
        const std::string_view text = window_.rest().substr(0, length);
        sink_.startRecord(window_.lineOf(window_.at));
        pugi::xml_document document;
        const pugi::xml_parse_result parsed =
            document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_utf8);
        if (!parsed) {
            find(Kind::Unreadable, fmt::format("not an XML element: {}", parsed.description()),
                 "Mend the element. The others are read.",
                 window_.at + static_cast<std::size_t>(std::max<std::ptrdiff_t>(parsed.offset, 0)));
            window_.at += length;
            return;
        }
        if (entities_ > 0 && !entitiesTold_ && text.find('&') != std::string_view::npos) {
            entitiesTold_ = true;
            find(Kind::Unreadable,
                 fmt::format("the document declares {} of its own; they are not expanded, and stand as they "
                             "are written",
                             entities_ == 1 ? "an entity" : fmt::format("{} entities", entities_)),
                 "Expand them before, if they are meant: some files use them to blow up what reads them.",
                 window_.at);
        }
        if (firstBadUtf8(text) < text.size()) {
            find(Kind::NotUtf8, "the element holds bytes that are not UTF-8; they show as \xEF\xBF\xBD",
                 "Choose the character set it was written in, or mend the element.",
                 window_.at + firstBadUtf8(text));
        }
        write(document.first_child());
        window_.at += length;
    }

    void write(const pugi::xml_node& record) {
        RecordBuilder& builder = sink_.builder();
        int expected = 0;
        const auto fieldOf = [&](const std::string& name) {
            const int field = builder.fieldNamed(name, expected);
            expected = field < 0 ? expected : field + 1;
            return field;
        };
        for (const pugi::xml_attribute& attribute : record.attributes()) {
            builder.setWritten(fieldOf(attribute.name()), mendedUtf8(attribute.value()));
        }
        for (pugi::xml_node child = record.first_child(); child; child = child.next_sibling()) {
            if (child.type() != pugi::node_element || hasEarlierTwin(child)) {
                continue;
            }
            const std::string name =
                record.attribute(child.name()) ? std::string(child.name()) + "_2" : std::string(child.name());
            if (name != child.name()) {
                renamed_[child.name()] = name;
            }
            const std::string path = fmt::format("/{}", child.name());
            const int field = fieldOf(name);
            if (child.next_sibling(child.name())) {
                std::vector<std::string> values;
                for (pugi::xml_node twin = child; twin; twin = twin.next_sibling(child.name())) {
                    values.push_back(asJson(twin, path, lists_));
                }
                // Once a list anywhere, a list everywhere.
                builder.setMany(field, mendedUtf8(fmt::format("[{}]", fmt::join(values, ","))));
                continue;
            }
            const std::string json = asJson(child, path, lists_);
            if (builder.wantsMany(field)) {
                builder.setMany(field, mendedUtf8(fmt::format("[{}]", json)));
            } else if (json[0] == '{') {
                builder.setJson(field, FieldType::Object, mendedUtf8(json));
            } else if (child.first_child()) {
                builder.setWritten(field, mendedUtf8(child.text().get()));
            }
        }
        if (const char* own = record.text().get(); *own != '\0') {
            builder.setWritten(fieldOf("text"), mendedUtf8(own));
        }
        writeNested(record);
        sink_.endRecord();
        mendEarlier();
    }

    static bool hasEarlierTwin(const pugi::xml_node& child) {
        return static_cast<bool>(child.previous_sibling(child.name()));
    }

    void find(Kind kind, std::string message, std::string advice, std::size_t offset) {
        const std::int64_t line = window_.lineOf(offset);
        sink_.find(kind, std::move(message), std::move(advice), line, window_.columnOf(offset));
    }

    RecordSink& sink_;
    ReadWindow window_;
    std::vector<Nested> nested_;
    Lists lists_;
    std::map<std::string, std::string>
        renamed_; ///< the fields of children that are called as an attribute is
    simdjson::dom::parser parser_;
    std::string badPath_;       ///< of a field; empty: none
    std::int64_t entities_ = 0; ///< declared by the document
    bool entitiesTold_ = false;
};

} // namespace

std::vector<std::string> xmlElementPaths(std::string_view start) {
    std::vector<std::string> paths;
    for (const SeenPath& path : seenPaths(start)) {
        if (path.count > 1 && paths.size() < 20) {
            paths.push_back(path.path);
        }
    }
    return paths;
}

Result<Reading> readXml(std::istream& in, RecordSink& sink) {
    return XmlReading(in, sink).read();
}

} // namespace scorrere
