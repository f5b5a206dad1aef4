// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/play_report.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {

bool PlayReport::withinBudgets() const {
    return std::ranges::all_of(budgets, &BudgetLine::holds);
}

PlayReport makeReport(const CollectionDocument& document, const std::string& script, Run& run,
                      std::int64_t records, double frameBudgetMs) {
    PlayReport report;
    report.collection = document.path.empty() ? document.name : document.path;
    report.script = script;
    report.records = records;
    report.frameBudgetMs = frameBudgetMs;
    const Trace& trace = run.trace();
    report.frames = trace.framesEver();
    const TraceTotals& totals = trace.totals();
    report.built = totals.built;
    report.filled = totals.filled;
    report.filledAhead = totals.filledAhead;
    report.mostAlive = totals.mostAlive;
    report.worstJumpPx = totals.worstJump.toPx();
    report.boundedFrames = totals.bounded;
    report.misestimatePx = totals.misestimate.toPx();
    report.lengthPx = run.total().toPx();
    report.fingerprint = trace.fingerprint();
    report.cost = trace.statistics(trace.size(), frameBudgetMs);
    const Budgets& limits = document.budgets;
    const auto limit = [&report](const char* name, double most, double value) {
        if (most > 0) {
            report.budgets.push_back({name, most, value});
        }
    };
    limit("medianMs", limits.medianMs, report.cost.medianMs);
    limit("p99Ms", limits.p99Ms, report.cost.p99Ms);
    limit("built", static_cast<double>(limits.built), static_cast<double>(report.built));
    return report;
}

std::string PlayReport::toJson() const {
    nlohmann::ordered_json json;
    json["collection"] = collection;
    json["script"] = script;
    json["records"] = records;
    if (requests > 0) {
        json["requests"] = requests;
    }
    json["work"] = {{"frames", frames},
                    {"built", built},
                    {"filled", filled},
                    {"filledAhead", filledAhead},
                    {"mostLive", mostAlive},
                    {"worstJumpPx", worstJumpPx},
                    {"boundedFrames", boundedFrames},
                    {"lengthPx", lengthPx},
                    {"misestimatePx", misestimatePx},
                    {"fingerprint", fmt::format("{:016x}", fingerprint)}};
    json["cost"] = {{"medianMs", cost.medianMs},
                    {"p99Ms", cost.p99Ms},
                    {"worstMs", cost.worstMs},
                    {"frameBudgetMs", frameBudgetMs},
                    {"framesOverBudget", cost.overBudget}};
    json["budgets"] = nlohmann::ordered_json::array();
    for (const BudgetLine& line : budgets) {
        json["budgets"].push_back(
            {{"name", line.name}, {"limit", line.limit}, {"value", line.value}, {"holds", line.holds()}});
    }
    json["withinBudgets"] = withinBudgets();
    return json.dump(2) + "\n";
}

std::string PlayReport::toText() const {
    std::string text =
        fmt::format("{} over {} records{}, script \"{}\"\n\n", collection, records,
                    requests > 0 ? fmt::format(", read by {} requests", requests) : "", script);
    text += fmt::format(
        "work  {} frames, {} item views built, {} fills ({} ahead of the window), {} alive at most\n", frames,
        built, filled, filledAhead, mostAlive);
    if (boundedFrames > 0) {
        text += fmt::format(
            "      {} frames filled as many items as a frame may, and left the rest to the next\n",
            boundedFrames);
    }
    text += fmt::format("      hold point jumped at most {} px; strip {:.0f} px long; fingerprint {:016x}\n",
                        worstJumpPx, lengthPx, fingerprint);
    text += fmt::format("cost  median {:.2f} ms, worst hundredth {:.2f} ms, worst {:.2f} ms; {} of {} frames "
                        "over {:.1f} ms\n",
                        cost.medianMs, cost.p99Ms, cost.worstMs, cost.overBudget, cost.frames, frameBudgetMs);
    for (const BudgetLine& line : budgets) {
        text += fmt::format("{}  {} {:.2f}, limit {:.2f}\n", line.holds() ? "holds" : "OVER ", line.name,
                            line.value, line.limit);
    }
    return text;
}

} // namespace scorrere::workbench
