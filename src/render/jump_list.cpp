// SPDX-License-Identifier: Apache-2.0
#include "render/jump_list.h"

#include "render/text_block.h"
#include "render/window_painting.h"

#include <QFontMetricsF>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr double kPitch = 17;  ///< upright: of a name along the window
constexpr double kWide = 56;   ///< of a name
constexpr double kAcross = 30; ///< of the list, at least: what can be meant by a finger (WCAG 2.2: 24 px)
constexpr double kMargin = 10; ///< at the window's ends
constexpr double kTextSize = 10.5;

double pitchOf(const AxisMap& axis) {
    return axis.isSideways ? kWide + 8 : kPitch;
}

QFont nameFont(bool isPresent) {
    QFont font(textFamily());
    font.setPixelSize(static_cast<int>(std::round(kTextSize)));
    font.setWeight(isPresent ? QFont::Bold : QFont::Medium);
    return font;
}

} // namespace

std::vector<std::int64_t> namedSections(std::int64_t count, std::int64_t most) {
    std::vector<std::int64_t> named;
    const std::int64_t many = std::min(count, std::max<std::int64_t>(most, 1));
    for (std::int64_t i = 0; i < many; ++i) {
        named.push_back(many == 1 ? 0 : i * (count - 1) / (many - 1));
    }
    return named;
}

std::int64_t JumpList::roomIn(const AxisMap& axis, double clear) {
    return static_cast<std::int64_t>((axis.along - 2 * (kMargin + clear)) / pitchOf(axis));
}

JumpList::JumpList(std::span<const Name> names, std::int64_t count, const AxisMap& axis, double clear)
    : names_(names), count_(count), axis_(axis) {
    const double room = std::max(axis.along - 2 * (kMargin + clear), 0.0);
    const double along = std::min(room, static_cast<double>(names.size()) * pitchOf(axis));
    const QFontMetricsF metrics(nameFont(true));
    double widest = 0;
    for (const Name& name : names) {
        widest = std::max(widest, metrics.horizontalAdvance(name.text));
    }
    const double across = axis.isSideways ? kAcross : std::clamp(widest + 12, kAcross, kWide + 12);
    whole_ = {Length::fromPx((axis.along - along) / 2), Length::fromPx(along),
              Length::fromPx(axis.across - across), Length::fromPx(across)};
}

/// How far along the list a section's name stands.
double JumpList::share(std::size_t name) const {
    return (static_cast<double>(names_[name].section) + 0.5) / static_cast<double>(count_);
}

QRectF JumpList::boxOf(std::size_t name) const {
    const double all = whole_.extent.toPx();
    const double pitch =
        std::min(pitchOf(axis_), all / static_cast<double>(std::max<std::size_t>(names_.size(), 1)));
    const double at = std::clamp(share(name) * all - pitch / 2, 0.0, all - pitch);
    return axis_.onScreen(
        {whole_.start + Length::fromPx(at), Length::fromPx(pitch), whole_.crossStart, whole_.crossExtent});
}

void JumpList::paint(QPainter& painter, const ItemColours& colours, std::int64_t present, double density,
                     Kept& kept) const {
    if (names_.size() < 2) {
        return;
    }
    // Where the one that shows has no name of its own, the last before it stands for it.
    const auto behind = std::ranges::upper_bound(names_, present, {}, &Name::section);
    const std::ptrdiff_t lit = behind - names_.begin() - 1;
    if (kept.picture.isNull() || kept.lit != lit || kept.density != density || kept.paper != colours.paper ||
        kept.box != box()) {
        const QSize size = (box().size() * density).toSize();
        kept = {QImage(size, QImage::Format_ARGB32_Premultiplied), lit, density, colours.paper, box()};
        kept.picture.fill(Qt::transparent);
        QPainter onto(&kept.picture);
        onto.setRenderHint(QPainter::Antialiasing);
        onto.scale(density, density);
        onto.translate(-box().topLeft());
        paintNames(onto, colours, lit);
    }
    paintKept(painter, kept.picture, box().topLeft());
}

void JumpList::paintNames(QPainter& painter, const ItemColours& colours, std::ptrdiff_t lit) const {
    QColor ground = colours.paper; // whatever it lies over
    ground.setAlphaF(0.86f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(box().adjusted(1, 1, -1, -1), 8, 8);
    for (std::size_t i = 0; i < names_.size(); ++i) {
        const bool isLit = std::cmp_equal(i, lit);
        const QRectF at = boxOf(i);
        const QFont font = nameFont(isLit);
        painter.setFont(font);
        painter.setPen(isLit ? colours.accent : colours.quiet);
        painter.drawText(at, Qt::AlignCenter,
                         QFontMetricsF(font).elidedText(names_[i].text, Qt::ElideRight, at.width() - 4));
    }
}

std::optional<std::int64_t> JumpList::sectionAt(QPointF at, bool dragging) const {
    if (names_.size() < 2 || (!dragging && !box().contains(at))) {
        return std::nullopt;
    }
    for (std::size_t i = 0; i < names_.size(); ++i) {
        if (boxOf(i).contains(at)) {
            return names_[i].section; // what is read is what is meant
        }
    }
    const QRectF whole = box();
    double share =
        axis_.isSideways ? (at.x() - whole.left()) / whole.width() : (at.y() - whole.top()) / whole.height();
    share = axis_.isSideways && axis_.isMirrored ? 1 - share : share;
    return std::clamp<std::int64_t>(
        static_cast<std::int64_t>(std::floor(share * static_cast<double>(count_))), 0, count_ - 1);
}

} // namespace scorrere::render
