// SPDX-License-Identifier: GPL-3.0-or-later
// Look, text size and motion: as the desktop wants them, or as somebody said here.
#include "workbench/model/desktop_wishes.h"
#include "workbench/ui/desktop_follower.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVariant>
#include <QDBusVirtualObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <gtest/gtest.h>
#include <optional>

namespace scorrere::workbench {
namespace {

/// A settings portal of some settings.
class Portal final : public QDBusVirtualObject {
public:
    explicit Portal(QVariantMap settings) : settings_(std::move(settings)) {}
    QString introspect(const QString&) const override { return {}; }
    bool handleMessage(const QDBusMessage& message, const QDBusConnection& bus) override {
        if (message.member() != QLatin1String("Read")) {
            return false;
        }
        const QVariant value = settings_.value(message.arguments().value(1).toString());
        bus.send(value.isValid()
                     ? message.createReply(
                           QVariant::fromValue(QDBusVariant(QVariant::fromValue(QDBusVariant(value)))))
                     : message.createErrorReply(QStringLiteral("org.freedesktop.portal.Error.NotFound"),
                                                QStringLiteral("no such setting")));
        return true;
    }

private:
    QVariantMap settings_;
};

/// A session's bus with a desktop on it.
class DesktopTest : public ::testing::Test {
protected:
    void SetUp() override {
        daemon_.start(QStringLiteral("dbus-daemon"), {QStringLiteral("--session"), QStringLiteral("--nofork"),
                                                      QStringLiteral("--print-address")});
        ASSERT_TRUE(daemon_.waitForReadyRead(10'000)) << "dbus-daemon is missing";
        address = QString::fromUtf8(daemon_.readLine()).trimmed();
    }
    void TearDown() override {
        forget();
        daemon_.terminate();
        daemon_.waitForFinished();
    }
    void says(QVariantMap settings) {
        forget();
        QDBusConnection bus = QDBusConnection::connectToBus(address, QStringLiteral("portal"));
        portal_ = std::make_unique<Portal>(std::move(settings));
        ASSERT_TRUE(
            bus.registerVirtualObject(QStringLiteral("/org/freedesktop/portal/desktop"), portal_.get()));
        ASSERT_TRUE(bus.registerService(QStringLiteral("org.freedesktop.portal.Desktop")));
    }
    QString address;

private:
    void forget() {
        if (portal_) {
            QDBusConnection(QStringLiteral("portal"))
                .unregisterService(QStringLiteral("org.freedesktop.portal.Desktop"));
            QDBusConnection::disconnectFromBus(QStringLiteral("portal"));
            portal_.reset();
        }
    }
    QProcess daemon_;
    std::unique_ptr<Portal> portal_;
};

TEST_F(DesktopTest, WishesAreWhatThePortalOfTheSessionSays) {
    const auto askedAt = [](const QString& where) {
        DesktopWishes wishes;
        std::optional<DesktopWish> told;
        QObject::connect(&wishes, &DesktopWishes::told, &wishes,
                         [&](const DesktopWish& wish) { told = wish; });
        wishes.ask(where);
        EXPECT_TRUE(QTest::qWaitFor([&] { return told.has_value(); }, 10'000));
        return told.value_or(DesktopWish{true, true, 9});
    };
    const std::vector<std::pair<QVariantMap, DesktopWish>> cases{
        {{{QStringLiteral("enable-animations"), false}}, {true, std::nullopt, 1}},
        {{{QStringLiteral("enable-animations"), true}, {QStringLiteral("color-scheme"), 1U}},
         {false, true, 1}},
        {{{QStringLiteral("reduced-motion"), 1U},
          {QStringLiteral("color-scheme"), 2U},
          {QStringLiteral("text-scaling-factor"), 1.5}},
         {true, false, 1.5}},
        {{{QStringLiteral("text-scaling-factor"), 7.0}, {QStringLiteral("color-scheme"), 0U}},
         {false, std::nullopt, 2}}};
    for (const auto& [settings, wish] : cases) {
        ASSERT_NO_FATAL_FAILURE(says(settings));
        EXPECT_EQ(askedAt(address), wish);
    }
    EXPECT_EQ(askedAt({}), DesktopWish());
}

TEST_F(DesktopTest, ItsLookIsTakenUnlessSomebodySaidOtherwiseHere) {
    const QTemporaryDir folder;
    QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
    Look look;
    DesktopFollower follower(look, settings, address);
    ASSERT_NO_FATAL_FAILURE(
        says({{QStringLiteral("color-scheme"), 1U}, {QStringLiteral("text-scaling-factor"), 1.25}}));
    follower.start();
    ASSERT_TRUE(QTest::qWaitFor([&] { return look.isDark() && look.textScale() == 1.25; }, 10'000));
    follower.setDark(false);
    follower.setTextScale(1.75);
    Look again;
    DesktopFollower next(again, settings, address);
    next.start();
    EXPECT_EQ(again.textScale(), 1.75);
    // What the desktop says meanwhile changes nothing, until nothing is said here any more.
    DesktopWishes asked;
    bool isTold = false;
    QObject::connect(&asked, &DesktopWishes::told, &asked, [&] { isTold = true; });
    asked.ask(address);
    ASSERT_TRUE(QTest::qWaitFor([&] { return isTold; }, 10'000));
    QCoreApplication::processEvents();
    EXPECT_FALSE(again.isDark());
    EXPECT_EQ(again.textScale(), 1.75);
    next.follow();
    EXPECT_TRUE(QTest::qWaitFor([&] { return again.isDark() && again.textScale() == 1.25; }, 10'000));
}

} // namespace
} // namespace scorrere::workbench
