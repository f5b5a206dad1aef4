// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/layout.h"
#include "engine/trace/trace.h"
#include "render/item_colours.h"
#include "render/picture_cache.h"
#include "render/shape_cache.h"
#include "render/text_cache.h"

#include <QPainter>
#include <memory>
#include <vector>

namespace scorrere::render {

/// What a view is filled with the help of.
struct Shaping {
    const FontSet& fonts;
    TextCache& texts;
    const PictureCache* pictures = nullptr; ///< knows the shapes of pictures that came; null: nothing came
};

/// A living item view: one painted object with kept text layouts, filled again for each item it carries.
///
/// Complexity  fill shapes only texts that are not kept anywhere, and lays out only when something that moves
///             parts differs; it allocates nothing once all that it shows was shaped before. paint shapes and
///             decodes nothing.
/// Ownership   Refers to the design and the fonts, which its LiveCollection keeps.
/// Threads     The interface thread. A worker that only measures may build and fill one of its own.
class ItemView final : private TextMeasurer {
public:
    /// Also when the design it shows was replaced: until it is filled again it shows nothing then.
    void build(const ItemDesign& design);
    /// Gives how large the item is. `meter` is turned to Measure while texts are shaped.
    ItemSize fill(const FillContext& context, const Shaping& shaping, const ItemRoom& room, CostMeter& meter);
    /// Only what rules say of its record now. True when parts may have to move: fill it again.
    bool retone(const FillContext& context);
    /// Asks for the pictures it will show at that density, so that they are there when it does, and lets go
    /// of those it does not show any more.
    void wantPictures(PictureCache& pictures, double density);
    /// Whether it waits for this picture's shape.
    bool awaitsShapeOf(const std::string& address) const;
    /// What painting needs beside the view itself. `density`: device px to a px of the painter's.
    struct PaintNeeds {
        const ItemColours& colours;
        PictureCache& pictures;
        ShapeCache& shapes;
        double density = 1;
        double top = -1e9; ///< only what stands between these, in px from the item's top, is painted
        double bottom = 1e9;
        double left = -1e9; ///< the same across
        double right = 1e9;
    };
    /// Paints from the kept layouts at the painter's origin.
    void paint(QPainter& painter, const PaintNeeds& needs) const;
    /// How an item shows that is scrolled across, px: its start stays while the rest is shifted.
    struct Parted {
        double by = 0;    ///< how far the rest is shifted
        double stays = 0; ///< so much of its start; 0: it is whole
        bool operator==(const Parted&) const = default;
    };
    /// The view as an opaque picture `width` x `height` px large, or as far down as it paints anything, at the needs's density, kept
    /// while there is no fill, change of look or density, or arrival of a picture it
    /// waited for: scrolling then only copies. It is made at once while `atOnce` is more than 0, which is made one less; else from the second
    /// time it is asked for, so that a jump does not pay for all the pictures it may never show again.
    /// Null: paint it.
    const QImage* keptPicture(const PaintNeeds& needs, QSizeF size, const Parted& parted, int& atOnce);
    /// Paints it as it is parted, in a window so wide.
    void paintParted(QPainter& painter, const PaintNeeds& needs, double width, const Parted& parted) const;
    /// So many of its pictures are on their way.
    int picturesAwaited(PictureCache& pictures, double density) const;
    /// Shows where its parts will stand instead of what they say: for an item whose record is not here.
    void setSkeleton(bool skeleton) { skeleton_ = skeleton; }
    bool isSkeleton() const { return skeleton_; }
    const ItemDesign& design() const { return *design_; }
    const ItemContent& content() const { return content_; }
    const std::vector<PartBox>& boxes() const { return boxes_; }
    Length width() const { return size_.width; }
    Length height() const { return size_.height; }
    /// The part that takes a tap at a point of the item (px from its top left): the innermost with an action,
    /// whose outlines were noted when the view was built; -1: none does.
    int tapTarget(double x, double y) const;
    /// Whether a part's text gave way to an ellipsis.
    bool isCut(int part) const;
    /// The first text it shows: what a margin note calls the item.
    QString title() const;

private:
    TextSize measure(int part, std::string_view text, const TextStyle& style, Length maxWidth,
                     int maxLines) override;
    Length ascent(int part) override;
    double textScale() const override { return fonts_->textScale; }
    void paintSkeleton(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    double paintedUntil(const PaintNeeds& needs) const;
    QSize keptSize(const PaintNeeds& needs, QSizeF size) const;
    QRectF rectOf(std::size_t part, const PaintNeeds& needs) const;
    void paintGround(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    void paintText(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    void paintToneMark(QPainter& painter, Tone tone, QPointF centre, const QColor& ink) const;
    void paintMeter(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    void paintScale(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    void paintLine(QPainter& painter, const PlanPart& part, const QRectF& at, const PaintNeeds& needs) const;
    void paintPicture(QPainter& painter, std::size_t part, const QRectF& at, const PaintNeeds& needs) const;
    void paintFallback(QPainter& painter, const PlanPart& part, const QRectF& at, const std::string& says,
                       bool crossed, const PaintNeeds& needs) const;
    bool takeShapes(const PictureCache* pictures);
    PictureWish wishOf(std::size_t part, double density) const;

    const ItemDesign* design_ = nullptr;
    const FontSet* fonts_ = nullptr;
    TextCache* cache_ = nullptr;
    CostMeter* meter_ = nullptr;
    ItemContent content_;
    std::vector<std::uint8_t> changed_;
    std::vector<PartBox> boxes_;
    std::vector<std::shared_ptr<const TextBlock>> texts_; ///< by part
    std::optional<ItemRoom> room_;                        ///< what it was laid out in; nothing: not yet
    std::uint64_t fontsRevision_ = 0;                     ///< as laid out
    ItemSize size_;
    std::vector<int> taps_;       ///< parts that can be tapped, the inner ones later
    std::vector<QString> wished_; ///< keys of pictures it holds
    std::vector<QString> wishing_;

    enum class Kept : std::uint8_t { Nothing, AskedOnce, Picture };
    bool skeleton_ = false;
    QImage kept_;
    Kept keeping_ = Kept::Nothing;
    bool waits_ = false; ///< the picture kept of it shows one that was on its way
    int awaited_ = 0;    ///< so many of its pictures were, when it was kept
    double keptDensity_ = 0;
    std::array<QRgb, 2> keptLook_{};
    Parted keptParted_;
};

} // namespace scorrere::render
