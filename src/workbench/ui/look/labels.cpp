// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/labels.h"

#include <QHelpEvent>
#include <QPainter>
#include <QStyle>
#include <QToolTip>

namespace scorrere::workbench {

QString ElidedLabel::cut() const {
    return fontMetrics().elidedText(text(), Qt::ElideRight, contentsRect().width());
}

void ElidedLabel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const auto across = QStyle::visualAlignment(layoutDirection(), alignment());
    style()->drawItemText(&painter, contentsRect(), static_cast<int>(across), palette(), isEnabled(), cut(),
                          foregroundRole());
}

bool ElidedLabel::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip && toolTip().isEmpty()) {
        QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), cut() == text() ? QString() : text(),
                           this);
        return true;
    }
    return QLabel::event(event);
}

} // namespace scorrere::workbench

#include "moc_labels.cpp"
