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
#include "workbench/ui/flow/instrument_side.h"
#include "workbench/ui/flow/picture_notices.h"
#include "workbench/ui/flow/query_fields.h"
#include "workbench/ui/flow/room.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/weather_card.h"
#include "workbench/ui/look/icons.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

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
    splitter_->setStretchFactor(0, 1);
    splitter_->setStretchFactor(1, 0);
    connect(splitter_, &QSplitter::splitterMoved, this, [this] { isSharedByHand_ = true; });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(splitter_);

    connect(&driver_, &render::FrameDriver::frameDue, this, &FlowStation::makeFrame);
    // The window moves with every frame; instruments are read, and thirty times a second is plenty for that.
    // Half of them are painted at a time: a turn is short then.
    instrumentsDue_.setSingleShot(true);
    instrumentsDue_.setInterval(17);
    connect(&instrumentsDue_, &QTimer::timeout, this, &FlowStation::tellInstruments);
    shareDue_.setSingleShot(true); // when all have the sizes that the window gave them
    connect(&shareDue_, &QTimer::timeout, this, &FlowStation::shareRoom);
    connect(map_, &StripMap::travelled, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::gestured, &driver_, &render::FrameDriver::want);
    connect(cutaway_, &Cutaway::tapped, this, &FlowStation::takeTap);
    connect(cutaway_, &Cutaway::zoomChanged, this, &FlowStation::zoomTold);
    connect(&look(), &Look::changed, this, [this] {
        restyle();
        tellParameters();
        shareDue_.start();
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
            Q_EMIT noticed(
                Notice::failed(tr("The records changed while they were being read."), grown.error()));
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
    settings.setValue(QStringLiteral("sharedByHand"),
                      isSharedByHand_ ? splitter_->saveState() : QByteArray());
    settings.setValue(QStringLiteral("zoom"), cutaway_->zoom());
    instruments_->save(settings);
}

void FlowStation::restore(QSettings& settings) {
    instruments_->restore(settings);
    isSharedByHand_ = splitter_->restoreState(settings.value(QStringLiteral("sharedByHand")).toByteArray());
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
    addOwn(QStringLiteral("foldAction"), tr("Fold the instruments, or unfold them"), QKeySequence(tr("F")),
           [this] { instruments_->foldAll(!instruments_->isAllFolded()); });
    addOwn(QStringLiteral("shareAction"), tr("Share the room between cutaway and instruments as usual"),
           QKeySequence(tr("Shift+F")), [this] {
               isSharedByHand_ = false;
               shareRoom();
           });
}

/// The cutaway gets what it can use; instruments that are all folded lie below it as a few lines.
void FlowStation::shareRoom() {
    const bool folded = instruments_->isAllFolded();
    const Qt::Orientation orientation = folded ? Qt::Vertical : Qt::Horizontal;
    if (splitter_->orientation() != orientation) {
        splitter_->setOrientation(orientation);
        isSharedByHand_ = false;
    }
    if (isSharedByHand_) {
        return;
    }
    if (folded) {
        const int lines = instruments_->sizeHint().height();
        splitter_->setSizes({std::max(splitter_->height() - lines, 1), lines});
        return;
    }
    FlowRoom room;
    room.device = cutaway_->geometry().wanted();
    room.beside = map_->sizeHint().width();
    room.instruments = instruments_->needed();
    const int given = room.cutaway(splitter_->width());
    splitter_->setSizes({given, std::max(splitter_->width() - given, 1)});
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
    const auto makeButton = [this](const char* objectName, const QString& text, const QString& tip) {
        auto* button = new QToolButton;
        button->setObjectName(QLatin1String(objectName));
        button->setText(text);
        button->setToolTip(tip);
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        buttons_ << button;
        return button;
    };
    auto* nearer = makeButton("zoomIn", tr("+"), tr("Look nearer: fewer screens beyond the edges (+)"));
    nearer->setAccessibleName(tr("Look nearer"));
    zoomLabel_ = new QLabel;
    zoomLabel_->setObjectName(QStringLiteral("zoomLabel"));
    auto* further = makeButton("zoomOut", tr("−"), tr("Look further: more screens beyond the edges (−)"));
    further->setAccessibleName(tr("Look further"));
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
    instruments_ = new InstrumentSide(look());
    connect(instruments_, &InstrumentSide::foldedChanged, &shareDue_, qOverload<>(&QTimer::start));
    connect(instruments_, &InstrumentSide::pauseWanted, this, &FlowStation::setPaused);
    connect(instruments_, &InstrumentSide::stepWanted, this, &FlowStation::stepFrame);
    connect(instruments_, &InstrumentSide::slowWanted, this, &FlowStation::setSlow);
    connect(instruments_, &InstrumentSide::refreshWanted, this, &FlowStation::refresh);
    connect(instruments_, &InstrumentSide::retryWanted, this, &FlowStation::retry);
    connect(instruments_, &InstrumentSide::stageWanted, this, &FlowStation::stage);
    connect(instruments_, &InstrumentSide::variableWanted, this, &FlowStation::wantVariable);
    connect(instruments_, &InstrumentSide::parameterWanted, this, &FlowStation::wantParameter);
    return instruments_;
}

void FlowStation::restyle() {
    for (QLabel* heading : headings_) {
        heading->setFont(look().font(12, 600));
        heading->setStyleSheet(QStringLiteral("color: %1").arg(look().quiet.name()));
    }
    zoomLabel_->setFont(look().font(12));
    held_->setFont(look().font(12.5, 650));
    held_->setStyleSheet(
        QStringLiteral("QToolButton { background: %1; color: %2; border: none; border-radius: %3px; "
                       "padding: 4px 14px; } QToolButton:focus { border: 2px solid %4; }")
            .arg(look().accent.name(), look().onAccent.name())
            .arg(static_cast<int>(look().scaled(11)))
            .arg(look().ink.name()));
    splitter_->setStyleSheet(
        QStringLiteral("QSplitter::handle { background: %1; margin: 0 4px; }").arg(look().edge.name()));
    for (QToolButton* button : std::as_const(buttons_)) {
        button->setFont(look().font(12));
        button->setStyleSheet(quietButtonSheet(look()));
        setSign(*button, look(), button == buttons_.first() ? Sign::Nearer : Sign::Further, look().ink);
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
    const bool sameLanguage = runningLocale_ == document.locale;
    if (!isStale_ && sameLanguage && differInValuesOnly(runningDesign_, document.designText())) {
        runningDesign_ = document.designText();
        setParameters(document.parameters);
        return;
    }
    isStale_ = !sameLanguage || runningDesign_ != document.designText();
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
            tr("The design does not fit the records, so the last one that did runs on."), shown.error()));
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
    instruments_->forget();
    staged_.reset();
    stagedState_.reset();
    live_ = std::move(*made);
    running_ = behaviourOf(opened.document);
    runningDesign_ = opened.document.designText();
    runningLocale_ = opened.document.locale;
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
    instruments_->query().setSource(paged ? opened.document.source : SourceSpec());
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
    // They come a moment later, in turns of their own: the collection itself is painted first.
    instrumentsAreNew_ = true;
    instrumentsTold_ = 0;
    instruments_->setUpdatesEnabled(false);
    map_->setUpdatesEnabled(false);
    instrumentsDue_.start();
    instruments_->setPaged(live_->paged() != nullptr);
    instruments_->setStaged(stagedState_);
    tellPages();
}

void FlowStation::stage(std::optional<TailState> state) {
    if (live_ == nullptr || live_->paged() == nullptr) {
        return;
    }
    cutaway_->setCollection(nullptr);
    map_->setCollection(nullptr);
    instruments_->forget();
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
            instruments_->setFirstHalf(shownCollection());
        } else {
            instruments_->setSecondHalf(shownCollection(), live_.get());
        }
    }
    if (isFirstHalf) {
        map_->setUpdatesEnabled(true);
        map_->follow();
        instruments_->followFirstHalf();
        instrumentsDue_.start();
    } else {
        instruments_->setUpdatesEnabled(true);
        instruments_->followSecondHalf();
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
        // Above the window: it hides nothing of what is read.
        held_->move(
            static_cast<int>(window.center().x() - held_->width() / 2.0),
            std::max(static_cast<int>(window.top() - CutawayGeometry::kBezel) - held_->height() - 2, 2));
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
    instruments_->query().setValues(variables);
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

void FlowStation::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    shareDue_.start();
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
        instruments_->setParameters(parameters);
        driver_.want();
        cutaway_->update();
    }
}

/// What rules and texts read, to play with while it runs.
void FlowStation::tellParameters() {
    instruments_->makeParameters(live_ == nullptr ? Parameters{} : live_->document().parameters);
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
    instruments_->frames().setBudget(device.budgetMs());
    map_->setBudget(device.budgetMs());
    driver_.setFramePeriodUs(1'000'000 / device.hertz);
    shareDue_.start();
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
    instruments_->setPaused(paused);
}

void FlowStation::stepFrame() {
    if (!driver_.isPaused()) {
        setPaused(true);
    }
    driver_.step();
}

void FlowStation::setSlow(bool slow) {
    driver_.setSlowness(slow ? InstrumentSide::kSlowness : 1);
    instruments_->setSlow(slow);
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
