// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/run/run.h"
#include "render/axis_map.h"
#include "render/item_view.h"

#include <QRectF>
#include <QString>
#include <functional>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

class QImage;
class QPainter;

namespace scorrere::render {

/// What stands within items, over them.
class WithinItems {
public:
    virtual ~WithinItems() = default;
    /// The item with all that stands in it, as one picture; null: paint them.
    /// `atOnce`: as of ItemView::keptPicture.
    virtual const QImage* whole(const Placement& placement, const QSizeF& size, int& atOnce) = 0;
    /// `corner`: the item's top left.
    virtual void paint(QPainter& painter, const Placement& placement, const QPointF& corner) = 0;
};

/// One that is swiped aside, and what that uncovers.
struct AsideScene {
    ViewId view;
    Length by; ///< across, positive towards the item's end
    bool atStart = false;
    bool isPulled = false; ///< let go now, the first is done
    std::vector<std::pair<QString, Tone>> actions;
};

/// One that is carried, over the others, or on its way to where it was set down.
struct CarriedScene {
    ViewId view;
    Box box;
    bool isHeld = false;
};

/// What hands do with what is painted.
struct HandsScene {
    /// What is so of the item of a view and its design does not say by itself; null: nothing is.
    std::function<ItemState(ViewId)> stateOf;
    std::optional<AsideScene> aside;
    std::optional<CarriedScene> carried;
    /// Said at the item of a view.
    std::optional<std::pair<ViewId, QString>> said;
};

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
    bool isWithin = false;         ///< an item, on whose ground it stands
    bool keepsPictures = true;     ///< of items
    WithinItems* within = nullptr; ///< null: nothing does
    HandsScene hands{};
};

/// Copies a picture in device px to whole ones of them: as sharp as it was painted. `at`: the painter's px.
void paintKept(QPainter& painter, const QImage& kept, const QPointF& at);

/// Paints what shows, with the window's top left corner at the painter's origin. The interface thread;
/// O(views that show).
void paintWindow(QPainter& painter, const WindowScene& scene);
/// The same of a strip within an item.
void paintStripWithin(QPainter& painter, const Run& run, const AxisMap& axis,
                      const std::vector<std::unique_ptr<ItemView>>& views, const ItemView::PaintNeeds& needs,
                      bool keepsPictures);

} // namespace scorrere::render
