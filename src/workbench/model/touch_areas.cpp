// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/touch_areas.h"

#include "workbench/model/part_facts.h"

#include <QCoreApplication>
#include <algorithm>

namespace scorrere::workbench {

namespace {

QString sayTouch(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::touch", text);
}

bool isWithin(const ItemDesign& design, int inner, int outer) {
    return inner > outer && inner < design.parts()[static_cast<std::size_t>(outer)].subtreeEnd;
}

} // namespace

std::vector<TouchArea> touchAreas(const render::ItemView& view) {
    std::vector<TouchArea> areas;
    const ItemDesign& design = view.design();
    for (std::size_t i = 0; i < design.parts().size(); ++i) {
        const PartBox& box = view.boxes()[i];
        if (design.parts()[i].tap.empty() || !box.shown) {
            continue;
        }
        TouchArea area;
        area.part = static_cast<int>(i);
        area.at = QRectF(box.x.toPx(), box.y.toPx(), box.width.toPx(), box.height.toPx());
        const double least = std::min(area.at.width(), area.at.height());
        area.size = least < PartFacts::kLeastTarget     ? TouchArea::Size::TooSmall
                    : least < PartFacts::kAdvisedTarget ? TouchArea::Size::Enough
                                                        : TouchArea::Size::Fine;
        for (TouchArea& other : areas) {
            const bool isNested =
                isWithin(design, area.part, other.part); // the inner one takes it, as it is meant
            if (!isNested && area.at.intersects(other.at)) {
                area.overlaps = other.part;
                other.overlaps = area.part;
            }
        }
        areas.push_back(area);
    }
    return areas;
}

QString touchInWords(const TouchArea& area) {
    const QString size =
        QStringLiteral("%1 × %2").arg(std::lround(area.at.width())).arg(std::lround(area.at.height()));
    const QString words = area.size == TouchArea::Size::Fine ? sayTouch("%1 px, fine")
                          : area.size == TouchArea::Size::Enough
                              ? sayTouch("%1 px: enough, 44 is advised")
                              : sayTouch("%1 px: too small, 24 is the least");
    return words.arg(size) + (area.overlaps < 0 ? QString() : sayTouch("; overlaps another"));
}

} // namespace scorrere::workbench
