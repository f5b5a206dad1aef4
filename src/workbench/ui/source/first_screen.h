// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "render/strip_widget.h"
#include "workbench/model/workspace.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace scorrere::workbench {

/// What stands beside the place for one's own records while nothing is open: what this is, in one sentence,
/// the demo running, and what was opened before.
class FirstScreen : public QWidget {
    Q_OBJECT
public:
    FirstScreen(Look& look, Workspace& workspace, QWidget* parent = nullptr);
    /// What was opened before, the newest first.
    void setRecent(const QStringList& paths);
    render::StripWidget& strip() { return *strip_; }
    static constexpr std::int64_t kRecords = 200; ///< of the demo that runs here

protected:
    void showEvent(QShowEvent* event) override;

private:
    QPushButton* addButton(QLayout* to, const QString& name, const QString& text);
    void run();
    void restyle();

    Look& look_;
    Workspace& workspace_;
    QLabel* sentence_;
    QLabel* demo_;
    QLabel* before_;
    QVBoxLayout* recent_;
    render::StripWidget* strip_;
    QBoxLayout* demos_;
    QList<QPushButton*> buttons_;
    render::Job job_;
};

} // namespace scorrere::workbench
