// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstdint>
#include <numeric>
#include <vector>

namespace scorrere::testing {

/// The plain oracle of the extent index: a vector, summed from its start each time.
struct PlainExtents {
    struct Item {
        int state = 0; ///< as ExtentState
        int kind = 0;
        std::int64_t value = 0;
    };
    std::vector<Item> items;
    std::array<std::int64_t, 16> estimates{};

    std::int64_t extent(std::size_t i) const {
        return items[i].state == 0 ? estimates[static_cast<std::size_t>(items[i].kind)] : items[i].value;
    }
    std::int64_t offset(std::size_t until) const {
        std::int64_t sum = 0;
        for (std::size_t i = 0; i < until; ++i) {
            sum += extent(i);
        }
        return sum;
    }
    std::int64_t count(std::size_t until, int leastState) const {
        std::int64_t found = 0;
        for (std::size_t i = 0; i < until; ++i) {
            found += items[i].state >= leastState ? 1 : 0;
        }
        return found;
    }
};

} // namespace scorrere::testing
