// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QMetaObject>
#include <QObject>
#include <QThreadPool>
#include <condition_variable>
#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <stop_token>
#include <utility>

namespace scorrere::render {

/// Lets the calling worker thread yield to the interface thread wherever both want the processor.
void workInBackground();

/// The one way off the interface thread: runs a function on a worker and hands what it gives to the owner's
/// thread.
///
/// Ownership   Owned by the receiver. Destruction asks the work to stop and waits for it; nothing arrives
/// after. Threads     Lives on the receiver's thread. Each start replaces the one before: its result is
/// dropped.
class Job : public QObject {
    Q_OBJECT
public:
    explicit Job(QObject* parent = nullptr) : QObject(parent), shared_(std::make_shared<Shared>()) {}
    ~Job() override {
        cancel();
        std::unique_lock lock(shared_->mutex);
        shared_->ended.wait(lock, [this] { return shared_->running == 0; });
    }

    /// `work(stop, post)`: gives a value for `done`; may call `post(function)` to run something on the
    /// owner's thread.
    using Post = std::function<void(std::function<void()>)>;
    template <typename Work, typename Done>
    void start(Work work, Done done) {
        cancel();
        stop_ = std::stop_source();
        {
            const std::lock_guard lock(shared_->mutex);
            ++shared_->running;
        }
        busy_ = true;
        const std::uint64_t generation = ++generation_;
        QThreadPool::globalInstance()->start([this, shared = shared_, stop = stop_.get_token(), generation,
                                              work = std::move(work), done = std::move(done)]() mutable {
            workInBackground();
            const Post post = [this, generation](std::function<void()> call) {
                QMetaObject::invokeMethod(
                    this,
                    [this, generation, call = std::move(call)] {
                        if (generation == generation_) {
                            call();
                        }
                    },
                    Qt::QueuedConnection);
            };
            {
                auto value = std::make_shared<decltype(work(stop, post))>(work(stop, post));
                post([this, value, done = std::move(done)]() mutable {
                    busy_ = false;
                    done(std::move(*value));
                });
            }
            const std::lock_guard lock(shared->mutex);
            --shared->running;
            shared->ended.notify_all();
        });
    }

    /// Asks the work to stop and drops whatever it still gives.
    void cancel() {
        stop_.request_stop();
        ++generation_;
        busy_ = false;
    }
    bool isBusy() const { return busy_; }

private:
    struct Shared {
        std::mutex mutex;
        std::condition_variable ended;
        int running = 0;
    };
    std::shared_ptr<Shared> shared_;
    std::stop_source stop_;
    std::uint64_t generation_ = 0;
    bool busy_ = false;
};

/// Frees something large on a worker: giving memory back takes time that no frame has.
template <typename T>
void disposeElsewhere(T value) {
    QThreadPool::globalInstance()->start([held = std::make_shared<T>(std::move(value))] {});
}

} // namespace scorrere::render
