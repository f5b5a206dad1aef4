// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/extent_index.h"

#include <cstdint>
#include <span>
#include <vector>

namespace scorrere {

/// Which records stand under which heading, in their order: a section is a stretch of records. What shows of
/// sections are entries: a header, the records, a footer; of a folded one its header alone.
///
/// Units       Places count records, entries what shows of them, both from 0.
/// Complexity  s = sections: O(log s), O(named) where it takes or gives many. About 10 bytes a section.
/// Ownership   A value of its own. Move only.
/// Threads     Sole access, also for queries.
/// Errors      A broken "Requires" is the caller's bug: it asserts.
class Sections {
public:
    struct Stand {
        std::int64_t section = -1;
        std::int64_t first = 0; ///< place of its first record
        std::int64_t records = 0;
        std::int64_t entry = 0; ///< the first one of it
        std::int64_t entries = 0;
        bool isHeaded = false;
        bool isFolded = false;
        bool hasFooter = false;
    };

    /// So many records without a heading. `haveFooters`: each section under a heading ends in a footer.
    explicit Sections(bool haveFooters = false, std::int64_t records = 0);
    /// So many records each, one at least. `isFirstHeaded`: the first, too, has a heading.
    Sections(bool haveFooters, std::span<const std::int32_t> records, bool isFirstHeaded);

    bool haveFooters() const { return haveFooters_; }
    std::int64_t count() const { return records_.size(); }
    std::int64_t records() const { return records_.total().raw(); }
    std::int64_t entries() const { return entries_.total().raw(); }
    /// Requires: there is one.
    Stand at(std::int64_t section) const;
    Stand ofPlace(std::int64_t place) const;
    Stand ofEntry(std::int64_t entry) const;
    /// So many records each, of consecutive sections.
    std::vector<std::int32_t> recordsOf(std::int64_t section, std::int64_t count) const;
    /// So many entries each.
    std::vector<std::int32_t> entriesOf(std::int64_t section, std::int64_t count) const;
    bool isFirstHeaded() const { return isFirstHeaded_; }

    /// So many records more, or fewer with a negative count, in a section that stays.
    void addTo(std::int64_t section, std::int64_t records);
    /// A section without a heading, as the first.
    void addFirst(std::int64_t records);
    void erase(std::int64_t section, std::int64_t count);
    /// Its records from a place on are a section of their own, as folded as it is. Requires: it stands there, and
    /// not first.
    void split(std::int64_t place);
    /// Is one with the section before it, as folded as that is. Requires: section > 0.
    void join(std::int64_t section);
    void setFirstHeaded(bool isHeaded);
    /// Requires: it has a heading.
    void setFolded(std::int64_t section, bool isFolded);
    /// All under a heading.
    void setAllFolded(bool areFolded);

    std::size_t memoryBytes() const { return records_.memoryBytes() + entries_.memoryBytes(); }
    std::int64_t nodesVisited() const { return records_.nodesVisited() + entries_.nodesVisited(); }
    void checkInvariants() const;

private:
    bool isHeaded(std::int64_t section) const { return section > 0 || isFirstHeaded_; }
    std::int64_t entriesFor(std::int64_t section, std::int64_t records, bool isFolded) const;
    void set(std::int64_t section, std::int64_t records, bool isFolded);
    void add(std::int64_t section, std::int64_t records, bool isFolded);

    bool haveFooters_;
    bool isFirstHeaded_ = false;
    // By section; an index counts as soon as it does anything, that is all that changes in a query.
    mutable ExtentIndex records_; ///< so many records are an extent of so many
    mutable ExtentIndex entries_;
};

} // namespace scorrere
