// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/page_records.h"
#include "engine/page/page_rules.h"

namespace scorrere {

/// When a page that failed is tried again, and whether anything may be asked at all.
///
/// Waits double from try to try, and each is shortened by chance to between a half and all of it, so that
/// many callers do not come back at once. A service that fails often is not asked much more because of it:
/// tries come out of a budget that successes fill. While the service cannot be reached, one call at a time
/// probes for it.
///
/// Units       ms on the run's clock.
/// Threads     One thread.
class RetryPolicy {
public:
    static constexpr double kMostBudget = 10;
    static constexpr double kEarned = 0.2; ///< by each success

    explicit RetryPolicy(const PageRules& rules) : rules_(rules), random_(rules.seed * 2 + 1) {}
    void setRules(const PageRules& rules) { rules_ = rules; }

    void succeeded();
    /// A call failed for the `tries`th time. Gives when to try again; nothing: give the page up.
    std::optional<std::int64_t> failed(std::int64_t nowMs, const PageFailure& failure, int tries);
    /// Somebody says that it may be there again.
    void probeNow() { probeAtMs_ = 0; }

    bool isOffline() const { return offline_; }
    /// Before this nothing may be asked: the service said so, or nobody can reach it.
    std::int64_t quietUntilMs() const { return offline_ ? std::max(probeAtMs_, quietMs_) : quietMs_; }
    double budget() const { return budget_; }

private:
    std::int64_t delay(int tries);

    PageRules rules_;
    std::uint64_t random_;
    double budget_ = kMostBudget;
    bool offline_ = false;
    int probes_ = 0;
    std::int64_t probeAtMs_ = 0;
    std::int64_t quietMs_ = 0;
};

} // namespace scorrere
