// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/page_records.h"

#include <list>
#include <unordered_map>

namespace scorrere {

/// Records that came live and wait beyond the top, the newest first. Of very many only the newest stay: the
/// others are counted, and come with their page when it is asked for.
///
/// Complexity  O(1) a record; take() and what visits all of them: O(size()).
/// Ownership   Shares the records' tables.
/// Threads     One thread.
class WaitingRecords {
public:
    static constexpr std::size_t kMost = 1000;

    /// So many came and wait, here or not.
    std::size_t count() const { return records_.size() + gone_; }
    std::size_t size() const { return records_.size(); }
    bool isWhole() const { return gone_ == 0; }

    /// One nobody has: it goes above the others.
    void add(PageRecord record) {
        records_.push_front(std::move(record));
        places_[records_.front().key] = records_.begin();
        if (records_.size() > kMost) {
            places_.erase(records_.back().key);
            records_.pop_back();
            ++gone_;
        }
    }
    /// Other values for one that waits; false when it does not.
    bool update(PageRecord& record) {
        const auto waiting = places_.find(record.key);
        if (waiting == places_.end()) {
            return false;
        }
        *waiting->second = std::move(record);
        return true;
    }
    const PageRecord* find(const std::string& key) const {
        const auto waiting = places_.find(key);
        return waiting == places_.end() ? nullptr : &*waiting->second;
    }
    void remove(const std::string& key) {
        if (const auto waiting = places_.find(key); waiting != places_.end()) {
            records_.erase(waiting->second);
            places_.erase(waiting);
        }
    }
    /// The newest first.
    std::vector<PageRecord> take() {
        std::vector<PageRecord> taken(std::make_move_iterator(records_.begin()),
                                      std::make_move_iterator(records_.end()));
        clear();
        return taken;
    }
    void clear() {
        records_.clear();
        places_.clear();
        gone_ = 0;
    }
    template <typename See>
    void forEach(See see) const {
        for (const PageRecord& record : records_) {
            see(record);
        }
    }
    /// `goes(PageRecord&)` may change all of a record but its key.
    template <typename Goes>
    void eraseIf(Goes goes) {
        records_.remove_if([&](PageRecord& record) {
            const bool isGone = goes(record);
            if (isGone) {
                places_.erase(record.key);
            }
            return isGone;
        });
    }

private:
    std::list<PageRecord> records_;
    std::unordered_map<std::string, std::list<PageRecord>::iterator> places_;
    std::size_t gone_ = 0;
};

} // namespace scorrere
