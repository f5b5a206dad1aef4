// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/source_station.h"

#include "engine/record/record_schema.h"
#include "render/source_call.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/plain_design.h"
#include "workbench/model/source_edit.h"
#include "workbench/ui/look/fitting_scroll.h"
#include "workbench/ui/look/labels.h"
#include "workbench/ui/source/answer_pane.h"
#include "workbench/ui/source/answer_tree.h"
#include "workbench/ui/source/call_panel.h"
#include "workbench/ui/source/field_rows.h"
#include "workbench/ui/source/field_threads.h"
#include "workbench/ui/source/fields_view.h"
#include "workbench/ui/source/findings_list.h"
#include "workbench/ui/source/first_screen.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr std::int64_t kStripRecords = 20'000; ///< the strip takes over a table up to this size

} // namespace

SourceStation::SourceStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), askWhereToSave_(needs.askWhereToSave), askWhatToOpen_(needs.askWhatToOpen) {
    setObjectName(QStringLiteral("sourceStation"));
    sentence_ = new SourceSentence(look());
    sentence_->setObjectName(QStringLiteral("sourceSentence"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    splitter_ = new QSplitter;
    splitter_->setObjectName(QStringLiteral("sourceSplitter"));
    splitter_->setChildrenCollapsible(false);
    splitter_->addWidget(makeLeft());
    answerPane_ = new AnswerPane(look());
    right_ = new QWidget;
    auto* rows = new QVBoxLayout(right_);
    rows->setContentsMargins(8, 0, 12, 6);
    rows->setSpacing(4);
    auto* side = new QHBoxLayout;
    side->setSpacing(0);
    QWidget* fieldsPane = makeFieldsPane();
    threads_ = new FieldThreads(look(), answerPane_->tree(), *fields_);
    side->addWidget(answerPane_, 40);
    side->addWidget(threads_);
    side->addWidget(fieldsPane, 60);
    threads_->setFixedWidth(36);
    rows->addLayout(side, 1);
    findings_ = new FindingsList(look());
    rows->addWidget(findings_);
    auto* rightSide = new QWidget;
    auto* sides = new QVBoxLayout(rightSide);
    sides->setContentsMargins(0, 0, 0, 0);
    first_ = new FirstScreen(look(), workspace());
    sides->addWidget(first_);
    sides->addWidget(right_);
    splitter_->addWidget(rightSide);
    right_->hide(); // there is nothing to show before there is a source
    splitter_->setStretchFactor(0, 0);
    splitter_->setStretchFactor(1, 1);
    connect(splitter_, &QSplitter::splitterMoved, this, [this] { isWidthFitted_ = true; });
    column->addWidget(splitter_, 1);
    connectAll();
    connectWorkspace();
    makeActions();
    connect(&look(), &Look::changed, this, &SourceStation::restyle);
    restyle();
    tellSentence();
    call_->setSource({}, {}, false);
}

SourceStation::~SourceStation() {
    // A field that has the focus tells what was typed when it goes: nobody is there to hear it.
    sentence_->disconnect(this);
    call_->disconnect(this);
    fields_->disconnect(this);
}

const SourceSpec& SourceStation::source() const {
    static const SourceSpec kNone;
    return workspace().isOpen() ? workspace().document().source : kNone;
}

void SourceStation::entered() {
    receivedDue_.start();
    if (!workspace().isOpen()) {
        call_->typeList();
    }
}

void SourceStation::left() {
    receivedDue_.stop();
}

void SourceStation::reveal(const Target& target) {
    const auto row = std::ranges::find(rows(), target.field.toStdString(), &FieldsView::Row::name);
    if (row != rows().end()) {
        fields_->select(static_cast<int>(row - rows().begin()));
    }
    auto* live = strip_->collection();
    if (live != nullptr && target.record >= 0 && target.record < live->records().size()) {
        live->run().jumpTo(target.record);
        strip_->driver().want();
    }
}

std::vector<Offer> SourceStation::offers(const QString&) {
    std::vector<Offer> all;
    for (const FieldsView::Row& row : rows()) {
        Target target;
        target.field = QString::fromStdString(row.name);
        all.push_back({{}, tr("Field %1").arg(target.field), {}, [this, target] {
                           reveal(target);
                           fields_->setFocus();
                       }});
    }
    return all;
}

void SourceStation::save(QSettings& settings) const {
    if (workspace().isOpen()) { // before, there is nothing at the right
        settings.setValue(QStringLiteral("sourceSplitter"), splitter_->saveState());
    }
}

void SourceStation::restore(QSettings& settings) {
    widths_ = settings.value(QStringLiteral("sourceSplitter")).toByteArray();
    first_->setRecent(settings.value(QStringLiteral("recent")).toStringList());
}

void SourceStation::makeActions() {
    addLasting(QStringLiteral("newList"), tr("A list typed here"), QKeySequence(tr("Ctrl+L")),
               [this] { typeList(); });
    addLasting(QStringLiteral("ask"), tr("Ask, or read again"), QKeySequence(tr("Ctrl+Return")), [this] {
        if (!call_->runTypedList()) {
            workspace().opening().readAgain();
        }
    });
    addLasting(QStringLiteral("saveSchemaAction"), tr("Save the records' JSON Schema…"),
               QKeySequence(tr("Ctrl+Shift+J")), [this] { saveSchema(); });
    addLasting(QStringLiteral("copyTypeAction"), tr("Copy the records' C++ type"),
               QKeySequence(tr("Ctrl+Shift+C")), [this] { copyType(); });
}

void SourceStation::connectWorkspace() {
    connect(&workspace(), &Workspace::replaced, this, &SourceStation::takeReplaced);
    connect(&workspace(), &Workspace::changed, this, &SourceStation::takeChanged);
    Opening& opening = workspace().opening();
    connect(&opening, &Opening::busyChanged, call_, &CallPanel::setBusy);
    connect(&opening, &Opening::answered, this, [this](const std::shared_ptr<const Answer>& answer) {
        answer_ = answer;
        answerPane_->setAnswer(answer_);
        threads_->setNodes(answer_ ? answer_->fields : std::vector<std::int32_t>());
        tellSentence();
    });
    connect(&opening, &Opening::read, this, &SourceStation::takeRead);
    connect(&opening, &Opening::examined, this,
            [this](const std::shared_ptr<const Examination>& examination) {
                examination_ = examination;
                tellFindings();
                tellRows();
                tellSentence();
            });
    connect(&opening, &Opening::failed, this, [this](const Error& error) {
        showError(error);
        if (!isVisible()) { // here it stands at the answer
            Q_EMIT noticed(Notice::failed(tr("The source was not read."), error));
        }
    });
    connect(&opening, &Opening::secretMissing, this, [this](const QString& name, bool refused) {
        call_->askSecret(name, refused);
        if (!refused) {
            Q_EMIT goWanted({id(), {}, {}});
        }
    });
    // What the demo service received, while one can see it.
    owedDue_.setSingleShot(true);
    connect(&owedDue_, &QTimer::timeout, this, &SourceStation::writeOwed);
    receivedDue_.setInterval(500);
    connect(&receivedDue_, &QTimer::timeout, this, &SourceStation::tellReceived);
}

void SourceStation::tellReceived() {
    if (const auto server = workspace().demo().server()) {
        answerPane_->setReceived(server->received());
    }
}

void SourceStation::openPlace(const QString& place) {
    Opening& opening = workspace().opening();
    if (place == fileChoice()) {
        opening.open(askWhatToOpen_(this));
    } else if (place == demoServiceChoice()) {
        opening.openDemoService();
    } else if (place == demoChoice()) {
        opening.openDemo(20'000);
    } else if (place == listChoice()) {
        workspace().isList() ? call_->typeList() : opening.openList(sampleList());
    } else {
        opening.openPlace(place);
    }
}

void SourceStation::typeList() {
    Q_EMIT goWanted({id(), {}, {}});
    openPlace(listChoice());
    call_->typeList();
}

QWidget* SourceStation::makeLeft() {
    left_ = new QSplitter(Qt::Vertical);
    left_->setObjectName(QStringLiteral("sourceLeft"));
    left_->setChildrenCollapsible(false);
    call_ = new CallPanel(look());
    auto* scroll = new FittingScroll;
    scroll->setObjectName(QStringLiteral("callScroll"));
    scroll->setWidget(call_);
    below_ = new QWidget;
    below_->hide();
    auto* column = new QVBoxLayout(below_);
    column->setContentsMargins(14, 6, 10, 12);
    stripHeading_ = new QLabel;
    stripHeading_->setObjectName(QStringLiteral("stripHeading"));
    strip_ = new render::StripWidget;
    strip_->setObjectName(QStringLiteral("firstRecords"));
    strip_->setAccessibleName(tr("The first records, running as a plain list"));
    column->addWidget(stripHeading_);
    column->addWidget(strip_, 1);
    left_->addWidget(scroll);
    left_->addWidget(below_);
    connect(left_, &QSplitter::splitterMoved, this, [this] { isLeftFitted_ = true; });
    return left_;
}

QWidget* SourceStation::makeFieldsPane() {
    auto* pane = new QWidget;
    auto* column = new QVBoxLayout(pane);
    column->setContentsMargins(0, 8, 0, 8);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    fieldsHeading_ = new QLabel(tr("Fields"));
    fieldsHint_ = new ElidedLabel;
    fieldsHint_->setObjectName(QStringLiteral("fieldsHint"));
    head->addWidget(fieldsHeading_);
    head->addSpacing(8);
    head->addWidget(fieldsHint_, 1);
    const auto button = [&](const QString& name, const QString& text, const QString& tip, auto signal) {
        auto* made = new QPushButton(text);
        made->setObjectName(name);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, signal);
        buttons_ << made;
        head->addWidget(made);
    };
    button(QStringLiteral("saveSchema"), tr("Save schema…"),
           tr("Save a JSON Schema of the records (Ctrl+Shift+J)"), &SourceStation::saveSchema);
    button(QStringLiteral("copyType"), tr("Copy C++ type"),
           tr("Copy a C++ struct of one record (Ctrl+Shift+C)"), &SourceStation::copyType);
    fields_ = new FieldsView(look());
    column->addLayout(head);
    column->addWidget(fields_, 1);
    return pane;
}

void SourceStation::connectAll() {
    connect(sentence_, &SourceSentence::sourceChanged, &workspace(), &Workspace::changeSource);
    connect(sentence_, &SourceSentence::nounChanged, this, &SourceStation::changeNoun);
    connect(sentence_, &SourceSentence::placeWanted, this, [this](const QString& place) {
        openPlace(place);
        tellSentence(); // what is here stays in the sentence until the other is
    });
    Opening& opening = workspace().opening();
    connect(call_, &CallPanel::askWanted, &opening, &Opening::readAgain);
    connect(call_, &CallPanel::cancelWanted, &opening, &Opening::cancel);
    connect(call_, &CallPanel::placeWanted, this, &SourceStation::openPlace);
    connect(call_, &CallPanel::fileWanted, this, [this] { openPlace(fileChoice()); });
    connect(call_, &CallPanel::listWanted, &opening, &Opening::openList);
    connect(call_, &CallPanel::secretGiven, this,
            [this](const QString& name, const QString& secret, bool lasting) {
                call_->askSecret({});
                workspace().opening().giveSecret(name, secret, lasting);
            });
    connect(call_, &CallPanel::variableWanted, this, [this](const QString& name, const QString& value) {
        changeTo(tr("variable %1").arg(name),
                 withVariable(source(), name.toStdString(), value.toStdString()));
    });
    connect(call_, &CallPanel::headerWanted, this, [this](const QString& name, const QString& value) {
        changeTo(tr("header %1").arg(name), withHeader(source(), name.toStdString(), value.toStdString()));
    });
    AnswerTree& tree = answerPane_->tree();
    connect(&tree, &AnswerTree::selectionChanged, this, &SourceStation::selectRowOfNode);
    connect(&tree, &AnswerTree::itemsWanted, this, [this](const QString& path) {
        SourceSpec to = source();
        to.reading.items = path.toStdString();
        workspace().changeSource(tr("items"), to);
    });
    connect(&tree, &AnswerTree::keyWanted, this, [this](int node) {
        wantKey(JsonOutline::nameOf(answer_->tree.nodes[static_cast<std::size_t>(node)], answer_->treeText),
                false);
    });
    connect(&tree, &AnswerTree::columnWanted, this, &SourceStation::wantColumn);
    connect(fields_, &FieldsView::selectionChanged, this, &SourceStation::selectNodeOfRow);
    connect(fields_, &FieldsView::keyWanted, this, [this](int row, bool together) {
        wantKey(rows()[static_cast<std::size_t>(row)].name, together);
    });
    connect(fields_, &FieldsView::leftOutWanted, this, [this](int row, bool out) {
        changeField(row, out ? tr("leave out") : tr("take back"),
                    [out](FieldChoice& choice) { choice.leftOut = out; });
    });
    connect(fields_, &FieldsView::typeWanted, this, [this](int row, FieldType type) {
        changeField(row, tr("type"), [type](FieldChoice& choice) {
            choice.type = type;
            if (type != FieldType::Integer && type != FieldType::Real && type != FieldType::Time) {
                choice.locale.clear();
            }
        });
    });
    connect(fields_, &FieldsView::localeWanted, this, &SourceStation::wantLocale);
    connect(fields_, &FieldsView::titleWanted, this, [this](int row, const QString& title) {
        changeField(row, tr("name"), [&title](FieldChoice& choice) { choice.title = title.toStdString(); });
    });
    connect(findings_, &FindingsList::mendWanted, this, [this](SourceFinding::Mend mend) {
        SourceSpec to = source();
        if (mend == SourceFinding::Mend::ReadInPages) {
            const PageHints hints = answer_ ? pageHints(*answer_) : PageHints();
            workspace().changeSource(tr("pages"),
                                     withPages(to, hints.style.value_or(PageStyle::None), hints));
            return;
        }
        if (mend == SourceFinding::Mend::ReadAsUtf8) {
            to.reading.charset = "UTF-8";
        } else {
            to.reading.undoDoubleDecoding = true;
        }
        workspace().changeSource(tr("mend texts"), to);
    });
    connect(findings_, &FindingsList::seeWanted, this, [this](qint64 record, const QString& field) {
        Target target;
        target.field = field;
        target.record = record;
        reveal(target);
    });
}

void SourceStation::changeNoun(const QString& noun) {
    if (workspace().isOpen()) {
        CollectionDocument to = workspace().document();
        to.noun = noun.toStdString();
        workspace().change(tr("what records are called"), std::move(to));
    }
}

/// Another is open, or the same with its source read anew. Nothing is known of its answer yet.
void SourceStation::takeReplaced(bool again) {
    records_ = workspace().records();
    read_.reset();
    examination_.reset();
    call_->askSecret({});
    answerPane_->setError({});
    tellFindings();
    tellStrip();
    tellSource();
    owe(kRows);
    if (!again && workspace().opened().isLookedAtFirst()) {
        Q_EMIT goWanted({id(), {}, {}});
    }
}

void SourceStation::takeChanged(Sections what) {
    if (what & (Section::Source | Section::Noun | Section::Place)) {
        const std::vector<std::string>& key = source().key;
        if (examination_ && !key.empty() && key != examination_->key) {
            auto with = std::make_shared<Examination>(*examination_); // until it is looked at again
            with->key = key;
            with->keyIsProposed = false;
            with->check.reset();
            examination_ = with;
        }
        tellSource();
        tellRows();
    }
}

/// The source as the document has it now.
void SourceStation::tellSource() {
    if (first_ != nullptr) {
        first_->hide();
        std::exchange(first_, nullptr)->deleteLater();
        owe(kRight | kBelow);
    }
    if (const QByteArray widths = std::exchange(widths_, {}); !widths.isEmpty()) {
        isWidthFitted_ = splitter_->restoreState(widths);
    }
    isVisible() ? writeCall() : owe(kCall);
    owe(kFit);
    answerPane_->showReceivedTab(source().address.starts_with("demo:/"));
    tellSentence();
}

/// The call gets the height it wants, as long as nobody moved the handle.
void SourceStation::fitLeft() {
    if (!isWidthFitted_) {
        const int wide =
            first_ != nullptr ? splitter_->width() * 5 / 9 : static_cast<int>(look().scaled(262));
        splitter_->setSizes({wide, std::max(splitter_->width() - wide, 1)});
    }
    if (!isLeftFitted_ && left_->height() > 0) {
        const int wanted = std::min(call_->heightForWidth(call_->width() - 12) + 8, left_->height() * 6 / 10);
        left_->setSizes({wanted, left_->height() - wanted});
    }
}

void SourceStation::resizeEvent(QResizeEvent*) {
    fitLeft();
}

void SourceStation::takeRead(const std::shared_ptr<const SourceRead>& read) {
    read_ = read;
    records_ = read_->records;
    if (records_->size() <= kStripRecords) {
        tellStrip();
    }
    stripHeading_->setText(tr("First records · %1 here").arg(grouped(records_->size())));
    tellFindings();
    tellRows();
    tellSentence();
}

void SourceStation::tellFindings() {
    const std::vector<SourceFinding> found =
        read_ ? sourceFindings(read_->reading, read_->answer, examination_.get(), source().isPaged())
              : std::vector<SourceFinding>();
    findings_->setFindings(found);
    std::vector<Finding> told;
    for (const SourceFinding& one : found) {
        Finding finding{QString::fromStdString(one.text), one.isWarning, {id(), {}, {}}};
        finding.target.field = QString::fromStdString(one.field);
        finding.target.record = one.records.empty() ? -1 : one.records.front();
        told.push_back(std::move(finding));
    }
    workspace().findings().tell(id(), std::move(told));
}

void SourceStation::showError(const Error& error) {
    Error shown = error;
    shown.place.file.clear(); // it stands at the left
    if (!shown.message.empty() && shown.place.line == 0) {
        shown.message[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(shown.message[0])));
    }
    answerPane_->setError(
        QString::fromStdString(shown.text()) +
        (records_ && records_->size() > 0
             ? QLatin1Char('\n') + tr("The records of the last answer that could be read are still here.")
             : QString()));
}

/// A JSON Schema of the records, written off this thread.
void SourceStation::saveSchema() {
    if (!examination_) {
        Q_EMIT noticed(Notice::told(tr("There are no records to describe yet.")));
        return;
    }
    const CollectionDocument& document = workspace().document();
    std::string schema = recordSchema(document.name, examination_->profiles, document.source.reading.fields);
    const QString path = askWhereToSave_(this, QString::fromStdString(document.noun + ".schema.json"));
    if (path.isEmpty()) {
        return;
    }
    writing_.start(
        [schema = std::move(schema), path = path.toStdString()](
            const std::stop_token&, const render::Job::Post&) { return writeFileSafely(path, schema); },
        [this, path](const Outcome& written) {
            Q_EMIT noticed(written ? Notice::told(tr("The schema of the records was saved to %1.").arg(path))
                                   : Notice::failed(tr("The schema was not saved."), written.error()));
        });
}

void SourceStation::copyType() {
    if (!examination_) {
        Q_EMIT noticed(Notice::told(tr("There are no records to describe yet.")));
        return;
    }
    const std::string& noun = workspace().document().noun;
    std::string name = noun.ends_with('s') ? noun.substr(0, noun.size() - 1) : noun;
    if (!name.empty() && name[0] >= 'a' && name[0] <= 'z') {
        name[0] = static_cast<char>(name[0] - 32);
    }
    QGuiApplication::clipboard()->setText(
        QString::fromStdString(recordType(name, examination_->profiles, source().reading.fields)));
    Q_EMIT noticed(Notice::told(tr("A C++ struct of one record was copied.")));
}

void SourceStation::tellStrip() {
    stripHeading_->setText(tr("First records · %1 so far").arg(grouped(records_->size())));
    owe(kStrip);
}

void SourceStation::writeStrip() {
    if (!workspace().isOpen()) {
        return;
    }
    const Opened& opened = workspace().opened();
    auto document = plainDocument("", source(), *records_);
    if (document) {
        document->path = opened.document.path; // pictures stand beside it
        (void)static_cast<bool>(strip_->setCollection(
            *document, records_,
            workbench::picturesOf(*document,
                                  {nullptr, opened.access, render::ownHeaders(source(), opened.secret)})));
    }
}

std::vector<std::string> SourceStation::itemPaths() const {
    std::vector<std::string> paths;
    if (read_ && !read_->elements.empty()) {
        return read_->elements;
    }
    if (!answer_ || answer_->treeIsRecords) {
        return paths;
    }
    const auto& nodes = answer_->tree.nodes;
    for (std::size_t i = 0; i < nodes.size() && i < 5000 && paths.size() < 12; ++i) {
        const bool inArray = nodes[i].parent >= 0 && nodes[static_cast<std::size_t>(nodes[i].parent)].type ==
                                                         JsonOutline::Type::Array;
        if (nodes[i].type == JsonOutline::Type::Array && !inArray && nodes[i].depth < 6 &&
            nodes[i].children > 0) {
            const std::string path = answer_->tree.pathOf(i, answer_->treeText) + "[*]";
            if (path.find('[') == path.rfind("[*]") || path.find("][0]") == std::string::npos) {
                paths.push_back(path);
            }
        }
        if (nodes[i].depth == 0 || nodes[i].type != JsonOutline::Type::Array) {
            continue;
        }
        i = static_cast<std::size_t>(nodes[i].subtreeEnd) -
            1; // arrays inside items are no items of the whole
    }
    return paths;
}

void SourceStation::owe(unsigned what) {
    owed_ |= what;
    owedDue_.start();
}

/// Much is told in one turn of the event loop, and often of a station that nobody sees.
void SourceStation::writeOwed() {
    if (!isVisible() || owed_ == 0) {
        return;
    }
    // Painting all of it for the first time takes longer than a frame has, as does laying out anew.
    const unsigned next = owed_ & -owed_;
    owed_ &= ~next;
    switch (next) {
    case kSentence:
        writeSentence();
        break;
    case kRight:
        right_->show();
        break;
    case kBelow:
        below_->show();
        break;
    case kCall:
        writeCall();
        break;
    case kFit:
        fitLeft();
        break;
    case kRows:
        writeRows();
        break;
    default:
        writeStrip();
    }
    owedDue_.start();
}

void SourceStation::tellRows() {
    isVisible() ? writeRows() : owe(kRows);
}

void SourceStation::writeCall() {
    call_->setSource(source(), previewCall(source(), workspace().sourceNeeds()), true);
}

void SourceStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    owedDue_.start();
}

const std::vector<FieldsView::Row>& SourceStation::rows() {
    if (owed_ & kRows) {
        writeRows();
    }
    return fields_->rows();
}

void SourceStation::writeSentence() {
    SourceSaid said;
    said.source = source();
    said.noun = workspace().isOpen() ? workspace().document().noun : "records";
    said.isAnything = workspace().isOpen();
    said.itemPaths = itemPaths();
    said.hints = answer_ ? pageHints(*answer_) : PageHints();
    if (read_) {
        said.used = read_->reading.used;
        said.charsetWhy = read_->reading.charsetWhy;
        said.tables = read_->tables;
    } else {
        said.used = source().reading;
    }
    if (records_) {
        for (const Field& field : records_->fields()) {
            said.fields.push_back(field.name);
        }
    }
    said.key = source().key;
    said.isLooking = records_ && !examination_;
    if (examination_) {
        for (const KeyCandidate& candidate : examination_->candidates) {
            said.keyCandidates.push_back(candidate.fields);
        }
        said.key = source().key.empty() ? examination_->key : source().key;
    }
    sentence_->say(said);
}

void SourceStation::writeRows() {
    owed_ &= ~kRows;
    std::vector<FieldsView::Row> rows = fieldRows(
        {source(), records_.get(), examination_.get(), read_ ? &read_->reading.widenings : nullptr});
    fieldsHint_->setText(rows.empty() ? QString()
                         : examination_ == nullptr
                             ? tr("%1 · looking at every value…").arg(rows.size())
                             : tr("%1 · Enter changes one, K makes it the key").arg(rows.size()));
    fields_->setRows(std::move(rows), examination_);
    threads_->update();
}

void SourceStation::changeTo(const QString& what, const SourceSpec& to) {
    if (!(to == source())) {
        workspace().changeSource(what, to);
    }
}

void SourceStation::changeField(int row, const QString& what,
                                const std::function<void(FieldChoice&)>& change) {
    const std::string& name = rows()[static_cast<std::size_t>(row)].name;
    changeTo(tr("%1 of %2").arg(what, QString::fromStdString(name)), withField(source(), name, change));
}

void SourceStation::wantLocale(int row, const QString& locale) {
    const FieldsView::Row& known = rows()[static_cast<std::size_t>(row)];
    if (locale.toStdString() != known.locale) {
        changeTo(tr("language of %1").arg(QString::fromStdString(known.name)),
                 withLocale(source(), known.name, locale.toStdString(), known.type,
                            known.profile != nullptr ? known.profile->samples : std::vector<std::string>()));
    }
}

void SourceStation::wantKey(const std::string& field, bool together) {
    const std::vector<std::string> now =
        !source().key.empty() || !examination_ ? source().key : examination_->key;
    workspace().changeSource(tr("key"), withKey(source(), now, field, together));
}

void SourceStation::wantColumn(int node) {
    std::vector<std::string> taken;
    for (const FieldsView::Row& row : rows()) {
        taken.push_back(row.name);
    }
    const NewColumn made =
        withColumn(source(), answer_->tree, answer_->treeText, answer_->items, node, taken);
    if (!made.name.empty()) {
        changeTo(tr("column %1").arg(QString::fromStdString(made.name)), made.source);
    }
}

void SourceStation::selectNodeOfRow(int row) {
    const int field = row < 0 ? -1 : rows()[static_cast<std::size_t>(row)].tableField;
    if (answer_ && field >= 0 && field < static_cast<int>(answer_->fields.size()) &&
        answer_->fields[static_cast<std::size_t>(field)] >= 0) {
        answerPane_->tree().select(answer_->fields[static_cast<std::size_t>(field)]);
    }
}

void SourceStation::selectRowOfNode(int node) {
    if (!answer_ || node < 0) {
        return;
    }
    // Any item's member will do: they have the names in common.
    const auto& known = answer_->tree.nodes[static_cast<std::size_t>(node)];
    const bool isMember =
        known.parent >= 0 && answer_->items >= 0 &&
        answer_->tree.nodes[static_cast<std::size_t>(known.parent)].parent == answer_->items;
    const auto exact = std::ranges::find(answer_->fields, node);
    for (std::size_t row = 0; row < rows().size(); ++row) {
        const FieldsView::Row& field = rows()[row];
        const bool same = exact != answer_->fields.end()
                              ? field.tableField == static_cast<int>(exact - answer_->fields.begin())
                              : isMember && field.name == JsonOutline::nameOf(known, answer_->treeText);
        if (same) {
            fields_->select(static_cast<int>(row));
        }
    }
}

void SourceStation::restyle() {
    for (QLabel* label : {stripHeading_, fieldsHeading_}) {
        label->setFont(look().font(13, 650));
    }
    stripHeading_->setFont(look().font(12.5, 600));
    fieldsHint_->setFont(look().font(12));
    fieldsHint_->setStyleSheet(QStringLiteral("color: %1;").arg(look().quiet.name()));
    for (QPushButton* button : std::as_const(buttons_)) {
        button->setFont(look().font(12));
    }
    if (!records_) {
        stripHeading_->setText(tr("First records"));
    }
    strip_->setColours(look().items);
    setStyleSheet(
        QStringLiteral("QPushButton { background: %1; color: %3; border: 1px solid %2; border-radius: 10px; "
                       "padding: 3px 10px; }"
                       "QPushButton:hover { background: %4; } QPushButton:focus { border: 1px solid %5; }"
                       "QPushButton:checked { border: 1px solid %5; color: %5; }"
                       "QLineEdit, QPlainTextEdit#listEdit { background: %1; color: %3; border: 1px solid "
                       "%2; border-radius: 4px; padding: 2px 5px; }"
                       "QLineEdit:focus, QPlainTextEdit#listEdit:focus { border: 1px solid %5; }")
            .arg(look().card.name(), look().edge.name(), look().ink.name(), look().ground.name(),
                 look().accent.name()));
    fitLeft();
}

} // namespace scorrere::workbench

#include "moc_source_station.cpp"
