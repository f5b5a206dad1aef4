// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/lead_words.h"

#include <QObject>
#include <QRegularExpression>

namespace scorrere::workbench {

namespace {

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

QString scaleInWords(double scale) {
    return QStringLiteral("%1%").arg(qRound(scale * 100));
}

std::optional<double> scaleFromWords(const QString& words) {
    const auto number = numberIn(words);
    return number && *number >= 50 && *number <= 400 ? std::optional(*number / 100) : std::nullopt;
}

} // namespace scorrere::workbench
