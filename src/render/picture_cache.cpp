// SPDX-License-Identifier: Apache-2.0
#include "render/picture_cache.h"

#include "render/job.h"

#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QThreadPool>

namespace scorrere::render {

namespace {

constexpr std::size_t kMostWishes = 64;
constexpr int kWorkers = 2;
constexpr qsizetype kMostTold = 10'000;
constexpr std::int64_t kMostPixels = 64'000'000;

/// Threads of their own: pictures must not queue behind the estimating of a million items.
QThreadPool& decoders() {
    static QThreadPool pool;
    pool.setMaxThreadCount(kWorkers);
    return pool;
}

Error pictureError(ErrorCode code, const QString& message, const QString& file) {
    Error error{code, message.toStdString(), {}, {}};
    error.place.file = file.toStdString();
    return error;
}

QImage scaledFor(const QImage& image, QSize wanted, bool crop) {
    const auto mode = crop ? Qt::KeepAspectRatioByExpanding : Qt::KeepAspectRatio;
    const QImage scaled = image
                              .scaled(image.size().scaled(wanted, mode).expandedTo({1, 1}),
                                      Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                              .convertToFormat(QImage::Format_ARGB32_Premultiplied);
    return crop ? scaled.copy(QRect(
                      QPoint((scaled.width() - wanted.width()) / 2, (scaled.height() - wanted.height()) / 2),
                      wanted))
                : scaled;
}

} // namespace

Result<QImage> FolderPictures::load(const QString& address, QSize wanted) const {
    const QString root = QDir(folder_).canonicalPath();
    const QString path = QFileInfo(folder_ + QLatin1Char('/') + address).canonicalFilePath();
    if (root.isEmpty() || path.isEmpty() || !path.startsWith(root + QLatin1Char('/'))) {
        return pictureError(ErrorCode::NotFound,
                            QStringLiteral("there is no such picture in the collection's folder"), address);
    }
    QImageReader reader(path);
    reader.setAutoTransform(true);
    const QSize natural = reader.size();
    if (natural.isValid() && qint64{natural.width()} * natural.height() > kMostPixels) {
        return pictureError(
            ErrorCode::TooLarge,
            QStringLiteral("the picture has %1 x %2 pixels").arg(natural.width()).arg(natural.height()),
            address);
    }
    if (natural.isValid() && !wanted.isEmpty()) {
        reader.setScaledSize(natural.scaled(wanted, Qt::KeepAspectRatioByExpanding).boundedTo(natural));
    }
    const QImage image = reader.read();
    if (image.isNull()) {
        return pictureError(ErrorCode::Invalid,
                            QStringLiteral("the picture does not decode: %1").arg(reader.errorString()),
                            address);
    }
    return image;
}

PictureCache::PictureCache(std::shared_ptr<const PictureSource> source, std::int64_t budgetBytes,
                           QObject* parent)
    : QObject(parent), source_(std::move(source)), budget_(budgetBytes), link_(std::make_shared<Link>()) {
    link_->cache = this;
}

PictureCache::~PictureCache() {
    const std::lock_guard lock(link_->mutex);
    link_->cache = nullptr;
}

const PictureCache::Entry& PictureCache::find(const QString& address, QSize wanted, bool crop) {
    const QString key = address + QLatin1Char(crop ? '#' : '@') + QString::number(wanted.width()) +
                        QLatin1Char('x') + QString::number(wanted.height());
    auto it = held_.find(key);
    if (it == held_.end()) {
        ages_.push_front(key);
        it = held_.insert(key, Held{{}, ages_.begin(), false});
    } else {
        ages_.splice(ages_.begin(), ages_, it->age);
    }
    if (it->entry.state == PictureState::Loading && !it->asked) {
        it->asked = true;
        wishes_.push_back({key, address, wanted, crop});
        if (wishes_.size() > kMostWishes) {
            if (const auto dropped = held_.find(wishes_.front().key); dropped != held_.end()) {
                ages_.erase(dropped->age);
                held_.erase(dropped);
            }
            wishes_.pop_front();
            it = held_.find(key); // erasing may move it
        }
        pump();
    }
    return it->entry;
}

void PictureCache::pump() {
    while (running_ < kWorkers && !wishes_.empty()) {
        const Wish wish = wishes_.back();
        wishes_.pop_back();
        ++running_;
        decoders().start([wish, source = source_, link = link_] {
            workInBackground();
            auto result = source->load(wish.address, wish.wanted);
            if (result) {
                *result = scaledFor(*result, wish.wanted, wish.crop);
            }
            const std::lock_guard lock(link->mutex);
            if (PictureCache* cache = link->cache) {
                QMetaObject::invokeMethod(
                    cache, [cache, key = wish.key, result = std::move(result)] { cache->take(key, result); },
                    Qt::QueuedConnection);
            }
        });
    }
}

void PictureCache::take(const QString& key, const Result<QImage>& result) {
    --running_;
    if (const auto it = held_.find(key); it != held_.end()) {
        if (result) {
            it->entry.state = PictureState::Ready;
            it->entry.image = *result;
            bytes_ += it->entry.image.sizeInBytes();
            ++decoded_;
        } else {
            it->entry.state =
                result.error().code == ErrorCode::NotFound ? PictureState::Missing : PictureState::Broken;
            it->entry.reason = QString::fromStdString(result.error().text());
            if (told_.size() < kMostTold && !told_.contains(it->entry.reason)) {
                told_.insert(it->entry.reason);
                Q_EMIT failed(it->entry.reason);
            }
        }
        trim();
    }
    pump();
    Q_EMIT arrived();
}

void PictureCache::trim() {
    // Reasons cost little but not nothing: they are bounded by count.
    while ((bytes_ > budget_ || held_.size() > 20'000) && ages_.size() > 1) {
        const auto it = held_.find(ages_.back());
        if (it->asked && it->entry.state == PictureState::Loading) {
            ages_.splice(ages_.begin(), ages_, it->age); // still on its way
            if (running_ + static_cast<int>(wishes_.size()) >= static_cast<int>(ages_.size())) {
                return;
            }
            continue;
        }
        bytes_ -= it->entry.image.sizeInBytes();
        ages_.pop_back();
        held_.erase(it);
    }
}

} // namespace scorrere::render
