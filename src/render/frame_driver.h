// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <cstdint>

namespace scorrere::render {

/// The run's clock: real time, slowed down, stopped and stepped frame by frame, or driven by hand.
///
/// Units       Microseconds since it was made, as the run sees them.
/// Threads     The interface thread.
class FrameDriver : public QObject {
    Q_OBJECT
public:
    explicit FrameDriver(QObject* parent = nullptr);

    /// Frames come by themselves while wanted (the default), or only by advance(), from time 0 on.
    void setVirtual(bool on);
    /// Virtual: moves the clock on by that much and makes a frame.
    void advance(std::int64_t us);
    void setPaused(bool paused);
    bool isPaused() const { return paused_; }
    /// Paused: one frame on, by one frame's time.
    void step();
    /// How many times slower than real time; 1 is real time.
    void setSlowness(int times);
    int slowness() const { return slowness_; }
    void setFramePeriodUs(std::int64_t us);
    std::int64_t framePeriodUs() const { return periodUs_; }
    std::int64_t nowUs() const;

public Q_SLOTS:
    /// Asks for frames until one reports idle.
    void want();
    /// The last frame found nothing left to do.
    void rest();

Q_SIGNALS:
    void frameDue(std::int64_t timeUs);

private:
    void rebase();

    QTimer timer_;
    QElapsedTimer real_;
    std::int64_t baseUs_ = 0;
    std::int64_t periodUs_ = 8333;
    int slowness_ = 1;
    bool paused_ = false;
    bool virtual_ = false;
};

} // namespace scorrere::render
