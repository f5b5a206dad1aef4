// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/placed_words.h"

#include <QObject>
#include <QRegularExpression>
#include <algorithm>
#include <array>
#include <span>
#include <utility>

namespace scorrere::workbench {

namespace {

constexpr std::size_t kMostFields = 6;

using Unit = PlacedBy::Unit;
constexpr std::array<std::pair<const char*, Unit>, 4> kUnits{
    {{"second", Unit::Second}, {"minute", Unit::Minute}, {"hour", Unit::Hour}, {"day", Unit::Day}}};

QString scaleInWords(double scale, const QString& unit) {
    return QObject::tr("%1 px a %2").arg(QString::number(scale, 'g', 6), unit);
}

QString unitWord(Unit unit) {
    return QObject::tr(std::ranges::find(kUnits, unit, [](const auto& one) { return one.second; })->first);
}

} // namespace

QStringList placedLengthChoices(const std::vector<SectionField>& fields, const PlacedBy& by) {
    QStringList choices{placedLengthInWords({})};
    const auto start = std::ranges::find(fields, QString::fromStdString(by.start), &SectionField::name);
    const bool isTime = start != fields.end() && start->isTime;
    for (const SectionField& field : fields) {
        if (field.name.toStdString() != by.start && field.isTime == isTime) {
            choices << QObject::tr("to %1").arg(field.name);
        }
        if (!field.isTime && choices.size() <= static_cast<qsizetype>(kMostFields)) {
            choices << QObject::tr("for %1").arg(field.name);
        }
    }
    return choices << QObject::tr("for 30 units") << QObject::tr("for 60 units");
}

QString placedLengthInWords(const PlacedBy& by) {
    return !by.end.empty()      ? QObject::tr("to %1").arg(QString::fromStdString(by.end))
           : !by.extent.empty() ? QObject::tr("for %1").arg(QString::fromStdString(by.extent))
           : by.units > 0       ? QObject::tr("for %1 units").arg(QString::number(by.units, 'g', 8))
                                : QObject::tr("as short as can be read");
}

std::optional<PlacedBy> placedLengthFromWords(const QString& typed, const PlacedBy& now) {
    static const QRegularExpression units(
        QStringLiteral("^for (\\d+(?:\\.\\d+)?)(?: (?:unit|second|minute|hour|day)s?)?$"));
    static const QRegularExpression field(QStringLiteral("^(to|for) (\\S.*)$"));
    const QString words = typed.simplified();
    PlacedBy to = now;
    to.end.clear();
    to.extent.clear();
    to.units = 0;
    if (words == placedLengthInWords({})) {
        return to;
    }
    if (const auto match = units.match(words); match.hasMatch()) {
        to.units = match.captured(1).toDouble();
        return to.units > 0 && to.units <= 1e9 ? std::optional(to) : std::nullopt;
    }
    const auto match = field.match(words);
    (match.captured(1) == QLatin1String("to") ? to.end : to.extent) = match.captured(2).toStdString();
    return match.hasMatch() ? std::optional(to) : std::nullopt;
}

QStringList placedScaleChoices(bool isTime) {
    if (!isTime) {
        return {scaleInWords(0.1, QObject::tr("unit")), scaleInWords(1, QObject::tr("unit")),
                scaleInWords(10, QObject::tr("unit")), scaleInWords(100, QObject::tr("unit"))};
    }
    return {scaleInWords(20, unitWord(Unit::Second)), scaleInWords(1, unitWord(Unit::Minute)),
            scaleInWords(2, unitWord(Unit::Minute)),  scaleInWords(60, unitWord(Unit::Hour)),
            scaleInWords(20, unitWord(Unit::Hour)),   scaleInWords(100, unitWord(Unit::Day)),
            scaleInWords(10, unitWord(Unit::Day))};
}

QString placedScaleInWords(const PlacedBy& by, bool isTime) {
    return scaleInWords(by.scale, isTime ? unitWord(by.unit) : QObject::tr("unit"));
}

std::optional<PlacedBy> placedScaleFromWords(const QString& typed, const PlacedBy& now) {
    static const QRegularExpression form(QStringLiteral(
        "^(\\d+(?:\\.\\d+)?(?:e-?\\d+)?) ?px(?: ?(?:a|an|the|per|/) ?(unit|second|minute|hour|day))?$"));
    const auto match = form.match(typed.simplified().toLower());
    PlacedBy to = now;
    to.scale = match.captured(1).toDouble();
    const auto unit = std::ranges::find_if(
        kUnits, [&](const auto& one) { return match.captured(2) == QLatin1String(one.first); });
    to.unit = unit == kUnits.end() ? now.unit : unit->second;
    return match.hasMatch() && to.scale >= 1e-9 && to.scale <= 1e6 ? std::optional(to) : std::nullopt;
}

QStringList placedLaneChoices(const std::vector<SectionField>& fields) {
    QStringList choices{placedLaneInWords({})};
    for (const SectionField& field : std::span(fields).first(std::min(fields.size(), kMostFields))) {
        if (!field.isTime) {
            choices << placedLaneInWords(field.name.toStdString());
        }
    }
    return choices;
}

QString placedLaneInWords(const std::string& lane) {
    return lane.empty() ? QObject::tr("one lane")
                        : QObject::tr("lanes by %1").arg(QString::fromStdString(lane));
}

std::optional<std::string> placedLaneFromWords(const QString& typed) {
    static const QRegularExpression form(QStringLiteral("^(?:lanes? )?by (\\S.*)$"));
    const QString words = typed.simplified();
    if (words == placedLaneInWords({})) {
        return std::string();
    }
    const auto match = form.match(words);
    return match.hasMatch() ? std::optional(match.captured(1).toStdString()) : std::nullopt;
}

} // namespace scorrere::workbench
