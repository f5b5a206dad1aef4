// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/notice.h"
#include "workbench/ui/look/focus_back.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <deque>

namespace scorrere::workbench {

/// A question that stands over the lower left of its parent until it is answered; the page below does not move.
/// Nothing waits for it: what was asked about goes on when the answer comes. Several stand one after the other.
class AskCard : public QFrame {
    Q_OBJECT
public:
    AskCard(Look& look, QWidget* parent);
    void ask(Question question);
    /// Takes a question back without an answer.
    void drop(const QString& about);
    bool isAsking() const { return !questions_.empty(); }
    /// The answer that changes nothing.
    void decline();
    bool isAsking(const QString& about) const;
    QString text() const { return text_->text(); }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void showFirst();
    void answer(const QString& choice);
    void restyle();
    void place();
    int heightWanted(int wide) const;

    Look& look_;
    QLabel* text_;
    QWidget* lines_;
    QWidget* buttons_;
    FocusBack* focus_;
    QList<QCheckBox*> boxes_;
    std::deque<Question> questions_;
};

} // namespace scorrere::workbench
