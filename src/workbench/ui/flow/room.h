// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>

namespace scorrere::workbench {

/// How Flow's width is shared: the cutaway takes what draws the device as large as the height allows; the
/// instruments have the rest, at least what they need, at most what they can use.
///
/// Units       px, all of them.
struct FlowRoom {
    double device = 0;      ///< across, at the scale the height allows
    double beside = 0;      ///< what the cutaway and the strip map want beside the device
    double instruments = 0; ///< what the instruments need at least

    /// The cutaway's side of `width`.
    int cutaway(double width) const {
        const double wanted = std::max(device + beside, width * kLeast);
        return static_cast<int>(std::clamp(wanted, 0.0, std::max(width - instruments, width * kLeast)));
    }

    static constexpr double kLeast =
        0.36; ///< of the width, for the cutaway: instruments gain nothing by more
};

} // namespace scorrere::workbench
