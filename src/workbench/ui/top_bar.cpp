// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/top_bar.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QMenu>

namespace scorrere::workbench {

namespace {

constexpr int kSpacing = 6;
constexpr int kRest = 72; ///< margins, and the room between groups
constexpr int kLeastForNames = 120;
constexpr int kEnoughForNames = 330; ///< for the demos to have what is left

} // namespace

TopBar::TopBar(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("topBar"));
    setAttribute(Qt::WA_StyledBackground);
    setMinimumWidth(1); // what has no room goes; the window does not grow for it
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 7, 14, 7);
    row->setSpacing(kSpacing);
    title_ = new ElidedLabel;
    title_->setObjectName(QStringLiteral("title"));
    subtitle_ = new ElidedLabel;
    subtitle_->setObjectName(QStringLiteral("subtitle"));
    for (QLabel* label : {title_, subtitle_}) {
        row->addWidget(label);
    }
    row->insertSpacing(1, 6);
    row->addStretch(1);
    stations_ = new QWidget;
    auto* places = new QHBoxLayout(stations_);
    places->setContentsMargins(0, 0, 0, 0);
    places->setSpacing(6);
    row->addWidget(stations_);
    findings_ = new QToolButton;
    findings_->setObjectName(QStringLiteral("findingsButton"));
    findings_->setFocusPolicy(Qt::TabFocus);
    findings_->setToolTip(tr("What is wrong with the records: a click shows where"));
    findings_->hide();
    connect(findings_, &QToolButton::clicked, this, &TopBar::findingsWanted);
    row->addSpacing(14);
    row->addWidget(findings_);
    row->addStretch(1);
    open_ = addButton(this, QStringLiteral("openButton"), tr("Open  Ctrl+O"),
                      tr("Open a collection file or a file of records"));
    connect(open_, &QToolButton::clicked, this, &TopBar::openWanted);
    row->addWidget(open_);
    row->addSpacing(10);
    demos_ = addButton(this, QStringLiteral("demosButton"), tr("Demo"),
                       tr("Made-up sightings, run in one way or another"));
    demos_->setMenu(new QMenu(demos_));
    demos_->setPopupMode(QToolButton::InstantPopup);
    row->addWidget(demos_);
    row->addSpacing(10);
    menu_ = addButton(this, QStringLiteral("menuButton"), tr("Menu  F10"),
                      tr("Everything you can do here, and a field to find it by typing"));
    connect(menu_, &QToolButton::clicked, this, &TopBar::menuWanted);
    row->addWidget(menu_);
    connect(&look_, &Look::changed, this, &TopBar::restyle);
    restyle();
}

QToolButton* TopBar::addButton(QWidget* in, const QString& name, const QString& text, const QString& tip) {
    auto* made = new QToolButton(in);
    made->setObjectName(name);
    made->setText(text);
    made->setToolTip(tip);
    made->setFocusPolicy(Qt::TabFocus);
    buttons_.append(made);
    return made;
}

void TopBar::addStation(const QString& title) {
    const int index = static_cast<int>(stationButtons_.size());
    if (index > 0) {
        auto* line = new QFrame;
        line->setObjectName(QStringLiteral("stationLine"));
        line->setFixedSize(22, 2);
        stations_->layout()->addWidget(line);
    }
    auto* made = new QToolButton;
    made->setObjectName(QStringLiteral("station") + title);
    made->setText(title);
    made->setToolTip(tr("%1 (Alt+%2)").arg(title).arg(index + 1));
    made->setCheckable(true);
    made->setFocusPolicy(Qt::TabFocus);
    connect(made, &QToolButton::clicked, this, [this, index] { Q_EMIT stationWanted(index); });
    stationButtons_ << made;
    stations_->layout()->addWidget(made);
    restyle();
}

void TopBar::setStation(int index) {
    for (int i = 0; i < stationButtons_.size(); ++i) {
        stationButtons_[i]->setChecked(i == index);
    }
}

void TopBar::tell(const QString& title, const QString& state) {
    title_->setText(title);
    subtitle_->setText(state);
}

void TopBar::addDemo(QAction* action) {
    demos_->menu()->addAction(action);
}

void TopBar::tellFindings(int warnings) {
    findings_->setVisible(warnings > 0);
    findings_->setText(warnings == 1 ? tr("1 finding") : tr("%1 findings").arg(warnings));
}

void TopBar::fit(int width) {
    // Reckoned, not tried out: what is shown for a moment would make the window as wide for good.
    const auto wide = [](const QWidget* part) { return part->sizeHint().width() + kSpacing; };
    const int names = wide(title_) + wide(subtitle_);
    int needed = kRest + wide(stations_) + wide(menu_) + (findings_->isHidden() ? 0 : wide(findings_));
    open_->setVisible(needed + wide(open_) + std::min(names, kLeastForNames) <= width);
    needed += open_->isHidden() ? 0 : wide(open_);
    demos_->setVisible(needed + wide(demos_) + std::min(names, kEnoughForNames) <= width);
}

void TopBar::restyle() {
    title_->setFont(look_.font(15, 700));
    subtitle_->setFont(look_.font(13));
    demos_->menu()->setFont(look_.font(13));
    setStyleSheet(
        QStringLiteral("#topBar { background: %1; border-bottom: 1px solid %2; }"
                       "#topBar QLabel { color: %3; } #topBar #subtitle { color: %4; }"
                       "#topBar QToolButton { background: transparent; color: %3; border: 1px solid %2; "
                       "border-radius: 12px; padding: 3px 11px; }"
                       "#topBar QToolButton:hover { background: %6; }"
                       "#topBar QToolButton:focus { border: 2px solid %5; padding: 2px 10px; }"
                       "#topBar QToolButton::menu-indicator { image: none; }")
            .arg(look_.card.name(), look_.edge.name(), look_.ink.name(), look_.quiet.name(),
                 look_.accent.name(), look_.ground.name()));
    for (QToolButton* button : std::as_const(stationButtons_)) {
        button->setFont(look_.font(13, 600));
        button->setStyleSheet(
            QStringLiteral("QToolButton { padding: 4px 16px; border-radius: 13px; border: 1px solid %1; }"
                           "QToolButton:checked { background: %2; color: %3; border: 1px solid %2; }"
                           "QToolButton:focus { border: 2px solid %4; padding: 3px 15px; }")
                .arg(look_.edge.name(), look_.accent.name(), look_.onAccent.name(), look_.ink.name()));
    }
    for (auto* line : findChildren<QFrame*>(QStringLiteral("stationLine"))) {
        line->setStyleSheet(QStringLiteral("background: %1;").arg(look_.edge.name()));
    }
    findings_->setFont(look_.font(12.5, 650));
    findings_->setStyleSheet(
        QStringLiteral(
            "QToolButton { color: %1; border: 1px solid %1; border-radius: 12px; padding: 3px 12px; }")
            .arg(look_.bad.name()));
    for (QToolButton* button : std::as_const(buttons_)) {
        button->setFont(look_.font(12.5));
    }
}

} // namespace scorrere::workbench

#include "moc_top_bar.cpp"
