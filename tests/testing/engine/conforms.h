// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement.h"

#include <algorithm>
#include <rapidcheck.h>
#include <vector>

namespace scorrere::testing {

/// What must hold of any arrangement, one's own, too: found out by asking it for every item.
inline void conforms(Arrangement& of, Length from, Length until) {
    of.checkInvariants();
    std::vector<Box> boxes;
    std::vector<std::int64_t> wanted;
    for (std::int64_t position = 0; position < of.size(); ++position) {
        const Box box = of.boxOf(position);
        RC_ASSERT(box.extent >= Length{});
        RC_ASSERT(box.crossExtent >= Length{});
        RC_ASSERT(box.end() <= of.total());
        RC_ASSERT(of.startOf(position) == box.start);
        RC_ASSERT(of.extentOf(position) == box.extent);
        const Given given = of.givenFor(position);
        RC_ASSERT(given.crossExtent == box.crossExtent);
        RC_ASSERT(given.extent.value_or(box.extent) == box.extent);
        RC_ASSERT((!of.isInOrder() || boxes.empty() || boxes.back().start <= box.start));
        const Slot slot = of.slotAt(position);
        RC_ASSERT(of.find(slot) == position);
        RC_ASSERT((slot.role != Role::Record || of.positionOf(slot.place) == position));
        if (from < until && box.start < until && box.end() > std::max(from, Length{}) &&
            box.extent > Length{}) {
            wanted.push_back(position);
        }
        boxes.push_back(box);
    }
    RC_ASSERT(of.measuredBefore(of.size()) <= of.knownBefore(of.size()));
    RC_ASSERT(of.knownBefore(of.size()) <= of.size());
    const std::int64_t at = of.indexAt(from);
    RC_ASSERT(at >= (boxes.empty() ? -1 : 0));
    RC_ASSERT(at < of.size());
    RC_ASSERT(
        (at <= 0 || boxes[static_cast<std::size_t>(at)].start <= from)); // it is there, or before the gap
    for (const Toward toward : {Toward::End, Toward::Start}) {
        std::vector<std::int64_t> named;
        std::vector<std::int64_t> room(of.mostInALine());
        std::int64_t past = Arrangement::kFromTheEnd;
        while (const std::size_t some = of.touching(from, until, toward, past, room)) {
            named.insert(named.end(), room.begin(), room.begin() + static_cast<std::ptrdiff_t>(some));
            RC_ASSERT(named.size() <= wanted.size());
            past = named.back();
        }
        RC_ASSERT(named == wanted);
        std::ranges::reverse(wanted);
    }
}

} // namespace scorrere::testing
