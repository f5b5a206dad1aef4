// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/crash_offer.h"
#include "workbench/model/workspace.h"
#include "workbench/ui/action_book.h"
#include "workbench/ui/ask_card.h"
#include "workbench/ui/desktop_follower.h"
#include "workbench/ui/drop_hint.h"
#include "workbench/ui/finder.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/notice_stack.h"
#include "workbench/ui/stations.h"
#include "workbench/ui/surroundings.h"
#include "workbench/ui/top_bar.h"

#include <QMainWindow>
#include <QStackedWidget>
#include <functional>
#include <vector>

namespace scorrere::workbench {

/// The workbench's document window: a frame for the stations. It gives each a key, a place in the menu and
/// its settings, shows what is asked and told, and knows none of them.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Surroundings surroundings, const std::vector<StationMaker>& makers = allStations());
    ~MainWindow() override;

    Workspace& workspace() { return workspace_; }
    Look& look() { return look_; }
    AskCard& question() { return *ask_; }
    NoticeStack& notice() { return *notice_; }
    /// Shows a station, and there what the target names.
    void go(const Target& target);
    void goTo(const QString& stationId) { go({stationId, {}, {}}); }
    Station& station() const { return *stations_[current_]; }
    const QList<Station*>& stations() const { return stations_; }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    bool event(QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeStations(const std::vector<StationMaker>& makers);
    void makeFrame();
    void makeActions();
    void makeFileActions();
    void makeUndoActions();
    void makeStationActions();
    void makeViewActions();
    QAction* addAction(const QString& group, const QString& name, const QString& text,
                       const QKeySequence& keys, std::function<void()> does);
    void offer(const QString& group, QAction* action, int station = -1);
    void openFinder();
    void connectWorkspace();
    void showStation(int index);
    void tellTitle();
    void tellProgress();
    void tellSentence();
    void restyle();
    void remember(const QString& path);
    void restore();
    void dismiss();
    void showTold();
    void showText(const QString& title, const QString& file);

    Surroundings surroundings_;
    Look look_;
    Workspace workspace_;
    bool paintsLater_ = false; ///< the next painting lets what waits go first
    bool closing_ = false;     ///< the question was answered
    bool wasShown_ = false;
    QString progress_; ///< of what is under way, for the window's title
    TopBar* top_ = nullptr;
    AskCard* ask_ = nullptr;
    NoticeStack* notice_ = nullptr;
    DropHint* dropHint_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    QList<Station*> stations_;
    qsizetype current_ = 0;
    ActionBook actions_;
    Finder* finder_ = nullptr;
    QAction* dark_ = nullptr;
    DesktopFollower follower_;
    CrashOffer crashes_;
};

} // namespace scorrere::workbench
