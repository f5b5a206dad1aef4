// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/order/order_spec.h"
#include "engine/record/record_table.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace scorrere {

/// A record among others that are sorted: most are told apart by this alone.
struct SortEntry {
    std::uint64_t head = 0; ///< the first eight bytes of its first key
    std::uint32_t record = 0;
    std::uint8_t band = 1; ///< 0: its first key is missing and stands first; 2: missing, and last
};

/// What records are sorted by: made once for each record, then compared as bytes.
///
/// Numbers and times by size, yes behind no, texts by the locale's collation with numbers in them as numbers; records
/// that are alike in all of it stand as the source has them. A shuffle is a sort by a number drawn from the seed and
/// the record's (of 32 bits, which halves the work: some hundred of a million are alike and keep their order), so that records that come later change nothing among the others.
///
/// Complexity  A key is O(its text); less() O(1) but for texts alike in eight bytes.
/// Threads     add() for different segments may overlap, each with a hand of its own, after setRoom(); less() may
///             overlap with anything but them.
/// Errors      make: NotFound for a field that is not there; Invalid for one that has no order.
class SortKeys {
public:
    static Result<SortKeys> make(const OrderSpec& spec, const RecordTable& records, const std::string& locale,
                                 int hands);
    SortKeys(SortKeys&&) noexcept;
    SortKeys& operator=(SortKeys&&) noexcept;
    ~SortKeys();

    /// Of a table that has the same fields as before, and the same records first.
    void setRoom(const RecordTable& records);
    /// Makes keys for those of `count` records whose bit is set, and appends their entries; of what was added before, the
    /// entry of before means nothing any more. Requires: they are of one segment.
    void add(const RecordTable& records, std::int64_t first, std::int64_t count,
             std::span<const std::uint64_t> bits, int hand, std::vector<SortEntry>& to);
    /// Whether entries alike in band and head may still differ in order, beside that of the source.
    bool areMoreThanHeads() const {
        return keys_.size() > 1 || (keys_.size() == 1 && keys_.front().isText());
    }
    bool less(const SortEntry& a, const SortEntry& b) const {
        return a.band != b.band ? a.band < b.band : a.head != b.head ? a.head < b.head : isBeforeAlike(a, b);
    }
    std::size_t memoryBytes() const;

private:
    struct Collation;
    struct Key {
        FieldHandle field;
        FieldType type = FieldType::Unknown;
        bool descending = false;
        bool missingFirst = false;
        bool isText() const { return type == FieldType::Text; }
    };
    /// One key of the records of a segment, by row. `heads` and `bands` of the first key are in the entries.
    struct Values {
        std::vector<std::uint64_t> heads;
        std::vector<std::uint8_t> bands;
        std::vector<std::uint32_t> tails; ///< of texts: where the key's bytes begin, which end with a 0
    };
    struct Segment {
        std::vector<Values> values; ///< by key
        std::string bytes;
    };

    SortKeys();
    bool isBeforeAlike(const SortEntry& a, const SortEntry& b) const;
    int comparedTails(std::size_t key, std::uint32_t a, std::uint32_t b) const;

    std::vector<Key> keys_;
    std::optional<std::uint64_t> seed_;
    std::vector<std::unique_ptr<Collation>> collations_; ///< by hand
    std::vector<Segment> segments_;
};

} // namespace scorrere
