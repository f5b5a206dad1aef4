// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/desktop_follower.h"

#include <QGuiApplication>
#include <utility>

namespace scorrere::workbench {

namespace {

const QString kDark = QStringLiteral("dark");
const QString kScale = QStringLiteral("textScale");

} // namespace

DesktopFollower::DesktopFollower(Look& look, QSettings& settings, QString bus, QObject* parent)
    : QObject(parent), look_(look), settings_(settings), bus_(std::move(bus)) {
    connect(&wishes_, &DesktopWishes::told, this, &DesktopFollower::take);
    connect(qGuiApp, &QGuiApplication::applicationStateChanged, this, [this](Qt::ApplicationState state) {
        if (state == Qt::ApplicationActive && !(settings_.contains(kDark) && settings_.contains(kScale))) {
            wishes_.ask(bus_);
        }
    });
}

void DesktopFollower::start() {
    look_.setTextScale(settings_.value(kScale, 1.0).toDouble());
    look_.setDark(settings_.value(kDark, false).toBool());
    wishes_.ask(bus_);
}

void DesktopFollower::setDark(bool dark) {
    look_.setDark(dark);
    settings_.setValue(kDark, dark);
}

void DesktopFollower::setTextScale(double scale) {
    look_.setTextScale(scale);
    settings_.setValue(kScale, look_.textScale());
}

void DesktopFollower::follow() {
    settings_.remove(kDark);
    settings_.remove(kScale);
    wishes_.ask(bus_);
}

void DesktopFollower::take(const DesktopWish& wish) {
    if (!settings_.contains(kDark)) {
        look_.setDark(wish.dark.value_or(false));
    }
    if (!settings_.contains(kScale)) {
        look_.setTextScale(wish.textScale);
    }
}

} // namespace scorrere::workbench

#include "moc_desktop_follower.cpp"
