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
    static Surroundings real();
};

} // namespace scorrere::workbench
