// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/model/crash_note.h"
#include "workbench/model/workspace.h"

#include <QObject>

namespace scorrere::workbench {

/// Asks about a note that was left when the program fell, once.
///
/// Ownership   Refers to the workspace, which outlives it.
/// Threads     The interface thread.
class CrashOffer : public QObject {
    Q_OBJECT
public:
    CrashOffer(Workspace& workspace, QString folder, QObject* parent = nullptr);
    /// Looks for notes; what asks comes later.
    void look();

Q_SIGNALS:
    void showWanted(const QString& file);

private:
    void ask(const CrashNote& note);

    Workspace& workspace_;
    QString folder_;
    render::Job looking_;
};

} // namespace scorrere::workbench
