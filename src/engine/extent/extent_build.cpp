// SPDX-License-Identifier: Apache-2.0
//
// The part of the extent index that begins with many runs at once, from the leaves up: a hundredth of the time that
// putting them in one by one takes.
#include "engine/extent/extent_leaf.h"

namespace scorrere {

using namespace extent_nodes;

namespace {

constexpr std::int64_t kShortRun = 48; ///< shorter ones share a leaf
constexpr std::int64_t kRoomy = kLeafItems * 3 / 4;
constexpr std::size_t kFilled = kFan - 2; ///< children of a node: some may come

} // namespace

Entry ExtentIndex::makeNode(int level, std::span<const Entry> children) {
    const NodeId node = store_.takeInner(level);
    Inner& inner = store_.inner[node];
    inner.size = static_cast<std::int16_t>(children.size());
    std::int64_t count = 0;
    for (std::size_t slot = 0; slot < children.size(); ++slot) {
        inner.child[slot] = children[slot].child;
        inner.startCount[slot] = count;
        store_.totals[node][slot] = children[slot].totals;
        count += children[slot].count;
    }
    inner.count = count;
    recompute(node);
    return summarise(node);
}

/// One run as it is, several in a leaf of their own.
Entry ExtentIndex::leafOf(std::span<const Entry> runs) {
    if (runs.size() == 1) {
        return runs.front();
    }
    const NodeId id = store_.dense.take();
    Dense& leaf = store_.dense[id];
    leaf.size = 0;
    for (const Entry& run : runs) {
        fillItems(leaf, leaf.size, run);
        leaf.size += static_cast<std::int32_t>(run.count);
    }
    sumBlocks(leaf, 0);
    leaf.epoch = epoch_;
    return summariseDense(id);
}

void ExtentIndex::insertAll(std::span<const Run> runs) {
    assert(size_ == 0);
    std::vector<Entry> level;
    std::vector<Entry> sharing;
    std::int64_t shared = 0;
    const auto endLeaf = [&] {
        if (!sharing.empty()) {
            level.push_back(leafOf(sharing));
            sharing.clear();
            shared = 0;
        }
    };
    for (const auto& [count, kind] : runs) {
        assert(count >= 0 && kind >= 0 && kind < kMaxKinds);
        kinds_ = std::max(kinds_, kind + 1);
        size_ += count;
        if (count >= kShortRun || shared + count > kRoomy) {
            endLeaf();
        }
        if (count >= kShortRun) {
            level.push_back(runEntry(count, kind));
        } else if (count > 0) {
            sharing.push_back(runEntry(count, kind));
            shared += count;
        }
    }
    endLeaf();
    assert(size_ <= kMaxItems);
    if (level.empty()) {
        return;
    }
    store_.giveInner(root_);
    int height = 0;
    do {
        std::vector<Entry> above;
        ++height;
        for (std::size_t from = 0; from < level.size(); from += kFilled) {
            above.push_back(
                makeNode(height, std::span(level).subspan(from, std::min(kFilled, level.size() - from))));
        }
        level = std::move(above);
    } while (level.size() > 1);
    root_ = level.front().child;
}

} // namespace scorrere
