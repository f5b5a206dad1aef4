// SPDX-License-Identifier: Apache-2.0
#include "render/shape_cache.h"

#include <cmath>

namespace scorrere::render {

namespace {

constexpr qsizetype kMostShapes = 512;

int pixels(double length, double density) {
    return std::max(1, static_cast<int>(std::ceil(length * density)));
}

} // namespace

template <typename Draw>
const QImage& ShapeCache::shape(const Key& key, double density, Draw draw) {
    const auto found = shapes_.constFind(key);
    if (found != shapes_.constEnd()) {
        return *found;
    }
    if (shapes_.size() >= kMostShapes) {
        shapes_.clear();
    }
    QImage image(key.width, key.height, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(density, density);
    draw(painter, QRectF(0, 0, key.width / density, key.height / density));
    painter.end();
    return *shapes_.insert(key, image);
}

void ShapeCache::ground(QPainter& painter, const QRectF& at, double radius, const QColor& fill,
                        double density) {
    if (radius <= 0 || at.width() * density > 600 || at.height() * density > 600) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(fill);
        painter.drawRoundedRect(at, radius, radius);
        return;
    }
    const Key key{pixels(at.width(), density),
                  pixels(at.height(), density),
                  static_cast<int>(radius * 64),
                  static_cast<int>(density * 1024),
                  0,
                  fill.rgba()};
    painter.drawImage(QRectF(at.topLeft(), QSizeF(key.width, key.height) / density),
                      shape(key, density, [&](QPainter& p, const QRectF& box) {
                          p.setPen(Qt::NoPen);
                          p.setBrush(fill);
                          p.drawRoundedRect(box, radius, radius);
                      }));
}

void ShapeCache::placeholder(QPainter& painter, const QRectF& at, double radius, const QColor& line,
                             bool crossed, double density) {
    const Key key{pixels(at.width(), density),
                  pixels(at.height(), density),
                  static_cast<int>(radius * 64),
                  static_cast<int>(density * 1024),
                  crossed ? 2 : 1,
                  line.rgba()};
    painter.drawImage(QRectF(at.topLeft(), QSizeF(key.width, key.height) / density),
                      shape(key, density, [&](QPainter& p, const QRectF& box) {
                          p.setPen(QPen(line, 1, crossed ? Qt::SolidLine : Qt::DotLine));
                          p.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), radius, radius);
                          if (crossed) {
                              p.drawLine(box.topLeft() + QPointF(4, 4), box.bottomRight() - QPointF(4, 4));
                          }
                      }));
}

} // namespace scorrere::render
