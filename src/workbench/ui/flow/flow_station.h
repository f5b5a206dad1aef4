// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/model/script_player.h"
#include "workbench/ui/flow/behaviour.h"
#include "workbench/ui/look/station.h"

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
class FlowSentence;
class InstrumentSide;
class PictureNotices;
class StripMap;

/// The station where the collection runs: strip map, cutaway, and the instruments on what it does.
class FlowStation : public Station, private ScriptTarget, private PageRunner {
    Q_OBJECT
public:
    explicit FlowStation(const StationNeeds& needs, QWidget* parent = nullptr);
    ~FlowStation() override;

    QString id() const override { return QStringLiteral("flow"); }
    QString title() const override { return tr("Flow"); }
    QWidget* sentence() override;
    void entered() override;
    void reveal(const Target& target) override;
    std::vector<Offer> offers(const QString& typed) override;
    void save(QSettings& settings) const override;
    void restore(QSettings& settings) override;

    /// Headless runs: everything is estimated at once, time is virtual, and an answer takes so long on the
    /// run's clock, ms. See PagedRecords::setSteady. Before anything is open.
    void setHeadless(std::int64_t latencyMs);
    render::Weather weather() const { return weather_->get(); }
    void setWeather(const render::Weather& weather);
    /// Shows one state of the collection on demand, or how it runs.
    void stage(std::optional<TailState> state);
    std::optional<TailState> staged() const { return stagedState_; }
    /// Null before anything was shown.
    render::LiveCollection* collection() { return live_.get(); }
    render::FrameDriver& driver() { return driver_; }
    ScriptTarget& scriptTarget() { return *this; }
    double frameBudgetMs() const;
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

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeActions();
    void connectSentence();
    void takeReplaced(bool again);
    void takeChanged(Sections what);
    void takeDesign();
    Outcome show(bool keepPages);
    void showDesign();
    void applyBehaviour();
    void tellSentence();
    void tellTap(const QString& action, qint64 record, const QString& pageKey);
    void wantVariable(const QString& name, const QString& value);
    void wantParameter(const QString& name, const QVariant& value);
    std::unique_ptr<render::PagedRecords> makePages() const;
    render::LiveCollection* shownCollection() { return staged_ ? staged_.get() : live_.get(); }
    void showCollection();
    void tellPages();
    void tellInstruments();
    void takeTap(QPointF at);
    QWidget* makeCutawaySide();
    QWidget* makeInstrumentSide();
    void shareRoom();
    void restyle();
    void makeFrame(std::int64_t timeUs);
    void applyWindow();
    void zoomTold();
    void tellParameters();
    void setParameters(const Parameters& parameters);

    std::optional<Pages> pages() const override;
    std::vector<RecordAt> brought(std::size_t most) const override;
    std::vector<Field> fields() const override;
    bool takesQuery() override;

    Run& run() override { return live_->run(); }
    void turn() override;
    void resizeWindow(double width, double height) override;
    void scaleText(double scale) override;
    void insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) override;
    void removeRecords(std::int64_t place, std::int64_t count) override;
    std::int64_t recordCount() override { return live_->records().size(); }

    render::FrameDriver driver_;
    std::string pagesFile_; ///< where pages are kept from run to run; empty: nowhere
    std::shared_ptr<render::WeatherNow> weather_ = std::make_shared<render::WeatherNow>();
    std::unique_ptr<render::LiveCollection> live_;
    std::unique_ptr<render::LiveCollection> staged_; ///< one state on demand; the real one waits meanwhile
    std::optional<TailState> stagedState_;
    Behaviour running_; ///< what `live_` was told of the document
    std::string runningDesign_;
    std::string runningLocale_;
    bool isStale_ = false; ///< it runs an earlier design
    render::Estimating estimating_ = render::Estimating::Background;
    std::int64_t steadyMs_ = 0; ///< how long an answer takes, headless
    PictureNotices* pictureNotices_ = nullptr;
    FlowSentence* sentence_ = nullptr;
    QTimer instrumentsDue_;
    int instrumentsTold_ = 0;
    bool instrumentsAreNew_ = false; ///< they do not have what runs now
    StripMap* map_ = nullptr;
    Cutaway* cutaway_ = nullptr;
    InstrumentSide* instruments_ = nullptr;
    QToolButton* held_ = nullptr; ///< "12 new"
    QSplitter* splitter_ = nullptr;
    QTimer shareDue_;
    bool isSharedByHand_ = false; ///< the user moved its handle
    QLabel* zoomLabel_ = nullptr;
    QList<QLabel*> headings_;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
