// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace scorrere::workbench {

/// How the strip recedes beyond the window's edge: near distances almost at the window's scale, far ones ever
/// more compressed, so that a dozen screens fit in a hand's breadth.
///
/// Units       Distances along the strip in strip px from the edge; results in screen px from the edge.
class Recession {
public:
    /// `room` screen px for the first `reach` strip px; at the edge a strip px is drawn `slope` px high.
    Recession(double room, double reach, double slope);

    double at(double distance) const;
    /// What distance along the strip is drawn there.
    double from(double screen) const;
    /// 0 at the edge, 1 as far as it reaches.
    double depth(double distance) const { return room_ > 0 ? at(distance) / room_ : 1; }
    double reach() const { return reach_; }
    double room() const { return room_; }

private:
    double room_;
    double reach_;
    double bend_;
    double stretch_;
};

} // namespace scorrere::workbench
