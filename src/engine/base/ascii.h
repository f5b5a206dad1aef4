// SPDX-License-Identifier: Apache-2.0
#pragma once

namespace scorrere {

/// Of ASCII alone, whatever the locale says.
constexpr bool isDigit(char c) {
    return c >= '0' && c <= '9';
}

} // namespace scorrere
