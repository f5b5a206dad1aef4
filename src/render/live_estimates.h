// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/cell_flow.h"
#include "engine/arrange/placed_arrangement.h"
#include "engine/design/layout.h"
#include "engine/document/collection_document.h"
#include "engine/extent/known_extents.h"
#include "engine/record/record_order.h"
#include "render/job.h"

#include <QObject>
#include <deque>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <utility>
#include <vector>

namespace scorrere::render {

/// Whether extents are estimated from content, and how.
enum class Estimating : std::uint8_t {
    Background, ///< by a worker, the neighbourhood of the window first; taken over a slice a frame
    AtOnce, ///< before the call returns: for headless runs, where the same inputs must give the same frames
    Never,
};

struct EstimateTask {
    /// A record of a page, and where it stood when the task was made.
    struct Row {
        std::int64_t place = 0;
        std::shared_ptr<const RecordTable> table;
        std::int64_t row = 0;
    };
    CollectionDocument document;
    std::shared_ptr<const RecordTable> records;
    RecordOrder order;
    std::vector<Row> rows; ///< in order of place; when there are any: these, not `order`
    double textScale = 1;
    ItemRoom room;           ///< of every record's item
    bool isSideways = false; ///< its extent is its width then
    std::int64_t nowMs = 0;
    std::int64_t from = 0; ///< the place where the window is
    /// Of a grid whose items have spans: how many columns there are to be, and what an item of one column, of
    /// two and so on is laid out in. 0: all are laid out in `room`.
    int columns = 0;
    std::vector<ItemRoom> rooms;
    bool leavesHoles = false;
    std::optional<TableColumns> table = std::nullopt;    ///< a table's, as wide as they are by then
    bool isFlowWanted = false;                           ///< spans of all of `order` before any extents
    bool areSectionsWanted = false;                      ///< of all of `order`, before anything else
    bool arePlacesWanted = false;                        ///< of all of `order`, and nothing else
    bool areExtentsWanted = true;                        ///< else each is given its own
    std::shared_ptr<const KnownExtents> known = nullptr; ///< of those nothing is estimated again
};

/// Extents of records beyond the window, estimated from their content off the interface thread, and handed
/// over slice by slice. A slice speaks of places as they were when estimating began: edits since are told
/// here, and it is handed over where its records stand now.
///
/// Threads     The interface thread; the work is done on a worker.
class LiveEstimates final : public QObject {
    Q_OBJECT
public:
    struct Estimated {
        std::int64_t place = 0;
        std::vector<std::int32_t> extents;
        std::vector<std::uint8_t> spans; ///< of the same records, where they were asked for
    };
    /// Records that came since a flow was asked for, by place now: it does not know their spans.
    using Unknown = std::vector<std::pair<std::int64_t, std::int64_t>>;
    /// All sections: so many records each, under so many different headings.
    struct Grouped {
        std::vector<std::int32_t> counts;
        std::int64_t headings = 0;
    };
    /// Where all items stand, and the lanes that were met.
    struct Placed {
        std::shared_ptr<PlacedArrangement::Told> told; ///< this one's only
        std::shared_ptr<const PlaceReader> reader;
    };
    struct Take {
        std::function<void(const Estimated&)> slice;
        /// Nothing: records came or went since it was asked for.
        std::function<void(std::optional<Grouped>)> sections;
        std::function<void(CellFlow, const Unknown&)> flow;
        /// Nothing: records came or went since it was asked for.
        std::function<void(std::optional<Placed>)> places = {};
    };

    explicit LiveEstimates(Estimating how) : how_(how) {}
    Estimating how() const { return how_; }
    /// Drops what is under way, and begins this; `take`: for what is estimated at once.
    void start(std::shared_ptr<const EstimateTask> task, const Take& take);
    void cancel();
    /// Records came in before `place` or, with a negative count, went.
    void noteEdit(std::int64_t place, std::int64_t count);
    bool isBusy() const { return job_.isBusy() || hasSlices(); }
    bool hasSlices() const { return !slices_.empty() || flow_ || sections_ || places_; }
    /// Hands one slice, or the flow, over. Complexity: O(extents in it) for each edit.
    void takeSlice(const Take& take);

Q_SIGNALS:
    /// A slice waits to be taken, or no more will come.
    void came();

private:
    struct Slice {
        Estimated what;
        std::size_t editsSeen = 0;
    };
    struct Edit {
        std::int64_t place = 0;
        std::int64_t count = 0;
    };
    void apply(Slice slice, const Take& take) const;
    void apply(CellFlow flow, const Take& take) const;

    Estimating how_;
    std::deque<Slice> slices_;
    std::optional<Grouped> sections_; ///< go before all
    std::optional<Placed> places_;    ///< there is nothing else, then
    std::optional<CellFlow> flow_;    ///< goes before the slices
    std::vector<Edit> edits_;         ///< since estimating began
    Job job_;
};

/// What stands before where all items of a task's order are: those that it wants.
struct ArrangedParts {
    std::optional<LiveEstimates::Grouped> sections;
    std::optional<CellFlow> flow;
    std::optional<LiveEstimates::Placed> places;
};
/// Nothing when stopped. Threads: a worker's.
std::optional<ArrangedParts> partsOf(const EstimateTask& task, const std::stop_token& stop);

} // namespace scorrere::render
