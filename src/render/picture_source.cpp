// SPDX-License-Identifier: Apache-2.0
#include "render/picture_source.h"

#include "render/http_call.h"

#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QImageReader>
#include <QUrl>
#include <fmt/format.h>
#include <pugixml.hpp>

namespace scorrere::render {

namespace {

constexpr std::int64_t kMostPixels = 64'000'000;
constexpr std::int64_t kMostBytes = std::int64_t{64} << 20;

Error pictureError(ErrorCode code, const QString& message, const QString& name) {
    Error error{code, message.toStdString(), {}, {}};
    error.place.file = name.toStdString();
    return error;
}

bool leadsOutside(std::string_view value) {
    return !value.empty() && value[0] != '#' && !value.starts_with("data:image/");
}

/// What an SVG asks for beyond itself; empty: nothing.
std::string outsideReference(const pugi::xml_node& node) {
    for (const pugi::xml_node child : node.children()) {
        const std::string_view name = child.name();
        if (child.type() == pugi::node_doctype) {
            return "a document type"; // entities can name files
        }
        if (name == "style" || name.ends_with(":style")) {
            const std::string_view css = child.child_value();
            if (css.find("@import") != std::string_view::npos) {
                return "an imported style sheet";
            }
        }
        if (name == "script" || name == "foreignObject") {
            return fmt::format("<{}>", name);
        }
        for (const pugi::xml_attribute attribute : child.attributes()) {
            const std::string_view key = attribute.name();
            const std::string_view value = attribute.value();
            if ((key == "href" || key.ends_with(":href")) && leadsOutside(value)) {
                return std::string(value.substr(0, 120));
            }
            for (std::size_t at = value.find("url("); at != std::string_view::npos;
                 at = value.find("url(", at + 4)) {
                const std::size_t from = value.find_first_not_of(" '\"", at + 4);
                if (from != std::string_view::npos && leadsOutside(value.substr(from))) {
                    return std::string(value.substr(from, 120));
                }
            }
        }
        if (std::string found = outsideReference(child); !found.empty()) {
            return found;
        }
    }
    return {};
}

/// Whether the bytes begin as XML does: the toolkit would read them as SVG.
bool looksLikeXml(const QByteArray& bytes) {
    for (const char c : bytes) {
        if (c == '<') {
            return true;
        }
        if (static_cast<unsigned char>(c) > ' ' && static_cast<unsigned char>(c) < 0x80) {
            return false;
        }
    }
    return false;
}

} // namespace

Result<Picture> decodePicture(const QByteArray& bytes, const QString& name, QSize wanted) {
    if (looksLikeXml(bytes)) {
        pugi::xml_document document;
        const auto parsed = document.load_buffer(bytes.constData(), static_cast<std::size_t>(bytes.size()),
                                                 pugi::parse_default | pugi::parse_doctype);
        if (!parsed) {
            return pictureError(ErrorCode::Invalid,
                                QStringLiteral("the picture does not decode: %1, at byte %2")
                                    .arg(QString::fromUtf8(parsed.description()))
                                    .arg(parsed.offset),
                                name);
        }
        if (const std::string outside = outsideReference(document); !outside.empty()) {
            return pictureError(ErrorCode::Invalid,
                                QStringLiteral("the picture asks for something outside itself (%1); "
                                               "that is not fetched")
                                    .arg(QString::fromStdString(outside)),
                                name);
        }
    }
    QBuffer buffer;
    buffer.setData(bytes);
    QImageReader reader(&buffer);
    reader.setAutoTransform(true);
    QSize natural = reader.size();
    if (natural.isValid() && qint64{natural.width()} * natural.height() > kMostPixels) {
        return pictureError(
            ErrorCode::TooLarge,
            QStringLiteral("the picture has %1 x %2 pixels").arg(natural.width()).arg(natural.height()),
            name);
    }
    const bool turned = reader.transformation() & QImageIOHandler::TransformationRotate90;
    if (natural.isValid() && !wanted.isEmpty()) {
        const QSize covers = turned ? wanted.transposed() : wanted;
        const bool vector = reader.format().startsWith("svg");
        const QSize scaled = natural.scaled(covers, Qt::KeepAspectRatioByExpanding);
        reader.setScaledSize(
            (vector ? scaled.boundedTo({4096, 4096}) : scaled.boundedTo(natural)).expandedTo({1, 1}));
    }
    const QImage image = reader.read();
    if (image.isNull()) {
        return pictureError(ErrorCode::Invalid,
                            QStringLiteral("the picture does not decode: %1").arg(reader.errorString()),
                            name);
    }
    natural = !natural.isValid() ? image.size() : turned ? natural.transposed() : natural;
    return Picture{image, natural};
}

Result<Picture> FolderPictures::load(const QString& address, QSize wanted, std::stop_token stop) const {
    if (address.startsWith(QLatin1String("http://")) || address.startsWith(QLatin1String("https://"))) {
        return HttpPictures(QString()).load(address, wanted, std::move(stop));
    }
    const QString root = QDir(folder_).canonicalPath();
    const QString decoded = QUrl::fromPercentEncoding(address.toUtf8());
    const QString path = QFileInfo(folder_ + QLatin1Char('/') + decoded).canonicalFilePath();
    if (folder_.isEmpty() || root.isEmpty() || path.isEmpty() || !path.startsWith(root + QLatin1Char('/'))) {
        return pictureError(ErrorCode::NotFound,
                            QStringLiteral("there is no such picture in the collection's folder"), decoded);
    }
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || !QFileInfo(file).isFile()) {
        return pictureError(ErrorCode::Unreadable, QStringLiteral("the picture cannot be opened"), decoded);
    }
    if (file.size() > kMostBytes) {
        return pictureError(ErrorCode::TooLarge,
                            QStringLiteral("the picture's file has %1 MiB").arg(file.size() >> 20), decoded);
    }
    return decodePicture(file.readAll(), decoded, wanted);
}

Result<Picture> HttpPictures::load(const QString& address, QSize wanted, std::stop_token stop) const {
    const auto base = base_();
    if (!base) {
        return base.error();
    }
    const QUrl url = QUrl(QString::fromStdString(*base)).resolved(QUrl(address));
    if (url.scheme() != QLatin1String("http") && url.scheme() != QLatin1String("https")) {
        return pictureError(ErrorCode::NotFound, QStringLiteral("there is no such picture at the service"),
                            address);
    }
    HttpCall call;
    call.address = url.toEncoded().toStdString();
    call.maxBytes = kMostBytes;
    call.weather = weather_ ? weather_->get() : Weather();
    auto answer = askHttp(call, std::move(stop));
    if (!answer) {
        return std::move(answer.error());
    }
    if (auto failed = statusError(*answer)) {
        failed->code = answer->status == 404 || answer->status == 410 ? ErrorCode::NotFound : failed->code;
        failed->place.file = address.toStdString();
        return std::move(*failed);
    }
    return decodePicture(QByteArray::fromStdString(answer->body), address, wanted);
}

} // namespace scorrere::render
