// SPDX-License-Identifier: GPL-3.0-or-later
// The first thing people see: the demo runs beside the place for their own records, and what they had before.
#include "testing/program/window_fixture.h"
#include "workbench/ui/source/first_screen.h"

#include <QMimeData>
#include <QPlainTextEdit>
#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::FirstScreen;

class FirstScreenTest : public WindowTest {
protected:
    FirstScreen* first() { return window->findChild<FirstScreen*>(); }
};

TEST_F(FirstScreenTest, TheDemoRunsThereUnderTheWheelUntilSomethingIsOpen) {
    ASSERT_TRUE(QTest::qWaitFor([&] { return first()->strip().collection() != nullptr; }, 60'000));
    render::LiveCollection& live = *first()->strip().collection();
    EXPECT_EQ(live.records().size(), FirstScreen::kRecords);
    const auto before = live.run().placements().front().position;
    wheel(&first()->strip(), -2400);
    ASSERT_TRUE(QTest::qWaitFor([&] { return live.run().placements().front().position != before; }, 60'000));
    EXPECT_TRUE(find<QPlainTextEdit>("listEdit")->hasFocus()) << "the cursor stays where one types";
    openFile(write("r.csv", "id\n1\n"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return first() == nullptr; }, 60'000));
    EXPECT_TRUE(QTest::qWaitFor([&] { return find("fieldsView")->isVisible(); }, 60'000));
}

TEST_F(FirstScreenTest, WhatWasOpenedBeforeIsOneClickAway) {
    EXPECT_EQ(first()->findChild<QPushButton*>(QStringLiteral("firstRecent")), nullptr);
    write("r.ndjson", "{\"name\":\"Wren\"}\n{\"name\":\"Rail\"}\n");
    const std::string path = write(
        "c.collection.json",
        R"({"scorrere": 1, "name": "c", "source": {"file": "r.ndjson"}, "items": {"record": {"text": "{name}"}}})");
    openFile(path);
    window->close();
    window.reset();
    makeWindow();
    auto* recent = first()->findChild<QPushButton*>(QStringLiteral("firstRecent"));
    ASSERT_NE(recent, nullptr);
    EXPECT_EQ(recent->text(), QStringLiteral("c.collection.json"));
    QTest::mouseClick(recent, Qt::LeftButton);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return document() != nullptr && live().records().size() == 2; }, 60'000));
}

TEST_F(FirstScreenTest, TheDemoIsOneClickAway) {
    QTest::mouseClick(find<QPushButton>("firstDemo20"), Qt::LeftButton);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return document() != nullptr && live().records().size() == 20; }, 60'000));
}

TEST_F(FirstScreenTest, WhileAFileIsDraggedOverItTheWindowSaysWhatWillHappen) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(QStringLiteral("/somewhere/towns.csv"))});
    const auto enter = [&] {
        QDragEnterEvent event({40, 40}, Qt::CopyAction, &data, Qt::LeftButton, {});
        QCoreApplication::sendEvent(window.get(), &event);
        EXPECT_TRUE(event.isAccepted());
    };
    auto* hint = find<QLabel>("dropHint");
    EXPECT_FALSE(hint->isVisible());
    enter();
    ASSERT_TRUE(hint->isVisible());
    EXPECT_EQ(hint->text(), QStringLiteral("Let go to open towns.csv."));
    QDragLeaveEvent leave;
    QCoreApplication::sendEvent(window.get(), &leave);
    EXPECT_FALSE(hint->isVisible());
    openDemo(20);
    QTest::keyClick(window.get(), Qt::Key_T);
    enter();
    EXPECT_THAT(hint->text().toStdString(), HasSubstr("not saved"));
}

} // namespace
} // namespace scorrere::testing
