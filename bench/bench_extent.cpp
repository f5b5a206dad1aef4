// SPDX-License-Identifier: GPL-3.0-or-later
//
// The extent index against a binary search over static prefix sums, which can answer but not change.
#include "engine/extent/extent_index.h"
#include "lines.h"

#include <random>

using namespace scorrere;
using namespace scorrere::bench;

namespace {

constexpr int kQueries = 100'000;
constexpr int kRounds = 9;

std::int64_t sink = 0;

void compareAt(std::int64_t n, Lines& lines, bool judge) {
    std::mt19937_64 dice(42);
    ExtentIndex index;
    index.setEstimate(0, Length::px(90));
    index.insert(0, n, 0);
    const double unmeasured = static_cast<double>(index.memoryBytes()) / static_cast<double>(n);
    std::vector<std::int64_t> prefix(static_cast<std::size_t>(n) + 1);
    for (std::int64_t i = 0; i < n; ++i) {
        const auto extent = static_cast<std::int64_t>(2000 + dice() % 12'000);
        index.setMeasured(i, Length::fromRaw(extent));
        prefix[static_cast<std::size_t>(i) + 1] = prefix[static_cast<std::size_t>(i)] + extent;
    }
    const double measured = static_cast<double>(index.memoryBytes()) / static_cast<double>(n);
    std::vector<std::int64_t> offsets(kQueries);
    std::vector<std::int64_t> positions(kQueries);
    for (int i = 0; i < kQueries; ++i) {
        offsets[static_cast<std::size_t>(i)] =
            static_cast<std::int64_t>(dice() % static_cast<std::uint64_t>(prefix.back()));
        positions[static_cast<std::size_t>(i)] =
            static_cast<std::int64_t>(dice() % static_cast<std::uint64_t>(n));
    }
    const auto each = [](const std::vector<std::int64_t>& inputs, auto call) {
        return [&inputs, call] {
            for (const std::int64_t input : inputs) {
                call(input);
            }
        };
    };
    std::int64_t turn = 0;
    const auto times = interleaved(
        kRounds,
        {each(offsets,
              [&](std::int64_t x) {
                  sink += std::upper_bound(prefix.begin(), prefix.end(), x) - prefix.begin();
              }),
         each(offsets, [&](std::int64_t x) { sink += index.indexAt(Length::fromRaw(x)); }),
         each(positions, [&](std::int64_t p) { sink += index.offsetOf(p).raw(); }),
         each(positions,
              [&](std::int64_t p) { index.setMeasured(p, Length::fromRaw(3000 + (++turn % 5000))); }),
         each(positions, [&](std::int64_t p) { index.insert(p, 1, 0); }),
         each(positions, [&](std::int64_t p) { index.erase(p, 1); })});
    const double search = median(times[0]);
    const auto ns = [&](std::size_t i) {
        return fmt::format("{:.0f} ns against {:.0f} ns", median(times[i]) * 1e6 / kQueries,
                           search * 1e6 / kQueries);
    };
    const std::string at = fmt::format(" at {:.0e}", static_cast<double>(n));
    static const char* names[] = {"", "index_at", "offset_of", "set_measured", "insert one", "erase one"};
    static const double limits[] = {0, 1.2, 1.2, 1.5, 3, 3};
    for (std::size_t i = 1; i < times.size(); ++i) {
        const double ratio = median(times[i]) / search;
        if (judge) {
            lines.atMost(names[i] + at, ratio, limits[i], "x search", ns(i));
        } else {
            lines.note(fmt::format("{}{}: {:.2f} x search ({})", names[i], at, ratio, ns(i)));
        }
    }
    if (judge) {
        lines.atMost("memory, unmeasured" + at, unmeasured, 1, "B/item");
        lines.atMost("memory, measured" + at, measured, 8, "B/item");
    }
}

} // namespace

int main() {
    Lines lines;
    fmt::print(
        "Extent index, beside a binary search over static prefix sums (medians of {} interleaved rounds)\n",
        kRounds);
    compareAt(100'000, lines, false);
    compareAt(1'000'000, lines, false);
    compareAt(10'000'000, lines, true);
    if (sink == 1) {
        fmt::print("\n");
    }
    return lines.exitCode();
}
