// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/recycle/recycler.h"

#include <gtest/gtest.h>
#include <map>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

RC_GTEST_PROP(Recycler, CarriesEachItemOnceUnderAnyEdits, ()) {
    Recycler recycler;
    std::map<std::int64_t, int> carried; // the plain oracle: position to view
    std::size_t most = 0;
    for (int step = *rc::gen::inRange(0, 80); step > 0; --step) {
        const auto at = *rc::gen::inRange<std::int64_t>(0, 30);
        switch (*rc::gen::inRange(0, 6)) {
        case 0:
        case 1: {
            if (carried.contains(at)) {
                RC_ASSERT(recycler.carrierOf(at).index == carried[at]);
                break;
            }
            const bool waits = recycler.pooled() > 0;
            const auto got = recycler.acquire(at, 0, [](std::int64_t) { return false; });
            RC_ASSERT(got.built == !waits); // one that waits is taken before one is built
            carried[at] = got.view.index;
            recycler.filled(got.view);
            break;
        }
        case 2: {
            const auto last = at + *rc::gen::inRange<std::int64_t>(0, 10);
            recycler.releaseUnless([&](std::int64_t p) { return p >= at && p <= last; });
            std::erase_if(carried, [&](const auto& c) { return c.first < at || c.first > last; });
            break;
        }
        case 3: {
            const auto count = *rc::gen::inRange<std::int64_t>(0, 5);
            recycler.inserted(at, count);
            std::map<std::int64_t, int> moved;
            for (const auto& [position, view] : carried) {
                moved[position >= at ? position + count : position] = view;
            }
            carried = moved;
            break;
        }
        case 4: {
            const auto count = *rc::gen::inRange<std::int64_t>(0, 5);
            recycler.erased(at, count);
            std::map<std::int64_t, int> moved;
            for (const auto& [position, view] : carried) {
                if (position < at || position >= at + count) {
                    moved[position >= at + count ? position - count : position] = view;
                }
            }
            carried = moved;
            break;
        }
        default: {
            const auto to = *rc::gen::inRange<std::int64_t>(0, 30);
            recycler.moved(at, to);
            std::map<std::int64_t, int> moved;
            for (const auto& [position, view] : carried) {
                const auto now = position == at                    ? to
                                 : at < position && position <= to ? position - 1
                                 : to <= position && position < at ? position + 1
                                                                   : position;
                moved[now] = view;
            }
            carried = moved;
        }
        }
        most = std::max(most, carried.size());
        recycler.checkInvariants();
        RC_ASSERT(recycler.alive().size() == carried.size());
        for (const auto& [position, view] : carried) {
            RC_ASSERT(recycler.carrierOf(position).index == view);
        }
        RC_ASSERT(recycler.views().size() <= most);
    }
}

} // namespace
} // namespace scorrere
