// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "render/axis_map.h"
#include "render/item_colours.h"

#include <QImage>
#include <QString>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

class QPainter;

namespace scorrere::render {

/// Which of so many sections a jump list names where there is room for `most` of them: the first, the last, and some
/// in even steps between. What it leaves out can be gone to all the same.
std::vector<std::int64_t> namedSections(std::int64_t count, std::int64_t most);

/// The list beside a window, along it, of sections one can go to.
///
/// Units       px of the window.
/// Complexity  O(names).
class JumpList {
public:
    struct Name {
        std::int64_t section = 0;
        QString text;
    };
    /// So many names have room along a window.
    static std::int64_t roomIn(const AxisMap& axis, double clear);

    /// `names` in order of sections, of `count`; they must outlive it. `clear`: px that bars cover at each end.
    JumpList(std::span<const Name> names, std::int64_t count, const AxisMap& axis, double clear);

    /// How it was painted last: it is copied while nothing about it differs.
    struct Kept {
        QImage picture;
        std::ptrdiff_t lit = -1;
        double density = 0;
        QColor paper;
        QRectF box;
    };
    /// `kept`: to be cleared when names are others.
    void paint(QPainter& painter, const ItemColours& colours, std::int64_t present, double density,
               Kept& kept) const;
    /// The section meant at a point of the window; nothing beside the list, unless one is `dragging` along it.
    std::optional<std::int64_t> sectionAt(QPointF at, bool dragging) const;
    QRectF box() const { return axis_.onScreen(whole_); }
    QRectF boxOf(std::size_t name) const;

private:
    void paintNames(QPainter& painter, const ItemColours& colours, std::ptrdiff_t lit) const;
    double share(std::size_t name) const;

    std::span<const Name> names_;
    std::int64_t count_;
    AxisMap axis_;
    Box whole_;
};

} // namespace scorrere::render
