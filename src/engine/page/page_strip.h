// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/extent_index.h"
#include "engine/page/page_records.h"
#include "engine/page/page_set.h"
#include "engine/page/page_taking.h"

#include <map>
#include <set>
#include <unordered_map>
#include <utility>

namespace scorrere {

/// The pages of a collection in order, which of their records are here, and at which places they stand.
///
/// Before the first page stand the records that came live. A page has a count of places whether its records
/// are here or not: as many as it had when it was last here, or as many as one is thought to have. A key
/// stands at one place: the newest answer that brings it owns it.
///
/// Units       Pages are numbered; earlier ones that are found later have negative numbers. Places count
///             records from 0.
/// Complexity  n = pages. Finding a place or a page is O(log n); taking a page is O(its records * log n).
/// Ownership   Shares the records' tables.
/// Threads     As ExtentIndex: sole access.
class PageStrip {
public:
    static constexpr std::int64_t kStreamed = INT64_MIN; ///< the "page" of what came live

    struct Taken {
        int fresh = 0;                  ///< records nobody had
        int known = 0;                  ///< as they were
        int changed = 0;                ///< here already, with other values
        int gone = 0;                   ///< were on this page and are on none now
        int twice = 0;                  ///< the answer itself had their key again later
        std::vector<std::int64_t> from; ///< pages that lost records to this one
    };

    explicit PageStrip(std::int64_t pageSize);

    std::int64_t firstPage() const { return first_; }
    std::int64_t endPage() const { return first_ + counts_.size(); }
    std::int64_t places() { return streamedCount() + counts_.total().raw(); }
    std::int64_t streamedCount() const { return static_cast<std::int64_t>(streamed_.size()); }
    /// The page a place is on, or kStreamed. Requires: 0 <= place < places().
    std::int64_t pageAt(std::int64_t place);
    std::int64_t placeOf(std::int64_t page);
    std::int64_t countOf(std::int64_t page);
    bool isLoaded(std::int64_t page) const { return loaded_.contains(page); }
    /// It was here once and was dropped.
    bool wasDropped(std::int64_t page) const { return dropped_.contains(page); }
    /// Pages whose records are here, in order.
    const std::map<std::int64_t, std::vector<PageRecord>>& loaded() const { return loaded_; }
    std::int64_t loadedBytes() const { return bytes_; }
    /// What stands at a place; null: its page is not here.
    const PageRecord* recordAt(std::int64_t place);
    /// The record of that key, if it is here.
    const PageRecord* find(const std::string& key) const;
    /// The page that record is on, or kStreamed; nothing: it is not here.
    std::optional<std::int64_t> pageOf(const std::string& key) const;
    /// Of a page that is here, or kStreamed.
    const std::vector<PageRecord>& recordsOn(std::int64_t page) const;
    std::optional<std::int64_t> placeOfKey(const std::string& key);

    /// Pages that are not asked for yet, `each` places long, after the last one.
    void append(std::int64_t pages, std::int64_t each);
    /// One page without places before the first one.
    void prepend();
    /// How many places a page has that is not here.
    void setCount(std::int64_t page, std::int64_t places);
    /// How long pages nobody has looked at are thought to be.
    void setPageSize(std::int64_t places);
    /// Puts an answer in a page's place.
    Taken take(std::int64_t page, std::vector<PageRecord> records, std::int64_t bytes);
    /// The same in slices, for an answer that is more than a frame has room for: takeSome() puts in at most
    /// so many records, and gives the outcome with the last. Between, places and records are as far as it
    /// got, and no page may be taken, dropped or cut, nor a record that came live be put in; clear() gives it
    /// up.
    void beginTaking(std::int64_t page, std::vector<PageRecord> records, std::int64_t bytes);
    std::optional<Taken> takeSome(std::int64_t most);
    bool isTaking() const { return taking_.has_value(); }
    void drop(std::int64_t page);
    /// Dropped pages whose places are remembered one by one, in order.
    const std::set<std::int64_t>& remembered() const { return remembered_; }
    /// From now on `pages` of them, side by side and the first one `page`, are remembered by their length in
    /// all.
    void setFar(std::int64_t page, std::int64_t pages);
    /// Every page from this one on goes.
    void cutFrom(std::int64_t page);
    void clear();

    /// Records that came live go above all others; those with a key that is here replace it.
    void addStreamed(std::vector<PageRecord> records);
    bool isStreamed(const std::string& key) const;
    /// The key of the newest one that came live; empty: none is here.
    std::string newestStreamed() const { return streamed_.empty() ? std::string() : streamed_.front().key; }
    /// The keys of those above that one; of all when it is gone.
    std::vector<std::string> streamedAbove(const std::string& key) const;
    /// Those that came live go, but for the newest `left`.
    void cutStreamed(std::int64_t left);
    /// Other values for a record that is here. False when it is not.
    bool update(PageRecord record);
    bool remove(const std::string& key);
    /// One more on a page that is here, or kStreamed, so many places from its start. Requires: its key is not here.
    void insert(std::int64_t page, std::int64_t at, PageRecord record);

    /// Every table that records here are in, some more than once.
    template <typename See>
    void forEachTable(See see) const {
        const auto seeAll = [&see](const std::vector<PageRecord>& records) {
            for (const PageRecord& record : records) {
                see(record.table);
                if (record.served) {
                    see(record.served->table);
                }
            }
        };
        for (const auto& [page, records] : loaded_) {
            seeAll(records);
        }
        seeAll(streamed_);
    }
    /// Puts other tables with the same rows in the places of those they were made from.
    void replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with);

    /// What changed since this was last asked, in the order in which it must be repeated elsewhere.
    std::vector<PlaceEdit> takeEdits() { return std::exchange(edits_, {}); }
    void checkInvariants();

private:
    using Records = std::vector<PageRecord>;

    /// A page that loses records to the one that is being taken.
    struct Robbed {
        explicit Robbed(Records& of);
        Records* records;
        LeftOf left;
        std::unordered_map<std::string_view, std::size_t> at; ///< by key; views into the records
    };
    void takeOne(std::map<std::int64_t, Robbed>& robbed);
    std::uint64_t takeFrom(std::int64_t other, const std::string& key,
                           std::map<std::int64_t, Robbed>& robbed);
    Taken endTaking();
    Records* recordsOf(std::int64_t page);
    void note(PlaceEdit::Kind kind, std::int64_t place, std::int64_t count);
    void resize(std::int64_t page, std::int64_t places);
    void forget(std::int64_t page);
    std::int64_t position(std::int64_t page) const { return page - first_; }

    std::int64_t first_ = 0;
    ExtentIndex counts_; ///< a page's extent is its count of places
    std::int64_t size_ = 0;
    std::map<std::int64_t, Records> loaded_;
    std::map<std::int64_t, std::int64_t> loadedBytes_;
    std::int64_t bytes_ = 0;
    std::set<std::int64_t> remembered_;
    PageSet dropped_;
    std::optional<PageTaking> taking_;
    Taken taken_; ///< of it, so far
    std::int64_t takingBytes_ = 0;
    Records streamed_;                                     ///< the newest first
    std::unordered_map<std::string, std::int64_t> owners_; ///< by key: the page
    std::vector<PlaceEdit> edits_;
};

} // namespace scorrere
