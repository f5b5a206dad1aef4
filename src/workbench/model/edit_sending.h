// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/collection_runner.h"
#include "workbench/model/notice.h"

#include <QObject>
#include <QString>
#include <deque>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

namespace scorrere::workbench {

/// Tells the service whose pages run of edits, one after the other: what it agrees to is no edit any more, what it refuses
/// is taken back, and what nobody can tell of stays and may be sent again. Each is a step that can be undone.
///
/// Ownership   Refers to both, which must outlive it.
/// Threads     The interface thread.
/// Errors      Told by noticed(), and by stateOf().
class EditSending : public QObject {
    Q_OBJECT
public:
    EditSending(Workspace& workspace, CollectionRunner& runner, QObject* parent = nullptr);

    /// There is somebody to tell.
    bool canSend() const { return runner_.paged() != nullptr; }
    void send(std::size_t edit);
    void sendAll();
    /// What was not sent yet stays an edit; what is under way is waited for.
    void stop();
    bool isSending() const { return under_ != nullptr; }
    /// "is being sent", "waits to be sent", "was not sent: …"; empty: nobody wanted that yet.
    QString stateOf(const RecordEdit& edit) const;

Q_SIGNALS:
    void changed();
    void noticed(const scorrere::workbench::Notice& notice);

private:
    using Edit = std::shared_ptr<const RecordEdit>;
    void next();
    void takeSent(const Edit& edit, const render::SendOutcome& outcome);
    void takeOut(const Edit& edit, const QString& what);
    void fail(const Edit& edit, const Error& error);

    Workspace& workspace_;
    CollectionRunner& runner_;
    Edit under_; ///< way
    std::deque<Edit> waiting_;
    std::vector<std::pair<Edit, QString>> failed_; ///< and why
};

} // namespace scorrere::workbench
