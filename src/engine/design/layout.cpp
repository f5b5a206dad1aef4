// SPDX-License-Identifier: Apache-2.0
//
// Passes over the flat plan: what shows, from the leaves up; sizes from the leaves up (each text measured
// once, at the width its box leaves it); places from the root down. Mirroring comes last and moves nothing
// else: what is right from left to right is right from right to left.
#include "engine/design/layout.h"

#include <algorithm>
#include <cmath>

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
Length scaled(Length length, double by) {
    return Length::fromRaw(static_cast<std::int64_t>(static_cast<double>(length.raw()) * by));
}

constexpr Length kStripHeight = Length::px(120);
constexpr Length kMeterWidth = Length::px(80);
constexpr Length kMeterHeight = Length::px(6);

} // namespace

ItemSize ItemLayout::solve(const ItemRoom& room) {
    boxes_.assign(design_.parts().size(), PartBox{});
    chooseShown();
    leastHeight_ = room.leastHeight;
    columns_ = room.columns != nullptr && TableColumns::areIn(design_) ? room.columns : nullptr;
    Length width = room.isMost ? openWidth(room.width) : room.width;
    measure(0, width, true);
    width = columns_ != nullptr ? columns_->across() : width;
    box(0).width = width;
    box(0).height = std::max(box(0).height, leastHeight_);
    place(0, Length{}, Length{});
    if (design_.isMirrored()) {
        mirror(width);
    }
    return {width, box(0).height};
}

/// How wide it is when nothing takes more than it needs.
Length ItemLayout::openWidth(Length most) {
    isOpenWidth_ = true;
    measure(0, most, false);
    isOpenWidth_ = false;
    return std::min(box(0).width, most);
}

bool ItemLayout::isShownAlone(int i) const {
    const PlanPart& p = part(i);
    const auto index = static_cast<std::size_t>(i);
    if (content_.hidden[index] != 0) {
        return false;
    }
    if (p.keepsPlace) {
        return true;
    }
    if (p.isText()) {
        return content_.present[static_cast<std::size_t>(p.binding)] != 0;
    }
    if (p.type == PartType::Meter || p.type == PartType::Scale) {
        return content_.numbers[index] >= 0;
    }
    return true; // a picture keeps its place while it has none: its placeholder says so
}

void ItemLayout::chooseShown() {
    for (int i = static_cast<int>(boxes_.size()) - 1; i >= 0; --i) {
        const PlanPart& p = part(i);
        bool shown = isShownAlone(i);
        if (shown && isBox(p.type) && p.subtreeEnd > i + 1 && !p.keepsPlace && isOpen(p.height) && i > 0) {
            bool any = false;
            for (int c = i + 1; c < p.subtreeEnd && !any; c = part(c).subtreeEnd) {
                any = box(c).shown;
            }
            shown = any;
        }
        box(i).shown = shown;
    }
}

/// Sizes part i and its children. `take`: it fills the available width instead of being as wide as it needs.
void ItemLayout::measure(int i, Length available, bool take) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    if (!b.shown) {
        return;
    }
    available = std::max(isOpen(p.width) ? available : std::min(p.width, available), Length{});
    const Length inner = std::max(available - horizontal(p), Length{});
    take = take && !isOpenWidth_;
    b.width = take || !isOpen(p.width) ? available : Length{};
    switch (p.type) {
    case PartType::Text:
    case PartType::Badge:
        measureText(i, inner, available);
        break;
    case PartType::Scale:
        if (p.glyphs.empty()) {
            measureScale(i, available);
        } else {
            measureText(i, inner, available);
        }
        break;
    case PartType::Picture:
        measurePicture(i, available, take);
        break;
    case PartType::Meter:
        b.width = take || !isOpen(p.width) ? available : std::min(kMeterWidth, available);
        b.height = kMeterHeight;
        break;
    case PartType::Strip:
        b.width = available;
        b.height = kStripHeight; // where it does not say how high it is
        break;
    case PartType::Row:
        if (i == 0 && columns_ != nullptr) {
            measureCells();
        } else {
            measureRow(i, inner);
        }
        break;
    case PartType::Column:
    case PartType::Over:
        measureStack(i, inner);
        break;
    case PartType::Wrap:
        measureWrap(i, inner);
        break;
    default:
        break; // lines and spaces: as thick as given, and as long as their box makes them
    }
    limitHeight(i);
}

void ItemLayout::limitHeight(int i) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    b.needed = b.height;
    b.height = isOpen(p.height) ? b.height : p.height;
    b.height = std::max(b.height, p.minHeight);
    b.height = isOpen(p.maxHeight) ? b.height : std::min(b.height, p.maxHeight);
}

void ItemLayout::measureText(int i, Length inner, Length available) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    const TextSize size =
        measurer_.measure(i, content_.values[static_cast<std::size_t>(p.binding)],
                          design_.styles()[static_cast<std::size_t>(p.style)], inner, p.lines);
    b.width = std::max(b.width, std::min(size.width + horizontal(p), available));
    b.height = size.height + vertical(p);
}

void ItemLayout::measurePicture(int i, Length available, bool take) {
    const PlanPart& p = part(i);
    PartBox& b = box(i);
    const float own = content_.numbers[static_cast<std::size_t>(i)];
    const double aspect = own > 0 ? static_cast<double>(own) : p.aspect;
    if (isOpen(p.width) && !isOpen(p.height) && aspect > 0 && !take) {
        b.width = std::min(available, scaled(p.height, aspect));
    } else {
        b.width = available;
    }
    b.height = aspect > 0 ? scaled(b.width, 1 / aspect) : b.width;
}

void ItemLayout::measureScale(int i, Length available) {
    const PlanPart& p = part(i);
    const Length size =
        scaled(design_.styles()[static_cast<std::size_t>(p.style)].size, measurer_.textScale());
    const Length wide = markSize(size) * p.steps + markGap(size) * std::max(p.steps - 1, 0) + horizontal(p);
    box(i).width = std::max(box(i).width, std::min(wide, available));
    box(i).height = markSize(size) + vertical(p);
}

void ItemLayout::measureRow(int i, Length inner) {
    const PlanPart& p = part(i);
    Length left = inner;
    double grows = 0;
    bool any = false;
    for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
        if (!box(c).shown) {
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
            if (!box(c).shown || (part(c).grow > 0) != growing) {
                continue;
            }
            const Length given = growing ? scaled(shared, part(c).grow / grows) : std::max(left, Length{});
            measure(c, given, growing);
            left -= growing ? Length{} : box(c).width;
            used += box(c).width;
            height = std::max(height, box(c).height);
        }
    }
    box(i).width = std::max(box(i).width, used + horizontal(p));
    box(i).height = height + vertical(p);
}

/// First what each cell takes where nothing narrows it, so that all stand in columns that are wide enough.
void ItemLayout::measureCells() {
    const PlanPart& row = part(0);
    std::size_t column = 0;
    for (int c = 1; c < row.subtreeEnd; c = part(c).subtreeEnd, ++column) {
        if (box(c).shown && columns_->followsCells(column)) {
            const bool isBare = part(c).type == PartType::Picture && isOpen(part(c).height);
            measure(c, isBare ? std::min(TableColumns::kPicture, columns_->most()) : columns_->most(), false);
            columns_->see(column, box(c).width);
        }
    }
    Length height;
    column = 0;
    for (int c = 1; c < row.subtreeEnd; c = part(c).subtreeEnd, ++column) {
        if (!box(c).shown) {
            continue;
        }
        const Length width = columns_->widthOf(column);
        if (!columns_->followsCells(column) || (isBox(part(c).type) && box(c).width < width)) {
            measure(c, width, true);
        } else if (part(c).type == PartType::Text) {
            box(c).width = width; // it is set against a side of it
        }
        height = std::max(height, box(c).height);
    }
    box(0).height = height + vertical(row);
}

void ItemLayout::placeCells(Length y) {
    const PlanPart& row = part(0);
    const Length height = box(0).height - vertical(row);
    std::size_t column = 0;
    for (int c = 1; c < row.subtreeEnd; c = part(c).subtreeEnd, ++column) {
        if (!box(c).shown) {
            continue;
        }
        if (part(c).type == PartType::Line && row.align == Align::Stretch) {
            box(c).height = height;
        }
        const Length spare = std::max(columns_->widthOf(column) - box(c).width, Length{});
        place(c, columns_->startOf(column) + shift(part(c).align, spare),
              y + shift(row.align, std::max(height - box(c).height, Length{})));
    }
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
        if (!box(c).shown) {
            continue;
        }
        const PlanPart& child = part(c);
        const bool wide = child.type == PartType::Text || child.type == PartType::Space ||
                          isBox(child.type) || child.align == Align::Stretch;
        measure(c, inner, child.type == PartType::Line || (stretch && wide));
        width = std::max(width, box(c).width);
        height = column ? height + (any ? p.gap : Length{}) + box(c).height : std::max(height, box(c).height);
        grows += column ? part(c).grow : 0;
        any = true;
    }
    const Length least = std::max(p.minHeight, i == 0 ? leastHeight_ : Length{});
    const Length spare = std::max(p.height, least) - vertical(p) - height;
    for (int c = i + 1; grows > 0 && spare > Length{} && c < p.subtreeEnd; c = part(c).subtreeEnd) {
        box(c).height += box(c).shown ? scaled(spare, part(c).grow / grows) : Length{};
    }
    box(i).width = std::max(box(i).width, width + horizontal(p));
    box(i).height = height + vertical(p);
}

/// The children of a wrap that stand in one line.
struct ItemLayout::Line {
    int until = 0; ///< the child that the next begins with
    bool any = false;
    Length width;
    Length rise; ///< from its top to its baseline
    Length height;
};

ItemLayout::Line ItemLayout::lineOf(int wrap, int first, Length inner) {
    const PlanPart& p = part(wrap);
    Line line;
    Length fall;
    Length tallest;
    for (line.until = first; line.until < p.subtreeEnd; line.until = part(line.until).subtreeEnd) {
        const PartBox& child = box(line.until);
        if (!child.shown) {
            continue;
        }
        if (line.any && line.width + p.gap + child.width > inner) {
            break;
        }
        line.width += (line.any ? p.gap : Length{}) + child.width;
        line.any = true;
        const Length baseline = baselineOf(line.until);
        if (isOpen(baseline)) {
            tallest = std::max(tallest, child.height);
        } else {
            line.rise = std::max(line.rise, baseline);
            fall = std::max(fall, child.height - baseline);
        }
    }
    line.height = std::max(line.rise + fall, tallest);
    line.rise += shift(Align::Center, line.height - line.rise - fall);
    return line;
}

/// From the top of a part that is measured to its first baseline; negative where it has none.
Length ItemLayout::baselineOf(int i) {
    const PlanPart& p = part(i);
    const PartBox& b = box(i);
    if (p.isText() || (p.type == PartType::Scale && !p.glyphs.empty())) {
        return p.padding[0] + measurer_.ascent(i);
    }
    if (p.type == PartType::Scale) {
        return b.height - p.padding[2];
    }
    if (p.type == PartType::Wrap) {
        const Line line = lineOf(i, i + 1, b.width - horizontal(p));
        return line.any ? p.padding[0] + line.rise : Length::fromRaw(-1);
    }
    Length at = p.padding[0];
    for (int c = i + 1; isBox(p.type) && c < p.subtreeEnd; c = part(c).subtreeEnd) {
        if (!box(c).shown) {
            continue;
        }
        if (const Length own = baselineOf(c); !isOpen(own)) {
            const Length room = std::max(b.height - vertical(p) - box(c).height, Length{});
            return at + own + (p.type == PartType::Row ? shift(p.align, room) : Length{});
        }
        at += p.type == PartType::Column ? box(c).height + p.gap : Length{};
    }
    return Length::fromRaw(-1);
}

void ItemLayout::measureWrap(int i, Length inner) {
    const PlanPart& p = part(i);
    for (int c = i + 1; c < p.subtreeEnd; c = part(c).subtreeEnd) {
        measure(c, inner, false);
    }
    Length width;
    Length height;
    for (int c = i + 1; c < p.subtreeEnd;) {
        const Line line = lineOf(i, c, inner);
        height += (c > i + 1 && line.any ? p.lineGap : Length{}) + line.height;
        width = std::max(width, line.width);
        c = line.until;
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
    if (p.type == PartType::Wrap) {
        return placeWrap(i, innerX, innerY, innerWidth);
    }
    if (i == 0 && columns_ != nullptr) {
        return placeCells(innerY);
    }
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
            // A row that is too low for what it holds keeps it at its top: what falls out does so below.
            place(c, at, innerY + shift(p.align, std::max(innerHeight - child.height, Length{})));
            at += child.width + p.gap;
        } else if (p.type == PartType::Column) {
            const Align own = p.align == Align::Stretch ? part(c).align : p.align;
            place(c, innerX + shift(own, std::max(innerWidth - child.width, Length{})), at);
            at += child.height + p.gap;
        } else {
            place(c, innerX + shift(part(c).align, std::max(innerWidth - child.width, Length{})), innerY);
        }
    }
}

void ItemLayout::placeWrap(int i, Length x, Length y, Length width) {
    const PlanPart& p = part(i);
    for (int c = i + 1; c < p.subtreeEnd;) {
        const Line line = lineOf(i, c, width);
        Length at = x;
        for (; c < line.until; c = part(c).subtreeEnd) {
            if (!box(c).shown) {
                continue;
            }
            const Length baseline = baselineOf(c);
            place(c, at,
                  y + (isOpen(baseline) ? shift(Align::Center, line.height - box(c).height)
                                        : line.rise - baseline));
            at += box(c).width + p.gap;
        }
        y += line.height + p.lineGap;
    }
}

void ItemLayout::mirror(Length width) {
    for (PartBox& b : boxes_) {
        b.x = width - b.x - b.width;
    }
}

std::vector<LayoutFault> layoutFaults(const ItemDesign& design, const std::vector<PartBox>& boxes) {
    std::vector<LayoutFault> faults;
    const auto& parts = design.parts();
    const auto at = [&boxes](int i) -> const PartBox& { return boxes[static_cast<std::size_t>(i)]; };
    std::vector<int> parents;
    for (int i = 0; i < static_cast<int>(parts.size()); ++i) {
        const PlanPart& p = parts[static_cast<std::size_t>(i)];
        while (!parents.empty() && parts[static_cast<std::size_t>(parents.back())].subtreeEnd <= i) {
            parents.pop_back();
        }
        const PartBox& b = at(i);
        if (!b.shown) {
            i = p.subtreeEnd - 1;
            continue;
        }
        std::optional<LayoutFault> fault;
        if (!parents.empty()) {
            const PartBox& around = at(parents.back());
            const Length out = std::max({b.y + b.height - around.y - around.height,
                                         b.x + b.width - around.x - around.width, around.x - b.x, Length{}});
            if (out > Length{}) {
                fault = LayoutFault{i, LayoutFault::Kind::Outside, out};
            } else if (!isOpen(p.width) && b.width < p.width) {
                fault = LayoutFault{i, LayoutFault::Kind::Squeezed, p.width - b.width};
            }
        }
        if (!fault && !isBox(p.type) && p.type != PartType::Picture && p.type != PartType::Meter &&
            b.needed > b.height) {
            fault = LayoutFault{i, LayoutFault::Kind::Cut, b.needed - b.height};
        }
        if (fault) {
            faults.push_back(*fault);
            if (fault->kind == LayoutFault::Kind::Outside) {
                i = p.subtreeEnd - 1; // what it holds goes with it
                continue;
            }
        }
        parents.push_back(i);
    }
    return faults;
}

DeviceBox inDevicePx(const PartBox& box, double density) {
    const auto edge = [density](Length at) {
        return static_cast<std::int64_t>(std::lround(at.toPx() * density));
    };
    return {edge(box.x), edge(box.y), edge(box.x + box.width), edge(box.y + box.height)};
}

} // namespace scorrere
