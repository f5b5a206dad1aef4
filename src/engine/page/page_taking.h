// SPDX-License-Identifier: Apache-2.0
// How a page becomes what an answer says of it: an implementation header of page/.
#pragma once

#include "engine/page/page_records.h"

#include <optional>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// Which of n things in a row are left, and how many before each.
///
/// Complexity  before, nth and take are O(log n) (Fenwick, 1994: A new data structure for cumulative
///             frequency tables).
class LeftOf {
public:
    explicit LeftOf(std::size_t size);
    std::size_t count() const { return count_; }
    bool has(std::size_t at) const { return left_[at]; }
    /// How many are left before `at`.
    std::size_t before(std::size_t at) const;
    /// The one that `index` others that are left stand before. Requires: index < count().
    std::size_t nth(std::size_t index) const;
    void take(std::size_t at);

private:
    std::vector<bool> left_;
    std::vector<std::size_t> sums_;
    std::size_t count_;
};

/// A page on its way from what stood there to what an answer says: the records of the answer up to next(),
/// and behind them what is left of the old ones, in their order.
class PageTaking {
public:
    using Slot = std::optional<PageRecord>; ///< nothing: a place that nobody has filled

    PageTaking(std::int64_t page, std::vector<Slot> old, std::vector<PageRecord> records);

    std::int64_t page() const { return page_; }
    std::size_t next() const { return next_; }
    bool isDone() const { return next_ == records_.size(); }
    /// Places as they are now.
    std::int64_t count() const { return static_cast<std::int64_t>(next_ + left_.count()); }
    const PageRecord* at(std::int64_t place) const;
    const PageRecord* find(const std::string& key) const;

    const PageRecord& coming() const { return records_[next_]; }
    /// Where the record that comes stands now, counted from the page's start; nothing: not among the old
    /// ones.
    struct Before {
        std::int64_t place;
        std::uint64_t content;
    };
    std::optional<Before> before() const;
    /// Whether the first of the old ones that are left is a place that nobody has filled.
    bool isNextEmpty() const;

    /// The record that comes takes the place of the old one with its key.
    void takeOldPlace();
    /// It takes the first place that nobody has filled.
    void takeEmpty();
    /// It stands between.
    void takeBetween() { ++next_; }

    /// What is left of the old ones at the end.
    std::int64_t leftCount() const { return static_cast<std::int64_t>(left_.count()); }
    std::vector<std::string> leftKeys() const;
    std::vector<PageRecord> takeRecords() { return std::move(records_); }

private:
    std::int64_t page_;
    std::vector<Slot> old_;
    LeftOf left_;
    std::vector<PageRecord> records_;
    std::size_t next_ = 0;
    std::unordered_map<std::string_view, std::size_t> oldAt_; ///< by key; views into old_
    std::unordered_map<std::string_view, std::size_t> newAt_; ///< by key; views into records_
};

} // namespace scorrere
