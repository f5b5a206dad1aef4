// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/run/run.h"
#include "render/axis_map.h"
#include "render/item_view.h"

#include <QRectF>
#include <functional>

class QImage;
class QPainter;

namespace scorrere::render {

/// What is painted of a run's window: the views where they stand now.
struct WindowScene {
    const Run& run;
    AxisMap axis;
    std::function<ItemView&(ViewId)> view;
    std::function<bool(std::int64_t place)> isFailedAt; ///< its page could not be had
    const ItemColours& colours;
    PictureCache& pictures;
    ShapeCache& shapes;
    double density = 1; ///< device px to a px of the painter's
    bool refreshes = false;
    bool isWithin = false; ///< an item, on whose ground it stands
    /// What stands within an item, over it. `corner`: its top left.
    std::function<void(const Placement&, const QPointF& corner)> paintWithin = {};
};

/// Copies a picture in device px to whole ones of them: as sharp as it was painted. `at`: the painter's px.
void paintKept(QPainter& painter, const QImage& kept, const QPointF& at);

/// Paints what shows, with the window's top left corner at the painter's origin. The interface thread;
/// O(views that show).
void paintWindow(QPainter& painter, const WindowScene& scene);

} // namespace scorrere::render
