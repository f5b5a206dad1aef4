// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/placed_items.h"

#include <algorithm>
#include <cassert>
#include <numeric>

namespace scorrere {

PlacedItems::PlacedItems(std::span<const Item> items) : size_(static_cast<std::int64_t>(items.size())) {
    std::vector<Node> nodes;
    for (std::size_t at = 0; at < items.size(); at += kFilled) {
        const auto some = items.subspan(at, std::min(kFilled, items.size() - at));
        nodes.push_back(make(0));
        Leaf& leaf = leaves_[nodes.back().index];
        leaf.count = some.size();
        std::ranges::copy(some, leaf.items.begin());
    }
    while (nodes.size() > 1) {
        std::vector<Node> above;
        constexpr std::size_t kMany = kChildren * 3 / 4;
        for (std::size_t at = 0; at < nodes.size(); at += kMany) {
            above.push_back(make(nodes[at].level + 1));
            Inner& inner = inners_[above.back().index];
            for (std::size_t i = at; i < std::min(at + kMany, nodes.size()); ++i) {
                put(inner, inner.count, nodes[i]);
            }
        }
        nodes = std::move(above);
    }
    if (!nodes.empty()) {
        root_ = nodes.front();
    }
}

PlacedItems::Node PlacedItems::make(int level) {
    auto& spare = level == 0 ? spareLeaves_ : spareInners_;
    if (!spare.empty()) {
        const std::uint32_t index = spare.back();
        spare.pop_back();
        (level == 0 ? leaves_[index].count : inners_[index].count) = 0;
        return {index, level};
    }
    if (level == 0) {
        leaves_.emplace_back();
        return {static_cast<std::uint32_t>(leaves_.size() - 1), level};
    }
    inners_.emplace_back();
    return {static_cast<std::uint32_t>(inners_.size() - 1), level};
}

PlacedItems::Sum PlacedItems::sumOf(Node node) const {
    Sum sum;
    if (node.level == 0) {
        const Leaf& leaf = leaves_[node.index];
        sum = {static_cast<std::int64_t>(leaf.count), leaf.items[0], leaf.items[0].end()};
        for (std::size_t i = 1; i < leaf.count; ++i) {
            sum.reach = std::max(sum.reach, leaf.items[i].end());
        }
        return sum;
    }
    const Inner& inner = inners_[node.index];
    sum = {0, inner.firsts[0], inner.reaches[0]};
    for (std::size_t i = 0; i < inner.count; ++i) {
        sum.size += inner.sizes[i];
        sum.reach = std::max(sum.reach, inner.reaches[i]);
    }
    return sum;
}

void PlacedItems::set(Inner& inner, std::size_t child, Node is) const {
    const Sum sum = sumOf(is);
    inner.children[child] = is.index;
    inner.sizes[child] = sum.size;
    inner.firsts[child] = sum.first;
    inner.reaches[child] = sum.reach;
}

void PlacedItems::put(Inner& inner, std::size_t at, Node is) const {
    const auto shift = [&](auto& each) {
        std::move_backward(each.begin() + static_cast<std::ptrdiff_t>(at),
                           each.begin() + static_cast<std::ptrdiff_t>(inner.count),
                           each.begin() + static_cast<std::ptrdiff_t>(inner.count) + 1);
    };
    shift(inner.children);
    shift(inner.sizes);
    shift(inner.firsts);
    shift(inner.reaches);
    ++inner.count;
    set(inner, at, is);
}

void PlacedItems::take(Inner& inner, std::size_t at, Node was) {
    (was.level == 0 ? spareLeaves_ : spareInners_).push_back(was.index);
    const auto shift = [&](auto& each) {
        std::move(each.begin() + static_cast<std::ptrdiff_t>(at) + 1,
                  each.begin() + static_cast<std::ptrdiff_t>(inner.count),
                  each.begin() + static_cast<std::ptrdiff_t>(at));
    };
    shift(inner.children);
    shift(inner.sizes);
    shift(inner.firsts);
    shift(inner.reaches);
    --inner.count;
}

/// Where it is, or would be.
std::size_t PlacedItems::childOf(const Inner& inner, const Item& item) {
    std::size_t child = 0;
    while (child + 1 < inner.count && !goesBefore(item, inner.firsts[child + 1])) {
        ++child;
    }
    return child;
}

PlacedItems::Item& PlacedItems::at(std::int64_t position) {
    assert(position >= 0 && position < size_);
    Node node = root_;
    for (++visited_; node.level > 0; ++visited_) {
        const Inner& inner = inners_[node.index];
        std::size_t child = 0;
        for (; position >= inner.sizes[child]; ++child) {
            position -= inner.sizes[child];
        }
        node = below(inner, child, node);
    }
    return leaves_[node.index].items[static_cast<std::size_t>(position)];
}

std::int64_t PlacedItems::countBefore(Length start, std::int32_t id) const {
    if (size_ == 0) {
        return 0;
    }
    const Item key{start, {}, id};
    std::int64_t before = 0;
    Node node = root_;
    for (++visited_; node.level > 0; ++visited_) {
        const Inner& inner = inners_[node.index];
        const std::size_t child = childOf(inner, key);
        before = std::accumulate(inner.sizes.begin(),
                                 inner.sizes.begin() + static_cast<std::ptrdiff_t>(child), before);
        node = below(inner, child, node);
    }
    const Leaf& leaf = leaves_[node.index];
    const auto end = leaf.items.begin() + static_cast<std::ptrdiff_t>(leaf.count);
    return before + (std::lower_bound(leaf.items.begin(), end, key, goesBefore) - leaf.items.begin());
}

Length PlacedItems::reach() const {
    assert(size_ > 0);
    return sumOf(root_).reach;
}

std::optional<PlacedItems::Node> PlacedItems::insertInto(Node node, const Item& item) {
    ++visited_;
    std::optional<Node> half;
    if (node.level == 0) {
        Leaf* leaf = &leaves_[node.index];
        if (leaf->count == kLeafItems) {
            half = make(0);
            Leaf& second = leaves_[half->index];
            second.count = kLeafItems / 2;
            leaf->count -= second.count;
            std::copy_n(leaf->items.begin() + static_cast<std::ptrdiff_t>(leaf->count), second.count,
                        second.items.begin());
            leaf = goesBefore(item, second.items[0]) ? leaf : &second;
        }
        const auto end = leaf->items.begin() + static_cast<std::ptrdiff_t>(leaf->count++);
        const auto at = std::lower_bound(leaf->items.begin(), end, item, goesBefore);
        std::move_backward(at, end, end + 1);
        *at = item;
        return half;
    }
    Inner* inner = &inners_[node.index];
    std::size_t child = childOf(*inner, item);
    const Node into = below(*inner, child, node);
    const auto more = insertInto(into, item);
    set(*inner, child, into);
    if (!more) {
        return half;
    }
    if (inner->count == kChildren) {
        half = make(node.level);
        Inner& second = inners_[half->index];
        second.count = kChildren / 2;
        inner->count -= second.count;
        const auto from = static_cast<std::ptrdiff_t>(inner->count);
        std::copy_n(inner->children.begin() + from, second.count, second.children.begin());
        std::copy_n(inner->sizes.begin() + from, second.count, second.sizes.begin());
        std::copy_n(inner->firsts.begin() + from, second.count, second.firsts.begin());
        std::copy_n(inner->reaches.begin() + from, second.count, second.reaches.begin());
        if (child >= inner->count) {
            child -= inner->count;
            inner = &second;
        }
    }
    put(*inner, child + 1, *more);
    return half;
}

void PlacedItems::insert(const Item& item) {
    assert(item.extent > Length{});
    ++size_;
    if (leaves_.empty()) {
        root_ = make(0);
    }
    if (const auto half = insertInto(root_, item)) {
        const Node top = make(root_.level + 1);
        put(inners_[top.index], 0, root_);
        put(inners_[top.index], 1, *half);
        root_ = top;
    }
}

/// Tells whether nothing is left of it.
bool PlacedItems::eraseFrom(Node node, std::int64_t at) {
    ++visited_;
    if (node.level == 0) {
        Leaf& leaf = leaves_[node.index];
        const auto gone = leaf.items.begin() + at;
        std::move(gone + 1, leaf.items.begin() + static_cast<std::ptrdiff_t>(leaf.count), gone);
        return --leaf.count == 0;
    }
    Inner& inner = inners_[node.index];
    std::size_t child = 0;
    for (; at >= inner.sizes[child]; ++child) {
        at -= inner.sizes[child];
    }
    const Node from = below(inner, child, node);
    if (eraseFrom(from, at)) {
        take(inner, child, from);
    } else {
        set(inner, child, from);
        if (from.level == 0) {
            mergeLeaves(inner, child > 0 ? child - 1 : child);
        }
    }
    return inner.count == 0;
}

/// Two leaves that have room to spare in one become one.
void PlacedItems::mergeLeaves(Inner& inner, std::size_t at) {
    if (at + 1 >= inner.count || inner.sizes[at] + inner.sizes[at + 1] > static_cast<std::int64_t>(kFilled)) {
        return;
    }
    Leaf& leaf = leaves_[inner.children[at]];
    const Leaf& next = leaves_[inner.children[at + 1]];
    std::copy_n(next.items.begin(), next.count, leaf.items.begin() + static_cast<std::ptrdiff_t>(leaf.count));
    leaf.count += next.count;
    take(inner, at + 1, {inner.children[at + 1], 0});
    set(inner, at, {inner.children[at], 0});
}

void PlacedItems::erase(std::int64_t position) {
    assert(position >= 0 && position < size_);
    --size_;
    if (eraseFrom(root_, position) && root_.level > 0) {
        spareInners_.push_back(root_.index);
        root_ = make(0);
    }
    while (root_.level > 0 && inners_[root_.index].count == 1) {
        spareInners_.push_back(root_.index);
        root_ = below(inners_[root_.index], 0, root_);
    }
}

std::size_t PlacedItems::memoryBytes() const {
    return leaves_.size() * sizeof(Leaf) + inners_.size() * sizeof(Inner);
}

std::int64_t PlacedItems::check(Node node, const Item*& last) const {
    std::int64_t size = 0;
    if (node.level == 0) {
        const Leaf& leaf = leaves_[node.index];
        for (std::size_t i = 0; i < leaf.count; ++i) {
            assert(last == nullptr || goesBefore(*last, leaf.items[i]));
            last = &leaf.items[i];
        }
        return static_cast<std::int64_t>(leaf.count);
    }
    const Inner& inner = inners_[node.index];
    assert(inner.count > 0);
    for (std::size_t i = 0; i < inner.count; ++i) {
        [[maybe_unused]] const Sum sum = sumOf(below(inner, i, node));
        assert(sum.size == inner.sizes[i] && sum.size > 0 && sum.reach == inner.reaches[i]);
        assert(sum.first.id == inner.firsts[i].id && sum.first.start == inner.firsts[i].start);
        size += check(below(inner, i, node), last);
    }
    return size;
}

void PlacedItems::checkInvariants() const {
    const Item* last = nullptr;
    [[maybe_unused]] const std::int64_t size = leaves_.empty() ? 0 : check(root_, last);
    assert(size == size_);
}

} // namespace scorrere
