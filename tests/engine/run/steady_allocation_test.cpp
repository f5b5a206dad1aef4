// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/run/run.h"
#include "testing/engine/fake_host.h"

#include <atomic>
#include <cstdlib>
#include <gtest/gtest.h>
#include <new>

namespace {
std::atomic<std::int64_t> allocated{0};
}

// The compiler takes the replaced pair apart when it inlines one half of it.
#pragma GCC diagnostic ignored "-Wmismatched-new-delete"

// Counts every allocation of this program. Kept simple: alignment beyond the usual is not used in the engine.
void* operator new(std::size_t size) {
    ++allocated;
    if (void* memory = std::malloc(size == 0 ? 1 : size)) {
        return memory;
    }
    throw std::bad_alloc();
}
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
    ++allocated;
    return std::malloc(size == 0 ? 1 : size);
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

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
    const std::int64_t before = allocated;
    play(10'000);
    EXPECT_EQ(allocated - before, 0);
    EXPECT_GT(host.fills - fills, 1000) << "a run that does nothing allocates nothing either";
}

} // namespace
} // namespace scorrere
