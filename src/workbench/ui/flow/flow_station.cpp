// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_station.h"

#include "workbench/model/design_edit.h"
#include "workbench/model/opening.h"
#include "workbench/ui/flow/arrangement_card.h"
#include "workbench/ui/flow/beside_words.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/instrument_side.h"
#include "workbench/ui/flow/leaf_bar.h"
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

namespace {

constexpr int kHalfMs = 17;            ///< from one half of the instruments to the other
constexpr int kAfterCollectionMs = 60; ///< what runs is painted first

} // namespace

FlowStation::FlowStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), runner_(workspace(), needs.pagesFile.toStdString()) {
    setObjectName(QStringLiteral("flow"));
    pictureNotices_ = new PictureNotices(workspace(), this);
    connect(pictureNotices_, &PictureNotices::noticed, this, &FlowStation::noticed);
    instruments_ = new InstrumentSide(look());
    splitter_ = new QSplitter(Qt::Horizontal, this);
    splitter_->setChildrenCollapsible(false);
    splitter_->setHandleWidth(9);
    splitter_->addWidget(makeCutawaySide());
    splitter_->addWidget(instruments_);
    splitter_->setStretchFactor(0, 1);
    splitter_->setStretchFactor(1, 0);
    connect(splitter_, &QSplitter::splitterMoved, this, [this] { isSharedByHand_ = true; });
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(splitter_);

    // The window moves with every frame; instruments are read, and thirty times a second is plenty for that.
    // Half of them are painted at a time: a turn is short then.
    instrumentsDue_.setSingleShot(true);
    connect(&instrumentsDue_, &QTimer::timeout, this, &FlowStation::tellInstruments);
    shareDue_.setSingleShot(true); // when all have the sizes that the window gave them
    connect(&shareDue_, &QTimer::timeout, this, &FlowStation::shareRoom);
    connect(map_, &StripMap::travelled, &runner_.driver(), &render::FrameDriver::want);
    connect(&look(), &Look::changed, this, [this] {
        restyle();
        tellParameters();
        shareDue_.start();
    });
    connectRunner();
    connectInstruments();
    connectSentence();
    makeActions();
    cutaway_->setMessage(tr(
        "Drop a collection or a file of records here, or open one with Ctrl+O.\n\nCtrl+2 shows the demo."));
    restyle();
    zoomTold();
}

void FlowStation::connectRunner() {
    connect(&runner_, &CollectionRunner::noticed, this, &FlowStation::noticed);
    connect(&runner_, &CollectionRunner::goes, this, &FlowStation::letGo);
    connect(&runner_, &CollectionRunner::came, this, &FlowStation::showCollection);
    connect(&runner_, &CollectionRunner::windowChanged, this, &FlowStation::tellWindow);
    connect(&runner_, &CollectionRunner::windowsChanged, this, [this] { showCollection(false); });
    connect(&runner_, &CollectionRunner::framed, this, &FlowStation::takeFrame);
    connect(&runner_, &CollectionRunner::weatherChanged, this, &FlowStation::tellSentence);
    connect(&runner_, &CollectionRunner::parametersTaken, this, [this](const Parameters& parameters) {
        instruments_->setParameters(parameters);
        takeFrame();
    });
    connect(&runner_, &CollectionRunner::queryTaken, this,
            [this] { instruments_->query().setValues(workspace().document().source.variables); });
    // The runner took them first: it was there before.
    connect(&workspace(), &Workspace::replaced, this, [this](bool again) {
        if (!again && !workspace().opened().isLookedAtFirst()) {
            Q_EMIT goWanted({id(), {}, {}});
        }
    });
    connect(&workspace(), &Workspace::changed, this, &FlowStation::tellSentence);
    connect(&workspace(), &Workspace::grew, this, &FlowStation::tellSentence);
}

void FlowStation::connectInstruments() {
    connect(instruments_, &InstrumentSide::foldedChanged, &shareDue_, qOverload<>(&QTimer::start));
    connect(instruments_, &InstrumentSide::pauseWanted, this, &FlowStation::setPaused);
    connect(instruments_, &InstrumentSide::stepWanted, this, &FlowStation::stepFrame);
    connect(instruments_, &InstrumentSide::slowWanted, this, &FlowStation::setSlow);
    connect(instruments_, &InstrumentSide::refreshWanted, &runner_, &CollectionRunner::refresh);
    connect(instruments_, &InstrumentSide::retryWanted, &runner_, &CollectionRunner::retry);
    connect(instruments_, &InstrumentSide::stageWanted, &runner_, &CollectionRunner::stage);
    connect(instruments_, &InstrumentSide::variableWanted, this, &FlowStation::wantVariable);
    connect(instruments_, &InstrumentSide::parameterWanted, this, &FlowStation::wantParameter);
}

QWidget* FlowStation::sentence() {
    return sentence_;
}

void FlowStation::entered() {
    cutaway_->setFocus();
}

void FlowStation::reveal(const Target& target) {
    if (collection() != nullptr && target.record >= 0 && target.record < collection()->recordCount()) {
        runner_.showRecord(target.record);
    }
}

/// The record of a number that was typed; people count from 1.
std::vector<Offer> FlowStation::offers(const QString& typed) {
    bool isNumber = false;
    Target target;
    target.record = QString(typed).remove(QLatin1Char(',')).toLongLong(&isNumber) - 1;
    if (!isNumber || collection() == nullptr || target.record < 0 ||
        target.record >= collection()->recordCount()) {
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

void FlowStation::connectSentence() {
    sentence_ = new FlowSentence(look());
    connect(sentence_, &FlowSentence::behaviourWanted, this,
            [this](const QString& what, const Behaviour& to) {
                workspace().change(what, withBehaviour(workspace().document(), to));
            });
    connect(sentence_, &FlowSentence::sourceWanted, &workspace(), &Workspace::changeSource);
    connect(sentence_, &FlowSentence::demoWanted, this,
            [this](qint64 count) { workspace().opening().openDemo(count); });
    connect(sentence_, &FlowSentence::weatherWanted, &runner_, &CollectionRunner::setWeather);
    connect(sentence_, &FlowSentence::arrangementCardWanted, this, &FlowStation::openArrangements);
    connect(sentence_, &FlowSentence::weatherCardWanted, this, [this](QWidget* word) {
        auto* card = new WeatherCard(look(), runner_.weather(), window());
        connect(card, &WeatherCard::weatherWanted, &runner_, &CollectionRunner::setWeather);
        card->openAt(*word);
    });
}

/// Each arrangement with the records there are, or of a service those that came first.
void FlowStation::openArrangements(QWidget* word) {
    if (collection() == nullptr) {
        return;
    }
    std::shared_ptr<const RecordTable> records = workspace().records();
    if (runner_.paged() != nullptr) {
        const std::vector<RecordAt> brought = runner_.brought(1);
        records = brought.empty() ? records : brought.front().table;
    }
    auto* card = new ArrangementCard(
        look(), {workspace().document(), std::move(records), runner_.makePictures()}, window());
    connect(card, &ArrangementCard::chosen, this, [this](const ArrangementSpec& arrangement) {
        CollectionDocument to = workspace().document();
        to.arrangement = arrangement;
        workspace().change(tr("arrangement"), std::move(to));
    });
    card->openAt(*word);
}

void FlowStation::makeActions() {
    addOwn(QStringLiteral("arrangementsAction"), tr("Your records in each arrangement"),
           QKeySequence(tr("G")),
           [this] { openArrangements(sentence_->findChild<QWidget*>(QStringLiteral("wordArrangement"))); });
    addOwn(QStringLiteral("turn"), tr("Turn the device"), QKeySequence(tr("T")), [this] { runner_.turn(); });
    const auto turnBy = [this](std::int64_t by) {
        if (collection() != nullptr && collection()->leaf().isOne()) {
            runner_.turnTo(runner_.looked()->leaf().number() + by);
        }
    };
    addOwn(QStringLiteral("turnBackAction"), tr("The records before these, where they are turned by hand"),
           QKeySequence(tr("[")), [turnBy] { turnBy(-1); });
    addOwn(QStringLiteral("turnOnAction"), tr("The records behind these, where they are turned by hand"),
           QKeySequence(tr("]")), [turnBy] { turnBy(1); });
    addOwn(QStringLiteral("refreshAction"), tr("Refresh"), QKeySequence(tr("R")),
           [this] { runner_.refresh(); });
    addOwn(QStringLiteral("retryAction"), tr("Try again what failed"), QKeySequence(tr("Shift+R")),
           [this] { runner_.retry(); });
    addOwn(QStringLiteral("showNewAction"), tr("Show what came meanwhile"), QKeySequence(tr("N")),
           [this] { runner_.showWaiting(); });
    addOwn(QStringLiteral("pauseAction"), tr("Pause or go on"), QKeySequence(tr("P")),
           [this] { setPaused(!runner_.driver().isPaused()); });
    addOwn(QStringLiteral("stepAction"), tr("One frame on"), QKeySequence(tr(".")), [this] { stepFrame(); });
    addOwn(QStringLiteral("slowAction"), tr("Slow or real time"), QKeySequence(tr("S")),
           [this] { setSlow(runner_.driver().slowness() == 1); });
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

/// The strip map stands along the strip.
void FlowStation::standMap() {
    const bool isSideways = runner_.shown() != nullptr && runner_.shown()->axis().isSideways;
    mapRow_->setDirection(isSideways ? QBoxLayout::BottomToTop : QBoxLayout::LeftToRight);
}

bool FlowStation::isWide() const {
    return cutaway_->geometry().isWide() || runner_.windows().size() > 1;
}

/// The cutaway gets what it can use; instruments that are all folded, or beside which a wide window would be
/// small, lie below it.
void FlowStation::shareRoom() {
    const bool folded = instruments_->isAllFolded();
    const bool isWide = this->isWide();
    drawAlike();
    const Qt::Orientation orientation = folded || isWide ? Qt::Vertical : Qt::Horizontal;
    if (splitter_->orientation() != orientation) {
        splitter_->setOrientation(orientation);
        isSharedByHand_ = false;
    }
    if (isSharedByHand_) {
        return;
    }
    instruments_->setWide(isWide && !folded);
    if (isWide && !folded) {
        const int most = splitter_->height() * (runner_.windows().size() > 1 ? 3 : 4) / 10;
        const int lines = std::min(instruments_->sizeHint().height(), most);
        splitter_->setSizes({std::max(splitter_->height() - lines, 1), lines});
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
    mapRow_ = new QBoxLayout(QBoxLayout::LeftToRight, side);
    mapRow_->setContentsMargins(0, 0, 0, 0);
    mapRow_->setSpacing(0);
    map_ = new StripMap(look());
    map_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    mapRow_->addWidget(map_);
    windows_ = new QHBoxLayout;
    windows_->setSpacing(0);
    cutaway_ = addCutaway();
    leafBar_ = new LeafBar(look());
    connect(leafBar_, &LeafBar::turnWanted, &runner_, &CollectionRunner::turnTo);
    auto* seen = new QVBoxLayout;
    seen->setSpacing(0);
    seen->addLayout(windows_, 1);
    seen->addWidget(leafBar_);
    mapRow_->addLayout(seen, 1);
    // The heading floats over the cutaway's upper edge, which is left free for it.
    auto* top = new QHBoxLayout(cutaway_);
    auto* heading = new QHBoxLayout;
    top->addLayout(heading);
    top->setAlignment(Qt::AlignTop);
    top->setContentsMargins(6, 4, 8, 0);
    cutawayName_ = new QLabel(tr("Cutaway"));
    cutawayName_->setObjectName(QStringLiteral("cutawayName"));
    headings_.append(cutawayName_);
    heading->addWidget(cutawayName_);
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
    waiting_ = new QToolButton(cutaway_);
    waiting_->setObjectName(QStringLiteral("heldMarker"));
    waiting_->setToolTip(tr("Records came while you read: put them on top, and go there (N)"));
    waiting_->hide();
    connect(waiting_, &QToolButton::clicked, &runner_, &CollectionRunner::showWaiting);
    return side;
}

Cutaway* FlowStation::addCutaway() {
    const int window = static_cast<int>(cutaways_.size());
    auto* cutaway = new Cutaway(look(), runner_.driver());
    if (window > 0) {
        cutaway->setObjectName(QStringLiteral("cutaway%1").arg(window + 1));
    }
    cutaways_ << cutaway;
    windows_->addWidget(cutaway, 1);
    // Who is touched, or has the focus, leads.
    connect(cutaway, &Cutaway::focused, this, [this, window] { runner_.setLead(window); });
    connect(cutaway, &Cutaway::gestured, this, [this, cutaway, window] {
        cutaway->setFocus(Qt::MouseFocusReason);
        runner_.setLead(window); // it may have had the focus before
        runner_.driver().want();
    });
    connect(cutaway, &Cutaway::resized, this, &FlowStation::drawAlike);
    connect(cutaway, &Cutaway::tapped, this, [this, window](QPointF at) { takeTap(window, at); });
    connect(cutaway, &Cutaway::zoomChanged, this, [this](int screens) {
        for (Cutaway* each : std::as_const(cutaways_)) {
            each->setZoom(screens);
        }
        zoomTold();
    });
    return cutaway;
}

/// A cutaway to each window; the state on demand has one.
void FlowStation::showWindows() {
    const std::vector<render::LiveCollection*> all = runner_.windows();
    const std::size_t count = runner_.staged() ? 1 : std::max<std::size_t>(all.size(), 1);
    while (cutaways_.size() < static_cast<qsizetype>(count)) {
        addCutaway()->setZoom(cutaway_->zoom());
    }
    const CollectionDocument& document = workspace().document();
    for (qsizetype i = 0; i < cutaways_.size(); ++i) {
        Cutaway* cutaway = cutaways_[i];
        const auto window = static_cast<std::size_t>(i);
        cutaway->setVisible(window < count);
        cutaway->setCollection(i == 0 ? runner_.shown() : window < count ? all[window] : nullptr);
        if (i == 0 || window > runner_.besideSpecs().size()) {
            continue;
        }
        const BesideSpec& spec = runner_.besideSpecs()[window - 1];
        const DeviceWindow device = deviceWindow(spec, document.arrangement);
        cutaway->setBars(device.bars, device.isUnderBars);
        cutaway->setWindow(besideInWords({spec}),
                           spec.look.empty() ? std::nullopt : std::optional(spec.look == "dark"));
        windows_->setStretch(static_cast<int>(i), device.width + 200);
    }
    const DeviceWindow first = deviceWindow(document);
    windows_->setStretch(0, first.width + 200);
    shareDue_.start();
}

/// Devices beside each other are drawn at one scale.
void FlowStation::drawAlike() {
    double scale = 1;
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        scale = cutaway->isVisibleTo(this) && runner_.windows().size() > 1
                    ? std::min(scale, cutaway->ownScale())
                    : scale;
    }
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        cutaway->setMostScale(scale);
    }
}

void FlowStation::restyle() {
    for (QLabel* heading : headings_) {
        heading->setFont(look().font(12, 600));
        heading->setStyleSheet(QStringLiteral("color: %1").arg(look().quiet.name()));
    }
    zoomLabel_->setFont(look().font(12));
    waiting_->setFont(look().font(12.5, 650));
    waiting_->setStyleSheet(
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

void FlowStation::letGo() {
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        cutaway->setCollection(nullptr);
    }
    map_->setCollection(nullptr);
    leafBar_->follow(nullptr);
    instruments_->forget();
}

/// Puts what runs, or the state on demand, before every part of the station.
void FlowStation::showCollection(bool isOther) {
    if (runner_.shown() == nullptr) {
        return;
    }
    map_->setCollection(runner_.looked());
    showWindows();
    standMap();
    // They come a moment later, in turns of their own: the collection itself is painted first.
    instrumentsAreNew_ = true;
    instrumentsTold_ = 0;
    instruments_->setUpdatesEnabled(false);
    map_->setUpdatesEnabled(false);
    instrumentsDue_.start(kAfterCollectionMs);
    instruments_->setPaged(runner_.paged() != nullptr);
    instruments_->setStaged(runner_.staged());
    tellPages();
    if (!isOther) {
        return;
    }
    pictureNotices_->watch(collection()->pictures());
    cutaway_->setMessage(tr("There are no records."));
    if (runner_.isHeadless()) { // nobody waits for a timer
        tellInstruments();
        tellInstruments();
    }
    tellParameters();
    instruments_->query().setSource(runner_.paged() != nullptr ? workspace().document().source
                                                               : SourceSpec());
    tellSentence();
}

void FlowStation::takeFrame() {
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        cutaway->update();
    }
    leafBar_->follow(runner_.staged() ? nullptr : runner_.looked());
    if (!instrumentsDue_.isActive()) {
        instrumentsDue_.start(kHalfMs);
    }
}

void FlowStation::tellWindow() {
    instruments_->frames().setBudget(runner_.device().budgetMs());
    map_->setBudget(runner_.device().budgetMs());
    const DeviceWindow window = deviceWindow(workspace().document());
    cutaway_->setBars(window.bars, window.isUnderBars);
    shareDue_.start();
    zoomTold();
}

void FlowStation::takeTap(int window, QPointF at) {
    const std::vector<render::LiveCollection*> all = runner_.windows();
    const bool isFirst = window == 0 || static_cast<std::size_t>(window) >= all.size();
    render::LiveCollection* shown = isFirst ? runner_.shown() : all[static_cast<std::size_t>(window)];
    if (shown != nullptr && shown->tapMark(at, runner_.driver().nowUs())) {
        return;
    }
    const auto tap = shown != nullptr ? shown->tapAt(at.x(), at.y()) : std::nullopt;
    if (!tap) {
        return;
    }
    if (tap->isState && tap->action == "retry" && !runner_.staged()) {
        runner_.retry();
    } else if (tap->isState && tap->action == "refresh" && !runner_.staged()) {
        runner_.refresh();
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
    const RecordTable& records = runner_.shown()->records();
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

void FlowStation::tellSentence() {
    if (!workspace().isOpen()) {
        return;
    }
    const CollectionDocument& document = workspace().document();
    FlowSaid said;
    said.behaviour = behaviourOf(document);
    said.source = document.source;
    said.isDemo = document.source.isDemo;
    for (const KindSpec& kind : document.kinds) {
        said.kinds << QString::fromStdString(kind.name);
    }
    said.weather = runner_.weather();
    const QString noun = QString::fromStdString(document.noun);
    const auto known = workspace().knownCount();
    said.count = known ? QStringLiteral("%1 %2").arg(grouped(*known), noun) : noun;
    const bool isMadeUp =
        known && *known > 0 && document.asIf.value_or(0) > *known && !document.source.isPaged();
    cutawayName_->setText(isMadeUp ? tr("Cutaway · made up from %1").arg(grouped(*known)) : tr("Cutaway"));
    sentence_->say(said);
}

/// Shows in half of the instruments what the frames did; in the other half the next time.
void FlowStation::tellInstruments() {
    const bool isFirstHalf = instrumentsTold_++ % 2 == 0;
    if (std::exchange(instrumentsAreNew_, instrumentsAreNew_ && isFirstHalf)) {
        if (isFirstHalf) {
            instruments_->setFirstHalf(runner_.looked());
        } else {
            instruments_->setSecondHalf(runner_.looked(), collection());
        }
    }
    if (isFirstHalf) {
        map_->setUpdatesEnabled(true);
        map_->follow();
        instruments_->followFirstHalf();
        instrumentsDue_.start(kHalfMs);
    } else {
        instruments_->setUpdatesEnabled(true);
        instruments_->followSecondHalf();
        tellPages();
    }
}

/// What is in no instrument: what waits above the reader, and what others should know.
void FlowStation::tellPages() {
    const render::PagedRecords* pages = runner_.staged() ? nullptr : runner_.paged();
    const bool isAnythingHere = pages != nullptr && pages->pager().tail() != TailState::FirstLoad &&
                                pages->pager().tail() != TailState::FirstFailed;
    const std::size_t waiting = isAnythingHere ? pages->pager().waitingCount() : 0;
    waiting_->setVisible(waiting > 0);
    if (waiting > 0) {
        waiting_->setText(tr("%1 new  N").arg(grouped(static_cast<qint64>(waiting))));
        waiting_->adjustSize();
        const QRectF window = cutaway_->windowRect();
        // Above the window: it hides nothing of what is read.
        waiting_->move(
            static_cast<int>(window.center().x() - waiting_->width() / 2.0),
            std::max(static_cast<int>(cutaway_->geometry().screen().top() - CutawayGeometry::kBezel) -
                         waiting_->height() - 2,
                     2));
    }
    if (runner_.paged() != nullptr) {
        tellSentence();
        Q_EMIT workspace().stateChanged();
    }
}

void FlowStation::wantVariable(const QString& name, const QString& value) {
    SourceSpec to = workspace().document().source;
    std::erase_if(to.variables, [&name](const auto& found) { return found.first == name.toStdString(); });
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

void FlowStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    runner_.setSeen(true);
}

void FlowStation::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    shareDue_.start();
}

void FlowStation::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    runner_.setSeen(false);
}

/// What rules and texts read, to play with while it runs.
void FlowStation::tellParameters() {
    instruments_->makeParameters(collection() == nullptr ? Parameters{}
                                                         : collection()->document().parameters);
}

void FlowStation::setPaused(bool paused) {
    runner_.driver().setPaused(paused);
    instruments_->setPaused(paused);
}

void FlowStation::stepFrame() {
    if (!runner_.driver().isPaused()) {
        setPaused(true);
    }
    runner_.driver().step();
}

void FlowStation::setSlow(bool slow) {
    runner_.driver().setSlowness(slow ? InstrumentSide::kSlowness : 1);
    instruments_->setSlow(slow);
}

} // namespace scorrere::workbench

#include "moc_flow_station.cpp"
