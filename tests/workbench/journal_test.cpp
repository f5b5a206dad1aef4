// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/journal.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <csignal>
#include <gtest/gtest.h>
#include <map>
#include <random>

namespace scorrere::workbench {
namespace {

/// What a program that was killed at a moment of chance left, round by round.
class KilledProgram {
public:
    explicit KilledProgram(const QString& folder) : folder_(folder) {}
    /// Gives when it was killed.
    qint64 runFor(int ms) {
        QProcess process;
        process.start(QStringLiteral(SCORRERE_JOURNAL_CHILD), {folder_});
        EXPECT_TRUE(process.waitForReadyRead(20'000));
        const QDeadlineTimer until(ms);
        (void)QTest::qWaitFor([&] { return until.hasExpired(); }, ms + 1000);
        const qint64 at = QDateTime::currentMSecsSinceEpoch();
        ::kill(static_cast<pid_t>(process.processId()), SIGKILL);
        process.waitForFinished();
        return at;
    }
    /// The edits it noted, by number.
    std::map<int, qint64> edits() const {
        std::map<int, qint64> noted;
        QFile log(folder_ + QStringLiteral("/log"));
        EXPECT_TRUE(log.open(QIODevice::ReadOnly));
        for (const QByteArray& line : log.readAll().split('\n')) {
            const auto parts = line.split(' ');
            if (parts.size() == 2) {
                noted[parts[0].toInt()] = parts[1].toLongLong();
            }
        }
        return noted;
    }
    bool isSavedWhole() const {
        QFile saved(folder_ + QStringLiteral("/saved"));
        if (!saved.open(QIODevice::ReadOnly)) {
            return true; // not yet
        }
        const auto lines = saved.readAll().split('\n');
        return lines.size() == 5001 && lines.first() == lines[4999] && lines.first().toInt() % 3 == 0;
    }
    /// The newest edit that was kept; 0: none.
    int kept() const {
        Journal journal(folder_ + QStringLiteral("/journal"));
        int newest = 0;
        for (const JournalEntry& entry : journal.leftBehind()) {
            newest = std::max(newest, std::atoi(entry.states.front()->text().c_str()));
            Journal::drop(entry);
        }
        return newest;
    }

private:
    QString folder_;
};

TEST(JournalKilled, NothingOlderThanTwoSecondsIsLostAndNoFileIsTorn) {
    const QTemporaryDir folder;
    KilledProgram program(folder.path());
    std::mt19937 random(7);
    int withJournal = 0;
    for (int round = 0; round < 200; ++round) {
        const bool isLong = round % 40 == 0;
        const qint64 killed = program.runFor(isLong ? 2300 + static_cast<int>(random() % 900)
                                                    : static_cast<int>(random() % 60));
        ASSERT_TRUE(program.isSavedWhole()) << round;
        const int kept = program.kept();
        withJournal += kept > 0 ? 1 : 0;
        for (const auto& [edit, at] : program.edits()) {
            if (at < killed - 2000) {
                ASSERT_GE(kept, edit) << "round " << round;
            }
        }
    }
    EXPECT_GE(withJournal, 5);
    // What was being written when it was killed does not pile up.
    EXPECT_LE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 4);
    EXPECT_LE(QDir(folder.filePath(QStringLiteral("journal"))).entryList(QDir::Files | QDir::Hidden).size(),
              4);
}

TEST(Journal, OneThatLivesIsNotOfferedToAnother) {
    const QTemporaryDir folder;
    Journal mine(folder.path());
    JournalEntry entry;
    entry.states = {std::make_shared<const workbench::JournalState>("a")};
    mine.keep(entry);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return !QDir(folder.path()).entryList({QStringLiteral("*.journal.json")}).isEmpty(); },
        10'000));
    Journal other(folder.path());
    EXPECT_TRUE(other.leftBehind().empty());
    mine.clear();
    EXPECT_TRUE(QTest::qWaitFor([&] { return QDir(folder.path()).isEmpty(QDir::Files); }, 10'000));
}

TEST(Journal, WhatIsNoJournalIsPassedOver) {
    const QTemporaryDir folder;
    QFile file(folder.filePath(QStringLiteral("x.journal.json")));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(R"({"scorrereJournal": 1, "states": ["a"], "names": ["too", "many"], "index": 7})");
    file.close();
    Journal journal(folder.path());
    EXPECT_TRUE(journal.leftBehind().empty());
    EXPECT_TRUE(QFile::exists(file.fileName()));
}

} // namespace
} // namespace scorrere::workbench
