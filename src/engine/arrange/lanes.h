// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"

#include <algorithm>

namespace scorrere {

/// How many items stand beside each other across the strip: a number, or as many as fit. Lengths in
/// density-independent px.
struct Lanes {
    int count = 2; ///< 1 to Arrangement::kMostInALine; without `least`
    Length least;  ///< more than 0: as many as there is room for that are no narrower
    Length gap;    ///< between them

    int in(Length room) const {
        std::int64_t lanes = count;
        if (least > Length{}) {
            lanes = (room + gap).raw() / (least + gap).raw();
        }
        return static_cast<int>(
            std::clamp<std::int64_t>(lanes, 1, static_cast<std::int64_t>(Arrangement::kMostInALine)));
    }
    /// All are of one width, to the last 1/64 px: an item that comes to stand in another is laid out as it was.
    Length widthIn(Length room) const { return std::max((room + gap) / in(room)-gap, Length{}); }
    Length startOf(std::int64_t lane, Length room) const { return (widthIn(room) + gap) * lane; }

    bool operator==(const Lanes& other) const {
        return least == other.least && gap == other.gap && (least > Length{} || count == other.count);
    }
};

} // namespace scorrere
