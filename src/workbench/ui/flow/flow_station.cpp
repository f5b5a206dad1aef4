// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_station.h"

#include "engine/record/record_json.h"
#include "render/source_call.h"
#include "workbench/model/design_edit.h"
#include "workbench/model/devices.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/opening.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/pages_bar.h"
#include "workbench/ui/flow/picture_notices.h"
#include "workbench/ui/flow/query_fields.h"
#include "workbench/ui/flow/requests_instrument.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/flow/weather_card.h"
#include "workbench/ui/look/parameter_row.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {
constexpr int kSlowness = 8;
}

FlowStation::FlowStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), pagesFile_(needs.pagesFile.toStdString()) {
    setObjectName(QStringLiteral("flow"));
    workspace().setPageRunner(this);
    pictureNotices_ = new PictureNotices(workspace(), this);
    connect(pictureNotices_, &PictureNotices::noticed, this, &FlowStation::noticed);
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
    connect(&look(), &Look::changed, this, [this] {
        restyle();
        tellParameters();
    });
    connectSentence();
    makeActions();
    connect(&workspace(), &Workspace::replaced, this, &FlowStation::takeReplaced);
    connect(&workspace(), &Workspace::changed, this, &FlowStation::takeChanged);
    connect(&workspace(), &Workspace::grew, this, [this](bool last) {
        if (live_ == nullptr || live_->paged() != nullptr) {
            return;
        }
        if (Outcome grown = live_->grow(workspace().records(), last); !grown) {
            Q_EMIT noticed(Notice::failed(tr("The records changed while they came."), grown.error()));
        }
        tellSentence();
    });
    cutaway_->setMessage(tr(
        "Drop a collection or a file of records here, or open one with Ctrl+O.\n\nCtrl+2 shows the demo."));
    restyle();
    zoomTold();
}

FlowStation::~FlowStation() {
    workspace().setPageRunner(nullptr);
}

QWidget* FlowStation::sentence() {
    return sentence_;
}

void FlowStation::entered() {
    showDesign();
    cutaway_->setFocus();
}

void FlowStation::reveal(const Target& target) {
    if (live_ != nullptr && target.record >= 0 && target.record < live_->recordCount()) {
        live_->run().jumpTo(target.record);
        driver_.want();
    }
}

/// The record of a number that was typed; people count from 1.
std::vector<Offer> FlowStation::offers(const QString& typed) {
    bool isNumber = false;
    Target target;
    target.record = QString(typed).remove(QLatin1Char(',')).toLongLong(&isNumber) - 1;
    if (!isNumber || live_ == nullptr || target.record < 0 || target.record >= live_->recordCount()) {
        return {};
    }
    return {{{}, tr("Record %1, no. %2").arg(typed, grouped(target.record + 1)), {}, [this, target] {
                 reveal(target);
             }}};
}

void FlowStation::save(QSettings& settings) const {
    settings.setValue(QStringLiteral("splitter"), splitter_->saveState());
    settings.setValue(QStringLiteral("zoom"), cutaway_->zoom());
}

void FlowStation::restore(QSettings& settings) {
    splitter_->restoreState(settings.value(QStringLiteral("splitter")).toByteArray());
    cutaway_->setZoom(settings.value(QStringLiteral("zoom"), 3).toInt());
}

void FlowStation::setHeadless(std::int64_t latencyMs) {
    driver_.setVirtual(true);
    estimating_ = render::Estimating::AtOnce;
    steadyMs_ = latencyMs;
}

void FlowStation::connectSentence() {
    sentence_ = new FlowSentence(look());
    connect(sentence_, &FlowSentence::behaviourWanted, this,
            [this](const QString& what, const Behaviour& to) {
                workspace().change(what, withBehaviour(workspace().document(), to));
            });
    connect(sentence_, &FlowSentence::sourceWanted, &workspace(), &Workspace::changeSource);
    connect(sentence_, &FlowSentence::demoWanted, this,
            [this](qint64 count) { workspace().opening().openDemo(count); });
    connect(sentence_, &FlowSentence::weatherWanted, this, &FlowStation::setWeather);
    connect(sentence_, &FlowSentence::weatherCardWanted, this, [this](QWidget* word) {
        auto* card = new WeatherCard(look(), weather(), window());
        connect(card, &WeatherCard::weatherWanted, this, &FlowStation::setWeather);
        card->openAt(*word);
    });
}

void FlowStation::makeActions() {
    addOwn(QStringLiteral("turn"), tr("Turn the device"), QKeySequence(tr("T")), [this] { turn(); });
    addOwn(QStringLiteral("refreshAction"), tr("Refresh"), QKeySequence(tr("R")), [this] { refresh(); });
    addOwn(QStringLiteral("retryAction"), tr("Try again what failed"), QKeySequence(tr("Shift+R")),
           [this] { retry(); });
    addOwn(QStringLiteral("showNewAction"), tr("Show what came meanwhile"), QKeySequence(tr("N")),
           [this] { showHeld(); });
    addOwn(QStringLiteral("pauseAction"), tr("Pause or go on"), QKeySequence(tr("P")),
           [this] { setPaused(!driver_.isPaused()); });
    addOwn(QStringLiteral("stepAction"), tr("One frame on"), QKeySequence(tr(".")), [this] { stepFrame(); });
    addOwn(QStringLiteral("slowAction"), tr("Slow or real time"), QKeySequence(tr("S")),
           [this] { setSlow(driver_.slowness() == 1); });
    addOwn(QStringLiteral("nearer"), tr("Look nearer"), QKeySequence(tr("+")),
           [this] { cutaway_->setZoom(cutaway_->zoom() - 1); });
    addOwn(QStringLiteral("further"), tr("Look further"), QKeySequence(tr("-")),
           [this] { cutaway_->setZoom(cutaway_->zoom() + 1); });
}

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
    map_ = new StripMap(look());
    map_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    row->addWidget(map_);
    cutaway_ = new Cutaway(look(), driver_);
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
    query_ = new QueryFields(look());
    column->addWidget(query_);
    connect(query_, &QueryFields::variableWanted, this, &FlowStation::wantVariable);
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
    frames_ = new FramesInstrument(look());
    views_ = new ViewsInstrument(look());
    requests_ = new RequestsInstrument(look(), *frames_);
    requests_->hide();
    column->addWidget(frames_, 10);
    column->addSpacing(8);
    pagesBar_ = new PagesBar(look());
    pagesBar_->hide();
    connect(pagesBar_, &PagesBar::refreshWanted, this, &FlowStation::refresh);
    connect(pagesBar_, &PagesBar::retryWanted, this, &FlowStation::retry);
    connect(pagesBar_, &PagesBar::stageWanted, this, &FlowStation::stage);
    column->addWidget(pagesBar_);
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
        heading->setFont(look().font(12, 600));
        heading->setStyleSheet(QStringLiteral("color: %1").arg(look().quiet.name()));
    }
    for (QToolButton* button : buttons_) {
        button->setFont(look().font(12));
    }
    zoomLabel_->setFont(look().font(12));
    held_->setFont(look().font(12.5, 650));
    held_->setStyleSheet(
        QStringLiteral("QToolButton { background: %1; color: %2; border: none; border-radius: %3px; "
                       "padding: 4px 14px; } QToolButton:focus { border: 2px solid %4; }")
            .arg(look().accent.name(), look().onAccent.name())
            .arg(static_cast<int>(look().scaled(11)))
            .arg(look().ink.name()));
    pause_->setText(driver_.isPaused() ? tr("▶ go on  P") : tr("❚❚ pause  P"));
    splitter_->setStyleSheet(
        QStringLiteral("QSplitter::handle { background: %1; margin: 0 4px; }").arg(look().edge.name()));
    for (QToolButton* button : buttons_) {
        button->setStyleSheet(quietButtonSheet(look()));
    }
}

void FlowStation::zoomTold() {
    zoomLabel_->setText(cutaway_->zoom() == 0   ? tr("alone, %1 %").arg(qRound(cutaway_->scale() * 100))
                        : cutaway_->zoom() == 1 ? tr("1 screen beyond")
                                                : tr("%1 screens beyond").arg(cutaway_->zoom()));
}

std::unique_ptr<render::PagedRecords> FlowStation::makePages() const {
    const Opened& opened = workspace().opened();
    render::WireSetup setup;
    setup.source = opened.document.source;
    setup.demoAddress = [demo = workspace().sharedDemo()] { return demo->address(); };
    setup.secret = opened.secret;
    setup.diskFile = pagesFile_;
    setup.diskMiB = opened.document.paging.diskMiB;
    setup.diskDays = opened.document.paging.diskDays;
    setup.fields = opened.records->fields();
    setup.weather = weather_->get();
    setup.access = opened.access;
    setup.first = opened.first;
    return std::make_unique<render::PagedRecords>(opened.document.paging, setup);
}

void FlowStation::takeReplaced(bool again) {
    if (Outcome shown = show(false); !shown) { // it was tried before it was put there
        Q_EMIT noticed(Notice::failed(tr("It cannot run."), shown.error()));
    }
    if (!again && !workspace().opened().isLookedAtFirst()) {
        Q_EMIT goWanted({id(), {}, {}});
    }
}

void FlowStation::takeChanged(Sections what) {
    if (live_ == nullptr) {
        return;
    }
    if (what & (Section::Window | Section::Lead | Section::Paging)) {
        applyBehaviour();
    }
    if (what.testFlag(Section::Design)) {
        takeDesign();
    }
    tellSentence();
}

/// Other values of parameters are taken over at once; anything else when it is seen.
void FlowStation::takeDesign() {
    const CollectionDocument& document = workspace().document();
    if (!isStale_ && differInValuesOnly(runningDesign_, document.designText())) {
        runningDesign_ = document.designText();
        setParameters(document.parameters);
        return;
    }
    isStale_ = runningDesign_ != document.designText();
    if (isVisible()) {
        showDesign();
    }
}

/// Goes on where it was, with the design as it is now.
void FlowStation::showDesign() {
    if (!isStale_ || live_ == nullptr) {
        return;
    }
    const HoldPoint held = live_->run().hold();
    if (Outcome shown = show(true); !shown) {
        Q_EMIT noticed(Notice::failed(
            tr("The design does not fit the records; the last one that did runs on."), shown.error()));
        return;
    }
    if (held.position > 0) {
        live_->run().jumpTo(held.position);
        driver_.want();
    }
}

/// Runs what is open. On an error the one before goes on running. A service is read in pages while this
/// station is seen; headless, everything is estimated at once, with steady answers.
/// `keepPages`: it is the same source as before, with another design; its pages stay.
Outcome FlowStation::show(bool keepPages) {
    const Opened& opened = workspace().opened();
    const bool paged = opened.document.source.isPaged();
    std::unique_ptr<render::PagedRecords> pages;
    std::shared_ptr<const RecordTable> records = opened.records;
    if (paged && keepPages && live_ != nullptr && live_->paged() != nullptr) {
        // Pages may have brought wider fields; and they stay where they are until it is sure that all fits.
        records = std::make_shared<const RecordTable>(conformed(*records, live_->paged()->fields()));
        if (Outcome fits = render::LiveCollection::check(opened.document, *records); !fits) {
            return fits;
        }
        pages = live_->takePaged();
    } else if (paged) {
        pages = makePages();
        if (estimating_ == render::Estimating::AtOnce) {
            pages->setSteady(steadyMs_);
        }
    }
    render::PictureCalls calls{nullptr, opened.access,
                               render::ownHeaders(opened.document.source, opened.secret)};
    if (paged) {
        calls.weather = weather_;
    }
    auto pictures = paged
                        ? wirePicturesOf(
                              opened.document, [demo = workspace().sharedDemo()] { return demo->address(); },
                              std::move(calls))
                        : picturesOf(opened.document, std::move(calls));
    auto made = render::LiveCollection::create(opened.document, records, std::move(pictures), estimating_,
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
    running_ = behaviourOf(opened.document);
    runningDesign_ = opened.document.designText();
    isStale_ = false;
    pictureNotices_->watch(live_->pictures());
    connect(live_.get(), &render::LiveCollection::frameWanted, &driver_, &render::FrameDriver::want);
    if (paged) {
        live_->paged()->disconnect(this); // pages that stay
        connect(live_->paged(), &render::PagedRecords::noticed, this, [this](const Error& error) {
            Q_EMIT noticed(Notice::told(QString::fromStdString(error.text())));
        });
    }
    cutaway_->setMessage(tr("There are no records."));
    showCollection();
    if (estimating_ == render::Estimating::AtOnce) { // nobody waits for a timer
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
    tellSentence();
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
    pagesBar_->setVisible(live_->paged() != nullptr);
    pagesBar_->setStaged(stagedState_);
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
        const CollectionDocument& document = workspace().document();
        auto made = render::LiveCollection::createStaged(
            document, workspace().records(), picturesOf(document, {nullptr, workspace().opened().access, {}}),
            *state);
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
        tellTap(QString::fromStdString(tap->action), tap->record, QString::fromStdString(tap->key));
    }
}

/// Says what an app would be told of a tap.
void FlowStation::tellTap(const QString& action, qint64 record, const QString& pageKey) {
    if (!pageKey.isEmpty()) {
        Q_EMIT noticed(Notice::told(tr("Tapped: %1, on %2.").arg(action, pageKey)));
        return;
    }
    const RecordTable& records = *workspace().records();
    std::vector<FieldHandle> key;
    for (const std::string& field : workspace().document().source.key) {
        if (const auto handle = records.find(field)) {
            key.push_back(*handle);
        }
    }
    const auto known = record < 0 || key.empty() ? std::nullopt : keyOf(records, record, key);
    Q_EMIT noticed(Notice::told(record < 0 ? tr("Tapped: %1.").arg(action)
                                : known
                                    ? tr("Tapped: %1, on %2 (record %3).")
                                          .arg(action, QString::fromStdString(*known), grouped(record + 1))
                                    : tr("Tapped: %1, on record %2.").arg(action, grouped(record + 1))));
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
    tellSentence();
}

void FlowStation::tellSentence() {
    if (!workspace().isOpen()) {
        return;
    }
    const CollectionDocument& document = workspace().document();
    FlowSaid said;
    said.behaviour = behaviourOf(document);
    said.source = document.source;
    said.isDemo = document.source.isDemo;
    said.weather = weather();
    const QString noun = QString::fromStdString(document.noun);
    const auto known = workspace().knownCount();
    said.count = known ? QStringLiteral("%1 %2").arg(grouped(*known), noun) : noun;
    sentence_->say(said);
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
        tellSentence();
        Q_EMIT workspace().stateChanged();
    }
}

std::optional<PageRunner::Pages> FlowStation::pages() const {
    if (live_ == nullptr || live_->paged() == nullptr) {
        return std::nullopt;
    }
    const Pager& pager = live_->paged()->pager();
    return pager.total() || pager.endKnown() ? Pages{pager.total().value_or(live_->recordCount())}
                                             : Pages{std::nullopt};
}

std::vector<RecordAt> FlowStation::brought(std::size_t most) const {
    std::vector<RecordAt> here;
    for (const auto& [page, records] : live_->paged()->pager().strip().loaded()) {
        for (const PageRecord& record : records) {
            here.push_back({record.table, record.row});
        }
        if (here.size() >= most) {
            break;
        }
    }
    return here;
}

std::vector<Field> FlowStation::fields() const {
    return live_->paged()->fields();
}

/// What shows stays until the first page of the new query is here.
bool FlowStation::takesQuery() {
    if (!isVisible() || live_ == nullptr || live_->paged() == nullptr) {
        return false;
    }
    const auto& variables = workspace().document().source.variables;
    live_->setVariables(driver_.nowUs(), variables);
    query_->setValues(variables);
    driver_.want();
    return true;
}

void FlowStation::wantVariable(const QString& name, const QString& value) {
    SourceSpec to = workspace().document().source;
    std::erase_if(to.variables, [&name](const auto& held) { return held.first == name.toStdString(); });
    if (!value.isEmpty()) {
        to.variables.emplace_back(name.toStdString(), value.toStdString());
    }
    workspace().changeSource(tr("what is asked for as %1").arg(name), to);
}

void FlowStation::wantParameter(const QString& name, const QVariant& value) {
    DesignDraft draft(workspace().document().designText());
    if (draft.setParameter(name.toStdString(), value)) {
        workspace().changeDesign(name, QString::fromStdString(draft.text()),
                                 QStringLiteral("parameter ") + name);
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
        auto* row = new ParameterRow(look(), parameter);
        connect(row, &ParameterRow::valueWanted, this, &FlowStation::wantParameter);
        parameters_->layout()->addWidget(row);
        parameterRows_ << row;
    }
    parameters_->setVisible(!parameters.empty());
}

double FlowStation::frameBudgetMs() const {
    return deviceNamed(running_.window.device).budgetMs();
}

/// What runs follows what the document says.
void FlowStation::applyBehaviour() {
    const Behaviour behaviour = behaviourOf(workspace().document());
    const Behaviour before = std::exchange(running_, behaviour);
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
}

void FlowStation::applyWindow() {
    const Device& device = deviceNamed(running_.window.device);
    const bool upright = running_.window.upright;
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
}

void FlowStation::turn() {
    if (workspace().isOpen()) {
        CollectionDocument to = workspace().document();
        to.window.upright = !to.window.upright;
        workspace().change(tr("turn"), std::move(to));
    }
}

void FlowStation::resizeWindow(double width, double height) {
    shownCollection()->setWindow(width, height);
}

void FlowStation::scaleText(double scale) {
    CollectionDocument to = workspace().document();
    to.window.textScale = scale;
    workspace().change(tr("text size"), std::move(to));
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
