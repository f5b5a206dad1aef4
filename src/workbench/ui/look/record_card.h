// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/record_changes.h"
#include "workbench/ui/look/look.h"

#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QList>
#include <QToolButton>

namespace scorrere::workbench {

/// One record, field by field: each value can be typed over, which edits the record and leaves its source as it is.
class RecordCard : public QFrame {
    Q_OBJECT
public:
    RecordCard(Look& look, RecordFacts facts, QWidget* parent);
    /// What it says now. A value that is being typed is left alone.
    void take(RecordFacts facts);
    const RecordFacts& facts() const { return facts_; }
    /// Beside a point of the screen, where there is room.
    void openAt(const QPoint& at, const QRect& room);
    void focusOn(const std::string& field);
    /// It can be edited and removed here, and nothing else.
    void setOnlyValues();

Q_SIGNALS:
    void editWanted(const scorrere::RecordEdit& edit, bool isAsSource);
    void removeWanted();
    void likeWanted();
    /// To where the record of this number, from 1, stands among all.
    void moveWanted(qint64 number);

private:
    struct Row {
        QLineEdit* value = nullptr;
        QToolButton* back = nullptr;
        QLabel* said = nullptr;
    };
    void makeRows(QGridLayout& grid);
    void makeActions(QLayout& column);
    void tell(qsizetype row);
    void wantValue(qsizetype row);
    bool isEditable() const { return !facts_.key.empty() && !facts_.isMadeUp; }

    Look& look_;
    RecordFacts facts_;
    QLabel* heading_ = nullptr;
    QList<Row> rows_;
};

} // namespace scorrere::workbench
