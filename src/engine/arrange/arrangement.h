// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/sections.h"

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace scorrere {

/// What stands at a position of the collection.
enum class Role : std::uint8_t { Header, Record, Footer, SectionHeader, SectionFooter, Heading };

struct Slot {
    Role role = Role::Record;
    std::int64_t place = -1;   ///< Record: its place in the record order; of a section: its first record's
    std::int64_t section = -1; ///< where there are sections
};

/// What stands before and behind the records.
struct Ends {
    bool header = false;
    bool footer = false;
    bool heading = false; ///< of a table, behind the header
};

/// Distances that every arrangement knows, in density-independent px.
struct Spacing {
    Length gap;                     ///< along the strip, between items or lines of them
    std::array<Length, 4> insets{}; ///< top, end, bottom, start: between the strip's edge and the items
    bool operator==(const Spacing&) const = default;
};

/// Where an item stands: along the scroll axis, and across it from the window's edge.
struct Box {
    Length start;
    Length extent;
    Length crossStart;
    Length crossExtent;
    Length end() const { return start + extent; }
    bool operator==(const Box&) const = default;
};

/// What an item view is laid out within. Where the extent is given, too, what it holds has no say in it.
struct Given {
    Length crossExtent;
    std::optional<Length> extent;
    std::uint32_t columns = 0; ///< as which its cells stand in a table's columns: see TableColumns
    bool operator==(const Given&) const = default;
};

/// Items that follow each other and are of one kind.
using KindRun = ExtentIndex::Run;

/// What stays at the window's start though it stands before it.
struct Staying {
    std::int64_t position = -1; ///< -1: nothing does
    Length start;               ///< where it shows on the strip
    bool operator==(const Staying&) const = default;
};

/// All that does, in order; each begins where the one before it ends, or is pushed out by it.
struct Stayings {
    static constexpr std::size_t kMost = 2;
    std::array<Staying, kMost> all{};
    bool operator==(const Stayings&) const = default;
    bool has(std::int64_t position) const {
        return position >= 0 && (all[0].position == position || all[1].position == position);
    }
};

/// From which end of a stretch its items are named.
enum class Toward : std::uint8_t { End, Start };

/// How items are arranged along the strip: what a run asks, whatever the arrangement.
///
/// Units       Positions count header, records, footer and what sections have; places count records only. Lengths along the
///             strip's axis, and across it.
/// Complexity  n = items. Queries, setMeasured and edits are O(log n) for each item they name; forgetting is
///             O(1). Nothing loops over the collection.
/// Ownership   A value of its own. What is forgotten is handed out, so that its memory can be given back
///             elsewhere than in a frame.
/// Threads     Sole access, also for queries: the index catches up with changed estimates when visited.
/// Errors      A broken "Requires" is the caller's bug: it asserts.
class Arrangement {
public:
    static constexpr int kRecordKind = 0;
    static constexpr int kHeaderKind = 1;
    static constexpr int kFooterKind = 2;
    static constexpr int kSectionHeaderKind = 3;
    static constexpr int kSectionFooterKind = 4;
    static constexpr int kHeadingKind = 5;
    static constexpr int kRoles = 6;
    static constexpr int kAcrossKind = 6; ///< a record's that has all columns
    static constexpr int kKinds = 7;
    using Estimates =
        std::array<Length, kKinds>; ///< by the constants above; none for across: as any record's
    using Forgotten = std::vector<ExtentIndex>;

    virtual ~Arrangement() = default;

    std::int64_t size() const { return records_ + others_ + before() + (footer_ ? 1 : 0); }
    std::int64_t recordCount() const { return records_; }
    /// Whether positions go with places: an edit moves what stands behind it, and nothing else.
    virtual bool areByPlace() const { return true; }
    virtual Slot slotAt(std::int64_t position) const;
    /// Of a record that does not stand there: of a folded section its header, else any.
    virtual std::int64_t positionOf(std::int64_t place) const { return place + before(); }
    /// Where what was there at another time, or is in another window, stands here; -1: nowhere. A section's header
    /// or footer is told by its first record: slot.section has no say.
    std::int64_t find(const Slot& slot) const;
    /// Where a section begins: its header's position, or its first record's. Requires: there is one.
    std::int64_t startOfSection(std::int64_t section) const;
    static constexpr int kindOf(Role role) {
        constexpr std::array<int, kRoles> kOf{kHeaderKind,        kRecordKind,        kFooterKind,
                                              kSectionHeaderKind, kSectionFooterKind, kHeadingKind};
        return kOf[static_cast<std::size_t>(role)];
    }
    int kindAt(std::int64_t position) const { return kindOf(slotAt(position).role); }

    /// The room across. What is known of extents must be forgotten when it differs.
    virtual void setCross(Length cross) = 0;
    /// The window's extent along the strip.
    virtual void setWindow(Length /*along*/) {}
    /// Whether items' extents follow the window's: what is known of them must be forgotten then, too.
    virtual bool followsWindow() const { return false; }
    virtual Length total() = 0;
    virtual Box boxOf(std::int64_t position) = 0;
    virtual Given givenFor(std::int64_t position) = 0;
    Length startOf(std::int64_t position) { return boxOf(position).start; }
    Length extentOf(std::int64_t position) { return boxOf(position).extent; }
    /// The first item that stands where `offset` is, or before the gap it falls in; clamped to the first and
    /// last item. -1 when there are none.
    virtual std::int64_t indexAt(Length offset) = 0;
    /// Items that take room in [from, until), in order from that end and only those beyond `past` (kFromTheEnd:
    /// all), as many as there is `room` for. Gives how many. Requires: there is room for mostInALine().
    virtual std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                                 std::span<std::int64_t> room) = 0;
    static constexpr std::int64_t kFromTheEnd = -1;
    /// So many items stand beside each other at most; never more than kMostInALine.
    virtual std::size_t mostInALine() const { return 1; }
    static constexpr std::size_t kMostInALine = 32;
    /// Whether none starts before one of a lower position.
    virtual bool isInOrder() const { return true; }

    /// The offset where the window comes to rest from one, moving at a velocity in px/s; nothing: anywhere.
    virtual std::optional<Length> restFor(Length, double /*velocity*/) { return std::nullopt; }
    /// The next one that way where it can rest.
    virtual std::optional<Length> restBeside(Length, Toward) { return std::nullopt; }
    /// The offset at which an item shows as it is meant to when one goes to it.
    virtual Length restOf(std::int64_t position) { return startOf(position); }

    /// Null: there are none.
    virtual const Sections* sections() const { return nullptr; }
    /// What stays at the window's start while that is at `top`.
    virtual Stayings stayingAt(Length /*top*/) { return {}; }
    /// How far the strip reaches across; beyond the window it is scrolled across.
    virtual Length acrossTotal() { return {}; }
    /// How much of an item, from its start, stays while the rest of it is scrolled across; nothing: it is never
    /// scrolled across.
    virtual std::optional<Length> staysAcross(std::int64_t /*position*/) { return std::nullopt; }
    /// Whether items of other kinds may stand among the records, as the headers of sections do: each has the
    /// strip's whole width, whatever stands beside each other. An arrangement that takes them counts them among
    /// its records, and whoever put them there tells them apart.
    virtual bool takesOthers() const { return false; }
    /// Requires: takesOthers(), a kind of the constants above.
    virtual void insertOther(std::int64_t /*place*/, int /*kind*/) {}
    /// Of which kinds the records are, in order, while nothing is measured. `areOthers`: they are others than
    /// before. O(runs). Requires: takesOthers().
    virtual void tellKinds(std::span<const KindRun>, bool /*areOthers*/) {}

    virtual ExtentState stateOf(std::int64_t position) = 0;
    /// How many of the items before `position` are measured; or estimated from their content, too.
    virtual std::int64_t measuredBefore(std::int64_t position) = 0;
    virtual std::int64_t knownBefore(std::int64_t position) = 0;
    /// How long an item of the kind is thought to be before anything is known of it.
    virtual Length estimateOf(int kind) const = 0;
    /// The longest an item may be.
    virtual Length mostExtent() const = 0;

    virtual void insertRecords(std::int64_t place, std::int64_t count) = 0;
    virtual void eraseRecords(std::int64_t place, std::int64_t count) = 0;
    virtual void moveRecord(std::int64_t from, std::int64_t to) = 0;
    virtual void setMeasured(std::int64_t position, Length extent) = 0;
    /// Raw extents estimated from content for consecutive records; negative ones are left to the mean.
    virtual void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) = 0;
    /// As ExtentIndex::evenOut, of records.
    virtual void evenOut(std::int64_t place, std::int64_t count) = 0;
    /// An item that takes no room is known by its kind's estimate again; tells whether it was one.
    virtual bool forgetNothing(std::int64_t position) = 0;
    /// After how far the strip begins anew, the first item following the last; 0: it has ends. Items of an endless
    /// one stand where they are nearest to the window.
    virtual Length circle() const { return {}; }
    /// An item shows so far from the window's start. Of an endless strip, gives how much further the copy of it
    /// shows that is nearest to the window from now on.
    virtual Length windowAt(std::int64_t /*position*/, Length /*showed*/) { return {}; }
    /// What is read, and how far from the window's start it showed: what showed keeps its distances from it
    /// while other items are measured.
    virtual void keepStill(std::int64_t, Length /*showed*/) {}
    /// Somebody asked to be taken to it: what stood there before may stand otherwise.
    virtual void beginAt(std::int64_t) {}
    /// After an edit: takes over what is known of an item that is alive, where it stands now.
    virtual void recall(std::int64_t) {}

    /// All extents become their kind's estimate again.
    virtual Forgotten forgetExtents(const Estimates& estimates) = 0;
    /// Means of what was measured become the estimates of the rest: between frames, since that moves what has
    /// no extent of its own yet. True when there were any.
    virtual void takeMeans();
    virtual bool areMeansDue() const;

    /// What it keeps of its items.
    virtual std::size_t memoryBytes() const = 0;
    /// Nodes of its indexes that were visited since extents were forgotten last.
    virtual std::int64_t nodesVisited() const = 0;
    virtual void checkInvariants() = 0;

protected:
    Arrangement(Ends ends, std::int64_t records)
        : header_(ends.header), heading_(ends.heading), footer_(ends.footer), records_(records) {}
    Arrangement(const Arrangement&) = default;
    Arrangement& operator=(const Arrangement&) = default;

    bool hasHeader() const { return header_; }
    bool hasHeading() const { return heading_; }
    bool hasFooter() const { return footer_; }
    /// So many items stand before the first record's.
    std::int64_t before() const { return (header_ ? 1 : 0) + (heading_ ? 1 : 0); }
    void addRecords(std::int64_t count) { records_ += count; }
    /// So many more positions than records, header and footer, or fewer where records are folded away.
    void setOthers(std::int64_t count) { others_ = count; }
    /// What has not been looked at is never thought to take no room: it would be passed over for good.
    static constexpr Length kLeastEstimate = Length::px(1);
    virtual void setKindEstimate(int kind, Length extent) = 0;
    /// Something of the kind was measured that nothing was known of.
    void countMeasured(int kind, Length extent);
    void forgetMeans();

private:
    struct Mean {
        std::int64_t count = 0;
        Length sum;
        bool isDue = false;
    };
    bool header_;
    bool heading_;
    bool footer_;
    std::int64_t records_;
    std::int64_t others_ = 0;
    std::array<Mean, kKinds> means_{};
};

} // namespace scorrere
