// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QObject>
#include <atomic>
#include <cstdint>
#include <functional>
#include <memory>
#include <stop_token>
#include <utility>

namespace scorrere::render {

/// Lets the calling worker thread yield to the interface thread wherever both want the processor.
void workInBackground();

/// Whose turn it is waited for separately: pictures must not queue behind the estimating of a million items.
enum class Workers : std::uint8_t { Jobs, Pictures };

/// Runs a function on a worker of our own, as soon as one is free. The toolkit's global pool is left to the
/// toolkit, whose painter fills large areas on it and waits for them.
///
/// Threads     Any may call. The function must own all that it touches: nobody waits for it.
void runOnWorker(std::function<void()> work, Workers which = Workers::Jobs);

/// For work that holds a lock of the toolkit's which the interface needs, too: it ends before this returns, and
/// runs where no other program pushes it aside more than the interface itself.
///
/// Threads     Any. A worker waits for one that is not in the background; the interface thread does it itself.
void runPromptly(const std::function<void()>& work);

/// Runs a function on the interface thread, from any thread; in the order of the calls.
/// Requires: startWorkers() was called on the interface thread.
void runOnInterface(std::function<void()> call);
/// Readies what workers and the interface thread share. The interface thread's, before the first worker runs;
/// again it does nothing.
void startWorkers();
/// Runs what has arrived, without an event loop. The interface thread.
void takeMail();

/// A thread beside the workers that must have ended before the program does.
class LivingThread {
public:
    LivingThread();
    ~LivingThread();
    LivingThread(const LivingThread&) = delete;
    LivingThread& operator=(const LivingThread&) = delete;
};

/// At the program's end: asks every job to stop, drops those that have not begun, and gives the others so
/// long to notice. False: some still run, and what they use must not be taken away: end by std::_Exit.
///
/// Threads     The interface thread.
[[nodiscard]] bool finishWorkers(int timeoutMs);

/// A function on its way to another thread. All that the giver did before is seen by the taker: the toolkit's
/// queues see to that, too, but in a way that no checker of threads can see.
class HandOver {
public:
    explicit HandOver(std::function<void()> call) : call_(std::make_shared<Call>(std::move(call))) {
        call_->isReady.store(true, std::memory_order_release);
    }
    void operator()() const {
        if (call_->isReady.load(std::memory_order_acquire)) {
            call_->call();
        }
    }

private:
    struct Call {
        explicit Call(std::function<void()> of) : call(std::move(of)) {}
        std::function<void()> call;
        std::atomic<bool> isReady{false};
    };
    std::shared_ptr<Call> call_;
};

/// Frees something large on a worker: giving memory back takes time that no frame has.
template <typename T>
void disposeElsewhere(T value) {
    runOnWorker([value = std::make_shared<T>(std::move(value))] {});
}

/// The one way off the interface thread: runs a function on a worker and hands what it gives to the owner.
///
/// Ownership   Owned by the receiver. Destruction asks the work to stop and drops it, without waiting: work
///             that is under way ends by itself, work that has not begun never does, and nothing arrives
///             after. So `work` must own everything it touches; only what it posts, and `done`, may refer to
///             the receiver.
/// Threads     The interface thread, which never waits for a worker. Each start replaces the one before: its
///             result is dropped.
class Job : public QObject {
    Q_OBJECT
public:
    explicit Job(QObject* parent = nullptr) : QObject(parent) { startWorkers(); }
    ~Job() override { cancel(); }

    /// `work(stop, post)`: gives a value for `done`; may call `post(function)` to run something on the
    /// interface thread.
    using Post = std::function<void(std::function<void()>)>;
    template <typename Work, typename Done>
    void start(Work work, Done done) {
        cancel();
        errand_ = newErrand();
        runOnWorker([this, errand = errand_, work = std::make_shared<Work>(std::move(work)),
                     done = std::make_shared<Done>(std::move(done))] {
            const std::stop_token stop = errand->stop.get_token();
            if (stop.stop_requested()) {
                return;
            }
            const Post post = [errand](std::function<void()> call) { deliver(errand, std::move(call)); };
            auto value = std::make_shared<decltype((*work)(stop, post))>((*work)(stop, post));
            post([this, value = std::move(value), done] {
                errand_.reset();
                (*done)(std::move(*value));
            });
        });
    }

    /// Asks the work to stop and drops whatever it still gives.
    void cancel();
    bool isBusy() const { return errand_ != nullptr; }

private:
    /// One start, shared with its worker.
    struct Errand {
        std::stop_source stop;
        bool isWanted = true; ///< the interface thread's alone
    };
    static std::shared_ptr<Errand> newErrand();
    static void deliver(std::shared_ptr<Errand> errand, std::function<void()> call);

    std::shared_ptr<Errand> errand_; ///< null: nothing is under way
};

} // namespace scorrere::render
