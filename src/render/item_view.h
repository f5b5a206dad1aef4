// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/layout.h"
#include "engine/trace/trace.h"
#include "render/item_colours.h"
#include "render/picture_cache.h"
#include "render/shape_cache.h"
#include "render/text_block.h"

#include <QPainter>
#include <vector>

namespace scorrere::render {

/// A living item view: one painted object with kept text layouts, filled again for each item it carries.
///
/// Complexity  fill shapes only the texts that differ from what it carried; paint shapes and decodes nothing.
/// Ownership   Refers to the design and the fonts, which its LiveCollection keeps.
/// Threads     The interface thread. A worker that only measures may build and fill one of its own.
class ItemView final : private TextMeasurer {
public:
    void build(const ItemDesign& design);
    /// Gives the item's height. `meter` is turned to Measure while texts are shaped.
    Length fill(const RecordTable& table, std::int64_t record, const FontSet& fonts, Length width,
                CostMeter& meter);
    /// Asks for the pictures it will show at that density, so that they are there when it does.
    void wantPictures(PictureCache& pictures, double density) const;
    /// What painting needs beside the view itself. `density`: device px to a px of the painter's.
    struct Easel {
        const ItemColours& colours;
        PictureCache& pictures;
        ShapeCache& shapes;
        double density = 1;
        double top = -1e9; ///< only what stands between these, in px from the item's top, is painted
        double bottom = 1e9;
    };
    /// Paints from the kept layouts at the painter's origin.
    void paint(QPainter& painter, const Easel& easel) const;
    /// The view as an opaque picture `width` x `height` px large, at the easel's density, kept from the
    /// second time it is asked for after a fill, a change of look or density, or the arrival of a picture it
    /// waited for: scrolling then only copies, and a jump does not pay for pictures it may never show again.
    /// Null: paint it.
    const QImage* keptPicture(const Easel& easel, double width, double height);
    const ItemContent& content() const { return content_; }
    const std::vector<PartBox>& boxes() const { return boxes_; }
    /// The first text it shows: what a margin note calls the item.
    QString title() const;

private:
    TextSize measure(int part, std::string_view text, const TextStyle& style, Length maxWidth,
                     int maxLines) override;
    void paintPicture(QPainter& painter, const PlanPart& part, const QRectF& at, const Easel& easel) const;

    const ItemDesign* design_ = nullptr;
    const FontSet* fonts_ = nullptr;
    CostMeter* meter_ = nullptr;
    ItemContent content_;
    std::vector<std::uint8_t> changed_;
    std::vector<PartBox> boxes_;
    std::vector<TextBlock> texts_; ///< by part

    enum class Kept : std::uint8_t { Nothing, AskedOnce, Picture };
    QImage kept_;
    Kept keeping_ = Kept::Nothing;
    mutable bool waits_ = false; ///< painted while a picture was on its way
    double keptDensity_ = 0;
    std::array<QRgb, 2> keptLook_{};
};

} // namespace scorrere::render
