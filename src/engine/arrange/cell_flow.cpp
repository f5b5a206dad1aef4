// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/cell_flow.h"

#include <algorithm>
#include <cassert>
#include <utility>

namespace scorrere {

CellFlow::CellFlow(int columns, std::int64_t count) : columns_(columns) {
    assert(columns >= 1 && columns <= kMostColumns);
    insert(0, count);
}

std::int64_t CellFlow::size() const {
    return allOf(root_);
}

std::int64_t CellFlow::lines() const {
    Fill fill{0, static_cast<std::uint8_t>(columns_)}; // nothing goes beside what is not there
    passAll(root_, fill);
    return fill.lines;
}

int CellFlow::spanFrom(std::uint8_t span) const {
    return std::clamp<int>(span, 1, columns_);
}

/// So many of one span go on from where a line is filled to.
void CellFlow::pass(int span, std::int64_t count, Fill& fill) const {
    const std::int64_t fit = (columns_ - fill.until) / span;
    if (count <= fit) {
        fill.until = static_cast<std::uint8_t>(fill.until + count * span);
        return;
    }
    const std::int64_t beyond = count - fit;
    const std::int64_t inLine = columns_ / span;
    fill.lines += static_cast<std::uint32_t>((beyond + inLine - 1) / inLine);
    fill.until = static_cast<std::uint8_t>(((beyond - 1) % inLine + 1) * span);
}

void CellFlow::passOwn(std::int32_t node, Fill& fill) const {
    const Fill& to = fills_[indexOf(node, fill.until)];
    fill = {fill.lines + to.lines, to.until};
}

void CellFlow::passAll(std::int32_t node, Fill& fill) const {
    if (node >= 0) {
        const Fill& to = fills_[indexOf(node, fill.until) + static_cast<std::size_t>(columns_)];
        fill = {fill.lines + to.lines, to.until};
    }
}

CellFlow::Cell CellFlow::cellOf(std::int64_t place) const {
    assert(place >= 0 && place < size());
    Fill fill{0, static_cast<std::uint8_t>(columns_)};
    std::int32_t node = root_;
    while (true) {
        const Node& here = visit(node);
        if (place < allOf(here.left)) {
            node = here.left;
            continue;
        }
        place -= allOf(here.left);
        passAll(here.left, fill);
        if (place < here.own) {
            break;
        }
        place -= here.own;
        passOwn(node, fill);
        node = here.right;
    }
    const Node& here = at(node);
    std::size_t run = 0;
    for (; place >= here.runs[run].count(); ++run) {
        place -= here.runs[run].count();
        pass(here.runs[run].span(), here.runs[run].count(), fill);
    }
    const int span = here.runs[run].span();
    pass(span, place + 1, fill);
    return {static_cast<std::int64_t>(fill.lines) - 1, fill.until - span, span};
}

CellFlow::Cell CellFlow::filledCellOf(std::int64_t place) const {
    Cell cell = cellOf(place);
    if (place + 1 < size() && cell.column + cell.span < columns_ && cellOf(place + 1).line != cell.line) {
        cell.span = columns_ - cell.column;
    }
    return cell;
}

std::int64_t CellFlow::firstOf(std::int64_t line) const {
    Fill fill{0, static_cast<std::uint8_t>(columns_)};
    std::int64_t before = 0;
    for (std::int32_t node = root_; node >= 0;) {
        const Node& here = visit(node);
        Fill after = fill;
        passAll(here.left, after);
        if (after.lines > line) {
            node = here.left;
            continue;
        }
        before += allOf(here.left);
        fill = after;
        passOwn(node, after);
        if (after.lines <= line) {
            before += here.own;
            fill = after;
            node = here.right;
            continue;
        }
        for (std::size_t run = 0;; ++run) {
            const int span = here.runs[run].span();
            const std::int64_t count = here.runs[run].count();
            after = fill;
            pass(span, count, after);
            if (after.lines > line) {
                const std::int64_t fit = (columns_ - fill.until) / span;
                return before + fit + (line - fill.lines) * (columns_ / span);
            }
            before += count;
            fill = after;
        }
    }
    return before;
}

/// What follows alike is one run.
void CellFlow::add(Runs& runs, int span, std::int64_t count) {
    while (count > 0) {
        const bool isAlike = !runs.empty() && runs.back().span() == span && runs.back().count() < Run::kMost;
        const std::int64_t had = isAlike ? runs.back().count() : 0;
        const std::int64_t has = std::min(Run::kMost, had + count);
        const Run run(has, span);
        if (isAlike) {
            runs.back() = run;
        } else {
            runs.push_back(run);
        }
        count -= has - had;
    }
}

void CellFlow::insert(std::int64_t place, std::int64_t count) {
    Runs runs;
    add(runs, 1, count);
    splice(place, 0, runs);
}

void CellFlow::erase(std::int64_t place, std::int64_t count) {
    splice(place, count, {});
}

void CellFlow::move(std::int64_t from, std::int64_t to) {
    Runs runs;
    add(runs, cellOf(from).span, 1);
    splice(from, 1, {});
    splice(to, 0, runs);
}

void CellFlow::setSpans(std::int64_t first, std::span<const std::uint8_t> spans) {
    Runs runs;
    for (const std::uint8_t span : spans) {
        add(runs, spanFrom(span), 1);
    }
    splice(first, static_cast<std::int64_t>(spans.size()), runs);
}

void CellFlow::append(std::span<const std::uint8_t> spans) {
    Runs runs;
    for (const std::uint8_t span : spans) {
        add(runs, spanFrom(span), 1);
    }
    splice(size(), 0, runs);
}

/// Puts runs in the place of items. Those beside it are written anew with them, so that many small changes leave no
/// small nodes.
void CellFlow::splice(std::int64_t first, std::int64_t gone, const Runs& with) {
    assert(first >= 0 && gone >= 0 && first + gone <= size());
    if (gone == 0 && with.empty()) {
        return;
    }
    auto [before, rest] = part(root_, first);
    auto [old, after] = part(rest, gone);
    drop(old);
    Runs runs;
    const auto addOwn = [&](std::int32_t node) {
        for (std::size_t i = 0; i < at(node).count; ++i) {
            add(runs, at(node).runs[i].span(), at(node).runs[i].count());
        }
    };
    if (before >= 0) {
        std::int32_t last = before;
        while (at(last).right >= 0) {
            last = at(last).right;
        }
        const auto [others, one] = part(before, allOf(before) - at(last).own);
        addOwn(one);
        drop(one);
        before = others;
    }
    for (const Run& run : with) {
        add(runs, run.span(), run.count());
    }
    if (after >= 0) {
        std::int32_t next = after;
        while (at(next).left >= 0) {
            next = at(next).left;
        }
        const auto [one, others] = part(after, at(next).own);
        addOwn(one);
        drop(one);
        after = others;
    }
    for (std::size_t i = 0; i < runs.size(); i += kRuns) {
        before = join(before, make(std::span(runs).subspan(i, std::min(kRuns, runs.size() - i))));
    }
    root_ = join(before, after);
}

std::int32_t CellFlow::make(std::span<const Run> runs) {
    std::int32_t node = 0;
    if (free_.empty()) {
        node = static_cast<std::int32_t>(nodes_.size());
        nodes_.emplace_back();
        fills_.resize(fills_.size() + 2 * static_cast<std::size_t>(columns_));
    } else {
        node = free_.back();
        free_.pop_back();
    }
    Node& made = at(node);
    made.left = made.right = -1;
    std::uint64_t rank = (static_cast<std::uint64_t>(node) + 1) * 0x9e3779b97f4a7c15ULL; // the same each time
    rank = (rank ^ (rank >> 31)) * 0xbf58476d1ce4e5b9ULL;
    made.rank = static_cast<std::uint32_t>(rank >> 32);
    std::ranges::copy(runs, made.runs.begin());
    made.count = static_cast<std::uint8_t>(runs.size());
    takeOwn(node);
    return node;
}

void CellFlow::takeOwn(std::int32_t node) {
    Node& here = at(node);
    here.own = 0;
    const std::span runs = std::span(here.runs).first(here.count);
    for (const Run& run : runs) {
        here.own += run.count();
    }
    for (int until = 1; until <= columns_; ++until) {
        Fill fill{0, static_cast<std::uint8_t>(until)};
        for (const Run& run : runs) {
            pass(run.span(), run.count(), fill);
        }
        ownFill(node, until) = fill;
    }
    takeAll(node);
}

void CellFlow::takeAll(std::int32_t node) {
    Node& here = at(node);
    here.all = allOf(here.left) + here.own + allOf(here.right);
    for (int until = 1; until <= columns_; ++until) {
        Fill fill{0, static_cast<std::uint8_t>(until)};
        passAll(here.left, fill);
        passOwn(node, fill);
        passAll(here.right, fill);
        allFill(node, until) = fill;
    }
}

std::int32_t CellFlow::join(std::int32_t left, std::int32_t right) {
    if (left < 0 || right < 0) {
        return left < 0 ? right : left;
    }
    const bool isLeft = visit(left).rank >= visit(right).rank;
    const std::int32_t below = isLeft ? join(at(left).right, right) : join(left, at(right).left);
    const std::int32_t top = isLeft ? left : right;
    (isLeft ? at(top).right : at(top).left) = below;
    takeAll(top);
    return top;
}

/// What stands before a place of the tree below a node, and what behind it.
std::pair<std::int32_t, std::int32_t> CellFlow::part(std::int32_t node, std::int64_t place) {
    if (node < 0) {
        return {-1, -1};
    }
    const std::int64_t before = allOf(visit(node).left);
    if (place <= before) {
        const auto [left, right] = part(at(node).left, place);
        at(node).left = right;
        takeAll(node);
        return {left, node};
    }
    if (place >= before + at(node).own) {
        const auto [left, right] = part(at(node).right, place - before - at(node).own);
        at(node).right = left;
        takeAll(node);
        return {node, right};
    }
    Runs first;
    Runs second;
    std::int64_t left = place - before;
    for (std::size_t i = 0; i < at(node).count; ++i) {
        const Run run = at(node).runs[i];
        const std::int64_t in = std::clamp<std::int64_t>(left, 0, run.count());
        add(first, run.span(), in);
        add(second, run.span(), run.count() - in);
        left -= in;
    }
    const std::int32_t made = make(second);
    const std::int32_t behind = join(made, std::exchange(at(node).right, -1));
    std::ranges::copy(first, at(node).runs.begin());
    at(node).count = static_cast<std::uint8_t>(first.size());
    takeOwn(node);
    return {node, behind};
}

void CellFlow::drop(std::int32_t node) {
    if (node >= 0) {
        drop(at(node).left);
        drop(at(node).right);
        free_.push_back(node);
    }
}

std::size_t CellFlow::memoryBytes() const {
    return nodes_.capacity() * sizeof(Node) + fills_.capacity() * sizeof(Fill) +
           free_.capacity() * sizeof(std::int32_t);
}

void CellFlow::checkInvariants() const {
    CellFlow again(columns_);
    Runs runs;
    const auto visit = [&](const auto& self, std::int32_t node) -> void {
        if (node < 0) {
            return;
        }
        const Node& here = at(node);
        assert(here.left < 0 || at(here.left).rank <= here.rank);
        assert(here.right < 0 || at(here.right).rank <= here.rank);
        self(self, here.left);
        for (std::size_t i = 0; i < here.count; ++i) {
            assert(here.runs[i].count() > 0);
            add(runs, here.runs[i].span(), here.runs[i].count());
        }
        self(self, here.right);
    };
    visit(visit, root_);
    again.splice(0, 0, runs);
    assert(again.size() == size());
    assert(again.lines() == lines());
}

} // namespace scorrere
