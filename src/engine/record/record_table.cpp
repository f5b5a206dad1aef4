// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_table.h"

#include "engine/base/fnv.h"

#include <algorithm>
#include <cassert>
#include <chrono>
#include <cstring>
#include <fmt/format.h>
#include <mutex>
#include <set>

namespace scorrere {

std::string_view typeName(FieldType type) {
    switch (type) {
    case FieldType::Unknown:
        return "never given";
    case FieldType::Boolean:
        return "yes or no";
    case FieldType::Integer:
        return "whole number";
    case FieldType::Real:
        return "number";
    case FieldType::Time:
        return "time";
    case FieldType::Text:
        return "text";
    case FieldType::List:
        return "list";
    case FieldType::Object:
        return "object";
    }
    return "";
}

FieldType widened(FieldType a, FieldType b) {
    if (a == b || b == FieldType::Unknown) {
        return a;
    }
    if (a == FieldType::Unknown) {
        return b;
    }
    const auto number = [](FieldType t) { return t == FieldType::Integer || t == FieldType::Real; };
    return number(a) && number(b) ? FieldType::Real : FieldType::Text;
}

std::size_t Column::memoryBytes() const {
    return sizeof(Column) + present.capacity() * 8 + integers.capacity() * 8 + packed.capacity() +
           reals.capacity() * 8 + booleans.capacity() + codes.capacity() + bytes.capacity() +
           ends.capacity() * 4;
}

namespace {

template <typename Narrow>
std::int64_t unpacked(const std::string& packed, std::size_t row) {
    Narrow value;
    std::memcpy(&value, packed.data() + row * sizeof(Narrow), sizeof(Narrow));
    return static_cast<std::int64_t>(value);
}

} // namespace

/// No whole number of it is greater. O(1) but where they take eight bytes.
std::int64_t Column::mostInteger(std::size_t rows) const {
    if (width > 0 && width < 8) {
        return base + ((std::int64_t{1} << (8 * width)) - 1);
    }
    std::int64_t most = 0;
    for (std::size_t row = 0; row < rows; ++row) {
        most = has(row) ? std::max(most, integerAt(row)) : most;
    }
    return most;
}

std::int64_t Column::integerAt(std::size_t row) const {
    switch (width) {
    case 1:
        return base + unpacked<std::uint8_t>(packed, row);
    case 2:
        return base + unpacked<std::uint16_t>(packed, row);
    case 4:
        return base + unpacked<std::uint32_t>(packed, row);
    case 8:
        return unpacked<std::int64_t>(packed, row);
    default:
        return integers[row];
    }
}

RecordTable::RecordTable(std::vector<Field> fields, std::vector<std::shared_ptr<const Segment>> segments)
    : fields_(std::move(fields)), segments_(std::move(segments)) {
    for (const auto& segment : segments_) {
        size_ += static_cast<std::int64_t>(segment->size);
    }
    assert(segments_.empty() || static_cast<std::int64_t>(segments_.size() - 1) * kSegment +
                                        static_cast<std::int64_t>(segments_.back()->size) ==
                                    size_);
}

std::optional<FieldHandle> RecordTable::find(std::string_view name) const {
    const auto it = std::ranges::find(fields_, name, &Field::name);
    if (it == fields_.end()) {
        return std::nullopt;
    }
    return FieldHandle{static_cast<int>(it - fields_.begin())};
}

/// Where keys end that are counted on from: beyond there is no room for more.
constexpr std::int64_t kGreatestKey = std::int64_t{1} << 62;

/// What the records beyond the own ones are made of.
struct RecordTable::Many {
    /// The keys of one segment's length of records, made when they are asked for.
    struct Made {
        std::once_flag once;
        std::vector<std::string> keys;
    };
    struct Key {
        FieldHandle field;
        std::int64_t from = 0; ///< of whole numbers: the first that is made up
        std::vector<Made> made;
    };
    std::int64_t own = 0;
    mutable std::vector<Key> keys;

    Key* keyOf(FieldHandle field) const {
        const auto found = std::ranges::find(keys, field, &Key::field);
        return found == keys.end() ? nullptr : &*found;
    }
    /// Which of the own records gives a made-up one its value of a field.
    std::int64_t drawn(std::int64_t record, FieldHandle field) const {
        Fnv hash;
        hash.addWord(static_cast<std::uint64_t>(record));
        hash.addWord(static_cast<std::uint64_t>(field.index) + 1);
        std::uint64_t mixed = hash.value();
        mixed = (mixed ^ (mixed >> 33)) * 0xff51afd7ed558ccdULL; // its upper bits are spread, too
        return static_cast<std::int64_t>((mixed >> 16) % static_cast<std::uint64_t>(own));
    }
};

RecordTable RecordTable::asIf(std::int64_t count, const std::vector<FieldHandle>& keys) const {
    assert(count >= 0);
    RecordTable made = *this;
    made.size_ = size_ == 0 ? 0 : count;
    if (made.size_ <= size_) {
        return made;
    }
    auto many = std::make_shared<Many>();
    many->own = size_;
    for (const FieldHandle key : keys) {
        const FieldType type = field(key).type;
        if (type != FieldType::Integer && type != FieldType::Text) {
            continue; // no more of it can be made up
        }
        Many::Key& one = many->keys.emplace_back();
        one.field = key;
        if (type == FieldType::Text) {
            one.made = std::vector<Many::Made>(static_cast<std::size_t>(count / kSegment + 1));
            continue;
        }
        for (const auto& segment : segments_) {
            const auto index = static_cast<std::size_t>(key.index);
            if (index < segment->columns.size() && segment->columns[index] != nullptr) {
                one.from = std::max(one.from, segment->columns[index]->mostInteger(segment->size));
            }
        }
        one.from = one.from > kGreatestKey ? 1 : one.from + 1;
    }
    made.many_ = std::move(many);
    return made;
}

bool RecordTable::isMadeUp(std::int64_t record) const {
    return many_ && record >= many_->own && record < laterFrom_;
}

RecordTable RecordTable::withSegments(std::vector<Field> fields,
                                      std::vector<std::shared_ptr<const Segment>> segments) const {
    assert(laterFrom_ == std::numeric_limits<std::int64_t>::max() && fields.size() >= fields_.size());
    std::int64_t own = 0;
    for (const auto& segment : segments_) {
        own += static_cast<std::int64_t>(segment->size);
    }
    RecordTable made(std::move(fields), std::move(segments));
    assert(made.size_ >= own);
    if (size_ != own) {
        made.laterFrom_ = size_;
        made.laterAt_ = own;
        made.size_ = size_ + made.size_ - own;
        made.many_ = many_;
    }
    return made;
}

RecordTable::Cell RecordTable::cell(std::int64_t record, FieldHandle field) const {
    assert(record >= 0 && record < size_ && field.index >= 0);
    if (record >= laterFrom_) {
        record += laterAt_ - laterFrom_;
    } else if (many_ && record >= many_->own) {
        record = many_->drawn(record, field);
    }
    const Segment& segment = *segments_[static_cast<std::size_t>(record / kSegment)];
    const std::size_t index = static_cast<std::size_t>(field.index);
    return {index < segment.columns.size() ? segment.columns[index].get() : nullptr,
            static_cast<std::size_t>(record % kSegment)};
}

RecordTable::Stretch RecordTable::stretchAt(std::int64_t record) const {
    const std::int64_t own = std::min(many_ ? many_->own : size_, laterFrom_);
    if (record >= own) {
        return {};
    }
    const Segment& segment = *segments_[static_cast<std::size_t>(record / kSegment)];
    const std::int64_t end =
        std::min({own, size_, record / kSegment * kSegment + static_cast<std::int64_t>(segment.size)});
    return {&segment, static_cast<std::size_t>(record % kSegment), static_cast<std::size_t>(end - record)};
}

bool RecordTable::has(std::int64_t record, FieldHandle field) const {
    return cell(record, field).has();
}

std::string_view RecordTable::text(std::int64_t record, FieldHandle field) const {
    const Cell found = cell(record, field);
    if (!found.has()) {
        return {};
    }
    assert(found.column->type >= FieldType::Time);
    const std::string_view text = found.column->textAt(found.row);
    if (!isMadeUp(record)) {
        return text;
    }
    Many::Key* key = many_->keyOf(field);
    if (key == nullptr) {
        return text;
    }
    Many::Made& made = key->made[static_cast<std::size_t>(record / kSegment)];
    std::call_once(made.once, [&] {
        const std::int64_t from = record / kSegment * kSegment;
        const std::int64_t until = std::min({from + kSegment, size_, laterFrom_});
        made.keys.resize(static_cast<std::size_t>(until - from));
        for (std::int64_t one = std::max(from, many_->own); one < until; ++one) {
            if (const Cell like = cell(one, field); like.has()) {
                made.keys[static_cast<std::size_t>(one - from)] =
                    fmt::format("{}~{}", like.column->textAt(like.row), one + 1);
            }
        }
    });
    return made.keys[static_cast<std::size_t>(record % kSegment)];
}

std::int64_t RecordTable::integer(std::int64_t record, FieldHandle field) const {
    if (isMadeUp(record)) {
        if (const Many::Key* key = many_->keyOf(field)) {
            return key->from + record - many_->own;
        }
    }
    const Cell found = cell(record, field);
    assert(found.column != nullptr && found.column->type == FieldType::Integer);
    return found.column->integerAt(found.row);
}

double RecordTable::real(std::int64_t record, FieldHandle field) const {
    const Cell found = cell(record, field);
    assert(found.column != nullptr &&
           (found.column->type == FieldType::Real || found.column->type == FieldType::Integer));
    return found.column->type == FieldType::Real ? found.column->reals[found.row]
                                                 : static_cast<double>(integer(record, field));
}

bool RecordTable::boolean(std::int64_t record, FieldHandle field) const {
    const Cell found = cell(record, field);
    assert(found.column != nullptr && found.column->type == FieldType::Boolean);
    return found.column->booleans[found.row] != 0;
}

std::string RecordTable::display(std::int64_t record, FieldHandle handle) const {
    if (!has(record, handle)) {
        return {};
    }
    switch (cell(record, handle).column->type) {
    case FieldType::Boolean:
        return boolean(record, handle) ? "true" : "false";
    case FieldType::Integer:
        return fmt::format("{}", integer(record, handle));
    case FieldType::Real:
        return fmt::format("{}", real(record, handle));
    default:
        return std::string(text(record, handle));
    }
}

std::size_t RecordTable::memoryBytes() const {
    std::size_t sum = 0;
    for (const auto& segment : segments_) {
        for (const auto& found : segment->columns) {
            sum += found->memoryBytes();
        }
    }
    return sum;
}

std::optional<FieldHandle> likelyKey(const RecordTable& records) {
    const std::int64_t looked = std::min<std::int64_t>(records.size(), 1000);
    for (int index = 0; index < static_cast<int>(records.fields().size()); ++index) {
        const FieldHandle field{index};
        const FieldType type = records.field(field).type;
        if (looked == 0 || (type != FieldType::Integer && type != FieldType::Text)) {
            continue;
        }
        std::set<std::string> seen;
        std::int64_t record = 0;
        while (record < looked && records.has(record, field) &&
               seen.insert(records.display(record, field)).second) {
            ++record;
        }
        if (record == looked) {
            return field;
        }
    }
    return std::nullopt;
}

namespace {

/// Reads `digits` decimal digits at `at`; -1 where there is anything else.
int number(std::string_view text, std::size_t at, std::size_t digits) {
    if (at + digits > text.size()) {
        return -1;
    }
    int value = 0;
    for (std::size_t i = at; i < at + digits; ++i) {
        if (text[i] < '0' || text[i] > '9') {
            return -1;
        }
        value = value * 10 + (text[i] - '0');
    }
    return value;
}

} // namespace

std::optional<std::int64_t> parseTime(std::string_view text) {
    if (text.size() < 10 || text[4] != '-' || text[7] != '-') {
        return std::nullopt;
    }
    using namespace std::chrono;
    const year_month_day date{year{number(text, 0, 4)}, month{static_cast<unsigned>(number(text, 5, 2))},
                              day{static_cast<unsigned>(number(text, 8, 2))}};
    if (number(text, 0, 4) < 0 || !date.ok()) {
        return std::nullopt;
    }
    std::int64_t ms = sys_days{date}.time_since_epoch().count() * std::int64_t{86'400'000};
    if (text.size() == 10) {
        return ms;
    }
    const int hour = number(text, 11, 2);
    const int minute = number(text, 14, 2);
    if ((text[10] != 'T' && text[10] != 't' && text[10] != ' ') || hour < 0 || hour > 23 || minute < 0 ||
        minute > 59 || text[13] != ':') {
        return std::nullopt;
    }
    ms += (std::int64_t{hour} * 60 + minute) * 60'000;
    std::size_t at = 16;
    if (at < text.size() && text[at] == ':') {
        const int second = number(text, at + 1, 2);
        if (second < 0 || second > 60) {
            return std::nullopt;
        }
        ms += std::int64_t{second} * 1000;
        at += 3;
        if (at < text.size() && text[at] == '.') {
            std::int64_t scale = 100;
            for (++at; at < text.size() && text[at] >= '0' && text[at] <= '9'; ++at, scale /= 10) {
                ms += (text[at] - '0') * scale;
            }
        }
    }
    if (at == text.size() || (at + 1 == text.size() && (text[at] == 'Z' || text[at] == 'z'))) {
        return ms;
    }
    const int zoneHour = number(text, at + 1, 2);
    const int zoneMinute = number(text, at + 4, 2);
    if ((text[at] != '+' && text[at] != '-') || text.size() != at + 6 || text[at + 3] != ':' ||
        zoneHour < 0 || zoneMinute < 0) {
        return std::nullopt;
    }
    return ms - (text[at] == '+' ? 1 : -1) * (std::int64_t{zoneHour} * 60 + zoneMinute) * 60'000;
}

} // namespace scorrere
