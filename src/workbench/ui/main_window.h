// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/opener.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/notice_band.h"
#include "workbench/ui/sentence_bar.h"

#include <QLabel>
#include <QMainWindow>
#include <QMenu>
#include <QSettings>
#include <QToolButton>
#include <QUndoStack>
#include <functional>
#include <memory>

namespace scorrere::workbench {

/// What the window needs from outside: tests bring their own.
struct Surroundings {
    std::unique_ptr<QSettings> settings;
    std::function<QString(QWidget*)> askWhatToOpen;                           ///< empty: nothing
    std::function<QString(QWidget*, const QString& proposed)> askWhereToSave; ///< empty: nowhere
    static Surroundings real();
};

/// The workbench's document window.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Surroundings surroundings);
    ~MainWindow() override;

    void open(const QString& path);
    void openDemo(qint64 count);
    /// Shows a collection that is open already; headless runs wait for nothing.
    Outcome show(const Opened& opened, render::Estimating estimating);
    bool save(const QString& path);

    FlowStation& flow() { return *flow_; }
    NoticeBand& notice() { return *notice_; }
    Look& look() { return look_; }
    QUndoStack& undoStack() { return undo_; }
    Opener& opener() { return opener_; }
    SentenceBar& sentence() { return *sentence_; }
    const CollectionDocument* document() const { return opened_ ? &opened_->document : nullptr; }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void makeTopBar();
    void makeSentence();
    void makeActions();
    void makeFileActions();
    void makeViewActions();
    QAction* addAction(QMenu* menu, const QString& name, const QString& text, const QKeySequence& keys,
                       std::function<void()> does);
    void restyle();
    void tellTitle();
    void tellSentence();
    void change(const QString& what, const Behaviour& to);
    void remember(const QString& path);
    void fillRecent();
    void restore();
    bool mayReplace();
    void saveOrAsk(bool elsewhere);
    void tellOfPicture(const QString& reason);

    Surroundings surroundings_;
    Look look_;
    QUndoStack undo_;
    Opener opener_;
    std::unique_ptr<Opened> opened_;
    QString opening_;
    qint64 failedPictures_ = 0;
    QString firstFailedPicture_;
    QWidget* top_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* subtitle_ = nullptr;
    QList<QToolButton*> buttons_;
    QToolButton* menuButton_ = nullptr;
    QMenu* menu_ = nullptr;
    QMenu* recent_ = nullptr;
    QAction* dark_ = nullptr;
    SentenceBar* sentence_ = nullptr;
    SentenceWord* count_ = nullptr;
    SentenceWord* device_ = nullptr;
    SentenceWord* held_ = nullptr;
    SentenceWord* lead_ = nullptr;
    SentenceWord* scale_ = nullptr;
    NoticeBand* notice_ = nullptr;
    FlowStation* flow_ = nullptr;
};

} // namespace scorrere::workbench
