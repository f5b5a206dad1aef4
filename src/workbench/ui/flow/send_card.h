// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/send_spec.h"
#include "workbench/ui/look/look.h"

#include <QComboBox>
#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <array>

namespace scorrere::workbench {

/// How a service is told of edits: for a value, a record more and a record less the method, the address and the body.
class SendCard : public QFrame {
    Q_OBJECT
public:
    SendCard(Look& look, const SendSpec& spec, QWidget* parent);
    void openAt(const QWidget& word);

Q_SIGNALS:
    void specWanted(const scorrere::SendSpec& spec);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Row {
        SendRule SendSpec::*rule;
        QComboBox* method = nullptr;
        QLineEdit* address = nullptr;
        QLineEdit* body = nullptr;
    };
    void addRow(QGridLayout& grid, const QString& title, const char* name, SendRule SendSpec::*rule);
    void accept();

    Look& look_;
    SendSpec spec_;
    QList<Row> rows_;
    QLabel* wrong_ = nullptr;
};

} // namespace scorrere::workbench
