// SPDX-License-Identifier: Apache-2.0
#include "render/scroll_input.h"

namespace scorrere::render {

namespace {

constexpr Length kAcrossStep = Length::px(48);

} // namespace

GestureTaker takerOf(Run& run, const AxisMap& axis, int id) {
    const bool isEndless = run.arrangement().circle() > Length{};
    const bool mayGoBack = isEndless || run.isPullable() || run.offset() > Length{};
    const bool mayGoOn = isEndless || run.offset() + run.window() < run.total();
    // What goes down or right brings what is before into the window; read from the right, what is behind.
    const bool isTurned = axis.isSideways && axis.isMirrored;
    GestureTaker taker{id, axis.isSideways};
    taker.followsOn = isTurned ? mayGoOn : mayGoBack;
    taker.followsBack = isTurned ? mayGoBack : mayGoOn;
    taker.isFlying = run.motion().velocity() != 0 || run.motion().isGliding();
    return taker;
}

/// A strip within an item takes what goes along it, as far as it can follow.
bool ScrollInput::wheelWithin(LiveStrips::Strip* strip, QPointF by, bool isTurned) {
    if (strip == nullptr) {
        return false;
    }
    const AxisMap axis = strip->axis();
    const double px = !axis.isSideways ? by.y()
                      : by.x() != 0    ? axis.alongOf(by)
                      : isTurned       ? axis.alongOf(QPointF(by.y(), 0))
                                       : 0;
    Run& run = strip->run();
    const GestureTaker taker = takerOf(run, axis, WindowTakers::kWithin);
    const bool isOn = axis.isSideways && axis.isMirrored ? px < 0 : px > 0;
    if (px == 0 || !(isOn ? taker.followsOn : taker.followsBack)) {
        return false;
    }
    run.wheel(Length::fromPx(-px));
    return true;
}

void ScrollInput::wheel(const QWheelEvent& event, LiveCollection& live, double scale, QPointF at) {
    const bool isFine = !event.pixelDelta().isNull();
    const QPointF by = isFine ? QPointF(event.pixelDelta()) / scale : QPointF(event.angleDelta());
    const AxisMap axis = live.axis();
    const bool isTurned = event.modifiers().testFlag(Qt::ShiftModifier);
    if (live.detail().isOpen() && live.detail().box().contains(at)) {
        live.detail().scroll(Length::fromPx(-by.y()));
        return;
    }
    if (wheelWithin(live.stripAt(at), by, isTurned)) {
        return;
    }
    if (!axis.isSideways && live.run().acrossRoom() > Length{}) {
        const double across = by.x() != 0 || !isTurned ? by.x() : by.y();
        live.run().acrossMotion().push(Length::fromPx(axis.isMirrored ? across : -across));
        if (isTurned) {
            return;
        }
    }
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
    if ((event.key() == Qt::Key_Left || event.key() == Qt::Key_Right) && run.acrossRoom() > Length{}) {
        const bool isOn = (event.key() == Qt::Key_Right) != axis.isMirrored;
        run.acrossMotion().push(isOn ? kAcrossStep : -kAcrossStep);
        return true;
    }
    const bool isAside = event.key() == Qt::Key_Left || event.key() == Qt::Key_Right;
    if (LiveStrips::Strip* within = isAside ? live.strips().firstSideways() : nullptr) {
        const bool isOn = (event.key() == Qt::Key_Right) != within->axis().isMirrored;
        within->run().key(isOn ? KeyStep::LineOn : KeyStep::LineBack);
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

LiveHands::Reach reachOf(Qt::KeyboardModifiers modifiers) {
    return modifiers.testFlag(Qt::ShiftModifier)     ? LiveHands::Reach::Range
           : modifiers.testFlag(Qt::ControlModifier) ? LiveHands::Reach::More
                                                     : LiveHands::Reach::Alone;
}

} // namespace scorrere::render
