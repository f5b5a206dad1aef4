// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/opening.h"

#include "workbench/model/keeper.h"
#include "workbench/model/work_watch.h"

#include <QFileInfo>
#include <QLocale>
#include <QUrl>

namespace scorrere::workbench {

namespace {

const QString kOpening = QStringLiteral("opening");
const QString kArrived = QStringLiteral("arrived");
const QString kScript = QStringLiteral(".script.json");

/// What a wish to open names. Without a scheme it is a file.
bool isAddress(const QString& place) {
    return place.startsWith(QLatin1String("http://")) || place.startsWith(QLatin1String("https://")) ||
           place.startsWith(QLatin1String("demo:/"));
}

Notice progressOf(const QString& what, const ReadProgress& progress, qint64 passedMs) {
    const QLocale locale(QLocale::English);
    const double share = progress.totalBytes <= 0
                             ? -1
                             : static_cast<double>(progress.bytes) / static_cast<double>(progress.totalBytes);
    QString text = what;
    if (progress.records > 0) {
        text = QObject::tr("%1: %2 records so far").arg(what, locale.toString(progress.records));
    } else if (progress.bytes > 0) {
        text = QObject::tr("%1: %2 so far").arg(what, locale.formattedDataSize(progress.bytes));
    }
    const QString left = leftInWords(share, passedMs);
    return Notice::under(kOpening, left.isEmpty() ? text : QStringLiteral("%1, %2").arg(text, left), share);
}

} // namespace

Opening::Opening(Workspace& workspace, Trust& trust)
    : workspace_(workspace), opener_(workspace.secrets(), trust, workspace.sharedDemo()) {
    connectOpener();
    connect(&workspace_, &Workspace::cancelled, this, [this](const QString& about) {
        if (about == kOpening) {
            cancel();
        }
    });
}

Opening::~Opening() = default;

void Opening::wishAnother(const QString& what, const std::function<void()>& start) {
    workspace_.keeper().beforeReplacing([this, what, start] {
        begin(OpeningState::Wish::Another, what);
        start();
    });
}

void Opening::begin(OpeningState::Wish wish, const QString& what) {
    arrival_.reset();
    Q_EMIT workspace_.unasks(kArrived);
    state_.begin(wish, workspace_.changes());
    answer_.reset();
    what_ = what;
    Q_EMIT busyChanged(true);
    since_.start();
    Q_EMIT workspace_.noticed(Notice::under(kOpening, what, -1));
}

void Opening::open(const QString& path) {
    if (path.endsWith(kScript)) {
        Q_EMIT scriptWanted(path);
    } else if (!path.isEmpty()) {
        workspace_.keeper().beforeReplacing([this, path] { openNow(path); });
    }
}

void Opening::openNow(const QString& path) {
    begin(OpeningState::Wish::Another, QFileInfo(path).fileName());
    opener_.open(path);
}

void Opening::openDemo(qint64 count) {
    wishAnother(tr("The demo"), [this, count] { opener_.openDemo(service::demoDocument(count)); });
}

void Opening::openDemoService() {
    wishAnother(tr("Asking the demo service"), [this] { opener_.openDemo(service::demoServiceDocument()); });
}

void Opening::openDemoIn(service::DemoForm form) {
    wishAnother(tr("The demo"), [this, form] { opener_.openDemo(service::demoDocument(form)); });
}

void Opening::openList(const QString& text) {
    if (workspace_.isList()) {
        SourceSpec to = workspace_.document().source;
        to.list = text.toStdString();
        return workspace_.changeSource(tr("list"), to);
    }
    wishAnother(tr("Reading the list"), [this, text] { opener_.openList(text); });
}

void Opening::openPlace(const QString& place) {
    if (const QUrl url(place); url.isLocalFile()) {
        return open(url.toLocalFile());
    }
    if (!isAddress(place)) {
        return open(place);
    }
    if (workspace_.isOpen() && workspace_.document().source.isService()) {
        SourceSpec to = workspace_.document().source;
        to.address = place.toStdString();
        return workspace_.changeSource(tr("address"), to);
    }
    wishAnother(tr("Asking %1").arg(place), [this, place] {
        OpenWish wish;
        wish.document.emplace();
        wish.document->name = QUrl(place).host().toStdString();
        wish.document->source.address = place.toStdString();
        wish.isPlain = true;
        opener_.read(wish);
    });
}

void Opening::readAgain() {
    if (workspace_.isOpen()) {
        begin(OpeningState::Wish::Again,
              workspace_.document().source.isService() ? tr("Asking") : tr("Reading"));
        opener_.readAgain(workspace_.opened());
    }
}

void Opening::examine() {
    opener_.examiner().look(workspace_.records(), workspace_.document().source.key);
}

void Opening::giveSecret(const QString& name, const QString& secret, bool lasting) {
    workspace_.secrets().keep(name.toStdString(), secret.toStdString(), lasting,
                              [this](const QString& problem) {
                                  if (!problem.isEmpty()) {
                                      Q_EMIT workspace_.noticed(Notice::told(problem));
                                  }
                              });
    // What is shown keeps its undo, and whatever was changed since.
    opener_.isShown() && workspace_.isOpen() ? readAgain() : opener_.retry();
}

void Opening::connectOpener() {
    connect(&opener_, &Opener::progressed, this, [this](const ReadProgress& progress) {
        Q_EMIT workspace_.noticed(progressOf(what_, progress, since_.elapsed()));
    });
    connect(&opener_, &Opener::failed, this, &Opening::takeFailure);
    connect(&opener_, &Opener::cancelled, this, &Opening::end);
    connect(&opener_, &Opener::secretMissing, this, [this](const QString& name) {
        end();
        Q_EMIT secretMissing(name, false);
    });
    connect(&opener_, &Opener::reachMissing, this, [this] {
        end();
        workspace_.askReach();
    });
    connect(&opener_, &Opener::answered, this,
            [this](const std::shared_ptr<const Answer>& answer) { answer_ = answer; });
    connect(&opener_, &Opener::opened, this, &Opening::takeOpened);
    connect(&opener_, &Opener::grew, this, &Opening::takeGrowth);
    connect(&opener_, &Opener::finished, this, &Opening::takeRead);
    connect(&opener_.examiner(), &Examiner::examined, this,
            [this](const std::shared_ptr<Examination>& examination) {
                if (arrival_) {
                    arrival_->examination = examination;
                } else {
                    Q_EMIT examined(examination);
                }
            });
}

/// Nothing is on its way any more.
void Opening::end() {
    state_.dropped();
    Q_EMIT busyChanged(false);
    Q_EMIT workspace_.noticed(Notice::over(kOpening));
}

void Opening::takeFailure(const Error& error) {
    Q_EMIT busyChanged(false);
    Q_EMIT workspace_.noticed(Notice::over(kOpening));
    if (state_.failed() == OpeningState::Failure::OfOpening) {
        Q_EMIT workspace_.noticed(Notice::failed(tr("%1 was not opened.").arg(what_), error));
        return;
    }
    const int status = answer_ ? answer_->http.status : 0;
    Q_EMIT answered(std::exchange(answer_, nullptr));
    Q_EMIT failed(error);
    const SignSpec& sign = workspace_.document().source.sign;
    if ((status == 401 || status == 403) && sign.kind != SignSpec::Kind::None) {
        Q_EMIT secretMissing(QString::fromStdString(sign.secret), true);
    }
}

void Opening::takeOpened(const std::shared_ptr<Opened>& opened) {
    if (state_.came(workspace_.changes(), workspace_.hasUnsaved()) == OpeningState::Arrived::Waits) {
        arrival_ = Arrival{opened, false, nullptr, nullptr};
        return askAboutArrival();
    }
    show(opened);
}

void Opening::show(const std::shared_ptr<Opened>& opened) {
    Outcome shown = state_.wish() == OpeningState::Wish::Again ? workspace_.readAnew(opened)
                                                               : workspace_.replace(*opened);
    if (!shown) {
        opener_.stop(); // the rest of it has nowhere to go
        end();
        Q_EMIT workspace_.noticed(Notice::failed(tr("%1 was not opened.").arg(what_), shown.error()));
        return render::disposeElsewhere(std::move(opened->records));
    }
    if (std::ranges::any_of(workspace_.opened().missing,
                            [](const Reach& one) { return one.kind != Reach::Kind::AnyHost; })) {
        workspace_.askReach();
    }
}

void Opening::takeGrowth(const std::shared_ptr<const RecordTable>& records, bool last) {
    if (arrival_) {
        arrival_->opened->records = records;
        arrival_->isLast = last;
        return;
    }
    workspace_.grow(records, last);
}

void Opening::takeRead(const std::shared_ptr<SourceRead>& read) {
    if (arrival_) {
        arrival_->read = read;
        return;
    }
    const bool isAnother = state_.wish() == OpeningState::Wish::Another;
    state_.ended();
    Q_EMIT busyChanged(false);
    Q_EMIT answered(std::exchange(answer_, nullptr));
    Q_EMIT this->read(read);
    const std::vector<std::string>& notices = workspace_.document().notices;
    Q_EMIT workspace_.noticed(Notice::over(kOpening));
    if (isAnother && !notices.empty()) {
        Q_EMIT workspace_.noticed(Notice::told(
            tr("Opened. %1%2")
                .arg(QString::fromStdString(notices.front()),
                     notices.size() > 1 ? tr(", and %1 more like it").arg(notices.size() - 1) : QString())));
    }
}

/// Something was opened, and what was there was changed while it came.
void Opening::askAboutArrival() {
    workspace_.ask({kArrived,
                    tr("%1 is here. %2 was changed meanwhile and is not saved. What becomes of it?")
                        .arg(what_, QString::fromStdString(workspace_.document().name)),
                    {},
                    {{QStringLiteral("save"), tr("&Save it first")},
                     {QStringLiteral("discard"), tr("&Let it go")},
                     {QStringLiteral("cancel"), tr("Stay here  Esc")}},
                    [this](const QString& choice, const QList<int>&) {
                        if (choice == QLatin1String("discard")) {
                            landArrival();
                        } else if (choice == QLatin1String("save")) {
                            workspace_.keeper().saveOrAsk(false, [this](bool saved) {
                                if (!saved) {
                                    stayHere();
                                } else if (workspace_.hasUnsaved()) {
                                    askAboutArrival();
                                } else {
                                    landArrival();
                                }
                            });
                        } else {
                            stayHere();
                        }
                    }});
}

void Opening::landArrival() {
    if (!arrival_) {
        return;
    }
    Arrival came = *std::exchange(arrival_, std::nullopt);
    state_.land();
    show(came.opened);
    if (state_.phase() != OpeningState::Phase::Growing) {
        return; // it was refused
    }
    if (came.isLast) {
        takeGrowth(came.opened->records, true);
    }
    if (came.read) {
        takeRead(came.read);
    }
    if (came.examination) {
        Q_EMIT examined(came.examination);
    }
}

/// What came goes again, and what was there is gone on with.
void Opening::stayHere() {
    opener_.stop();
    arrival_.reset();
    end();
}

} // namespace scorrere::workbench

#include "moc_opening.cpp"
