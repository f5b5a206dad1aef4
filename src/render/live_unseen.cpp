// SPDX-License-Identifier: Apache-2.0
// The part of LiveCollection that has to do with what nobody sees yet: which columns items take, and how long they
// will be.
#include "render/job.h"
#include "render/live_collection.h"

#include <algorithm>

namespace scorrere::render {

namespace {

/// The spans of so many records are found out between frames; of more on a worker.
constexpr std::int64_t kSpansAtOnce = 4096;

} // namespace

void LiveCollection::takeFlow(CellFlow flow) {
    run_->rearrange([&] {
        disposeElsewhere(sectioned_ != nullptr ? sectioned_->takeFlow(std::move(flow))
                                               : grid_->takeFlow(std::move(flow)));
    });
}

void LiveCollection::setSpans(std::int64_t place, std::span<const std::uint8_t> spans) {
    run_->rearrange(
        [&] { sectioned_ != nullptr ? sectioned_->setSpans(place, spans) : grid_->setSpans(place, spans); });
}

/// The spans of records from a place on, as far as it goes at once.
std::vector<std::uint8_t> LiveCollection::spansFrom(std::int64_t place, std::int64_t count) const {
    std::vector<std::uint8_t> spans;
    for (const std::int64_t until = place + std::min(count, kSpansAtOnce); place < until; ++place) {
        const Slot slot{Role::Record, place};
        const int kind =
            records_.isPlaceholder(slot) ? kFirstOwnKind - 1 : designs_.kindOf(records_.contextOf(slot));
        spans.push_back(spans_.of(kind - kFirstOwnKind));
    }
    return spans;
}

/// Records came, or are others now.
void LiveCollection::takeSpans(std::int64_t place, std::int64_t count) {
    if (grid_ != nullptr && count > 0) {
        setSpans(place, spansFrom(place, count));
    }
}

/// Everything may have another span or, `onlyForColumns`, there may be other columns. Of many records, only those
/// at the start are looked at, or where the window is: a worker tells of all.
void LiveCollection::takeSpansAnew(bool onlyForColumns) {
    if (grid_ == nullptr ||
        (onlyForColumns && grid_->areSpansTold() && grid_->columnsToBe() == grid_->columns())) {
        return;
    }
    const std::int64_t count = run_->arrangement().recordCount();
    const bool comesWhole = paged() == nullptr && !leaf().isOne(); // else slice by slice
    if (count > kSpansAtOnce && grid_->areSpansTold() && comesWhole) {
        return;
    }
    const std::int64_t held =
        run_->arrangement().slotAt(std::max<std::int64_t>(run_->hold().position, 0)).place;
    const std::int64_t from = comesWhole ? 0 : std::clamp<std::int64_t>(held - kSpansAtOnce / 2, 0, count);
    CellFlow flow(grid_->columnsToBe(), count);
    flow.setSpans(from, spansFrom(from, count - from));
    takeFlow(std::move(flow));
}

std::shared_ptr<EstimateTask> LiveCollection::estimateTask() const {
    Arrangement& arrangement = run_->arrangement();
    const bool isAny = arrangement.recordCount() > 0 && arrangement.size() > 0;
    // The first record may be folded away: its header has the strip's whole width.
    const Arrangement* below = sectioned_ != nullptr ? &sectioned_->below() : nullptr;
    const auto* cells = dynamic_cast<const GridArrangement*>(below);
    const auto* ragged = dynamic_cast<const ColumnsArrangement*>(below);
    const auto ofRecords = [&] {
        return roomFor(cells != nullptr    ? cells->givenToBe(1)
                       : ragged != nullptr ? ragged->givenForRecords()
                                           : arrangement.givenFor(arrangement.positionOf(0)));
    };
    auto task = std::make_shared<EstimateTask>(EstimateTask{document_,
                                                            records_.shared(),
                                                            RecordOrder(),
                                                            {},
                                                            designs_.textScale(),
                                                            isAny ? ofRecords() : ItemRoom(),
                                                            isSideways(),
                                                            records_.nowMs(),
                                                            0,
                                                            0,
                                                            {},
                                                            false,
                                                            std::nullopt,
                                                            false,
                                                            false,
                                                            false});
    if (table_ != nullptr) {
        task->table = table_->columns();
        task->room.width = table_->columns().across();
    }
    task->areSectionsWanted = areSectionsUntold();
    task->arePlacesWanted = arePlacesUntold();
    task->areExtentsWanted = !arrangement.followsWindow();
    if (grid_ != nullptr) {
        task->columns = grid_->columnsToBe();
        for (int span = 1; span <= task->columns; ++span) {
            task->rooms.push_back(roomFor(grid_->givenToBe(span)));
        }
        task->leavesHoles = std::get<GridSpec>(document_.arrangement.form).leavesHoles;
        task->isFlowWanted = arrangement.recordCount() > kSpansAtOnce && paged() == nullptr;
    }
    return task;
}

LiveEstimates::Take LiveCollection::takeEstimated() {
    return {[this](const LiveEstimates::Estimated& what) {
                if (grid_ != nullptr && !what.spans.empty()) {
                    setSpans(what.place, what.spans);
                }
                run_->setEstimated(what.place, what.extents);
                for (std::size_t i = 0; i < what.extents.size() && canOrder(); ++i) {
                    if (what.extents[i] >= 0) {
                        known_->setEstimated(records_.recordAt(what.place + static_cast<std::int64_t>(i)),
                                             Length::fromRaw(what.extents[i]));
                    }
                }
            },
            [this](std::optional<LiveEstimates::Grouped> all) {
                if (!all || sectioned_ == nullptr) { // records came or went meanwhile
                    return estimateAll();
                }
                areSectionsTold_ = true;
                headings_ = all->headings;
                takeSections(all->counts);
            },
            [this](CellFlow flow, const LiveEstimates::Unknown& unknown) {
                takeFlow(std::move(flow));
                for (const auto& [place, count] : unknown) {
                    takeSpans(place, std::min(count, run_->arrangement().recordCount() - place));
                }
            },
            [this](const std::optional<LiveEstimates::Placed>& all) {
                if (!all || placed_ == nullptr) { // records came or went meanwhile
                    return estimateAll();
                }
                takeTold(*all);
            }};
}

void LiveCollection::estimate(std::shared_ptr<const EstimateTask> task) {
    estimates_.start(std::move(task), takeEstimated());
}

void LiveCollection::estimateAll() {
    estimates_.cancel();
    if (placed_ != nullptr && !arePlacesUntold()) {
        return; // items are as long as they are placed
    }
    if (paged() != nullptr) {
        toEstimate_.clear();
        for (const auto& [page, records] : paged()->pager().strip().loaded()) {
            toEstimate_.insert(page);
        }
        return;
    }
    const RecordOrder& order = records_.order();
    if (order.size() == 0 || (run_->arrangement().followsWindow() && !areSectionsUntold())) {
        return; // nothing is unknown
    }
    auto task = estimateTask();
    if (const Leaf& leaf = records_.leaf(); leaf.isOne()) {
        for (std::int64_t place = 0; place < leaf.countOf(order.size()); ++place) {
            task->rows.push_back({place, records_.shared(), records_.recordAt(place)});
        }
        return estimate(std::move(task));
    }
    if (grid_ == nullptr) { // else what shows may still stand in the columns of before
        task->known = known_;
        if (known_->count() >= records_.table().size() && !areSectionsUntold()) {
            return; // all are known
        }
    }
    task->order = order;
    const std::int64_t hold = run_->hold().position;
    const std::int64_t place = hold < 0 ? 0 : run_->arrangement().slotAt(hold).place;
    task->from = std::clamp<std::int64_t>(place, 0, order.size() - 1);
    estimate(std::move(task));
}

} // namespace scorrere::render
