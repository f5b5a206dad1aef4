// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/edit_sending.h"

#include "workbench/model/record_changes.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

auto likeEdit(const RecordEdit& edit) {
    return [&edit](const std::shared_ptr<const RecordEdit>& one) { return *one == edit; };
}

} // namespace

EditSending::EditSending(Workspace& workspace, CollectionRunner& runner, QObject* parent)
    : QObject(parent), workspace_(workspace), runner_(runner) {
    connect(&workspace_, &Workspace::replaced, this,
            [this] { // another service, or none: nobody answers any more
                under_.reset();
                waiting_.clear();
                failed_.clear();
                Q_EMIT changed();
            });
}

void EditSending::send(std::size_t edit) {
    const RecordEdits& edits = workspace_.document().edits;
    if (edit >= edits.size() || !canSend()) {
        return;
    }
    if ((under_ == nullptr || !(*under_ == *edits[edit])) &&
        std::ranges::none_of(waiting_, likeEdit(*edits[edit]))) {
        waiting_.push_back(edits[edit]);
    }
    next();
}

void EditSending::sendAll() {
    for (const Edit& edit : workspace_.document().edits) {
        if (workspace_.document().send.of(edit->kind).isGiven() &&
            std::ranges::none_of(waiting_, likeEdit(*edit)) && (under_ == nullptr || !(*under_ == *edit))) {
            waiting_.push_back(edit);
        }
    }
    next();
}

void EditSending::stop() {
    waiting_.clear();
    Q_EMIT changed();
}

QString EditSending::stateOf(const RecordEdit& edit) const {
    if (under_ != nullptr && *under_ == edit) {
        return tr("is being sent");
    }
    if (std::ranges::any_of(waiting_, likeEdit(edit))) {
        return tr("waits to be sent");
    }
    const auto failed = std::ranges::find_if(
        failed_, [&edit](const std::pair<Edit, QString>& one) { return *one.first == edit; });
    return failed == failed_.end() ? QString() : tr("was not sent: %1").arg(failed->second);
}

/// One at a time: what is told of a record must come in its order.
void EditSending::next() {
    while (under_ == nullptr && !waiting_.empty() && canSend()) {
        const Edit edit = waiting_.front();
        waiting_.pop_front();
        if (std::ranges::none_of(workspace_.document().edits, likeEdit(*edit))) {
            continue; // taken back meanwhile
        }
        std::erase_if(failed_, [&edit](const auto& one) { return *one.first == *edit; });
        connect(runner_.paged(), &render::PagedRecords::sent, this, &EditSending::takeSent,
                Qt::UniqueConnection);
        if (Outcome sent = runner_.paged()->send(edit, workspace_.document().send); !sent) {
            fail(edit, sent.error());
        } else {
            under_ = edit;
        }
    }
    Q_EMIT changed();
}

void EditSending::takeSent(const Edit& edit, const render::SendOutcome& outcome) {
    if (under_ != edit) {
        return;
    }
    under_.reset();
    switch (outcome.kind) {
    case render::SendOutcome::Kind::Agreed:
        takeOut(edit, tr("its service agreed: %1").arg(editInWords(*edit)));
        break;
    case render::SendOutcome::Kind::Refused:
        takeOut(edit, tr("its service refused: %1").arg(editInWords(*edit)));
        Q_EMIT noticed(
            Notice::failed(tr("The service refused an edit, which is taken back (Ctrl+Z brings it back): %1.")
                               .arg(editInWords(*edit)),
                           outcome.error));
        break;
    case render::SendOutcome::Kind::NotSent:
        fail(edit, outcome.error);
    }
    next();
}

void EditSending::takeOut(const Edit& edit, const QString& what) {
    CollectionDocument to = workspace_.document();
    const auto same = std::ranges::find_if(to.edits, likeEdit(*edit));
    if (same != to.edits.end()) {
        to.edits.erase(same);
        workspace_.change(what, std::move(to));
    }
}

/// Those behind it may be built on it: they wait until somebody sends them again.
void EditSending::fail(const Edit& edit, const Error& error) {
    failed_.emplace_back(edit, QString::fromStdString(error.message));
    waiting_.clear();
}

} // namespace scorrere::workbench

#include "moc_edit_sending.cpp"
