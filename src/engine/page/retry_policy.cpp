// SPDX-License-Identifier: Apache-2.0
#include "engine/page/retry_policy.h"

#include <algorithm>

namespace scorrere {

/// Exponential back-off with jitter: between a half and all of the doubled wait.
std::int64_t RetryPolicy::delay(int tries) {
    std::int64_t whole = rules_.backOffMs;
    for (int i = 1; i < tries && whole < rules_.mostBackOffMs; ++i) {
        whole *= 2;
    }
    whole = std::min(whole, rules_.mostBackOffMs);
    random_ = random_ * 6364136223846793005ull + 1442695040888963407ull; // Knuth, MMIX
    const auto half = static_cast<std::uint64_t>(std::max<std::int64_t>(whole / 2, 1));
    return whole - static_cast<std::int64_t>((random_ >> 33) % half);
}

void RetryPolicy::succeeded() {
    budget_ = std::min(budget_ + kEarned, kMostBudget);
    offline_ = false;
    probes_ = 0;
}

std::optional<std::int64_t> RetryPolicy::failed(std::int64_t nowMs, const PageFailure& failure, int tries) {
    using Kind = PageFailure::Kind;
    if (failure.retryAfterMs > 0) {
        quietMs_ = std::max(quietMs_, nowMs + failure.retryAfterMs);
    }
    if (failure.kind == Kind::Offline) {
        offline_ = true;
        probeAtMs_ = nowMs + delay(++probes_);
        return probeAtMs_;
    }
    offline_ = false; // something answered
    if (failure.kind != Kind::Passing || tries >= rules_.tries || budget_ < 1) {
        return std::nullopt;
    }
    budget_ -= 1;
    return std::max(nowMs + delay(tries), quietMs_);
}

} // namespace scorrere
