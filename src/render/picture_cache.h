// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QSize>
#include <QString>
#include <deque>
#include <list>
#include <memory>
#include <mutex>

namespace scorrere::render {

/// Where pictures come from. Called on worker threads.
class PictureSource {
public:
    virtual ~PictureSource() = default;
    /// The picture at `address`, decoded at its own size or, where that is cheaper, at one that still covers
    /// `wanted`. Errors: NotFound; Unreadable; TooLarge; Invalid when it does not decode.
    virtual Result<QImage> load(const QString& address, QSize wanted) const = 0;
};

/// Pictures from files below one folder; an address that leads out of it is NotFound.
class FolderPictures final : public PictureSource {
public:
    explicit FolderPictures(QString folder) : folder_(std::move(folder)) {}
    Result<QImage> load(const QString& address, QSize wanted) const override;

private:
    QString folder_;
};

enum class PictureState : std::uint8_t { Loading, Ready, Missing, Broken };

/// Decodes pictures off the interface thread and keeps the recently used ones within a budget.
///
/// Complexity  find is O(1) and never waits.
/// Ownership   Shares the source with its workers. Destruction does not wait: what is still decoded is
/// dropped. Threads     The interface thread; `arrived` comes there. Errors      A picture that cannot be had
/// has a state and a reason; it is asked for once.
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
    /// ones forgotten: what has scrolled away is not decoded. `crop`: fills `wanted` and loses what is
    /// beyond; otherwise fits inside. Comes scaled, so that painting is a copy.
    const Entry& find(const QString& address, QSize wanted, bool crop);
    std::int64_t bytesHeld() const { return bytes_; }
    std::int64_t decodedEver() const { return decoded_; }
    /// Nothing is wanted or on its way.
    bool isQuiet() const { return wishes_.empty() && running_ == 0; }

Q_SIGNALS:
    void arrived();
    /// A picture cannot be had: its address is part of the reason. Told once for each, at whatever size it is
    /// wanted.
    void failed(const QString& reason);

private:
    struct Held {
        Entry entry;
        std::list<QString>::iterator age;
        bool asked = false;
    };
    struct Wish {
        QString key;
        QString address;
        QSize wanted;
        bool crop = true;
    };
    /// How workers reach the cache while there is one.
    struct Link {
        std::mutex mutex;
        PictureCache* cache = nullptr;
    };
    void pump();
    void take(const QString& key, const Result<QImage>& result);
    void trim();

    std::shared_ptr<const PictureSource> source_;
    std::int64_t budget_;
    std::int64_t bytes_ = 0;
    std::int64_t decoded_ = 0;
    QHash<QString, Held> held_;
    std::list<QString> ages_; ///< most recently used first
    std::deque<Wish> wishes_;
    int running_ = 0;
    QSet<QString> told_;
    std::shared_ptr<Link> link_;
};

} // namespace scorrere::render
