// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_station.h"

#include "workbench/model/design_edit.h"
#include "workbench/model/live_watch.h"
#include "workbench/model/opening.h"
#include "workbench/model/table_design.h"
#include "workbench/ui/flow/arrangement_card.h"
#include "workbench/ui/flow/changes_instrument.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/instrument_side.h"
#include "workbench/ui/flow/leaf_bar.h"
#include "workbench/ui/flow/picture_notices.h"
#include "workbench/ui/flow/query_fields.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/weather_card.h"

#include <QHBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr int kPartMs = 17;            ///< from one part of the instruments to the next
constexpr int kAfterCollectionMs = 60; ///< what runs is painted first

} // namespace

FlowStation::FlowStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), runner_(workspace(), needs.pagesFile.toStdString()),
      sending_(workspace(), runner_) {
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
    connectEdits();
    makeActions();
    makeHandsActions();
    askWhatToOpen_ = needs.askWhatToOpen;
    makeScriptActions();
    connect(&desktopWishes_, &DesktopWishes::told, this, [this](const DesktopWish& wish) {
        isDesktopStill_ = wish.lessMotion;
        applyMotion();
    });
    desktopWishes_.ask();
    auto* watch = new LiveWatch(workspace(), runner_, this);
    connect(watch, &LiveWatch::noticed, this, &FlowStation::noticed);
    connect(watch, &LiveWatch::noticed, instruments_, &InstrumentSide::followChanges);
    chronicle_ = new Chronicle(workspace(), runner_, this);
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
    connect(&runner_, &CollectionRunner::sectionsChanged, this, &FlowStation::tellSentence);
    connect(&runner_, &CollectionRunner::weatherChanged, this, &FlowStation::tellSentence);
    connect(&runner_, &CollectionRunner::orderChanged, this, [this] {
        instruments_->followChanges();
        map_->followOrder();
        tellEdits();
    });
    connect(&runner_, &CollectionRunner::parametersTaken, this, [this](const Parameters& parameters) {
        instruments_->setParameters(parameters);
        takeFrame();
    });
    connect(&runner_, &CollectionRunner::queryTaken, this,
            [this] { instruments_->query().setValues(workspace().document().source.variables); });
    // The runner took them first: it was there before.
    connect(&workspace(), &Workspace::replaced, this, [this](bool again) {
        values_.clear();
        counting_.cancel();
        if (!again && !workspace().opened().isLookedAtFirst()) {
            Q_EMIT goWanted({id(), {}, {}});
        }
    });
    connect(&workspace(), &Workspace::changed, this, [this](Sections what) {
        tellSentence();
        if (what & Section::Edits) {
            tellEdits();
        }
    });
    connect(&workspace(), &Workspace::grew, this, [this](bool last) {
        tellSentence();
        if (last) {
            tellEdits();
            countValues();
        }
    });
}

void FlowStation::connectInstruments() {
    connect(instruments_, &InstrumentSide::foldedChanged, &shareDue_, qOverload<>(&QTimer::start));
    connect(instruments_, &InstrumentSide::compareWanted, this, [this] {
        if (runner_.looked() != nullptr) {
            runner_.looked()->compareOrders();
        }
    });
    connect(instruments_, &InstrumentSide::toStartWanted, this, [this](const OrderSpec::ToStart& toStart) {
        CollectionDocument to = workspace().document();
        to.order.toStart = toStart;
        workspace().change(tr("where one stands after a change"), std::move(to));
    });
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
    if (target.record < 0 || target.record >= recordsToGoTo()) {
        return;
    }
    const std::int64_t place =
        runner_.paged() != nullptr ? target.record : collection()->placeOf(target.record);
    if (place >= 0) {
        runner_.showRecord(place);
    } else {
        Q_EMIT noticed(
            Notice::told(tr("Record %1 is not among those that are shown.").arg(grouped(target.record + 1))));
    }
}

/// The record of a number that was typed; people count from 1.
std::vector<Offer> FlowStation::offers(const QString& typed) {
    bool isNumber = false;
    Target target;
    target.record = QString(typed).remove(QLatin1Char(',')).toLongLong(&isNumber) - 1;
    if (!isNumber || target.record < 0 || target.record >= recordsToGoTo()) {
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
    settings.setValue(QStringLiteral("cutOpen"), cutaway_->isCutOpen());
    settings.setValue(QStringLiteral("lessMotion"), isLessMotion_);
    instruments_->save(settings);
}

void FlowStation::restore(QSettings& settings) {
    instruments_->restore(settings);
    isLessMotion_ = settings.value(QStringLiteral("lessMotion"), false).toBool();
    applyMotion();
    isSharedByHand_ = splitter_->restoreState(settings.value(QStringLiteral("sharedByHand")).toByteArray());
    cutaway_->setZoom(settings.value(QStringLiteral("zoom"), 3).toInt());
    cutOpen(settings.value(QStringLiteral("cutOpen"), false).toBool());
}

void FlowStation::cutOpen(bool isOpen) {
    for (Cutaway* each : cutaways_) {
        each->setCutOpen(isOpen);
    }
}

void FlowStation::connectSentence() {
    sentence_ = new FlowSentence(look());
    connect(sentence_, &FlowSentence::behaviourWanted, this,
            [this](const QString& what, const Behaviour& to, const QString& merge) {
                const CollectionDocument& before = workspace().document();
                CollectionDocument after = withBehaviour(before, to);
                if (after.arrangement.form.index() != before.arrangement.form.index()) {
                    const std::string design = after.designText();
                    after = asTable(std::move(after));
                    if (after.designText() != design) {
                        Q_EMIT noticed(
                            Notice::told(tr("The parts of the item stand in columns now, and Item changes "
                                            "them. Undo brings the item back as it was.")));
                    }
                }
                workspace().change(what, std::move(after), merge);
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
    addOwn(QStringLiteral("shuffleAction"), tr("Shuffle the records"), QKeySequence(tr("Shift+S")), [this] {
        Behaviour to = behaviourOf(workspace().document());
        to.order = shuffledAnew(to.order);
        if (collection() != nullptr && collection()->canOrder()) {
            workspace().change(tr("shuffle"), withBehaviour(workspace().document(), to));
        }
    });
    addOwn(QStringLiteral("editAction"), tr("Edit the record at the window's start"), QKeySequence(tr("E")),
           [this] { editAtStart(); });
    addOwn(QStringLiteral("lessMotionAction"), tr("Show changes at once, or as the collection says"),
           QKeySequence(tr("Shift+M")), [this] {
               isLessMotion_ = !isLessMotion_;
               applyMotion();
               Q_EMIT noticed(Notice::told(
                   isLessMotion_     ? tr("Changes are shown at once here, whatever the collection says.")
                   : isDesktopStill_ ? tr("Changes are shown at once, as this desktop wants less motion.")
                                     : tr("Changes are shown as the collection says.")));
           });
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
    const auto sectionBeside = [this](std::int64_t by) {
        const auto* sections = collection() == nullptr ? nullptr : runner_.looked()->sections();
        Run* run = sections == nullptr ? nullptr : &runner_.looked()->run();
        if (run == nullptr || sections->count() == 0) {
            return;
        }
        const Slot slot = run->arrangement().slotAt(run->arrangement().indexAt(run->offset()));
        const bool isInside = by < 0 && (slot.role == Role::Record || slot.role == Role::SectionFooter);
        runner_.showSection( // inside one its own start is the one before
            std::clamp<std::int64_t>(slot.section + (isInside ? 0 : by), 0, sections->count() - 1));
    };
    addOwn(QStringLiteral("sectionBackAction"), tr("The section before this one"),
           QKeySequence(tr("Ctrl+Up")), [sectionBeside] { sectionBeside(-1); });
    addOwn(QStringLiteral("sectionOnAction"), tr("The section behind this one"),
           QKeySequence(tr("Ctrl+Down")), [sectionBeside] { sectionBeside(1); });
    addOwn(QStringLiteral("foldSectionAction"), tr("Open the section that shows, or fold it"),
           QKeySequence(tr("O")), [this] {
               if (collection() != nullptr) {
                   runner_.turnFold(runner_.looked()->sectionAtTop());
               }
           });
    addOwn(QStringLiteral("foldSectionsAction"), tr("Open all sections, or fold them"),
           QKeySequence(tr("Shift+O")), [this] {
               const auto* sections = collection() == nullptr ? nullptr : collection()->sections();
               if (sections != nullptr && sections->count() > 0) {
                   runner_.foldAll(!sections->at(sections->count() - 1).isFolded);
               }
           });
    addOwn(QStringLiteral("cutOpenAction"), tr("Cut the strips within items open, or close them"),
           QKeySequence(tr("X")), [this] { cutOpen(!cutaway_->isCutOpen()); });
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
    if (runner_.paged() != nullptr) {
        connect(runner_.paged(), &render::PagedRecords::editsChanged, this, &FlowStation::tellEdits,
                Qt::UniqueConnection);
    }
    cutaway_->setMessage(tr("There are no records."));
    if (runner_.isHeadless()) { // nobody waits for a timer
        tellInstruments();
        tellInstruments();
    }
    tellParameters();
    tellEdits();
    instruments_->query().setSource(runner_.paged() != nullptr ? workspace().document().source
                                                               : SourceSpec());
    tellSentence();
}

void FlowStation::takeFrame() {
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        cutaway->update();
    }
    leafBar_->follow(runner_.staged() ? nullptr : runner_.looked());
    isMoreToTell_ = instrumentsDue_.isActive();
    if (!isMoreToTell_) {
        instrumentsDue_.start(kPartMs);
    }
}

void FlowStation::tellWindow() {
    instruments_->frames().setBudget(runner_.device().budgetMs());
    instruments_->changes().setBudget(runner_.device().budgetMs());
    map_->setBudget(runner_.device().budgetMs());
    const DeviceWindow window = deviceWindow(workspace().document());
    cutaway_->setBars(window.bars, window.isUnderBars);
    shareDue_.start();
    zoomTold();
}

render::LiveCollection* FlowStation::liveOf(int window) const {
    const std::vector<render::LiveCollection*> all = runner_.windows();
    const bool isFirst = window == 0 || static_cast<std::size_t>(window) >= all.size();
    return isFirst ? runner_.shown() : all[static_cast<std::size_t>(window)];
}

/// Says what an app would be told of a tap.
void FlowStation::tellTap(const render::LiveCollection::Tap& tap) {
    const qint64 record = tap.record;
    const QString action = QString::fromStdString(tap.action);
    const QString of = tap.entry < 0 ? QString() : tr("entry %1 of ").arg(tap.entry + 1);
    if (!tap.key.empty()) {
        Q_EMIT noticed(
            Notice::told(tr("Tapped: %1, on %2.").arg(action, of + QString::fromStdString(tap.key))));
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
    Q_EMIT noticed(
        Notice::told(record < 0 ? tr("Tapped: %1.").arg(action)
                     : known    ? tr("Tapped: %1, on %2 (record %3).")
                                   .arg(action, of + QString::fromStdString(*known), grouped(record + 1))
                             : tr("Tapped: %1, on %2record %3.").arg(action, of, grouped(record + 1))));
}

void FlowStation::tellSentence() {
    if (!workspace().isOpen()) {
        return;
    }
    const CollectionDocument& document = workspace().document();
    instruments_->followToStart(document.order.toStart);
    FlowSaid said;
    said.behaviour = behaviourOf(document);
    said.source = document.source;
    said.isDemo = document.source.isDemo;
    for (const KindSpec& kind : document.kinds) {
        said.kinds << QString::fromStdString(kind.name);
    }
    for (const Field& field : workspace().records()->fields()) {
        if (field.type == FieldType::Text || field.type == FieldType::Time) {
            said.fields.push_back({QString::fromStdString(field.name), field.type == FieldType::Time});
        }
        if (field.type == FieldType::Time || field.type == FieldType::Integer ||
            field.type == FieldType::Real) {
            said.placeFields.push_back({QString::fromStdString(field.name), field.type == FieldType::Time});
        }
    }
    said.allFields = workspace().records()->fields();
    said.values = values_;
    said.weather = runner_.weather();
    const QString noun = QString::fromStdString(document.noun);
    const auto known = workspace().knownCount();
    said.count = known ? QStringLiteral("%1 %2").arg(grouped(*known), noun) : noun;
    const bool isMadeUp =
        known && *known > 0 && document.asIf.value_or(0) > *known && !document.source.isPaged();
    QStringList name{tr("Cutaway")};
    if (isMadeUp) {
        name << tr("made up from %1").arg(grouped(*known));
    }
    if (const auto* sections = collection() == nullptr ? nullptr : collection()->sections()) {
        const std::int64_t headings = collection()->headings().value_or(sections->count());
        const QString many =
            sections->count() == 1 ? tr("1 section") : tr("%1 sections").arg(grouped(sections->count()));
        name << (headings < sections->count() ? tr("%1 under %2 headings").arg(many, grouped(headings))
                                              : many);
    }
    if (const render::LiveCollection* looked = collection() == nullptr ? nullptr : runner_.looked();
        looked != nullptr && !looked->hands().selection().isNone()) {
        name << tr("%1 selected").arg(grouped(looked->hands().selectedCount()));
    }
    cutawayName_->setToolTip({});
    if (const auto* placed = collection() == nullptr ? nullptr : collection()->placed()) {
        const std::int64_t nowhere = placed->recordCount() - placed->placed() - placed->leftOut();
        if (collection()->arePlacesUntold()) {
            name << tr("being placed");
        } else if (nowhere > 0) {
            name << tr("%1 stand nowhere").arg(grouped(nowhere));
        }
        if (placed->leftOut() > 0) {
            name << tr("%1 have no room").arg(grouped(placed->leftOut()));
            cutawayName_->setToolTip(
                tr("More than 32 overlap in a lane: give a unit more px, or more lanes"));
        }
    }
    cutawayName_->setText(name.join(QStringLiteral(" · ")));
    sentence_->say(said);
    tellGesture(); // of another collection nothing is told
}

/// Shows what the frames did in the instruments, part by part: painting all would take longer than a frame.
void FlowStation::tellInstruments() {
    enum { Map, Views, Others, Parts };
    const int part = instrumentsTold_++ % Parts;
    if (part == Map) {
        map_->setUpdatesEnabled(true);
        map_->follow();
        instrumentsDue_.start(kPartMs);
    } else if (part == Views) {
        if (instrumentsAreNew_) {
            instruments_->setViews(runner_.looked());
        }
        instruments_->followViews();
        instrumentsDue_.start(kPartMs);
    } else {
        if (std::exchange(instrumentsAreNew_, false)) {
            instruments_->setOthers(runner_.looked(), collection());
        }
        instruments_->setUpdatesEnabled(true);
        instruments_->followOthers();
        tellPages();
        if (std::exchange(isMoreToTell_, false)) { // a frame came since the first part was told
            instrumentsDue_.start(kPartMs);
        }
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

void FlowStation::applyMotion() {
    runner_.setLessMotion(isLessMotion_ || isDesktopStill_);
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
