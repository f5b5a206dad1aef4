// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/look/look.h"

#include <QWidget>

namespace scorrere::workbench {

/// Every frame as a bar that hangs from the water line, stacked by phase, against the device's budget. A
/// click, or the arrow keys, tell what happened in one.
class FramesInstrument : public QWidget {
    Q_OBJECT
public:
    FramesInstrument(Look& look, QWidget* parent = nullptr);
    /// Null: nothing to show.
    void setCollection(const render::LiveCollection* live);
    void setBudget(double budgetMs);
    /// The chosen frame's number; 0: none, the latest is told about.
    qint64 chosen() const { return chosen_; }
    void choose(qint64 number);
    /// Where a time of the run's clock stands, px from the left; times between frames stand between their
    /// bars, later ones behind the last.
    double xOf(qint64 timeUs) const;
    /// What the frames cost, in a line.
    QString summary() const;
    /// What the line above the bars says.
    QString story() const;

Q_SIGNALS:
    void frameChosen(qint64 number);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF field() const;
    std::size_t shown() const;
    int lensFor(std::size_t count) const;
    double barWidth() const { return 5; }
    void paintBars(QPainter& painter, const QRectF& field);
    void paintLegend(QPainter& painter, const QRectF& field);

    Look& look_;
    const render::LiveCollection* live_ = nullptr;
    const Trace* trace_ = nullptr;
    double budgetMs_ = 8.3;
    qint64 chosen_ = 0;
};

} // namespace scorrere::workbench
