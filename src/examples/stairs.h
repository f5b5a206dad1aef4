// SPDX-License-Identifier: Apache-2.0
#pragma once

namespace scorrere::examples {

/// Adds "stairs" to OwnArrangements: a list whose items step to the side one after the other, and back. It knows
/// the numbers `steps` (how many one way, usually 4) and `share` (of the strip's width that an item has, usually 0.6).
void addStairs();

} // namespace scorrere::examples
