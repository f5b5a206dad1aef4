// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/secrets.h"

#include <QSettings>
#include <QString>
#include <QWidget>
#include <functional>
#include <memory>

namespace scorrere::workbench {

/// What the window needs from outside: tests bring their own.
struct Surroundings {
    std::unique_ptr<QSettings> settings;
    std::function<QString(QWidget*)> askWhatToOpen;                           ///< empty: nothing
    std::function<QString(QWidget*, const QString& proposed)> askWhereToSave; ///< empty: nowhere
    std::unique_ptr<Secrets> secrets;
    QString pagesFile;     ///< where pages are kept from run to run; empty: nowhere
    QString journalFolder; ///< where what is not saved is kept; empty: nowhere
    QString logFolder;     ///< where the log is; empty: nowhere
    QString crashFolder;   ///< where notes are left when the program falls; empty: nowhere
    QString desktopBus;    ///< where the desktop says what people want of programs; empty: nowhere
    static Surroundings real();
    /// Where the XDG base directories say that this program's state is kept.
    static QString stateFolder();
};

} // namespace scorrere::workbench
