// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/pace.h"
#include "engine/design/rule.h"
#include "engine/order/order_spec.h"
#include "engine/order/record_search.h"
#include "engine/order/sort_keys.h"

#include <atomic>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <stop_token>
#include <vector>

namespace scorrere {

/// Where slices of work are done: by one hand after the other, or by several at the same time.
class Slices {
public:
    virtual ~Slices() = default;
    /// Does all of them before it returns, each by one of the hands; a hand does one at a time.
    virtual void run(std::int64_t count, const std::function<void(std::int64_t slice, int hand)>& work) = 0;
    virtual int hands() const { return 1; }
};

/// One after the other, on the calling thread.
class SlicesInTurn final : public Slices {
public:
    void run(std::int64_t count, const std::function<void(std::int64_t slice, int hand)>& work) override {
        for (std::int64_t slice = 0; slice < count; ++slice) {
            work(slice, 0);
        }
    }
};

/// Ranks the records of a table as an order has them: which of them there are, and which comes after which.
///
/// Complexity  n = records, m = those that it shows. filter O(n) over columns, search O(bytes of the texts), sort
///             O(m log m). Records that came since the last call: O(those, and m to put them in place).
/// Ownership   Keeps what it made of earlier records, never the table.
/// Threads     One at a time; what it does in slices, several hands do.
/// Errors      make: as Rule::compile and SortKeys::make; NotFound for a field to be searched. rank: Cancelled, and
///             then it is as before.
class RecordRanking {
public:
    /// What it is made against: fields by their names, and what a rule reads beside records.
    struct Against {
        const RecordTable& records;
        std::string locale = "en";
        Parameters parameters;
    };
    /// `folded`: kept from an earlier one over the same records; null: its own.
    static Result<RecordRanking> make(const OrderSpec& spec, const Against& against, int hands,
                                      std::shared_ptr<FoldedTexts> folded = nullptr);

    using Records = std::vector<std::uint32_t>;
    /// The numbers of the records it shows, in order. `records`: with the fields and types it was made against; those of the last
    /// call come first in it. `done`: counts records looked at, for who watches; `sorted`: told, by several hands, of
    /// parts of the sorting that are done and add up to 1.
    Result<std::shared_ptr<const Records>> rank(const RecordTable& records, Slices& slices,
                                                const std::stop_token& stop,
                                                std::atomic<std::int64_t>* done = nullptr,
                                                const ShareHandler& sorted = nullptr);
    /// Of the records it saw, these (ascending) have other values now, and from `from` on all are others: they are looked at
    /// again when it ranks next. O(m + these).
    void forget(std::span<const std::uint32_t> changed, std::int64_t from);
    const OrderSpec& spec() const { return spec_; }

private:
    RecordRanking(OrderSpec spec, SortKeys keys) : spec_(std::move(spec)), keys_(std::move(keys)) {}
    struct Slice;
    void markIn(const RecordTable& records, std::int64_t first, std::int64_t count, int hand,
                std::span<std::uint64_t> bits);
    void lookAgain(const RecordTable& records, Slice& to);
    bool sort(std::vector<SortEntry>& entries, Slices& slices, const std::stop_token& stop,
              const ShareHandler& sorted) const;

    OrderSpec spec_;
    SortKeys keys_;
    Parameters parameters_;
    std::vector<Rule> rules_; ///< by hand; none: no rule
    std::vector<std::string> words_;
    std::vector<FieldHandle> within_;
    std::shared_ptr<FoldedTexts> folded_;
    std::int64_t seen_ = 0; ///< so many records are in what follows, but for those to be looked at again
    std::vector<std::uint32_t> again_; ///< ascending
    std::vector<SortEntry> entries_;   ///< sorted; where it is sorted
    std::shared_ptr<const Records> ranked_;
};

} // namespace scorrere
