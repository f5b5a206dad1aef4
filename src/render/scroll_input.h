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
};

/// Turns the toolkit's input into gestures of a run. Distances of a wheel are divided by `scale`, how large a strip px
/// shows; `at` is in px of the window.
struct ScrollInput {
    /// A strip that runs to the side takes the tilt wheel, and a plain one with Shift or without; one that is wider
    /// than its window goes across by the tilt wheel, or a plain one with Shift.
    static void wheel(const QWheelEvent& event, LiveCollection& live, double scale, QPointF at);
    /// False when the key means nothing here.
    static bool key(const QKeyEvent& event, LiveCollection& live);
    static void press(LiveCollection& live, std::int64_t timeUs, QPointF at);
    static void move(LiveCollection& live, std::int64_t timeUs, QPointF at);
    /// Whether what was pressed was a tap: see GestureArena.
    static bool release(LiveCollection& live, std::int64_t timeUs);

private:
    static bool wheelWithin(LiveStrips::Strip* strip, QPointF by, bool isTurned);
};

} // namespace scorrere::render
