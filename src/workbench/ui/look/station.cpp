// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/station.h"

namespace scorrere::workbench {

QAction* Station::made(const QString& name, const QString& text, const QKeySequence& keys,
                       std::function<void()> does) {
    auto* action = new QAction(text, this);
    action->setObjectName(name);
    action->setShortcut(keys);
    action->setShortcutVisibleInContextMenu(true);
    connect(action, &QAction::triggered, this, [does = std::move(does)] { does(); });
    return action;
}

} // namespace scorrere::workbench

#include "moc_station.cpp"
