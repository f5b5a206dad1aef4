// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <utility>
#include <vector>

namespace scorrere {

/// Which cells items of one or several columns take, line by line, in their order: each beside the one before it
/// where there is room for it, else at the start of the next line.
///
/// What an item takes depends on all before it. So stretches of items are kept in a tree, and of each what it
/// does to a line that is filled up to some column: how many lines it begins, and up to where it fills the last.
/// These are put together on the way to an item.
///
/// Units       Places from 0, lines from 0, columns from 0. A span is a number of columns.
/// Complexity  n = items, c = columns: queries O(log n), changes O(c log n + what is named). Items that follow
///             each other and are alike cost no memory each; else some 2 bytes a change from one to another.
/// Ownership   A value of its own: made on a worker, it is handed over by moving it.
/// Threads     Sole access, also for queries: they are counted.
/// Errors      A broken "Requires" is the caller's bug: it asserts.
class CellFlow {
public:
    struct Cell {
        std::int64_t line = 0;
        int column = 0;
        int span = 1;
        bool operator==(const Cell&) const = default;
    };
    static constexpr int kMostColumns = 32;
    static constexpr std::uint8_t kAll = 255; ///< a span of all columns, however many

    /// So many items of one column each. Requires: 1 <= columns <= kMostColumns.
    explicit CellFlow(int columns, std::int64_t count = 0);

    int columns() const { return columns_; }
    std::int64_t size() const;
    std::int64_t lines() const;
    /// Requires: 0 <= place < size().
    Cell cellOf(std::int64_t place) const;
    /// With what its line has left behind it, where the next item has no room there.
    Cell filledCellOf(std::int64_t place) const;
    /// The first item of a line; size() for one behind the last.
    std::int64_t firstOf(std::int64_t line) const;

    /// Items of one column each.
    void insert(std::int64_t place, std::int64_t count);
    void erase(std::int64_t place, std::int64_t count);
    void move(std::int64_t from, std::int64_t to);
    /// Spans of consecutive items, 1 and more; what is wider than all columns has all of them.
    void setSpans(std::int64_t first, std::span<const std::uint8_t> spans);
    void append(std::span<const std::uint8_t> spans);

    /// Nodes that were visited on the way to an item, ever.
    std::int64_t nodesVisited() const { return visited_; }
    std::size_t memoryBytes() const;
    /// O(n); for tests.
    void checkInvariants() const;

private:
    /// How far a line is filled, and how many were begun on the way.
    struct Fill {
        std::uint32_t lines = 0;
        std::uint8_t until = 0; ///< 1 to columns
        bool operator==(const Fill&) const = default;
    };
    /// So many items of one span.
    class Run {
    public:
        static constexpr std::int64_t kMost = (1 << 11) - 1;
        Run() = default;
        Run(std::int64_t count, int span) : bits_(static_cast<std::uint16_t>(count << 5 | (span - 1))) {}
        std::int64_t count() const { return bits_ >> 5; }
        int span() const { return (bits_ & 31) + 1; }

    private:
        std::uint16_t bits_ = 0;
    };
    static constexpr std::size_t kRuns = 128;
    struct Node {
        std::array<Run, kRuns> runs;
        std::uint8_t count = 0; ///< of runs
        std::int32_t left = -1;
        std::int32_t right = -1;
        std::uint32_t rank = 0; ///< none below it has a higher one
        std::int64_t own = 0;   ///< items
        std::int64_t all = 0;   ///< with those below it
    };
    using Runs = std::vector<Run>;

    void pass(int span, std::int64_t count, Fill& fill) const;
    Fill& ownFill(std::int32_t node, int until) { return fills_[indexOf(node, until)]; }
    Fill& allFill(std::int32_t node, int until) {
        return fills_[indexOf(node, until) + static_cast<std::size_t>(columns_)];
    }
    std::size_t indexOf(std::int32_t node, int until) const {
        return static_cast<std::size_t>(node) * 2 * static_cast<std::size_t>(columns_) +
               static_cast<std::size_t>(until - 1);
    }
    void passOwn(std::int32_t node, Fill& fill) const;
    void passAll(std::int32_t node, Fill& fill) const;
    Node& at(std::int32_t node) { return nodes_[static_cast<std::size_t>(node)]; }
    const Node& at(std::int32_t node) const { return nodes_[static_cast<std::size_t>(node)]; }
    const Node& visit(std::int32_t node) const {
        ++visited_;
        return at(node);
    }
    std::int64_t allOf(std::int32_t node) const { return node < 0 ? 0 : at(node).all; }

    std::int32_t make(std::span<const Run> runs);
    void takeOwn(std::int32_t node);
    void takeAll(std::int32_t node);
    std::int32_t join(std::int32_t left, std::int32_t right);
    std::pair<std::int32_t, std::int32_t> part(std::int32_t node, std::int64_t place);
    void drop(std::int32_t node);
    void splice(std::int64_t first, std::int64_t gone, const Runs& with);
    static void add(Runs& runs, int span, std::int64_t count);
    int spanFrom(std::uint8_t span) const;

    int columns_;
    std::int32_t root_ = -1;
    std::vector<Node> nodes_;
    std::vector<Fill>
        fills_; ///< of each node, by how far a line is filled: its own, then with those below it
    std::vector<std::int32_t> free_;
    mutable std::int64_t visited_ = 0;
};

} // namespace scorrere
