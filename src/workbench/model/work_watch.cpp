// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/work_watch.h"

#include "engine/base/pace.h"

#include <utility>

namespace scorrere::workbench {

namespace {

constexpr int kFirstMs = 500; ///< what is done within this needs no progress
constexpr int kEachMs = 200;

} // namespace

QString leftInWords(double share, qint64 passedMs) {
    const auto left = secondsLeft(share, passedMs);
    return !left          ? QString()
           : *left >= 120 ? QObject::tr("about %1 min left").arg((*left + 59) / 60)
                          : QObject::tr("about %1 s left").arg(*left);
}

WorkWatch::WorkWatch(const QString& about, QObject* parent) : QObject(parent), about_(about) {
    connect(&due_, &QTimer::timeout, this, &WorkWatch::tell);
}

void WorkWatch::begin(const QString& what, std::function<double()> share, std::function<bool()> canCancel) {
    what_ = what;
    share_ = std::move(share);
    canCancel_ = std::move(canCancel);
    if (!isUnderWay()) {
        since_.start();
        due_.start(kFirstMs);
    }
}

void WorkWatch::end() {
    due_.stop();
    since_.invalidate();
    share_ = nullptr;
    canCancel_ = nullptr;
    if (std::exchange(isTold_, false)) {
        Q_EMIT told(Notice::over(about_));
    }
}

QString WorkWatch::farInWords() const {
    const double far = share();
    if (!isTold_ || far < 0) {
        return {};
    }
    const QString left = leftInWords(far, since_.elapsed());
    const QString percent = QStringLiteral("%1%").arg(static_cast<int>(std::min(far, 1.0) * 100));
    return left.isEmpty() ? percent : QStringLiteral("%1, %2").arg(percent, left);
}

void WorkWatch::tell() {
    due_.setInterval(kEachMs);
    isTold_ = true;
    const QString far = farInWords();
    Q_EMIT told(Notice::under(about_, far.isEmpty() ? what_ : QStringLiteral("%1: %2").arg(what_, far),
                              share(), !canCancel_ || canCancel_()));
}

} // namespace scorrere::workbench

#include "moc_work_watch.cpp"
