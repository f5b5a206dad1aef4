// SPDX-License-Identifier: Apache-2.0
#include "render/frame_driver.h"

namespace scorrere::render {

FrameDriver::FrameDriver(QObject* parent) : QObject(parent) {
    real_.start();
    timer_.setTimerType(Qt::PreciseTimer);
    setFramePeriodUs(periodUs_);
    connect(&timer_, &QTimer::timeout, this, [this] { Q_EMIT frameDue(nowUs()); });
}

std::int64_t FrameDriver::nowUs() const {
    return virtual_ || paused_ ? baseUs_ : baseUs_ + real_.nsecsElapsed() / 1000 / slowness_;
}

void FrameDriver::rebase() {
    baseUs_ = nowUs();
    real_.restart();
}

void FrameDriver::setVirtual(bool on) {
    rebase();
    virtual_ = on;
    baseUs_ = on ? 0 : baseUs_; // what is played by hand starts at nought, every time
    timer_.stop();
}

void FrameDriver::advance(std::int64_t us) {
    baseUs_ += us;
    Q_EMIT frameDue(baseUs_);
}

void FrameDriver::setPaused(bool paused) {
    rebase();
    paused_ = paused;
    if (paused) {
        timer_.stop();
    } else {
        want();
    }
}

void FrameDriver::step() {
    if (paused_) {
        advance(periodUs_);
    }
}

void FrameDriver::setSlowness(int times) {
    rebase();
    slowness_ = times;
}

void FrameDriver::setFramePeriodUs(std::int64_t us) {
    periodUs_ = us;
    timer_.setInterval(static_cast<int>(us / 1000));
}

void FrameDriver::want() {
    if (!virtual_ && !paused_ && !timer_.isActive()) {
        timer_.start();
    }
}

void FrameDriver::rest() {
    timer_.stop();
}

} // namespace scorrere::render

#include "moc_frame_driver.cpp"
