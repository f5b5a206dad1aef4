// SPDX-License-Identifier: Apache-2.0
#include "render/worker_slices.h"

#include "render/job.h"

#include <QThread>
#include <algorithm>
#include <condition_variable>
#include <memory>
#include <mutex>

namespace scorrere::render {

namespace {

constexpr int kMostHands = 8;

/// What hands share; one that comes late finds nothing left, and touches nothing else.
struct Shared {
    std::mutex mutex;
    std::condition_variable changed;
    std::int64_t next = 0;
    std::int64_t done = 0;
    std::int64_t count = 0;
    const std::function<void(std::int64_t, int)>* work = nullptr; ///< while any slice is left or under way

    void takeAll(int hand) {
        std::unique_lock lock(mutex);
        while (next < count) {
            const std::int64_t slice = next++;
            lock.unlock();
            (*work)(slice, hand);
            lock.lock();
            if (++done == count) {
                changed.notify_all();
            }
        }
    }
};

} // namespace

WorkerSlices::WorkerSlices() : hands_(std::clamp(QThread::idealThreadCount(), 1, kMostHands)) {}

void WorkerSlices::run(std::int64_t count, const std::function<void(std::int64_t slice, int hand)>& work) {
    const auto shared = std::make_shared<Shared>();
    shared->count = count;
    shared->work = &work;
    for (int hand = 1; hand < std::min<std::int64_t>(hands_, count); ++hand) {
        runOnWorker([shared, hand] { shared->takeAll(hand); });
    }
    shared->takeAll(0);
    std::unique_lock lock(shared->mutex);
    shared->changed.wait(lock, [&] { return shared->done == count; });
}

} // namespace scorrere::render
