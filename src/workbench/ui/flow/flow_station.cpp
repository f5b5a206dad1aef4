// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_station.h"

#include "workbench/model/devices.h"
#include "workbench/model/hard_records.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/look/parameter_row.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {
constexpr int kSlowness = 8;
}

FlowStation::FlowStation(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("flow"));
    splitter_ = new QSplitter(Qt::Horizontal, this);
    splitter_->setChildrenCollapsible(false);
    splitter_->setHandleWidth(9);
    splitter_->addWidget(makeCutawaySide());
    splitter_->addWidget(makeInstrumentSide());
    splitter_->setStretchFactor(0, 5);
    splitter_->setStretchFactor(1, 6);
    splitter_->setSizes({600, 680});
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(splitter_);

    connect(&driver_, &render::FrameDriver::frameDue, this, &FlowStation::makeFrame);
    // The window moves with every frame; instruments are read, and thirty times a second is plenty for that.
    instrumentsDue_.setSingleShot(true);
    instrumentsDue_.setInterval(33);
    connect(&instrumentsDue_, &QTimer::timeout, this, [this] {
        map_->follow();
        frames_->follow();
        views_->follow();
    });
    connect(map_, &StripMap::travelled, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::gestured, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::tapped, this, [this](QPointF at) {
        if (const auto tap = live_ != nullptr ? live_->tapAt(at.x(), at.y()) : std::nullopt) {
            Q_EMIT partTapped(QString::fromStdString(tap->action), tap->record);
        }
    });
    connect(cutaway_, &Cutaway::zoomChanged, this, &FlowStation::zoomTold);
    connect(&look_, &Look::changed, this, [this] {
        restyle();
        tellParameters();
    });
    restyle();
    zoomTold();
}

FlowStation::~FlowStation() = default;

QToolButton* FlowStation::makeButton(const QString& name, const QString& text, const QString& tip) {
    auto* button = new QToolButton(this);
    button->setObjectName(name);
    button->setText(text);
    button->setToolTip(tip);
    button->setAutoRaise(true);
    buttons_.append(button);
    return button;
}

QWidget* FlowStation::makeCutawaySide() {
    auto* side = new QWidget;
    auto* row = new QHBoxLayout(side);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    map_ = new StripMap(look_);
    map_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    row->addWidget(map_);
    cutaway_ = new Cutaway(look_, driver_);
    row->addWidget(cutaway_, 1);
    // The heading floats over the cutaway's upper edge, which is left free for it.
    auto* top = new QHBoxLayout(cutaway_);
    auto* heading = new QHBoxLayout;
    top->addLayout(heading);
    top->setAlignment(Qt::AlignTop);
    top->setContentsMargins(6, 4, 8, 0);
    auto* name = new QLabel(tr("Cutaway"));
    headings_.append(name);
    heading->addWidget(name);
    heading->addStretch(1);
    auto* nearer = makeButton(QStringLiteral("zoomIn"), tr("nearer  +"),
                              tr("Look nearer: fewer screens beyond the edges"));
    zoomLabel_ = new QLabel;
    zoomLabel_->setObjectName(QStringLiteral("zoomLabel"));
    auto* further = makeButton(QStringLiteral("zoomOut"), tr("further  −"),
                               tr("Look further: more screens beyond the edges"));
    heading->addWidget(nearer);
    heading->addWidget(zoomLabel_);
    heading->addWidget(further);
    connect(nearer, &QToolButton::clicked, this, [this] { cutaway_->setZoom(cutaway_->zoom() - 1); });
    connect(further, &QToolButton::clicked, this, [this] { cutaway_->setZoom(cutaway_->zoom() + 1); });
    return side;
}

QWidget* FlowStation::makeInstrumentSide() {
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(6, 4, 16, 14);
    column->setSpacing(0);
    parameters_ = new QWidget;
    parameters_->setObjectName(QStringLiteral("parameters"));
    auto* rows = new QVBoxLayout(parameters_);
    rows->setContentsMargins(0, 4, 0, 6);
    rows->setSpacing(2);
    parameters_->hide();
    column->addWidget(parameters_);
    auto* heading = new QHBoxLayout;
    heading->setSpacing(4);
    auto* name = new QLabel(tr("Frames"));
    headings_.append(name);
    heading->addWidget(name);
    heading->addSpacing(14);
    pause_ = makeButton(QStringLiteral("pause"), {}, tr("Stop the run's clock, or let it go on"));
    pause_->setCheckable(true);
    step_ = makeButton(QStringLiteral("step"), tr("step  ."), tr("One frame on, then stop again"));
    slow_ = makeButton(QStringLiteral("slow"), tr("slow ×%1  S").arg(kSlowness),
                       tr("Let the run's clock go slower"));
    slow_->setCheckable(true);
    heading->addWidget(pause_);
    heading->addWidget(step_);
    heading->addWidget(slow_);
    heading->addStretch(1);
    column->addLayout(heading);
    frames_ = new FramesInstrument(look_);
    views_ = new ViewsInstrument(look_);
    column->addWidget(frames_, 10);
    column->addSpacing(8);
    column->addWidget(views_, 12);
    connect(pause_, &QToolButton::clicked, this, &FlowStation::setPaused);
    connect(step_, &QToolButton::clicked, this, &FlowStation::stepFrame);
    connect(slow_, &QToolButton::clicked, this, &FlowStation::setSlow);
    return side;
}

void FlowStation::restyle() {
    for (QLabel* heading : headings_) {
        heading->setFont(look_.font(12, 600));
        heading->setStyleSheet(QStringLiteral("color: %1").arg(look_.quiet.name()));
    }
    for (QToolButton* button : buttons_) {
        button->setFont(look_.font(12));
    }
    zoomLabel_->setFont(look_.font(12));
    pause_->setText(driver_.isPaused() ? tr("▶ go on  P") : tr("❚❚ pause  P"));
    splitter_->setStyleSheet(
        QStringLiteral("QSplitter::handle { background: %1; margin: 0 4px; }").arg(look_.edge.name()));
    for (QToolButton* button : buttons_) {
        button->setStyleSheet(QStringLiteral("QToolButton { border: 1px solid transparent; border-radius: "
                                             "4px; padding: 3px 7px; color: %1; }"
                                             "QToolButton:hover { background: %2; border-color: %3; }"
                                             "QToolButton:focus { border-color: %4; }"
                                             "QToolButton:checked { background: %4; color: %5; }")
                                  .arg(look_.ink.name(), look_.card.name(), look_.edge.name(),
                                       look_.accent.name(), look_.onAccent.name()));
    }
}

void FlowStation::zoomTold() {
    zoomLabel_->setText(cutaway_->zoom() == 0   ? tr("alone, %1 %").arg(qRound(cutaway_->scale() * 100))
                        : cutaway_->zoom() == 1 ? tr("1 screen beyond")
                                                : tr("%1 screens beyond").arg(cutaway_->zoom()));
}

Outcome FlowStation::show(const Opened& opened, render::Estimating estimating) {
    auto made = render::LiveCollection::create(opened.document, opened.records, picturesOf(opened.document),
                                               estimating);
    if (!made) {
        return std::move(made.error());
    }
    map_->setCollection(nullptr);
    cutaway_->setCollection(nullptr);
    views_->setCollection(nullptr);
    frames_->setCollection(nullptr);
    live_ = std::move(*made);
    behaviour_ = {opened.document.window, opened.document.viewLead};
    connect(live_.get(), &render::LiveCollection::frameWanted, &driver_, &render::FrameDriver::want);
    applyWindow();
    cutaway_->setMessage(tr("There are no records."));
    map_->setCollection(live_.get());
    cutaway_->setCollection(live_.get());
    views_->setCollection(live_.get());
    frames_->setCollection(live_.get());
    tellParameters();
    makeFrame(driver_.nowUs());
    driver_.want();
    Q_EMIT behaviourChanged();
    return done();
}

void FlowStation::setParameters(const Parameters& parameters) {
    if (live_ != nullptr) {
        live_->setParameters(parameters);
        for (qsizetype i = 0; i < parameterRows_.size() && i < static_cast<qsizetype>(parameters.size());
             ++i) {
            parameterRows_[i]->setValue(parameters[static_cast<std::size_t>(i)]);
        }
        driver_.want();
        cutaway_->update();
    }
}

/// What rules and texts read, to play with while it runs.
void FlowStation::tellParameters() {
    for (ParameterRow* row : std::as_const(parameterRows_)) {
        row->hide();
        row->deleteLater();
    }
    parameterRows_.clear();
    const Parameters parameters = live_ == nullptr ? Parameters{} : live_->document().parameters;
    for (const Parameter& parameter : parameters) {
        auto* row = new ParameterRow(look_, parameter);
        connect(row, &ParameterRow::valueWanted, this, &FlowStation::parameterWanted);
        parameters_->layout()->addWidget(row);
        parameterRows_ << row;
    }
    parameters_->setVisible(!parameters.empty());
}

double FlowStation::frameBudgetMs() const {
    return deviceNamed(behaviour_.window.device).budgetMs();
}

void FlowStation::setBehaviour(const Behaviour& behaviour) {
    if (live_ == nullptr || behaviour == behaviour_) {
        return;
    }
    const Behaviour before = behaviour_;
    behaviour_ = behaviour;
    if (behaviour.viewLead != before.viewLead) {
        live_->run().setViewLead(behaviour.viewLead);
    }
    if (behaviour.window.textScale != before.window.textScale) {
        live_->setTextScale(behaviour.window.textScale);
    }
    if (behaviour.window.device != before.window.device ||
        behaviour.window.upright != before.window.upright) {
        applyWindow();
    }
    // Pausing stops the clock, not what the user asks for: the change shows at once.
    makeFrame(driver_.nowUs());
    driver_.want();
    zoomTold();
    Q_EMIT behaviourChanged();
}

void FlowStation::applyWindow() {
    const Device& device = deviceNamed(behaviour_.window.device);
    const bool upright = behaviour_.window.upright;
    live_->setWindow(upright ? device.width : device.height, upright ? device.height : device.width);
    frames_->setBudget(device.budgetMs(), device.hertz);
    map_->setBudget(device.budgetMs());
    driver_.setFramePeriodUs(1'000'000 / device.hertz);
}

void FlowStation::makeFrame(std::int64_t timeUs) {
    if (live_ == nullptr) {
        driver_.rest();
        return;
    }
    live_->frame(timeUs);
    if (live_->isIdle()) {
        driver_.rest();
    }
    cutaway_->update();
    if (!instrumentsDue_.isActive()) {
        instrumentsDue_.start();
    }
}

void FlowStation::setPaused(bool paused) {
    driver_.setPaused(paused);
    pause_->setChecked(paused);
    pause_->setText(paused ? tr("▶ go on  P") : tr("❚❚ pause  P"));
    Q_EMIT pausedChanged(paused);
}

void FlowStation::stepFrame() {
    if (!driver_.isPaused()) {
        setPaused(true);
    }
    driver_.step();
}

void FlowStation::setSlow(bool slow) {
    driver_.setSlowness(slow ? kSlowness : 1);
    slow_->setChecked(slow);
    Q_EMIT slowChanged(slow);
}

void FlowStation::turn() {
    Behaviour turned = behaviour_;
    turned.window.upright = !turned.window.upright;
    setBehaviour(turned);
}

void FlowStation::resizeWindow(double width, double height) {
    live_->setWindow(width, height);
}

void FlowStation::scaleText(double scale) {
    Behaviour scaled = behaviour_;
    scaled.window.textScale = scale;
    setBehaviour(scaled);
}

void FlowStation::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    live_->insertRecords(place, firstRecord, count);
}

void FlowStation::removeRecords(std::int64_t place, std::int64_t count) {
    live_->eraseRecords(place, count);
}

} // namespace scorrere::workbench
