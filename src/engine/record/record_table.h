// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <limits>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

/// The type of a field, as inferred from its values. `Unknown`: no value seen yet.
enum class FieldType : std::uint8_t { Unknown, Boolean, Integer, Real, Time, Text, List, Object };

/// The plain name of a type, for messages ("whole number").
std::string_view typeName(FieldType type);
/// The narrowest type that holds values of both.
FieldType widened(FieldType a, FieldType b);

/// Names a field of one table and of every table with the same fields in the same order.
struct FieldHandle {
    int index = -1;
    bool operator==(const FieldHandle&) const = default;
};

struct Field {
    std::string name;
    FieldType type = FieldType::Unknown;
};

/// Values of one field for the records of one segment. Written by RecordBuilder, then read only.
struct Column {
    FieldType type = FieldType::Unknown;
    std::vector<std::uint64_t> present; ///< one bit a record
    std::vector<std::int64_t> integers; ///< Integer, while it is written
    std::string packed;                 ///< Integer, when closed: each less `base`, in `width` bytes
    std::int64_t base = 0;
    std::uint8_t width = 0;             ///< 1, 2, 4 or 8; 0: `integers` holds them
    std::vector<double> reals;          ///< Real
    std::vector<std::uint8_t> codes;    ///< Text, Time of few distinct ones: which of them each record has;
                                        ///< `ends` are of the distinct ones then
    std::vector<std::uint8_t> booleans; ///< Boolean
    std::string bytes;                  ///< Text, Time; List and Object as JSON
    std::vector<std::uint32_t> ends;    ///< where each record's bytes end

    bool has(std::size_t row) const {
        return row / 64 < present.size() && ((present[row / 64] >> (row % 64)) & 1u) != 0;
    }
    std::int64_t integerAt(std::size_t row) const;
    std::int64_t mostInteger(std::size_t rows) const;
    std::string_view textAt(std::size_t row) const {
        const std::size_t at = codes.empty() ? row : codes[row];
        const std::size_t start = at == 0 ? 0 : ends[at - 1];
        return std::string_view(bytes).substr(start, ends[at] - start);
    }
    std::size_t memoryBytes() const;
};

struct Segment {
    std::size_t size = 0;
    /// May be fewer than the table has fields: the rest is missing. None is null.
    std::vector<std::shared_ptr<const Column>> columns;
};

/// Typed, columnar records; a value.
///
/// Complexity  Reading a value is O(1).
/// Ownership   Segments are shared and never change. A copy is cheap.
/// Threads     Immutable: any thread may read.
/// Errors      Reading a value of another type than the field's is the caller's bug: it asserts.
class RecordTable {
public:
    static constexpr std::int64_t kSegment = 16384; ///< every segment but the last holds this many

    RecordTable() = default;
    RecordTable(std::vector<Field> fields, std::vector<std::shared_ptr<const Segment>> segments);

    std::int64_t size() const { return size_; }
    const std::vector<Field>& fields() const { return fields_; }
    std::optional<FieldHandle> find(std::string_view name) const;
    const Field& field(FieldHandle handle) const { return fields_[static_cast<std::size_t>(handle.index)]; }

    bool has(std::int64_t record, FieldHandle field) const;
    /// Text, Time, or the JSON of a List or Object. Empty when missing.
    std::string_view text(std::int64_t record, FieldHandle field) const;
    std::int64_t integer(std::int64_t record, FieldHandle field) const;
    /// Real or Integer.
    double real(std::int64_t record, FieldHandle field) const;
    bool boolean(std::int64_t record, FieldHandle field) const;
    /// The value in words, whatever its type; empty when missing.
    std::string display(std::int64_t record, FieldHandle field) const;

    std::size_t memoryBytes() const;

    /// Records that stand in one segment as they are, from `record` on; none where they are made up. For what reads
    /// columns rather than records. `row`: where the first one's values stand.
    struct Stretch {
        const Segment* segment = nullptr;
        std::size_t row = 0;
        std::size_t rows = 0;
        /// Null: it is missing in all of them.
        const Column* column(FieldHandle field) const {
            const auto index = static_cast<std::size_t>(field.index);
            return index < segment->columns.size() ? segment->columns[index].get() : nullptr;
        }
    };
    Stretch stretchAt(std::int64_t record) const;

    /// As if there were so many records: these come first as they are, or as many of them as are wanted; of each
    /// further one, every field has the value that one of these has, or none as that one. Which one is drawn by its
    /// number, so it is the same each time and the share of missing values, lengths and scripts stay what they are.
    /// Whole numbers and texts that are `keys` are kept apart. Of none, there are none. O(1), but for a key that is
    /// a text: kSegment of them are made when the first of them is read, and stay.
    RecordTable asIf(std::int64_t count, const std::vector<FieldHandle>& keys) const;
    /// Whether it is one of those.
    bool isMadeUp(std::int64_t record) const;

    /// The segments of those that are not made up, as edits take them: with withSegments they make another table.
    const std::vector<std::shared_ptr<const Segment>>& segments() const { return segments_; }
    /// The same records in other segments, in which more follow: those come behind all others, also behind those that
    /// are made up. `fields`: at least as many as there are. Requires: segments as the constructor does, and no fewer records.
    RecordTable withSegments(std::vector<Field> fields,
                             std::vector<std::shared_ptr<const Segment>> segments) const;

private:
    struct Many;
    /// Where a value stands; no column: it is missing.
    struct Cell {
        const Column* column = nullptr;
        std::size_t row = 0;
        bool has() const { return column != nullptr && column->has(row); }
    };
    Cell cell(std::int64_t record, FieldHandle field) const;

    std::vector<Field> fields_;
    std::vector<std::shared_ptr<const Segment>> segments_;
    std::int64_t size_ = 0;
    std::shared_ptr<const Many> many_; ///< null: there are as many as there are
    /// Where not as many run as there are: from here on, records stand in the segments from `laterAt_` on.
    std::int64_t laterFrom_ = std::numeric_limits<std::int64_t>::max();
    std::int64_t laterAt_ = 0;
};

/// What looks like a key where none is said: the first whole number or text that differs in all records, as far as
/// the first thousand tell.
std::optional<FieldHandle> likelyKey(const RecordTable& records);

/// Milliseconds since 1970-01-01T00:00Z of an ISO 8601 / RFC 3339 date or date-time; without a zone it is
/// UTC.
std::optional<std::int64_t> parseTime(std::string_view text);

} // namespace scorrere
