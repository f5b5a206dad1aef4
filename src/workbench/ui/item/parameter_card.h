// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/values.h"
#include "workbench/ui/look/look.h"

#include <QFormLayout>
#include <QFrame>
#include <QLineEdit>

namespace scorrere::workbench {

/// The card at a parameter: its name, its title and unit for people, and where its slider begins, ends and
/// steps. Enter takes what stands there, Esc leaves it.
class ParameterCard : public QFrame {
    Q_OBJECT
public:
    ParameterCard(Look& look, const Parameter& parameter, QWidget* parent);
    void openAt(QPoint global);

Q_SIGNALS:
    /// `to` has another name where it is renamed.
    void parameterWanted(const QString& name, const scorrere::Parameter& to);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    QLineEdit* addLine(QFormLayout& form, const char* name, const QString& heading, const QString& value);
    void accept();

    Parameter parameter_;
    QLineEdit* name_;
    QLineEdit* title_;
    QLineEdit* from_ = nullptr; ///< null: no number
    QLineEdit* to_ = nullptr;
    QLineEdit* step_ = nullptr;
    QLineEdit* unit_ = nullptr;
};

} // namespace scorrere::workbench
