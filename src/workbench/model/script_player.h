// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/run/run.h"
#include "engine/run/script.h"
#include "render/live_collection.h"

#include <cstdint>
#include <deque>

namespace scorrere::workbench {

/// What a script acts on.
class ScriptTarget {
public:
    virtual ~ScriptTarget() = default;
    virtual Run& run() = 0;
    virtual void turn() = 0;
    virtual void resizeWindow(double width, double height) = 0;
    virtual void scaleText(double scale) = 0;
    virtual void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) = 0;
    virtual void removeRecords(std::int64_t place, std::int64_t count) = 0;
    /// As a change of the document, which undo takes back.
    virtual void orderRecords(const OrderSpec& order) = 0;
    virtual void editRecord(const RecordEdit& edit) = 0;
    /// Nothing would change by another frame, and no order or edit is on its way.
    virtual bool isIdle() = 0;
    /// What hands touch; null: nothing is there.
    virtual render::LiveCollection* touched() = 0;
    virtual std::int64_t recordCount() = 0;
};

/// Plays a script against a target on a virtual clock: say when it is, then make a frame, until it is over.
///
/// Errors      None: places and counts beyond the collection are cut to what there is.
class ScriptPlayer {
public:
    ScriptPlayer(const Script& script, ScriptTarget& target);

    /// Does all steps due at `timeUs`, before the frame of that time.
    void advanceTo(std::int64_t timeUs);
    bool isOver() const { return over_; }
    /// How much of its time is over, 0 to 1. How long it stands still for is guessed.
    double share() const;

private:
    struct ActiveDrag {
        bool on = false;
        double by = 0;
        std::int64_t startUs = 0;
        std::int64_t lastsUs = 1;
    };
    /// How long the steps from one on last, until nothing moves again, about.
    std::int64_t partMs(std::size_t first) const;
    void doStep(const ScriptStep& step, std::int64_t timeUs);
    void moveDrag(std::int64_t timeUs);
    void beginHand(const ScriptStep& step, std::int64_t timeUs);
    void playHand(std::int64_t timeUs);

    const Script& script_;
    ScriptTarget& target_;
    std::size_t next_ = 0;
    std::int64_t originUs_ = -1;
    std::int64_t nowUs_ = -1;
    std::size_t part_ = 0;    ///< the first step since the last wait
    std::int64_t doneMs_ = 0; ///< what lies before that
    std::int64_t wholeMs_ = 0;
    ActiveDrag drag_;
    std::deque<PointerSample> pointer_; ///< what is still to come of it
    bool over_ = false;
};

} // namespace scorrere::workbench
