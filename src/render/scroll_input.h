// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "render/live_collection.h"

#include <QKeyEvent>
#include <QWheelEvent>

namespace scorrere::render {

/// What they are called among those that take a drag of the window.
struct WindowTakers {
    static constexpr int kStrip = 0;
    static constexpr int kAcross = 1; ///< the strip, across
    static constexpr int kWithin = 2; ///< a strip within an item
    static constexpr int kAside = 3;  ///< an item, swiped aside
    static constexpr int kLifted = 4; ///< an item, carried
};

/// A strip as one that takes drags, as far as it can follow.
GestureTaker takerOf(Run& run, const AxisMap& axis, int id);

/// Turns the toolkit's input into gestures of a run. Distances of a wheel are divided by `scale`, how large a strip px
/// shows; `at` is in px of the window.
struct ScrollInput {
    /// A strip that runs to the side takes the tilt wheel, and a plain one with Shift or without; one that is wider
    /// than its window goes across by the tilt wheel, or a plain one with Shift.
    static void wheel(const QWheelEvent& event, LiveCollection& live, double scale, QPointF at);
    /// False when the key means nothing here.
    static bool key(const QKeyEvent& event, LiveCollection& live);

private:
    static bool wheelWithin(LiveStrips::Strip* strip, QPointF by, bool isTurned);
};

/// What a press with these keys held is meant for.
LiveHands::Reach reachOf(Qt::KeyboardModifiers modifiers);

} // namespace scorrere::render
