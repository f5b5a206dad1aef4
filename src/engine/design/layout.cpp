// SPDX-License-Identifier: Apache-2.0
//
// Two passes over the flat plan: sizes from the leaves up (each text measured once, at the width its box
// leaves it), then places from the root down.
#include "engine/design/layout.h"

#include <algorithm>

namespace scorrere {

namespace {

Length horizontal(const PlanPart& part) {
    return part.padding[1] + part.padding[3];
}
Length vertical(const PlanPart& part) {
    return part.padding[0] + part.padding[2];
}
bool isOpen(Length length) {
    return length < Length{};
}
Length shift(Align align, Length room) {
    return align == Align::Center ? Length::fromRaw(room.raw() / 2) : align == Align::End ? room : Length{};
}

} // namespace

Length ItemLayout::solve(Length width) {
    boxes_.assign(design_.parts().size(), PartBox{});
    measure(0, width, true);
    box(0).width = width;
    place(0, Length{}, Length{});
    return box(0).height;
}

bool ItemLayout::isShown(int i) const {
    const PlanPart& p = part(i);
    // A picture keeps its place while it has none: its placeholder says so.
    return p.type != PartType::Text || content_.present[static_cast<std::size_t>(p.binding)] != 0;
}

/// Sizes part i and its children. `take`: it fills the available width instead of being as wide as it needs.
void ItemLayout::measure(int i, Length available, bool take) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    b.shown = isShown(i);
    if (!b.shown) {
        return;
    }
    available = std::max(isOpen(p.width) ? available : std::min(p.width, available), Length{});
    const Length inner = std::max(available - horizontal(p), Length{});
    b.width = take || !isOpen(p.width) ? available : Length{};
    switch (p.type) {
    case PartType::Text: {
        const TextSize size =
            measurer_.measure(i, content_.values[static_cast<std::size_t>(p.binding)],
                              design_.styles()[static_cast<std::size_t>(p.style)], inner, p.lines);
        b.width = std::max(b.width, std::min(size.width + horizontal(p), available));
        b.height = size.height + vertical(p);
        break;
    }
    case PartType::Picture:
        if (isOpen(p.width) && !isOpen(p.height) && p.aspect > 0 && !take) {
            b.width = std::min(available, Length::fromPx(p.height.toPx() * p.aspect));
        } else {
            b.width = available;
        }
        b.height = p.aspect > 0 ? Length::fromPx(b.width.toPx() / p.aspect) : b.width;
        break;
    case PartType::Line:
    case PartType::Space:
        break; // as thick as given, and as long as its box makes it
    case PartType::Row:
        measureRow(i, inner);
        break;
    case PartType::Column:
    case PartType::Over:
        measureStack(i, inner);
        break;
    }
    if (!isOpen(p.height)) {
        b.height = p.height;
    }
}

void ItemLayout::measureRow(int i, Length inner) {
    const PlanPart& p = part(i);
    Length left = inner;
    double grows = 0;
    bool any = false;
    for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
        if (!isShown(c)) {
            continue;
        }
        left -= any ? p.gap : Length{};
        any = true;
        grows += part(c).grow;
    }
    Length used = inner - left;
    Length height;
    for (const bool growing : {false, true}) {
        const Length shared = std::max(left, Length{});
        for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
            if (!isShown(c) || (part(c).grow > 0) != growing) {
                continue;
            }
            const Length given = growing ? Length::fromRaw(static_cast<std::int64_t>(
                                               static_cast<double>(shared.raw()) * part(c).grow / grows))
                                         : std::max(left, Length{});
            measure(c, given, growing);
            left -= growing ? Length{} : box(c).width;
            used += box(c).width;
            height = std::max(height, box(c).height);
        }
    }
    box(i).width = std::max(box(i).width, used + horizontal(p));
    box(i).height = height + vertical(p);
}

void ItemLayout::measureStack(int i, Length inner) {
    const PlanPart& p = part(i);
    const bool column = p.type == PartType::Column;
    const bool stretch = column && p.align == Align::Stretch;
    Length width;
    Length height;
    double grows = 0;
    bool any = false;
    for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
        measure(c, inner, stretch || part(c).type == PartType::Line);
        if (!box(c).shown) {
            continue;
        }
        width = std::max(width, box(c).width);
        height = column ? height + (any ? p.gap : Length{}) + box(c).height : std::max(height, box(c).height);
        grows += column ? part(c).grow : 0;
        any = true;
    }
    const Length spare = p.height - vertical(p) - height;
    for (int c = i + 1; grows > 0 && spare > Length{} && c < p.subtreeEnd; c = part(c).subtreeEnd) {
        box(c).height += Length::fromRaw(
            static_cast<std::int64_t>(static_cast<double>(spare.raw()) * part(c).grow / grows));
    }
    box(i).width = std::max(box(i).width, width + horizontal(p));
    box(i).height = height + vertical(p);
}

void ItemLayout::place(int i, Length x, Length y) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    b.x = x;
    b.y = y;
    const Length innerX = x + p.padding[3];
    const Length innerY = y + p.padding[0];
    const Length innerWidth = b.width - horizontal(p);
    const Length innerHeight = b.height - vertical(p);
    Length at = p.type == PartType::Row ? innerX : innerY;
    for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
        PartBox& child = box(c);
        if (!child.shown) {
            continue;
        }
        if (p.type == PartType::Row) {
            if (part(c).type == PartType::Line && p.align == Align::Stretch) {
                child.height = innerHeight;
            }
            place(c, at, innerY + shift(p.align, innerHeight - child.height));
            at += child.width + p.gap;
        } else if (p.type == PartType::Column) {
            place(c, innerX + shift(p.align, innerWidth - child.width), at);
            at += child.height + p.gap;
        } else {
            place(c, innerX + shift(part(c).align, innerWidth - child.width), innerY);
        }
    }
}

} // namespace scorrere
