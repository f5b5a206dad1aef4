// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/edit/record_edit.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QList>
#include <QStringList>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWidget>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// What is otherwise than the source has it, edit by edit, each of which can be taken back; those that are not in force
/// say why.
class EditsList : public QWidget {
    Q_OBJECT
public:
    static constexpr std::size_t kMostListed = 60;

    explicit EditsList(Look& look, QWidget* parent = nullptr);
    struct Shown {
        RecordEdits edits;
        bool areKept = false;
        bool isWhole = true;               ///< else they wait until all records are here
        std::vector<std::string> refusals; ///< by edit: why it is not in force; empty: it is
        QStringList states;                ///< by edit: what became of sending it
        std::vector<bool> canSend;         ///< by edit: it is said how; none: there is nobody to send to
        bool isSending = false;
    };
    void take(Shown shown);
    bool hasAny() const { return !said_.isEmpty(); }
    QString summary() const;
    /// Line by line.
    const QStringList& lines() const { return said_; }

Q_SIGNALS:
    void takeBackWanted(int edit);
    void takeAllBackWanted();
    void keepWanted(bool kept);
    void sendWanted(int edit);
    void sendAllWanted();
    void stopWanted();
    /// Somebody wants to say how edits are sent.
    void howWanted(QWidget* from);

private:
    void fill();

    Look& look_;
    QStringList said_;
    QStringList refusals_;
    QStringList states_;
    QList<bool> canSend_; ///< of those that are said; none: there is nobody to send to
    qsizetype count_ = 0;
    bool isWhole_ = true;
    bool isSending_ = false;
    QVBoxLayout* rows_ = nullptr;
    QCheckBox* keep_ = nullptr;
    QToolButton* all_ = nullptr;
    QToolButton* how_ = nullptr;
    QToolButton* sendAll_ = nullptr;
};

} // namespace scorrere::workbench
