// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/job.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QImage>
#include <QPainter>
#include <QPainterPath>
#include <QTest>
#include <QThreadPool>
#include <atomic>
#include <condition_variable>
#include <future>
#include <gtest/gtest.h>
#include <mutex>
#include <sys/resource.h>
#include <unistd.h>

namespace scorrere::render {
namespace {

/// Work that goes on until it is let go.
class Gate {
public:
    void wait() {
        std::unique_lock lock(mutex_);
        ++waiting_;
        changed_.notify_all();
        changed_.wait(lock, [this] { return isOpen_; });
    }
    void open() {
        const std::lock_guard lock(mutex_);
        isOpen_ = true;
        changed_.notify_all();
    }
    void untilWaiting(int count) {
        std::unique_lock lock(mutex_);
        changed_.wait(lock, [this, count] { return waiting_ >= count; });
    }

private:
    std::mutex mutex_;
    std::condition_variable changed_;
    int waiting_ = 0;
    bool isOpen_ = false;
};

/// Every worker of the pool is busy until this goes.
class PoolHeld {
public:
    PoolHeld() {
        for (int i = 0; i < kMore; ++i) {
            runOnWorker([gate = gate_] { gate->wait(); });
        }
        gate_->untilWaiting(1);
    }
    ~PoolHeld() { gate_->open(); }

private:
    static constexpr int kMore = 64;
    std::shared_ptr<Gate> gate_ = std::make_shared<Gate>();
};

TEST(Job, GivesItsResultOnTheInterfaceThread) {
    Job job;
    int got = 0;
    QThread* on = nullptr;
    job.start([](std::stop_token, const Job::Post&) { return 42; },
              [&](int value) {
                  got = value;
                  on = QThread::currentThread();
              });
    EXPECT_TRUE(job.isBusy());
    ASSERT_TRUE(QTest::qWaitFor([&] { return got != 0; }));
    EXPECT_EQ(got, 42);
    EXPECT_EQ(on, QThread::currentThread());
    EXPECT_FALSE(job.isBusy());
}

TEST(Job, OneThatIsDroppedIsNotWaitedFor) {
    auto gate = std::make_shared<Gate>();
    bool came = false;
    {
        Job job;
        job.start(
            [gate](std::stop_token, const Job::Post& post) {
                gate->wait();
                post([] { ADD_FAILURE() << "nothing arrives after"; });
                return 1;
            },
            [&](int) { came = true; });
        gate->untilWaiting(1);
    } // were it waited for, this would never end: the gate is shut
    gate->open();
    QCoreApplication::processEvents();
    EXPECT_FALSE(came);
}

TEST(Job, OneThatNeverBeganIsNotWaitedForEither) {
    const PoolHeld held;
    auto ran = std::make_shared<std::atomic<bool>>(false);
    {
        Job job;
        job.start(
            [ran](std::stop_token, const Job::Post&) {
                *ran = true;
                return 1;
            },
            [](int) {});
    }
    EXPECT_FALSE(*ran);
}

TEST(Job, ANewStartDropsTheOneBefore) {
    Job job;
    auto gate = std::make_shared<Gate>();
    QList<int> got;
    job.start(
        [gate](std::stop_token stop, const Job::Post&) {
            gate->wait();
            return stop.stop_requested() ? 1 : 2;
        },
        [&](int value) { got << value; });
    job.start([](std::stop_token, const Job::Post&) { return 3; }, [&](int value) { got << value; });
    gate->open();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !job.isBusy(); }));
    EXPECT_EQ(got, QList<int>{3});
}

TEST(Job, TheToolkitsThreadsAreNotAsNiceAsWorkers) {
    startWorkers();
    std::promise<int> nice;
    runOnWorker([&nice] { // as scaling a picture does
        QThreadPool::globalInstance()->start(
            [&nice] { nice.set_value(getpriority(PRIO_PROCESS, static_cast<id_t>(gettid()))); });
    });
    EXPECT_EQ(nice.get_future().get(), getpriority(PRIO_PROCESS, static_cast<id_t>(gettid())));
}

TEST(Job, PromptWorkIsDoneWhereNothingIsNice) {
    startWorkers();
    struct Where {
        QThread* thread;
        int nice;
    };
    const auto here = [] {
        return Where{QThread::currentThread(), getpriority(PRIO_PROCESS, static_cast<id_t>(gettid()))};
    };
    std::promise<std::pair<Where, Where>> told;
    runOnWorker([&] {
        Where prompt{};
        runPromptly([&] { prompt = here(); });
        told.set_value({here(), prompt});
    });
    const auto [worker, prompt] = told.get_future().get();
    EXPECT_GT(worker.nice, here().nice);
    EXPECT_EQ(prompt.nice, here().nice);
    EXPECT_NE(prompt.thread, worker.thread);
    EXPECT_NE(prompt.thread, QThread::currentThread());
    Where own{};
    runPromptly([&] { own = here(); });
    EXPECT_EQ(own.thread, QThread::currentThread()) << "the interface waits for nobody";
}

TEST(Job, TheToolkitsPoolIsLeftToTheToolkit) {
    const PoolHeld held;
    // Its painter fills large areas on that pool and waits for them: were jobs there, this would never end.
    QImage screen(4000, 3000, QImage::Format_ARGB32_Premultiplied);
    QPainter painter(&screen);
    QLinearGradient gradient(0, 0, 4000, 3000);
    gradient.setColorAt(0, Qt::white);
    gradient.setColorAt(1, Qt::darkGreen);
    painter.fillRect(screen.rect(), gradient);
    painter.end();
    screen = screen.convertToFormat(QImage::Format_RGB32);
    EXPECT_NE(screen.pixel(0, 0), screen.pixel(3999, 2999));
}

} // namespace
} // namespace scorrere::render
