// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/collection_document.h"
#include "engine/run/run.h"
#include "render/axis_map.h"
#include "render/item_view.h"
#include "render/live_designs.h"
#include "render/steady_watch.h"
#include "render/window_painting.h"

#include <QPointF>
#include <QRectF>
#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace scorrere::render {

/// What strips within items need of the collection they stand in.
class StripsHost {
public:
    virtual ~StripsHost() = default;
    virtual const Run& outerRun() const = 0;
    virtual const ItemView& viewOf(ViewId id) const = 0;
    virtual FillContext contextAtSlot(const Slot& slot) const = 0;
    /// What names an item whatever stands before it; empties and fills `out`.
    virtual void keyOf(const Slot& slot, std::string& out) const = 0;
    virtual Shaping shapingWith(const FontSet& fonts) = 0;
    virtual PictureCache& picturesOf() = 0;
    virtual double densityPainted() const = 0; ///< 0: not yet
    virtual double textScaleOfStrips() const = 0;
    virtual bool isOuterSideways() const = 0;
};

/// The strips within the items of a collection: one that shows has a run of its own, one that goes out of sight
/// leaves its views to the next, and where it was read is kept under its item's key.
///
/// Complexity  frame: O(views alive + strips that show), and the frames of those that move. Memory is that of the
///             strips that show at once, and of kMostKept places.
/// Ownership   Refers to the document and the host. Views refer to the designs: clear() before these go.
/// Threads     The interface thread.
class LiveStrips {
public:
    static constexpr std::size_t kMostKept = 10'000;

    LiveStrips(const CollectionDocument& document, StripsHost& host) : document_(document), host_(host) {}

    /// One that shows.
    class Strip final : private RunHost {
    public:
        Strip(LiveStrips& all, int kind);

        Run& run() { return *run_; }
        const Run& run() const { return *run_; }
        ViewId outer() const { return outer_; }
        int part() const { return part_; }
        /// The item's place in the strip around it.
        std::int64_t place() const { return slot_.place; }
        const std::string& key() const { return key_; }
        std::int64_t entries() const { return run_->arrangement().recordCount(); }
        AxisMap axis() const;
        const ArrangementSpec& arrangement() const;
        const ItemView& view(ViewId id) const { return *all_.views_[static_cast<std::size_t>(id.index)]; }

    private:
        friend class LiveStrips;
        int viewKind(const Slot&) override { return kind_; }
        void build(ViewId view, int kind) override;
        Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override;

        LiveStrips& all_;
        const int kind_;
        std::unique_ptr<Run> run_;
        ViewId outer_;
        int part_ = -1;
        Slot slot_;
        std::string key_;
        std::string json_;
        EntryList entries_;
        std::optional<FillContext> context_;
        bool isSeen_ = false;
        bool moved_ = false;   ///< in the last frame
        bool isStale_ = false; ///< its item was filled since
    };

    /// Nothing any more: designs or fonts are others. Where strips were read stays known.
    void clear();
    /// After a frame of the run around them: those that show get theirs.
    void frame(std::int64_t timeUs);
    bool isIdle() const;
    bool areAny() const { return !showing_.empty(); }
    const std::vector<Strip*>& showing() const { return showing_; }
    /// What values say may differ: all are filled again.
    void refill();

    /// An item was filled, perhaps with the same record: what its strips show may say something else.
    void refilled(ViewId outer);
    /// What an item shows differs: what was kept of it with its strips is out of date.
    void touch(ViewId outer);
    /// What paints them over items, or items whole, kept as one picture from the second time on while nothing in
    /// them moves or is on its way.
    class Painter final : public WithinItems {
    public:
        Painter(LiveStrips& strips, const ItemView::PaintNeeds& needs) : strips_(strips), needs_(needs) {}
        const QImage* whole(const Placement& placement, const QSizeF& size, int& atOnce) override;
        void paint(QPainter& painter, const Placement& placement, const QPointF& corner) override;

    private:
        LiveStrips& strips_;
        const ItemView::PaintNeeds needs_;
    };
    /// The one at a point of the window; null: none is.
    Strip* at(QPointF point, const AxisMap& outer, Length pull);
    /// The one that a drag began on; null: on none, or it went out of sight.
    void press(Strip* strip);
    Strip* pressed() const;
    /// The first in the window that keys may scroll to the side; null: none.
    Strip* firstSideways() const;
    /// Where one stands in the window.
    QRectF boxOf(const Strip& strip, const AxisMap& outer, Length pull) const;
    /// Of all kinds, alive or waiting.
    std::size_t viewsBuilt() const { return shared_->all.size(); }
    std::size_t viewsWaiting() const { return shared_->waiting.size(); }

private:
    /// One that a design has: what its entries look like, and their fonts.
    struct Kind {
        std::shared_ptr<const ItemDesign> entry;
        std::unique_ptr<FontSet> fonts;
        const ArrangementSpec* arrangement = nullptr;
    };

    /// An item with its strips.
    struct Whole {
        enum class State : std::uint8_t { Nothing, AskedOnce, Kept };
        State state = State::Nothing;
        QImage image;
        double density = 0;
        QRgb paper = 0;
        int awaited = 0; ///< so many pictures were on their way
    };
    bool isStill(ViewId outer) const; ///< nothing in it moves
    int picturesAwaited(ViewId outer, PictureCache& pictures, double density) const;
    void paintAll(QPainter& painter, const Placement& placement, const QPointF& corner,
                  const ItemView::PaintNeeds& needs, bool keepsPictures);
    int kindOf(const ItemDesign& design, const ItemDesign::Strip& strip);
    Strip& bind(const Placement& placement, const ItemDesign::Strip& strip);
    Strip* bound(ViewId outer, int part);
    void park(Strip& strip);
    void keep(Strip& strip);

    const CollectionDocument& document_;
    StripsHost& host_;
    SteadyWatch watch_;
    std::vector<Kind> kinds_;
    std::shared_ptr<ItemViews> shared_ = std::make_shared<ItemViews>();
    std::vector<std::unique_ptr<ItemView>> views_; ///< by their number in `shared_`
    std::vector<std::unique_ptr<Strip>> strips_;
    std::vector<Strip*> showing_;
    std::vector<Strip*> parked_;
    std::vector<Whole> wholes_;                       ///< by view of the run around them
    std::unordered_map<std::string, HoldPoint> kept_; ///< by the key, and the part's pointer
    std::deque<std::string> keptOrder_;
    std::string keyRead_;
    Strip* pressed_ = nullptr;
    std::string pressedKey_;
};

/// What an item is laid out in: upright its width is given, sideways its height. `window`: along the strip.
ItemRoom roomFor(const ArrangementSpec& spec, const Given& given, Length window);

} // namespace scorrere::render
