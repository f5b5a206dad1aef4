// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QColor>
#include <QHash>
#include <QImage>
#include <QPainter>

namespace scorrere::render {

/// Small shapes drawn once and copied from then on: smooth outlines cost far more than a copy, and a window
/// shows the same few in every frame.
///
/// Complexity  O(1) and a copy, for a shape that was drawn before.
/// Threads     The interface thread.
class ShapeCache {
public:
    /// A filled rounded rectangle. `density`: device px to a px of the painter's, as it is set up.
    void ground(QPainter& painter, const QRectF& at, double radius, const QColor& fill, double density);
    /// Where a picture should be: an outline, dotted when there is none to show, crossed when it cannot be
    /// shown.
    void placeholder(QPainter& painter, const QRectF& at, double radius, const QColor& line, bool crossed,
                     double density);

private:
    struct Key {
        int width, height, radius, density, kind; ///< radius in 1/64 px, density in 1/1024
        QRgb colour;
        bool operator==(const Key&) const = default;
        friend size_t qHash(const Key& k, size_t seed) {
            return qHashMulti(seed, k.width, k.height, k.radius, k.density, k.kind, k.colour);
        }
    };
    template <typename Draw>
    const QImage& shape(const Key& key, double density, Draw draw);
    QHash<Key, QImage> shapes_;
};

} // namespace scorrere::render
