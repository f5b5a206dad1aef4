// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "workbench/model/board_model.h"
#include "workbench/ui/look/sentence_bar.h"

namespace scorrere::workbench {

/// What the sentence of Item is about.
struct ItemSaid {
    const CollectionDocument& document;
    int which = kRecordDesign;
    std::vector<BoardSetting> settings;
    std::size_t found = 0; ///< hard records
    std::int64_t considered = 0;
};

/// How wide the strips are that the board shows items of: those chosen, or the document's device.
std::vector<double> boardWidths(const CollectionDocument& document);

/// The head of Item: one sentence that says which design is shown, how, and on which records.
class ItemSentence : public SentenceBar {
    Q_OBJECT
public:
    explicit ItemSentence(Look& look, QWidget* parent = nullptr);
    void say(const ItemSaid& said);

Q_SIGNALS:
    /// A design that there is: kRecordDesign, kHeaderDesign, kFooterDesign, or a kind.
    void whichWanted(int which);
    void newKindWanted();
    /// kHeaderDesign or kFooterDesign.
    void newEndWanted(int which);
    /// For which records the kind that is shown is meant.
    void ruleWanted(const QString& rule);
    void localeWanted(const QString& locale);
    /// `what` names the change for undo.
    void boardWanted(const QString& what, const scorrere::BoardSpec& board);

private:
    void addWords();
    void connectWords();
    void tellWhich(const QString& word);
    void sayWhich(const ItemSaid& said);
    void sayHardest(const ItemSaid& said);

    BoardSpec board_;
    QStringList kinds_;
    QStringList entries_; ///< of strips, in order
    std::size_t found_ = 0;
    SentenceWord* which_ = nullptr;
    SentenceWord* rule_ = nullptr;
    SentenceWord* locale_ = nullptr;
    SentenceWord* widths_ = nullptr;
    SentenceWord* scales_ = nullptr;
    SentenceWord* densities_ = nullptr;
    SentenceWord* hardest_ = nullptr;
    SentenceWord* pinned_ = nullptr;
};

} // namespace scorrere::workbench
