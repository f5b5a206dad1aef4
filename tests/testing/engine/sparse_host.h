// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "testing/engine/fake_host.h"

#include <cstdint>
#include <functional>

namespace scorrere::testing {

/// Items whose extents a function gives by place: of which most take no room, say.
class SparseHost final : public RunHost {
public:
    explicit SparseHost(std::function<Length(std::int64_t)> extent) : extent_(std::move(extent)) {}
    void build(ViewId, int) override { ++builds; }
    Length fill(ViewId, const Slot& slot, const Given&, CostMeter&) override {
        ++fills;
        return slot.role == Role::Record ? extent_(slot.place) : Length::px(50);
    }
    FakeWatch watch;
    std::int64_t builds = 0;
    std::int64_t fills = 0;

private:
    std::function<Length(std::int64_t)> extent_;
};

} // namespace scorrere::testing
