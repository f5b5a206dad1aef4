// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"

#include <QObject>
#include <QString>

namespace scorrere::workbench {

/// Whether the people at this desktop want less motion: what its settings portal says, asked once, off the interface thread.
/// Where there is no portal, or it does not answer, nobody said so.
///
/// Threads     The interface thread.
class DesktopMotion : public QObject {
    Q_OBJECT
public:
    explicit DesktopMotion(QObject* parent = nullptr) : QObject(parent) {}
    /// `bus`: the session's address; empty: there is none.
    void ask(const QString& bus = qEnvironmentVariable("DBUS_SESSION_BUS_ADDRESS"));

Q_SIGNALS:
    void told(bool less);

private:
    render::Job asking_;
};

} // namespace scorrere::workbench
