// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/gesture_words.h"

#include "render/scroll_input.h"

#include <QObject>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

namespace {

QString axisWord(bool isSideways, Length by) {
    return isSideways ? QObject::tr("sideways") : by < Length{} ? QObject::tr("up") : QObject::tr("down");
}

QString wayInWords(bool isSideways, Length by) {
    return QObject::tr("%1 by %2 px").arg(axisWord(isSideways, by)).arg(std::llround(std::abs(by.toPx())));
}

} // namespace

QString gestureInWords(const GestureStory& story, const std::function<QString(int)>& nameOf) {
    if (story.taker < 0) {
        return {};
    }
    const QString name = nameOf(story.taker);
    const Length mine = story.isSideways ? story.sideways : story.down;
    const Length other = story.isSideways ? story.down : story.sideways;
    const QString mineWay = wayInWords(story.isSideways, mine);
    const QString otherWay = wayInWords(!story.isSideways, other);
    const bool isSplit = story.areAcross && other != Length{}; // who moves the other way might have had it
    const QString way = isSplit ? QObject::tr("%1 before %2").arg(mineWay, otherWay) : mineWay;
    switch (story.reason) {
    case GestureReason::Undecided:
        return {};
    case GestureReason::Caught:
        return QObject::tr("caught as it flew: %1").arg(name);
    case GestureReason::FirstAlong:
        return story.areNested ? QObject::tr("%1: %2, the innermost").arg(way, name)
                               : QObject::tr("%1: %2").arg(way, name);
    case GestureReason::OnlyAxis:
        return QObject::tr("%1: %2, nothing moves %3").arg(mineWay, name, axisWord(!story.isSideways, other));
    case GestureReason::InnerAtEnd:
        return QObject::tr("%1, and %2 is at its end: %3").arg(way, nameOf(story.before), name);
    case GestureReason::HandedOver:
        return QObject::tr("%1 came to its end: %2").arg(nameOf(story.before), name);
    case GestureReason::Held:
        return QObject::tr("held still: %1").arg(name);
    case GestureReason::Handle:
        return QObject::tr("taken by its handle: %1").arg(name);
    case GestureReason::NobodyCan:
        break;
    }
    return QObject::tr("%1: %2, at its end").arg(way, name);
}

QString takerInWords(int taker) {
    using render::WindowTakers;
    return taker == WindowTakers::kAcross   ? QObject::tr("the columns")
           : taker == WindowTakers::kWithin ? QObject::tr("the inner strip")
           : taker == WindowTakers::kAside  ? QObject::tr("the item, swiped aside")
           : taker == WindowTakers::kLifted ? QObject::tr("the item, carried")
                                            : QObject::tr("the strip");
}

QString kindInWords(GestureEntry::Kind kind) {
    using Kind = GestureEntry::Kind;
    switch (kind) {
    case Kind::Tap:
        return QObject::tr("tap");
    case Kind::DoubleTap:
        return QObject::tr("double tap");
    case Kind::Held:
        return QObject::tr("long press");
    case Kind::Drag:
        return QObject::tr("drag");
    case Kind::Aside:
        return QObject::tr("swipe, open");
    case Kind::Pulled:
        return QObject::tr("swipe, done");
    case Kind::Back:
        return QObject::tr("swipe, back");
    case Kind::Lifted:
        return QObject::tr("lifted");
    case Kind::SetDown:
        return QObject::tr("set down");
    case Kind::Cancelled:
        return QObject::tr("put back");
    }
    return {};
}

QString entryInWords(const GestureEntry& entry, const std::function<QString(int)>& nameOf) {
    using Kind = GestureEntry::Kind;
    const QString percent = QStringLiteral("%1%").arg(std::lround(entry.share * 100));
    switch (entry.kind) {
    case Kind::Tap:
        return QObject::tr("down for %1 ms, within the slop").arg(entry.heldMs);
    case Kind::DoubleTap:
        return QObject::tr("the second one %1 ms after the first").arg(entry.waitedMs);
    case Kind::Held:
        return QObject::tr("held still for %1 ms").arg(entry.heldMs);
    case Kind::Drag:
        return gestureInWords(entry.story, nameOf);
    case Kind::Aside:
        return QObject::tr("let go %1 over, near its actions: they stay").arg(percent);
    case Kind::Pulled:
        return QObject::tr("let go %1 over, beyond where the first one is done").arg(percent);
    case Kind::Back:
        return QObject::tr("let go %1 over, before half of its actions showed").arg(percent);
    case Kind::Lifted:
        return gestureInWords(entry.story, nameOf);
    case Kind::SetDown:
        return entry.from == entry.to
                   ? QObject::tr("where it was taken up")
                   : QObject::tr("from no. %1 to no. %2").arg(entry.from + 1).arg(entry.to + 1);
    case Kind::Cancelled:
        return QObject::tr("to no. %1, where it was taken up").arg(entry.from + 1);
    }
    return {};
}

QString lossInWords(const GestureLoss& loss, const std::function<QString(int)>& nameOf) {
    using What = GestureLoss::What;
    using Lack = GestureLoss::Lack;
    const QString what = loss.what == What::Tap         ? QObject::tr("no tap")
                         : loss.what == What::DoubleTap ? QObject::tr("no double tap")
                         : loss.what == What::Held      ? QObject::tr("no long press")
                         : loss.what == What::Drag      ? QObject::tr("no drag")
                                                        : QObject::tr("not %1").arg(nameOf(loss.taker));
    const auto tell = [&](const QString& why) {
        QString words = why; // one may have no use for both numbers
        words.replace(QLatin1String("%had"), QString::number(loss.had));
        words.replace(QLatin1String("%limit"), QString::number(loss.limit));
        return QStringLiteral("%1: %2").arg(what, words);
    };
    switch (loss.lack) {
    case Lack::MovedFar:
        return tell(QObject::tr("it moved %had px, and may %limit"));
    case Lack::MovedLittle:
        return tell(QObject::tr("it moved %had px, and not more than %limit"));
    case Lack::MovedEarly:
        return tell(QObject::tr("it moved after %had ms, and is to be still for %limit"));
    case Lack::HeldShortly:
        return tell(QObject::tr("held for %had of %limit ms"));
    case Lack::HeldLong:
        return tell(QObject::tr("held for %had ms, and may be less than %limit"));
    case Lack::NoSecond:
        return tell(QObject::tr("no second one within %limit ms"));
    case Lack::SecondCame:
        return tell(QObject::tr("a second one came after %had ms, within %limit"));
    case Lack::SecondFar:
        return tell(QObject::tr("the second one was %had px away, and may be %limit"));
    case Lack::LessThatWay:
        return tell(QObject::tr("it went %had px that way, and %limit the other"));
    case Lack::AtItsEnd:
        return tell(QObject::tr("it is at its end that way"));
    case Lack::InnerFirst:
        return tell(QObject::tr("one inside it goes first"));
    case Lack::Claimed:
        return tell(QObject::tr("what is taken up follows wherever the pointer goes"));
    }
    return {};
}

} // namespace scorrere::workbench
