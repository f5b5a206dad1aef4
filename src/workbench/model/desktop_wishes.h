// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"

#include <QObject>
#include <QString>
#include <optional>

namespace scorrere::workbench {

/// What the people at this desktop want of all programs. What nobody said is as it was.
struct DesktopWish {
    bool lessMotion = false;
    std::optional<bool> dark; ///< nothing: either look will do
    double textScale = 1;
    bool operator==(const DesktopWish&) const = default;
};

/// What the desktop's settings portal says, asked off the interface thread. Where there is none, or it does not answer, nobody
/// said anything.
///
/// Threads     The interface thread.
class DesktopWishes : public QObject {
    Q_OBJECT
public:
    explicit DesktopWishes(QObject* parent = nullptr) : QObject(parent) {}
    /// `bus`: the session's address; empty: there is none.
    void ask(const QString& bus = qEnvironmentVariable("DBUS_SESSION_BUS_ADDRESS"));

Q_SIGNALS:
    void told(const scorrere::workbench::DesktopWish& wish);

private:
    render::Job asking_;
};

} // namespace scorrere::workbench
