// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_over.h"
#include "engine/arrange/grid_arrangement.h"
#include "engine/design/section_chooser.h"

#include <memory>
#include <optional>

namespace scorrere {

/// How records are put in sections, and how these show, whatever the arrangement.
struct SectionsSpec {
    SectionBy by = {};
    bool stay = true;          ///< the header of the section at the window's start stays there
    bool jumps = false;        ///< with a list beside the window of sections that one can go to
    std::string jumpName = {}; ///< what that calls a section: a text pattern; empty: as its header does
    // The collection's designs and its window say the rest.
    bool haveFooters = false;
    Length clear = {}; ///< so far from the window's start, where something covers that
    bool operator==(const SectionsSpec&) const = default;
};

/// Sections over an arrangement: their headers and footers stand among its records, each with the strip's whole width. Which records begin a section is somebody's to say; until then all stand without a heading.
///
/// Complexity  s = sections: as the arrangement below, and O(log s); forgetting, and what concerns all sections,
///             O(s).
class SectionedArrangement final : public ArrangementOver {
public:
    /// `below`: takesOthers(), over the same ends and records.
    SectionedArrangement(const SectionsSpec& spec, std::unique_ptr<Arrangement> below, Ends ends);

    const Sections* sections() const override { return &sections_; }
    /// Whether records begin a section, of consecutive ones.
    void setStarts(std::int64_t firstPlace, std::span<const std::uint8_t> starts);
    /// So many records each, all at once; nothing is known of extents any more. Requires: they are all there are.
    Forgotten takeSections(std::span<const std::int32_t> records, bool isFirstHeaded);
    void setFolded(std::int64_t section, bool isFolded);
    /// Nothing is known of extents any more.
    Forgotten setAllFolded(bool areFolded);
    /// As GridArrangement has them, of records. Requires: that stands below, with spans.
    void setSpans(std::int64_t firstPlace, std::span<const std::uint8_t> spans);
    Forgotten takeFlow(CellFlow flow);

    bool areByPlace() const override { return false; }
    Slot slotAt(std::int64_t position) const override;
    std::int64_t positionOf(std::int64_t place) const override;
    Stayings stayingAt(Length top) override;

    /// Clear of a header that stays.
    Length restOf(std::int64_t position) override;

    bool takesOthers() const override { return false; } // they are its own
    void insertOther(std::int64_t, int) override {}
    void tellKinds(std::span<const KindRun>, bool) override {}

    /// Records belong to the section of the one before them, at the start to the first one.
    void insertRecords(std::int64_t place, std::int64_t count) override;
    void eraseRecords(std::int64_t place, std::int64_t count) override;
    void moveRecord(std::int64_t from, std::int64_t to) override;
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) override;
    void evenOut(std::int64_t place, std::int64_t count) override;
    Forgotten forgetExtents(const Estimates& estimates) override;
    std::size_t memoryBytes() const override { return below().memoryBytes() + sections_.memoryBytes(); }
    std::int64_t nodesVisited() const override { return below().nodesVisited() + sections_.nodesVisited(); }
    void checkInvariants() override;

private:
    /// One that fills the window cannot.
    bool doesStay() const { return spec_.stay && !below().followsWindow(); }
    std::int64_t entryOf(std::int64_t place) const;
    std::vector<KindRun> stretches() const;
    Forgotten beginAnew();
    void setStart(std::int64_t place, bool starts);
    void addHeader(const Sections::Stand& to);
    void takeOthers(const Sections::Stand& from);
    void fold(const Sections::Stand& stand, bool isFolded);
    void counted();
    template <typename Does>
    void inSections(std::int64_t place, std::int64_t count, Does does) const;

    SectionsSpec spec_;
    GridArrangement* grid_; ///< null: it is none
    Sections sections_;
};

} // namespace scorrere
