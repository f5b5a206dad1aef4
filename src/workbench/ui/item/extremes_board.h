// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/part_spec.h"
#include "workbench/model/board_model.h"
#include "workbench/ui/item/board_geometry.h"
#include "workbench/ui/look/look.h"

#include <QAbstractScrollArea>
#include <optional>

namespace scorrere::workbench {

/// The design on the records that break it, sorted by height. Parts are chosen and moved where they stand:
/// what is done to one specimen is done to all.
///
/// Keyboard    ← → part by part in reading order, ↑ the box around it, ↓ into it; Alt+← → moves it; Del takes
///             it out, + adds one behind it, B puts it into a box, Enter goes to its card, Esc chooses
///             nothing.
/// Mouse       Click chooses, drag moves a part into a place, the handle at its corner sizes it, the one
///             beside a box sets the gap, + adds. Of a table the heading stands above, whose cells drag their columns;
///             the edges of columns drag their widths, and let them follow their cells where they are clicked twice.
class ExtremesBoard : public QAbstractScrollArea {
    Q_OBJECT
public:
    ExtremesBoard(Look& look, BoardModel& model, QWidget* parent = nullptr);

    void setPictures(std::shared_ptr<render::PictureCache> pictures) { pictures_ = std::move(pictures); }
    /// What is said in place of specimens.
    void setMessage(const QString& message);
    /// The model's specimens changed: lay them out again.
    void arrange();
    const std::string& selected() const { return selected_; }
    void select(const std::string& pointer);
    void setShowsBoxes(bool shows);
    bool showsBoxes() const { return showsBoxes_; }
    /// Parts that take taps are outlined, with their real size, and whether that is enough for a finger.
    void setShowsTouch(bool shows);
    /// px on the board to a px of an item.
    double zoom() const;
    void zoomBy(int steps);
    /// A specimen's part on the viewport; empty when it is not there.
    QRectF partOnViewport(std::size_t specimen, const std::string& pointer) const;

Q_SIGNALS:
    void selectionChanged(const QString& pointer);
    void addWanted(const QString& beside, bool behind, QPoint global);
    void moveWanted(const QString& from, const QString& box, int place);
    void stepWanted(const QString& pointer, int by);
    void removeWanted(const QString& pointer);
    void duplicateWanted(const QString& pointer);
    void wrapWanted(const QString& pointer, QPoint global);
    void sizeWanted(const QString& pointer, double width, double height);
    void gapWanted(const QString& box, double gap);
    /// Of a table; nothing: as wide as its cells need.
    void columnWidthWanted(int column, std::optional<double> width);
    void editWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;
    bool viewportEvent(QEvent* event) override;
    bool event(QEvent* event) override;

private:
    enum class Grip { None, Part, Size, Gap, Column };
    /// The edge behind a column of a table, or a cell of its heading.
    struct ColumnHit {
        std::size_t setting = 0;
        int column = 0;
    };
    /// Where the heading of a table stands above the specimens of a setting, px of the board.
    struct HeadingAt {
        std::size_t setting = 0;
        QRectF at;
    };
    struct Hit {
        std::size_t specimen = 0;
        int part = -1;
    };
    std::optional<Hit> hitAt(QPointF viewport) const;
    std::optional<BoardGeometry::Landing> landingAt(QPointF viewport) const;
    BoardGeometry geometryOf(const Specimen& specimen) const;
    QPointF origin() const;
    QRectF rectOf(const Specimen& specimen, int part) const;
    int focused() const; ///< the specimen that handles stand on
    std::vector<std::string> order() const;
    std::string boxAround(const std::string& pointer) const;
    std::string firstIn(const std::string& pointer) const;
    bool standsInRow(const std::string& pointer) const;
    void paintSpecimen(QPainter& painter, std::size_t index);
    void paintBoxes(QPainter& painter, const Specimen& specimen);
    void paintTouch(QPainter& painter, const Specimen& specimen);
    void paintSelection(QPainter& painter, std::size_t index);
    void paintFaults(QPainter& painter, const Specimen& specimen);
    void paintCaption(QPainter& painter, const Specimen& specimen);
    void fit();
    double captionHeight() const;
    double settingWidth(std::size_t first) const;
    double edgeOf(std::size_t setting, int column, const QRectF& at) const;
    std::optional<ColumnHit> edgeAt(QPointF viewport) const;
    std::optional<ColumnHit> headingAt(QPointF viewport) const;
    std::string cellPointer(int column) const;
    void paintHeading(QPainter& painter, const HeadingAt& heading);
    void paintEdges(QPainter& painter);

    Look& look_;
    BoardModel& model_;
    std::shared_ptr<render::PictureCache> pictures_;
    render::ShapeCache shapes_;
    QString message_;
    std::string selected_;
    std::size_t touched_ = 0; ///< the specimen that was clicked last
    int zoomStep_ = 0;
    bool showsBoxes_ = false;
    bool showsTouch_ = false;
    int hovered_ = -1; ///< the specimen under the pointer: its boxes show
    QSizeF size_;
    std::vector<std::pair<QPointF, QString>> headings_;
    std::vector<HeadingAt> tableHeadings_;
    std::optional<ColumnHit> edge_; ///< under the pointer, or dragged
    Grip grip_ = Grip::None;
    QPointF pressed_;
    QPointF now_;
    bool dragging_ = false;
    QSizeF sizeBefore_;
    double gapBefore_ = 0;
};

} // namespace scorrere::workbench
