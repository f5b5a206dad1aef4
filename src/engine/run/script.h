// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/edit/record_edit.h"
#include "engine/order/order_spec.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

enum class ScriptAction : std::uint8_t {
    Drag,      ///< a = px the pointer moves (negative: up, towards the end), b = ms it takes
    Fling,     ///< a = px/s towards the end
    Wheel,     ///< a = px towards the end
    Key,       ///< a = KeyStep
    Jump,      ///< a = position
    Map,       ///< a = share of the strip, 0 to 1
    Rotate,    ///< upright to sideways and back
    Resize,    ///< a, b = the window's width and height in px
    TextScale, ///< a = scale
    Insert,    ///< a = place, b = record, c = count
    Remove,    ///< a = place, b = count
    Order,     ///< the records another way: `order`
    Edit,      ///< one record otherwise: `edit`
    WaitIdle,  ///< what follows is timed from when nothing moves any more
};

/// One timed gesture or event; `at` counts from the script's start or the last WaitIdle.
struct ScriptStep {
    std::int64_t atMs = 0;
    ScriptAction action = ScriptAction::Wheel;
    double a = 0;
    double b = 0;
    double c = 0;
    std::optional<OrderSpec> order = std::nullopt;
    std::shared_ptr<const RecordEdit> edit = nullptr;
};

struct Script {
    std::string name;
    std::vector<ScriptStep> steps; ///< in order of time between waits
    std::int64_t lastsMs = 0;      ///< after the last wait, at least this long; then until idle
};

} // namespace scorrere
