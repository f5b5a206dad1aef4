// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>

namespace scorrere::workbench {

/// Decides what becomes of a wish to open something, while what is open may be changed at any moment. Events
/// in, decisions out: it knows no file, no window and no clock.
///
///     Idle --wish--> Reading --came--> Growing --ended--> Idle
///                       \--came, and something else was changed--> Waits --land--> Growing
///                                                                   \--sendAway--> Idle
class OpeningState {
public:
    enum class Phase : std::uint8_t {
        Idle,    ///< nothing is on its way
        Reading, ///< asked for; nothing of it shows
        Waits,   ///< its first records are here and wait for an answer: what is open was changed meanwhile
        Growing, ///< it shows; more of it may come
    };
    enum class Wish : std::uint8_t {
        Another, ///< in the place of what is open
        Again,   ///< the source of what is open
    };
    enum class Arrived : std::uint8_t { Shows, Waits };
    enum class Failure : std::uint8_t {
        OfOpening, ///< nothing of it shows: what is open stays
        OfSource,  ///< what is open shows, without what was to come
    };

    Phase phase() const { return phase_; }
    Wish wish() const { return wish_; }

    /// It is asked for now. `changes`: how often what is open was changed so far.
    void begin(Wish wish, std::int64_t changes) {
        wish_ = wish;
        phase_ = Phase::Reading;
        changes_ = changes;
    }
    /// Its first records came.
    Arrived came(std::int64_t changes, bool hasUnsaved) {
        const bool isInTheWay = wish_ == Wish::Another && changes != changes_ && hasUnsaved;
        phase_ = isInTheWay ? Phase::Waits : Phase::Growing;
        return isInTheWay ? Arrived::Waits : Arrived::Shows;
    }
    /// What waited may take its place.
    void land() { phase_ = Phase::Growing; }
    /// All of it came. What waits goes on waiting.
    void ended() {
        if (phase_ != Phase::Waits) {
            phase_ = Phase::Idle;
        }
    }
    /// It was cancelled, sent away, refused, or waits for something that is missing.
    void dropped() { phase_ = Phase::Idle; }
    Failure failed() {
        const bool shows = phase_ == Phase::Growing || (phase_ == Phase::Reading && wish_ == Wish::Again);
        phase_ = Phase::Idle;
        return shows ? Failure::OfSource : Failure::OfOpening;
    }

private:
    Phase phase_ = Phase::Idle;
    Wish wish_ = Wish::Another;
    std::int64_t changes_ = 0;
};

} // namespace scorrere::workbench
