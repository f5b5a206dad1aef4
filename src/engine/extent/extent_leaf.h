// SPDX-License-Identifier: Apache-2.0
// What both reading and editing the extent index do with a leaf: an implementation header, included only by
// them.
#pragma once

#include "engine/extent/extent_index.h"

namespace scorrere {

namespace extent_nodes {

inline constexpr std::uint32_t kUnknownState = static_cast<std::uint32_t>(ExtentState::KindEstimate);
inline constexpr std::uint32_t kEstimatedState = static_cast<std::uint32_t>(ExtentState::ContentEstimate);
inline constexpr std::uint32_t kMeasuredState = static_cast<std::uint32_t>(ExtentState::Measured);

/// Where each block starts, from `fromBlock` on.
inline void sumBlocks(Dense& leaf, int fromBlock) {
    const std::size_t size = static_cast<std::size_t>(leaf.size);
    std::int64_t sum = fromBlock == 0 ? 0 : leaf.blockStart[static_cast<std::size_t>(fromBlock)];
    for (std::size_t block = static_cast<std::size_t>(fromBlock); block < kBlocks; ++block) {
        leaf.blockStart[block] = sum;
        const std::size_t end = std::min(size, (block + 1) * kBlock);
        for (std::size_t i = block * kBlock; i < end; ++i) {
            sum += valueOfItem(leaf.item[i]);
        }
    }
}

/// The extent of a leaf's items before `until`.
inline std::int64_t sumWithin(const Dense& leaf, int until) {
    const std::size_t block = static_cast<std::size_t>(std::min(until / kBlock, kBlocks - 1));
    std::uint32_t sum = 0; // 32 extents of 26 bits fit
    for (std::size_t i = block * kBlock; i < static_cast<std::size_t>(until); ++i) {
        sum += leaf.item[i] & kValueMask;
    }
    return leaf.blockStart[block] + sum;
}

/// Puts an item into the totals, or takes it out (`sign` -1).
inline void account(Totals& totals, std::uint32_t item, std::int64_t sign) {
    if (stateOfItem(item) == kUnknownState) {
        totals.unknown[static_cast<std::size_t>(kindOfItem(item))] += static_cast<std::uint32_t>(sign);
    } else {
        totals.fixed += sign * valueOfItem(item);
        totals.measured += stateOfItem(item) == kMeasuredState ? static_cast<std::uint32_t>(sign) : 0u;
    }
}

inline ExtentIndex::Known knownOf(std::uint32_t item) {
    return {Length::fromRaw(valueOfItem(item)), static_cast<ExtentState>(stateOfItem(item)),
            kindOfItem(item)};
}

/// A run that follows its kind's estimate.
inline Entry runEntry(std::int64_t count, int kind) {
    Entry entry{runOf(kind), count, {}};
    entry.totals.unknown[static_cast<std::size_t>(kind)] = static_cast<std::uint32_t>(count);
    return entry;
}

/// A run whose items share a sum.
inline Entry evenEntry(std::int64_t count, int kind, std::int64_t sum) {
    Entry entry{runOf(kind) | kEvenBit, count, {}};
    entry.totals.fixed = sum;
    return entry;
}

/// The part [from, until) of a run.
inline Entry partOf(const Entry& run, std::int64_t from, std::int64_t until) {
    if (!isEven(run.child)) {
        return runEntry(until - from, runKind(run.child));
    }
    const Evenly evenly(run.totals.fixed, run.count);
    return evenEntry(until - from, runKind(run.child), evenly.startOf(until) - evenly.startOf(from));
}

} // namespace extent_nodes

/// Requires: the path leads to one.
inline extent_nodes::NodeId ExtentIndex::leafAt(const Path& path) {
    const Step& last = path.leafStep();
    return store_.inner[last.node].child[static_cast<std::size_t>(last.slot)];
}

/// A node whose starts hold for the estimates as they are now.
inline extent_nodes::Inner& ExtentIndex::fresh(extent_nodes::NodeId node) {
    ++visited_;
    extent_nodes::Inner& inner = store_.inner[node];
    if (inner.epoch != epoch_) [[unlikely]] {
        recompute(node);
    }
    return inner;
}

/// The same of a leaf.
inline extent_nodes::Dense& ExtentIndex::freshDense(extent_nodes::NodeId id) {
    extent_nodes::Dense& leaf = store_.dense[id];
    if (leaf.epoch != epoch_) [[unlikely]] {
        for (std::size_t i = 0; i < static_cast<std::size_t>(leaf.size); ++i) {
            if (extent_nodes::stateOfItem(leaf.item[i]) == extent_nodes::kUnknownState) {
                const int kind = extent_nodes::kindOfItem(leaf.item[i]);
                leaf.item[i] = extent_nodes::packItem(extent_nodes::kUnknownState, kind,
                                                      estimates_[static_cast<std::size_t>(kind)]);
            }
        }
        extent_nodes::sumBlocks(leaf, 0);
        leaf.epoch = epoch_;
    }
    return leaf;
}

} // namespace scorrere
