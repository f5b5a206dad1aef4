// SPDX-License-Identifier: Apache-2.0
// The nodes of the extent index: an implementation header, included only by it.
#pragma once

#include <algorithm>
#include <array>
#include <cassert>
#include <cstdint>
#include <limits>
#include <memory>
#include <vector>

namespace scorrere::extent_nodes {

inline constexpr int kMaxKinds = 8;
inline constexpr int kFan = 32;
inline constexpr int kBlock = 32;
inline constexpr int kLeafItems = 256;
inline constexpr int kBlocks = kLeafItems / kBlock;
inline constexpr int kMaxDepth = 14;

/// A child: an inner node, a dense leaf, or (top bit set) a run of one kind that needs no storage at all: its
/// items follow the kind's estimate, or (next bit set) share a sum evenly.
using NodeId = std::uint32_t;
inline constexpr NodeId kRunBit = 0x80000000u;
inline constexpr NodeId kEvenBit = 0x40000000u;
inline bool isRun(NodeId id) {
    return (id & kRunBit) != 0;
}
inline bool isEven(NodeId id) {
    return (id & (kRunBit | kEvenBit)) == (kRunBit | kEvenBit);
}
inline int runKind(NodeId id) {
    return static_cast<int>(id & 0xffu);
}
inline NodeId runOf(int kind) {
    return kRunBit | static_cast<NodeId>(kind);
}

/// `count` items that share `sum`: the first ones are 1 longer than the rest where it does not divide. A cut
/// anywhere leaves every item as it was.
struct Evenly {
    std::int64_t each;
    std::int64_t longer; ///< so many first ones

    Evenly(std::int64_t sum, std::int64_t count) : each(sum / count), longer(sum % count) {}
    std::int64_t startOf(std::int64_t item) const { return each * item + std::min(item, longer); }
    std::int64_t extentOf(std::int64_t item) const { return each + (item < longer ? 1 : 0); }
    /// Requires: 0 <= x < the sum.
    std::int64_t itemAt(std::int64_t x) const {
        const std::int64_t inLonger = x / (each + 1);
        return inLonger < longer ? inLonger : longer + (x - longer * (each + 1)) / each;
    }
};

/// One item of a dense leaf: 2 bits state, 4 bits kind, 26 bits extent.
inline constexpr std::uint32_t kValueMask = (1u << 26) - 1;
inline std::uint32_t packItem(std::uint32_t state, int kind, std::int64_t value) {
    return (state << 30) | (static_cast<std::uint32_t>(kind) << 26) | static_cast<std::uint32_t>(value);
}
inline std::uint32_t stateOfItem(std::uint32_t item) {
    return item >> 30;
}
inline int kindOfItem(std::uint32_t item) {
    return static_cast<int>((item >> 26) & 15u);
}
inline std::int64_t valueOfItem(std::uint32_t item) {
    return item & kValueMask;
}

/// What lies below a child, independent of the estimates.
struct Totals {
    std::int64_t fixed = 0; ///< sum of the extents that do not follow a kind's estimate
    std::uint32_t measured = 0;
    std::array<std::uint32_t, kMaxKinds> unknown{}; ///< items that follow their kind's estimate

    void add(const Totals& other) {
        fixed += other.fixed;
        measured += other.measured;
        for (std::size_t k = 0; k < kMaxKinds; ++k) {
            unknown[k] += other.unknown[k];
        }
    }
    void take(const Totals& other) {
        fixed -= other.fixed;
        measured -= other.measured;
        for (std::size_t k = 0; k < kMaxKinds; ++k) {
            unknown[k] -= other.unknown[k];
        }
    }
};

struct Entry {
    NodeId child = 0;
    std::int64_t count = 0;
    Totals totals;
};

/// Up to two nodes' worth of children, on the stack.
struct EntryList {
    std::array<Entry, 2 * kFan + 6> at;
    int size = 0;
    void push(const Entry& entry) {
        assert(size < static_cast<int>(at.size()));
        at[static_cast<std::size_t>(size++)] = entry;
    }
    void removeAt(int index) {
        std::move(at.begin() + index + 1, at.begin() + size, at.begin() + index);
        --size;
    }
};

/// The part of an inner node that queries read: where each child starts. Unused slots hold the largest value,
/// so a search may look at all of them.
struct Inner {
    std::uint32_t epoch = 0;
    std::int16_t size = 0;
    std::int16_t level = 1; ///< 1: children are leaves
    std::array<std::int64_t, kFan> startExtent;
    std::array<std::int64_t, kFan> startCount;
    std::int64_t extent = 0;
    std::int64_t count = 0;
    std::array<NodeId, kFan> child;
};

struct Dense {
    std::uint32_t epoch = 0;
    std::int32_t size = 0;
    std::array<std::int64_t, kBlocks> blockStart; ///< extent of the items before each block
    std::array<std::uint32_t, kLeafItems> item;
};

/// Storage that never moves a node and reuses freed ones.
template <typename T, int PerChunk>
class Pool {
public:
    NodeId take() {
        if (!free_.empty()) {
            const NodeId id = free_.back();
            free_.pop_back();
            return id;
        }
        if (used_ == chunks_.size() * PerChunk) {
            chunks_.push_back(std::make_unique_for_overwrite<T[]>(PerChunk));
        }
        return static_cast<NodeId>(used_++);
    }
    void give(NodeId id) { free_.push_back(id); }
    T& operator[](NodeId id) { return chunks_[id / PerChunk][id % PerChunk]; }
    std::size_t memoryBytes() const {
        return chunks_.size() * PerChunk * sizeof(T) + chunks_.capacity() * sizeof(void*) +
               free_.capacity() * sizeof(NodeId);
    }
    std::size_t inUse() const { return used_ - free_.size(); }

private:
    std::vector<std::unique_ptr<T[]>> chunks_;
    std::vector<NodeId> free_;
    std::size_t used_ = 0;
};

struct Store {
    using ChildTotals = std::array<Totals, kFan>;
    Pool<Inner, 16> inner;
    Pool<ChildTotals, 16> totals; ///< same ids as `inner`: only edits read them
    Pool<Dense, 64> dense;

    NodeId takeInner(int level) {
        const NodeId id = inner.take();
        [[maybe_unused]] const NodeId same = totals.take();
        assert(same == id);
        inner[id].level = static_cast<std::int16_t>(level);
        inner[id].size = 0;
        inner[id].epoch = 0;
        return id;
    }
    void giveInner(NodeId id) {
        inner.give(id);
        totals.give(id);
    }
    std::size_t memoryBytes() const {
        return inner.memoryBytes() + totals.memoryBytes() + dense.memoryBytes();
    }
};

/// The last of the 32 ascending starts that is <= x (the first one is 0). Five steps without a branch.
inline int lastAtOrBefore(const std::array<std::int64_t, kFan>& starts, std::int64_t x) {
    const std::int64_t* base = starts.data();
    base += static_cast<std::ptrdiff_t>(base[16] <= x) << 4;
    base += static_cast<std::ptrdiff_t>(base[8] <= x) << 3;
    base += static_cast<std::ptrdiff_t>(base[4] <= x) << 2;
    base += static_cast<std::ptrdiff_t>(base[2] <= x) << 1;
    base += static_cast<std::ptrdiff_t>(base[1] <= x);
    return static_cast<int>(base - starts.data());
}

inline constexpr std::int64_t kUnused = std::numeric_limits<std::int64_t>::max();

} // namespace scorrere::extent_nodes
