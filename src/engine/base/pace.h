// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cmath>
#include <cstdint>
#include <functional>
#include <optional>

namespace scorrere {

/// How far work is, 0 to 1: called by who does it.
using ShareHandler = std::function<void(double share)>;

/// For how many seconds still work goes on at the pace that it had; nothing: it is too early to tell.
inline std::optional<std::int64_t> secondsLeft(double share, std::int64_t passedMs) {
    constexpr std::int64_t kToldFromMs = 1000;
    constexpr double kToldFrom = 0.01;
    if (passedMs < kToldFromMs || share < kToldFrom) {
        return std::nullopt;
    }
    const double left = std::fmax(0.0, 1 - share);
    return static_cast<std::int64_t>(std::ceil(static_cast<double>(passedMs) / share * left / 1000));
}

} // namespace scorrere
