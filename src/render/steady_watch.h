// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/trace/trace.h"

#include <chrono>

namespace scorrere::render {

/// The machine's steady clock.
class SteadyWatch final : public Stopwatch {
public:
    std::int64_t nowNs() override {
        return std::chrono::duration_cast<std::chrono::nanoseconds>(
                   std::chrono::steady_clock::now().time_since_epoch())
            .count();
    }
};

} // namespace scorrere::render
