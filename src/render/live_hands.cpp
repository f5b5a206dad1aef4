// SPDX-License-Identifier: Apache-2.0
// Pointers: who has them, and what comes of it. Items swiped aside and carried are in live_hands_items.cpp, keys and selection in
// live_hands_keys.cpp.
#include "render/live_hands.h"

#include "render/live_collection.h"
#include "render/scroll_input.h"

#include <algorithm>
#include <utility>

namespace scorrere::render {

namespace {

constexpr const char* kHandle = "lift";         ///< the action of a part that an item is lifted by
constexpr Length kClosesAfter = Length::px(12); ///< scrolled so far, what is open closes
constexpr std::int64_t kSaidUs = 5'000'000;
constexpr std::int64_t kLongestStepUs = 100'000; ///< between two frames, as far as the edge goes

GesturePoint gesturePoint(QPointF at) {
    return {Length::fromPx(at.x()), Length::fromPx(at.y())};
}

} // namespace

LiveHands::LiveHands(LiveCollection& live) : live_(live) {}

void LiveHands::setSpec(const HandsSpec& spec, const Actions& actions) {
    const std::int64_t before = selection_.revision();
    actions_ = actions;
    spec_ = spec;
    selection_.setMode(spec.select);
    live_.gestures().setTimes(spec.times);
    if (selection_.revision() != before) {
        selectionDone();
    }
}

bool LiveHands::goOnFrom(const LiveHands& before) {
    states_ = before.states_;
    for (const ItemFlag flag : {ItemFlag::Pressed, ItemFlag::Hovered, ItemFlag::Lifted, ItemFlag::Open}) {
        (void)states_.give(flag, {});
    }
    selection_ = before.selection_;
    selection_.setMode(spec_.select);
    focusRecord_ = before.focusRecord_;
    anchorRecord_ = before.anchorRecord_;
    log_ = before.log_;
    const auto& mine = live_.records_.source();
    const auto& theirs = before.live_.records_.source();
    if (mine != theirs && selection_.forgetRange()) {
        selectionDone();
        return true;
    }
    return false;
}

std::string LiveHands::keyAt(std::int64_t place) const {
    if (live_.paged() != nullptr) {
        std::string key = live_.records_.keyAt(place);
        return key.starts_with('\x1f') ? std::string() : key; // its service gave it none
    }
    const std::int64_t record = live_.records_.recordAt(place);
    const auto& edited = live_.records_.edited();
    const std::int64_t inSource = live_.records_.source()->size();
    if (record >= inSource) {
        return edited ? edited->inserted[static_cast<std::size_t>(record - inSource)] : std::string();
    }
    return keys()->of(record);
}

const std::optional<RecordKeys>& LiveHands::keys() const {
    const auto& source = live_.records_.source();
    if (!keys_ || keys_->records() != source) {
        keys_.emplace(source, live_.document().source.key);
    }
    return keys_;
}

std::int64_t LiveHands::placeOfKey(const std::string& key, std::int64_t record) {
    if (key.empty()) {
        return -1;
    }
    const Leaf& leaf = live_.records_.leaf();
    std::int64_t place = -1;
    if (PagedRecords* pages = live_.paged()) {
        place = pages->pager().strip().placeOfKey(key).value_or(-1);
    } else if (record >= 0) {
        place = live_.records_.order().placeOf(record);
    }
    const bool isHere = place >= leaf.first && place - leaf.first < live_.records_.places();
    return isHere && keyAt(place - leaf.first) == key ? place - leaf.first : -1;
}

HandItem LiveHands::itemOf(std::int64_t position) {
    HandItem item;
    item.position = position;
    const Slot slot = live_.run_->arrangement().slotAt(position);
    item.place = slot.place;
    item.isRecord = slot.role == Role::Record && !live_.records_.isPlaceholder(slot);
    if (item.isRecord) {
        item.record = live_.records_.recordAt(slot.place);
        item.key = keyAt(slot.place);
    }
    return item;
}

std::optional<HandItem> LiveHands::itemAt(QPointF at) {
    const Run& run = *live_.run_;
    const AxisMap axis = live_.axis();
    for (const Placement& placement : run.placements()) { // what stays covers items behind it
        const bool isDrawn = placement.isDrawnIn(run.window()) || placement.staysAt;
        if (isDrawn && axis.onScreen(placement.drawnBox(), run.pull()).contains(at)) {
            HandItem item = itemOf(placement.position);
            item.view = placement.view;
            item.box = placement.drawnBox();
            return item;
        }
    }
    return std::nullopt;
}

std::optional<QPointF> LiveHands::pointOf(const std::string& key, bool isHandle) {
    for (const Placement& placement : live_.run_->placements()) {
        if (!placement.showing || itemOf(placement.position).key != key) {
            continue;
        }
        const QRectF box = live_.axis().onScreen(placement.drawnBox(), live_.run_->pull());
        if (!isHandle) {
            return box.intersected(QRectF(QPointF(), live_.axis().window())).center();
        }
        const ItemView& view = live_.view(placement.view);
        for (std::size_t part = 0; part < view.design().parts().size(); ++part) {
            const PartBox& at = view.boxes()[part];
            if (view.design().parts()[part].tap == kHandle && at.shown) {
                return box.topLeft() + QPointF((at.x + at.width / 2).toPx(), (at.y + at.height / 2).toPx());
            }
        }
    }
    return std::nullopt;
}

ItemState LiveHands::stateOf(const HandItem& item) const {
    ItemState state = states_.of(item.key);
    state.set(ItemFlag::Selected, selection_.has(item.selectable()));
    return state;
}

ItemState LiveHands::stateOf(const Slot& slot) const {
    const bool isAnything = !selection_.isNone() || states_.areAny();
    if (!isAnything || slot.role != Role::Record || live_.records_.isPlaceholder(slot)) {
        return {};
    }
    HandItem item;
    item.key = keyAt(slot.place);
    item.record = live_.records_.recordAt(slot.place);
    return stateOf(item);
}

/// Views say what is so of what they carry: those where that differs are filled again, or only toned.
void LiveHands::follow() {
    live_.takeStates();
}

void LiveHands::give(ItemFlag flag, const std::string& key) {
    if (states_.give(flag, key) != key) {
        follow();
    }
}

std::vector<GestureTaker> LiveHands::takers() {
    Run& run = *live_.run_;
    const AxisMap axis = live_.axis();
    std::vector<GestureTaker> all{takerOf(run, axis, WindowTakers::kStrip)};
    if (const Length room = run.acrossRoom(); room > Length{}) {
        GestureTaker across{WindowTakers::kAcross, !axis.isSideways};
        const bool mayGoFar = run.acrossOffset() < room;
        const bool mayComeBack = run.acrossOffset() > Length{};
        across.followsOn = axis.isMirrored ? mayGoFar : mayComeBack;
        across.followsBack = axis.isMirrored ? mayComeBack : mayGoFar;
        across.isFlying = run.acrossMotion().velocity() != 0;
        all.push_back(across);
    }
    const bool hasSides = !spec_.atStart.empty() || !spec_.atEnd.empty();
    if (hasSides && target_ && target_->isRecord && !target_->key.empty()) {
        const bool isOpenHere = target_->key == asideKey_;
        const Length offset = isOpenHere ? swipe_.offset() : Length{};
        const bool toEnd = !spec_.atStart.empty() || offset < Length{};
        const bool toStart = !spec_.atEnd.empty() || offset > Length{};
        const bool isTurned = !axis.isSideways && axis.isMirrored;
        GestureTaker aside{WindowTakers::kAside, !axis.isSideways};
        aside.followsOn = isTurned ? toStart : toEnd;
        aside.followsBack = isTurned ? toEnd : toStart;
        all.push_back(aside);
    }
    if (LiveStrips::Strip* within = live_.strips().pressed()) {
        all.push_back(takerOf(within->run(), within->axis(), WindowTakers::kWithin));
    }
    return all;
}

void LiveHands::press(std::int64_t timeUs, QPointF at, Reach reach) {
    if (live_.pressJumpList(at)) {
        return;
    }
    finger_ = at;
    log_.add(
        PointerSample{PointerSample::What::Down, timeUs, live_.run_->trace().framesEver(), at.x(), at.y()});
    std::optional<HandItem> pressed = itemAt(at);
    const bool isItem = pressed && pressed->isRecord && !pressed->key.empty();
    const bool isHandle = isItem && spec_.lift == HandsSpec::Lift::Handle && live_.actionAt(at) == kHandle;
    const GestureWants wants{isItem && (!spec_.press.empty() || spec_.lift == HandsSpec::Lift::Held),
                             isItem && !spec_.doubleTap.empty()};
    if (!asideKey_.empty() && (!pressed || pressed->key != asideKey_)) {
        closeAside(timeUs);
    }
    live_.strips().press(live_.stripAt(at));
    GestureArena& arena = live_.gestures();
    const std::optional<HandItem> before = std::exchange(target_, pressed);
    const std::vector<GestureTaker> under = takers();
    target_ = before; // a tap that is only sure now was of that
    arena.press(timeUs, gesturePoint(at), under, wants);
    takeFound();
    target_ = std::move(pressed);
    reach_ = reach;
    const bool mayAnythingCome = !(spec_ == HandsSpec()) ||
                                 live_.designs_.readState().has(ItemFlag::Pressed) ||
                                 !live_.actionAt(at).empty();
    if (isItem && mayAnythingCome && arena.story().taker < 0) {
        give(ItemFlag::Pressed, target_->key);
    }
    if (isHandle && !liftProblem().isEmpty()) {
        Q_EMIT liftRefused(liftProblem());
    } else if (isHandle) {
        arena.claim(timeUs, WindowTakers::kLifted, GestureReason::Handle);
    }
    obey();
}

void LiveHands::move(std::int64_t timeUs, QPointF at) {
    if (live_.dragJumpList(at)) {
        return;
    }
    if (finger_) {
        finger_ = at;
        log_.add(PointerSample{PointerSample::What::Moved, timeUs, live_.run_->trace().framesEver(), at.x(),
                               at.y()});
    }
    live_.gestures().move(timeUs, gesturePoint(at), takers());
    takeFound();
    obey();
    if (live_.gestures().story().taker >= 0) {
        give(ItemFlag::Pressed, {});
    }
}

void LiveHands::release(std::int64_t timeUs) {
    if (live_.releaseJumpList()) {
        return;
    }
    GestureArena& arena = live_.gestures();
    if (finger_) {
        log_.add(PointerSample{PointerSample::What::Up, timeUs, live_.run_->trace().framesEver(),
                               finger_->x(), finger_->y()});
    }
    const bool wasPressed = arena.isPressed();
    (void)arena.release(timeUs);
    const GestureStory& story = arena.story();
    if (wasPressed && story.taker >= 0 && story.taker != WindowTakers::kAside &&
        story.taker != WindowTakers::kLifted) {
        GestureEntry entry;
        entry.kind = GestureEntry::Kind::Drag;
        entry.timeUs = timeUs;
        entry.story = story;
        entry.losses = story.losses;
        note(std::move(entry));
    }
    obey();
    takeFound();
    finger_.reset();
    give(ItemFlag::Pressed, {});
}

void LiveHands::cancel(std::int64_t timeUs) {
    (void)live_.releaseJumpList();
    if (lifted_) {
        endLift(false, timeUs);
    }
    live_.gestures().cancel(timeUs);
    (void)live_.gestures().takeFound();
    obey();
    finger_.reset();
    give(ItemFlag::Pressed, {});
}

bool LiveHands::wantsHover() const {
    return live_.designs_.readState().has(ItemFlag::Hovered);
}

void LiveHands::hover(std::optional<QPointF> at) {
    const auto item = at ? itemAt(*at) : std::nullopt;
    give(ItemFlag::Hovered, item && item->isRecord ? item->key : std::string());
}

void LiveHands::note(GestureEntry entry) {
    entry.frame = live_.run_->trace().framesEver();
    entry.fromUs = entry.timeUs - entry.heldMs * 1000;
    if (target_ && entry.key.empty() && entry.kind != GestureEntry::Kind::Drag) {
        entry.key = target_->key;
        entry.name = target_->position < live_.run_->arrangement().size()
                         ? live_.nameAt(target_->position).toStdString()
                         : std::string();
    }
    log_.add(std::move(entry));
    Q_EMIT logged();
}

void LiveHands::takeFound() {
    for (const GestureFound& found : live_.gestures().takeFound()) {
        const QPointF at(found.at.x.toPx(), found.at.y.toPx());
        if (found.what == GestureFound::What::Held) {
            takeHeld(found);
            continue;
        }
        const bool isDouble = found.what == GestureFound::What::DoubleTap;
        GestureEntry entry;
        entry.kind = isDouble ? GestureEntry::Kind::DoubleTap : GestureEntry::Kind::Tap;
        entry.timeUs = found.timeUs;
        entry.heldMs = found.heldMs;
        entry.waitedMs = found.waitedMs;
        entry.losses = found.losses;
        note(std::move(entry));
        if (isDouble && target_ && target_->isRecord) {
            Q_EMIT acted(QString::fromStdString(spec_.doubleTap), *target_);
        } else if (!isDouble && !takeOpenTap(at, found.timeUs)) {
            Q_EMIT tapped(at, reach_);
        }
    }
}

void LiveHands::takeHeld(const GestureFound& found) {
    GestureEntry entry;
    entry.kind = GestureEntry::Kind::Held;
    entry.timeUs = found.timeUs;
    entry.heldMs = found.heldMs;
    entry.losses = found.losses;
    note(std::move(entry));
    give(ItemFlag::Pressed, {});
    if (!target_ || !target_->isRecord) {
        return;
    }
    if (spec_.lift == HandsSpec::Lift::Held && liftProblem().isEmpty()) {
        live_.gestures().claim(found.timeUs, WindowTakers::kLifted, GestureReason::Held);
        obey();
    } else if (!spec_.press.empty()) {
        Q_EMIT acted(QString::fromStdString(spec_.press), *target_);
    } else {
        Q_EMIT liftRefused(liftProblem());
    }
}

void LiveHands::tapItem(QPointF at, Reach reach) {
    const auto item = itemAt(at);
    if (!item || !item->isRecord) {
        return;
    }
    tapOn(*item, reach);
}

void LiveHands::obey() {
    for (const GestureCommand& command : live_.gestures().takeCommands()) {
        if (command.taker == WindowTakers::kAside) {
            obeyAside(command);
            continue;
        }
        if (command.taker == WindowTakers::kLifted) {
            obeyLift(command);
            continue;
        }
        const double px = command.at.toPx();
        const bool isAcross = command.taker == WindowTakers::kAcross;
        LiveStrips::Strip* within =
            command.taker == WindowTakers::kWithin ? live_.strips().pressed() : nullptr;
        if (command.taker == WindowTakers::kWithin && within == nullptr) {
            continue; // it went out of sight
        }
        const AxisMap axis = within != nullptr ? within->axis() : live_.axis();
        ScrollMotion& motion = within != nullptr ? within->run().motion()
                               : isAcross        ? live_.run().acrossMotion()
                                                 : live_.run().motion();
        const Length at =
            isAcross ? Length::fromPx(axis.isMirrored ? -px : px)
                     : Length::fromPx(axis.alongOf(axis.isSideways ? QPointF(px, 0) : QPointF(0, px)));
        switch (command.what) {
        case GestureCommand::What::Press:
            motion.press(command.timeUs, at);
            break;
        case GestureCommand::What::Drag:
            motion.drag(command.timeUs, at);
            break;
        case GestureCommand::What::LetGo:
            motion.letGo(command.timeUs);
        }
    }
}

void LiveHands::beforeFrame(std::int64_t timeUs) {
    live_.gestures().tick(timeUs);
    takeFound();
    obey();
    sweepOn();
    swipe_.advance(timeUs);
    if (!asideKey_.empty() && !swipe_.isAway()) {
        asideKey_.clear();
    }
    if (lifted_ && finger_) {
        const QPointF at = live_.axis().inWindow(*finger_);
        const std::int64_t passedUs = std::min(timeUs - movedUs_, kLongestStepUs);
        edgeSpeed_ = edgeSpeed(Length::fromPx(at.x()), live_.run_->window());
        edgeRest_ += edgeSpeed_ * static_cast<double>(passedUs) / 1e6;
        const Length by = Length::fromPx(edgeRest_);
        edgeRest_ -= by.toPx();
        if (by != Length{}) {
            live_.run_->wheel(by);
        }
    }
    movedUs_ = timeUs;
    if (said_ && timeUs - saidUs_ > kSaidUs) {
        said_.reset();
    }
}

void LiveHands::afterFrame(std::int64_t timeUs) {
    if (lifted_) {
        carry();
    }
    if (asideAt_) {
        const Length scrolled = live_.run_->offset() - *asideAt_;
        if (std::max(scrolled, -scrolled) > kClosesAfter) {
            closeAside(timeUs);
        }
    }
    if (!states_.whose(ItemFlag::Focused).empty()) {
        keepFocusedView();
    }
    see(timeUs);
    painted_ = carried(timeUs);
}

/// Which items were on screen for long enough. Asked only where a design wants to know.
void LiveHands::see(std::int64_t timeUs) {
    isSeeing_ = false;
    if (!live_.designs_.readState().has(ItemFlag::Seen)) {
        return;
    }
    for (OnScreen& one : onScreen_) {
        one.shows = false;
    }
    bool isAnyNew = false;
    for (const Placement& placement : live_.run_->placements()) {
        if (!placement.showing) {
            continue;
        }
        const std::uint32_t turn = live_.run_->recycler().view(placement.view).turn;
        auto known = std::ranges::find_if(
            onScreen_, [&](const OnScreen& one) { return one.view == placement.view && one.turn == turn; });
        if (known == onScreen_.end()) {
            known = onScreen_.insert(onScreen_.end(), OnScreen{placement.view, turn, timeUs, false, true});
        }
        known->shows = true;
        if (!known->isSeen && timeUs - known->sinceUs >= spec_.seenMs * 1000) {
            known->isSeen = true;
            isAnyNew = states_.see(itemOf(placement.position).key) || isAnyNew;
        }
        isSeeing_ = isSeeing_ || !known->isSeen;
    }
    std::erase_if(onScreen_, [](const OnScreen& one) { return !one.shows; });
    if (isAnyNew) {
        follow();
    }
}

void LiveHands::sayOf(const std::string& key, const QString& text, std::int64_t timeUs) {
    said_ = Said{key, text};
    saidUs_ = timeUs;
    Q_EMIT live_.frameWanted();
}

bool LiveHands::isBusy() const {
    return said_ || sweep_ || live_.gestures().dueUs() >= 0 || swipe_.isSpringing() || lifted_ || settling_ ||
           isSeeing_;
}

} // namespace scorrere::render

#include "moc_live_hands.cpp"
