// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "engine/run/run.h"

#include <string>
#include <vector>

namespace scorrere::workbench {

struct BudgetLine {
    std::string name;
    double limit = 0;
    double value = 0;
    bool holds() const { return value <= limit; }
};

/// What a play came to: the work (the same every time) and what it cost (on this machine).
struct PlayReport {
    std::string collection;
    std::string script;
    std::int64_t records = 0;
    std::int64_t requests = 0; ///< for pages; 0: it was not read in pages
    std::int64_t frames = 0;
    std::int64_t built = 0;
    std::int64_t filled = 0;
    std::int64_t filledAhead = 0;
    int mostAlive = 0;
    double worstJumpPx = 0;
    std::int64_t boundedFrames = 0; ///< filled as many items as a frame may, with more to show
    double lengthPx = 0;
    double misestimatePx = 0;
    std::uint64_t fingerprint = 0;
    Statistics cost;
    double frameBudgetMs = 0;
    std::vector<BudgetLine> budgets;

    bool withinBudgets() const;
    std::string toJson() const;
    std::string toText() const;
};

/// Sums the run's trace up; requests are for the caller to fill in. `frameBudgetMs`: the device's.
PlayReport makeReport(const CollectionDocument& document, const std::string& script, Run& run,
                      std::int64_t records, double frameBudgetMs);

} // namespace scorrere::workbench
