// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/model/devices.h"
#include "workbench/ui/flow/cutaway_geometry.h"
#include "workbench/ui/flow/recession.h"
#include "workbench/ui/look/look.h"

#include <QWidget>
#include <optional>

namespace scorrere::workbench {

/// The cutaway: the device window live in the middle; beyond two of its edges the strip goes on, compressed the
/// further it is: item views that are ready, then items known by estimate only. What lies beyond is reckoned
/// along and across the strip; `shown` puts it on screen, whichever way the strip runs.
class Cutaway : public QWidget {
    Q_OBJECT
public:
    static constexpr int kNearest = 0;   ///< zoom: the window alone, as near true size as there is room for
    static constexpr int kFarthest = 12; ///< a dozen screens either side

    Cutaway(Look& look, render::FrameDriver& driver, QWidget* parent = nullptr);
    void setCollection(render::LiveCollection* live);
    render::LiveCollection* collection() const { return live_; }
    /// On the run's clock.
    qint64 nowUs() const { return driver_.nowUs(); }
    /// What the system covers of the device's screen: over the window, or outside it.
    void setBars(const Bars& bars, bool isOver);
    /// One of several: what it is called, in which look its items stand where that is not the workbench's, and
    /// how large its device is drawn at most, so that all are drawn alike.
    void setWindow(const QString& name, std::optional<bool> dark);
    void setMostScale(double scale);
    /// How large it could be drawn.
    double ownScale() const;
    /// Whether strips within items show what they have beyond the items' edges.
    void setCutOpen(bool isOpen);
    bool isCutOpen() const { return isCutOpen_; }
    /// Whether a disc shows where the pointer is, and where it came from.
    void setFingerShown(bool isShown);
    /// Screens shown beyond each edge.
    void setZoom(int screens);
    int zoom() const { return zoom_; }
    /// How large the window is drawn, 1 being true size.
    double scale() const { return geometry().scale(); }
    /// The device window's place in this widget.
    QRectF windowRect() const { return geometry().window(); }
    /// In px of the window.
    QPointF inWindow(QPointF at) const { return (at - windowRect().topLeft()) / scale(); }
    CutawayGeometry geometry() const;
    /// What stands in the window's stead when there is no collection to show.
    void setMessage(const QString& message);
    /// The numbers of what stands at a place of this widget; empty: nothing does.
    QString numbersAt(QPointF at) const;

Q_SIGNALS:
    void gestured();
    void resized();
    void focused();
    /// Delete, where an item has the keys.
    void removeWanted();
    /// Pressed twice there.
    void doubleTapped(QPointF at);
    /// What can be done with what stands there is wanted; no place: by a key.
    void menuWanted(std::optional<QPointF> at, QPoint global);
    void zoomChanged(int screens);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent*) override { Q_EMIT resized(); }
    void focusInEvent(QFocusEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    const render::ItemColours& items() const { return items_ ? *items_ : look_.items; }
    void paintWindow(QPainter& painter);
    QString nothingHere();
    void paintBars(QPainter& painter);
    QRectF screenRect() const { return geometry().screen(); }
    bool isCell(const Placement& placement) const;
    QRectF drawnBox(const Box& box) const;
    void paintTag(QPainter& painter, const Placement& placement);
    void paintNotes(QPainter& painter);
    void paintExtentNote(QPainter& painter, const QRectF& at, double measured, const ViewHistory& history);
    void paintViewNote(QPainter& painter, QPointF from, const QRectF& at, int view,
                       const ViewHistory& history);
    /// Where a rectangle of across and along stands: from the middle of the window across, and from its edge
    /// beyond which the strip goes on.
    QRectF shown(double crossFrom, double crossUntil, double beyondFrom, double beyondUntil,
                 bool below) const;
    double halfAcross() const;
    double roomBeyond(bool below) const;
    void paintBeyond(QPainter& painter, bool below);
    void paintWithin(QPainter& painter);
    void paintStripBeyond(QPainter& painter, render::LiveStrips::Strip& strip, const QRectF& at,
                          const QRectF& beside);
    QString numbersWithin(QPointF at) const;
    void paintReady(QPainter& painter, const Placement& placement, const QRectF& at, double depth,
                    double inside, bool below);
    /// The page of a place without a record, as one outline; gives the position where it ends, that way.
    std::int64_t paintPage(QPainter& painter, const Recession& recession, std::int64_t position, bool below,
                           double& drawnUntil);
    void paintPageCard(QPainter& painter, const QRectF& at, double depth, std::int64_t page);
    double filled(std::int64_t page) const;
    void paintOutline(QPainter& painter, const QRectF& at, double depth, bool isKnown);
    /// `from` and `until`: which share of the strip's breadth.
    QRectF cardAt(const Recession& recession, bool below, double near, double far, double from = 0,
                  double until = 1) const;
    void paintSideLabel(QPainter& painter, double beyond, bool below, const QString& text,
                        const QColor& colour);

    Look& look_;
    render::FrameDriver& driver_;
    render::LiveCollection* live_ = nullptr;
    QString message_;
    Bars bars_;
    bool areBarsOver_ = false;
    QString name_;
    std::optional<render::ItemColours> items_;
    double mostScale_ = 1;
    int zoom_ = 3;
    bool isCutOpen_ = false;
    bool takesTouch(QTouchEvent* event);
    bool keyOverDetail(const QKeyEvent& event);
    bool keyInItems(const QKeyEvent& event);
    bool typeTitle(const QString& text);
    void paintFinger(QPainter& painter);
    std::optional<int> touch_; ///< the finger that is followed
    QString typed_;            ///< the beginning of a title
    qint64 typedUs_ = 0;
    bool isFingerShown_ = false;
};

} // namespace scorrere::workbench
