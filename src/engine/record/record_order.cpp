// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_order.h"

#include <algorithm>
#include <cassert>
#include <utility>

namespace scorrere {

RecordOrder::RecordOrder(std::shared_ptr<const RankedRecords> ranked) : ranked_(std::move(ranked)) {
    if (!ranked_->records.empty()) {
        pieces_.push_back({0, std::ssize(ranked_->records), true});
    }
}

std::int64_t RecordOrder::at(std::int64_t place) const {
    assert(place >= 0 && place < size());
    const auto it = std::ranges::upper_bound(pieces_, place, {}, &Piece::end);
    const std::int64_t start = it == pieces_.begin() ? 0 : std::prev(it)->end;
    const std::int64_t at = it->first + (place - start);
    return it->isRanked ? ranked_->records[static_cast<std::size_t>(at)] : at;
}

void RecordOrder::appendTo(std::vector<std::uint32_t>& records) const {
    records.reserve(records.size() + static_cast<std::size_t>(size()));
    std::int64_t start = 0;
    for (const Piece& piece : pieces_) {
        for (std::int64_t at = piece.first; at - piece.first < piece.end - start; ++at) {
            records.push_back(piece.isRanked ? ranked_->records[static_cast<std::size_t>(at)]
                                             : static_cast<std::uint32_t>(at));
        }
        start = piece.end;
    }
}

std::int64_t RecordOrder::placeOf(std::int64_t record) const {
    const std::int64_t ranked = ranked_ ? ranked_->placeOf(record) : -1;
    std::int64_t start = 0;
    for (const Piece& piece : pieces_) {
        const std::int64_t at = piece.isRanked ? ranked : record;
        if (at >= piece.first && at - piece.first < piece.end - start) {
            return start + at - piece.first;
        }
        start = piece.end;
    }
    return -1;
}

/// Cuts the piece that covers `place` in two there; gives the index of the piece that starts at `place`.
std::size_t RecordOrder::split(std::int64_t place) {
    const auto it = std::ranges::upper_bound(pieces_, place, {}, &Piece::end);
    const std::size_t index = static_cast<std::size_t>(it - pieces_.begin());
    if (it == pieces_.end()) {
        return index;
    }
    const std::int64_t start = index == 0 ? 0 : pieces_[index - 1].end;
    if (start == place) {
        return index;
    }
    pieces_.insert(it, Piece{it->first, place, it->isRanked});
    pieces_[index + 1].first += place - start;
    return index + 1;
}

void RecordOrder::insert(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    assert(place >= 0 && place <= size() && count >= 0);
    if (count == 0) {
        return;
    }
    const std::size_t index = split(place);
    for (std::size_t i = index; i < pieces_.size(); ++i) {
        pieces_[i].end += count;
    }
    if (index > 0) { // what goes on with the piece before it is of that
        const std::int64_t start = index > 1 ? pieces_[index - 2].end : 0;
        Piece& before = pieces_[index - 1];
        if (!before.isRanked && before.first + (before.end - start) == firstRecord) {
            before.end += count;
            return;
        }
    }
    pieces_.insert(pieces_.begin() + static_cast<std::ptrdiff_t>(index), Piece{firstRecord, place + count});
}

void RecordOrder::erase(std::int64_t place, std::int64_t count) {
    assert(place >= 0 && count >= 0 && place + count <= size());
    if (count == 0) {
        return;
    }
    const auto first = static_cast<std::ptrdiff_t>(split(place));
    const auto last = static_cast<std::ptrdiff_t>(split(place + count));
    pieces_.erase(pieces_.begin() + first, pieces_.begin() + last);
    for (auto i = static_cast<std::size_t>(first); i < pieces_.size(); ++i) {
        pieces_[i].end -= count;
    }
    const auto next = static_cast<std::size_t>(first);
    if (next > 0 &&
        next < pieces_.size()) { // what went may have parted them: one that is moved leaves no trace
        const std::int64_t start = next > 1 ? pieces_[next - 2].end : 0;
        Piece& before = pieces_[next - 1];
        if (before.isRanked == pieces_[next].isRanked &&
            before.first + (before.end - start) == pieces_[next].first) {
            before.end = pieces_[next].end;
            pieces_.erase(pieces_.begin() + first);
        }
    }
}

} // namespace scorrere
