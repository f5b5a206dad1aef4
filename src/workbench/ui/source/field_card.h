// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/source/fields_view.h"

#include <QFrame>
#include <QVBoxLayout>

namespace scorrere::workbench {

/// The card at a field: its type, its name for people, whether it is read, whether it is the key.
class FieldCard : public QFrame {
    Q_OBJECT
public:
    FieldCard(Look& look, const FieldsView::Row& row, QWidget* parent);
    void openAt(QPoint global);

Q_SIGNALS:
    void typeChosen(scorrere::FieldType type);
    /// Empty: numbers and times are written as JSON has them.
    void localeChosen(const QString& locale);
    void titleChosen(const QString& title);
    void leftOutChosen(bool leftOut);
    void keyChosen(bool together);

private:
    void addLocales(const Look& look, const FieldsView::Row& row, QVBoxLayout* column);
};

} // namespace scorrere::workbench
