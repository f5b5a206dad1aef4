// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/run/run.h"

#include <QKeyEvent>
#include <QWheelEvent>

namespace scorrere::render {

/// Turns the toolkit's input into gestures of a run. Distances are divided by `scale`, how large a strip px
/// shows.
struct ScrollInput {
    static void wheel(const QWheelEvent& event, Run& run, double scale);
    /// False when the key means nothing here.
    static bool key(const QKeyEvent& event, Run& run);
    static void press(Run& run, std::int64_t timeUs, double y, double scale);
    static void move(Run& run, std::int64_t timeUs, double y, double scale);
    static void release(Run& run, std::int64_t timeUs);
};

} // namespace scorrere::render
