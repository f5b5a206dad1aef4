// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "workbench/ui/look/sentence_bar.h"

namespace scorrere::workbench {

/// How the entries of a strip within an item stand: "They stand as a list running sideways, 96 px wide, 8 px apart."
class StripWords : public SentenceBar {
    Q_OBJECT
public:
    StripWords(Look& look, const ArrangementSpec& arrangement, QWidget* parent = nullptr);

Q_SIGNALS:
    void wanted(const scorrere::ArrangementSpec& arrangement);

private:
    using Change = std::function<std::optional<ArrangementSpec>(const QString& word)>;
    void add(const char* name, const QString& what, const QStringList& choices, const QString& word,
             const Change& change);

    const ArrangementSpec now_;
};

} // namespace scorrere::workbench
