// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/ask_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr int kFromCorner = 14;

} // namespace

AskCard::AskCard(Look& look, QWidget* parent)
    : QFrame(parent), look_(look), text_(new QLabel(this)), lines_(new QWidget(this)),
      buttons_(new QWidget(this)), focus_(new FocusBack(this)) {
    setObjectName(QStringLiteral("askCard"));
    text_->setObjectName(QStringLiteral("askText"));
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::PlainText);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 10, 14, 10);
    column->setSpacing(6);
    column->addWidget(text_);
    column->addWidget(lines_);
    column->addWidget(buttons_);
    auto* lines = new QVBoxLayout(lines_);
    lines->setContentsMargins(12, 0, 0, 0);
    lines->setSpacing(2);
    auto* row = new QHBoxLayout(buttons_);
    row->setContentsMargins(0, 2, 0, 0);
    row->setSpacing(8);
    connect(&look_, &Look::changed, this, &AskCard::restyle);
    parent->installEventFilter(this);
    hide();
}

bool AskCard::isAsking(const QString& about) const {
    return std::ranges::any_of(questions_, [&](const Question& one) { return one.about == about; });
}

void AskCard::ask(Question question) {
    const bool isFirst = questions_.empty() || questions_.front().about == question.about;
    std::erase_if(questions_, [&](const Question& one) { return one.about == question.about; });
    if (isFirst) {
        questions_.push_front(std::move(question));
        showFirst();
    } else {
        questions_.push_back(std::move(question));
    }
}

void AskCard::drop(const QString& about) {
    std::erase_if(questions_, [&](const Question& one) { return one.about == about; });
    showFirst();
}

void AskCard::showFirst() {
    if (questions_.empty()) {
        focus_->giveBack();
    } else if (focus_->isHere()) {
        setFocus(); // what has it goes
    }
    for (QWidget* part : {lines_, buttons_}) {
        while (QLayoutItem* item = part->layout()->takeAt(0)) {
            if (item->widget() != nullptr) {
                item->widget()->hide();
                item->widget()->deleteLater(); // it may be what was clicked
            }
            delete item;
        }
    }
    boxes_.clear();
    setVisible(!questions_.empty());
    if (questions_.empty()) {
        return;
    }
    const Question& question = questions_.front();
    text_->setText(question.text);
    for (int i = 0; i < question.lines.size(); ++i) {
        auto* box = new QCheckBox(question.lines[i]);
        box->setObjectName(QStringLiteral("ask_line%1").arg(i));
        box->setChecked(true);
        lines_->layout()->addWidget(box);
        boxes_ << box;
    }
    lines_->setVisible(!boxes_.isEmpty());
    QPushButton* last = nullptr;
    for (const Question::Choice& choice : question.choices) {
        auto* button = new QPushButton(choice.text);
        button->setObjectName(QStringLiteral("ask_") + choice.name);
        button->setAutoDefault(true);
        connect(button, &QPushButton::clicked, this, [this, name = choice.name] { answer(name); });
        buttons_->layout()->addWidget(button);
        button->show(); // now, not in a moment: it may have the focus
        last = button;
    }
    static_cast<QHBoxLayout*>(buttons_->layout())->addStretch(1);
    restyle();
    place();
    // Whoever types goes on typing; else the keys are at the answer that changes nothing.
    const QWidget* focused = window()->focusWidget();
    const bool isTyping = qobject_cast<const QLineEdit*>(focused) != nullptr ||
                          qobject_cast<const QPlainTextEdit*>(focused) != nullptr;
    if (last != nullptr && !isTyping) {
        last->setFocus();
    }
}

void AskCard::answer(const QString& choice) {
    QList<int> chosen;
    for (int i = 0; i < boxes_.size(); ++i) {
        if (boxes_[i]->isChecked()) {
            chosen << i;
        }
    }
    const Question question = std::move(questions_.front());
    questions_.pop_front();
    showFirst();
    question.answered(choice, chosen);
}

void AskCard::decline() {
    answer(questions_.front().choices.back().name);
}

void AskCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && isAsking()) {
        decline();
    } else {
        QFrame::keyPressEvent(event);
    }
}

bool AskCard::event(QEvent* event) {
    const bool isTaken = QFrame::event(event);
    // Placing asks for a layout, too: it goes on while anything differs, and no longer.
    if (event->type() == QEvent::LayoutRequest && heightWanted(width()) != height()) {
        place();
    }
    return isTaken;
}

bool AskCard::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parent() && event->type() == QEvent::Resize) {
        place();
    }
    return QFrame::eventFilter(watched, event);
}

int AskCard::heightWanted(int wide) const {
    return std::min(layout()->totalHeightForWidth(wide), parentWidget()->height() - 2 * kFromCorner);
}

void AskCard::place() {
    const QWidget& over = *parentWidget();
    const int wide = std::min(static_cast<int>(look_.scaled(560)), over.width() - 2 * kFromCorner);
    layout()->invalidate();
    const int high = heightWanted(wide);
    setGeometry(kFromCorner, over.height() - high - kFromCorner, wide, high);
    raise();
}

void AskCard::restyle() {
    setStyleSheet(
        QStringLiteral(
            "#askCard { background: %1; border: 1px solid %2; border-left: 6px solid %2; "
            "border-radius: 8px; } #askCard QCheckBox { color: %4; }"
            "#askCard QPushButton { background: transparent; color: %4; border: 1px solid %3; "
            "border-radius: 12px; padding: 4px 14px; }"
            "#askCard QPushButton:hover { background: %5; }"
            "#askCard QPushButton:focus { border: 2px solid %2; padding: 3px 13px; outline: none; }")
            .arg(look_.card.name(), look_.accent.name(), look_.edge.name(), look_.ink.name(),
                 look_.ground.name()));
    text_->setFont(look_.font(13));
    for (QCheckBox* box : std::as_const(boxes_)) {
        box->setFont(look_.font(13));
    }
    for (auto* button : buttons_->findChildren<QPushButton*>()) {
        button->setFont(look_.font(12.5));
    }
}

} // namespace scorrere::workbench

#include "moc_ask_card.cpp"
