// SPDX-License-Identifier: Apache-2.0
//
// Counts of records, and of entries, are extents of so many 1/64 px in two extent indexes: which section a place
// is in, and how many entries stand before it, are its questions.
#include "engine/arrange/sections.h"

#include <cassert>

namespace scorrere {

namespace {

Length so(std::int64_t many) {
    assert(many >= 0 && Length::fromRaw(many) <= ExtentIndex::kMaxExtent);
    return Length::fromRaw(many);
}

std::vector<std::int32_t> readFrom(ExtentIndex& index, std::int64_t first, std::int64_t count) {
    std::vector<ExtentIndex::Known> known(static_cast<std::size_t>(count));
    index.read(first, known);
    std::vector<std::int32_t> read;
    read.reserve(known.size());
    for (const ExtentIndex::Known& each : known) {
        read.push_back(static_cast<std::int32_t>(each.extent.raw()));
    }
    return read;
}

} // namespace

Sections::Sections(bool haveFooters, std::int64_t records) : haveFooters_(haveFooters) {
    addFirst(records);
}

Sections::Sections(bool haveFooters, std::span<const std::int32_t> records, bool isFirstHeaded)
    : haveFooters_(haveFooters), isFirstHeaded_(isFirstHeaded) {
    records_.insert(0, static_cast<std::int64_t>(records.size()), 0);
    records_.setEstimated(0, records);
    setAllFolded(false);
}

Sections::Stand Sections::at(std::int64_t section) const {
    assert(section >= 0 && section < count());
    const ExtentIndex::Stand records = records_.standOf(section);
    const ExtentIndex::Stand entries = entries_.standOf(section);
    Stand stand{section,
                records.offset.raw(),
                records.extent.raw(),
                entries.offset.raw(),
                entries.extent.raw(),
                isHeaded(section),
                false,
                false};
    stand.isFolded = stand.isHeaded && stand.entries < stand.records + 1;
    stand.hasFooter = stand.isHeaded && haveFooters_ && !stand.isFolded;
    return stand;
}

Sections::Stand Sections::ofPlace(std::int64_t place) const {
    assert(place >= 0 && place < records());
    return at(records_.indexAt(so(place)));
}

Sections::Stand Sections::ofEntry(std::int64_t entry) const {
    assert(entry >= 0 && entry < entries());
    return at(entries_.indexAt(so(entry)));
}

std::vector<std::int32_t> Sections::recordsOf(std::int64_t section, std::int64_t count) const {
    return readFrom(records_, section, count);
}

std::vector<std::int32_t> Sections::entriesOf(std::int64_t section, std::int64_t count) const {
    return readFrom(entries_, section, count);
}

std::int64_t Sections::entriesFor(std::int64_t section, std::int64_t records, bool isFolded) const {
    return !isHeaded(section) ? records : isFolded ? 1 : 1 + records + (haveFooters_ ? 1 : 0);
}

void Sections::set(std::int64_t section, std::int64_t records, bool isFolded) {
    (void)records_.setMeasured(section, so(records));
    (void)entries_.setMeasured(section, so(entriesFor(section, records, isFolded)));
}

void Sections::add(std::int64_t section, std::int64_t records, bool isFolded) {
    records_.insert(section, 1, 0);
    entries_.insert(section, 1, 0);
    set(section, records, isFolded);
}

void Sections::addTo(std::int64_t section, std::int64_t records) {
    const Stand stand = at(section);
    assert(stand.records + records > 0);
    set(section, stand.records + records, stand.isFolded);
}

void Sections::addFirst(std::int64_t records) {
    assert(!isFirstHeaded_);
    if (records > 0) {
        add(0, records, false);
    }
}

void Sections::erase(std::int64_t section, std::int64_t count) {
    const bool wasFirst = section == 0 && count > 0;
    records_.erase(section, count);
    entries_.erase(section, count);
    if (wasFirst) {
        isFirstHeaded_ = this->count() > 0; // those behind it had headings
    }
}

void Sections::split(std::int64_t place) {
    const Stand stand = ofPlace(place);
    assert(place > stand.first);
    set(stand.section, place - stand.first, stand.isFolded);
    add(stand.section + 1, stand.first + stand.records - place, stand.isFolded);
}

void Sections::join(std::int64_t section) {
    assert(section > 0);
    const std::int64_t more = at(section).records;
    records_.erase(section, 1);
    entries_.erase(section, 1);
    addTo(section - 1, more);
}

void Sections::setFirstHeaded(bool isHeaded) {
    const Stand stand = at(0);
    isFirstHeaded_ = isHeaded;
    set(0, stand.records, false);
}

void Sections::setFolded(std::int64_t section, bool isFolded) {
    assert(isHeaded(section));
    set(section, at(section).records, isFolded);
}

void Sections::setAllFolded(bool areFolded) {
    if (areFolded && isFirstHeaded_) { // each as many as the other
        entries_ = ExtentIndex();
        entries_.setEstimate(0, so(1));
        entries_.insert(0, count(), 0);
        return;
    }
    std::vector<std::int32_t> entries = recordsOf(0, count());
    for (std::size_t section = 0; section < entries.size(); ++section) {
        entries[section] = static_cast<std::int32_t>(
            entriesFor(static_cast<std::int64_t>(section), entries[section], areFolded));
    }
    entries_ = ExtentIndex();
    entries_.insert(0, count(), 0);
    entries_.setEstimated(0, entries);
}

void Sections::checkInvariants() const {
    records_.checkInvariants();
    entries_.checkInvariants();
    assert(records_.size() == entries_.size());
    for (std::int64_t section = 0; section < count(); ++section) {
        [[maybe_unused]] const Stand stand = at(section);
        assert(stand.records > 0);
        assert(stand.entries == entriesFor(section, stand.records, stand.isFolded));
    }
}

} // namespace scorrere
