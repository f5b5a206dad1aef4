// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/pager.h"

#include <cstdint>

namespace scorrere {

/// How a collection that is read in pages behaves; what a page is and where it comes from is in PageSpec.
struct PagingSpec {
    double lead = 1.5;         ///< pages are asked for that many windows ahead
    std::int64_t leadMs = 600; ///< and as far as the window moves in that time
    int atOnce = 3;
    std::int64_t keep = 12; ///< pages about the window that stay in memory
    double keepMiB = 0;     ///< 0: any
    int tries = 4;
    std::int64_t startAt = 0; ///< the record it opens at (pages by number or offset)
    bool byPull = true;       ///< dragging past the start refreshes
    std::int64_t everyS = 0;  ///< and so does time; 0: not
    RefreshStand stand = RefreshStand::AtTop;
    bool streams = true; ///< changes come by the source's stream, if it has one
    double diskMiB = 16; ///< pages kept on disk from run to run; 0: none
    double diskDays = 7;
    bool operator==(const PagingSpec&) const = default;

    PageRules rules(PageStyle style, std::int64_t size) const {
        PageRules rules;
        rules.style = style;
        rules.size = size;
        rules.leadScreens = lead;
        rules.leadMs = leadMs;
        rules.atOnce = atOnce;
        rules.keepPages = keep;
        rules.keepBytes = static_cast<std::int64_t>(keepMiB * (1 << 20));
        rules.tries = tries;
        rules.firstRecord = startAt;
        return rules;
    }
};

} // namespace scorrere
