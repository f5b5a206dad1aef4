// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/script_player.h"

#include "engine/page/page_rules.h"

#include <algorithm>
#include <iterator>

namespace scorrere::workbench {

namespace {

/// Where a scripted finger comes down: any place will do, only its way counts.
constexpr double kFinger = 400;
constexpr double kTapMs = 60;
constexpr double kRestMs = 120;        ///< it stands still before it is gone: no fling
constexpr std::int64_t kWaitMs = 1000; ///< for how long something moves on, about

} // namespace

ScriptPlayer::ScriptPlayer(const Script& script, ScriptTarget& target) : script_(script), target_(target) {
    wholeMs_ = partMs(0);
    for (std::size_t i = 0; i < script_.steps.size(); ++i) {
        wholeMs_ += script_.steps[i].action == ScriptAction::WaitIdle ? partMs(i + 1) : 0;
    }
}

std::int64_t ScriptPlayer::partMs(std::size_t first) const {
    const auto from = script_.steps.begin() + static_cast<std::ptrdiff_t>(first);
    const auto wait = std::find_if(from, script_.steps.end(), [](const ScriptStep& step) {
        return step.action == ScriptAction::WaitIdle;
    });
    const std::int64_t lastMs = wait == from ? 0 : std::prev(wait)->atMs;
    return kWaitMs + (wait == script_.steps.end() ? std::max(lastMs, script_.lastsMs) : lastMs);
}

double ScriptPlayer::share() const {
    const std::int64_t sinceMs =
        std::min((nowUs_ - std::max(originUs_, std::int64_t{0})) / 1000, partMs(part_));
    return over_ ? 1
                 : static_cast<double>(doneMs_ + std::max(sinceMs, std::int64_t{0})) /
                       static_cast<double>(wholeMs_);
}

void ScriptPlayer::moveDrag(std::int64_t timeUs) {
    const double share =
        std::min(1.0, static_cast<double>(timeUs - drag_.startUs) / static_cast<double>(drag_.lastsUs));
    ScrollMotion& motion = target_.run().motion();
    motion.drag(timeUs, Length::fromPx(kFinger + drag_.by * share));
    if (share >= 1) {
        motion.letGo(timeUs);
        drag_.on = false;
    }
}

void ScriptPlayer::doStep(const ScriptStep& step, std::int64_t timeUs) {
    Run& run = target_.run();
    const auto at = static_cast<std::int64_t>(step.a);
    switch (step.action) {
    case ScriptAction::Drag:
        drag_ = {true, step.a, timeUs, std::max<std::int64_t>(1, static_cast<std::int64_t>(step.b * 1000))};
        run.motion().press(timeUs, Length::fromPx(kFinger));
        break;
    case ScriptAction::Fling:
        run.motion().fling(step.a, timeUs);
        break;
    case ScriptAction::Wheel:
        run.wheel(Length::fromPx(step.a));
        break;
    case ScriptAction::Key:
        run.key(static_cast<KeyStep>(at));
        break;
    case ScriptAction::Jump:
        run.jumpTo(at);
        break;
    case ScriptAction::Map:
        run.travelTo(Length::fromPx(step.a * run.total().toPx()));
        break;
    case ScriptAction::Rotate:
        target_.turn();
        break;
    case ScriptAction::Resize:
        target_.resizeWindow(step.a, step.b);
        break;
    case ScriptAction::TextScale:
        target_.scaleText(step.a);
        break;
    case ScriptAction::Insert: {
        const auto record = static_cast<std::int64_t>(step.b);
        const std::int64_t place = std::min(at, run.arrangement().recordCount());
        const std::int64_t count =
            std::min({static_cast<std::int64_t>(step.c), target_.recordCount() - record,
                      kMostRecords - run.arrangement().recordCount()});
        if (count > 0) {
            target_.insertRecords(place, record, count);
        }
        break;
    }
    case ScriptAction::Remove: {
        const std::int64_t count =
            std::min(static_cast<std::int64_t>(step.b), run.arrangement().recordCount() - at);
        if (count > 0) {
            target_.removeRecords(at, count);
        }
        break;
    }
    case ScriptAction::Order:
        target_.orderRecords(*step.order);
        break;
    case ScriptAction::Edit:
        target_.editRecord(*step.edit);
        break;
    case ScriptAction::Tap:
    case ScriptAction::DoubleTap:
    case ScriptAction::Press:
    case ScriptAction::Swipe:
    case ScriptAction::Lift:
    case ScriptAction::Hover:
    case ScriptAction::Select:
    case ScriptAction::Type:
        beginHand(step, timeUs);
        break;
    case ScriptAction::WaitIdle:
        break;
    }
}

/// A finger's way, from when it comes down until it is gone.
void ScriptPlayer::beginHand(const ScriptStep& step, std::int64_t timeUs) {
    render::LiveCollection* live = target_.touched();
    if (live == nullptr) {
        return;
    }
    const HandStep& hand = *step.hand;
    render::LiveHands& hands = live->hands();
    if (step.action == ScriptAction::Type) {
        (void)hands.focusTitled(QString::fromStdString(hand.text), timeUs);
        return;
    }
    const bool isHandle = step.action == ScriptAction::Lift && hands.spec().lift == HandsSpec::Lift::Handle;
    const auto at =
        hand.key.empty() ? std::optional(QPointF(hand.x, hand.y)) : hands.pointOf(hand.key, isHandle);
    if (!at) {
        return; // no item any more, or it does not show
    }
    if (step.action == ScriptAction::Hover) {
        return hands.hover(*at);
    }
    if (step.action == ScriptAction::Select) {
        const auto item = hands.itemAt(*at);
        return item && item->isRecord ? hands.select(*item, hand.isRange  ? render::LiveHands::Reach::Range
                                                            : hand.isMore ? render::LiveHands::Reach::More
                                                                          : render::LiveHands::Reach::Alone)
                                      : void();
    }
    using What = PointerSample::What;
    const auto add = [&](What what, double afterMs, QPointF point) {
        pointer_.push_back(
            {what, timeUs + static_cast<std::int64_t>(afterMs * 1000), 0, point.x(), point.y()});
    };
    const auto moveTo = [&](double fromMs, double forMs, QPointF to) {
        constexpr int kMoves = 24;
        for (int i = 1; i <= kMoves; ++i) {
            add(What::Moved, fromMs + forMs * i / kMoves, *at + (to - *at) * i / kMoves);
        }
    };
    const auto pressMs = static_cast<double>(hands.spec().times.pressMs);
    add(What::Down, 0, *at);
    switch (step.action) {
    case ScriptAction::DoubleTap:
        add(What::Up, kTapMs, *at);
        add(What::Down, kTapMs * 2, *at);
        add(What::Up, kTapMs * 3, *at);
        break;
    case ScriptAction::Press:
        add(What::Up, pressMs + kTapMs, *at);
        break;
    case ScriptAction::Swipe: {
        const QPointF to = *at + (live->axis().isSideways ? QPointF(0, hand.by) : QPointF(hand.by, 0));
        moveTo(0, hand.forMs, to);
        add(What::Up, hand.forMs + kRestMs, to);
        break;
    }
    case ScriptAction::Lift: {
        const double taken = isHandle ? kTapMs : pressMs + kTapMs;
        const QPointF to = hands.pointOf(hand.to, isHandle).value_or(*at);
        moveTo(taken, hand.forMs, to);
        add(What::Up, taken + hand.forMs + kRestMs, to);
        break;
    }
    default:
        add(What::Up, kTapMs, *at);
    }
    playHand(timeUs);
}

void ScriptPlayer::playHand(std::int64_t timeUs) {
    render::LiveCollection* live = target_.touched();
    while (live != nullptr && !pointer_.empty() && pointer_.front().timeUs <= timeUs) {
        const PointerSample sample = pointer_.front();
        pointer_.pop_front();
        const QPointF at(sample.x, sample.y);
        sample.what == PointerSample::What::Down    ? live->press(sample.timeUs, at)
        : sample.what == PointerSample::What::Moved ? live->move(sample.timeUs, at)
                                                    : live->release(sample.timeUs);
    }
}

void ScriptPlayer::advanceTo(std::int64_t timeUs) {
    if (originUs_ < 0) {
        originUs_ = timeUs;
    }
    nowUs_ = timeUs;
    if (drag_.on) {
        moveDrag(timeUs);
    }
    playHand(timeUs);
    while (next_ < script_.steps.size()) {
        const ScriptStep& step = script_.steps[next_];
        if (step.action == ScriptAction::WaitIdle) {
            if (drag_.on || !pointer_.empty() || !target_.isIdle()) {
                return;
            }
            originUs_ = timeUs;
            doneMs_ += partMs(part_);
            part_ = next_ + 1;
        } else if (timeUs - originUs_ < step.atMs * 1000) {
            return;
        }
        ++next_;
        doStep(step, timeUs);
    }
    over_ = !drag_.on && pointer_.empty() && timeUs - originUs_ >= script_.lastsMs * 1000 && target_.isIdle();
}

} // namespace scorrere::workbench
