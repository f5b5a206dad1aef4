// SPDX-License-Identifier: GPL-3.0-or-later
// Drags as people make them over the cutaway: who has them, and that Flow says why.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/flow/gesture_words.h"

#include <QLabel>
#include <QMouseEvent>
#include <QTest>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using workbench::Cutaway;

class DragTest : public FlowTest {
protected:
    void open(const char* arrangement = R"({"list": {"gap": 10}})") {
        openCollection(
            R"("source": {"demo": {"count": 300}}, "items": {"record": {"text": "{species}", "padding": 12}},
            "arrangement": )" +
            std::string(arrangement));
        cutaway_ = find<Cutaway>("cutaway");
        centre_ = cutaway_->windowRect().center();
    }
    void send(QEvent::Type type, QPointF by) {
        const QPointF at = centre_ + by * cutaway_->scale();
        QMouseEvent event(type, at, cutaway_->mapToGlobal(at), Qt::LeftButton,
                          type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, {});
        QCoreApplication::sendEvent(cutaway_, &event);
    }
    void drag(const std::vector<QPointF>& by) {
        send(QEvent::MouseButtonPress, {});
        for (const QPointF& to : by) {
            send(QEvent::MouseMove, to);
        }
    }
    void letGo(QPointF by) { send(QEvent::MouseButtonRelease, by); }
    std::string said() { return find<QLabel>("gestureSaid")->text().toStdString(); }

    Cutaway* cutaway_ = nullptr;
    QPointF centre_;
};

TEST_F(DragTest, ADragMovesFromTheSlopOnAndIsTold) {
    open();
    drag({{2, -6}});
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset(), Length{}) << "it may still be a tap";
    EXPECT_EQ(said(), "");
    send(QEvent::MouseMove, {5, -40});
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().offset() != Length{}; }));
    EXPECT_NEAR(run().offset().toPx(), 32, 1) << "40 px but for the slop";
    EXPECT_EQ(said(), "up by 40 px: the strip");
    send(QEvent::MouseMove, {200, -90}); // it is kept to its axis
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().offset().toPx() > 80; }));
    EXPECT_NEAR(run().offset().toPx(), 82, 1);
    letGo({200, -90});
}

TEST_F(DragTest, OfAnotherCollectionNothingIsTold) {
    open();
    drag({{0, -40}});
    letGo({0, -40});
    EXPECT_NE(said(), "");
    open(R"({"list": {"gap": 11}})");
    EXPECT_EQ(said(), "");
}

TEST_F(DragTest, AtAnEndAndAcrossItSaysSo) {
    open();
    drag({{0, 30}});
    EXPECT_EQ(said(), "down by 30 px: the strip, at its end");
    letGo({0, 30});
    ASSERT_TRUE(settle());
    drag({{60, -20}});
    EXPECT_EQ(said(), "up by 20 px: the strip, nothing moves sideways");
    letGo({60, -20});
}

TEST_F(DragTest, WhatFliesIsCaughtWhereItIs) {
    open();
    run().motion().fling(9000, flow().runner().driver().nowUs());
    flow().runner().driver().want();
    ASSERT_TRUE(QTest::qWaitFor([&] { return run().offset().toPx() > 100; }));
    send(QEvent::MouseButtonPress, {});
    EXPECT_EQ(said(), "caught as it flew: the strip");
    EXPECT_EQ(run().motion().velocity(), 0);
    letGo({});
}

TEST(GestureWords, TellWhoAmongNestedOnesAndWhy) {
    const auto name = [](int taker) {
        return taker == 0 ? QStringLiteral("the strip") : QStringLiteral("the inner strip");
    };
    const auto words = [&](const GestureStory& story) {
        return workbench::gestureInWords(story, name).toStdString();
    };
    GestureStory story{GestureReason::FirstAlong, 1, -1, Length::px(14), Length::px(8), true, false, true};
    EXPECT_EQ(words(story), "sideways by 14 px before down by 8 px: the inner strip");
    story.areNested = true;
    EXPECT_EQ(words(story), "sideways by 14 px before down by 8 px: the inner strip, the innermost");
    story = {GestureReason::InnerAtEnd, 0, 1, {}, Length::px(-9), false, true};
    EXPECT_EQ(words(story), "up by 9 px, and the inner strip is at its end: the strip");
    story.reason = GestureReason::HandedOver;
    EXPECT_EQ(words(story), "the inner strip came to its end: the strip");
    EXPECT_EQ(words({}), "");
}

} // namespace
} // namespace scorrere::testing
