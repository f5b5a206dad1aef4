// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QSyntaxHighlighter>

namespace scorrere::workbench {

/// JSON in the look's colours: names, texts, and what is neither. Follows the look.
class JsonColours : public QSyntaxHighlighter {
    Q_OBJECT
public:
    JsonColours(Look& look, QTextDocument* document);

protected:
    void highlightBlock(const QString& text) override;

private:
    Look& look_;
};

} // namespace scorrere::workbench
