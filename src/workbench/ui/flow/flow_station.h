// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/chronicle.h"
#include "workbench/model/collection_runner.h"
#include "workbench/model/desktop_wishes.h"
#include "workbench/model/edit_sending.h"
#include "workbench/model/hand_actions.h"
#include "workbench/model/record_changes.h"
#include "workbench/model/script_run.h"
#include "workbench/ui/flow/edits_list.h"
#include "workbench/ui/look/order_words.h"
#include "workbench/ui/look/station.h"

#include <QBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QSplitter>
#include <QTimer>
#include <QToolButton>
#include <QVariant>
#include <QWidget>
#include <optional>
#include <vector>

namespace scorrere::workbench {

class Cutaway;
class FlowSentence;
class InstrumentSide;
class LeafBar;
class PictureNotices;
class RecordCard;
class StripMap;

/// The station where the collection runs: strip map, cutaway, and the instruments on what it does.
class FlowStation : public Station {
    Q_OBJECT
public:
    explicit FlowStation(const StationNeeds& needs, QWidget* parent = nullptr);

    QString id() const override { return QStringLiteral("flow"); }
    QString title() const override { return tr("Flow"); }
    QWidget* sentence() override;
    void entered() override;
    void reveal(const Target& target) override;
    std::vector<Offer> offers(const QString& typed) override;
    void save(QSettings& settings) const override;
    void restore(QSettings& settings) override;

    CollectionRunner& runner() { return runner_; }
    /// Null before anything was shown.
    render::LiveCollection* collection() { return runner_.collection(); }
    Cutaway& cutaway() { return *cutaway_; }
    /// A window's, from 0.
    Cutaway& cutawayOf(int window) { return *cutaways_[window]; }

public Q_SLOTS:
    void setPaused(bool paused);
    void stepFrame();
    void setSlow(bool slow);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeActions();
    void applyMotion();
    void connectSentence();
    void cutOpen(bool isOpen);
    void openArrangements(QWidget* word);
    void connectRunner();
    void connectInstruments();
    void letGo();
    void showCollection(bool isOther);
    void takeFrame();
    void tellWindow();
    void tellSentence();
    void countValues();
    std::int64_t recordsToGoTo();
    void connectEdits();
    void tellEdits();
    EditsList::Shown shownEdits() const;
    std::int64_t placeOfCard();
    void edit(const RecordEdit& edit, bool isAsSource);
    void openRecord(std::int64_t place);
    std::int64_t placeAtStart();
    std::int64_t placeAt(int window, QPointF at);
    void openMenu(int window, std::optional<QPointF> at, QPoint global);
    void editAtStart();
    void editAt(int window, QPointF at);
    void tellGesture();
    void tellTap(const render::LiveCollection::Tap& tap);
    void wantVariable(const QString& name, const QString& value);
    void wantParameter(const QString& name, const QVariant& value);
    void tellPages();
    void tellInstruments();
    render::LiveCollection* liveOf(int window) const;
    void failAt(const QString& key, const QString& why);
    void addActionsOf(QMenu& menu, render::LiveCollection& live, const render::HandItem& item);
    void playAgain(const GestureEntry& entry);
    void playOn();
    void makeHandsActions();
    void makeScriptActions();
    void playScript(const QString& path);
    QWidget* makeCutawaySide();
    Cutaway* addCutaway();
    void showWindows();
    void drawAlike();
    void standMap();
    void shareRoom();
    bool isWide() const;
    void restyle();
    void zoomTold();
    void tellParameters();

    CollectionRunner runner_;
    EditSending sending_;
    bool isFingerShown_ = false;
    std::vector<PointerSample> again_; ///< of a gesture that is made again, those that are still to come
    qint64 againUs_ = 0;               ///< so much later than it was made
    PictureNotices* pictureNotices_ = nullptr;
    FlowSentence* sentence_ = nullptr;
    QTimer instrumentsDue_;
    render::Job counting_;
    std::vector<FieldValues> values_; ///< of the records that are here, of fields that have few
    int instrumentsTold_ = 0;
    bool isMoreToTell_ = false;      ///< frames came while they were being told
    bool instrumentsAreNew_ = false; ///< they do not have what runs now
    QBoxLayout* mapRow_ = nullptr;   ///< the strip map beside the cutaway, or below it
    StripMap* map_ = nullptr;
    QLabel* cutawayName_;
    QLabel* gestureSaid_ = nullptr;
    Cutaway* cutaway_ = nullptr;
    QList<Cutaway*> cutaways_; ///< that one, and those beside it
    QHBoxLayout* windows_ = nullptr;
    LeafBar* leafBar_ = nullptr;
    InstrumentSide* instruments_ = nullptr;
    QPointer<RecordCard> recordCard_; ///< open
    DesktopWishes desktopWishes_;
    Chronicle* chronicle_ = nullptr;
    ScriptRun* script_ = nullptr;
    std::function<QString(QWidget*)> askWhatToOpen_;
    bool isLessMotion_ = false;      ///< wanted here
    bool isDesktopStill_ = false;    ///< wanted by the desktop
    QToolButton* waiting_ = nullptr; ///< "12 new"
    QSplitter* splitter_ = nullptr;
    QTimer shareDue_;
    bool isSharedByHand_ = false; ///< the user moved its handle
    QLabel* zoomLabel_ = nullptr;
    QList<QLabel*> headings_;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
