// SPDX-License-Identifier: Apache-2.0
#include "render/scroll_input.h"

namespace scorrere::render {

void ScrollInput::wheel(const QWheelEvent& event, LiveCollection& live, double scale) {
    const bool isFine = !event.pixelDelta().isNull();
    const QPointF by = isFine ? QPointF(event.pixelDelta()) / scale : QPointF(event.angleDelta());
    const AxisMap axis = live.axis();
    const double px = axis.isSideways && by.x() != 0 ? axis.alongOf(by) : by.y();
    live.run().wheel(Length::fromPx(-px));
}

bool ScrollInput::key(const QKeyEvent& event, LiveCollection& live) {
    Run& run = live.run();
    const AxisMap axis = live.axis();
    const bool isStep = axis.isSideways ? event.key() == Qt::Key_Left || event.key() == Qt::Key_Right
                                        : event.key() == Qt::Key_Up || event.key() == Qt::Key_Down;
    if (isStep) {
        const bool isOn = event.key() == Qt::Key_Down ||
                          (event.key() == Qt::Key_Right) != (axis.isSideways && axis.isMirrored);
        run.key(isOn ? KeyStep::LineOn : KeyStep::LineBack);
        return true;
    }
    switch (event.key()) {
    case Qt::Key_PageUp:
        run.key(KeyStep::PageBack);
        return true;
    case Qt::Key_PageDown:
    case Qt::Key_Space:
        run.key(KeyStep::PageOn);
        return true;
    case Qt::Key_Home:
        run.key(KeyStep::ToStart);
        return true;
    case Qt::Key_End:
        run.key(KeyStep::ToEnd);
        return true;
    default:
        return false;
    }
}

void ScrollInput::press(LiveCollection& live, std::int64_t timeUs, QPointF at) {
    if (!live.pressJumpList(at)) {
        live.run().motion().press(timeUs, Length::fromPx(live.axis().alongOf(at)));
    }
}

void ScrollInput::move(LiveCollection& live, std::int64_t timeUs, QPointF at) {
    if (!live.dragJumpList(at)) {
        live.run().motion().drag(timeUs, Length::fromPx(live.axis().alongOf(at)));
    }
}

bool ScrollInput::release(LiveCollection& live, std::int64_t timeUs) {
    if (live.releaseJumpList()) {
        return false;
    }
    live.run().motion().letGo(timeUs);
    return true;
}

} // namespace scorrere::render
