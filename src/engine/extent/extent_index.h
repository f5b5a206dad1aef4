// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/extent_nodes.h"
#include "engine/extent/length.h"

#include <cstdint>
#include <span>

namespace scorrere {

/// How an item's extent is known.
enum class ExtentState : std::uint8_t {
    KindEstimate,    ///< only by the estimate of its kind
    ContentEstimate, ///< estimated from what it contains
    Measured,        ///< laid out for real
};

/// Maps item positions to offsets along the scroll axis, and back.
///
/// Units       Extents and offsets are `Length` (1/64 of a device-independent pixel). Positions are 0-based.
/// Intervals   Item i covers [offsetOf(i), offsetOf(i) + extentOf(i)): start in, end out.
/// Complexity  n = size(). Queries, setMeasured, insert and move are O(log n), erase too, amortised (what it
///             frees was once built); setEstimate is O(1), nodes catch up when next visited. setEstimated is
///             O(span). Runs of items known only by their kind's estimate, or evened out, cost no memory an
///             item.
/// Ownership   Hands out values, never references. Move only.
/// Threads     Needs sole access, also for queries: nodes catch up with changed estimates when visited.
/// Errors      A broken "Requires" is the caller's bug: it asserts.
/// Not for     Placement across the axis: see arrange/.
class ExtentIndex {
public:
    static constexpr int kMaxKinds = extent_nodes::kMaxKinds;
    /// The longest single item: 2^20 px.
    static constexpr Length kMaxExtent = Length::fromRaw((std::int64_t{1} << 26) - 1);

    /// The most items there may be: they are counted in 32 bits.
    static constexpr std::int64_t kMaxItems = (std::int64_t{1} << 32) - 1;

    /// None: offsets are never asked for, which makes what changes cheaper.
    enum class Sums : bool { None, Kept };
    explicit ExtentIndex(Sums sums = Sums::Kept);
    ExtentIndex(ExtentIndex&&) noexcept = default;
    ExtentIndex& operator=(ExtentIndex&&) noexcept = default;

    std::int64_t size() const { return size_; }
    /// Requires: sums are kept.
    Length total();

    /// Requires: 0 <= kind < kMaxKinds, 0 <= estimate <= kMaxExtent.
    void setEstimate(int kind, Length estimate);
    Length estimate(int kind) const { return Length::fromRaw(estimates_[static_cast<std::size_t>(kind)]); }

    /// Inserts `count` items known by their kind's estimate before `position`. Requires: 0 <= position <=
    /// size(), size() + count <= kMaxItems.
    void insert(std::int64_t position, std::int64_t count, int kind);
    /// So many items of a kind.
    struct Run {
        std::int64_t count = 0;
        int kind = 0;
    };
    /// Inserts runs that follow each other, none of the kind of the one before it. O(runs). Requires: size() == 0.
    void insertAll(std::span<const Run> runs);
    /// Requires: 0 <= position, position + count <= size().
    void erase(std::int64_t position, std::int64_t count);
    /// Takes one item out at `from` and puts it back so that it stands at `to`; its extent and state go with
    /// it.
    void move(std::int64_t from, std::int64_t to);

    struct Known {
        Length extent;
        ExtentState state = ExtentState::KindEstimate;
        int kind = 0; ///< told, never set
    };
    /// Gives how it was known before.
    ExtentState setMeasured(std::int64_t position, Length extent);
    class Place;
    /// Where an item is kept, until the next change of another; asks for that memory, so that something else is done
    /// while it comes.
    Place find(std::int64_t position);
    /// As setMeasured(), and reads items around it, itself among them, from `first` on. Requires: it is one of them.
    void setMeasured(Place& place, Length extent, std::int64_t first, std::span<Known> to);
    /// Whatever it was known by: a kind's estimate has no extent of its own. Gives how it was known before.
    ExtentState setKnown(Place& place, const Known& known);
    /// Content estimates (raw 1/64 px) for consecutive items; a negative one leaves the item to its kind's
    /// estimate. Measured items stay measured.
    void setEstimated(std::int64_t first, std::span<const std::int32_t> extents);

    /// Keeps the sum of these items and forgets each: they share it evenly, as content estimates. For what is
    /// so far away that only its length matters. O(log n), amortised. Requires: all are of one kind.
    void evenOut(std::int64_t position, std::int64_t count);

    /// The item that covers `offset`; 0 before the start, size() at or after the end. Requires: sums are kept, as
    /// for the next and standOf().
    std::int64_t indexAt(Length offset);
    /// Requires: 0 <= position <= size(). offsetOf(size()) is total().
    Length offsetOf(std::int64_t position);
    Length extentOf(std::int64_t position);
    struct Stand {
        Length offset;
        Length extent;
    };
    /// Both, in the time of one. Requires: 0 <= position < size().
    Stand standOf(std::int64_t position);
    ExtentState stateOf(std::int64_t position);
    int kindOf(std::int64_t position);
    /// What is known of consecutive items, in the time of one for those that stand near each other.
    void read(std::int64_t first, std::span<Known> to);
    /// How many of the items before `position` are measured.
    std::int64_t measuredBefore(std::int64_t position);
    /// How many of the items before `position` are measured or estimated from their content.
    std::int64_t knownBefore(std::int64_t position);

    /// Nodes that were visited on the way to an item, ever.
    std::int64_t nodesVisited() const { return visited_; }
    std::size_t memoryBytes() const { return store_.memoryBytes(); }
    /// Asserts that every sum, count and bound in the tree is right. O(n); for tests.
    void checkInvariants();

private:
    struct Step {
        extent_nodes::NodeId node;
        int slot;
    };
    struct Path {
        std::array<Step, extent_nodes::kMaxDepth> steps;
        int depth = 0;
        std::int64_t inLeaf = 0; ///< position relative to the leaf's first item
        const Step& leafStep() const { return steps[static_cast<std::size_t>(depth - 1)]; }
        Step& leafStep() { return steps[static_cast<std::size_t>(depth - 1)]; }
    };

    extent_nodes::NodeId leafAt(const Path& path);
    extent_nodes::Inner& fresh(extent_nodes::NodeId node);
    extent_nodes::Dense& freshDense(extent_nodes::NodeId leaf);
    extent_nodes::Evenly evenlyIn(extent_nodes::NodeId node, std::size_t slot);
    void prefetchNear(extent_nodes::NodeId leaf, std::int64_t x, std::int64_t extent);
    void recompute(extent_nodes::NodeId node);
    std::int64_t valueOf(const extent_nodes::Totals& totals) const;
    extent_nodes::Entry summarise(extent_nodes::NodeId node);
    extent_nodes::Entry summariseDense(extent_nodes::NodeId leaf);
    Path pathTo(std::int64_t position);
    Length sumBefore(std::int64_t position);
    void replace(Path& path, int level, int removed, std::span<const extent_nodes::Entry> with);
    void leafChanged(Path& path);
    template <typename Account>
    void adjust(const Path& path, std::int64_t count, std::int64_t extent, Account account);
    void eraseInPlace(const Path& path, extent_nodes::NodeId leaf, std::int64_t gone);
    extent_nodes::Entry joinDense(extent_nodes::NodeId left, extent_nodes::NodeId right);
    void tidyLeaves(extent_nodes::EntryList& list);
    void fillItems(extent_nodes::Dense& leaf, std::int64_t at, const extent_nodes::Entry& run) const;
    extent_nodes::NodeId denseFromRun(const extent_nodes::Entry& run);
    extent_nodes::Entry leafEntry(const Step& step);
    extent_nodes::Entry makeNode(int level, std::span<const extent_nodes::Entry> children);
    extent_nodes::Entry leafOf(std::span<const extent_nodes::Entry> runs);
    void insertRun(std::int64_t position, const extent_nodes::Entry& run);
    Path denseAt(std::int64_t position);
    std::uint32_t itemAt(std::int64_t position);
    template <typename Written>
    std::uint32_t writeItem(const Path& path, Written written);

    extent_nodes::Store store_;
    extent_nodes::NodeId root_ = 0;
    std::int64_t size_ = 0;
    std::int64_t visited_ = 0;
    bool hasSums_;
    std::uint32_t epoch_ = 1;
    int kinds_ = 0;
    std::array<std::int64_t, kMaxKinds> estimates_{};
};

/// Found by find().
class ExtentIndex::Place {
    friend class ExtentIndex;
    Place(ExtentIndex& index, std::int64_t position) : position_(position), path_(index.pathTo(position)) {}

    std::int64_t position_;
    Path path_;
};

} // namespace scorrere
