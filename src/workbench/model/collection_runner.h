// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/model/behaviour.h"
#include "workbench/model/devices.h"
#include "workbench/model/hand_actions.h"
#include "workbench/model/notice.h"
#include "workbench/model/script_player.h"
#include "workbench/model/workspace.h"

#include <QObject>
#include <memory>
#include <optional>

namespace scorrere::workbench {

/// Runs what is open, as the document says: the collection itself, or one of its states on demand. It follows
/// the workspace; whoever shows it is told when to let go of what was, and what is there instead.
///
/// Ownership   Owns the collections, their clock and the weather. Refers to the workspace.
/// Threads     The interface thread.
class CollectionRunner final : public QObject, private ScriptTarget, private PageRunner {
    Q_OBJECT
public:
    /// `pagesFile`: where pages are kept from run to run; empty: nowhere.
    CollectionRunner(Workspace& workspace, std::string pagesFile);
    ~CollectionRunner() override;

    /// Everything is estimated at once, time is virtual, and an answer takes so long on the run's clock, ms.
    /// See PagedRecords::setSteady. Before anything is open.
    void setHeadless(std::int64_t latencyMs);
    bool isHeadless() const { return estimating_ == render::Estimating::AtOnce; }
    /// Somebody sees what it brings: only then a source is asked, and another design taken over.
    void setSeen(bool seen);

    /// Null before anything was shown.
    render::LiveCollection* collection() const { return live_.get(); }
    /// The state on demand while one is, else the collection.
    render::LiveCollection* shown() const { return staged_ ? staged_.get() : live_.get(); }
    /// All windows on it: the first, which collection() is, and those beside it.
    std::vector<render::LiveCollection*> windows() const;
    /// What the document says of those beside the first, in their order; some of its windows may not have come to be.
    const std::vector<BesideSpec>& besideSpecs() const { return besideSpecs_; }
    /// The one that is looked at: it leads where all scroll together, and instruments tell of it.
    int lead() const { return lead_; }
    void setLead(int window);
    render::LiveCollection* looked() const {
        return staged_ || lead_ == 0 ? shown() : besides_[static_cast<std::size_t>(lead_ - 1)].get();
    }
    /// Null: all records are here.
    render::PagedRecords* paged() const { return live_ == nullptr ? nullptr : live_->paged(); }
    std::vector<RecordAt> brought(std::size_t most) const override;
    /// Where what runs has its pictures from.
    std::shared_ptr<const render::PictureSource> makePictures() const;
    render::FrameDriver& driver() { return driver_; }
    /// Does what actions of items say.
    HandActions& hands() { return hands_; }
    /// What a tap at a point of a window means: a mark of a pager, an action of a part, else what hands do with the item.
    void takeTap(render::LiveCollection& live, QPointF at, render::LiveHands::Reach reach);
    const Device& device() const { return deviceNamed(behaviour_.window.device); }
    ScriptTarget& scriptTarget() { return *this; }
    /// All records of the source are here, and so its edits can be in force.
    bool isWhole() const { return isWhole_; }

    render::Weather weather() const { return weather_->get(); }
    void setWeather(const render::Weather& weather);
    /// Shows one state of the collection, or how it runs.
    void stage(std::optional<TailState> state);
    std::optional<TailState> staged() const { return stagedState_; }
    /// Asks for everything anew, as pulling does.
    void refresh();
    /// Tries again what failed.
    void retry();
    /// Puts what came by the stream, and waits, on top.
    void showWaiting();
    /// By its place among all.
    void showRecord(std::int64_t place);
    void showSection(std::int64_t section);
    /// Folds a section that is open, or opens it; in all windows.
    void turnFold(std::int64_t section);
    void foldAll(bool folded);
    /// Opens a leaf of what is turned by hand, by its number from 0.
    void turnTo(std::int64_t leaf);
    void turn() override;
    /// Changes show at once whatever the document says: somebody, or their desktop, wants less motion.
    void setLessMotion(bool less);
    /// Makes the frame of this moment, whatever the clock does.
    void makeFrameNow() { makeFrame(driver_.nowUs()); }

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);
    /// shown() is about to go.
    void goes();
    /// shown() is another; `isOther`: collection(), too.
    void came(bool isOther);
    void windowChanged();
    /// The windows beside the first are others, or another is looked at.
    void windowsChanged();
    void framed();
    /// Another order is looked for, or took the place of the one before.
    void orderChanged();
    /// There are others, or others are folded; or items are placed elsewhere.
    void sectionsChanged();
    void parametersTaken(const scorrere::Parameters& parameters);
    void queryTaken();
    void weatherChanged();
    /// A part was tapped whose action is the app's.
    void tapTold(const scorrere::render::LiveCollection::Tap& tap);
    /// Hands did something; others are selected; whether an item that was looked for is there.
    void handled();
    void selectionChanged();
    void titleFound(bool isThere);
    void searchChanged();

private:
    void takeChanged(Sections what);
    void takeDesign();
    void takeGrowth(bool last);
    void showDesign();
    Outcome show(bool keepPages);
    std::unique_ptr<render::PagedRecords> makePages() const;
    std::shared_ptr<const RecordTable> recordsToRun() const;
    void drop();
    void applyBehaviour();
    void applyOrder();
    void applyEdits();
    void applyMotion();
    void applyWindow();
    void makeBesides();
    void changeBesides();
    void dropBesides();
    void handle(render::LiveCollection& live);
    void follow(render::LiveCollection& window);
    void makeFrame(std::int64_t timeUs);

    std::optional<Pages> pages() const override;
    std::vector<Field> fields() const override;
    bool takesQuery() override;

    Run& run() override { return live_->run(); }
    void resizeWindow(double width, double height) override;
    void scaleText(double scale) override;
    void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) override;
    void removeRecords(std::int64_t place, std::int64_t count) override;
    void orderRecords(const OrderSpec& order) override;
    void editRecord(const RecordEdit& edit) override;
    render::LiveCollection* touched() override { return live_.get(); }
    bool isIdle() override {
        return live_->run().isIdle() && !live_->isOrdering() && !live_->hands().isBusy() &&
               !live_->detail().isBusy();
    }
    std::int64_t recordCount() override { return live_->records().size(); }

    Workspace& workspace_;
    HandActions hands_;
    std::string pagesFile_;
    render::FrameDriver driver_;
    std::shared_ptr<render::WeatherNow> weather_ = std::make_shared<render::WeatherNow>();
    std::unique_ptr<render::LiveCollection> live_;
    std::vector<std::unique_ptr<render::LiveCollection>>
        besides_; ///< share what live_ has: they go before it
    std::vector<BesideSpec> besideSpecs_;
    int lead_ = 0;
    HoldPoint led_; ///< where the others were led to, and on which leaf
    std::int64_t ledLeaf_ = 0;
    std::unique_ptr<render::LiveCollection> staged_; ///< one state on demand; the real one waits meanwhile
    std::optional<TailState> stagedState_;
    Behaviour behaviour_; ///< what `live_` was told of the document
    std::string design_;
    std::string locale_;
    ArrangementSpec arrangement_;
    std::optional<std::int64_t> asIf_;
    bool isStale_ = false; ///< it runs an earlier design
    bool isLessMotion_ = false;
    bool isWhole_ = false; ///< all records of the source are here
    bool isSeen_ = false;
    render::Estimating estimating_ = render::Estimating::Background;
    std::int64_t steadyMs_ = 0; ///< how long an answer takes, headless
};

} // namespace scorrere::workbench
