// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <iterator>
#include <map>

namespace scorrere {

/// A set of page numbers that come in long runs, however large they are.
///
/// Complexity  r = runs of numbers that follow each other: O(log r) each, and as much memory as there are
/// runs.
class PageSet {
public:
    bool contains(std::int64_t page) const {
        const auto after = runs_.upper_bound(page);
        return after != runs_.begin() && std::prev(after)->second > page;
    }
    void insert(std::int64_t page) {
        if (contains(page)) {
            return;
        }
        std::int64_t begin = page;
        std::int64_t end = page + 1;
        const auto after = runs_.upper_bound(page);
        if (after != runs_.begin() && std::prev(after)->second == page) {
            begin = std::prev(after)->first;
        }
        if (after != runs_.end() && after->first == end) {
            end = after->second;
            runs_.erase(after);
        }
        runs_[begin] = end;
    }
    void erase(std::int64_t page) {
        const auto after = runs_.upper_bound(page);
        if (after == runs_.begin() || std::prev(after)->second <= page) {
            return;
        }
        const auto run = std::prev(after);
        const std::int64_t end = run->second;
        if (run->first == page) {
            runs_.erase(run);
        } else {
            run->second = page;
        }
        if (page + 1 < end) {
            runs_[page + 1] = end;
        }
    }
    /// Takes out that page and all after it.
    void cutFrom(std::int64_t page) {
        runs_.erase(runs_.lower_bound(page), runs_.end());
        if (!runs_.empty() && runs_.rbegin()->second > page) {
            runs_.rbegin()->second = page;
        }
    }
    void clear() { runs_.clear(); }

private:
    std::map<std::int64_t, std::int64_t> runs_; ///< the first of each run, and the one after its last
};

} // namespace scorrere
