// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/document/collection_document.h"
#include "engine/edit/edited_records.h"
#include "engine/record/record_order.h"
#include "render/paged_records.h"

#include <memory>
#include <optional>

namespace scorrere::render {

/// Which record stands at which place of a collection that runs: of the table of all records in their order,
/// or of a page; and what stands where none is: the shape of a known one, and a row that says why.
///
/// Ownership   Shares the table, owns the pages, refers to the document.
/// Threads     The interface thread.
class LiveRecords {
public:
    /// `paged` null: `records` are all there are. Else they say what fields there are, and what placeholders
    /// are shaped like. `staged`: a state shown on demand.
    LiveRecords(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                std::shared_ptr<PagedRecords> paged, std::optional<TailState> staged);
    /// What is shared and large is freed elsewhere.
    ~LiveRecords();
    LiveRecords(const LiveRecords&) = delete;
    LiveRecords& operator=(const LiveRecords&) = delete;

    const RecordTable& table() const { return *records_; }
    const std::shared_ptr<const RecordTable>& shared() const { return records_; }
    void setTable(std::shared_ptr<const RecordTable> records);
    /// Those that edits are over; the table itself where there are none.
    const std::shared_ptr<const RecordTable>& source() const { return edited_ ? edited_->source : records_; }
    /// Edits in force; null: none.
    const std::shared_ptr<const EditedRecords>& edited() const { return edited_; }
    void setEdited(std::shared_ptr<const EditedRecords> edited);
    RecordOrder& order() { return order_; }
    const RecordOrder& order() const { return order_; }
    PagedRecords* paged() const { return paged_.get(); }
    const std::shared_ptr<PagedRecords>& sharedPages() const { return paged_; }
    std::shared_ptr<PagedRecords> takePaged() { return std::move(paged_); }

    /// How many there are now, all of them; and how many stand in the strip: those of the leaf that is open.
    /// Places below are those of the strip.
    std::int64_t allPlaces() const;
    std::int64_t places() const { return leaf_.countOf(allPlaces()); }
    const Leaf& leaf() const { return leaf_; }
    void turnTo(std::int64_t first) { leaf_.first = first; }
    /// Whether a row at the end says what is so.
    bool hasTail() const { return paged_ != nullptr || staged_; }
    TailState tail() const { return tail_; }
    /// Takes over what the row at the end has to say, of so many records. True when that changed.
    bool takeTail(std::int64_t count);
    bool isPlaceholder(const Slot& slot) const;
    /// Its page could not be had.
    bool isFailedAt(std::int64_t place) const;
    FillContext contextOf(const Slot& slot) const;
    /// Of a record in the table; -1: of none.
    FillContext context(std::int64_t record) const;
    /// In the table of all records: -1 of a page's; else its key.
    std::int64_t recordAt(std::int64_t place) const { return paged_ ? -1 : order_.at(leaf_.first + place); }
    std::string keyAt(std::int64_t place) const;
    std::int64_t nowMs() const { return nowMs_; }

private:
    FillContext sample(std::int64_t place) const;
    FillContext of(const RecordTable& table, std::int64_t row) const;
    bool isStagedLoad() const { return staged_ == TailState::FirstLoad; }

    const CollectionDocument& document_;
    std::shared_ptr<const RecordTable> records_;
    std::shared_ptr<const EditedRecords> edited_;
    RecordOrder order_;
    Leaf leaf_;
    std::shared_ptr<PagedRecords> paged_;
    std::optional<TailState> staged_;
    std::int64_t nowMs_;
    TailState tail_;
    std::shared_ptr<const RecordTable> says_; ///< what a state's texts can say, as one record
    std::string saysText_;
};

} // namespace scorrere::render
