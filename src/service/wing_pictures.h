// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/picture_cache.h"

#include <QImage>

namespace scorrere::service {

/// A symmetrical wing pattern drawn from a sighting's id.
QImage drawWings(std::int64_t id, QSize size);

/// The demo's pictures: draws the address "wings/ID-SA.png" (S: s, m or l; A: 11, 43 or 34) when asked for. A
/// few are missing, as on any server.
/// Threads     Any.
class WingPictures final : public render::PictureSource {
public:
    Result<render::Picture> load(const QString& address, QSize wanted, std::stop_token stop) const override;
};

} // namespace scorrere::service
