// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/keeper.h"

#include "workbench/model/opening.h"

#include <QDateTime>
#include <QFileInfo>
#include <QUndoCommand>

namespace scorrere::workbench {

namespace {

const QString kReplacing = QStringLiteral("replacing");
const QString kTheirs = QStringLiteral("theirs");
const QString kLeftBehind = QStringLiteral("leftBehind");

/// A name beside a file's that nobody has.
QString besideName(const QString& path) {
    const QFileInfo file(path);
    const QString ending = path.endsWith(QLatin1String(".collection.json"))
                               ? QStringLiteral(".collection.json")
                               : QLatin1Char('.') + file.suffix();
    const QString stem = file.fileName().chopped(ending.size());
    for (int n = 1;; ++n) {
        QString name = QStringLiteral("%1/%2 (mine%3)%4")
                           .arg(file.path(), stem, n == 1 ? QString() : QStringLiteral(" %1").arg(n), ending);
        if (!QFileInfo::exists(name)) {
            return name;
        }
    }
}

/// One step of an undo stack that was brought back: the document as a whole.
class RestoredStep final : public QUndoCommand {
public:
    RestoredStep(Workspace& workspace, const QString& what, std::shared_ptr<const JournalState> from,
                 std::shared_ptr<const JournalState> to)
        : QUndoCommand(what), workspace_(workspace), from_(std::move(from)), to_(std::move(to)) {}
    void undo() override { workspace_.showState(from_->text()); }
    void redo() override {
        if (std::exchange(isBegun_, true)) { // the stack is filled with what was done already
            workspace_.showState(to_->text());
        }
    }

private:
    Workspace& workspace_;
    std::shared_ptr<const JournalState> from_; ///< as read: nothing is written out for them
    std::shared_ptr<const JournalState> to_;
    bool isBegun_ = false;
};

} // namespace

Keeper::Keeper(Workspace& workspace, const QString& journalFolder,
               std::function<QString(const QString&)> askWhere)
    : workspace_(workspace), journal_(journalFolder), hasJournal_(!journalFolder.isEmpty()),
      askWhere_(std::move(askWhere)) {}

void Keeper::beforeReplacing(const std::function<void()>& then) {
    if (!workspace_.hasUnsaved()) {
        return then();
    }
    workspace_.ask({kReplacing,
                    tr("%1 is not saved. What becomes of it?").arg(title()),
                    {},
                    {{QStringLiteral("save"), tr("&Save it first")},
                     {QStringLiteral("discard"), tr("&Let it go")},
                     {QStringLiteral("cancel"), tr("Stay here  Esc")}},
                    [this, then](const QString& choice, const QList<int>&) {
                        if (choice == QLatin1String("discard")) {
                            then();
                        } else if (choice == QLatin1String("save")) {
                            saveOrAsk(false, [this, then](bool saved) {
                                if (saved) {
                                    beforeReplacing(then); // asks again about what was changed since
                                }
                            });
                        }
                    }});
}

void Keeper::save(const QString& path, bool overTheirs, const Then& then) {
    if (!workspace_.isOpen() || path.isEmpty()) {
        return then(false);
    }
    struct Begun {
        qint64 documents = 0;
        qint64 changes = 0;
    };
    auto begun = std::make_shared<Begun>();
    begun->documents = documents_;
    saver_.save(
        [this, path, overTheirs, begun]() -> std::optional<SaveWish> {
            if (begun->documents != documents_) {
                return std::nullopt; // another stands in its place
            }
            begun->changes = workspace_.changes();
            SaveWish wish{workspace_.document(), path.toStdString(), overTheirs};
            wish.document.source.file = wish.document.sourceFileFrom(wish.path);
            return wish;
        },
        [this, path, begun, then](const Result<CollectionDocument>& saved) {
            if (begun->documents == documents_) {
                takeSaved(saved, path, begun->changes == workspace_.changes());
            }
            then(saved && begun->documents == documents_);
        });
}

/// What is open is kept there now, whatever was changed since it was written.
void Keeper::takeSaved(const Result<CollectionDocument>& saved, const QString& path, bool isAsItWas) {
    if (!saved && saved.error().code == ErrorCode::Changed) {
        return askAboutTheirs(path);
    }
    if (!saved) {
        Q_EMIT workspace_.noticed(Notice::failed(tr("The collection was not saved."), saved.error()));
        return;
    }
    workspace_.keptAs(*saved, isAsItWas);
    Q_EMIT this->saved(path);
    if (const CollectionDocument& kept = workspace_.document(); !kept.edits.empty() && !kept.areEditsKept) {
        Q_EMIT workspace_.noticed(Notice::told(
            tr("Saved without the edits of its records: tick beside them, in Flow, that they are kept.")));
    }
}

void Keeper::askAboutTheirs(const QString& path) {
    workspace_.ask(
        {kTheirs,
         tr("Another program changed %1 since it was read. Whose is kept?").arg(QFileInfo(path).fileName()),
         {},
         {{QStringLiteral("beside"), tr("Save mine &beside it")},
          {QStringLiteral("mine"), tr("&Mine, over theirs")},
          {QStringLiteral("theirs"), tr("&Theirs: open it, mine goes")},
          {QStringLiteral("cancel"), tr("Not now  Esc")}},
         [this, path](const QString& choice, const QList<int>&) {
             if (choice == QLatin1String("mine")) {
                 save(path, true, [](bool) {});
             } else if (choice == QLatin1String("beside")) {
                 save(besideName(path), true, [](bool) {});
             } else if (choice == QLatin1String("theirs")) {
                 workspace_.opening().openNow(path);
             }
         }});
}

void Keeper::saveOrAsk(bool elsewhere, const Then& then) {
    if (!workspace_.isOpen()) {
        Q_EMIT workspace_.noticed(Notice::told(tr("There is nothing to save yet.")));
        return then(false);
    }
    const QString path = QString::fromStdString(workspace_.document().path);
    save(elsewhere || path.isEmpty()
             ? askWhere_(path.isEmpty() ? title() + QStringLiteral(".collection.json") : path)
             : path,
         false, then);
}

void Keeper::forget() {
    ++documents_;
    states_.clear();
}

void Keeper::journal() {
    if (!workspace_.isOpen() || restoring_ || !hasJournal_) {
        return;
    }
    const QUndoStack& undo = workspace_.undo();
    const auto index = static_cast<std::size_t>(undo.index());
    if (undo.count() == undo.index() || states_.size() <= index) {
        states_.resize(index + 1); // what could be done again went with a new change
    }
    states_[index] = std::make_shared<const JournalState>(workspace_.document());
    if (!workspace_.hasUnsaved()) {
        return journal_.clear();
    }
    JournalEntry entry;
    entry.path = QString::fromStdString(workspace_.document().path);
    entry.isOwn = workspace_.opened().isOwn;
    // The states that undo can bring back, the last ones if they are many.
    const std::size_t all = static_cast<std::size_t>(undo.count()) + 1;
    const std::size_t first = index + 1 > kMostStates ? index + 1 - kMostStates : 0;
    for (std::size_t i = first; i < std::min(all, states_.size()); ++i) {
        if (!states_[i]) {
            break; // it was not seen: steps that came together
        }
        if (!entry.states.empty()) {
            entry.names << undo.text(static_cast<int>(i) - 1);
        }
        entry.states.push_back(states_[i]);
    }
    if (entry.states.size() <= index - first) {
        entry.states = {states_[index]};
        entry.names.clear();
        entry.index = 0;
    } else {
        entry.index = static_cast<int>(index - first);
    }
    journal_.keep(std::move(entry));
}

void Keeper::offerLeftBehind() {
    const std::vector<JournalEntry> left = journal_.leftBehind();
    for (const JournalEntry& entry : left) {
        const auto document = CollectionDocument::parse(
            entry.states[static_cast<std::size_t>(entry.index)]->text(), entry.path.toStdString());
        if (!document) {
            continue; // of another version: it stays where it is
        }
        const QString when =
            QDateTime::fromMSecsSinceEpoch(entry.atMs).toString(QStringLiteral("d MMM HH:mm"));
        workspace_.ask({kLeftBehind + entry.file,
                        tr("%1 was not saved when the program ended (%2).")
                            .arg(QString::fromStdString(document->name), when),
                        {},
                        {{QStringLiteral("restore"), tr("&Go on with it")},
                         {QStringLiteral("drop"), tr("&Let it go")},
                         {QStringLiteral("later"), tr("Ask again next time  Esc")}},
                        [this, entry](const QString& choice, const QList<int>&) {
                            if (choice == QLatin1String("restore")) {
                                beforeReplacing([this, entry] { restoreFrom(entry); });
                            } else if (choice == QLatin1String("drop")) {
                                Journal::drop(entry);
                            }
                        }});
    }
}

void Keeper::restoreFrom(const JournalEntry& entry) {
    const auto cannot = [this](const Error& error) {
        Q_EMIT workspace_.noticed(Notice::failed(tr("It cannot be brought back."), error));
    };
    auto document = CollectionDocument::parse(entry.states[static_cast<std::size_t>(entry.index)]->text(),
                                              entry.path.toStdString());
    if (!document) {
        return cannot(document.error());
    }
    Opened opened;
    opened.document = std::move(*document);
    opened.records = std::make_shared<const RecordTable>();
    opened.isOwn = entry.isOwn;
    if (Outcome shown = workspace_.replace(opened); !shown) {
        return cannot(shown.error());
    }
    restoring_ = true;
    QUndoStack& undo = workspace_.undo();
    for (std::size_t i = 1; i < entry.states.size(); ++i) {
        undo.push(new RestoredStep(workspace_, entry.names[static_cast<qsizetype>(i) - 1],
                                   entry.states[i - 1], entry.states[i]));
    }
    states_ = entry.states;
    undo.resetClean(); // its file has none of it
    undo.setIndex(entry.index);
    restoring_ = false;
    Journal::drop(entry);
    journal();
    Q_EMIT workspace_.stateChanged();
    workspace_.opening().readAgain();
}

} // namespace scorrere::workbench

#include "moc_keeper.cpp"
