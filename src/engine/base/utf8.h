// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <algorithm>
#include <cstdint>
#include <string_view>

namespace scorrere {

/// A byte that goes on with a character which began before it.
constexpr bool goesOn(char byte) {
    return (static_cast<unsigned char>(byte) & 0xC0) == 0x80;
}

/// Characters (code points) of a UTF-8 text. O(bytes).
constexpr std::int64_t charactersIn(std::string_view utf8) {
    return std::ranges::count_if(utf8, [](char byte) { return !goesOn(byte); });
}

/// At most so many bytes of a UTF-8 text, cut between characters.
constexpr std::string_view headOf(std::string_view utf8, std::size_t bytes) {
    if (bytes >= utf8.size()) {
        return utf8;
    }
    while (bytes > 0 && goesOn(utf8[bytes])) {
        --bytes;
    }
    return utf8.substr(0, bytes);
}

} // namespace scorrere
