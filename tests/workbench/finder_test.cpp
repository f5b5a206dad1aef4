// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can be done is found by typing, with its keys, and done by Return.
#include "testing/program/window_fixture.h"

#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

class FinderTest : public WindowTest {
protected:
    /// Types, and takes the line that stands first, or so many further down.
    void take(const QString& typed, int further = 0) {
        ASSERT_GT(found(typed).size(), further) << typed.toStdString();
        auto* line = find<QLineEdit>("finderLine");
        for (int i = 0; i < further; ++i) {
            QTest::keyClick(line, Qt::Key_Down);
        }
        QTest::keyClick(line, Qt::Key_Return);
        EXPECT_FALSE(find<workbench::Finder>("finder")->isVisible());
    }
};

TEST_F(FinderTest, ItsKeyOpensItWithTheCursorInTheLine) {
    QTest::keyClick(window.get(), Qt::Key_F10);
    EXPECT_TRUE(find<workbench::Finder>("finder")->isVisible());
    EXPECT_TRUE(find<QLineEdit>("finderLine")->hasFocus());
    QTest::keyClick(find<QLineEdit>("finderLine"), Qt::Key_Escape);
    EXPECT_FALSE(find<workbench::Finder>("finder")->isVisible());
    QTest::mouseClick(find<QToolButton>("menuButton"), Qt::LeftButton);
    EXPECT_TRUE(find<workbench::Finder>("finder")->isVisible());
}

TEST_F(FinderTest, WordsInAnyOrderFindAnActionOfAnotherStationAndDoIt) {
    openDemo(20);
    QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
    EXPECT_EQ(found(QStringLiteral("device turn")), QStringList{QStringLiteral("Turn the device, T")});
    const bool wasUpright = document()->window.upright;
    take(QStringLiteral("device turn"));
    EXPECT_EQ(window->station().id(), QStringLiteral("flow"));
    EXPECT_EQ(document()->window.upright, !wasUpright);
    EXPECT_TRUE(found(QStringLiteral("no such thing at all")).isEmpty());
}

TEST_F(FinderTest, WhatCannotBeDoneIsNotOffered) {
    EXPECT_TRUE(found(QStringLiteral("undo")).isEmpty());
    openDemo(20);
    window->workspace().changeDesign(QStringLiteral("a change"),
                                     QStringLiteral(R"({"items": {"record": {"text": "x"}}})"), {});
    EXPECT_EQ(found(QStringLiteral("undo")).size(), 1);
    EXPECT_THAT(found(QStringLiteral("undo")).front().toStdString(), ::testing::HasSubstr("Ctrl+Z"));
}

TEST_F(FinderTest, ASettingIsFoundByWhatItCanBecome) {
    openDemo(20);
    take(QStringLiteral("held side"));
    EXPECT_FALSE(document()->window.upright);
    EXPECT_EQ(window->workspace().undo().count(), 1);
}

TEST_F(FinderTest, ARecordAFieldAndAPartAreGoneTo) {
    openDemo(2000);
    take(QStringLiteral("1,500"));
    EXPECT_EQ(window->station().id(), QStringLiteral("flow"));
    ASSERT_TRUE(settle());
    EXPECT_TRUE(std::ranges::any_of(run().placements(), [](const Placement& placement) {
        return placement.showing && placement.position == 1500;
    })) << "no. 1,500 shows";
    take(QStringLiteral("field species"));
    EXPECT_EQ(window->station().id(), QStringLiteral("source"));
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 60'000));
    QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
    take(QStringLiteral("part badge"));
    EXPECT_EQ(window->station().id(), QStringLiteral("item"));
    EXPECT_EQ(find<QLabel>("cardTitle")->text(), QStringLiteral("Badge"));
}

} // namespace
} // namespace scorrere::testing
