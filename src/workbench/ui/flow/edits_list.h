// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/edit/edited_records.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QStringList>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWidget>

namespace scorrere::workbench {

/// What is otherwise than the source has it, edit by edit, each of which can be taken back; those that are not in force
/// say why.
class EditsList : public QWidget {
    Q_OBJECT
public:
    static constexpr std::size_t kMostListed = 60;

    explicit EditsList(Look& look, QWidget* parent = nullptr);
    /// `edited`: as they are in force; null: not yet, or none are. `isWhole`: else they wait until all records are here.
    void take(const RecordEdits& edits, bool areKept, const EditedRecords* edited, bool isWhole);
    bool hasAny() const { return !said_.isEmpty(); }
    QString summary() const;
    /// Line by line.
    const QStringList& lines() const { return said_; }

Q_SIGNALS:
    void takeBackWanted(int edit);
    void takeAllBackWanted();
    void keepWanted(bool kept);

private:
    void fill();

    Look& look_;
    QStringList said_;
    QStringList refusals_;
    qsizetype count_ = 0;
    bool isWhole_ = true;
    QVBoxLayout* rows_ = nullptr;
    QCheckBox* keep_ = nullptr;
    QToolButton* all_ = nullptr;
};

} // namespace scorrere::workbench
