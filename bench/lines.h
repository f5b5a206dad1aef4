// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <chrono>
#include <cstdint>
#include <fmt/format.h>
#include <functional>
#include <string>
#include <vector>

namespace scorrere::bench {

inline double nowMs() {
    using namespace std::chrono;
    return static_cast<double>(duration_cast<nanoseconds>(steady_clock::now().time_since_epoch()).count()) /
           1e6;
}

inline double percentile(std::vector<double> values, double share) {
    std::ranges::sort(values);
    return values.empty()
               ? 0
               : values[static_cast<std::size_t>(static_cast<double>(values.size() - 1) * share + 0.5)];
}
inline double median(const std::vector<double>& values) {
    return percentile(values, 0.5);
}

/// Times several things turn by turn, so that the machine's drift falls on all of them alike; ms for each.
inline std::vector<std::vector<double>> interleaved(int rounds,
                                                    const std::vector<std::function<void()>>& things) {
    std::vector<std::vector<double>> times(things.size());
    for (int round = 0; round < rounds; ++round) {
        for (std::size_t i = 0; i < things.size(); ++i) {
            const double start = nowMs();
            things[i]();
            times[i].push_back(nowMs() - start);
        }
    }
    return times;
}

/// Prints lines with a figure, a limit and whether it holds; remembers whether all did.
class Lines {
public:
    void atMost(const std::string& what, double value, double limit, const std::string& unit,
                const std::string& more = {}) {
        const bool holds = value <= limit;
        all_ = all_ && holds;
        fmt::print("{} {:<74} {:>9.3f} {:<8} limit {:g}{}\n", holds ? "holds" : "OVER ", what, value, unit,
                   limit, more.empty() ? "" : "   (" + more + ")");
        std::fflush(stdout);
    }
    void atLeast(const std::string& what, double value, double limit, const std::string& unit) {
        const bool holds = value >= limit;
        all_ = all_ && holds;
        fmt::print("{} {:<74} {:>9.3f} {:<8} at least {:g}\n", holds ? "holds" : "UNDER", what, value, unit,
                   limit);
        std::fflush(stdout);
    }
    void note(const std::string& text) {
        fmt::print("      {}\n", text);
        std::fflush(stdout);
    }
    int exitCode() const { return all_ ? 0 : 1; }

private:
    bool all_ = true;
};

} // namespace scorrere::bench
