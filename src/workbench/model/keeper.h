// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/journal.h"
#include "workbench/model/saver.h"
#include "workbench/model/workspace.h"

#include <QObject>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// Keeps what people made: asks before something goes, saves it, journals it, brings back what was left.
///
/// Ownership   The workspace's; lives as long.
/// Threads     The interface thread.
class Keeper : public QObject {
    Q_OBJECT
public:
    using Then = std::function<void(bool saved)>;
    Keeper(Workspace& workspace, const QString& journalFolder,
           std::function<QString(const QString&)> askWhere);

    /// Goes on at once where nothing would be lost; else when somebody said that it may be.
    void beforeReplacing(const std::function<void()>& then);
    /// Writes the document there, off this thread, and says whether it was written. When another program
    /// changed the file, a question stands, and it was not.
    void save(const QString& path, bool overTheirs, const Then& then);
    /// Saves it where it is kept, or where somebody says.
    void saveOrAsk(bool elsewhere, const Then& then);
    /// What is not saved is kept where a program that is killed cannot take it along.
    void journal();
    /// Another document is open: its states begin anew.
    void forget();
    /// Nobody needs the journal any more.
    void clear() { journal_.clear(); }
    /// Offers what a program that was killed left behind.
    void offerLeftBehind();

Q_SIGNALS:
    void saved(const QString& path);

private:
    void takeSaved(const Result<CollectionDocument>& saved, const QString& path, bool isAsItWas);
    void askAboutTheirs(const QString& path);
    void restoreFrom(const JournalEntry& entry);
    QString title() const { return QString::fromStdString(workspace_.document().name); }

    Workspace& workspace_;
    Journal journal_;
    bool hasJournal_ = false;
    std::function<QString(const QString&)> askWhere_;
    Saver saver_;
    qint64 documents_ = 0; ///< that were open so far
    bool restoring_ = false;
    std::vector<std::shared_ptr<const JournalState>> states_; ///< the document by undo index
};

} // namespace scorrere::workbench
