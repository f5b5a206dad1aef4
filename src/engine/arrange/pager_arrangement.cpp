// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/pager_arrangement.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace scorrere {

namespace {

constexpr double kStands = 60;        ///< px/s: slower than this it goes to the nearest
constexpr double kReachSeconds = 0.3; ///< a fling carries it as far as it would move in this time

std::int64_t floorOf(std::int64_t a, std::int64_t b) {
    return a / b - (a % b < 0 ? 1 : 0);
}

std::int64_t modulo(std::int64_t a, std::int64_t b) {
    return a - floorOf(a, b) * b;
}

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

/// The window never shows an item twice.
bool PagerArrangement::isEndless() const {
    return spec_.endless && size() >= 3 && step() * size() >= window_ + step();
}

/// Where an item stands in the row of all turns: where it is nearest to the window.
std::int64_t PagerArrangement::turned(std::int64_t position) const {
    if (!isEndless()) {
        return position;
    }
    const std::int64_t on = modulo(position - nearest_, size());
    return nearest_ + (on > size() / 2 ? on - size() : on);
}

Length PagerArrangement::windowAt(std::int64_t position, Length showed) {
    if (!isEndless()) {
        nearest_ = 0;
        return {};
    }
    const std::int64_t offset = (before() + step() * position - showed).raw();
    nearest_ = floorOf(offset + step().raw() / 2, step().raw());
    return step() * (turned(position) - position);
}

Box PagerArrangement::boxOf(std::int64_t position) {
    return {before() + step() * turned(position), extent(), spacing_.insets[3], room()};
}

std::int64_t PagerArrangement::indexAt(Length offset) {
    if (isEndless()) { // the one that rests there, or before: it fills the window
        return modulo(floorOf(offset.raw(), step().raw()), size());
    }
    const Length inside = std::max(offset - before(), Length{});
    return std::min(inside.raw() / step().raw(), size() - 1);
}

void PagerArrangement::tellKinds(std::span<const KindRun> records, bool) {
    addRecords(-recordCount());
    for (const KindRun& each : records) {
        addRecords(each.count);
    }
}

std::size_t PagerArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                       std::span<std::int64_t> room) {
    if (size() == 0 || from >= until) {
        return 0;
    }
    const std::int64_t least = isEndless() ? untilTurned() - size() + 1 : 0;
    const std::int64_t most = isEndless() ? untilTurned() : size() - 1;
    // The first that ends behind `from`, the last that starts before `until`.
    std::int64_t first = std::max(floorOf((from - before() - extent()).raw(), step().raw()) + 1, least);
    std::int64_t last = std::min(floorOf((until - before()).raw() - 1, step().raw()), most);
    const bool isOn = toward == Toward::End;
    if (past != kFromTheEnd) {
        first = isOn ? std::max(first, turned(past) + 1) : first;
        last = isOn ? last : std::min(last, turned(past) - 1);
    }
    std::size_t named = 0;
    for (std::int64_t i = first; i <= last && named < room.size(); ++i) {
        room[named++] = modulo(isOn ? i : last - (i - first), size());
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
    return step() * std::llround(isEndless() ? to : std::clamp(to, 0.0, last));
}

std::optional<Length> PagerArrangement::restBeside(Length offset, Toward toward) {
    const std::int64_t raw = step().raw();
    const std::int64_t to =
        toward == Toward::End ? floorOf(offset.raw(), raw) + 1 : floorOf(offset.raw() + raw - 1, raw) - 1;
    return step() *
           (isEndless() ? to : std::clamp<std::int64_t>(to, 0, std::max<std::int64_t>(size() - 1, 0)));
}

} // namespace scorrere
