// SPDX-License-Identifier: Apache-2.0
//
// What is wanted follows from what shows, anew each time: the pages about the window as far as the lead
// reaches, in screens and in time at the present speed, nearest first. What was asked for is remembered by
// page, so a wish that is already under way is held back, and one that nobody has any more is cancelled.
// There is no queue that could go stale. What becomes of an answer is in pager_take.cpp.
#include "engine/page/pager.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace scorrere {

namespace {

constexpr std::int64_t kMostPlaceholders = 30;
constexpr std::int64_t kFarPlaces = 512;    ///< forgotten at a time
constexpr std::size_t kMostStreamed = 2000; ///< records above all pages
constexpr std::size_t kMostFailed = 1000;   ///< pages remembered as given up

} // namespace

Pager::Pager(const PageRules& rules)
    : rules_(rules), strip_(rules.size), retry_(rules), served_(rules.size) {}

void Pager::setRules(const PageRules& rules) {
    assert(rules.style == rules_.style && rules.size == rules_.size);
    rules_ = rules;
    retry_.setRules(rules);
    plan(nowMs_);
}

void Pager::start(std::int64_t nowMs) {
    nowMs_ = nowMs;
    running_ = true;
    plan(nowMs);
}

void Pager::stop() {
    finishLanding();
    cancelFrom(nowMs_, INT64_MIN, AskOutcome::Cancelled);
    running_ = false;
    firstAskedMs_.reset();
    settle();
}

void Pager::look(std::int64_t nowMs, const SeenRange& seen) {
    nowMs_ = nowMs;
    seen_ = seen;
    if (landing_) {
        landSome();
    }
    plan(nowMs);
}

void Pager::refresh(std::int64_t nowMs, RefreshStand stand) {
    finishLanding();
    nowMs_ = nowMs;
    if (!everLoaded_) {
        return retry(nowMs);
    }
    if (refreshing_ || replaceAll_) {
        return;
    }
    ++generation_;
    cancelFrom(nowMs, INT64_MIN, AskOutcome::Replaced);
    for (auto it = pages_.begin(); it != pages_.end();) {
        if (!strip_.isLoaded(it->first)) {
            it = pages_.erase(it);
            continue;
        }
        it->second.isStale = it->second.byRefresh = true;
        it->second.recheckAtMs = nowMs;
        ++it;
    }
    failedHere_.clear();
    noneFrom_ = INT64_MAX;
    refreshFailure_.reset();
    refreshing_ = true;
    refreshPage_ = 0;
    stand_ = stand;
    plan(nowMs);
}

void Pager::requery(std::int64_t nowMs) {
    finishLanding();
    nowMs_ = nowMs;
    queryAtMs_ = nowMs + rules_.debounceMs;
    cancelFrom(nowMs, INT64_MIN, AskOutcome::Replaced); // whatever they bring belongs to another query
    plan(nowMs);
}

void Pager::beginQuery(std::int64_t nowMs) {
    queryAtMs_.reset();
    ++generation_;
    cancelFrom(nowMs, INT64_MIN, AskOutcome::Replaced);
    std::erase_if(pages_, [this](const auto& page) { return !strip_.isLoaded(page.first); });
    failedHere_.clear();
    refreshing_ = false;
    replaceAll_ = true;
}

void Pager::retry(std::int64_t nowMs) {
    finishLanding();
    nowMs_ = nowMs;
    retry_.probeNow();
    failedHere_.clear();
    for (auto& [number, page] : pages_) {
        if (page.status == Status::Failed || page.status == Status::Waiting) {
            page.status = Status::Waiting;
            page.retryAtMs = nowMs;
            page.tries = 0;
            page.byUser = true;
        }
    }
    plan(nowMs);
}

void Pager::streamAdded(std::vector<PageRecord> records) {
    finishLanding();
    for (PageRecord& record : records) {
        auto shown = edits_.overStreamed(std::move(record));
        if (shown && !waiting_.update(*shown) && !strip_.update(*shown)) {
            waiting_.add(std::move(*shown));
        }
    }
    if (everLoaded_ && strip_.places() == 0) {
        showWaiting(); // nobody is reading anything they could move
    }
    settle();
}

void Pager::streamChanged(PageRecord record) {
    finishLanding();
    if (auto shown = edits_.overStreamed(std::move(record)); shown && !waiting_.update(*shown)) {
        (void)strip_.update(std::move(*shown));
    }
    settle();
}

void Pager::streamRemoved(const std::string& key) {
    finishLanding();
    edits_.forget(key);
    waiting_.remove(key);
    (void)strip_.remove(key);
    settle();
}

void Pager::setEdits(std::shared_ptr<const PageEdits> edits) {
    finishLanding();
    edits_.change(std::move(edits), strip_, waiting_, everLoaded_ && !replaceAll_);
    settle();
}

void Pager::agree(const PageEdits& asOne, const RecordEdit& edit) {
    finishLanding();
    edits_.agree(asOne, edit, strip_, waiting_);
    settle();
}

const PageRecord* Pager::shown(const std::string& key) const {
    const PageRecord* found = waiting_.find(key);
    found = found != nullptr ? found : strip_.find(key);
    return found != nullptr ? found : edits_.removed(key);
}

const PageRecord* Pager::find(const std::string& key) const {
    const PageRecord* found = shown(key);
    return found != nullptr && found->served ? found->served.get() : found;
}

void Pager::showWaiting() {
    finishLanding();
    const std::size_t above = static_cast<std::size_t>(strip_.streamedCount()) + waiting_.size();
    if (running_ && everLoaded_ && (!waiting_.isWhole() || above > kMostStreamed)) {
        return refresh(nowMs_, RefreshStand::AtTop);
    }
    strip_.addStreamed(waiting_.take());
    settle();
}

void Pager::replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with) {
    finishLanding();
    strip_.replaceTables(with);
    waiting_.eraseIf([&with](PageRecord& record) {
        const auto now = with.find(record.table.get());
        record.table = now == with.end() ? record.table : now->second;
        return now == with.end(); // of a type that nothing here has any more
    });
    edits_.replaceTables(with);
    settle();
}

PlaceState Pager::stateOfPage(std::int64_t page) const {
    const auto found = pages_.find(page);
    if (found != pages_.end() && found->second.status == Status::InFlight) {
        return PlaceState::InFlight;
    }
    if (page == PageStrip::kStreamed || strip_.isLoaded(page)) {
        return PlaceState::Loaded;
    }
    if (found != pages_.end()) {
        return found->second.status == Status::Failed ? PlaceState::Failed : PlaceState::Waiting;
    }
    return strip_.wasDropped(page) ? PlaceState::Dropped : PlaceState::Unasked;
}

std::optional<std::int64_t> Pager::wakeAtMs() const {
    std::optional<std::int64_t> at;
    const auto add = [&](std::int64_t when) {
        if (when > nowMs_ && (!at || when < *at)) {
            at = when;
        }
    };
    if (!running_) {
        return at;
    }
    if (queryAtMs_) {
        add(*queryAtMs_);
    }
    if (!everLoaded_ && firstAskedMs_) {
        add(*firstAskedMs_ + rules_.firstShownMs);
    }
    for (const auto& [number, page] : pages_) {
        if (page.status == Status::Waiting) {
            add(std::max(page.retryAtMs, retry_.quietUntilMs()));
        } else if (page.status == Status::Loaded && page.isStale) {
            add(std::max(page.recheckAtMs, retry_.quietUntilMs()));
        }
    }
    if (!wanted_.empty()) {
        add(retry_.quietUntilMs());
    }
    return at;
}

/// How many pages may stay, going by the limit in bytes too.
std::int64_t Pager::keepPages() const {
    std::int64_t keep = std::max<std::int64_t>(rules_.keepPages, 1);
    const auto found = static_cast<std::int64_t>(strip_.loaded().size());
    if (rules_.keepBytes > 0 && found > 0 && strip_.loadedBytes() > 0) {
        const std::int64_t each = std::max<std::int64_t>(strip_.loadedBytes() / found, 1);
        keep = std::clamp<std::int64_t>(rules_.keepBytes / each, 1, keep);
    }
    return keep;
}

void Pager::plan(std::int64_t nowMs) {
    if (running_ && !landing_) {
        if (queryAtMs_ && nowMs >= *queryAtMs_) {
            beginQuery(nowMs);
        }
        findWanted();
        cancelLeftBehind(nowMs);
        askWanted(nowMs);
        showPlaceholders(nowMs);
    }
    settle();
}

/// The page of a place, or the nearest one there is.
std::int64_t Pager::pageNear(std::int64_t place) {
    const std::int64_t page = strip_.pageAt(std::clamp<std::int64_t>(place, 0, strip_.places() - 1));
    return page == PageStrip::kStreamed ? strip_.firstPage() : page;
}

/// Places between the window and a page; 0 when it shows. Negative before the window.
std::int64_t Pager::distanceTo(std::int64_t page) {
    if (page >= strip_.endPage()) {
        return std::max<std::int64_t>(strip_.places() - seen_.last, 0) + (page - strip_.endPage()) * served_;
    }
    if (page < strip_.firstPage()) {
        return std::min<std::int64_t>(-1 - seen_.first, 0);
    }
    const std::int64_t start = strip_.placeOf(page);
    const std::int64_t end = start + strip_.countOf(page);
    return start > seen_.last ? start - seen_.last : end <= seen_.first ? end - 1 - seen_.first : 0;
}

/// What lies behind the way the window moves counts as twice as far.
std::int64_t Pager::weight(const Wanted& wanted) const {
    const bool isBehind = seen_.placesPerSecond != 0 && wanted.ahead != (seen_.placesPerSecond > 0);
    return wanted.distance * (isBehind ? 2 : 1);
}

void Pager::addWanted(std::int64_t page, std::int64_t distance, bool isAhead) {
    wanted_.push_back({page, std::abs(distance), isAhead});
}

void Pager::findWanted() {
    wanted_.clear();
    wantFrom_ = 0;
    wantTo_ = -1;
    if (queryAtMs_) {
        return; // still being typed
    }
    if (!everLoaded_ || replaceAll_) {
        return addWanted(startPage(), 0, true);
    }
    const std::int64_t places = strip_.places();
    seen_.first = std::clamp<std::int64_t>(seen_.first, 0, std::max<std::int64_t>(places - 1, 0));
    seen_.last = std::clamp<std::int64_t>(seen_.last, seen_.first, std::max<std::int64_t>(places - 1, 0));
    const std::int64_t shows = seen_.last - seen_.first + 1;
    lead_ = static_cast<std::int64_t>(std::ceil(rules_.leadScreens * static_cast<double>(shows)));
    const auto inTime = static_cast<std::int64_t>(std::abs(seen_.placesPerSecond) *
                                                  static_cast<double>(rules_.leadMs) / 1000);
    wantFrom_ = seen_.first - lead_ - (seen_.placesPerSecond < 0 ? inTime : 0);
    wantTo_ = seen_.last + lead_ + (seen_.placesPerSecond > 0 ? inTime : 0);
    if (places > 0) {
        const std::int64_t keep = keepPages();
        const std::int64_t shown = pageNear(seen_.first);
        const std::int64_t shownLast = pageNear(seen_.last);
        // Pages without places at either end belong to what lies there.
        const std::int64_t first = wantFrom_ <= 0 ? strip_.firstPage() : pageNear(wantFrom_);
        const std::int64_t last =
            std::min(wantTo_ >= places - 1 ? strip_.endPage() - 1 : pageNear(wantTo_), shownLast + keep);
        for (std::int64_t page = shown; page <= last; ++page) {
            addWanted(page, distanceTo(page), true);
        }
        for (std::int64_t page = shown - 1; page >= std::max(first, shown - keep); --page) {
            addWanted(page, distanceTo(page), false);
        }
        std::ranges::stable_sort(wanted_, {}, [this](const Wanted& w) { return weight(w); });
        // More than can stay is not wanted, unless it shows.
        const auto tooMany =
            std::ranges::find_if(wanted_.begin() + std::min<std::ptrdiff_t>(keep, std::ssize(wanted_)),
                                 wanted_.end(), [](const Wanted& w) { return w.distance > 0; });
        wanted_.erase(tooMany, wanted_.end());
    }
    addBeyondEnds();
    if (refreshing_) {
        addWanted(refreshPage_, 0, true);
        std::rotate(wanted_.begin(), wanted_.end() - 1, wanted_.end());
        const auto again = std::ranges::find(wanted_.begin() + 1, wanted_.end(), refreshPage_, &Wanted::page);
        wanted_.erase(again, again == wanted_.end() ? again : again + 1);
    }
    std::erase_if(wanted_, [this](const Wanted& wanted) {
        const auto found = pages_.find(wanted.page);
        return found != pages_.end() && found->second.status == Status::Loaded &&
               (!found->second.isStale || found->second.recheckAtMs > nowMs_);
    });
}

/// Pages after the last one and before the first one, where there may be some.
void Pager::addBeyondEnds() {
    const std::int64_t places = strip_.places();
    const std::int64_t end = strip_.endPage();
    if (wantTo_ >= places && !endKnown_) {
        if (isPositional(rules_.style)) {
            const std::int64_t needed = (wantTo_ + served_ - places) / served_;
            const std::int64_t most =
                std::min(end + std::min<std::int64_t>(needed, rules_.atOnce), noneFrom_);
            for (std::int64_t page = end; page < most; ++page) {
                addWanted(page, distanceTo(page), true);
            }
        } else if (static_cast<std::int64_t>(tokens_.size()) > end) {
            addWanted(end, distanceTo(end), true);
        }
    }
    if (wantFrom_ < 0 && !previousToken_.empty()) {
        addWanted(strip_.firstPage() - 1, distanceTo(strip_.firstPage() - 1), false);
    }
    std::ranges::stable_sort(wanted_, {}, [this](const Wanted& w) { return weight(w); });
}

/// A request for what is well beyond everything wanted is not waited for any more.
void Pager::cancelLeftBehind(std::int64_t nowMs) {
    if (!everLoaded_ || replaceAll_) {
        return;
    }
    const auto isLeft = [&](std::int64_t page) {
        const std::int64_t slack = lead_ + served_;
        const std::int64_t places = strip_.places();
        const std::int64_t start = page >= strip_.endPage()    ? places
                                   : page < strip_.firstPage() ? 0
                                                               : strip_.placeOf(page);
        const std::int64_t end = page >= strip_.endPage() || page < strip_.firstPage()
                                     ? start + 1
                                     : start + std::max<std::int64_t>(strip_.countOf(page), 1);
        return (end <= wantFrom_ - slack || start > wantTo_ + slack) &&
               !(refreshing_ && page == refreshPage_);
    };
    std::vector<std::int64_t> left;
    for (const auto& [page, request] : flying_) {
        if (isLeft(page)) {
            left.push_back(page);
        }
    }
    for (const std::int64_t page : left) {
        cancel(nowMs, page, AskOutcome::Cancelled);
    }
    std::erase_if(failedHere_, [&](std::int64_t page) {
        const bool isWanted = std::ranges::find(wanted_, page, &Wanted::page) != wanted_.end();
        const auto found = pages_.find(page);
        if (!isWanted && found != pages_.end()) {
            found->second.leftBehind = true;
        }
        return !isWanted;
    });
}

PutOff Pager::mayAsk(std::int64_t nowMs, std::int64_t page) const {
    const auto found = pages_.find(page);
    if (found != pages_.end()) {
        const Page& p = found->second;
        if (p.status == Status::InFlight) {
            return PutOff::AlreadyInFlight;
        }
        if (p.status == Status::Failed && !p.leftBehind) {
            return PutOff::GivenUp;
        }
        if (p.status == Status::Waiting && p.retryAtMs > nowMs) {
            return retry_.isOffline() ? PutOff::Offline : PutOff::WaitsToTry;
        }
    }
    if (retry_.quietUntilMs() > nowMs || (retry_.isOffline() && !flying_.empty())) {
        return retry_.isOffline() ? PutOff::Offline : PutOff::WaitsToTry;
    }
    return static_cast<int>(flying_.size()) >= std::max(rules_.atOnce, 1) ? PutOff::EnoughInFlight
                                                                          : PutOff::No;
}

void Pager::askWanted(std::int64_t nowMs) {
    bool told = false;
    for (const Wanted& wanted : wanted_) {
        const PutOff why = mayAsk(nowMs, wanted.page);
        if (why == PutOff::No) {
            ask(nowMs, wanted);
        } else if (!told) {
            told = true;
            putOff(nowMs, wanted, why);
        }
    }
    if (!told && everLoaded_ && !replaceAll_ && endKnown_ && wantTo_ >= strip_.places() &&
        seen_.placesPerSecond > 0) {
        putOff(nowMs, {strip_.endPage(), 0, true}, PutOff::EndKnown);
    }
}

/// Told once for each page and reason in a row, not in every frame.
void Pager::putOff(std::int64_t nowMs, const Wanted& wanted, PutOff why) {
    if (lastPutOff_ == std::pair(wanted.page, why)) {
        return;
    }
    lastPutOff_ = {wanted.page, why};
    RequestRecord record;
    record.page = wanted.page;
    record.generation = generation_;
    record.putOff = why;
    record.outcome = AskOutcome::NotAsked;
    record.askedMs = record.endedMs = nowMs;
    log_.add(std::move(record));
}

AskReason Pager::reasonFor(const Wanted& wanted, const Page& page) const {
    if (page.byUser) {
        return AskReason::User;
    }
    if (page.tries > 0) {
        return AskReason::Again;
    }
    if (replaceAll_) {
        return AskReason::Query;
    }
    if (!everLoaded_) {
        return AskReason::FirstLoad;
    }
    if (page.byRefresh || (refreshing_ && wanted.page == refreshPage_)) {
        return AskReason::Refresh;
    }
    if (page.isStale) {
        return AskReason::Recheck;
    }
    return wanted.distance == 0 ? AskReason::Shows : AskReason::Ahead;
}

const std::string& Pager::tokenOf(std::int64_t page) const {
    static const std::string none;
    if (page < 0) {
        const auto at = static_cast<std::size_t>(-1 - page);
        return at < earlierTokens_.size() ? earlierTokens_[at] : previousToken_;
    }
    return static_cast<std::size_t>(page) < tokens_.size() ? tokens_[static_cast<std::size_t>(page)] : none;
}

void Pager::ask(std::int64_t nowMs, const Wanted& wanted) {
    Page& page = pages_[wanted.page];
    const double shows = static_cast<double>(std::max<std::int64_t>(seen_.last - seen_.first + 1, 1));
    RequestRecord record;
    record.page = wanted.page;
    record.generation = generation_;
    record.why = reasonFor(wanted, page);
    record.screensAhead = static_cast<double>(wanted.ahead ? wanted.distance : -wanted.distance) / shows;
    record.askedMs = nowMs;
    record.tries = ++page.tries;
    page.status = Status::InFlight;
    page.leftBehind = page.byUser = false;
    page.request = log_.add(std::move(record)).number;
    const bool isTop = wanted.page == 0 && strip_.firstPage() == 0; // none that was found earlier is above it
    page.newestStreamed = isTop ? strip_.newestStreamed() : std::string();
    flying_[wanted.page] = page.request;
    lastPutOff_ = {INT64_MIN, PutOff::No};
    if (!everLoaded_ && !firstAskedMs_) {
        firstAskedMs_ = nowMs;
    }
    PageCommand command;
    command.kind = PageCommand::Kind::Ask;
    command.request = page.request;
    command.page = wanted.page;
    command.from = rules_.style == PageStyle::Offset ? wanted.page * served_ : wanted.page;
    command.token = replaceAll_ ? std::string() : tokenOf(wanted.page);
    command.conditional = strip_.isLoaded(wanted.page) && !replaceAll_;
    commands_.push_back(std::move(command));
}

void Pager::cancel(std::int64_t nowMs, std::int64_t page, AskOutcome outcome) {
    const auto flying = flying_.find(page);
    if (RequestRecord* record = log_.find(flying->second)) {
        record->outcome = outcome;
        record->endedMs = nowMs;
    }
    PageCommand command;
    command.kind = PageCommand::Kind::Cancel;
    command.request = flying->second;
    command.page = page;
    commands_.push_back(std::move(command));
    flying_.erase(flying);
    if (strip_.isLoaded(page)) {
        Page& found = pages_[page];
        found.status = Status::Loaded;
        found.tries = 0;
    } else {
        pages_.erase(page);
    }
}

void Pager::cancelFrom(std::int64_t nowMs, std::int64_t page, AskOutcome outcome) {
    while (!flying_.empty() && flying_.rbegin()->first >= page) {
        cancel(nowMs, flying_.rbegin()->first, outcome);
    }
}

/// A first load that takes long enough to be seen shows where items will stand.
void Pager::showPlaceholders(std::int64_t nowMs) {
    if (everLoaded_ || !firstAskedMs_ || nowMs < *firstAskedMs_ + rules_.firstShownMs || flying_.empty() ||
        strip_.places() > 0 || retry_.isOffline()) {
        return;
    }
    makeRoomFor(startPage());
    strip_.append(1, std::min(rules_.size, kMostPlaceholders));
    standAt_ = strip_.placeOf(startPage());
}

void Pager::forget(std::int64_t page) {
    const auto found = pages_.find(page);
    if (found == pages_.end()) {
        return;
    }
    if (found->second.status == Status::InFlight) {
        cancel(nowMs_, page, AskOutcome::Cancelled);
    }
    if (const auto left = pages_.find(page); left != pages_.end()) {
        unconfirmed_ -= left->second.fromDisk ? 1 : 0;
        pages_.erase(left);
    }
}

/// An item view carries something of the page, or soon will.
bool Pager::isAlive(std::int64_t page) {
    const std::int64_t start = strip_.placeOf(page);
    return start <= std::max(seen_.aliveLast, seen_.last) &&
           start + strip_.countOf(page) > std::min(seen_.aliveFirst, seen_.first);
}

/// How far a page is when what lies behind the way the window moves counts as twice as far.
std::int64_t Pager::farness(std::int64_t page) {
    const std::int64_t distance = distanceTo(page);
    return weight({page, std::abs(distance), distance > 0});
}

/// Drops what is farthest from the window until no more is here than may be.
void Pager::evict() {
    const auto& loaded = strip_.loaded();
    const bool isPinned = refreshing_ && loaded.contains(refreshPage_);
    while (static_cast<std::int64_t>(loaded.size()) > std::max<std::int64_t>(keepPages(), isPinned ? 2 : 1)) {
        auto begin = loaded.begin();
        auto end = loaded.rbegin();
        begin = isPinned && begin->first == refreshPage_ ? std::next(begin) : begin;
        end = isPinned && end->first == refreshPage_ ? std::next(end) : end;
        const std::int64_t first = begin->first;
        const std::int64_t last = end->first;
        const bool lastIsFarther = farness(last) > farness(first);
        const std::int64_t farther = lastIsFarther ? last : first;
        const std::int64_t page = !isAlive(farther) ? farther : lastIsFarther ? first : last;
        if (isAlive(page)) {
            break;
        }
        forget(page);
        strip_.drop(page);
    }
    while (pages_.size() > kMostFailed + loaded.size() + flying_.size()) {
        const auto oldest = std::ranges::find_if(
            pages_, [](const auto& page) { return page.second.status == Status::Failed; });
        if (oldest == pages_.end()) {
            break;
        }
        pages_.erase(oldest);
    }
    forgetFar();
}

/// Memory does not grow with the way that was scrolled: of what is farthest, only the length in all is kept,
/// many places at a time, as it is the pieces that cost something.
void Pager::forgetFar() {
    const std::set<std::int64_t>& remembered = strip_.remembered();
    const std::int64_t atATime = std::min(kFarPlaces, rules_.rememberedPlaces / 64 + 1);
    while (std::ssize(remembered) * served_ > rules_.rememberedPlaces + atATime) {
        const bool atEnd = farness(*remembered.rbegin()) > farness(*remembered.begin());
        std::int64_t first = atEnd ? *remembered.rbegin() : *remembered.begin();
        if (isAlive(first)) {
            return;
        }
        std::int64_t last = first;
        std::int64_t& grows = atEnd ? first : last;
        const std::int64_t step = atEnd ? -1 : 1;
        while ((last - first + 1) * served_ < atATime && remembered.contains(grows + step) &&
               !isAlive(grows + step)) {
            grows += step;
        }
        strip_.setFar(first, last - first + 1);
    }
}

/// What every event ends with.
void Pager::settle() {
    if (!landing_) {
        evict();
    }
    for (const PlaceEdit& edit : strip_.takeEdits()) {
        PageCommand command;
        command.kind = PageCommand::Kind::Edit;
        command.edit = edit;
        commands_.push_back(command);
    }
    if (standAt_) {
        PageCommand command;
        command.kind = PageCommand::Kind::StandAt;
        command.place = *std::exchange(standAt_, std::nullopt);
        commands_.push_back(command);
    }
    tail_ = tailNow();
}

TailState Pager::tailNow() {
    const auto found = pages_.find(!everLoaded_ ? startPage() : strip_.endPage());
    const bool isHeld = found != pages_.end();
    const bool isFailed = isHeld && found->second.status == Status::Failed;
    const bool isLost = isHeld && retry_.isOffline() && found->second.tries > 0;
    failure_ = isFailed || isLost ? found->second.failure : PageFailure{};
    if (!everLoaded_) {
        return isFailed || isLost ? TailState::FirstFailed : TailState::FirstLoad;
    }
    if (endKnown_) {
        return strip_.places() == 0 ? TailState::Empty : TailState::End;
    }
    return isFailed || isLost ? TailState::Failed : isHeld ? TailState::Loading : TailState::More;
}

void Pager::checkInvariants() {
    strip_.checkInvariants();
    if (landing_) {
        return;
    }
    std::int64_t unconfirmed = 0;
    for (const auto& [page, request] : flying_) {
        assert(pages_.at(page).status == Status::InFlight && pages_.at(page).request == request);
        (void)request;
    }
    for (const auto& [number, page] : pages_) {
        assert((page.status == Status::InFlight) == flying_.contains(number));
        assert(page.status != Status::Loaded || strip_.isLoaded(number));
        unconfirmed += page.fromDisk ? 1 : 0;
    }
    for (const auto& [page, records] : strip_.loaded()) {
        assert(pages_.contains(page));
        (void)records;
    }
    assert(unconfirmed == unconfirmed_);
    assert(static_cast<int>(flying_.size()) <= std::max(rules_.atOnce, 1));
    (void)unconfirmed;
}

} // namespace scorrere
