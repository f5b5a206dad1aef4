// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/position_marks.h"

#include <algorithm>
#include <cmath>

namespace scorrere {

namespace {

constexpr double kSmall = 0.5; ///< the last mark where more follow

/// How large a mark is that stands so far inside the row's end, with so many more beyond; outside it fades.
double sizeAt(double inside, double more) {
    const double last = 1 - (1 - kSmall) * std::min(more, 1.0);
    return inside < 0 ? std::max(0.0, 1 + inside) * last : last + (1 - last) * std::min(inside, 1.0);
}

} // namespace

std::size_t positionMarks(std::int64_t count, double position, int most, std::span<PositionMark> room) {
    if (count <= 0) {
        return 0;
    }
    const double beyondLast = position - static_cast<double>(count - 1);
    const bool isTurning = beyondLast > 0 && beyondLast < 1;
    if (isTurning) { // the row goes back as fast as the first item comes
        position = static_cast<double>(count - 1) * (1 - beyondLast);
    }
    const double shown = static_cast<double>(std::min<std::int64_t>(count, most));
    const double beyond = static_cast<double>(count) - shown;
    position = std::clamp(position, 0.0, static_cast<double>(count - 1));
    const double first = std::clamp(position - (shown - 1) / 2, 0.0, beyond);
    const double last = first + shown - 1;
    std::size_t named = 0;
    for (auto i = static_cast<std::int64_t>(std::floor(first)); i < count && named < room.size(); ++i) {
        const auto at = static_cast<double>(i);
        if (at >= last + 1) {
            break;
        }
        const double size =
            std::min(sizeAt(at - first, first), sizeAt(last - at, static_cast<double>(count - 1) - last));
        if (size > 0) {
            const double present = !isTurning       ? std::max(0.0, 1 - std::abs(at - position))
                                   : i == 0         ? beyondLast
                                   : i == count - 1 ? 1 - beyondLast
                                                    : 0;
            room[named++] = {i, at - (first + last) / 2, size, present};
        }
    }
    return named;
}

} // namespace scorrere
