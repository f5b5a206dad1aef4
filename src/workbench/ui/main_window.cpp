// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/main_window.h"

#include "workbench/model/chronicle.h"
#include "workbench/model/keeper.h"
#include "workbench/model/opening.h"
#include "workbench/ui/look/demos.h"
#include "workbench/ui/look/reading_order.h"
#include "workbench/ui/text_reader.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QScreen>
#include <QScrollArea>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr int kPaintAfterMs = 2;
constexpr int kRecentFiles = 8;

} // namespace

MainWindow::MainWindow(Surroundings surroundings, const std::vector<StationMaker>& makers)
    : surroundings_(std::move(surroundings)),
      workspace_({std::move(surroundings_.secrets), surroundings_.settings.get(), surroundings_.journalFolder,
                  [this](const QString& proposed) { return surroundings_.askWhereToSave(this, proposed); }}),
      actions_(workspace_, stations_, [this](int index) { showStation(index); }),
      follower_(look_, *surroundings_.settings, surroundings_.desktopBus),
      crashes_(workspace_, surroundings_.crashFolder) {
    setObjectName(QStringLiteral("mainWindow"));
    setAcceptDrops(true);
    // Before the stations hear of it: what is opened is a turn's work, and painting it another.
    connect(&workspace_, &Workspace::replaced, this, [this] { paintsLater_ = true; });
    makeFrame();
    makeStations(makers);
    makeActions();
    connectWorkspace();
    connect(&look_, &Look::changed, this, &MainWindow::restyle);
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    restore();
    restyle();
    tellTitle();
    showStation(0);
}

MainWindow::~MainWindow() {
    workspace_.disconnect(this);
    for (Station* station : std::as_const(stations_)) { // before what they are views on
        QWidget* sentence = station->sentence();
        delete station;
        delete sentence;
    }
}

void MainWindow::makeFrame() {
    auto* whole = new ReadingOrder(this);
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    top_ = new TopBar(look_);
    stack_ = new QStackedWidget;
    column->addWidget(top_);
    column->addWidget(stack_, 1);
    setCentralWidget(whole);
    ask_ = new AskCard(look_, whole);
    notice_ = new NoticeStack(look_, whole);
    dropHint_ = new DropHint(look_, whole);
    connect(notice_, &NoticeStack::cancelled, &workspace_, &Workspace::cancelled);
    connect(notice_, &NoticeStack::cancelled, this, &MainWindow::tellProgress);
    connect(top_, &TopBar::stationWanted, this, [this](int index) { showStation(index); });
    connect(top_, &TopBar::openWanted, this,
            [this] { workspace_.opening().open(surroundings_.askWhatToOpen(this)); });
    connect(top_, &TopBar::findingsWanted, this, [this] {
        const std::vector<Finding> all = workspace_.findings().all();
        const auto worst = std::ranges::find_if(all, &Finding::isWarning);
        if (worst != all.end()) {
            go(worst->target);
        }
    });
}

void MainWindow::makeStations(const std::vector<StationMaker>& makers) {
    const StationNeeds needs{workspace_, look_, surroundings_.askWhatToOpen, surroundings_.askWhereToSave,
                             surroundings_.pagesFile};
    auto* column = static_cast<QVBoxLayout*>(centralWidget()->layout());
    int place = column->indexOf(top_);
    for (const StationMaker& make : makers) {
        Station* station = make(needs);
        stations_ << station;
        // Where words are larger than the window has room for, a station is scrolled, not cut.
        auto* room = new QScrollArea;
        room->setWidget(station);
        room->setWidgetResizable(true);
        room->setFrameShape(QFrame::NoFrame);
        room->setFocusPolicy(Qt::NoFocus);
        stack_->addWidget(room);
        top_->addStation(station->title());
        if (QWidget* sentence = station->sentence()) {
            column->insertWidget(++place, sentence);
        }
        connect(station, &Station::noticed, notice_, &NoticeStack::tell);
        connect(station, &Station::noticed, this, &Chronicle::tellFailure);
        connect(station, &Station::noticed, this, &MainWindow::tellProgress);
        connect(station, &Station::goWanted, this, &MainWindow::go);
    }
}

void MainWindow::connectWorkspace() {
    connect(&workspace_, &Workspace::asks, ask_, &AskCard::ask);
    connect(&workspace_, &Workspace::unasks, ask_, &AskCard::drop);
    connect(&workspace_, &Workspace::noticed, notice_, &NoticeStack::tell);
    connect(&workspace_, &Workspace::noticed, this, &MainWindow::tellProgress);
    connect(&workspace_, &Workspace::stateChanged, this, &MainWindow::tellTitle);
    connect(&workspace_, &Workspace::replaced, this, [this](bool again) {
        if (!again) {
            remember(QString::fromStdString(workspace_.document().path));
        }
    });
    connect(&workspace_.keeper(), &Keeper::saved, this, &MainWindow::remember);
    connect(&workspace_.findings(), &FindingsBook::changed, this, [this] {
        top_->tellFindings(workspace_.findings().warnings());
        top_->fit(width());
    });
}

void MainWindow::showStation(int index) {
    if (index != current_) {
        stations_[current_]->left();
    }
    current_ = index;
    stack_->setCurrentIndex(index);
    top_->setStation(index);
    for (Station* each : std::as_const(stations_)) {
        for (QAction* action : each->ownActions()) {
            action->setEnabled(each == stations_[index]);
        }
    }
    tellSentence();
    stations_[index]->entered();
}

void MainWindow::go(const Target& target) {
    const auto found = std::ranges::find(stations_, target.station, &Station::id);
    if (found != stations_.end()) {
        showStation(static_cast<int>(found - stations_.begin()));
        (*found)->reveal(target);
    }
}

void MainWindow::tellSentence() {
    for (Station* each : std::as_const(stations_)) {
        if (QWidget* sentence = each->sentence()) {
            sentence->setVisible(each == stations_[current_] &&
                                 (workspace_.isOpen() || each->hasSentenceWhenEmpty()));
        }
    }
}

/// Where the window is out of sight, its entry in the task bar says how far it is.
void MainWindow::tellProgress() {
    const std::optional<double> share = notice_->share();
    const QString progress = !share       ? QString()
                             : *share < 0 ? tr("\u2026 \u00b7 ")
                                          : tr("%1% \u00b7 ").arg(static_cast<int>(*share * 100));
    if (progress != progress_) {
        progress_ = progress;
        tellTitle();
    }
}

void MainWindow::tellTitle() {
    if (!workspace_.isOpen()) {
        top_->tell(QStringLiteral("Scorrere"), tr("nothing open"));
        return setWindowTitle(progress_ + QStringLiteral("Scorrere"));
    }
    const CollectionDocument& document = workspace_.document();
    const QString name = QString::fromStdString(document.name);
    const QString noun = QString::fromStdString(document.noun);
    const QString state = !workspace_.undo().isClean() ? tr("changed")
                          : document.path.empty()      ? tr("not in a file")
                                                       : tr("saved");
    const auto known = workspace_.knownCount();
    top_->tell(name,
               known ? tr("%1 %2 · %3").arg(grouped(*known), noun, state) : tr("%1 · %2").arg(noun, state));
    setWindowTitle(progress_ + tr("%1 – Scorrere").arg(name));
    top_->fit(width());
}

QAction* MainWindow::addAction(const QString& group, const QString& name, const QString& text,
                               const QKeySequence& keys, std::function<void()> does) {
    auto* action = new QAction(text, this);
    action->setObjectName(name);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, [does = std::move(does)] { does(); });
    offer(group, action);
    return action;
}

void MainWindow::offer(const QString& group, QAction* action, int station) {
    actions_.add(group, action, station);
    QMainWindow::addAction(action); // its keys work
}

void MainWindow::makeActions() {
    finder_ = new Finder(look_, this);
    makeFileActions();
    makeUndoActions();
    makeStationActions();
    makeViewActions();
    auto* open = new QAction(this);
    open->setShortcut(QKeySequence(tr("F10")));
    connect(open, &QAction::triggered, this, &MainWindow::openFinder);
    connect(top_, &TopBar::menuWanted, this, &MainWindow::openFinder);
    QMainWindow::addAction(open);
}

void MainWindow::openFinder() {
    finder_->openBelow(top_->menuButton(), [this](const QString& typed) {
        return actions_.offers(typed, current_,
                               surroundings_.settings->value(QStringLiteral("recent")).toStringList());
    });
}

void MainWindow::makeFileActions() {
    Opening& opening = workspace_.opening();
    const QString group = tr("Collection");
    addAction(group, QStringLiteral("open"), tr("Open…"), QKeySequence::Open,
              [this, &opening] { opening.open(surroundings_.askWhatToOpen(this)); });
    for (int key = 1; const DemoOffer& demo : demoOffers()) {
        const QString keys = key < 10 ? tr("Ctrl+%1").arg(key) : tr("Ctrl+Shift+%1").arg(key - 9);
        ++key;
        top_->addDemo(addAction(group, demo.name, demo.text, QKeySequence(keys),
                                [&opening, open = demo.open] { open(opening); }));
    }
    addAction(group, QStringLiteral("save"), tr("Save"), QKeySequence::Save,
              [this] { workspace_.keeper().saveOrAsk(false, [](bool) {}); });
    addAction(group, QStringLiteral("saveAs"), tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")),
              [this] { workspace_.keeper().saveOrAsk(true, [](bool) {}); });
}

void MainWindow::makeUndoActions() {
    QAction* undo = workspace_.undo().createUndoAction(this, tr("Undo"));
    undo->setObjectName(QStringLiteral("undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = workspace_.undo().createRedoAction(this, tr("Redo"));
    redo->setObjectName(QStringLiteral("redo"));
    redo->setShortcut(QKeySequence(tr("Ctrl+Shift+Z")));
    offer(tr("Collection"), undo);
    offer(tr("Collection"), redo);
}

/// What each station has, below its name.
void MainWindow::makeStationActions() {
    for (int i = 0; i < stations_.size(); ++i) {
        const Station* station = stations_[i];
        addAction(station->title(), QStringLiteral("go") + station->title(),
                  tr("Go to %1").arg(station->title()), QKeySequence(tr("Alt+%1").arg(i + 1)),
                  [this, i] { showStation(i); });
        for (QAction* action : station->lastingActions()) {
            offer(station->title(), action);
        }
        for (QAction* action : station->ownActions()) {
            offer(station->title(), action, i);
        }
    }
}

void MainWindow::makeViewActions() {
    const QString group = tr("Workbench");
    dark_ = addAction(group, QStringLiteral("dark"), tr("Dark look"), QKeySequence(tr("Ctrl+D")),
                      [this] { follower_.setDark(!look_.isDark()); });
    dark_->setCheckable(true);
    const auto scale = [this](double to) { follower_.setTextScale(to); };
    addAction(group, QStringLiteral("larger"), tr("Larger workbench text"), QKeySequence(tr("Ctrl++")),
              [this, scale] { scale(look_.textScale() + 0.25); });
    addAction(group, QStringLiteral("smaller"), tr("Smaller workbench text"), QKeySequence(tr("Ctrl+-")),
              [this, scale] { scale(look_.textScale() - 0.25); });
    addAction(group, QStringLiteral("usual"), tr("Workbench text as usual"), QKeySequence(tr("Ctrl+0")),
              [scale] { scale(1); });
    addAction(group, QStringLiteral("asDesktop"), tr("Look and text size as the desktop has them"),
              QKeySequence(tr("Ctrl+Alt+D")), [this] { follower_.follow(); });
    addAction(group, QStringLiteral("log"), tr("Show the log"), QKeySequence(tr("Ctrl+Shift+L")),
              [this] { showText(tr("Log"), surroundings_.logFolder + QStringLiteral("/scorrere.log")); });
    connect(&crashes_, &CrashOffer::showWanted, this,
            [this](const QString& file) { showText(tr("What was going on"), file); });
    addAction(group, QStringLiteral("told"), tr("What was told so far"), QKeySequence(tr("Ctrl+Shift+N")),
              [this] { showTold(); });
    addAction(group, QStringLiteral("dismiss"), tr("Close the notice, or cancel what it tells of"),
              QKeySequence(tr("Esc")), [this] { dismiss(); });
    addAction(group, QStringLiteral("quit"), tr("Quit"), QKeySequence(tr("Ctrl+Q")), [this] { close(); });
}

void MainWindow::dismiss() {
    if (ask_->isAsking()) {
        return ask_->decline();
    }
    notice_->dismiss();
}

/// All that was told, to be read again.
void MainWindow::showTold() {
    auto* card = new QPlainTextEdit(notice_->history().join(QStringLiteral("\n\n")), this);
    card->setWindowFlag(Qt::Popup);
    card->setObjectName(QStringLiteral("toldSoFar"));
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setReadOnly(true);
    card->setFont(look_.font(13));
    card->setPlaceholderText(tr("Nothing was told yet."));
    card->resize(std::min(static_cast<int>(look_.scaled(560)), width() - 40), height() / 2);
    card->move(mapToGlobal(QPoint((width() - card->width()) / 2, height() / 4)));
    card->show();
    card->moveCursor(QTextCursor::End);
}

void MainWindow::showText(const QString& title, const QString& file) {
    (new TextReader(look_, title, file, this))->show();
}

void MainWindow::restyle() {
    dark_->setChecked(look_.isDark());
    setPalette(QApplication::palette());
    top_->fit(width());
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

void MainWindow::restore() {
    QSettings& settings = *surroundings_.settings;
    restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
    for (Station* station : std::as_const(stations_)) {
        station->restore(settings);
    }
    follower_.start();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && event->mimeData()->urls().first().isLocalFile()) {
        event->acceptProposedAction();
        dropHint_->showFor(event->mimeData()->urls().first().fileName(), workspace_.hasUnsaved());
    }
}

void MainWindow::dragLeaveEvent(QDragLeaveEvent*) {
    dropHint_->hide();
}

void MainWindow::dropEvent(QDropEvent* event) {
    dropHint_->hide();
    const auto urls = event->mimeData()->urls();
    if (!urls.isEmpty()) {
        event->acceptProposedAction();
        workspace_.opening().open(urls.first().toLocalFile());
    }
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    top_->fit(width());
}

void MainWindow::showEvent(QShowEvent* event) {
    QMainWindow::showEvent(event);
    if (!std::exchange(wasShown_, true)) {
        QTimer::singleShot(0, &workspace_.keeper(), &Keeper::offerLeftBehind);
        QTimer::singleShot(0, &crashes_, &CrashOffer::look);
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
    if (!closing_ && workspace_.hasUnsaved()) {
        event->ignore();
        return workspace_.keeper().beforeReplacing([this] {
            closing_ = true;
            close();
        });
    }
    workspace_.keeper().clear();
    surroundings_.settings->setValue(QStringLiteral("geometry"), saveGeometry());
    for (const Station* station : std::as_const(stations_)) {
        station->save(*surroundings_.settings);
    }
    workspace_.opening().cancel();
    event->accept();
}

} // namespace scorrere::workbench

#include "moc_main_window.cpp"
