// SPDX-License-Identifier: Apache-2.0
#include "render/marks_painting.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr double kSize = 8;
constexpr double kLong = 18; ///< of a long mark whose item shows
constexpr double kRow = 28;  ///< across the row: what can be tapped (WCAG 2.2: 24 px at least)
constexpr double kAround = 10;

/// Which item shows, as a number of items from the first: between two while one goes to the other; beyond the last
/// on the way from it to the first.
double positionIn(Run& run) {
    Arrangement& items = run.arrangement();
    const std::int64_t last = items.size() - 1;
    const Length offset = run.offset();
    const std::int64_t before = std::max<std::int64_t>(items.indexAt(offset), 0);
    const double from = items.restOf(before).toPx();
    if (const double circle = items.circle().toPx(); circle > 0) {
        const double on = (offset.toPx() - from) / circle; // of all, some turns on or back
        return static_cast<double>(before) + (on - std::floor(on)) * static_cast<double>(items.size());
    }
    if (before >= last) {
        return static_cast<double>(last);
    }
    const double step = std::max(items.restOf(before + 1).toPx() - from, 1.0);
    return static_cast<double>(before) + (offset.toPx() - from) / step;
}

QColor between(const QColor& a, const QColor& b, double share) {
    const auto mix = [share](int from, int to) {
        return static_cast<int>(std::lround(from + (to - from) * share));
    };
    return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue()),
            mix(a.alpha(), b.alpha())};
}

} // namespace

MarkRow::MarkRow(const MarksSpec& spec, Run& run, const AxisMap& axis) : spec_(spec), axis_(axis) {
    if (run.arrangement().size() > 0) {
        count_ = positionMarks(run.arrangement().size(), positionIn(run), spec.most, marks_);
    }
}

double MarkRow::pitch() const {
    return spec_.shape == MarksSpec::Shape::Long ? kLong + 4 : kSize * 2;
}

QRectF MarkRow::boxOf(const PositionMark& mark) const {
    const double size = kSize * mark.size;
    const double wide =
        spec_.shape == MarksSpec::Shape::Long ? size + (kLong - kSize) * mark.present * mark.size : size;
    const double cross = spec_.isAtStart ? kRow / 2 : axis_.across - kRow / 2;
    return axis_.onScreen({Length::fromPx(axis_.along / 2 + mark.at * pitch() - wide / 2),
                           Length::fromPx(wide), Length::fromPx(cross - size / 2), Length::fromPx(size)});
}

QRectF MarkRow::rowBox() const {
    double most = 0;
    for (std::size_t i = 0; i < count_; ++i) {
        most = std::max(most, std::abs(marks_[i].at));
    }
    const double half = most * pitch() + pitch() / 2 + kAround;
    return axis_.onScreen({Length::fromPx(axis_.along / 2 - half), Length::fromPx(2 * half),
                           Length::fromPx(spec_.isAtStart ? 0 : axis_.across - kRow), Length::fromPx(kRow)});
}

void MarkRow::paint(QPainter& painter, const ItemColours& colours) const {
    if (count_ < 2) {
        return;
    }
    // Whatever it lies over, the marks stand out from it.
    QColor ground = colours.paper;
    ground.setAlphaF(0.82f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    const QRectF row = rowBox().adjusted(3, 3, -3, -3);
    painter.drawRoundedRect(row, std::min(row.width(), row.height()) / 2,
                            std::min(row.width(), row.height()) / 2);
    const QColor present = colours.of(spec_.present);
    const QColor others = colours.of(spec_.others);
    for (std::size_t i = 0; i < count_; ++i) {
        const QRectF at = boxOf(marks_[i]);
        painter.setBrush(between(others, present, marks_[i].present));
        const double round =
            spec_.shape == MarksSpec::Shape::Square ? 0 : std::min(at.width(), at.height()) / 2;
        painter.drawRoundedRect(at, round, round);
    }
}

std::optional<std::int64_t> MarkRow::itemAt(QPointF at) const {
    if (count_ < 2 || !rowBox().contains(at)) {
        return std::nullopt;
    }
    const auto far = [&](const PositionMark& mark) {
        const QPointF by = boxOf(mark).center() - at;
        return std::abs(by.x()) + std::abs(by.y());
    };
    return std::ranges::min_element(marks_.begin(), marks_.begin() + static_cast<std::ptrdiff_t>(count_), {},
                                    far)
        ->item;
}

QRectF MarkRow::markOf(std::int64_t position) const {
    const auto end = marks_.begin() + static_cast<std::ptrdiff_t>(count_);
    const auto found = std::find_if(marks_.begin(), end,
                                    [position](const PositionMark& mark) { return mark.item == position; });
    return found == end ? QRectF() : boxOf(*found);
}

} // namespace scorrere::render
