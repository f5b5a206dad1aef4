// SPDX-License-Identifier: GPL-3.0-or-later
// Changes shown as movement in the window: as the sentence says, or at once where somebody or the desktop wants less.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/look/lead_words.h"

#include <QPainter>
#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using workbench::motionFromWords;
using workbench::motionInWords;

class MotionTest : public FlowTest {
protected:
    void open() {
        makeWindow();
        openDemo(300);
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
        flow().setPaused(true); // frames come when the test says
    }
    /// What the window shows, one frame after another.
    QImage frame(std::int64_t ms) {
        for (std::int64_t passed = 0; passed < ms * 1000;
             passed += 1'000'000 / flow().runner().device().hertz) {
            flow().stepFrame();
        }
        QImage image(360, 700, QImage::Format_ARGB32_Premultiplied);
        QPainter painter(&image);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::TextAntialiasing);
        live().paintWindow(painter, window->look().items, 1);
        return image;
    }
    /// What it shows when all pictures are here.
    QImage still() {
        QImage last;
        int alike = 0;
        EXPECT_TRUE(QTest::qWaitFor([&] {
            const QImage image = frame(1);
            alike = image == last ? alike + 1 : 0;
            last = image;
            return alike > 20;
        }));
        return last;
    }
};

TEST_F(MotionTest, AnotherArrangementIsMovedInto) {
    open();
    const QImage before = still();
    Q_EMIT find<workbench::SentenceWord>("wordArrangement")
        ->wordChosen(QStringLiteral("a grid of 2 columns"));
    ASSERT_FALSE(live().document().arrangement == ArrangementSpec{});
    (void)frame(125);
    const auto& placements = live().run().placements();
    const auto moving = std::ranges::count_if(placements, [](const Placement& p) {
        return p.drawn && p.drawn->box.crossExtent > p.box.crossExtent && p.drawn->presence > 0;
    });
    EXPECT_GT(moving, 2) << "from as wide as the list had them";
    (void)frame(300);
    EXPECT_TRUE(std::ranges::none_of(live().run().placements(),
                                     [](const Placement& p) { return p.drawn.has_value(); }));
}

TEST_F(MotionTest, ARemovalIsSeenGoingAndWhatIsBehindMovesUp) {
    open();
    const QImage before = still();
    live().eraseRecords(0, 1);
    const QImage began = frame(1);
    EXPECT_EQ(began, before) << "it begins where all was";
    const QImage half = frame(125);
    (void)frame(200);
    const QImage rest = still();
    EXPECT_NE(half, before);
    const auto darkest = [](const QImage& image) { // of its name, which stands where it stood
        int least = 255;
        for (int y = 100; y < 122; ++y) {
            for (int x = 70; x < 200; ++x) {
                least = std::min(least, image.pixelColor(x, y).lightness());
            }
        }
        return least;
    };
    EXPECT_GT(darkest(half), darkest(before) + 60) << "half of it is gone";
    EXPECT_NE(half, rest);
    EXPECT_TRUE(live().isIdle());
}

TEST_F(MotionTest, TheSentenceSaysHowLongAndUndoBringsItBack) {
    open();
    choose("wordMotion", "at once");
    EXPECT_FALSE(document()->animation.isAny());
    const QImage before = frame(1);
    live().eraseRecords(0, 1);
    const QImage after = frame(1);
    EXPECT_NE(after, before);
    EXPECT_EQ(frame(1), after);
    choose("wordMotion", "in 1 s");
    EXPECT_EQ(document()->animation.moveMs, 1000);
    live().eraseRecords(0, 1);
    EXPECT_EQ(frame(1), after);
    EXPECT_NE(frame(500), after);
    EXPECT_TRUE(live().run().isAnimating());
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    EXPECT_EQ(document()->animation, CollectionDocument::usualAnimation());
    const std::string path = folder.filePath(QStringLiteral("m.collection.json")).toStdString();
    choose("wordMotion", "in 400 ms, ease-out");
    ASSERT_TRUE(isSaved(path));
    EXPECT_EQ(CollectionDocument::load(path)->animation.curve, "ease-out");
}

TEST_F(MotionTest, OneKeyShowsChangesAtOnceWhateverTheCollectionSays) {
    open();
    QTest::keyClick(&flow().cutaway(), Qt::Key_M, Qt::ShiftModifier);
    const QImage before = frame(1);
    live().eraseRecords(0, 1);
    EXPECT_NE(frame(1), before);
    EXPECT_FALSE(live().run().isAnimating());
    EXPECT_TRUE(document()->animation.isAny());
    QTest::keyClick(&flow().cutaway(), Qt::Key_M, Qt::ShiftModifier);
    (void)frame(1);
    live().eraseRecords(0, 1);
    (void)frame(1);
    EXPECT_TRUE(live().run().isAnimating());
}

TEST_F(MotionTest, ASectionFoldsInMovement) {
    open();
    flow().setPaused(false);
    choose("wordSections", "sections by site");
    flow().setPaused(true);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().sections() != nullptr && live().sections()->count() > 1; }));
    (void)frame(1);
    (void)frame(1);
    live().setFolded(0, true);
    (void)frame(1);
    EXPECT_TRUE(live().run().isAnimating());
    (void)frame(300);
    (void)frame(1);
    EXPECT_FALSE(live().run().isAnimating());
}

TEST(MotionWords, AreReadAsTheyAreWritten) {
    AnimationSpec spec = CollectionDocument::usualAnimation();
    EXPECT_EQ(motionInWords(spec), QStringLiteral("in 250 ms"));
    for (const char* words :
         {"at once", "in 250 ms", "in 2 s", "in 400 ms, linear", "in 1 s, cubic-bezier(0.2, 0, 0.4, 1)"}) {
        const auto read = motionFromWords(QLatin1String(words), spec);
        ASSERT_TRUE(read) << words;
        EXPECT_EQ(motionInWords(*read).toStdString(), words);
    }
    EXPECT_EQ(motionFromWords(QStringLiteral("300"), spec)->insertMs, 300);
    EXPECT_EQ(motionFromWords(QStringLiteral("1.5 s"), spec)->moveMs, 1500);
    for (const char* wrong : {"soon", "in 90 s", "in 200 ms, springy", ""}) {
        EXPECT_FALSE(motionFromWords(QLatin1String(wrong), spec)) << wrong;
    }
    spec.insertMs = 10;
    EXPECT_EQ(motionInWords(spec), QStringLiteral("each in its time"));
    EXPECT_EQ(motionFromWords(QStringLiteral("each in its time"), spec), spec);
}

} // namespace
} // namespace scorrere::testing
