// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/gesture_words.h"

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
    case GestureReason::NobodyCan:
        break;
    }
    return QObject::tr("%1: %2, at its end").arg(way, name);
}

} // namespace scorrere::workbench
