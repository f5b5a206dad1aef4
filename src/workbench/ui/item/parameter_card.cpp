// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/parameter_card.h"

#include <QDoubleValidator>
#include <QKeyEvent>
#include <QPushButton>

namespace scorrere::workbench {

ParameterCard::ParameterCard(Look& look, const Parameter& parameter, QWidget* parent)
    : QFrame(parent, Qt::Popup), parameter_(parameter) {
    setObjectName(QStringLiteral("parameterCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setFont(look.font(13));
    setStyleSheet(QStringLiteral("#parameterCard { background: %1; border: 1.5px solid %2; }")
                      .arg(look.card.name(), look.accent.name()));
    auto* form = new QFormLayout(this);
    name_ = addLine(*form, "parameterName", tr("Name in rules"), QString::fromStdString(parameter.name));
    title_ = addLine(*form, "parameterTitle", tr("For people"), QString::fromStdString(parameter.title));
    title_->setPlaceholderText(name_->text());
    if (parameter.type == ParameterType::Number) {
        from_ = addLine(*form, "parameterFrom", tr("From"), QString::number(parameter.from, 'g', 12));
        to_ = addLine(*form, "parameterTo", tr("To"), QString::number(parameter.to, 'g', 12));
        step_ = addLine(*form, "parameterStep", tr("In steps of"), QString::number(parameter.step, 'g', 12));
        unit_ = addLine(*form, "parameterUnit", tr("Unit"), QString::fromStdString(parameter.unit));
        for (QLineEdit* line : {from_, to_, step_}) {
            line->setValidator(new QDoubleValidator(line));
        }
    }
    auto* done = new QPushButton(tr("Take it  Enter"), this);
    done->setObjectName(QStringLiteral("parameterDone"));
    connect(done, &QPushButton::clicked, this, &ParameterCard::accept);
    form->addRow(done);
}

QLineEdit* ParameterCard::addLine(QFormLayout& form, const char* name, const QString& heading,
                                  const QString& value) {
    auto* line = new QLineEdit(value, this);
    line->setObjectName(QLatin1String(name));
    line->setAccessibleName(heading);
    form.addRow(heading, line);
    return line;
}

void ParameterCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        return accept();
    }
    QFrame::keyPressEvent(event);
}

void ParameterCard::accept() {
    Parameter to = parameter_;
    to.name = name_->text().trimmed().toStdString();
    to.title = title_->text().trimmed().toStdString();
    if (from_ != nullptr) {
        to.from = from_->text().toDouble();
        to.to = to_->text().toDouble();
        to.step = step_->text().toDouble();
        to.unit = unit_->text().trimmed().toStdString();
    }
    Q_EMIT parameterWanted(QString::fromStdString(parameter_.name), to);
    close();
}

void ParameterCard::openAt(QPoint global) {
    showCardAt(*this, global);
    name_->setFocus();
    name_->selectAll();
}

} // namespace scorrere::workbench

#include "moc_parameter_card.cpp"
