// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/sectioned_arrangement.h"

#include <algorithm>
#include <cassert>
#include <iterator>

namespace scorrere {

SectionedArrangement::SectionedArrangement(const SectionsSpec& spec, std::unique_ptr<Arrangement> below,
                                           Ends ends)
    : ArrangementOver(ends, std::move(below)), spec_(spec),
      grid_(dynamic_cast<GridArrangement*>(&this->below())), sections_(spec.haveFooters, recordCount()) {
    assert(this->below().takesOthers());
}

/// After sections or records came or went: as many entries as stand below.
void SectionedArrangement::counted() {
    addRecords(sections_.records() - recordCount());
    setOthers(sections_.entries() - sections_.records());
    assert(below().recordCount() == sections_.entries());
}

std::int64_t SectionedArrangement::entryOf(std::int64_t place) const {
    const Sections::Stand stand = sections_.ofPlace(place);
    return stand.entry + (stand.isFolded ? 0 : (stand.isHeaded ? 1 : 0) + place - stand.first);
}

Slot SectionedArrangement::slotAt(std::int64_t position) const {
    const Slot slot = below().slotAt(position);
    if (slot.role != Role::Record) {
        return slot;
    }
    const Sections::Stand stand = sections_.ofEntry(slot.place);
    const std::int64_t in = slot.place - stand.entry - (stand.isHeaded ? 1 : 0);
    return in < 0               ? Slot{Role::SectionHeader, stand.first, stand.section}
           : in < stand.records ? Slot{Role::Record, stand.first + in, stand.section}
                                : Slot{Role::SectionFooter, stand.first, stand.section};
}

std::int64_t SectionedArrangement::positionOf(std::int64_t place) const {
    return before() + (place < recordCount() ? entryOf(place) : sections_.entries());
}

Length SectionedArrangement::restOf(std::int64_t position) {
    const Slot slot = slotAt(position);
    const bool isUnder = doesStay() && slot.role == Role::Record && sections_.at(slot.section).isHeaded;
    const Length rests = below().restOf(position); // clear of what stays there
    const Length clear = rests == startOf(position) ? spec_.clear : Length{};
    return rests - (isUnder ? clear + extentOf(positionOf(0) - entryOf(0) + sections_.at(slot.section).entry)
                            : Length{});
}

Stayings SectionedArrangement::stayingAt(Length top) {
    Stayings all = below().stayingAt(top);
    if (!doesStay() || sections_.count() == 0) {
        return all;
    }
    const Staying& above = all.all[0];
    const Length at = above.position >= 0 ? above.start + extentOf(above.position) : top + spec_.clear;
    const Slot slot = below().slotAt(below().indexAt(at));
    if (slot.role != Role::Record) {
        return all;
    }
    const Sections::Stand stand = sections_.ofEntry(slot.place);
    const std::int64_t header = before() + stand.entry;
    const Box box = boxOf(header);
    // The next one pushes it out. Where lanes stand side by side the last of its items need not end last.
    const std::int64_t next = header + stand.entries;
    const Length end = isInOrder() ? boxOf(next - 1).end() : next < size() ? startOf(next) : at + box.extent;
    const Length start = std::min(at, end - box.extent);
    if (stand.isHeaded && start > box.start) {
        all.all[above.position >= 0 ? 1 : 0] = {header, start};
    }
    return all;
}

std::vector<KindRun> SectionedArrangement::stretches() const {
    std::vector<KindRun> all;
    const auto add = [&](std::int64_t count, int kind) {
        if (count > 0 && !all.empty() && all.back().kind == kind) {
            all.back().count += count;
        } else if (count > 0) {
            all.push_back({count, kind});
        }
    };
    if (sections_.isFirstHeaded() && sections_.entries() == sections_.count()) {
        return {{sections_.count(), kSectionHeaderKind}}; // all are folded
    }
    const std::vector<std::int32_t> records = sections_.recordsOf(0, sections_.count());
    const std::vector<std::int32_t> entries = sections_.entriesOf(0, sections_.count());
    for (std::size_t section = 0; section < records.size(); ++section) {
        const bool isHeaded = section > 0 || sections_.isFirstHeaded();
        const bool isFolded = isHeaded && entries[section] <= records[section];
        add(isHeaded ? 1 : 0, kSectionHeaderKind);
        add(isFolded ? 0 : records[section], kRecordKind);
        add(isHeaded && !isFolded && spec_.haveFooters ? 1 : 0, kSectionFooterKind);
    }
    return all;
}

/// Of one that got a heading; its records, if any show, stand below already.
void SectionedArrangement::addHeader(const Sections::Stand& to) {
    below().insertOther(to.entry, kSectionHeaderKind);
    if (to.hasFooter) {
        below().insertOther(to.entry + to.entries - 1, kSectionFooterKind);
    }
}

/// What a section has beside its records goes.
void SectionedArrangement::takeOthers(const Sections::Stand& from) {
    if (from.hasFooter) {
        below().eraseRecords(from.entry + from.entries - 1, 1);
    }
    if (from.isHeaded) {
        below().eraseRecords(from.entry, 1);
    }
}

void SectionedArrangement::fold(const Sections::Stand& stand, bool isFolded) {
    if (stand.isFolded == isFolded) {
        return;
    }
    if (isFolded) {
        below().eraseRecords(stand.entry + 1, stand.entries - 1);
    } else {
        below().insertRecords(stand.entry + 1, stand.records);
        if (spec_.haveFooters) {
            below().insertOther(stand.entry + 1 + stand.records, kSectionFooterKind);
        }
    }
    sections_.setFolded(stand.section, isFolded);
}

void SectionedArrangement::setFolded(std::int64_t section, bool isFolded) {
    if (const Sections::Stand stand = sections_.at(section); stand.isHeaded) {
        fold(stand, isFolded);
        counted();
    }
}

Arrangement::Forgotten SectionedArrangement::beginAnew() {
    Estimates estimates{};
    for (int kind = 0; kind < kKinds; ++kind) {
        estimates[static_cast<std::size_t>(kind)] = std::max(estimateOf(kind), Length{});
    }
    Forgotten old = below().forgetExtents(estimates);
    below().tellKinds(stretches(), true);
    counted();
    return old;
}

Arrangement::Forgotten SectionedArrangement::setAllFolded(bool areFolded) {
    sections_.setAllFolded(areFolded);
    return beginAnew();
}

Arrangement::Forgotten SectionedArrangement::takeSections(std::span<const std::int32_t> records,
                                                          bool isFirstHeaded) {
    sections_ = Sections(spec_.haveFooters, records, isFirstHeaded);
    assert(sections_.records() == recordCount());
    return beginAnew();
}

Arrangement::Forgotten SectionedArrangement::forgetExtents(const Estimates& estimates) {
    Forgotten old = below().forgetExtents(estimates);
    below().tellKinds(stretches(), false);
    return old;
}

void SectionedArrangement::setStarts(std::int64_t firstPlace, std::span<const std::uint8_t> starts) {
    for (std::size_t i = 0; i < starts.size(); ++i) {
        setStart(firstPlace + static_cast<std::int64_t>(i), starts[i] != 0);
    }
    counted();
}

void SectionedArrangement::setStart(std::int64_t place, bool starts) {
    const Sections::Stand stand = sections_.ofPlace(place);
    if (starts == (stand.first == place && stand.isHeaded)) {
        return;
    }
    if (place == 0) {
        if (stand.isFolded) {
            fold(stand, false);
        }
        if (!starts) {
            takeOthers(sections_.at(0));
        }
        sections_.setFirstHeaded(starts);
        if (starts) {
            addHeader(sections_.at(0));
        }
        return;
    }
    if (starts) {
        if (stand.hasFooter) { // ends before it, and the new one in this footer
            below().insertOther(stand.entry + 1 + place - stand.first, kSectionFooterKind);
        }
        const bool isNewWithFooter = !stand.hasFooter && spec_.haveFooters && !stand.isFolded;
        sections_.split(place);
        const Sections::Stand made = sections_.at(stand.section + 1);
        below().insertOther(made.entry, kSectionHeaderKind);
        if (isNewWithFooter) { // it had no heading, and so none
            below().insertOther(made.entry + made.entries - 1, kSectionFooterKind);
        }
        return;
    }
    const Sections::Stand before = sections_.at(stand.section - 1);
    if (stand.isFolded && !before.isFolded) {
        fold(stand, false);
    } else if (!stand.isFolded && before.isFolded) {
        fold(stand, true);
    }
    const Sections::Stand joined = sections_.at(stand.section);
    below().eraseRecords(joined.entry, 1); // its header
    if (before.hasFooter) {
        below().eraseRecords(joined.entry - 1, 1); // the other's is behind both
    } else if (joined.hasFooter) {
        below().eraseRecords(joined.entry + joined.records, 1);
    }
    sections_.join(stand.section);
}

void SectionedArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    if (count == 0) {
        return;
    }
    if (sections_.count() == 0) {
        sections_.addFirst(count);
        below().insertRecords(0, count);
    } else {
        const Sections::Stand stand = sections_.ofPlace(std::max<std::int64_t>(place - 1, 0));
        if (!stand.isFolded) {
            below().insertRecords(stand.entry + (stand.isHeaded ? 1 : 0) + place - stand.first, count);
        }
        sections_.addTo(stand.section, count);
    }
    counted();
}

void SectionedArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    while (count > 0) {
        const Sections::Stand stand = sections_.ofPlace(place);
        if (place > stand.first || count < stand.records) {
            const std::int64_t gone = std::min(count, stand.first + stand.records - place);
            if (!stand.isFolded) {
                below().eraseRecords(stand.entry + (stand.isHeaded ? 1 : 0) + place - stand.first, gone);
            }
            sections_.addTo(stand.section, -gone);
            count -= gone;
            continue;
        }
        // Whole sections, as many as there are of them.
        Sections::Stand last = sections_.ofPlace(place + count - 1);
        if (last.first + last.records > place + count) {
            last = sections_.at(last.section - 1);
        }
        below().eraseRecords(stand.entry, last.entry + last.entries - stand.entry);
        sections_.erase(stand.section, last.section - stand.section + 1);
        count -= last.first + last.records - stand.first;
    }
    counted();
}

void SectionedArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    eraseRecords(from, 1);
    insertRecords(to, 1);
}

/// Calls for consecutive records of a section that shows them: the entry of the first, how many are before it in
/// what was asked for, and how many they are.
template <typename Does>
void SectionedArrangement::inSections(std::int64_t place, std::int64_t count, Does does) const {
    for (std::int64_t at = 0; at < count;) {
        const Sections::Stand stand = sections_.ofPlace(place + at);
        const std::int64_t many = std::min(count - at, stand.first + stand.records - place - at);
        if (!stand.isFolded) {
            does(stand.entry + (stand.isHeaded ? 1 : 0) + place + at - stand.first, at, many);
        }
        at += many;
    }
}

void SectionedArrangement::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    inSections(firstPlace, std::ssize(extents), [&](std::int64_t entry, std::int64_t at, std::int64_t many) {
        below().setEstimated(entry,
                             extents.subspan(static_cast<std::size_t>(at), static_cast<std::size_t>(many)));
    });
}

void SectionedArrangement::setSpans(std::int64_t firstPlace, std::span<const std::uint8_t> spans) {
    assert(grid_ != nullptr);
    inSections(firstPlace, std::ssize(spans), [&](std::int64_t entry, std::int64_t at, std::int64_t many) {
        grid_->setSpans(entry, spans.subspan(static_cast<std::size_t>(at), static_cast<std::size_t>(many)));
    });
}

Arrangement::Forgotten SectionedArrangement::takeFlow(CellFlow flow) {
    assert(grid_ != nullptr && flow.size() == recordCount());
    const bool areOtherColumns = flow.columns() != grid_->columns();
    const auto insertOther = [&flow](std::int64_t entry) {
        flow.insert(entry, 1);
        flow.setSpans(entry, std::array{CellFlow::kAll});
    };
    for (std::int64_t section = 0; section < sections_.count(); ++section) {
        const Sections::Stand stand = sections_.at(section);
        if (stand.isFolded) {
            flow.erase(stand.entry, stand.records);
        }
        if (stand.isHeaded) {
            insertOther(stand.entry);
        }
        if (stand.hasFooter) {
            insertOther(stand.entry + stand.entries - 1);
        }
    }
    Forgotten old = grid_->takeFlow(std::move(flow));
    if (areOtherColumns) {
        grid_->tellKinds(stretches(), false);
    }
    return old;
}

void SectionedArrangement::evenOut(std::int64_t place, std::int64_t count) {
    inSections(place, count,
               [&](std::int64_t entry, std::int64_t, std::int64_t many) { below().evenOut(entry, many); });
}

void SectionedArrangement::checkInvariants() {
    sections_.checkInvariants();
    below().checkInvariants();
    assert(below().size() == size());
    assert(sections_.records() == recordCount());
}

} // namespace scorrere
