// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/gesture/gesture_arena.h"

#include <cstdint>
#include <deque>
#include <string>
#include <vector>

namespace scorrere {

/// Something that hands did, as it was understood.
struct GestureEntry {
    enum class Kind : std::uint8_t {
        Tap,
        DoubleTap,
        Held,
        Drag,
        Aside,
        Pulled,
        Back,
        Lifted,
        SetDown,
        Cancelled
    };
    Kind kind = Kind::Tap;
    std::int64_t fromUs = 0;         ///< when the pointer went down
    std::int64_t timeUs = 0;         ///< when it was known
    std::int64_t frame = 0;          ///< the last one before that
    std::string key;                 ///< of the item; empty: of none
    std::string name;                ///< what people call it
    GestureStory story;              ///< Drag, Aside, Pulled, Back, Lifted: who had it, and why
    std::vector<GestureLoss> losses; ///< what else it might have been
    std::int64_t heldMs = 0;         ///< how long it was down
    std::int64_t waitedMs = 0;
    double share = 0;       ///< Aside, Pulled, Back: of the item's breadth it was swiped over
    std::int64_t from = -1; ///< Lifted, SetDown: places
    std::int64_t to = -1;
    bool operator==(const GestureEntry&) const = default;
};

/// Where a pointer was.
struct PointerSample {
    enum class What : std::uint8_t { Down, Moved, Up };
    What what = What::Moved;
    std::int64_t timeUs = 0;
    std::int64_t frame = 0; ///< the last one before that
    double x = 0;           ///< px in the window
    double y = 0;
    bool operator==(const PointerSample&) const = default;
};

/// What hands did in a run, the latest of it.
///
/// Complexity  O(1); the oldest go.
/// Threads     One thread.
class GestureLog {
public:
    static constexpr std::size_t kMostEntries = 500;
    static constexpr std::size_t kMostSamples = 10'000;

    void add(GestureEntry entry) {
        entries_.push_back(std::move(entry));
        if (entries_.size() > kMostEntries) {
            entries_.pop_front();
        }
        ++ever_;
    }
    void add(const PointerSample& sample) {
        samples_.push_back(sample);
        if (samples_.size() > kMostSamples) {
            samples_.pop_front();
        }
    }
    const std::deque<GestureEntry>& entries() const { return entries_; }
    const std::deque<PointerSample>& samples() const { return samples_; }
    std::int64_t ever() const { return ever_; }

private:
    std::deque<GestureEntry> entries_;
    std::deque<PointerSample> samples_;
    std::int64_t ever_ = 0;
};

} // namespace scorrere
