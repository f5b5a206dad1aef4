// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/wing_pictures.h"

#include <QPainter>
#include <QPainterPath>
#include <QRegularExpression>

namespace scorrere::service {

namespace {

constexpr qlonglong kLostEvery = 41;

QColor hueOf(std::uint64_t bits, int saturation, int value) {
    return QColor::fromHsv(static_cast<int>(bits % 360), saturation, value);
}

} // namespace

QImage drawWings(std::int64_t id, QSize size) {
    const std::uint64_t bits = static_cast<std::uint64_t>(id) * 0x9e3779b97f4a7c15ull;
    QImage image(size, QImage::Format_ARGB32_Premultiplied);
    image.fill(hueOf(bits >> 40, 18, 246));
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(size.width() / 2.0, size.height() / 2.0);
    const double unit = std::min(size.width(), size.height()) / 100.0;
    painter.scale(unit, unit);
    painter.setPen(Qt::NoPen);
    const QColor fore = hueOf(bits >> 20, 120, 165);
    const QColor hind = hueOf((bits >> 20) + 40 + (bits >> 50) % 120, 130, 170);
    const double spread = 34 + static_cast<double>((bits >> 8) % 10);
    const double rise = 18 + static_cast<double>((bits >> 14) % 12);
    for (const double side : {-1.0, 1.0}) {
        painter.save();
        painter.scale(side, 1);
        QPainterPath lower;
        lower.moveTo(2, 2);
        lower.cubicTo(10, 8, spread * 0.9, 6, spread * 0.72, 22);
        lower.cubicTo(spread * 0.5, 34, 8, 30, 2, 8);
        painter.fillPath(lower, hind);
        QPainterPath upper;
        upper.moveTo(2, -2);
        upper.cubicTo(8, -rise, spread * 0.7, -rise - 10, spread, -rise);
        upper.cubicTo(spread + 4, -6, spread * 0.6, 8, 2, 6);
        painter.fillPath(upper, fore);
        painter.setBrush(fore.lighter(150));
        painter.drawEllipse(QPointF(spread * 0.62, -rise * 0.62), 5, 5);
        painter.setBrush(hind.darker(170));
        painter.drawEllipse(QPointF(spread * 0.62, -rise * 0.62), 2.2, 2.2);
        painter.restore();
    }
    painter.setBrush(QColor(0x2b, 0x2b, 0x30));
    painter.drawRoundedRect(QRectF(-2.5, -14, 5, 34), 2.5, 2.5);
    return image;
}

Result<render::Picture> WingPictures::load(const QString& address, QSize, std::stop_token) const {
    static const QRegularExpression form(QStringLiteral("^wings/(\\d{1,18})-([sml])(11|43|34)\\.png$"));
    const auto match = form.match(address);
    if (!match.hasMatch()) {
        return Error{ErrorCode::NotFound, "there is no such demo picture", {}, {}};
    }
    const qlonglong id = match.captured(1).toLongLong();
    if (id % kLostEvery == kLostEvery - 1) {
        Error error{ErrorCode::NotFound, "the picture is missing on the server", {}, {}};
        error.place.file = address.toStdString();
        return error;
    }
    const QString aspect = match.captured(3);
    const int base = match.captured(2) == QLatin1Char('s')   ? 96
                     : match.captured(2) == QLatin1Char('m') ? 192
                                                             : 384;
    const QSize size = aspect == QLatin1String("11")   ? QSize(base, base)
                       : aspect == QLatin1String("43") ? QSize(base, base * 3 / 4)
                                                       : QSize(base * 3 / 4, base);
    return render::Picture{drawWings(id, size), size};
}

} // namespace scorrere::service
