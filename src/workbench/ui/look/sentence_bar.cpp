// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/sentence_bar.h"

#include <QEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <array>

namespace scorrere::workbench {

namespace {

constexpr std::array<double, 4> kHeadSizes{16, 14.5, 13, 12};

} // namespace

SentenceBar::SentenceBar(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("sentence"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    connect(&look_, &Look::changed, this, [this] {
        layOut();
        update();
    });
}

void SentenceBar::clear() {
    const auto* focused = qobject_cast<const SentenceWord*>(focusWidget());
    focused_ = focused != nullptr && focused->hasFocus() ? focused->objectName() : QString();
    for (const Piece& piece : std::as_const(pieces_)) {
        if (piece.word != nullptr) {
            piece.word->hide();
            piece.word->setObjectName(QString());
            piece.word->deleteLater(); // it may be the one that was just used
        }
    }
    pieces_.clear();
}

void SentenceBar::setSmall(bool small) {
    px_ = small ? 13 : kHeadSizes.front();
    margin_ = small ? 0 : 18;
    for (const Piece& piece : std::as_const(pieces_)) {
        if (piece.word != nullptr) {
            piece.word->setSize(px_);
        }
    }
}

void SentenceBar::settle() {
    for (const Piece& piece : std::as_const(pieces_)) {
        if (piece.word != nullptr) {
            piece.word->setVisible(!piece.word->text().isEmpty());
        }
    }
    layOut();
    update();
    if (auto* word = focused_.isEmpty() ? nullptr : findChild<SentenceWord*>(focused_)) {
        word->setFocus(); // the sentence says something else; one is at the same word
    }
    focused_.clear();
}

void SentenceBar::addText(const QString& text) {
    // Each word on its own, so that the sentence can wrap anywhere a text would.
    for (const QString& word : text.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
        pieces_.append({word, nullptr, {}});
    }
}

SentenceWord* SentenceBar::addWord(const QString& name, const QString& what) {
    auto* word = new SentenceWord(look_, what, this);
    word->setObjectName(name);
    word->setSize(px_);
    word->installEventFilter(this);
    pieces_.append({{}, word, {}});
    return word;
}

QString SentenceBar::sentence() const {
    QString whole;
    for (const Piece& piece : pieces_) {
        const QString text = piece.word != nullptr ? piece.word->word() : piece.text;
        if (text.isEmpty()) {
            continue;
        }
        const bool closes = text.size() == 1 && !text.at(0).isLetterOrNumber();
        whole += (whole.isEmpty() || closes ? QString() : QStringLiteral(" ")) + text;
    }
    return whole;
}

int SentenceBar::flow(int width, double px, bool place) const {
    const QFontMetrics& metrics = look_.metrics(px);
    const int space = look_.widthOf(QStringLiteral(" "), px);
    const int line = metrics.height() + (margin_ > 0 ? 8 : 5);
    const int top = static_cast<int>(look_.scaled(margin_ > 0 ? 9 : 2));
    int x = margin_;
    int y = top;
    for (const Piece& piece : pieces_) {
        const QString text = piece.word != nullptr ? piece.word->text() : piece.text;
        if (piece.word != nullptr && text.isEmpty()) {
            continue; // it has nothing to say now
        }
        const int wide = piece.word != nullptr ? piece.word->sizeAt(px).width() : look_.widthOf(text, px);
        const bool closes = piece.word == nullptr && text.size() == 1 && !text.at(0).isLetterOrNumber();
        x += x > margin_ && !closes ? space : 0;
        if (x + wide > width - margin_ && x > margin_ && !closes) {
            x = margin_;
            y += line;
        }
        if (place) {
            const int shown = y - scrolled_;
            piece.at =
                QPoint(x, shown + (line - 1 - metrics.height()) / 2 + metrics.ascent()); // as in a word
            if (piece.word != nullptr) {
                piece.word->setGeometry(x, shown, wide, line - 1);
            }
        }
        x += wide;
    }
    return y + line + top;
}

void SentenceBar::layOut() {
    if (margin_ > 0) {
        const int most = window()->height() / 3;
        px_ = *std::ranges::find_if(kHeadSizes, [&](double px) {
            return px == kHeadSizes.back() || flow(width(), px, false) <= most;
        });
        for (const Piece& piece : std::as_const(pieces_)) {
            if (piece.word != nullptr) {
                piece.word->setSize(px_);
            }
        }
    }
    whole_ = flow(width(), px_, false);
    const int high = margin_ > 0 ? std::min(whole_, window()->height() / 2) : whole_;
    scrolled_ = std::clamp(scrolled_, 0, whole_ - high);
    flow(width(), px_, true);
    setFixedHeight(high);
}

void SentenceBar::scrollTo(int y) {
    if (const int to = std::clamp(y, 0, std::max(whole_ - height(), 0)); to != scrolled_) {
        scrolled_ = to;
        flow(width(), px_, true);
        update();
    }
}

void SentenceBar::wheelEvent(QWheelEvent* event) {
    if (whole_ <= height()) {
        return QWidget::wheelEvent(event);
    }
    scrollTo(scrolled_ - event->angleDelta().y() / 2);
    event->accept();
}

void SentenceBar::resizeEvent(QResizeEvent*) {
    layOut();
}

void SentenceBar::showEvent(QShowEvent*) {
    window()->installEventFilter(this);
    layOut();
}

bool SentenceBar::eventFilter(QObject* of, QEvent* event) {
    if (event->type() == QEvent::Resize && of == window() && isVisible()) {
        layOut(); // how large it may be goes by the window's height
    }
    if (event->type() == QEvent::FocusIn && of != window()) { // a word that keys led to
        const QRect at = static_cast<QWidget*>(of)->geometry();
        scrollTo(at.top() < 0              ? scrolled_ + at.top()
                 : at.bottom() >= height() ? scrolled_ + at.bottom() - height() + 1
                                           : scrolled_);
    }
    return QWidget::eventFilter(of, event);
}

bool SentenceBar::event(QEvent* event) {
    if (event->type() == QEvent::LayoutRequest) { // a word changed its length
        layOut();
        update();
    }
    return QWidget::event(event);
}

void SentenceBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (margin_ > 0) { // in a card it stands on the card
        painter.fillRect(rect(), look_.ground);
        painter.setPen(look_.edge);
        painter.drawLine(0, height() - 1, width(), height() - 1);
        if (whole_ > height()) { // there is more of it
            const double share = static_cast<double>(height()) / whole_;
            painter.setPen(Qt::NoPen);
            painter.setBrush(look_.quiet);
            painter.drawRoundedRect(QRectF(width() - 6, scrolled_ * share + 2, 4, height() * share - 4), 2,
                                    2);
        }
    }
    painter.setFont(look_.font(px_));
    painter.setPen(look_.ink);
    for (const Piece& piece : pieces_) {
        if (piece.word == nullptr) {
            painter.drawText(piece.at, piece.text);
        }
    }
}

} // namespace scorrere::workbench

#include "moc_sentence_bar.cpp"
