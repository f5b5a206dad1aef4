// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QEvent>
#include <QScrollArea>
#include <QStyle>

namespace scorrere::workbench {

/// Scrolls what it holds up and down only, so it is never narrower than that needs.
class FittingScroll : public QScrollArea {
public:
    FittingScroll() {
        setWidgetResizable(true);
        setFrameShape(QFrame::NoFrame);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        setFocusPolicy(Qt::NoFocus); // what it holds has it
    }
    void setLeast(int width) {
        least_ = width;
        updateGeometry();
    }
    QSize minimumSizeHint() const override {
        const int needed = widget() == nullptr ? 0 : widget()->minimumSizeHint().width();
        return {std::max(least_, needed + style()->pixelMetric(QStyle::PM_ScrollBarExtent)),
                QScrollArea::minimumSizeHint().height()};
    }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (watched == widget() && event->type() == QEvent::LayoutRequest) {
            updateGeometry();
        }
        return QScrollArea::eventFilter(watched, event);
    }

private:
    int least_ = 0;
};

} // namespace scorrere::workbench
