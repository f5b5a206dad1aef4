// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/desktop_motion.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVariant>
#include <QUuid>

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

bool isLessWanted(const QString& address) {
    if (address.isEmpty()) {
        return false;
    }
    const QString name = QUuid::createUuid().toString();
    bool isLess = false;
    {
        const QDBusConnection bus = QDBusConnection::connectToBus(address, name);
        if (bus.isConnected()) {
            const QVariant reduced = settingOf(bus, "org.freedesktop.appearance", "reduced-motion");
            const QVariant animates = settingOf(bus, "org.gnome.desktop.interface", "enable-animations");
            isLess = reduced.toUInt() == 1 || (animates.isValid() && !animates.toBool());
        }
    }
    QDBusConnection::disconnectFromBus(name);
    return isLess;
}

} // namespace

void DesktopMotion::ask(const QString& bus) {
    asking_.start([bus](const std::stop_token&, const render::Job::Post&) { return isLessWanted(bus); },
                  [this](bool less) { Q_EMIT told(less); });
}

} // namespace scorrere::workbench

#include "moc_desktop_motion.cpp"
