// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/script_player.h"

#include "engine/page/page_rules.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

/// Where a scripted finger comes down: any place will do, only its way counts.
constexpr double kFinger = 400;

} // namespace

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
    case ScriptAction::WaitIdle:
        break;
    }
}

void ScriptPlayer::advanceTo(std::int64_t timeUs) {
    if (originUs_ < 0) {
        originUs_ = timeUs;
    }
    if (drag_.on) {
        moveDrag(timeUs);
    }
    while (next_ < script_.steps.size()) {
        const ScriptStep& step = script_.steps[next_];
        if (step.action == ScriptAction::WaitIdle) {
            if (drag_.on || !target_.isIdle()) {
                return;
            }
            originUs_ = timeUs;
        } else if (timeUs - originUs_ < step.atMs * 1000) {
            return;
        }
        ++next_;
        doStep(step, timeUs);
    }
    over_ = !drag_.on && timeUs - originUs_ >= script_.lastsMs * 1000 && target_.isIdle();
}

} // namespace scorrere::workbench
