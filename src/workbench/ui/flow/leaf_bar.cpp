// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/leaf_bar.h"

#include "render/live_collection.h"

#include <algorithm>

namespace scorrere::workbench {

LeafBar::LeafBar(Look& look, QWidget* parent)
    : QWidget(parent), look_(look), first_(addButton("leafFirst", tr("first"), tr("The first records"))),
      before_(addButton("leafBefore", tr("before  ["), tr("The records before these"))),
      on_(addButton("leafOn", tr("next  ]"), tr("The records behind these"))),
      last_(addButton("leafLast", tr("last"), tr("The last records"))), numbers_(new QHBoxLayout),
      told_(new QLabel) {
    setObjectName(QStringLiteral("leafBar"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 2, 8, 6);
    row->setSpacing(2);
    row->addStretch(1);
    row->addWidget(first_);
    row->addWidget(before_);
    row->addLayout(numbers_);
    row->addWidget(on_);
    row->addWidget(last_);
    row->addSpacing(10);
    row->addWidget(told_);
    row->addStretch(1);
    told_->setObjectName(QStringLiteral("leafTold"));
    numbers_->setSpacing(0);
    connect(first_, &QToolButton::clicked, this, [this] { Q_EMIT turnWanted(0); });
    connect(before_, &QToolButton::clicked, this, [this] { Q_EMIT turnWanted(shown_->leaf - 1); });
    connect(on_, &QToolButton::clicked, this, [this] { Q_EMIT turnWanted(shown_->leaf + 1); });
    connect(last_, &QToolButton::clicked, this, [this] { Q_EMIT turnWanted(shown_->leaves - 1); });
    connect(&look_, &Look::changed, this, &LeafBar::restyle);
    restyle();
    hide();
}

QToolButton* LeafBar::addButton(const char* name, const QString& text, const QString& tip) {
    auto* button = new QToolButton(this);
    button->setObjectName(QLatin1String(name));
    button->setText(text);
    button->setToolTip(tip);
    return button;
}

void LeafBar::follow(const render::LiveCollection* live) {
    if (live == nullptr || !live->leaf().isOne()) {
        shown_.reset();
        hide();
        return;
    }
    const Leaf& leaf = live->leaf();
    Shown now;
    now.all = live->recordCount();
    now.leaf = leaf.number();
    now.leaves = leaf.leavesOf(now.all);
    now.from = leaf.first;
    now.until = leaf.first + leaf.countOf(now.all);
    now.isEndKnown = live->paged() == nullptr || live->paged()->pager().endKnown();
    now.mayTurnOn = live->mayTurnOn();
    if (shown_ == now) {
        return;
    }
    shown_ = now;
    const bool isFirst = now.leaf == 0;
    first_->setEnabled(!isFirst);
    before_->setEnabled(!isFirst);
    on_->setEnabled(now.mayTurnOn);
    last_->setEnabled(now.leaf + 1 < now.leaves);
    const QString all = grouped(now.all);
    told_->setText(now.until <= now.from ? tr("none yet")
                   : now.isEndKnown
                       ? tr("%1 to %2 of %3").arg(grouped(now.from + 1), grouped(now.until), all)
                       : tr("%1 to %2 of %3 so far").arg(grouped(now.from + 1), grouped(now.until), all));
    nameLeaves();
    show();
}

/// The leaves near the present one, and the ends; buttons are kept, since one of them may have the focus.
void LeafBar::nameLeaves() {
    const std::vector<std::int64_t> named = leavesNamed(shown_->leaf, shown_->leaves);
    while (leaves_.size() < static_cast<qsizetype>(named.size())) {
        auto* button = new QToolButton(this);
        numbers_->addWidget(button);
        leaves_ << button;
        connect(button, &QToolButton::clicked, this,
                [this, button] { Q_EMIT turnWanted(button->property("leaf").toLongLong()); });
    }
    for (qsizetype i = 0; i < leaves_.size(); ++i) {
        QToolButton* button = leaves_[i];
        const bool isThere = i < static_cast<qsizetype>(named.size());
        button->setVisible(isThere);
        if (!isThere) {
            continue;
        }
        const std::int64_t leaf = named[static_cast<std::size_t>(i)];
        button->setEnabled(leaf >= 0);
        button->setText(leaf < 0 ? QStringLiteral("…") : grouped(leaf + 1));
        button->setObjectName(QStringLiteral("leaf%1").arg(leaf + 1));
        button->setAccessibleName(leaf < 0 ? tr("more between") : tr("page %1").arg(leaf + 1));
        button->setProperty("leaf", static_cast<qlonglong>(leaf));
        button->setCheckable(true);
        button->setChecked(leaf == shown_->leaf);
    }
    restyle();
}

void LeafBar::restyle() {
    for (QToolButton* button : QList<QToolButton*>{first_, before_, on_, last_} + leaves_) {
        button->setFont(look_.font(12));
        button->setStyleSheet(quietButtonSheet(look_));
    }
    told_->setFont(look_.font(12));
    told_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
}

} // namespace scorrere::workbench

#include "moc_leaf_bar.cpp"
