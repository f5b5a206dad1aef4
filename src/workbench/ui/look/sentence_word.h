// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QAbstractButton>
#include <QHash>
#include <QPointer>
#include <QStringList>
#include <functional>

class QLineEdit;

namespace scorrere::workbench {

/// One word of a sentence that is also its control: click it, type over it, or arrow through its choices.
class SentenceWord : public QAbstractButton {
    Q_OBJECT
public:
    /// `what`: what the word stands for, said by tooltips and to assistive tools.
    SentenceWord(Look& look, const QString& what, QWidget* parent = nullptr);

    void setChoices(const QStringList& choices);
    /// What stands beside choices in the card, by the choice.
    void setNotes(const QHash<QString, QString>& notes) { notes_ = notes; }
    void setWord(const QString& word);
    const QString& what() const { return what_; }
    const QStringList& choices() const { return choices_; }
    /// As if it had been chosen in the card.
    void choose(const QString& word) { accept(word); }
    QString word() const { return text(); }
    /// Lets words outside the choices be typed: gives the word as it will stand, or nothing when it means
    /// nothing.
    void setReader(std::function<QString(const QString& typed)> reader, const QString& hint);
    /// What it is while nothing was said: Delete or Backspace brings it back.
    void setUsual(const QString& word) { usual_ = word; }
    /// Every word that is typed is taken at once, as wordTyped; an empty one is the usual one.
    void setFindsAsTyped(bool does) { findsAsTyped_ = does; }
    /// Of its type, px at text scale 1.
    void setSize(double px);
    QSize sizeHint() const override { return sizeAt(px_); }
    /// What it takes at another size.
    QSize sizeAt(double px) const;

Q_SIGNALS:
    /// The user chose another word; it already stands.
    void wordChosen(const QString& word);
    /// It stands while typing goes on.
    void wordTyped(const QString& word);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    static bool isTyping(const QKeyEvent& event);
    void openCard(const QString& typed);
    void choose(QWidget* card, const QString& word);
    void stepBy(int by);
    void followTyping(QLineEdit* line);
    void accept(const QString& word);

    Look& look_;
    double px_ = 16;
    QString what_;
    QStringList choices_;
    std::function<QString(const QString&)> reader_;
    QString hint_;
    QHash<QString, QString> notes_;
    QString usual_; ///< empty: there is none
    bool findsAsTyped_ = false;
    QPointer<QWidget> before_; ///< had the focus when it was pressed; null: it came by keys
};

} // namespace scorrere::workbench
