// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/foldable.h"

#include "workbench/ui/look/icons.h"

#include <QVBoxLayout>

namespace scorrere::workbench {

Foldable::Foldable(Look& look, const QString& name, QWidget* body, std::function<QString()> sum,
                   QWidget* parent)
    : QWidget(parent), look_(look), sum_(std::move(sum)), body_(body) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    column->addLayout(row);
    heading_ = new QToolButton;
    heading_->setObjectName(body->objectName() + QStringLiteral("Heading"));
    heading_->setText(name);
    heading_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    heading_->setFocusPolicy(Qt::StrongFocus);
    row->addWidget(heading_);
    controls_ = new QWidget;
    auto* controls = new QHBoxLayout(controls_);
    controls->setContentsMargins(6, 0, 0, 0);
    controls->setSpacing(4);
    row->addWidget(controls_);
    told_ = new ElidedLabel;
    told_->setObjectName(body->objectName() + QStringLiteral("Told"));
    told_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    row->addWidget(told_, 1);
    column->addWidget(body, 1);
    connect(heading_, &QToolButton::clicked, this, [this] { setFolded(!isFolded()); });
    connect(&look_, &Look::changed, this, &Foldable::restyle);
    restyle();
}

void Foldable::addControl(QWidget* control) {
    controls_->layout()->addWidget(control);
}

void Foldable::setFolded(bool folded) {
    body_->setVisible(!folded);
    controls_->setVisible(!folded);
    setSizePolicy(QSizePolicy::Preferred, folded ? QSizePolicy::Fixed : QSizePolicy::Preferred);
    restyle();
    follow();
    Q_EMIT foldedChanged(folded);
}

void Foldable::restyle() {
    heading_->setFont(look_.font(12, 600));
    heading_->setStyleSheet(
        quietButtonSheet(look_) +
        QStringLiteral("QToolButton { color: %1; padding-left: 0; }").arg(look_.quiet.name()));
    heading_->setToolTip(isFolded() ? tr("Unfold %1").arg(heading_->text())
                                    : tr("Fold %1 to one line").arg(heading_->text()));
    setSign(*heading_, look_, isFolded() ? Sign::Folded : Sign::Open, look_.quiet);
    told_->setFont(look_.font(12));
    told_->setStyleSheet(QStringLiteral("color: %1").arg(look_.ink.name()));
}

} // namespace scorrere::workbench

#include "moc_foldable.cpp"
