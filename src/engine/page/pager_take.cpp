// SPDX-License-Identifier: Apache-2.0
//
// What becomes of an answer. Services change between two calls; nothing here believes that they do not. What
// an answer contradicts is looked at again before long, and only while it is near the window.
#include "engine/page/pager.h"

#include "engine/base/fnv.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

namespace {

constexpr std::int64_t kMostTakenAtOnce = 1000; ///< records put in their place in a frame
constexpr std::int64_t kRecheckMs = 3000; ///< a page is not looked at again sooner, whatever contradicts it
constexpr int kMostAlike = 3;             ///< pages in a row with the same keys: the service repeats itself

std::uint64_t likenessOf(const std::vector<PageRecord>& records) {
    Fnv hash;
    for (const PageRecord& record : records) {
        hash.add(record.key);
        hash.addEnd();
    }
    return hash.value();
}

} // namespace

std::optional<std::int64_t> Pager::pageOf(std::int64_t request) const {
    const auto flying =
        std::ranges::find_if(flying_, [request](const auto& found) { return found.second == request; });
    return flying == flying_.end() ? std::nullopt : std::optional(flying->first);
}

void Pager::confirm(Page& page) {
    unconfirmed_ -= page.fromDisk ? 1 : 0;
    page.isStale = std::exchange(page.isDoubted, false);
    page.fromDisk = page.byRefresh = false;
    page.recheckAtMs = nowMs_ + kRecheckMs;
    page.tries = 0;
    page.failure = {};
}

void Pager::answered(std::int64_t nowMs, std::int64_t request, PageAnswer answer) {
    finishLanding();
    nowMs_ = nowMs;
    const auto page = pageOf(request);
    if (!page) {
        return; // of an old generation, or cancelled: it changes nothing
    }
    RequestRecord* record = log_.find(request);
    if (answer.fromDisk) {
        if (!strip_.isLoaded(*page) && !answer.records.empty()) {
            if (record != nullptr) {
                record->fromDisk = true;
            }
            takePage(*page, std::move(answer), nullptr);
        }
        return plan(nowMs);
    }
    flying_.erase(*page);
    if (retry_.isOffline()) { // it is there again: what waited for that need not wait any more
        for (auto& [number, found] : pages_) {
            found.retryAtMs = found.status == Status::Waiting ? nowMs : found.retryAtMs;
        }
    }
    retry_.succeeded();
    if (record != nullptr) {
        record->endedMs = nowMs;
        record->times = answer.times;
        record->bytes = answer.bytes;
        record->outcome = answer.unchanged ? AskOutcome::Unchanged : AskOutcome::Came;
    }
    if (!answer.unchanged) {
        takePage(*page, std::move(answer), record);
    } else if (strip_.isLoaded(*page)) {
        Page& found = pages_[*page];
        found.status = Status::Loaded;
        confirm(found);
        finishRefresh(*page);
    } else {
        pages_.erase(*page); // dropped meanwhile: asked for again when it is wanted
    }
    plan(nowMs);
}

void Pager::failed(std::int64_t nowMs, std::int64_t request, const PageFailure& failure) {
    finishLanding();
    nowMs_ = nowMs;
    const auto number = pageOf(request);
    if (!number) {
        return;
    }
    if (RequestRecord* record = log_.find(request)) {
        record->endedMs = nowMs;
        record->times = failure.times;
        record->outcome = AskOutcome::Failed;
        record->message = failure.message;
    }
    flying_.erase(*number);
    Page& page = pages_[*number];
    page.failure = failure;
    page.status = strip_.isLoaded(*number) ? Status::Loaded : Status::Waiting;
    const bool isBeyond = everLoaded_ && !replaceAll_ && *number >= strip_.endPage();
    const auto again = retry_.failed(nowMs, failure, page.tries);
    if (failure.kind == PageFailure::Kind::NoSuch && isBeyond) {
        pages_.erase(*number);
        endAt(*number);
    } else if (again) {
        page.retryAtMs = page.recheckAtMs = *again;
        if (failure.kind == PageFailure::Kind::Offline && refreshing_ && *number == refreshPage_) {
            refreshing_ = false; // old records stay; what is stale is looked at when the service is back
            refreshFailure_ = failure;
        }
        if (failure.kind == PageFailure::Kind::Offline && !everLoaded_) {
            strip_.clear(); // placeholders would promise what may not come
        }
    } else {
        giveUp(*number);
    }
    plan(nowMs);
}

void Pager::giveUp(std::int64_t number) {
    if (refreshing_ && number == refreshPage_) {
        refreshing_ = false;
        refreshFailure_ = pages_[number].failure;
    }
    if (replaceAll_) { // what shows belongs to another query: it cannot stay
        const Page lost = pages_[number];
        startAnew();
        everLoaded_ = false;
        pages_[number] = lost;
    }
    Page& page = pages_[number];
    if (strip_.isLoaded(number)) {
        page.recheckAtMs = nowMs_ + rules_.mostBackOffMs;
        page.tries = 0;
        return;
    }
    page.status = Status::Failed;
    page.leftBehind = false;
    failedHere_.push_back(number);
    if (!everLoaded_) {
        strip_.clear();
    }
}

/// Another query's first answer is here, or will not come: nothing of the one before stays.
void Pager::startAnew() {
    strip_.clear();
    strip_.setPageSize(rules_.size);
    served_ = rules_.size;
    pages_.clear();
    failedHere_.clear();
    tokens_.clear();
    earlierTokens_.clear();
    previousToken_.clear();
    waiting_.clear();
    edits_.clear();
    total_.reset();
    unconfirmed_ = 0;
    endKnown_ = replaceAll_ = everLoaded_ = false;
    noneFrom_ = INT64_MAX;
    alike_ = 0;
}

void Pager::takePage(std::int64_t page, PageAnswer answer, RequestRecord* record) {
    const auto came = static_cast<std::int64_t>(answer.records.size());
    const bool fromDisk = answer.fromDisk;
    const Page asked = pages_[page];
    if (replaceAll_) {
        startAnew();
        pages_[page] = asked;
    }
    const bool isFirst = !std::exchange(everLoaded_, true);
    noticeSize(page, came, answer);
    if (answer.total && isPositional(rules_.style)) {
        setTotal(page, *answer.total);
    } else {
        total_ = answer.total ? answer.total : total_;
    }
    const bool isLast =
        page >= strip_.endPage() || (page + 1 == strip_.endPage() && !strip_.isLoaded(page) && !total_);
    if (came == 0 && page > 0 && isLast && (isPositional(rules_.style) || answer.next.empty())) {
        pages_.erase(page);
        endAt(page);
        return finishRefresh(page);
    }
    makeRoomFor(page);
    const std::uint64_t likeness = likenessOf(answer.records);
    const std::int64_t to = came > 0 && !fromDisk ? noticeRepeat(page, likeness) : page;
    const std::vector<std::string> newer = asked.newestStreamed.empty()
                                               ? std::vector<std::string>()
                                               : strip_.streamedAbove(asked.newestStreamed);
    Landing landing{page, to, came, likeness, newer, asked.newestStreamed, isFirst, {}, 0};
    landing.request = record == nullptr ? 0 : record->number;
    edits_.overAnswer(to, answer.records);
    strip_.beginTaking(to, std::move(answer.records), answer.bytes);
    landing.answer = std::move(answer);
    landing_ = std::move(landing);
    landSome();
}

/// As much of the answer as a frame has room for.
void Pager::landSome() {
    if (const auto taken = strip_.takeSome(kMostTakenAtOnce)) {
        land(*std::exchange(landing_, std::nullopt), *taken);
    }
}

/// What else happens must not meet an answer that is half in its place.
void Pager::finishLanding() {
    if (landing_) {
        const auto taken = strip_.takeSome(INT64_MAX);
        land(*std::exchange(landing_, std::nullopt), *taken);
    }
}

/// The answer is in its place.
void Pager::land(const Landing& landing, const PageStrip::Taken& taken) {
    const auto& [page, to, came, likeness, newer, newestStreamed, isFirst, answer, request] = landing;
    const bool fromDisk = answer.fromDisk;
    RequestRecord* record = log_.find(request);
    if (page == 0 && !fromDisk && !newestStreamed.empty()) {
        // The service has told what stands on top: what came live before that and is not on this page
        // comes with the next ones, or it would stand above what is newer.
        strip_.cutStreamed(
            std::ranges::count_if(newer, [this](const std::string& key) { return strip_.isStreamed(key); }));
    }
    Page& found = pages_[to];
    found.status = fromDisk ? Status::InFlight : Status::Loaded;
    found.likeness = likeness;
    confirm(found);
    if (fromDisk) {
        found.fromDisk = found.isStale = true;
        ++unconfirmed_;
    }
    if (record != nullptr) {
        record->fresh = taken.fresh;
        record->known = taken.known;
        record->changed = taken.changed;
        record->gone = taken.gone;
    }
    if (to != page) {
        report(PageFinding::Kind::SamePage, page,
               fmt::format("page {} brings the same records as page {}: asking on was stopped", page + 1,
                           to + 1));
        endAt(to + 1);
    } else {
        noticeTaken(page, taken);
        linkChain(page, answer);
        findEnd(page, came, answer);
    }
    if (isFirst) {
        const std::int64_t within = isPositional(rules_.style) ? rules_.firstRecord % served_ : 0;
        standAt_ = strip_.placeOf(to) + std::min(within, std::max<std::int64_t>(strip_.countOf(to) - 1, 0));
    }
    edits_.keepInserted(strip_, waiting_);
    if (!fromDisk) {
        finishRefresh(page);
    }
}

/// Pages between the last one and this one are there, or this one would be empty.
void Pager::makeRoomFor(std::int64_t page) {
    if (page > strip_.endPage()) {
        strip_.append(page - strip_.endPage(), served_);
    }
    if (page == strip_.endPage() && everLoaded_) {
        strip_.append(1, 0);
    }
    while (page < strip_.firstPage()) {
        strip_.prepend();
    }
}

/// Some services give fewer than they are asked for: their pages start elsewhere than one would think.
void Pager::noticeSize(std::int64_t page, std::int64_t came, const PageAnswer& answer) {
    // Fewer than asked for may be all there is; more are a service that was not asked how many it should
    // give.
    const bool isFewer = came < served_ && answer.total && page * served_ + came < *answer.total;
    if (!isPositional(rules_.style) || came == 0 || !(isFewer || came > served_) ||
        !strip_.loaded().empty()) {
        return;
    }
    report(PageFinding::Kind::OtherSize, page,
           fmt::format("{} records were asked for, and a page has {}", served_, came));
    strip_.clear();
    served_ = came;
    strip_.setPageSize(came);
}

void Pager::setTotal(std::int64_t page, std::int64_t total) {
    if (total_ && *total_ != total) {
        report(PageFinding::Kind::Total, page,
               fmt::format("the total went from {} to {} between two answers", *total_, total));
        for (const auto& loaded : strip_.loaded()) {
            if (loaded.first != page) {
                suspect(loaded.first);
            }
        }
    }
    total_ = total;
    const std::int64_t pages = (std::max<std::int64_t>(total, 0) + served_ - 1) / served_;
    const std::int64_t here = strip_.loaded().empty() ? 0 : strip_.loaded().rbegin()->first + 1;
    const std::int64_t end = std::max(pages, here);
    if (end < strip_.endPage()) {
        endAt(end);
    }
    if (end > strip_.endPage()) {
        const std::int64_t last = strip_.endPage() - 1;
        if (last >= 0 && !strip_.isLoaded(last)) {
            strip_.setCount(last, served_);
        }
        strip_.append(end - strip_.endPage(), served_);
    }
    if (pages > 0 && pages == strip_.endPage() && !strip_.isLoaded(pages - 1)) {
        strip_.setCount(pages - 1, total - (pages - 1) * served_);
    }
    endKnown_ = true;
}

/// A page that is like the ones before it may be one that moved; like three in a row it is a service that
/// says the same for ever. Gives the page whose records they are.
std::int64_t Pager::noticeRepeat(std::int64_t page, std::uint64_t likeness) {
    if (alike_ == 0 || likeness != lastLikeness_) {
        lastLikeness_ = likeness;
        lowestLike_ = lastLike_ = page;
        alike_ = 1;
        return page;
    }
    lowestLike_ = std::min(lowestLike_, page);
    alike_ += std::exchange(lastLike_, page) != page ? 1 : 0;
    return alike_ >= kMostAlike ? lowestLike_ : page;
}

void Pager::noticeTaken(std::int64_t page, const PageStrip::Taken& taken) {
    if (taken.twice > 0) {
        report(PageFinding::Kind::Twice, page,
               fmt::format("page {} brings {} with a key that it has again", page + 1,
                           taken.twice == 1 ? "a record" : fmt::format("{} records", taken.twice)));
    }
    for (const std::int64_t other : taken.from) {
        if (other == PageStrip::kStreamed) {
            continue;
        }
        report(PageFinding::Kind::Drift, page,
               fmt::format("page {} brings what page {} had: the order changed between the two answers",
                           page + 1, other + 1));
        for (auto between = strip_.loaded().lower_bound(std::min(page, other));
             between != strip_.loaded().end() && between->first <= std::max(page, other); ++between) {
            if (between->first != page) {
                suspect(between->first);
            }
        }
        if (pages_[other].likeness == pages_[page].likeness) {
            pages_[other].recheckAtMs = nowMs_; // does the service say the same for ever?
        }
    }
    waiting_.eraseIf([this](const PageRecord& record) { return strip_.find(record.key) != nullptr; });
}

void Pager::linkChain(std::int64_t page, const PageAnswer& answer) {
    if (isPositional(rules_.style)) {
        return;
    }
    if (page == strip_.firstPage()) {
        if (page < 0) {
            earlierTokens_.resize(static_cast<std::size_t>(-page), previousToken_);
        }
        previousToken_ = answer.previous;
    }
    if (page < 0) {
        return;
    }
    const std::string here = tokenOf(page);
    const auto after = static_cast<std::size_t>(page) + 1;
    if (answer.next.empty()) {
        return endAt(page + 1);
    }
    if (page > 0 && answer.next == here) {
        report(PageFinding::Kind::SamePage, page,
               fmt::format("page {} says that it follows itself: asking on was stopped", page + 1));
        return endAt(page + 1);
    }
    tokens_.resize(std::max(tokens_.size(), after + 1));
    if (tokens_[after] != answer.next) {
        tokens_[after] = answer.next;
        if (flying_.contains(page + 1)) {
            cancel(nowMs_, page + 1, AskOutcome::Replaced); // it asks at the old place
        }
        if (strip_.isLoaded(page + 1)) {
            suspect(page + 1);
            pages_[page + 1].recheckAtMs = nowMs_;
        }
    }
}

void Pager::findEnd(std::int64_t page, std::int64_t came, const PageAnswer& answer) {
    if (page + 1 != strip_.endPage()) {
        return;
    }
    if (!isPositional(rules_.style)) {
        endKnown_ = endKnown_ && answer.next.empty();
    } else if (!total_) {
        noneFrom_ = noneFrom_ <= page ? INT64_MAX : noneFrom_;
        endKnown_ = came < served_ || strip_.endPage() == noneFrom_;
        if (endKnown_) {
            cancelFrom(nowMs_, page + 1, AskOutcome::Cancelled);
        }
    } else if (came == 0 && page > 0) {
        report(PageFinding::Kind::EmptyPage, page,
               fmt::format("page {} is empty, though {} records are said to be there", page + 1, *total_));
    }
}

void Pager::suspect(std::int64_t page) {
    if (const auto found = pages_.find(page); found != pages_.end()) {
        found->second.isStale = true;
        found->second.isDoubted = found->second.status == Status::InFlight;
    }
}

/// Nothing stands at that page or after it. Pages before it that are still in flight may be there or not.
void Pager::endAt(std::int64_t page) {
    noneFrom_ = page;
    cancelFrom(nowMs_, page, AskOutcome::Cancelled);
    strip_.cutFrom(page);
    while (!pages_.empty() && pages_.rbegin()->first >= page) {
        unconfirmed_ -= pages_.rbegin()->second.fromDisk ? 1 : 0;
        pages_.erase(std::prev(pages_.end()));
    }
    if (page >= 0) {
        tokens_.resize(std::min(tokens_.size(), static_cast<std::size_t>(page)));
    }
    endKnown_ = page <= strip_.endPage();
}

void Pager::finishRefresh(std::int64_t page) {
    if (!refreshing_ || page != refreshPage_) {
        return;
    }
    refreshing_ = false;
    if (stand_ == RefreshStand::AtTop) {
        waiting_.clear();
        standAt_ = 0;
    }
}

void Pager::report(PageFinding::Kind kind, std::int64_t page, std::string text) {
    const auto known = std::ranges::find(findings_, kind, &PageFinding::kind);
    if (known != findings_.end()) {
        ++known->count;
    } else {
        findings_.push_back({kind, page, 1, std::move(text)});
    }
}

} // namespace scorrere
