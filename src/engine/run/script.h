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
    Tap,       ///< `hand`: where; so are all of these
    DoubleTap,
    Press, ///< held for as long as a long press takes
    Swipe, ///< aside by `by` px, in `forMs`
    Lift,  ///< and set down where the item `to` stands
    Hover,
    Select,   ///< a tap as it is, or with more, or a range
    Type,     ///< the beginning of an item's title
    WaitIdle, ///< what follows is timed from when nothing moves any more
};

/// What a hand does, and where: at an item that shows, by its key, or at a point of the window. At an item that does not show nothing
/// happens.
struct HandStep {
    std::string key; ///< empty: at the point
    double x = 0;    ///< px of the window
    double y = 0;
    std::string to; ///< Lift: the key of the item in whose place it is set down
    double by = 0;
    double forMs = 250;
    bool isMore = false;
    bool isRange = false;
    std::string text;
    bool operator==(const HandStep&) const = default;
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
    std::optional<HandStep> hand = std::nullopt;
};

struct Script {
    std::string name;
    std::vector<ScriptStep> steps; ///< in order of time between waits
    std::int64_t lastsMs = 0;      ///< after the last wait, at least this long; then until idle
};

} // namespace scorrere
