// SPDX-License-Identifier: Apache-2.0
#include "render/picture_cache.h"

#include "render/job.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr std::size_t kMostWishes = 64;
constexpr int kMostAtOnce = 2;
constexpr qsizetype kMostTold = 10'000;
constexpr qsizetype kMostAspects = 20'000; ///< twice
constexpr qsizetype kMostHeld = 20'000;

} // namespace

QString PictureWish::key() const {
    QString key = address + QLatin1Char('\n') + QString::number(size.width()) + QLatin1Char('x') +
                  QString::number(size.height()) + QLatin1Char("fcs"[static_cast<int>(fit)]);
    if (fit == Fit::Fill && focus != std::array{0.5, 0.5}) {
        key += QString::number(focus[0]) + QLatin1Char(',') + QString::number(focus[1]);
    }
    if (radius > 0) {
        key += QLatin1Char('r') + QString::number(radius);
    }
    return key;
}

namespace {

QImage rounded(QImage image, double radius) {
    if (radius <= 0) {
        return image;
    }
    QImage mask(image.size(), QImage::Format_ARGB32_Premultiplied);
    mask.fill(Qt::transparent);
    QPainter painter(&mask);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(Qt::black);
    painter.drawRoundedRect(QRectF(QPointF(), QSizeF(image.size())), radius, radius);
    painter.setCompositionMode(QPainter::CompositionMode_SourceIn);
    painter.drawImage(0, 0, image);
    painter.end();
    return mask;
}

} // namespace

QImage fitted(const QImage& image, const PictureWish& wish) {
    const auto mode = wish.fit == Fit::Fill  ? Qt::KeepAspectRatioByExpanding
                      : wish.fit == Fit::Fit ? Qt::KeepAspectRatio
                                             : Qt::IgnoreAspectRatio;
    const QImage scaled = image
                              .scaled(image.size().scaled(wish.size, mode).expandedTo({1, 1}),
                                      Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                              .convertToFormat(QImage::Format_ARGB32_Premultiplied);
    if (wish.fit != Fit::Fill) {
        return rounded(scaled, wish.radius);
    }
    // The focus goes to the middle, as far as there is picture on both sides.
    const auto from = [](int whole, int part, double focus) {
        return std::clamp(static_cast<int>(std::lround(whole * focus - part / 2.0)), 0,
                          std::max(whole - part, 0));
    };
    return rounded(scaled.copy(QRect(QPoint(from(scaled.width(), wish.size.width(), wish.focus[0]),
                                            from(scaled.height(), wish.size.height(), wish.focus[1])),
                                     wish.size)),
                   wish.radius);
}

PictureCache::PictureCache(std::shared_ptr<const PictureSource> source, std::int64_t budgetBytes,
                           QObject* parent)
    : QObject(parent), source_(std::move(source)), budget_(budgetBytes), link_(std::make_shared<Link>()) {
    link_->cache = this;
    startWorkers();
}

PictureCache::~PictureCache() {
    for (Kept& known : kept_) {
        known.stop.request_stop();
    }
    link_->cache = nullptr;
}

const PictureCache::Entry& PictureCache::find(const PictureWish& wish) {
    const QString key = wish.key();
    auto it = kept_.find(key);
    if (it == kept_.end()) {
        ages_.push_front(key);
        it = kept_.insert(key, Kept{{}, ages_.begin(), false, 0, {}});
    } else {
        ages_.splice(ages_.begin(), ages_, it->age);
    }
    if (it->entry.state == PictureState::Loading && !it->asked) {
        it->asked = true;
        queue_.push_back({key, wish});
        if (queue_.size() > kMostWishes) {
            const QString oldest = queue_.front().key;
            queue_.pop_front();
            drop(oldest);
            it = kept_.find(key); // erasing may move it
        }
        pump();
    }
    return it->entry;
}

void PictureCache::drop(const QString& key) {
    const auto it = kept_.find(key);
    if (it == kept_.end()) {
        return;
    }
    if (it->holders > 0) { // still wanted: asked for again when it is looked for
        it->asked = false;
        return;
    }
    ages_.erase(it->age);
    kept_.erase(it);
}

void PictureCache::hold(const PictureWish& wish) {
    (void)find(wish);
    ++kept_.find(wish.key())->holders;
}

void PictureCache::letGo(const QString& key) {
    const auto it = kept_.find(key);
    if (it == kept_.end() || it->holders == 0 || --it->holders > 0 ||
        it->entry.state != PictureState::Loading) {
        return;
    }
    it->stop.request_stop();
    const auto wish = std::ranges::find(queue_, key, &Wanted::key);
    if (wish != queue_.end()) {
        ++cancelled_;
        queue_.erase(wish);
        drop(key);
    } else if (!it->asked) {
        drop(key);
    } // else a worker has it: it comes back as cancelled
}

void PictureCache::pump() {
    while (running_ < kMostAtOnce && !queue_.empty()) {
        const Wanted wish = queue_.back();
        queue_.pop_back();
        ++running_;
        const auto known = kept_.find(wish.key);
        if (known == kept_.end()) {
            --running_;
            continue;
        }
        known->stop = std::stop_source();
        runOnWorker(
            [wish, source = source_, link = link_, stop = known->stop.get_token()] {
                auto result = stop.stop_requested()
                                  ? Result<Picture>(Error{ErrorCode::Cancelled, "it scrolled away", {}, {}})
                                  : source->load(wish.wanted.address, wish.wanted.size, stop);
                if (result) {
                    result->image = fitted(result->image, wish.wanted);
                }
                runOnInterface([link, wish, result = std::move(result)] {
                    if (link->cache != nullptr) {
                        link->cache->take(wish, result);
                    }
                });
            },
            Workers::Pictures);
    }
}

void PictureCache::take(const Wanted& wish, const Result<Picture>& result) {
    --running_;
    bool isSized = false;
    if (const auto it = kept_.find(wish.key); it != kept_.end()) {
        if (result) {
            it->entry.state = PictureState::Ready;
            it->entry.image = result->image;
            bytes_ += it->entry.image.sizeInBytes();
            ++decoded_;
            if (aspects_.size() > kMostAspects) {
                olderAspects_ = std::exchange(aspects_, {});
            }
            if (!aspects_.contains(wish.wanted.address) && !result->natural.isEmpty()) {
                isSized = !olderAspects_.contains(wish.wanted.address);
                aspects_.insert(wish.wanted.address, static_cast<float>(result->natural.width()) /
                                                         static_cast<float>(result->natural.height()));
            }
        } else if (result.error().code == ErrorCode::Cancelled) {
            ++cancelled_;
            it->asked = false;
            drop(wish.key);
        } else {
            it->entry.state =
                result.error().code == ErrorCode::NotFound ? PictureState::Missing : PictureState::Broken;
            it->entry.reason = QString::fromStdString(result.error().text());
            if (told_.size() < kMostTold && !told_.contains(it->entry.reason)) {
                told_.insert(it->entry.reason);
                Q_EMIT failed(it->entry.reason, it->entry.state);
            }
        }
        trim();
    }
    pump();
    if (isSized) {
        Q_EMIT sized(wish.wanted.address);
    }
    Q_EMIT arrived();
}

void PictureCache::retry() {
    bool isAny = false;
    for (Kept& known : kept_) {
        if (known.entry.state == PictureState::Broken) {
            known.entry = {};
            known.asked = false;
            isAny = true;
        }
    }
    told_.clear();
    if (isAny) {
        Q_EMIT arrived();
    }
}

void PictureCache::trim() {
    // Reasons cost little but not nothing: they are bounded by count.
    while ((bytes_ > budget_ || kept_.size() > kMostHeld) && ages_.size() > 1) {
        const auto it = kept_.find(ages_.back());
        if (it->asked && it->entry.state == PictureState::Loading) {
            ages_.splice(ages_.begin(), ages_, it->age); // still on its way
            if (running_ + static_cast<int>(queue_.size()) >= static_cast<int>(ages_.size())) {
                return;
            }
            continue;
        }
        bytes_ -= it->entry.image.sizeInBytes();
        ages_.pop_back();
        kept_.erase(it);
    }
}

} // namespace scorrere::render

#include "moc_picture_cache.cpp"
