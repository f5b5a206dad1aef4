// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/surroundings.h"

#include <QDir>
#include <QFileDialog>
#include <QStandardPaths>

namespace scorrere::workbench {

QString Surroundings::stateFolder() { // the toolkit has no word for it
    const QString given = qEnvironmentVariable("XDG_STATE_HOME");
    return (given.startsWith(QLatin1Char('/')) ? given : QDir::homePath() + QStringLiteral("/.local/state")) +
           QStringLiteral("/scorrere");
}

Surroundings Surroundings::real() {
    Surroundings real;
    real.secrets = std::make_unique<DesktopSecrets>();
    real.settings = std::make_unique<QSettings>(QStringLiteral("scorrere"), QStringLiteral("scorrere"));
    real.journalFolder = stateFolder() + QStringLiteral("/journal");
    real.logFolder = stateFolder() + QStringLiteral("/log");
    real.crashFolder = stateFolder() + QStringLiteral("/crash");
    real.desktopBus = qEnvironmentVariable("DBUS_SESSION_BUS_ADDRESS");
    real.pagesFile = QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
                     QStringLiteral("/scorrere/pages.sqlite");
    real.askWhatToOpen = [](QWidget* parent) {
        return QFileDialog::getOpenFileName(parent, QObject::tr("Open a collection or records"), {},
                                            QObject::tr("Collections, records and scripts (*.collection.json "
                                                        "*.json *.ndjson *.jsonl *.csv *.tsv *.xml *.db "
                                                        "*.sqlite *.sqlite3 *.txt);;All files (*)"));
    };
    real.askWhereToSave = [](QWidget* parent, const QString& proposed) {
        return QFileDialog::getSaveFileName(parent, QObject::tr("Save as"), proposed,
                                            QObject::tr("JSON (*.json)"));
    };
    return real;
}

} // namespace scorrere::workbench
