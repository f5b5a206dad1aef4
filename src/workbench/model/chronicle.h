// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/collection_runner.h"
#include "workbench/model/workspace.h"

#include <QElapsedTimer>
#include <QObject>

namespace scorrere::workbench {

/// What the log says of a frame that took longer than the budget, and `more` that did since the last it told of.
std::string slowFrameLine(const FrameRecord& frame, double budgetMs, std::int64_t more);

/// Tells the log what happens in a window: what is opened and saved, what is found and what fails, frames that were slow and why.
///
/// Ownership   Refers to what it listens to, which outlives it.
/// Threads     The interface thread.
class Chronicle : public QObject {
    Q_OBJECT
public:
    Chronicle(Workspace& workspace, CollectionRunner& runner, QObject* parent = nullptr);
    /// Something that was wanted did not come about, wherever that was told.
    static void tellFailure(const Notice& notice);
    /// Calls over the network of all the process are told from now on.
    static void listenToCalls();

private:
    void tellOpened(bool again);
    void tellFrame();

    Workspace& workspace_;
    CollectionRunner& runner_;
    QElapsedTimer sinceSlow_;
    std::int64_t slowUntold_ = 0;
    std::int64_t lastFrame_ = -1;
    int warnings_ = 0;
};

} // namespace scorrere::workbench
