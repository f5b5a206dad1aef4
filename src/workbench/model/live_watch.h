// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/collection_runner.h"
#include "workbench/model/work_watch.h"

#include <QObject>
#include <array>

namespace scorrere::workbench {

/// Tells how far a run's long work is: another order of the records, a comparison of the ways to make one, a search for an
/// item. Ends what is not wanted any more.
///
/// Ownership   Refers to the workspace and the runner, which outlive it.
/// Threads     The interface thread.
class LiveWatch : public QObject {
    Q_OBJECT
public:
    LiveWatch(Workspace& workspace, CollectionRunner& runner, QObject* parent = nullptr);

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);

private:
    std::array<WorkWatch*, 3> all() { return {&ordering_, &comparing_, &searching_}; }
    void follow();
    void cancel(const QString& about);

    Workspace& workspace_;
    CollectionRunner& runner_;
    WorkWatch ordering_{QStringLiteral("order")};
    WorkWatch comparing_{QStringLiteral("comparison")};
    WorkWatch searching_{QStringLiteral("item")};
    int stepOfOrder_ = 0; ///< of undo, at which the order in force was wanted
};

} // namespace scorrere::workbench
