// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <mutex>

namespace scorrere::render {

/// What the wire is like for a run, over what it really is.
struct Weather {
    std::int64_t latencyMs = 0;      ///< before a call is sent
    std::int64_t jitterMs = 0;       ///< at most that much more, by chance
    std::int64_t bytesPerSecond = 0; ///< 0: as fast as it goes
    double lossShare = 0;            ///< of the calls: no answer ever comes
    double failShare = 0;            ///< of the calls: answered with 503
    bool offline = false;
    bool operator==(const Weather&) const = default;
    bool isClear() const { return *this == Weather(); }
};

/// The weather as it is now, for calls that start later.
///
/// Threads     Any.
class WeatherNow {
public:
    Weather get() const {
        const std::lock_guard lock(mutex_);
        return weather_;
    }
    void set(const Weather& weather) {
        const std::lock_guard lock(mutex_);
        weather_ = weather;
    }

private:
    mutable std::mutex mutex_;
    Weather weather_;
};

} // namespace scorrere::render
