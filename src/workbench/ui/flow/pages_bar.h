// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/page/pager.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QToolButton>
#include <QWidget>
#include <optional>

namespace scorrere::workbench {

/// What one can do about pages, above their instrument: refresh, try again, show a state on demand.
class PagesBar : public QWidget {
    Q_OBJECT
public:
    PagesBar(Look& look, QWidget* parent = nullptr);
    /// Which state shows on demand; nothing: how it runs.
    void setStaged(std::optional<TailState> state);

Q_SIGNALS:
    void refreshWanted();
    void retryWanted();
    void stageWanted(std::optional<scorrere::TailState> state);

private:
    QToolButton* addButton(const char* name, const QString& text, const QString& tip);
    void makeStageMenu();
    void restyle();

    Look& look_;
    QToolButton* stage_ = nullptr;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
