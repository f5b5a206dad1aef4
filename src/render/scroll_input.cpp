// SPDX-License-Identifier: Apache-2.0
#include "render/scroll_input.h"

namespace scorrere::render {

void ScrollInput::wheel(const QWheelEvent& event, Run& run, double scale) {
    const double px = !event.pixelDelta().isNull() ? event.pixelDelta().y() / scale : event.angleDelta().y();
    run.wheel(Length::fromPx(-px));
}

bool ScrollInput::key(const QKeyEvent& event, Run& run) {
    switch (event.key()) {
    case Qt::Key_Up:
        run.key(KeyStep::LineBack);
        return true;
    case Qt::Key_Down:
        run.key(KeyStep::LineOn);
        return true;
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

void ScrollInput::press(Run& run, std::int64_t timeUs, double y, double scale) {
    run.motion().press(timeUs, Length::fromPx(y / scale));
}

void ScrollInput::move(Run& run, std::int64_t timeUs, double y, double scale) {
    run.motion().drag(timeUs, Length::fromPx(y / scale));
}

void ScrollInput::release(Run& run, std::int64_t timeUs) {
    run.motion().letGo(timeUs);
}

} // namespace scorrere::render
