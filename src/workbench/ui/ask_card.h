// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/notice.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <deque>

namespace scorrere::workbench {

/// A question that stands below the sentence until it is answered. Nothing waits for it: what was asked about
/// goes on when the answer comes. Several stand one after the other.
class AskCard : public QFrame {
    Q_OBJECT
public:
    explicit AskCard(Look& look, QWidget* parent = nullptr);
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

private:
    void showFirst();
    void answer(const QString& choice);
    void restyle();

    Look& look_;
    QLabel* text_;
    QWidget* lines_;
    QWidget* buttons_;
    QList<QCheckBox*> boxes_;
    std::deque<Question> questions_;
};

} // namespace scorrere::workbench
