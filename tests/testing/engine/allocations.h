// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>

namespace scorrere::testing {

/// How often this program has allocated with new so far.
std::int64_t allocationsEver();

} // namespace scorrere::testing
