// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "render/weather.h"

#include <QImage>
#include <QSize>
#include <QString>
#include <functional>
#include <memory>
#include <stop_token>

namespace scorrere::render {

struct Picture {
    QImage image;  ///< at its own size, or a smaller one that still covers what was wanted
    QSize natural; ///< its own size, px
};

/// Where pictures come from. Called on worker threads.
class PictureSource {
public:
    virtual ~PictureSource() = default;
    /// The picture at `address`, decoded at its own size or, where that is cheaper, at one that still covers
    /// `wanted`. Errors: NotFound; Unreadable; TooLarge; Invalid when it does not decode; Cancelled.
    virtual Result<Picture> load(const QString& address, QSize wanted, std::stop_token stop) const = 0;
};

/// Pictures from files below one folder; an address that leads out of it is NotFound. Percent-encoding, as
/// URI templates write it, is undone.
class FolderPictures final : public PictureSource {
public:
    explicit FolderPictures(QString folder) : folder_(std::move(folder)) {}
    Result<Picture> load(const QString& address, QSize wanted, std::stop_token stop) const override;

private:
    QString folder_;
};

/// Pictures over HTTP(S), relative to a base address. No secret is sent along.
class HttpPictures final : public PictureSource {
public:
    /// Tells the base address; called on worker threads, may wait.
    using Base = std::function<Result<std::string>()>;

    explicit HttpPictures(const QString& base)
        : HttpPictures([base = base.toStdString()] { return Result<std::string>(base); }, nullptr) {}
    /// `weather`: what the wire is like for each picture; null: as it is.
    HttpPictures(Base base, std::shared_ptr<const WeatherNow> weather)
        : base_(std::move(base)), weather_(std::move(weather)) {}
    Result<Picture> load(const QString& address, QSize wanted, std::stop_token stop) const override;

private:
    Base base_;
    std::shared_ptr<const WeatherNow> weather_;
};

/// Decodes what a file held or a server sent. An SVG that asks for anything outside itself is refused, and so
/// is a picture of more than 64 million pixels: neither is decoded.
Result<Picture> decodePicture(const QByteArray& bytes, const QString& name, QSize wanted);

} // namespace scorrere::render
