// SPDX-License-Identifier: Apache-2.0
#include "render/live_estimates.h"

#include "engine/design/estimate.h"
#include "render/item_view.h"
#include "render/live_designs.h"
#include "render/live_spans.h"
#include "render/steady_watch.h"

#include <unordered_set>

namespace scorrere::render {

namespace {

constexpr std::int64_t kSlice = 4096;

/// One design as a worker estimates it.
struct Estimator {
    Estimator(const ItemDesign& of, double textScale)
        : design(of), fonts(of, textScale), tables(fonts.advanceTables()), estimator(of, tables) {
        shaper.build(design);
    }
    const ItemDesign& design;
    const FontSet fonts; // of this thread's own: copies share what is inside
    const std::vector<AdvanceTable> tables;
    ItemEstimator estimator;
    /// What the tables do not cover is shaped for real: the same fonts and breaking as it will be painted
    /// with.
    ItemView shaper;
};

/// All designs that records can have, as one worker estimates them.
class Estimators {
public:
    Estimators(const EstimateTask& task, const Compiled& compiled)
        : task_(task), room_(task.room), kinds_(compiled.kinds), spans_(task.document), table_(task.table) {
        if (table_) {
            room_.columns = &*table_;
        }
        // Here, not where the task was made: looking advances up takes longer than a frame has.
        for (const ItemDesign& design : compiled.designs) {
            each_.push_back(std::make_unique<Estimator>(design, task.textScale));
        }
    }
    int kindOf(const RecordTable& records, std::int64_t record) const {
        return kinds_.kindOf(contextOf(records, record));
    }
    std::uint8_t spanOf(const RecordTable& records, std::int64_t record) const {
        return spans_.of(kindOf(records, record));
    }
    const ItemRoom& roomOf(int span) const {
        return task_.columns == 0 ? room_
                                  : task_.rooms[static_cast<std::size_t>(std::min(span, task_.columns) - 1)];
    }
    std::optional<std::int32_t> extentOf(const RecordTable& records, std::int64_t record,
                                         const ItemRoom& room, const std::stop_token& stop) {
        if (task_.isSideways && !room.isMost) { // whatever it holds
            return static_cast<std::int32_t>(std::min(room.width, ExtentIndex::kMaxExtent).raw());
        }
        const FillContext context = contextOf(records, record);
        const int kind = kinds_.kindOf(context);
        Estimator& with = *each_[static_cast<std::size_t>(kind < 0 ? 0 : kFirstOwnKind + kind)];
        auto size = with.estimator.estimate(context, room);
        if (!size) {
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            size = with.shaper.fill(context, {with.fonts, texts_, nullptr}, room, meter_);
        }
        const Length extent = task_.isSideways ? size->width : size->height;
        return static_cast<std::int32_t>(std::min(extent, ExtentIndex::kMaxExtent).raw());
    }

private:
    FillContext contextOf(const RecordTable& records, std::int64_t record) const {
        return {records, record, &task_.document.parameters, task_.nowMs, nullptr, -1, 0};
    }

    const EstimateTask& task_;
    ItemRoom room_;
    const KindChooser& kinds_;
    const LiveSpans spans_;
    std::optional<TableColumns> table_;
    std::vector<std::unique_ptr<Estimator>> each_;
    TextCache texts_{std::int64_t{1} << 20};
    SteadyWatch watch_;
    CostMeter meter_{watch_};
};

using Estimated = LiveEstimates::Estimated;

struct Deliver {
    std::function<void(Estimated)> slice;
    std::function<void(const CellFlow&)> flow;
    std::function<void(LiveEstimates::Grouped)> sections;
    std::function<void(LiveEstimates::Placed)> places;
};

/// Rows whose places follow each other are one slice.
bool estimateRows(const EstimateTask& task, Estimators& estimators, const std::stop_token& stop,
                  const Deliver& deliver) {
    Estimated slice;
    for (std::size_t i = 0; i < task.rows.size(); ++i) {
        const EstimateTask::Row& row = task.rows[i];
        const std::uint8_t span = task.columns > 0 ? estimators.spanOf(*row.table, row.row) : 1;
        const auto extent = stop.stop_requested()
                                ? std::nullopt
                                : estimators.extentOf(*row.table, row.row, estimators.roomOf(span), stop);
        if (!extent) {
            return false;
        }
        slice.extents.push_back(*extent);
        if (task.columns > 0) {
            slice.spans.push_back(span);
        }
        const bool ends = i + 1 == task.rows.size() || task.rows[i + 1].place != row.place + 1;
        if (ends) {
            slice.place = row.place + 1 - static_cast<std::int64_t>(slice.extents.size());
            deliver.slice(std::exchange(slice, {}));
        }
    }
    return true;
}

/// Nothing when stopped.
std::optional<LiveEstimates::Grouped> sectionsOf(const EstimateTask& task, const Compiled& compiled,
                                                 const std::stop_token& stop) {
    LiveEstimates::Grouped all;
    std::unordered_set<std::string> headings;
    std::string before;
    std::string text;
    for (std::int64_t place = 0; place < task.order.size(); ++place) {
        if ((place & 1023) == 0 && stop.stop_requested()) {
            return std::nullopt;
        }
        const std::int64_t record = task.order.at(place);
        if (place > 0 && compiled.sections->isAlike(*task.records, task.order.at(place - 1), record)) {
            ++all.counts.back();
            continue;
        }
        compiled.sections->textOf(
            {*task.records, record, &task.document.parameters, task.nowMs, nullptr, -1, 0}, text);
        if (all.counts.empty() || text != before) {
            all.counts.push_back(0);
            headings.insert(text);
            before.swap(text);
        }
        ++all.counts.back();
    }
    all.headings = std::ssize(headings);
    return all;
}

/// Nothing when stopped.
std::optional<LiveEstimates::Placed> placesOf(const EstimateTask& task, PlaceReader reader,
                                              const std::stop_token& stop) {
    std::vector<std::optional<GivenPlace>> places;
    places.reserve(static_cast<std::size_t>(task.order.size()));
    for (std::int64_t place = 0; place < task.order.size(); ++place) {
        if ((place & 1023) == 0 && stop.stop_requested()) {
            return std::nullopt;
        }
        places.push_back(reader.read(*task.records, task.order.at(place)));
    }
    auto told = std::make_shared<PlacedArrangement::Told>(places, reader.lanes());
    return LiveEstimates::Placed{std::move(told), std::make_shared<const PlaceReader>(std::move(reader))};
}

/// Every record's span, in order. Nothing when stopped.
std::optional<CellFlow> flowOf(const EstimateTask& task, const Estimators& estimators,
                               const std::stop_token& stop) {
    CellFlow flow(task.columns);
    std::vector<std::uint8_t> spans;
    for (std::int64_t place = 0; place < task.order.size(); ++place) {
        spans.push_back(estimators.spanOf(*task.records, task.order.at(place)));
        if (std::cmp_equal(spans.size(), kSlice) || place + 1 == task.order.size()) {
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            flow.append(spans);
            spans.clear();
        }
    }
    return flow;
}

/// Estimates every record's extent, slice by slice, those nearest to the window first. Gives false when
/// stopped.
bool estimateSlices(const EstimateTask& task, const std::stop_token& stop, const Deliver& deliver) {
    auto compiled = compileDesigns(task.document, *task.records, false);
    if (!compiled) {
        return false; // cannot be: the same designs compiled before
    }
    if (task.arePlacesWanted && compiled->places) {
        auto all = placesOf(task, std::move(*compiled->places), stop);
        if (all) {
            deliver.places(std::move(*all));
        }
        return all.has_value();
    }
    Estimators estimators(task, *compiled);
    if (!task.rows.empty()) {
        return estimateRows(task, estimators, stop, deliver);
    }
    if (task.areSectionsWanted && compiled->sections) {
        auto all = sectionsOf(task, *compiled, stop);
        if (!all) {
            return false;
        }
        deliver.sections(std::move(*all));
    }
    if (!task.areExtentsWanted) {
        return true;
    }
    std::optional<CellFlow> flow;
    if (task.columns > 0) {
        flow = flowOf(task, estimators, stop);
        if (!flow) {
            return false;
        }
        if (task.isFlowWanted) {
            deliver.flow(*flow);
        }
    }
    const auto roomOf = [&](std::int64_t place) -> const ItemRoom& {
        return !flow ? task.room
                     : estimators.roomOf(
                           (task.leavesHoles ? flow->cellOf(place) : flow->filledCellOf(place)).span);
    };
    const std::int64_t slices = (task.order.size() + kSlice - 1) / kSlice;
    std::int64_t below = task.from / kSlice;
    std::int64_t above = below - 1;
    for (std::int64_t made = 0; made < slices; ++made) {
        const bool on = below < slices && (made % 2 == 0 || above < 0);
        const std::int64_t first = (on ? below++ : above--) * kSlice;
        Estimated slice{first, {}, {}};
        const std::int64_t end = std::min(first + kSlice, task.order.size());
        slice.extents.reserve(static_cast<std::size_t>(end - first));
        for (std::int64_t place = first; place < end; ++place) {
            if ((place & 511) == 0 && stop.stop_requested()) {
                return false;
            }
            const std::int64_t record = task.order.at(place);
            const auto known = task.known ? task.known->at(record) : std::nullopt;
            const auto extent = known ? std::optional(static_cast<std::int32_t>(known->extent.raw()))
                                      : estimators.extentOf(*task.records, record, roomOf(place), stop);
            if (!extent) {
                return false;
            }
            slice.extents.push_back(*extent);
        }
        deliver.slice(std::move(slice));
    }
    return true;
}

} // namespace

std::optional<ArrangedParts> partsOf(const EstimateTask& task, const std::stop_token& stop) {
    ArrangedParts parts;
    if (!task.areSectionsWanted && !task.arePlacesWanted && task.columns == 0) {
        return parts;
    }
    auto compiled = compileDesigns(task.document, *task.records, false);
    if (!compiled) {
        return parts; // cannot be: the same designs compiled before
    }
    if (task.arePlacesWanted && compiled->places) {
        parts.places = placesOf(task, std::move(*compiled->places), stop);
        if (!parts.places) {
            return std::nullopt;
        }
    }
    if (task.areSectionsWanted && compiled->sections) {
        parts.sections = sectionsOf(task, *compiled, stop);
        if (!parts.sections) {
            return std::nullopt;
        }
    }
    if (task.columns > 0) {
        const Estimators estimators(task, *compiled);
        parts.flow = flowOf(task, estimators, stop);
        if (!parts.flow) {
            return std::nullopt;
        }
    }
    return parts;
}

void LiveEstimates::start(std::shared_ptr<const EstimateTask> task, const Take& take) {
    cancel();
    if (how_ == Estimating::Never) {
        return;
    }
    if (how_ == Estimating::AtOnce) {
        (void)estimateSlices(*task, {},
                             {take.slice, [&take](const CellFlow& flow) { take.flow(flow, {}); },
                              [&take](Grouped all) { take.sections(std::move(all)); },
                              [&take](Placed all) { take.places(std::move(all)); }});
        return;
    }
    job_.start(
        [this, task = std::move(task)](std::stop_token stop, const Job::Post& post) {
            return estimateSlices(*task, stop,
                                  {[&](Estimated what) {
                                       post([this, slice = Slice{std::move(what), 0}]() mutable {
                                           slices_.push_back(std::move(slice));
                                           Q_EMIT came();
                                       });
                                   },
                                   [&](const CellFlow& flow) {
                                       post([this, flow = CellFlow(flow)]() mutable {
                                           flow_ = std::move(flow);
                                           Q_EMIT came();
                                       });
                                   },
                                   [&](Grouped all) {
                                       post([this, all = std::move(all)]() mutable {
                                           sections_ = std::move(all);
                                           Q_EMIT came();
                                       });
                                   },
                                   [&](Placed all) {
                                       post([this, all = std::move(all)]() mutable {
                                           places_ = std::move(all);
                                           Q_EMIT came();
                                       });
                                   }});
        },
        [this](bool) { Q_EMIT came(); });
}

void LiveEstimates::cancel() {
    job_.cancel();
    slices_.clear();
    flow_.reset();
    sections_.reset();
    disposeElsewhere(std::exchange(places_, std::nullopt));
    edits_.clear();
}

void LiveEstimates::noteEdit(std::int64_t place, std::int64_t count) {
    if (isBusy()) {
        edits_.push_back({place, count});
    } else {
        edits_.clear(); // nobody's places are from before them
    }
}

void LiveEstimates::takeSlice(const Take& take) {
    if (sections_) {
        auto all = std::exchange(sections_, std::nullopt);
        return take.sections(edits_.empty() ? std::move(all) : std::nullopt);
    }
    if (places_) {
        auto all = std::exchange(places_, std::nullopt);
        if (!edits_.empty()) {
            disposeElsewhere(std::exchange(all, std::nullopt));
        }
        return take.places(std::move(all));
    }
    if (flow_) {
        return apply(*std::exchange(flow_, std::nullopt), take);
    }
    Slice slice = std::move(slices_.front());
    slices_.pop_front();
    apply(std::move(slice), take);
}

/// An edit in the middle of a slice parts it.
void LiveEstimates::apply(Slice slice, const Take& take) const {
    const auto countOf = [](const Estimated& what) { return static_cast<std::int64_t>(what.extents.size()); };
    while (slice.editsSeen < edits_.size()) {
        const Edit edit = edits_[slice.editsSeen++];
        const std::int64_t end = slice.what.place + countOf(slice.what);
        const auto part = [&slice](std::int64_t from, std::int64_t until, std::int64_t place) {
            const auto of = [&](const auto& all) {
                using All = std::remove_cvref_t<decltype(all)>;
                const std::int64_t first = slice.what.place;
                return all.empty() ? All() : All(all.begin() + (from - first), all.begin() + (until - first));
            };
            return Slice{{place, of(slice.what.extents), of(slice.what.spans)}, slice.editsSeen};
        };
        const std::int64_t gone = std::max<std::int64_t>(-edit.count, 0);
        if (edit.place > slice.what.place && edit.place < end) {
            apply(part(slice.what.place, edit.place, slice.what.place), take);
            slice = part(edit.place, end, edit.place);
        }
        if (slice.what.place < edit.place) {
            continue;
        }
        const std::int64_t lost =
            std::clamp<std::int64_t>(edit.place + gone - slice.what.place, 0, countOf(slice.what));
        slice =
            part(slice.what.place + lost, slice.what.place + countOf(slice.what), slice.what.place + lost);
        slice.what.place += edit.count;
    }
    if (!slice.what.extents.empty()) {
        take.slice(slice.what);
    }
}

void LiveEstimates::apply(CellFlow flow, const Take& take) const {
    Unknown unknown;
    for (const Edit& edit : edits_) {
        const std::int64_t gone = std::max<std::int64_t>(-edit.count, 0);
        for (auto& [place, count] : unknown) { // rather too many than too few
            if (place >= edit.place) {
                place = std::max(place + edit.count, edit.place);
            } else if (place + count > edit.place) {
                count += edit.count > 0 ? edit.count : 0;
            }
        }
        if (gone > 0) {
            flow.erase(edit.place, gone);
        } else {
            flow.insert(edit.place, edit.count);
            unknown.emplace_back(edit.place, edit.count);
        }
    }
    take.flow(std::move(flow), unknown);
}

} // namespace scorrere::render

#include "moc_live_estimates.cpp"
