// SPDX-License-Identifier: Apache-2.0
#include "render/item_view.h"

#include <QPainterPath>
#include <QPen>
#include <cmath>

namespace scorrere::render {

namespace {

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

void ItemView::paint(QPainter& painter, const ItemColours& colours, PictureCache* pictures, double density) const {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PartBox& box = boxes_[i];
        if (!box.shown) {
            // What is left out takes all it holds with it.
            i = static_cast<std::size_t>(design_->parts()[i].subtreeEnd) - 1;
            continue;
        }
        const PlanPart& part = design_->parts()[i];
        const QRectF at = rectOf(box);
        if (!part.ground.empty()) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(colours.of(part.ground));
            painter.drawRoundedRect(at, part.radius.toPx(), part.radius.toPx());
        }
        switch (part.type) {
        case PartType::Text:
            painter.setPen(colours.of(part.colour));
            texts_[i].paint(painter, at.topLeft() + QPointF(part.padding[3].toPx(), part.padding[0].toPx()),
                            at.width() - part.padding[1].toPx() - part.padding[3].toPx(), part.align);
            break;
        case PartType::Picture: paintPicture(painter, part, at, colours, pictures, density); break;
        case PartType::Line: painter.fillRect(at, colours.of(part.colour)); break;
        default: break;
        }
    }
}

void ItemView::paintPicture(QPainter& painter, const PlanPart& part, const QRectF& at, const ItemColours& colours,
                            PictureCache* pictures, double density) const {
    const std::size_t binding = static_cast<std::size_t>(part.binding);
    const bool given = content_.present[binding] != 0 && pictures != nullptr;
    const QSize wanted(static_cast<int>(std::ceil(at.width() * density)),
                       static_cast<int>(std::ceil(at.height() * density)));
    const auto* entry =
        given ? &pictures->find(QString::fromStdString(content_.values[binding]), wanted) : nullptr;
    if (entry == nullptr || entry->state != PictureState::Ready) {
        painter.setBrush(entry != nullptr && entry->state == PictureState::Loading ? QBrush(colours.faint)
                                                                                   : QBrush(Qt::NoBrush));
        QPen pen(colours.quiet, 1, entry == nullptr ? Qt::DotLine : Qt::SolidLine);
        pen.setCosmetic(true);
        painter.setPen(entry != nullptr && entry->state == PictureState::Loading ? QPen(Qt::NoPen) : pen);
        painter.drawRoundedRect(at.adjusted(0.5, 0.5, -0.5, -0.5), part.radius.toPx(), part.radius.toPx());
        if (entry != nullptr && entry->state != PictureState::Loading) { // asked for and not to be had
            painter.drawLine(at.topLeft() + QPointF(4, 4), at.bottomRight() - QPointF(4, 4));
        }
        return;
    }
    const QSizeF natural = entry->image.size();
    const bool crop = part.fit == Fit::Fill;
    const QSizeF scaled = natural.scaled(at.size(), crop ? Qt::KeepAspectRatioByExpanding : Qt::KeepAspectRatio);
    if (crop) {
        const double k = natural.width() / scaled.width();
        const QSizeF seen = at.size() * k;
        const QRectF from(QPointF((natural.width() - seen.width()) / 2, (natural.height() - seen.height()) / 2), seen);
        painter.drawImage(at, entry->image, from);
    } else {
        painter.drawImage(QRectF(at.center() - QPointF(scaled.width() / 2, scaled.height() / 2), scaled), entry->image);
    }
}

} // namespace scorrere::render
