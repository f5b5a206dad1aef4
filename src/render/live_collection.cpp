// SPDX-License-Identifier: Apache-2.0
#include "render/live_collection.h"

#include "engine/design/estimate.h"
#include "engine/record/record_builder.h"
#include "render/live_estimates.h"

#include <QLocale>
#include <algorithm>
#include <chrono>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr std::int64_t kStagedPlaceholders = 30;
constexpr std::int64_t kTextBudget = std::int64_t{24} << 20;

std::int64_t presentMs() {
    return std::chrono::duration_cast<std::chrono::milliseconds>(
               std::chrono::system_clock::now().time_since_epoch())
        .count();
}

} // namespace

std::int64_t SteadyWatch::nowNs() {
    return std::chrono::duration_cast<std::chrono::nanoseconds>(
               std::chrono::steady_clock::now().time_since_epoch())
        .count();
}

Result<std::unique_ptr<LiveCollection>> LiveCollection::create(const CollectionDocument& document,
                                                               std::shared_ptr<const RecordTable> records,
                                                               std::shared_ptr<const PictureSource> pictures,
                                                               Estimating estimating,
                                                               std::unique_ptr<PagedRecords> paged) {
    auto compiled = compileDesigns(document, *records, paged != nullptr);
    if (!compiled) {
        return std::move(compiled.error());
    }
    return std::unique_ptr<LiveCollection>(
        new LiveCollection(document, std::move(records), std::move(pictures), std::move(compiled->designs),
                           std::move(compiled->kinds), estimating, std::move(paged), std::nullopt));
}

Outcome LiveCollection::check(const CollectionDocument& document, const RecordTable& records) {
    auto compiled = compileDesigns(document, records, document.source.isPaged());
    return compiled ? done() : Outcome(std::move(compiled.error()));
}

LiveCollection::LiveCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                               std::shared_ptr<const PictureSource> pictures, std::vector<ItemDesign> designs,
                               KindChooser kinds, Estimating estimating, std::unique_ptr<PagedRecords> paged,
                               std::optional<TailState> staged)
    : document_(document), records_(std::move(records)), order_(paged ? 0 : records_->size()),
      kinds_(std::move(kinds)), nowMs_(parseTime(document.now).value_or(presentMs())), texts_(kTextBudget),
      paged_(std::move(paged)), staged_(staged), tail_(staged.value_or(TailState::FirstLoad)),
      textScale_(document.window.textScale), estimating_(estimating) {
    for (ItemDesign& design : designs) {
        designs_.push_back(std::make_unique<Design>(Design{std::move(design), {}}));
    }
    makeFonts();
    pictures_ = std::make_unique<PictureCache>(std::move(pictures), document.pictureBudgetMiB << 20);
    connect(pictures_.get(), &PictureCache::arrived, this, &LiveCollection::frameWanted);
    connect(pictures_.get(), &PictureCache::sized, this, &LiveCollection::takeShape);
    RunSettings settings;
    settings.viewLead = document.viewLead;
    ListSpec list = document.list;
    list.footer = list.footer || hasTail();
    std::int64_t places = paged_ ? paged_->pager().strip().places() : order_.size();
    if (staged_ && (*staged_ == TailState::FirstLoad || *staged_ == TailState::Empty ||
                    *staged_ == TailState::FirstFailed)) {
        order_ = RecordOrder();
        places = *staged_ == TailState::FirstLoad ? kStagedPlaceholders : 0;
    }
    run_ =
        std::make_unique<Run>(static_cast<RunHost&>(*this), watch_, list, places, firstEstimates(), settings);
    if (hasTail()) {
        takeTail();
    }
    if (paged_) {
        (void)paged_->takeEdits(); // the places are as they are
        estimateAll();
        run_->setPullable(document.paging.byPull);
        wake_.setSingleShot(true);
        connect(&wake_, &QTimer::timeout, this, &LiveCollection::frameWanted);
        connect(paged_.get(), &PagedRecords::wanted, this, &LiveCollection::frameWanted);
        connect(paged_.get(), &PagedRecords::liveStateChanged, this, &LiveCollection::pagesChanged);
    }
}

LiveCollection::~LiveCollection() {
    job_.cancel();
    disposeElsewhere(std::move(run_));
    disposeElsewhere(std::move(records_));
}

void LiveCollection::makeFonts() {
    texts_.clear();
    for (const auto& design : designs_) {
        design->fonts = FontSet(design->design, textScale_);
    }
}

FillContext LiveCollection::context(std::int64_t record) const {
    return {*records_, record, &document_.parameters, nowMs_, nullptr, -1, 0};
}

bool LiveCollection::anyDesign(bool (ItemDesign::*asks)() const) const {
    return std::ranges::any_of(designs_, [asks](const auto& design) { return (design->design.*asks)(); });
}

void LiveCollection::setParameters(const Parameters& parameters) {
    document_.parameters = parameters;
    if (kinds_.readsParameters() || anyDesign(&ItemDesign::parametersMoveParts)) {
        disposeElsewhere(run_->contentChanged(firstEstimates()));
        estimateAll();
    } else if (anyDesign(&ItemDesign::readsParameters)) {
        for (const ViewId id : run_->recycler().live()) {
            const Slot slot = run_->list().slotAt(run_->recycler().view(id).position);
            ItemView& shown = *views_[static_cast<std::size_t>(id.index)];
            (void)shown.retone(contextOf(slot));
        }
    }
    Q_EMIT frameWanted();
}

/// A picture came whose shape decides an item's height: that item is measured again, and nothing on screen
/// moves but what it pushes.
void LiveCollection::takeShape(const QString& address) {
    const std::string wanted = address.toStdString();
    for (const ViewId id : run_->recycler().live()) {
        const Slot slot = run_->list().slotAt(run_->recycler().view(id).position);
        if (slot.role == Role::Record && views_[static_cast<std::size_t>(id.index)]->awaitsShapeOf(wanted)) {
            run_->recordChanged(slot.place);
        }
    }
    Q_EMIT frameWanted();
}

/// Before anything is known: an item of each kind with two lines for a text of any length.
std::array<Length, ListArrangement::kKinds> LiveCollection::firstEstimates() {
    std::array<Length, ListArrangement::kKinds> estimates{};
    for (std::size_t kind = 0; kind < estimates.size(); ++kind) {
        const Design& design = *designs_[kind];
        ItemContent content;
        std::vector<std::uint8_t> changed;
        (void)design.design.fill(context(-1), content, changed);
        content.values.assign(design.design.bindingCount(), std::string("Lorem ipsum"));
        content.present.assign(design.design.bindingCount(), 1);
        const std::vector<AdvanceTable> tables = [&] {
            std::vector<AdvanceTable> made(design.fonts.faces.size());
            for (std::size_t i = 0; i < made.size(); ++i) {
                made[i].lineHeight = Length::fromPx(design.fonts.faces[i].lineHeight);
            }
            return made;
        }();
        class TwoLines final : public TextMeasurer {
        public:
            TwoLines(const ItemDesign& of, const std::vector<AdvanceTable>& tables_)
                : design_(of), lines_(tables_) {}
            TextSize measure(int part, std::string_view, const TextStyle&, Length maxWidth,
                             int maxLines) override {
                const int style = design_.parts()[static_cast<std::size_t>(part)].style;
                return {maxWidth,
                        lines_[static_cast<std::size_t>(style)].lineHeight * (maxLines == 1 ? 1 : 2)};
            }

        private:
            const ItemDesign& design_;
            const std::vector<AdvanceTable>& lines_;
        } measurer(design.design, tables);
        std::vector<PartBox> boxes;
        estimates[kind] = ItemLayout(design.design, content, measurer, boxes).solve(Length::px(360));
    }
    return estimates;
}

void LiveCollection::setWindow(double width, double height) {
    const Length cross = Length::fromPx(width);
    const bool isLaidOutAnew = cross != run_->cross();
    disposeElsewhere(run_->resize(Length::fromPx(height), cross));
    if (isLaidOutAnew) {
        estimateAll();
    }
    Q_EMIT frameWanted();
}

void LiveCollection::setTextScale(double scale) {
    if (scale == textScale_) {
        return;
    }
    textScale_ = scale;
    makeFonts();
    disposeElsewhere(run_->contentChanged(firstEstimates()));
    estimateAll();
    Q_EMIT frameWanted();
}

void LiveCollection::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    order_.insert(place, firstRecord, count);
    run_->insertRecords(place, count);
    noteEdit({place, count});
    Q_EMIT frameWanted();
}

void LiveCollection::eraseRecords(std::int64_t place, std::int64_t count) {
    order_.erase(place, count);
    run_->eraseRecords(place, count);
    noteEdit({place, -count});
    Q_EMIT frameWanted();
}

void LiveCollection::noteEdit(const Edit& edit) {
    if (job_.isBusy() || !slices_.empty()) {
        edits_.push_back(edit);
    } else {
        edits_.clear(); // nobody's places are from before them
    }
}

Outcome LiveCollection::grow(std::shared_ptr<const RecordTable> records, bool last) {
    if (paged_) {
        return done(); // its records come by pages
    }
    const std::int64_t before = records_->size();
    const std::int64_t more = records->size() - before;
    const auto sameTypes = [&] {
        const auto& old = records_->fields();
        for (std::size_t i = 0; i < old.size(); ++i) {
            if (old[i].type != records->fields()[i].type) {
                return false;
            }
        }
        return true;
    };
    if (!sameTypes()) {
        if (Outcome put = putDesigns(*records); !put) {
            return put;
        }
    }
    records_.swap(records);
    disposeElsewhere(std::move(records));
    if (more > 0) {
        insertRecords(order_.size(), before, more);
    }
    if (last) {
        estimateAll();
    }
    Q_EMIT frameWanted();
    return done();
}

/// Patterns read fields by handle and type: they are made again, in place, for the views that hold them.
Outcome LiveCollection::putDesigns(const RecordTable& records) {
    auto compiled = compileDesigns(document_, records, hasTail());
    if (!compiled) {
        return std::move(compiled.error());
    }
    job_.cancel();
    slices_.clear();
    for (std::size_t i = 0; i < compiled->designs.size(); ++i) {
        designs_[i]->design = std::move(compiled->designs[i]);
    }
    kinds_ = std::move(compiled->kinds);
    makeFonts();
    // Views were built for what their designs were before; what they show is filled in the next frame.
    for (std::size_t i = 0; i < views_.size(); ++i) {
        views_[i]->build(
            designs_[static_cast<std::size_t>(run_->recycler().view({static_cast<int>(i)}).kind)]->design);
    }
    disposeElsewhere(run_->contentChanged(firstEstimates()));
    return done();
}

void LiveCollection::estimateAll() {
    slices_.clear();
    edits_.clear();
    job_.cancel();
    if (paged_) {
        toEstimate_.clear();
        for (const auto& [page, records] : paged_->pager().strip().loaded()) {
            toEstimate_.insert(page);
        }
        return;
    }
    if (estimating_ == Estimating::Never || order_.size() == 0) {
        return;
    }
    auto task = estimateTask();
    task->order = order_;
    const std::int64_t held = std::max<std::int64_t>(run_->hold().position, 0);
    task->from = std::clamp<std::int64_t>(run_->list().slotAt(held).place, 0, order_.size() - 1);
    if (estimating_ == Estimating::AtOnce) {
        estimateSlices(*task, {}, [this](std::int64_t place, std::vector<std::int32_t> extents) {
            run_->setEstimated(place, extents);
        });
        return;
    }
    startEstimating(std::move(task));
}

std::shared_ptr<EstimateTask> LiveCollection::estimateTask() const {
    return std::make_shared<EstimateTask>(EstimateTask{document_,
                                                       records_,
                                                       RecordOrder(),
                                                       {},
                                                       textScale_,
                                                       run_->list().crossExtent(run_->cross()),
                                                       nowMs_,
                                                       0});
}

/// What the worker finds out comes slice by slice, and is taken over in frames.
void LiveCollection::startEstimating(std::shared_ptr<const EstimateTask> task) {
    job_.start(
        [this, task = std::move(task)](std::stop_token stop, const Job::Post& post) {
            return estimateSlices(*task, stop, [&](std::int64_t place, std::vector<std::int32_t> extents) {
                post([this, slice = Slice{place, std::move(extents), 0}]() mutable {
                    slices_.push_back(std::move(slice));
                    Q_EMIT frameWanted();
                });
            });
        },
        [this](bool) { Q_EMIT frameWanted(); }); // more may wait to be estimated
}

/// Takes one estimated slice over. Slices speak of places as they were when estimating began.
void LiveCollection::takeSlice() {
    Slice slice = std::move(slices_.front());
    slices_.pop_front();
    applySlice(slice);
}

void LiveCollection::applySlice(const Slice& slice) {
    Slice rest = slice;
    while (rest.editsSeen < edits_.size()) {
        const Edit edit = edits_[rest.editsSeen++];
        const std::int64_t end = rest.place + static_cast<std::int64_t>(rest.extents.size());
        const auto part = [&rest](std::int64_t from, std::int64_t until, std::int64_t place) {
            return Slice{
                place,
                {rest.extents.begin() + (from - rest.place), rest.extents.begin() + (until - rest.place)},
                rest.editsSeen};
        };
        const std::int64_t gone = std::max<std::int64_t>(-edit.count, 0);
        if (edit.place > rest.place && edit.place < end) {
            applySlice(part(rest.place, edit.place, rest.place));
            rest = part(edit.place, end, edit.place);
        }
        if (rest.place < edit.place) {
            continue;
        }
        const std::int64_t lost = std::clamp<std::int64_t>(edit.place + gone - rest.place, 0,
                                                           static_cast<std::int64_t>(rest.extents.size()));
        rest = part(rest.place + lost, rest.place + static_cast<std::int64_t>(rest.extents.size()),
                    rest.place + lost);
        rest.place += edit.count;
    }
    if (!rest.extents.empty()) {
        run_->setEstimated(rest.place, rest.extents);
    }
}

QString LiveCollection::nameAt(std::int64_t position) const {
    const Slot slot = run_->list().slotAt(position);
    return slot.role == Role::Record   ? QLocale(QLocale::English).toString(slot.place + 1)
           : slot.role == Role::Header ? tr("header")
                                       : tr("footer");
}

const FrameRecord& LiveCollection::frame(std::int64_t timeUs) {
    if (!slices_.empty()) {
        takeSlice();
    }
    const std::int64_t start = watch_.nowNs();
    if (paged_) {
        tickPages(timeUs);
    }
    const std::int64_t ticked = watch_.nowNs();
    const FrameRecord& frame = run_->frame(timeUs);
    if (paged_) { // taking a page over is part of what the frame cost
        run_->trace().addCost(frame.number, Phase::Decide, ticked - start);
    }
    if (paged_ && run_->takePulled()) {
        refresh(timeUs);
    }
    return frame;
}

int LiveCollection::viewKind(const Slot& slot) {
    if (slot.role == Role::Footer && hasTail()) {
        return static_cast<int>(stateKind(tail_));
    }
    if (isPlaceholder(slot)) {
        return static_cast<int>(placeholderKind());
    }
    if (slot.role != Role::Record || kinds_.isEmpty()) {
        return ListArrangement::kindOf(slot.role);
    }
    const int own = kinds_.kindOf(contextOf(slot));
    return own < 0 ? ListArrangement::kRecordKind : kFirstOwnKind + own;
}

void LiveCollection::build(ViewId view, int kind) {
    if (views_.size() <= static_cast<std::size_t>(view.index)) {
        views_.resize(static_cast<std::size_t>(view.index) + 1);
    }
    auto& made = views_[static_cast<std::size_t>(view.index)];
    made = std::make_unique<ItemView>();
    made->build(designs_[static_cast<std::size_t>(kind)]->design);
    made->setSkeleton(hasTail() && static_cast<std::size_t>(kind) == placeholderKind());
}

Length LiveCollection::fill(ViewId view, const Slot& slot, Length crossExtent, CostMeter& meter) {
    const Design& design = *designs_[static_cast<std::size_t>(run_->recycler().view(view).kind)];
    ItemView& filled = *views_[static_cast<std::size_t>(view.index)];
    const Length extent =
        filled.fill(contextOf(slot), {design.fonts, texts_, pictures_.get()}, crossExtent, meter);
    if (density_ > 0 && !filled.isSkeleton()) {
        filled.wantPictures(*pictures_, density_);
    }
    return extent;
}

std::optional<LiveCollection::Tap> LiveCollection::tapAt(double x, double y) {
    for (const Placement& placement : run_->placements()) {
        const double top = (placement.start + run_->pull()).toPx();
        if (!placement.showing || y < top || y >= top + placement.extent.toPx()) {
            continue;
        }
        const ItemView& tapped = view(placement.view);
        if (tapped.isSkeleton()) {
            const bool failed = isFailedAt(run_->list().slotAt(placement.position).place);
            return failed ? std::optional(Tap{"retry", -1, -1, {}, true, {}}) : std::nullopt;
        }
        const int part = tapped.tapTarget(x - run_->list().crossStart().toPx(), y - top);
        if (part < 0) {
            return std::nullopt;
        }
        const PlanPart& plan = tapped.design().parts()[static_cast<std::size_t>(part)];
        const Slot slot = run_->list().slotAt(placement.position);
        Tap tap{plan.tap, -1, slot.place, {}, hasTail() && slot.role == Role::Footer, plan.pointer};
        if (paged_ && slot.role == Role::Record) {
            const PageRecord* record = paged_->pager().strip().recordAt(slot.place);
            tap.key = record == nullptr ? std::string() : record->key;
        } else if (slot.role == Role::Record) {
            tap.record = order_.at(slot.place);
        }
        return tap;
    }
    return std::nullopt;
}

void LiveCollection::paintView(QPainter& painter, ViewId id, const ItemColours& colours, double density) {
    view(id).paint(painter,
                   {.colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density});
}

/// A ring that closes as the pull nears the point where letting go refreshes.
void LiveCollection::paintPull(QPainter& painter, const ItemColours& colours, double width,
                               double pulled) const {
    const double share = std::min(1.0, pulled / Run::kPullThreshold.toPx());
    const bool refreshes = paged_ && paged_->pager().isRefreshing();
    const double size = 22;
    const QRectF ring((width - size) / 2, (pulled - size) / 2, size, size);
    QPen pen(share >= 1 ? colours.accent : colours.quiet, refreshes ? 3.5 : 2.5);
    pen.setCapStyle(Qt::RoundCap);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    painter.setOpacity(0.3 + 0.7 * share);
    painter.drawArc(ring, 90 * 16, -static_cast<int>(share * (refreshes ? 270 : 350) * 16));
    painter.setOpacity(1);
}

void LiveCollection::paintWindow(QPainter& painter, const ItemColours& colours, double density) {
    const std::int64_t start = watch_.nowNs();
    density_ = density;
    const QRectF window(0, 0, run_->cross().toPx(), run_->window().toPx());
    painter.save();
    painter.setClipRect(window, Qt::IntersectClip); // lets long texts leave out the lines that do not show
    painter.fillRect(window, colours.paper);
    const double pulled = run_->pull().toPx();
    if (pulled > 0) {
        paintPull(painter, colours, window.width(), pulled);
    }
    const double x = run_->list().crossStart().toPx();
    const double width = run_->list().crossExtent(run_->cross()).toPx();
    const QTransform world = painter.worldTransform();
    const double dpr = painter.device()->devicePixelRatioF();
    // From the last to the first: where rounding lets two pictures share a row of px, the upper one's divider
    // stays.
    const std::vector<Placement>& placements = run_->placements();
    for (std::size_t i = placements.size(); i-- > 0;) {
        const Placement& placement = placements[i];
        if (!placement.showing) {
            continue;
        }
        const QPointF at(x, placement.start.toPx() + pulled);
        const ItemView::PaintNeeds needs{colours, *pictures_, shapes_,
                                         density, -at.y(),    window.height() - at.y()};
        ItemView& view = *views_[static_cast<std::size_t>(placement.view.index)];
        if (view.isSkeleton()) { // what it is shaped like may be longer than the place it stands for
            painter.save();
            painter.setClipRect(QRectF(at, QSizeF(width, placement.extent.toPx())), Qt::IntersectClip);
            painter.translate(at);
            view.paint(painter, needs);
            if (isFailedAt(run_->list().slotAt(placement.position).place)) {
                QFont font(textFamily());
                font.setPixelSize(12);
                painter.setFont(font);
                painter.setPen(colours.bad);
                painter.drawText(QRectF(0, 4, width - 12, 18), Qt::AlignRight | Qt::AlignVCenter,
                                 tr("✕ did not come · tap to try again"));
            }
            painter.restore();
            continue;
        }
        const ItemView::PaintNeeds whole{
            .colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density};
        if (QImage const* kept = view.keptPicture(whole, width, placement.extent.toPx())) {
            // Copied to whole device px: as sharp as it was painted.
            const QPointF to = world.map(at) * dpr;
            painter.setWorldTransform(QTransform());
            painter.drawImage(
                QRectF(QPointF(std::round(to.x()), std::round(to.y())) / dpr, QSizeF(kept->size()) / dpr),
                *kept);
            painter.setWorldTransform(world);
        } else {
            painter.translate(at);
            view.paint(painter, needs);
            painter.translate(-at);
        }
    }
    painter.restore();
    run_->trace().addPaint(run_->trace().framesEver(), watch_.nowNs() - start);
}

} // namespace scorrere::render
