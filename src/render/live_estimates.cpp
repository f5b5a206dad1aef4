// SPDX-License-Identifier: Apache-2.0
#include "render/live_estimates.h"

#include "engine/design/estimate.h"
#include "render/item_view.h"
#include "render/live_designs.h"
#include "render/steady_watch.h"

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
    Estimators(const EstimateTask& task, const Compiled& compiled) : task_(task), kinds_(compiled.kinds) {
        // Here, not where the task was made: looking advances up takes longer than a frame has.
        for (const ItemDesign& design : compiled.designs) {
            each_.push_back(std::make_unique<Estimator>(design, task.textScale));
        }
    }
    std::optional<std::int32_t> extentOf(const RecordTable& records, std::int64_t record,
                                         const std::stop_token& stop) {
        if (task_.isSideways && !task_.room.isMost) { // whatever it holds
            return static_cast<std::int32_t>(std::min(task_.room.width, ExtentIndex::kMaxExtent).raw());
        }
        const FillContext context{records, record, &task_.document.parameters, task_.nowMs, nullptr, -1, 0};
        const int kind = kinds_.kindOf(context);
        Estimator& with = *each_[static_cast<std::size_t>(kind < 0 ? 0 : kFirstOwnKind + kind)];
        auto size = with.estimator.estimate(context, task_.room);
        if (!size) {
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            size = with.shaper.fill(context, {with.fonts, texts_, nullptr}, task_.room, meter_);
        }
        const Length extent = task_.isSideways ? size->width : size->height;
        return static_cast<std::int32_t>(std::min(extent, ExtentIndex::kMaxExtent).raw());
    }

private:
    const EstimateTask& task_;
    const KindChooser& kinds_;
    std::vector<std::unique_ptr<Estimator>> each_;
    TextCache texts_{std::int64_t{1} << 20};
    SteadyWatch watch_;
    CostMeter meter_{watch_};
};

using Deliver = std::function<void(std::int64_t, std::vector<std::int32_t>)>;

/// Rows whose places follow each other are one slice.
bool estimateRows(const EstimateTask& task, Estimators& estimators, const std::stop_token& stop,
                  const Deliver& deliver) {
    std::vector<std::int32_t> extents;
    for (std::size_t i = 0; i < task.rows.size(); ++i) {
        const EstimateTask::Row& row = task.rows[i];
        const auto extent =
            stop.stop_requested() ? std::nullopt : estimators.extentOf(*row.table, row.row, stop);
        if (!extent) {
            return false;
        }
        extents.push_back(*extent);
        const bool ends = i + 1 == task.rows.size() || task.rows[i + 1].place != row.place + 1;
        if (ends) {
            const std::int64_t first = row.place + 1 - static_cast<std::int64_t>(extents.size());
            deliver(first, std::exchange(extents, {}));
        }
    }
    return true;
}

/// Estimates every record's extent, slice by slice, those nearest to the window first. Gives false when
/// stopped.
bool estimateSlices(const EstimateTask& task, const std::stop_token& stop, const Deliver& deliver) {
    const auto compiled = compileDesigns(task.document, *task.records, false);
    if (!compiled) {
        return false; // cannot be: the same designs compiled before
    }
    Estimators estimators(task, *compiled);
    if (!task.rows.empty()) {
        return estimateRows(task, estimators, stop, deliver);
    }
    const std::int64_t slices = (task.order.size() + kSlice - 1) / kSlice;
    std::int64_t below = task.from / kSlice;
    std::int64_t above = below - 1;
    for (std::int64_t made = 0; made < slices; ++made) {
        const bool on = below < slices && (made % 2 == 0 || above < 0);
        const std::int64_t first = (on ? below++ : above--) * kSlice;
        std::vector<std::int32_t> extents;
        const std::int64_t end = std::min(first + kSlice, task.order.size());
        extents.reserve(static_cast<std::size_t>(end - first));
        for (std::int64_t place = first; place < end; ++place) {
            if ((place & 511) == 0 && stop.stop_requested()) {
                return false;
            }
            const auto extent = estimators.extentOf(*task.records, task.order.at(place), stop);
            if (!extent) {
                return false;
            }
            extents.push_back(*extent);
        }
        deliver(first, std::move(extents));
    }
    return true;
}

} // namespace

void LiveEstimates::start(std::shared_ptr<const EstimateTask> task, const Take& take) {
    cancel();
    if (how_ == Estimating::Never) {
        return;
    }
    if (how_ == Estimating::AtOnce) {
        (void)estimateSlices(*task, {}, take);
        return;
    }
    job_.start(
        [this, task = std::move(task)](std::stop_token stop, const Job::Post& post) {
            return estimateSlices(*task, stop, [&](std::int64_t place, std::vector<std::int32_t> extents) {
                post([this, slice = Slice{place, std::move(extents), 0}]() mutable {
                    slices_.push_back(std::move(slice));
                    Q_EMIT came();
                });
            });
        },
        [this](bool) { Q_EMIT came(); });
}

void LiveEstimates::cancel() {
    job_.cancel();
    slices_.clear();
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
    Slice slice = std::move(slices_.front());
    slices_.pop_front();
    apply(std::move(slice), take);
}

/// An edit in the middle of a slice parts it.
void LiveEstimates::apply(Slice slice, const Take& take) const {
    while (slice.editsSeen < edits_.size()) {
        const Edit edit = edits_[slice.editsSeen++];
        const std::int64_t end = slice.place + static_cast<std::int64_t>(slice.extents.size());
        const auto part = [&slice](std::int64_t from, std::int64_t until, std::int64_t place) {
            return Slice{
                place,
                {slice.extents.begin() + (from - slice.place), slice.extents.begin() + (until - slice.place)},
                slice.editsSeen};
        };
        const std::int64_t gone = std::max<std::int64_t>(-edit.count, 0);
        if (edit.place > slice.place && edit.place < end) {
            apply(part(slice.place, edit.place, slice.place), take);
            slice = part(edit.place, end, edit.place);
        }
        if (slice.place < edit.place) {
            continue;
        }
        const std::int64_t lost = std::clamp<std::int64_t>(edit.place + gone - slice.place, 0,
                                                           static_cast<std::int64_t>(slice.extents.size()));
        slice = part(slice.place + lost, slice.place + static_cast<std::int64_t>(slice.extents.size()),
                     slice.place + lost);
        slice.place += edit.count;
    }
    if (!slice.extents.empty()) {
        take(slice.place, slice.extents);
    }
}

} // namespace scorrere::render

#include "moc_live_estimates.cpp"
