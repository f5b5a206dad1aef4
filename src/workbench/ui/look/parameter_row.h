// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/values.h"
#include "workbench/ui/look/look.h"

#include <QVariant>
#include <QWidget>

class QLabel;
class QSlider;

namespace scorrere::workbench {

/// One parameter to play with: its name, and a slider, a field or a box to tick by its type.
class ParameterRow : public QWidget {
    Q_OBJECT
public:
    ParameterRow(Look& look, const Parameter& parameter, QWidget* parent = nullptr);
    /// Another value from elsewhere; tells nobody.
    void setValue(const Parameter& parameter);

Q_SIGNALS:
    /// A double, a bool or a QString.
    void valueWanted(const QString& name, const QVariant& value);

private:
    void tell(double number);

    Parameter parameter_;
    QSlider* slider_ = nullptr;
    QLabel* said_ = nullptr;
    QWidget* field_ = nullptr;
};

} // namespace scorrere::workbench
