// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/lane_stretch.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <limits>

namespace scorrere {

LaneStretch::LaneStretch(std::int64_t first, std::vector<std::int32_t> edges)
    : first_(first), tops_(std::move(edges)), ends_(tops_) {
    assert(!tops_.empty() && tops_.size() <= at(kMostLanes));
    findTop();
    for (std::size_t lane = 0; lane < tops_.size(); ++lane) {
        tops_[lane] = ends_[lane] = tops_[lane] - top_; // an origin of its own
    }
    top_ = 0;
}

void LaneStretch::findTop() {
    top_ = *std::ranges::min_element(tops_);
}

std::int32_t LaneStretch::bottom() const {
    return *std::ranges::max_element(ends_);
}

Length LaneStretch::firstEnd() const {
    return Length::fromRaw(*std::ranges::min_element(ends_) - top_);
}

Length LaneStretch::lastTop() const {
    return Length::fromRaw(*std::ranges::max_element(tops_) - top_);
}

Length LaneStretch::overlapWith(const LaneStretch& behind) const {
    std::int64_t least = std::numeric_limits<std::int64_t>::max();
    const std::int64_t end = bottom();
    const std::int64_t begin = behind.top_;
    for (std::size_t lane = 0; lane < ends_.size(); ++lane) {
        least = std::min(least, end - ends_[lane] + behind.tops_[lane] - begin);
    }
    return Length::fromRaw(least);
}

/// It ends where the next one in its lane begins.
Length LaneStretch::entry(std::size_t index) const {
    const std::uint8_t lane = lanes_[index];
    const auto next = std::find(lanes_.begin() + static_cast<std::ptrdiff_t>(index) + 1, lanes_.end(), lane);
    const std::int32_t end =
        next == lanes_.end() ? ends_[lane] : starts_[static_cast<std::size_t>(next - lanes_.begin())];
    return Length::fromRaw(end - starts_[index]);
}

std::size_t LaneStretch::firstBeyond(Length offset) const {
    // In each lane the last that begins before it may reach over it, and what is behind that one does.
    std::array<std::size_t, kMostLanes> last;
    last.fill(size());
    const std::int64_t at = offset.raw() + top_;
    int found = 0; // so many lanes need no further look
    for (std::size_t i = size(); i-- > 0 && found < lanes();) {
        std::size_t& held = last[lanes_[i]];
        if (held == size() || starts_[held] > at) {
            held = i;
            found += starts_[i] <= at ? 1 : 0;
        }
    }
    return *std::ranges::min_element(last);
}

void LaneStretch::append(Length entry) {
    assert(!isFull() && entry >= Length{} && entry <= kMostEntry);
    const auto end = std::ranges::min_element(ends_);
    starts_.push_back(*end);
    lanes_.push_back(static_cast<std::uint8_t>(end - ends_.begin()));
    *end += static_cast<std::int32_t>(entry.raw());
}

void LaneStretch::prepend(Length entry) {
    assert(!isFull() && entry >= Length{} && entry <= kMostEntry);
    std::size_t lane = 0; // of lanes that begin level the last one, so that they read from the first
    for (std::size_t other = 1; other < tops_.size(); ++other) {
        lane = tops_[other] >= tops_[lane] ? other : lane;
    }
    tops_[lane] -= static_cast<std::int32_t>(entry.raw());
    starts_.insert(starts_.begin(), tops_[lane]);
    lanes_.insert(lanes_.begin(), static_cast<std::uint8_t>(lane));
    --first_;
    findTop();
}

void LaneStretch::dropLast() {
    ends_[lanes_.back()] = starts_.back();
    starts_.pop_back();
    lanes_.pop_back();
}

void LaneStretch::dropFirst() {
    tops_[lanes_.front()] = starts_.front() + static_cast<std::int32_t>(entry(0).raw());
    starts_.erase(starts_.begin());
    lanes_.erase(lanes_.begin());
    ++first_;
    findTop();
}

void LaneStretch::setEntry(std::size_t index, Length entry, bool upward) {
    assert(entry >= Length{} && entry <= kMostEntry);
    const std::uint8_t lane = lanes_[index];
    const auto by = static_cast<std::int32_t>((entry - this->entry(index)).raw());
    if (upward) {
        for (std::size_t i = 0; i <= index; ++i) {
            starts_[i] -= lanes_[i] == lane ? by : 0;
        }
        tops_[lane] -= by;
        findTop();
    } else {
        for (std::size_t i = index + 1; i < starts_.size(); ++i) {
            starts_[i] += lanes_[i] == lane ? by : 0;
        }
        ends_[lane] += by;
    }
}

LaneStretch LaneStretch::splitAt(std::int64_t place) {
    assert(place >= first_ && place <= until());
    const auto from = static_cast<std::ptrdiff_t>(place - first_);
    std::vector<std::int32_t> edges = ends_;
    std::vector<bool> isSeen(edges.size());
    for (auto i = static_cast<std::size_t>(from); i < size(); ++i) {
        if (!isSeen[lanes_[i]]) {
            isSeen[lanes_[i]] = true;
            edges[lanes_[i]] = starts_[i];
        }
    }
    LaneStretch rest(place, edges);
    const std::int32_t moved = *std::ranges::min_element(edges); // it has an origin of its own
    for (std::size_t lane = 0; lane < edges.size(); ++lane) {
        rest.ends_[lane] = ends_[lane] - moved;
    }
    rest.starts_.assign(starts_.begin() + from, starts_.end());
    rest.lanes_.assign(lanes_.begin() + from, lanes_.end());
    for (std::int32_t& start : rest.starts_) {
        start -= moved;
    }
    starts_.erase(starts_.begin() + from, starts_.end());
    lanes_.erase(lanes_.begin() + from, lanes_.end());
    ends_ = std::move(edges);
    return rest;
}

void LaneStretch::checkInvariants() const {
    assert(starts_.size() == lanes_.size());
    std::vector<std::int32_t> ends = tops_;
    for (std::size_t i = 0; i < size(); ++i) {
        assert(starts_[i] == ends[lanes_[i]] && entry(i) >= Length{});
        ends[lanes_[i]] += static_cast<std::int32_t>(entry(i).raw());
    }
    assert(ends == ends_);
    assert(size() <= kMost && top_ == *std::ranges::min_element(tops_));
}

} // namespace scorrere
