// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/flow/thread_river.h"
#include "workbench/ui/look/look.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QTransform>
#include <QWidget>
#include <vector>

namespace scorrere::workbench {

/// The whole collection from first item to last, along the axis of its strip, in bands: what is loaded, what is measured or estimated from
/// its content, where frames were dear, and where the window is. Dragging in it travels; it is the scroll
/// bar.
class StripMap : public QWidget {
    Q_OBJECT
public:
    StripMap(Look& look, QWidget* parent = nullptr);
    void setCollection(render::LiveCollection* live);
    /// What a frame may cost on the device that is shown: dearer places are marked.
    void setBudget(double budgetMs);
    /// The window moved.
    void follow();
    /// The order is another: for a moment threads show where records came from and went to.
    void followOrder();
    QSize sizeHint() const override;

Q_SIGNALS:
    void travelled();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Stretch {
        float measured = 0;
        float known = 0;
        PlaceState state = PlaceState::Loaded; ///< of the page in its middle
    };
    bool isSideways() const;
    /// From bands that stand upright to the screen.
    QTransform toScreen() const;
    QRectF bands() const;
    void paintLabels(QPainter& painter) const;
    void paintKnown(QPainter& painter, const QRectF& box, double x) const;
    void paintCosts(QPainter& painter, const QRectF& box, double x) const;
    void travelTo(QPointF at);
    void survey();
    void surveyPages();
    void surveySections();
    void paintSections(QPainter& painter, const QRectF& box, double x) const;
    void paintPages(QPainter& painter, const QRectF& box, double band) const;
    double threadsShow() const;

    Look& look_;
    render::LiveCollection* live_ = nullptr;
    struct Named {
        double at = 0; ///< share of the strip before it
        QString name;
    };
    std::vector<Stretch> stretches_; ///< shares, from start to end
    std::vector<Named> sections_;    ///< as many as have room, in order
    double budgetMs_ = 8.3;
    QTimer surveyTimer_;
    ThreadRiver river_; ///< from the left edge of the bands to the right
    std::int64_t riverOf_ = 0;
    QElapsedTimer sinceOrder_;
    QTimer fading_;
};

} // namespace scorrere::workbench
