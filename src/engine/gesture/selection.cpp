// SPDX-License-Identifier: Apache-2.0
#include "engine/gesture/selection.h"

#include <algorithm>

namespace scorrere {

void Selection::begin() {
    isInverted_ = isAll_ = false;
    range_.reset();
    singles_.clear();
    ++revision_;
}

void Selection::setMode(SelectMode mode) {
    if (mode < mode_) {
        clear();
    }
    mode_ = mode;
}

bool Selection::isInBase(std::int64_t record) const {
    if (!range_) {
        return isAll_;
    }
    const std::int64_t place = record < 0 ? -1 : range_->order.placeOf(record);
    return place >= range_->first && place <= range_->last;
}

bool Selection::has(const Selectable& item) const {
    if (item.key.empty()) {
        return false;
    }
    const auto single = singles_.empty() ? singles_.end() : singles_.find(std::string(item.key));
    return (single != singles_.end() ? single->second.is : isInBase(item.record)) != isInverted_;
}

void Selection::put(const Selectable& item, bool is) {
    const bool isSo = is != isInverted_;
    if (isSo == isInBase(item.record)) {
        singles_.erase(std::string(item.key)); // as the rest is
    } else {
        singles_[std::string(item.key)] = {item.record, isSo};
    }
    ++revision_;
}

void Selection::choose(const Selectable& item) {
    if (mode_ == SelectMode::None || item.key.empty()) {
        return;
    }
    begin();
    put(item, true);
    anchor_ = item.key;
}

void Selection::turn(const Selectable& item) {
    if (mode_ == SelectMode::None || item.key.empty()) {
        return;
    }
    const bool is = !has(item);
    if (!mayBeMany()) {
        begin();
    }
    put(item, is);
    anchor_ = item.key;
}

void Selection::drop(const Selectable& item) {
    if (has(item)) {
        put(item, false);
    }
}

void Selection::chooseRange(const RecordOrder& order, std::int64_t first, std::int64_t last) {
    if (mayBeMany()) {
        begin();
        range_ = Range{order, std::min(first, last), std::max(first, last)};
    }
}

void Selection::chooseKeys(const std::vector<std::string>& keys) {
    if (mayBeMany()) {
        begin();
        for (const std::string& key : keys) {
            if (!key.empty()) {
                put({key, -1}, true);
            }
        }
    }
}

void Selection::chooseAll() {
    if (mayBeMany()) {
        begin();
        isAll_ = true;
    }
}

void Selection::invert() {
    if (mayBeMany()) {
        isInverted_ = !isInverted_;
        ++revision_;
    }
}

void Selection::clear() {
    begin();
    anchor_.clear();
}

std::int64_t Selection::countOf(std::int64_t all) const {
    std::int64_t count =
        range_   ? std::max<std::int64_t>(std::min(range_->last + 1, range_->order.size()) - range_->first, 0)
        : isAll_ ? all
                 : 0;
    for (const auto& [key, single] : singles_) {
        count += single.is ? 1 : -1; // each is otherwise than the rest
    }
    return isInverted_ ? all - count : count;
}

bool Selection::forgetRange() {
    const bool was = range_.has_value();
    if (was) {
        clear();
    }
    return was;
}

} // namespace scorrere
