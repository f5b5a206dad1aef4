// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/grid_arrangement.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <utility>

namespace scorrere {

GridArrangement::GridArrangement(const GridSpec& spec, const Spacing& spacing, Ends ends,
                                 std::int64_t records, const Estimates& estimates)
    : Arrangement(ends, records), spec_(spec), spacing_(spacing) {
    if (!spec.spans.empty()) {
        flow_ = CellFlow(1, records);
    }
    setCross(Length{});
    (void)forgetExtents(estimates);
}

Length GridArrangement::room() const {
    return std::max(cross_ - spacing_.insets[1] - spacing_.insets[3], Length{});
}

/// Which cells items take in other columns takes longer to find out than a frame has: until somebody did, there
/// are as many as before, of another width.
void GridArrangement::setCross(Length cross) {
    cross_ = cross;
    if (flow_ && isFlowTold_) {
        return;
    }
    columns_ = columnsToBe();
    if (flow_ && flow_->columns() != columns_) {
        flow_ = CellFlow(columns_, recordCount());
    }
}

Length GridArrangement::cellWidthIn(int columns) const {
    return std::max((room() + spec_.columns.gap) / columns - spec_.columns.gap, Length{});
}

std::int64_t GridArrangement::recordLines() const {
    return flow_ ? flow_->lines() : (recordCount() + columns_ - 1) / columns_;
}

/// Also of the place behind the last one: the line behind it.
std::int64_t GridArrangement::recordLineOf(std::int64_t place) const {
    return !flow_ ? place / columns_ : place < flow_->size() ? flow_->cellOf(place).line : flow_->lines();
}

std::int64_t GridArrangement::firstOf(std::int64_t recordLine) const {
    return flow_ ? flow_->firstOf(recordLine) : std::min(recordLine * columns_, recordCount());
}

CellFlow::Cell GridArrangement::cellAt(std::int64_t place) const {
    if (!flow_) {
        return {place / columns_, static_cast<int>(place % columns_), 1};
    }
    return spec_.leavesHoles ? flow_->cellOf(place) : flow_->filledCellOf(place);
}

std::int64_t GridArrangement::lineCount() const {
    return (hasHeader() ? 1 : 0) + recordLines() + (hasFooter() ? 1 : 0);
}

std::int64_t GridArrangement::lineOf(std::int64_t position) const {
    const Slot slot = slotAt(position);
    return slot.role == Role::Header   ? 0
           : slot.role == Role::Footer ? lineCount() - 1
                                       : (hasHeader() ? 1 : 0) + recordLineOf(slot.place);
}

GridArrangement::Cells GridArrangement::cellsOf(std::int64_t line) const {
    if (hasHeader() && line == 0) {
        return {0, 1};
    }
    if (hasFooter() && line == lineCount() - 1) {
        return {size() - 1, size()};
    }
    const std::int64_t recordLine = line - (hasHeader() ? 1 : 0);
    return {positionOf(firstOf(recordLine)), positionOf(firstOf(recordLine + 1))};
}

int GridArrangement::lineKindOf(const Cells& cells) {
    const Slot slot = slotAt(cells.first);
    if (hasOthers_ && slot.role == Role::Record) {
        if (const int kind = cells_.kindOf(cells.first); kind != kRecordKind) {
            return kind;
        }
    }
    return slot.role == Role::Record && isAcross(slot.place) ? kAcrossKind : kindOf(slot.role);
}

std::optional<Length> GridArrangement::givenExtentIn(int columns) const {
    if (const auto* fixed = std::get_if<Length>(&spec_.extent)) {
        return std::clamp(*fixed, kLeastEstimate, mostExtent());
    }
    if (const auto* aspect = std::get_if<GridSpec::Aspect>(&spec_.extent)) {
        return std::clamp(cellWidthIn(columns) * aspect->height / aspect->width, kLeastEstimate,
                          mostExtent());
    }
    return std::nullopt;
}

/// `asked`: so many columns; `span`: as many as it takes. What asked for all is as long as what it holds.
Given GridArrangement::givenIn(int columns, int span, int asked) const {
    const Length gap = spec_.columns.gap;
    const bool isAcross = columns > 1 && asked >= columns;
    return {span >= columns ? room() : (cellWidthIn(columns) + gap) * span - gap,
            isAcross ? std::nullopt : givenExtentIn(columns)};
}

Given GridArrangement::givenFor(std::int64_t position) {
    const Slot slot = slotAt(position);
    if (slot.role != Role::Record || (hasOthers_ && cells_.kindOf(position) != kRecordKind)) {
        return {room(), std::nullopt};
    }
    return givenIn(columns_, cellAt(slot.place).span, askedBy(slot.place));
}

Length GridArrangement::total() {
    const Length gaps = size() > 0 ? spacing_.gap : Length{};
    return spacing_.insets[0] + lines_.total() - gaps + spacing_.insets[2];
}

Box GridArrangement::boxOf(std::int64_t position) {
    const std::int64_t line = lineOf(position);
    const ExtentIndex::Stand stand = lines_.standOf(line);
    Box box{spacing_.insets[0] + stand.offset, stand.extent - spacing_.gap, spacing_.insets[3], room()};
    if (const Slot slot = slotAt(position); slot.role == Role::Record) {
        const CellFlow::Cell cell = cellAt(slot.place);
        box.crossStart += (cellWidthIn(columns_) + spec_.columns.gap) * cell.column;
        box.crossExtent = givenIn(columns_, cell.span, cell.span).crossExtent;
    }
    return box;
}

ExtentState GridArrangement::stateOf(std::int64_t position) {
    const ExtentState line = lines_.stateOf(lineOf(position));
    return line == ExtentState::Measured ? line
                                         : std::min(cells_.stateOf(position), ExtentState::ContentEstimate);
}

std::int64_t GridArrangement::indexAt(Length offset) {
    if (size() == 0) {
        return -1;
    }
    return cellsOf(std::min(lines_.indexAt(offset - spacing_.insets[0]), lineCount() - 1)).first;
}

/// The next line that way, past what takes no room.
std::int64_t GridArrangement::beside(std::int64_t line, Toward toward) {
    line += toward == Toward::End ? 1 : -1;
    if (line < 0 || line >= lineCount() || lines_.extentOf(line) > Length{}) {
        return line;
    }
    const Length at = lines_.offsetOf(line);
    return toward == Toward::End ? lines_.indexAt(at)
           : at <= Length{}      ? -1
                                 : lines_.indexAt(at - Length::fromRaw(1));
}

std::size_t GridArrangement::touching(Length from, Length until, Toward toward, std::int64_t past,
                                      std::span<std::int64_t> room) {
    assert(room.size() >= mostInALine());
    from = std::max(from, Length{});
    if (size() == 0 || from >= until) {
        return 0;
    }
    const std::int64_t step = toward == Toward::End ? 1 : -1;
    const Length at = toward == Toward::End ? from : until - Length::fromRaw(1);
    std::size_t named = 0;
    std::int64_t line = lineOf(indexAt(at));
    if (past != kFromTheEnd) { // whole lines are named
        line = toward == Toward::End ? std::max(line, lineOf(past) + 1) : std::min(line, lineOf(past) - 1);
    }
    for (; line >= 0 && line < lineCount(); line = beside(line, toward)) {
        const Length start = spacing_.insets[0] + lines_.offsetOf(line);
        const Length extent = lines_.extentOf(line) - spacing_.gap;
        if (toward == Toward::End ? start >= until : start + extent <= from) {
            break;
        }
        const Cells cells = cellsOf(line);
        if (named + static_cast<std::size_t>(cells.until - cells.first) > room.size()) {
            break;
        }
        if (start >= until || start + extent <= from || extent <= Length{}) {
            continue;
        }
        for (std::int64_t i = 0; i < cells.until - cells.first; ++i) {
            room[named++] = step > 0 ? cells.first + i : cells.until - 1 - i;
        }
    }
    return named;
}

void GridArrangement::takeLine(std::int64_t line) {
    const Cells cells = cellsOf(line);
    std::array<ExtentIndex::Known, Arrangement::kMostInALine> room;
    const std::span known = std::span(room).first(static_cast<std::size_t>(cells.until - cells.first));
    cells_.read(cells.first, known);
    ExtentIndex::Place kept = lines_.find(line);
    knowLine(line, kept, cells, known);
}

/// What is known of a line by its cells.
void GridArrangement::knowLine(std::int64_t line, ExtentIndex::Place& kept, const Cells& cells,
                               std::span<const ExtentIndex::Known> known) {
    bool areMeasured = true;
    bool areKnown = true;
    bool isAnyKnown = false;
    Length most;
    for (const ExtentIndex::Known& cell : known) {
        areMeasured = areMeasured && cell.state == ExtentState::Measured;
        areKnown = areKnown && cell.state != ExtentState::KindEstimate;
        isAnyKnown = isAnyKnown || cell.state != ExtentState::KindEstimate;
        most = std::max(most, cell.state == ExtentState::KindEstimate ? Length{} : cell.extent);
    }
    const int kind = lineKindOf(cells);
    if (flow_ && lines_.kindOf(line) != kind) {
        lines_.erase(line, 1);
        lines_.insert(line, 1, kind);
        kept = lines_.find(line);
    }
    if (!areMeasured && !areKnown) { // as long as what is known of it, at least
        most = std::max(most, estimateOf(kind));
    }
    const ExtentState state = areMeasured  ? ExtentState::Measured
                              : isAnyKnown ? ExtentState::ContentEstimate
                                           : ExtentState::KindEstimate;
    const ExtentState was =
        lines_.setKnown(kept, {std::min(most + spacing_.gap, ExtentIndex::kMaxExtent), state});
    if (areMeasured && was != ExtentState::Measured) {
        countMeasured(kind, most);
    }
}

/// As many lines as there are to be; those that come or go do so at line `at`.
void GridArrangement::setLines(std::int64_t at) {
    const std::int64_t first = hasHeader() ? 1 : 0;
    const std::int64_t records = lines_.size() - first - (hasFooter() ? 1 : 0);
    const std::int64_t wanted = recordLines();
    if (wanted > records) {
        lines_.insert(std::min(at, first + records), wanted - records, kRecordKind);
    } else if (wanted < records) {
        lines_.erase(std::min(at, first + wanted), records - wanted);
    }
}

void GridArrangement::insertRecords(std::int64_t place, std::int64_t count) {
    const std::int64_t line = (hasHeader() ? 1 : 0) + recordLineOf(place);
    addRecords(count);
    cells_.insert(positionOf(place), count, kRecordKind);
    if (flow_) {
        flow_->insert(place, count);
    }
    setLines(line);
}

void GridArrangement::insertOther(std::int64_t place, int kind) {
    if (!flow_) {
        flow_ = CellFlow(columns_, recordCount());
    }
    hasOthers_ = true;
    const std::int64_t line = (hasHeader() ? 1 : 0) + recordLineOf(place);
    addRecords(1);
    cells_.insert(positionOf(place), 1, kind);
    flow_->insert(place, 1);
    flow_->setSpans(place, std::array{CellFlow::kAll});
    setLines(line);
}

void GridArrangement::tellKinds(std::span<const KindRun> records, bool areOthers) {
    const bool hasSpans = !spec_.spans.empty(); // then somebody tells the flow in other columns
    hasOthers_ = std::ranges::any_of(records, [](const KindRun& each) { return each.kind != kRecordKind; });
    if (areOthers || !hasSpans) {
        columns_ = hasSpans ? columns_ : columnsToBe();
        addRecords(-recordCount());
        CellFlow flow(columns_);
        for (const auto& [count, kind] : records) {
            addRecords(count);
            flow.insert(flow.size(), count);
            if (kind != kRecordKind) {
                flow.setSpans(flow.size() - count,
                              std::vector<std::uint8_t>(static_cast<std::size_t>(count), CellFlow::kAll));
            }
        }
        flow_ = hasOthers_ || hasSpans ? std::optional(std::move(flow)) : std::nullopt;
    }
    ExtentIndex cells(ExtentIndex::Sums::None);
    ExtentIndex lines;
    for (int kind = 0; kind < kKinds; ++kind) {
        cells.setEstimate(kind, cells_.estimate(kind));
        lines.setEstimate(kind, lines_.estimate(kind));
    }
    cells_ = std::move(cells);
    lines_ = std::move(lines);
    cells_.insertAll(records);
    fillEnds(cells_);
    fillLines(records);
}

void GridArrangement::eraseRecords(std::int64_t place, std::int64_t count) {
    const std::int64_t line = (hasHeader() ? 1 : 0) + recordLineOf(place);
    addRecords(-count);
    cells_.erase(positionOf(place), count);
    if (flow_) {
        flow_->erase(place, count);
    }
    setLines(line);
}

void GridArrangement::moveRecord(std::int64_t from, std::int64_t to) {
    cells_.move(positionOf(from), positionOf(to));
    if (flow_) {
        flow_->move(from, to);
        setLines((hasHeader() ? 1 : 0) + recordLineOf(std::min(from, to)));
    }
}

void GridArrangement::setSpans(std::int64_t firstPlace, std::span<const std::uint8_t> spans) {
    assert(flow_);
    isFlowTold_ = true;
    const std::int64_t line = (hasHeader() ? 1 : 0) + recordLineOf(firstPlace);
    flow_->setSpans(firstPlace, spans);
    setLines(line);
}

Arrangement::Forgotten GridArrangement::takeFlow(CellFlow flow) {
    assert(flow_ && flow.size() == recordCount());
    const bool isOfOthers = flow.columns() != columns_;
    isFlowTold_ = true;
    columns_ = flow.columns();
    flow_ = std::move(flow);
    if (isOfOthers) {
        return forgetExtents(estimates_);
    }
    Forgotten old;
    ExtentIndex lines;
    for (int kind = 0; kind < kKinds; ++kind) {
        lines.setEstimate(kind, lines_.estimate(kind));
    }
    old.push_back(std::exchange(lines_, std::move(lines)));
    fillLines({});
    return old;
}

void GridArrangement::setMeasured(std::int64_t position, Length extent) {
    const std::int64_t line = lineOf(position);
    const Cells cells = cellsOf(line);
    std::array<ExtentIndex::Known, Arrangement::kMostInALine> room;
    const std::span known = std::span(room).first(static_cast<std::size_t>(cells.until - cells.first));
    ExtentIndex::Place cell = cells_.find(position); // comes while the line is looked for
    ExtentIndex::Place kept = lines_.find(line);
    cells_.setMeasured(cell, std::min(extent, mostExtent()), cells.first, known);
    knowLine(line, kept, cells, known);
}

/// A line gets an estimate where all its cells have one.
void GridArrangement::setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) {
    const bool isGiven = givenExtent().has_value();
    if (extents.empty() || (isGiven && !flow_)) {
        return; // nothing about it is to be estimated
    }
    const auto count = static_cast<std::int64_t>(extents.size());
    if (isGiven) {
        ownExtents_.assign(extents.begin(), extents.end());
        for (std::int64_t i = 0; i < count; ++i) {
            if (!isAcross(firstPlace + i)) {
                ownExtents_[static_cast<std::size_t>(i)] = -1;
            }
        }
        extents = ownExtents_;
    }
    cells_.setEstimated(positionOf(firstPlace), extents);
    const std::int64_t begins = recordLineOf(firstPlace);
    const std::int64_t firstLine = begins + (firstOf(begins) < firstPlace ? 1 : 0);
    const std::int64_t ends = recordLineOf(firstPlace + count - 1);
    const std::int64_t untilLine = ends + (firstOf(ends + 1) <= firstPlace + count ? 1 : 0);
    for (const std::int64_t place : {firstPlace, firstPlace + count - 1}) {
        recall(positionOf(place)); // its line may begin before, or end behind
    }
    if (firstLine >= untilLine) {
        return;
    }
    lineExtents_.assign(static_cast<std::size_t>(untilLine - firstLine), -1);
    std::int64_t place = firstOf(firstLine);
    for (std::int64_t line = firstLine; line < untilLine; ++line) {
        std::int32_t& longest = lineExtents_[static_cast<std::size_t>(line - firstLine)];
        for (const std::int64_t until = firstOf(line + 1); place < until; ++place) {
            const std::int32_t extent = extents[static_cast<std::size_t>(place - firstPlace)];
            longest = extent < 0 ? longest
                                 : std::max(longest, extent + static_cast<std::int32_t>(spacing_.gap.raw()));
        }
    }
    lines_.setEstimated((hasHeader() ? 1 : 0) + firstLine, lineExtents_);
    for (std::int64_t i = 0; i < count && !isGiven; ++i) {
        if (extents[static_cast<std::size_t>(i)] < 0) {
            recall(positionOf(firstPlace + i)); // its line is as long as what is known of it, at least
        }
    }
}

void GridArrangement::evenOut(std::int64_t place, std::int64_t count) {
    cells_.evenOut(positionOf(place), count);
}

bool GridArrangement::forgetNothing(std::int64_t position) {
    const std::int64_t line = lineOf(position);
    if (cells_.stateOf(position) == ExtentState::KindEstimate || lines_.extentOf(line) != spacing_.gap) {
        return false;
    }
    const int kind = cells_.kindOf(position);
    cells_.erase(position, 1);
    cells_.insert(position, 1, kind);
    takeLine(line);
    return true;
}

void GridArrangement::setKindEstimate(int kind, Length extent) {
    const Length estimate = kind == kRecordKind ? givenExtent().value_or(extent) : extent;
    cells_.setEstimate(kind, std::min(estimate, mostExtent()));
    lines_.setEstimate(kind, std::min(estimate + spacing_.gap, ExtentIndex::kMaxExtent));
}

void GridArrangement::fillEnds(ExtentIndex& index) const {
    if (hasHeader()) {
        index.insert(0, 1, kHeaderKind);
    }
    if (hasFooter()) {
        index.insert(index.size(), 1, kFooterKind);
    }
}

/// `records`: of which kinds they are, where that says which lines there are.
void GridArrangement::fillLines(std::span<const KindRun> records) {
    if (records.empty() || !spec_.spans.empty()) {
        lines_.insert(0, recordLines(), kRecordKind);
    } else {
        std::vector<KindRun> lines;
        lines.reserve(records.size());
        for (const auto& [count, kind] : records) {
            lines.push_back({kind == kRecordKind ? (count + columns_ - 1) / columns_ : count, kind});
        }
        lines_.insertAll(lines);
    }
    fillEnds(lines_);
}

Arrangement::Forgotten GridArrangement::forgetExtents(const Estimates& estimates) {
    Forgotten old;
    old.push_back(std::exchange(cells_, ExtentIndex(ExtentIndex::Sums::None)));
    old.push_back(std::exchange(lines_, ExtentIndex()));
    forgetMeans();
    estimates_ = estimates;
    for (int kind = 0; kind < kKinds; ++kind) {
        const Length thought = estimates[static_cast<std::size_t>(kind)];
        const bool isAsRecords = kind == kAcrossKind && thought == Length{};
        setKindEstimate(kind, std::max(isAsRecords ? estimates[kRecordKind] : thought, kLeastEstimate));
    }
    cells_.insert(0, recordCount(), kRecordKind);
    fillEnds(cells_);
    fillLines({});
    return old;
}

void GridArrangement::checkInvariants() {
    cells_.checkInvariants();
    lines_.checkInvariants();
    assert(cells_.size() == size());
    assert(lines_.size() == lineCount());
    if (flow_) {
        flow_->checkInvariants();
        assert(flow_->size() == recordCount());
        assert(flow_->columns() == columns_);
    }
}

} // namespace scorrere
