// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <vector>

namespace scorrere {

/// Which record stands at which place of the collection: the table's order, edited.
///
/// Complexity  p = pieces, one more for each edit that does not touch an earlier one. All operations are
///             O(p), at() is O(log p); none depends on the number of records.
/// Threads     Compatible: const calls may overlap; a non-const call needs sole access. A copy is a snapshot.
class RecordOrder {
public:
    explicit RecordOrder(std::int64_t records = 0) { insert(0, 0, records); }

    std::int64_t size() const { return pieces_.empty() ? 0 : pieces_.back().end; }
    std::int64_t at(std::int64_t place) const;
    /// Where a record stands first; -1: nowhere.
    std::int64_t placeOf(std::int64_t record) const;
    /// Puts records [firstRecord, firstRecord + count) before `place`.
    void insert(std::int64_t place, std::int64_t firstRecord, std::int64_t count);
    void erase(std::int64_t place, std::int64_t count);

private:
    struct Piece {
        std::int64_t firstRecord;
        std::int64_t end; ///< places up to here are in this piece or before it
    };
    std::size_t split(std::int64_t place);
    std::vector<Piece> pieces_;
};

} // namespace scorrere
