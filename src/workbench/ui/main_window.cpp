// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/main_window.h"

#include "workbench/model/devices.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/weather_card.h"

#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QStandardPaths>
#include <QTimer>
#include <QUndoCommand>
#include <QUrl>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr int kPaintAfterMs = 2;
constexpr int kRecentFiles = 8;
/// One change of what the document says about Flow; changes of the same word in a row become one.
class BehaviourCommand final : public QUndoCommand {
public:
    BehaviourCommand(FlowStation& flow, const QString& what, const Behaviour& to)
        : QUndoCommand(what), flow_(flow), from_(flow.behaviour()), to_(to) {}
    void undo() override { flow_.setBehaviour(from_); }
    void redo() override { flow_.setBehaviour(to_); }

private:
    FlowStation& flow_;
    Behaviour from_;
    Behaviour to_;
};

/// Where the XDG base directories say that state is kept; the toolkit has no word for it.
QString stateFolder() {
    const QString given = qEnvironmentVariable("XDG_STATE_HOME");
    return (given.startsWith(QLatin1Char('/')) ? given : QDir::homePath() + QStringLiteral("/.local/state")) +
           QStringLiteral("/scorrere");
}

/// Whether a design has words for pictures in that state.
bool saysWhenPictures(const PartSpec& part, render::PictureState state) {
    const PictureFallback& fallback = part.fallback;
    const bool missing = state == render::PictureState::Missing;
    return !(missing ? fallback.missing : fallback.broken).empty() ||
           std::ranges::any_of(part.children,
                               [state](const PartSpec& child) { return saysWhenPictures(child, state); });
}

} // namespace

Surroundings Surroundings::real() {
    Surroundings real;
    real.secrets = std::make_unique<DesktopSecrets>();
    real.settings = std::make_unique<QSettings>(QStringLiteral("scorrere"), QStringLiteral("scorrere"));
    real.journalFolder = stateFolder() + QStringLiteral("/journal");
    real.pagesFile = QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
                     QStringLiteral("/scorrere/pages.sqlite");
    real.askWhatToOpen = [](QWidget* parent) {
        return QFileDialog::getOpenFileName(
            parent, QObject::tr("Open a collection or records"), {},
            QObject::tr(
                "Collections and records (*.collection.json *.json *.ndjson *.jsonl *.csv *.tsv *.xml *.db "
                "*.sqlite *.sqlite3 *.txt);;All files (*)"));
    };
    real.askWhereToSave = [](QWidget* parent, const QString& proposed) {
        return QFileDialog::getSaveFileName(parent, QObject::tr("Save as"), proposed,
                                            QObject::tr("JSON (*.json)"));
    };
    return real;
}

MainWindow::MainWindow(Surroundings surroundings)
    : surroundings_(std::move(surroundings)), trust_(*surroundings_.settings),
      journal_(surroundings_.journalFolder), opener_(*surroundings_.secrets, trust_, demo_) {
    setObjectName(QStringLiteral("mainWindow"));
    setAcceptDrops(true);
    auto* whole = new QWidget(this);
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    makeTopBar();
    makeSentence();
    notice_ = new NoticeBand(look_);
    ask_ = new AskCard(look_);
    flow_ = new FlowStation(look_);
    source_ = new SourceStation(look_);
    item_ = new ItemStation(look_);
    stations_ = new QStackedWidget;
    stations_->addWidget(source_);
    stations_->addWidget(item_);
    stations_->addWidget(flow_);
    column->addWidget(top_);
    column->addWidget(&source_->sentence());
    column->addWidget(&item_->sentence());
    column->addWidget(sentence_);
    column->addWidget(ask_);
    column->addWidget(notice_);
    column->addWidget(stations_, 1);
    setCentralWidget(whole);
    makeActions();
    connectFlow();
    connect(&undo_, &QUndoStack::cleanChanged, this, &MainWindow::tellTitle);
    connect(&undo_, &QUndoStack::indexChanged, this, [this] {
        ++changes_;
        journal();
    });
    connect(&look_, &Look::changed, this, &MainWindow::restyle);
    connect(notice_, &NoticeBand::cancelled, &opener_, &Opener::cancel);
    connectOpener();
    connectSource();
    connectItem();
    resize(1280, 800);
    restore();
    restyle();
    tellTitle();
    flow_->cutaway().setMessage(tr(
        "Drop a collection or a file of records here, or open one with Ctrl+O.\n\nCtrl+2 shows the demo."));
    go(Station::Source);
    source_->typeList();
}

MainWindow::~MainWindow() {
    undo_.disconnect(this); // it tells of its own end, when the labels may be gone
    // A field that has the focus tells what was typed when it goes: nobody is there to hear it.
    source_->disconnect(this);
    item_->disconnect(this);
    flow_->disconnect(this);
    render::disposeElsewhere(std::move(opened_));
    render::disposeElsewhere(std::move(demo_)); // its server's threads are joined
}

void MainWindow::makeTopBar() {
    top_ = new QWidget;
    top_->setObjectName(QStringLiteral("topBar"));
    top_->setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(top_);
    row->setContentsMargins(18, 7, 14, 7);
    row->setSpacing(6);
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("title"));
    title_->setMinimumWidth(1);
    subtitle_ = new QLabel;
    subtitle_->setObjectName(QStringLiteral("subtitle"));
    subtitle_->setMinimumWidth(1);
    row->addWidget(title_);
    row->addSpacing(6);
    row->addWidget(subtitle_);
    row->addStretch(1);
    makeStations(row);
    row->addStretch(1);
    const auto button = [&](const QString& name, const QString& text, const QString& tip) {
        auto* made = new QToolButton;
        made->setObjectName(name);
        made->setText(text);
        made->setToolTip(tip);
        made->setFocusPolicy(Qt::TabFocus);
        buttons_.append(made);
        row->addWidget(made);
        return made;
    };
    connect(button(QStringLiteral("openButton"), tr("Open  Ctrl+O"),
                   tr("Open a collection file or a file of records")),
            &QToolButton::clicked, this, [this] { open(surroundings_.askWhatToOpen(this)); });
    row->addSpacing(10);
    demoBox_ = new QWidget;
    row->addWidget(demoBox_);
    QHBoxLayout* whole = std::exchange(row, new QHBoxLayout(demoBox_));
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    auto* demo = new QLabel(tr("Demo"));
    demo->setObjectName(QStringLiteral("demoLabel"));
    row->addWidget(demo);
    for (std::size_t i = 0; i < demoCounts().size(); ++i) {
        const qint64 count = demoCounts()[i];
        connect(button(QStringLiteral("demo%1").arg(count), grouped(count),
                       tr("%1 made-up sightings (Ctrl+%2)").arg(grouped(count)).arg(i + 1)),
                &QToolButton::clicked, this, [this, count] { openDemo(count); });
    }
    connect(button(QStringLiteral("demoService"), tr("service"),
                   tr("The same sightings from the demo service, in pages (Ctrl+4)")),
            &QToolButton::clicked, this, [this] { openDemoService(); });
    row = whole;
    row->addSpacing(10);
    menuButton_ = button(QStringLiteral("menuButton"), tr("Menu  F10"), tr("Everything else"));
}

/// The stations in the order of the work, on one line.
void MainWindow::makeStations(QHBoxLayout* row) {
    const std::array<std::pair<QString, Station>, 3> stations{
        {{tr("Source"), Station::Source}, {tr("Item"), Station::Item}, {tr("Flow"), Station::Flow}}};
    for (const auto& [name, station] : stations) {
        if (!stationButtons_.isEmpty()) {
            auto* line = new QFrame;
            line->setObjectName(QStringLiteral("stationLine"));
            line->setFixedSize(22, 2);
            row->addWidget(line);
        }
        auto* made = new QToolButton;
        made->setObjectName(QStringLiteral("station") + name);
        made->setText(name);
        made->setToolTip(tr("%1 (Alt+%2)").arg(name).arg(stationButtons_.size() + 1));
        made->setCheckable(true);
        made->setFocusPolicy(Qt::TabFocus);
        connect(made, &QToolButton::clicked, this, [this, station = station] { go(station); });
        stationButtons_ << made;
        row->addWidget(made);
    }
    findingsButton_ = new QToolButton;
    findingsButton_->setObjectName(QStringLiteral("findingsButton"));
    findingsButton_->setFocusPolicy(Qt::TabFocus);
    findingsButton_->setToolTip(tr("What is wrong with the records: see Source"));
    findingsButton_->hide();
    connect(findingsButton_, &QToolButton::clicked, this, [this] { go(Station::Source); });
    row->addSpacing(14);
    row->addWidget(findingsButton_);
}

void MainWindow::makeSentence() {
    sentence_ = new FlowSentence(look_);
    connect(sentence_, &FlowSentence::behaviourWanted, this, &MainWindow::change);
    connect(sentence_, &FlowSentence::sourceWanted, this, &MainWindow::changeSource);
    connect(sentence_, &FlowSentence::demoWanted, this, [this](qint64 count) { openDemo(count); });
    connect(sentence_, &FlowSentence::weatherWanted, this,
            [this](const render::Weather& weather) { flow_->setWeather(weather); });
    connect(sentence_, &FlowSentence::weatherCardWanted, this, [this](QWidget* word) {
        auto* card = new WeatherCard(look_, flow_->weather(), this);
        connect(card, &WeatherCard::weatherWanted, flow_, &FlowStation::setWeather);
        card->openAt(*word);
    });
}

void MainWindow::connectFlow() {
    WireNeeds needs;
    needs.demoAddress = [demo = demo_] { return demo->address(); };
    needs.diskFile = surroundings_.pagesFile.toStdString();
    flow_->setWireNeeds(std::move(needs));
    connect(flow_, &FlowStation::behaviourChanged, this, &MainWindow::tellSentence);
    connect(flow_, &FlowStation::pagesChanged, this, [this] {
        tellSentence();
        tellTitle();
    });
    connect(flow_, &FlowStation::variableWanted, this, [this](const QString& name, const QString& value) {
        SourceSpec to = opened_->document.source;
        std::erase_if(to.variables, [&name](const auto& held) { return held.first == name.toStdString(); });
        if (!value.isEmpty()) {
            to.variables.emplace_back(name.toStdString(), value.toStdString());
        }
        changeSource(tr("what is asked for as %1").arg(name), to);
    });
    connect(flow_, &FlowStation::noticed, this,
            [this](const Error& error) { notice_->showNotice(QString::fromStdString(error.text())); });
}

QAction* MainWindow::addAction(QMenu* menu, const QString& name, const QString& text,
                               const QKeySequence& keys, std::function<void()> does) {
    auto* action = new QAction(text, this);
    action->setObjectName(name);
    action->setShortcut(keys);
    action->setShortcutVisibleInContextMenu(true);
    connect(action, &QAction::triggered, this, [does = std::move(does)] { does(); });
    menu->addAction(action);
    QMainWindow::addAction(action); // so that its keys work while the menu is closed
    return action;
}

void MainWindow::makeActions() {
    menu_ = new QMenu(this);
    menu_->setObjectName(QStringLiteral("menu"));
    menuButton_->setMenu(menu_);
    menuButton_->setPopupMode(QToolButton::InstantPopup);
    makeFileActions();
    menu_->addSeparator();
    QAction* undo = undo_.createUndoAction(this, tr("Undo"));
    undo->setObjectName(QStringLiteral("undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = undo_.createRedoAction(this, tr("Redo"));
    redo->setObjectName(QStringLiteral("redo"));
    redo->setShortcut(QKeySequence(tr("Ctrl+Shift+Z")));
    for (QAction* action : {undo, redo}) {
        menu_->addAction(action);
        QMainWindow::addAction(action);
    }
    menu_->addSeparator();
    makeViewActions();
}

void MainWindow::makeFileActions() {
    addAction(menu_, QStringLiteral("open"), tr("Open…"), QKeySequence::Open,
              [this] { open(surroundings_.askWhatToOpen(this)); });
    recent_ = menu_->addMenu(tr("Open recent"));
    recent_->setObjectName(QStringLiteral("recent"));
    connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
    for (std::size_t i = 0; i < demoCounts().size(); ++i) {
        const qint64 count = demoCounts()[i];
        addAction(menu_, QStringLiteral("demoAction%1").arg(count), tr("Demo with %1").arg(demoWord(count)),
                  QKeySequence(tr("Ctrl+%1").arg(i + 1)), [this, count] { openDemo(count); });
    }
    addAction(menu_, QStringLiteral("demoServiceAction"), tr("Demo from its service, in pages"),
              QKeySequence(tr("Ctrl+4")), [this] { openDemoService(); });
    addAction(menu_, QStringLiteral("newList"), tr("A list typed here"), QKeySequence(tr("Ctrl+L")), [this] {
        go(Station::Source);
        openPlace(listChoice());
        source_->typeList();
    });
    addAction(menu_, QStringLiteral("ask"), tr("Ask, or read again"), QKeySequence(tr("Ctrl+Return")),
              [this] {
                  if (!source_->runTypedList()) {
                      readAgain();
                  }
              });
    addAction(menu_, QStringLiteral("saveSchemaAction"), tr("Save the records' JSON Schema…"),
              QKeySequence(tr("Ctrl+Shift+J")), [this] { saveSchema(); });
    addAction(menu_, QStringLiteral("copyTypeAction"), tr("Copy the records' C++ type"),
              QKeySequence(tr("Ctrl+Shift+C")), [this] { Q_EMIT source_->copyTypeWanted(); });
    addAction(menu_, QStringLiteral("save"), tr("Save"), QKeySequence::Save,
              [this] { saveOrAsk(false, [](bool) {}); });
    addAction(menu_, QStringLiteral("saveAs"), tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")),
              [this] { saveOrAsk(true, [](bool) {}); });
}

void MainWindow::makeViewActions() {
    addAction(menu_, QStringLiteral("goSource"), tr("Go to Source"), QKeySequence(tr("Alt+1")),
              [this] { go(Station::Source); });
    addAction(menu_, QStringLiteral("goItem"), tr("Go to Item"), QKeySequence(tr("Alt+2")),
              [this] { go(Station::Item); });
    addAction(menu_, QStringLiteral("goFlow"), tr("Go to Flow"), QKeySequence(tr("Alt+3")),
              [this] { go(Station::Flow); });
    makeItemActions();
    menu_->addSeparator();
    flowActions_ << addAction(menu_, QStringLiteral("turn"), tr("Turn the device"), QKeySequence(tr("T")),
                              [this] {
                                  Behaviour to = flow_->behaviour();
                                  to.window.upright = !to.window.upright;
                                  change(tr("turn"), to);
                              });
    flowActions_ << addAction(menu_, QStringLiteral("refreshAction"), tr("Refresh"), QKeySequence(tr("R")),
                              [this] { flow_->refresh(); });
    flowActions_ << addAction(menu_, QStringLiteral("retryAction"), tr("Try again what failed"),
                              QKeySequence(tr("Shift+R")), [this] { flow_->retry(); });
    flowActions_ << addAction(menu_, QStringLiteral("showNewAction"), tr("Show what came meanwhile"),
                              QKeySequence(tr("N")), [this] { flow_->showHeld(); });
    flowActions_ << addAction(menu_, QStringLiteral("pauseAction"), tr("Pause or go on"),
                              QKeySequence(tr("P")),
                              [this] { flow_->setPaused(!flow_->driver().isPaused()); });
    flowActions_ << addAction(menu_, QStringLiteral("stepAction"), tr("One frame on"), QKeySequence(tr(".")),
                              [this] { flow_->stepFrame(); });
    flowActions_ << addAction(menu_, QStringLiteral("slowAction"), tr("Slow or real time"),
                              QKeySequence(tr("S")),
                              [this] { flow_->setSlow(flow_->driver().slowness() == 1); });
    flowActions_ << addAction(menu_, QStringLiteral("nearer"), tr("Look nearer"), QKeySequence(tr("+")),
                              [this] { flow_->cutaway().setZoom(flow_->cutaway().zoom() - 1); });
    flowActions_ << addAction(menu_, QStringLiteral("further"), tr("Look further"), QKeySequence(tr("-")),
                              [this] { flow_->cutaway().setZoom(flow_->cutaway().zoom() + 1); });
    menu_->addSeparator();
    dark_ = addAction(menu_, QStringLiteral("dark"), tr("Dark look"), QKeySequence(tr("Ctrl+D")), [this] {
        look_.setDark(!look_.isDark());
        surroundings_.settings->setValue(QStringLiteral("dark"), look_.isDark());
    });
    dark_->setCheckable(true);
    const auto scale = [this](double to) {
        look_.setTextScale(to);
        surroundings_.settings->setValue(QStringLiteral("textScale"), look_.textScale());
    };
    addAction(menu_, QStringLiteral("larger"), tr("Larger workbench text"), QKeySequence(tr("Ctrl++")),
              [this, scale] { scale(look_.textScale() + 0.25); });
    addAction(menu_, QStringLiteral("smaller"), tr("Smaller workbench text"), QKeySequence(tr("Ctrl+-")),
              [this, scale] { scale(look_.textScale() - 0.25); });
    addAction(menu_, QStringLiteral("dismiss"), tr("Close the notice, or cancel what it tells of"),
              QKeySequence(tr("Esc")), [this] {
                  if (ask_->isAsking()) {
                      return ask_->decline();
                  }
                  opener_.cancel();
                  notice_->clear();
              });
    menu_->addSeparator();
    addAction(menu_, QStringLiteral("quit"), tr("Quit"), QKeySequence(tr("Ctrl+Q")), [this] { close(); });
    auto* openMenu = new QAction(this);
    openMenu->setShortcut(QKeySequence(tr("F10")));
    connect(openMenu, &QAction::triggered, menuButton_, &QToolButton::showMenu);
    QMainWindow::addAction(openMenu);
}

void MainWindow::restyle() {
    dark_->setChecked(look_.isDark());
    title_->setFont(look_.font(15, 700));
    subtitle_->setFont(look_.font(13));
    top_->setStyleSheet(
        QStringLiteral("#topBar { background: %1; border-bottom: 1px solid %2; }"
                       "#topBar QLabel { color: %3; } #topBar #subtitle, #topBar #demoLabel { color: %4; }"
                       "#topBar QToolButton { background: transparent; color: %3; border: 1px solid %2; "
                       "border-radius: 12px; padding: 3px 11px; }"
                       "#topBar QToolButton:hover { background: %6; }"
                       "#topBar QToolButton:focus { border: 2px solid %5; padding: 2px 10px; }"
                       "#topBar QToolButton::menu-indicator { image: none; }")
            .arg(look_.card.name(), look_.edge.name(), look_.ink.name(), look_.quiet.name(),
                 look_.accent.name(), look_.ground.name()));
    for (QToolButton* button : std::as_const(stationButtons_)) {
        button->setFont(look_.font(13, 600));
        button->setStyleSheet(
            QStringLiteral("QToolButton { padding: 4px 16px; border-radius: 13px; border: 1px solid %1; }"
                           "QToolButton:checked { background: %2; color: %3; border: 1px solid %2; }"
                           "QToolButton:focus { border: 2px solid %4; padding: 3px 15px; }")
                .arg(look_.edge.name(), look_.accent.name(), look_.onAccent.name(), look_.ink.name()));
    }
    for (auto* line : top_->findChildren<QFrame*>(QStringLiteral("stationLine"))) {
        line->setStyleSheet(QStringLiteral("background: %1;").arg(look_.edge.name()));
    }
    findingsButton_->setFont(look_.font(12.5, 650));
    findingsButton_->setStyleSheet(
        QStringLiteral(
            "QToolButton { color: %1; border: 1px solid %1; border-radius: 12px; padding: 3px 12px; }")
            .arg(look_.bad.name()));
    for (QToolButton* button : buttons_) {
        button->setFont(look_.font(12.5));
    }
    if (auto* demo = top_->findChild<QLabel*>(QStringLiteral("demoLabel"))) {
        demo->setFont(look_.font(12.5));
    }
    setPalette(QApplication::palette());
    fitTopBar();
    menu_->setFont(look_.font(13));
    recent_->setFont(look_.font(13));
}

void MainWindow::open(const QString& path) {
    if (path.isEmpty()) {
        return;
    }
    beforeReplacing([this, path] {
        starting(QFileInfo(path).fileName());
        opener_.open(path);
    });
}

void MainWindow::openDemo(qint64 count) {
    beforeReplacing([this, count] {
        starting(tr("the demo"));
        opener_.openDemo(count);
    });
}

Outcome MainWindow::show(const Opened& opened, render::Estimating estimating) {
    if (Outcome shown = flow_->show(opened, estimating); !shown) {
        return shown;
    }
    gathering_.cancel();
    ++shows_;
    if (opened_) {
        render::disposeElsewhere(std::move(opened_));
    }
    opened_ = std::make_unique<Opened>(opened);
    source_->setSource(opened.document.source, opened.document.noun, needs());
    source_->setOpened(opened);
    item_->setOpened(opened.document, opened.records, pictureCalls());
    flowIsStale_ = false;
    failedPictures_ = 0;
    connect(&flow_->collection()->pictures(), &render::PictureCache::failed, this,
            &MainWindow::tellOfPicture);
    states_.clear();
    undo_.clear();
    undo_.setClean();
    undo_.setUndoLimit(0);
    wishedAt_ = 0;
    journal();
    remember(QString::fromStdString(opened.document.path));
    tellTitle();
    tellSentence();
    const bool isPlainSource = opened.isPlain || opened.document.source.isService();
    go(isPlainSource ? Station::Source : Station::Flow);
    return done();
}

void MainWindow::tellTitle() {
    if (!opened_) {
        title_->setText(QStringLiteral("Scorrere"));
        subtitle_->setText(tr("nothing open"));
        setWindowTitle(QStringLiteral("Scorrere"));
        return;
    }
    const QString name = QString::fromStdString(opened_->document.name);
    title_->setText(name);
    const QString state = !undo_.isClean()                 ? tr("changed")
                          : opened_->document.path.empty() ? tr("not in a file")
                                                           : tr("saved");
    const QString noun = QString::fromStdString(opened_->document.noun);
    const auto known = knownCount();
    subtitle_->setText(known ? tr("%1 %2 · %3").arg(grouped(*known), noun, state)
                             : tr("%1 · %2").arg(noun, state));
    setWindowTitle(tr("%1 – Scorrere").arg(name));
    fitTopBar();
}

/// How many records there are, as far as anybody knows; nothing when a service does not tell.
std::optional<qint64> MainWindow::knownCount() const {
    const render::LiveCollection* live = flow_->collection();
    if (live == nullptr || live->paged() == nullptr) {
        return opened_->records->size();
    }
    const Pager& pager = live->paged()->pager();
    if (pager.total() || pager.endKnown()) {
        return pager.total().value_or(live->recordCount());
    }
    return std::nullopt;
}

void MainWindow::tellSentence() {
    if (!opened_) {
        return;
    }
    FlowSaid said;
    said.behaviour = flow_->behaviour();
    said.source = opened_->document.source;
    said.isDemo = opened_->document.source.isDemo;
    said.weather = flow_->weather();
    const QString noun = QString::fromStdString(opened_->document.noun);
    const auto known = knownCount();
    said.count = known ? QStringLiteral("%1 %2").arg(grouped(*known), noun) : noun;
    sentence_->say(said);
}

void MainWindow::change(const QString& what, const Behaviour& to) {
    if (opened_ && !(to == flow_->behaviour())) {
        undo_.push(new BehaviourCommand(*flow_, what, to));
    }
}

/// The collection runs on; one line tells of the first picture that cannot be shown, and of how many there
/// are.
void MainWindow::tellOfPicture(const QString& reason, render::PictureState state) {
    if (opened_ && saysWhenPictures(opened_->document.item, state)) {
        return; // the design reckons with it
    }
    if (opened_ && !opened_->missing.empty() && reason.contains(QStringLiteral("nobody allowed it"))) {
        askReach();
    }
    if (failedPictures_++ == 0) {
        firstFailedPicture_ = reason;
    } else if (notice_->isHidden()) {
        return; // it was read and closed
    }
    notice_->showNotice(
        tr("A picture cannot be shown: %1. Check the file, or the address in the item design.%2")
            .arg(firstFailedPicture_, failedPictures_ > 1
                                          ? tr(" (%1 pictures so far)").arg(grouped(failedPictures_))
                                          : QString()));
}

void MainWindow::remember(const QString& path) {
    if (path.isEmpty()) {
        return;
    }
    const QString key = QStringLiteral("recent");
    QStringList paths = surroundings_.settings->value(key).toStringList();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    paths.removeAll(absolute);
    paths.prepend(absolute);
    surroundings_.settings->setValue(key, QStringList(paths.mid(0, kRecentFiles)));
}

void MainWindow::fillRecent() {
    recent_->clear();
    const QStringList paths = surroundings_.settings->value(QStringLiteral("recent")).toStringList();
    for (const QString& path : paths) {
        connect(recent_->addAction(path), &QAction::triggered, this, [this, path] { open(path); });
    }
    if (paths.isEmpty()) {
        recent_->addAction(tr("Nothing opened yet"))->setEnabled(false);
    }
}

void MainWindow::restore() {
    QSettings& settings = *surroundings_.settings;
    restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
    flow_->splitter().restoreState(settings.value(QStringLiteral("splitter")).toByteArray());
    (void)source_->restoreWidths(settings.value(QStringLiteral("sourceSplitter")).toByteArray());
    item_->splitter().restoreState(settings.value(QStringLiteral("itemSplitter")).toByteArray());
    flow_->cutaway().setZoom(settings.value(QStringLiteral("zoom"), 3).toInt());
    look_.setTextScale(settings.value(QStringLiteral("textScale"), 1.0).toDouble());
    look_.setDark(settings.value(QStringLiteral("dark"), false).toBool());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && event->mimeData()->urls().first().isLocalFile()) {
        event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    const auto urls = event->mimeData()->urls();
    if (!urls.isEmpty()) {
        event->acceptProposedAction();
        open(urls.first().toLocalFile());
    }
}

/// What does not fit is in the menu, too: first the demos go.
void MainWindow::fitTopBar() {
    demoBox_->show();
    demoBox_->setVisible(top_->layout()->sizeHint().width() <= width());
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    fitTopBar();
}

void MainWindow::showEvent(QShowEvent* event) {
    QMainWindow::showEvent(event);
    if (!wasShown_) {
        wasShown_ = true;
        source_->warmUp();
        QTimer::singleShot(0, this, &MainWindow::offerLeftBehind);
    }
    // The toolkit takes only the first style sheet of a widget that was never shown; a remembered look came
    // second.
    Q_EMIT look_.changed();
}

bool MainWindow::event(QEvent* event) {
    if (event->type() == QEvent::UpdateRequest && std::exchange(paintsLater_, false)) {
        QTimer::singleShot(kPaintAfterMs, this,
                           [this] { QCoreApplication::postEvent(this, new QEvent(QEvent::UpdateRequest)); });
        return true;
    }
    return QMainWindow::event(event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!closing_ && hasUnsaved()) {
        event->ignore();
        return beforeReplacing([this] {
            closing_ = true;
            close();
        });
    }
    journal_.clear();
    QSettings& settings = *surroundings_.settings;
    settings.setValue(QStringLiteral("geometry"), saveGeometry());
    settings.setValue(QStringLiteral("splitter"), flow_->splitter().saveState());
    if (opened_) {
        settings.setValue(QStringLiteral("sourceSplitter"), source_->splitter().saveState());
    }
    settings.setValue(QStringLiteral("zoom"), flow_->cutaway().zoom());
    settings.setValue(QStringLiteral("itemSplitter"), item_->splitter().saveState());
    opener_.cancel();
    event->accept();
}

} // namespace scorrere::workbench
