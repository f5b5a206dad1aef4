// SPDX-License-Identifier: GPL-3.0-or-later
//
// A hyperbola through the origin: y = stretch * d / (d + bend), with the wished slope at the edge and exactly
// `room` at `reach`. Where the room is larger than that slope would need, the strip is simply drawn at that
// scale.
#include "workbench/ui/flow/recession.h"

#include <algorithm>

namespace scorrere::workbench {

Recession::Recession(double room, double reach, double slope)
    : room_(std::max(room, 0.0)), reach_(std::max(reach, 1.0)), bend_(0), stretch_(0) {
    // slope = stretch / bend and room = stretch * reach / (reach + bend).
    const double straight = slope * reach_;
    if (straight > room_ && room_ > 0) {
        bend_ = room_ * reach_ / (straight - room_);
        stretch_ = slope * bend_;
    } else {
        room_ = straight;
    }
}

double Recession::at(double distance) const {
    const double d = std::clamp(distance, 0.0, reach_);
    return bend_ > 0 ? stretch_ * d / (d + bend_) : room_ * d / reach_;
}

double Recession::from(double screen) const {
    const double y = std::clamp(screen, 0.0, room_);
    const double d = bend_ > 0   ? y * bend_ / std::max(stretch_ - y, 1e-9)
                     : room_ > 0 ? y * reach_ / room_
                                 : 0;
    return std::min(d, reach_);
}

} // namespace scorrere::workbench
