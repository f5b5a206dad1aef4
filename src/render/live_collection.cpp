// SPDX-License-Identifier: Apache-2.0
#include "render/live_collection.h"

#include "engine/record/record_json.h"
#include "render/job.h"
#include "render/window_painting.h"

#include <QLocale>
#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

constexpr std::int64_t kTextBudget = std::int64_t{24} << 20;

} // namespace

Result<std::unique_ptr<LiveCollection>>
LiveCollection::create(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                       std::shared_ptr<const PictureSource> pictures, Estimating estimating,
                       std::shared_ptr<PagedRecords> paged, std::optional<InForce> inForce) {
    const bool isEdited = inForce && inForce->edited != nullptr;
    auto compiled =
        compileDesigns(document, isEdited ? *inForce->edited->records : *records, paged != nullptr);
    if (!compiled) {
        return std::move(compiled.error());
    }
    return std::unique_ptr<LiveCollection>(
        new LiveCollection(document, std::move(records), std::move(pictures), std::move(*compiled),
                           estimating, std::move(paged), std::nullopt, std::move(inForce)));
}

Result<std::unique_ptr<LiveCollection>>
LiveCollection::createStaged(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                             std::shared_ptr<const PictureSource> pictures, TailState state) {
    auto compiled = compileDesigns(document, *records, true);
    if (!compiled) {
        return std::move(compiled.error());
    }
    return std::unique_ptr<LiveCollection>(new LiveCollection(document, std::move(records),
                                                              std::move(pictures), std::move(*compiled),
                                                              Estimating::Background, nullptr, state));
}

Outcome LiveCollection::check(const CollectionDocument& document, const RecordTable& records) {
    auto compiled = compileDesigns(document, records, document.source.isPaged());
    return compiled ? done() : Outcome(std::move(compiled.error()));
}

LiveCollection::LiveCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                               std::shared_ptr<const PictureSource> pictures, Compiled compiled,
                               Estimating estimating, std::shared_ptr<PagedRecords> paged,
                               std::optional<TailState> staged, std::optional<InForce> inForce, bool isBeside)
    : document_(document), records_(document_, std::move(records), std::move(paged), staged),
      designs_(std::move(compiled), records_.hasTail(), document.window.textScale), estimates_(estimating),
      texts_(kTextBudget),
      pictures_(std::make_unique<PictureCache>(std::move(pictures), document.pictureBudgetMiB << 20)),
      spans_(document_), isBeside_(isBeside), staged_(staged.has_value()) {
    connect(pictures_.get(), &PictureCache::arrived, this, &LiveCollection::frameWanted);
    connect(pictures_.get(), &PictureCache::sized, this, &LiveCollection::takeShape);
    connect(&estimates_, &LiveEstimates::came, this, &LiveCollection::frameWanted);
    RunSettings settings;
    settings.viewLead = document.viewLead;
    const Arrangement::Estimates first = firstEstimates();
    const bool isInOrder = inForce.has_value();
    beginInOrder(std::move(inForce));
    run_ = std::make_unique<Run>(static_cast<RunHost&>(*this), watch_,
                                 makeArrangement(arrangementToMake(), ends(), records_.places(), first),
                                 first, settings);
    run_->setAnimation(document.animation);
    hands_ = std::make_unique<LiveHands>(*this);
    hands_->setSpec(document.hands, document.actions);
    detail_ = std::make_unique<LiveDetail>(*this);
    sectioned_ = dynamic_cast<SectionedArrangement*>(&run_->arrangement());
    table_ = dynamic_cast<TableArrangement*>(sectioned_ ? &sectioned_->below() : &run_->arrangement());
    takeColumns();
    if (spans_.areAny()) {
        grid_ = dynamic_cast<GridArrangement*>(sectioned_ ? &sectioned_->below() : &run_->arrangement());
    }
    takeSectionsAnew();
    placed_ = dynamic_cast<PlacedArrangement*>(&run_->arrangement());
    takePlacesAnew();
    if (!isInOrder && !document_.order.isAsGiven() && estimating != Estimating::AtOnce) {
        startOrder(std::nullopt);
    }
    if (records_.hasTail()) {
        takeTail();
    }
    if (PagedRecords* pages = records_.paged(); pages != nullptr && isBeside_) {
        estimateAll();
    } else if (pages != nullptr) {
        (void)pages->takeEdits(); // the places are as they are
        estimateAll();
        run_->setPullable(document.paging.byPull);
        wake_.setSingleShot(true);
        connect(&wake_, &QTimer::timeout, this, &LiveCollection::frameWanted);
        connect(pages, &PagedRecords::wanted, this, &LiveCollection::frameWanted);
        connect(pages, &PagedRecords::streamStateChanged, this, &LiveCollection::frameWanted);
        pages->setEdits(document.edits);
    }
}

Result<std::unique_ptr<LiveCollection>>
LiveCollection::makeBeside(const CollectionDocument& document,
                           std::shared_ptr<const PictureSource> pictures) {
    auto inForce = inForceFor(*records_.source(), document);
    auto compiled =
        compileDesigns(document, inForce && inForce->edited ? *inForce->edited->records : *records_.source(),
                       paged() != nullptr);
    if (!compiled) {
        return std::move(compiled.error());
    }
    if (paged() != nullptr) {
        applyPageEdits(); // it begins with the places as they are
    }
    return std::unique_ptr<LiveCollection>(
        new LiveCollection(document, records_.source(), std::move(pictures), std::move(*compiled),
                           estimates_.how(), records_.sharedPages(), std::nullopt, std::move(inForce), true));
}

void LiveCollection::setBeside(std::vector<LiveCollection*> beside, bool areTogether) {
    beside_ = std::move(beside);
    leading_ = nullptr;
    areTogether_ = areTogether;
}

LiveCollection::~LiveCollection() {
    estimates_.cancel();
    disposeElsewhere(std::move(run_));
}

Arrangement::Estimates LiveCollection::firstEstimates() const {
    if (!isSideways()) {
        return designs_.firstEstimates(records_.context(-1), spans_.acrossKind());
    }
    const ItemRoom room = roomFor({});
    Arrangement::Estimates estimates{};
    estimates.fill(room.isMost ? room.width / 2 : room.width);
    return estimates;
}

ItemRoom LiveCollection::roomFor(const Given& given) const {
    return render::roomFor(document_.arrangement, given, run_ ? run_->window() : Length{});
}

/// The cells of a table's items are others.
void LiveCollection::takeColumns() {
    if (table_ != nullptr) {
        table_->setColumns(designs_.columns());
    }
}

AxisMap LiveCollection::axis() const {
    return {isSideways(), designs_.of(Arrangement::kRecordKind).design.isMirrored(), run_->window().toPx(),
            run_->cross().toPx()};
}

void LiveCollection::forgetKnown() {
    ++orderEdits_; // an order on its way is arranged by what is forgotten here
    disposeElsewhere(std::exchange(known_, std::make_shared<KnownExtents>()));
}

/// Every item's extent may differ now.
void LiveCollection::contentChanged() {
    forgetKnown();
    disposeElsewhere(run_->contentChanged(firstEstimates()));
    takeSpansAnew(false);
}

void LiveCollection::setParameters(const Parameters& parameters) {
    document_.parameters = parameters;
    if (!document_.order.where.empty()) {
        isOrderStale_ = true;
        startOrder(std::nullopt);
    }
    if (designs_.sections() != nullptr && designs_.sections()->readsParameters()) {
        takeSectionsAnew();
    }
    if (designs_.parametersMoveParts()) {
        contentChanged();
        estimateAll();
    } else if (designs_.readParameters()) {
        for (const ViewId id : run_->recycler().alive()) {
            const Slot slot = run_->arrangement().slotAt(run_->recycler().view(id).position);
            (void)viewAt(id).retone(contextOf(slot));
            strips_.touch(id);
        }
        strips_.refill();
    }
    Q_EMIT frameWanted();
}

/// A picture came whose shape decides an item's height: that item is measured again, and nothing on screen
/// moves but what it pushes.
void LiveCollection::takeShape(const QString& address) {
    const std::string wanted = address.toStdString();
    for (const ViewId id : run_->recycler().alive()) {
        const Slot slot = run_->arrangement().slotAt(run_->recycler().view(id).position);
        if (slot.role == Role::Record && viewAt(id).awaitsShapeOf(wanted)) {
            run_->recordChanged(slot.place);
        }
    }
    Q_EMIT frameWanted();
}

void LiveCollection::setWindow(double width, double height) {
    whole_ = QSizeF(width, height);
    applyWindow();
}

/// Where a record at length stands beside it the strip has less room.
void LiveCollection::applyWindow() {
    const double width =
        isSideways() ? whole_.width() : std::round(whole_.width() * detail_->shareLeft(whole_.width()));
    const double height = whole_.height();
    const Length along = Length::fromPx(isSideways() ? width : height);
    const Length cross = Length::fromPx(isSideways() ? height : width);
    const bool isOtherCross = cross != run_->cross();
    const bool isOtherShare = isSideways() && along != run_->window() &&
                              std::holds_alternative<Sideways::Share>(document_.arrangement.sideways->width);
    orderEdits_ += along != run_->window() || isOtherCross ? 1 : 0;
    disposeElsewhere(run_->resize(along, cross));
    takeSpansAnew(true);
    if (isOtherShare) {
        contentChanged();
    }
    if (isOtherCross || isOtherShare) {
        forgetKnown();
        estimateAll();
    }
    Q_EMIT frameWanted();
}

void LiveCollection::setHands(const HandsSpec& hands, const Actions& actions) {
    document_.hands = hands;
    document_.actions = actions;
    hands_->setSpec(hands, actions);
    Q_EMIT frameWanted();
}

std::string LiveCollection::actionAt(QPointF at) {
    const auto tap = tapAt(at.x(), at.y());
    return tap ? tap->action : std::string();
}

/// A record goes to another place by hand, before anybody says that it is to be there.
void LiveCollection::carry(std::int64_t from, std::int64_t to, bool isSeenMoving) {
    ++orderEdits_;
    const auto folds = foldsBeside(from, to);
    const std::int64_t record = records_.order().at(from);
    records_.order().erase(from, 1);
    records_.order().insert(to, record, 1);
    run_->carryRecord(from, to);
    if (isSeenMoving) {
        run_->animate(MotionKind::Move);
    }
    estimates_.noteEdit(from, -1);
    estimates_.noteEdit(to, 1);
    takeStarts(from, 1);
    takeStarts(to, 1);
    keepFolds(folds, from, to);
    Q_EMIT frameWanted();
}

/// Of views whose items are otherwise now, those that say so are filled again, or only toned.
void LiveCollection::takeStates() {
    viewStates_.resize(std::max(viewStates_.size(), views_.size()));
    for (const ViewId id : run_->recycler().alive()) {
        const Slot slot = run_->arrangement().slotAt(run_->recycler().view(id).position);
        const ItemState now = hands_->stateOf(slot);
        ItemState& before = viewStates_[static_cast<std::size_t>(id.index)];
        const ItemState other = before ^ now;
        if (!other.any()) {
            continue;
        }
        before = now;
        const ItemDesign& design = viewAt(id).design();
        if ((design.stateMovesParts() & other).any() && slot.role == Role::Record) {
            run_->recordChanged(slot.place);
        } else if ((design.readsState() & other).any()) {
            (void)viewAt(id).retone(contextOf(slot));
            strips_.touch(id);
        }
    }
    Q_EMIT frameWanted();
}

void LiveCollection::setTextScale(double scale) {
    if (scale == designs_.textScale()) {
        return;
    }
    strips_.clear();
    texts_.clear();
    designs_.setTextScale(scale);
    contentChanged();
    estimateAll();
    Q_EMIT frameWanted();
}

void LiveCollection::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    putRecords(place, firstRecord, count);
    run_->animate(MotionKind::Insert);
    if (areSectionsUntold() || arePlacesUntold()) {
        estimateAll();
    }
}

void LiveCollection::putRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    ++orderEdits_;
    records_.order().insert(place, firstRecord, count);
    applyEdit({PlaceEdit::Kind::Insert, place, count});
    fillLeaf();
    Q_EMIT frameWanted();
}

void LiveCollection::eraseRecords(std::int64_t place, std::int64_t count) {
    ++orderEdits_;
    records_.order().erase(place, count);
    applyEdit({PlaceEdit::Kind::Erase, place, count});
    run_->animate(MotionKind::Remove);
    fillLeaf();
    if (arePlacesUntold()) {
        estimateAll();
    }
    Q_EMIT frameWanted();
}

Outcome LiveCollection::grow(std::shared_ptr<const RecordTable> records, bool last) {
    if (paged() != nullptr) {
        return done(); // its records come by pages
    }
    assert(!edited()); // those are put in force when all are read
    const std::int64_t before = this->records().size();
    const std::int64_t more = records->size() - before;
    const bool areOther = !haveSameTypes(this->records(), *records);
    if (Outcome fits = areOther ? check(document_, *records) : done(); !fits) {
        return fits;
    }
    records_.setTable(std::move(records));
    if (Outcome put = areOther ? putDesigns(this->records()) : done(); !put) {
        return put;
    }
    if (more > 0 && !document_.order.isAsGiven()) { // they are put in place by a worker
        isOrderStale_ = true;
        if (last || !isOrdering()) {
            startOrder(std::nullopt);
        }
    } else if (more > 0) {
        putRecords(records_.order().size(), before, more);
    } else if (last && !document_.order.isAsGiven()) {
        startOrder(std::nullopt); // some may have come while it was busy
    }
    if (last) {
        estimateAll();
    }
    Q_EMIT frameWanted();
    return done();
}

/// Patterns read fields by handle and type: they are made again, in place, for the views that hold them.
Outcome LiveCollection::putDesigns(const RecordTable& records) {
    auto compiled = compileDesigns(document_, records, designs_.hasStates());
    if (!compiled) {
        return std::move(compiled.error());
    }
    estimates_.cancel();
    ordersKept_ = std::make_shared<OrdersKept>(); // fields have other types
    strips_.clear();
    texts_.clear();
    designs_.put(std::move(*compiled));
    // Views were built for what their designs were before; what they show is filled in the next frame.
    for (std::size_t i = 0; i < views_.size(); ++i) {
        views_[i]->build(designs_.of(run_->recycler().view({static_cast<int>(i)}).kind).design);
    }
    detail_->put();
    takeSectionsAnew();
    takePlacesAnew();
    takeColumns();
    contentChanged();
    return done();
}

void LiveCollection::turnTo(std::int64_t number) {
    const Leaf& leaf = records_.leaf();
    const std::int64_t all = records_.allPlaces();
    // Where the end is not known, the leaf behind the last may be asked for.
    const std::int64_t last =
        mayTurnOn() ? std::max(leaf.leavesOf(all) - 1, leaf.number() + 1) : leaf.leavesOf(all) - 1;
    estimates_.cancel();
    run_->eraseRecords(0, run_->arrangement().recordCount());
    records_.turnTo(std::clamp<std::int64_t>(number, 0, last) * leaf.size);
    run_->insertRecords(0, records_.places());
    takeSectionsAnew();
    takePlacesAnew();
    takeSpans(0, records_.places());
    run_->travelTo(Length{});
    estimateAll();
    Q_EMIT frameWanted();
}

bool LiveCollection::mayTurnOn() const {
    const Leaf& leaf = records_.leaf();
    return leaf.first + leaf.size < records_.allPlaces() ||
           (paged() != nullptr && !paged()->pager().endKnown() && records_.places() == leaf.size);
}

void LiveCollection::showRecord(std::int64_t place) {
    if (const Leaf& leaf = records_.leaf(); leaf.isOne()) {
        if (place < leaf.first || place >= leaf.first + leaf.size) {
            turnTo(place / leaf.size);
        }
        place -= records_.leaf().first;
    }
    run_->jumpTo(run_->arrangement().positionOf(place));
    Q_EMIT frameWanted();
}

/// Records came, went or moved, by places among all.
void LiveCollection::applyEdit(const PlaceEdit& edit) {
    if (records_.leaf().isOne()) {
        return applyToLeaf(edit);
    }
    switch (edit.kind) {
    case PlaceEdit::Kind::Insert:
        run_->insertRecords(edit.place, edit.count);
        estimates_.noteEdit(edit.place, edit.count);
        takeStarts(edit.place, edit.count);
        takePlaces(edit.place, edit.count);
        takeSpans(edit.place, edit.count);
        break;
    case PlaceEdit::Kind::Erase:
        run_->eraseRecords(edit.place, edit.count);
        estimates_.noteEdit(edit.place, -edit.count);
        takeStarts(edit.place, 0);
        freePlaces();
        break;
    case PlaceEdit::Kind::Move:
        run_->moveRecord(edit.place, edit.count);
        estimates_.noteEdit(edit.place, -1);
        estimates_.noteEdit(edit.count, 1);
        takeStarts(edit.place, 1);
        takeStarts(edit.count, 1);
        break;
    case PlaceEdit::Kind::Refill:
        run_->recordsChanged(edit.place, edit.count);
        takeStarts(edit.place, edit.count);
        takePlaces(edit.place, edit.count);
        takeSpans(edit.place, edit.count);
        break;
    case PlaceEdit::Kind::Far:
        run_->evenOut(edit.place, edit.count);
        break;
    }
    if (edit.kind == PlaceEdit::Kind::Insert || edit.kind == PlaceEdit::Kind::Erase) {
        Q_EMIT recordsCame(edit.place, edit.kind == PlaceEdit::Kind::Insert ? edit.count : -edit.count);
    }
}

/// A leaf is short: what comes, goes or moves before its end makes it anew, with the same views.
void LiveCollection::applyToLeaf(const PlaceEdit& edit) {
    const Leaf& leaf = records_.leaf();
    if (edit.kind == PlaceEdit::Kind::Refill) {
        const std::int64_t from = std::max<std::int64_t>(edit.place - leaf.first, 0);
        const std::int64_t until =
            std::min(edit.place + edit.count - leaf.first, run_->arrangement().recordCount());
        if (from < until) {
            run_->recordsChanged(from, until - from);
            takeStarts(from, until - from);
            takePlaces(from, until - from);
            takeSpans(from, until - from);
        }
    } else if (edit.kind != PlaceEdit::Kind::Far) {
        const std::int64_t at =
            edit.kind == PlaceEdit::Kind::Move ? std::min(edit.place, edit.count) : edit.place;
        const std::int64_t from = std::max<std::int64_t>(at - leaf.first, 0);
        if (from < leaf.size) { // else it is on a later leaf
            leafStaleFrom_ = std::min(leafStaleFrom_.value_or(from), from);
        }
    }
}

void LiveCollection::fillLeaf() {
    if (!leafStaleFrom_) {
        return;
    }
    const std::int64_t from = *std::exchange(leafStaleFrom_, std::nullopt);
    const std::int64_t had = run_->arrangement().recordCount();
    const std::int64_t has = records_.places();
    if (has > had) {
        run_->insertRecords(had, has - had);
    } else if (has < had) {
        run_->eraseRecords(has, had - has);
    }
    if (from < has) {
        run_->recordsChanged(from, has - from);
        takeSectionsAnew();
        takePlaces(from, has - from);
        takeSpans(from, has - from);
    }
    estimates_.cancel();
    estimateAll();
}

QString LiveCollection::nameAt(std::int64_t position) const {
    const Slot slot = run_->arrangement().slotAt(position);
    return slot.role == Role::Record
               ? QLocale(QLocale::English).toString(records_.leaf().first + slot.place + 1)
           : slot.role == Role::SectionHeader ? tr("header of %1").arg(sectionName(slot.section))
           : slot.role == Role::SectionFooter ? tr("footer of %1").arg(sectionName(slot.section))
           : slot.role == Role::Header        ? tr("header")
           : slot.role == Role::Heading       ? tr("heading")
                                              : tr("footer");
}

const FrameRecord& LiveCollection::frame(std::int64_t timeUs) {
    if (estimates_.hasSlices()) {
        estimates_.takeSlice(takeEstimated());
    }
    hands_->beforeFrame(timeUs);
    const std::int64_t start = watch_.nowNs();
    if (landing_ != nullptr && orderEdits_ > 0) { // since it came
        startOrder(forced_);
    }
    if (areEditsDue_ && landing_ == nullptr &&
        !ordering_.isBusy()) { // all that came since the last were put in force
        startOrder(std::nullopt);
    }
    const bool lands = landing_ != nullptr;
    if (lands) {
        land();
    }
    const bool isPaged = paged() != nullptr;
    if (isPaged && isBeside_) {
        takeTail();
        estimatePages();
    } else if (isPaged) {
        tickPages(timeUs);
    }
    const std::int64_t ticked = watch_.nowNs();
    const FrameRecord& frame = run_->frame(timeUs);
    if (landed_ != nullptr) {
        disposeElsewhere(std::move(landed_));
    }
    if (designs_.haveStrips()) {
        const std::int64_t began = watch_.nowNs();
        strips_.frame(timeUs);
        run_->trace().addCost(frame.number, Phase::Fill, watch_.nowNs() - began);
    }
    if (isPaged || lands) { // taking a page or an order over is part of what the frame cost
        run_->trace().addCost(frame.number, Phase::Decide, ticked - start);
    }
    if (isPaged && !isBeside_ && run_->takePulled()) {
        refresh(timeUs);
    }
    hands_->afterFrame(timeUs);
    detail_->frame(timeUs);
    return frame;
}

int LiveCollection::viewKind(const Slot& slot) {
    if (slot.role == Role::Footer && records_.hasTail()) {
        return designs_.stateKind(records_.tail());
    }
    if (isPlaceholder(slot)) {
        return designs_.placeholderKind();
    }
    return slot.role == Role::Record ? designs_.kindOf(records_.contextOf(slot))
                                     : Arrangement::kindOf(slot.role);
}

void LiveCollection::build(ViewId view, int kind) {
    if (views_.size() <= static_cast<std::size_t>(view.index)) {
        views_.resize(static_cast<std::size_t>(view.index) + 1);
    }
    auto& made = views_[static_cast<std::size_t>(view.index)];
    made = std::make_unique<ItemView>();
    made->build(designs_.of(kind).design);
    made->setSkeleton(designs_.hasStates() && kind == designs_.placeholderKind());
}

Length LiveCollection::fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) {
    const LiveDesigns::Design& design = designs_.of(run_->recycler().view(view).kind);
    ItemView& filled = viewAt(view);
    ItemRoom room = roomFor(given);
    if (table_ != nullptr && given.columns != 0) {
        room.columns = &table_->columns();
        room.revision = given.columns;
    }
    const ItemSize size = filled.fill(contextOf(slot), {design.fonts, texts_, pictures_.get()}, room, meter);
    strips_.refilled(view);
    viewStates_.resize(std::max(viewStates_.size(), views_.size()));
    viewStates_[static_cast<std::size_t>(view.index)] = hands_->stateOf(slot);
    if (slot.role == Role::Record && !given.extent && table_ == nullptr && canOrder()) {
        const Length extent = isSideways() ? size.width : size.height;
        known_->set(records_.recordAt(slot.place), {std::min(extent, ExtentIndex::kMaxExtent), true});
    }
    if (density_ > 0 && !filled.isSkeleton()) {
        filled.wantPictures(*pictures_, density_);
    }
    return isSideways() ? size.width : size.height;
}

void LiveCollection::keyOf(const Slot& slot, std::string& out) const {
    out.clear();
    if (slot.role != Role::Record) {
        out += slot.role == Role::Header ? "header" : "footer";
    } else if (const std::int64_t record = records_.recordAt(slot.place); record >= 0) {
        fmt::format_to(std::back_inserter(out), "{}", record);
    } else {
        out += records_.keyAt(slot.place);
        if (out.empty()) { // nothing names it
            fmt::format_to(std::back_inserter(out), "at {}", slot.place);
        }
    }
}

std::optional<MarkRow> LiveCollection::marks() {
    const auto* pager = std::get_if<PagerSpec>(&document_.arrangement.form);
    return pager == nullptr || !pager->marks ? std::nullopt
                                             : std::optional(MarkRow(*pager->marks, *run_, axis()));
}

bool LiveCollection::tapMark(QPointF at, std::int64_t timeUs) {
    const auto row = marks();
    const auto item = row ? row->itemAt(at) : std::nullopt;
    if (item) {
        run_->goTo(*item, timeUs);
        Q_EMIT frameWanted();
    }
    return item.has_value();
}

void LiveCollection::paintReady(QPainter& painter, const Placement& placement, const ItemColours& colours,
                                double density) {
    ItemView& ready = viewAt(placement.view);
    const ItemView::PaintNeeds needs{
        .colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density};
    int atOnce = 1;
    const QImage* kept = ready.isSkeleton()
                             ? nullptr
                             : ready.keptPicture(needs, axis().onScreen(placement.box).size(), {}, atOnce);
    if (kept == nullptr) {
        return ready.paint(painter, needs);
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(QPointF(), QSizeF(kept->size()) / density), *kept);
}

void LiveCollection::paintEntry(QPainter& painter, const LiveStrips::Strip& strip, ViewId id,
                                const ItemColours& colours, double density) {
    strip.view(id).paint(painter,
                         {.colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density});
}

HandsScene LiveCollection::handsScene() const {
    HandsScene scene;
    scene.stateOf = [this](ViewId id) {
        const auto index = static_cast<std::size_t>(id.index);
        ItemState own = index < viewStates_.size() ? viewStates_[index] : ItemState();
        ItemState said = view(id).design().readsState(); // what the design says by itself
        said.set(ItemFlag::Focused, false);
        return own ^ (own & said);
    };
    if (const auto aside = hands_->aside()) {
        scene.aside = AsideScene{{}, aside->offset, aside->atStart, aside->isPulled, {}};
        for (const ViewId id : run_->recycler().alive()) {
            const std::int64_t position = run_->recycler().view(id).position;
            if (hands_->itemOf(position).key == aside->key) {
                scene.aside->view = id;
            }
        }
        for (const std::string& name : aside->actions) {
            scene.aside->actions.emplace_back(QString::fromStdString(titleOf(document_.actions, name)),
                                              actionNamed(document_.actions, name).tone);
        }
    }
    if (const auto& said = hands_->said()) {
        for (const ViewId id : run_->recycler().alive()) {
            if (hands_->itemOf(run_->recycler().view(id).position).key == said->key) {
                scene.said = std::pair(id, said->text);
            }
        }
    }
    if (const auto& carried = hands_->drawnOver()) {
        scene.carried = CarriedScene{carried->view, carried->box, hands_->lifted().has_value()};
    }
    return scene;
}

void LiveCollection::paintWindow(QPainter& painter, const ItemColours& colours, double density) {
    const std::int64_t start = watch_.nowNs();
    density_ = density;
    LiveStrips::Painter within(
        strips_, {.colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density});
    WindowScene scene{.run = *run_,
                      .axis = axis(),
                      .view = [this](ViewId id) -> ItemView& { return viewAt(id); },
                      .isFailedAt = [this](std::int64_t place) { return records_.isFailedAt(place); },
                      .colours = colours,
                      .pictures = *pictures_,
                      .shapes = shapes_,
                      .density = density,
                      .refreshes = paged() != nullptr && paged()->pager().isRefreshing(),
                      .within = designs_.haveStrips() ? &within : nullptr,
                      .hands = handsScene()};
    render::paintWindow(painter, scene);
    if (const auto row = marks()) {
        row->paint(painter, colours);
    }
    if (const auto jumps = jumpList()) {
        jumps->paint(painter, colours, sectionAtTop(), density, jumpPicture_);
    }
    detail_->paint(painter,
                   {.colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density},
                   axis().isMirrored);
    run_->trace().addPaint(run_->trace().framesEver(), watch_.nowNs() - start);
}

} // namespace scorrere::render

#include "moc_live_collection.cpp"
