// SPDX-License-Identifier: Apache-2.0
//
// The part of the extent index that changes it: measured and estimated items, items that come and go, and
// what keeps the tree in shape.
#include "engine/extent/extent_leaf.h"

#include <cstring>

namespace scorrere {

using namespace extent_nodes;

namespace {

constexpr int kMinFan = kFan / 4;
constexpr std::int64_t kFoldRun = 48; ///< runs shorter than this are folded into a dense neighbour with room

void cutFromLeaf(Dense& leaf, std::int64_t from, std::int64_t gone) {
    std::memmove(leaf.item.data() + from, leaf.item.data() + from + gone,
                 static_cast<std::size_t>(leaf.size - from - gone) * sizeof(std::uint32_t));
    leaf.size -= static_cast<std::int32_t>(gone);
    sumBlocks(leaf, static_cast<int>(from / kBlock));
}

} // namespace

/// Writes a run's items into a leaf, from `at` on.
void ExtentIndex::fillItems(Dense& leaf, std::int64_t at, const Entry& run) const {
    const int kind = runKind(run.child);
    const auto first = leaf.item.begin() + at;
    if (isEven(run.child)) {
        const Evenly evenly(run.totals.fixed, run.count);
        std::fill_n(first, evenly.longer, packItem(kEstimatedState, kind, evenly.each + 1));
        std::fill_n(first + evenly.longer, run.count - evenly.longer,
                    packItem(kEstimatedState, kind, evenly.each));
        return;
    }
    std::fill_n(first, run.count, packItem(kUnknownState, kind, estimates_[static_cast<std::size_t>(kind)]));
}

NodeId ExtentIndex::denseFromRun(const Entry& run) {
    const NodeId id = store_.dense.take();
    Dense& leaf = store_.dense[id];
    leaf.size = static_cast<std::int32_t>(run.count);
    fillItems(leaf, 0, run);
    sumBlocks(leaf, 0);
    leaf.epoch = epoch_;
    return id;
}

Entry ExtentIndex::leafEntry(const Step& step) {
    const Inner& inner = store_.inner[step.node];
    const std::size_t slot = static_cast<std::size_t>(step.slot);
    const std::int64_t end = step.slot + 1 < inner.size ? inner.startCount[slot + 1] : inner.count;
    return {inner.child[slot], end - inner.startCount[slot], store_.totals[step.node][slot]};
}

/// The path to `position` with a dense leaf at its end: cuts one of 256 aligned items out of a run if need
/// be.
ExtentIndex::Path ExtentIndex::denseAt(std::int64_t position) {
    Path path = pathTo(position);
    const Step& last = path.leafStep();
    if (!isRun(store_.inner[last.node].child[static_cast<std::size_t>(last.slot)])) {
        return path;
    }
    const Entry leaf = leafEntry(last);
    const std::int64_t first = path.inLeaf / kLeafItems * kLeafItems;
    const std::int64_t end = std::min(first + kLeafItems, leaf.count);
    std::array<Entry, 3> parts;
    std::size_t used = 0;
    if (first > 0) {
        parts[used++] = partOf(leaf, 0, first);
    }
    parts[used++] = summariseDense(denseFromRun(partOf(leaf, first, end)));
    if (end < leaf.count) {
        parts[used++] = partOf(leaf, end, leaf.count);
    }
    replace(path, path.depth - 1, 1, std::span(parts.data(), used));
    return pathTo(position);
}

/// Carries a change below the path's leaf up to the root, in place: nodes keep their shape. `account` brings
/// the totals of each child on the path up to date.
template <typename Account>
void ExtentIndex::adjust(const Path& path, std::int64_t count, std::int64_t extent, Account account) {
    for (int d = 0; d < path.depth; ++d) {
        const Step& step = path.steps[static_cast<std::size_t>(d)];
        Inner& inner = store_.inner[step.node];
        account(store_.totals[step.node][static_cast<std::size_t>(step.slot)]);
        for (int i = step.slot + 1; i < inner.size && hasSums_; ++i) {
            inner.startExtent[static_cast<std::size_t>(i)] += extent;
        }
        for (int i = step.slot + 1; i < inner.size && count != 0; ++i) {
            inner.startCount[static_cast<std::size_t>(i)] += count;
        }
        inner.extent += extent;
        inner.count += count;
    }
}

/// Puts what `written` makes of the item at the path's end in its place; gives what was there. Requires: its leaf is
/// dense.
template <typename Written>
std::uint32_t ExtentIndex::writeItem(const Path& path, Written written) {
    Dense& leaf = freshDense(leafAt(path));
    std::uint32_t& held = leaf.item[static_cast<std::size_t>(path.inLeaf)];
    const std::uint32_t old = held;
    const std::uint32_t item = written(old);
    if (item == old) {
        return old;
    }
    held = item;
    const std::int64_t delta = valueOfItem(item) - valueOfItem(old);
    for (std::size_t b = static_cast<std::size_t>(path.inLeaf / kBlock) + 1; b < kBlocks && hasSums_; ++b) {
        leaf.blockStart[b] += delta;
    }
    adjust(path, 0, delta, [&](Totals& totals) {
        account(totals, old, -1);
        account(totals, item, 1);
    });
    return old;
}

ExtentState ExtentIndex::setMeasured(std::int64_t position, Length extent) {
    assert(position >= 0 && position < size_ && extent >= Length{} && extent <= kMaxExtent);
    const std::uint32_t before = writeItem(denseAt(position), [extent](std::uint32_t old) {
        return packItem(kMeasuredState, kindOfItem(old), extent.raw());
    });
    return static_cast<ExtentState>(stateOfItem(before));
}

void ExtentIndex::setMeasured(Place& place, Length extent, std::int64_t first, std::span<Known> to) {
    assert(first <= place.position_ && place.position_ < first + std::ssize(to));
    (void)setKnown(place, {extent, ExtentState::Measured});
    const Dense& leaf = store_.dense[leafAt(place.path_)];
    const std::int64_t from = place.path_.inLeaf - (place.position_ - first);
    if (from < 0 || from + std::ssize(to) > leaf.size) { // across two leaves
        read(first, to);
        return;
    }
    std::transform(leaf.item.begin() + from, leaf.item.begin() + from + std::ssize(to), to.begin(), knownOf);
}

ExtentState ExtentIndex::setKnown(Place& place, const Known& known) {
    assert(known.extent >= Length{} && known.extent <= kMaxExtent);
    if (const NodeId leaf = leafAt(place.path_); isRun(leaf)) {
        if (known.state == ExtentState::KindEstimate && !isEven(leaf)) {
            return known.state; // it stays one of a run that costs nothing
        }
        place.path_ = denseAt(place.position_);
    }
    const std::uint32_t before = writeItem(place.path_, [&](std::uint32_t old) {
        const int kind = kindOfItem(old);
        const std::int64_t extent = known.state == ExtentState::KindEstimate
                                        ? estimates_[static_cast<std::size_t>(kind)]
                                        : known.extent.raw();
        return packItem(static_cast<std::uint32_t>(known.state), kind, extent);
    });
    return static_cast<ExtentState>(stateOfItem(before));
}

void ExtentIndex::setEstimated(std::int64_t first, std::span<const std::int32_t> extents) {
    assert(first >= 0 && first + static_cast<std::int64_t>(extents.size()) <= size_);
    const auto estimated = [this](std::uint32_t old, std::int64_t extent) {
        const int kind = kindOfItem(old);
        return stateOfItem(old) == kMeasuredState ? old
               : extent < 0 ? packItem(kUnknownState, kind, estimates_[static_cast<std::size_t>(kind)])
                            : packItem(kEstimatedState, kind, std::min(extent, kMaxExtent.raw()));
    };
    std::size_t done = 0;
    if (extents.size() == 1) { // a whole leaf is summed for many only
        (void)writeItem(denseAt(first), [&](std::uint32_t old) { return estimated(old, extents[0]); });
        return;
    }
    while (done < extents.size()) {
        Path path = denseAt(first + static_cast<std::int64_t>(done));
        Dense& leaf = freshDense(leafAt(path));
        const std::size_t until = std::min(static_cast<std::size_t>(leaf.size),
                                           static_cast<std::size_t>(path.inLeaf) + extents.size() - done);
        for (std::size_t i = static_cast<std::size_t>(path.inLeaf); i < until; ++i, ++done) {
            leaf.item[i] = estimated(leaf.item[i], extents[done]);
        }
        sumBlocks(leaf, 0);
        leafChanged(path);
    }
}

/// Brings the sums above a dense leaf up to date after several of its items changed (not their number).
void ExtentIndex::leafChanged(Path& path) {
    Entry entry = summariseDense(leafAt(path));
    for (int d = path.depth - 1; d >= 0; --d) {
        const Step& step = path.steps[static_cast<std::size_t>(d)];
        store_.totals[step.node][static_cast<std::size_t>(step.slot)] = entry.totals;
        recompute(step.node);
        entry = summarise(step.node);
    }
}

Entry ExtentIndex::joinDense(NodeId left, NodeId right) {
    Dense& a = freshDense(left);
    const Dense& b = freshDense(right);
    std::memcpy(a.item.data() + a.size, b.item.data(),
                static_cast<std::size_t>(b.size) * sizeof(std::uint32_t));
    a.size += b.size;
    sumBlocks(a, 0);
    store_.dense.give(right);
    return summariseDense(left);
}

/// Joins neighbours that would waste a slot: runs of the same kind, small leaves, a short run beside a leaf.
void ExtentIndex::tidyLeaves(EntryList& list) {
    for (int i = 0; i + 1 < list.size;) {
        Entry& a = list.at[static_cast<std::size_t>(i)];
        Entry& b = list.at[static_cast<std::size_t>(i) + 1];
        if (isRun(a.child) && a.child == b.child && !isEven(a.child)) {
            a = runEntry(a.count + b.count, runKind(a.child));
        } else if ((!isRun(a.child) || !isRun(b.child)) && a.count + b.count <= kLeafItems * 3 / 4 &&
                   (!isRun(a.child) || a.count < kFoldRun) && (!isRun(b.child) || b.count < kFoldRun)) {
            const NodeId left = isRun(a.child) ? denseFromRun(a) : a.child;
            const NodeId right = isRun(b.child) ? denseFromRun(b) : b.child;
            a = joinDense(left, right);
        } else {
            ++i;
            continue;
        }
        list.removeAt(i + 1);
    }
}

/// In the node at `level` of the path, puts `with` in the place of `removed` children from the path's slot
/// on, then mends the nodes above: splits what overflows, joins what is nearly empty.
void ExtentIndex::replace(Path& path, int level, int removed, std::span<const Entry> with) {
    const Step step = path.steps[static_cast<std::size_t>(level)];
    const auto gather = [this](NodeId node, EntryList& list) {
        const Inner& inner = store_.inner[node];
        for (std::size_t i = 0; i < static_cast<std::size_t>(inner.size); ++i) {
            const std::int64_t end =
                static_cast<int>(i) + 1 < inner.size ? inner.startCount[i + 1] : inner.count;
            list.push({inner.child[i], end - inner.startCount[i], store_.totals[node][i]});
        }
    };
    const auto write = [this](NodeId node, const EntryList& list, int from, int until) {
        Inner& inner = store_.inner[node];
        inner.size = static_cast<std::int16_t>(until - from);
        std::int64_t count = 0;
        for (int i = from; i < until; ++i) {
            const Entry& entry = list.at[static_cast<std::size_t>(i)];
            const std::size_t slot = static_cast<std::size_t>(i - from);
            inner.child[slot] = entry.child;
            inner.startCount[slot] = count;
            store_.totals[node][slot] = entry.totals;
            count += entry.count;
        }
        inner.count = count;
        recompute(node);
    };

    EntryList old;
    gather(step.node, old);
    EntryList list;
    for (int i = 0; i < step.slot; ++i) {
        list.push(old.at[static_cast<std::size_t>(i)]);
    }
    for (const Entry& entry : with) {
        list.push(entry);
    }
    for (int i = step.slot + removed; i < old.size; ++i) {
        list.push(old.at[static_cast<std::size_t>(i)]);
    }
    const int nodeLevel = store_.inner[step.node].level;
    if (nodeLevel == 1) {
        tidyLeaves(list);
    }

    std::array<Entry, 2> above;
    std::size_t aboveCount = 1;
    int removedAbove = 1;
    if (list.size < kMinFan && level > 0) {
        // Nearly empty: take in a neighbour's children and share them out again.
        Step& parent = path.steps[static_cast<std::size_t>(level - 1)];
        const Inner& up = store_.inner[parent.node];
        const bool hasRight = parent.slot + 1 < up.size;
        if (hasRight || parent.slot > 0) {
            const NodeId other =
                up.child[static_cast<std::size_t>(hasRight ? parent.slot + 1 : parent.slot - 1)];
            EntryList joined;
            if (!hasRight) {
                gather(other, joined);
                --parent.slot;
            }
            for (int i = 0; i < list.size; ++i) {
                joined.push(list.at[static_cast<std::size_t>(i)]);
            }
            if (hasRight) {
                gather(other, joined);
            }
            if (nodeLevel == 1) {
                tidyLeaves(joined);
            }
            list = joined;
            store_.giveInner(other);
            removedAbove = 2;
        }
    }
    if (list.size > kFan) {
        const NodeId right = store_.takeInner(nodeLevel);
        // Filling from the front is the common case: leave the left node nearly full then.
        const int left = step.slot >= old.size - 2 && removedAbove == 1 ? kFan - 2 : list.size / 2;
        write(step.node, list, 0, left);
        write(right, list, left, list.size);
        above[0] = summarise(step.node);
        above[1] = summarise(right);
        aboveCount = 2;
    } else {
        write(step.node, list, 0, list.size);
        above[0] = summarise(step.node);
    }

    if (level > 0) {
        if (list.size == 0) {
            store_.giveInner(step.node);
            aboveCount = 0;
        }
        replace(path, level - 1, removedAbove, std::span(above.data(), aboveCount));
        return;
    }
    if (aboveCount == 2) {
        EntryList top;
        top.push(above[0]);
        top.push(above[1]);
        root_ = store_.takeInner(nodeLevel + 1);
        write(root_, top, 0, 2);
    }
    while (store_.inner[root_].level > 1 && store_.inner[root_].size <= 1) {
        const NodeId old_root = root_;
        root_ = store_.inner[root_].size == 1 ? store_.inner[root_].child[0] : store_.takeInner(1);
        store_.giveInner(old_root);
        if (store_.inner[root_].size == 0) {
            write(root_, EntryList{}, 0, 0);
        }
    }
}

void ExtentIndex::insert(std::int64_t position, std::int64_t count, int kind) {
    assert(position >= 0 && position <= size_ && count >= 0 && kind >= 0 && kind < kMaxKinds);
    assert(size_ + count < std::int64_t{std::numeric_limits<std::uint32_t>::max()});
    if (count == 0) {
        return;
    }
    kinds_ = std::max(kinds_, kind + 1);
    insertRun(position, runEntry(count, kind));
}

void ExtentIndex::insertRun(std::int64_t position, const Entry& run) {
    Path path = pathTo(position);
    const Step last = path.leafStep();
    std::array<Entry, 3> parts;
    size_ += run.count;
    if (store_.inner[last.node].size == 0) {
        replace(path, path.depth - 1, 0, std::span(&run, 1));
        return;
    }
    const Entry held = leafEntry(last);
    const NodeId leafId = held.child;
    const std::int64_t before = path.inLeaf;
    std::size_t used = 0;
    const bool sameRun = leafId == run.child && !isEven(leafId);
    const bool hasRoom = !isRun(leafId) && held.count + run.count <= kLeafItems && run.count < kFoldRun;
    if (sameRun || hasRoom) {
        if (hasRoom) {
            Dense& leaf = freshDense(leafId);
            std::memmove(leaf.item.data() + before + run.count, leaf.item.data() + before,
                         static_cast<std::size_t>(held.count - before) * sizeof(std::uint32_t));
            fillItems(leaf, before, run);
            leaf.size += static_cast<std::int32_t>(run.count);
            sumBlocks(leaf, static_cast<int>(before / kBlock));
        }
        adjust(path, run.count, valueOf(run.totals), [&run](Totals& totals) { totals.add(run.totals); });
        return;
    }
    if (isRun(leafId)) {
        if (before > 0) {
            parts[used++] = partOf(held, 0, before);
        }
        parts[used++] = run;
        if (before < held.count) {
            parts[used++] = partOf(held, before, held.count);
        }
    } else {
        // A full leaf: split it where the new items go; tidying folds them into a half that has room.
        Dense& leaf = freshDense(leafId);
        NodeId tail = 0;
        if (before < held.count) {
            tail = store_.dense.take();
            Dense& right = store_.dense[tail];
            right.size = static_cast<std::int32_t>(held.count - before);
            std::memcpy(right.item.data(), leaf.item.data() + before,
                        static_cast<std::size_t>(right.size) * sizeof(std::uint32_t));
            right.epoch = epoch_;
            sumBlocks(right, 0);
        }
        if (before > 0) {
            leaf.size = static_cast<std::int32_t>(before);
            sumBlocks(leaf, 0);
            parts[used++] = summariseDense(leafId);
        } else {
            store_.dense.give(leafId);
        }
        parts[used++] = run;
        if (before < held.count) {
            parts[used++] = summariseDense(tail);
        }
    }
    replace(path, path.depth - 1, 1, std::span(parts.data(), used));
}

/// Takes `gone` items out of the path's leaf, which stays large enough to stay.
void ExtentIndex::eraseInPlace(const Path& path, NodeId leafId, std::int64_t gone) {
    if (isRun(leafId)) {
        const Entry lost = partOf(leafEntry(path.steps[static_cast<std::size_t>(path.depth - 1)]),
                                  path.inLeaf, path.inLeaf + gone);
        adjust(path, -gone, -valueOf(lost.totals), [&lost](Totals& totals) { totals.take(lost.totals); });
        return;
    }
    Dense& leaf = freshDense(leafId);
    Totals lost;
    std::int64_t extent = 0;
    for (std::int64_t i = path.inLeaf; i < path.inLeaf + gone; ++i) {
        account(lost, leaf.item[static_cast<std::size_t>(i)], 1);
        extent += valueOfItem(leaf.item[static_cast<std::size_t>(i)]);
    }
    cutFromLeaf(leaf, path.inLeaf, gone);
    adjust(path, -gone, -extent, [&](Totals& totals) { totals.take(lost); });
}

void ExtentIndex::erase(std::int64_t position, std::int64_t count) {
    assert(position >= 0 && count >= 0 && position + count <= size_);
    while (count > 0) {
        Path path = pathTo(position);
        const Entry held = leafEntry(path.leafStep());
        const std::int64_t gone = std::min(count, held.count - path.inLeaf);
        size_ -= gone;
        count -= gone;
        const std::int64_t left = held.count - gone;
        if (left >= (isRun(held.child) ? kFoldRun : kLeafItems / 4)) {
            eraseInPlace(path, held.child, gone);
            continue;
        }
        std::array<Entry, 2> rest;
        std::size_t used = 0;
        if (isRun(held.child)) {
            if (path.inLeaf > 0) {
                rest[used++] = partOf(held, 0, path.inLeaf);
            }
            if (path.inLeaf + gone < held.count) {
                rest[used++] = partOf(held, path.inLeaf + gone, held.count);
            }
        } else if (left > 0) {
            cutFromLeaf(freshDense(held.child), path.inLeaf, gone);
            rest[used++] = summariseDense(held.child);
        } else {
            store_.dense.give(held.child);
        }
        replace(path, path.depth - 1, 1, std::span(rest.data(), used));
    }
}

void ExtentIndex::evenOut(std::int64_t position, std::int64_t count) {
    assert(position >= 0 && count >= 0 && position + count <= size_);
    if (count == 0) {
        return;
    }
    const Length sum = sumBefore(position + count) - sumBefore(position);
    const int kind = kindOf(position);
    erase(position, count);
    insertRun(position, evenEntry(count, kind, sum.raw()));
}

void ExtentIndex::move(std::int64_t from, std::int64_t to) {
    assert(from >= 0 && from < size_ && to >= 0 && to < size_);
    const std::uint32_t item = itemAt(from);
    erase(from, 1);
    insert(to, 1, kindOfItem(item));
    if (stateOfItem(item) != kUnknownState) {
        (void)writeItem(denseAt(to), [item](std::uint32_t) { return item; });
    }
}

} // namespace scorrere
