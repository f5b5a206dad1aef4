// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/wing_png.h"

#include "service/wing_pictures.h"

#include <QBuffer>

namespace scorrere::service {

std::optional<std::string> wingPng(const std::string& name) {
    const auto image = WingPictures().load(QString::fromStdString("wings/" + name), {}, {});
    QByteArray png;
    QBuffer buffer(&png);
    if (!image || !image->image.save(&buffer, "PNG")) {
        return std::nullopt;
    }
    return png.toStdString();
}

} // namespace scorrere::service
