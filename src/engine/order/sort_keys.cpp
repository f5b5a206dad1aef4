// SPDX-License-Identifier: Apache-2.0
#include "engine/order/sort_keys.h"

#include <algorithm>
#include <bit>
#include <cassert>
#include <cstring>
#include <fmt/format.h>
#include <unicode/coll.h>
#include <unicode/locid.h>
#include <unicode/unistr.h>

namespace scorrere {

namespace {

constexpr std::uint64_t kSign = std::uint64_t{1} << 63;

std::uint64_t ordered(std::int64_t value) {
    return static_cast<std::uint64_t>(value) ^ kSign;
}

/// Doubles as whole numbers in the same order.
std::uint64_t ordered(double value) {
    const auto bits = std::bit_cast<std::uint64_t>(value == 0 ? 0.0 : value);
    return (bits & kSign) != 0 ? ~bits : bits | kSign;
}

/// As splitmix64 mixes (Steele, Lea, Flood 2014): every bit of the seed and the number has its say in each of 32 bits.
std::uint64_t drawn(std::uint64_t seed, std::uint64_t number) {
    std::uint64_t x = seed + (number + 1) * 0x9e3779b97f4a7c15ULL;
    x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9ULL;
    x = (x ^ (x >> 27)) * 0x94d049bb133111ebULL;
    return (x ^ (x >> 31)) >> 32;
}

std::uint64_t firstBytes(const char* key) {
    std::uint64_t head = 0;
    int shift = 56;
    for (; *key != '\0' && shift >= 0; ++key, shift -= 8) {
        head |= static_cast<std::uint64_t>(static_cast<unsigned char>(*key)) << shift;
    }
    return head;
}

} // namespace

struct SortKeys::Collation {
    explicit Collation(const std::string& locale) {
        UErrorCode status = U_ZERO_ERROR;
        collator.reset(icu::Collator::createInstance(icu::Locale::forLanguageTag(locale, status), status));
        if (U_SUCCESS(status)) {
            collator->setAttribute(UCOL_NUMERIC_COLLATION, UCOL_ON, status);
        }
        if (U_FAILURE(status)) {
            collator.reset();
        }
    }
    /// Appends the key with its closing 0; of a text where there is no collation, the text.
    void add(std::string_view text, std::string& to) {
        if (!collator) {
            to += text.substr(0, text.find('\0'));
            to += '\0';
            return;
        }
        const icu::UnicodeString wide =
            icu::UnicodeString::fromUTF8({text.data(), static_cast<std::int32_t>(text.size())});
        const std::size_t from = to.size();
        std::size_t room = std::max<std::size_t>(32, text.size() * 3);
        while (true) {
            to.resize(from + room);
            const auto made = static_cast<std::size_t>(collator->getSortKey(
                wide, reinterpret_cast<std::uint8_t*>(to.data() + from), static_cast<std::int32_t>(room)));
            if (made <= room) {
                to.resize(from + made);
                return;
            }
            room = made;
        }
    }
    std::unique_ptr<icu::Collator> collator;
};

SortKeys::SortKeys() = default;
SortKeys::SortKeys(SortKeys&&) noexcept = default;
SortKeys& SortKeys::operator=(SortKeys&&) noexcept = default;
SortKeys::~SortKeys() = default;

Result<SortKeys> SortKeys::make(const OrderSpec& spec, const RecordTable& records, const std::string& locale,
                                int hands) {
    SortKeys made;
    made.seed_ = spec.shuffled;
    bool areTexts = false;
    for (const SortBy& by : spec.shuffled ? std::vector<SortBy>() : spec.by) {
        const auto field = records.find(by.field);
        Error error{ErrorCode::NotFound,
                    fmt::format("there is no field \"{}\" to sort by", by.field),
                    "Sort by a field that the records have.",
                    {}};
        error.place.field = by.field;
        if (!field) {
            return error;
        }
        const FieldType type = records.field(*field).type;
        if (type == FieldType::List || type == FieldType::Object) {
            error.code = ErrorCode::Invalid;
            error.message = fmt::format("\"{}\" is a {}, which has no order", by.field, typeName(type));
            error.advice = "Sort by a number, a time, a text or a yes or no.";
            return error;
        }
        areTexts = areTexts || type == FieldType::Text;
        made.keys_.push_back({*field, type, by.descending, by.missingFirst});
    }
    for (int hand = 0; areTexts && hand < hands; ++hand) {
        made.collations_.push_back(std::make_unique<Collation>(locale));
    }
    return made;
}

void SortKeys::setRoom(const RecordTable& records) {
    segments_.resize(
        static_cast<std::size_t>((records.size() + RecordTable::kSegment - 1) / RecordTable::kSegment));
    for (Segment& segment : segments_) {
        segment.values.resize(keys_.size());
    }
}

void SortKeys::add(const RecordTable& records, std::int64_t first, std::int64_t count,
                   std::span<const std::uint64_t> bits, int hand, std::vector<SortEntry>& to) {
    assert(first / RecordTable::kSegment == (first + count - 1) / RecordTable::kSegment);
    const auto rowOf = [](std::int64_t record) {
        return static_cast<std::size_t>(record % RecordTable::kSegment);
    };
    const auto eachMarked = [&](auto&& call) {
        for (std::size_t word = 0; word * 64 < static_cast<std::size_t>(count); ++word) {
            for (std::uint64_t left = bits[word]; left != 0; left &= left - 1) {
                call(first + static_cast<std::int64_t>(word * 64) + std::countr_zero(left));
            }
        }
    };
    const std::size_t from = to.size();
    eachMarked([&](std::int64_t record) {
        to.push_back({seed_ ? drawn(*seed_, static_cast<std::uint64_t>(record)) : 0,
                      static_cast<std::uint32_t>(record), 1});
    });
    Segment& segment = segments_[static_cast<std::size_t>(first / RecordTable::kSegment)];
    for (std::size_t k = 0; k < keys_.size(); ++k) {
        const Key& key = keys_[k];
        Values& values = segment.values[k];
        const std::size_t rows = rowOf(first + count - 1) + 1;
        if (k > 0 && values.heads.size() < rows) {
            values.heads.resize(rows);
            values.bands.resize(rows);
        }
        if (key.isText() && values.tails.size() < rows) {
            values.tails.resize(rows);
        }
        const RecordTable::Stretch stretch = records.stretchAt(first);
        const Column* column =
            static_cast<std::int64_t>(stretch.rows) >= count ? stretch.column(key.field) : nullptr;
        std::vector<std::uint32_t> coded; // where the key of each distinct text begins
        std::size_t entry = from;
        eachMarked([&](std::int64_t record) {
            std::uint64_t head = 0;
            std::uint8_t band = 1;
            if (!records.has(record, key.field)) {
                band = key.missingFirst ? 0 : 2;
            } else if (key.isText()) {
                const bool isCoded = column != nullptr && !column->codes.empty();
                const std::size_t code = isCoded ? column->codes[rowOf(record)] : 0;
                coded.resize(isCoded ? column->ends.size() : 0, ~0U);
                std::uint32_t tail = isCoded ? coded[code] : ~0U;
                if (tail == ~0U) {
                    tail = static_cast<std::uint32_t>(segment.bytes.size());
                    collations_[static_cast<std::size_t>(hand)]->add(records.text(record, key.field),
                                                                     segment.bytes);
                    (isCoded ? coded[code] : tail) = tail;
                }
                values.tails[rowOf(record)] = tail;
                head = firstBytes(segment.bytes.data() + tail);
            } else {
                switch (key.type) {
                case FieldType::Boolean:
                    head = records.boolean(record, key.field) ? 1 : 0;
                    break;
                case FieldType::Integer:
                    head = ordered(records.integer(record, key.field));
                    break;
                case FieldType::Real:
                    head = ordered(records.real(record, key.field));
                    break;
                default:
                    head = ordered(parseTime(records.text(record, key.field)).value_or(0));
                    break;
                }
            }
            head = key.descending && band == 1 ? ~head : head;
            if (k == 0) {
                to[entry].head = head;
                to[entry].band = band;
                ++entry;
            } else {
                values.heads[rowOf(record)] = head;
                values.bands[rowOf(record)] = band;
            }
        });
    }
}

int SortKeys::comparedTails(std::size_t key, std::uint32_t a, std::uint32_t b) const {
    const auto tailOf = [&](std::uint32_t record) {
        const Segment& segment = segments_[static_cast<std::size_t>(record / RecordTable::kSegment)];
        return segment.bytes.data() + segment.values[key].tails[record % RecordTable::kSegment];
    };
    return std::strcmp(tailOf(a), tailOf(b));
}

/// What eight bytes do not tell apart.
bool SortKeys::isBeforeAlike(const SortEntry& a, const SortEntry& b) const {
    for (std::size_t k = 0; k < keys_.size(); ++k) {
        std::uint8_t band = a.band;
        if (k > 0) {
            const auto valuesOf = [&](std::uint32_t record) -> const Values& {
                return segments_[static_cast<std::size_t>(record / RecordTable::kSegment)].values[k];
            };
            const std::size_t rowA = a.record % RecordTable::kSegment;
            const std::size_t rowB = b.record % RecordTable::kSegment;
            const Values& ofA = valuesOf(a.record);
            const Values& ofB = valuesOf(b.record);
            band = ofA.bands[rowA];
            if (band != ofB.bands[rowB]) {
                return band < ofB.bands[rowB];
            }
            if (ofA.heads[rowA] != ofB.heads[rowB]) {
                return ofA.heads[rowA] < ofB.heads[rowB];
            }
        }
        if (keys_[k].isText() && band == 1) {
            if (const int how = comparedTails(k, a.record, b.record); how != 0) {
                return keys_[k].descending ? how > 0 : how < 0;
            }
        }
    }
    return a.record < b.record;
}

std::size_t SortKeys::memoryBytes() const {
    std::size_t sum = 0;
    for (const Segment& segment : segments_) {
        sum += segment.bytes.capacity();
        for (const Values& values : segment.values) {
            sum += values.heads.capacity() * 8 + values.bands.capacity() + values.tails.capacity() * 4;
        }
    }
    return sum;
}

} // namespace scorrere
