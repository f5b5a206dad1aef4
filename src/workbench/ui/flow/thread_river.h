// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"

#include <QColor>
#include <QImage>
#include <QObject>
#include <QPainter>
#include <QPointF>
#include <QSizeF>
#include <utility>
#include <vector>

namespace scorrere::workbench {

/// Threads between two banks: where each of some records was in one order and is in the next. Some hundred curves take longer
/// to draw than a frame has: a worker makes a picture of them.
class ThreadRiver : public QObject {
    Q_OBJECT
public:
    using Threads = std::vector<std::pair<QPointF, QPointF>>; ///< px, from bank to bank

    using QObject::QObject;
    /// `flow`: across which way the river is; curves leave the banks that way.
    void draw(Threads threads, QSizeF size, Qt::Orientation flow, const QColor& colour, double ratio);
    void clear();
    bool hasAny() const { return !image_.isNull(); }
    /// Nothing until they are drawn.
    void paint(QPainter& painter, QPointF at) const { painter.drawImage(at, image_); }

Q_SIGNALS:
    void drawn();

private:
    QImage image_;
    render::Job drawing_;
};

} // namespace scorrere::workbench
