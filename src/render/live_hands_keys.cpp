// SPDX-License-Identifier: Apache-2.0
// The part of LiveHands that needs no pointer: the item that keys mean, selection, and what scripts do.
#include "engine/order/search_words.h"
#include "render/live_collection.h"
#include "render/live_hands.h"

#include <algorithm>
#include <memory>
#include <utility>

namespace scorrere::render {

namespace {

constexpr double kGlidesWithin = 2.5;    ///< windows; what is further away is jumped to
constexpr std::int64_t kMostLooked = 64; ///< for an item in the next line
constexpr std::int64_t kLooksBetweenStops = 1024;
constexpr std::int64_t kSweptAtOnce = 2'000; ///< places of pages that are looked at between two frames

} // namespace

std::optional<HandItem> LiveHands::focused() {
    const std::string& key = states_.whose(ItemFlag::Focused);
    const std::int64_t place = placeOfKey(key, focusRecord_);
    return place < 0 ? std::nullopt : std::optional(itemOf(live_.run_->arrangement().positionOf(place)));
}

void LiveHands::focusOn(std::int64_t place, std::int64_t timeUs) {
    HandItem item;
    if (place >= 0 && place < live_.records_.places()) {
        item = itemOf(live_.run_->arrangement().positionOf(place));
    }
    focusRecord_ = item.record;
    give(ItemFlag::Focused, item.key);
    if (!item.key.empty()) {
        bringIn(item.position, timeUs);
    }
    keepFocusedView();
    Q_EMIT focusChanged();
    Q_EMIT live_.frameWanted();
}

/// Its view stays alive, wherever one scrolls.
void LiveHands::keepFocusedView() {
    if (lifted_) {
        return; // the one that is carried is kept
    }
    const auto item = focused();
    ViewId kept;
    for (const ViewId id : live_.run_->recycler().alive()) {
        kept = item && live_.run_->recycler().view(id).position == item->position ? id : kept;
    }
    if (!(kept == focusView_)) {
        focusView_ = kept;
        live_.run_->keepView(kept);
    }
}

/// As little as it takes to have it in the window; what is far is jumped to.
void LiveHands::bringIn(std::int64_t position, std::int64_t timeUs) {
    Run& run = *live_.run_;
    const Box box = run.arrangement().boxOf(position);
    const Length top = run.offset() + run.motion().gliding();
    const Length start = box.start - top;
    const Length end = box.end() - top;
    const bool isLong = box.extent > run.window();
    Length by;
    if (start < Length{} || isLong) {
        by = start;
    } else if (end > run.window()) {
        by = end - run.window();
    }
    if (by == Length{}) {
        return;
    }
    if (std::abs(by.toPx()) > run.window().toPx() * kGlidesWithin) {
        run.jumpTo(position);
    } else {
        run.motion().glide(run.motion().gliding() + by, timeUs);
    }
}

/// The record that stands next that way, skipping what is none; -1: there is none.
std::int64_t LiveHands::recordBeside(std::int64_t position, bool on) const {
    const Arrangement& arrangement = live_.run_->arrangement();
    for (std::int64_t at = position + (on ? 1 : -1); at >= 0 && at < arrangement.size(); at += on ? 1 : -1) {
        if (arrangement.slotAt(at).role == Role::Record) {
            return at;
        }
    }
    return -1;
}

/// In the next line, the one that stands above or below; of ragged columns the next in the same lane.
std::int64_t LiveHands::recordInLine(std::int64_t position, bool on) const {
    Arrangement& arrangement = live_.run_->arrangement();
    if (arrangement.mostInALine() <= 1) {
        return recordBeside(position, on);
    }
    const Box from = arrangement.boxOf(position);
    const Length middle = from.crossStart + from.crossExtent / 2;
    std::int64_t other = -1; // in that line, but not below
    std::int64_t at = position;
    for (std::int64_t looked = 0; looked < kMostLooked; ++looked) {
        at = recordBeside(at, on);
        if (at < 0) {
            break;
        }
        const Box box = arrangement.boxOf(at);
        const bool isFurther = on ? box.start >= from.end() : box.end() <= from.start;
        if (isFurther && middle >= box.crossStart && middle < box.crossStart + box.crossExtent) {
            return at;
        }
        other = isFurther ? at : other;
    }
    return other;
}

bool LiveHands::focusStep(Step step, std::int64_t timeUs) {
    Arrangement& arrangement = live_.run_->arrangement();
    const std::int64_t records = live_.records_.places();
    if (records == 0) {
        return false;
    }
    const auto now = focused();
    std::int64_t to = -1;
    if (step == Step::First || step == Step::Last) {
        to = arrangement.positionOf(step == Step::First ? 0 : records - 1);
    } else if (!now) { // the first one that shows as a whole
        for (const Placement& placement : live_.run_->placements()) {
            const bool isRecord = arrangement.slotAt(placement.position).role == Role::Record;
            const bool isWhole = placement.showing && placement.box.start >= Length{};
            to = to < 0 && isRecord && isWhole ? placement.position : to;
        }
    } else if (step == Step::Back || step == Step::On) {
        to = recordBeside(now->position, step == Step::On);
    } else if (step == Step::LineBack || step == Step::LineOn) {
        to = recordInLine(now->position, step == Step::LineOn);
    } else if (const Sections* sections = live_.sections()) {
        const std::int64_t section =
            sections->ofPlace(now->place).section + (step == Step::SectionOn ? 1 : -1);
        if (section >= 0 && section < sections->count()) {
            to = arrangement.positionOf(sections->at(section).first);
        }
    }
    if (to < 0 || arrangement.slotAt(to).role != Role::Record) {
        return false;
    }
    focusOn(arrangement.slotAt(to).place, timeUs);
    return true;
}

void LiveHands::tapFocused(std::int64_t timeUs) {
    if (const auto item = focused()) {
        target_ = item;
        GestureEntry entry;
        entry.kind = GestureEntry::Kind::Tap;
        entry.timeUs = timeUs;
        note(std::move(entry));
        tapOn(*item, Reach::Alone);
    }
}

void LiveHands::selectFocused(Reach reach) {
    if (const auto item = focused()) {
        select(*item, reach);
    }
}

void LiveHands::tapOn(const HandItem& item, Reach reach) {
    const bool isToSelect = spec_.select != SelectMode::None && (spec_.tap.empty() || reach != Reach::Alone);
    if (isToSelect) {
        select(item, reach);
    } else if (!spec_.tap.empty()) {
        Q_EMIT acted(QString::fromStdString(spec_.tap), item);
    }
}

void LiveHands::select(const HandItem& item, Reach reach) {
    const std::int64_t anchor =
        reach == Reach::Range ? placeOfKey(selection_.anchor(), anchorRecord_) : std::int64_t{-1};
    if (anchor >= 0 && live_.paged() == nullptr) {
        const std::int64_t first = live_.records_.leaf().first;
        selection_.chooseRange(live_.records_.order(), first + anchor, first + item.place);
    } else if (anchor >= 0) { // those between that are here
        const std::int64_t first = std::min(anchor, item.place);
        auto keys = std::make_shared<std::vector<std::string>>();
        const auto visit = [this, keys](std::int64_t place) {
            if (std::string key = place < live_.records_.places() ? keyAt(place) : std::string();
                !key.empty()) {
                keys->push_back(std::move(key));
            }
            return true;
        };
        const auto end = [this, keys] {
            selection_.chooseKeys(*keys);
            selectionDone();
        };
        beginSweep({first, std::max(anchor, item.place) - first + 1, visit, end});
        return;
    } else if (reach == Reach::More) {
        selection_.turn(item.selectable());
        anchorRecord_ = item.record;
    } else {
        selection_.choose(item.selectable());
        anchorRecord_ = item.record;
    }
    selectionDone();
}

void LiveHands::selectionDone() {
    follow();
    Q_EMIT selectionChanged();
    Q_EMIT live_.frameWanted();
}

void LiveHands::selectAll() {
    const RecordOrder& order = live_.records_.order();
    if (live_.paged() != nullptr || order.size() == live_.records().size()) {
        selection_.chooseAll();
    } else {
        selection_.chooseRange(order, 0, order.size() - 1);
    }
    selectionDone();
}

std::int64_t LiveHands::selectedCount() const {
    const PagedRecords* pages = live_.paged();
    return selection_.countOf(pages != nullptr ? live_.recordCount() : live_.records().size());
}

void LiveHands::beginSweep(Sweep sweep) {
    sweep_ = std::move(sweep);
    sweepOn();
    Q_EMIT searchChanged();
}

double LiveHands::searchedShare() const {
    return titles_.isBusy() ? titlesLooked_->load()
           : !sweep_ || sweep_->all <= 0
               ? 1
               : 1 - static_cast<double>(sweep_->left) / static_cast<double>(sweep_->all);
}

void LiveHands::stopSearching() {
    if (isSearching()) {
        titles_.cancel();
        sweep_.reset();
        Q_EMIT searchChanged();
    }
}

/// Goes on with what is looked for among records of pages.
void LiveHands::sweepOn() {
    if (!sweep_) {
        return;
    }
    Sweep sweep = *std::exchange(sweep_, std::nullopt); // what is found may begin another
    const std::int64_t places = live_.records_.places();
    for (std::int64_t i = 0; i < kSweptAtOnce && sweep.left > 0 && places > 0; ++i, --sweep.left) {
        if (!sweep.visit(sweep.at++)) {
            return Q_EMIT searchChanged();
        }
    }
    if (sweep.left == 0 || places == 0) {
        sweep.end();
        Q_EMIT searchChanged();
    } else if (!sweep_) {
        sweep_ = std::move(sweep);
        Q_EMIT live_.frameWanted();
    }
}

void LiveHands::goToKey(const std::string& key, std::int64_t timeUs) {
    if (PagedRecords* pages = live_.paged()) {
        const auto place = pages->pager().strip().placeOfKey(key);
        if (place) {
            live_.showRecord(*place);
            focusOn(*place - live_.records_.leaf().first, timeUs);
        }
        Q_EMIT titleFound(place.has_value());
        return;
    }
    titlesLooked_ = std::make_shared<std::atomic<double>>(-1);
    titles_.start(
        [source = live_.records_.source(), by = live_.document().source.key, order = live_.records_.order(),
         key](const std::stop_token& stop, const Job::Post&) -> std::int64_t {
            const std::int64_t record = RecordKeys(source, by).find(key, -1, stop);
            return record < 0 ? -1 : order.placeOf(record);
        },
        [this, timeUs](std::int64_t place) {
            if (place >= 0) {
                live_.showRecord(place);
                focusOn(place - live_.records_.leaf().first, timeUs);
            }
            Q_EMIT searchChanged();
            Q_EMIT titleFound(place >= 0);
        });
    Q_EMIT searchChanged();
}

bool LiveHands::focusTitled(const QString& begins, std::int64_t timeUs, bool isGoingOn) {
    std::string wanted;
    foldForSearch(begins.toStdString(), wanted);
    const auto now = focused();
    const std::int64_t from = (now ? now->place : -1) - (now && isGoingOn ? 1 : 0);
    const auto titled = live_.designs_.of(Arrangement::kRecordKind).design.titleField();
    if (wanted.empty() || !titled) {
        return false;
    }
    if (PagedRecords* pages = live_.paged()) { // those that are here
        const auto visit = [this, pages, wanted, timeUs, field = *titled](std::int64_t at) {
            const std::int64_t place = at % live_.records_.places();
            const PageRecord* record = pages->pager().strip().recordAt(place + live_.records_.leaf().first);
            std::string title;
            if (record != nullptr) {
                foldForSearch(record->table->display(record->row, field), title);
            }
            const bool isIt = title.starts_with(wanted);
            if (isIt) {
                focusOn(place, timeUs);
                Q_EMIT titleFound(true);
            }
            return !isIt;
        };
        beginSweep({from + 1, live_.records_.places(), visit, [this] { Q_EMIT titleFound(false); }});
        return true;
    }
    titlesLooked_ = std::make_shared<std::atomic<double>>(0);
    titles_.start(
        [records = live_.records_.shared(), order = live_.records_.order(),
         leaf = live_.records_.leaf().first, places = live_.records_.places(), from, wanted, field = *titled,
         looked = titlesLooked_](const std::stop_token& stop, const Job::Post&) -> std::int64_t {
            std::string title;
            for (std::int64_t i = 1; i <= places; ++i) {
                if (i % kLooksBetweenStops == 0) {
                    if (stop.stop_requested()) {
                        return -1;
                    }
                    *looked = static_cast<double>(i) / static_cast<double>(places);
                }
                const std::int64_t place = (from + i) % places;
                const std::int64_t record = order.at(leaf + place);
                title.clear();
                foldForSearch(records->display(record, field), title);
                if (title.starts_with(wanted)) {
                    return place;
                }
            }
            return -1;
        },
        [this, timeUs](std::int64_t place) {
            if (place >= 0) {
                focusOn(place, timeUs);
            }
            Q_EMIT searchChanged();
            Q_EMIT titleFound(place >= 0);
        });
    Q_EMIT searchChanged();
    return true;
}

} // namespace scorrere::render
