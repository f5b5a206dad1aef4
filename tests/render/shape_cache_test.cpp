// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/shape_cache.h"

#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

QImage drawn(ShapeCache& cache, const QSizeF& size, double radius, double density) {
    QImage image(40, 24, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.scale(density, density);
    cache.ground(painter, QRectF(QPointF(), size), radius, Qt::darkGreen, density);
    return image;
}

TEST(ShapeCache, AShapeOfAnotherDensityIsNotTakenForThisOne) {
    ShapeCache fresh;
    const QImage expected = drawn(fresh, {40, 20}, 10, 1);
    ShapeCache used;
    drawn(used, {80, 40}, 10, 0.5); // as many device px, with corners half as round
    EXPECT_EQ(drawn(used, {40, 20}, 10, 1), expected);
}

} // namespace
} // namespace scorrere::render
