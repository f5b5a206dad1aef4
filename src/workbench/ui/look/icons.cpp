// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/icons.h"

#include <QBuffer>
#include <QImageReader>
#include <QPixmapCache>
#include <array>
#include <cmath>

namespace scorrere::workbench {

namespace {

/// What stands in each sign's picture: SVG, 16 by 16, in the order of Sign.
constexpr std::array<const char*, 13> kDrawn{
    R"(<path d="M5.5 3.5v9M10.5 3.5v9" stroke-width="2.6"/>)",
    R"(<path d="M5 3.2l7.5 4.8L5 12.8z" fill="currentColor"/>)",
    R"(<path d="M4 3.2l6 4.8-6 4.8z" fill="currentColor"/><path d="M12.5 3.5v9"/>)",
    R"(<circle cx="7" cy="7" r="4.6"/><path d="M10.5 10.5l3.5 3.5M7 5v4M5 7h4"/>)",
    R"(<circle cx="7" cy="7" r="4.6"/><path d="M10.5 10.5l3.5 3.5M5 7h4"/>)",
    R"(<path d="M3.5 6l4.5 4.5L12.5 6"/>)",
    R"(<path d="M6 3.5l4.5 4.5L6 12.5"/>)",
    R"(<path d="M4.5 6.5L8 10l3.5-3.5"/>)",
    R"(<path d="M4 4l8 8M12 4l-8 8"/>)",
    R"(<path d="M8 13V3.5M4 7l4-4 4 4"/>)",
    R"(<path d="M8 3v9.5M4 9l4 4 4-4"/>)",
    R"(<path d="M8 2.5l6 11H2z"/><path d="M8 7v3M8 11.8v.2"/>)",
    R"(<circle cx="8" cy="8" r="3" fill="currentColor"/>)"};

} // namespace

QPixmap signOf(const Look& look, Sign sign, const QColor& colour, double size) {
    constexpr double kSharp = 2; // for screens of twice the density; others show it smaller
    const int side = static_cast<int>(std::lround(look.scaled(size) * kSharp));
    const QString key =
        QStringLiteral("sign/%1/%2/%3").arg(static_cast<int>(sign)).arg(colour.rgba()).arg(side);
    QPixmap pixmap;
    if (QPixmapCache::find(key, &pixmap)) {
        return pixmap;
    }
    QByteArray svg = QByteArrayLiteral("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"16\" height=\"16\" "
                                       "fill=\"none\" stroke=\"currentColor\" stroke-width=\"1.6\" "
                                       "stroke-linecap=\"round\" stroke-linejoin=\"round\">") +
                     kDrawn[static_cast<std::size_t>(sign)] + "</svg>";
    svg.replace("currentColor", colour.name().toLatin1());
    QBuffer buffer(&svg);
    QImageReader reader(&buffer, QByteArrayLiteral("svg"));
    reader.setScaledSize({side, side});
    pixmap = QPixmap::fromImageReader(&reader);
    pixmap.setDevicePixelRatio(kSharp);
    QPixmapCache::insert(key, pixmap);
    return pixmap;
}

void setSign(QAbstractButton& button, const Look& look, Sign sign, const QColor& colour) {
    const int side = static_cast<int>(std::lround(look.scaled(14)));
    button.setIcon(QIcon(signOf(look, sign, colour)));
    button.setIconSize({side, side});
}

} // namespace scorrere::workbench
