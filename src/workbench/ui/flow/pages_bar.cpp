// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/pages_bar.h"

#include "workbench/ui/look/icons.h"

#include <QHBoxLayout>
#include <QMenu>
#include <array>

namespace scorrere::workbench {

PagesBar::PagesBar(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    QToolButton* refresh =
        addButton("refresh", tr("refresh  R"),
                  tr("Ask for everything anew; what shows stays until the new records are here"));
    QToolButton* again = addButton("again", tr("try again  Shift+R"), tr("Ask again for what failed"));
    stage_ = addButton("stage", tr("stage a state"),
                       tr("Show a state on demand, as the first load or an error, to see and design it"));
    stage_->setPopupMode(QToolButton::InstantPopup);
    makeStageMenu();
    for (QToolButton* button : std::as_const(buttons_)) {
        row->addWidget(button);
    }
    row->addStretch(1);
    connect(refresh, &QToolButton::clicked, this, &PagesBar::refreshWanted);
    connect(again, &QToolButton::clicked, this, &PagesBar::retryWanted);
    connect(&look_, &Look::changed, this, &PagesBar::restyle);
    restyle();
}

QToolButton* PagesBar::addButton(const char* name, const QString& text, const QString& tip) {
    auto* button = new QToolButton(this);
    button->setObjectName(QLatin1String(name));
    button->setText(text);
    button->setToolTip(tip);
    button->setAutoRaise(true);
    buttons_ << button;
    return button;
}

void PagesBar::makeStageMenu() {
    struct Choice {
        int state;
        QString name;
        QString briefly; ///< on the button
    };
    const std::array<Choice, 7> choices{
        {{-1, tr("As it runs"), {}},
         {static_cast<int>(TailState::FirstLoad), tr("The first load"), tr("first load")},
         {static_cast<int>(TailState::FirstFailed), tr("An error on the first load"), tr("error")},
         {static_cast<int>(TailState::Empty), tr("Nothing there"), tr("nothing there")},
         {static_cast<int>(TailState::Loading), tr("More on the way"), tr("more is coming")},
         {static_cast<int>(TailState::Failed), tr("More that failed"), tr("more failed")},
         {static_cast<int>(TailState::End), tr("No more"), tr("no more")}}};
    auto* menu = new QMenu(stage_);
    menu->setObjectName(QStringLiteral("stageMenu"));
    for (const auto& [state, name, briefly] : choices) {
        QAction* action = menu->addAction(name);
        action->setData(state);
        action->setIconText(briefly);
        action->setCheckable(true);
        connect(action, &QAction::triggered, this, [this, state = state] {
            Q_EMIT stageWanted(state < 0 ? std::nullopt : std::optional(static_cast<TailState>(state)));
        });
    }
    stage_->setMenu(menu);
}

void PagesBar::setStaged(std::optional<TailState> state) {
    stage_->setText(tr("stage a state"));
    for (QAction* action : stage_->menu()->actions()) {
        const bool isShown = action->data().toInt() == (state ? static_cast<int>(*state) : -1);
        action->setChecked(isShown);
        if (isShown && state) {
            stage_->setText(tr("staged: %1").arg(action->iconText()));
        }
    }
}

void PagesBar::restyle() {
    for (QToolButton* button : std::as_const(buttons_)) {
        button->setFont(look_.font(12));
        button->setStyleSheet(quietButtonSheet(look_));
    }
    stage_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    setSign(*stage_, look_, Sign::Choose, look_.ink);
}

} // namespace scorrere::workbench

#include "moc_pages_bar.cpp"
