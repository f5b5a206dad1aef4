// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/beside_words.h"

#include "workbench/model/devices.h"

#include <QObject>
#include <QRegularExpression>

namespace scorrere::workbench {

namespace {

QString inWords(const BesideSpec& beside) {
    QString words = QObject::tr("a %1").arg(QString::fromStdString(beside.device));
    if (!beside.upright) {
        words += QObject::tr(" on its side");
    }
    if (beside.underBars) {
        words += QObject::tr(" under its bars");
    }
    if (beside.textScale != 1) {
        words += QObject::tr(" at %1%").arg(QString::number(beside.textScale * 100));
    }
    if (!beside.look.empty()) {
        words += QObject::tr(", %1").arg(QString::fromStdString(beside.look));
    }
    if (!beside.locale.empty()) {
        words += QObject::tr(", in %1").arg(QString::fromStdString(beside.locale));
    }
    return words;
}

/// One window, in any order of its words.
std::optional<BesideSpec> oneFromWords(QString words) {
    static const QRegularExpression scale(QStringLiteral("(?:at )?(\\d{2,3}) ?%(?: text)?"));
    static const QRegularExpression locale(QStringLiteral("\\bin ([a-z]{2,3}(?:-[a-z0-9]{2,8})*)\\b"));
    BesideSpec spec;
    const auto take = [&words](const QString& part) {
        const bool isThere = words.contains(part);
        words.remove(part);
        return isThere;
    };
    bool isDevice = false;
    for (const Device& device : devices()) {
        if (!isDevice && take(QLatin1String(device.name))) {
            spec.device = device.name;
            isDevice = true;
        }
    }
    spec.upright = !take(QStringLiteral("on its side"));
    (void)take(QStringLiteral("upright"));
    spec.underBars = take(QStringLiteral("under its bars"));
    spec.look = take(QStringLiteral("dark")) ? "dark" : take(QStringLiteral("light")) ? "light" : "";
    if (const auto match = scale.match(words); match.hasMatch()) {
        spec.textScale = match.captured(1).toDouble() / 100;
        words.remove(match.captured(0));
    }
    if (const auto match = locale.match(words); match.hasMatch()) {
        spec.locale = match.captured(1).toStdString();
        words.remove(match.captured(0));
    }
    words.remove(QRegularExpression(QStringLiteral("\\b(a|an|it)\\b|,")));
    const bool isAnything = isDevice || spec != BesideSpec();
    return isAnything && words.trimmed().isEmpty() && spec.textScale >= 0.5 && spec.textScale <= 4
               ? std::optional(spec)
               : std::nullopt;
}

} // namespace

QStringList besideChoices(const DeviceSpec& first) {
    const std::string other = first.device == "tablet" ? "tall handset" : "tablet";
    BesideSpec tablet;
    tablet.device = other;
    BesideSpec turned;
    static_cast<DeviceSpec&>(turned) = first;
    turned.upright = !first.upright;
    BesideSpec large;
    static_cast<DeviceSpec&>(large) = first;
    large.textScale = 2;
    BesideSpec dark;
    static_cast<DeviceSpec&>(dark) = first;
    dark.look = "dark";
    BesideSpec narrow;
    narrow.device = "narrow handset";
    BesideSpec mirrored = dark;
    mirrored.look.clear();
    mirrored.locale = "ar";
    return {besideInWords({}),
            besideInWords({tablet}),
            besideInWords({turned}),
            besideInWords({large}),
            besideInWords({dark}),
            besideInWords({mirrored}),
            besideInWords({narrow, tablet}),
            besideInWords({dark, large, tablet})};
}

QString besideInWords(const std::vector<BesideSpec>& beside) {
    if (beside.empty()) {
        return QObject::tr("no other");
    }
    QString words = inWords(beside.front());
    for (std::size_t i = 1; i < beside.size(); ++i) {
        words += QObject::tr(" and %1").arg(inWords(beside[i]));
    }
    return words;
}

std::optional<std::vector<BesideSpec>> besideFromWords(const QString& typed) {
    const QString words = typed.simplified().toLower();
    std::vector<BesideSpec> all;
    if (words == besideInWords({}) || words == QLatin1String("none")) {
        return all;
    }
    for (const QString& one : words.split(QStringLiteral(" and "))) {
        const auto spec = oneFromWords(one);
        if (!spec || all.size() == WindowSpec::kMostBeside) {
            return std::nullopt;
        }
        all.push_back(*spec);
    }
    return all;
}

} // namespace scorrere::workbench
