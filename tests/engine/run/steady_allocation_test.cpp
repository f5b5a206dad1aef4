// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/run/run.h"
#include "testing/engine/allocations.h"
#include "testing/engine/fake_host.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

TEST(Run, ASteadyFrameAllocatesNothing) {
    const std::int64_t records = 200'000;
    testing::FakeHost host(records);
    scorrere::Run run(host, host.watch, {}, records, {Length::px(90), Length::px(60), Length::px(40)});
    host.run = &run;
    run.resize(Length::px(700), Length::px(360));
    const std::vector<std::int32_t> extents(static_cast<std::size_t>(records), 6000);
    run.setEstimated(0, extents);
    std::int64_t now = 0;
    const auto play = [&](int frames) {
        for (int i = 0; i < frames; ++i) {
            if (i % 300 == 0) {
                run.motion().fling(20'000, now);
            }
            now += 8333;
            run.frame(now);
        }
    };
    play(600);
    const std::int64_t fills = host.fills;
    const std::int64_t before = testing::allocationsEver();
    play(10'000);
    EXPECT_EQ(testing::allocationsEver() - before, 0);
    EXPECT_GT(host.fills - fills, 1000) << "a run that does nothing allocates nothing either";
}

} // namespace
} // namespace scorrere
