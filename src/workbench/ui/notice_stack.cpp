// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/notice_stack.h"

#include <QAccessible>
#include <QEvent>
#include <QHBoxLayout>
#include <QTime>

namespace scorrere::workbench {

namespace {

constexpr int kMargin = 12;

} // namespace

NoticeCard::NoticeCard(Look& look, Notice::Kind kind, QWidget* parent)
    : QFrame(parent), look_(look), kind_(kind), text_(new QLabel(this)), bar_(new QProgressBar(this)),
      button_(new QPushButton(this)) {
    setObjectName(QStringLiteral("notice"));
    text_->setObjectName(QStringLiteral("noticeText"));
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::PlainText);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    text_->setMinimumWidth(1);
    button_->setObjectName(QStringLiteral("noticeButton"));
    bar_->setTextVisible(false);
    bar_->setVisible(kind_ == Notice::Kind::Progress);
    setHasKey(true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 8, 10, 8);
    auto* column = new QVBoxLayout;
    column->addWidget(text_);
    column->addWidget(bar_);
    row->addLayout(column, 1);
    row->addWidget(button_, 0, Qt::AlignTop);
    connect(button_, &QPushButton::clicked, this, &NoticeCard::closeWanted);
    connect(&look_, &Look::changed, this, &NoticeCard::restyle);
    restyle();
}

void NoticeCard::tell(const Notice& notice) {
    about_ = notice.about;
    text_->setText(notice.error
                       ? notice.text + QLatin1Char(' ') + QString::fromStdString(notice.error->text())
                       : notice.text);
    share_ = notice.share;
    canCancel_ = notice.canCancel;
    button_->setVisible(kind_ != Notice::Kind::Progress || canCancel_);
    bar_->setRange(0, share_ >= 0 ? 1000 : 0);
    if (share_ >= 0) {
        bar_->setValue(static_cast<int>(share_ * 1000));
    }
}

void NoticeCard::setHasKey(bool has) {
    const QString does = kind_ == Notice::Kind::Progress ? tr("Cancel") : tr("Close");
    button_->setText(has ? tr("%1  Esc").arg(does) : does);
}

void NoticeCard::restyle() {
    const QColor side = kind_ == Notice::Kind::Failed     ? look_.bad
                        : kind_ == Notice::Kind::Progress ? look_.loaded
                                                          : look_.accent;
    setStyleSheet(
        QStringLiteral("#notice { background: %1; border: 1px solid %3; border-left: 6px solid %2; "
                       "} #noticeText { color: %4; }"
                       "QProgressBar { background: %3; border: none; border-radius: 3px; }"
                       "QProgressBar::chunk { background: %5; border-radius: 3px; }"
                       "QPushButton { background: transparent; color: %4; border: 1px solid %3; "
                       "border-radius: 10px; padding: 2px 10px; }"
                       "QPushButton:focus { border: 1px solid %2; }")
            .arg(look_.card.name(), side.name(), look_.edge.name(), look_.ink.name(), look_.loaded.name()));
    text_->setFont(look_.font(13));
    button_->setFont(look_.font(12));
    bar_->setFixedHeight(static_cast<int>(look_.scaled(7)));
}

NoticeStack::NoticeStack(Look& look, QWidget* over)
    : QWidget(over), look_(look), column_(new QVBoxLayout(this)), focus_(new FocusBack(this)) {
    setObjectName(QStringLiteral("notices"));
    setAccessibleName(tr("Notices"));
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(8);
    over->installEventFilter(this);
    connect(&look_, &Look::changed, this, &NoticeStack::place);
    hide();
}

void NoticeStack::tell(const Notice& notice) {
    NoticeCard* card = nullptr;
    switch (notice.kind) {
    case Notice::Kind::Over:
        close(cardOf(Notice::Kind::Progress, notice.about));
        return notice.about.isEmpty() ? void() : close(cardOf(Notice::Kind::Told, notice.about));
    case Notice::Kind::Progress:
        card = cardOf(Notice::Kind::Progress, notice.about);
        break;
    case Notice::Kind::Told:
        card = notice.about.isEmpty() ? nullptr : cardOf(Notice::Kind::Told, notice.about);
        if (card == nullptr && notice.isUpdate) {
            return; // it was read and closed
        }
        break;
    case Notice::Kind::Failed:
        break;
    }
    const bool isNew = card == nullptr;
    card = isNew ? add(notice.kind) : card;
    card->tell(notice);
    if ((isNew || !notice.isUpdate) && notice.kind != Notice::Kind::Progress) {
        history_ << QTime::currentTime().toString(QStringLiteral("HH:mm:ss  ")) + card->text();
        history_ = history_.mid(history_.size() - std::min<qsizetype>(history_.size(), kMostHistory));
        QAccessibleEvent told(card, QAccessible::Alert);
        QAccessible::updateAccessibility(&told);
    }
    place();
}

NoticeCard* NoticeStack::add(Notice::Kind kind) {
    makeRoom();
    auto* card = new NoticeCard(look_, kind, this);
    connect(card, &NoticeCard::closeWanted, this,
            [this, card] { card->kind() == Notice::Kind::Progress ? cancel(card) : close(card); });
    column_->addWidget(card);
    cards_ << card;
    card->show();
    return card;
}

/// The oldest that is only told goes first, then the oldest at all; what is under way stays.
void NoticeStack::makeRoom() {
    if (cards_.size() < kMostCards) {
        return;
    }
    auto oldest = std::ranges::find(cards_, Notice::Kind::Told, &NoticeCard::kind);
    if (oldest == cards_.end()) {
        oldest = std::ranges::find(cards_, Notice::Kind::Failed, &NoticeCard::kind);
    }
    close(oldest == cards_.end() ? nullptr : *oldest);
}

NoticeCard* NoticeStack::cardOf(Notice::Kind kind, const QString& about) const {
    const auto found = std::find_if(cards_.rbegin(), cards_.rend(), [&](const NoticeCard* card) {
        return card->kind() == kind && (about.isEmpty() || card->about() == about);
    });
    return found == cards_.rend() ? nullptr : *found;
}

NoticeCard* NoticeStack::cardOfKey() const {
    NoticeCard* newest = nullptr;
    for (NoticeCard* card : cards_) {
        if (card->canCancel() && (card->kind() == Notice::Kind::Progress || newest == nullptr ||
                                  newest->kind() != Notice::Kind::Progress)) {
            newest = card;
        }
    }
    return newest;
}

void NoticeStack::close(NoticeCard* card) {
    if (card == nullptr || !cards_.removeOne(card)) {
        return;
    }
    if (card->isAncestorOf(window()->focusWidget())) {
        focus_->giveBack();
    }
    card->hide();
    card->deleteLater();
    place();
}

void NoticeStack::cancel(NoticeCard* card) {
    const QString about = card->about();
    close(card);
    Q_EMIT cancelled(about);
}

void NoticeStack::dismiss() {
    if (NoticeCard* card = cardOfKey()) {
        card->kind() == Notice::Kind::Progress ? cancel(card) : close(card);
    }
}

std::optional<double> NoticeStack::share() const {
    const NoticeCard* running = cardOf(Notice::Kind::Progress);
    return running != nullptr ? std::optional(running->share()) : std::nullopt;
}

QString NoticeStack::message() const {
    return cards_.isEmpty() ? QString() : cards_.last()->text();
}

bool NoticeStack::event(QEvent* event) {
    const bool isTaken = QWidget::event(event);
    // A card knows how high it is only when it has its style. Placing asks for a layout, too: it goes on while anything differs.
    if (event->type() == QEvent::LayoutRequest && heightWanted(width()) != height()) {
        place();
    }
    return isTaken;
}

bool NoticeStack::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parent() && event->type() == QEvent::Resize) {
        place();
    }
    return QWidget::eventFilter(watched, event);
}

int NoticeStack::heightWanted(int wide) const {
    return std::min(column_->totalHeightForWidth(wide), parentWidget()->height() - 2 * kMargin);
}

void NoticeStack::place() {
    setVisible(!cards_.isEmpty());
    if (cards_.isEmpty()) {
        return;
    }
    const NoticeCard* ofKey = cardOfKey();
    for (NoticeCard* card : std::as_const(cards_)) {
        card->setHasKey(card == ofKey);
    }
    const QWidget& over = *parentWidget();
    const int wide = std::min(static_cast<int>(look_.scaled(430)), over.width() - 2 * kMargin);
    column_->invalidate();
    const int high = heightWanted(wide);
    setGeometry(over.width() - wide - kMargin, over.height() - high - kMargin, wide, high);
    raise();
}

} // namespace scorrere::workbench

#include "moc_notice_stack.cpp"
