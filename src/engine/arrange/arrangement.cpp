// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/arrangement.h"

#include <algorithm>

namespace scorrere {

Slot Arrangement::slotAt(std::int64_t position) const {
    if (header_ && position == 0) {
        return {Role::Header, -1};
    }
    if (footer_ && position == size() - 1) {
        return {Role::Footer, -1};
    }
    return position < before() ? Slot{Role::Heading, -1} : Slot{Role::Record, position - before()};
}

std::int64_t Arrangement::startOfSection(std::int64_t section) const {
    const Sections::Stand stand = sections()->at(section);
    return positionOf(stand.first) - (stand.isHeaded && !stand.isFolded ? 1 : 0);
}

std::int64_t Arrangement::find(const Slot& slot) const {
    std::int64_t position = -1;
    if (slot.role == Role::Header || slot.role == Role::Footer) {
        position = slot.role == Role::Header ? 0 : size() - 1;
    } else if (slot.role == Role::Heading) {
        position = before() - 1;
    } else if (slot.place < 0 || slot.place >= records_) {
        return -1;
    } else if (slot.role == Role::Record) {
        position = positionOf(slot.place);
    } else if (const Sections* all = sections()) {
        const Sections::Stand stand = all->ofPlace(slot.place);
        if (stand.first != slot.place) {
            return -1;
        }
        position = startOfSection(stand.section) + (slot.role == Role::SectionFooter ? stand.entries - 1 : 0);
    }
    if (position < 0 || position >= size()) {
        return -1;
    }
    const Slot is = slotAt(position);
    return is.role == slot.role && is.place == slot.place ? position : -1;
}

/// A mean is taken over when the number behind it has doubled: a dozen times in a long run, not every frame.
void Arrangement::countMeasured(int kind, Length extent) {
    Mean& mean = means_[static_cast<std::size_t>(kind)];
    ++mean.count;
    mean.sum += extent;
    const bool isPowerOfTwo = (mean.count & (mean.count - 1)) == 0;
    mean.isDue = mean.isDue || (isPowerOfTwo && mean.count > 1);
}

void Arrangement::takeMeans() {
    for (int kind = 0; kind < kKinds; ++kind) {
        Mean& mean = means_[static_cast<std::size_t>(kind)];
        if (mean.isDue) {
            mean.isDue = false;
            setKindEstimate(kind, std::max(mean.sum / mean.count, kLeastEstimate));
        }
    }
}

bool Arrangement::areMeansDue() const {
    return std::ranges::any_of(means_, &Mean::isDue);
}

void Arrangement::forgetMeans() {
    means_ = {};
}

} // namespace scorrere
