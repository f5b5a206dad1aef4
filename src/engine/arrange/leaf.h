// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <algorithm>
#include <cstdint>
#include <vector>

namespace scorrere {

/// A collection turned by hand: so many records at a time, instead of all in one strip.
struct Leaf {
    std::int64_t size = 0;  ///< 0: all in one strip
    std::int64_t first = 0; ///< the place of its first record

    bool isOne() const { return size > 0; }
    /// How many of all records stand on it.
    std::int64_t countOf(std::int64_t all) const {
        return isOne() ? std::clamp<std::int64_t>(all - first, 0, size) : all;
    }
    std::int64_t number() const { return isOne() ? first / size : 0; }
    std::int64_t leavesOf(std::int64_t all) const {
        return isOne() ? std::max<std::int64_t>((all + size - 1) / size, 1) : 1;
    }
    static constexpr std::int64_t kMostSize = 10'000;
};

/// Which leaves a bar names, from 0: the first, the last and those about the present one; a gap is -1.
inline std::vector<std::int64_t> leavesNamed(std::int64_t present, std::int64_t count) {
    constexpr std::int64_t kAbout = 2;
    std::vector<std::int64_t> named;
    for (std::int64_t leaf = 0; leaf < count;) {
        const bool isNear = leaf >= present - kAbout && leaf <= present + kAbout;
        if (leaf == 0 || leaf == count - 1 || isNear) {
            named.push_back(leaf++);
            continue;
        }
        const std::int64_t next = leaf < present ? present - kAbout : count - 1;
        named.push_back(next == leaf + 1 ? leaf : -1); // a gap of one is that one
        leaf = next;
    }
    return named;
}

} // namespace scorrere
