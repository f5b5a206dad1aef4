// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"

#include <algorithm>
#include <optional>
#include <vector>

namespace scorrere::testing {

/// The plain oracle of every arrangement in lines: items in a vector, their boxes worked out anew each time.
struct PlainArrangement {
    PlainArrangement(const ArrangementSpec& of, Ends around, std::int64_t records,
                     const Arrangement::Estimates& thought)
        : spec(of), ends(around), estimates(thought) {
        items.assign(static_cast<std::size_t>(records), std::nullopt);
        spans.assign(static_cast<std::size_t>(records), 1);
        kinds.assign(static_cast<std::size_t>(records), Arrangement::kRecordKind);
        header = footer = std::nullopt;
    }

    std::int64_t columns() const {
        const auto* grid = std::get_if<GridSpec>(&spec.form);
        if (grid == nullptr) {
            return 1;
        }
        const Lanes& lanes = grid->columns;
        return lanes.least > Length{}
                   ? std::clamp<std::int64_t>((room() + lanes.gap).raw() / (lanes.least + lanes.gap).raw(), 1,
                                              32)
                   : lanes.count;
    }
    Length gap() const { return spec.spacing.gap; }
    Length inset(std::size_t side) const { return spec.spacing.insets[side]; }
    Length crossGap() const {
        const auto* grid = std::get_if<GridSpec>(&spec.form);
        return grid == nullptr ? Length{} : grid->columns.gap;
    }
    Length room() const { return std::max(cross - inset(1) - inset(3), Length{}); }
    std::optional<Length> given() const {
        const auto* grid = std::get_if<GridSpec>(&spec.form);
        if (grid == nullptr) {
            return std::nullopt;
        }
        if (const auto* fixed = std::get_if<Length>(&grid->extent)) {
            return *fixed;
        }
        if (const auto* aspect = std::get_if<GridSpec::Aspect>(&grid->extent)) {
            const Length wide = std::max((room() + crossGap()) / columns() - crossGap(), Length{});
            return std::max(wide * aspect->height / aspect->width, Length::px(1));
        }
        return std::nullopt;
    }
    /// It asked for all columns, however many they are.
    bool isAcross(std::size_t item) const {
        return kinds[item] == Arrangement::kRecordKind && columns() > 1 && spans[item] >= columns();
    }
    /// What shows of a pager's neighbours, and the gap.
    Length lead() const {
        const auto* pager = std::get_if<PagerSpec>(&spec.form);
        return pager == nullptr || pager->peek == Length{} ? Length{} : pager->peek + gap();
    }
    std::vector<Box> boxes() const {
        std::vector<Box> all;
        if (std::holds_alternative<PagerSpec>(spec.form)) {
            const Length extent = std::max(window - inset(0) - inset(2) - lead() * 2, Length::px(1));
            const std::size_t count = items.size() + (ends.header ? 1 : 0) + (ends.footer ? 1 : 0);
            for (Length at = inset(0) + lead(); all.size() < count; at += extent + gap()) {
                all.push_back({at, extent, inset(3), room()});
            }
            return all;
        }
        Length at = inset(0);
        const auto alone = [&](const std::optional<Length>& measured, int kind) {
            const Length extent = measured.value_or(estimates[static_cast<std::size_t>(kind)]);
            all.push_back({at, extent, inset(3), room()});
            at += extent + gap();
        };
        if (ends.header) {
            alone(header, Arrangement::kHeaderKind);
        }
        const std::int64_t wide = columns();
        const Length width = std::max((room() + crossGap()) / wide - crossGap(), Length{});
        const auto* grid = std::get_if<GridSpec>(&spec.form);
        for (std::size_t first = 0; first < items.size();) {
            std::size_t until = first;
            std::int64_t taken = 0;
            Length extent;
            bool isWhole = true;
            while (until < items.size() &&
                   (until == first || taken + std::min<std::int64_t>(spans[until], wide) <= wide)) {
                taken += std::min<std::int64_t>(spans[until], wide);
                extent = std::max(extent, items[until].value_or(Length{}));
                isWhole = isWhole && items[until];
                ++until;
            }
            const auto kind = static_cast<std::size_t>(kinds[first]);
            const Length thought = isAcross(first) ? estimates[Arrangement::kAcrossKind]
                                   : kind != Arrangement::kRecordKind
                                       ? estimates[kind]
                                       : given().value_or(estimates[Arrangement::kRecordKind]);
            extent = isWhole ? extent : std::max(extent, thought);
            std::int64_t column = 0;
            for (std::size_t i = first; i < until; ++i) {
                const bool isFilling = i + 1 == until && until < items.size() && !(grid && grid->leavesHoles);
                const std::int64_t span = isFilling ? wide - column : std::min<std::int64_t>(spans[i], wide);
                all.push_back({at, extent, inset(3) + (width + crossGap()) * column,
                               span == wide ? room() : (width + crossGap()) * span - crossGap()});
                column += span;
            }
            at += extent + gap();
            first = until;
        }
        if (ends.footer) {
            alone(footer, Arrangement::kFooterKind);
        }
        return all;
    }
    Length total() const {
        const std::vector<Box> all = boxes();
        return (all.empty() ? inset(0) + lead() : all.back().end()) + lead() + inset(2);
    }

    ArrangementSpec spec;
    Ends ends;
    Arrangement::Estimates estimates;
    Length cross;
    Length window = Length::px(500);
    std::vector<std::optional<Length>> items; ///< as measured, by place
    std::vector<int> spans;                   ///< as asked for, by place
    std::vector<int> kinds;                   ///< where others stand among the records, by place
    std::optional<Length> header;
    std::optional<Length> footer;
};

} // namespace scorrere::testing
