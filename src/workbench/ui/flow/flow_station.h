// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/model/opener.h"
#include "workbench/model/script_player.h"
#include "workbench/ui/flow/behaviour.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QSplitter>
#include <QTimer>
#include <QToolButton>
#include <QVariant>
#include <QWidget>
#include <functional>
#include <memory>
#include <optional>

namespace scorrere::workbench {

class Cutaway;
class FramesInstrument;
class PagesBar;
class ParameterRow;
class QueryFields;
class RequestsInstrument;
class StripMap;
class ViewsInstrument;

/// What reading in pages needs from outside.
struct WireNeeds {
    std::function<Result<std::string>()> demoAddress;
    std::string diskFile; ///< where pages are kept from run to run; empty: nowhere
};

/// The station where the collection runs: strip map, cutaway, and the instruments on what it does.
class FlowStation : public QWidget, private ScriptTarget {
    Q_OBJECT
public:
    FlowStation(Look& look, QWidget* parent = nullptr);
    ~FlowStation() override;

    void setWireNeeds(WireNeeds needs) { needs_ = std::move(needs); }
    /// Headless runs: how long an answer takes on the run's clock, ms. See PagedRecords::setSteady.
    void setSteadyAnswers(std::int64_t latencyMs) { steadyMs_ = latencyMs; }
    /// Runs another collection. On an error the one before goes on running. A service is read in pages while
    /// this station is seen; where everything is estimated at once, with steady answers.
    /// `keepPages`: it is the same source as before, with another design; its pages stay.
    Outcome show(const Opened& opened, render::Estimating estimating, bool keepPages = false);
    render::Weather weather() const { return weather_->get(); }
    void setWeather(const render::Weather& weather);
    /// Shows one state of the collection on demand, or how it runs.
    void stage(std::optional<TailState> state);
    /// Asks with other variables: what shows stays until the first page of the new query is here.
    void setVariables(const std::vector<std::pair<std::string, std::string>>& variables);
    std::optional<TailState> staged() const { return stagedState_; }
    /// Null before anything was shown.
    render::LiveCollection* collection() { return live_.get(); }
    render::FrameDriver& driver() { return driver_; }
    ScriptTarget& scriptTarget() { return *this; }
    Behaviour behaviour() const { return behaviour_; }
    void setBehaviour(const Behaviour& behaviour);
    double frameBudgetMs() const;
    /// Other values of the parameters the running collection has.
    void setParameters(const Parameters& parameters);
    QSplitter& splitter() { return *splitter_; }
    Cutaway& cutaway() { return *cutaway_; }

public Q_SLOTS:
    void setPaused(bool paused);
    void stepFrame();
    void setSlow(bool slow);
    /// Asks for everything anew, as pulling does.
    void refresh();
    /// Tries again what failed.
    void retry();
    /// Puts what came live on top.
    void showHeld();

Q_SIGNALS:
    void behaviourChanged();
    /// A part that takes taps was tapped: the action's name, and the record or -1.
    void partTapped(const QString& action, qint64 record, const QString& key);
    /// How much is here, or how it comes, changed.
    void pagesChanged();
    void noticed(const scorrere::Error& error);
    /// Another value for a variable of the address: sort, filter, search text.
    void variableWanted(const QString& name, const QString& value);
    void parameterWanted(const QString& name, const QVariant& value);
    void pausedChanged(bool paused);
    void slowChanged(bool slow);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    std::unique_ptr<render::PagedRecords> makePages(const Opened& opened) const;
    render::LiveCollection* shownCollection() { return staged_ ? staged_.get() : live_.get(); }
    void showCollection();
    void tellPages();
    void tellInstruments();
    void takeTap(QPointF at);
    QWidget* makeCutawaySide();
    QWidget* makeInstrumentSide();
    QToolButton* makeButton(const QString& name, const QString& text, const QString& tip);
    void restyle();
    void makeFrame(std::int64_t timeUs);
    void applyWindow();
    void zoomTold();
    void tellParameters();

    Run& run() override { return live_->run(); }
    void turn() override;
    void resizeWindow(double width, double height) override;
    void scaleText(double scale) override;
    void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) override;
    void removeRecords(std::int64_t place, std::int64_t count) override;
    std::int64_t recordCount() override { return live_->records().size(); }

    Look& look_;
    render::FrameDriver driver_;
    WireNeeds needs_;
    std::shared_ptr<render::WeatherNow> weather_ = std::make_shared<render::WeatherNow>();
    std::unique_ptr<Opened> opened_; ///< as shown: for staging
    std::unique_ptr<render::LiveCollection> live_;
    std::unique_ptr<render::LiveCollection> staged_; ///< one state on demand; the real one waits meanwhile
    std::optional<TailState> stagedState_;
    Behaviour behaviour_;
    std::int64_t steadyMs_ = 100;
    QTimer instrumentsDue_;
    int instrumentsTold_ = 0;
    bool instrumentsAreNew_ = false; ///< they do not have what runs now
    StripMap* map_ = nullptr;
    Cutaway* cutaway_ = nullptr;
    FramesInstrument* frames_ = nullptr;
    ViewsInstrument* views_ = nullptr;
    RequestsInstrument* requests_ = nullptr;
    QToolButton* held_ = nullptr; ///< "12 new"
    PagesBar* pages_ = nullptr;
    QSplitter* splitter_ = nullptr;
    QToolButton* pause_ = nullptr;
    QToolButton* step_ = nullptr;
    QToolButton* slow_ = nullptr;
    QLabel* zoomLabel_ = nullptr;
    QueryFields* query_ = nullptr;  ///< of the address, on one line
    QWidget* parameters_ = nullptr; ///< sliders and fields, above the instruments
    QList<ParameterRow*> parameterRows_;
    QList<QLabel*> headings_;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
