// SPDX-License-Identifier: Apache-2.0
#include "engine/change/order_change.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

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

Result<OrderChange> OrderChange::make(const RecordOrder& before, std::shared_ptr<const RankedRecords> after,
                                      std::span<const std::int64_t> shown, std::int64_t held,
                                      std::optional<ChangeWay> forced, const std::stop_token& stop) {
    OrderChange made(before);
    made.after_ = std::move(after);
    made.choice_.shown = std::ssize(shown);
    made.choice_.together = made.togetherNow(shown, held);
    std::vector<std::uint32_t> now; // where those that are kept stand
    const auto most = static_cast<std::size_t>(std::min(made.countBefore(), made.countAfter()));
    now.reserve(most);
    made.keptBefore_.reserve(most);
    bool doAscend = true;
    for (std::int64_t place = 0; place < made.countBefore(); ++place) {
        if (place % kBetweenLooks == 0 && stop.stop_requested()) {
            return cancelled();
        }
        if (const std::int64_t to = made.placeNow(place); to >= 0) {
            doAscend = doAscend && (now.empty() || static_cast<std::uint32_t>(to) > now.back());
            now.push_back(static_cast<std::uint32_t>(to));
            made.keptBefore_.push_back(static_cast<std::uint32_t>(place));
        }
    }
    made.kept_ = std::ssize(now);
    if (made.kept_ == made.countBefore()) {
        made.keptBefore_ = {};
    }
    const auto read = static_cast<double>(made.countBefore() + made.countAfter());
    const auto kept = static_cast<double>(std::max<std::int64_t>(made.kept_, 2));
    made.choice_.afreshMs = read * kReadNs / 1e6;
    made.choice_.inPlaceMs = made.choice_.afreshMs + kept * std::log2(kept) * kCompareNs / 1e6;
    made.choice_.isForced = forced.has_value();
    // In place is worth its time only for what can be seen to stay beside what is read.
    made.choice_.way = forced.value_or(made.choice_.together > 0 ? ChangeWay::InPlace : ChangeWay::Afresh);
    if (made.choice_.way == ChangeWay::InPlace) {
        made.stayed_ = doAscend ? made.kept_ : longestAscending(now, stop);
        if (made.stayed_ < 0) {
            return cancelled();
        }
    }
    return made;
}

std::int64_t OrderChange::nearestBefore(std::int64_t place) const {
    if (kept_ == 0) {
        return -1;
    }
    if (keptBefore_.empty()) {
        return std::clamp<std::int64_t>(place, 0, countBefore() - 1);
    }
    const auto on =
        std::ranges::lower_bound(keptBefore_, static_cast<std::uint32_t>(std::max<std::int64_t>(place, 0)));
    if (on == keptBefore_.end()) {
        return keptBefore_.back();
    }
    if (on == keptBefore_.begin() || *on - place <= place - *std::prev(on)) {
        return *on;
    }
    return *std::prev(on);
}

} // namespace scorrere
