// SPDX-License-Identifier: Apache-2.0
//
// A tree of wide nodes over the items. Each inner node keeps, for up to 32 children, where each starts
// (extent and count), so one step down is a search among 32 numbers that lie together; a leaf holds up to 256
// items in 4 bytes each, with the start of every 32nd. Items known only by their kind's estimate are runs: a
// child id and a count, no storage; so are items that were evened out, with a sum. Beside the starts, every
// child keeps what does not depend on the estimates (the sum of known extents, how many items follow each
// kind's estimate), so a changed estimate only raises an epoch; a node computes its starts again when next
// visited.
//
// Why not prefix sums: an edit or a measured item would touch everything after it. Why not a binary indexed
// tree: no insert or erase. Why not a balanced binary tree: 24 dependent cache misses at ten million items,
// and 40 bytes an item; here there are four, and about 5.
#include "engine/extent/extent_leaf.h"

namespace scorrere {

using namespace extent_nodes;

ExtentIndex::ExtentIndex(Sums sums) : root_(store_.takeInner(1)), hasSums_(sums == Sums::Kept) {
    recompute(root_);
}

std::int64_t ExtentIndex::valueOf(const Totals& totals) const {
    std::int64_t sum = totals.fixed;
    for (std::size_t k = 0; k < static_cast<std::size_t>(kinds_); ++k) {
        sum += totals.unknown[k] * estimates_[k];
    }
    return sum;
}

void ExtentIndex::recompute(NodeId node) {
    Inner& inner = store_.inner[node];
    const Store::ChildTotals& totals = store_.totals[node];
    std::int64_t extent = 0;
    for (std::size_t i = 0; i < kFan; ++i) {
        const bool used = static_cast<int>(i) < inner.size;
        inner.startExtent[i] = used ? extent : kUnused;
        if (used) {
            extent += valueOf(totals[i]);
        } else {
            inner.startCount[i] = kUnused;
        }
    }
    inner.extent = extent;
    inner.epoch = epoch_;
}

Entry ExtentIndex::summarise(NodeId node) {
    const Inner& inner = store_.inner[node];
    Entry entry{node, inner.count, {}};
    for (std::size_t i = 0; i < static_cast<std::size_t>(inner.size); ++i) {
        entry.totals.add(store_.totals[node][i]);
    }
    return entry;
}

Entry ExtentIndex::summariseDense(NodeId id) {
    const Dense& leaf = store_.dense[id];
    Entry entry{id, leaf.size, {}};
    for (std::size_t i = 0; i < static_cast<std::size_t>(leaf.size); ++i) {
        account(entry.totals, leaf.item[i], 1);
    }
    return entry;
}

Length ExtentIndex::total() {
    assert(hasSums_);
    return Length::fromRaw(fresh(root_).extent);
}

void ExtentIndex::setEstimate(int kind, Length estimate) {
    assert(kind >= 0 && kind < kMaxKinds && estimate >= Length{} && estimate <= kMaxExtent);
    std::int64_t& held = estimates_[static_cast<std::size_t>(kind)];
    if (held == estimate.raw() && kind < kinds_) {
        return;
    }
    held = estimate.raw();
    kinds_ = std::max(kinds_, kind + 1);
    ++epoch_;
}

/// How the items of an even run share its sum. Out of line: the way to a dense leaf is the one that counts.
[[gnu::noinline, gnu::cold]] Evenly ExtentIndex::evenlyIn(NodeId node, std::size_t slot) {
    const Inner& inner = store_.inner[node];
    const bool isLast = static_cast<int>(slot) + 1 == inner.size;
    return {store_.totals[node][slot].fixed,
            (isLast ? inner.count : inner.startCount[slot + 1]) - inner.startCount[slot]};
}

/// Asks for the memory where the item probably lies, were all items of the leaf alike, while its header is on
/// the way: two cache misses at once instead of one after the other.
inline void ExtentIndex::prefetchNear(NodeId id, std::int64_t x, std::int64_t extent) {
    const Dense& leaf = store_.dense[id];
    const double share = static_cast<double>(x) / static_cast<double>(std::max<std::int64_t>(extent, 1));
    const auto guess = static_cast<std::size_t>(std::min(share, 1.0) * (kLeafItems - 1));
    __builtin_prefetch(&leaf.blockStart);
    __builtin_prefetch(&leaf.item[guess]);
    __builtin_prefetch(&leaf.item[guess & ~std::size_t{31}]);
}

std::int64_t ExtentIndex::indexAt(Length offset) {
    assert(hasSums_);
    std::int64_t x = offset.raw();
    if (x < 0 || size_ == 0) {
        return 0;
    }
    NodeId node = root_;
    std::int64_t position = 0;
    if (x >= fresh(node).extent) {
        return size_;
    }
    const Inner* inner = nullptr;
    std::size_t slot = 0;
    NodeId parent = node;
    do {
        parent = node;
        inner = &fresh(node);
        slot = static_cast<std::size_t>(lastAtOrBefore(inner->startExtent, x));
        x -= inner->startExtent[slot];
        position += inner->startCount[slot];
        node = inner->child[slot];
    } while (inner->level > 1);
    if (isRun(node)) {
        return position + (isEven(node) ? evenlyIn(parent, slot).itemAt(x)
                                        : x / estimates_[static_cast<std::size_t>(runKind(node))]);
    }
    prefetchNear(node, x,
                 slot + 1 < kFan ? inner->startExtent[slot + 1] - inner->startExtent[slot] : kUnused);
    const Dense& leaf = freshDense(node);
    // Which block, which item in it: each by counting the starts that are not beyond x. No branch depends on
    // the data, so none is mispredicted.
    std::size_t block = 0;
    for (std::size_t b = 1; b < kBlocks; ++b) { // blocks behind the leaf's end start where it ends, beyond x
        block += static_cast<std::size_t>(leaf.blockStart[b] <= x);
    }
    const auto left = static_cast<std::uint32_t>(x - leaf.blockStart[block]);
    const std::size_t first = block * kBlock;
    const std::size_t last = std::min(first + kBlock, static_cast<std::size_t>(leaf.size)) - 1;
    std::uint32_t start = 0;
    std::size_t item = first;
    for (std::size_t i = first; i < last; ++i) {
        start += leaf.item[i] & kValueMask;
        item += static_cast<std::size_t>(start <= left);
    }
    return position + static_cast<std::int64_t>(item);
}

ExtentIndex::Path ExtentIndex::pathTo(std::int64_t position) {
    Path path;
    NodeId node = root_;
    std::int64_t rest = position;
    for (;;) {
        const Inner& inner = fresh(node);
        const int slot = inner.size == 0 ? 0 : lastAtOrBefore(inner.startCount, rest);
        assert(path.depth < kMaxDepth);
        path.steps[static_cast<std::size_t>(path.depth++)] = {node, slot};
        if (inner.size == 0) {
            path.inLeaf = 0;
            return path;
        }
        rest -= inner.startCount[static_cast<std::size_t>(slot)];
        node = inner.child[static_cast<std::size_t>(slot)];
        if (inner.level == 1) {
            path.inLeaf = rest;
            return path;
        }
    }
}

Length ExtentIndex::offsetOf(std::int64_t position) {
    assert(position >= 0 && position <= size_);
    return position == size_ ? total() : standOf(position).offset;
}

ExtentIndex::Stand ExtentIndex::standOf(std::int64_t position) {
    assert(hasSums_ && position >= 0 && position < size_);
    NodeId node = root_;
    NodeId parent = root_;
    std::int64_t offset = 0;
    const Inner* inner = nullptr;
    std::size_t slot = 0;
    do {
        parent = node;
        inner = &fresh(node);
        slot = static_cast<std::size_t>(lastAtOrBefore(inner->startCount, position));
        position -= inner->startCount[slot];
        offset += inner->startExtent[slot];
        node = inner->child[slot];
    } while (inner->level > 1);
    if (isEven(node)) {
        const auto even = evenlyIn(parent, slot);
        return {Length::fromRaw(offset + even.startOf(position)), Length::fromRaw(even.extentOf(position))};
    }
    if (isRun(node)) {
        const std::int64_t each = estimates_[static_cast<std::size_t>(runKind(node))];
        return {Length::fromRaw(offset + position * each), Length::fromRaw(each)};
    }
    const Dense& leaf = freshDense(node);
    return {Length::fromRaw(offset + sumWithin(leaf, static_cast<int>(position))),
            Length::fromRaw(valueOfItem(leaf.item[static_cast<std::size_t>(position)]))};
}

std::uint32_t ExtentIndex::itemAt(std::int64_t position) {
    assert(position >= 0 && position < size_);
    Path path = pathTo(position);
    const Inner& inner = store_.inner[path.leafStep().node];
    const std::size_t slot = static_cast<std::size_t>(path.leafStep().slot);
    const NodeId leaf = inner.child[slot];
    if (isEven(leaf)) {
        return packItem(kEstimatedState, runKind(leaf),
                        evenlyIn(path.leafStep().node, slot).extentOf(path.inLeaf));
    }
    if (isRun(leaf)) {
        return packItem(kUnknownState, runKind(leaf), estimates_[static_cast<std::size_t>(runKind(leaf))]);
    }
    return freshDense(leaf).item[static_cast<std::size_t>(path.inLeaf)];
}

ExtentIndex::Place ExtentIndex::find(std::int64_t position) {
    assert(position >= 0 && position < size_);
    Place place(*this, position);
    const Step& last = place.path_.leafStep();
    __builtin_prefetch(&store_.totals[last.node][static_cast<std::size_t>(last.slot)]);
    if (const NodeId leaf = leafAt(place.path_); !isRun(leaf)) {
        const Dense& dense = store_.dense[leaf];
        __builtin_prefetch(&dense.epoch);
        __builtin_prefetch(&dense.blockStart[kBlocks - 1]);
        __builtin_prefetch(&dense.item[static_cast<std::size_t>(place.path_.inLeaf)]);
    }
    return place;
}

void ExtentIndex::read(std::int64_t first, std::span<Known> to) {
    assert(first >= 0 && first + static_cast<std::int64_t>(to.size()) <= size_);
    for (std::size_t done = 0; done < to.size();) {
        Path path = pathTo(first + static_cast<std::int64_t>(done));
        const NodeId leaf = leafAt(path);
        if (isRun(leaf)) {
            const Entry run = leafEntry(path.leafStep());
            const int kind = runKind(leaf);
            const std::int64_t each = isEven(leaf) ? 0 : estimates_[static_cast<std::size_t>(kind)];
            const Evenly evenly(isEven(leaf) ? run.totals.fixed : 0, run.count);
            for (std::int64_t i = path.inLeaf; i < run.count && done < to.size(); ++i, ++done) {
                to[done] = knownOf(isEven(leaf) ? packItem(kEstimatedState, kind, evenly.extentOf(i))
                                                : packItem(kUnknownState, kind, each));
            }
            continue;
        }
        const Dense& dense = freshDense(leaf);
        for (auto i = static_cast<std::size_t>(path.inLeaf);
             i < static_cast<std::size_t>(dense.size) && done < to.size(); ++i, ++done) {
            to[done] = knownOf(dense.item[i]);
        }
    }
}

Length ExtentIndex::extentOf(std::int64_t position) {
    return Length::fromRaw(valueOfItem(itemAt(position)));
}
ExtentState ExtentIndex::stateOf(std::int64_t position) {
    return static_cast<ExtentState>(stateOfItem(itemAt(position)));
}
int ExtentIndex::kindOf(std::int64_t position) {
    return kindOfItem(itemAt(position));
}

namespace {

/// Sums `of(totals)` over the children before the path's slots and the leaf's items before it.
template <typename OfTotals, typename OfItem, typename PathType>
std::int64_t countBefore(Store& store, PathType& path, OfTotals ofTotals, OfItem ofItem) {
    std::int64_t sum = 0;
    for (int d = 0; d < path.depth; ++d) {
        const auto& step = path.steps[static_cast<std::size_t>(d)];
        for (int i = 0; i < step.slot; ++i) {
            sum += ofTotals(store.totals[step.node][static_cast<std::size_t>(i)]);
        }
    }
    const auto& last = path.leafStep();
    if (store.inner[last.node].size == 0) {
        return sum;
    }
    const NodeId leaf = store.inner[last.node].child[static_cast<std::size_t>(last.slot)];
    for (std::int64_t i = 0; !isRun(leaf) && i < path.inLeaf; ++i) {
        sum += ofItem(store.dense[leaf].item[static_cast<std::size_t>(i)]);
    }
    return sum;
}

} // namespace

std::int64_t ExtentIndex::measuredBefore(std::int64_t position) {
    Path path = pathTo(position);
    return countBefore(
        store_, path, [](const Totals& t) { return std::int64_t{t.measured}; },
        [](std::uint32_t item) { return std::int64_t{stateOfItem(item) == kMeasuredState}; });
}

std::int64_t ExtentIndex::knownBefore(std::int64_t position) {
    Path path = pathTo(position);
    const std::int64_t unknown = countBefore(
        store_, path,
        [this](const Totals& t) {
            std::int64_t sum = 0;
            for (std::size_t k = 0; k < static_cast<std::size_t>(kinds_); ++k) {
                sum += t.unknown[k];
            }
            return sum;
        },
        [](std::uint32_t item) { return std::int64_t{stateOfItem(item) == kUnknownState}; });
    const Step& last = path.leafStep();
    const NodeId leaf = store_.inner[last.node].size > 0
                            ? store_.inner[last.node].child[static_cast<std::size_t>(last.slot)]
                            : 0;
    return position - unknown - (isRun(leaf) && !isEven(leaf) ? path.inLeaf : 0);
}

/// The extent of all items before one, with or without sums that say it.
Length ExtentIndex::sumBefore(std::int64_t position) {
    if (hasSums_) {
        return offsetOf(position);
    }
    if (position == 0) {
        return {};
    }
    Path path = pathTo(position);
    const Entry leaf = leafEntry(path.leafStep());
    if (!isRun(leaf.child)) {
        (void)freshDense(leaf.child);
    }
    const std::int64_t before = countBefore(
        store_, path, [this](const Totals& t) { return valueOf(t); }, valueOfItem);
    return Length::fromRaw(before + (isRun(leaf.child) ? valueOf(partOf(leaf, 0, path.inLeaf).totals) : 0));
}

void ExtentIndex::checkInvariants() {
    std::vector<std::pair<NodeId, int>> open{{root_, 0}};
    [[maybe_unused]] std::size_t inners = 0;
    [[maybe_unused]] std::size_t denses = 0;
    std::int64_t items = 0;
    while (!open.empty()) {
        const auto [node, depth] = open.back();
        open.pop_back();
        ++inners;
        const Inner& inner = fresh(node);
        assert(inner.size <= kFan && depth < kMaxDepth);
        assert(depth == 0 || inner.size > 0);
        std::int64_t extent = 0;
        std::int64_t count = 0;
        for (std::size_t i = 0; i < static_cast<std::size_t>(inner.size); ++i) {
            assert((!hasSums_ || inner.startExtent[i] == extent) && inner.startCount[i] == count);
            const NodeId child = inner.child[i];
            const std::int64_t end =
                static_cast<int>(i) + 1 < inner.size ? inner.startCount[i + 1] : inner.count;
            Entry entry = isEven(child) ? evenEntry(end - count, runKind(child), store_.totals[node][i].fixed)
                                        : runEntry(end - count, isRun(child) ? runKind(child) : 0);
            if (inner.level > 1) {
                assert(store_.inner[child].level == inner.level - 1);
                entry = summarise(child);
                open.emplace_back(child, depth + 1);
            } else if (!isRun(child)) {
                entry = summariseDense(child);
                ++denses;
                [[maybe_unused]] const Dense& leaf = freshDense(child);
                assert(leaf.size > 0 && leaf.size <= kLeafItems);
                assert(!hasSums_ || sumWithin(leaf, leaf.size) == valueOf(entry.totals));
            }
            const Totals& totals = store_.totals[node][i];
            assert(totals.fixed == entry.totals.fixed && totals.measured == entry.totals.measured);
            assert(totals.unknown == entry.totals.unknown && entry.count == end - count && entry.count > 0);
            extent += valueOf(totals);
            count = end;
            items += inner.level == 1 ? entry.count : 0;
        }
        assert((!hasSums_ || inner.extent == extent) && inner.count == count);
    }
    assert(items == size_);
    assert(inners == store_.inner.inUse() && denses == store_.dense.inUse());
}

} // namespace scorrere
