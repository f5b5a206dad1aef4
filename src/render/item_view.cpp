// SPDX-License-Identifier: Apache-2.0
#include "render/item_view.h"

#include <QPainterPath>
#include <QPen>
#include <cmath>

namespace scorrere::render {

namespace {

QSize pixelsOf(const PartBox& box, double density) {
    return {static_cast<int>(std::ceil(box.width.toPx() * density)),
            static_cast<int>(std::ceil(box.height.toPx() * density))};
}

constexpr qint64 kMostKeptPixels = 1'500'000;

QRectF rectOf(const PartBox& box) {
    return {box.x.toPx(), box.y.toPx(), box.width.toPx(), box.height.toPx()};
}

} // namespace

void ItemView::build(const ItemDesign& design) {
    design_ = &design;
    texts_ = std::vector<TextBlock>(design.parts().size());
    boxes_.resize(design.parts().size());
    content_ = {};
}

Length ItemView::fill(const RecordTable& table, std::int64_t record, const FontSet& fonts, Length width,
                      CostMeter& meter) {
    fonts_ = &fonts;
    meter_ = &meter;
    keeping_ = Kept::Nothing;
    design_->fill(table, record, content_, changed_);
    return ItemLayout(*design_, content_, *this, boxes_).solve(width);
}

TextSize ItemView::measure(int part, std::string_view text, const TextStyle&, Length maxWidth, int maxLines) {
    const CostMeter::Span span(*meter_, Phase::Measure);
    const std::size_t index = static_cast<std::size_t>(part);
    const int style = design_->parts()[index].style;
    return texts_[index].set(text, fonts_->faces[static_cast<std::size_t>(style)], maxWidth, maxLines);
}

QString ItemView::title() const {
    if (design_ == nullptr) {
        return {};
    }
    for (const PlanPart& part : design_->parts()) {
        if (part.type == PartType::Text && content_.present[static_cast<std::size_t>(part.binding)] != 0) {
            return QString::fromStdString(content_.values[static_cast<std::size_t>(part.binding)]);
        }
    }
    return {};
}

void ItemView::wantPictures(PictureCache& pictures, double density) const {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        if (part.type == PartType::Picture && boxes_[i].shown &&
            content_.present[static_cast<std::size_t>(part.binding)] != 0) {
            const auto address =
                QString::fromStdString(content_.values[static_cast<std::size_t>(part.binding)]);
            pictures.find(address, pixelsOf(boxes_[i], density), part.fit == Fit::Fill);
        }
    }
}

const QImage* ItemView::keptPicture(const Easel& easel, double width, double height) {
    const QSize size(static_cast<int>(std::ceil(width * easel.density)),
                     static_cast<int>(std::ceil(height * easel.density)));
    const std::array<QRgb, 2> look{easel.colours.paper.rgb(), easel.colours.ink.rgb()};
    const bool other = keptDensity_ != easel.density || keptLook_ != look;
    if (keeping_ == Kept::Picture && !other && kept_.size() == size) {
        return &kept_;
    }
    const bool tooLarge = qint64{size.width()} * size.height() > kMostKeptPixels || size.isEmpty();
    if (keeping_ != Kept::AskedOnce || other || waits_ || tooLarge) {
        keeping_ = Kept::AskedOnce;
        waits_ = false; // painting now tells whether it still does
        keptDensity_ = easel.density;
        keptLook_ = look;
        return nullptr;
    }
    if (kept_.size() != size) {
        kept_ = QImage(size, QImage::Format_RGB32);
    }
    kept_.fill(easel.colours.paper);
    QPainter painter(&kept_);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.scale(easel.density, easel.density);
    paint(painter, easel);
    keeping_ = waits_ ? Kept::AskedOnce : Kept::Picture;
    return &kept_;
}

void ItemView::paint(QPainter& painter, const Easel& easel) const {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PartBox& box = boxes_[i];
        if (!box.shown) {
            // What is left out takes all it holds with it.
            i = static_cast<std::size_t>(design_->parts()[i].subtreeEnd) - 1;
            continue;
        }
        const PlanPart& part = design_->parts()[i];
        const QRectF at = rectOf(box);
        if (at.top() >= easel.bottom || at.bottom() <= easel.top) {
            continue;
        }
        if (!part.ground.empty()) {
            easel.shapes.ground(painter, at, part.radius.toPx(), easel.colours.of(part.ground),
                                easel.density);
        }
        switch (part.type) {
        case PartType::Text:
            painter.setPen(easel.colours.of(part.colour));
            texts_[i].paint(painter, at.topLeft() + QPointF(part.padding[3].toPx(), part.padding[0].toPx()),
                            at.width() - part.padding[1].toPx() - part.padding[3].toPx(), part.align);
            break;
        case PartType::Picture:
            paintPicture(painter, part, at, easel);
            break;
        case PartType::Line:
            painter.fillRect(at, easel.colours.of(part.colour));
            break;
        default:
            break;
        }
    }
}

void ItemView::paintPicture(QPainter& painter, const PlanPart& part, const QRectF& at,
                            const Easel& easel) const {
    const std::size_t binding = static_cast<std::size_t>(part.binding);
    if (content_.present[binding] == 0) {
        easel.shapes.placeholder(painter, at, part.radius.toPx(), easel.colours.quiet, false, easel.density);
        return;
    }
    const bool crop = part.fit == Fit::Fill;
    const QSize wanted =
        pixelsOf(boxes_[static_cast<std::size_t>(&part - design_->parts().data())], easel.density);
    const auto& entry = easel.pictures.find(QString::fromStdString(content_.values[binding]), wanted, crop);
    if (entry.state == PictureState::Loading) {
        waits_ = true;
        painter.fillRect(at, easel.colours.faint);
    } else if (entry.state != PictureState::Ready) {
        easel.shapes.placeholder(painter, at, part.radius.toPx(), easel.colours.quiet, true, easel.density);
    } else {
        const QSizeF shown = QSizeF(entry.image.size()) / easel.density;
        const QPointF corner = at.center() - QPointF(shown.width() / 2, shown.height() / 2);
        painter.drawImage(crop ? QRectF(at.topLeft(), shown) : QRectF(corner, shown), entry.image);
    }
}

} // namespace scorrere::render
