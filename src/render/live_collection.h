// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/gesture/gesture_arena.h"
#include "engine/run/run.h"
#include "render/axis_map.h"
#include "render/item_view.h"
#include "render/jump_list.h"
#include "render/live_designs.h"
#include "render/live_detail.h"
#include "render/live_estimates.h"
#include "render/live_hands.h"
#include "render/live_order.h"
#include "render/live_records.h"
#include "render/live_spans.h"
#include "render/live_strips.h"
#include "render/marks_painting.h"
#include "render/steady_watch.h"
#include "render/text_cache.h"
#include "render/window_painting.h"

#include <QObject>
#include <QTimer>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <vector>

namespace scorrere::render {

/// What a collection has besides its records: which of them in which order, and edits of them.
struct InForce {
    RecordOrder order;
    std::shared_ptr<const EditedRecords> edited;
};

/// A collection that runs: a document's designs over records, in real item views. It joins the run with what
/// is shown (LiveRecords), how (LiveDesigns), how long it will be (LiveEstimates), and painting.
///
/// Ownership   Shares the records; owns the run, the views and the pictures' cache.
/// Threads     The interface thread. Estimating happens on a worker with designs of its own.
/// Errors      create: what compiling the document's designs against the records' fields gives, located.
class LiveCollection final : public QObject, private RunHost, private StripsHost {
    Q_OBJECT
public:
    /// `paged`: where records come from, page by page; `records` only say then what fields there are, and
    /// what placeholders are shaped like. Null: `records` are all there are.
    static Result<std::unique_ptr<LiveCollection>>
    create(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
           std::shared_ptr<const PictureSource> pictures, Estimating estimating,
           std::shared_ptr<PagedRecords> paged = nullptr, std::optional<InForce> inForce = std::nullopt);
    /// Whether create would succeed: every design of the document fits the records.
    static Outcome check(const CollectionDocument& document, const RecordTable& records);
    /// The document's designs with one state shown on demand: FirstLoad, FirstFailed and Empty instead of
    /// `records`, the others below them.
    static Result<std::unique_ptr<LiveCollection>> createStaged(const CollectionDocument& document,
                                                                std::shared_ptr<const RecordTable> records,
                                                                std::shared_ptr<const PictureSource> pictures,
                                                                TailState state);
    /// The same records in another window beside this one: with designs, views and extents of its own, but this
    /// one's pages. It must go before this one does, and be let go of by setBeside before that.
    Result<std::unique_ptr<LiveCollection>> makeBeside(const CollectionDocument& document,
                                                       std::shared_ptr<const PictureSource> pictures);
    /// Those made so: what becomes of pages is repeated in them. Pages are asked for what all of them show where
    /// they stand together, else for what `leading` shows, which is one of them or this one.
    void setBeside(std::vector<LiveCollection*> beside, bool areTogether);
    void setLeading(const LiveCollection* leading) { leading_ = leading; }
    ~LiveCollection() override;

    Run& run() { return *run_; }
    const Run& run() const { return *run_; }
    const CollectionDocument& document() const { return document_; }
    const RecordTable& records() const { return records_.table(); }
    PictureCache& pictures() { return *pictures_; }
    const TextCache& texts() const { return texts_; }
    double textScale() const { return designs_.textScale(); }
    /// Where on screen the window has what stands along and across.
    AxisMap axis() const;

    /// The window, in px. What shows keeps its place; other extents are estimated again.
    void setWindow(double width, double height);
    void setTextScale(double scale);
    /// Other values of the document's parameters. Items that show change their tones in place; only where a
    /// rule hides parts or chooses kinds are extents measured again.
    void setParameters(const Parameters& parameters);
    void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count);
    void eraseRecords(std::int64_t place, std::int64_t count);

    /// How changes are shown as movement.
    void setAnimation(const AnimationSpec& animation);
    /// Which of the records it shows, and in which order: a worker finds it, and it takes the place of the present one in
    /// a frame; the order in force ends the search for another. `forced`: in that way, whatever would be chosen; the same order may
    /// be made again so. Where a service gives the order of its pages, nothing happens.
    void setOrder(const OrderSpec& order, std::optional<ChangeWay> forced = std::nullopt);
    bool canOrder() const;
    bool isOrdering() const { return isOrderOnItsWay() || areEditsDue_; }
    /// A worker is at it, or was and the next frame takes it over.
    bool isOrderOnItsWay() const { return ordering_.isBusy() || landing_ != nullptr; }
    /// Its order and edits, for another collection of this source that is to begin with them; nothing where that has others.
    std::optional<InForce> inForceFor(const RecordTable& source, const CollectionDocument& document) const;
    /// What is to be otherwise than the source has it, by key; put in force in a frame, as an order
    /// is; those of a burst together. Of a source that is read whole. `orderFailed` tells when they cannot be, as when a design does not fit them.
    void setEdits(const RecordEdits& edits);
    /// Where records are drawn in the window, by their place among all.
    std::map<std::int64_t, Box> drawnBoxes() const;
    /// It takes the place of a collection of the same records in the same order, where they were drawn so: they are seen moving
    /// from there.
    void beginFrom(std::map<std::int64_t, Box> drawn);
    /// Those in force, and why one is not; null: none are.
    const EditedRecords* edited() const { return records_.edited().get(); }
    /// The records that they are over; all of them where there are none.
    const std::shared_ptr<const RecordTable>& source() const { return records_.source(); }
    /// Where a record of the table stands among all; -1: it is not shown.
    std::int64_t placeOf(std::int64_t record) const { return records_.order().placeOf(record); }
    /// How far the worker is, 0 to 1.
    double orderDone() const;
    /// Measures what each way to make the last change would have cost, off to the side; `orderChanged` tells.
    void compareOrders();
    bool isComparing() const { return comparing_.isBusy(); }
    double comparedShare() const { return *compared_; } ///< how far that is, 0 to 1
    void stopComparing();
    /// Null: it was not measured.
    const OrderCosts* orderCosts() const { return costs_ ? &*costs_ : nullptr; }
    /// What became of the last change, and how many there were.
    const OrderTold& orderTold() const { return told_; }
    std::int64_t ordersEver() const { return ordersEver_; }

    /// Goes on with a longer table that begins with the records of the present one: more came. What shows
    /// stays; the new ones are estimated when `last` says that no more will come.
    /// Errors: as create, when a field's type changed and a design does not fit it; nothing changed then.
    Outcome grow(std::shared_ptr<const RecordTable> records, bool last);

    /// Null when all records are here.
    PagedRecords* paged() { return records_.paged(); }
    const PagedRecords* paged() const { return records_.paged(); }
    /// Hands the pages over to the collection that comes after this one, which is not to be used any more.
    std::shared_ptr<PagedRecords> takePaged();
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
    void showWaiting();
    void setVariables(std::int64_t timeUs, const std::vector<std::pair<std::string, std::string>>& variables);
    /// How many records are known of, here or not; of a collection that is turned by hand, on all leaves.
    std::int64_t recordCount() const { return records_.allPlaces(); }
    /// What is turned by hand; not one: all stand in one strip.
    const Leaf& leaf() const { return records_.leaf(); }
    /// Opens a leaf, by its number from 0, at its start. Requires: leaf().isOne().
    void turnTo(std::int64_t number);
    /// Whether there may be a leaf behind the present one.
    bool mayTurnOn() const;
    /// Brings a record to the window's start, by its place among all.
    void showRecord(std::int64_t place);
    /// What the record at a place holds; null: its page is not here.
    std::optional<FillContext> contextAt(std::int64_t place) const;

    /// Null: there are none.
    const Sections* sections() const { return run_->arrangement().sections(); }
    /// What its header says; empty: it has none.
    QString sectionName(std::int64_t section) const;
    /// So many different headings they have; nothing: nobody counted them. Fewer than sections where one comes again.
    std::optional<std::int64_t> headings() const { return headings_; }
    /// As the jump list calls it.
    QString sectionShortName(std::int64_t section) const;
    /// The one at the window's start; -1: none is.
    std::int64_t sectionAtTop();
    /// Its header alone shows, or its records again.
    void setFolded(std::int64_t section, bool isFolded);
    void setAllFolded(bool areFolded);
    /// Brings a section's start to the window's.
    void showSection(std::int64_t section);
    /// Null: items are not placed by what their records say.
    const PlacedArrangement* placed() const { return placed_; }
    /// Null: it is no table.
    const TableArrangement* table() const { return table_; }
    /// Those within items.
    LiveStrips& strips() { return strips_; }
    const LiveStrips& strips() const { return strips_; }
    /// The strip within an item at a point of the window; null: none is.
    LiveStrips::Strip* stripAt(QPointF at) { return strips_.at(at, axis(), run_->pull()); }
    /// A worker is still to tell where all stand.
    bool arePlacesUntold() const;

    /// Does a frame of the run, and takes over what was estimated meanwhile.
    const FrameRecord& frame(std::int64_t timeUs);
    bool isIdle() const {
        const bool isPending = paged() != nullptr && !isBeside_ && paged()->isPending();
        return run_->isIdle() && strips_.isIdle() && !estimates_.hasSlices() && !isPending && !landing_ &&
               !(areEditsDue_ && !ordering_.isBusy()) && !hands_->isBusy() && !detail_->isBusy();
    }
    bool isEstimating() const { return estimates_.isBusy(); }

    /// Paints what shows, with the window's top left corner at the painter's origin, clipped by the caller.
    /// Books the time as the last frame's paint.
    void paintWindow(QPainter& painter, const ItemColours& colours, double density);
    const ItemView& view(ViewId id) const { return *views_[static_cast<std::size_t>(id.index)]; }
    struct Tap {
        std::string action;        ///< as the document names it
        std::int64_t record = -1;  ///< in the table of all records; -1: the header, the footer, or of a page
        std::int64_t place = -1;   ///< in the collection; -1: the header or footer
        std::string key;           ///< of a page's record
        bool isState = false;      ///< of the row at the end, or of what stands in the collection's stead
        std::int64_t section = -1; ///< of a section's header or footer
        std::string part;          ///< JSON Pointer
        std::int64_t entry = -1;   ///< of a strip within the item
    };
    /// What a tap at a point of the window means now, from the view that stands there to its record; nothing
    /// where no part takes taps, or no item is any more.
    std::optional<Tap> tapAt(double x, double y);
    /// The marks of a pager; nothing where there are none.
    std::optional<MarkRow> marks();
    /// Goes where a mark at a point of the window leads; false: there is none.
    bool tapMark(QPointF at, std::int64_t timeUs);
    /// The list of sections beside the window; nothing where there is none.
    std::optional<JumpList> jumpList();
    /// What hands do with its items, and what is so of them.
    LiveHands& hands() { return *hands_; }
    const LiveHands& hands() const { return *hands_; }
    void setHands(const HandsSpec& hands, const Actions& actions);
    /// A record at length.
    LiveDetail& detail() { return *detail_; }
    const LiveDetail& detail() const { return *detail_; }
    /// The window with what stands beside the strip in it, px.
    QSizeF whole() const { return whole_; }
    /// The action of the part at a point of the window; empty: there is none.
    std::string actionAt(QPointF at);
    /// A pointer in the window: on a record at length, else on the strip. A tap is told of by hands(), or by detail().
    void press(std::int64_t timeUs, QPointF at, LiveHands::Reach reach = LiveHands::Reach::Alone);
    void move(std::int64_t timeUs, QPointF at);
    void release(std::int64_t timeUs);
    /// Who has a drag of the window, and why.
    GestureArena& gestures() { return gestures_; }
    const GestureArena& gestures() const { return gestures_; }
    /// One pressed at a point of the window, drags to another, lets go: tells whether the jump list took it.
    bool pressJumpList(QPointF at);
    bool dragJumpList(QPointF at);
    bool releaseJumpList() { return std::exchange(isJumping_, false); }
    /// The same of an entry of a strip within an item.
    void paintEntry(QPainter& painter, const LiveStrips::Strip& strip, ViewId id, const ItemColours& colours,
                    double density);
    /// Paints one that is ready beyond the window at the painter's origin, however small: from the picture that the
    /// window will show of it.
    void paintReady(QPainter& painter, const Placement& placement, const ItemColours& colours,
                    double density);
    /// What people call the item at a position: its place among the records from 1, or that it is the header.
    QString nameAt(std::int64_t position) const;

Q_SIGNALS:
    /// So many records came at a place among all, or went from there where that is negative; 0: all may stand otherwise.
    void recordsCame(std::int64_t place, std::int64_t count);
    /// Something outside the run (a picture, an estimate) asks for another frame.
    void frameWanted();
    /// Pages brought fields that the designs are made anew for; windows beside this one must be, too.
    void fieldsTaken();
    /// There are others, or others are folded.
    void sectionsChanged();
    /// Items stand elsewhere.
    void placesChanged();
    /// Another order is looked for, or took its place.
    void orderChanged();
    /// It cannot be had; what ran goes on.
    void orderFailed(const scorrere::Error& error);

private:
    friend class LiveHands;
    friend class LiveDetail;
    LiveCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                   std::shared_ptr<const PictureSource> pictures, Compiled compiled, Estimating estimating,
                   std::shared_ptr<PagedRecords> paged, std::optional<TailState> staged,
                   std::optional<InForce> inForce = std::nullopt, bool isBeside = false);

    const Run& outerRun() const override { return *run_; }
    const ItemView& viewOf(ViewId id) const override { return view(id); }
    FillContext contextAtSlot(const Slot& slot) const override { return contextOf(slot); }
    void keyOf(const Slot& slot, std::string& out) const override;
    Shaping shapingWith(const FontSet& fonts) override { return {fonts, texts_, pictures_.get()}; }
    PictureCache& picturesOf() override { return *pictures_; }
    double densityPainted() const override { return density_; }
    double textScaleOfStrips() const override { return designs_.textScale(); }
    bool isOuterSideways() const override { return isSideways(); }

    int viewKind(const Slot& slot) override;
    bool isPlaceholder(const Slot& slot) override { return records_.isPlaceholder(slot); }
    void build(ViewId view, int kind) override;
    Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override;
    bool isSideways() const { return document_.arrangement.sideways.has_value(); }
    ItemRoom roomFor(const Given& given) const;
    void applyWindow();
    void carry(std::int64_t from, std::int64_t to, bool isSeenMoving);
    void takeStates();
    HandsScene handsScene() const;
    std::optional<Tap> tapWithin(QPointF at, const Placement& placement);
    void takeColumns();

    ItemView& viewAt(ViewId id) const { return *views_[static_cast<std::size_t>(id.index)]; }
    Arrangement::Estimates firstEstimates() const;
    void contentChanged();
    Outcome putDesigns(const RecordTable& records);
    void takeShape(const QString& address);

    FillContext contextOf(const Slot& slot) const;
    std::optional<std::string> headingAt(std::int64_t place) const;
    std::optional<std::string> headingOf(const Sections::Stand& section) const;
    bool areSectionsUntold() const;
    void takeStarts(std::int64_t place, std::int64_t count);
    using Folds = std::vector<std::pair<std::string, bool>>; ///< by heading
    Folds foldsBeside(std::int64_t from, std::int64_t to) const;
    void keepFolds(const Folds& folds, std::int64_t from, std::int64_t to);
    void takeSectionsAnew();
    void takeSections(const std::vector<std::int32_t>& counts);
    void takePlaces(std::int64_t place, std::int64_t count);
    void takePlacesAnew();
    void freePlaces();
    void takeTold(const LiveEstimates::Placed& all);
    void takeFlow(CellFlow flow);
    void setSpans(std::int64_t place, std::span<const std::uint8_t> spans);
    std::vector<std::uint8_t> spansFrom(std::int64_t place, std::int64_t count) const;
    void takeSpans(std::int64_t place, std::int64_t count);
    void takeSpansAnew(bool onlyForColumns);
    void beginInOrder(std::optional<InForce> inForce);
    ArrangementSpec arrangementToMake() const;
    Ends ends() const;
    std::shared_ptr<const OrderTask> orderTask(std::optional<ChangeWay> forced) const;
    void startOrder(std::optional<ChangeWay> forced);
    bool isInForce() const;
    void stayInOrder();
    void takeLanding(Result<OrderLanding> made);
    void animate(const OrderChange& change);
    void land();
    bool takeEdited(const OrderLanding& landing);
    void putDesignsAgain();
    void landValues(const OrderLanding& landing);
    void refill(std::int64_t record);
    void markOthers(const std::vector<std::int64_t>& records);
    void forgetKnown();
    std::shared_ptr<EstimateTask> estimateTask() const;
    LiveEstimates::Take takeEstimated();
    void estimateAll();
    void estimate(std::shared_ptr<const EstimateTask> task);

    void tickPages(std::int64_t timeUs);
    void applyPageEdits();
    void applyCommands(const std::vector<PagedRecords::LiveEdit>& commands,
                       const std::vector<std::int64_t>& arrived);
    SeenRange seenByAll() const;
    void putRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count);
    void applyEdit(const PlaceEdit& edit);
    void applyToLeaf(const PlaceEdit& edit);
    void fillLeaf();
    void takeTail();
    void takeFields();
    static std::int64_t placeBehind(const PlacedArrangement& placed, std::int64_t position);
    SeenRange seen() const;
    void estimatePages();

    CollectionDocument document_;
    GestureArena gestures_;
    LiveRecords records_;
    LiveDesigns designs_;
    LiveEstimates estimates_;
    TextCache texts_;
    std::vector<std::unique_ptr<ItemView>> views_;
    std::unique_ptr<PictureCache> pictures_;
    ShapeCache shapes_;
    SteadyWatch watch_;
    std::set<std::int64_t> toEstimate_; ///< pages that came and were not estimated yet
    std::int64_t nowRunMs_ = 0;
    QTimer wake_;
    const LiveSpans spans_;
    std::unique_ptr<Run> run_;
    GridArrangement* grid_ = nullptr;           ///< the run's, where items have spans
    SectionedArrangement* sectioned_ = nullptr; ///< the run's, where there are sections
    PlacedArrangement* placed_ = nullptr;       ///< the run's, where items are placed
    TableArrangement* table_ = nullptr;         ///< the run's, where it is a table
    LiveStrips strips_{document_, *this};
    QSizeF whole_;
    std::unique_ptr<LiveHands> hands_;
    std::unique_ptr<LiveDetail> detail_;
    std::vector<ItemState> viewStates_;     ///< by view: of the item it carries
    bool arePlacesTold_ = false;            ///< of all records
    bool areSectionsTold_ = false;          ///< of all records
    std::vector<JumpList::Name> jumpNames_; ///< as last asked for; made anew when sections are others
    std::int64_t jumpNamesFor_ = -1;        ///< room that there was for them; -1: sections are others
    JumpList::Kept jumpPicture_;
    std::optional<std::int64_t> headings_;
    bool isJumping_ = false;
    mutable std::unique_ptr<const RecordTable> sectionSays_; ///< what is filled at present reads it
    const bool isBeside_;                                    ///< another collection has its pages in its care
    std::vector<LiveCollection*> beside_;                    ///< that show the same pages
    const LiveCollection* leading_ = nullptr;                ///< null: this one
    bool areTogether_ = true;
    std::optional<std::int64_t> leafStaleFrom_; ///< records came or went before its end
    const bool staged_;
    Job ordering_;
    Job comparing_;
    RecordOrder orderBefore_; ///< the last change
    std::optional<OrderCosts> costs_;
    std::unique_ptr<OrderLanding> landing_; ///< in the next frame
    std::unique_ptr<OrderLanding> landed_;  ///< with this one
    std::optional<ChangeWay> forced_;
    bool areEditsDue_ = false; ///< with the next frame in which no order is on its way
    int orderEdits_ = 0;       ///< of records, or of how they are laid out, since an order was asked for
    std::shared_ptr<OrderFar> far_ = std::make_shared<OrderFar>();
    bool isOrderStale_ = false; ///< the order in force is not of all records, or by what they were before
    std::shared_ptr<std::atomic<double>> compared_ = std::make_shared<std::atomic<double>>(0);
    std::shared_ptr<OrdersKept> ordersKept_ = std::make_shared<OrdersKept>();
    std::shared_ptr<KnownExtents> known_ =
        std::make_shared<KnownExtents>(); ///< in this width, by these designs
    OrderTold told_;
    std::int64_t ordersEver_ = 0;
    double density_ = 0; ///< as last painted (0: not yet): what is asked for ahead will be painted at it
};

} // namespace scorrere::render
