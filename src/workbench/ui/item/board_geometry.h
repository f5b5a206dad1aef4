// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/item_design.h"
#include "engine/design/layout.h"

#include <QRectF>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// Where on one specimen what can be grasped stands, and where a part would land. Knows no widget.
///
/// Units       px of the board. Complexity  O(parts).
class BoardGeometry {
public:
    static constexpr double kHandle = 5; ///< half the side of a handle
    static constexpr double kPlus = 6.5; ///< radius of a +
    static constexpr double kReach = 3;  ///< px beside a small part that still mean it
    static constexpr double kSmall = 24; ///< parts narrower or lower than that have their handles beside them

    BoardGeometry(const ItemDesign& design, const std::vector<PartBox>& boxes, QPointF origin, double zoom)
        : design_(design), boxes_(boxes), origin_(origin), zoom_(zoom) {}

    QRectF rectOf(int part) const;
    /// The innermost part there. Texts and pictures reach a little beyond their edges: a pointer is never
    /// that sure.
    int partAt(QPointF at) const;
    /// At the corner of a part; beside a small one, which it would cover.
    static QRectF sizeHandle(const QRectF& part);
    /// Beside a box, level with what lies between its first two children; nothing when fewer show.
    std::optional<QRectF> gapHandle(int part) const;
    /// Before and behind a part, outside it.
    static std::vector<QRectF> plusPlaces(const QRectF& part, bool inRow);

    struct Landing {
        std::string box;
        int place = 0;
        QRectF bar;    ///< where the part's edge would be
        QRectF around; ///< the box
    };
    /// Where a part that is dragged would go: into the box there, between the children it is between; never
    /// into itself (`dragged` and what is in it).
    std::optional<Landing> landingAt(QPointF at, const std::string& dragged) const;

private:
    bool isShown(int part) const { return boxes_[static_cast<std::size_t>(part)].shown; }
    const PlanPart& planOf(int part) const { return design_.parts()[static_cast<std::size_t>(part)]; }

    const ItemDesign& design_;
    const std::vector<PartBox>& boxes_;
    QPointF origin_;
    double zoom_;
};

/// Whether a part is another one or stands inside it, by their JSON Pointers.
bool isPartOf(const std::string& part, const std::string& around);

} // namespace scorrere::workbench
