// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/offer.h"
#include "workbench/ui/look/station.h"

#include <QAction>
#include <QList>
#include <QStringList>
#include <functional>
#include <vector>

namespace scorrere::workbench {

/// All that can be done in the window, to be found by typing: its actions, what was opened before, what the
/// words of the sentences can become, and what the stations lead to.
///
/// Ownership   Refers to all it is given.
class ActionBook {
public:
    /// `show`: goes to a station by its place.
    ActionBook(Workspace& workspace, const QList<Station*>& stations, std::function<void(int)> show)
        : workspace_(workspace), stations_(stations), show_(std::move(show)) {}
    /// `station`: the action works only while that one is seen, and is gone there for; -1: anywhere.
    void add(const QString& group, QAction* action, int station = -1) {
        entries_.push_back({group, action, station});
    }
    std::vector<Offer> offers(const QString& typed, qsizetype current, const QStringList& recent) const;

private:
    struct Entry {
        QString group;
        QAction* action;
        int station;
    };
    void addWordOffers(std::vector<Offer>& to, int station) const;

    Workspace& workspace_;
    const QList<Station*>& stations_;
    std::function<void(int)> show_;
    std::vector<Entry> entries_;
};

} // namespace scorrere::workbench
