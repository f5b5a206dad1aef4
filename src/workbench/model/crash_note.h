// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDateTime>
#include <QString>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// When the program falls from now on, it leaves a note in `folder`: its version, what was open, the last lines of the log, and
/// the stack as the C library tells it; then it falls as it would have. Once in a process, before there are threads.
void leaveNoteWhenFalling(const QString& folder, const std::string& version);
/// What is open now, for that note.
void setOpenForNote(const std::string& path);

struct CrashNote {
    QString file;
    QDateTime when;
};
/// Those that nobody was told of yet, the newest first. Blocks: for workers.
std::vector<CrashNote> untoldNotes(const QString& folder);
/// It is not offered again; gives where it is now. Of those that were told of, the newest stay. Blocks: for workers.
QString keepAsTold(const CrashNote& note);

} // namespace scorrere::workbench
