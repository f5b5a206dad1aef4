// SPDX-License-Identifier: Apache-2.0
#include "render/job.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QEvent>
#include <QMetaObject>
#include <QThread>
#include <QThreadPool>
#include <algorithm>
#include <atomic>
#include <latch>
#include <memory>
#include <optional>
#include <sys/resource.h>
#include <unistd.h>
#include <vector>

namespace scorrere::render {

namespace {

constexpr int kPictureWorkers = 2;
constexpr int kLeastJobWorkers = 4; ///< one that waits for a disk or a service must not hold up the others

std::atomic<int> livingThreads{0};

/// Never destroyed: a worker that does not end must not hold the program's end up, nor meet a pool in ruins.
QThreadPool& pool(Workers which) {
    static QThreadPool* const jobs = [] {
        auto* made = new QThreadPool;
        made->setMaxThreadCount(std::max(kLeastJobWorkers, QThread::idealThreadCount()));
        made->setExpiryTimeout(-1); // fonts are loaded by each thread for itself
        return made;
    }();
    static QThreadPool* const pictures = [] {
        auto* made = new QThreadPool;
        made->setMaxThreadCount(kPictureWorkers);
        return made;
    }();
    return which == Workers::Jobs ? *jobs : *pictures;
}

QThreadPool& promptPool() {
    static QThreadPool* const made = [] {
        auto* one = new QThreadPool;
        one->setMaxThreadCount(1);
        return one;
    }();
    return *made;
}

/// Where calls for the interface thread arrive.
QObject* mail() {
    static auto* const box = new QObject; // lives on the thread that asks first, as long as the process
    return box;
}

/// Starts all threads of a pool, and has them stay. A thread is as nice as the one that started it: were it
/// a worker of ours, scaling a picture, the painter would wait for threads that everybody pushes aside.
void startAll(QThreadPool& of) {
    of.setExpiryTimeout(-1);
    const int count = of.maxThreadCount();
    const auto together = std::make_shared<std::latch>(count);
    for (int i = 0; i < count; ++i) {
        of.start([together] { together->arrive_and_wait(); });
    }
}

/// What jobs that may still run stop by. The interface thread's alone.
std::vector<std::weak_ptr<std::stop_source>>& started() {
    static std::vector<std::weak_ptr<std::stop_source>> sources;
    return sources;
}

} // namespace

void workInBackground() {
    // The toolkit's thread priorities mean nothing to the usual scheduler; niceness is a thread's own on
    // Linux. Nicer still, and a worker that others push aside keeps what it has locked in the kernel for
    // long.
    (void)setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), 7);
}

void runOnWorker(std::function<void()> work, Workers which) {
    pool(which).start([work = std::optional<HandOver>(std::move(work))]() mutable {
        workInBackground();
        (*work)();
        work.reset(); // what it owned ends here, not with the pool's next turn
    });
}

void runPromptly(const std::function<void()>& work) {
    const QCoreApplication* app = QCoreApplication::instance();
    if (app == nullptr || QThread::currentThread() == app->thread()) {
        work();
        return;
    }
    const HandOver call(work);
    const auto done = std::make_shared<std::latch>(1);
    promptPool().start([call, done] {
        call();
        done->count_down();
    });
    done->wait();
}

void startWorkers() {
    static const bool isReady = [] {
        (void)mail();
        startAll(*QThreadPool::globalInstance()); // the toolkit's painters
        startAll(promptPool());
        return true;
    }();
    (void)isReady;
}

void takeMail() {
    QCoreApplication::sendPostedEvents(mail(), QEvent::MetaCall);
}

void runOnInterface(std::function<void()> call) {
    QMetaObject::invokeMethod(mail(), HandOver(std::move(call)), Qt::QueuedConnection);
}

LivingThread::LivingThread() {
    ++livingThreads;
}
LivingThread::~LivingThread() {
    --livingThreads;
}

bool finishWorkers(int timeoutMs) {
    QElapsedTimer clock;
    clock.start();
    for (const auto& one : started()) {
        if (const auto source = one.lock()) {
            source->request_stop();
        }
    }
    bool ended = true;
    for (const Workers which : {Workers::Jobs, Workers::Pictures}) {
        pool(which).clear();
        ended = pool(which).waitForDone(std::max(0, timeoutMs - static_cast<int>(clock.elapsed()))) && ended;
    }
    while (livingThreads > 0 && clock.elapsed() < timeoutMs) {
        QThread::msleep(2);
    }
    return ended && livingThreads == 0;
}

std::shared_ptr<Job::Errand> Job::newErrand() {
    auto errand = std::make_shared<Errand>();
    std::erase_if(started(), [](const auto& source) { return source.expired(); });
    started().push_back(std::shared_ptr<std::stop_source>(errand, &errand->stop));
    return errand;
}

void Job::deliver(std::shared_ptr<Errand> errand, std::function<void()> call) {
    runOnInterface([errand = std::move(errand), call = std::move(call)]() mutable {
        if (errand->isWanted) {
            call();
        } else {
            disposeElsewhere(std::move(call)); // it may hold a million records
        }
    });
}

void Job::cancel() {
    if (errand_) {
        errand_->isWanted = false;
        errand_->stop.request_stop();
        errand_.reset();
    }
}

} // namespace scorrere::render

#include "moc_job.cpp"
