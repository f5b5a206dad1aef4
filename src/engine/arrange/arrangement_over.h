// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"

#include <memory>
#include <utility>

namespace scorrere {

/// An arrangement over another, which does what this one does not say: one of one's own overrides what differs.
///
/// Complexity, threads, errors  As the one below.
class ArrangementOver : public Arrangement {
public:
    Arrangement& below() { return *below_; }
    const Arrangement& below() const { return *below_; }

    bool areByPlace() const override { return below_->areByPlace(); }
    Slot slotAt(std::int64_t position) const override { return below_->slotAt(position); }
    std::int64_t positionOf(std::int64_t place) const override { return below_->positionOf(place); }
    void setCross(Length cross) override { below_->setCross(cross); }
    void setWindow(Length along) override { below_->setWindow(along); }
    bool followsWindow() const override { return below_->followsWindow(); }
    Length total() override { return below_->total(); }
    Box boxOf(std::int64_t position) override { return below_->boxOf(position); }
    Given givenFor(std::int64_t position) override { return below_->givenFor(position); }
    std::int64_t indexAt(Length offset) override { return below_->indexAt(offset); }
    std::size_t touching(Length from, Length until, Toward toward, std::int64_t past,
                         std::span<std::int64_t> room) override {
        return below_->touching(from, until, toward, past, room);
    }
    std::size_t mostInALine() const override { return below_->mostInALine(); }
    bool isInOrder() const override { return below_->isInOrder(); }
    std::optional<Length> restFor(Length offset, double velocity) override {
        return below_->restFor(offset, velocity);
    }
    std::optional<Length> restBeside(Length offset, Toward toward) override {
        return below_->restBeside(offset, toward);
    }
    Length restOf(std::int64_t position) override { return below_->restOf(position); }
    const Sections* sections() const override { return below_->sections(); }
    Stayings stayingAt(Length top) override { return below_->stayingAt(top); }
    Length acrossTotal() override { return below_->acrossTotal(); }
    std::optional<Length> staysAcross(std::int64_t position) override {
        return below_->staysAcross(position);
    }
    bool takesOthers() const override { return below_->takesOthers(); }
    void insertOther(std::int64_t place, int kind) override {
        below_->insertOther(place, kind);
        counted();
    }
    void tellKinds(std::span<const KindRun> records, bool areOthers) override {
        below_->tellKinds(records, areOthers);
        counted();
    }

    ExtentState stateOf(std::int64_t position) override { return below_->stateOf(position); }
    std::int64_t measuredBefore(std::int64_t position) override { return below_->measuredBefore(position); }
    std::int64_t knownBefore(std::int64_t position) override { return below_->knownBefore(position); }
    Length estimateOf(int kind) const override { return below_->estimateOf(kind); }
    Length mostExtent() const override { return below_->mostExtent(); }

    void insertRecords(std::int64_t place, std::int64_t count) override {
        below_->insertRecords(place, count);
        counted();
    }
    void eraseRecords(std::int64_t place, std::int64_t count) override {
        below_->eraseRecords(place, count);
        counted();
    }
    void moveRecord(std::int64_t from, std::int64_t to) override { below_->moveRecord(from, to); }
    void setMeasured(std::int64_t position, Length extent) override { below_->setMeasured(position, extent); }
    void setEstimated(std::int64_t firstPlace, std::span<const std::int32_t> extents) override {
        below_->setEstimated(firstPlace, extents);
    }
    void evenOut(std::int64_t place, std::int64_t count) override { below_->evenOut(place, count); }
    bool forgetNothing(std::int64_t position) override { return below_->forgetNothing(position); }
    Length circle() const override { return below_->circle(); }
    Length windowAt(std::int64_t position, Length showed) override {
        return below_->windowAt(position, showed);
    }
    void keepStill(std::int64_t position, Length showed) override { below_->keepStill(position, showed); }
    void beginAt(std::int64_t position) override { below_->beginAt(position); }
    void recall(std::int64_t position) override { below_->recall(position); }
    Forgotten forgetExtents(const Estimates& estimates) override { return below_->forgetExtents(estimates); }
    void takeMeans() override { below_->takeMeans(); }
    bool areMeansDue() const override { return below_->areMeansDue(); }
    std::size_t memoryBytes() const override { return below_->memoryBytes(); }
    std::int64_t nodesVisited() const override { return below_->nodesVisited(); }
    void checkInvariants() override { below_->checkInvariants(); }

protected:
    ArrangementOver(Ends ends, std::unique_ptr<Arrangement> below)
        : Arrangement(ends, below->recordCount()), below_(std::move(below)) {
        counted();
    }
    /// As many as there are below, of whatever.
    void counted() {
        addRecords(below_->recordCount() - recordCount());
        const std::int64_t ends = before() + (hasFooter() ? 1 : 0);
        setOthers(below_->size() - below_->recordCount() - ends);
    }

private:
    void setKindEstimate(int, Length) final {} // means are taken below

    std::unique_ptr<Arrangement> below_;
};

} // namespace scorrere
