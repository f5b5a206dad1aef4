// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/starting_points.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <set>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

constexpr std::int64_t kSample = 300;
constexpr std::size_t kFewValues = 8;

struct Sampled {
    std::string name;
    FieldType type = FieldType::Unknown;
    double share = 0;      ///< of records that have it
    double meanLength = 0; ///< bytes
    std::size_t distinct = 0;
    std::int64_t seen = 0;
    bool isPicture = false;
    double smallest = 0;
    double largest = 0;
};

/// An address or a path that ends like a picture's, whatever it is asked with.
bool endsLikePicture(std::string_view text) {
    std::string path(text.substr(0, text.find_first_of("?#")));
    std::ranges::transform(path, path.begin(), [](unsigned char c) { return std::tolower(c); });
    for (const std::string_view end : {".png", ".jpg", ".jpeg", ".webp", ".svg", ".gif", ".avif", ".bmp"}) {
        if (path.ends_with(end)) {
            return true;
        }
    }
    return false;
}

/// The words of a field's name, small: "wingspanMm" and "wingspan_mm" are wingspan, mm.
std::vector<std::string> wordsOf(const std::string& name) {
    std::vector<std::string> words{""};
    for (std::size_t i = 0; i < name.size(); ++i) {
        const auto c = static_cast<unsigned char>(name[i]);
        const bool begins =
            std::isupper(c) != 0 && i > 0 && std::islower(static_cast<unsigned char>(name[i - 1])) != 0;
        if (c == '_' || c == '-' || c == ' ' || c == '.' || begins) {
            words.emplace_back();
        }
        if (std::isalnum(c) != 0 || c >= 0x80) {
            words.back() += static_cast<char>(std::tolower(c));
        }
    }
    std::erase(words, "");
    return words;
}

bool isAmong(const std::string& word, std::initializer_list<std::string_view> words) {
    return std::ranges::find(words, word) != words.end();
}

/// Names one record, or a thing outside, rather than measuring it.
bool namesSomething(const std::string& name) {
    const std::vector<std::string> words = wordsOf(name);
    return !words.empty() &&
           isAmong(words.back(), {"id", "ids", "uuid", "guid", "key", "code", "no", "nr", "number", "zip",
                                  "year", "phone", "isbn", "ean", "sku", "hash", "rank", "index", "version"});
}

bool isAddress(const std::string& name) {
    const std::vector<std::string> words = wordsOf(name);
    return !words.empty() && isAmong(words.back(), {"url", "uri", "link", "href", "path", "hash"});
}

/// How much a name says that its field is what people call the record.
double titleByName(const std::string& name) {
    const std::vector<std::string> words = wordsOf(name);
    if (words.empty()) {
        return 0;
    }
    if (namesSomething(name) || isAddress(name)) {
        return -3;
    }
    return isAmong(words.back(), {"name", "title", "label", "headline", "heading", "subject", "caption"})
               ? words.size() == 1 ? 2.5 : 1.5
               : 0;
}

/// An ICU unit and the endings of names that say it.
struct UnitEnding {
    const char* end;
    const char* skeleton;
};
constexpr UnitEnding kUnits[] = {{"mm", "::unit/millimeter"},  {"cm", "::unit/centimeter"},
                                 {"m", "::unit/meter"},        {"km", "::unit/kilometer"},
                                 {"c", "::unit/celsius"},      {"f", "::unit/fahrenheit"},
                                 {"g", "::unit/gram"},         {"kg", "::unit/kilogram"},
                                 {"ml", "::unit/milliliter"},  {"l", "::unit/liter"},
                                 {"ms", "::unit/millisecond"}, {"s", "::unit/second"},
                                 {"sec", "::unit/second"},     {"min", "::unit/minute"},
                                 {"h", "::unit/hour"},         {"kmh", "::unit/kilometer-per-hour"},
                                 {"pct", "::percent"},         {"percent", "::percent"},
                                 {"eur", "::currency/EUR"},    {"usd", "::currency/USD"},
                                 {"gbp", "::currency/GBP"},    {"chf", "::currency/CHF"},
                                 {"jpy", "::currency/JPY"},    {"mib", "::unit/megabyte"},
                                 {"mb", "::unit/megabyte"},    {"kb", "::unit/kilobyte"}};

std::string joined(const std::vector<std::string>& words, std::size_t count) {
    std::string text;
    for (std::size_t i = 0; i < count; ++i) {
        text += (i > 0 ? " " : "") + words[i];
    }
    return text;
}

Sampled sampleField(const RecordTable& records, int index) {
    const FieldHandle field{index};
    Sampled sampled;
    sampled.name = records.field(field).name;
    sampled.type = records.field(field).type;
    const std::int64_t count = std::min(records.size(), kSample);
    std::set<std::string> values;
    std::int64_t pictures = 0;
    std::size_t bytes = 0;
    for (std::int64_t i = 0; i < count; ++i) {
        const std::int64_t record = i * std::max<std::int64_t>(records.size() / count, 1);
        if (!records.has(record, field)) {
            continue;
        }
        ++sampled.seen;
        const std::string value = records.display(record, field);
        bytes += value.size();
        pictures += endsLikePicture(value) ? 1 : 0;
        values.insert(value.substr(0, 80));
        if (sampled.type == FieldType::Integer || sampled.type == FieldType::Real) {
            const double number = records.real(record, field);
            sampled.smallest = sampled.seen == 1 ? number : std::min(sampled.smallest, number);
            sampled.largest = sampled.seen == 1 ? number : std::max(sampled.largest, number);
        }
    }
    sampled.distinct = values.size();
    if (sampled.seen > 0) {
        sampled.share = static_cast<double>(sampled.seen) / static_cast<double>(count);
        sampled.meanLength = static_cast<double>(bytes) / static_cast<double>(sampled.seen);
        sampled.isPicture = pictures * 2 > sampled.seen;
    }
    return sampled;
}

/// The best of those for which `score` is positive.
template <typename Score>
std::string best(const std::vector<Sampled>& fields, const std::set<std::string>& taken, Score score) {
    const Sampled* found = nullptr;
    double most = 0;
    for (const Sampled& field : fields) {
        const double own = taken.contains(field.name) ? 0 : score(field);
        if (own > most) {
            most = own;
            found = &field;
        }
    }
    return found == nullptr ? std::string() : found->name;
}

Json text(const std::string& pattern, double size, const char* colour = nullptr) {
    Json part = {{"text", pattern}, {"size", size}};
    if (colour != nullptr) {
        part["colour"] = colour;
    }
    return part;
}

std::string named(const std::string& field) {
    return "{" + field + "}";
}

/// Makes the designs out of the roles.
class Maker {
public:
    Maker(FieldRoles roles, std::string pictures)
        : roles_(std::move(roles)), pictures_(std::move(pictures)) {}

    std::vector<StartingPoint> all() const {
        return {{"one line", "A line of text, and a detail at its end.", oneLine()},
                {"title and detail", "A title, what belongs to it, and the text below.", titleAndDetail()},
                {"picture beside text", "A small picture, title and details beside it.", beside()},
                {"picture card", "A picture above its title, on a card.", card()},
                {"reading", "A number, two badges and its attributes.", reading()},
                {"full-bleed picture", "The picture from edge to edge, its caption on it.", fullBleed()}};
    }

private:
    std::string titleText() const {
        return roles_.title.empty() ? roles_.body.empty() ? roles_.number.empty() ? std::string("record")
                                                                                  : named(roles_.number)
                                                          : named(roles_.body)
                                    : named(roles_.title);
    }
    Json title(double size, int lines) const {
        Json part = text(titleText(), size);
        part["weight"] = 600;
        if (lines != 1) {
            part["lines"] = lines;
        }
        return part;
    }
    /// What stands below a title: details and the time, on one line.
    void addDetails(Json& column) const {
        Json row = Json::array();
        if (!roles_.detail.empty()) {
            row.push_back(text(named(roles_.detail), 12, "quiet"));
        }
        if (!roles_.time.empty()) {
            Json time = text("{" + roles_.time + ", date, medium}", 12, "quiet");
            time["missing"] = "no date yet";
            row.push_back(time);
        }
        if (!row.empty()) {
            column.push_back({{"wrap", row}, {"gap", 12}, {"lineGap", 2}});
        }
    }
    void addBody(Json& column, int lines) const {
        if (!roles_.body.empty() && roles_.body != roles_.title) {
            Json body = text(named(roles_.body), 13);
            body["lines"] = lines;
            column.push_back(body);
        }
    }
    Json badge(const std::string& field) const { return {{"badge", named(field)}}; }
    Json attributes() const {
        return {{"repeat", roles_.list},
                {"part", {{"badge", "{entry}"}, {"weight", 400}}},
                {"most", 5},
                {"gap", 4}};
    }
    Json picture() const {
        Json part = {{"picture", pictures_.empty() ? "{+" + roles_.picture + "}" : pictures_}};
        if (!roles_.title.empty()) {
            part["label"] = named(roles_.title);
        }
        part["fallback"] = {{"none", "none"}, {"missing", "missing"}, {"broken", "broken"}};
        return part;
    }
    bool hasPicture() const { return !roles_.picture.empty(); }
    static Json divided(Json part) { return {{"column", Json::array({std::move(part), {{"line", 1}}})}}; }

    Json oneLine() const {
        Json start = title(15, 1);
        start["weight"] = 400;
        start["grow"] = 1;
        Json row = Json::array({start});
        if (!roles_.detail.empty() || !roles_.time.empty()) {
            row.push_back(
                text(!roles_.detail.empty() ? named(roles_.detail) : "{" + roles_.time + ", date, short}", 13,
                     "quiet"));
        }
        return divided({{"row", row}, {"gap", 12}, {"align", "center"}, {"padding", {13, 16}}});
    }
    Json titleAndDetail() const {
        Json column = Json::array();
        Json head = title(15, 2);
        if (roles_.status.empty()) {
            column.push_back(head);
        } else {
            head["grow"] = 1;
            column.push_back(
                {{"row", Json::array({head, badge(roles_.status)})}, {"gap", 8}, {"align", "start"}});
        }
        addDetails(column);
        addBody(column, 0);
        return divided({{"column", column}, {"gap", 3}, {"padding", {12, 16}}});
    }
    Json beside() const {
        Json column = Json::array({title(15, 1)});
        addDetails(column);
        addBody(column, 3);
        Json row = Json::array();
        if (hasPicture()) {
            Json shown = picture();
            shown["width"] = 56;
            shown["height"] = 56;
            shown["radius"] = 8;
            row.push_back(shown);
        }
        row.push_back({{"column", column}, {"gap", 2}, {"grow", 1}});
        return divided({{"row", row}, {"gap", 12}, {"padding", {12, 16}}});
    }
    Json card() const {
        Json below = Json::array({title(16, 2)});
        addDetails(below);
        if (!roles_.list.empty()) {
            below.push_back(attributes());
        }
        Json column = Json::array();
        if (hasPicture()) {
            Json shown = picture();
            shown["aspect"] = 1.5;
            column.push_back(shown);
        }
        column.push_back({{"column", below}, {"gap", 4}, {"padding", {10, 14, 14, 14}}});
        return {{"column", Json::array({{{"column", column}, {"ground", "faint"}, {"radius", 12}}})},
                {"padding", {8, 16}}};
    }
    Json reading() const {
        Json column = Json::array({title(13, 1)});
        Json row = Json::array();
        if (!roles_.number.empty()) {
            Json number = text("{" + roles_.number + ", number}", 30);
            number["weight"] = 600;
            row.push_back(number);
            row.push_back(text(unitOf(roles_.number), 14, "quiet"));
        }
        for (const std::string& field : {roles_.status, roles_.second}) {
            if (!field.empty()) {
                row.push_back(badge(field));
            }
        }
        if (!roles_.step.empty()) {
            row.push_back({{"scale", roles_.step}, {"steps", 5}});
        }
        if (!row.empty()) {
            column.push_back({{"row", row}, {"gap", 8}, {"align", "center"}});
        }
        if (!roles_.list.empty()) {
            column.push_back(attributes());
        }
        return divided({{"column", column}, {"gap", 4}, {"padding", {10, 16}}});
    }
    Json fullBleed() const {
        Json caption = Json::array({title(17, 2)});
        if (!roles_.detail.empty()) {
            caption.push_back(text(named(roles_.detail), 13, "quiet"));
        }
        Json words = {{"column", caption}, {"gap", 2}, {"padding", {10, 16}}, {"ground", "paper"}};
        if (!hasPicture()) {
            return words;
        }
        Json shown = picture();
        shown["aspect"] = 1.78;
        return {{"column", Json::array({shown, words})}};
    }

    /// The unit a field's name ends in, as in temperature_c.
    static std::string unitOf(const std::string& field) {
        const std::size_t at = field.rfind('_');
        const std::string end = at == std::string::npos ? std::string() : field.substr(at + 1);
        if (end == "c" || end == "f") {
            return end == "c" ? "°C" : "°F";
        }
        const bool unit = !end.empty() && end.size() <= 3;
        return unit ? end : field;
    }

    FieldRoles roles_;
    std::string pictures_;
};

} // namespace

FieldWriting fieldWriting(const RecordTable& records, FieldHandle field) {
    const std::string& name = records.field(field).name;
    const std::vector<std::string> words = wordsOf(name);
    FieldWriting writing{named(name), joined(words, words.size()), false};
    switch (records.field(field).type) {
    case FieldType::Text:
        writing.saysItself = !namesSomething(name);
        break;
    case FieldType::Time: {
        bool hasHours = false;
        for (std::int64_t r = 0; r < std::min(records.size(), kSample) && !hasHours; ++r) {
            hasHours = records.has(r, field) && records.text(r, field).find(':') != std::string_view::npos;
        }
        writing.pattern = fmt::format("{{{}, date, {}}}", name, hasHours ? "::yMMMdjm" : "medium");
        writing.saysItself = true;
        break;
    }
    case FieldType::Integer:
    case FieldType::Real: {
        const auto unit = words.size() < 2 ? std::end(kUnits)
                                           : std::ranges::find_if(kUnits, [&words](const UnitEnding& ending) {
                                                 return words.back() == ending.end;
                                             });
        if (unit != std::end(kUnits)) {
            writing.pattern = fmt::format("{{{}, number, {}}}", name, unit->skeleton);
            writing.label = joined(words, words.size() - 1);
        } else if (namesSomething(name)) {
            writing.pattern = fmt::format("{{{}, number, ::group-off}}", name);
        }
        break;
    }
    default:
        break;
    }
    return writing;
}

bool isPatternName(const std::string& name) {
    const auto fits = [](char c) {
        const auto byte = static_cast<unsigned char>(c);
        return byte >= 0x80 || std::isalnum(byte) != 0 || c == '_';
    };
    return !name.empty() && std::ranges::all_of(name, fits) &&
           std::isdigit(static_cast<unsigned char>(name[0])) == 0;
}

FieldRoles fieldRoles(const RecordTable& records) {
    std::vector<Sampled> fields;
    for (int i = 0; i < static_cast<int>(records.fields().size()); ++i) {
        Sampled sampled = sampleField(records, i);
        if (sampled.seen > 0 && isPatternName(sampled.name)) {
            fields.push_back(std::move(sampled));
        }
    }
    FieldRoles roles;
    std::set<std::string> taken;
    const auto take = [&](std::string& role, auto score) {
        role = best(fields, taken, score);
        if (!role.empty()) {
            taken.insert(role);
        }
    };
    const auto isText = [](const Sampled& f) { return f.type == FieldType::Text && !f.isPicture; };
    take(roles.picture, [](const Sampled& f) { return f.isPicture ? f.share : 0.0; });
    take(roles.list, [](const Sampled& f) { return f.type == FieldType::List ? f.share : 0.0; });
    take(roles.time, [](const Sampled& f) { return f.type == FieldType::Time ? f.share : 0.0; });
    take(roles.status, [&](const Sampled& f) {
        return isText(f) && f.distinct > 1 && f.distinct <= kFewValues && f.seen > 20 && f.meanLength < 24
                   ? f.share * 2 - static_cast<double>(f.distinct) / 20
                   : 0.0;
    });
    take(roles.body, [&](const Sampled& f) {
        return isText(f) && f.meanLength > 40 ? f.meanLength / 100 + f.share : 0.0;
    });
    take(roles.title, [&](const Sampled& f) {
        const double various = static_cast<double>(f.distinct) / static_cast<double>(f.seen);
        return isText(f) && f.meanLength <= 80
                   ? std::max(f.share + various + (f.meanLength > 3 ? 0.5 : 0.0) + titleByName(f.name), 0.01)
                   : 0.0;
    });
    take(roles.detail, [&](const Sampled& f) {
        return isText(f) && f.meanLength <= 60 && !isAddress(f.name)
                   ? std::max(f.share + std::min(titleByName(f.name), 0.0) / 6, 0.01)
                   : 0.0;
    });
    take(roles.step, [](const Sampled& f) {
        return f.type == FieldType::Integer && f.smallest >= 0 && f.largest <= 7 && f.distinct > 2 ? f.share
                                                                                                   : 0.0;
    });
    take(roles.number, [](const Sampled& f) {
        const bool counts = f.type == FieldType::Integer && f.distinct < static_cast<std::size_t>(f.seen) &&
                            !namesSomething(f.name);
        return f.type == FieldType::Real ? f.share + 0.5 : counts ? f.share : 0.0;
    });
    take(roles.second, [&](const Sampled& f) {
        return f.type == FieldType::Boolean || (isText(f) && f.distinct <= 40) ? f.share : 0.0;
    });
    return roles;
}

std::vector<StartingPoint> startingPoints(const RecordTable& records, const std::string& pictures) {
    return Maker(fieldRoles(records), pictures).all();
}

namespace {

/// A field as rules name it.
std::string ruleName(const std::string& field) {
    const bool isPlain =
        !field.empty() && !(field[0] >= '0' && field[0] <= '9') && std::ranges::all_of(field, [](char c) {
            return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_';
        });
    return isPlain ? "@." + field : "@[" + nlohmann::ordered_json(field).dump() + "]";
}

/// The text field that parts records into the fewest sorts, as far as a look at the first tells; empty: none does.
std::string sortField(const RecordTable& records) {
    constexpr std::int64_t kLook = 500;
    std::string fewest;
    std::size_t least = SIZE_MAX;
    for (const Field& field : records.fields()) {
        const auto handle = records.find(field.name);
        if (field.type != FieldType::Text || !handle) {
            continue;
        }
        std::set<std::string_view> values;
        for (std::int64_t r = 0; r < std::min(records.size(), kLook); ++r) {
            if (records.has(r, *handle)) {
                values.insert(records.text(r, *handle));
            }
        }
        if (values.size() >= 2 && values.size() < least) {
            least = values.size();
            fewest = field.name;
        }
    }
    return fewest;
}

} // namespace

std::string kindRule(const RecordTable& records) {
    const FieldRoles roles = fieldRoles(records);
    const std::string sorts = roles.status.empty() ? sortField(records) : roles.status;
    const std::string& field = sorts.empty() ? roles.title : sorts;
    const auto handle = field.empty() ? std::nullopt : records.find(field);
    for (std::int64_t r = std::min<std::int64_t>(records.size(), 50) - 1; handle && r >= 0; --r) {
        if (records.has(r, *handle) && records.field(*handle).type == FieldType::Text) {
            return ruleName(field) +
                   " == " + nlohmann::ordered_json(std::string(records.text(r, *handle))).dump();
        }
    }
    return "@";
}

} // namespace scorrere::workbench
