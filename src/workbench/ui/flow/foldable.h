// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/labels.h"
#include "workbench/ui/look/look.h"

#include <QHBoxLayout>
#include <QToolButton>
#include <QWidget>
#include <functional>

namespace scorrere::workbench {

/// An instrument below its heading, which a click on it, Enter or Space folds to one line: its name and what
/// it sums up.
class Foldable : public QWidget {
    Q_OBJECT
public:
    /// `sum` says in one line what the body shows. The body is owned from now on.
    Foldable(Look& look, const QString& name, QWidget* body, std::function<QString()> sum,
             QWidget* parent = nullptr);
    void setFolded(bool folded);
    bool isFolded() const { return body_->isHidden(); }
    /// What stands beside the heading while it is unfolded.
    void addControl(QWidget* control);
    /// What it sums up has changed.
    void follow() { told_->setText(sum_()); }

Q_SIGNALS:
    void foldedChanged(bool folded);

private:
    void restyle();

    Look& look_;
    std::function<QString()> sum_;
    QToolButton* heading_ = nullptr;
    QWidget* controls_ = nullptr;
    ElidedLabel* told_ = nullptr;
    QWidget* body_ = nullptr;
};

} // namespace scorrere::workbench
