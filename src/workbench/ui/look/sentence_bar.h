// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"
#include "workbench/ui/look/sentence_word.h"

#include <QLayout>
#include <QList>
#include <QWidget>

namespace scorrere::workbench {

/// A readable sentence whose underlined words are the controls; it wraps like text.
class SentenceBar : public QWidget {
    Q_OBJECT
public:
    explicit SentenceBar(Look& look, QWidget* parent = nullptr);
    /// As large as a head sentence, or small as in a card. A head sentence is smaller where it would take more than
    /// a third of the window, and scrolled where even so it would take more than half of it.
    void setSmall(bool small);
    /// Takes every piece away, to be written anew.
    void clear();
    void addText(const QString& text);
    SentenceWord* addWord(const QString& name, const QString& what);
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return flow(width, px_, false); }
    QSize sizeHint() const override { return {400, flow(width(), px_, false)}; }
    /// Lays the pieces out again, after the last was added.
    void settle();
    /// The whole sentence, as read.
    QString sentence() const;

protected:
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* of, QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    struct Piece {
        QString text;
        SentenceWord* word = nullptr;
        mutable QPoint at; ///< baseline start of a text
    };
    int flow(int width, double px, bool place) const;
    void layOut();
    void scrollTo(int y);

    Look& look_;
    double px_ = 16;
    int margin_ = 18;
    int whole_ = 0;    ///< px that all of it takes
    int scrolled_ = 0; ///< px of it above what shows
    QList<Piece> pieces_;
    QString focused_; ///< the word that had the focus when the sentence was taken away
};

} // namespace scorrere::workbench
