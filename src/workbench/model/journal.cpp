// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/journal.h"

#include "engine/document/safe_file.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QUuid>
#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <sys/file.h>
#include <unistd.h>

namespace scorrere::workbench {

namespace {

const QString kEnding = QStringLiteral(".journal.json");
const QString kLockEnding = QStringLiteral(".lock");

/// A lock on a file of its own, or -1 when another program has it.
int locked(const QString& file) {
    const int fd = ::open(QFile::encodeName(file).constData(), O_CREAT | O_RDWR | O_CLOEXEC, 0600);
    if (fd >= 0 && ::flock(fd, LOCK_EX | LOCK_NB) != 0) {
        ::close(fd);
        return -1;
    }
    return fd;
}

std::string textOf(const JournalEntry& entry) {
    nlohmann::json states = nlohmann::json::array();
    for (const auto& state : entry.states) {
        states.push_back(state->text());
    }
    nlohmann::json names = nlohmann::json::array();
    for (const QString& name : entry.names) {
        names.push_back(name.toStdString());
    }
    return nlohmann::json{{"scorrereJournal", 1}, {"path", entry.path.toStdString()},
                          {"own", entry.isOwn},   {"index", entry.index},
                          {"at", entry.atMs},     {"names", names},
                          {"states", states}}
        .dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

std::optional<JournalEntry> read(const QString& file) {
    QFile in(file);
    if (!in.open(QIODevice::ReadOnly)) {
        return std::nullopt;
    }
    const nlohmann::json json = nlohmann::json::parse(in.readAll().toStdString(), nullptr, false);
    if (!json.is_object() || json.value("scorrereJournal", 0) != 1 || !json["states"].is_array()) {
        return std::nullopt;
    }
    JournalEntry entry;
    entry.path = QString::fromStdString(json.value("path", std::string()));
    entry.isOwn = json.value("own", true);
    entry.atMs = json.value("at", qint64{0});
    for (const nlohmann::json& state : json["states"]) {
        if (state.is_string()) {
            entry.states.push_back(std::make_shared<const JournalState>(state.get<std::string>()));
        }
    }
    for (const nlohmann::json& name : json.value("names", nlohmann::json::array())) {
        entry.names << QString::fromStdString(name.is_string() ? name.get<std::string>() : std::string());
    }
    entry.index = json.value("index", 0);
    entry.file = file;
    const auto states = static_cast<int>(entry.states.size());
    const bool isSound = entry.index >= 0 && entry.index < states && entry.names.size() == states - 1;
    return isSound ? std::optional(std::move(entry)) : std::nullopt;
}

} // namespace

const std::string& JournalState::text() const {
    std::call_once(isWritten_, [this] {
        if (document_) {
            text_ = document_->stateText();
            document_.reset();
        }
    });
    return text_;
}

Journal::Journal(QString folder, QObject* parent) : QObject(parent), folder_(std::move(folder)) {
    delay_.setSingleShot(true);
    delay_.setInterval(kDelayMs);
    connect(&delay_, &QTimer::timeout, this, &Journal::write);
}

Journal::~Journal() {
    for (const int lock : taken_) {
        ::close(lock);
    }
    if (lock_ >= 0) {
        ::close(lock_);
    }
}

bool Journal::own() {
    if (folder_.isEmpty() || !file_.isEmpty()) {
        return !folder_.isEmpty();
    }
    const QDir folder(folder_);
    if (!folder.mkpath(QStringLiteral("."))) {
        problem_ = tr("The folder %1 cannot be made.").arg(folder_);
        return false;
    }
    const QString file = folder.filePath(QUuid::createUuid().toString(QUuid::WithoutBraces) + kEnding);
    lock_ = locked(file + kLockEnding);
    if (lock_ < 0) {
        problem_ = tr("%1 cannot be written.").arg(folder_);
        return false;
    }
    file_ = file;
    return true;
}

void Journal::keep(JournalEntry entry) {
    due_ = std::move(entry);
    if (!delay_.isActive()) { // from the first change on: one that goes on for long must not put it off
        delay_.start();
    }
}

void Journal::write() {
    if (!due_ || job_.isBusy() || !own()) {
        return;
    }
    due_->atMs = QDateTime::currentMSecsSinceEpoch();
    job_.start(
        [entry = std::move(*std::exchange(due_, std::nullopt)),
         file = file_](std::stop_token stop, const render::Job::Post&) -> Outcome {
            if (stop.stop_requested()) {
                return done();
            }
            Outcome written = writeFileSafely(QFile::encodeName(file).toStdString(), textOf(entry));
            if (stop.stop_requested()) { // it was saved meanwhile
                QFile::remove(file);
            }
            return written;
        },
        [this](const Outcome& written) {
            problem_ = written ? QString() : QString::fromStdString(written.error().text());
            if (due_ && !delay_.isActive()) {
                write();
            }
        });
}

void Journal::clear() {
    delay_.stop();
    due_.reset();
    job_.cancel();
    if (!file_.isEmpty()) {
        QFile::remove(file_);
        QFile::remove(file_ + kLockEnding);
        ::close(std::exchange(lock_, -1));
        file_.clear(); // the next one has a name of its own: a late writer cannot bring this one back
    }
}

std::vector<JournalEntry> Journal::leftBehind() {
    std::vector<JournalEntry> found;
    const QDir folder(folder_);
    if (folder_.isEmpty()) {
        return found;
    }
    for (const QString& name : folder.entryList({QStringLiteral("*") + kEnding}, QDir::Files, QDir::Time)) {
        const QString file = folder.filePath(name);
        const int lock = file == file_ ? -1 : locked(file + kLockEnding);
        if (lock < 0) {
            continue; // its program lives
        }
        taken_.push_back(lock);
        if (auto entry = read(file)) {
            found.push_back(std::move(*entry));
        }
    }
    // Locks of programs that were gone before they had written anything.
    for (const QString& name : folder.entryList({QStringLiteral("*") + kLockEnding}, QDir::Files)) {
        const QString lockFile = folder.filePath(name);
        if (QFile::exists(lockFile.chopped(kLockEnding.size())) || lockFile == file_ + kLockEnding) {
            continue;
        }
        if (const int lock = locked(lockFile); lock >= 0) {
            QFile::remove(lockFile);
            ::close(lock);
        }
    }
    return found;
}

void Journal::drop(const JournalEntry& entry) {
    QFile::remove(entry.file);
    QFile::remove(entry.file + kLockEnding);
}

} // namespace scorrere::workbench

#include "moc_journal.cpp"
