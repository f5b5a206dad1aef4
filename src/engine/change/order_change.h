// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/record/record_order.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <stop_token>
#include <vector>

namespace scorrere {

/// How one order takes the place of another.
enum class ChangeWay : std::uint8_t {
    InPlace, ///< what comes, goes and moves is known item by item: what shows stays where it still is
    Afresh,  ///< the new order is begun as if nothing had been before it
};

/// Why a way was chosen. Times are modelled, not measured: the same change is always made the same way.
struct ChangeChoice {
    ChangeWay way = ChangeWay::InPlace;
    bool isForced = false;
    std::int64_t shown = 0;    ///< records that showed before
    std::int64_t together = 0; ///< of the others, so many stand within a window's length of what is read now
    double inPlaceMs = 0;
    double afreshMs = 0;
};

/// What leads from one order of a table's records to the next.
///
/// Units       Places among the records of the order before, and of the one after.
/// Complexity  n = places before and after, m = records that are in both. Afresh O(n); in place O(n + m log m), and
///             O(n) where nothing moved. placeNow O(1), nearestBefore O(log n).
/// Threads     Immutable once made.
/// Errors      Cancelled.
class OrderChange {
public:
    /// `shown`: places that show before; `held`: of them, that of what is read; -1: one stands at the start.
    static Result<OrderChange> make(const RecordOrder& before, std::shared_ptr<const RankedRecords> after,
                                    std::span<const std::int64_t> shown, std::int64_t held,
                                    std::optional<ChangeWay> forced, const std::stop_token& stop);

    const ChangeChoice& choice() const { return choice_; }
    const std::shared_ptr<const RankedRecords>& after() const { return after_; }
    std::int64_t countBefore() const { return before_.size(); }
    std::int64_t countAfter() const { return std::ssize(after_->records); }
    std::int64_t kept() const { return kept_; }
    /// The place before of those that are in both, in the order of before. Requires: 0 <= index < kept().
    std::int64_t keptBefore(std::int64_t index) const {
        const std::vector<std::uint32_t>& kept = isSelection_ ? after_->records : keptBefore_;
        return kept.empty() ? index : kept[static_cast<std::size_t>(index)];
    }
    std::int64_t came() const { return countAfter() - kept_; }
    std::int64_t went() const { return countBefore() - kept_; }
    /// Of those in both: so many keep their order among each other, as many as can, and the others move. Where it is
    /// made afresh nobody looks, and nothing is said to stay.
    std::int64_t stayed() const { return stayed_; }
    std::int64_t moved() const { return kept_ - stayed_; }

    /// Where the record that stood at a place stands now; -1: it went.
    std::int64_t placeNow(std::int64_t before) const {
        return before < 0 || before >= before_.size() ? -1 : after_->placeOf(before_.at(before));
    }
    /// Where the record that stands at a place now stood before; -1: it came.
    std::int64_t placeBefore(std::int64_t now) const {
        return now < 0 || now >= countAfter()
                   ? -1
                   : before_.placeOf(after_->records[static_cast<std::size_t>(now)]);
    }
    struct Together {
        std::int64_t place = 0;
        std::int64_t count = 0; ///< that came; negative: that went
        bool operator==(const Together&) const = default;
    };
    /// Where all that is otherwise is that some came, or went, beside each other: which. O(log n).
    std::optional<Together> together() const;
    /// The place before that is nearest to one and whose record stayed, the one behind it where two are; -1: none.
    std::int64_t nearestBefore(std::int64_t place) const;

private:
    std::int64_t togetherNow(std::span<const std::int64_t> shown, std::int64_t held) const;
    bool findKept(const std::stop_token& stop);
    explicit OrderChange(const RecordOrder& before) : before_(before) {}

    RecordOrder before_;
    std::shared_ptr<const RankedRecords> after_;
    ChangeChoice choice_;
    std::int64_t kept_ = 0;
    std::int64_t stayed_ = 0;
    bool isSelection_ = false; ///< all that are there now stood in the table's order before, and do still
    std::vector<std::uint32_t> keptBefore_; ///< places before, where not all were kept and it is no selection
};

/// A ranking with the place of each record of a table of so many. O(n).
std::shared_ptr<const RankedRecords> withPlaces(std::vector<std::uint32_t> records, std::int64_t of);

/// How many of these can stay where they are while the others are moved around them, so that all ascend: the length of
/// their longest increasing subsequence (Fredman 1975). O(n log n), O(n) where they ascend already. -1: it was stopped.
std::int64_t longestAscending(std::span<const std::uint32_t> places, const std::stop_token& stop);

} // namespace scorrere
