// SPDX-License-Identifier: GPL-3.0-or-later
// The window's part in Source: what was opened or asked, and what came of it. The rest is in main_window.cpp.
#include "render/source_call.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/main_window.h"

#include <QApplication>
#include <QClipboard>
#include <QSaveFile>
#include <QUndoCommand>
#include <QUrl>

namespace scorrere::workbench {

namespace {
/// What a wish to open names. Without a scheme it is a file.
bool isAddress(const QString& place) {
    return place.startsWith(QLatin1String("http://")) || place.startsWith(QLatin1String("https://")) ||
           place.startsWith(QLatin1String("demo:/"));
}

/// An address with its variables filled in.
std::string plainAddress(const SourceSpec& source) {
    const auto expanded = render::expandedAddress(source.address, render::sourceVariables(source), {});
    return expanded ? *expanded : source.address;
}

/// Whether two addresses are of one origin; the demo service is one, too.
bool sameService(const std::string& a, const std::string& b) {
    const auto originOf = [](const std::string& address) {
        return address.starts_with(render::kDemoScheme)
                   ? std::string(render::kDemoScheme)
                   : render::originOf(address.substr(0, address.find('{')));
    };
    return originOf(a) == originOf(b);
}

/// Whether another query goes to the same address.
bool onlyVariablesDiffer(SourceSpec from, const SourceSpec& to) {
    const bool differ = from.variables != to.variables;
    from.variables = to.variables;
    return differ && from == to;
}

/// Whether the records must be read again, or only looked at in another light.
bool mustRead(SourceSpec from, SourceSpec to) {
    for (SourceSpec* spec : {&from, &to}) {
        spec->key.clear();
        for (FieldChoice& choice : spec->reading.fields) {
            choice.title.clear();
        }
        std::erase_if(spec->reading.fields, std::mem_fn(&FieldChoice::isEmpty));
    }
    return !(from == to);
}

} // namespace

/// One change of the source; it reads again what it must, both ways.
class SourceCommand final : public QUndoCommand {
public:
    SourceCommand(MainWindow& window, const QString& what, const SourceSpec& to, const std::string& noun)
        : QUndoCommand(what), window_(window), from_(window.opened_->document.source),
          fromNoun_(window.opened_->document.noun), to_(to), toNoun_(noun) {}
    void undo() override { window_.applySource(from_, fromNoun_); }
    void redo() override { window_.applySource(to_, toNoun_); }
    int id() const override { return 2; }
    /// Typing the value of one variable is one change, however many keys it took.
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const SourceCommand*>(other);
        if (text() != next->text() || !onlyVariablesDiffer(to_, next->to_) ||
            !onlyVariablesDiffer(from_, to_)) {
            return false;
        }
        to_ = next->to_;
        return true;
    }

private:
    MainWindow& window_;
    SourceSpec from_;
    std::string fromNoun_;
    SourceSpec to_;
    std::string toNoun_;
};

void MainWindow::connectOpener() {
    connect(&opener_, &Opener::progressed, this,
            [this](const ReadProgress& progress) { notice_->showProgress(opening_, progress); });
    connect(&opener_, &Opener::failed, this, [this](const Error& error) {
        source_->setBusy(false);
        if (!opener_.isShown() || arrival_) {
            return notice_->showError(tr("%1 was not opened.").arg(opening_), error);
        }
        const int status = answer_ ? answer_->http.status : 0;
        source_->setAnswer(std::exchange(answer_, nullptr));
        source_->setError(error);
        if (opened_ && (status == 401 || status == 403) &&
            opened_->document.source.sign.kind != SignSpec::Kind::None) {
            source_->askSecret(QString::fromStdString(opened_->document.source.sign.secret), true);
        }
        if (station_ == Station::Source) {
            notice_->clear(); // it stands at the answer
        } else {
            notice_->showError(tr("The source was not read."), error);
        }
    });
    connect(&opener_, &Opener::cancelled, this, [this] {
        source_->setBusy(false);
        notice_->clear();
    });
    connect(&opener_, &Opener::secretMissing, this, [this](const QString& name) {
        source_->setBusy(false);
        notice_->clear();
        source_->askSecret(name);
        go(Station::Source);
    });
    connect(&opener_, &Opener::answered, this,
            [this](const std::shared_ptr<const Answer>& answer) { answer_ = answer; });
    connect(&opener_, &Opener::reachMissing, this, [this] {
        source_->setBusy(false);
        notice_->clear();
        opened_->missing = trust_.missing(opened_->document, opened_->isOwn, opened_->allowed);
        askReach();
    });
    connect(&opener_, &Opener::opened, this, &MainWindow::takeOpened);
    connect(&opener_, &Opener::grew, this, &MainWindow::takeGrowth);
    connect(&opener_, &Opener::finished, this, &MainWindow::takeRead);
    connect(&opener_, &Opener::examined, this, [this](const std::shared_ptr<Examination>& examination) {
        if (arrival_) {
            arrival_->examination = examination;
        } else {
            source_->setExamination(examination);
        }
    });
}

void MainWindow::takeOpened(const std::shared_ptr<Opened>& opened) {
    if (!rereading_ && undo_.index() != wishedAt_ && hasUnsaved()) {
        arrival_ = Arrival{opened, false, nullptr, nullptr};
        return askAboutArrival(); // something was changed while this was on its way
    }
    paintsLater_ = true; // it all anew is a turn's work of its own
    if (Outcome shown = showFirst(opened); !shown) {
        opener_.stop(); // the rest of it has nowhere to go
        source_->setBusy(false);
        notice_->showError(tr("%1 was not opened.").arg(opening_), shown.error());
        return render::disposeElsewhere(std::move(opened->records));
    }
    if (std::ranges::any_of(opened_->missing,
                            [](const Reach& one) { return one.kind != Reach::Kind::AnyHost; })) {
        askReach();
    }
}

void MainWindow::takeGrowth(const std::shared_ptr<const RecordTable>& records, bool last) {
    if (arrival_) {
        arrival_->opened->records = records;
        arrival_->isLast = last;
        return;
    }
    if (!opened_ || flow_->collection() == nullptr ||
        records->size() < flow_->collection()->records().size()) {
        return;
    }
    render::disposeElsewhere(std::exchange(opened_->records, records));
    item_->grow(records, last);
    if (Outcome grown = flow_->collection()->grow(records, last); !grown) {
        notice_->showError(tr("The records changed while they came."), grown.error());
    }
    tellTitle();
    tellSentence();
}

void MainWindow::takeRead(const std::shared_ptr<SourceRead>& read) {
    if (arrival_) {
        arrival_->read = read;
        return;
    }
    source_->setBusy(false);
    source_->setAnswer(std::exchange(answer_, nullptr));
    source_->setRead(read);
    if (opened_ && !opened_->document.notices.empty() && !rereading_) {
        const auto more = opened_->document.notices.size() - 1;
        notice_->showNotice(tr("Opened. %1%2")
                                .arg(QString::fromStdString(opened_->document.notices.front()),
                                     more > 0 ? tr(", and %1 more like it").arg(more) : QString()));
    } else {
        notice_->clear();
    }
}

void MainWindow::connectSource() {
    connect(source_, &SourceStation::sourceWanted, this, &MainWindow::changeSource);
    connect(source_, &SourceStation::nounWanted, this, [this](const QString& noun) {
        if (opened_) {
            undo_.push(new SourceCommand(*this, tr("what records are called"), opened_->document.source,
                                         noun.toStdString()));
        }
    });
    connect(source_, &SourceStation::placeWanted, this, &MainWindow::openPlace);
    connect(source_, &SourceStation::listWanted, this, &MainWindow::openList);
    connect(source_, &SourceStation::askWanted, this, &MainWindow::readAgain);
    connect(source_, &SourceStation::cancelWanted, &opener_, &Opener::cancel);
    connect(source_, &SourceStation::findingsChanged, this, &MainWindow::tellFindings);
    connect(source_, &SourceStation::saveSchemaWanted, this, &MainWindow::saveSchema);
    connect(source_, &SourceStation::copyTypeWanted, this, [this] {
        const std::string text = source_->recordTypeText(opened_ ? opened_->document.noun : "records");
        if (text.empty()) {
            return notice_->showNotice(tr("There are no records to describe yet."));
        }
        QGuiApplication::clipboard()->setText(QString::fromStdString(text));
        notice_->showNotice(tr("A C++ struct of one record was copied."));
    });
    connect(source_, &SourceStation::secretGiven, this,
            [this](const QString& name, const QString& secret, bool lasting) {
                source_->askSecret({});
                surroundings_.secrets->keep(name.toStdString(), secret.toStdString(), lasting,
                                            [this](const QString& problem) {
                                                if (!problem.isEmpty()) {
                                                    notice_->showNotice(problem);
                                                }
                                            });
                // What is shown keeps its undo, and whatever was changed since.
                opener_.isShown() && opened_ ? readAgain() : opener_.retry();
            });
    // What the demo service received, while one can see it.
    receivedDue_.setInterval(500);
    connect(&receivedDue_, &QTimer::timeout, this, [this] {
        if (const auto server = demo_->server(); server && station_ == Station::Source) {
            source_->setReceived(server->received());
        }
    });
    receivedDue_.start();
}

void MainWindow::go(Station station) {
    station_ = station;
    stations_->setCurrentIndex(static_cast<int>(station));
    source_->sentence().setVisible(station == Station::Source);
    item_->sentence().setVisible(station == Station::Item && opened_ != nullptr);
    sentence_->setVisible(station == Station::Flow && opened_ != nullptr);
    for (int i = 0; i < stationButtons_.size(); ++i) {
        stationButtons_[i]->setChecked(i == stations_->currentIndex());
    }
    for (QAction* action : std::as_const(flowActions_)) {
        action->setEnabled(station == Station::Flow);
    }
    for (QAction* action : std::as_const(itemActions_)) {
        action->setEnabled(station == Station::Item);
    }
    item_->setActive(station == Station::Item);
    if (station == Station::Item) {
        takePagesToItem();
    }
    if (station == Station::Flow) {
        showDesignInFlow();
        flow_->cutaway().setFocus();
    }
}

SourceNeeds MainWindow::needs() const {
    SourceNeeds needs;
    needs.folder = opened_ ? opened_->document.folder() : std::string();
    if (const auto server = demo_->server()) {
        needs.knownDemoAddress = server->address();
    }
    return needs;
}

void MainWindow::changeSource(const QString& what, const SourceSpec& source) {
    if (!opened_ || source == opened_->document.source) {
        return;
    }
    const SourceSpec& before = opened_->document.source;
    SourceSpec to = source;
    // What was meant for one service is not told another.
    const bool leaves = before.isService() && !sameService(before.address, to.address);
    if (leaves && to.sign == before.sign && to.sign.kind != SignSpec::Kind::None) {
        to.sign = {};
        notice_->showNotice(
            tr("The new address is another service's: it is not told %1. Choose who asks after "
               "\"signed\".")
                .arg(QString::fromStdString(before.sign.secret)));
    }
    if (leaves && to.headers == before.headers) {
        to.headers.clear();
    }
    if (leaves && to.live == before.live) {
        to.live = {};
    }
    if (to.isService() && to.address != before.address) { // whoever types an address means it
        opened_->allowed.push_back({Reach::Kind::Host, render::originOf(plainAddress(to)), {}});
    }
    undo_.push(new SourceCommand(*this, what, to, opened_->document.noun));
}

void MainWindow::applySource(const SourceSpec& source, const std::string& noun) {
    const SourceSpec before = std::exchange(opened_->document.source, source);
    opened_->document.noun = noun;
    source_->setSource(source, noun, needs());
    tellTitle();
    tellSentence();
    const render::LiveCollection* live = flow_->collection();
    if (onlyVariablesDiffer(before, source) && station_ == Station::Flow && live != nullptr &&
        live->paged() != nullptr) {
        flow_->setVariables(source.variables); // another query of what runs
    } else if (mustRead(before, source)) {
        readAgain();
    } else if (!(before.key == source.key)) {
        opener_.examine(opened_->records, source.key);
    }
}

void MainWindow::readAgain() {
    if (!opened_) {
        return;
    }
    rereading_ = true;
    starting(opened_->document.source.isService() ? tr("Asking") : tr("Reading"));
    opener_.readAgain(*opened_);
}

void MainWindow::starting(const QString& what) {
    answer_.reset();
    opening_ = what;
    source_->setBusy(true);
    notice_->showProgress(what, {});
}

/// The first records of something new, or of the document's own source read again.
Outcome MainWindow::showFirst(const std::shared_ptr<Opened>& opened) {
    if (!rereading_) {
        return show(*opened, render::Estimating::Background);
    }
    gathering_.cancel();
    // The document goes on as it is now, whatever it was when reading began; only a design that nobody wrote
    // follows the fields.
    CollectionDocument now = opened_->isPlain ? opened->document : opened_->document;
    now.source = opened_->document.source;
    now.noun = opened_->document.noun;
    now.path = opened_->document.path;
    now.board = opened_->document.board;
    now.window = flow_->behaviour().window;
    now.viewLead = flow_->behaviour().viewLead;
    now.paging = flow_->behaviour().paging;
    opened->document = std::move(now);
    opened->isPlain = opened_->isPlain;
    source_->setOpened(*opened);
    if (Outcome shown = flow_->show(*opened, render::Estimating::Background); !shown) {
        return shown;
    }
    render::disposeElsewhere(std::exchange(opened_, std::make_unique<Opened>(*opened)));
    item_->setOpened(opened->document, opened->records, pictureCalls());
    tellTitle();
    tellSentence();
    return done();
}

void MainWindow::tellFindings() {
    const int warnings = source_->warnings();
    findingsButton_->setVisible(warnings > 0);
    findingsButton_->setText(warnings == 1 ? tr("1 finding") : tr("%1 findings").arg(warnings));
    fitTopBar();
}

void MainWindow::saveSchema() {
    const std::string schema = source_->schema(opened_ ? opened_->document.name : "records");
    if (schema.empty()) {
        return notice_->showNotice(tr("There are no records to describe yet."));
    }
    const QString path = surroundings_.askWhereToSave(
        this, QString::fromStdString((opened_ ? opened_->document.noun : "records") + ".schema.json"));
    if (path.isEmpty()) {
        return;
    }
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(QByteArray::fromStdString(schema)) < 0 ||
        !file.commit()) {
        Error error{ErrorCode::Unwritable, file.errorString().toStdString(), "Choose another folder.", {}};
        error.place.file = path.toStdString();
        return notice_->showError(tr("The schema was not saved."), error);
    }
    notice_->showNotice(tr("The schema of the records was saved to %1.").arg(path));
}

void MainWindow::openPlace(const QString& place) {
    if (place == fileChoice()) {
        return open(surroundings_.askWhatToOpen(this));
    }
    if (place == demoServiceChoice()) {
        return openDemoService();
    }
    if (place == demoChoice()) {
        return openDemo(20'000);
    }
    if (place == listChoice()) {
        return isList() ? source_->typeList() : openList(sampleList());
    }
    if (!isAddress(place)) {
        return open(place);
    }
    if (opened_ && opened_->document.source.isService()) {
        SourceSpec to = opened_->document.source;
        to.address = place.toStdString();
        return changeSource(tr("address"), to);
    }
    beforeReplacing([this, place] {
        starting(tr("Asking %1").arg(place));
        OpenWish wish;
        wish.document.emplace();
        wish.document->name = QUrl(place).host().toStdString();
        wish.document->source.address = place.toStdString();
        wish.isPlain = true;
        opener_.read(wish);
    });
}

void MainWindow::openDemoService() {
    beforeReplacing([this] {
        starting(tr("Asking the demo service"));
        opener_.openDemoService();
    });
}

/// Whether what is open is a list typed in.
bool MainWindow::isList() const {
    return opened_ && !opened_->document.source.isDemo && opened_->document.source.file.empty() &&
           !opened_->document.source.isService();
}

void MainWindow::openList(const QString& text) {
    if (isList()) {
        SourceSpec to = opened_->document.source;
        to.list = text.toStdString();
        return changeSource(tr("list"), to);
    }
    beforeReplacing([this, text] {
        starting(tr("Reading the list"));
        opener_.openList(text);
    });
}

} // namespace scorrere::workbench
