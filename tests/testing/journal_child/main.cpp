// SPDX-License-Identifier: GPL-3.0-or-later
//
// Works on a document and saves a file until it is killed. Each edit is noted, with its time, before it is
// made:
//   journal_child FOLDER
#include "engine/document/safe_file.h"
#include "workbench/model/journal.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QFile>
#include <QTimer>
#include <cstdio>
#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

int main(int argc, char** argv) {
    const QCoreApplication app(argc, argv);
    const QString folder = QFile::decodeName(argv[1]);
    scorrere::workbench::Journal journal(folder + QStringLiteral("/journal"));
    const int log = ::open(QFile::encodeName(folder + QStringLiteral("/log")).constData(),
                           O_CREAT | O_WRONLY | O_TRUNC, 0600);
    int edit = 0;
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, [&] {
        ++edit;
        const std::string noted = fmt::format("{} {}\n", edit, QDateTime::currentMSecsSinceEpoch());
        (void)!::write(log, noted.data(), noted.size());
        scorrere::workbench::JournalEntry entry;
        entry.states = {std::make_shared<const scorrere::workbench::JournalState>(fmt::format("{}", edit) +
                                                                                  std::string(20'000, ' '))};
        journal.keep(std::move(entry));
        if (edit % 3 == 0) {
            std::string content;
            for (int i = 0; i < 5000; ++i) {
                content += fmt::format("{}\n", edit);
            }
            (void)bool(scorrere::writeFileSafely(
                QFile::encodeName(folder + QStringLiteral("/saved")).toStdString(), content));
        }
        if (edit == 1) {
            std::puts("ready");
            std::fflush(stdout);
        }
    });
    timer.start(5);
    return QCoreApplication::exec();
}
