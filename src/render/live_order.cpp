// SPDX-License-Identifier: Apache-2.0
#include "render/live_order.h"

#include "render/job.h"
#include "render/live_designs.h"
#include "render/steady_watch.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <limits>
#include <unordered_map>
#include <utility>

namespace scorrere::render {

namespace {

constexpr std::int64_t kExtentsTogether = 16'384;
constexpr std::int64_t kThreads = 240; ///< drawn between two orders
/// So many records are filled again where they stand; for more, all is arranged anew.
constexpr std::int64_t kRefilledOneByOne = 64;

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

/// The edits in force; null where there are none.
Result<std::shared_ptr<const EditedRecords>> editedBy(const OrderTask& task, const std::stop_token& stop) {
    if (task.edits.empty()) {
        return std::shared_ptr<const EditedRecords>();
    }
    OrdersKept& kept = *task.kept;
    for (const auto& known : {task.editedBefore, kept.edited}) {
        if (known && known->source == task.source && areSame(known->edits, task.edits)) {
            return known;
        }
    }
    if (!kept.keys || kept.keys->records() != task.source) {
        kept.keys.emplace(task.source, task.key);
    }
    auto made = withEdits(*kept.keys, task.edits, stop);
    if (!made) {
        return std::move(made.error());
    }
    auto fits = compileDesigns(task.parts->document, *made->records, false);
    if (!fits) { // a field is of another type now
        return std::move(fits.error());
    }
    return std::make_shared<const EditedRecords>(std::move(*made));
}

Result<std::vector<std::uint32_t>> rankedBy(const OrderTask& task,
                                            const std::shared_ptr<const EditedRecords>& edited,
                                            Slices& slices, const std::stop_token& stop) {
    OrdersKept& kept = *task.kept;
    std::vector<std::uint32_t> ranked;
    if (task.spec.isAsGiven() && edited) {
        edited->given.appendTo(ranked);
        return ranked;
    }
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
    } else if (kept.edited != edited) {
        const bool isAnyInserted = std::max(kept.edited ? kept.edited->records->size() : 0,
                                            task.parts->records->size()) > task.source->size();
        kept.ranking->forget(touchedBetween(kept.edited.get(), edited.get()),
                             isAnyInserted ? task.source->size() : std::numeric_limits<std::int64_t>::max());
    }
    kept.edited = edited;
    auto made = kept.ranking->rank(*task.parts->records, slices, stop, &task.far->looked,
                                   [&task](double part) { task.far->sorted += part; });
    if (!made) {
        return std::move(made.error());
    }
    ranked = **made;
    if (edited && !edited->isGivenAsSource) {
        ranked = keptOf(std::move(ranked), edited->given, task.parts->records->size(), task.spec.isSorted());
    }
    if (task.spec.isGathered &&
        !gatherByHeading(ranked, document, *task.parts->records, task.parts->nowMs, stop)) {
        return stopped();
    }
    return ranked;
}

/// Ascending: records whose values edits make others than they were, in the numbers of after.
std::vector<std::int64_t> otherBy(const EditedRecords* before, const EditedRecords* after) {
    std::vector<std::int64_t> others;
    if (before == after) {
        return others;
    }
    const std::vector<std::uint32_t> touched = touchedBetween(before, after);
    others.assign(touched.begin(), touched.end());
    if (after != nullptr) {
        for (std::int64_t record = after->source->size(); record < after->records->size(); ++record) {
            others.push_back(record);
        }
    }
    return others;
}

/// Whether all stand where they stood.
bool isSameOrder(const RecordOrder& before, const std::vector<std::uint32_t>& after) {
    if (before.size() != std::ssize(after)) {
        return false;
    }
    std::vector<std::uint32_t> records;
    before.appendTo(records);
    return records == after;
}

/// False: it was stopped.
bool takeExtents(Arrangement& to, const RankedRecords& order, const KnownExtents& known,
                 const std::vector<std::int64_t>& others, const std::stop_token& stop) {
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
            const std::int64_t record = order.records[static_cast<std::size_t>(place)];
            const auto one = !others.empty() && std::ranges::binary_search(others, record) ? std::nullopt
                                                                                           : known.at(record);
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
    const RankedRecords& order = *landing.change->after();
    auto made = makeArrangement(task.arrangement, task.ends, std::ssize(order.records), task.estimates);
    made->setCross(task.cross);
    made->setWindow(task.window);
    (void)made->forgetExtents(task.estimates); // they are those of another width
    auto* over = dynamic_cast<SectionedArrangement*>(made.get());
    Arrangement& below = over != nullptr ? over->below() : *made;
    if (auto* table = dynamic_cast<TableArrangement*>(&below); table != nullptr && task.parts->table) {
        table->setColumns(*task.parts->table);
    }
    task.parts->order = RecordOrder(landing.change->after());
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
    if (task.known && !takeExtents(*made, order, *task.known, landing.otherNow, stop)) {
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

bool gatherByHeading(std::vector<std::uint32_t>& ranked, const CollectionDocument& document,
                     const RecordTable& records, std::int64_t nowMs, const std::stop_token& stop) {
    auto compiled = document.arrangement.sections ? compileDesigns(document, records, false)
                                                  : Result<Compiled>(Compiled());
    if (!compiled || !compiled->sections) {
        return true;
    }
    std::unordered_map<std::string, std::uint32_t> ordinals;
    std::vector<std::uint32_t> headings; // by place
    std::vector<std::size_t> counts;     // by heading
    headings.reserve(ranked.size());
    std::string text;
    for (std::size_t place = 0; place < ranked.size(); ++place) {
        if (place % 1024 == 0 && stop.stop_requested()) {
            return false;
        }
        const bool isLikeLast =
            place > 0 && compiled->sections->isAlike(records, ranked[place - 1], ranked[place]);
        if (!isLikeLast) {
            compiled->sections->textOf({records, ranked[place], &document.parameters, nowMs, nullptr, -1, 0},
                                       text);
            const auto known = ordinals.try_emplace(text, static_cast<std::uint32_t>(counts.size())).first;
            headings.push_back(known->second);
            counts.resize(std::max<std::size_t>(counts.size(), known->second + 1));
        } else {
            headings.push_back(headings.back());
        }
        ++counts[headings.back()];
    }
    std::size_t first = 0;
    for (std::size_t& count : counts) { // where each heading's next one goes
        count = std::exchange(first, first + count);
    }
    std::vector<std::uint32_t> gathered(ranked.size());
    for (std::size_t place = 0; place < ranked.size(); ++place) {
        gathered[counts[headings[place]]++] = ranked[place];
    }
    ranked = std::move(gathered);
    return true;
}

double OrderFar::share() const {
    // Where it takes long, nearly all of it goes into the first step.
    constexpr std::array<double, 3> kBefore = {0, 0.9, 0.95};
    const int step = steps;
    const double seen =
        std::min(1.0, static_cast<double>(looked) / static_cast<double>(std::max<std::int64_t>(records, 1)));
    const double within = step > 0 ? 0 : isSorted ? (seen + sorted) / 2 : seen;
    return kBefore[static_cast<std::size_t>(step)] + within * kBefore[1];
}

Result<OrderLanding> makeLanding(const OrderTask& task, Slices& slices, const std::stop_token& stop) {
    const std::lock_guard lock(task.kept->mutex);
    Laps laps;
    auto edited = editedBy(task, stop);
    if (!edited) {
        return std::move(edited.error());
    }
    OrderLanding landing;
    landing.edited = *edited;
    task.parts->records = landing.edited ? landing.edited->records : task.source;
    landing.before = inNumbersOf(task.before, task.editedBefore.get(), landing.edited.get());
    landing.otherNow = otherBy(task.editedBefore.get(), landing.edited.get());
    auto ranked = rankedBy(task, landing.edited, slices, stop);
    if (!ranked) {
        return std::move(ranked.error());
    }
    landing.rankMs = laps.lap();
    task.far->steps = 1;
    if (task.editedBefore != landing.edited && std::ssize(landing.otherNow) <= kRefilledOneByOne &&
        isSameOrder(landing.before, *ranked)) {
        return landing;
    }
    auto change =
        OrderChange::make(landing.before, withPlaces(std::move(*ranked), task.parts->records->size()),
                          task.shown, task.held, task.forced, stop);
    if (!change) {
        return std::move(change.error());
    }
    landing.change = std::move(*change);
    landing.threads = threadsOf(*landing.change);
    landing.compareMs = laps.lap();
    task.far->steps = 2;
    if (task.isArranged && !arrange(task, landing, stop)) {
        return stopped();
    }
    landing.arrangeMs = laps.lap();
    return landing;
}

namespace {

constexpr double kLongestSinglyMs = 10'000;

/// Brings the records one after the other to where they belong, in a plain list and in the arrangement. `far`: of this.
void moveSingly(const OrderTask& task, const RankedRecords& after, OrderCosts& costs,
                const std::stop_token& stop, const ShareHandler& far) {
    std::vector<std::uint32_t> now;
    task.before.appendTo(now);
    auto arrangement = makeArrangement(task.arrangement, task.ends, std::ssize(now), task.estimates);
    arrangement->setCross(task.cross);
    arrangement->setWindow(task.window);
    SteadyWatch watch;
    const std::int64_t start = watch.nowNs();
    const std::size_t before = now.size();
    const double steps = static_cast<double>(before + after.records.size());
    std::size_t stepsDone = 0;
    const auto isLong = [&] {
        costs.singlyMs = static_cast<double>(watch.nowNs() - start) / 1e6;
        costs.isSinglyCut = costs.singlyMs > kLongestSinglyMs;
        far(std::max(costs.singlyMs / kLongestSinglyMs, static_cast<double>(stepsDone) / steps));
        return costs.isSinglyCut || stop.stop_requested();
    };
    for (std::size_t at = before; at-- > 0;) { // those that go
        stepsDone = before - at;
        if (after.placeOf(now[at]) < 0) {
            now.erase(now.begin() + static_cast<std::ptrdiff_t>(at));
            arrangement->eraseRecords(static_cast<std::int64_t>(at), 1);
            if (++costs.moves % 64 == 0 && isLong()) {
                return;
            }
        }
    }
    for (std::size_t at = 0; at < after.records.size(); ++at) {
        const std::uint32_t record = after.records[at];
        stepsDone = before + at;
        if (at < now.size() && now[at] == record) {
            continue;
        }
        const auto to = now.begin() + static_cast<std::ptrdiff_t>(at);
        const auto from = std::find(to, now.end(), record);
        if (from == now.end()) { // one that comes
            now.insert(to, record);
            arrangement->insertRecords(static_cast<std::int64_t>(at), 1);
        } else {
            arrangement->moveRecord(from - now.begin(), static_cast<std::int64_t>(at));
            std::rotate(to, from, from + 1);
        }
        if (++costs.moves % 64 == 0 && isLong()) {
            return;
        }
    }
    (void)isLong();
}

} // namespace

Result<OrderCosts> costsOf(OrderTask task, Slices& slices, const std::stop_token& stop,
                           const ShareHandler& far) {
    OrderCosts costs;
    std::shared_ptr<const RankedRecords> after;
    double waysMs = 0;
    Laps laps;
    for (const ChangeWay way : {ChangeWay::InPlace, ChangeWay::Afresh}) {
        task.forced = way;
        auto landing = makeLanding(task, slices, stop);
        if (!landing) {
            return std::move(landing.error());
        }
        if (landing->change) {
            (way == ChangeWay::InPlace ? costs.inPlaceMs : costs.afreshMs) =
                landing->compareMs + landing->arrangeMs;
            after = landing->change->after();
        }
        waysMs += laps.lap();
        const double both = way == ChangeWay::InPlace ? 2 * waysMs : waysMs;
        far(waysMs / (both + kLongestSinglyMs));
    }
    if (after) {
        const double done = waysMs / (waysMs + kLongestSinglyMs);
        moveSingly(task, *after, costs, stop, [&](double share) { far(done + (1 - done) * share); });
    }
    return costs;
}

} // namespace scorrere::render
