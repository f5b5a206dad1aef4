// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "render/http_call.h"

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

/// How pictures are asked for over HTTP(S).
struct PictureCalls {
    std::shared_ptr<const WeatherNow> weather; ///< what the wire is like for each picture; null: as it is
    std::shared_ptr<const Access> access;      ///< where they may be asked for; null: anywhere
    HttpHeaders ownHeaders;                    ///< for those at the base's own origin
};

/// Pictures from files below one folder; an address that leads out of it is NotFound. Percent-encoding, as
/// URI templates write it, is undone.
class FolderPictures final : public PictureSource {
public:
    /// `folders`: where a picture is looked for, in turn; nothing outside of them is read. `calls`: for
    /// addresses that are on the web.
    explicit FolderPictures(QStringList folders, PictureCalls calls = {})
        : folders_(std::move(folders)), calls_(std::move(calls)) {}
    Result<Picture> load(const QString& address, QSize wanted, std::stop_token stop) const override;

private:
    QStringList folders_;
    PictureCalls calls_;
};

/// Pictures over HTTP(S), relative to a base address.
class HttpPictures final : public PictureSource {
public:
    /// Tells the base address; called on worker threads, may wait.
    using Base = std::function<Result<std::string>()>;

    explicit HttpPictures(const QString& base, PictureCalls calls = {})
        : HttpPictures([base = base.toStdString()] { return Result<std::string>(base); }, std::move(calls)) {}
    HttpPictures(Base base, PictureCalls calls) : base_(std::move(base)), calls_(std::move(calls)) {}
    Result<Picture> load(const QString& address, QSize wanted, std::stop_token stop) const override;

private:
    Base base_;
    PictureCalls calls_;
};

/// Decodes what a file held or a server sent. An SVG that asks for anything outside itself is refused, and so
/// is a picture of more than 64 million pixels: neither is decoded.
Result<Picture> decodePicture(const QByteArray& bytes, const QString& name, QSize wanted);

} // namespace scorrere::render
