// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/parameter_row.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

ParameterRow::ParameterRow(Look& look, const Parameter& parameter, QWidget* parent)
    : QWidget(parent), parameter_(parameter) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 1, 0, 1);
    row->setSpacing(9);
    const QString title = QString::fromStdString(parameter.title.empty() ? parameter.name : parameter.title);
    const QString name = QString::fromStdString(parameter.name);
    auto* label = new QLabel(title, this);
    label->setFont(look.font(12.5, 600));
    row->addWidget(label);
    const QString control = QStringLiteral("parameter_") + name;
    if (parameter.type == ParameterType::Number) {
        slider_ = new QSlider(Qt::Horizontal, this);
        slider_->setObjectName(control);
        slider_->setAccessibleName(title);
        slider_->setMinimumWidth(90);
        slider_->setRange(
            0, static_cast<int>(std::clamp((parameter.to - parameter.from) / parameter.step, 1.0, 10'000.0)));
        said_ = new QLabel(this);
        said_->setFont(look.font(12));
        connect(slider_, &QSlider::valueChanged, this, [this, name](int at) {
            const double number = parameter_.from + at * parameter_.step;
            tell(number);
            Q_EMIT valueWanted(name, number);
        });
        row->addWidget(slider_, 1);
        row->addWidget(said_);
    } else if (parameter.type == ParameterType::YesNo) {
        auto* box = new QCheckBox(this);
        connect(box, &QCheckBox::toggled, this, [this, name](bool on) { Q_EMIT valueWanted(name, on); });
        field_ = box;
        row->addWidget(box);
        row->addStretch(1);
    } else {
        auto* field = new QComboBox(this);
        field->setEditable(parameter.choices.empty());
        for (const std::string& choice : parameter.choices) {
            field->addItem(QString::fromStdString(choice));
        }
        field->setFont(look.font(12.5));
        connect(field, &QComboBox::currentTextChanged, this,
                [this, name](const QString& text) { Q_EMIT valueWanted(name, text); });
        field_ = field;
        row->addWidget(field, 1);
    }
    if (field_ != nullptr) {
        field_->setObjectName(control);
        field_->setAccessibleName(title);
    }
    setValue(parameter);
}

void ParameterRow::tell(double number) {
    const QString unit = QString::fromStdString(parameter_.unit);
    said_->setText(QString::number(number, 'g', 8) + (unit.isEmpty() ? QString() : QLatin1Char(' ') + unit));
}

void ParameterRow::setValue(const Parameter& parameter) {
    parameter_ = parameter;
    if (slider_ != nullptr) {
        const QSignalBlocker quiet(slider_);
        if (!slider_->isSliderDown()) {
            slider_->setValue(
                static_cast<int>(std::lround((parameter.number - parameter.from) / parameter.step)));
        }
        tell(parameter.number);
        return;
    }
    const QSignalBlocker quiet(field_);
    if (auto* box = qobject_cast<QCheckBox*>(field_)) {
        box->setChecked(parameter.yes);
    } else if (auto* field = qobject_cast<QComboBox*>(field_); field != nullptr && !field->hasFocus()) {
        field->setCurrentText(QString::fromStdString(parameter.text));
    }
}

} // namespace scorrere::workbench

#include "moc_parameter_row.cpp"
