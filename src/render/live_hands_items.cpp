// SPDX-License-Identifier: Apache-2.0
// The part of LiveHands that has to do with an item that is swiped aside, and with one that is carried.
#include "engine/record/record_json.h"
#include "render/live_collection.h"
#include "render/live_hands.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <nlohmann/json.hpp>
#include <utility>

namespace scorrere::render {

namespace {

constexpr std::int64_t kSettleUs = 160'000;
constexpr double kSeenMakingRoom = 700; ///< px/s: where the strip goes by faster nobody sees who makes room

} // namespace

void LiveHands::obeyAside(const GestureCommand& command) {
    if (command.what == GestureCommand::What::Press) {
        if (!target_) {
            return;
        }
        beginAside(*target_);
    }
    const Length at =
        Length::fromPx(live_.axis().crossOf(QPointF(command.point.x.toPx(), command.point.y.toPx())));
    switch (command.what) {
    case GestureCommand::What::Press:
        swipe_.press(command.timeUs, at);
        break;
    case GestureCommand::What::Drag:
        swipe_.drag(command.timeUs, at);
        break;
    case GestureCommand::What::LetGo:
        letGoAside(command.timeUs);
    }
    Q_EMIT live_.frameWanted();
}

void LiveHands::beginAside(const HandItem& item) {
    if (asideKey_ != item.key) {
        swipe_ = SwipeMotion();
        asideKey_ = item.key;
        asideRecord_ = item.record;
    }
    SwipeSides sides;
    sides.atStart = static_cast<int>(spec_.atStart.size());
    sides.atEnd = static_cast<int>(spec_.atEnd.size());
    sides.item = item.box.crossExtent;
    sides.pulled = spec_.pulled;
    swipe_.begin(sides);
}

void LiveHands::letGoAside(std::int64_t timeUs) {
    GestureEntry entry;
    entry.timeUs = timeUs;
    entry.share = swipe_.share();
    entry.story = live_.gestures().story();
    entry.losses = entry.story.losses;
    entry.key = asideKey_;
    entry.name = target_ ? live_.nameAt(target_->position).toStdString() : std::string();
    const SwipeMotion::Outcome outcome = swipe_.letGo(timeUs);
    const bool isOpen = outcome == SwipeMotion::Outcome::Opens;
    const bool isDone = outcome == SwipeMotion::Outcome::DoStart || outcome == SwipeMotion::Outcome::DoEnd;
    entry.kind = isOpen   ? GestureEntry::Kind::Aside
                 : isDone ? GestureEntry::Kind::Pulled
                          : GestureEntry::Kind::Back;
    note(std::move(entry));
    give(ItemFlag::Open, isOpen ? asideKey_ : std::string());
    asideAt_ = isOpen ? std::optional(live_.run_->offset()) : std::nullopt;
    if (isDone) {
        actOnAside(outcome == SwipeMotion::Outcome::DoStart ? spec_.atStart : spec_.atEnd, 0);
    }
}

void LiveHands::actOnAside(const std::vector<std::string>& actions, std::size_t which) {
    const std::int64_t place = placeOfKey(asideKey_, asideRecord_);
    if (place >= 0 && which < actions.size()) {
        Q_EMIT acted(QString::fromStdString(actions[which]),
                     itemOf(live_.run_->arrangement().positionOf(place)));
    }
}

void LiveHands::closeAside(std::int64_t timeUs) {
    if (!asideKey_.empty()) {
        swipe_.close(timeUs);
        asideAt_.reset();
        give(ItemFlag::Open, {});
        Q_EMIT live_.frameWanted();
    }
}

std::optional<LiveHands::Aside> LiveHands::aside() const {
    if (asideKey_.empty() || !swipe_.isAway()) {
        return std::nullopt;
    }
    const bool atStart = swipe_.offset() > Length{};
    return Aside{asideKey_, swipe_.offset(), atStart ? spec_.atStart : spec_.atEnd, atStart,
                 swipe_.isPressed() && swipe_.isPulled()};
}

/// A tap beside an item that is open closes it; one on what it uncovers does that.
bool LiveHands::takeOpenTap(QPointF at, std::int64_t timeUs) {
    const auto item = itemAt(at);
    if (asideKey_.empty() || !swipe_.isOpen() || !item || item->key != asideKey_) {
        return false;
    }
    const bool atStart = swipe_.offset() > Length{};
    const std::vector<std::string>& actions = atStart ? spec_.atStart : spec_.atEnd;
    const Length across = Length::fromPx(live_.axis().inWindow(at).y()) - item->box.crossStart;
    const Length fromEdge = atStart ? across : item->box.crossExtent - across;
    const Length open = atStart ? swipe_.offset() : -swipe_.offset();
    const Length each = actions.empty() ? Length{} : open / static_cast<std::int64_t>(actions.size());
    if (fromEdge >= Length{} && fromEdge < open && each > Length{}) {
        actOnAside(actions, static_cast<std::size_t>(fromEdge.raw() / each.raw()));
    }
    closeAside(timeUs);
    return true;
}

QString LiveHands::liftProblem() const {
    const OrderSpec& order = live_.document().order;
    if (live_.paged() != nullptr) {
        return tr("Their service says in which order they stand.");
    }
    if (order.isSorted() || order.shuffled) {
        return tr("They stand in an order of their own: take that off to lift one.");
    }
    if (live_.records_.leaf().isOne() || live_.placed() != nullptr ||
        std::holds_alternative<PagerSpec>(live_.document().arrangement.form)) {
        return tr("They are not lifted in this arrangement.");
    }
    return live_.document().asIf.has_value() ? tr("Made-up records stand where they are made up.")
                                             : QString();
}

void LiveHands::obeyLift(const GestureCommand& command) {
    const QPointF at(command.point.x.toPx(), command.point.y.toPx());
    switch (command.what) {
    case GestureCommand::What::Press:
        if (target_) {
            beginLift(*target_, at);
            movedUs_ = command.timeUs;
        }
        break;
    case GestureCommand::What::Drag:
        Q_EMIT live_.frameWanted();
        break;
    case GestureCommand::What::LetGo:
        endLift(true, command.timeUs);
    }
}

void LiveHands::beginLift(const HandItem& item, QPointF at) {
    const QPointF point = live_.axis().inWindow(at);
    grip_ = point - QPointF(item.box.start.toPx(), item.box.crossStart.toPx());
    Lifted lifted;
    lifted.key = item.key;
    lifted.view = item.view;
    lifted.place = lifted.from = item.place;
    lifted.box = item.box;
    lifted.record = item.record;
    lifted_ = std::move(lifted);
    edgeSpeed_ = edgeRest_ = 0;
    give(ItemFlag::Pressed, {});
    give(ItemFlag::Lifted, item.key);
    live_.run_->keepView(item.view);
    GestureEntry entry;
    entry.kind = GestureEntry::Kind::Lifted;
    entry.timeUs = movedUs_;
    entry.story = live_.gestures().story();
    entry.losses = entry.story.losses;
    entry.key = item.key;
    entry.name = live_.nameAt(item.position).toStdString();
    entry.from = entry.to = item.place;
    note(std::move(entry));
    Q_EMIT live_.frameWanted();
}

/// Where the record stands below which what is carried is, if that is to make room: its place; -1: none is.
std::int64_t LiveHands::placeBelow() {
    const Lifted& lifted = *lifted_;
    const Length middle = lifted.box.start + lifted.box.extent / 2;
    const Length across = lifted.box.crossStart + lifted.box.crossExtent / 2;
    const bool isInLines = live_.run_->arrangement().mostInALine() > 1;
    for (const Placement& placement : live_.run_->placements()) {
        const Slot slot = live_.run_->arrangement().slotAt(placement.position);
        const Box& box = placement.box;
        if (!placement.showing || slot.role != Role::Record || slot.place == lifted.place ||
            middle < box.start || middle >= box.end()) {
            continue;
        }
        if (isInLines) {
            if (across >= box.crossStart && across < box.crossStart + box.crossExtent) {
                return slot.place;
            }
            continue;
        }
        // Only where it would still be below what is carried when that made room: else the two would change for ever.
        const bool isBehind = slot.place > lifted.place;
        const bool isFarEnough = isBehind ? middle >= box.end() - std::min(lifted.box.extent, box.extent / 2)
                                          : middle < box.start + std::min(lifted.box.extent, box.extent / 2);
        return isFarEnough ? slot.place : -1;
    }
    return -1;
}

bool LiveHands::maySetDownAt(std::int64_t place) const {
    const Sections* sections = live_.sections();
    const SectionChooser* chooser = live_.designs_.sections();
    const bool isAnywhere = spec_.liftsAcross && chooser != nullptr && chooser->fields() != nullptr;
    return place >= 0 && place < live_.records_.places() &&
           (sections == nullptr || isAnywhere ||
            sections->ofPlace(place).section == sections->ofPlace(lifted_->place).section);
}

/// What is carried is to stand where the record of a place does: under its heading, for which it takes over some of its values.
void LiveHands::takeHeadingOf(std::int64_t place) {
    const Sections* sections = live_.sections();
    if (sections == nullptr ||
        sections->ofPlace(place).section == sections->ofPlace(lifted_->place).section) {
        return;
    }
    const std::int64_t record = live_.records_.recordAt(place);
    const auto& fields = *live_.designs_.sections()->fields();
    const bool isOwn = live_.designs_.sections()->isAlike(live_.records_.table(), record, lifted_->record);
    const auto heading = isOwn ? std::nullopt : live_.headingAt(place);
    lifted_->isUnderOther = heading.has_value();
    lifted_->heading = heading.value_or(std::string());
    lifted_->takesOver.clear();
    if (lifted_->isUnderOther) {
        const auto values = nlohmann::json::parse(recordJson(live_.records_.table(), record));
        for (const FieldHandle field : fields) {
            const std::string name = live_.records_.table().field(field).name;
            lifted_->takesOver.emplace_back(name,
                                            values.contains(name) ? values[name].dump() : std::string());
        }
    }
}

void LiveHands::carryTo(std::int64_t place) {
    if (lifted_ && place != lifted_->place && maySetDownAt(place)) {
        takeHeadingOf(place);
        const std::int64_t from = std::exchange(lifted_->place, place);
        live_.carry(from, place, std::abs(edgeSpeed_) < kSeenMakingRoom);
    }
}

/// What is carried follows the pointer, and those that it passes make room.
void LiveHands::carry() {
    lifted_->place = placeOfKey(lifted_->key, lifted_->record);
    if (lifted_->place < 0) { // somebody took it away
        lifted_.reset();
        give(ItemFlag::Lifted, {});
        return;
    }
    if (!finger_) {
        return;
    }
    const QPointF start = live_.axis().inWindow(*finger_) - grip_;
    lifted_->box.start = Length::fromPx(start.x());
    if (live_.run_->arrangement().mostInALine() > 1) {
        lifted_->box.crossStart = Length::fromPx(start.y());
    }
    carryTo(placeBelow());
}

void LiveHands::endLift(bool isKept, std::int64_t timeUs) {
    if (!lifted_) {
        return;
    }
    const Lifted lifted = *std::exchange(lifted_, std::nullopt);
    const bool isMoved = lifted.place != lifted.from || lifted.isUnderOther;
    if (!isKept && lifted.place != lifted.from) {
        live_.carry(lifted.place, lifted.from, true);
    } else if (!isKept && isMoved) { // in its place, under another heading
        live_.takeStarts(lifted.place, 1);
    }
    settling_ = Settling{lifted.key, lifted.record, lifted.box, timeUs};
    give(ItemFlag::Lifted, {});
    live_.run_->keepView({});
    GestureEntry entry;
    entry.kind = isKept ? GestureEntry::Kind::SetDown : GestureEntry::Kind::Cancelled;
    entry.timeUs = timeUs;
    entry.key = lifted.key;
    entry.from = lifted.from;
    entry.to = isKept ? lifted.place : lifted.from;
    note(std::move(entry));
    if (isKept && isMoved) {
        HandItem item = itemOf(live_.run_->arrangement().positionOf(lifted.place));
        assert(item.key == lifted.key);
        item.view = lifted.view;
        Q_EMIT setDownAt(item, lifted.takesOver);
    }
    Q_EMIT live_.frameWanted();
}

std::optional<LiveHands::Lifted> LiveHands::carried(std::int64_t timeUs) {
    if (lifted_ || !settling_) {
        return lifted_;
    }
    const std::int64_t place = placeOfKey(settling_->key, settling_->record);
    const double done = static_cast<double>(timeUs - settling_->fromUs) / static_cast<double>(kSettleUs);
    if (place < 0 || done >= 1) {
        settling_.reset();
        return std::nullopt;
    }
    const std::int64_t position = live_.run_->arrangement().positionOf(place);
    const auto& placements = live_.run_->placements();
    const auto stands = std::ranges::find(placements, position, &Placement::position);
    if (stands == placements.end()) {
        return std::nullopt;
    }
    const double left = (1 - done) * (1 - done);
    Lifted settled;
    settled.key = settling_->key;
    settled.view = stands->view;
    settled.place = settled.from = place;
    settled.box = stands->box;
    settled.record = settling_->record;
    const auto between = [left](Length from, Length to) {
        return to + Length::fromPx((from - to).toPx() * left);
    };
    settled.box.start = between(settling_->box.start, stands->box.start);
    settled.box.crossStart = between(settling_->box.crossStart, stands->box.crossStart);
    return settled;
}

} // namespace scorrere::render
