// SPDX-License-Identifier: GPL-3.0-or-later
// Which cells items of several columns take, beside a plain one that goes through all of them each time.
#include "engine/arrange/cell_flow.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using Cell = CellFlow::Cell;
using Spans = std::vector<std::uint8_t>;

std::vector<Cell> plainCells(const Spans& spans, int columns) {
    std::vector<Cell> cells;
    std::int64_t line = -1;
    int until = columns;
    for (const std::uint8_t wanted : spans) {
        const int span = std::min<int>(wanted, columns);
        if (until + span > columns) {
            ++line;
            until = 0;
        }
        cells.push_back({line, until, span});
        until += span;
    }
    return cells;
}

void check(const CellFlow& flow, const Spans& spans) {
    flow.checkInvariants();
    const std::vector<Cell> cells = plainCells(spans, flow.columns());
    RC_ASSERT(flow.size() == static_cast<std::int64_t>(cells.size()));
    RC_ASSERT(flow.lines() == (cells.empty() ? 0 : cells.back().line + 1));
    for (std::size_t i = 0; i < cells.size(); ++i) {
        RC_ASSERT(flow.cellOf(static_cast<std::int64_t>(i)) == cells[i]);
        if (i == 0 || cells[i - 1].line != cells[i].line) {
            RC_ASSERT(flow.firstOf(cells[i].line) == static_cast<std::int64_t>(i));
        }
    }
    RC_ASSERT(flow.firstOf(flow.lines()) == flow.size());
}

RC_GTEST_PROP(CellFlow, PutsItemsWhereAPlainOneDoes, ()) {
    const int columns = *rc::gen::inRange(1, 8);
    Spans spans(*rc::gen::element<std::size_t>(0, 1, 20, 400, 3000), 1);
    CellFlow flow(columns, static_cast<std::int64_t>(spans.size()));
    check(flow, spans);
    for (int steps = *rc::gen::inRange(1, 12); steps > 0; --steps) {
        const auto upTo = [](std::size_t most) { return *rc::gen::inRange<std::size_t>(0, most + 1); };
        const std::size_t at = upTo(spans.size());
        const auto from = spans.begin() + static_cast<std::ptrdiff_t>(at);
        switch (*rc::gen::inRange(0, 5)) {
        case 0: {
            const std::size_t more = upTo(300);
            spans.insert(from, more, 1);
            flow.insert(static_cast<std::int64_t>(at), static_cast<std::int64_t>(more));
            break;
        }
        case 1: {
            const std::size_t fewer = upTo(std::min<std::size_t>(spans.size() - at, 300));
            spans.erase(from, from + static_cast<std::ptrdiff_t>(fewer));
            flow.erase(static_cast<std::int64_t>(at), static_cast<std::int64_t>(fewer));
            break;
        }
        case 2:
            if (at < spans.size()) {
                const std::size_t to = upTo(spans.size() - 1);
                const std::uint8_t moved = spans[at];
                spans.erase(from);
                spans.insert(spans.begin() + static_cast<std::ptrdiff_t>(to), moved);
                flow.move(static_cast<std::int64_t>(at), static_cast<std::int64_t>(to));
            }
            break;
        default: { // often alike, often not
            Spans other(upTo(spans.size() - at));
            const int most = *rc::gen::element(1, 2, columns + 2);
            std::uint64_t dice = upTo(1'000'000);
            for (std::uint8_t& span : other) {
                dice = dice * 6364136223846793005ULL + 1442695040888963407ULL;
                span = (dice >> 40) % 40 == 0 ? CellFlow::kAll
                                              : static_cast<std::uint8_t>(1 + (dice >> 33) % most);
            }
            std::ranges::copy(other, from);
            flow.setSpans(static_cast<std::int64_t>(at), other);
        }
        }
        check(flow, spans);
    }
}

TEST(CellFlow, AMillionItemsOfOneColumnTakeNoMemoryAndNoTime) {
    CellFlow flow(3, 1'000'000);
    EXPECT_LT(flow.memoryBytes(), 20'000U);
    EXPECT_EQ(flow.lines(), 333'334);
    flow.setSpans(10, Spans{CellFlow::kAll});
    EXPECT_EQ(flow.cellOf(9), (Cell{3, 0, 1}));
    EXPECT_EQ(flow.cellOf(10), (Cell{4, 0, 3}));
    EXPECT_EQ(flow.cellOf(11), (Cell{5, 0, 1}));
    EXPECT_EQ(flow.cellOf(999'999), (Cell{5 + (1'000'000 - 12) / 3, (1'000'000 - 12) % 3, 1}));
}

TEST(CellFlow, ManySmallChangesLeaveNoSmallPieces) {
    CellFlow flow(3);
    Spans spans(2000);
    for (std::size_t i = 0; i < spans.size(); ++i) {
        spans[i] = static_cast<std::uint8_t>(1 + i % 2);
    }
    flow.append(spans);
    const std::size_t once = flow.memoryBytes();
    for (std::size_t i = 0; i + 20 < spans.size(); i += 7) {
        flow.setSpans(static_cast<std::int64_t>(i), std::span(spans).subspan(i, 20));
    }
    EXPECT_LT(flow.memoryBytes(), once * 3);
    EXPECT_EQ(flow.cellOf(1999), plainCells(spans, 3).back());
}

} // namespace
} // namespace scorrere
