// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/hands_spec.h"
#include "engine/edit/edited_records.h"
#include "engine/gesture/gesture_log.h"
#include "engine/gesture/item_states.h"
#include "engine/gesture/swipe_motion.h"
#include "engine/run/run.h"
#include "render/job.h"

#include <QObject>
#include <QPointF>
#include <QRectF>
#include <atomic>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::render {

class LiveCollection;

/// An item as hands mean it: what is known of it while it lasts is its key.
struct HandItem {
    std::string key; ///< empty: nothing names it
    std::int64_t place = -1;
    std::int64_t record = -1; ///< in the table that runs; -1: of a page
    std::int64_t position = -1;
    ViewId view;
    Box box; ///< where it is drawn, from the window's start
    bool isRecord = false;
    Selectable selectable() const { return {key, record}; }
};

/// What hands do with the items of a collection that runs: who was meant is found when it happens, from the view to the record, and
/// what is so of an item stays with its key.
///
/// Complexity  A pointer event and a frame: O(views alive).
/// Ownership   Refers to the collection, whose part it is.
/// Threads     The interface thread.
/// Errors      None: "no item any more" is a normal answer.
class LiveHands : public QObject {
    Q_OBJECT
public:
    enum class Reach : std::uint8_t { Alone, More, Range }; ///< a tap as it is; with Ctrl; with Shift

    explicit LiveHands(LiveCollection& live);

    void setSpec(const HandsSpec& spec, const Actions& actions);
    /// What was so of items, and which are selected, in a collection of the same source that this one takes the place of.
    /// Tells whether a range of them was given up: records have other numbers in the new one.
    bool goOnFrom(const LiveHands& before);
    const HandsSpec& spec() const { return spec_; }
    const Actions& actions() const { return actions_; }

    // A pointer in the window, px. Times as for LiveCollection::frame().
    void press(std::int64_t timeUs, QPointF at, Reach reach = Reach::Alone);
    void move(std::int64_t timeUs, QPointF at);
    void release(std::int64_t timeUs);
    /// Nothing comes of it: what was lifted is where it was.
    void cancel(std::int64_t timeUs);
    /// Whether a design says something else of an item that a pointer is over.
    bool wantsHover() const;
    /// A pointer is over the window, or not any more.
    void hover(std::optional<QPointF> at);

    // Keys.
    enum class Step : std::uint8_t { Back, On, LineBack, LineOn, First, Last, SectionBack, SectionOn };
    /// To another item, which comes into the window; the first that shows where none has it yet. False: there is none that way.
    bool focusStep(Step step, std::int64_t timeUs);
    /// To the item at a place; -1: to none.
    void focusOn(std::int64_t place, std::int64_t timeUs);
    void focusNothing() { focusOn(-1, 0); }
    /// To the item of a key, wherever it stands: a worker finds it where all records are here. `titleFound` tells.
    void goToKey(const std::string& key, std::int64_t timeUs);
    /// The one that has it, if it is still there.
    std::optional<HandItem> focused();
    void tapFocused(std::int64_t timeUs);
    void selectFocused(Reach reach);
    void select(const HandItem& item, Reach reach);
    /// Goes to the next item behind the focused one whose title begins so, without case and accents, around the end: found by
    /// a worker where all records are here, else among those that are. False: there is none.
    /// `isGoingOn`: what was typed is longer now, and the focused one may be it still.
    bool focusTitled(const QString& begins, std::int64_t timeUs, bool isGoingOn = false);

    /// What a tap on an item does where none of its parts has an action of its own.
    void tapItem(QPointF at, Reach reach);

    Selection& selection() { return selection_; }
    const Selection& selection() const { return selection_; }
    /// Somebody did something with it.
    void selectionDone();
    /// All that show, in the order there is.
    void selectAll();
    /// So many records are.
    std::int64_t selectedCount() const;

    ItemState stateOf(const HandItem& item) const;
    /// The same of a record of the strip; of anything else nothing is so.
    ItemState stateOf(const Slot& slot) const;
    const ItemStates& states() const { return states_; }
    HandItem itemOf(std::int64_t position);
    std::optional<HandItem> itemAt(QPointF at);
    /// The middle of the item of a key where it shows, or of its handle; nothing: it does not show, or has none.
    std::optional<QPointF> pointOf(const std::string& key, bool isHandle);
    /// Its key, by which edits name it.
    std::string keyAt(std::int64_t place) const;
    /// Where the record with a key stands among those in the strip; -1: it is not there.
    std::int64_t placeOfKey(const std::string& key, std::int64_t record);

    /// Before the run's frame: time passed.
    void beforeFrame(std::int64_t timeUs);
    /// Behind it: views may carry other items.
    void afterFrame(std::int64_t timeUs);
    /// Another frame may differ by time alone.
    bool isBusy() const;
    /// An item, or a range's other end, is looked for: how far, 0 to 1, below 0 where nobody knows.
    bool isSearching() const { return titles_.isBusy() || sweep_; }
    double searchedShare() const;
    void stopSearching();

    struct Aside {
        std::string key;
        Length offset;
        std::vector<std::string> actions; ///< that show, from the outer edge
        bool atStart = false;
        bool isPulled = false; ///< let go now the first is done
    };
    /// The item that is swiped aside; nothing: none is.
    std::optional<Aside> aside() const;
    struct Lifted {
        std::string key;
        ViewId view;
        std::int64_t place = -1;
        std::int64_t from = -1; ///< where it was taken up
        Box box;                ///< where it is carried, from the window's start
        std::int64_t record = -1;
        bool isUnderOther = false;                                  ///< it is carried over another section
        std::string heading;                                        ///< of that
        std::vector<std::pair<std::string, std::string>> takesOver; ///< fields, and their values there, JSON
    };
    const std::optional<Lifted>& lifted() const { return lifted_; }
    /// It, or one that was set down and is still on its way to where it stands: as of the last frame.
    const std::optional<Lifted>& drawnOver() const { return painted_; }
    /// Under which heading the record of a place is carried; null: under its own.
    const std::string* headingOver(std::int64_t place) const {
        return lifted_ && lifted_->isUnderOther && lifted_->place == place ? &lifted_->heading : nullptr;
    }
    /// Why an item cannot be lifted here; empty: it can.
    QString liftProblem() const;

    /// Something is said at the item of a key, for a while.
    void sayOf(const std::string& key, const QString& text, std::int64_t timeUs);
    struct Said {
        std::string key;
        QString text;
    };
    const std::optional<Said>& said() const { return said_; }

    GestureLog& log() { return log_; }
    const GestureLog& log() const { return log_; }
    /// Where the pointer is, pressed.
    const std::optional<QPointF>& finger() const { return finger_; }

Q_SIGNALS:
    /// A tap that no open item took.
    void tapped(QPointF at, scorrere::render::LiveHands::Reach reach);
    /// An action of an item is wanted.
    void acted(const QString& action, const scorrere::render::HandItem& item);
    void selectionChanged();
    void focusChanged();
    /// What focusTitled or goToKey looked for.
    void titleFound(bool isThere);
    /// A search began, or is over.
    void searchChanged();
    /// A record stands elsewhere now, between the two that stand beside it; of an order as the source gives it. `takesOver`: what
    /// it says otherwise in the section where it stands now: fields, and values as JSON.
    void setDownAt(const scorrere::render::HandItem& item,
                   const std::vector<std::pair<std::string, std::string>>& takesOver);
    void logged();
    /// Somebody wanted to lift an item, which cannot be done here.
    void liftRefused(const QString& why);

private:
    void obey();
    void obeyAside(const GestureCommand& command);
    void beginAside(const HandItem& item);
    void letGoAside(std::int64_t timeUs);
    void actOnAside(const std::vector<std::string>& actions, std::size_t which);
    void obeyLift(const GestureCommand& command);
    std::int64_t placeBelow();
    bool maySetDownAt(std::int64_t place) const;
    void takeHeadingOf(std::int64_t place);
    void carryTo(std::int64_t place);
    std::optional<Lifted> carried(std::int64_t timeUs);
    void tapOn(const HandItem& item, Reach reach);
    void takeFound();
    void sweepOn();
    void takeHeld(const GestureFound& found);
    bool takeOpenTap(QPointF at, std::int64_t timeUs);
    void give(ItemFlag flag, const std::string& key);
    void follow();
    void carry();
    void closeAside(std::int64_t timeUs);
    void beginLift(const HandItem& item, QPointF at);
    void endLift(bool isKept, std::int64_t timeUs);
    void note(GestureEntry entry);
    std::vector<GestureTaker> takers();
    void bringIn(std::int64_t position, std::int64_t timeUs);
    void keepFocusedView();
    std::int64_t recordBeside(std::int64_t position, bool on) const;
    std::int64_t recordInLine(std::int64_t position, bool on) const;
    void see(std::int64_t timeUs);
    const std::optional<RecordKeys>& keys() const;

    LiveCollection& live_;
    HandsSpec spec_;
    Actions actions_;
    ItemStates states_;
    Selection selection_;
    SwipeMotion swipe_;
    GestureLog log_;
    std::optional<HandItem> target_; ///< what is pressed
    Reach reach_ = Reach::Alone;
    std::string asideKey_;
    std::int64_t asideRecord_ = -1;
    std::optional<Length> asideAt_; ///< the strip's offset when it was opened
    std::optional<Lifted> lifted_;
    std::optional<Lifted> painted_;
    struct Settling {
        std::string key;
        std::int64_t record = -1;
        Box box;
        std::int64_t fromUs = 0;
    };
    std::optional<Settling> settling_; ///< set down
    QPointF grip_;                     ///< along and across, from the lifted item's start to the pointer
    std::optional<QPointF> finger_;
    std::int64_t movedUs_ = 0;
    std::int64_t focusRecord_ = -1;
    std::int64_t anchorRecord_ = -1;
    ViewId focusView_;
    Job titles_;
    /// Places that are looked at, some between two frames: records of pages are nobody's but this thread's.
    struct Sweep {
        std::int64_t at = 0;
        std::int64_t left = 0;
        std::function<bool(std::int64_t place)> visit; ///< false: it is done
        std::function<void()> end;                     ///< all were visited
        std::int64_t all = left;
    };
    void beginSweep(Sweep sweep);
    std::optional<Sweep> sweep_;
    std::shared_ptr<std::atomic<double>> titlesLooked_ = std::make_shared<std::atomic<double>>(-1);
    double edgeSpeed_ = 0; ///< px/s, while an item is carried
    double edgeRest_ = 0;
    struct OnScreen {
        ViewId view;
        std::uint32_t turn = 0;
        std::int64_t sinceUs = 0;
        bool isSeen = false;
        bool shows = false;
    };
    std::vector<OnScreen> onScreen_;
    std::optional<Said> said_;
    std::int64_t saidUs_ = 0;
    bool isSeeing_ = false;
    mutable std::optional<RecordKeys> keys_;
};

} // namespace scorrere::render
