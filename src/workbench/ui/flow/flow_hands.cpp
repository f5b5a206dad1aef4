// SPDX-License-Identifier: GPL-3.0-or-later
// The part of FlowStation that has to do with hands: what gestures and keys do to items, told and made again.
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/flow/gestures_instrument.h"
#include "workbench/ui/flow/instrument_side.h"

#include <QMenu>
#include <algorithm>

namespace scorrere::workbench {

void FlowStation::makeHandsActions() {
    connect(&runner_.hands(), &HandActions::noticed, this, &FlowStation::noticed);
    connect(&runner_.hands(), &HandActions::failed, this, &FlowStation::failAt);
    connect(&runner_, &CollectionRunner::tapTold, this, &FlowStation::tellTap);
    connect(&runner_, &CollectionRunner::selectionChanged, this, &FlowStation::tellSentence);
    connect(&runner_, &CollectionRunner::handled, this, [this] {
        instruments_->followGestures();
        tellGesture();
    });
    connect(&runner_, &CollectionRunner::titleFound, this, [this](bool isThere) {
        if (!isThere) {
            Q_EMIT noticed(Notice::told(tr("No item begins so.")));
        }
    });
    connect(&runner_.driver(), &render::FrameDriver::frameDue, this, &FlowStation::playOn);
    connect(&instruments_->gestures(), &GesturesInstrument::againWanted, this, &FlowStation::playAgain);
    addOwn(QStringLiteral("selectAllAction"), tr("Select all items that show"), QKeySequence(tr("Ctrl+A")),
           [this] {
               if (render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked()) {
                   if (live->hands().selection().mode() != SelectMode::Many) {
                       Q_EMIT noticed(Notice::told(tr("Say in the sentence that many can be selected.")));
                   }
                   live->hands().selectAll();
               }
           });
    addOwn(QStringLiteral("invertAction"), tr("Select those that are not, instead"),
           QKeySequence(tr("Ctrl+I")), [this] {
               if (render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked()) {
                   live->hands().selection().invert();
                   live->hands().selectionDone();
               }
           });
    addOwn(QStringLiteral("selectNoneAction"), tr("Select none"), QKeySequence(tr("Ctrl+Shift+A")), [this] {
        if (render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked()) {
            live->hands().selection().clear();
            live->hands().selectionDone();
        }
    });
    addOwn(QStringLiteral("intoItemsAction"),
           tr("Go into the items, to the first that shows (Esc leaves them)"), QKeySequence(tr("Shift+I")),
           [this] {
               if (render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked()) {
                   cutaway().setFocus();
                   if (!live->hands().focused()) {
                       (void)live->hands().focusStep(render::LiveHands::Step::On, runner_.driver().nowUs());
                   }
               }
           });
    addOwn(QStringLiteral("fingerAction"), tr("Show the finger, and the way it came"),
           QKeySequence(tr("Shift+H")), [this] {
               isFingerShown_ = !isFingerShown_;
               for (Cutaway* cutaway : std::as_const(cutaways_)) {
                   cutaway->setFingerShown(isFingerShown_);
               }
           });
}

/// A call that went with an action did not work: the item says so.
void FlowStation::failAt(const QString& key, const QString& why) {
    for (render::LiveCollection* live : runner_.windows()) {
        live->hands().sayOf(key.toStdString(), tr("✕ %1 did not work").arg(why), runner_.driver().nowUs());
    }
}

/// What hands could do with it, as a list.
void FlowStation::addActionsOf(QMenu& menu, render::LiveCollection& live, const render::HandItem& item) {
    const CollectionDocument& document = workspace().document();
    std::vector<std::string> names{document.hands.tap, document.hands.doubleTap, document.hands.press};
    names.insert(names.end(), document.hands.atStart.begin(), document.hands.atStart.end());
    names.insert(names.end(), document.hands.atEnd.begin(), document.hands.atEnd.end());
    std::vector<std::string> added{"remove"}; // stands below
    for (const std::string& name : names) {
        if (name.empty() || std::ranges::find(added, name) != added.end()) {
            continue;
        }
        added.push_back(name);
        QAction* action = menu.addAction(QString::fromStdString(titleOf(document.actions, name)));
        action->setObjectName(QStringLiteral("act_") + QString::fromStdString(name));
        connect(action, &QAction::triggered, this, [this, &live, name, item] {
            const std::int64_t place = live.hands().placeOfKey(item.key, item.record);
            if (place >= 0) {
                runner_.hands().perform(live, QString::fromStdString(name),
                                        live.hands().itemOf(live.run().arrangement().positionOf(place)),
                                        runner_.driver().nowUs());
            }
        });
    }
}

/// The same pointer, the same way, at the same pace, in what runs now.
void FlowStation::playAgain(const GestureEntry& entry) {
    render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked();
    if (live == nullptr) {
        return;
    }
    again_.clear();
    std::vector<PointerSample> one;
    for (const PointerSample& sample : live->hands().log().samples()) {
        if (sample.what == PointerSample::What::Down) {
            one.clear();
        }
        one.push_back(sample);
        if (sample.what == PointerSample::What::Up && one.front().timeUs <= entry.timeUs) {
            again_ = one;
        }
    }
    if (again_.empty() || again_.front().what != PointerSample::What::Down) {
        again_.clear();
        Q_EMIT noticed(
            Notice::told(tr("That was made by keys, or too long ago, to be made again by a pointer.")));
        return;
    }
    againUs_ = runner_.driver().nowUs() - again_.front().timeUs;
    runner_.driver().want();
}

void FlowStation::playOn() {
    render::LiveCollection* live = runner_.staged() ? nullptr : runner_.looked();
    const qint64 now = runner_.driver().nowUs();
    std::size_t played = 0;
    while (live != nullptr && played < again_.size() && again_[played].timeUs + againUs_ <= now) {
        const PointerSample& sample = again_[played++];
        const QPointF at(sample.x, sample.y);
        const qint64 when = sample.timeUs + againUs_;
        sample.what == PointerSample::What::Down    ? live->press(when, at)
        : sample.what == PointerSample::What::Moved ? live->move(when, at)
                                                    : live->release(when);
    }
    again_.erase(again_.begin(),
                 again_.begin() + static_cast<std::ptrdiff_t>(live == nullptr ? again_.size() : played));
    if (!again_.empty()) {
        runner_.driver().want();
    }
}

} // namespace scorrere::workbench
