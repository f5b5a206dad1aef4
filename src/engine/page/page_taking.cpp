// SPDX-License-Identifier: Apache-2.0
//
// An answer is put in place record by record, from the front. At any step the page is a prefix of the answer
// and then the old records that are left, so an old one stands as far behind the prefix as there are others
// left before it: a sum that a Fenwick tree gives in O(log r). Searching and shifting arrays instead costs r
// squared: a page of 100,000 that came reversed took three minutes.
#include "engine/page/page_taking.h"

#include <bit>

namespace scorrere {

LeftOf::LeftOf(std::size_t size) : left_(size, true), sums_(size + 1, 0), count_(size) {
    for (std::size_t i = 1; i <= size; ++i) {
        sums_[i] = i & (~i + 1); // all are left: each node sums as many as its lowest bit says
    }
}

std::size_t LeftOf::before(std::size_t at) const {
    std::size_t sum = 0;
    for (std::size_t i = at; i > 0; i &= i - 1) {
        sum += sums_[i];
    }
    return sum;
}

std::size_t LeftOf::nth(std::size_t index) const {
    std::size_t at = 0;
    for (std::size_t step = std::bit_floor(left_.size()); step > 0; step /= 2) {
        if (at + step < sums_.size() && sums_[at + step] <= index) {
            at += step;
            index -= sums_[at];
        }
    }
    return at;
}

void LeftOf::take(std::size_t at) {
    left_[at] = false;
    --count_;
    for (std::size_t i = at + 1; i < sums_.size(); i += i & (~i + 1)) {
        --sums_[i];
    }
}

PageTaking::PageTaking(std::int64_t page, std::vector<Slot> old, std::vector<PageRecord> records)
    : page_(page), old_(std::move(old)), left_(old_.size()), records_(std::move(records)) {
    oldAt_.reserve(old_.size());
    for (std::size_t i = 0; i < old_.size(); ++i) {
        if (old_[i]) {
            oldAt_.emplace(old_[i]->key, i);
        }
    }
    newAt_.reserve(records_.size());
    for (std::size_t i = 0; i < records_.size(); ++i) {
        newAt_.emplace(records_[i].key, i);
    }
}

const PageRecord* PageTaking::at(std::int64_t place) const {
    const auto index = static_cast<std::size_t>(place);
    if (index < next_) {
        return &records_[index];
    }
    const Slot& slot = old_[left_.nth(index - next_)];
    return slot ? &*slot : nullptr;
}

const PageRecord* PageTaking::find(const std::string& key) const {
    if (const auto came = newAt_.find(key); came != newAt_.end() && came->second < next_) {
        return &records_[came->second];
    }
    const auto old = oldAt_.find(key);
    return old != oldAt_.end() && left_.has(old->second) ? &*old_[old->second] : nullptr;
}

std::optional<PageTaking::Before> PageTaking::before() const {
    const auto old = oldAt_.find(coming().key);
    if (old == oldAt_.end()) {
        return std::nullopt;
    }
    return Before{static_cast<std::int64_t>(next_ + left_.before(old->second)), old_[old->second]->content};
}

bool PageTaking::isNextEmpty() const {
    return left_.count() > 0 && !old_[left_.nth(0)];
}

void PageTaking::takeOldPlace() {
    left_.take(oldAt_.find(coming().key)->second);
    ++next_;
}

void PageTaking::takeEmpty() {
    left_.take(left_.nth(0));
    ++next_;
}

std::vector<std::string> PageTaking::leftKeys() const {
    std::vector<std::string> keys;
    for (std::size_t i = 0; i < old_.size(); ++i) {
        if (left_.has(i) && old_[i]) {
            keys.push_back(old_[i]->key);
        }
    }
    return keys;
}

} // namespace scorrere
