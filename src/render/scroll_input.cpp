// SPDX-License-Identifier: Apache-2.0
#include "render/scroll_input.h"

#include <array>

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

namespace {

constexpr int kStrip = 0; ///< the one taker there is

GestureArena::At onScreen(QPointF at) {
    return {Length::fromPx(at.x()), Length::fromPx(at.y())};
}

/// Who may take a drag there, from the outermost in.
std::array<GestureTaker, 1> takersIn(LiveCollection& live) {
    Run& run = live.run();
    const AxisMap axis = live.axis();
    const bool isEndless = run.arrangement().circle() > Length{};
    const bool mayGoBack = isEndless || run.isPullable() || run.offset() > Length{};
    const bool mayGoOn = isEndless || run.offset() + run.window() < run.total();
    // What goes down or right brings what is before into the window; read from the right, what is behind.
    const bool isTurned = axis.isSideways && axis.isMirrored;
    GestureTaker strip{kStrip, axis.isSideways};
    strip.followsOn = isTurned ? mayGoOn : mayGoBack;
    strip.followsBack = isTurned ? mayGoBack : mayGoOn;
    strip.isFlying = run.motion().velocity() != 0 || run.motion().isGliding();
    return {strip};
}

void obey(LiveCollection& live) {
    ScrollMotion& motion = live.run().motion();
    const AxisMap axis = live.axis();
    for (const GestureCommand& command : live.gestures().takeCommands()) {
        const double px = command.at.toPx();
        const Length at = Length::fromPx(axis.alongOf(axis.isSideways ? QPointF(px, 0) : QPointF(0, px)));
        switch (command.what) {
        case GestureCommand::What::Press:
            motion.press(command.timeUs, at);
            break;
        case GestureCommand::What::Drag:
            motion.drag(command.timeUs, at);
            break;
        case GestureCommand::What::LetGo:
            motion.letGo(command.timeUs);
        }
    }
}

} // namespace

void ScrollInput::press(LiveCollection& live, std::int64_t timeUs, QPointF at) {
    if (!live.pressJumpList(at)) {
        live.gestures().press(timeUs, onScreen(at), takersIn(live));
        obey(live);
    }
}

void ScrollInput::move(LiveCollection& live, std::int64_t timeUs, QPointF at) {
    if (!live.dragJumpList(at)) {
        live.gestures().move(timeUs, onScreen(at), takersIn(live));
        obey(live);
    }
}

bool ScrollInput::release(LiveCollection& live, std::int64_t timeUs) {
    if (live.releaseJumpList()) {
        return false;
    }
    const bool isTap = live.gestures().release(timeUs);
    obey(live);
    return isTap;
}

} // namespace scorrere::render
