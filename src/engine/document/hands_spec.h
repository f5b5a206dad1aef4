// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/part_spec.h"
#include "engine/document/send_spec.h"
#include "engine/gesture/gesture_arena.h"
#include "engine/gesture/selection.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

/// One thing that an action does with the record that it is done to.
struct ActionStep {
    enum class What : std::uint8_t {
        Detail, ///< opens it at length
        Set,    ///< `value`, JSON, in `field`; empty: none any more
        Turn,   ///< yes where `field` said no or nothing, and the other way
        Add,    ///< `by` to the number in `field`
        Remove,
        ToStart, ///< among the records
        ToEnd,
        Select, ///< turns whether it is selected
        Copy,   ///< `text`, for other programs to take
        Call,   ///< an address: see SendRule
        Go,     ///< to the item whose key `text` says
        Tell,   ///< `text`, to the people before the screen
    };
    What what = What::Detail;
    std::string field;
    std::string value;
    double by = 1;
    std::string text; ///< a text pattern of the record
    SendRule call{};
    bool operator==(const ActionStep&) const = default;
};

/// What an app's people can do with an item, by a name that parts and gestures use.
struct ActionSpec {
    std::string title; ///< for people; empty: the name
    Tone tone = Tone::Neutral;
    std::vector<ActionStep> steps; ///< in order; none: the app's own code does it
    bool operator==(const ActionSpec&) const = default;
};
using Actions = std::map<std::string, ActionSpec>;

/// What hands can do with the items of a collection.
struct HandsSpec {
    static constexpr std::size_t kMostAside = 3;
    enum class Lift : std::uint8_t { Not, Held, Handle };

    SelectMode select = SelectMode::None;
    std::string tap; ///< an action; empty: none, or to be selected
    std::string doubleTap;
    std::string press; ///< held for long
    /// Uncovered at the item's start where it is swiped towards its end, and the other way; the first is done at once where it
    /// is pulled far.
    std::vector<std::string> atStart;
    std::vector<std::string> atEnd;
    Lift lift = Lift::Not;
    bool liftsAcross = false; ///< to other sections; the record then takes over what their heading is told by
    GestureTimes times;
    double pulled = 0.55;       ///< share of the item that is far
    bool detailAlong = false;   ///< a record at length slides in along the strip; else across it
    std::int64_t seenMs = 1000; ///< on screen for so long it was seen
    bool operator==(const HandsSpec&) const = default;
};

/// The action of a name: the document's, else one of those that need no words: "detail", "select", "remove"; else one without
/// steps, which is left to the app.
ActionSpec actionNamed(const Actions& actions, const std::string& name);
/// What people call it.
std::string titleOf(const Actions& actions, const std::string& name);

} // namespace scorrere
