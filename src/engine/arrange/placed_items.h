// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <deque>
#include <optional>
#include <span>
#include <vector>

namespace scorrere {

/// Items that stand where somebody says, in order of their starts. Any of them may overlap, and there may be none
/// for a long stretch. A tree of leaves, whose nodes know how far what is below them reaches.
///
/// Units       Positions count items from 0. Starts are on the caller's scale, and may be negative.
/// Complexity  n = items: O(log n), naming O(log n) for each item named. Building from many is O(n).
/// Ownership   A value of its own. Move only.
/// Threads     Sole access, also for queries: they count the nodes they visit.
/// Errors      A broken "Requires" is the caller's bug: it asserts.
class PlacedItems {
public:
    struct Item {
        Length start;
        Length extent;            ///< more than 0
        std::int32_t id = 0;      ///< one item's only; between those that start at once the lower goes first
        std::uint8_t lane = 0;    ///< given with it
        std::uint8_t among = 0;   ///< of those it overlaps in its lane, the how manieth it stands beside
        std::uint8_t abreast = 1; ///< so many stand beside each other there
        Length end() const { return start + extent; }
    };

    PlacedItems() = default;
    /// Requires: they are in order.
    explicit PlacedItems(std::span<const Item> items);
    PlacedItems(PlacedItems&&) = default;
    PlacedItems& operator=(PlacedItems&&) = default;
    PlacedItems(const PlacedItems&) = delete;
    PlacedItems& operator=(const PlacedItems&) = delete;
    ~PlacedItems() = default;

    std::int64_t size() const { return size_; }
    /// Requires: there is one. What is changed of it must be neither where it stands nor its id.
    Item& at(std::int64_t position);
    /// How many go before one that starts there and has that id.
    std::int64_t countBefore(Length start, std::int32_t id) const;
    /// The end of the one that reaches furthest. Requires: there is one.
    Length reach() const;

    void insert(const Item& item);
    /// Requires: there is one.
    void erase(std::int64_t position);

    /// Tells `take(position, item)` of those that touch [from, until), from position `first` on, until it says
    /// no more.
    template <typename Take>
    void on(Length from, Length until, std::int64_t first, Take take) {
        if (size_ > 0) {
            (void)nameOn(root_, 0, Stretch{from, until, first}, take);
        }
    }
    /// The same from position `last` back.
    template <typename Take>
    void back(Length from, Length until, std::int64_t last, Take take) {
        if (size_ > 0) {
            (void)nameBack(root_, 0, Stretch{from, until, last}, take);
        }
    }

    std::size_t memoryBytes() const;
    std::int64_t nodesVisited() const { return visited_; }
    void checkInvariants() const;

private:
    static constexpr std::size_t kLeafItems = 64;
    static constexpr std::size_t kFilled =
        kLeafItems * 3 / 4; ///< at first: there is room for those that come
    static constexpr std::size_t kChildren = 32;
    struct Leaf {
        std::size_t count = 0;
        std::array<Item, kLeafItems> items;
    };
    struct Inner {
        std::size_t count = 0;
        std::array<std::uint32_t, kChildren> children;
        std::array<std::int64_t, kChildren> sizes;
        std::array<Item, kChildren> firsts; ///< of each its first item; only what it is found by
        std::array<Length, kChildren> reaches;
    };
    struct Node {
        std::uint32_t index = 0;
        int level = 0; ///< 0: a leaf
    };
    struct Stretch {
        Length from;
        Length until;
        std::int64_t end; ///< the position that naming begins at
    };
    /// What its parent knows of a node.
    struct Sum {
        std::int64_t size = 0;
        Item first;
        Length reach;
    };
    static bool goesBefore(const Item& a, const Item& b) {
        return a.start != b.start ? a.start < b.start : a.id < b.id;
    }
    static Node below(const Inner& inner, std::size_t child, Node node) {
        return {inner.children[child], node.level - 1};
    }
    Sum sumOf(Node node) const;
    void set(Inner& inner, std::size_t child, Node is) const;
    void put(Inner& inner, std::size_t at, Node is) const;
    void take(Inner& inner, std::size_t at, Node was);
    Node make(int level);
    static std::size_t childOf(const Inner& inner, const Item& item);
    /// Gives the node that took over its second half, if it was full.
    std::optional<Node> insertInto(Node node, const Item& item);
    bool eraseFrom(Node node, std::int64_t at);
    void mergeLeaves(Inner& inner, std::size_t at);
    std::int64_t check(Node node, const Item*& last) const;

    template <typename Take>
    bool nameOn(Node node, std::int64_t base, const Stretch& in, Take& take) {
        ++visited_;
        if (node.level == 0) {
            Leaf& leaf = leaves_[node.index];
            for (std::size_t i = in.end > base ? static_cast<std::size_t>(in.end - base) : 0; i < leaf.count;
                 ++i) {
                Item& item = leaf.items[i];
                if (item.start >= in.until ||
                    (item.end() > in.from && !take(base + static_cast<std::int64_t>(i), item))) {
                    return false;
                }
            }
            return true;
        }
        const Inner& inner = inners_[node.index];
        for (std::size_t i = 0; i < inner.count; ++i) {
            if (inner.firsts[i].start >= in.until) {
                return false;
            }
            if (base + inner.sizes[i] > in.end && inner.reaches[i] > in.from &&
                !nameOn(below(inner, i, node), base, in, take)) {
                return false;
            }
            base += inner.sizes[i];
        }
        return true;
    }
    template <typename Take>
    bool nameBack(Node node, std::int64_t base, const Stretch& in, Take& take) {
        ++visited_;
        if (node.level == 0) {
            Leaf& leaf = leaves_[node.index];
            for (auto i = std::min(static_cast<std::int64_t>(leaf.count), in.end - base + 1); i-- > 0;) {
                Item& item = leaf.items[static_cast<std::size_t>(i)];
                if (item.start < in.until && item.end() > in.from && !take(base + i, item)) {
                    return false;
                }
            }
            return true;
        }
        const Inner& inner = inners_[node.index];
        for (std::size_t i = 0; i < inner.count; ++i) {
            base += inner.sizes[i];
        }
        for (std::size_t i = inner.count; i-- > 0;) {
            base -= inner.sizes[i];
            if (base <= in.end && inner.firsts[i].start < in.until && inner.reaches[i] > in.from &&
                !nameBack(below(inner, i, node), base, in, take)) {
                return false;
            }
        }
        return true;
    }

    std::deque<Leaf> leaves_; ///< grow without moving what is there
    std::deque<Inner> inners_;
    std::vector<std::uint32_t> spareLeaves_;
    std::vector<std::uint32_t> spareInners_;
    Node root_;
    std::int64_t size_ = 0;
    mutable std::int64_t visited_ = 0;
};

} // namespace scorrere
