// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/desktop_wishes.h"
#include "workbench/ui/look/look.h"

#include <QObject>
#include <QSettings>

namespace scorrere::workbench {

/// The workbench's look and text size: as the desktop has them, or as somebody said here, which is remembered.
///
/// Ownership   Refers to the look and the settings, which outlive it.
/// Threads     The interface thread.
class DesktopFollower : public QObject {
    Q_OBJECT
public:
    DesktopFollower(Look& look, QSettings& settings, QString bus, QObject* parent = nullptr);
    /// As said here before; what was not said, the desktop is asked for, and again whenever people come back to the program.
    void start();
    void setDark(bool dark);
    void setTextScale(double scale);
    /// Nothing is said here any more.
    void follow();

private:
    void take(const DesktopWish& wish);

    Look& look_;
    QSettings& settings_;
    QString bus_;
    DesktopWishes wishes_;
};

} // namespace scorrere::workbench
