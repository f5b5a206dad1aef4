// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/collection_document.h"
#include "engine/record/record_order.h"
#include "engine/run/run.h"
#include "render/item_view.h"
#include "render/job.h"
#include "render/paged_records.h"
#include "render/text_cache.h"

#include <QObject>
#include <QTimer>
#include <deque>
#include <memory>
#include <optional>
#include <set>
#include <vector>

namespace scorrere::render {

struct EstimateTask;

/// The machine's steady clock.
class SteadyWatch final : public Stopwatch {
public:
    std::int64_t nowNs() override;
};

/// Whether extents are estimated from content, and how.
enum class Estimating : std::uint8_t {
    Background, ///< by a worker, the neighbourhood of the window first; taken over a slice a frame
    AtOnce, ///< before the constructor returns: for headless runs, where the same inputs must give the same
            ///< frames
    Never,
};

/// A collection that runs: a document's designs over records, in real item views.
///
/// Ownership   Shares the records; owns the run, the views and the pictures' cache.
/// Threads     The interface thread. Estimating happens on a worker with designs of its own.
/// Errors      create: what compiling the document's designs against the records' fields gives, located.
class LiveCollection final : public QObject, private RunHost {
    Q_OBJECT
public:
    /// `paged`: where records come from, page by page; `records` only say then what fields there are, and
    /// what placeholders are shaped like. Null: `records` are all there are.
    static Result<std::unique_ptr<LiveCollection>> create(const CollectionDocument& document,
                                                          std::shared_ptr<const RecordTable> records,
                                                          std::shared_ptr<const PictureSource> pictures,
                                                          Estimating estimating,
                                                          std::unique_ptr<PagedRecords> paged = nullptr);
    /// Whether create would succeed: every design of the document fits the records.
    static Outcome check(const CollectionDocument& document, const RecordTable& records);
    /// The document's designs with one state shown on demand: FirstLoad, FirstFailed and Empty instead of
    /// `records`, the others below them.
    static Result<std::unique_ptr<LiveCollection>> createStaged(const CollectionDocument& document,
                                                                std::shared_ptr<const RecordTable> records,
                                                                std::shared_ptr<const PictureSource> pictures,
                                                                TailState state);
    ~LiveCollection() override;

    Run& run() { return *run_; }
    const Run& run() const { return *run_; }
    const CollectionDocument& document() const { return document_; }
    const RecordTable& records() const { return *records_; }
    PictureCache& pictures() { return *pictures_; }
    const TextCache& texts() const { return texts_; }
    double textScale() const { return textScale_; }

    /// The window, in px. What shows keeps its place; other extents are estimated again.
    void setWindow(double width, double height);
    void setTextScale(double scale);
    /// Other values of the document's parameters. Items that show change their tones in place; only where a
    /// rule hides parts or chooses kinds are extents measured again.
    void setParameters(const Parameters& parameters);
    void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count);
    void eraseRecords(std::int64_t place, std::int64_t count);

    /// Goes on with a longer table that begins with the records of the present one: more came. What shows
    /// stays; the new ones are estimated when `last` says that no more will come.
    /// Errors: as create, when a field's type changed and a design does not fit it; nothing changed then.
    Outcome grow(std::shared_ptr<const RecordTable> records, bool last);

    /// Null when all records are here.
    PagedRecords* paged() { return paged_.get(); }
    const PagedRecords* paged() const { return paged_.get(); }
    /// Hands the pages over to the collection that comes after this one, which is not to be used any more.
    std::unique_ptr<PagedRecords> takePaged();
    void setPaging(const PagingSpec& paging);
    /// The view that needs the records is there, or not any more: then nothing is asked for.
    /// Times as for frame().
    void startPages(std::int64_t timeUs);
    void stopPages();
    void refresh(std::int64_t timeUs);
    void retryPages(std::int64_t timeUs);
    /// Asks again for pictures that could not be had for a passing reason.
    void retryPictures();
    /// Puts what came live, and waits above the reader, on top and goes there.
    void showHeld();
    void setVariables(std::int64_t timeUs, const std::vector<std::pair<std::string, std::string>>& variables);
    /// How many records are known of, here or not.
    std::int64_t recordCount() const { return run_->list().recordCount(); }
    /// What the record at a place holds; null: its page is not here.
    std::optional<FillContext> contextAt(std::int64_t place);

    /// Does a frame of the run, and takes over what was estimated meanwhile.
    const FrameRecord& frame(std::int64_t timeUs);
    bool isIdle() const { return run_->isIdle() && slices_.empty() && (!paged_ || !paged_->isPending()); }
    bool isEstimating() const { return job_.isBusy() || !slices_.empty(); }

    /// Paints what shows, with the window's top left corner at the painter's origin, clipped by the caller.
    /// Books the time as the last frame's paint.
    void paintWindow(QPainter& painter, const ItemColours& colours, double density);
    const ItemView& view(ViewId id) const { return *views_[static_cast<std::size_t>(id.index)]; }
    struct Tap {
        std::string action;       ///< as the document names it
        std::int64_t record = -1; ///< in the table of all records; -1: the header, the footer, or of a page
        std::int64_t place = -1;  ///< in the collection; -1: the header or footer
        std::string key;          ///< of a page's record
        bool isState = false;     ///< of the row at the end, or of what stands in the collection's stead
        std::string part;         ///< JSON Pointer
    };
    /// What a tap at a point of the window means now, from the view that stands there to its record; nothing
    /// where no part takes taps, or no item is any more.
    std::optional<Tap> tapAt(double x, double y);
    /// Paints one view at the painter's origin, wherever its item stands.
    void paintView(QPainter& painter, ViewId id, const ItemColours& colours, double density);
    /// What people call the item at a position: its place among the records from 1, or that it is the header.
    QString nameAt(std::int64_t position) const;

Q_SIGNALS:
    /// Something outside the run (a picture, an estimate) asks for another frame.
    void frameWanted();
    /// What the pages are, or what there is to say of them, changed.
    void pagesChanged();

private:
    struct Design {
        ItemDesign design;
        FontSet fonts;
    };
    struct Slice {
        std::int64_t place = 0;
        std::vector<std::int32_t> extents;
        std::size_t editsSeen = 0;
    };
    struct Edit {
        std::int64_t place = 0;
        std::int64_t count = 0; ///< negative: erased
    };
    LiveCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                   std::shared_ptr<const PictureSource> pictures, std::vector<ItemDesign> designs,
                   KindChooser kinds, Estimating estimating, std::unique_ptr<PagedRecords> paged,
                   std::optional<TailState> staged);

    int viewKind(const Slot& slot) override;
    bool isPlaceholder(const Slot& slot) override;
    void build(ViewId view, int kind) override;
    Length fill(ViewId view, const Slot& slot, Length crossExtent, CostMeter& meter) override;

    void paintPull(QPainter& painter, const ItemColours& colours, double width, double pulled) const;
    void makeFonts();
    bool anyDesign(bool (ItemDesign::*asks)() const) const;
    void estimateAll();
    std::shared_ptr<EstimateTask> estimateTask() const;
    void startEstimating(std::shared_ptr<const EstimateTask> task);
    void noteEdit(const Edit& edit);
    void takeSlice();
    void applySlice(const Slice& slice);
    std::array<Length, ListArrangement::kKinds> firstEstimates();

    CollectionDocument document_;
    std::shared_ptr<const RecordTable> records_;
    RecordOrder order_;
    FillContext context(std::int64_t record) const;
    FillContext contextOf(const Slot& slot);
    FillContext sampleContext(std::int64_t place) const;
    std::size_t placeholderKind() const { return designs_.size() - 1 - kTailStates; }
    std::size_t stateKind(TailState state) const {
        return designs_.size() - kTailStates + static_cast<std::size_t>(state);
    }
    bool hasTail() const { return paged_ != nullptr || staged_; }
    bool isFailedAt(std::int64_t place);
    void tickPages(std::int64_t timeUs);
    void applyPageEdits();
    void takeTail();
    void takeFields();
    SeenRange seen() const;
    void estimatePages();
    Outcome putDesigns(const RecordTable& records);
    void takeShape(const QString& address);

    std::vector<std::unique_ptr<Design>> designs_; ///< record, header, footer, and the document's kinds
    KindChooser kinds_;
    std::int64_t nowMs_ = 0;
    TextCache texts_;
    std::vector<std::unique_ptr<ItemView>> views_;
    std::unique_ptr<PictureCache> pictures_;
    ShapeCache shapes_;
    SteadyWatch watch_;
    std::unique_ptr<PagedRecords> paged_;
    std::optional<TailState> staged_;
    std::shared_ptr<const RecordTable> stateRecord_; ///< what a state's texts can say, as one record
    TailState tail_ = TailState::FirstLoad;
    std::string tailSays_;
    std::set<std::int64_t> toEstimate_; ///< pages that came and were not estimated yet
    std::int64_t nowRunMs_ = 0;
    QTimer wake_;
    std::unique_ptr<Run> run_;
    double textScale_ = 1;
    double density_ = 0; ///< as last painted (0: not yet): what is asked for ahead will be painted at it
    Estimating estimating_;
    std::deque<Slice> slices_;
    std::vector<Edit> edits_; ///< since estimating began: slices that were computed before them are shifted
    Job job_;
};

} // namespace scorrere::render
