// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/pager_arrangement.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace scorrere {

namespace {

constexpr double kStands = 60;        ///< px/s: slower than this it goes to the nearest
constexpr double kReachSeconds = 0.3; ///< a fling carries it as far as it would move in this time

} // namespace

Length PagerArrangement::room() const {
    return std::max(cross_ - spacing_.insets[1] - spacing_.insets[3], Length{});
}

/// What shows before and behind the item at rest, and the gap to it.
Length PagerArrangement::lead() const {
    return spec_.peek > Length{} ? spec_.peek + spacing_.gap : Length{};
}

Length PagerArrangement::extent() const {
    const Length extent = window_ - spacing_.insets[0] - spacing_.insets[2] - lead() * 2;
    return std::clamp(extent, kLeastEstimate, ExtentIndex::kMaxExtent - spacing_.gap);
}

Length PagerArrangement::total() {
    const Length around = spacing_.insets[0] + spacing_.insets[2] + lead() * 2;
    return size() == 0 ? around : around + step() * size() - spacing_.gap;
}

Box PagerArrangement::boxOf(std::int64_t position) {
    return {spacing_.insets[0] + lead() + step() * position, extent(), spacing_.insets[3], room()};
}

std::int64_t PagerArrangement::indexAt(Length offset) {
    const Length inside = std::max(offset - spacing_.insets[0] - lead(), Length{});
    return std::min(inside.raw() / step().raw(), size() - 1);
}

std::size_t PagerArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                       std::span<std::int64_t> room) {
    from = std::max(from, Length{});
    if (size() == 0 || from >= until) {
        return 0;
    }
    std::int64_t first = indexAt(from);
    first += boxOf(first).end() <= from ? 1 : 0;
    std::int64_t last = indexAt(until - Length::fromRaw(1));
    last -= boxOf(last).start >= until ? 1 : 0;
    const bool isOn = toward == Toward::End;
    if (past != kFromTheEnd) {
        first = isOn ? std::max(first, past + 1) : first;
        last = isOn ? last : std::min(last, past - 1);
    }
    std::size_t named = 0;
    for (std::int64_t i = first; i <= last && named < room.size(); ++i) {
        room[named++] = isOn ? i : last - (i - first);
    }
    return named;
}

std::optional<Length> PagerArrangement::restFor(Length offset, double velocity) {
    const double at = static_cast<double>(offset.raw()) / static_cast<double>(step().raw());
    double to = at;
    if (std::abs(velocity) >= kStands) {
        to += velocity * kReachSeconds / step().toPx();
        to = velocity > 0 ? std::max(to, std::floor(at) + 0.5) : std::min(to, std::ceil(at) - 0.51);
        if (!spec_.several) {
            to = std::clamp(to, std::ceil(at) - 1, std::floor(at) + 1);
        }
    }
    const double last = static_cast<double>(std::max<std::int64_t>(size() - 1, 0));
    return restOf(std::llround(std::clamp(to, 0.0, last)));
}

std::optional<Length> PagerArrangement::restBeside(Length offset, Toward toward) {
    const std::int64_t raw = step().raw();
    const std::int64_t at = std::max<std::int64_t>(offset.raw(), 0);
    const std::int64_t to = toward == Toward::End ? at / raw + 1 : (at + raw - 1) / raw - 1;
    return restOf(std::clamp<std::int64_t>(to, 0, std::max<std::int64_t>(size() - 1, 0)));
}

} // namespace scorrere
