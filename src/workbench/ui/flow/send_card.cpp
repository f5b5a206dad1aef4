// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/send_card.h"

#include "engine/record/uri_template.h"

#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {
constexpr double kWide = 620; ///< px at text scale 1
}

SendCard::SendCard(Look& look, const SendSpec& spec, QWidget* parent)
    : QFrame(parent, Qt::Popup), look_(look), spec_(spec) {
    setObjectName(QStringLiteral("sendCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setFont(look.font(12.5));
    setStyleSheet(
        QStringLiteral("#sendCard { background: %1; border: 1px solid %2; } #sendCard QLabel { color: %3; }")
            .arg(look.card.name(), look.edge.name(), look.ink.name()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 12, 16, 14);
    auto* heading = new QLabel(tr("How the service is told of an edit"));
    heading->setFont(look.font(15, 700));
    column->addWidget(heading);
    auto* hint = new QLabel(
        tr("An address is a URI template: {id} is the record's field, {key} its key. A body is JSON, where "
           "{field} and {value} are what was set and {record} is the record. Without one a value goes as a "
           "merge patch, and a record as it is."));
    hint->setFont(look.font(12));
    hint->setWordWrap(true);
    column->addWidget(hint);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    grid->setColumnStretch(2, 3);
    grid->setColumnStretch(3, 2);
    column->addLayout(grid);
    addRow(*grid, tr("A &value"), "set", &SendSpec::set);
    addRow(*grid, tr("A record &more"), "insert", &SendSpec::insert);
    addRow(*grid, tr("A record &less"), "remove", &SendSpec::remove);
    wrong_ = new QLabel;
    wrong_->setObjectName(QStringLiteral("sendWrong"));
    wrong_->setTextFormat(Qt::PlainText);
    wrong_->setWordWrap(true);
    wrong_->setStyleSheet(QStringLiteral("#sendWrong { color: %1; }").arg(look.bad.name()));
    wrong_->hide();
    column->addWidget(wrong_);
    auto* done = new QPushButton(tr("Take it  Enter"));
    done->setObjectName(QStringLiteral("sendDone"));
    column->addWidget(done, 0, Qt::AlignRight);
    connect(done, &QPushButton::clicked, this, &SendCard::accept);
}

void SendCard::addRow(QGridLayout& grid, const QString& title, const char* name, SendRule SendSpec::*rule) {
    const SendRule& is = spec_.*rule;
    Row row{rule, new QComboBox, new QLineEdit(QString::fromStdString(is.address)),
            new QLineEdit(QString::fromStdString(is.body))};
    row.method->addItems(
        {QStringLiteral("PATCH"), QStringLiteral("PUT"), QStringLiteral("POST"), QStringLiteral("DELETE")});
    row.method->setCurrentText(QString::fromStdString(is.method));
    row.address->setPlaceholderText(tr("address: none, so it is not sent"));
    row.address->setMinimumWidth(static_cast<int>(look_.scaled(130)));
    row.body->setPlaceholderText(tr("body: as usual"));
    row.body->setMinimumWidth(static_cast<int>(look_.scaled(90)));
    const QString plain = QString(title).remove(QLatin1Char('&'));
    row.method->setObjectName(QLatin1String(name) + QStringLiteral("Method"));
    row.method->setAccessibleName(tr("%1: method").arg(plain));
    row.address->setObjectName(QLatin1String(name) + QStringLiteral("Address"));
    row.address->setAccessibleName(tr("%1: address").arg(plain));
    row.body->setObjectName(QLatin1String(name) + QStringLiteral("Body"));
    row.body->setAccessibleName(tr("%1: body").arg(plain));
    auto* label = new QLabel(title);
    label->setBuddy(row.address);
    const int at = grid.rowCount();
    grid.addWidget(label, at, 0);
    grid.addWidget(row.method, at, 1);
    grid.addWidget(row.address, at, 2);
    grid.addWidget(row.body, at, 3);
    rows_ << row;
}

void SendCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        return accept();
    }
    QFrame::keyPressEvent(event);
}

void SendCard::accept() {
    SendSpec to = spec_;
    for (const Row& row : std::as_const(rows_)) {
        SendRule& rule = to.*row.rule;
        rule.method = row.method->currentText().toStdString();
        rule.address = row.address->text().trimmed().toStdString();
        rule.body = row.body->text().trimmed().toStdString();
        std::optional<Error> fault = faultOfBody(rule.body);
        if (const auto address = UriTemplate::parse(rule.address); !address) {
            fault = address.error();
        }
        if (fault) {
            wrong_->setText(QString::fromStdString(fault->message + ". " + fault->advice));
            wrong_->show();
            adjustSize();
            (faultOfBody(rule.body) ? row.body : row.address)->setFocus();
            return;
        }
    }
    Q_EMIT specWanted(to);
    close();
}

void SendCard::openAt(const QWidget& word) {
    ensurePolished();
    adjustSize();
    const QRect room = word.window()->frameGeometry();
    const int wide = std::min(std::max(width(), static_cast<int>(look_.scaled(kWide))), room.width() - 16);
    resize(wide, std::max(heightForWidth(wide), 0));
    QPoint at = word.mapToGlobal(QPoint(0, word.height() + 4));
    at.setX(std::max(room.left() + 8, std::min(at.x(), room.right() - width() - 8)));
    at.setY(std::max(room.top() + 8, std::min(at.y(), room.bottom() - height() - 8)));
    move(at);
    show();
    rows_.front().address->setFocus();
}

} // namespace scorrere::workbench

#include "moc_send_card.cpp"
