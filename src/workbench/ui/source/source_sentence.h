// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/page_hints.h"
#include "workbench/model/source_reading.h"
#include "workbench/ui/look/sentence_bar.h"

#include <functional>

namespace scorrere::workbench {

/// What the sentence of Source is about, and what its words may choose from.
struct SourceSaid {
    SourceSpec source;
    std::string noun = "records";
    ReadOptions used; ///< as last read: with what was found out
    std::string charsetWhy;
    std::vector<std::string> itemPaths;
    std::vector<std::string> fields;
    std::vector<std::string> tables;
    std::vector<std::vector<std::string>> keyCandidates;
    std::vector<std::string> key; ///< the source's, or a proposed one
    PageHints hints;              ///< what the last answer tells of pages
    bool isLooking = false;       ///< for keys: none is proposed yet
    bool isAnything = false;      ///< else there is no source yet
};

/// The head of Source: one sentence that says where records come from and how they are read.
class SourceSentence : public SentenceBar {
    Q_OBJECT
public:
    using SentenceBar::SentenceBar;
    void say(const SourceSaid& said);

Q_SIGNALS:
    /// `what` names the change for undo.
    void sourceChanged(const QString& what, const scorrere::SourceSpec& source);
    void nounChanged(const QString& noun);
    /// Another place altogether: an address, a path, or one of the words below.
    void placeWanted(const QString& place);

private:
    using Change = std::function<void(SourceSpec&, const QString& word)>;
    SentenceWord* addChoice(const char* name, const QString& what, const QString& now,
                            const QStringList& choices, const QString& undoText, Change change);
    void sayPlace();
    void sayService();
    void sayNext();
    void sayForm();
    void sayItems();
    void sayKey();
    void saySign();

    SourceSaid said_;
};

/// The places one can choose without typing.
QString fileChoice();
QString listChoice();
QString demoChoice();
QString demoServiceChoice();

} // namespace scorrere::workbench
