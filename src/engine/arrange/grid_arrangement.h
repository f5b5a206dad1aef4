// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/cell_flow.h"
#include "engine/arrange/lanes.h"

#include <string>
#include <variant>

namespace scorrere {

/// How a grid is arranged. Lengths in density-independent px.
struct GridSpec {
    /// Every cell is as high as the highest of its line.
    struct AsLine {
        bool operator==(const AsLine&) const = default;
    };
    /// Every cell is as wide to as high.
    struct Aspect {
        std::int64_t width = 1;
        std::int64_t height = 1;
        bool operator==(const Aspect&) const = default;
    };
    /// Or of one extent.
    using Extent = std::variant<AsLine, Length, Aspect>;

    /// Items of a kind that take several columns.
    struct Span {
        std::string kind;
        int columns = kAllColumns;
        bool operator==(const Span&) const = default;
    };
    static constexpr int kAllColumns = 0;

    Lanes columns{3, {}, {}};     ///< between lines there is the gap of the spacing
    Extent extent = AsLine{};     ///< of what has all columns: as high as what it holds
    std::vector<Span> spans = {}; ///< other kinds take one column each
    /// Where an item has no room beside the one before it. Else that one is so much wider.
    bool leavesHoles = false;
    bool operator==(const GridSpec&) const = default;
};

/// Cells side by side in lines, in order; header and footer have a line each for themselves. Where the spec has
/// spans, somebody says which items have them: until then they take one column each.
///
/// A line is as long as its longest cell: what is known of its cells is kept by item and goes with them when
/// others come or go; what is known of lines is kept by line. After an edit the lines behind it hold other
/// items than those they were measured by: they are then what an estimate is, until their items are recalled
/// or measured.
///
/// Complexity  c = columns: O(c log n) for an item that is measured or recalled, O(log n) for all else.
class GridArrangement final : public Arrangement {
public:
    GridArrangement(const GridSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records,
                    const Estimates& estimates);

    int columns() const { return columns_; }
    std::int64_t lineCount() const;

    bool hasSpans() const { return !spec_.spans.empty(); }
    /// Somebody said what records have as spans.
    bool areSpansTold() const { return isFlowTold_; }
    /// How many columns there will be once the flow is known for them: so many fit.
    int columnsToBe() const { return spec_.columns.in(room()); }
    /// What records have as spans, as CellFlow::setSpans. Requires: hasSpans().
    void setSpans(std::int64_t firstPlace, std::span<const std::uint8_t> spans);
    /// The spans of all records at once. Where the columns are others than before nothing is known of extents
    /// any more. Requires: hasSpans(), it has as many as there are records.
    Forgotten takeFlow(CellFlow flow);
    /// What a record's item will be given that asks for so many columns, in as many as there are to be.
    Given givenToBe(int span) const {
        const int columns = columnsToBe();
        const int asked = span == GridSpec::kAllColumns ? columns : span;
        return givenIn(columns, asked, asked);
    }
    /// The columns that an item has, with what it takes of the room beside it.
    int spanOf(std::int64_t place) const { return cellAt(place).span; }

    void setCross(Length cross) override;
    Length total() override;
    Box boxOf(std::int64_t position) override;
    Given givenFor(std::int64_t position) override;
    std::int64_t indexAt(Length offset) override;
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override;

    std::size_t mostInALine() const override { return static_cast<std::size_t>(columns_); }

    /// Measured when its whole line is: before, others of it may still push what stands behind.
    ExtentState stateOf(std::int64_t position) override;
    std::int64_t measuredBefore(std::int64_t position) override { return cells_.measuredBefore(position); }
    std::int64_t knownBefore(std::int64_t position) override { return cells_.knownBefore(position); }
    Length estimateOf(int kind) const override { return lines_.estimate(kind) - spacing_.gap; }
    Length mostExtent() const override { return ExtentIndex::kMaxExtent - spacing_.gap; }

    void insertRecords(std::int64_t place, std::int64_t count) override;
    void eraseRecords(std::int64_t place, std::int64_t count) override;
    void moveRecord(std::int64_t from, std::int64_t to) override;
    void setMeasured(std::int64_t position, Length extent) override;
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) override;
    void evenOut(std::int64_t place, std::int64_t count) override;
    bool forgetNothing(std::int64_t position) override;
    bool takesOthers() const override { return true; }
    void insertOther(std::int64_t place, int kind) override;
    void tellKinds(std::span<const KindRun> records, bool areOthers) override;
    void recall(std::int64_t position) override { takeLine(lineOf(position)); }
    Forgotten forgetExtents(const Estimates& estimates) override;
    std::size_t memoryBytes() const override {
        return cells_.memoryBytes() + lines_.memoryBytes() + (flow_ ? flow_->memoryBytes() : 0);
    }
    std::int64_t nodesVisited() const override {
        return cells_.nodesVisited() + lines_.nodesVisited() + (flow_ ? flow_->nodesVisited() : 0);
    }
    void checkInvariants() override;

private:
    /// The items of a line: positions [first, until).
    struct Cells {
        std::int64_t first = 0;
        std::int64_t until = 0;
    };
    void setKindEstimate(int kind, Length extent) override;
    std::optional<Length> givenExtent() const { return givenExtentIn(columns_); }
    std::optional<Length> givenExtentIn(int columns) const;
    Given givenIn(int columns, int span, int asked) const;
    std::int64_t recordLines() const;
    std::int64_t recordLineOf(std::int64_t place) const;
    std::int64_t firstOf(std::int64_t recordLine) const;
    CellFlow::Cell cellAt(std::int64_t place) const;
    int askedBy(std::int64_t place) const { return flow_ ? flow_->cellOf(place).span : 1; }
    bool isAcross(std::int64_t place) const { return columns_ > 1 && askedBy(place) == columns_; }
    int lineKindOf(const Cells& cells);
    std::int64_t lineOf(std::int64_t position) const;
    std::int64_t beside(std::int64_t line, Toward toward);
    Cells cellsOf(std::int64_t line) const;
    Length room() const;
    Length cellWidthIn(int columns) const;
    void takeLine(std::int64_t line);
    void knowLine(std::int64_t line, ExtentIndex::Place& kept, const Cells& cells,
                  std::span<const ExtentIndex::Known> known);
    void setLines(std::int64_t at);
    void fillLines(std::span<const KindRun> records);
    void fillEnds(ExtentIndex& index) const;

    GridSpec spec_;
    Spacing spacing_;
    Length cross_;
    int columns_ = 1;
    std::optional<CellFlow> flow_; ///< where items have spans; else cells follow by division
    bool isFlowTold_ = false;
    bool hasOthers_ = false;                     ///< among the records
    Estimates estimates_{};                      ///< before anything is measured
    ExtentIndex cells_{ExtentIndex::Sums::None}; ///< by position: what is known of each item by itself
    ExtentIndex lines_;                          ///< by line, each with the gap after it
    std::vector<std::int32_t> lineExtents_;      ///< room for setEstimated
    std::vector<std::int32_t> ownExtents_;       ///< room for it, too
};

} // namespace scorrere
