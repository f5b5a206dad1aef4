// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/order/record_ranking.h"

namespace scorrere::render {

/// Slices done by the worker that asks, and by others as they are free. Who asks never waits for one that has not begun.
///
/// Threads     A worker's.
class WorkerSlices final : public Slices {
public:
    WorkerSlices();
    void run(std::int64_t count, const std::function<void(std::int64_t slice, int hand)>& work) override;
    int hands() const override { return hands_; }

private:
    int hands_;
};

} // namespace scorrere::render
