// SPDX-License-Identifier: GPL-3.0-or-later
// The part of Cutaway that has to do with fingers, and with keys that mean an item.
#include "workbench/ui/flow/cutaway.h"

#include "render/scroll_input.h"

#include <QKeyEvent>
#include <QPainter>
#include <QTouchEvent>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr qint64 kTypedTogetherUs = 1'000'000; ///< keys within this go on with the title that was begun
constexpr qint64 kTrailUs = 600'000;
constexpr double kFinger = 17; ///< px, as large as a finger's tip is taken to be

} // namespace

/// One finger is a pointer; what others do meanwhile is nothing to it.
bool Cutaway::takesTouch(QTouchEvent* event) {
    if (live_ == nullptr) {
        return false;
    }
    event->accept();
    if (event->type() == QEvent::TouchCancel) {
        touch_.reset();
        live_->hands().cancel(driver_.nowUs());
        Q_EMIT gestured();
        return true;
    }
    for (const QEventPoint& point : event->points()) {
        const QPointF at = inWindow(point.position());
        if (point.state() == QEventPoint::Pressed && !touch_) {
            touch_ = point.id();
            live_->press(driver_.nowUs(), at, render::reachOf(event->modifiers()));
        } else if (touch_ == point.id() && point.state() == QEventPoint::Updated) {
            live_->move(driver_.nowUs(), at);
        } else if (touch_ == point.id() && point.state() == QEventPoint::Released) {
            touch_.reset();
            live_->release(driver_.nowUs());
        } else {
            continue;
        }
        Q_EMIT gestured();
    }
    return true;
}

/// While a record shows at length keys mean that.
bool Cutaway::keyOverDetail(const QKeyEvent& event) {
    render::LiveDetail& detail = live_->detail();
    if (!detail.isOpen()) {
        return false;
    }
    const Length line = Length::px(48);
    const qint64 now = driver_.nowUs();
    switch (event.key()) {
    case Qt::Key_Escape:
    case Qt::Key_Backspace:
    case Qt::Key_Back:
        detail.close(now);
        return true;
    case Qt::Key_PageUp:
    case Qt::Key_Left:
        (void)detail.step(false, now);
        return true;
    case Qt::Key_PageDown:
    case Qt::Key_Right:
        (void)detail.step(true, now);
        return true;
    case Qt::Key_Up:
        detail.scroll(-line);
        return true;
    case Qt::Key_Down:
        detail.scroll(line);
        return true;
    default:
        return false;
    }
}

/// Return goes into the items, to the first that shows; from then on keys mean the one that has them, until Esc.
bool Cutaway::keyInItems(const QKeyEvent& event) {
    render::LiveHands& hands = live_->hands();
    using Step = render::LiveHands::Step;
    const qint64 now = driver_.nowUs();
    const bool isReturn = event.key() == Qt::Key_Return || event.key() == Qt::Key_Enter;
    if (!hands.focused()) {
        return isReturn && hands.focusStep(Step::On, now);
    }
    const bool isCtrl = event.modifiers().testFlag(Qt::ControlModifier);
    const bool isShift = event.modifiers().testFlag(Qt::ShiftModifier);
    const render::AxisMap axis = live_->axis();
    const auto go = [&](Step step) {
        (void)hands.focusStep(step, now); // at an end it stays
        if (isShift) {
            hands.selectFocused(render::LiveHands::Reach::Range);
        }
        return true;
    };
    const bool isOnward = event.key() == Qt::Key_Down || (event.key() == Qt::Key_Right) != axis.isMirrored;
    switch (event.key()) {
    case Qt::Key_Up:
    case Qt::Key_Down:
        return isCtrl            ? go(isOnward ? Step::SectionOn : Step::SectionBack)
               : axis.isSideways ? go(isOnward ? Step::On : Step::Back)
                                 : go(isOnward ? Step::LineOn : Step::LineBack);
    case Qt::Key_Left:
    case Qt::Key_Right:
        return axis.isSideways ? go(isOnward ? Step::LineOn : Step::LineBack)
                               : go(isOnward ? Step::On : Step::Back);
    case Qt::Key_Home:
        return go(Step::First);
    case Qt::Key_End:
        return go(Step::Last);
    case Qt::Key_PageUp:
    case Qt::Key_PageDown: {
        const auto showing = std::ranges::count_if(live_->run().placements(), &Placement::showing);
        bool isThere = true;
        for (std::int64_t i = 1; i < showing && isThere; ++i) {
            isThere = hands.focusStep(event.key() == Qt::Key_PageDown ? Step::On : Step::Back, now);
        }
        return true;
    }
    case Qt::Key_Return:
    case Qt::Key_Enter:
        hands.tapFocused(now);
        return true;
    case Qt::Key_Space:
        if (!typed_.isEmpty() && now - typedUs_ < kTypedTogetherUs) {
            return typeTitle(event.text());
        }
        hands.selectFocused(isShift ? render::LiveHands::Reach::Range : render::LiveHands::Reach::More);
        return true;
    case Qt::Key_Delete:
        Q_EMIT removeWanted();
        return true;
    case Qt::Key_Escape:
        hands.stopSearching(); // what is found would have the focus again
        hands.focusNothing();
        return true;
    default:
        return !isCtrl && typeTitle(event.text());
    }
}

bool Cutaway::typeTitle(const QString& text) {
    if (text.isEmpty() || !text.at(0).isPrint()) {
        return false;
    }
    const qint64 now = driver_.nowUs();
    const bool isGoingOn = !typed_.isEmpty() && now - typedUs_ < kTypedTogetherUs;
    typed_ = isGoingOn ? typed_ + text : text;
    typedUs_ = now;
    (void)live_->hands().focusTitled(typed_, now, isGoingOn);
    return true;
}

/// Where the pointer is in the window, and the way it came, fading.
void Cutaway::paintFinger(QPainter& painter) {
    const auto& samples = live_->hands().log().samples();
    const qint64 now = driver_.nowUs();
    const double k = scale();
    const QPointF corner = windowRect().topLeft();
    QColor ink = look_.accent;
    for (std::size_t i = samples.size(); i-- > 1;) {
        const PointerSample& sample = samples[i];
        const qint64 age = now - sample.timeUs;
        if (age > kTrailUs || sample.what == PointerSample::What::Down) {
            break;
        }
        ink.setAlphaF(0.5F * (1 - static_cast<float>(age) / static_cast<float>(kTrailUs)));
        painter.setPen(QPen(ink, 5 * k, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(corner + QPointF(samples[i - 1].x, samples[i - 1].y) * k,
                         corner + QPointF(sample.x, sample.y) * k);
    }
    if (const auto& at = live_->hands().finger()) {
        ink = look_.accent;
        painter.setPen(QPen(ink, 2));
        ink.setAlphaF(0.3F);
        painter.setBrush(ink);
        painter.drawEllipse(corner + *at * k, kFinger * k, kFinger * k);
    }
}

} // namespace scorrere::workbench
