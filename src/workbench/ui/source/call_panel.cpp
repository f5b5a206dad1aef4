// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/call_panel.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace scorrere::workbench {

CallPanel::CallPanel(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("callPanel"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 10, 8);
    column->setSpacing(6);
    auto* head = new QHBoxLayout;
    heading_ = new QLabel(tr("Call"));
    ask_ = new QPushButton;
    ask_->setObjectName(QStringLiteral("askButton"));
    head->addWidget(heading_);
    head->addStretch(1);
    head->addWidget(ask_);
    column->addLayout(head);
    auto* place = new QHBoxLayout;
    address_ = new QLineEdit;
    address_->setObjectName(QStringLiteral("addressLine"));
    address_->setPlaceholderText(tr("https://… or a file's path"));
    address_->setAccessibleName(tr("The address or path"));
    file_ = new QPushButton(tr("File…"));
    file_->setObjectName(QStringLiteral("fileButton"));
    file_->setToolTip(tr("Choose a file of records (Ctrl+O)"));
    place->addWidget(address_, 1);
    place->addWidget(file_);
    column->addLayout(place);
    variables_ = new QWidget;
    column->addWidget(variables_);
    shown_ = addLabel(column, QStringLiteral("callShown"));
    headers_ = addLabel(column, QStringLiteral("callHeaders"));
    header_ = new QLineEdit;
    header_->setObjectName(QStringLiteral("headerLine"));
    header_->setPlaceholderText(tr("another header, as in X-Trap: north"));
    header_->setToolTip(tr("Enter adds it; a name and : with nothing behind takes it away"));
    column->addWidget(header_);
    connect(header_, &QLineEdit::returnPressed, this, &CallPanel::takeHeader);
    problem_ = addLabel(column, QStringLiteral("callProblem"));
    list_ = new QPlainTextEdit;
    list_->setObjectName(QStringLiteral("listEdit"));
    list_->setPlaceholderText(
        tr("Type or paste records here: a line each, JSON, or CSV. Then press Ctrl+Return."));
    list_->setTabChangesFocus(true);
    column->addWidget(list_, 1);
    runList_ = new QPushButton(tr("Run this list  Ctrl+↵"));
    runList_->setObjectName(QStringLiteral("runList"));
    column->addWidget(runList_);
    column->addWidget(makeSecretCard());
    hint_ = addLabel(column, QStringLiteral("callHint"));
    hint_->setText(tr("Or drop a file on this window. Ctrl+O chooses one; an address or a path goes in the "
                      "line above. Ctrl+2 runs the "
                      "demo, Ctrl+4 asks its service."));
    column->addStretch(0);
    connect(ask_, &QPushButton::clicked, this,
            [this] { busy_ ? Q_EMIT cancelWanted() : Q_EMIT askWanted(); });
    connect(file_, &QPushButton::clicked, this, &CallPanel::fileWanted);
    connect(runList_, &QPushButton::clicked, this, [this] { Q_EMIT listWanted(list_->toPlainText()); });
    connect(address_, &QLineEdit::returnPressed, this, [this] {
        if (!address_->text().trimmed().isEmpty()) {
            Q_EMIT placeWanted(address_->text().trimmed());
        }
    });
    connect(&look_, &Look::changed, this, &CallPanel::restyle);
    askSecret({});
    restyle();
}

QLabel* CallPanel::addLabel(QVBoxLayout* column, const QString& name) {
    auto* made = new QLabel;
    made->setObjectName(name);
    made->setWordWrap(true);
    made->setTextFormat(Qt::PlainText);
    made->setTextInteractionFlags(Qt::TextSelectableByMouse);
    made->setMinimumWidth(1); // a long word must not push the panel out of sight
    column->addWidget(made);
    return made;
}

QWidget* CallPanel::makeSecretCard() {
    secret_ = new QWidget;
    secret_->setObjectName(QStringLiteral("secretCard"));
    secret_->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(secret_);
    column->setContentsMargins(10, 8, 10, 8);
    secretText_ = addLabel(column, QStringLiteral("secretText"));
    secretLine_ = new QLineEdit;
    secretLine_->setObjectName(QStringLiteral("secretLine"));
    secretLine_->setEchoMode(QLineEdit::Password);
    secretLasts_ = new QCheckBox(tr("keep it for good"));
    secretLasts_->setToolTip(tr("In the desktop's secret service; else until this program ends"));
    auto* use = new QPushButton(tr("Use it"));
    use->setObjectName(QStringLiteral("secretUse"));
    column->addWidget(secretLine_);
    column->addWidget(secretLasts_);
    column->addWidget(use);
    const auto give = [this] {
        const QString secret = secretLine_->text();
        const QString name = secretName_; // the question goes away while the answer is on its way
        if (!secret.isEmpty()) {
            secretLine_->clear();
            Q_EMIT secretGiven(name, secret, secretLasts_->isChecked());
        }
    };
    connect(use, &QPushButton::clicked, this, give);
    connect(secretLine_, &QLineEdit::returnPressed, this, give);
    return secret_;
}

void CallPanel::setSource(const SourceSpec& source, const CallPreview& preview, bool isAnything) {
    const bool isList = isAnything && !source.isDemo && !source.isService() && source.file.empty();
    const bool typing = !isAnything || isList;
    place_ = QString::fromStdString(source.isService() ? source.address : source.file);
    if (!address_->hasFocus() || !address_->isModified()) {
        address_->setText(place_);
        address_->setCursorPosition(0);
    }
    hint_->setVisible(!isAnything);
    list_->setVisible(typing);
    runList_->setVisible(typing);
    if (isList && !list_->hasFocus()) {
        list_->setPlainText(QString::fromStdString(source.list));
    }
    shown_->setVisible(isAnything && !isList);
    shown_->setText(QString::fromStdString(preview.method + " " + preview.address));
    QStringList headers;
    for (const auto& [name, value] : preview.headers) {
        headers << QString::fromStdString(name) + QStringLiteral(": ") + QString::fromStdString(value);
    }
    headers_->setText(headers.join(QLatin1Char('\n')));
    headers_->setVisible(!headers.isEmpty());
    header_->setVisible(source.isService());
    problem_->setText(preview.problem
                          ? QString::fromStdString(preview.problem->message + ". " + preview.problem->advice)
                          : QString());
    problem_->setVisible(preview.problem.has_value());
    ask_->setVisible(isAnything && !isList);
    heading_->setText(!isAnything          ? tr("Bring your records")
                      : isList             ? tr("Your records")
                      : source.isService() ? tr("Call")
                                           : tr("Reading"));
    fillVariables(source, preview);
    setBusy(busy_);
}

/// Secrets have a place of their own: a header with one is not taken.
void CallPanel::takeHeader() {
    const QString text = header_->text().trimmed();
    const QString name = text.section(QLatin1Char(':'), 0, 0).trimmed();
    const bool isSecret = holdsSecret(name.toStdString());
    const bool isRight =
        text.contains(QLatin1Char(':')) && !name.isEmpty() && !name.contains(QLatin1Char(' '));
    if (isSecret || !isRight) {
        problem_->setText(isSecret ? tr("%1 would keep a secret in the file. Name the secret after \"signed "
                                        "with\" instead, as in header %1 NAME.")
                                         .arg(name)
                                   : tr("A header is a name, a colon and a value, as in X-Trap: north."));
        problem_->show();
        return;
    }
    const QString value = text.section(QLatin1Char(':'), 1).trimmed();
    header_->clear();
    Q_EMIT headerWanted(name, value);
}

/// One line a variable of the address; what the page style gives shows as a hint.
void CallPanel::fillVariables(const SourceSpec& source, const CallPreview& preview) {
    QStringList names;
    for (const std::string& name : preview.variables) {
        names << QString::fromStdString(name);
    }
    if (names != variableNames_) {
        variableNames_ = names;
        delete variables_->layout();
        qDeleteAll(variables_->findChildren<QWidget*>());
        auto* grid = new QGridLayout(variables_);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setVerticalSpacing(3);
        for (int i = 0; i < names.size(); ++i) {
            auto* label = new QLabel(names[i]);
            auto* line = new QLineEdit;
            line->setObjectName(QStringLiteral("variable_") + names[i]);
            label->setFont(look_.font(12.5));
            line->setFont(look_.font(12.5));
            line->setMinimumWidth(40);
            grid->addWidget(label, i, 0);
            grid->addWidget(line, i, 1);
            connect(line, &QLineEdit::editingFinished, this, [this, line, name = names[i]] {
                if (line->isModified()) {
                    line->setModified(false);
                    Q_EMIT variableWanted(name, line->text());
                }
            });
        }
    }
    const PageSpec& pages = source.pages;
    for (const QString& name : names) {
        auto* line = variables_->findChild<QLineEdit*>(QStringLiteral("variable_") + name);
        const std::string plain = name.toStdString();
        QString value;
        for (const auto& [known, found] : source.variables) {
            value = known == plain ? QString::fromStdString(found) : value;
        }
        const bool paged = pages.style != PageStyle::None;
        line->setPlaceholderText(paged && plain == pages.count ? QString::number(pages.size)
                                 : paged && plain == pages.from
                                     ? (pages.style == PageStyle::Number   ? QString::number(pages.first)
                                        : pages.style == PageStyle::Offset ? QStringLiteral("0")
                                                                           : tr("none at first"))
                                     : tr("left out"));
        if (!line->isModified()) {
            line->setText(value);
            line->setModified(false);
        }
    }
    variables_->setVisible(!names.isEmpty());
}

void CallPanel::setBusy(bool busy) {
    busy_ = busy;
    ask_->setText(busy                             ? tr("Cancel  Esc")
                  : heading_->text() == tr("Call") ? tr("Ask  Ctrl+↵")
                                                   : tr("Read again  Ctrl+↵"));
}

void CallPanel::askSecret(const QString& name, bool refused) {
    secretName_ = name;
    secret_->setVisible(!name.isEmpty());
    if (!name.isEmpty()) {
        secretText_->setText(
            refused ? tr("The service does not take %1 as it is known here. Give another value; it is used "
                         "instead until this program ends, or for good.")
                          .arg(name)
                    : tr("%1 is not known here: it is neither in the environment nor in the desktop's secret "
                         "service. "
                         "Give it to go on. It is never written to the collection file.")
                          .arg(name));
        secretLine_->setPlaceholderText(tr("the value of %1").arg(name));
        secretLine_->setFocus();
    }
}

void CallPanel::typeList() {
    list_->setFocus();
}

bool CallPanel::takeTyped() {
    if (const QString typed = address_->text().trimmed(); !typed.isEmpty() && typed != place_) {
        Q_EMIT placeWanted(typed);
        return true;
    }
    if (!header_->text().trimmed().isEmpty()) {
        takeHeader();
    }
    for (QLineEdit* line : variables_->findChildren<QLineEdit*>()) {
        Q_EMIT line->editingFinished();
    }
    if (list_->isHidden() || list_->toPlainText().trimmed().isEmpty()) {
        return false;
    }
    Q_EMIT listWanted(list_->toPlainText());
    return true;
}

void CallPanel::restyle() {
    heading_->setFont(look_.font(13, 650));
    for (QWidget* widget :
         {static_cast<QWidget*>(ask_), static_cast<QWidget*>(file_), static_cast<QWidget*>(runList_),
          static_cast<QWidget*>(address_), static_cast<QWidget*>(header_), static_cast<QWidget*>(list_),
          static_cast<QWidget*>(secretLine_), static_cast<QWidget*>(secretLasts_),
          static_cast<QWidget*>(secretText_)}) {
        widget->setFont(look_.font(12.5));
    }
    for (QLabel* label : {shown_, headers_, problem_, hint_}) {
        label->setFont(look_.font(12));
    }
    const auto colour = [](QLabel* label, const QColor& to) {
        label->setStyleSheet(QStringLiteral("color: %1;").arg(to.name()));
    };
    colour(shown_, look_.ink);
    colour(headers_, look_.quiet);
    colour(hint_, look_.quiet);
    colour(problem_, look_.bad);
    ask_->setStyleSheet(
        QStringLiteral(
            "QPushButton { background: %1; color: %2; border: none; border-radius: 11px; padding: 4px 14px; }"
            "QPushButton:focus { border: 2px solid %3; padding: 2px 12px; }")
            .arg(look_.accent.name(), look_.onAccent.name(), look_.ink.name()));
    setMaximumWidth(static_cast<int>(look_.scaled(760)));
    secret_->setStyleSheet(
        QStringLiteral("#secretCard { background: %1; border: 1px solid %2; border-radius: 6px; }")
            .arg(look_.card.name(), look_.accent.name()));
}

} // namespace scorrere::workbench

#include "moc_call_panel.cpp"
