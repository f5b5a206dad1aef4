// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QRectF>
#include <QSizeF>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

/// Where the device's window stands in the cutaway and how large it is drawn. The strip goes on beyond two of
/// its edges; beside the other two stand notes.
///
/// Units       px of the screen; `across` and `along` px of the device.
struct CutawayGeometry {
    static constexpr double kBezel = 7;

    double width = 0, height = 0; ///< of the cutaway
    double textScale = 1;
    int beyond = 0;                   ///< screens shown beyond each edge
    double across = 0, along = 0;     ///< of the device's window
    bool isSideways = false;          ///< the strip runs to the side
    double mostScale = 1;             ///< it is drawn no larger
    double barTop = 0, barBottom = 0; ///< px of the device, above and below its window

    double heading() const { return 34 * textScale; }
    /// What the room along the strip allows. The further one looks, the more of it goes to what lies beyond
    /// the window.
    double alongScale() const {
        const double share = beyond == 0 ? 1.0 : 0.92 - 0.03 * beyond;
        const double room = isSideways ? width : height - heading();
        const double bars = isSideways ? 0 : barTop + barBottom;
        return std::min(1.0, (room - 4 * kBezel) * share / std::max(along + bars, 1.0));
    }
    /// Beside the window stand what each item measures and what carries it: in words where they leave the
    /// window most of the size it could have, else only the numbers.
    bool hasWords() const {
        return isSideways || width >= across * alongScale() * 0.75 + 2 * (wordsAside() + kBezel);
    }
    double scale() const { return std::min({mostScale, alongScale(), acrossScale()}); }
    /// Whole pixels: text is sharpest there.
    QRectF window() const {
        const double k = scale();
        const QSizeF size = (isSideways ? QSizeF(along, across) : QSizeF(across, along)) * k;
        const double high = size.height() + (barTop + barBottom) * k;
        return {QPointF(std::round((width - size.width()) / 2),
                        std::round(heading() + (height - heading() - high) / 2 + barTop * k)),
                size};
    }
    /// The window and the bars that stand outside it.
    QRectF screen() const { return window().adjusted(0, -barTop * scale(), 0, barBottom * scale()); }
    /// How wide it wants to be for the size that the height allows; for a strip that runs to the side with about
    /// as much beside the window as it shows.
    double wanted() const {
        return isSideways ? along * std::min(1.0, acrossScale()) * 2.4
                          : across * alongScale() + 2 * (wordsAside() + kBezel);
    }
    /// Whether it is better as wide as there is room for, with what else there is below.
    bool isWide() const { return isSideways && along > across; }

private:
    double acrossScale() const {
        const double all = isSideways ? height - heading() : width;
        const double bars = isSideways ? barTop + barBottom : 0;
        return std::max(all - 2 * (aside() + kBezel), 60.0) / std::max(across + bars, 1.0);
    }
    double wordsAside() const { return (isSideways ? 40 : 96) * textScale; }
    double aside() const { return hasWords() ? wordsAside() : 42 * textScale; }
};

} // namespace scorrere::workbench
