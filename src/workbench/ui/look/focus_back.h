// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>
#include <QObject>
#include <QPointer>
#include <QWidget>

namespace scorrere::workbench {

/// What had the focus before something that lies over the page took it has it again when that is closed; else the next in the
/// window's order would, and the key that is pressed then would mean that.
///
/// Ownership   A child of what lies over the page.
class FocusBack : public QObject {
public:
    explicit FocusBack(QWidget* over) : QObject(over), over_(over) {
        connect(qApp, &QApplication::focusChanged, this, [this](QWidget* old, QWidget* now) {
            if (old != nullptr && !isOver(old) && isOver(now)) {
                before_ = old;
            }
        });
    }
    bool isHere() const { return isOver(over_->window()->focusWidget()); }
    /// Before it is hidden. Where the focus is elsewhere nothing happens.
    void giveBack() {
        if (isHere() && before_ && before_->isVisible()) {
            before_->setFocus();
        }
    }

private:
    bool isOver(const QWidget* widget) const {
        return widget != nullptr && (widget == over_ || over_->isAncestorOf(widget));
    }

    QWidget* over_;
    QPointer<QWidget> before_;
};

} // namespace scorrere::workbench
