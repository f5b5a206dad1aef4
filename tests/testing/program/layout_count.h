// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QEvent>
#include <QObject>

namespace scorrere::testing {

/// Counts what a widget is asked to lay out.
class LayoutCount : public QObject {
public:
    explicit LayoutCount(QObject& of) { of.installEventFilter(this); }
    int count = 0;

protected:
    bool eventFilter(QObject*, QEvent* event) override {
        count += event->type() == QEvent::LayoutRequest ? 1 : 0;
        return false;
    }
};

} // namespace scorrere::testing
