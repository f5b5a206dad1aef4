// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/picture_cache.h"

#include <QImage>

namespace scorrere::service {

/// A symmetrical wing pattern drawn from a sighting's id.
QImage drawWings(std::int64_t id, QSize size);

/// The demo's pictures: draws the address "wings/ID-SA.png" (S: s, m or l; A: 11, 43 or 34) when asked for.
/// Threads     Any.
class WingPictures final : public render::PictureSource {
public:
    Result<QImage> load(const QString& address, QSize wanted) const override;
};

} // namespace scorrere::service
