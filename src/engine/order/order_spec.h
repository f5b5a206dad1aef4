// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

/// By what records are sorted.
struct SortBy {
    std::string field;
    bool descending = false;
    bool missingFirst = false; ///< where the field is missing; else last, whichever way the rest goes
    bool operator==(const SortBy&) const = default;
};

/// Which of the records a collection shows, and in which order.
struct OrderSpec {
    std::string where;                     ///< a rule (RFC 9535, as Rule has it); empty: all
    std::string containing;                ///< words, in any order, each in any of the fields; empty: all
    std::vector<std::string> within;       ///< fields that are searched; none: all texts
    std::vector<SortBy> by;                ///< the first one first; none: as the source has them
    std::optional<std::uint64_t> shuffled; ///< by this seed, instead of `by`
    bool isGathered = false; ///< those under one heading stand together, the headings as each is met first
    /// What takes one to the start when it is another; else one stays with what one reads.
    struct ToStart {
        bool filter = false;
        bool search = false;
        bool sort = false;
        bool shuffle = false;
        bool operator==(const ToStart&) const = default;
    };
    ToStart toStart;
    bool operator==(const OrderSpec&) const = default;

    bool isFiltered() const { return !where.empty() || !containing.empty(); }
    bool isSorted() const { return shuffled || !by.empty(); }
    /// All records as the source has them.
    bool isAsGiven() const { return !isFiltered() && !isSorted() && !isGathered; }
    /// Whether the same records are shown in the same order.
    bool isSameOrder(const OrderSpec& other) const;
    /// Whether one goes to the start when this comes after another.
    bool goesToStartAfter(const OrderSpec& other) const;
};

} // namespace scorrere
