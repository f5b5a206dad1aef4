// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "render/job.h"
#include "workbench/model/reach.h"

#include <QObject>
#include <QString>
#include <QStringList>
#include <QTimer>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// A document in one of its states, as a collection file with everything that can be undone.
///
/// Complexity  Of one made from a document text() writes it out, the first time: for workers.
/// Threads     Any; who asks while another writes it waits.
class JournalState {
public:
    explicit JournalState(std::string text) : text_(std::move(text)) {}
    explicit JournalState(const CollectionDocument& document) : document_(document) {}
    const std::string& text() const;

private:
    mutable std::once_flag isWritten_;
    mutable std::optional<CollectionDocument> document_;
    mutable std::string text_;
};

/// What was being worked on and is not in its file: the document in every state that undo can bring back.
struct JournalEntry {
    QString path; ///< the document's own; empty: it has none yet
    bool isOwn = true;
    std::vector<std::shared_ptr<const JournalState>> states; ///< the oldest first
    QStringList names;                                       ///< of the changes between them
    int index = 0;                                           ///< the state that shows
    qint64 atMs = 0;                                         ///< when it was written, since 1970
    QString file;                                            ///< where it is kept; set by those that read it
};

/// Keeps what is not saved in the state folder, so that a program that was killed takes nothing with it.
///
/// Ownership   The file is this program's as long as it lives: it holds a lock that ends with it, however
///             that comes about.
/// Threads     The interface thread; writing is a worker's, one at a time, the newest last.
/// Errors      A folder that cannot be written is no reason to stop work: then there is no journal, and
///             problem() says why.
class Journal : public QObject {
    Q_OBJECT
public:
    /// `folder`: empty for none.
    explicit Journal(QString folder, QObject* parent = nullptr);
    ~Journal() override;

    /// Written soon: at most kDelayMs later, and what a worker takes.
    void keep(JournalEntry entry);
    /// There is nothing that is not saved.
    void clear();
    /// What programs that are gone left. Each is this program's now, until it is dropped or this program
    /// ends.
    std::vector<JournalEntry> leftBehind();
    static void drop(const JournalEntry& entry);
    const QString& problem() const { return problem_; }
    static constexpr int kDelayMs = 300;

private:
    void write();
    bool own();

    QString folder_;
    QString file_; ///< empty: not begun
    int lock_ = -1;
    std::vector<int> taken_; ///< locks of what others left
    std::optional<JournalEntry> due_;
    QTimer delay_;
    render::Job job_;
    QString problem_;
};

/// The most states of undo that are kept.
inline constexpr std::size_t kMostStates = 200;

} // namespace scorrere::workbench
