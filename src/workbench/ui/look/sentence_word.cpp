// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/sentence_word.h"

#include <QFrame>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QScreen>
#include <QTimer>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <memory>

namespace scorrere::workbench {

namespace {
constexpr qsizetype kFewChoices = 4;
constexpr int kRestMs = 120;
} // namespace

SentenceWord::SentenceWord(Look& look, const QString& what, QWidget* parent)
    : QAbstractButton(parent), look_(look), what_(what) {
    setFocusPolicy(Qt::TabFocus); // a press gives it the focus, too: see there
    setCursor(Qt::PointingHandCursor);
    setToolTip(tr("%1: click, type, or press ↑ ↓ to change it").arg(what));
    setAccessibleName(what);
    connect(this, &QAbstractButton::clicked, this, [this] { openCard({}); });
    connect(&look_, &Look::changed, this, [this] { updateGeometry(); });
}

void SentenceWord::setChoices(const QStringList& choices) {
    choices_ = choices;
}

void SentenceWord::setWord(const QString& word) {
    if (word != text()) {
        setText(word);
        setAccessibleName(word.isEmpty() ? what_ : tr("%1: %2").arg(what_, word));
        updateGeometry();
    }
}

void SentenceWord::setReader(std::function<QString(const QString&)> reader, const QString& hint) {
    reader_ = std::move(reader);
    hint_ = hint;
}

void SentenceWord::setSize(double px) {
    if (px != px_) {
        px_ = px;
        updateGeometry();
    }
}

QSize SentenceWord::sizeAt(double px) const {
    return {look_.widthOf(text(), px, 700) + 4, look_.metrics(px, 700).height() + 6};
}

void SentenceWord::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!isEnabled()) { // a word like any other: nothing to choose here
        painter.setFont(look_.font(px_, 700));
        painter.setPen(look_.ink);
        painter.drawText(rect(), Qt::AlignCenter, text());
        return;
    }
    if (hasFocus() || underMouse()) {
        QColor tint = look_.accent;
        tint.setAlphaF(0.14f);
        painter.setPen(Qt::NoPen);
        painter.setBrush(tint);
        painter.drawRoundedRect(rect(), 4, 4);
    }
    painter.setFont(look_.font(px_, 700));
    painter.setPen(look_.accent);
    painter.drawText(rect(), Qt::AlignCenter, text());
    const double y = height() - 3.5;
    painter.setPen(QPen(look_.accent, hasFocus() ? 2 : 1, hasFocus() ? Qt::SolidLine : Qt::DotLine));
    painter.drawLine(QPointF(2, y), QPointF(width() - 2, y));
}

bool SentenceWord::isTyping(const QKeyEvent& event) {
    const bool isPlain = !(event.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    return isPlain && !event.text().isEmpty() && event.text().at(0).isPrint() && event.key() != Qt::Key_Space;
}

/// Whoever types over a word means that letter, not what it is a shortcut for elsewhere.
bool SentenceWord::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && isTyping(*static_cast<QKeyEvent*>(event))) {
        event->accept();
    }
    return QAbstractButton::event(event);
}

/// Who presses a word means to choose something and go on: what had the focus has it again then.
void SentenceWord::mousePressEvent(QMouseEvent* event) {
    QWidget* now = window()->focusWidget();
    const auto* word = qobject_cast<SentenceWord*>(now);
    before_ = word != nullptr ? word->before_.data() : now;
    setFocus(Qt::MouseFocusReason);
    QAbstractButton::mousePressEvent(event);
}

void SentenceWord::keyPressEvent(QKeyEvent* event) {
    before_.clear();
    switch (event->key()) {
    case Qt::Key_Up:
        stepBy(-1);
        return;
    case Qt::Key_Down:
        stepBy(1);
        return;
    case Qt::Key_Left:
        focusPreviousChild();
        return;
    case Qt::Key_Right:
        focusNextChild();
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        openCard({});
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (!usual_.isEmpty()) {
            accept(usual_);
            return;
        }
        break;
    default:
        break;
    }
    if (isTyping(*event)) {
        openCard(event->text());
        return;
    }
    QAbstractButton::keyPressEvent(event);
}

void SentenceWord::wheelEvent(QWheelEvent* event) {
    event->ignore();
}

void SentenceWord::stepBy(int by) {
    const int now = static_cast<int>(choices_.indexOf(text()));
    const int next = now < 0 ? 0 : now + by;
    if (next >= 0 && next < choices_.size()) {
        accept(choices_.at(next));
    }
}

void SentenceWord::accept(const QString& word) {
    if (word != text()) {
        setWord(word);
        Q_EMIT wordChosen(word);
    }
}

/// Not every letter asks for an order of a million records: a short rest in typing does.
void SentenceWord::followTyping(QLineEdit* line) {
    auto* rest = new QTimer(line);
    rest->setSingleShot(true);
    connect(line, &QLineEdit::textEdited, rest, [rest] { rest->start(kRestMs); });
    connect(rest, &QTimer::timeout, this, [this, line] {
        const QString text = line->text().trimmed();
        const QString word = text.isEmpty() ? usual_ : reader_(text);
        if (!word.isEmpty() && word != this->text()) {
            setWord(word);
            Q_EMIT wordTyped(word);
        }
    });
}

void SentenceWord::choose(QWidget* card, const QString& word) {
    const QPointer<QWidget> before = before_;
    card->close();
    accept(word); // which may be the end of this word
    if (before) {
        before->setFocus();
    }
}

/// In the card's line, as on the word, Delete clears.
bool SentenceWord::eventFilter(QObject* watched, QEvent* event) {
    auto* line = qobject_cast<QLineEdit*>(watched);
    if (line != nullptr && event->type() == QEvent::KeyPress && line->text().isEmpty() && !usual_.isEmpty() &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete) {
        choose(line->parentWidget(), usual_);
        return true;
    }
    return QAbstractButton::eventFilter(watched, event);
}

/// The card at the word: a line to type in above the choices.
void SentenceWord::openCard(const QString& typed) {
    auto* card = new QFrame(this, Qt::Popup);
    card->setObjectName(QStringLiteral("wordCard"));
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setFrameShape(QFrame::Box);
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(12, 10, 12, 10);
    auto* title = new QLabel(what_, card);
    title->setFont(look_.font(11, 600));
    auto* line = new QLineEdit(card);
    line->setObjectName(QStringLiteral("wordLine"));
    line->setFont(look_.font(14));
    line->setPlaceholderText(reader_ ? hint_ : tr("type to find"));
    line->setVisible(reader_ || choices_.size() > kFewChoices); // two need no finding
    auto* list = new QListWidget(card);
    list->setObjectName(QStringLiteral("wordList"));
    list->setFont(look_.font(14));
    list->setFrameShape(QFrame::NoFrame);
    for (const QString& choice : std::as_const(choices_)) {
        const QString note = notes_.value(choice);
        auto* item =
            new QListWidgetItem(note.isEmpty() ? choice : choice + QStringLiteral("  \u00b7  ") + note, list);
        item->setData(Qt::UserRole, choice);
    }
    list->setFocusProxy(line);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    const int row = QFontMetrics(look_.font(14)).height() + 6;
    const int rows = static_cast<int>(std::min<qsizetype>(choices_.size(), 8));
    list->setFixedHeight(row * rows + 4);
    for (int i = 0; i < list->count(); ++i) {
        list->item(i)->setSizeHint({10, row});
    }
    list->setCurrentRow(static_cast<int>(choices_.indexOf(text())));
    auto* problem = new QLabel(card);
    problem->setFont(look_.font(11));
    problem->hide();
    column->addWidget(title);
    column->addWidget(line);
    column->addWidget(list);
    column->addWidget(problem);

    const auto choose = [this, card](const QString& word) { this->choose(card, word); };
    const auto found = [list](const QString& text, bool isWhole) -> QListWidgetItem* {
        for (int i = 0; i < list->count() && !text.isEmpty(); ++i) {
            const QString word = list->item(i)->data(Qt::UserRole).toString();
            if (isWhole ? word.compare(text, Qt::CaseInsensitive) == 0
                        : word.contains(text, Qt::CaseInsensitive)) {
                return list->item(i);
            }
        }
        return nullptr;
    };
    const auto matching = [found](const QString& text) {
        QListWidgetItem* whole = found(text, true);
        return whole != nullptr ? whole : found(text, false);
    };
    if (findsAsTyped_) {
        followTyping(line);
    }
    line->installEventFilter(this);
    connect(list, &QListWidget::itemActivated, card,
            [choose](QListWidgetItem* item) { choose(item->data(Qt::UserRole).toString()); });
    connect(list, &QListWidget::itemClicked, card,
            [choose](QListWidgetItem* item) { choose(item->data(Qt::UserRole).toString()); });
    const auto ownOf = [this](const QString& text) {
        return reader_ && !text.isEmpty() ? reader_(text) : QString();
    };
    // What Return takes is what is marked. Words that mean something as they stand leave the choice beside them unmarked: it is one
    // arrow key away.
    const auto beside = std::make_shared<int>(-1);
    connect(line, &QLineEdit::textChanged, card, [=](const QString& typedNow) {
        const QString text = typedNow.trimmed();
        problem->hide();
        *beside = -1;
        QListWidgetItem* item = matching(text);
        const QString own = ownOf(text);
        QListWidgetItem* same = found(own, true);
        if (!own.isEmpty() && same == nullptr && found(text, true) == nullptr) {
            list->setCurrentRow(-1);
            *beside = item == nullptr ? -1 : list->row(item);
            list->scrollToItem(item);
        } else if (same != nullptr) {
            list->setCurrentItem(same);
        } else if (item != nullptr) {
            list->setCurrentItem(item);
        }
    });
    connect(line, &QLineEdit::returnPressed, card, [=, this] {
        const QString text = line->text().trimmed();
        const QString own = ownOf(text);
        if (list->currentItem() != nullptr &&
            (text.isEmpty() || !own.isEmpty() || matching(text) != nullptr)) {
            choose(list->currentItem()->data(Qt::UserRole).toString());
        } else if (!own.isEmpty()) {
            choose(own);
        } else if (!text.isEmpty()) {
            problem->setText(reader_ ? hint_ : tr("This is none of these."));
            problem->show();
        }
    });
    for (const auto& [key, by] : {std::pair{Qt::Key_Up, -1}, std::pair{Qt::Key_Down, 1}}) {
        auto* action = new QAction(card);
        action->setShortcut(key);
        card->addAction(action);
        connect(action, &QAction::triggered, list, [list, beside, by = by] {
            const int to = list->currentRow() < 0 && *beside >= 0 ? *beside : list->currentRow() + by;
            list->setCurrentRow(std::clamp(to, 0, list->count() - 1));
        });
    }
    card->adjustSize();
    int widest = reader_ ? look_.widthOf(hint_, 14) : 0;
    for (int i = 0; i < list->count(); ++i) {
        widest = std::max(widest, look_.widthOf(list->item(i)->text(), 14));
    }
    const double fits = std::clamp<double>(widest + look_.scaled(60), look_.scaled(190), look_.scaled(560));
    card->resize(std::max(card->width(), static_cast<int>(fits)), card->height());
    QPoint at = mapToGlobal(QPoint(0, height() + 2));
    if (const QScreen* on = screen()) {
        at.setX(std::clamp(at.x(), on->availableGeometry().left(),
                           on->availableGeometry().right() - card->width()));
    }
    card->move(at);
    card->show();
    line->setText(typed);
    if (line->isHidden()) {
        list->setFocusProxy(nullptr);
        list->setFocus();
    } else {
        line->setFocus();
    }
}

} // namespace scorrere::workbench

#include "moc_sentence_word.cpp"
