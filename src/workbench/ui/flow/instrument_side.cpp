// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/instrument_side.h"

#include "render/live_collection.h"
#include "workbench/ui/flow/changes_instrument.h"
#include "workbench/ui/flow/edits_list.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/gesture_words.h"
#include "workbench/ui/flow/gestures_instrument.h"
#include "workbench/ui/flow/pages_bar.h"
#include "workbench/ui/flow/query_fields.h"
#include "workbench/ui/flow/requests_instrument.h"
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/look/icons.h"
#include "workbench/ui/look/parameter_row.h"

#include <QMenu>
#include <algorithm>

namespace scorrere::workbench {

namespace {
constexpr int kFrames = 0;
constexpr int kRequests = 1;
constexpr int kViews = 2;
constexpr int kChanges = 3;
constexpr int kEdits = 4;
constexpr int kGestures = 5;
} // namespace

InstrumentSide::InstrumentSide(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("instruments"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(6, 4, 16, 10);
    column->setSpacing(6);
    parameters_ = new QWidget;
    parameters_->setObjectName(QStringLiteral("parameters"));
    auto* rows = new QVBoxLayout(parameters_);
    rows->setContentsMargins(0, 4, 0, 6);
    rows->setSpacing(2);
    parameters_->hide();
    column->addWidget(parameters_);
    query_ = new QueryFields(look_);
    column->addWidget(query_);
    connect(query_, &QueryFields::variableWanted, this, &InstrumentSide::variableWanted);

    frames_ = new FramesInstrument(look_);
    requests_ = new RequestsInstrument(look_, *frames_);
    views_ = new ViewsInstrument(look_);
    changes_ = new ChangesInstrument(look_);
    edits_ = new EditsList(look_);
    gestures_ = new GesturesInstrument(look_, *frames_, takerInWords);
    parts_ << new Foldable(look_, tr("Frames"), frames_, [this] { return frames_->summary(); })
           << new Foldable(look_, tr("Requests"), requests_, [this] { return requests_->summary(); })
           << new Foldable(look_, tr("Item views"), views_, [this] { return views_->summary(); })
           << new Foldable(look_, tr("Order"), changes_, [this] { return changes_->summary(); })
           << new Foldable(look_, tr("Edits"), edits_, [this] { return edits_->summary(); })
           << new Foldable(look_, tr("Gestures"), gestures_, [this] { return gestures_->summary(); });
    parts_[kGestures]->hide();
    parts_[kGestures]->setFolded(true);
    parts_[kChanges]->hide();
    parts_[kEdits]->hide();
    makeRunButtons();
    compare_ = new QToolButton;
    compare_->setObjectName(QStringLiteral("compare"));
    compare_->setText(tr("compare"));
    compare_->setToolTip(tr("Make the last change once more in place, afresh and record by record, off to "
                            "the side, and measure each"));
    parts_[kChanges]->addControl(compare_);
    after_ = new QToolButton;
    after_->setObjectName(QStringLiteral("afterChange"));
    after_->setPopupMode(QToolButton::InstantPopup);
    makeAfterMenu();
    parts_[kChanges]->addControl(after_);
    buttons_ << compare_ << after_;
    connect(compare_, &QToolButton::clicked, this, &InstrumentSide::compareWanted);
    pagesBar_ = new PagesBar(look_);
    parts_[kRequests]->addControl(pagesBar_);
    parts_[kRequests]->hide();
    connect(pagesBar_, &PagesBar::refreshWanted, this, &InstrumentSide::refreshWanted);
    connect(pagesBar_, &PagesBar::retryWanted, this, &InstrumentSide::retryWanted);
    connect(pagesBar_, &PagesBar::stageWanted, this, &InstrumentSide::stageWanted);
    room_ = new QBoxLayout(QBoxLayout::TopToBottom);
    auto* timed = new QVBoxLayout;
    timed->addWidget(parts_[kFrames], 10);
    timed->addWidget(parts_[kRequests], 10);
    timed->addWidget(parts_[kGestures]);
    timed->addWidget(parts_[kChanges]);
    timed->addWidget(parts_[kEdits]);
    timed->addStretch(0);
    room_->addLayout(timed, 16);
    room_->addWidget(parts_[kViews], 12);
    column->addLayout(room_, 1);
    column->addStretch(0);
    for (Foldable* part : std::as_const(parts_)) {
        connect(part, &Foldable::foldedChanged, this, &InstrumentSide::foldedChanged);
    }
    connect(&look_, &Look::changed, this, &InstrumentSide::restyle);
    restyle();
}

QToolButton* InstrumentSide::makeButton(const QString& name, const QString& text, const QString& tip) {
    auto* button = new QToolButton;
    button->setObjectName(name);
    button->setText(text);
    button->setToolTip(tip);
    button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    parts_[kFrames]->addControl(button);
    buttons_ << button;
    return button;
}

void InstrumentSide::makeRunButtons() {
    pause_ = makeButton(QStringLiteral("pause"), tr("pause  P"), tr("Stop the run's clock, or let it go on"));
    pause_->setCheckable(true);
    QToolButton* step =
        makeButton(QStringLiteral("step"), tr("step  ."), tr("One frame on, then stop again"));
    slow_ = makeButton(QStringLiteral("slow"), tr("slow ×%1  S").arg(kSlowness),
                       tr("Let the run's clock go slower"));
    slow_->setCheckable(true);
    connect(pause_, &QToolButton::clicked, this, &InstrumentSide::pauseWanted);
    connect(step, &QToolButton::clicked, this, &InstrumentSide::stepWanted);
    connect(slow_, &QToolButton::clicked, this, &InstrumentSide::slowWanted);
}

void InstrumentSide::restyle() {
    for (QToolButton* button : std::as_const(buttons_)) {
        button->setFont(look_.font(12));
        button->setStyleSheet(quietButtonSheet(look_));
    }
    setPaused(pause_->isChecked());
    setSign(*buttons_[1], look_, Sign::Step, look_.ink);
    after_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    setSign(*after_, look_, Sign::Choose, look_.ink);
}

void InstrumentSide::setPaused(bool paused) {
    pause_->setChecked(paused);
    pause_->setText(paused ? tr("go on  P") : tr("pause  P"));
    setSign(*pause_, look_, paused ? Sign::Go : Sign::Pause, paused ? look_.onAccent : look_.ink);
}

void InstrumentSide::setSlow(bool slow) {
    slow_->setChecked(slow);
}

void InstrumentSide::forget() {
    views_->setCollection(nullptr);
    frames_->setCollection(nullptr);
    requests_->setCollection(nullptr);
    changes_->setCollection(nullptr);
    followChanges();
    setGestures(nullptr);
}

void InstrumentSide::setViews(render::LiveCollection* shown) {
    views_->setCollection(shown);
}

void InstrumentSide::setOthers(render::LiveCollection* shown, render::LiveCollection* asks) {
    frames_->setCollection(shown);
    requests_->setCollection(asks);
    changes_->setCollection(shown);
    followChanges();
}

void InstrumentSide::setGestures(render::LiveCollection* shown) {
    gestures_->setCollection(shown);
    followGestures();
}

void InstrumentSide::followGestures() {
    parts_[kGestures]->setVisible(gestures_->hasAny());
    parts_[kGestures]->follow();
    gestures_->follow();
}

void InstrumentSide::followViews() {
    views_->follow();
    parts_[kViews]->follow();
}

void InstrumentSide::followOthers() {
    frames_->update();
    requests_->update();
    parts_[kFrames]->follow();
    parts_[kRequests]->follow();
}

void InstrumentSide::followChanges() {
    parts_[kChanges]->setVisible(changes_->hasAny());
    changes_->follow();
    parts_[kChanges]->follow();
}

/// Where one stands after a change: with what one reads, or at the start; kind by kind.
void InstrumentSide::makeAfterMenu() {
    using To = OrderSpec::ToStart;
    const QList<std::pair<QString, bool To::*>> kinds{{tr("a filter"), &To::filter},
                                                      {tr("a search"), &To::search},
                                                      {tr("a sort"), &To::sort},
                                                      {tr("a shuffle"), &To::shuffle}};
    auto* menu = new QMenu(after_);
    menu->addSection(tr("Goes to the start after"));
    for (const auto& [name, kind] : kinds) {
        QAction* action = menu->addAction(name);
        action->setObjectName(QStringLiteral("toStart%1").arg(afterKinds_.size()));
        action->setCheckable(true);
        afterKinds_ << std::pair(action, kind);
        connect(action, &QAction::triggered, this, [this] {
            To to;
            for (const auto& [each, is] : std::as_const(afterKinds_)) {
                to.*is = each->isChecked();
            }
            Q_EMIT toStartWanted(to);
        });
    }
    after_->setMenu(menu);
}

void InstrumentSide::followToStart(const OrderSpec::ToStart& toStart) {
    QStringList names;
    for (const auto& [action, is] : std::as_const(afterKinds_)) {
        action->setChecked(toStart.*is);
        if (toStart.*is) {
            names << action->text();
        }
    }
    after_->setText(names.isEmpty() ? tr("stays with what is read")
                                    : tr("to the start after %1").arg(names.join(tr(", "))));
}

void InstrumentSide::followEdits(EditsList::Shown shown) {
    edits_->take(std::move(shown));
    parts_[kEdits]->setVisible(edits_->hasAny());
    parts_[kEdits]->follow();
}

void InstrumentSide::setPaged(bool paged) {
    parts_[kRequests]->setVisible(paged);
}

void InstrumentSide::setStaged(std::optional<TailState> state) {
    pagesBar_->setStaged(state);
}

void InstrumentSide::makeParameters(const Parameters& parameters) {
    for (ParameterRow* row : std::as_const(parameterRows_)) {
        row->hide();
        row->deleteLater();
    }
    parameterRows_.clear();
    for (const Parameter& parameter : parameters) {
        auto* row = new ParameterRow(look_, parameter);
        connect(row, &ParameterRow::valueWanted, this, &InstrumentSide::parameterWanted);
        parameters_->layout()->addWidget(row);
        parameterRows_ << row;
    }
    parameters_->setVisible(!parameters.empty());
}

void InstrumentSide::setParameters(const Parameters& parameters) {
    const auto known = std::min(parameterRows_.size(), static_cast<qsizetype>(parameters.size()));
    for (qsizetype i = 0; i < known; ++i) {
        parameterRows_[i]->setValue(parameters[static_cast<std::size_t>(i)]);
    }
}

void InstrumentSide::setWide(bool wide) {
    room_->setDirection(wide ? QBoxLayout::LeftToRight : QBoxLayout::TopToBottom);
    layout()->activate(); // it needs less height at once
    room_->setAlignment(parts_[kViews], wide && parts_[kViews]->isFolded() ? Qt::AlignTop : Qt::Alignment());
}

bool InstrumentSide::isAllFolded() const {
    return std::ranges::all_of(parts_, [](const Foldable* part) {
        return part->isFolded() || part->isHidden(); // what is not there takes no room
    });
}

void InstrumentSide::foldAll(bool fold) {
    for (Foldable* part : std::as_const(parts_)) {
        part->setFolded(fold);
    }
}

void InstrumentSide::save(QSettings& settings) const {
    QStringList folded;
    for (int i = 0; i < parts_.size(); ++i) {
        if (parts_[i]->isFolded()) {
            folded << QString::number(i);
        }
    }
    settings.setValue(QStringLiteral("foldedInstruments"), folded);
}

void InstrumentSide::restore(const QSettings& settings) {
    for (const QString& folded : settings.value(QStringLiteral("foldedInstruments")).toStringList()) {
        if (const int i = folded.toInt(); i >= 0 && i < parts_.size()) {
            parts_[i]->setFolded(true);
        }
    }
}

} // namespace scorrere::workbench

#include "moc_instrument_side.cpp"
