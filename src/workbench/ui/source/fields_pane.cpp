// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/fields_pane.h"

#include "engine/record/record_schema.h"
#include "workbench/model/opening.h"
#include "workbench/model/source_edit.h"
#include "workbench/ui/look/labels.h"
#include "workbench/ui/source/field_rows.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace scorrere::workbench {

FieldsPane::FieldsPane(Look& look, Workspace& workspace, AskWhereToSave ask, QWidget* parent)
    : QWidget(parent), look_(look), workspace_(workspace), askWhereToSave_(std::move(ask)),
      view_(new FieldsView(look)), heading_(new QLabel(tr("Fields"))), hint_(new ElidedLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 8);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    hint_->setObjectName(QStringLiteral("fieldsHint"));
    head->addWidget(heading_);
    head->addSpacing(8);
    head->addWidget(hint_, 1);
    const auto button = [&](const QString& name, const QString& text, const QString& tip, auto does) {
        auto* made = new QPushButton(text);
        made->setObjectName(name);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, does);
        buttons_ << made;
        head->addWidget(made);
    };
    button(QStringLiteral("lookAtValues"), {}, {}, &FieldsPane::turnLooking);
    looking_ = buttons_.constLast();
    looking_->setFocusPolicy(Qt::TabFocus); // pressed, it may be gone
    looking_->hide();
    button(QStringLiteral("saveSchema"), tr("Save schema…"),
           tr("Save a JSON Schema of the records (Ctrl+Shift+J)"), &FieldsPane::saveSchema);
    button(QStringLiteral("copyType"), tr("Copy C++ type"),
           tr("Copy a C++ struct of one record (Ctrl+Shift+C)"), &FieldsPane::copyType);
    column->addLayout(head);
    column->addWidget(view_, 1);
    connect(&workspace_.opening().examiner(), &Examiner::told, this, &FieldsPane::tellHint);
    connect(view_, &FieldsView::keyWanted, this,
            [this](int index, bool together) { wantKey(row(index).name, together); });
    connect(view_, &FieldsView::leftOutWanted, this, [this](int index, bool out) {
        changeField(index, out ? tr("leave out") : tr("take back"),
                    [out](FieldChoice& choice) { choice.leftOut = out; });
    });
    connect(view_, &FieldsView::typeWanted, this, &FieldsPane::wantType);
    connect(view_, &FieldsView::localeWanted, this, &FieldsPane::wantLocale);
    connect(view_, &FieldsView::titleWanted, this, [this](int index, const QString& title) {
        changeField(index, tr("name"), [&title](FieldChoice& choice) { choice.title = title.toStdString(); });
    });
    connect(&look_, &Look::changed, this, &FieldsPane::restyle);
    restyle();
}

FieldsPane::~FieldsPane() {
    // A field that has the focus tells what was typed when it goes: nobody is there to hear it.
    view_->disconnect(this);
}

const SourceSpec& FieldsPane::source() const {
    static const SourceSpec kNone;
    return workspace_.isOpen() ? workspace_.document().source : kNone;
}

const FieldsView::Row& FieldsPane::row(int index) const {
    return view_->rows()[static_cast<std::size_t>(index)];
}

void FieldsPane::tell(const Known& known) {
    known_ = known;
    std::vector<FieldsView::Row> rows = fieldRows({source(), known_.records.get(), known_.examination.get(),
                                                   known_.read ? &known_.read->reading.widenings : nullptr});
    view_->setRows(std::move(rows), known_.examination);
    tellHint();
}

/// How many fields there are, and how far what is looked for in them is.
void FieldsPane::tellHint() {
    const Examiner& examiner = workspace_.opening().examiner();
    const qsizetype fields = std::ssize(view_->rows());
    const QString far = examiner.farInWords();
    const bool isMissing = fields > 0 && known_.examination == nullptr;
    QString words;
    if (isMissing) {
        words = examiner.isStopped() ? tr("not every value was looked at, so no key is proposed")
                : far.isEmpty()      ? tr("looking at every value…")
                                     : tr("looking at values: %1").arg(far);
    } else if (fields > 0) {
        words = tr("Enter changes one, K makes it the key");
    }
    hint_->setText(fields == 0 ? QString() : QStringLiteral("%1 · %2").arg(fields).arg(words));
    looking_->setText(examiner.isStopped() ? tr("Look at all") : tr("Stop"));
    looking_->setToolTip(examiner.isStopped()
                             ? tr("Look at every value, for what fields are like and what could be the key")
                             : tr("Look at no more values"));
    looking_->setVisible(isMissing && (examiner.isStopped() || !far.isEmpty()));
}

void FieldsPane::turnLooking() {
    Opening& opening = workspace_.opening();
    opening.examiner().isStopped() ? opening.examine() : opening.examiner().stop();
    tellHint();
}

void FieldsPane::changeField(int index, const QString& what,
                             const std::function<void(FieldChoice&)>& change) {
    const std::string& name = row(index).name;
    workspace_.changeSource(tr("%1 of %2").arg(what, QString::fromStdString(name)),
                            withField(source(), name, change));
}

void FieldsPane::wantType(int index, FieldType type) {
    changeField(index, tr("type"), [type](FieldChoice& choice) {
        choice.type = type;
        if (type != FieldType::Integer && type != FieldType::Real && type != FieldType::Time) {
            choice.locale.clear();
        }
    });
}

void FieldsPane::wantLocale(int index, const QString& locale) {
    const FieldsView::Row& known = row(index);
    if (locale.toStdString() != known.locale) {
        workspace_.changeSource(
            tr("language of %1").arg(QString::fromStdString(known.name)),
            withLocale(source(), known.name, locale.toStdString(), known.type,
                       known.profile != nullptr ? known.profile->samples : std::vector<std::string>()));
    }
}

void FieldsPane::wantKey(const std::string& field, bool together) {
    const std::vector<std::string> now =
        !source().key.empty() || !known_.examination ? source().key : known_.examination->key;
    workspace_.changeSource(tr("key"), withKey(source(), now, field, together));
}

void FieldsPane::saveSchema() {
    if (!known_.examination) {
        Q_EMIT noticed(Notice::told(tr("There are no records to describe yet.")));
        return;
    }
    const CollectionDocument& document = workspace_.document();
    std::string schema =
        recordSchema(document.name, known_.examination->profiles, document.source.reading.fields);
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

void FieldsPane::copyType() {
    if (!known_.examination) {
        Q_EMIT noticed(Notice::told(tr("There are no records to describe yet.")));
        return;
    }
    const std::string& noun = workspace_.document().noun;
    std::string name = noun.ends_with('s') ? noun.substr(0, noun.size() - 1) : noun;
    if (!name.empty() && name[0] >= 'a' && name[0] <= 'z') {
        name[0] = static_cast<char>(name[0] - 32);
    }
    QGuiApplication::clipboard()->setText(
        QString::fromStdString(recordType(name, known_.examination->profiles, source().reading.fields)));
    Q_EMIT noticed(Notice::told(tr("A C++ struct of one record was copied.")));
}

void FieldsPane::restyle() {
    heading_->setFont(look_.font(13, 650));
    hint_->setFont(look_.font(12));
    hint_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    for (QPushButton* button : std::as_const(buttons_)) {
        button->setFont(look_.font(12));
    }
}

} // namespace scorrere::workbench

#include "moc_fields_pane.cpp"
