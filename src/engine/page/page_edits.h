// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/edit/record_edit.h"
#include "engine/page/page_records.h"

#include <map>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// Edits of a service's records, ready to be laid over those that come in pages. A record's own edits are laid over it
/// wherever it comes from; what is inserted stands on top, since which page has room for it is its service's business; and
/// the order is its service's, too: a move is refused.
///
/// Complexity  Making it: O(edits), for workers. over(): O(fields) of a record that is edited, else a look-up.
/// Ownership   Owns what the edits bring. Does not change.
/// Threads     Any.
class PageEdits {
public:
    PageEdits() = default;
    /// `key`: the fields that a record is known by. `fields`: those of all pages, and their types; a value that does not fit its
    /// field is refused.
    PageEdits(RecordEdits edits, const std::vector<std::string>& key, const std::vector<Field>& fields);

    const RecordEdits& edits() const { return edits_; }
    /// By edit: why it is not in force; empty: it is, once its record is here.
    const std::vector<std::string>& refusals() const { return refusals_; }
    bool isEmpty() const { return byKey_.empty(); }
    bool touches(const std::string& key) const { return byKey_.contains(key); }
    /// What is shown of a record: itself, or one with other values that knows what its service has; nothing: it is removed.
    std::optional<PageRecord> over(const PageRecord& served) const;
    /// Those that edits made, with the edits of theirs; the newest first.
    const std::vector<PageRecord>& inserted() const { return inserted_; }
    /// The keys of which this says something else than `other` does.
    std::vector<std::string> differing(const PageEdits& other) const;

private:
    struct Own {
        bool isRemoved = false;
        std::map<int, std::int64_t>
            values;        ///< by field: where its value is in `brought_`; -1: it is to have none
        RecordEdits edits; ///< that say so
    };
    void take(std::size_t index, const std::vector<FieldHandle>& key, std::int64_t row);
    std::string faultOfSet(const RecordEdit& edit, std::int64_t row) const;

    RecordEdits edits_;
    std::vector<std::string> refusals_;
    std::size_t fields_ = 0; ///< so many of the first of what was brought are its service's
    std::shared_ptr<const RecordTable> brought_;
    std::unordered_map<std::string, Own> byKey_;
    std::vector<PageRecord> inserted_;
};

} // namespace scorrere
