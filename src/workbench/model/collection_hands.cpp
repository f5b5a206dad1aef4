// SPDX-License-Identifier: GPL-3.0-or-later
// The part of CollectionRunner that has to do with hands: what taps, gestures and actions do in its windows.
#include "workbench/model/collection_runner.h"

namespace scorrere::workbench {

/// Does what hands want of a window.
void CollectionRunner::handle(render::LiveCollection& live) {
    render::LiveHands& hands = live.hands();
    const auto act = [this, &live](const QString& action, const render::HandItem& item) {
        hands_.perform(live, action, item, driver_.nowUs());
    };
    connect(&hands, &render::LiveHands::acted, this, act);
    connect(&live.detail(), &render::LiveDetail::acted, this, act);
    connect(&hands, &render::LiveHands::tapped, this,
            [this, &live](QPointF at, render::LiveHands::Reach reach) {
                if (QRectF(QPointF(), live.whole()).contains(at)) {
                    takeTap(live, at, reach);
                }
            });
    connect(&hands, &render::LiveHands::setDownAt, this,
            [this, &live](const render::HandItem& item,
                          const std::vector<std::pair<std::string, std::string>>& takesOver) {
                hands_.setDown(live, item, takesOver);
            });
    connect(&hands, &render::LiveHands::liftRefused, this,
            [this](const QString& why) { Q_EMIT noticed(Notice::told(why)); });
    connect(&hands, &render::LiveHands::logged, this, &CollectionRunner::handled);
    connect(&hands, &render::LiveHands::selectionChanged, this, &CollectionRunner::selectionChanged);
    connect(&hands, &render::LiveHands::titleFound, this, &CollectionRunner::titleFound);
    connect(&hands, &render::LiveHands::searchChanged, this, &CollectionRunner::searchChanged);
}

void CollectionRunner::takeTap(render::LiveCollection& live, QPointF at, render::LiveHands::Reach reach) {
    if (live.tapMark(at, driver_.nowUs())) {
        return;
    }
    const auto tap = live.tapAt(at.x(), at.y());
    if (!tap) {
        return live.hands().tapItem(at, reach);
    }
    const auto item = live.hands().itemAt(at);
    if (tap->action == "lift" && live.hands().spec().lift == HandsSpec::Lift::Handle) {
        return; // a handle that was pressed and not moved
    }
    if (tap->isState && tap->action == "retry" && !staged_) {
        retry();
    } else if (tap->isState && tap->action == "refresh" && !staged_) {
        refresh();
    } else if (tap->section >= 0 && tap->action == "fold") {
        turnFold(tap->section);
    } else if (item && item->isRecord && tap->entry < 0 &&
               !actionNamed(workspace_.document().actions, tap->action).steps.empty()) {
        hands_.perform(live, QString::fromStdString(tap->action), *item, driver_.nowUs());
    } else {
        Q_EMIT tapTold(*tap);
    }
}

} // namespace scorrere::workbench
