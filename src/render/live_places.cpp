// SPDX-License-Identifier: Apache-2.0
// The part of LiveCollection that has to do with where items stand that are placed by what their records say.
#include "render/job.h"
#include "render/live_collection.h"

#include <algorithm>

namespace scorrere::render {

namespace {

/// So many records are looked at between frames; a worker looks at more.
constexpr std::int64_t kPlacesAtOnce = 1024;

} // namespace

bool LiveCollection::arePlacesUntold() const {
    return placed_ != nullptr && !arePlacesTold_ && paged() == nullptr && !leaf().isOne();
}

/// Records came, or are others now. Those that came in numbers stand nowhere until a worker has told of all.
void LiveCollection::takePlaces(std::int64_t place, std::int64_t count) {
    PlaceReader* reader = designs_.places();
    if (placed_ == nullptr || reader == nullptr || count <= 0) {
        return;
    }
    const std::int64_t most = paged() != nullptr ? count : kPlacesAtOnce; // of pages no worker tells
    arePlacesTold_ = arePlacesTold_ && count <= most;
    if (count > most && placed_->placed() > 0) {
        return; // there is something to show meanwhile
    }
    run_->regroup([&] {
        std::vector<std::optional<GivenPlace>> places;
        for (std::int64_t i = 0; i <= std::min(count, most); ++i) {
            const Slot slot{Role::Record, place + i};
            const bool isHere = i < std::min(count, most) && !records_.isPlaceholder(slot);
            if (isHere) {
                const FillContext context = records_.contextOf(slot);
                places.push_back(reader->read(context.records, context.record));
            } else if (!places.empty()) { // what is not here stays where it was
                placed_->tell(slot.place - std::ssize(places), places, reader->lanes());
                places.clear();
            }
        }
    });
    Q_EMIT placesChanged();
}

/// Every record may stand elsewhere. Of many only those at the start are looked at: a worker tells of all.
void LiveCollection::takePlacesAnew() {
    if (placed_ == nullptr) {
        return;
    }
    const std::int64_t count = placed_->recordCount();
    arePlacesTold_ = count <= kPlacesAtOnce || leaf().isOne();
    if (paged() == nullptr) {
        return takePlaces(0, leaf().isOne() ? count : std::min(count, kPlacesAtOnce));
    }
    for (const auto& [page, loaded] : paged()->pager().strip().loaded()) {
        const std::int64_t first = paged()->pager().strip().placeOf(page) - leaf().first;
        const std::int64_t from = std::max<std::int64_t>(first, 0);
        takePlaces(from, std::min(first + std::ssize(loaded), count) - from);
    }
}

/// Records went: where some had no room there may be some now.
void LiveCollection::freePlaces() {
    arePlacesTold_ = arePlacesTold_ && (placed_ == nullptr || placed_->leftOut() == 0);
}

void LiveCollection::takeTold(const LiveEstimates::Placed& all) {
    arePlacesTold_ = true;
    designs_.places()->goOnWith(*all.reader);
    run_->regroup([&] { disposeElsewhere(placed_->takeTold(std::move(*all.told))); });
    Q_EMIT placesChanged();
}

std::map<std::int64_t, Box> LiveCollection::drawnBoxes() const {
    std::map<std::int64_t, Box> all;
    for (const Placement& placement : run_->placements()) {
        const Slot slot = run_->arrangement().slotAt(placement.position);
        if (slot.role == Role::Record && placement.isDrawnIn(run_->window())) {
            all.emplace(slot.place + leaf().first, placement.drawnBox());
        }
    }
    return all;
}

void LiveCollection::beginFrom(std::map<std::int64_t, Box> drawn) {
    run_->beginFrom([this, drawn = std::move(drawn)](std::int64_t place) {
        const auto found = drawn.find(place + leaf().first);
        return found == drawn.end() ? std::nullopt : std::optional(found->second);
    });
    Q_EMIT frameWanted();
}

} // namespace scorrere::render
