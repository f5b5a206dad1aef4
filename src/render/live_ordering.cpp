// SPDX-License-Identifier: Apache-2.0
// The part of LiveCollection that has to do with which of the records it shows and in which order: a worker finds it,
// and arranges it; the frame in which it lands only exchanges one for the other.
#include "engine/record/record_json.h"
#include "render/job.h"
#include "render/live_collection.h"
#include "render/worker_slices.h"

#include <algorithm>
#include <functional>
#include <utility>

namespace scorrere::render {

namespace {

/// So many records are put in order before the first frame; a worker sees to all of them.
constexpr std::int64_t kRankedAtOnce = 4096;

} // namespace

/// Nobody else orders them.
bool LiveCollection::canOrder() const {
    return paged() == nullptr && !staged_;
}

/// Before there is anything to see.
void LiveCollection::beginInOrder(std::optional<InForce> inForce) {
    if (!canOrder()) {
        return;
    }
    if (inForce) {
        told_.spec = document_.order;
        records_.order() = std::move(inForce->order);
        if (inForce->edited) {
            records_.setEdited(std::move(inForce->edited));
        }
        return;
    }
    document_.edits.clear(); // they are put in force by who knows that all is read
    if (document_.order.isAsGiven()) {
        return;
    }
    told_.spec = document_.order;
    isOrderStale_ = true; // but for the first ones
    const RecordTable& all = records();
    const std::int64_t count =
        estimates_.how() == Estimating::AtOnce ? all.size() : std::min(all.size(), kRankedAtOnce);
    const RecordTable first = all.asIf(count, {});
    auto ranking = RecordRanking::make(document_.order, {first, document_.locale, document_.parameters}, 1);
    if (!ranking) {
        return; // it runs as given, and who asks for the order is told why
    }
    SlicesInTurn slices;
    if (auto ranked = ranking->rank(first, slices, {})) {
        std::vector<std::uint32_t> shown = **ranked;
        if (document_.order.isGathered) {
            (void)gatherByHeading(shown, document_, first, records_.nowMs(), {});
        }
        records_.order() = RecordOrder(withPlaces(std::move(shown), all.size()));
    }
}

std::optional<InForce> LiveCollection::inForceFor(const RecordTable& source,
                                                  const CollectionDocument& document) const {
    const bool isAnything = !document.order.isAsGiven() || !document.edits.empty();
    const bool isSame =
        canOrder() && !isOrdering() && source.size() == records_.source()->size() &&
        document.order.isSameOrder(told_.spec) && areSame(document.edits, document_.edits) &&
        (!document.order.isGathered || document.arrangement.sections == document_.arrangement.sections);
    return isSame && isAnything ? std::optional(InForce{records_.order(), records_.edited()}) : std::nullopt;
}

void LiveCollection::setEdits(const RecordEdits& edits) {
    if (!areSame(edits, document_.edits)) {
        document_.edits = edits;
        if (paged() != nullptr) {
            return isBeside_ ? void() : paged()->setEdits(edits); // the windows beside show the same pages
        }
        if (isOrdering() && isInForce()) {
            return stayInOrder();
        }
        areEditsDue_ = canOrder();
        Q_EMIT frameWanted();
    }
}

void LiveCollection::setOrder(const OrderSpec& order, std::optional<ChangeWay> forced) {
    const bool isSame = order.isSameOrder(document_.order) && !forced;
    document_.order = order;
    if (!isSame && !forced && isOrdering() && isInForce()) {
        stayInOrder();
    } else if (!isSame) {
        startOrder(forced);
    }
}

/// Its arrangement as it would be made anew now.
ArrangementSpec LiveCollection::arrangementToMake() const {
    ArrangementSpec arrangement = document_.arrangement;
    if (auto* pager = std::get_if<PagerSpec>(&arrangement.form)) {
        pager->endless = pager->endless && !records_.hasTail(); // before the end nobody knows the last
    }
    if (arrangement.sections) {
        arrangement.sections->haveFooters = document_.sectionFooter.has_value();
    }
    return arrangement;
}

Ends LiveCollection::ends() const {
    return {document_.header.has_value(), document_.footer.has_value() || records_.hasTail()};
}

std::shared_ptr<const OrderTask> LiveCollection::orderTask(std::optional<ChangeWay> forced) const {
    auto task = std::make_shared<OrderTask>();
    task->parts = estimateTask();
    task->parts->document = document_;
    task->parts->areSectionsWanted = sectioned_ != nullptr;
    task->parts->arePlacesWanted = placed_ != nullptr;
    task->parts->columns = grid_ != nullptr ? task->parts->columns : 0;
    task->spec = document_.order;
    task->source = records_.source();
    task->key = document_.source.key;
    task->edits = document_.edits;
    task->editedBefore = records_.edited();
    task->before = records_.order();
    for (const Placement& placement : run_->placements()) {
        const Slot slot = run_->arrangement().slotAt(placement.position);
        if (placement.showing && slot.role == Role::Record) {
            task->shown.push_back(slot.place + leaf().first);
        }
    }
    if (const std::int64_t position = run_->hold().position; position >= 0 && run_->offset() > Length{}) {
        const std::int64_t place = run_->arrangement().slotAt(position).place;
        task->held = place < 0 ? -1 : place + leaf().first;
    }
    task->forced = forced;
    task->arrangement = arrangementToMake();
    task->ends = ends();
    for (int kind = 0; kind < Arrangement::kKinds; ++kind) {
        task->estimates[static_cast<std::size_t>(kind)] =
            std::max(run_->arrangement().estimateOf(kind), Length{});
    }
    task->cross = run_->cross();
    task->window = run_->window();
    task->isArranged = !leaf().isOne();
    task->known =
        run_->arrangement().followsWindow() || placed_ != nullptr || grid_ != nullptr ? nullptr : known_;
    task->kept = ordersKept_;
    task->far = far_;
    return task;
}

void LiveCollection::startOrder(std::optional<ChangeWay> forced) {
    if (!canOrder()) {
        return;
    }
    landing_.reset();
    areEditsDue_ = false;
    forced_ = forced;
    orderEdits_ = 0;
    far_ = std::make_shared<OrderFar>();
    far_->records = records().size();
    far_->isSorted = document_.order.isSorted();
    auto task = orderTask(forced);
    estimates_.cancel(); // they would be of places that are about to go; what is known of records is kept
    if (estimates_.how() == Estimating::AtOnce) {
        SlicesInTurn slices;
        takeLanding(makeLanding(*task, slices, {}));
        return;
    }
    ordering_.start(
        [task](const std::stop_token& stop, const Job::Post&) {
            WorkerSlices slices;
            return std::make_shared<Result<OrderLanding>>(makeLanding(*task, slices, stop));
        },
        [this](const std::shared_ptr<Result<OrderLanding>>& made) { takeLanding(std::move(*made)); });
    Q_EMIT orderChanged();
}

void LiveCollection::takeLanding(Result<OrderLanding> made) {
    if (!made) {
        estimateAll();
        Q_EMIT orderFailed(made.error());
    } else if (orderEdits_ > 0) { // records or the window are others meanwhile, which it does not know of
        startOrder(forced_);
    } else {
        landing_ = std::make_unique<OrderLanding>(std::move(*made));
        Q_EMIT frameWanted();
    }
    Q_EMIT orderChanged();
}

void LiveCollection::compareOrders() {
    if (ordersEver_ == 0 || isOrdering()) {
        return;
    }
    const auto task = orderTask(std::nullopt);
    compared_ = std::make_shared<std::atomic<double>>(0);
    comparing_.start(
        [task, before = orderBefore_, compared = compared_](const std::stop_token& stop, const Job::Post&) {
            OrderTask again = *task;
            again.parts = std::make_shared<EstimateTask>(*task->parts);
            again.before = before;
            again.shown.clear(); // places of now
            again.held = -1;
            again.kept = std::make_shared<OrdersKept>();
            again.far = std::make_shared<OrderFar>();
            WorkerSlices slices;
            return costsOf(std::move(again), slices, stop,
                           [&compared = *compared](double share) { compared = share; });
        },
        [this](Result<OrderCosts> costs) {
            if (costs) {
                costs_ = *costs;
            }
            Q_EMIT orderChanged();
        });
    Q_EMIT orderChanged();
}

double LiveCollection::orderDone() const {
    return far_->share();
}

void LiveCollection::stopComparing() {
    if (isComparing()) {
        comparing_.cancel();
        Q_EMIT orderChanged();
    }
}

/// What the document wants is what there is.
bool LiveCollection::isInForce() const {
    return !isOrderStale_ && document_.order.isSameOrder(told_.spec) &&
           areSame(document_.edits, edited() != nullptr ? edited()->edits : RecordEdits());
}

/// The order on its way is not wanted any more: all stays as it is.
void LiveCollection::stayInOrder() {
    ordering_.cancel();
    disposeElsewhere(std::move(landing_));
    areEditsDue_ = false;
    estimateAll(); // which was cancelled for it
    Q_EMIT orderChanged();
}

/// Edits are in force from now on; nothing where the designs go on with them, else they must be put anew.
bool LiveCollection::takeEdited(const OrderLanding& landing) {
    if (landing.edited == records_.edited()) {
        return true;
    }
    for (const std::int64_t record : landing.otherNow) {
        known_->forget(record);
    }
    const auto had = records_.shared();
    records_.setEdited(landing.edited);
    return haveSameTypes(*had, records());
}

/// Where a field's values are of another type now: patterns read fields by handle and type.
void LiveCollection::putDesignsAgain() {
    if (Outcome put = putDesigns(records()); !put) {
        Q_EMIT orderFailed(put.error()); // cannot be: whoever put the edits in force saw to it
    }
}

/// Its view, if it has one, is filled again.
void LiveCollection::refill(std::int64_t record) {
    if (const std::int64_t place = records_.order().placeOf(record); place >= 0) {
        applyEdit({PlaceEdit::Kind::Refill, place, 1});
    }
}

/// Of what shows, those records are filled again.
void LiveCollection::markOthers(const std::vector<std::int64_t>& records) {
    if (records.empty()) {
        return;
    }
    for (const ViewId id : run_->recycler().alive()) {
        const Slot slot = run_->arrangement().slotAt(run_->recycler().view(id).position);
        if (slot.role == Role::Record && std::ranges::binary_search(records, records_.recordAt(slot.place))) {
            run_->recordChanged(slot.place);
        }
    }
}

/// Some records say something else; all stand where they stood.
void LiveCollection::landValues(const OrderLanding& landing) {
    isOrderStale_ = false;
    records_.order() = landing.before;
    if (!takeEdited(landing)) {
        putDesignsAgain();
    }
    std::ranges::for_each(landing.otherNow, [this](std::int64_t record) { refill(record); });
    run_->animate(MotionKind::Extent);
    disposeElsewhere(std::move(landing_));
    areSectionsTold_ = areSectionsTold_ && headings_; // how many headings there are, a worker counts
    estimateAll();
    Q_EMIT orderChanged();
}

void LiveCollection::animate(const OrderChange& change) {
    if (change.came() > 0) {
        run_->animate(MotionKind::Insert);
    }
    if (change.went() > 0) {
        run_->animate(MotionKind::Remove);
    }
    if (change.moved() > 0) {
        run_->animate(MotionKind::Move);
    }
}

void LiveCollection::setAnimation(const AnimationSpec& animation) {
    document_.animation = animation;
    run_->setAnimation(animation);
}

/// One arrangement takes the place of the other. Nothing here looks at all records.
void LiveCollection::land() {
    const std::int64_t start = watch_.nowNs();
    OrderLanding& landing = *landing_;
    if (!landing.change) {
        return landValues(landing);
    }
    const OrderChange& change = *landing.change;
    const bool isKept = !document_.order.goesToStartAfter(told_.spec);
    estimates_.cancel();
    bool doDesignsFit = true;
    const auto exchange = [&] {
        doDesignsFit = takeEdited(landing);
        // An order that is as given needs no list of it.
        records_.order() = !document_.order.isAsGiven() ? RecordOrder(change.after())
                           : landing.edited             ? landing.edited->given
                                                        : RecordOrder(records().size());
    };
    if (leaf().isOne()) {
        exchange();
        turnTo(isKept ? leaf().number() : 0);
    } else {
        auto arrangement = std::move(landing.arrangement);
        auto* const over = dynamic_cast<SectionedArrangement*>(arrangement.get());
        Arrangement& below = over != nullptr ? over->below() : *arrangement;
        if (auto* table = dynamic_cast<TableArrangement*>(&below); table != nullptr && table_ != nullptr) {
            table->setColumns(table_->columns()); // they may have been widened meanwhile
        }
        auto was =
            run_->adopt(std::move(arrangement),
                        {.placeNow = [&](std::int64_t place) { return change.placeNow(place); },
                         .nearest = [&](std::int64_t place) { return change.nearestBefore(place); },
                         .isKept = isKept,
                         .placeBefore = [&change](std::int64_t place) { return change.placeBefore(place); }},
                        [&] {
                            exchange();
                            sectioned_ = over;
                            table_ = dynamic_cast<TableArrangement*>(&below);
                            grid_ = spans_.areAny() ? dynamic_cast<GridArrangement*>(&below) : nullptr;
                            placed_ = dynamic_cast<PlacedArrangement*>(&below);
                        });
        disposeElsewhere(std::move(was));
        markOthers(landing.otherNow);
        animate(change);
    }
    if (!doDesignsFit) {
        putDesignsAgain();
    }
    if (landing.sections) {
        areSectionsTold_ = true;
        headings_ = landing.sections->headings;
        jumpNamesFor_ = -1;
        Q_EMIT sectionsChanged();
    }
    if (landing.places) {
        designs_.places()->goOnWith(*landing.places->reader);
        arePlacesTold_ = true;
        Q_EMIT placesChanged();
    }
    isOrderStale_ = false;
    told_ = {document_.order,
             change.choice(),
             change.countBefore(),
             change.countAfter(),
             change.came(),
             change.went(),
             change.stayed(),
             change.moved(),
             std::move(landing.threads),
             landing.rankMs,
             landing.compareMs,
             landing.arrangeMs,
             0,
             run_->trace().framesEver() + 1};
    const auto together = change.together().value_or(OrderChange::Together{});
    Q_EMIT recordsCame(together.place, together.count);
    ++ordersEver_;
    comparing_.cancel();
    costs_.reset();
    disposeElsewhere(std::exchange(orderBefore_, landing.before));
    landed_ = std::move(landing_); // until the frame has asked where all came from
    estimateAll();
    told_.landMs = static_cast<double>(watch_.nowNs() - start) / 1e6;
    Q_EMIT orderChanged();
}

} // namespace scorrere::render
