// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/desktop_wishes.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVariant>
#include <QUuid>
#include <algorithm>
#include <cstdint>

namespace scorrere::workbench {

namespace {

constexpr int kAnswerMs = 2000;

/// A setting of the desktop's; not valid where it has none.
QVariant settingOf(const QDBusConnection& bus, const char* group, const char* key) {
    QDBusMessage call = QDBusMessage::createMethodCall(
        QStringLiteral("org.freedesktop.portal.Desktop"), QStringLiteral("/org/freedesktop/portal/desktop"),
        QStringLiteral("org.freedesktop.portal.Settings"), QStringLiteral("Read"));
    call.setArguments({QLatin1String(group), QLatin1String(key)});
    const QDBusMessage answer = bus.call(call, QDBus::Block, kAnswerMs);
    QVariant value = answer.type() == QDBusMessage::ReplyMessage ? answer.arguments().value(0) : QVariant();
    while (value.canConvert<QDBusVariant>()) { // it is wrapped twice
        value = value.value<QDBusVariant>().variant();
    }
    return value;
}

constexpr std::uint32_t kDark = 1; ///< of color-scheme; 2: light
constexpr double kLeastScale = 0.75;
constexpr double kMostScale = 2;

DesktopWish wishOn(const QString& address) {
    DesktopWish wish;
    if (address.isEmpty()) {
        return wish;
    }
    const QString name = QUuid::createUuid().toString();
    {
        const QDBusConnection bus = QDBusConnection::connectToBus(address, name);
        if (bus.isConnected()) {
            constexpr const char* kAppearance = "org.freedesktop.appearance";
            constexpr const char* kInterface = "org.gnome.desktop.interface";
            const QVariant reduced = settingOf(bus, kAppearance, "reduced-motion");
            const QVariant animates = settingOf(bus, kInterface, "enable-animations");
            wish.lessMotion = reduced.toUInt() == 1 || (animates.isValid() && !animates.toBool());
            if (const QVariant scheme = settingOf(bus, kAppearance, "color-scheme"); scheme.toUInt() > 0) {
                wish.dark = scheme.toUInt() == kDark;
            }
            if (const double scale = settingOf(bus, kInterface, "text-scaling-factor").toDouble();
                scale > 0) {
                wish.textScale = std::clamp(scale, kLeastScale, kMostScale);
            }
        }
    }
    QDBusConnection::disconnectFromBus(name);
    return wish;
}

} // namespace

void DesktopWishes::ask(const QString& bus) {
    asking_.start([bus](const std::stop_token&, const render::Job::Post&) { return wishOn(bus); },
                  [this](const DesktopWish& wish) { Q_EMIT told(wish); });
}

} // namespace scorrere::workbench

#include "moc_desktop_wishes.cpp"
