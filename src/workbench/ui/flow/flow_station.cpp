// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_station.h"

#include "engine/record/record_json.h"
#include "render/source_call.h"
#include "workbench/model/devices.h"
#include "workbench/model/hard_records.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/pages_bar.h"
#include "workbench/ui/flow/query_fields.h"
#include "workbench/ui/flow/requests_instrument.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/look/parameter_row.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

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
    // Half of them are painted at a time: a turn is short then.
    instrumentsDue_.setSingleShot(true);
    instrumentsDue_.setInterval(17);
    connect(&instrumentsDue_, &QTimer::timeout, this, &FlowStation::tellInstruments);
    connect(map_, &StripMap::travelled, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::gestured, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::tapped, this, &FlowStation::takeTap);
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
    held_ = new QToolButton(cutaway_);
    held_->setObjectName(QStringLiteral("heldMarker"));
    held_->setToolTip(tr("Records came while you read: put them on top, and go there (N)"));
    held_->hide();
    connect(held_, &QToolButton::clicked, this, &FlowStation::showHeld);
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
    query_ = new QueryFields(look_);
    column->addWidget(query_);
    connect(query_, &QueryFields::variableWanted, this, &FlowStation::variableWanted);
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
    requests_ = new RequestsInstrument(look_, *frames_);
    requests_->hide();
    column->addWidget(frames_, 10);
    column->addSpacing(8);
    pages_ = new PagesBar(look_);
    pages_->hide();
    connect(pages_, &PagesBar::refreshWanted, this, &FlowStation::refresh);
    connect(pages_, &PagesBar::retryWanted, this, &FlowStation::retry);
    connect(pages_, &PagesBar::stageWanted, this, &FlowStation::stage);
    column->addWidget(pages_);
    column->addWidget(requests_, 10);
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
    held_->setFont(look_.font(12.5, 650));
    held_->setStyleSheet(
        QStringLiteral("QToolButton { background: %1; color: %2; border: none; border-radius: %3px; "
                       "padding: 4px 14px; } QToolButton:focus { border: 2px solid %4; }")
            .arg(look_.accent.name(), look_.onAccent.name())
            .arg(static_cast<int>(look_.scaled(11)))
            .arg(look_.ink.name()));
    pause_->setText(driver_.isPaused() ? tr("▶ go on  P") : tr("❚❚ pause  P"));
    splitter_->setStyleSheet(
        QStringLiteral("QSplitter::handle { background: %1; margin: 0 4px; }").arg(look_.edge.name()));
    for (QToolButton* button : buttons_) {
        button->setStyleSheet(quietButtonSheet(look_));
    }
}

void FlowStation::zoomTold() {
    zoomLabel_->setText(cutaway_->zoom() == 0   ? tr("alone, %1 %").arg(qRound(cutaway_->scale() * 100))
                        : cutaway_->zoom() == 1 ? tr("1 screen beyond")
                                                : tr("%1 screens beyond").arg(cutaway_->zoom()));
}

std::unique_ptr<render::PagedRecords> FlowStation::makePages(const Opened& opened) const {
    render::WireSetup setup;
    setup.source = opened.document.source;
    setup.demoAddress = needs_.demoAddress;
    setup.secret = opened.secret;
    setup.diskFile = needs_.diskFile;
    setup.diskMiB = opened.document.paging.diskMiB;
    setup.diskDays = opened.document.paging.diskDays;
    setup.fields = opened.records->fields();
    setup.weather = weather_->get();
    setup.access = opened.access;
    setup.first = opened.first;
    return std::make_unique<render::PagedRecords>(opened.document.paging, setup);
}

Outcome FlowStation::show(const Opened& opened, render::Estimating estimating, bool keepPages) {
    const bool paged = opened.document.source.isPaged();
    std::unique_ptr<render::PagedRecords> pages;
    std::shared_ptr<const RecordTable> records = opened.records;
    if (paged && keepPages && live_ != nullptr && live_->paged() != nullptr) {
        // Pages may have brought wider fields; and they stay where they are until it is sure that all fits.
        records = std::make_shared<const RecordTable>(conformed(*records, live_->paged()->fields()));
        auto tried = render::LiveCollection::createStaged(
            opened.document, records, picturesOf(opened.document, {nullptr, opened.access, {}}),
            TailState::Empty);
        if (!tried) {
            return std::move(tried.error());
        }
        pages = live_->takePaged();
    } else if (paged) {
        pages = makePages(opened);
        if (estimating == render::Estimating::AtOnce) {
            pages->setSteady(steadyMs_);
        }
    }
    render::PictureCalls calls{nullptr, opened.access,
                               render::ownHeaders(opened.document.source, opened.secret)};
    if (paged) {
        calls.weather = weather_;
    }
    auto pictures = paged ? wirePicturesOf(opened.document, needs_.demoAddress, std::move(calls))
                          : picturesOf(opened.document, std::move(calls));
    auto made = render::LiveCollection::create(opened.document, records, std::move(pictures), estimating,
                                               std::move(pages));
    if (!made) {
        return std::move(made.error());
    }
    cutaway_->setCollection(nullptr);
    map_->setCollection(nullptr);
    views_->setCollection(nullptr);
    frames_->setCollection(nullptr);
    requests_->setCollection(nullptr);
    staged_.reset();
    stagedState_.reset();
    live_ = std::move(*made);
    opened_ = std::make_unique<Opened>(opened);
    behaviour_ = {opened.document.window, opened.document.viewLead, opened.document.paging};
    connect(live_.get(), &render::LiveCollection::frameWanted, &driver_, &render::FrameDriver::want);
    if (paged) {
        connect(live_->paged(), &render::PagedRecords::noticed, this, &FlowStation::noticed,
                Qt::UniqueConnection); // pages that stay have it already
    }
    cutaway_->setMessage(tr("There are no records."));
    showCollection();
    if (estimating == render::Estimating::AtOnce) { // nobody waits for a timer
        tellInstruments();
        tellInstruments();
    }
    tellParameters();
    query_->setSource(paged ? opened.document.source : SourceSpec());
    if (paged && isVisible()) {
        live_->startPages(driver_.nowUs());
    }
    makeFrame(driver_.nowUs());
    driver_.want();
    Q_EMIT behaviourChanged();
    return done();
}

/// Puts what runs, or the state on demand, before every part of the station.
void FlowStation::showCollection() {
    applyWindow();
    render::LiveCollection* shown = shownCollection();
    map_->setCollection(shown);
    cutaway_->setCollection(shown);
    instrumentsAreNew_ = true; // they come a moment later: the collection itself is painted first
    instrumentsTold_ = 0;
    instrumentsDue_.start();
    pages_->setVisible(live_->paged() != nullptr);
    pages_->setStaged(stagedState_);
    tellPages();
}

void FlowStation::stage(std::optional<TailState> state) {
    if (live_ == nullptr || live_->paged() == nullptr) {
        return;
    }
    cutaway_->setCollection(nullptr);
    map_->setCollection(nullptr);
    views_->setCollection(nullptr);
    frames_->setCollection(nullptr);
    staged_.reset();
    stagedState_.reset();
    if (state) {
        CollectionDocument document = live_->document();
        document.window = behaviour_.window;
        auto made = render::LiveCollection::createStaged(
            document, opened_->records, picturesOf(document, {nullptr, opened_->access, {}}), *state);
        if (made) {
            staged_ = std::move(*made);
            stagedState_ = state;
            connect(staged_.get(), &render::LiveCollection::frameWanted, &driver_,
                    &render::FrameDriver::want);
        }
    }
    showCollection();
    if (staged_ &&
        (*state == TailState::Loading || *state == TailState::Failed || *state == TailState::End)) {
        makeFrame(driver_.nowUs());
        staged_->run().key(KeyStep::ToEnd);
    }
    makeFrame(driver_.nowUs());
    driver_.want();
}

void FlowStation::takeTap(QPointF at) {
    render::LiveCollection* shown = shownCollection();
    const auto tap = shown != nullptr ? shown->tapAt(at.x(), at.y()) : std::nullopt;
    if (!tap) {
        return;
    }
    if (tap->isState && tap->action == "retry" && !staged_) {
        retry();
    } else if (tap->isState && tap->action == "refresh" && !staged_) {
        refresh();
    } else {
        Q_EMIT partTapped(QString::fromStdString(tap->action), tap->record, QString::fromStdString(tap->key));
    }
}

void FlowStation::refresh() {
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->refresh(driver_.nowUs());
        driver_.want();
    }
}

void FlowStation::retry() {
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->retryPages(driver_.nowUs());
        driver_.want();
    }
}

void FlowStation::showHeld() {
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->showHeld();
        driver_.want();
    }
}

void FlowStation::setWeather(const render::Weather& weather) {
    weather_->set(weather);
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->paged()->setWeather(weather);
        live_->retryPictures();
    }
    Q_EMIT behaviourChanged();
}

/// Shows in half of the instruments what the frames did; in the other half the next time.
void FlowStation::tellInstruments() {
    const bool isFirstHalf = instrumentsTold_++ % 2 == 0;
    if (std::exchange(instrumentsAreNew_, instrumentsAreNew_ && isFirstHalf)) {
        if (isFirstHalf) {
            views_->setCollection(shownCollection());
        } else {
            frames_->setCollection(shownCollection());
            requests_->setCollection(live_.get());
        }
    }
    if (isFirstHalf) {
        map_->follow();
        views_->follow();
        instrumentsDue_.start();
    } else {
        frames_->follow();
        requests_->follow();
        tellPages();
    }
}

/// What is in no instrument: what waits above the reader, and what others should know.
void FlowStation::tellPages() {
    const render::PagedRecords* pages = live_ == nullptr || staged_ ? nullptr : live_->paged();
    const bool isAnythingHere = pages != nullptr && pages->pager().tail() != TailState::FirstLoad &&
                                pages->pager().tail() != TailState::FirstFailed;
    const std::size_t waiting = isAnythingHere ? pages->pager().heldCount() : 0;
    held_->setVisible(waiting > 0);
    if (waiting > 0) {
        held_->setText(tr("%1 new  N").arg(grouped(static_cast<qint64>(waiting))));
        held_->adjustSize();
        const QRectF window = cutaway_->windowRect();
        // Across the window's edge, where it hides the least of what is read.
        held_->move(static_cast<int>(window.center().x() - held_->width() / 2.0),
                    std::max(static_cast<int>(window.top()) - held_->height() + 4, 2));
    }
    if (live_ != nullptr && live_->paged() != nullptr) {
        Q_EMIT pagesChanged();
    }
}

/// The source runs only while somebody sees what it brings.
void FlowStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->startPages(driver_.nowUs());
        driver_.want();
    }
}

void FlowStation::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    if (live_ != nullptr && live_->paged() != nullptr) {
        live_->stopPages();
    }
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

void FlowStation::setVariables(const std::vector<std::pair<std::string, std::string>>& variables) {
    if (live_ == nullptr || live_->paged() == nullptr) {
        return;
    }
    live_->setVariables(driver_.nowUs(), variables);
    opened_->document.source.variables = variables;
    query_->setValues(variables);
    driver_.want();
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
    if (!(behaviour.paging == before.paging) && live_->paged() != nullptr) {
        live_->setPaging(behaviour.paging);
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
    for (render::LiveCollection* live : {live_.get(), staged_.get()}) {
        if (live != nullptr) {
            live->setWindow(upright ? device.width : device.height, upright ? device.height : device.width);
        }
    }
    frames_->setBudget(device.budgetMs(), device.hertz);
    map_->setBudget(device.budgetMs());
    driver_.setFramePeriodUs(1'000'000 / device.hertz);
}

void FlowStation::makeFrame(std::int64_t timeUs) {
    if (live_ == nullptr) {
        driver_.rest();
        return;
    }
    render::LiveCollection& shown = *shownCollection();
    shown.frame(timeUs);
    if (shown.isIdle()) {
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
    shownCollection()->setWindow(width, height);
}

void FlowStation::scaleText(double scale) {
    Behaviour scaled = behaviour_;
    scaled.window.textScale = scale;
    setBehaviour(scaled);
}

/// Which records stand where is the service's to say when it is read in pages.
void FlowStation::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    if (live_->paged() == nullptr) {
        live_->insertRecords(place, firstRecord, count);
    }
}

void FlowStation::removeRecords(std::int64_t place, std::int64_t count) {
    if (live_->paged() == nullptr) {
        live_->eraseRecords(place, count);
    }
}

} // namespace scorrere::workbench
