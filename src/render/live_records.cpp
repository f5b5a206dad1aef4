// SPDX-License-Identifier: Apache-2.0
#include "render/live_records.h"

#include "render/job.h"
#include "render/live_designs.h"

#include <QCoreApplication>
#include <algorithm>
#include <chrono>

namespace scorrere::render {

namespace {

constexpr std::int64_t kStagedPlaceholders = 30;
constexpr std::int64_t kShapes = 20; ///< so many records lend placeholders their shape

std::int64_t presentMs() {
    return std::chrono::duration_cast<std::chrono::milliseconds>(
               std::chrono::system_clock::now().time_since_epoch())
        .count();
}

/// A state that stands in the collection's stead.
bool isInStead(TailState state) {
    return state == TailState::FirstLoad || state == TailState::Empty || state == TailState::FirstFailed;
}

} // namespace

LiveRecords::LiveRecords(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                         std::shared_ptr<PagedRecords> paged, std::optional<TailState> staged)
    : document_(document), records_(std::move(records)),
      order_(paged || (staged && isInStead(*staged)) ? 0 : records_->size()),
      leaf_{staged ? 0 : document.arrangement.byHand, 0}, paged_(std::move(paged)), staged_(staged),
      nowMs_(parseTime(document.now).value_or(presentMs())), tail_(staged.value_or(TailState::FirstLoad)) {}

LiveRecords::~LiveRecords() {
    disposeElsewhere(std::move(edited_));
    disposeElsewhere(std::move(records_));
}

void LiveRecords::setTable(std::shared_ptr<const RecordTable> records) {
    disposeElsewhere(std::exchange(records_, std::move(records)));
}

void LiveRecords::setEdited(std::shared_ptr<const EditedRecords> edited) {
    const auto source = this->source();
    disposeElsewhere(std::exchange(edited_, std::move(edited)));
    setTable(edited_ ? edited_->records : source);
}

std::int64_t LiveRecords::allPlaces() const {
    return paged_ ? paged_->pager().strip().places() : isStagedLoad() ? kStagedPlaceholders : order_.size();
}

FillContext LiveRecords::of(const RecordTable& table, std::int64_t row) const {
    return {table, row, &document_.parameters, nowMs_, nullptr, -1, 0};
}

FillContext LiveRecords::context(std::int64_t record) const {
    return of(*records_, record);
}

/// Which one depends on the place, for variety.
FillContext LiveRecords::sample(std::int64_t place) const {
    return context(records_->size() == 0 ? -1 : place % std::min(records_->size(), kShapes));
}

bool LiveRecords::isPlaceholder(const Slot& slot) const {
    if (slot.role != Role::Record) {
        return false;
    }
    return paged_ ? paged_->pager().strip().recordAt(leaf_.first + slot.place) == nullptr : isStagedLoad();
}

bool LiveRecords::isFailedAt(std::int64_t place) const {
    if (!paged_) {
        return false;
    }
    Pager& pager = paged_->pager();
    if (leaf_.first + place >= pager.strip().places()) {
        return false; // it went since the last frame
    }
    return pager.stateOfPage(pager.strip().pageAt(leaf_.first + place)) == PlaceState::Failed;
}

FillContext LiveRecords::contextOf(const Slot& slot) const {
    if (slot.role == Role::Footer && hasTail()) {
        return of(*says_, 0);
    }
    if (slot.role != Role::Record) {
        return context(-1);
    }
    if (!paged_) {
        return isStagedLoad() ? sample(slot.place) : context(order_.at(leaf_.first + slot.place));
    }
    const PageRecord* record = paged_->pager().strip().recordAt(leaf_.first + slot.place);
    return record == nullptr ? sample(slot.place) : of(*record->table, record->row);
}

std::string LiveRecords::keyAt(std::int64_t place) const {
    const PageRecord* record = paged_ ? paged_->pager().strip().recordAt(leaf_.first + place) : nullptr;
    return record == nullptr ? std::string() : record->key;
}

bool LiveRecords::takeTail(std::int64_t count) {
    Pager* pager = paged_ ? &paged_->pager() : nullptr;
    TailState tail = pager ? pager->tail() : *staged_;
    if (leaf_.isOne() && !isInStead(tail) && places() == leaf_.size) {
        tail = TailState::More; // what comes next stands on another leaf
    }
    PageFailure failure = pager ? pager->failure() : PageFailure();
    if (staged_ && (tail == TailState::Failed || tail == TailState::FirstFailed)) {
        const auto say = [](const char* text) {
            return QCoreApplication::translate("scorrere::render::LiveRecords", text).toStdString();
        };
        failure.message = say("The service is not there for the moment (503)");
        failure.advice = say("Ask again in a while.");
    }
    const std::string text = failure.message + '\n' + failure.advice + '\n' + std::to_string(count);
    if (says_ && tail == tail_ && text == saysText_) {
        return false;
    }
    tail_ = tail;
    saysText_ = text;
    says_ = std::make_shared<const RecordTable>(stateRecord(document_, failure, count));
    return true;
}

} // namespace scorrere::render
