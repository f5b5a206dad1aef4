// SPDX-License-Identifier: Apache-2.0
//
// Page and place are turned into each other by the extent index: a page is an item there and its count of
// records its extent, so a million pages nobody has looked at cost nothing, and a page that turns out longer
// moves all behind it in O(log n).
//
// An answer is put in place record by record (page_taking.cpp). A record that another page holds is moved
// over: the newest answer knows best where it is. When a record was inserted at the service between two
// calls, the last one of a page comes again as the first one of the next: moving it over changes nothing on
// screen.
#include "engine/page/page_strip.h"

#include <algorithm>
#include <cassert>
#include <string_view>

namespace scorrere {

namespace {

using Tables = std::map<const RecordTable*, std::shared_ptr<const RecordTable>>;

auto holding(const std::string& key) {
    return [&key](const PageRecord& record) { return record.key == key; };
}

void replaceTable(PageRecord& record, const Tables& with) {
    if (const auto now = with.find(record.table.get()); now != with.end()) {
        record.table = now->second;
    }
    if (record.served) {
        PageRecord served = *record.served;
        replaceTable(served, with);
        record.served = std::make_shared<const PageRecord>(std::move(served));
    }
}

/// Takes out all but the last record of each key; gives how many.
int leaveLastOfEach(std::vector<PageRecord>& records) {
    std::unordered_map<std::string_view, std::size_t> last;
    last.reserve(records.size());
    for (std::size_t i = 0; i < records.size(); ++i) {
        last[records[i].key] = i;
    }
    if (last.size() == records.size()) {
        return 0;
    }
    std::vector<PageRecord> kept;
    for (std::size_t i = 0; i < records.size(); ++i) {
        if (last[records[i].key] == i) {
            kept.push_back(records[i]);
        }
    }
    const auto twice = static_cast<int>(records.size() - kept.size());
    records = std::move(kept);
    return twice;
}

} // namespace

PageStrip::PageStrip(std::int64_t pageSize) {
    setPageSize(pageSize);
}

void PageStrip::setPageSize(std::int64_t places) {
    size_ = places;
    counts_.setEstimate(0, Length::fromRaw(places));
}

std::int64_t PageStrip::pageAt(std::int64_t place) {
    assert(place >= 0 && place < places());
    return place < streamedCount() ? kStreamed
                                   : first_ + counts_.indexAt(Length::fromRaw(place - streamedCount()));
}

std::int64_t PageStrip::placeOf(std::int64_t page) {
    return page == kStreamed ? 0 : streamedCount() + counts_.offsetOf(position(page)).raw();
}

std::int64_t PageStrip::countOf(std::int64_t page) {
    return page == kStreamed ? streamedCount() : counts_.extentOf(position(page)).raw();
}

PageStrip::Records* PageStrip::recordsOf(std::int64_t page) {
    if (page == kStreamed) {
        return &streamed_;
    }
    const auto found = loaded_.find(page);
    return found == loaded_.end() ? nullptr : &found->second;
}

const PageRecord* PageStrip::recordAt(std::int64_t place) {
    const std::int64_t page = pageAt(place);
    if (taking_ && taking_->page() == page) {
        return taking_->at(place - placeOf(page));
    }
    const Records* records = recordsOf(page);
    return records == nullptr ? nullptr : &(*records)[static_cast<std::size_t>(place - placeOf(page))];
}

const PageRecord* PageStrip::find(const std::string& key) const {
    const auto owner = owners_.find(key);
    if (owner == owners_.end()) {
        return nullptr;
    }
    if (taking_ && taking_->page() == owner->second) {
        return taking_->find(key);
    }
    const Records& records = owner->second == kStreamed ? streamed_ : loaded_.at(owner->second);
    return &*std::ranges::find_if(records, holding(key));
}

std::optional<std::int64_t> PageStrip::pageOf(const std::string& key) const {
    const auto owner = owners_.find(key);
    return owner == owners_.end() ? std::nullopt : std::optional(owner->second);
}

const std::vector<PageRecord>& PageStrip::recordsOn(std::int64_t page) const {
    return page == kStreamed ? streamed_ : loaded_.at(page);
}

std::optional<std::int64_t> PageStrip::placeOfKey(const std::string& key) {
    const auto owner = owners_.find(key);
    if (owner == owners_.end()) {
        return std::nullopt;
    }
    const Records& records = *recordsOf(owner->second);
    return placeOf(owner->second) + (std::ranges::find_if(records, holding(key)) - records.begin());
}

/// Edits that go on where the last one ended become one with it.
void PageStrip::note(PlaceEdit::Kind kind, std::int64_t place, std::int64_t count) {
    if (count == 0 && kind != PlaceEdit::Kind::Move) {
        return;
    }
    if (!edits_.empty() && kind != PlaceEdit::Kind::Move && edits_.back().kind == kind) {
        PlaceEdit& last = edits_.back();
        const bool on =
            kind == PlaceEdit::Kind::Erase ? place == last.place : place == last.place + last.count;
        if (on) {
            last.count += count;
            return;
        }
    }
    edits_.push_back({kind, place, count});
}

void PageStrip::resize(std::int64_t page, std::int64_t places) {
    if (page != kStreamed) {
        counts_.setMeasured(position(page), Length::fromRaw(places));
    }
}

void PageStrip::append(std::int64_t pages, std::int64_t each) {
    const std::int64_t at = places();
    const std::int64_t page = endPage();
    counts_.insert(counts_.size(), pages, 0);
    if (each == size_) {
        note(PlaceEdit::Kind::Insert, at, pages * each);
        return;
    }
    for (std::int64_t i = 0; i < pages; ++i) {
        resize(page + i, each);
    }
    note(PlaceEdit::Kind::Insert, at, pages * each);
}

void PageStrip::prepend() {
    counts_.insert(0, 1, 0);
    --first_;
    resize(first_, 0);
}

void PageStrip::setCount(std::int64_t page, std::int64_t places) {
    assert(!isLoaded(page));
    const std::int64_t before = countOf(page);
    const std::int64_t end = placeOf(page) + before;
    resize(page, places);
    note(places > before ? PlaceEdit::Kind::Insert : PlaceEdit::Kind::Erase,
         std::min(end, end + places - before), std::abs(places - before));
}

PageStrip::Taken PageStrip::take(std::int64_t page, std::vector<PageRecord> records, std::int64_t bytes) {
    beginTaking(page, std::move(records), bytes);
    return *takeSome(INT64_MAX);
}

void PageStrip::beginTaking(std::int64_t page, std::vector<PageRecord> records, std::int64_t bytes) {
    assert(!isTaking());
    taken_ = {};
    taken_.twice = leaveLastOfEach(records);
    // What stands on the page now: records, or places nobody has filled.
    std::vector<PageTaking::Slot> slots(static_cast<std::size_t>(countOf(page)));
    if (Records* here = recordsOf(page)) {
        for (std::size_t i = 0; i < slots.size(); ++i) {
            slots[i] = std::move((*here)[i]);
        }
        here->clear();
    }
    taking_.emplace(page, std::move(slots), std::move(records));
    takingBytes_ = bytes;
}

std::optional<PageStrip::Taken> PageStrip::takeSome(std::int64_t most) {
    std::map<std::int64_t, Robbed> robbed;
    for (std::int64_t i = 0; i < most && !taking_->isDone(); ++i) {
        takeOne(robbed);
    }
    for (auto& page : robbed) {
        Robbed& here = page.second;
        std::size_t at = 0;
        std::erase_if(*here.records, [&](const PageRecord&) { return !here.left.has(at++); });
    }
    return taking_->isDone() ? std::optional(endTaking()) : std::nullopt;
}

/// The next record of the answer: by the shortest edit that brings it to its place.
void PageStrip::takeOne(std::map<std::int64_t, Robbed>& robbed) {
    PageTaking& taking = *taking_;
    const std::int64_t page = taking.page();
    const PageRecord& record = taking.coming();
    const std::int64_t place = placeOf(page) + static_cast<std::int64_t>(taking.next());
    const auto [owner, isFresh] = owners_.try_emplace(record.key, page);
    if (isFresh) {
        ++taken_.fresh;
        if (taking.isNextEmpty()) {
            note(PlaceEdit::Kind::Refill, place, 1);
            taking.takeEmpty();
        } else {
            note(PlaceEdit::Kind::Insert, place, 1);
            taking.takeBetween();
            resize(page, taking.count());
        }
        return;
    }
    std::uint64_t before = 0;
    if (owner->second == page) {
        const PageTaking::Before there = *taking.before();
        before = there.content;
        const std::int64_t from = placeOf(page) + there.place;
        if (from != place) {
            note(PlaceEdit::Kind::Move, from, place);
        }
        taking.takeOldPlace();
    } else {
        const std::int64_t other = std::exchange(owner->second, page);
        before = takeFrom(other, record.key, robbed);
    }
    const std::int64_t now = placeOf(page) + static_cast<std::int64_t>(taking.next()) - 1;
    const bool isChanged = record.content != before;
    ++(isChanged ? taken_.changed : taken_.known);
    if (isChanged) {
        note(PlaceEdit::Kind::Refill, now, 1);
    }
}

/// The record that comes is another page's: it moves over. Gives what it held there.
std::uint64_t PageStrip::takeFrom(std::int64_t other, const std::string& key,
                                  std::map<std::int64_t, Robbed>& robbed) {
    PageTaking& taking = *taking_;
    Records& theirs = *recordsOf(other);
    std::uint64_t content = 0;
    std::int64_t from = 0;
    if (other == kStreamed) { // their places follow from how many there are: out at once
        const auto here = std::ranges::find_if(theirs, holding(key));
        content = here->content;
        from = here - theirs.begin();
        theirs.erase(here);
    } else {
        Robbed& page = robbed.try_emplace(other, theirs).first->second;
        const std::size_t at = page.at.find(key)->second;
        content = theirs[at].content;
        from = placeOf(other) + static_cast<std::int64_t>(page.left.before(at));
        page.left.take(at);
        resize(other, static_cast<std::int64_t>(page.left.count()));
    }
    taking.takeBetween();
    resize(taking.page(), taking.count());
    const std::int64_t to = placeOf(taking.page()) + static_cast<std::int64_t>(taking.next()) - 1;
    if (from != to) {
        note(PlaceEdit::Kind::Move, from, to);
    }
    if (std::ranges::find(taken_.from, other) == taken_.from.end()) {
        taken_.from.push_back(other);
    }
    return content;
}

PageStrip::Taken PageStrip::endTaking() {
    const std::int64_t page = taking_->page();
    for (const std::string& key : taking_->leftKeys()) {
        ++taken_.gone;
        owners_.erase(key);
    }
    note(PlaceEdit::Kind::Erase, placeOf(page) + static_cast<std::int64_t>(taking_->next()),
         taking_->leftCount());
    Records& here = loaded_[page];
    here = taking_->takeRecords();
    taking_.reset();
    resize(page, static_cast<std::int64_t>(here.size()));
    bytes_ += takingBytes_ - std::exchange(loadedBytes_[page], takingBytes_);
    dropped_.erase(page);
    remembered_.erase(page);
    return std::exchange(taken_, {});
}

PageStrip::Robbed::Robbed(Records& of) : records(&of), left(of.size()) {
    at.reserve(of.size());
    for (std::size_t i = 0; i < of.size(); ++i) {
        at.emplace(of[i].key, i);
    }
}

void PageStrip::forget(std::int64_t page) {
    const auto here = loaded_.find(page);
    if (here == loaded_.end()) {
        return;
    }
    for (const PageRecord& record : here->second) {
        owners_.erase(record.key);
    }
    loaded_.erase(here);
    bytes_ -= loadedBytes_[page];
    loadedBytes_.erase(page);
}

void PageStrip::drop(std::int64_t page) {
    assert(!isTaking());
    resize(page, countOf(page)); // it keeps its length whatever pages are thought to have
    forget(page);
    dropped_.insert(page);
    remembered_.insert(page);
    note(PlaceEdit::Kind::Refill, placeOf(page), countOf(page));
}

void PageStrip::setFar(std::int64_t page, std::int64_t pages) {
    const std::int64_t place = placeOf(page);
    const std::int64_t end = placeOf(page + pages);
    if (end > place) {
        edits_.push_back({PlaceEdit::Kind::Far, place, end - place});
    }
    remembered_.erase(remembered_.lower_bound(page), remembered_.lower_bound(page + pages));
}

void PageStrip::cutFrom(std::int64_t page) {
    if (page >= endPage()) {
        return;
    }
    assert(!isTaking());
    const std::int64_t from = placeOf(page);
    note(PlaceEdit::Kind::Erase, from, places() - from);
    while (!loaded_.empty() && loaded_.rbegin()->first >= page) {
        forget(loaded_.rbegin()->first);
    }
    dropped_.cutFrom(page);
    remembered_.erase(remembered_.lower_bound(page), remembered_.end());
    counts_.erase(position(page), counts_.size() - position(page));
}

void PageStrip::clear() {
    note(PlaceEdit::Kind::Erase, 0, places());
    counts_.erase(0, counts_.size());
    loaded_.clear();
    loadedBytes_.clear();
    bytes_ = 0;
    streamed_.clear();
    owners_.clear();
    remembered_.clear();
    dropped_.clear();
    taking_.reset();
    first_ = 0;
}

void PageStrip::addStreamed(std::vector<PageRecord> records) {
    std::erase_if(records, [this](PageRecord& record) { return update(record); });
    (void)leaveLastOfEach(records);
    for (const PageRecord& record : records) {
        owners_.emplace(record.key, kStreamed);
    }
    note(PlaceEdit::Kind::Insert, 0, static_cast<std::int64_t>(records.size()));
    streamed_.insert(streamed_.begin(), std::make_move_iterator(records.begin()),
                     std::make_move_iterator(records.end()));
}

bool PageStrip::isStreamed(const std::string& key) const {
    const auto owner = owners_.find(key);
    return owner != owners_.end() && owner->second == kStreamed;
}

std::vector<std::string> PageStrip::streamedAbove(const std::string& key) const {
    std::vector<std::string> keys;
    for (auto record = streamed_.begin(); record != streamed_.end() && record->key != key; ++record) {
        keys.push_back(record->key);
    }
    return keys;
}

void PageStrip::cutStreamed(std::int64_t left) {
    note(PlaceEdit::Kind::Erase, left, streamedCount() - left);
    for (auto record = streamed_.begin() + left; record != streamed_.end(); ++record) {
        owners_.erase(record->key);
    }
    streamed_.resize(static_cast<std::size_t>(left));
}

bool PageStrip::update(PageRecord record) {
    const auto owner = owners_.find(record.key);
    if (owner == owners_.end()) {
        return false;
    }
    Records& records = *recordsOf(owner->second);
    const auto here = std::ranges::find_if(records, holding(record.key));
    if (here->content != record.content) {
        note(PlaceEdit::Kind::Refill, placeOf(owner->second) + (here - records.begin()), 1);
    }
    *here = std::move(record); // what its service has under an edit may be other
    return true;
}

bool PageStrip::remove(const std::string& key) {
    const auto owner = owners_.find(key);
    if (owner == owners_.end()) {
        return false;
    }
    const std::int64_t page = owner->second;
    Records& records = *recordsOf(page);
    const auto here = std::ranges::find_if(records, holding(key));
    note(PlaceEdit::Kind::Erase, placeOf(page) + (here - records.begin()), 1);
    records.erase(here);
    resize(page, static_cast<std::int64_t>(records.size()));
    owners_.erase(owner);
    return true;
}

void PageStrip::insert(std::int64_t page, std::int64_t at, PageRecord record) {
    assert(!isTaking());
    Records& records = *recordsOf(page);
    owners_.emplace(record.key, page);
    note(PlaceEdit::Kind::Insert, placeOf(page) + at, 1);
    records.insert(records.begin() + at, std::move(record));
    resize(page, static_cast<std::int64_t>(records.size()));
}

void PageStrip::replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with) {
    const auto replace = [&with](Records& records) {
        for (PageRecord& record : records) {
            replaceTable(record, with);
        }
    };
    for (auto& [page, records] : loaded_) {
        replace(records);
    }
    replace(streamed_);
    note(PlaceEdit::Kind::Refill, 0, places());
}

void PageStrip::checkInvariants() {
    if (isTaking()) {
        return; // between two pages' states
    }
    counts_.checkInvariants();
    std::size_t records = streamed_.size();
    std::int64_t bytes = 0;
    for (const auto& [page, here] : loaded_) {
        assert(page >= firstPage() && page < endPage());
        assert(countOf(page) == static_cast<std::int64_t>(here.size()));
        for ([[maybe_unused]] const PageRecord& record : here) {
            assert(owners_.at(record.key) == page);
        }
        records += here.size();
        bytes += loadedBytes_.at(page);
    }
    for ([[maybe_unused]] const std::int64_t page : remembered_) {
        assert(wasDropped(page) && !isLoaded(page) && page >= firstPage() && page < endPage());
    }
    for ([[maybe_unused]] const PageRecord& record : streamed_) {
        assert(owners_.at(record.key) == kStreamed);
    }
    assert(owners_.size() == records);
    assert(bytes == bytes_);
    (void)records;
    (void)bytes;
}

} // namespace scorrere
