// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/journal.h"
#include "workbench/model/opener.h"
#include "workbench/model/saver.h"
#include "workbench/ui/ask_card.h"
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/look/sentence_bar.h"
#include "workbench/ui/notice_band.h"
#include "workbench/ui/source/source_station.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMainWindow>
#include <QMenu>
#include <QSettings>
#include <QStackedWidget>
#include <QTimer>
#include <QToolButton>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>

namespace scorrere::workbench {

/// What the window needs from outside: tests bring their own.
struct Surroundings {
    std::unique_ptr<QSettings> settings;
    std::function<QString(QWidget*)> askWhatToOpen;                           ///< empty: nothing
    std::function<QString(QWidget*, const QString& proposed)> askWhereToSave; ///< empty: nowhere
    std::unique_ptr<Secrets> secrets;
    QString pagesFile;     ///< where pages are kept from run to run; empty: nowhere
    QString journalFolder; ///< where what is not saved is kept; empty: nowhere
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
    void openDemoService();
    void openList(const QString& text);
    /// Opens what a line of text names: an address, or a file's path.
    void openPlace(const QString& place);
    enum class Station { Source, Item, Flow };
    void go(Station station);
    Station station() const { return station_; }
    /// Shows a collection that is open already; headless runs wait for nothing.
    Outcome show(const Opened& opened, render::Estimating estimating);
    /// Writes the document there, off this thread, and says whether it was written as it is now.
    void save(const QString& path, const std::function<void(bool)>& then) { saveTo(path, false, then); }
    AskCard& question() { return *ask_; }
    /// Offers what a program that was killed left behind.
    void offerLeftBehind();

    FlowStation& flow() { return *flow_; }
    SourceStation& source() { return *source_; }
    ItemStation& item() { return *item_; }
    DemoService& demoService() { return *demo_; }
    NoticeBand& notice() { return *notice_; }
    Look& look() { return look_; }
    QUndoStack& undoStack() { return undo_; }
    Opener& opener() { return opener_; }
    SentenceBar& sentence() { return *sentence_; }
    /// Puts another source into the document, undoably, and reads it unless only names or the key changed.
    void changeSource(const QString& what, const SourceSpec& source);
    /// Puts another design into the document, undoably: JSON as CollectionDocument::designText gives it.
    /// Changes with the same `merge` in a row are one.
    void changeDesign(const QString& what, const QString& text, const QString& merge);
    const CollectionDocument* document() const { return opened_ ? &opened_->document : nullptr; }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    bool event(QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    friend class SourceCommand;
    friend class DesignCommand;
    friend class BoardCommand;
    friend class RestoredCommand;
    /// A collection that came while something unsaved stood in its place: it waits for an answer.
    struct Arrival {
        std::shared_ptr<Opened> opened;
        bool isLast = false;
        std::shared_ptr<SourceRead> read;
        std::shared_ptr<Examination> examination;
    };
    void makeTopBar();
    void makeStations(QHBoxLayout* row);
    void makeSentence();
    void connectFlow();
    void connectOpener();
    void connectSource();
    void connectItem();
    void applyDesign(const std::string& text);
    void applyBoard(const BoardSpec& board);
    void showDesignInFlow();
    void makeItemActions();
    void makeActions();
    void makeFileActions();
    void makeViewActions();
    QAction* addAction(QMenu* menu, const QString& name, const QString& text, const QKeySequence& keys,
                       std::function<void()> does);
    void restyle();
    void tellTitle();
    std::optional<qint64> knownCount() const;
    void tellSentence();
    void change(const QString& what, const Behaviour& to);
    void applySource(const SourceSpec& source, const std::string& noun);
    void readAgain();
    void starting(const QString& what);
    Outcome showFirst(const std::shared_ptr<Opened>& opened);
    void tellFindings();
    void fitTopBar();
    bool isList() const;
    void saveSchema();
    SourceNeeds needs() const;
    void remember(const QString& path);
    void fillRecent();
    void restore();
    bool hasUnsaved() const;
    void beforeReplacing(const std::function<void()>& then);
    void askAboutArrival();
    void landArrival();
    void takeOpened(const std::shared_ptr<Opened>& opened);
    void takeGrowth(const std::shared_ptr<const RecordTable>& records, bool last);
    void takeRead(const std::shared_ptr<SourceRead>& read);
    CollectionDocument documentNow() const;
    void saveTo(const QString& path, bool overTheirs, const std::function<void(bool)>& then);
    void takeSaved(Result<CollectionDocument> saved, const QString& path, const std::string& fileBefore);
    void askAboutTheirs(const QString& path);
    void saveOrAsk(bool elsewhere, const std::function<void(bool)>& then);
    void stayHere();
    void journal();
    void restoreFrom(const JournalEntry& entry);
    void showState(const std::string& text);
    void askReach();
    void refused(const Error& error);
    render::PictureCalls pictureCalls() const;
    void takePagesToItem();
    void tellOfPicture(const QString& reason, scorrere::render::PictureState state);

    Surroundings surroundings_;
    Trust trust_;
    Journal journal_;
    Look look_;
    QUndoStack undo_;
    std::shared_ptr<DemoService> demo_ = std::make_shared<DemoService>(); ///< shared with workers
    Opener opener_;
    std::unique_ptr<Opened> opened_;
    std::optional<Arrival> arrival_;
    bool paintsLater_ = false; ///< the next painting lets what waits go first
    int wishedAt_ = 0;         ///< of undo, when what is being opened was asked for
    bool closing_ = false;     ///< the question was answered
    bool restoring_ = false;
    Saver saver_;
    qint64 shows_ = 0;                                       ///< documents shown so far
    qint64 changes_ = 0;                                     ///< of the undo stack so far
    std::vector<std::shared_ptr<const std::string>> states_; ///< the document by undo index, for the journal
    QString opening_;
    bool wasShown_ = false;
    bool rereading_ = false;               ///< what is being read is the open document's source
    std::shared_ptr<const Answer> answer_; ///< came, but what it belongs to does not show yet
    Station station_ = Station::Source;
    QTimer receivedDue_;
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
    FlowSentence* sentence_ = nullptr;
    NoticeBand* notice_ = nullptr;
    AskCard* ask_ = nullptr;
    FlowStation* flow_ = nullptr;
    SourceStation* source_ = nullptr;
    ItemStation* item_ = nullptr;
    render::Job gathering_;    ///< of the records that pages brought, for Item
    bool flowIsStale_ = false; ///< Flow runs an earlier design
    QStackedWidget* stations_ = nullptr;
    QList<QToolButton*> stationButtons_;
    QToolButton* findingsButton_ = nullptr;
    QWidget* demoBox_ = nullptr;
    QList<QAction*> flowActions_;
    QList<QAction*> itemActions_;
};

} // namespace scorrere::workbench
