// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/base/pace.h"
#include "engine/change/order_change.h"
#include "engine/edit/edited_records.h"
#include "engine/extent/known_extents.h"
#include "engine/order/record_ranking.h"
#include "render/live_estimates.h"

#include <atomic>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace scorrere::render {

/// What orders of the same records have in common, from one change to the next: handed from worker to worker.
struct OrdersKept {
    std::mutex mutex; ///< a worker's that is at it; one that is not wanted any more lets go at its next slice
    std::shared_ptr<FoldedTexts> folded = std::make_shared<FoldedTexts>();
    std::optional<RecordRanking> ranking;
    Parameters parameters;          ///< that it was made with
    std::vector<FieldType> types;   ///< of the fields there were
    std::optional<RecordKeys> keys; ///< of the source; where anything was edited
    /// The edits that were in force when it ranked last; null: none.
    std::shared_ptr<const EditedRecords> edited;
};

/// How far a worker is with an order; it counts, the interface thread reads.
struct OrderFar {
    std::int64_t records = 0; ///< to be put in order
    bool isSorted = false;
    std::atomic<std::int64_t> looked = 0; ///< at so many of them
    std::atomic<double> sorted = 0;       ///< such a part of them
    std::atomic<int> steps = 0; ///< done: of putting in order, comparing with the order before, arranging
    /// 0 to 1.
    double share() const;
};

/// An order that is to take the place of another, and what is known where it is asked for.
struct OrderTask {
    std::shared_ptr<EstimateTask> parts; ///< how its records are arranged; its order is found
    OrderSpec spec;
    std::shared_ptr<const RecordTable> source; ///< without edits
    std::vector<std::string> key;              ///< by which edits name its records
    RecordEdits edits;
    /// Edits in force before; null: none.
    std::shared_ptr<const EditedRecords> editedBefore;
    RecordOrder before;
    std::vector<std::int64_t> shown; ///< places that show
    std::int64_t held = -1;          ///< place of what is read; -1: one stands at the start
    std::optional<ChangeWay> forced;
    ArrangementSpec arrangement;
    Ends ends;
    Arrangement::Estimates estimates{};
    Length cross;
    Length window;
    bool isArranged = true; ///< else only the order is wanted
    std::shared_ptr<const KnownExtents> known;
    std::shared_ptr<OrdersKept> kept;
    std::shared_ptr<OrderFar> far;
};

/// All of it, as it takes the other's place in one frame.
struct OrderLanding {
    /// Nothing: all stand where they stood, only values are others.
    std::optional<OrderChange> change;
    std::unique_ptr<Arrangement> arrangement;
    std::shared_ptr<const EditedRecords> edited; ///< edits in force from then on; null: none
    RecordOrder before;                          ///< in the numbers that records have from then on
    std::vector<std::int64_t> otherNow; ///< records that say something else than before, by those numbers
    std::optional<LiveEstimates::Grouped> sections;
    std::optional<LiveEstimates::Placed> places;
    /// Some records as shares of all: where each stood, and where it stands now.
    std::vector<std::pair<float, float>> threads;
    double rankMs = 0;
    double compareMs = 0;
    double arrangeMs = 0;
};

/// Errors: as RecordRanking::make; Cancelled.
///
/// Threads     A worker's, or the interface thread's of a run without one.
Result<OrderLanding> makeLanding(const OrderTask& task, Slices& slices, const std::stop_token& stop);

/// Puts those under one heading together, the headings as each is met first; leaves them as they are where there are no
/// sections. False: it was stopped.
bool gatherByHeading(std::vector<std::uint32_t>& ranked, const CollectionDocument& document,
                     const RecordTable& records, std::int64_t nowMs, const std::stop_token& stop);

/// What each way to make one change costs, measured.
struct OrderCosts {
    double inPlaceMs = 0; ///< compared and arranged by a worker
    double afreshMs = 0;
    double singlyMs = 0;      ///< record by record, as many write it first: all of it on the interface thread
    bool isSinglyCut = false; ///< it was given up after so long
    std::int64_t moves = 0;   ///< of single records, until then
};
/// Makes the change from `task.before` to the order that it leads to in each way, off to the side. Tells how far it is, as a
/// share of the time that it takes at most. Errors: as makeLanding.
Result<OrderCosts> costsOf(OrderTask task, Slices& slices, const std::stop_token& stop,
                           const ShareHandler& far);

/// What became of the last change of the order, as those who watch are told.
struct OrderTold {
    OrderSpec spec;
    ChangeChoice choice;
    std::int64_t before = 0;
    std::int64_t after = 0;
    std::int64_t came = 0;
    std::int64_t went = 0;
    std::int64_t stayed = 0;
    std::int64_t moved = 0;
    std::vector<std::pair<float, float>> threads;
    double rankMs = 0; ///< off the interface thread, as the next two
    double compareMs = 0;
    double arrangeMs = 0;
    double landMs = 0;      ///< in the frame
    std::int64_t frame = 0; ///< in which it landed
};

} // namespace scorrere::render
