// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/thread_river.h"

#include <QPainterPath>

namespace scorrere::workbench {

void ThreadRiver::draw(Threads threads, QSizeF size, Qt::Orientation flow, const QColor& colour,
                       double ratio) {
    drawing_.start(
        [threads = std::move(threads), size, flow, colour, ratio](const std::stop_token& stop,
                                                                  const render::Job::Post&) {
            QImage image((size * ratio).toSize().expandedTo(QSize(1, 1)),
                         QImage::Format_ARGB32_Premultiplied);
            image.setDevicePixelRatio(ratio);
            image.fill(Qt::transparent);
            QPainter painter(&image);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(QPen(colour, 1));
            for (const auto& [from, to] : threads) {
                if (stop.stop_requested()) {
                    break;
                }
                const QPointF middle = (from + to) / 2;
                const bool isDown = flow == Qt::Vertical;
                QPainterPath path(from);
                path.cubicTo(isDown ? QPointF(from.x(), middle.y()) : QPointF(middle.x(), from.y()),
                             isDown ? QPointF(to.x(), middle.y()) : QPointF(middle.x(), to.y()), to);
                painter.drawPath(path);
            }
            return image;
        },
        [this](QImage image) {
            image_ = std::move(image);
            Q_EMIT drawn();
        });
}

void ThreadRiver::clear() {
    drawing_.cancel();
    image_ = {};
}

} // namespace scorrere::workbench

#include "moc_thread_river.cpp"
