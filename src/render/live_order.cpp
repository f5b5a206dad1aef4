// SPDX-License-Identifier: Apache-2.0
#include "render/live_order.h"

#include "render/job.h"
#include "render/steady_watch.h"

#include <algorithm>
#include <iterator>
#include <utility>

namespace scorrere::render {

namespace {

constexpr std::int64_t kExtentsTogether = 16'384;
constexpr std::int64_t kThreads = 240; ///< drawn between two orders

Error stopped() {
    return {ErrorCode::Cancelled, "another order was stopped", "", {}};
}

/// Times what comes one after the other, ms.
class Laps {
public:
    double lap() {
        const std::int64_t now = watch_.nowNs();
        return static_cast<double>(now - std::exchange(last_, now)) / 1e6;
    }

private:
    SteadyWatch watch_;
    std::int64_t last_ = watch_.nowNs();
};

Result<std::shared_ptr<const RecordRanking::Records>> rankedBy(const OrderTask& task, Slices& slices,
                                                               const std::stop_token& stop) {
    OrdersKept& kept = *task.kept;
    const CollectionDocument& document = task.parts->document;
    std::vector<FieldType> types;
    std::ranges::transform(task.parts->records->fields(), std::back_inserter(types), &Field::type);
    if (types != kept.types) { // a rule may ask for one that was not there
        kept.ranking.reset();
        kept.types = std::move(types);
    }
    if (!kept.ranking || !(kept.ranking->spec() == task.spec) || !(kept.parameters == document.parameters)) {
        kept.ranking.reset();
        auto made =
            RecordRanking::make(task.spec, {*task.parts->records, document.locale, document.parameters},
                                slices.hands(), kept.folded);
        if (!made) {
            return std::move(made.error());
        }
        kept.ranking.emplace(std::move(*made));
        kept.parameters = document.parameters;
    }
    return kept.ranking->rank(*task.parts->records, slices, stop, task.looked.get());
}

/// False: it was stopped.
bool takeExtents(Arrangement& to, const RankedRecords& order, const KnownExtents& known,
                 const std::stop_token& stop) {
    const std::int64_t count = std::ssize(order.records);
    std::vector<std::int32_t> extents;
    std::vector<std::pair<std::int64_t, Length>> measured;
    for (std::int64_t first = 0; first < count; first += kExtentsTogether) {
        if (stop.stop_requested()) {
            return false;
        }
        extents.clear();
        bool areAny = false;
        for (std::int64_t place = first; place < std::min(first + kExtentsTogether, count); ++place) {
            const auto one = known.at(order.records[static_cast<std::size_t>(place)]);
            extents.push_back(
                one ? static_cast<std::int32_t>(std::min(one->extent, ExtentIndex::kMaxExtent).raw()) : -1);
            areAny = areAny || one;
            if (one && one->isMeasured) {
                measured.emplace_back(place, one->extent);
            }
        }
        if (areAny) {
            to.setEstimated(first, extents);
        }
    }
    for (const auto& [place, extent] : measured) {
        if (place % 1024 == 0 && stop.stop_requested()) {
            return false;
        }
        if (const std::int64_t position = to.find({Role::Record, place}); position >= 0) {
            to.setMeasured(position, extent);
        }
    }
    return true;
}

/// False: it was stopped.
bool arrange(const OrderTask& task, OrderLanding& landing, const std::stop_token& stop) {
    const RankedRecords& order = *landing.change.after();
    auto made = makeArrangement(task.arrangement, task.ends, std::ssize(order.records), task.estimates);
    made->setCross(task.cross);
    made->setWindow(task.window);
    (void)made->forgetExtents(task.estimates); // they are those of another width
    auto* over = dynamic_cast<SectionedArrangement*>(made.get());
    Arrangement& below = over != nullptr ? over->below() : *made;
    if (auto* table = dynamic_cast<TableArrangement*>(&below); table != nullptr && task.parts->table) {
        table->setColumns(*task.parts->table);
    }
    task.parts->order = RecordOrder(landing.change.after());
    auto parts = partsOf(*task.parts, stop);
    if (!parts) {
        return false;
    }
    if (over != nullptr && parts->sections) {
        (void)over->takeSections(parts->sections->counts, !parts->sections->counts.empty());
    }
    if (auto* grid = dynamic_cast<GridArrangement*>(&below); grid != nullptr && parts->flow) {
        (void)(over != nullptr ? over->takeFlow(std::move(*parts->flow))
                               : grid->takeFlow(std::move(*parts->flow)));
    }
    if (auto* placed = dynamic_cast<PlacedArrangement*>(made.get()); placed != nullptr && parts->places) {
        (void)placed->takeTold(std::move(*parts->places->told));
    }
    landing.sections = std::move(parts->sections);
    landing.places = std::move(parts->places);
    if (task.known && !takeExtents(*made, order, *task.known, stop)) {
        return false;
    }
    landing.arrangement = std::move(made);
    return true;
}

std::vector<std::pair<float, float>> threadsOf(const OrderChange& change) {
    std::vector<std::pair<float, float>> threads;
    const std::int64_t kept = change.kept();
    const std::int64_t drawn = std::min<std::int64_t>(kept, kThreads);
    for (std::int64_t thread = 0; thread < drawn; ++thread) {
        const std::int64_t place = change.keptBefore(kept * thread / drawn);
        threads.emplace_back(static_cast<float>(place) / static_cast<float>(change.countBefore()),
                             static_cast<float>(change.placeNow(place)) /
                                 static_cast<float>(change.countAfter()));
    }
    return threads;
}

} // namespace

Result<OrderLanding> makeLanding(const OrderTask& task, Slices& slices, const std::stop_token& stop) {
    const std::lock_guard lock(task.kept->mutex);
    Laps laps;
    auto ranked = rankedBy(task, slices, stop);
    if (!ranked) {
        return std::move(ranked.error());
    }
    const double rankMs = laps.lap();
    auto change = OrderChange::make(task.before, withPlaces(**ranked, task.parts->records->size()),
                                    task.shown, task.held, task.forced, stop);
    if (!change) {
        return std::move(change.error());
    }
    OrderLanding landing{std::move(*change), nullptr, {}, {}, {}, rankMs, 0, 0};
    landing.threads = threadsOf(landing.change);
    landing.compareMs = laps.lap();
    if (task.isArranged && !arrange(task, landing, stop)) {
        return stopped();
    }
    landing.arrangeMs = laps.lap();
    return landing;
}

} // namespace scorrere::render
