// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/model/opener.h"
#include "workbench/model/script_player.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QSplitter>
#include <QTimer>
#include <QToolButton>
#include <QVariant>
#include <QWidget>
#include <memory>

namespace scorrere::workbench {

class Cutaway;
class FramesInstrument;
class ParameterRow;
class StripMap;
class ViewsInstrument;

/// What of the document Flow changes.
struct Behaviour {
    WindowSpec window;
    double viewLead = 0.5;
    bool operator==(const Behaviour&) const = default;
};

/// The station where the collection runs: strip map, cutaway, and the instruments on what it does.
class FlowStation : public QWidget, private ScriptTarget {
    Q_OBJECT
public:
    FlowStation(Look& look, QWidget* parent = nullptr);
    ~FlowStation() override;

    /// Runs another collection. On an error the one before goes on running.
    Outcome show(const Opened& opened, render::Estimating estimating);
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

Q_SIGNALS:
    void behaviourChanged();
    /// A part that takes taps was tapped: the action's name, and the record or -1.
    void partTapped(const QString& action, qint64 record);
    void parameterWanted(const QString& name, const QVariant& value);
    void pausedChanged(bool paused);
    void slowChanged(bool slow);

private:
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
    std::unique_ptr<render::LiveCollection> live_;
    Behaviour behaviour_;
    QTimer instrumentsDue_;
    StripMap* map_ = nullptr;
    Cutaway* cutaway_ = nullptr;
    FramesInstrument* frames_ = nullptr;
    ViewsInstrument* views_ = nullptr;
    QSplitter* splitter_ = nullptr;
    QToolButton* pause_ = nullptr;
    QToolButton* step_ = nullptr;
    QToolButton* slow_ = nullptr;
    QLabel* zoomLabel_ = nullptr;
    QWidget* parameters_ = nullptr; ///< sliders and fields, above the instruments
    QList<ParameterRow*> parameterRows_;
    QList<QLabel*> headings_;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
