// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/item_design.h"

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
};

/// Where a part stands in its item: from the item's top start corner.
struct PartBox {
    Length x, y, width, height;
    bool shown = false;
};

/// Lays the parts of a filled design out in an item of the given width; gives the item's height.
///
/// Each text is measured exactly once. Rows hand out width to the parts that do not grow first, in order, and
/// share the rest among those that do; columns and over-boxes give each part their full inner width. A part
/// whose text is missing is left out, with its gap.
///
/// Complexity  O(parts) and one measurement a shown text.
class ItemLayout {
public:
    ItemLayout(const ItemDesign& design, const ItemContent& content, TextMeasurer& measurer,
               std::vector<PartBox>& boxes)
        : design_(design), content_(content), measurer_(measurer), boxes_(boxes) {}

    Length solve(Length width);

private:
    const PlanPart& part(int i) const { return design_.parts()[static_cast<std::size_t>(i)]; }
    PartBox& box(int i) { return boxes_[static_cast<std::size_t>(i)]; }
    bool isShown(int i) const;
    void measure(int i, Length available, bool take);
    void measureRow(int i, Length inner);
    void measureStack(int i, Length inner);
    void place(int i, Length x, Length y);

    const ItemDesign& design_;
    const ItemContent& content_;
    TextMeasurer& measurer_;
    std::vector<PartBox>& boxes_;
};

} // namespace scorrere
