// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/layout.h"
#include "engine/trace/trace.h"
#include "render/item_colours.h"
#include "render/picture_cache.h"
#include "render/text_block.h"

#include <QPainter>
#include <vector>

namespace scorrere::render {

/// A living item view: one painted object with kept text layouts, filled again for each item it carries.
///
/// Complexity  fill shapes only the texts that differ from what it carried; paint shapes and decodes nothing.
/// Ownership   Refers to the design and the fonts, which its LiveCollection keeps.
/// Threads     The interface thread.
class ItemView final : private TextMeasurer {
public:
    void build(const ItemDesign& design);
    /// Gives the item's height. `meter` is turned to Measure while texts are shaped.
    Length fill(const RecordTable& table, std::int64_t record, const FontSet& fonts, Length width, CostMeter& meter);
    void paint(QPainter& painter, const ItemColours& colours, PictureCache* pictures, double density) const;
    const ItemContent& content() const { return content_; }
    const std::vector<PartBox>& boxes() const { return boxes_; }
    /// The first text it shows: what a margin note calls the item.
    QString title() const;

private:
    TextSize measure(int part, std::string_view text, const TextStyle& style, Length maxWidth, int maxLines) override;
    void paintPicture(QPainter& painter, const PlanPart& part, const QRectF& at, const ItemColours& colours,
                      PictureCache* pictures, double density) const;

    const ItemDesign* design_ = nullptr;
    const FontSet* fonts_ = nullptr;
    CostMeter* meter_ = nullptr;
    ItemContent content_;
    std::vector<std::uint8_t> changed_;
    std::vector<PartBox> boxes_;
    std::vector<TextBlock> texts_; ///< by part
};

} // namespace scorrere::render
