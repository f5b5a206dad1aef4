// SPDX-License-Identifier: Apache-2.0
#include "render/picture_source.h"

#include "engine/base/nesting.h"
#include "render/http_call.h"

#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QImageReader>
#include <QUrl>
#include <array>
#include <fmt/format.h>
#include <optional>
#include <pugixml.hpp>
#include <unordered_map>
#include <zlib.h>

namespace scorrere::render {

namespace {

constexpr std::int64_t kMostPixels = 64'000'000;
constexpr std::int64_t kMostBytes = std::int64_t{64} << 20;
constexpr std::size_t kMostUnpacked = std::size_t{16} << 20;

Error pictureError(ErrorCode code, const QString& message, const QString& name) {
    Error error{code, message.toStdString(), {}, {}};
    error.place.file = name.toStdString();
    return error;
}

bool leadsOutside(std::string_view value) {
    return !value.empty() && value[0] != '#' && !value.starts_with("data:image/");
}

/// The first place beyond the file that a style or an attribute names; empty: none.
std::string outsideUrl(std::string_view value) {
    for (std::size_t at = value.find("url("); at != std::string_view::npos; at = value.find("url(", at + 4)) {
        const std::size_t from = value.find_first_not_of(" '\"", at + 4);
        if (from != std::string_view::npos && leadsOutside(value.substr(from))) {
            return std::string(value.substr(from, 120));
        }
    }
    return {};
}

/// Looks for what an SVG asks for beyond itself, and for what a stack would not hold. The library walks
/// without calling itself.
class SvgCheck final : public pugi::xml_tree_walker {
public:
    bool for_each(pugi::xml_node& node) override {
        if (depth() > kMaxNesting) {
            problem = fmt::format("it nests more than {} deep", kMaxNesting);
        } else if (node.type() == pugi::node_doctype) {
            asks("a document type"); // entities can name files
        } else if (node.type() == pugi::node_pcdata || node.type() == pugi::node_cdata) {
            const std::string_view parent = node.parent().name();
            if (parent == "style" || parent.ends_with(":style")) {
                const std::string_view css = node.value();
                asks(css.find("@import") == std::string_view::npos ? outsideUrl(css)
                                                                   : "an imported style sheet");
            }
        } else {
            lookAt(node);
        }
        return problem.empty();
    }
    std::string problem; ///< empty: none

private:
    void lookAt(const pugi::xml_node& node) {
        const std::string_view name = node.name();
        if (name == "script" || name == "foreignObject") {
            asks(fmt::format("<{}>", name));
        }
        for (const pugi::xml_attribute attribute : node.attributes()) {
            const std::string_view key = attribute.name();
            const std::string_view value = attribute.value();
            if ((key == "href" || key.ends_with(":href")) && leadsOutside(value)) {
                asks(std::string(value.substr(0, 120)));
            }
            asks(outsideUrl(value));
        }
    }
    void asks(const std::string& what) {
        if (!what.empty() && problem.empty()) {
            problem = fmt::format("it asks for something outside itself ({}); that is not fetched", what);
        }
    }
};

/// How much is drawn of an SVG whose elements are used again by others: each use may double what is there.
class SvgWeight {
public:
    explicit SvgWeight(const pugi::xml_document& document) {
        collect(document);
        isTooMuch_ = of(document.document_element(), 0) > kMostDrawn;
    }
    bool isTooMuch() const { return isTooMuch_; }

private:
    static constexpr double kMostDrawn = 1'000'000;

    /// Nothing nests deeper than kMaxNesting here: that was looked at before.
    void collect(const pugi::xml_node& node) {
        for (const pugi::xml_node child : node.children()) {
            if (const char* id = child.attribute("id").value(); *id != '\0') {
                byId_.try_emplace(id, child);
            }
            collect(child);
        }
    }
    /// The elements drawn for a node; more than may be when uses lead in a circle.
    double of(const pugi::xml_node& node, int depth) {
        if (depth > 2 * kMaxNesting) {
            return 2 * kMostDrawn;
        }
        const auto known = weights_.find(node.hash_value());
        if (known != weights_.end()) {
            return known->second;
        }
        double weight = 1;
        for (const pugi::xml_node child : node.children()) {
            weight += of(child, depth + 1);
        }
        const std::string_view name = node.name();
        if (name == "use" || name.ends_with(":use")) {
            for (const pugi::xml_attribute attribute : node.attributes()) {
                const std::string_view key = attribute.name();
                const std::string_view value = attribute.value();
                const bool leads = (key == "href" || key.ends_with(":href")) && value.starts_with('#');
                const auto used = leads ? byId_.find(value.substr(1)) : byId_.end();
                weight += used != byId_.end() ? of(used->second, depth + 1) : 0;
            }
        }
        weights_.emplace(node.hash_value(), weight);
        return weight;
    }

    std::unordered_map<std::string_view, pugi::xml_node> byId_;
    std::unordered_map<std::size_t, double> weights_;
    bool isTooMuch_ = false;
};

bool isPacked(const QByteArray& bytes) {
    return bytes.startsWith("\x1f\x8b"); // RFC 1952
}

/// The content of a gzip file, as compressed SVG is; nothing when it is damaged or larger than that.
std::optional<QByteArray> unpacked(const QByteArray& bytes, std::size_t most) {
    z_stream stream{};
    if (inflateInit2(&stream, 16 + MAX_WBITS) != Z_OK) {
        return std::nullopt;
    }
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(bytes.constData())); // it is only read
    stream.avail_in = static_cast<uInt>(bytes.size());
    QByteArray out;
    std::array<char, 16384> piece{};
    int state = Z_OK;
    while (state == Z_OK && static_cast<std::size_t>(out.size()) <= most) {
        stream.next_out = reinterpret_cast<Bytef*>(piece.data());
        stream.avail_out = static_cast<uInt>(piece.size());
        state = inflate(&stream, Z_NO_FLUSH);
        out.append(piece.data(), static_cast<qsizetype>(piece.size() - stream.avail_out));
    }
    inflateEnd(&stream);
    return state == Z_STREAM_END ? std::optional(out) : std::nullopt;
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

Result<Picture> decodePicture(const QByteArray& given, const QString& name, QSize wanted) {
    QByteArray bytes = given;
    if (isPacked(given)) { // the toolkit would unpack it, past the check below
        auto content = unpacked(given, kMostUnpacked);
        if (!content) {
            return pictureError(ErrorCode::Invalid,
                                QStringLiteral("the picture does not decode: it is packed, and damaged or "
                                               "larger than %1 MiB")
                                    .arg(kMostUnpacked >> 20),
                                name);
        }
        bytes = std::move(*content);
        if (!looksLikeXml(bytes)) {
            return pictureError(ErrorCode::Invalid,
                                QStringLiteral("the picture does not decode: what is packed is no SVG"),
                                name);
        }
    }
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
        SvgCheck check;
        document.traverse(check);
        if (check.problem.empty() && SvgWeight(document).isTooMuch()) {
            check.problem = "it uses its own elements again and again, more than can be drawn";
        }
        if (!check.problem.empty()) {
            return pictureError(
                ErrorCode::Invalid,
                QStringLiteral("the picture is not shown: %1").arg(QString::fromStdString(check.problem)),
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
        return HttpPictures(QString(), calls_).load(address, wanted, std::move(stop));
    }
    const QString decoded = QUrl::fromPercentEncoding(address.toUtf8());
    QString path;
    for (const QString& folder : folders_) {
        const QString root = folder.isEmpty() ? QString() : QDir(folder).canonicalPath();
        const QString found = QFileInfo(QDir(folder).filePath(decoded)).canonicalFilePath();
        if (path.isEmpty() && !root.isEmpty() && found.startsWith(root + QLatin1Char('/'))) {
            path = found;
        }
    }
    if (path.isEmpty()) {
        return pictureError(
            ErrorCode::NotFound,
            QStringLiteral("there is no such picture in the collection's folder or beside its records"),
            decoded);
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
    const auto url = webAddress(address.toStdString(), QUrl(QString::fromStdString(*base)));
    if (!url) {
        return pictureError(ErrorCode::NotFound,
                            QStringLiteral("there is no such picture at the service: %1")
                                .arg(QString::fromStdString(url.error().message)),
                            address);
    }
    HttpCall call;
    call.address = url->toEncoded().toStdString();
    if (sameOrigin(*base, call.address)) { // where the records come from may be asked
        call.originHeaders = calls_.ownHeaders;
    } else {
        call.access = calls_.access;
    }
    call.maxBytes = kMostBytes;
    call.weather = calls_.weather ? calls_.weather->get() : Weather();
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
