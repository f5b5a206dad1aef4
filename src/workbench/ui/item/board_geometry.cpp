// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/board_geometry.h"

namespace scorrere::workbench {

bool isPartOf(const std::string& part, const std::string& around) {
    return part == around || part.starts_with(around + "/");
}

QRectF BoardGeometry::rectOf(int part) const {
    const PartBox& box = boxes_[static_cast<std::size_t>(part)];
    return QRectF(box.x.toPx() * zoom_, box.y.toPx() * zoom_, box.width.toPx() * zoom_,
                  box.height.toPx() * zoom_)
        .translated(origin_);
}

int BoardGeometry::partAt(QPointF at) const {
    int inside = 0; // innermost part that has the point inside
    int near = -1;  // innermost of those within reach
    double nearest = kReach + 1;
    for (int p = 0; p < static_cast<int>(design_.parts().size()); ++p) {
        const PlanPart& part = planOf(p);
        if (!isShown(p)) {
            p = part.subtreeEnd - 1;
            continue;
        }
        const QRectF rect = rectOf(p);
        if (rect.contains(at)) {
            inside = p;
        } else if (!isBox(part.type)) {
            const double across = std::max({rect.left() - at.x(), at.x() - rect.right(), 0.0});
            const double along = std::max({rect.top() - at.y(), at.y() - rect.bottom(), 0.0});
            if (const double away = std::max(across, along); away <= kReach && away < nearest) {
                nearest = away;
                near = p;
            }
        }
    }
    return near >= 0 && isBox(planOf(inside).type) ? near : inside;
}

QRectF BoardGeometry::sizeHandle(const QRectF& part) {
    const double out = std::min(part.width(), part.height()) < kSmall ? kHandle + 2 : 0;
    return {part.right() - kHandle + out, part.bottom() - kHandle + out, 2 * kHandle, 2 * kHandle};
}

std::optional<QRectF> BoardGeometry::gapHandle(int part) const {
    const PlanPart& box = planOf(part);
    if (!isBox(box.type) || box.type == PartType::Over) {
        return std::nullopt;
    }
    int before = -1;
    const QRectF around = rectOf(part);
    for (int c = part + 1; c < box.subtreeEnd; c = planOf(c).subtreeEnd) {
        if (!isShown(c)) {
            continue;
        }
        if (before >= 0) {
            const QRectF a = rectOf(before);
            const QRectF b = rectOf(c);
            const QPointF middle = box.type == PartType::Column
                                       ? QPointF(around.left() - kHandle - 2, (a.bottom() + b.top()) / 2)
                                       : QPointF((a.right() + b.left()) / 2, around.bottom() + kHandle + 2);
            return QRectF(middle - QPointF(kHandle, kHandle), QSizeF(2 * kHandle, 2 * kHandle));
        }
        before = c;
    }
    return std::nullopt;
}

std::vector<QRectF> BoardGeometry::plusPlaces(const QRectF& part, bool inRow) {
    const double away = kPlus + 3;
    const QPointF before = inRow ? QPointF(part.left() - away, part.center().y())
                                 : QPointF(part.center().x(), part.top() - away);
    const QPointF behind = inRow ? QPointF(part.right() + away, part.center().y())
                                 : QPointF(part.center().x(), part.bottom() + away);
    std::vector<QRectF> places;
    for (const QPointF& at : {before, behind}) {
        places.emplace_back(at - QPointF(kPlus, kPlus), QSizeF(2 * kPlus, 2 * kPlus));
    }
    return places;
}

std::optional<BoardGeometry::Landing> BoardGeometry::landingAt(QPointF at, const std::string& dragged) const {
    const int hit = partAt(at);
    int box = -1;
    for (int p = 0; p <= hit; ++p) {
        const PlanPart& part = planOf(p);
        const bool own = !isPartOf(part.pointer, dragged) && part.repeat < 0;
        if (isBox(part.type) && own && part.subtreeEnd > hit && isShown(p)) {
            box = p;
        }
    }
    if (box < 0) {
        return std::nullopt;
    }
    const PlanPart& into = planOf(box);
    const bool row = into.type == PartType::Row || into.type == PartType::Wrap;
    const QRectF around = rectOf(box);
    Landing landing{into.pointer, 0,
                    row ? QRectF(around.left() - 2, around.top(), 4, around.height())
                        : QRectF(around.left(), around.top() - 2, around.width(), 4),
                    around};
    int place = 0;
    for (int c = box + 1; c < into.subtreeEnd; c = planOf(c).subtreeEnd, ++place) {
        if (!isShown(c)) {
            continue;
        }
        const QRectF child = rectOf(c);
        const bool mirrored = design_.isMirrored();
        const bool behind = row ? (mirrored ? at.x() < child.center().x() : at.x() > child.center().x())
                                : at.y() > child.center().y();
        if (behind) {
            landing.place = place + 1;
            landing.bar =
                row ? QRectF(mirrored ? child.left() - 4 : child.right(), around.top(), 4, around.height())
                    : QRectF(around.left(), child.bottom() - 1, around.width(), 4);
        }
    }
    return landing;
}

} // namespace scorrere::workbench
