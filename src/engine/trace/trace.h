// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include "engine/base/fnv.h"

#include <array>
#include <cstdint>
#include <string_view>
#include <vector>

namespace scorrere {

/// What the time of a frame goes to.
enum class Phase : std::uint8_t { Decide, Build, Fill, Measure, Paint };
inline constexpr std::size_t kPhases = 5;
std::string_view phaseName(Phase phase);

/// Where time comes from: the machine's in the workbench, a modelled one in tests.
class Stopwatch {
public:
    virtual ~Stopwatch() = default;
    virtual std::int64_t nowNs() = 0;
};

/// What one frame did and cost. All but `costNs` follows from the script, the records and the settings alone.
struct FrameRecord {
    std::int64_t number = 0;
    std::int64_t timeUs = 0; ///< on the run's clock
    Length offset;           ///< where the window starts on the strip
    std::int64_t first = -1; ///< first and last item that show; -1 when nothing does
    std::int64_t last = -1;
    int built = 0;
    int filled = 0;
    int filledAhead = 0; ///< of those, beyond the window
    int released = 0;
    int alive = 0;
    int pooled = 0;
    Length misestimate; ///< sum of |measured - estimated| of what was measured
    Length jump;        ///< how far all that showed before moved on screen that was not asked for; must be 0
    bool bounded = false; ///< more would have shown than a frame may fill: the rest comes in the next
    std::array<std::int64_t, kPhases> costNs{};

    std::int64_t totalNs() const {
        std::int64_t sum = 0;
        for (const std::int64_t ns : costNs) {
            sum += ns;
        }
        return sum;
    }
};

/// Books elapsed time to phases. Phases nest: the inner one's time is not the outer one's.
class CostMeter {
public:
    explicit CostMeter(Stopwatch& watch) : watch_(watch) {}
    /// Starts a frame's account in phase Decide.
    void start();
    /// Books what passed since the last call to the phase that was on and turns `phase` on; gives the former.
    Phase turnTo(Phase phase);
    /// Ends the account.
    const std::array<std::int64_t, kPhases>& stop();
    const std::array<std::int64_t, kPhases>& soFar() const { return costNs_; }

    class Span {
    public:
        Span(CostMeter& meter, Phase phase) : meter_(meter), before_(meter.turnTo(phase)) {}
        ~Span() { meter_.turnTo(before_); }
        Span(const Span&) = delete;
        Span& operator=(const Span&) = delete;

    private:
        CostMeter& meter_;
        Phase before_;
    };

private:
    Stopwatch& watch_;
    std::array<std::int64_t, kPhases> costNs_{};
    std::int64_t since_ = 0;
    Phase phase_ = Phase::Decide;
};

/// What is known of one item view's life.
struct ViewHistory {
    static constexpr std::size_t kRecent = 20;
    int kind = 0;
    std::int64_t builtInFrame = 0;
    std::int64_t carried = 0; ///< items carried so far
    Length estimated;         ///< extent of the item it carries, as it was estimated before
    bool wasMeasured = false; ///< that was no estimate: the item had been measured before
    std::array<std::int32_t, kRecent> recentFillUs{}; ///< ring; the latest is at (carried - 1) % kRecent
};

/// Sums over every frame added, kept or not.
struct TraceTotals {
    std::int64_t built = 0;
    std::int64_t filled = 0;
    std::int64_t filledAhead = 0;
    int mostAlive = 0;
    Length worstJump;         ///< the largest, whichever way
    std::int64_t bounded = 0; ///< frames that left some for the next
    Length misestimate;
};

struct Statistics {
    std::size_t frames = 0;
    double medianMs = 0;
    double p99Ms = 0;
    double worstMs = 0;
    std::int64_t overBudget = 0;
};

/// What every frame did and cost, the last `capacity` of them, and what cost much where along the strip.
///
/// Complexity  add is O(1) and allocates nothing. statistics is O(n) over the frames asked for.
/// Threads     One thread.
class Trace {
public:
    static constexpr std::size_t kPlaces = 256;

    explicit Trace(std::size_t capacity = 16384);

    void add(const FrameRecord& frame);
    /// Paint comes after the run's part of a frame, again when the same frame is shown again: the latest
    /// counts. Unknown frame numbers are ignored.
    void addPaint(std::int64_t number, std::int64_t costNs);
    /// Work that belongs to a frame and was done before the run's part of it: added to the phase.
    void addCost(std::int64_t number, Phase phase, std::int64_t costNs);
    /// Attributes a frame's cost to the place that caused it: `where` in [0, 1) along the strip.
    void addPlaceCost(double where, std::int64_t costNs);
    /// A view took an item: what it cost, and how long the item was thought to be.
    void viewFilled(int view, int kind, bool built, std::int64_t frame, std::int64_t costNs, Length estimated,
                    bool wasMeasured);

    std::size_t size() const { return ring_.size(); }
    std::int64_t framesEver() const { return ever_; }
    const TraceTotals& totals() const { return totals_; }
    /// 0 is the oldest kept.
    const FrameRecord& at(std::size_t index) const;
    const FrameRecord* find(std::int64_t number) const;
    const std::vector<ViewHistory>& views() const { return views_; }
    /// The dearest frame seen at each of kPlaces stretches of the strip, in ns.
    const std::array<std::int64_t, kPlaces>& placeCosts() const { return places_; }
    Statistics statistics(std::size_t lastFrames, double budgetMs) const;
    /// A number that differs when anything but the cost differs in any frame added so far.
    std::uint64_t fingerprint() const { return fingerprint_.value(); }

private:
    FrameRecord& slot(std::size_t index) { return ring_[(begin_ + index) % ring_.size()]; }

    std::size_t capacity_;
    std::vector<FrameRecord> ring_;
    std::size_t begin_ = 0;
    std::int64_t ever_ = 0;
    TraceTotals totals_;
    Fnv fingerprint_;
    std::array<std::int64_t, kPlaces> places_{};
    std::vector<ViewHistory> views_;
};

} // namespace scorrere
