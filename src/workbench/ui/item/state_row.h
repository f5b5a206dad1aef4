// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/item_state.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QList>
#include <QPushButton>
#include <QWidget>

namespace scorrere::workbench {

/// Small toggles: specimens show as if that were so of their items. There is one for each state that the design reads; none where it reads
/// none.
class StateRow : public QWidget {
    Q_OBJECT
public:
    explicit StateRow(Look& look, QWidget* parent = nullptr);
    void offer(ItemState read);
    ItemState state() const { return state_; }

Q_SIGNALS:
    void stateChanged();

private:
    void restyle();

    Look& look_;
    QLabel* lead_ = nullptr;
    QList<QPushButton*> toggles_; ///< by flag
    ItemState state_;
};

} // namespace scorrere::workbench
