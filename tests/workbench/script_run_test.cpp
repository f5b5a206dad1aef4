// SPDX-License-Identifier: GPL-3.0-or-later
// A script that is opened in the window is played there.
#include "testing/program/flow_fixture.h"
#include "workbench/model/opening.h"

#include <QUrl>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;

class ScriptRunTest : public FlowTest {
protected:
    std::string told() { return window->notice().message().toStdString(); }
    bool comes(const char* words) {
        return QTest::qWaitFor([&] { return told().find(words) != std::string::npos; }, 60'000);
    }
    void open(const std::string& path) { window->workspace().opening().open(QString::fromStdString(path)); }
    std::string down() {
        return write("down.script.json", R"({"scorrereScript": 1, "name": "Down", "steps": [
            {"at": 0, "wheel": 900}, {"at": 50, "wheel": 600}]})");
    }
};

TEST_F(ScriptRunTest, ItIsPlayedOverWhatIsOpenAndSaysWhenItIsOver) {
    openDemo(300);
    open(down());
    ASSERT_TRUE(comes("Down was played"));
    EXPECT_EQ(window->station().title(), QStringLiteral("Flow"));
    EXPECT_EQ(run().offset(), Length::px(1500));
    EXPECT_EQ(document()->source.demoCount, 300) << "the collection stays";
}

TEST_F(ScriptRunTest, WhereNothingIsOpenItIsPlayedOverTheDemo) {
    window->workspace().opening().openPlace(QUrl::fromLocalFile(QString::fromStdString(down())).toString());
    ASSERT_TRUE(comes("Down was played"));
    EXPECT_EQ(document()->source.demoCount, 20'000);
    EXPECT_EQ(run().offset(), Length::px(1500));
}

TEST_F(ScriptRunTest, EscapeStopsItAndAnotherCollectionDoes) {
    openDemo(300);
    const std::string slow = write("slow.script.json", R"({"scorrereScript": 1, "name": "Slow", "steps": [
        {"at": 0, "wheel": 90}, {"at": 600000, "wheel": 90}]})");
    open(slow);
    ASSERT_TRUE(comes("Playing Slow: 0%"));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_TRUE(comes("Slow was stopped"));
    open(slow);
    ASSERT_TRUE(comes("Playing Slow: 0%"));
    openDemo(200);
    EXPECT_THAT(window->notice().history().join(QLatin1Char(' ')).toStdString(), HasSubstr("stopped"));
}

TEST_F(ScriptRunTest, WhatIsNoScriptIsToldWithItsPlace) {
    openDemo(300);
    open(write("bad.script.json", R"({"scorrereScript": 1, "steps": [{"at": 0, "fly": 3}]})"));
    ASSERT_TRUE(comes("bad.script.json cannot be played"));
    EXPECT_THAT(told(), HasSubstr("bad.script.json:1"));
}

} // namespace
} // namespace scorrere::testing
