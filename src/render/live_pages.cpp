// SPDX-License-Identifier: Apache-2.0
// The part of LiveCollection that has to do with pages: which record stands at a place, what stands where
// none is, and what the run must be told.
#include "engine/record/record_json.h"
#include "render/live_collection.h"

#include <algorithm>

namespace scorrere::render {

namespace {

MotionKind motionOf(PlaceEdit::Kind kind) {
    switch (kind) {
    case PlaceEdit::Kind::Insert:
        return MotionKind::Insert;
    case PlaceEdit::Kind::Erase:
        return MotionKind::Remove;
    case PlaceEdit::Kind::Move:
        return MotionKind::Move;
    case PlaceEdit::Kind::Refill:
    case PlaceEdit::Kind::Far:
        break;
    }
    return MotionKind::Extent;
}

} // namespace

std::shared_ptr<PagedRecords> LiveCollection::takePaged() {
    paged()->disconnect(this);
    wake_.stop();
    estimates_.cancel();
    return records_.takePaged();
}

void LiveCollection::setPaging(const PagingSpec& paging) {
    const bool opensElsewhere = paging.startAt != document_.paging.startAt;
    document_.paging = paging;
    paged()->setPaging(paging);
    if (opensElsewhere) {
        paged()->openAnew(nowRunMs_);
    }
    run_->setPullable(paging.byPull);
    applyPageEdits();
    Q_EMIT frameWanted();
}

std::optional<FillContext> LiveCollection::contextAt(std::int64_t place) const {
    const Slot slot{Role::Record, place};
    return records_.isPlaceholder(slot) ? std::nullopt : std::optional(records_.contextOf(slot));
}

void LiveCollection::startPages(std::int64_t timeUs) {
    nowRunMs_ = timeUs / 1000;
    paged()->start(nowRunMs_);
    applyPageEdits();
    Q_EMIT frameWanted();
}

void LiveCollection::stopPages() {
    paged()->stop();
    wake_.stop();
    applyPageEdits();
}

void LiveCollection::refresh(std::int64_t timeUs) {
    nowRunMs_ = timeUs / 1000;
    paged()->refresh(nowRunMs_);
    applyPageEdits();
    Q_EMIT frameWanted();
}

void LiveCollection::retryPictures() {
    pictures_->retry();
    run_->recordsChanged(0, run_->arrangement().recordCount());
    Q_EMIT frameWanted();
}

void LiveCollection::retryPages(std::int64_t timeUs) {
    retryPictures();
    nowRunMs_ = timeUs / 1000;
    paged()->retry(nowRunMs_);
    applyPageEdits();
    Q_EMIT frameWanted();
}

void LiveCollection::showWaiting() {
    paged()->showWaiting();
    applyPageEdits();
    if (leaf().isOne()) {
        turnTo(0);
    }
    run_->travelTo(Length{});
    Q_EMIT frameWanted();
}

void LiveCollection::setVariables(std::int64_t timeUs,
                                  const std::vector<std::pair<std::string, std::string>>& variables) {
    nowRunMs_ = timeUs / 1000;
    document_.source.variables = variables;
    paged()->setVariables(nowRunMs_, variables);
    applyPageEdits();
    Q_EMIT frameWanted();
}

/// What shows, in places. The header stands for the first one, the tail for the last, that of a section for its first.
/// Of records that are placed only those are known that are here: what may stand behind the item before a position
/// is the record behind that.
std::int64_t LiveCollection::placeBehind(const PlacedArrangement& placed, std::int64_t position) {
    for (std::int64_t before = position - 1; before >= 0; --before) {
        if (const Slot slot = placed.slotAt(before); slot.role == Role::Record) {
            return std::min(slot.place + 1, placed.recordCount() - 1);
        }
    }
    return 0;
}

SeenRange LiveCollection::seen() const {
    SeenRange seen;
    std::int64_t first = INT64_MAX;
    std::int64_t last = -1;
    seen.aliveFirst = INT64_MAX;
    seen.aliveLast = -1;
    const std::int64_t records =
        placed_ != nullptr ? placeBehind(*placed_, placed_->size()) + 1 : run_->arrangement().recordCount();
    if (placed_ != nullptr && run_->hold().position >= 0 &&
        std::ranges::none_of(run_->placements(), &Placement::showing)) {
        first = last = placeBehind(*placed_, run_->hold().position + 1);
    }
    for (const Placement& placement : run_->placements()) {
        const Slot slot = run_->arrangement().slotAt(placement.position);
        const std::int64_t place = slot.place >= 0             ? slot.place
                                   : slot.role == Role::Header ? 0
                                                               : std::max<std::int64_t>(records - 1, 0);
        if (placement.showing) {
            first = std::min(first, place);
            last = std::max(last, place);
        }
        if (slot.role == Role::Record) {
            seen.aliveFirst = std::min(seen.aliveFirst, place);
            seen.aliveLast = std::max(seen.aliveLast, place);
        }
    }
    const std::int64_t before = records_.leaf().first;
    first += first == INT64_MAX ? 0 : before;
    last += last < 0 ? 0 : before;
    seen.aliveFirst += seen.aliveFirst == INT64_MAX ? 0 : before;
    seen.aliveLast += seen.aliveLast < 0 ? 0 : before;
    seen.first = first == INT64_MAX ? before : first;
    seen.last = std::max(last, seen.first);
    seen.aliveFirst = seen.aliveFirst == INT64_MAX ? seen.first : seen.aliveFirst;
    seen.aliveLast = std::max(seen.aliveLast, seen.aliveFirst);
    const double each = run_->window().toPx() / static_cast<double>(seen.last - seen.first + 1);
    seen.placesPerSecond = run_->speed() / std::max(each, 1.0);
    return seen;
}

/// What came is taken over before the frame, so that it is filled in this one.
/// Windows that stand at the same record differ by what they hold.
SeenRange LiveCollection::seenByAll() const {
    if (!areTogether_ && leading_ != nullptr) {
        return leading_->seen();
    }
    SeenRange all = seen();
    for (const LiveCollection* beside : areTogether_ ? beside_ : std::vector<LiveCollection*>()) {
        const SeenRange its = beside->seen();
        all.first = std::min(all.first, its.first);
        all.last = std::max(all.last, its.last);
        all.aliveFirst = std::min(all.aliveFirst, its.aliveFirst);
        all.aliveLast = std::max(all.aliveLast, its.aliveLast);
    }
    return all;
}

void LiveCollection::tickPages(std::int64_t timeUs) {
    nowRunMs_ = timeUs / 1000;
    paged()->tick(nowRunMs_, seenByAll());
    takeFields();
    applyPageEdits();
    takeTail();
    run_->holdPull(paged()->pager().isRefreshing());
    estimatePages();
    if (const auto at = paged()->pager().wakeAtMs(); at && !paged()->isPending()) {
        wake_.start(static_cast<int>(std::clamp<std::int64_t>(*at - nowRunMs_, 1, 60'000)));
    } else {
        wake_.stop();
    }
}

/// A page brought fields, or wider ones, that the designs were not compiled for.
void LiveCollection::takeFields() {
    if (!paged()->takeFieldsChanged()) {
        return;
    }
    auto fields = std::make_shared<const RecordTable>(conformed(records(), paged()->fields()));
    if (Outcome put = putDesigns(*fields); !put) {
        // What reads fields by types they do not have any more must not run: only what reads none is left.
        Q_EMIT paged()->noticed(put.error());
        (void)bool(putDesigns(RecordTable()));
    }
    records_.setTable(std::move(fields));
    estimateAll();
    Q_EMIT fieldsTaken();
}

void LiveCollection::applyPageEdits() {
    const std::vector<PagedRecords::LiveEdit> commands = paged()->takeEdits();
    const std::vector<std::int64_t> arrived = paged()->takeArrived();
    applyCommands(commands, arrived);
    for (LiveCollection* beside : beside_) {
        beside->applyCommands(commands, arrived);
    }
}

void LiveCollection::applyCommands(const std::vector<PagedRecords::LiveEdit>& commands,
                                   const std::vector<std::int64_t>& arrived) {
    for (const auto& [command, isSeen] : commands) {
        const PlaceEdit& edit = command.edit;
        if (command.kind == PageCommand::Kind::StandAt) {
            if (command.place == 0 && !leaf().isOne()) {
                run_->travelTo(Length{});
            } else {
                showRecord(command.place);
            }
            continue;
        }
        applyEdit(edit);
        if (isSeen) {
            run_->animate(motionOf(edit.kind));
        }
    }
    fillLeaf();
    toEstimate_.insert(arrived.begin(), arrived.end());
}

/// The row at the end, or what stands in the collection's stead, says what is so.
void LiveCollection::takeTail() {
    if (records_.takeTail(records_.allPlaces())) {
        run_->itemChanged(run_->arrangement().size() - 1);
    }
}

/// Pages that came are estimated from their content by a worker; until then their items have the mean.
void LiveCollection::estimatePages() {
    if (placed_ != nullptr) {
        toEstimate_.clear(); // items are as long as they are placed
    }
    if (toEstimate_.empty() || paged()->pager().isLanding() || estimates_.isBusy() ||
        estimates_.how() == Estimating::Never) {
        return;
    }
    PageStrip& strip = paged()->pager().strip();
    auto task = estimateTask();
    for (const std::int64_t page : std::exchange(toEstimate_, {})) {
        const auto loaded = strip.loaded().find(page);
        std::int64_t place = loaded == strip.loaded().end() ? 0 : strip.placeOf(page);
        for (std::size_t i = 0; loaded != strip.loaded().end() && i < loaded->second.size(); ++i) {
            const std::int64_t at = place++ - records_.leaf().first;
            if (at >= 0 && at < run_->arrangement().recordCount()) {
                task->rows.push_back({at, loaded->second[i].table, loaded->second[i].row});
            }
        }
    }
    if (task->rows.empty()) {
        return;
    }
    estimate(std::move(task));
}

} // namespace scorrere::render
