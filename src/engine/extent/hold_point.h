// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <cstdint>

namespace scorrere {

/// The item that must not move on screen while things change around it, and where its start stands.
///
/// Units       `onScreen` is the item's start relative to the window's start; negative when it began before it.
/// Intervals   `position` is -1 when there is no item to hold on to.
struct HoldPoint {
    std::int64_t position = -1;
    Length onScreen;

    bool operator==(const HoldPoint&) const = default;

    /// `count` items came in before `at`: the held item keeps its place on screen under its new position.
    void inserted(std::int64_t at, std::int64_t count) {
        if (position >= at) {
            position += count;
        }
    }
    /// Items [at, at + count) went. Tells whether the held item was among them; it is then held by the next
    /// survivor (`sizeAfter` items are left), which takes over the place on screen.
    bool erased(std::int64_t at, std::int64_t count, std::int64_t sizeAfter) {
        if (position < at) {
            return false;
        }
        if (position >= at + count) {
            position -= count;
            return false;
        }
        position = at < sizeAfter ? at : sizeAfter - 1;
        return true;
    }
    void moved(std::int64_t from, std::int64_t to) {
        if (position == from) {
            position = to;
        } else if (from < position && to >= position) {
            --position;
        } else if (from > position && to <= position) {
            ++position;
        }
    }
};

} // namespace scorrere
