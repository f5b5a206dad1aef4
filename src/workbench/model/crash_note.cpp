// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/crash_note.h"

#include "workbench/model/log.h"

#include <QDir>
#include <QFile>
#include <array>
#include <csignal>
#include <cstring>
#include <ctime>
#include <execinfo.h>
#include <fcntl.h>
#include <unistd.h>

namespace scorrere::workbench {

namespace {

constexpr int kMostTold = 10;
constexpr int kMostFrames = 64;
constexpr std::size_t kHandlerStack =
    std::size_t{64} * 1024; ///< so that an overflown stack leaves a note, too
const QString kNew = QStringLiteral("*.crash.txt");
const QString kTold = QStringLiteral(".told.txt");

// A handler of signals may use nothing that takes memory or a lock: all it needs is made before.
struct Prepared {
    std::array<char, 4096> file{};
    std::array<char, 128> version{};
    std::array<char, 4096> open{};
    std::array<char, kHandlerStack> stack{};
};
Prepared prepared;

template <std::size_t size>
void put(std::array<char, size>& to, const std::string& text) {
    const std::size_t length = std::min(text.size(), size - 1);
    std::memcpy(to.data(), text.data(), length);
    to[length] = 0;
}

void writeText(int fd, const char* text) {
    (void)!::write(fd, text, std::strlen(text));
}

void writeNumber(int fd, long long number) {
    std::array<char, 24> digits{};
    std::size_t at = digits.size() - 1;
    do {
        digits[--at] = static_cast<char>('0' + number % 10);
        number /= 10;
    } while (number > 0 && at > 0);
    writeText(fd, digits.data() + at);
}

void leaveNote(int number) {
    const int fd = ::open(prepared.file.data(), O_CREAT | O_WRONLY | O_TRUNC | O_CLOEXEC, 0600);
    if (fd >= 0) {
        writeText(fd, "Scorrere ");
        writeText(fd, prepared.version.data());
        writeText(fd, "\nended unexpectedly: signal ");
        writeNumber(fd, number);
        writeText(fd, ", ");
        writeNumber(fd, std::time(nullptr));
        writeText(fd, " s after 1970\nopen: ");
        writeText(fd, prepared.open[0] != 0 ? prepared.open.data() : "nothing with a file");
        writeText(fd, "\n\nThe stack, the innermost first:\n");
        std::array<void*, kMostFrames> frames{};
        ::backtrace_symbols_fd(frames.data(), ::backtrace(frames.data(), kMostFrames), fd);
        writeText(fd, "\nThe last lines of the log:\n");
        detail::writeLastLogLines(fd);
        ::close(fd);
    }
    std::signal(number, SIG_DFL);
    (void)std::raise(number);
}

} // namespace

void leaveNoteWhenFalling(const QString& folder, const std::string& version) {
    if (!QDir().mkpath(folder)) {
        return; // no place, no note
    }
    const QString name = QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyyMMdd-HHmmss")) +
                         QStringLiteral("-%1.crash.txt").arg(::getpid());
    put(prepared.file, QFile::encodeName(folder + QLatin1Char('/') + name).toStdString());
    put(prepared.version, version);
    std::array<void*, 1> first{};
    (void)::backtrace(first.data(), 1); // what it loads when first called is loaded now
    stack_t stack{};
    stack.ss_sp = prepared.stack.data();
    stack.ss_size = prepared.stack.size();
    ::sigaltstack(&stack, nullptr);
    struct sigaction action {};
    action.sa_handler = leaveNote;
    action.sa_flags = static_cast<int>(SA_ONSTACK | SA_RESETHAND);
    for (const int number : {SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL}) {
        ::sigaction(number, &action, nullptr);
    }
}

void setOpenForNote(const std::string& path) {
    put(prepared.open, path);
}

std::vector<CrashNote> untoldNotes(const QString& folder) {
    std::vector<CrashNote> notes;
    for (const QFileInfo& info : QDir(folder).entryInfoList({kNew}, QDir::Files, QDir::Time)) {
        notes.push_back({info.absoluteFilePath(), info.lastModified()});
    }
    return notes;
}

QString keepAsTold(const CrashNote& note) {
    QString told = note.file;
    told.chop(kNew.size() - 1);
    told += kTold;
    QFile::rename(note.file, told);
    const auto all =
        QFileInfo(note.file).dir().entryInfoList({QLatin1Char('*') + kTold}, QDir::Files, QDir::Time);
    for (qsizetype i = kMostTold; i < all.size(); ++i) {
        QFile::remove(all[i].absoluteFilePath());
    }
    return told;
}

} // namespace scorrere::workbench
