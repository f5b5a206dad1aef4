// SPDX-License-Identifier: Apache-2.0
#include "engine/change/order_change.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numeric>

namespace scorrere {

namespace {

constexpr std::int64_t kBetweenLooks =
    4096; ///< so many places are read before somebody is asked whether to stop

// What the model says of a record: as docs/figures.md has it of the machine the limits are for.
constexpr double kReadNs = 6;    ///< a place of an order is read and written
constexpr double kCompareNs = 3; ///< one step of the search among those that stay

Error cancelled() {
    return {ErrorCode::Cancelled, "comparing two orders was stopped", "", {}};
}

} // namespace

std::shared_ptr<const RankedRecords> withPlaces(std::vector<std::uint32_t> records, std::int64_t of) {
    auto ranked = std::make_shared<RankedRecords>();
    ranked->places.assign(static_cast<std::size_t>(of), RankedRecords::kNowhere);
    for (std::size_t place = 0; place < records.size(); ++place) {
        ranked->places[records[place]] = static_cast<std::uint32_t>(place);
    }
    ranked->records = std::move(records);
    return ranked;
}

std::int64_t longestAscending(std::span<const std::uint32_t> places, const std::stop_token& stop) {
    // The least last place of an ascending run of each length.
    std::vector<std::uint32_t> ends;
    std::int64_t looks = 0;
    for (const std::uint32_t place : places) {
        if (++looks % kBetweenLooks == 0 && stop.stop_requested()) {
            return -1;
        }
        if (ends.empty() || place > ends.back()) {
            ends.push_back(place);
        } else {
            *std::ranges::lower_bound(ends, place) = place;
        }
    }
    return std::ssize(ends);
}

/// So many of those that showed will show beside what is read.
std::int64_t OrderChange::togetherNow(std::span<const std::int64_t> shown, std::int64_t held) const {
    const std::int64_t read = held < 0 ? 0 : placeNow(held);
    return std::ranges::count_if(shown, [&](std::int64_t place) {
        const std::int64_t now = placeNow(place);
        return place != held && read >= 0 && now >= 0 && std::abs(now - read) <= std::ssize(shown);
    });
}

/// Which are in both, and of them how many stay. False: it was stopped. Memory that is touched for the first time costs more
/// than what is read and compared, so nothing is written down that can be told without.
bool OrderChange::findKept(const std::stop_token& stop) {
    const std::vector<std::uint32_t>& records = after_->records;
    isSelection_ = before_.isTableOrder() && (records.empty() || records.back() < countBefore()) &&
                   std::ranges::is_sorted(records);
    if (isSelection_) {
        kept_ = countAfter();
        stayed_ = choice_.way == ChangeWay::InPlace ? kept_ : 0;
        return true;
    }
    std::vector<std::uint32_t> now; // where those that are kept stand; in place, where they do not ascend
    const bool isInPlace = choice_.way == ChangeWay::InPlace;
    std::int64_t last = -1;
    for (std::int64_t place = 0; place < countBefore(); ++place) {
        if (place % kBetweenLooks == 0 && stop.stop_requested()) {
            return false;
        }
        const std::int64_t to = placeNow(place);
        if (to < 0) {
            if (kept_ == place) { // the first that went
                keptBefore_.resize(static_cast<std::size_t>(kept_));
                std::iota(keptBefore_.begin(), keptBefore_.end(), 0U);
            }
            continue;
        }
        if (isInPlace && now.empty() && to < last) { // the first that does not ascend
            for (std::int64_t before = 0; before < place; ++before) {
                if (const std::int64_t known = placeNow(before); known >= 0) {
                    now.push_back(static_cast<std::uint32_t>(known));
                }
            }
        }
        if (!now.empty()) {
            now.push_back(static_cast<std::uint32_t>(to));
        }
        if (kept_ < place) {
            keptBefore_.push_back(static_cast<std::uint32_t>(place));
        }
        last = to;
        ++kept_;
    }
    stayed_ = !isInPlace ? 0 : now.empty() ? kept_ : longestAscending(now, stop);
    return stayed_ >= 0;
}

Result<OrderChange> OrderChange::make(const RecordOrder& before, std::shared_ptr<const RankedRecords> after,
                                      std::span<const std::int64_t> shown, std::int64_t held,
                                      std::optional<ChangeWay> forced, const std::stop_token& stop) {
    OrderChange made(before);
    made.after_ = std::move(after);
    made.choice_.shown = std::ssize(shown);
    made.choice_.together = made.togetherNow(shown, held);
    // In place is worth its time only for what can be seen to stay beside what is read.
    made.choice_.way = forced.value_or(made.choice_.together > 0 ? ChangeWay::InPlace : ChangeWay::Afresh);
    made.choice_.isForced = forced.has_value();
    if (!made.findKept(stop)) {
        return cancelled();
    }
    const auto read = static_cast<double>(made.countBefore() + made.countAfter());
    const auto kept = static_cast<double>(std::max<std::int64_t>(made.kept_, 2));
    made.choice_.afreshMs = read * kReadNs / 1e6;
    made.choice_.inPlaceMs = made.choice_.afreshMs + kept * std::log2(kept) * kCompareNs / 1e6;
    return made;
}

std::optional<OrderChange::Together> OrderChange::together() const {
    const std::int64_t count = came() - went();
    if (choice_.way == ChangeWay::Afresh || moved() > 0 || count == 0 || (came() > 0 && went() > 0)) {
        return std::nullopt;
    }
    // Up to there each stands where it stood; behind, all stand so many further on.
    std::int64_t first = 0;
    std::int64_t end = countBefore();
    while (first < end) {
        const std::int64_t middle = first + (end - first) / 2;
        if (placeNow(middle) == middle) {
            first = middle + 1;
        } else {
            end = middle;
        }
    }
    const std::int64_t behind = count < 0 ? first - count : first;
    const bool isTogether = behind >= countBefore() || placeNow(behind) == behind + count;
    return isTogether ? std::optional(Together{first, count}) : std::nullopt;
}

std::int64_t OrderChange::nearestBefore(std::int64_t place) const {
    if (kept_ == 0) {
        return -1;
    }
    const std::vector<std::uint32_t>& kept = isSelection_ ? after_->records : keptBefore_;
    if (kept.empty()) {
        return std::clamp<std::int64_t>(place, 0, countBefore() - 1);
    }
    const auto on =
        std::ranges::lower_bound(kept, static_cast<std::uint32_t>(std::max<std::int64_t>(place, 0)));
    if (on == kept.end()) {
        return kept.back();
    }
    if (on == kept.begin() || *on - place <= place - *std::prev(on)) {
        return *on;
    }
    return *std::prev(on);
}

} // namespace scorrere
