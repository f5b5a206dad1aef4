// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

namespace scorrere {

/// Records in an order of their own: some of a table's, each once.
struct RankedRecords {
    static constexpr std::uint32_t kNowhere = 0xffffffffu;
    std::vector<std::uint32_t> records; ///< by place
    std::vector<std::uint32_t> places;  ///< by record; kNowhere: it is not among them
    std::int64_t placeOf(std::int64_t record) const {
        const auto at = static_cast<std::size_t>(record);
        const bool isThere = record >= 0 && at < places.size() && places[at] != kNowhere;
        return isThere ? static_cast<std::int64_t>(places[at]) : -1;
    }
};

/// Which record stands at which place of the collection: the table's order or a ranked one, edited.
///
/// Complexity  p = pieces, one more for each edit that does not touch an earlier one. All operations are
///             O(p), at() is O(log p); none depends on the number of records.
/// Threads     Compatible: const calls may overlap; a non-const call needs sole access. A copy is a snapshot.
class RecordOrder {
public:
    explicit RecordOrder(std::int64_t records = 0) { insert(0, 0, records); }
    explicit RecordOrder(std::shared_ptr<const RankedRecords> ranked);

    std::int64_t size() const { return pieces_.empty() ? 0 : pieces_.back().end; }
    std::int64_t at(std::int64_t place) const;
    /// Whether the first records of the table stand in its order, one after the other. O(1).
    bool isTableOrder() const {
        return pieces_.empty() || (pieces_.size() == 1 && !pieces_[0].isRanked && pieces_[0].first == 0);
    }
    /// All of them behind what is there. O(size).
    void appendTo(std::vector<std::uint32_t>& records) const;
    /// Where a record stands first; -1: nowhere.
    std::int64_t placeOf(std::int64_t record) const;
    /// Puts records [firstRecord, firstRecord + count) before `place`.
    void insert(std::int64_t place, std::int64_t firstRecord, std::int64_t count);
    void erase(std::int64_t place, std::int64_t count);

private:
    struct Piece {
        std::int64_t first; ///< record; or the place among the ranked ones
        std::int64_t end;   ///< places up to here are in this piece or before it
        bool isRanked = false;
    };
    std::size_t split(std::int64_t place);
    std::vector<Piece> pieces_;
    std::shared_ptr<const RankedRecords> ranked_;
};

} // namespace scorrere
