// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <string_view>

namespace scorrere {

/// Fowler, Noll and Vo's hash (FNV-1a, 64 bit): the same everywhere and in every version, unlike the library's own.
class Fnv {
public:
    constexpr void add(std::string_view bytes) {
        for (const char c : bytes) {
            addWord(static_cast<unsigned char>(c));
        }
    }
    /// Between parts, so that "ab", "c" is not "a", "bc": no byte of UTF-8.
    constexpr void addEnd() { addWord(0xff); }
    constexpr void addWord(std::uint64_t word) { value_ = (value_ ^ word) * 1099511628211ULL; }
    constexpr std::uint64_t value() const { return value_; }

private:
    std::uint64_t value_ = 14695981039346656037ULL;
};

} // namespace scorrere
