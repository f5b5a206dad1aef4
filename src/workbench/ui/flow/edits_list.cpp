// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/edits_list.h"

#include "workbench/model/record_changes.h"
#include "workbench/ui/look/labels.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <algorithm>

namespace scorrere::workbench {

EditsList::EditsList(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("edits"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 4);
    column->setSpacing(2);
    rows_ = new QVBoxLayout;
    rows_->setSpacing(1);
    column->addLayout(rows_);
    auto* foot = new QHBoxLayout;
    keep_ = new QCheckBox(tr("&keep them in the collection file"));
    keep_->setObjectName(QStringLiteral("keepEdits"));
    all_ = new QToolButton;
    all_->setObjectName(QStringLiteral("takeAllBack"));
    all_->setText(tr("take all back"));
    foot->addWidget(keep_);
    foot->addStretch(1);
    foot->addWidget(all_);
    column->addLayout(foot);
    auto* sending = new QHBoxLayout;
    how_ = new QToolButton;
    how_->setObjectName(QStringLiteral("howSent"));
    how_->setText(tr("how they are sent…"));
    sendAll_ = new QToolButton;
    sendAll_->setObjectName(QStringLiteral("sendAll"));
    sending->addWidget(how_);
    sending->addStretch(1);
    sending->addWidget(sendAll_);
    column->addLayout(sending);
    connect(how_, &QToolButton::clicked, this, [this] { Q_EMIT howWanted(how_); });
    connect(sendAll_, &QToolButton::clicked, this,
            [this] { isSending_ ? Q_EMIT stopWanted() : Q_EMIT sendAllWanted(); });
    connect(keep_, &QCheckBox::toggled, this, &EditsList::keepWanted);
    connect(all_, &QToolButton::clicked, this, &EditsList::takeAllBackWanted);
    connect(&look_, &Look::changed, this, &EditsList::fill);
    fill();
}

void EditsList::take(Shown shown) {
    const QSignalBlocker quiet(keep_);
    keep_->setChecked(shown.areKept);
    QStringList said;
    QStringList refusals;
    QStringList states;
    QList<bool> canSend;
    // The last ones first: those are looked for.
    for (std::size_t i = shown.edits.size(); i > 0 && shown.edits.size() - i < kMostListed; --i) {
        said << editInWords(*shown.edits[i - 1]);
        refusals << (i <= shown.refusals.size() ? QString::fromStdString(shown.refusals[i - 1]) : QString());
        states << shown.states.value(static_cast<qsizetype>(i) - 1);
        if (i <= shown.canSend.size()) {
            canSend << shown.canSend[i - 1];
        }
    }
    const qsizetype count = std::ssize(shown.edits);
    const bool isSame = said == said_ && refusals == refusals_ && states == states_ && canSend == canSend_ &&
                        count == count_ && shown.isWhole == isWhole_ && shown.isSending == isSending_;
    if (!isSame) {
        said_ = said;
        refusals_ = refusals;
        states_ = states;
        canSend_ = canSend;
        count_ = count;
        isWhole_ = shown.isWhole;
        isSending_ = shown.isSending;
        fill();
    }
}

QString EditsList::summary() const {
    const qsizetype refused =
        std::ranges::count_if(refusals_, [](const QString& why) { return !why.isEmpty(); });
    const QString all =
        count_ == 1 ? tr("1 edit over the source") : tr("%1 edits over the source").arg(grouped(count_));
    if (!isWhole_) {
        return tr("%1, in force when all records are here").arg(all);
    }
    return refused == 0 ? all : tr("%1 · %2 not in force").arg(all, grouped(refused));
}

void EditsList::fill() {
    keep_->setFont(look_.font(12));
    all_->setFont(look_.font(12));
    all_->setStyleSheet(quietButtonSheet(look_));
    for (QToolButton* button : {how_, sendAll_}) {
        button->setFont(look_.font(12));
        button->setStyleSheet(quietButtonSheet(look_));
        button->setVisible(!canSend_.isEmpty());
    }
    sendAll_->setText(isSending_ ? tr("send no more") : tr("send all"));
    sendAll_->setEnabled(isSending_ || canSend_.contains(true));
    sendAll_->setToolTip(sendAll_->isEnabled() ? QString()
                                               : tr("It is not said yet how the service is told of them."));
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (item->widget() != nullptr) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    for (qsizetype i = 0; i < said_.size(); ++i) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        const bool isRefused = !refusals_[i].isEmpty();
        const QString state = states_.value(i);
        auto* words = new ElidedLabel(isRefused ? tr("%1 — not in force: %2").arg(said_[i], refusals_[i])
                                      : state.isEmpty() ? said_[i]
                                                        : tr("%1 — %2").arg(said_[i], state));
        words->setObjectName(QStringLiteral("edit%1").arg(count_ - 1 - i));
        words->setFont(look_.font(12));
        words->setTextFormat(Qt::PlainText);
        words->setStyleSheet(QStringLiteral("color: %1;").arg((isRefused ? look_.bad : look_.ink).name()));
        auto* back = new QToolButton;
        back->setObjectName(QStringLiteral("takeBack%1").arg(count_ - 1 - i));
        back->setText(tr("take back"));
        back->setAccessibleName(tr("take back: %1").arg(said_[i]));
        back->setFont(look_.font(11.5));
        back->setStyleSheet(quietButtonSheet(look_));
        line->addWidget(words, 1);
        if (canSend_.value(i)) {
            auto* send = new QToolButton;
            send->setObjectName(QStringLiteral("send%1").arg(count_ - 1 - i));
            send->setText(tr("send"));
            send->setAccessibleName(tr("send: %1").arg(said_[i]));
            send->setFont(look_.font(11.5));
            send->setStyleSheet(quietButtonSheet(look_));
            line->addWidget(send);
            connect(send, &QToolButton::clicked, this,
                    [this, edit = static_cast<int>(count_ - 1 - i)] { Q_EMIT sendWanted(edit); });
        }
        line->addWidget(back);
        connect(back, &QToolButton::clicked, this,
                [this, edit = static_cast<int>(count_ - 1 - i)] { Q_EMIT takeBackWanted(edit); });
        rows_->addWidget(row);
    }
    if (count_ > said_.size()) {
        auto* more = new QLabel(tr("and %1 before those").arg(grouped(count_ - said_.size())));
        more->setFont(look_.font(12));
        rows_->addWidget(more);
    }
}

} // namespace scorrere::workbench

#include "moc_edits_list.cpp"
