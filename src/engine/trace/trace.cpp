// SPDX-License-Identifier: Apache-2.0
#include "engine/trace/trace.h"

#include <algorithm>
#include <utility>

namespace scorrere {

std::string_view phaseName(Phase phase) {
    switch (phase) {
    case Phase::Decide:
        return "decide";
    case Phase::Build:
        return "build";
    case Phase::Fill:
        return "fill";
    case Phase::Measure:
        return "measure";
    case Phase::Paint:
        return "paint";
    }
    return "";
}

void CostMeter::start() {
    costNs_ = {};
    phase_ = Phase::Decide;
    since_ = watch_.nowNs();
}

Phase CostMeter::turnTo(Phase phase) {
    const std::int64_t now = watch_.nowNs();
    costNs_[static_cast<std::size_t>(phase_)] += now - since_;
    since_ = now;
    return std::exchange(phase_, phase);
}

const std::array<std::int64_t, kPhases>& CostMeter::stop() {
    turnTo(Phase::Decide);
    return costNs_;
}

Trace::Trace(std::size_t capacity) : capacity_(capacity) {
    ring_.reserve(capacity); // no frame allocates; memory that no frame came to is never touched
    views_.reserve(128);
}

const FrameRecord& Trace::at(std::size_t index) const {
    return ring_[(begin_ + index) % ring_.size()];
}

const FrameRecord* Trace::find(std::int64_t number) const {
    if (ring_.empty() || number < at(0).number || number > at(size() - 1).number) {
        return nullptr;
    }
    return &at(static_cast<std::size_t>(number - at(0).number)); // numbers are consecutive
}

void Trace::add(const FrameRecord& frame) {
    if (ring_.size() < capacity_) {
        ring_.push_back(frame);
    } else {
        begin_ = (begin_ + 1) % capacity_;
        slot(capacity_ - 1) = frame;
    }
    ++ever_;
    totals_.built += frame.built;
    totals_.filled += frame.filled;
    totals_.filledAhead += frame.filledAhead;
    totals_.mostAlive = std::max(totals_.mostAlive, frame.alive);
    totals_.worstJump = std::max({totals_.worstJump, frame.jump, -frame.jump});
    totals_.misestimate += frame.misestimate;
    totals_.bounded += frame.bounded ? 1 : 0;
    for (const std::int64_t word :
         {frame.number, frame.timeUs, frame.offset.raw(), frame.first, frame.last, std::int64_t{frame.built},
          std::int64_t{frame.filled}, std::int64_t{frame.filledAhead}, std::int64_t{frame.released},
          std::int64_t{frame.alive}, std::int64_t{frame.pooled}, frame.misestimate.raw(), frame.jump.raw(),
          std::int64_t{frame.bounded}}) {
        fingerprint_.addWord(static_cast<std::uint64_t>(word));
    }
}

void Trace::addCost(std::int64_t number, Phase phase, std::int64_t costNs) {
    if (find(number) != nullptr) {
        slot(static_cast<std::size_t>(number - at(0).number)).costNs[static_cast<std::size_t>(phase)] +=
            costNs;
    }
}

void Trace::addPaint(std::int64_t number, std::int64_t costNs) {
    if (find(number) != nullptr) {
        slot(static_cast<std::size_t>(number - at(0).number)).costNs[static_cast<std::size_t>(Phase::Paint)] =
            costNs;
    }
}

void Trace::addPlaceCost(double where, std::int64_t costNs) {
    const auto place =
        static_cast<std::size_t>(std::clamp(where, 0.0, 0.999999) * static_cast<double>(kPlaces));
    places_[place] = std::max(places_[place], costNs);
}

void Trace::viewFilled(int view, int kind, bool built, std::int64_t frame, std::int64_t costNs,
                       Length estimated, bool wasMeasured) {
    const std::size_t index = static_cast<std::size_t>(view);
    if (views_.size() <= index) {
        views_.resize(index + 1);
    }
    ViewHistory& history = views_[index];
    if (built) {
        history = {};
        history.kind = kind;
        history.builtInFrame = frame;
    }
    history.recentFillUs[static_cast<std::size_t>(history.carried) % ViewHistory::kRecent] =
        static_cast<std::int32_t>(std::min<std::int64_t>(costNs / 1000, 1'000'000));
    ++history.carried;
    history.estimated = estimated;
    history.wasMeasured = wasMeasured;
}

Statistics Trace::statistics(std::size_t lastFrames, double budgetMs) const {
    Statistics result;
    result.frames = std::min(lastFrames, size());
    if (result.frames == 0) {
        return result;
    }
    std::vector<std::int64_t> costs;
    costs.reserve(result.frames);
    for (std::size_t i = size() - result.frames; i < size(); ++i) {
        costs.push_back(at(i).totalNs());
        result.overBudget += static_cast<double>(costs.back()) > budgetMs * 1e6 ? 1 : 0;
    }
    std::ranges::sort(costs);
    const auto ms = [&costs](double share) {
        const double last = static_cast<double>(costs.size() - 1);
        return static_cast<double>(costs[static_cast<std::size_t>(std::lround(last * share))]) / 1e6;
    };
    result.medianMs = ms(0.5);
    result.p99Ms = ms(0.99);
    result.worstMs = ms(1);
    return result;
}

} // namespace scorrere
