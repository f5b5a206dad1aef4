// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/lead_words.h"

#include <QObject>
#include <QRegularExpression>

namespace scorrere::workbench {

namespace {

constexpr double kMostMotionMs = 10'000; ///< as a collection file takes it

std::optional<double> numberIn(const QString& words) {
    static const QRegularExpression number(QStringLiteral("\\d+(?:[.,]\\d+)?"));
    const auto match = number.match(words);
    return match.hasMatch()
               ? std::optional(match.captured().replace(QLatin1Char(','), QLatin1Char('.')).toDouble())
               : std::nullopt;
}

} // namespace

QString leadInWords(double windows) {
    if (windows == 0) {
        return QObject::tr("nothing");
    }
    if (windows == 0.25) {
        return QObject::tr("a quarter screen");
    }
    if (windows == 0.5) {
        return QObject::tr("half a screen");
    }
    return windows == 1 ? QObject::tr("one screen") : QObject::tr("%1 screens").arg(windows);
}

std::optional<double> leadFromWords(const QString& words) {
    for (const double known : {0.0, 0.25, 0.5, 1.0}) {
        if (words.compare(leadInWords(known), Qt::CaseInsensitive) == 0) {
            return known;
        }
    }
    const auto number = numberIn(words);
    return number && *number <= 10 ? number : std::nullopt;
}

QStringList leadChoices() {
    QStringList choices;
    for (const double windows : {0.0, 0.25, 0.5, 1.0, 2.0}) {
        choices << leadInWords(windows);
    }
    return choices;
}

QString motionInWords(const AnimationSpec& animation) {
    if (!animation.isAny()) {
        return QObject::tr("at once");
    }
    const bool areAlike = animation.insertMs == animation.moveMs && animation.removeMs == animation.moveMs &&
                          animation.extentMs == animation.moveMs;
    const QString ms = !areAlike                      ? QObject::tr("each in its time")
                       : animation.moveMs % 1000 == 0 ? QObject::tr("in %1 s").arg(animation.moveMs / 1000)
                                                      : QObject::tr("in %1 ms").arg(animation.moveMs);
    return animation.curve == AnimationSpec().curve
               ? ms
               : QObject::tr("%1, %2").arg(ms, QString::fromStdString(animation.curve));
}

std::optional<AnimationSpec> motionFromWords(const QString& words, const AnimationSpec& now) {
    AnimationSpec to = now;
    const QString said = words.trimmed();
    if (said == motionInWords(now)) {
        return now;
    }
    if (said.compare(QObject::tr("at once"), Qt::CaseInsensitive) == 0) {
        to.insertMs = to.removeMs = to.moveMs = to.extentMs = 0;
        return to;
    }
    static const QRegularExpression form(QStringLiteral("^(?:in )?(\\d+(?:\\.\\d+)?) ?(ms|s)?(?:, ?(.+))?$"),
                                         QRegularExpression::CaseInsensitiveOption);
    const auto match = form.match(said);
    if (!match.hasMatch()) {
        return std::nullopt;
    }
    const double ms = match.captured(1).toDouble() *
                      (match.captured(2).compare(QLatin1String("s"), Qt::CaseInsensitive) == 0 ? 1000 : 1);
    const std::string curve = match.captured(3).trimmed().toLower().toStdString();
    if (ms > kMostMotionMs || (!curve.empty() && !curveNamed(curve))) {
        return std::nullopt;
    }
    to.insertMs = to.removeMs = to.moveMs = to.extentMs = static_cast<int>(ms);
    to.curve = curve.empty() ? AnimationSpec().curve : curve;
    return to;
}

QStringList motionChoices() {
    return {QObject::tr("at once"),
            QObject::tr("in 150 ms"),
            QObject::tr("in 250 ms"),
            QObject::tr("in 500 ms"),
            QObject::tr("in 1 s"),
            QObject::tr("in 250 ms, linear"),
            QObject::tr("in 250 ms, ease-out")};
}

QString scaleInWords(double scale) {
    return QStringLiteral("%1%").arg(qRound(scale * 100));
}

std::optional<double> scaleFromWords(const QString& words) {
    const auto number = numberIn(words);
    return number && *number >= 50 && *number <= 400 ? std::optional(*number / 100) : std::nullopt;
}

} // namespace scorrere::workbench
