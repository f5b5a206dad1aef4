// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/part_spec.h"
#include "render/picture_source.h"

#include <QHash>
#include <QObject>
#include <QSet>
#include <deque>
#include <list>
#include <memory>

namespace scorrere::render {

enum class PictureState : std::uint8_t { Loading, Ready, Missing, Broken };

/// A picture as a part wants it: decoded and cut to whole device px.
struct PictureWish {
    QString address;
    QSize size;
    Fit fit = Fit::Fill;
    std::array<double, 2> focus{0.5, 0.5}; ///< Fill: what stays in the middle where it can
    double radius = 0;                     ///< device px: its corners are rounded off

    QString key() const;
};

/// Decodes pictures off the interface thread and keeps the recently used ones within a budget.
///
/// Complexity  find is O(1) and never waits.
/// Ownership   Shares the source with its workers. Destruction does not wait: what is still decoded is
///             dropped.
/// Threads     The interface thread; `arrived` comes there.
/// Errors      A picture that cannot be had has a state and a reason; it is asked for once.
class PictureCache : public QObject {
    Q_OBJECT
public:
    PictureCache(std::shared_ptr<const PictureSource> source, std::int64_t budgetBytes,
                 QObject* parent = nullptr);
    ~PictureCache() override;

    struct Entry {
        PictureState state = PictureState::Loading;
        QImage image;
        QString reason; ///< of Missing and Broken
    };
    /// The picture as it is known now; asks for it when it is not. The newest wishes are served first and old
    /// ones forgotten: what has scrolled away is not decoded. Comes scaled, so that painting is a copy.
    const Entry& find(const PictureWish& wish);
    /// Somebody will show it, or will not any more: what nobody wants and has not come is cancelled.
    void hold(const PictureWish& wish);
    void letGo(const QString& key);
    /// Width / height of a picture that came before, at whatever size; 0: not known.
    double aspectOf(const QString& address) const {
        const auto known = aspects_.constFind(address);
        return known != aspects_.constEnd() ? *known : olderAspects_.value(address, 0.0F);
    }

    /// What could not be had for a passing reason is asked for again when it is looked for.
    void retry();

    std::int64_t bytesKept() const { return bytes_; }
    std::int64_t decodedEver() const { return decoded_; }
    std::int64_t cancelledEver() const { return cancelled_; }
    /// Nothing is wanted or on its way.
    bool isQuiet() const { return queue_.empty() && running_ == 0; }

Q_SIGNALS:
    void arrived();
    /// A picture's width / height became known.
    void sized(const QString& address);
    /// A picture cannot be had: its address is part of the reason. Told once for each, at whatever size it is
    /// wanted.
    void failed(const QString& reason, scorrere::render::PictureState state);

private:
    struct Kept {
        Entry entry;
        std::list<QString>::iterator age;
        bool asked = false;
        int holders = 0;
        std::stop_source stop;
    };
    struct Wanted {
        QString key;
        PictureWish wanted;
    };
    /// How what workers bring finds the cache while there is one. The interface thread's alone.
    struct Link {
        PictureCache* cache = nullptr;
    };
    void pump();
    void take(const Wanted& wish, const Result<Picture>& result);
    void trim();
    void drop(const QString& key);

    std::shared_ptr<const PictureSource> source_;
    std::int64_t budget_;
    std::int64_t bytes_ = 0;
    std::int64_t decoded_ = 0;
    std::int64_t cancelled_ = 0;
    QHash<QString, Kept> kept_;
    QHash<QString, float> aspects_; ///< half of those that are remembered, the younger ones
    QHash<QString, float> olderAspects_;
    std::list<QString> ages_; ///< most recently used first
    std::deque<Wanted> queue_;
    int running_ = 0;
    QSet<QString> told_;
    std::shared_ptr<Link> link_;
};

/// A picture scaled and cut as it was wanted. Any thread.
QImage fitted(const QImage& image, const PictureWish& wish);

} // namespace scorrere::render
