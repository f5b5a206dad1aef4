// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/lane_stretch.h"

#include <algorithm>
#include <cassert>
#include <limits>

namespace scorrere {

LaneStretch::LaneStretch(std::int64_t first, std::vector<std::int32_t> edges)
    : first_(first), tops_(std::move(edges)), ends_(tops_) {
    static_assert(sizeof(Cell) == 8);
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

void LaneStretch::append(Length entry) {
    assert(!isFull() && entry >= Length{} && entry <= kMostEntry);
    const auto end = std::ranges::min_element(ends_);
    cells_.push_back({*end, static_cast<std::uint32_t>(end - ends_.begin()) & 31U,
                      static_cast<std::uint32_t>(entry.raw()) & 0x7FF'FFFFU});
    *end += static_cast<std::int32_t>(entry.raw());
}

void LaneStretch::prepend(Length entry) {
    assert(!isFull() && entry >= Length{} && entry <= kMostEntry);
    std::size_t lane = 0; // of lanes that begin level the last one, so that they read from the first
    for (std::size_t other = 1; other < tops_.size(); ++other) {
        lane = tops_[other] >= tops_[lane] ? other : lane;
    }
    tops_[lane] -= static_cast<std::int32_t>(entry.raw());
    cells_.insert(cells_.begin(), {tops_[lane], static_cast<std::uint32_t>(lane) & 31U,
                                   static_cast<std::uint32_t>(entry.raw()) & 0x7FF'FFFFU});
    --first_;
    findTop();
}

void LaneStretch::dropLast() {
    ends_[cells_.back().lane] = cells_.back().start;
    cells_.pop_back();
}

void LaneStretch::dropFirst() {
    const Cell& cell = cells_.front();
    tops_[cell.lane] = cell.start + static_cast<std::int32_t>(cell.entry);
    cells_.erase(cells_.begin());
    ++first_;
    findTop();
}

void LaneStretch::setEntry(std::size_t index, Length entry, bool upward) {
    assert(entry >= Length{} && entry <= kMostEntry);
    Cell& cell = cells_[index];
    const std::int32_t by = static_cast<std::int32_t>(entry.raw()) - static_cast<std::int32_t>(cell.entry);
    cell.entry = static_cast<std::uint32_t>(entry.raw()) & 0x7FF'FFFFU;
    if (upward) {
        for (std::size_t i = 0; i <= index; ++i) {
            cells_[i].start -= cells_[i].lane == cell.lane ? by : 0;
        }
        tops_[cell.lane] -= by;
        findTop();
    } else {
        for (std::size_t i = index + 1; i < cells_.size(); ++i) {
            cells_[i].start += cells_[i].lane == cell.lane ? by : 0;
        }
        ends_[cell.lane] += by;
    }
}

LaneStretch LaneStretch::splitAt(std::int64_t place) {
    assert(place >= first_ && place <= until());
    const auto from = cells_.begin() + static_cast<std::ptrdiff_t>(place - first_);
    std::vector<std::int32_t> edges = ends_;
    std::vector<bool> isSeen(edges.size());
    for (auto cell = from; cell != cells_.end(); ++cell) {
        if (!isSeen[cell->lane]) {
            isSeen[cell->lane] = true;
            edges[cell->lane] = cell->start;
        }
    }
    LaneStretch rest(place, edges);
    const std::int32_t moved = *std::ranges::min_element(edges); // it has an origin of its own
    for (std::size_t lane = 0; lane < edges.size(); ++lane) {
        rest.ends_[lane] = ends_[lane] - moved;
    }
    rest.cells_.assign(from, cells_.end());
    for (Cell& cell : rest.cells_) {
        cell.start -= moved;
    }
    cells_.erase(from, cells_.end());
    ends_ = std::move(edges);
    return rest;
}

void LaneStretch::checkInvariants() const {
    std::vector<std::int32_t> ends = tops_;
    for (const Cell& cell : cells_) {
        assert(cell.start == ends[cell.lane]);
        ends[cell.lane] += static_cast<std::int32_t>(cell.entry);
    }
    assert(ends == ends_);
    assert(cells_.size() <= kMost && top_ == *std::ranges::min_element(tops_));
}

} // namespace scorrere
