// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/crash_offer.h"

#include <utility>

namespace scorrere::workbench {

CrashOffer::CrashOffer(Workspace& workspace, QString folder, QObject* parent)
    : QObject(parent), workspace_(workspace), folder_(std::move(folder)) {}

void CrashOffer::look() {
    if (folder_.isEmpty()) {
        return;
    }
    looking_.start(
        [folder = folder_](const std::stop_token&, const render::Job::Post&) { return untoldNotes(folder); },
        [this](const std::vector<CrashNote>& notes) {
            if (!notes.empty()) {
                ask(notes.front());
            }
        });
}

void CrashOffer::ask(const CrashNote& note) {
    const auto told = [this, note](bool isShown) {
        looking_.start([note](const std::stop_token&, const render::Job::Post&) { return keepAsTold(note); },
                       [this, isShown](const QString& file) {
                           if (isShown) {
                               Q_EMIT showWanted(file);
                           }
                           look(); // there may be older ones
                       });
    };
    workspace_.ask(
        {QStringLiteral("crash"),
         tr("Scorrere ended unexpectedly (%1). It left a note: what was open, the last lines of the "
            "log, and where it was.")
             .arg(note.when.toString(QStringLiteral("d MMM HH:mm"))),
         {},
         {{QStringLiteral("show"), tr("&Show the note")},
          {QStringLiteral("keep"), tr("&Keep it for later")},
          {QStringLiteral("later"), tr("Ask again next time  Esc")}},
         [told](const QString& choice, const QList<int>&) {
             if (choice != QLatin1String("later")) {
                 told(choice == QLatin1String("show"));
             }
         }});
}

} // namespace scorrere::workbench

#include "moc_crash_offer.cpp"
