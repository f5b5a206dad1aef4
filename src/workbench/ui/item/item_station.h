// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"
#include "workbench/model/hard_search.h"
#include "workbench/ui/item/design_pane.h"
#include "workbench/ui/item/extremes_board.h"
#include "workbench/ui/item/fields_tray.h"
#include "workbench/ui/item/item_sentence.h"
#include "workbench/ui/item/part_card.h"
#include "workbench/ui/item/starting_gallery.h"
#include "workbench/ui/item/state_row.h"
#include "workbench/ui/look/fitting_scroll.h"
#include "workbench/ui/look/sentence_bar.h"
#include "workbench/ui/look/station.h"

#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>
#include <QWidget>
#include <memory>

namespace scorrere::workbench {

/// The station where one item is designed, on the records that break the design.
///
/// What is no design does not get into the document: its error stands where it was typed, and the last good
/// design stays on the board.
class ItemStation : public Station {
    Q_OBJECT
public:
    explicit ItemStation(const StationNeeds& needs, QWidget* parent = nullptr);
    ~ItemStation() override;

    QString id() const override { return QStringLiteral("item"); }
    QString title() const override { return tr("Item"); }
    QWidget* sentence() override { return sentence_; }
    void entered() override;
    void left() override;
    void reveal(const Target& target) override;
    std::vector<Offer> offers(const QString& typed) override;
    void save(QSettings& settings) const override;
    void restore(QSettings& settings) override;

    ExtremesBoard& board() { return *board_; }
    BoardModel& model() { return model_; }
    PartCard& card() { return *card_; }
    DesignPane& pane() { return *pane_; }
    render::PictureCache* pictures() { return pictures_.get(); }

    /// Which design is shown: kRecordDesign, kHeaderDesign, kFooterDesign, or a kind.
    int which() const { return which_; }
    void setWhich(int which);
    /// All records were looked at.
    bool isSettled() const {
        return search_.isWhole() && !isStale_ && !search_.isBusy() && !hardDue_.isActive() &&
               !revealDue_.isActive();
    }
    void showText(bool shows);
    bool showsText() const;
    void removeSelected();
    void duplicateSelected();

private:
    void takeReplaced(bool again);
    void takeChanged(Sections what);
    void takeWhich();
    void tellFindings();
    void takeGrowth(bool last);
    void makePictures();
    void wake();
    void connectSentence();
    void addKind();
    void addEnd(int which);
    std::size_t hardShown() const; ///< of those found, as many as the document says
    void sortSpecimens();
    QWidget* makeHintRow();
    QWidget* makeRight();
    void connectBoard();
    void connectCard();
    void restyle();
    void tellSentence();
    void tellRight();
    void tellHint();
    void tryDraft(const QString& what, const DesignDraft& draft, const QString& merge,
                  const std::string& select);
    void tryText(const QString& text);
    std::optional<Error> problemOf(const std::string& text) const;
    void tellAbsent();
    void refresh();
    void findHard();
    void showHard();
    void showMore();
    void wantParameter(const QString& name, const QVariant& value);
    void tellRefused();
    void makeMissing();
    void changeParameter(const QString& name, const Parameter& to);
    void applySettings();
    void openAddMenu(const QString& beside, bool behind, QPoint global);
    void openBoxMenu(const QString& pointer, QPoint global);
    void addField(const QString& name, FieldType type);
    void addPart(const nlohmann::ordered_json& part, const std::string& beside, bool behind);
    std::vector<BoardSetting> settings() const;
    std::optional<double> entryWidth(double item) const;
    std::string rootPointer() const { return designPointer(document(), which_); }
    const CollectionDocument& document() const;
    render::PictureCalls calls() const;

    BoardModel model_;
    std::shared_ptr<render::PictureCache> pictures_; ///< shared with all that draws with it
    std::string picturesOf_;                         ///< the source the pictures' cache was made for
    DesignDraft draft_;
    /// What was wanted last and is no design.
    struct Refused {
        QString what;
        DesignDraft draft;
        std::string select;
        QString problem;
        bool lacksParameter = false;
    };
    std::optional<Refused> refused_;
    QTimer problemDue_;
    std::shared_ptr<const RecordTable> records_;
    int which_ = kRecordDesign;
    bool isActive_ = false;
    bool isStale_ = true;             ///< the model does not have the document yet
    std::vector<std::string> absent_; ///< fields that rules ask for and no record has
    HardSearch search_;
    QTimer hardDue_;
    QTimer revealDue_;
    std::size_t revealed_ = 0; ///< so many of the hardest are on the board
    ItemSentence* sentence_;
    QLabel* hint_ = nullptr;
    QPushButton* looking_ = nullptr; ///< ends the search, or begins it again
    QPushButton* sort_ = nullptr;
    StateRow* states_ = nullptr;
    QPushButton* touch_ = nullptr;
    QPushButton* boxes_ = nullptr;
    QPushButton* text_ = nullptr;
    ExtremesBoard* board_;
    PartCard* card_;
    FieldsTray* tray_;
    StartingGallery* gallery_;
    DesignPane* pane_;
    QStackedWidget* rightPages_ = nullptr;
    FittingScroll* scroll_ = nullptr;
    QSplitter* splitter_;
};

} // namespace scorrere::workbench
