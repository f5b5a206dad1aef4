// SPDX-License-Identifier: Apache-2.0
#include "render/live_strips.h"

#include "render/marks_painting.h"
#include "render/window_painting.h"

#include <algorithm>
#include <cassert>
#include <utility>

namespace scorrere::render {

namespace {

constexpr double kStripLead = 0.5; ///< windows of its own
constexpr std::size_t kFramesKept = 8;
constexpr int kSettling = 4; ///< frames more, at once

} // namespace

ItemRoom roomFor(const ArrangementSpec& spec, const Given& given, Length window) {
    if (!spec.sideways) {
        return {given.crossExtent, false, given.extent.value_or(Length{})};
    }
    if (given.extent) {
        return {*given.extent, false, given.crossExtent};
    }
    const Sideways::Width& width = spec.sideways->width;
    if (const auto* content = std::get_if<Sideways::Content>(&width)) {
        return {content->most, true, given.crossExtent};
    }
    if (const auto* share = std::get_if<Sideways::Share>(&width)) {
        return {Length::fromPx(window.toPx() * share->of), false, given.crossExtent};
    }
    return {std::get<Length>(width), false, given.crossExtent};
}

LiveStrips::Strip::Strip(LiveStrips& all, int kind) : all_(all), kind_(kind) {
    RunSettings settings;
    settings.viewLead = 0; // until it is moved: most never are
    settings.framesKept = kFramesKept;
    const ItemRoom room = roomFor(arrangement(), {}, {});
    Arrangement::Estimates estimates{};
    estimates.fill(!arrangement().sideways ? Length::px(48)
                   : room.isMost           ? room.width / 2
                                           : std::max(room.width, Length::px(1)));
    run_ = std::make_unique<Run>(static_cast<RunHost&>(*this), all_.watch_,
                                 makeArrangement(arrangement(), {}, 0, estimates), estimates, settings,
                                 all_.shared_);
}

const ArrangementSpec& LiveStrips::Strip::arrangement() const {
    return *all_.kinds_[static_cast<std::size_t>(kind_)].arrangement;
}

AxisMap LiveStrips::Strip::axis() const {
    return {arrangement().sideways.has_value(),
            all_.kinds_[static_cast<std::size_t>(kind_)].entry->isMirrored(), run_->window().toPx(),
            run_->cross().toPx()};
}

void LiveStrips::Strip::build(ViewId view, int kind) {
    auto& views = all_.views_;
    if (views.size() <= static_cast<std::size_t>(view.index)) {
        views.resize(static_cast<std::size_t>(view.index) + 1);
    }
    auto& made = views[static_cast<std::size_t>(view.index)];
    made = std::make_unique<ItemView>();
    made->build(*all_.kinds_[static_cast<std::size_t>(kind)].entry);
}

Length LiveStrips::Strip::fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) {
    ItemView& filled = *all_.views_[static_cast<std::size_t>(view.index)];
    FillContext context = *context_;
    context.entries = &entries_;
    context.entry = static_cast<int>(slot.place);
    const ItemSize size =
        filled.fill(context, all_.host_.shapingWith(*all_.kinds_[static_cast<std::size_t>(kind_)].fonts),
                    roomFor(arrangement(), given, run_->window()), meter);
    if (const double density = all_.host_.densityPainted(); density > 0) {
        filled.wantPictures(all_.host_.picturesOf(), density);
    }
    return arrangement().sideways ? size.width : size.height;
}

void LiveStrips::clear() {
    for (const auto& strip : strips_) {
        keep(*strip);
    }
    pressed_ = nullptr;
    showing_.clear();
    parked_.clear();
    strips_.clear();
    views_.clear();
    kinds_.clear();
    wholes_.clear();
    shared_ = std::make_shared<ItemViews>();
}

int LiveStrips::kindOf(const ItemDesign& design, const ItemDesign::Strip& strip) {
    const auto known = std::ranges::find(kinds_, strip.entry, &Kind::entry);
    if (known != kinds_.end()) {
        return static_cast<int>(known - kinds_.begin());
    }
    const std::string& pointer = design.parts()[static_cast<std::size_t>(strip.part)].pointer;
    const auto arrangement = document_.strips.find(pointer);
    assert(arrangement != document_.strips.end());
    kinds_.push_back({strip.entry, std::make_unique<FontSet>(*strip.entry, host_.textScaleOfStrips()),
                      &arrangement->second});
    return static_cast<int>(kinds_.size()) - 1;
}

/// Where it was read, if that is not its start.
void LiveStrips::keep(Strip& strip) {
    if (strip.outer_.index < 0 || strip.key_.empty() || strip.run_->hold().position < 0) {
        return;
    }
    const bool isAtStart = strip.run_->offset() == Length{};
    const auto found = kept_.find(strip.key_);
    if (isAtStart) {
        if (found != kept_.end()) {
            kept_.erase(found); // its place in the order goes when its turn comes
        }
        return;
    }
    if (found == kept_.end()) {
        keptOrder_.push_back(strip.key_);
    }
    kept_[strip.key_] = strip.run_->hold();
    while (keptOrder_.size() > kMostKept) {
        kept_.erase(keptOrder_.front());
        keptOrder_.pop_front();
    }
}

void LiveStrips::park(Strip& strip) {
    keep(strip);
    strip.run_->motion().stop();
    strip.run_->setViewLead(0);
    strip.run_->eraseRecords(0, strip.entries());
    strip.outer_ = {};
    strip.part_ = -1;
    strip.json_.clear();
    parked_.push_back(&strip);
}

LiveStrips::Strip* LiveStrips::bound(ViewId outer, int part) {
    const auto found = std::ranges::find_if(
        showing_, [&](const Strip* strip) { return strip->outer_ == outer && strip->part_ == part; });
    return found == showing_.end() ? nullptr : *found;
}

/// The strip of an item's part, with its entries as they are now.
LiveStrips::Strip& LiveStrips::bind(const Placement& placement, const ItemDesign::Strip& of) {
    const ItemView& view = host_.viewOf(placement.view);
    const Slot slot = host_.outerRun().arrangement().slotAt(placement.position);
    const FillContext context = host_.contextAtSlot(slot);
    host_.keyOf(slot, keyRead_);
    keyRead_ += view.design().parts()[static_cast<std::size_t>(of.part)].pointer;
    const bool isThere = context.record >= 0 && context.records.has(context.record, of.field);
    const std::string_view json = isThere ? context.records.text(context.record, of.field) : "[]";
    Strip* strip = bound(placement.view, of.part);
    const int kind = kindOf(view.design(), of);
    const bool isSame = strip != nullptr && strip->key_ == keyRead_ && strip->kind_ == kind;
    if (strip == nullptr) {
        const auto parked = std::ranges::find(parked_, kind, [](const Strip* one) { return one->kind_; });
        if (parked != parked_.end()) {
            strip = *parked;
            parked_.erase(parked);
        } else {
            strip = strips_.emplace_back(std::make_unique<Strip>(*this, kind)).get();
        }
        showing_.push_back(strip);
    }
    strip->slot_ = slot;
    strip->context_.emplace(context);
    if (isSame && strip->json_ == json && !strip->isStale_) {
        return *strip;
    }
    strip->isStale_ = false;
    Run& run = *strip->run_;
    if (!isSame) {
        keep(*strip);
        run.motion() = ScrollMotion(); // whoever held it has let go of this one
    }
    const std::int64_t had = strip->entries();
    strip->outer_ = placement.view;
    strip->part_ = of.part;
    strip->json_ = json;
    strip->entries_.read(strip->json_);
    const auto has = static_cast<std::int64_t>(strip->entries_.size());
    if (!isSame) { // another list: nothing of the one before is known of it
        run.eraseRecords(0, had);
        run.insertRecords(0, has);
        strip->key_ = keyRead_;
        const auto kept = kept_.find(strip->key_);
        if (kept != kept_.end() && kept->second.position < run.arrangement().size()) {
            run.standAt(kept->second);
        } else {
            run.travelTo({});
        }
    } else { // the same one says something else
        if (has > had) {
            run.insertRecords(had, has - had);
        } else if (has < had) {
            run.eraseRecords(has, had - has);
        }
        run.recordsChanged(0, std::min(had, has));
    }
    return *strip;
}

void LiveStrips::frame(std::int64_t timeUs) {
    const Run& outer = host_.outerRun();
    for (Strip* strip : showing_) {
        strip->isSeen_ = false;
    }
    for (const Placement& placement : outer.placements()) {
        const ItemView& view = host_.viewOf(placement.view);
        if ((!placement.showing && !placement.staysAt) || view.isSkeleton() ||
            view.design().strips().empty()) {
            continue;
        }
        for (const ItemDesign::Strip& of : view.design().strips()) {
            const PartBox& box = view.boxes()[static_cast<std::size_t>(of.part)];
            const bool isDown = !host_.isOuterSideways();
            const Length start = placement.shown().start + (isDown ? box.y : box.x);
            const Length extent = isDown ? box.height : box.width;
            if (!box.shown || start >= outer.window() || start + extent <= Length{}) {
                continue; // it is built only when it shows
            }
            Strip& strip = bind(placement, of);
            strip.isSeen_ = true;
            const bool isSideways = strip.arrangement().sideways.has_value();
            const Length along = isSideways ? box.width : box.height;
            const Length cross = isSideways ? box.height : box.width;
            if (strip.run_->window() != along || strip.run_->cross() != cross) {
                (void)strip.run_->resize(along, cross);
            }
        }
    }
    // Those that went first: what comes takes their views.
    std::erase_if(showing_, [this](Strip* strip) {
        if (!strip->isSeen_) {
            park(*strip);
        }
        return !strip->isSeen_;
    });
    for (Strip* strip : showing_) {
        if (strip->run_->motion().isMoving() && strip->run_->settings().viewLead == 0) {
            strip->run_->setViewLead(kStripLead);
        }
        const bool moves = strip->run_->motion().isMoving();
        if (std::exchange(strip->moved_, moves) ||
            !strip->run_->isIdle()) { // one more: may it rest where it was let go?
            touch(strip->outer_);
            (void)strip->run_->frame(timeUs);
        }
        for (int more = 0; more < kSettling && !moves && !strip->run_->isIdle(); ++more) {
            (void)strip->run_->frame(timeUs); // what only settles does so before it is painted
        }
    }
}

bool LiveStrips::isIdle() const {
    return std::ranges::all_of(showing_,
                               [](const Strip* strip) { return strip->run_->isIdle() && !strip->moved_; });
}

void LiveStrips::refill() {
    for (Strip* strip : showing_) {
        touch(strip->outer_);
        strip->run_->recordsChanged(0, strip->entries());
    }
}

void LiveStrips::refilled(ViewId outer) {
    touch(outer);
    for (Strip* strip : showing_) {
        strip->isStale_ = strip->isStale_ || strip->outer_ == outer;
    }
}

void LiveStrips::touch(ViewId outer) {
    if (static_cast<std::size_t>(outer.index) < wholes_.size()) {
        wholes_[static_cast<std::size_t>(outer.index)].state = Whole::State::Nothing;
    }
}

bool LiveStrips::isStill(ViewId outer) const {
    return std::ranges::all_of(
        showing_, [&](const Strip* strip) { return strip->outer_ != outer || strip->run_->isIdle(); });
}

/// Pictures of an item and of what shows in its strips that are on their way.
int LiveStrips::picturesAwaited(ViewId outer, PictureCache& pictures, double density) const {
    int awaited = host_.viewOf(outer).picturesAwaited(pictures, density);
    for (const Strip* strip : showing_) {
        for (const Placement& entry : strip->run_->placements()) {
            awaited += strip->outer_ == outer && entry.showing
                           ? strip->view(entry.view).picturesAwaited(pictures, density)
                           : 0;
        }
    }
    return awaited;
}

const QImage* LiveStrips::Painter::whole(const Placement& placement, const QSizeF& size, int& atOnce) {
    const auto index = static_cast<std::size_t>(placement.view.index);
    auto& all = strips_.wholes_;
    all.resize(std::max(all.size(), index + 1));
    Whole& whole = all[index];
    const QSize px(static_cast<int>(std::ceil(size.width() * needs_.density)),
                   static_cast<int>(std::ceil(size.height() * needs_.density)));
    const QRgb paper = needs_.colours.paper.rgb();
    const bool isOther = whole.density != needs_.density || whole.paper != paper;
    const auto awaitedNow = [&] {
        return strips_.picturesAwaited(placement.view, needs_.pictures, needs_.density);
    };
    const bool isIt = whole.state == Whole::State::Kept && !isOther && whole.image.size() == px;
    if (isIt && (whole.awaited == 0 || awaitedNow() == whole.awaited)) {
        return &whole.image;
    }
    const bool isSecond = isIt || (whole.state == Whole::State::AskedOnce && !isOther);
    const bool isFirst = whole.state == Whole::State::Nothing && atOnce > 0;
    whole.density = needs_.density;
    whole.paper = paper;
    if ((!isSecond && !isFirst) || !strips_.isStill(placement.view)) {
        whole.state = Whole::State::AskedOnce;
        return nullptr;
    }
    atOnce -= isFirst ? 1 : 0;
    if (whole.image.size() != px) {
        whole.image = QImage(px, QImage::Format_RGB32);
    }
    whole.awaited = awaitedNow();
    whole.image.fill(needs_.colours.paper);
    QPainter painter(&whole.image);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.scale(needs_.density, needs_.density);
    strips_.host_.viewOf(placement.view).paint(painter, needs_);
    strips_.paintAll(painter, placement, QPointF(), needs_, false);
    whole.state = Whole::State::Kept;
    return &whole.image;
}

void LiveStrips::Painter::paint(QPainter& painter, const Placement& placement, const QPointF& corner) {
    const bool isMoving = std::ranges::any_of(strips_.showing_, [&](const Strip* strip) {
        return strip->outer_ == placement.view && !strip->run_->isIdle();
    });
    strips_.paintAll(painter, placement, corner, needs_, isMoving);
}

/// `keepsPictures`: of entries, since they move.
void LiveStrips::paintAll(QPainter& painter, const Placement& placement, const QPointF& corner,
                          const ItemView::PaintNeeds& needs, bool keepsPictures) {
    for (Strip* strip : showing_) {
        if (strip->outer_ != placement.view) {
            continue;
        }
        const PartBox& box = host_.viewOf(placement.view).boxes()[static_cast<std::size_t>(strip->part_)];
        const QPointF at = corner + QPointF(box.x.toPx(), box.y.toPx());
        painter.translate(at);
        paintStripWithin(painter, *strip->run_, strip->axis(), views_, needs, keepsPictures);
        const auto* pager = std::get_if<PagerSpec>(&strip->arrangement().form);
        if (pager != nullptr && pager->marks) {
            MarkRow(*pager->marks, *strip->run_, strip->axis()).paint(painter, needs.colours);
        }
        painter.translate(-at);
    }
}

void LiveStrips::press(Strip* strip) {
    pressed_ = strip;
    pressedKey_ = strip != nullptr ? strip->key_ : std::string();
}

LiveStrips::Strip* LiveStrips::pressed() const {
    return pressed_ != nullptr && pressed_->outer_.index >= 0 && pressed_->key_ == pressedKey_ ? pressed_
                                                                                               : nullptr;
}

LiveStrips::Strip* LiveStrips::firstSideways() const {
    Strip* first = nullptr;
    for (Strip* strip : showing_) {
        const bool mayMove = strip->axis().isSideways && strip->run_->total() > strip->run_->window();
        const bool isBefore = first == nullptr || strip->slot_.place < first->slot_.place ||
                              (strip->slot_.place == first->slot_.place && strip->part_ < first->part_);
        first = mayMove && isBefore ? strip : first;
    }
    return first;
}

QRectF LiveStrips::boxOf(const Strip& strip, const AxisMap& outer, Length pull) const {
    const auto& placements = host_.outerRun().placements();
    const auto found = std::ranges::find(placements, strip.outer_, &Placement::view);
    if (found == placements.end()) {
        return {};
    }
    const PartBox& box = host_.viewOf(strip.outer_).boxes()[static_cast<std::size_t>(strip.part_)];
    return {outer.onScreen(found->shown(), pull).topLeft() + QPointF(box.x.toPx(), box.y.toPx()),
            QSizeF(box.width.toPx(), box.height.toPx())};
}

LiveStrips::Strip* LiveStrips::at(QPointF point, const AxisMap& outer, Length pull) {
    const auto found = std::ranges::find_if(
        showing_, [&](const Strip* strip) { return boxOf(*strip, outer, pull).contains(point); });
    return found == showing_.end() ? nullptr : *found;
}

} // namespace scorrere::render
