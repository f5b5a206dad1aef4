// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/low_fills.h"

#include <QImage>
#include <QThreadPool>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <gtest/gtest.h>
#include <mutex>
#include <thread>

namespace scorrere::workbench {
namespace {

constexpr int kTall = 700;

QImage painted(const std::function<void(QPainter&)>& paint) {
    QImage image(200, kTall, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    paint(painter);
    return image;
}

/// Every thread of the toolkit's painter is taken; let go of in the end, or after so long that a test that
/// waits for them fails rather than hangs.
class PaintersHeld {
public:
    PaintersHeld() {
        QThreadPool& pool = *QThreadPool::globalInstance();
        for (int i = 0; i < pool.maxThreadCount(); ++i) {
            pool.start([this] {
                std::unique_lock lock(mutex_);
                if (!changed_.wait_for(lock, std::chrono::seconds(4), [this] { return isOver_; })) {
                    ranOut_ = true;
                }
            });
        }
    }
    ~PaintersHeld() {
        {
            const std::lock_guard lock(mutex_);
            isOver_ = true;
        }
        changed_.notify_all();
        QThreadPool::globalInstance()->waitForDone();
    }
    bool ranOut() const { return ranOut_; }

private:
    std::mutex mutex_;
    std::condition_variable changed_;
    bool isOver_ = false;
    std::atomic<bool> ranOut_ = false;
};

void paintAll(QPainter& painter) {
    fillLow(painter, QRectF(10, 5, 30, 690), QBrush(Qt::black, Qt::Dense6Pattern));
    fillLow(painter, QRectF(50, 5, 30, 690), QColor(200, 30, 30, 90));
    painter.setPen(QPen(QColor(20, 60, 160, 200), 1));
    painter.setBrush(QColor(20, 160, 60, 120));
    drawLowBox(painter, QRectF(90.5, 5.5, 40, 689), 5);
    painter.setBrush(Qt::NoBrush);
    drawLowBox(painter, QRectF(140.5, 5.5, 40, 689), 0);
}

TEST(LowFills, NeedNoThreadOfTheToolkitsPainter) {
    const PaintersHeld held;
    (void)painted(paintAll);
    EXPECT_FALSE(held.ranOut()) << "it waited for a thread";
}

TEST(LowFills, ATallFillIsWhatOneFillIs) {
    const QBrush dots(QColor(20, 60, 160), Qt::Dense6Pattern);
    for (const QBrush& brush : {QBrush(QColor(200, 30, 30, 90)), dots}) {
        const QRectF box(10, 5, 90, 690);
        EXPECT_EQ(painted([&](QPainter& painter) { fillLow(painter, box, brush); }),
                  painted([&](QPainter& painter) { painter.fillRect(box, brush); }));
    }
}

TEST(LowFills, ABoxIsARoundedBox) {
    const auto settings = [](QPainter& painter) {
        painter.setPen(QPen(QColor(20, 60, 160), 1));
        painter.setBrush(QColor(250, 220, 120, 200));
    };
    for (const double tall : {9.0, 40.0, 689.0}) {
        const QRectF box(10.5, 5.5, 120, tall);
        EXPECT_EQ(painted([&](QPainter& painter) {
                      settings(painter);
                      drawLowBox(painter, box, 5);
                  }),
                  painted([&](QPainter& painter) {
                      settings(painter);
                      painter.drawRoundedRect(box, 5, 5);
                  }))
            << tall;
    }
}

TEST(LowFills, ADashedBoxStaysDashed) {
    const auto dashed = [](QPainter& painter) {
        painter.setPen(QPen(Qt::black, 1, Qt::DashLine));
        drawLowBox(painter, QRectF(10.5, 5.5, 120, 300), 5);
    };
    const QImage image = painted(dashed);
    int changes = 0;
    for (int y = 20; y < 290; ++y) {
        changes += image.pixel(10, y) != image.pixel(10, y + 1) ? 1 : 0;
    }
    EXPECT_GT(changes, 20);
}

} // namespace
} // namespace scorrere::workbench
