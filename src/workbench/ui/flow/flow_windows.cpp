// SPDX-License-Identifier: GPL-3.0-or-later
// The part of Flow that has to do with its room: the windows on the collection, the strip map, and what instruments
// leave them.
#include "render/scroll_input.h"
#include "workbench/ui/flow/beside_words.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/flow/gesture_words.h"
#include "workbench/ui/flow/instrument_side.h"
#include "workbench/ui/flow/leaf_bar.h"
#include "workbench/ui/flow/room.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/look/icons.h"
#include "workbench/ui/look/labels.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

/// The strip map stands along the strip.
void FlowStation::standMap() {
    const bool isSideways = runner_.shown() != nullptr && runner_.shown()->axis().isSideways;
    mapRow_->setDirection(isSideways ? QBoxLayout::BottomToTop : QBoxLayout::LeftToRight);
}

bool FlowStation::isWide() const {
    return cutaway_->geometry().isWide() || runner_.windows().size() > 1;
}

/// The cutaway gets what it can use; instruments that are all folded, or beside which a wide window would be
/// small, lie below it.
void FlowStation::shareRoom() {
    const bool folded = instruments_->isAllFolded();
    const bool isWide = this->isWide();
    drawAlike();
    const Qt::Orientation orientation = folded || isWide ? Qt::Vertical : Qt::Horizontal;
    if (splitter_->orientation() != orientation) {
        splitter_->setOrientation(orientation);
        isSharedByHand_ = false;
    }
    if (isSharedByHand_) {
        return;
    }
    instruments_->setWide(isWide && !folded);
    if (isWide && !folded) {
        const int most = splitter_->height() * (runner_.windows().size() > 1 ? 3 : 4) / 10;
        const int lines = std::min(instruments_->sizeHint().height(), most);
        splitter_->setSizes({std::max(splitter_->height() - lines, 1), lines});
        return;
    }
    if (folded) {
        const int lines = instruments_->sizeHint().height();
        splitter_->setSizes({std::max(splitter_->height() - lines, 1), lines});
        return;
    }
    FlowRoom room;
    room.device = cutaway_->geometry().wanted();
    room.beside = map_->sizeHint().width();
    room.instruments = instruments_->needed();
    const int given = room.cutaway(splitter_->width());
    splitter_->setSizes({given, std::max(splitter_->width() - given, 1)});
}

QWidget* FlowStation::makeCutawaySide() {
    auto* side = new QWidget;
    mapRow_ = new QBoxLayout(QBoxLayout::LeftToRight, side);
    mapRow_->setContentsMargins(0, 0, 0, 0);
    mapRow_->setSpacing(0);
    map_ = new StripMap(look());
    map_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    mapRow_->addWidget(map_);
    windows_ = new QHBoxLayout;
    windows_->setSpacing(0);
    cutaway_ = addCutaway();
    leafBar_ = new LeafBar(look());
    connect(leafBar_, &LeafBar::turnWanted, &runner_, &CollectionRunner::turnTo);
    auto* seen = new QVBoxLayout;
    seen->setSpacing(0);
    seen->addLayout(windows_, 1);
    seen->addWidget(leafBar_);
    mapRow_->addLayout(seen, 1);
    // The heading floats over the cutaway's upper edge, which is left free for it.
    auto* top = new QHBoxLayout(cutaway_);
    auto* heading = new QHBoxLayout;
    top->addLayout(heading);
    top->setAlignment(Qt::AlignTop);
    top->setContentsMargins(6, 4, 8, 0);
    cutawayName_ = new ElidedLabel(tr("Cutaway")); // the instruments need their room, too
    cutawayName_->setObjectName(QStringLiteral("cutawayName"));
    headings_.append(cutawayName_);
    heading->addWidget(cutawayName_);
    gestureSaid_ = new ElidedLabel;
    gestureSaid_->setObjectName(QStringLiteral("gestureSaid"));
    heading->addSpacing(12);
    heading->addWidget(gestureSaid_, 1);
    const auto makeButton = [this](const char* objectName, const QString& text, const QString& tip) {
        auto* button = new QToolButton;
        button->setObjectName(QLatin1String(objectName));
        button->setText(text);
        button->setToolTip(tip);
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        buttons_ << button;
        return button;
    };
    auto* nearer = makeButton("zoomIn", tr("+"), tr("Look nearer: fewer screens beyond the edges (+)"));
    nearer->setAccessibleName(tr("Look nearer"));
    zoomLabel_ = new QLabel;
    zoomLabel_->setObjectName(QStringLiteral("zoomLabel"));
    auto* further = makeButton("zoomOut", tr("−"), tr("Look further: more screens beyond the edges (−)"));
    further->setAccessibleName(tr("Look further"));
    heading->addWidget(nearer);
    heading->addWidget(zoomLabel_);
    heading->addWidget(further);
    connect(nearer, &QToolButton::clicked, this, [this] { cutaway_->setZoom(cutaway_->zoom() - 1); });
    connect(further, &QToolButton::clicked, this, [this] { cutaway_->setZoom(cutaway_->zoom() + 1); });
    waiting_ = new QToolButton(cutaway_);
    waiting_->setObjectName(QStringLiteral("heldMarker"));
    waiting_->setToolTip(tr("Records came while you read: put them on top, and go there (N)"));
    waiting_->hide();
    connect(waiting_, &QToolButton::clicked, &runner_, &CollectionRunner::showWaiting);
    return side;
}

/// Who has the last drag, and why.
void FlowStation::tellGesture() {
    const auto* looked = collection() == nullptr ? nullptr : runner_.looked();
    gestureSaid_->setText(looked == nullptr ? QString()
                                            : gestureInWords(looked->gestures().story(), takerInWords));
}

Cutaway* FlowStation::addCutaway() {
    const int window = static_cast<int>(cutaways_.size());
    auto* cutaway = new Cutaway(look(), runner_.driver());
    if (window > 0) {
        cutaway->setObjectName(QStringLiteral("cutaway%1").arg(window + 1));
    }
    cutaways_ << cutaway;
    cutaway->setCutOpen(cutaways_.first()->isCutOpen());
    windows_->addWidget(cutaway, 1);
    // Who is touched, or has the focus, leads.
    connect(cutaway, &Cutaway::focused, this, [this, window] { runner_.setLead(window); });
    connect(cutaway, &Cutaway::gestured, this, [this, cutaway, window] {
        cutaway->setFocus(Qt::MouseFocusReason);
        runner_.setLead(window); // it may have had the focus before
        runner_.driver().want();
        tellGesture();
    });
    connect(cutaway, &Cutaway::resized, this, &FlowStation::drawAlike);
    connect(cutaway, &Cutaway::doubleTapped, this, [this, window](QPointF at) { editAt(window, at); });
    connect(cutaway, &Cutaway::menuWanted, this,
            [this, window](std::optional<QPointF> at, QPoint global) { openMenu(window, at, global); });
    connect(cutaway, &Cutaway::removeWanted, this, [this, window] {
        if (render::LiveCollection* live = liveOf(window)) {
            if (const auto item = live->hands().focused()) {
                runner_.hands().perform(*live, QStringLiteral("remove"), *item, runner_.driver().nowUs());
            }
        }
    });
    connect(cutaway, &Cutaway::zoomChanged, this, [this](int screens) {
        for (Cutaway* each : std::as_const(cutaways_)) {
            each->setZoom(screens);
        }
        zoomTold();
    });
    return cutaway;
}

/// A cutaway to each window; the state on demand has one.
void FlowStation::showWindows() {
    const std::vector<render::LiveCollection*> all = runner_.windows();
    const std::size_t count = runner_.staged() ? 1 : std::max<std::size_t>(all.size(), 1);
    while (cutaways_.size() < static_cast<qsizetype>(count)) {
        addCutaway()->setZoom(cutaway_->zoom());
    }
    const CollectionDocument& document = workspace().document();
    for (qsizetype i = 0; i < cutaways_.size(); ++i) {
        Cutaway* cutaway = cutaways_[i];
        const auto window = static_cast<std::size_t>(i);
        cutaway->setVisible(window < count);
        cutaway->setCollection(i == 0 ? runner_.shown() : window < count ? all[window] : nullptr);
        cutaway->setFingerShown(isFingerShown_);
        if (i == 0 || window > runner_.besideSpecs().size()) {
            continue;
        }
        const BesideSpec& spec = runner_.besideSpecs()[window - 1];
        const DeviceWindow device = deviceWindow(spec, document.arrangement);
        cutaway->setBars(device.bars, device.isUnderBars);
        cutaway->setWindow(besideInWords({spec}),
                           spec.look.empty() ? std::nullopt : std::optional(spec.look == "dark"));
        windows_->setStretch(static_cast<int>(i), device.width + 200);
    }
    const DeviceWindow first = deviceWindow(document);
    windows_->setStretch(0, first.width + 200);
    instruments_->setGestures(runner_.looked());
    shareDue_.start();
}

/// Devices beside each other are drawn at one scale.
void FlowStation::drawAlike() {
    double scale = 1;
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        scale = cutaway->isVisibleTo(this) && runner_.windows().size() > 1
                    ? std::min(scale, cutaway->ownScale())
                    : scale;
    }
    for (Cutaway* cutaway : std::as_const(cutaways_)) {
        cutaway->setMostScale(scale);
    }
}

void FlowStation::restyle() {
    for (QLabel* heading : headings_) {
        heading->setFont(look().font(12, 600));
        heading->setStyleSheet(QStringLiteral("color: %1").arg(look().quiet.name()));
    }
    zoomLabel_->setFont(look().font(12));
    gestureSaid_->setFont(look().font(12));
    gestureSaid_->setStyleSheet(QStringLiteral("color: %1").arg(look().quiet.name()));
    waiting_->setFont(look().font(12.5, 650));
    waiting_->setStyleSheet(
        QStringLiteral("QToolButton { background: %1; color: %2; border: none; border-radius: %3px; "
                       "padding: 4px 14px; } QToolButton:focus { border: 2px solid %4; }")
            .arg(look().accent.name(), look().onAccent.name())
            .arg(static_cast<int>(look().scaled(11)))
            .arg(look().ink.name()));
    splitter_->setStyleSheet(
        QStringLiteral("QSplitter::handle { background: %1; margin: 0 4px; }").arg(look().edge.name()));
    for (QToolButton* button : std::as_const(buttons_)) {
        button->setFont(look().font(12));
        button->setStyleSheet(quietButtonSheet(look()));
        setSign(*button, look(), button == buttons_.first() ? Sign::Nearer : Sign::Further, look().ink);
    }
}

void FlowStation::zoomTold() {
    zoomLabel_->setText(cutaway_->zoom() == 0   ? tr("alone, %1 %").arg(qRound(cutaway_->scale() * 100))
                        : cutaway_->zoom() == 1 ? tr("1 screen beyond")
                                                : tr("%1 screens beyond").arg(cutaway_->zoom()));
}

} // namespace scorrere::workbench
