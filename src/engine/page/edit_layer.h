// SPDX-License-Identifier: Apache-2.0
// Edits over what a service's pages bring: an implementation header of page/.
#pragma once

#include "engine/page/page_edits.h"
#include "engine/page/page_strip.h"
#include "engine/page/waiting_records.h"

#include <map>
#include <memory>
#include <string>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// What stands between what a service says and what the strip shows: records with other values, those that are removed and
/// where they would stand, and those that the service has none of.
///
/// Complexity  change(): O(edits), and O(a page's records) for each record whose edits are others. overAnswer(): O(its records).
/// Ownership   Owns what is removed. The strip and the waiting records are given each time.
/// Threads     One thread.
class EditLayer {
public:
    EditLayer();
    const PageEdits& edits() const { return *edits_; }

    /// Other edits are in force from now on. `isLoaded`: there is something that what they insert can stand above.
    void change(std::shared_ptr<const PageEdits> edits, PageStrip& strip, WaitingRecords& waiting,
                bool isLoaded);
    /// Its service has taken over what an edit of its says: taking the edit away changes nothing that shows. `asOne`: that edit
    /// alone.
    void agree(const PageEdits& asOne, const RecordEdit& edit, PageStrip& strip, WaitingRecords& waiting);
    /// An answer as it is shown. What stood on the page before is forgotten.
    void overAnswer(std::int64_t page, std::vector<PageRecord>& records);
    /// What came live, as it is shown; nothing: it is removed.
    std::optional<PageRecord> overStreamed(PageRecord record);
    /// The service has removed it.
    void forget(const std::string& key);
    /// Another query: whatever was removed from its pages comes with its own.
    void clear();
    /// Those that edits made stand on top, wherever a page took their place away.
    void keepInserted(PageStrip& strip, const WaitingRecords& waiting);
    /// As its service has it; null: it is not removed.
    const PageRecord* removed(const std::string& key) const;

    template <typename See>
    void forEachTable(See see) const {
        for (const auto& [key, hidden] : removed_) {
            see(hidden.record.table);
        }
    }
    void replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with);

private:
    struct Removed {
        std::int64_t page = 0;
        PageRecord record;
    };
    void remove(const PageRecord& served, PageStrip& strip, WaitingRecords& waiting);
    void bringBack(const std::string& key, PageStrip& strip);

    std::shared_ptr<const PageEdits> edits_;
    std::unordered_map<std::string, Removed> removed_;
    /// Of pages that something is removed from: their keys as the service has them.
    std::map<std::int64_t, std::vector<std::string>> orders_;
};

} // namespace scorrere
