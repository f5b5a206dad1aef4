// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/live_watch.h"

#include <algorithm>

namespace scorrere::workbench {

LiveWatch::LiveWatch(Workspace& workspace, CollectionRunner& runner, QObject* parent)
    : QObject(parent), workspace_(workspace), runner_(runner) {
    connect(&runner_, &CollectionRunner::orderChanged, this, &LiveWatch::follow);
    connect(&runner_, &CollectionRunner::came, this, &LiveWatch::follow);
    connect(&runner_, &CollectionRunner::windowsChanged, this, &LiveWatch::follow);
    connect(&runner_, &CollectionRunner::goes, this,
            [this] { std::ranges::for_each(all(), &WorkWatch::end); });
    connect(&runner_, &CollectionRunner::searchChanged, this, &LiveWatch::follow);
    connect(&workspace_.undo(), &QUndoStack::indexChanged, this, &LiveWatch::follow);
    connect(&workspace_, &Workspace::cancelled, this, &LiveWatch::cancel);
    for (WorkWatch* watch : all()) {
        connect(watch, &WorkWatch::told, this, &LiveWatch::noticed);
    }
}

void LiveWatch::follow() {
    render::LiveCollection* const live = runner_.collection();
    if (live != nullptr && live->isOrderOnItsWay()) {
        ordering_.begin(
            tr("Putting the %1 in order").arg(QString::fromStdString(workspace_.document().noun)),
            [live] { return live->orderDone(); },
            [this] { return workspace_.undo().index() != stepOfOrder_; });
    } else {
        ordering_.end();
        if (live == nullptr || !live->isOrdering()) { // else edits wait for the next frame
            stepOfOrder_ = workspace_.undo().index();
        }
    }
    const render::LiveCollection* const looked = live != nullptr ? runner_.looked() : nullptr;
    if (looked != nullptr && looked->isComparing()) {
        comparing_.begin(tr("Comparing the ways"), [this] { return runner_.looked()->comparedShare(); });
    } else {
        comparing_.end();
    }
    if (looked != nullptr && looked->hands().isSearching()) {
        searching_.begin(tr("Looking for the item"),
                         [this] { return runner_.looked()->hands().searchedShare(); });
    } else {
        searching_.end();
    }
}

void LiveWatch::cancel(const QString& about) {
    if (about == comparing_.about() && comparing_.isUnderWay()) {
        runner_.looked()->stopComparing();
    } else if (about == searching_.about() && searching_.isUnderWay()) {
        runner_.looked()->hands().stopSearching();
    } else if (about == ordering_.about() && ordering_.isUnderWay()) {
        workspace_.undo().setIndex(stepOfOrder_); // what was wanted of it can be done again
    }
}

} // namespace scorrere::workbench

#include "moc_live_watch.cpp"
