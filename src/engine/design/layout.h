// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/item_design.h"
#include "engine/design/table_columns.h"

#include <limits>
#include <string_view>
#include <vector>

namespace scorrere {

struct TextSize {
    Length width;
    Length height;
};

/// How wide and high a text stands: real shaping in `render`, a table of advances in estimates.
class TextMeasurer {
public:
    virtual ~TextMeasurer() = default;
    /// `text` as part `part` of the design, broken to at most `maxWidth` and `maxLines` (0: any number).
    virtual TextSize measure(int part, std::string_view text, const TextStyle& style, Length maxWidth,
                             int maxLines) = 0;
    /// From the top of a text's first line to its baseline.
    virtual Length ascent(int part) = 0;
    /// How much larger than the design says texts are set: drawn marks grow with them.
    virtual double textScale() const { return 1; }
};

/// Where a part stands in its item: from the item's top left corner.
struct PartBox {
    Length x, y, width, height;
    Length needed; ///< the height it would take without a limit on it
    bool shown = false;
};

/// What an item is laid out in.
struct ItemRoom {
    Length width;
    bool isMost = false;             ///< it is as wide as what it holds, up to `width`
    Length leastHeight = {};         ///< more than 0: it is at least so high, and what may grow in it does
    TableColumns* columns = nullptr; ///< the parts of its outermost row stand in them, and may widen them
    std::uint32_t revision = 0;      ///< of those
    bool operator==(const ItemRoom&) const = default;
};
struct ItemSize {
    Length width;
    Length height;
};

/// Lays the parts of a filled design out in an item.
///
/// Each text is measured exactly once, or twice where the width is open. Rows hand out width to the parts that do not grow first, in order, and
/// share the rest among those that do, but where they are the cells of a table, whose columns say how wide; columns and over-boxes give each part their full inner width; wraps go
/// on below, the texts of a line on one baseline, drawn marks on it, what else there is in its middle. A part whose value is missing is left out, with its gap, and so is a box that holds nothing that
/// shows. In a design written from right to left everything is laid out mirrored.
///
/// Complexity  O(parts) and one measurement a shown text.
class ItemLayout {
public:
    ItemLayout(const ItemDesign& design, const ItemContent& content, TextMeasurer& measurer,
               std::vector<PartBox>& boxes)
        : design_(design), content_(content), measurer_(measurer), boxes_(boxes) {}

    ItemSize solve(const ItemRoom& room);

private:
    const PlanPart& part(int i) const { return design_.parts()[static_cast<std::size_t>(i)]; }
    PartBox& box(int i) { return boxes_[static_cast<std::size_t>(i)]; }
    Length openWidth(Length most);
    void chooseShown();
    bool isShownAlone(int i) const;
    void measure(int i, Length available, bool take);
    void measureText(int i, Length inner, Length available);
    void measurePicture(int i, Length available, bool take);
    void measureScale(int i, Length available);
    void measureRow(int i, Length inner);
    void measureCells();
    void placeCells(Length y);
    void measureStack(int i, Length inner);
    void measureWrap(int i, Length inner);
    struct Line;
    Line lineOf(int wrap, int first, Length inner);
    Length baselineOf(int i);
    void limitHeight(int i);
    void place(int i, Length x, Length y);
    void placeWrap(int i, Length x, Length y, Length width);
    void mirror(Length width);

    const ItemDesign& design_;
    const ItemContent& content_;
    TextMeasurer& measurer_;
    std::vector<PartBox>& boxes_;
    Length leastHeight_;
    TableColumns* columns_ = nullptr;
    bool isOpenWidth_ = false; ///< nothing takes more than it needs
};

/// How large the marks of a drawn scale are, and how far apart.
constexpr Length markSize(Length textSize) {
    return Length::fromRaw(textSize.raw() * 5 / 8);
}
constexpr Length markGap(Length textSize) {
    return Length::fromRaw(textSize.raw() / 4);
}

/// Room at the start of a badge whose tone can differ, for the mark that tells tones apart without colour.
constexpr Length kToneMark = Length::px(10);

/// What does not stand where it should in a laid-out item.
struct LayoutFault {
    enum class Kind : std::uint8_t {
        Outside,  ///< beyond the edge of the box it stands in, or of the item
        Squeezed, ///< narrower than it says it is
        Cut,      ///< its own height is less than what it holds needs
    };
    int part = 0;
    Kind kind = Kind::Outside;
    Length by;
};
/// Each shown part that falls outside, is squeezed or cut; a fault of a box stands for what it holds.
std::vector<LayoutFault> layoutFaults(const ItemDesign& design, const std::vector<PartBox>& boxes);

/// A box in whole device px, edge by edge: parts that touch go on touching, at every density.
struct DeviceBox {
    std::int64_t left, top, right, bottom;
};
DeviceBox inDevicePx(const PartBox& box, double density);

} // namespace scorrere
