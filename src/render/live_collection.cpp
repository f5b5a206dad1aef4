// SPDX-License-Identifier: Apache-2.0
#include "render/live_collection.h"

#include "engine/design/estimate.h"

#include <QLocale>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <ranges>

namespace scorrere::render {

namespace {

constexpr std::int64_t kSlice = 4096;

struct EstimateTask {
    PartSpec design;
    std::string locale;
    std::shared_ptr<const RecordTable> records;
    RecordOrder order;
    double textScale = 1;
    Length width;
    std::int64_t from = 0; ///< the place where the window is
};

/// Estimates every record's extent, slice by slice, those nearest to the window first. Gives false when
/// stopped.
template <typename Deliver>
bool estimateSlices(const EstimateTask& task, const std::stop_token& stop, Deliver deliver) {
    auto design = ItemDesign::compile(task.design, *task.records, task.locale);
    if (!design) {
        return false; // cannot be: the same design compiled before
    }
    // Here, not where the task was made: looking advances up takes longer than a frame has.
    const FontSet fonts(*design, task.textScale); // fonts of this thread's own: copies share what is inside
    const std::vector<AdvanceTable> tables = fonts.advanceTables();
    ItemEstimator estimator(*design, tables);
    // What the tables do not cover is shaped for real, here: the same fonts and breaking as it will be
    // painted with.
    ItemView shaper;
    shaper.build(*design);
    SteadyWatch watch;
    CostMeter meter(watch);
    const std::int64_t slices = (task.order.size() + kSlice - 1) / kSlice;
    std::int64_t below = task.from / kSlice;
    std::int64_t above = below - 1;
    for (std::int64_t done = 0; done < slices; ++done) {
        const bool on = below < slices && (done % 2 == 0 || above < 0);
        const std::int64_t first = (on ? below++ : above--) * kSlice;
        std::vector<std::int32_t> extents;
        const std::int64_t end = std::min(first + kSlice, task.order.size());
        extents.reserve(static_cast<std::size_t>(end - first));
        for (std::int64_t place = first; place < end; ++place) {
            if ((place & 511) == 0 && stop.stop_requested()) {
                return false;
            }
            auto extent = estimator.estimate(*task.records, task.order.at(place), task.width);
            if (!extent) {
                if (stop.stop_requested()) {
                    return false;
                }
                extent = shaper.fill(*task.records, task.order.at(place), fonts, task.width, meter);
            }
            extents.push_back(
                static_cast<std::int32_t>(std::min(extent->raw(), ExtentIndex::kMaxExtent.raw())));
        }
        deliver(first, std::move(extents));
    }
    return true;
}

/// The designs by kind, compiled against the records' fields.
Result<std::vector<ItemDesign>> compileDesigns(const CollectionDocument& document,
                                               const RecordTable& records) {
    std::vector<ItemDesign> designs;
    const PartSpec none;
    for (const PartSpec* spec : {&document.item, document.header ? &*document.header : &none,
                                 document.footer ? &*document.footer : &none}) {
        auto compiled = ItemDesign::compile(*spec, records, document.locale);
        if (!compiled && records.fields().empty()) {
            // No record has come yet, so no field is known: what binds to fields shows nothing.
            compiled = ItemDesign::compile(none, records, document.locale);
        }
        if (!compiled) {
            return document.located(std::move(compiled.error()));
        }
        designs.push_back(std::move(*compiled));
    }
    return designs;
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
                                                               Estimating estimating) {
    auto designs = compileDesigns(document, *records);
    if (!designs) {
        return std::move(designs.error());
    }
    return std::unique_ptr<LiveCollection>(new LiveCollection(
        document, std::move(records), std::move(pictures), std::move(*designs), estimating));
}

LiveCollection::LiveCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                               std::shared_ptr<const PictureSource> pictures, std::vector<ItemDesign> designs,
                               Estimating estimating)
    : document_(document), records_(std::move(records)), order_(records_->size()),
      textScale_(document.window.textScale), estimating_(estimating) {
    for (ItemDesign& design : designs) {
        designs_.push_back({std::move(design), {}});
    }
    makeFonts();
    pictures_ = std::make_unique<PictureCache>(std::move(pictures), document.pictureBudgetMiB << 20);
    connect(pictures_.get(), &PictureCache::arrived, this, &LiveCollection::frameWanted);
    RunSettings settings;
    settings.viewLead = document.viewLead;
    run_ = std::make_unique<Run>(static_cast<RunHost&>(*this), watch_, document.list, records_->size(),
                                 firstEstimates(), settings);
}

LiveCollection::~LiveCollection() {
    job_.cancel();
    disposeElsewhere(std::move(run_));
    disposeElsewhere(std::move(records_));
}

void LiveCollection::makeFonts() {
    for (Design& design : designs_) {
        design.fonts = FontSet(design.design, textScale_);
    }
}

/// Before anything is known: an item of each kind with two lines for a text of any length.
std::array<Length, ListArrangement::kKinds> LiveCollection::firstEstimates() {
    std::array<Length, ListArrangement::kKinds> estimates{};
    for (std::size_t kind = 0; kind < estimates.size(); ++kind) {
        const Design& design = designs_[kind];
        ItemContent content;
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
    const bool wider = cross != run_->cross();
    disposeElsewhere(run_->resize(Length::fromPx(height), cross));
    if (wider) {
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
    disposeElsewhere(run_->contentChanged());
    estimateAll();
    Q_EMIT frameWanted();
}

void LiveCollection::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    order_.insert(place, firstRecord, count);
    run_->insertRecords(place, count);
    edits_.push_back({place, count});
    Q_EMIT frameWanted();
}

void LiveCollection::eraseRecords(std::int64_t place, std::int64_t count) {
    order_.erase(place, count);
    run_->eraseRecords(place, count);
    edits_.push_back({place, -count});
    Q_EMIT frameWanted();
}

Outcome LiveCollection::grow(std::shared_ptr<const RecordTable> records, bool last) {
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
        // Patterns read fields by handle and type: they are made again, in place, for the views that hold
        // them.
        auto designs = compileDesigns(document_, *records);
        if (!designs) {
            return std::move(designs.error());
        }
        job_.cancel();
        slices_.clear();
        for (std::size_t i = 0; i < designs->size(); ++i) {
            designs_[i].design = std::move((*designs)[i]);
        }
        records_.swap(records);
        disposeElsewhere(run_->contentChanged());
    } else {
        records_.swap(records);
    }
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

void LiveCollection::estimateAll() {
    slices_.clear();
    edits_.clear();
    job_.cancel();
    if (estimating_ == Estimating::Never || order_.size() == 0) {
        return;
    }
    auto task =
        std::make_shared<EstimateTask>(EstimateTask{document_.item, document_.locale, records_, order_,
                                                    textScale_, run_->list().crossExtent(run_->cross()), 0});
    const std::int64_t held = std::max<std::int64_t>(run_->hold().position, 0);
    task->from = std::clamp<std::int64_t>(run_->list().slotAt(held).place, 0, order_.size() - 1);
    if (estimating_ == Estimating::AtOnce) {
        estimateSlices(*task, {}, [this](std::int64_t place, std::vector<std::int32_t> extents) {
            run_->setEstimated(place, extents);
        });
        return;
    }
    job_.start(
        [this, task](std::stop_token stop, const Job::Post& post) {
            return estimateSlices(*task, stop, [&](std::int64_t place, std::vector<std::int32_t> extents) {
                post([this, slice = Slice{place, std::move(extents), 0}]() mutable {
                    slices_.push_back(std::move(slice));
                    Q_EMIT frameWanted();
                });
            });
        },
        [](bool) {});
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
    return run_->frame(timeUs);
}

void LiveCollection::build(ViewId view, int kind) {
    if (views_.size() <= static_cast<std::size_t>(view.index)) {
        views_.resize(static_cast<std::size_t>(view.index) + 1);
    }
    auto& made = views_[static_cast<std::size_t>(view.index)];
    made = std::make_unique<ItemView>();
    made->build(designs_[static_cast<std::size_t>(kind)].design);
}

Length LiveCollection::fill(ViewId view, const Slot& slot, Length crossExtent, CostMeter& meter) {
    const int kind = ListArrangement::kindOf(slot.role);
    const std::int64_t record = slot.role == Role::Record ? order_.at(slot.place) : -1;
    ItemView& filled = *views_[static_cast<std::size_t>(view.index)];
    const Length extent =
        filled.fill(*records_, record, designs_[static_cast<std::size_t>(kind)].fonts, crossExtent, meter);
    if (density_ > 0) {
        filled.wantPictures(*pictures_, density_);
    }
    return extent;
}

void LiveCollection::paintView(QPainter& painter, ViewId id, const ItemColours& colours, double density) {
    view(id).paint(painter,
                   {.colours = colours, .pictures = *pictures_, .shapes = shapes_, .density = density});
}

void LiveCollection::paintWindow(QPainter& painter, const ItemColours& colours, double density) {
    const std::int64_t start = watch_.nowNs();
    density_ = density;
    const QRectF window(0, 0, run_->cross().toPx(), run_->window().toPx());
    painter.save();
    painter.setClipRect(window, Qt::IntersectClip); // lets long texts leave out the lines that do not show
    painter.fillRect(window, colours.paper);
    const double x = run_->list().crossStart().toPx();
    const double width = run_->list().crossExtent(run_->cross()).toPx();
    const QTransform world = painter.worldTransform();
    const double dpr = painter.device()->devicePixelRatioF();
    // From the last to the first: where rounding lets two pictures share a row of px, the upper one's divider
    // stays.
    for (const Placement& placement : run_->placements() | std::views::reverse) {
        if (!placement.showing) {
            continue;
        }
        const QPointF at(x, placement.start.toPx());
        const ItemView::Easel easel{colours, *pictures_, shapes_, density, -at.y(), window.height() - at.y()};
        ItemView& view = *views_[static_cast<std::size_t>(placement.view.index)];
        const ItemView::Easel whole{
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
            view.paint(painter, easel);
            painter.translate(-at);
        }
    }
    painter.restore();
    run_->trace().addPaint(run_->trace().framesEver(), watch_.nowNs() - start);
}

} // namespace scorrere::render
