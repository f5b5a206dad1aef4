// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/state_row.h"

#include <QHBoxLayout>

namespace scorrere::workbench {

StateRow::StateRow(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("stateRow"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 0, 12, 4);
    row->setSpacing(6);
    lead_ = new QLabel(tr("as if it were"));
    row->addWidget(lead_);
    const QStringList words{tr("pressed"), tr("hovered"), tr("focused"), tr("selected"),
                            tr("lifted"),  tr("swiped"),  tr("seen")};
    for (int flag = 0; flag < words.size(); ++flag) {
        auto* toggle = new QPushButton(words[flag]);
        toggle->setObjectName(QStringLiteral("state%1").arg(flag));
        toggle->setCheckable(true);
        row->addWidget(toggle);
        toggles_ << toggle;
        connect(toggle, &QPushButton::toggled, this, [this, flag](bool is) {
            state_.set(static_cast<ItemFlag>(flag), is);
            Q_EMIT stateChanged();
        });
    }
    row->addStretch(1);
    connect(&look_, &Look::changed, this, &StateRow::restyle);
    restyle();
    offer({});
}

void StateRow::offer(ItemState read) {
    for (int flag = 0; flag < toggles_.size(); ++flag) {
        const bool isRead = read.has(static_cast<ItemFlag>(flag));
        toggles_[flag]->setVisible(isRead);
        if (!isRead) {
            toggles_[flag]->setChecked(false);
        }
    }
    setVisible(read.any());
}

void StateRow::restyle() {
    lead_->setFont(look_.font(12));
    lead_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    for (QPushButton* toggle : std::as_const(toggles_)) {
        toggle->setFont(look_.font(12));
        toggle->setStyleSheet(
            QStringLiteral("QPushButton { color: %1; background: transparent; border: 1px solid %2; "
                           "border-radius: 9px; padding: 1px 9px; }"
                           "QPushButton:checked { background: %3; color: %4; border-color: %3; }"
                           "QPushButton:focus { border: 2px solid %5; padding: 0px 8px; }")
                .arg(look_.ink.name(), look_.edge.name(), look_.accent.name(), look_.onAccent.name(),
                     look_.accent.name()));
    }
}

} // namespace scorrere::workbench

#include "moc_state_row.cpp"
