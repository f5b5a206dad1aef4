// SPDX-License-Identifier: GPL-3.0-or-later
// The window's part in keeping what people made: asking before something goes, saving, the journal, and what
// a collection from elsewhere may reach. The rest is in main_window.cpp.
#include "render/source_call.h"
#include "workbench/ui/main_window.h"

#include <QDateTime>
#include <QFileInfo>
#include <QUndoCommand>
#include <filesystem>

namespace scorrere::workbench {

namespace {
const QString kReplacing = QStringLiteral("replacing");
const QString kArrived = QStringLiteral("arrived");
const QString kTheirs = QStringLiteral("theirs");
const QString kReach = QStringLiteral("reach");
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
} // namespace

/// One step of an undo stack that was brought back: the document as a whole.
class RestoredCommand final : public QUndoCommand {
public:
    RestoredCommand(MainWindow& window, const QString& what, std::shared_ptr<const std::string> from,
                    std::shared_ptr<const std::string> to)
        : QUndoCommand(what), window_(window), from_(std::move(from)), to_(std::move(to)) {}
    void undo() override { window_.showState(*from_); }
    void redo() override {
        if (std::exchange(isBegun_, true)) { // the stack is filled with what was done already
            window_.showState(*to_);
        }
    }

private:
    MainWindow& window_;
    std::shared_ptr<const std::string> from_;
    std::shared_ptr<const std::string> to_;
    bool isBegun_ = false;
};

/// Whether something would be lost with what is open.
bool MainWindow::hasUnsaved() const {
    const bool isTyped = isList() && opened_->document.path.empty() &&
                         !opened_->document.source.list.empty() &&
                         opened_->document.source.list != sampleList().toStdString();
    return opened_ && (!undo_.isClean() || isTyped);
}

/// Goes on at once where nothing would be lost; else when somebody said that it may be.
void MainWindow::beforeReplacing(const std::function<void()>& then) {
    const auto go = [this, then] {
        rereading_ = false;
        arrival_.reset();
        ask_->drop(kArrived);
        wishedAt_ = undo_.index();
        then();
    };
    if (!hasUnsaved()) {
        return go();
    }
    ask_->ask({kReplacing,
               tr("%1 is not saved. What becomes of it?").arg(title_->text()),
               {},
               {{QStringLiteral("save"), tr("&Save it first")},
                {QStringLiteral("discard"), tr("&Let it go")},
                {QStringLiteral("cancel"), tr("Stay here  Esc")}},
               [this, go, then](const QString& choice, const QList<int>&) {
                   if (choice == QLatin1String("discard")) {
                       go();
                   } else if (choice == QLatin1String("save")) {
                       saveOrAsk(false, [this, then](bool saved) {
                           if (saved) {
                               beforeReplacing(then); // asks again about what was changed since
                           }
                       });
                   }
               }});
}

/// Something was opened, and what was there was changed while it came.
void MainWindow::askAboutArrival() {
    ask_->ask({kArrived,
               tr("%1 is here. %2 was changed meanwhile and is not saved. What becomes of it?")
                   .arg(opening_, title_->text()),
               {},
               {{QStringLiteral("save"), tr("&Save it first")},
                {QStringLiteral("discard"), tr("&Let it go")},
                {QStringLiteral("cancel"), tr("Stay here  Esc")}},
               [this](const QString& choice, const QList<int>&) {
                   if (choice == QLatin1String("discard")) {
                       landArrival();
                   } else if (choice == QLatin1String("save")) {
                       saveOrAsk(false, [this](bool saved) {
                           if (!saved) {
                               stayHere();
                           } else if (hasUnsaved()) {
                               askAboutArrival();
                           } else {
                               landArrival();
                           }
                       });
                   } else {
                       stayHere();
                       notice_->clear();
                   }
               }});
}

/// What came goes again, and what was there is gone on with.
void MainWindow::stayHere() {
    opener_.stop();
    arrival_.reset();
    source_->setBusy(false);
}

void MainWindow::landArrival() {
    if (!arrival_) {
        return;
    }
    Arrival came = *std::exchange(arrival_, std::nullopt);
    wishedAt_ = undo_.index();
    takeOpened(came.opened);
    if (came.isLast && opened_ && opened_->records == came.opened->records) {
        takeGrowth(came.opened->records, true);
    }
    if (came.read) {
        takeRead(came.read);
    }
    if (came.examination) {
        source_->setExamination(came.examination);
    }
}

/// The document with what Flow says of it.
CollectionDocument MainWindow::documentNow() const {
    CollectionDocument document = opened_->document;
    document.window = flow_->behaviour().window;
    document.viewLead = flow_->behaviour().viewLead;
    document.paging = flow_->behaviour().paging;
    return document;
}

void MainWindow::saveTo(const QString& path, bool overTheirs, const std::function<void(bool)>& then) {
    if (!opened_ || path.isEmpty()) {
        return then(false);
    }
    struct Begun {
        qint64 shows = 0;
        qint64 changes = 0;
        std::string file;
    };
    auto begun = std::make_shared<Begun>();
    begun->shows = shows_;
    saver_.save(
        [this, path, overTheirs, begun]() -> std::optional<SaveWish> {
            if (begun->shows != shows_) {
                return std::nullopt; // another stands in its place
            }
            CollectionDocument document = documentNow();
            begun->changes = changes_;
            begun->file = document.source.file;
            if (!document.source.file.empty()) { // paths start from the file's folder, wherever that is now
                const auto from = std::filesystem::absolute(std::filesystem::path(document.folder()) /
                                                            document.source.file);
                const auto folder = std::filesystem::absolute(path.toStdString()).parent_path();
                document.source.file = from.lexically_proximate(folder).string();
            }
            return SaveWish{std::move(document), path.toStdString(), overTheirs};
        },
        [this, path, begun, then](Result<CollectionDocument> saved) {
            if (begun->shows != shows_) {
                return then(false);
            }
            const bool isWritten = static_cast<bool>(saved);
            takeSaved(std::move(saved), path, begun->file);
            if (isWritten && begun->changes == changes_) {
                undo_.setClean();
                tellTitle();
            }
            journal();
            then(isWritten);
        });
}

/// What is open is kept there now, whatever was changed since it was written.
void MainWindow::takeSaved(Result<CollectionDocument> saved, const QString& path,
                           const std::string& fileBefore) {
    if (!saved && saved.error().code == ErrorCode::Changed) {
        return askAboutTheirs(path);
    }
    if (!saved) {
        return notice_->showError(tr("The collection was not saved."), saved.error());
    }
    CollectionDocument& document = opened_->document;
    document.keepAs(*saved);
    if (document.source.file == fileBefore) {
        document.source.file = saved->source.file;
    }
    trust_.wrote(document, opened_->isOwn, opened_->allowed);
    item_->setDocument(document);
    source_->setSource(document.source, document.noun, needs());
    remember(path);
    tellTitle();
}

void MainWindow::askAboutTheirs(const QString& path) {
    ask_->ask(
        {kTheirs,
         tr("Another program changed %1 since it was read. Whose is kept?").arg(QFileInfo(path).fileName()),
         {},
         {{QStringLiteral("beside"), tr("Save mine &beside it")},
          {QStringLiteral("mine"), tr("&Mine, over theirs")},
          {QStringLiteral("theirs"), tr("&Theirs: open it, mine goes")},
          {QStringLiteral("cancel"), tr("Not now  Esc")}},
         [this, path](const QString& choice, const QList<int>&) {
             if (choice == QLatin1String("mine")) {
                 saveTo(path, true, [](bool) {});
             } else if (choice == QLatin1String("beside")) {
                 saveTo(besideName(path), true, [](bool) {});
             } else if (choice == QLatin1String("theirs")) {
                 wishedAt_ = undo_.index();
                 rereading_ = false;
                 starting(QFileInfo(path).fileName());
                 opener_.open(path);
             }
         }});
}

/// Tells whether it is saved: a question may stand instead.
void MainWindow::saveOrAsk(bool elsewhere, const std::function<void(bool)>& then) {
    if (!opened_) {
        notice_->showNotice(tr("There is nothing to save yet."));
        return then(false);
    }
    const QString path = QString::fromStdString(opened_->document.path);
    const QString proposed =
        path.isEmpty() ? QString::fromStdString(opened_->document.name) + QStringLiteral(".collection.json")
                       : path;
    save(elsewhere || path.isEmpty() ? surroundings_.askWhereToSave(this, proposed) : path, then);
}

/// What is not saved is kept where a program that is killed cannot take it along.
void MainWindow::journal() {
    if (!opened_ || restoring_ || surroundings_.journalFolder.isEmpty()) {
        return;
    }
    const auto index = static_cast<std::size_t>(undo_.index());
    if (undo_.count() == undo_.index() || states_.size() <= index) {
        states_.resize(index + 1); // what could be done again went with a new change
    }
    states_[index] = std::make_shared<const std::string>(documentNow().serialise());
    if (!hasUnsaved()) {
        return journal_.clear();
    }
    JournalEntry entry;
    entry.path = QString::fromStdString(opened_->document.path);
    entry.isOwn = opened_->isOwn;
    // The states that undo can bring back, the last ones if they are many.
    const std::size_t all = static_cast<std::size_t>(undo_.count()) + 1;
    const std::size_t first = index + 1 > kMostStates ? index + 1 - kMostStates : 0;
    for (std::size_t i = first; i < std::min(all, states_.size()); ++i) {
        if (!states_[i]) {
            break; // it was not seen: steps that came together
        }
        if (!entry.states.empty()) {
            entry.names << undo_.text(static_cast<int>(i) - 1);
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

void MainWindow::offerLeftBehind() {
    const std::vector<JournalEntry> left = journal_.leftBehind();
    for (const JournalEntry& entry : left) {
        const auto document = CollectionDocument::parse(*entry.states[static_cast<std::size_t>(entry.index)],
                                                        entry.path.toStdString());
        if (!document) {
            continue; // of another version: it stays where it is
        }
        const QString when =
            QDateTime::fromMSecsSinceEpoch(entry.atMs).toString(QStringLiteral("d MMM HH:mm"));
        ask_->ask({kLeftBehind + entry.file,
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

void MainWindow::restoreFrom(const JournalEntry& entry) {
    auto document = CollectionDocument::parse(*entry.states[static_cast<std::size_t>(entry.index)],
                                              entry.path.toStdString());
    if (!document) {
        return notice_->showError(tr("It cannot be brought back."), document.error());
    }
    Opened opened;
    opened.document = std::move(*document);
    opened.records = std::make_shared<const RecordTable>();
    opened.isOwn = entry.isOwn;
    if (Outcome shown = show(opened, render::Estimating::Background); !shown) {
        return notice_->showError(tr("It cannot be brought back."), shown.error());
    }
    restoring_ = true;
    for (std::size_t i = 1; i < entry.states.size(); ++i) {
        undo_.push(new RestoredCommand(*this, entry.names[static_cast<qsizetype>(i) - 1], entry.states[i - 1],
                                       entry.states[i]));
    }
    states_ = entry.states;
    undo_.resetClean(); // its file has none of it
    undo_.setIndex(entry.index);
    restoring_ = false;
    Journal::drop(entry);
    journal();
    tellTitle();
    readAgain();
}

/// The document as it was in a state of the journal.
void MainWindow::showState(const std::string& text) {
    auto document = CollectionDocument::parse(text, opened_->document.path);
    if (!document || text == documentNow().serialise()) {
        return;
    }
    const bool reads = !(document->source == opened_->document.source);
    opened_->document = std::move(*document);
    flow_->setBehaviour({opened_->document.window, opened_->document.viewLead, opened_->document.paging});
    item_->setDocument(opened_->document);
    source_->setSource(opened_->document.source, opened_->document.noun, needs());
    flowIsStale_ = true;
    if (station_ == Station::Flow) {
        showDesignInFlow();
    }
    tellTitle();
    tellSentence();
    if (reads) {
        readAgain();
    }
}

/// What the collection wants beyond its folder, one by one or all.
void MainWindow::askReach() {
    if (!opened_ || opened_->missing.empty()) {
        return;
    }
    QStringList lines;
    for (const Reach& one : opened_->missing) {
        lines << one.words();
    }
    const QString text =
        opened_->isOwn
            ? tr("This secret was given for another service. May it be used here?")
            : tr("%1 came from elsewhere. It asks %2. Its design and the records in its folder run; the rest "
                 "waits for you.")
                  .arg(title_->text(), reachInWords(opened_->missing));
    ask_->ask({kReach,
               text,
               lines,
               {{QStringLiteral("allow"), tr("&Allow what is chosen")},
                {QStringLiteral("not"), tr("Not now  Esc")}},
               [this, missing = opened_->missing](const QString& choice, const QList<int>& chosen) {
                   if (choice != QLatin1String("allow") || chosen.isEmpty() || !opened_) {
                       return;
                   }
                   std::vector<Reach> allowed;
                   for (const int line : chosen) {
                       allowed.push_back(missing[static_cast<std::size_t>(line)]);
                   }
                   trust_.allow(opened_->document, allowed);
                   std::ranges::move(allowed, std::back_inserter(opened_->allowed));
                   readAgain();
               }});
}

render::PictureCalls MainWindow::pictureCalls() const {
    return {nullptr, opened_->access, render::ownHeaders(opened_->document.source, opened_->secret)};
}

} // namespace scorrere::workbench
