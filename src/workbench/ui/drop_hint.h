// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QLabel>

namespace scorrere::workbench {

/// Says, over the whole window, what happens when what is dragged over it is let go.
class DropHint : public QLabel {
    Q_OBJECT
public:
    DropHint(Look& look, QWidget* over) : QLabel(over), look_(look) {
        setObjectName(QStringLiteral("dropHint"));
        setAlignment(Qt::AlignCenter);
        setWordWrap(true);
        setAttribute(Qt::WA_TransparentForMouseEvents);
        hide();
    }
    /// `file`: its name. `unsaved`: what is open would be lost, and is asked about first.
    void showFor(const QString& file, bool unsaved) {
        setText(
            unsaved
                ? tr("Let go to open %1. What is open is not saved: you are asked about it first.").arg(file)
                : tr("Let go to open %1.").arg(file));
        setFont(look_.font(18, 600));
        QColor ground = look_.card;
        ground.setAlphaF(0.94F);
        setStyleSheet(QStringLiteral("background: %1; color: %2; border: 3px solid %3; padding: 24px;")
                          .arg(ground.name(QColor::HexArgb), look_.ink.name(), look_.accent.name()));
        setGeometry(parentWidget()->rect());
        raise();
        show();
    }

private:
    Look& look_;
};

} // namespace scorrere::workbench
