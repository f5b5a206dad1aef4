// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/labels.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QList>
#include <QToolButton>
#include <QWidget>

namespace scorrere::workbench {

/// The window's head: what is open, the stations in the order of the work, what can be opened, the menu.
class TopBar : public QWidget {
    Q_OBJECT
public:
    explicit TopBar(Look& look, QWidget* parent = nullptr);
    /// Adds one more station at the end.
    void addStation(const QString& title);
    void setStation(int index);
    const QWidget& menuButton() const { return *menu_; }
    /// What its menu of demos offers, in order.
    void addDemo(QAction* action);
    void tell(const QString& title, const QString& state);
    void tellFindings(int warnings);
    /// What does not fit is in the menu, too: first the demos go, then Open; the names are cut.
    void fit(int width);

Q_SIGNALS:
    void stationWanted(int index);
    void openWanted();
    void findingsWanted();
    void menuWanted();

private:
    QToolButton* addButton(QWidget* in, const QString& name, const QString& text, const QString& tip);
    void restyle();

    Look& look_;
    QLabel* title_;
    QLabel* subtitle_;
    QWidget* stations_;
    QList<QToolButton*> stationButtons_;
    QToolButton* findings_;
    QToolButton* open_;
    QToolButton* demos_;
    QToolButton* menu_;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
