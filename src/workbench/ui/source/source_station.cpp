// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/source_station.h"

#include "workbench/model/source_edit.h"
#include "workbench/ui/look/fitting_scroll.h"
#include "workbench/ui/source/answer_pane.h"
#include "workbench/ui/source/answer_tree.h"
#include "workbench/ui/source/call_panel.h"
#include "workbench/ui/source/field_threads.h"
#include "workbench/ui/source/fields_pane.h"
#include "workbench/ui/source/findings_list.h"
#include "workbench/ui/source/first_records.h"
#include "workbench/ui/source/first_screen.h"

#include <QHBoxLayout>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

SourceStation::SourceStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), askWhatToOpen_(needs.askWhatToOpen) {
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
    fields_ = new FieldsPane(look(), workspace(), needs.askWhereToSave);
    answerPane_ = new AnswerPane(look());
    right_ = new QWidget;
    auto* rows = new QVBoxLayout(right_);
    rows->setContentsMargins(8, 0, 12, 6);
    rows->setSpacing(4);
    auto* side = new QHBoxLayout;
    side->setSpacing(0);
    threads_ = new FieldThreads(look(), answerPane_->tree(), fields_->view());
    side->addWidget(answerPane_, 40);
    side->addWidget(threads_);
    side->addWidget(fields_, 60);
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
    fields_->view().disconnect(this);
}

const SourceSpec& SourceStation::source() const {
    static const SourceSpec kNone;
    return workspace().isOpen() ? workspace().document().source : kNone;
}

render::StripWidget& SourceStation::strip() {
    return firstRecords_->strip();
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
        fields_->view().select(static_cast<int>(row - rows().begin()));
    }
    firstRecords_->bringUp(target.record);
}

std::vector<Offer> SourceStation::offers(const QString&) {
    std::vector<Offer> all;
    for (const FieldsView::Row& row : rows()) {
        Target target;
        target.field = QString::fromStdString(row.name);
        all.push_back({{}, tr("Field %1").arg(target.field), {}, [this, target] {
                           reveal(target);
                           fields_->view().setFocus();
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

void SourceStation::ask() {
    if (!call_->takeTyped()) {
        workspace().opening().readAgain();
    }
}

void SourceStation::makeActions() {
    addLasting(QStringLiteral("newList"), tr("A list typed here"), QKeySequence(tr("Ctrl+L")),
               [this] { typeList(); });
    addLasting(QStringLiteral("ask"), tr("Ask, or read again"), QKeySequence(tr("Ctrl+Return")),
               [this] { ask(); });
    addLasting(QStringLiteral("saveSchemaAction"), tr("Save the records' JSON Schema…"),
               QKeySequence(tr("Ctrl+Shift+J")), [this] { fields_->saveSchema(); });
    addLasting(QStringLiteral("copyTypeAction"), tr("Copy the records' C++ type"),
               QKeySequence(tr("Ctrl+Shift+C")), [this] { fields_->copyType(); });
}

void SourceStation::connectWorkspace() {
    connect(&workspace(), &Workspace::replaced, this, &SourceStation::takeReplaced);
    connect(&workspace(), &Workspace::changed, this, &SourceStation::takeChanged);
    Opening& opening = workspace().opening();
    connect(&opening, &Opening::busyChanged, call_, &CallPanel::setBusy);
    connect(&opening, &Opening::answered, this, [this](const std::shared_ptr<const Answer>& answer) {
        answer_ = answer;
        answerPane_->setAnswer(answer_);
        tellEdits();
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
    connect(&opening.examiner(), &Examiner::told, this, [this] {
        if (workspace().opening().examiner().isStopped()) {
            tellSentence();
        }
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
    firstRecords_ = new FirstRecords(look(), workspace());
    firstRecords_->hide();
    left_->addWidget(scroll);
    left_->addWidget(firstRecords_);
    connect(left_, &QSplitter::splitterMoved, this, [this] { isLeftFitted_ = true; });
    return left_;
}

void SourceStation::connectAll() {
    connect(sentence_, &SourceSentence::sourceChanged, &workspace(), &Workspace::changeSource);
    connect(sentence_, &SourceSentence::nounChanged, this, &SourceStation::changeNoun);
    connect(sentence_, &SourceSentence::placeWanted, this, [this](const QString& place) {
        openPlace(place);
        tellSentence(); // what is here stays in the sentence until the other is
    });
    Opening& opening = workspace().opening();
    connect(call_, &CallPanel::askWanted, this, &SourceStation::ask);
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
        fields_->wantKey(
            JsonOutline::nameOf(answer_->tree.nodes[static_cast<std::size_t>(node)], answer_->treeText),
            false);
    });
    connect(&tree, &AnswerTree::columnWanted, this, &SourceStation::wantColumn);
    connect(&tree, &AnswerTree::editWanted, this, &SourceStation::editNode);
    connect(&fields_->view(), &FieldsView::selectionChanged, this, &SourceStation::selectNodeOfRow);
    connect(fields_, &FieldsPane::noticed, this, &SourceStation::noticed);
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
    tellFirstRecords();
    tellSource();
    owe(kRows);
    if (!again && workspace().opened().isLookedAtFirst()) {
        Q_EMIT goWanted({id(), {}, {}});
    }
}

void SourceStation::takeChanged(Sections what) {
    if (what & Section::Edits) {
        tellEdits();
    }
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
    if (records_->size() <= FirstRecords::kMost) {
        tellFirstRecords();
    }
    firstRecords_->tellCount(records_->size(), true);
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

void SourceStation::tellFirstRecords() {
    firstRecords_->tellCount(records_->size(), false);
    owe(kFirstRecords);
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
        firstRecords_->show();
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
        firstRecords_->take(records_);
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
    return fields_->view().rows();
}

void SourceStation::writeRows() {
    owed_ &= ~kRows;
    fields_->tell({records_, read_, examination_});
    threads_->update();
}

void SourceStation::writeSentence() {
    SourceSaid said;
    said.source = source();
    said.noun = workspace().isOpen() ? workspace().document().noun : "records";
    said.isAnything = workspace().isOpen();
    if (read_ && !read_->elements.empty()) {
        said.itemPaths = read_->elements;
    } else if (answer_) {
        said.itemPaths = answer_->itemPaths();
    }
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
    said.isLooking = records_ && !examination_ && !workspace().opening().examiner().isStopped();
    if (examination_) {
        for (const KeyCandidate& candidate : examination_->candidates) {
            said.keyCandidates.push_back(candidate.fields);
        }
        said.key = source().key.empty() ? examination_->key : source().key;
    }
    sentence_->say(said);
}

void SourceStation::changeTo(const QString& what, const SourceSpec& to) {
    if (!(to == source())) {
        workspace().changeSource(what, to);
    }
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
    if (row >= 0 &&
        fieldOfNode(answerPane_->tree().selected()) == rows()[static_cast<std::size_t>(row)].name) {
        return; // the tree has it selected, in whichever record
    }
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
            fields_->view().select(static_cast<int>(row));
        }
    }
}

void SourceStation::restyle() {
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
