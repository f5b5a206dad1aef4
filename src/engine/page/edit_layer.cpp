// SPDX-License-Identifier: Apache-2.0
#include "engine/page/edit_layer.h"

#include <algorithm>
#include <iterator>

namespace scorrere {

namespace {

std::vector<std::string> keysOf(const std::vector<PageRecord>& records) {
    std::vector<std::string> keys;
    keys.reserve(records.size());
    std::ranges::transform(records, std::back_inserter(keys), &PageRecord::key);
    return keys;
}

const PageRecord& asServed(const PageRecord& shown) {
    return shown.served ? *shown.served : shown;
}

/// The record as its service has it from now on.
PageRecord agreed(const PageEdits& asOne, PageRecord served) {
    if (auto now = asOne.over(served)) {
        served = std::move(*now);
    }
    served.served = nullptr;
    served.isLocal = false;
    return served;
}

void put(PageRecord record, PageStrip& strip, WaitingRecords& waiting) {
    if (!waiting.update(record)) {
        (void)strip.update(std::move(record));
    }
}

} // namespace

EditLayer::EditLayer() : edits_(std::make_shared<const PageEdits>()) {}

void EditLayer::change(std::shared_ptr<const PageEdits> edits, PageStrip& strip, WaitingRecords& waiting,
                       bool isLoaded) {
    const std::vector<std::string> touched = edits->differing(*edits_);
    const auto before = std::exchange(edits_, std::move(edits));
    for (const PageRecord& made : before->inserted()) {
        const PageRecord* there = strip.find(made.key);
        if (there != nullptr && there->isLocal &&
            std::ranges::find(edits_->inserted(), made.key, &PageRecord::key) == edits_->inserted().end()) {
            (void)strip.remove(made.key);
        }
    }
    for (const PageRecord& made : edits_->inserted()) {
        if (const PageRecord* there = strip.find(made.key); there != nullptr && there->isLocal) {
            (void)strip.update(made);
        }
    }
    for (const std::string& key : touched) {
        const PageRecord* waits = waiting.find(key);
        const PageRecord* shown = waits != nullptr ? waits : strip.find(key);
        if (shown == nullptr) {
            bringBack(key, strip);
        } else if (!shown->isLocal) {
            const PageRecord served = asServed(*shown);
            if (auto now = edits_->over(served)) {
                put(std::move(*now), strip, waiting);
            } else {
                remove(served, strip, waiting);
            }
        }
    }
    if (isLoaded) {
        keepInserted(strip, waiting);
    }
}

void EditLayer::agree(const PageEdits& asOne, const RecordEdit& edit, PageStrip& strip,
                      WaitingRecords& waiting) {
    if (edit.kind == RecordEdit::Kind::Remove) {
        return forget(edit.key);
    }
    const std::string& key = edit.kind == RecordEdit::Kind::Insert && !asOne.inserted().empty()
                                 ? asOne.inserted().front().key
                                 : edit.key;
    if (const auto hidden = removed_.find(key); hidden != removed_.end()) {
        hidden->second.record = agreed(asOne, std::move(hidden->second.record));
        return;
    }
    const PageRecord* waits = waiting.find(key);
    const PageRecord* shown = waits != nullptr ? waits : strip.find(key);
    if (shown == nullptr) {
        return;
    }
    if (auto now = edits_->over(agreed(asOne, asServed(*shown)))) {
        put(std::move(*now), strip, waiting);
    }
}

void EditLayer::remove(const PageRecord& served, PageStrip& strip, WaitingRecords& waiting) {
    const auto page = strip.pageOf(served.key);
    if (page) {
        std::vector<std::string>& order = orders_[*page];
        const std::vector<std::string> here = keysOf(strip.recordsOn(*page));
        if (order.empty()) {
            order = here;
        } else if (std::ranges::find(order, served.key) == order.end()) { // it came since
            const auto at = std::ranges::find(here, served.key);
            const auto after = at == here.begin() ? order.begin() : std::ranges::find(order, *std::prev(at));
            order.insert(at == here.begin() || after == order.end() ? after : std::next(after), served.key);
        }
    }
    removed_[served.key] = {page.value_or(PageStrip::kStreamed), served};
    waiting.remove(served.key);
    (void)strip.remove(served.key);
}

/// Behind the nearest of those that the service has before it and that are there; else before the nearest behind it.
void EditLayer::bringBack(const std::string& key, PageStrip& strip) {
    const auto hidden = removed_.find(key);
    if (hidden == removed_.end()) {
        return;
    }
    auto shown = edits_->over(hidden->second.record);
    if (!shown) {
        return; // it stays removed, by another edit
    }
    const std::int64_t page = hidden->second.page;
    removed_.erase(hidden);
    if (page != PageStrip::kStreamed && !strip.isLoaded(page)) {
        return; // it comes with its page
    }
    const std::vector<std::string>& order = orders_[page];
    const auto isHere = [&](const std::string& other) { return strip.pageOf(other) == page; };
    const auto own = std::ranges::find(order, key);
    const auto placeIn = [&](const std::string& other) {
        return *strip.placeOfKey(other) - strip.placeOf(page);
    };
    std::int64_t at = 0;
    const auto before = std::find_if(std::make_reverse_iterator(own), order.rend(), isHere);
    if (before != order.rend()) {
        at = placeIn(*before) + 1;
    } else if (const auto behind = std::find_if(own, order.end(), isHere); behind != order.end()) {
        at = placeIn(*behind);
    }
    strip.insert(page, at, std::move(*shown));
}

void EditLayer::overAnswer(std::int64_t page, std::vector<PageRecord>& records) {
    orders_.erase(page);
    std::erase_if(removed_, [page](const auto& one) { return one.second.page == page; });
    if (edits_->isEmpty()) {
        return;
    }
    std::vector<std::string> order;
    for (PageRecord& record : records) {
        if (!edits_->touches(record.key)) {
            continue;
        }
        if (auto shown = edits_->over(record)) {
            record = std::move(*shown);
            continue;
        }
        if (order.empty()) {
            order = keysOf(records);
        }
        removed_[record.key] = {page, record};
        record.table = nullptr;
    }
    if (!order.empty()) {
        std::erase_if(records, [](const PageRecord& record) { return record.table == nullptr; });
        orders_[page] = std::move(order);
    }
}

std::optional<PageRecord> EditLayer::overStreamed(PageRecord record) {
    auto shown = edits_->over(record);
    if (!shown) {
        Removed& hidden = removed_.try_emplace(record.key, Removed{PageStrip::kStreamed, {}}).first->second;
        hidden.record = std::move(record);
    }
    return shown;
}

void EditLayer::forget(const std::string& key) {
    removed_.erase(key);
}

void EditLayer::clear() {
    removed_.clear();
    orders_.clear();
}

void EditLayer::keepInserted(PageStrip& strip, const WaitingRecords& waiting) {
    std::vector<PageRecord> away;
    std::ranges::copy_if(edits_->inserted(), std::back_inserter(away), [&](const PageRecord& made) {
        return strip.find(made.key) == nullptr && waiting.find(made.key) == nullptr;
    });
    if (!away.empty()) {
        strip.addStreamed(std::move(away));
    }
}

const PageRecord* EditLayer::removed(const std::string& key) const {
    const auto hidden = removed_.find(key);
    return hidden == removed_.end() ? nullptr : &hidden->second.record;
}

void EditLayer::replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with) {
    for (auto& [key, hidden] : removed_) {
        if (const auto now = with.find(hidden.record.table.get()); now != with.end()) {
            hidden.record.table = now->second;
        }
    }
}

} // namespace scorrere
