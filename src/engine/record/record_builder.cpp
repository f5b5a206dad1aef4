// SPDX-License-Identifier: Apache-2.0
//
// A field's type is the narrowest that holds all its values so far. Within the open segment a value that does
// not fit widens the column at once; closed segments are shared with tables that were given out, so widening
// one makes another column and leaves the old one to whoever still reads it. Times are kept as their text, so
// widening one to text loses nothing. Whole numbers are packed into as few bytes as a segment's spread needs:
// a small number must not cost more than its text.
#include "engine/record/record_builder.h"

#include "engine/record/json_outline.h"

#include "engine/record/charset.h"
#include "engine/record/local_values.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <limits>
#include <unordered_map>

namespace scorrere {

namespace {

constexpr std::size_t kShown = 60;

bool isWordBool(std::string_view text, bool& value) {
    value = text == "true";
    return value || text == "false";
}

/// Whether a number keeps its writing: no needless zeros or signs in front.
bool isPlainNumber(std::string_view text) {
    const std::size_t sign = !text.empty() && text[0] == '-' ? 1 : 0;
    if (text.size() <= sign || text[sign] < '0' || text[sign] > '9') {
        return false;
    }
    return text[sign] != '0' || text.size() == sign + 1 || text[sign + 1] == '.';
}

} // namespace

std::optional<std::int64_t> parseInteger(std::string_view text) {
    std::int64_t value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc() && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

std::optional<double> parseReal(std::string_view text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error == std::errc::result_out_of_range && end == text.data() + text.size()) {
        // Too small to be told from nothing, as in 1e-400, is nothing; too large is no number.
        const double nearest = std::strtod(std::string(text).c_str(), nullptr);
        return std::abs(nearest) < 1 ? std::optional(nearest) : std::nullopt;
    }
    return error == std::errc() && end == text.data() + text.size() && std::isfinite(value)
               ? std::optional(value)
               : std::nullopt;
}

RecordBuilder::RecordBuilder(const std::vector<FieldChoice>& choices, Misfit misfit)
    : misfit_(std::move(misfit)) {
    for (const FieldChoice& choice : choices) {
        if (choice.leftOut || choice.type != FieldType::Unknown) {
            const bool isLocal = !choice.locale.empty() && !choice.leftOut;
            choices_.push_back({choice.name, choice.type,
                                isLocal ? std::make_shared<const LocalValues>(choice.locale) : nullptr,
                                choice.leftOut});
        }
    }
}

int RecordBuilder::findField(std::string_view name) {
    const auto it = std::ranges::find(fields_, name, &Field::name);
    if (it != fields_.end()) {
        return static_cast<int>(it - fields_.begin());
    }
    const auto choice = std::ranges::find(choices_, name, &Choice::name);
    if (choice != choices_.end() && choice->leftOut) {
        return -1;
    }
    const FieldType type = choice == choices_.end() ? FieldType::Unknown : choice->type;
    fields_.push_back({std::string(name), type});
    chosen_.push_back(type);
    local_.push_back(choice == choices_.end() ? nullptr : choice->local);
    many_.push_back(0);
    open_.emplace_back();
    return static_cast<int>(fields_.size()) - 1;
}

/// Gives every row before `rows` a slot, so that the next value lands in its own row.
void RecordBuilder::pad(Column& column, std::size_t rows) {
    switch (column.type) {
    case FieldType::Unknown:
        break;
    case FieldType::Boolean:
        column.booleans.resize(rows);
        break;
    case FieldType::Integer:
        column.integers.resize(rows);
        break;
    case FieldType::Real:
        column.reals.resize(rows);
        break;
    default:
        column.ends.resize(rows, static_cast<std::uint32_t>(column.bytes.size()));
        break;
    }
    column.present.resize((rows + 63) / 64);
}

/// Each text of a column as `anew` makes it.
void RecordBuilder::rewrite(Column& column, std::size_t rows,
                            const std::function<std::string(std::string_view)>& anew) {
    pad(column, rows);
    std::string bytes;
    std::vector<std::uint32_t> ends;
    for (std::size_t i = 0; i < rows; ++i) {
        if (column.has(i)) {
            bytes += anew(column.textAt(i));
        }
        ends.push_back(static_cast<std::uint32_t>(bytes.size()));
    }
    column.bytes = std::move(bytes);
    column.ends = std::move(ends);
    column.codes = {};
}

/// Each value as a list of its own.
void RecordBuilder::makeLists(Column& column, std::size_t rows) {
    // Numbers and yes or no are JSON as they are written; texts and times need quotes.
    const FieldType from = column.type;
    const bool isJson = from != FieldType::Text && from != FieldType::Time;
    widen(column, FieldType::Text, rows);
    rewrite(column, rows, [isJson](std::string_view value) {
        return fmt::format("[{}]", isJson ? std::string(value) : quotedJson(value));
    });
    column.type = FieldType::List;
}

void RecordBuilder::rewriteJson(int field, const std::function<std::string(std::string_view)>& anew) {
    const auto isJson = [](const Column& column) {
        return column.type == FieldType::List || column.type == FieldType::Object;
    };
    if (field < 0) {
        return;
    }
    const auto index = static_cast<std::size_t>(field);
    for (auto& segment : segments_) {
        if (index >= segment->columns.size() || !isJson(*segment->columns[index])) {
            continue;
        }
        auto changed = std::make_shared<Segment>(*segment);
        Column column = *segment->columns[index];
        rewrite(column, segment->size, anew);
        changed->columns[index] = closed(std::move(column), segment->size);
        segment = std::move(changed);
    }
    if (isJson(open_[index])) {
        rewrite(open_[index], openSize_, anew);
    }
}

void RecordBuilder::setMany(int field, std::string_view list) {
    if (field < 0 || takeChosen(field, FieldType::List, list)) {
        return;
    }
    const auto index = static_cast<std::size_t>(field);
    if (many_[index] == 0) {
        many_[index] = 1;
        const FieldType before = fields_[index].type;
        if (before != FieldType::Unknown && before != FieldType::List) {
            widenings_.push_back(
                {fields_[index].name, before, FieldType::List, size_, std::string(list.substr(0, kShown))});
        }
        if (open_[index].type != FieldType::Unknown && open_[index].type != FieldType::List) {
            makeLists(open_[index], openSize_);
        }
        fields_[index].type = FieldType::List;
    }
    if (Column* column = columnFor(field, FieldType::List, list)) {
        column->bytes += list;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::widen(Column& column, FieldType to, std::size_t rows) {
    if (!column.codes.empty()) { // texts already, shared ones
        column.type = to;
        return;
    }
    if (column.width != 0) {
        column.integers.clear();
        for (std::size_t i = 0; i < rows; ++i) {
            column.integers.push_back(column.integerAt(i));
        }
        column.packed = {};
        column.width = 0;
    }
    pad(column, rows);
    const FieldType from = column.type;
    column.type = to;
    if (to == FieldType::Real && from == FieldType::Integer) {
        column.reals.assign(column.integers.begin(), column.integers.end());
        column.integers = {};
        return;
    }
    if (from >= FieldType::Time || from == FieldType::Unknown) { // kept as text already
        pad(column, rows);
        return;
    }
    for (std::size_t i = 0; i < rows; ++i) {
        if (column.has(i)) {
            column.bytes += from == FieldType::Integer ? fmt::format("{}", column.integers[i])
                            : from == FieldType::Real  ? fmt::format("{}", column.reals[i])
                            : column.booleans[i] != 0  ? "true"
                                                       : "false";
        }
        column.ends.push_back(static_cast<std::uint32_t>(column.bytes.size()));
    }
    column.integers = {};
    column.reals = {};
    column.booleans = {};
}

/// The open column, wide enough for a value of `type` and with this record's bit set.
Column* RecordBuilder::columnFor(int field, FieldType type, std::string_view shown) {
    const std::size_t index = static_cast<std::size_t>(field);
    Column& column = open_[index];
    const std::size_t row = openSize_;
    if (column.type != type) {
        const FieldType wide = widened(column.type, type);
        const FieldType known = widened(fields_[index].type, column.type);
        const FieldType whole = widened(known, type);
        if (whole != known && known != FieldType::Unknown) {
            widenings_.push_back(
                {fields_[index].name, known, whole, size_, std::string(shown.substr(0, kShown))});
        }
        if (wide != column.type) {
            if (column.type == FieldType::Unknown) {
                column.type = wide;
            } else {
                widen(column, wide, row);
            }
        }
        fields_[index].type = whole;
    }
    const std::size_t slots = column.type >= FieldType::Time      ? column.ends.size()
                              : column.type == FieldType::Integer ? column.integers.size()
                              : column.type == FieldType::Real    ? column.reals.size()
                                                                  : column.booleans.size();
    if (slots < row) {
        pad(column, row);
    } else if (slots > row) {
        if (twiceCount_++ == 0) {
            firstTwice_ = {fields_[index].name, size_};
        }
        return nullptr; // the first one stands
    }
    if (column.present.size() <= row / 64) {
        column.present.resize(row / 64 + 1);
    }
    column.present[row / 64] |= std::uint64_t{1} << (row % 64);
    return &column;
}

/// Takes a value for a field whose type was chosen. False: the field has no chosen type.
bool RecordBuilder::takeChosen(int field, FieldType given, std::string_view shown) {
    const FieldType wanted = chosen_[static_cast<std::size_t>(field)];
    if (wanted == FieldType::Unknown) {
        return false;
    }
    const auto misfits = [&] {
        if (misfit_) {
            misfit_(fields_[static_cast<std::size_t>(field)].name, wanted, shown);
        }
    };
    if (given == FieldType::Text && local_[static_cast<std::size_t>(field)] != nullptr &&
        takeLocal(field, shown)) {
        return true;
    }
    Column* column = nullptr;
    bool yes = false;
    switch (wanted) {
    case FieldType::Boolean:
        if (!isWordBool(shown, yes) && shown != "0" && shown != "1") {
            misfits();
        } else if ((column = columnFor(field, wanted, shown)) != nullptr) {
            column->booleans.push_back(yes || shown == "1" ? 1 : 0);
        }
        return true;
    case FieldType::Integer: {
        std::optional<std::int64_t> value = parseInteger(shown);
        if (!value && given == FieldType::Real) {
            const auto real = parseReal(shown);
            if (real && *real == std::floor(*real) && std::abs(*real) < 9e15) {
                value = static_cast<std::int64_t>(*real);
            }
        }
        if (!value) {
            misfits();
        } else if ((column = columnFor(field, wanted, shown)) != nullptr) {
            column->integers.push_back(*value);
        }
        return true;
    }
    case FieldType::Real:
        if (const auto value = parseReal(shown); !value) {
            misfits();
        } else if ((column = columnFor(field, wanted, shown)) != nullptr) {
            column->reals.push_back(*value);
        }
        return true;
    default:
        if ((wanted == FieldType::Time && !parseTime(shown)) ||
            (wanted >= FieldType::List && given != wanted)) {
            misfits();
        } else if ((column = columnFor(field, wanted, shown)) != nullptr) {
            column->bytes += shown;
            column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
        }
        return true;
    }
}

/// Takes a text for a field with a locale. False: it is no number or time there.
bool RecordBuilder::takeLocal(int field, std::string_view shown) {
    const LocalValues& local = *local_[static_cast<std::size_t>(field)];
    const FieldType wanted = chosen_[static_cast<std::size_t>(field)];
    if (wanted == FieldType::Time) {
        const auto iso = parseTime(shown) ? std::nullopt : local.time(shown);
        Column* column = iso ? columnFor(field, wanted, shown) : nullptr;
        if (column != nullptr) {
            column->bytes += *iso;
            column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
        }
        return iso.has_value();
    }
    const bool isWhole = wanted == FieldType::Integer;
    const auto number = isWhole || wanted == FieldType::Real ? local.number(shown) : std::nullopt;
    if (!number || (isWhole && !number->whole)) {
        return false;
    }
    if (Column* column = columnFor(field, wanted, shown); column != nullptr && isWhole) {
        column->integers.push_back(*number->whole);
    } else if (column != nullptr) {
        column->reals.push_back(number->value);
    }
    return true;
}

void RecordBuilder::setAnyText(int field, std::string_view value) {
    if (undo_) {
        undone_ = undoDoubleDecoding(value);
        value = undone_;
    }
    if (field < 0 || takeChosen(field, FieldType::Text, value)) {
        return;
    }
    // A column that holds texts already need not be asked whether one more is a time.
    const bool time = open_[static_cast<std::size_t>(field)].type != FieldType::Text && !value.empty() &&
                      value[0] >= '0' && value[0] <= '9' && parseTime(value).has_value();
    if (Column* column = columnFor(field, time ? FieldType::Time : FieldType::Text, value)) {
        column->bytes += value;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::setJson(int field, FieldType listOrObject, std::string_view json) {
    if (undo_) {
        undone_ = undoDoubleDecoding(json);
        json = undone_;
    }
    if (field < 0 || takeChosen(field, listOrObject, json)) {
        return;
    }
    if (Column* column = columnFor(field, listOrObject, json)) {
        column->bytes += json;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::setAnyInteger(int field, std::int64_t value) {
    if (field < 0) {
        return;
    }
    const std::size_t index = static_cast<std::size_t>(field);
    const bool plain = chosen_[index] == FieldType::Unknown && open_[index].type == FieldType::Integer;
    const std::string shown = plain ? std::string() : fmt::format("{}", value);
    if (!plain && takeChosen(field, FieldType::Integer, shown)) {
        return;
    }
    Column* column = columnFor(field, FieldType::Integer, shown);
    if (column == nullptr) {
        return;
    }
    if (column->type == FieldType::Integer) {
        column->integers.push_back(value);
    } else if (column->type == FieldType::Real) {
        column->reals.push_back(static_cast<double>(value));
    } else {
        column->bytes += shown;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::setAnyReal(int field, double value) {
    if (field < 0) {
        return;
    }
    const std::size_t index = static_cast<std::size_t>(field);
    const bool plain = chosen_[index] == FieldType::Unknown && open_[index].type == FieldType::Real;
    const std::string shown = plain ? std::string() : fmt::format("{}", value);
    if (!plain && takeChosen(field, FieldType::Real, shown)) {
        return;
    }
    Column* column = columnFor(field, FieldType::Real, shown);
    if (column == nullptr) {
        return;
    }
    if (column->type == FieldType::Real) {
        column->reals.push_back(value);
    } else {
        column->bytes += shown;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::setBoolean(int field, bool value) {
    const std::string_view shown = value ? "true" : "false";
    if (field < 0 || takeChosen(field, FieldType::Boolean, shown)) {
        return;
    }
    Column* column = columnFor(field, FieldType::Boolean, shown);
    if (column == nullptr) {
        return;
    }
    if (column->type == FieldType::Boolean) {
        column->booleans.push_back(value ? 1 : 0);
    } else {
        column->bytes += shown;
        column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
    }
}

void RecordBuilder::setWritten(int field, std::string_view value) {
    if (field < 0 || takeChosen(field, FieldType::Text, value)) {
        return;
    }
    const FieldType known = open_[static_cast<std::size_t>(field)].type;
    if (known != FieldType::Text && known != FieldType::Time && isPlainNumber(value)) {
        if (const auto whole = parseInteger(value)) {
            return setInteger(field, *whole);
        }
        // Digits that a double cannot hold would be lost: such a number stays a text.
        if (const auto real = parseReal(value); real && value.size() <= 16) {
            return setReal(field, *real);
        }
    }
    bool yes = false;
    if (known != FieldType::Text && isWordBool(value, yes)) {
        return setBoolean(field, yes);
    }
    setText(field, value);
}

void RecordBuilder::endRecord() {
    ++openSize_;
    ++size_;
    // Ends are 32 bits: a segment must close before its texts reach 4 GiB, which its readers' limit on the
    // size of one record keeps it from.
    if (openSize_ == static_cast<std::size_t>(RecordTable::kSegment)) {
        segments_.push_back(closeOpen());
    }
}

void RecordBuilder::pack(Column& column) {
    const auto [least, most] = std::ranges::minmax_element(column.integers);
    if (least == column.integers.end()) {
        return;
    }
    const std::uint64_t spread = static_cast<std::uint64_t>(*most) - static_cast<std::uint64_t>(*least);
    column.base = *least;
    column.width = spread <= 0xff ? 1 : spread <= 0xffff ? 2 : spread <= 0xffff'ffff ? 4 : 8;
    column.packed.resize(column.integers.size() * column.width);
    char* to = column.packed.data();
    for (const std::int64_t value : column.integers) {
        const std::uint64_t less = static_cast<std::uint64_t>(value) -
                                   (column.width == 8 ? 0 : static_cast<std::uint64_t>(column.base));
        const auto narrow8 = static_cast<std::uint8_t>(less);
        const auto narrow16 = static_cast<std::uint16_t>(less);
        const auto narrow32 = static_cast<std::uint32_t>(less);
        const void* from = column.width == 1   ? static_cast<const void*>(&narrow8)
                           : column.width == 2 ? static_cast<const void*>(&narrow16)
                           : column.width == 4 ? static_cast<const void*>(&narrow32)
                                               : static_cast<const void*>(&less);
        std::memcpy(to, from, column.width);
        to += column.width;
    }
    column.integers = {};
}

/// Where few texts come again and again, each is kept once: a byte a record then says which.
void RecordBuilder::shareTexts(Column& column) {
    constexpr std::size_t kTried = 1024; // enough to see that it is hopeless
    constexpr std::size_t kMost = 250;
    std::unordered_map<std::string_view, std::uint8_t> known;
    std::vector<std::string_view> texts;
    std::vector<std::uint8_t> codes;
    codes.reserve(column.ends.size());
    for (std::size_t row = 0; row < column.ends.size(); ++row) {
        const std::string_view text = column.textAt(row);
        const auto [found, isNew] = known.try_emplace(text, static_cast<std::uint8_t>(texts.size()));
        if (isNew) {
            texts.push_back(text);
            if (texts.size() > kMost || (row < kTried && texts.size() > 16 + row / 4)) {
                return;
            }
        }
        codes.push_back(found->second);
    }
    if (codes.size() < 64) {
        return; // not worth it
    }
    std::string bytes;
    std::vector<std::uint32_t> ends;
    for (const std::string_view text : texts) {
        bytes += text;
        ends.push_back(static_cast<std::uint32_t>(bytes.size()));
    }
    column.bytes = std::move(bytes);
    column.ends = std::move(ends);
    column.codes = std::move(codes);
}

std::shared_ptr<const Column> RecordBuilder::closed(Column column, std::size_t rows) {
    if (column.codes.empty()) {
        pad(column, rows);
    }
    if (column.type == FieldType::Integer && column.width == 0) {
        pack(column);
    } else if ((column.type == FieldType::Text || column.type == FieldType::Time) && column.codes.empty()) {
        shareTexts(column);
    }
    // A little room to spare costs less than copying everything once more.
    const auto trim = [](auto& found) {
        if (found.capacity() > found.size() + found.size() / 12) {
            found.shrink_to_fit();
        }
    };
    trim(column.bytes);
    trim(column.ends);
    trim(column.reals);
    trim(column.booleans);
    trim(column.present);
    return std::make_shared<const Column>(std::move(column));
}

std::shared_ptr<const Segment> RecordBuilder::closeOpen() {
    auto segment = std::make_shared<Segment>();
    segment->size = openSize_;
    for (Column& column : open_) {
        // The next segment's columns will be about as long: room now saves growing later.
        Column next;
        next.bytes.reserve(column.bytes.size() + column.bytes.size() / 32);
        next.ends.reserve(column.ends.size());
        next.integers.reserve(column.integers.size());
        next.reals.reserve(column.reals.size());
        next.present.reserve(column.present.size());
        segment->columns.push_back(closed(std::move(column), openSize_));
        column = std::move(next);
    }
    openSize_ = 0;
    return segment;
}

/// Gives a column its field's type.
void RecordBuilder::widenTo(std::size_t field, Column& column, std::size_t rows) {
    if (many_[field] != 0 && column.type != FieldType::Unknown && column.type != FieldType::List) {
        makeLists(column, rows);
    } else {
        widen(column, fields_[field].type, rows);
    }
}

/// Gives closed columns that are narrower than their field became the field's type.
void RecordBuilder::widenClosed() {
    for (auto& segment : segments_) {
        std::shared_ptr<Segment> changed;
        for (std::size_t i = 0; i < segment->columns.size(); ++i) {
            const Column& found = *segment->columns[i];
            if (found.type == fields_[i].type) {
                continue;
            }
            if (!changed) {
                changed = std::make_shared<Segment>(*segment);
            }
            Column wide = found;
            widenTo(i, wide, segment->size);
            changed->columns[i] = closed(std::move(wide), segment->size);
        }
        if (changed) {
            segment = std::move(changed);
        }
    }
}

RecordTable RecordBuilder::snapshot() {
    widenClosed();
    auto segments = segments_;
    if (openSize_ > 0) {
        auto copy = std::make_shared<Segment>();
        copy->size = openSize_;
        for (std::size_t i = 0; i < open_.size(); ++i) {
            Column column = open_[i];
            if (column.type != fields_[i].type) {
                widenTo(i, column, openSize_);
            }
            copy->columns.push_back(closed(std::move(column), openSize_));
        }
        segments.push_back(std::move(copy));
    }
    return RecordTable(fields_, std::move(segments));
}

RecordTable RecordBuilder::finish() {
    if (openSize_ > 0) {
        segments_.push_back(closeOpen());
    }
    widenClosed();
    RecordTable table(std::move(fields_), std::move(segments_));
    *this = RecordBuilder();
    return table;
}

} // namespace scorrere
