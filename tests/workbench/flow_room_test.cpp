// SPDX-License-Identifier: GPL-3.0-or-later
// How Flow shares its room: as plain geometry, and by real clicks.
#include "testing/program/window_fixture.h"
#include "workbench/ui/flow/room.h"

namespace scorrere::testing {
namespace {

using workbench::CutawayGeometry;
using workbench::FlowRoom;

TEST(CutawayGeometry, TheWindowStaysInsideAndGivesWayToWhatLiesBeyond) {
    CutawayGeometry geometry{500, 690, 1, 0, 392, 780};
    const double alone = geometry.scale();
    for (geometry.beyond = 0; geometry.beyond <= 12; ++geometry.beyond) {
        EXPECT_LE(geometry.scale(), alone);
        EXPECT_TRUE(QRectF(0, geometry.heading(), 500, 690 - geometry.heading()).contains(geometry.window()));
    }
    geometry.beyond = 3;
    EXPECT_TRUE(geometry.hasWords());
    std::swap(geometry.across, geometry.along);
    EXPECT_FALSE(geometry.hasWords()) << "on its side the words would take most of it";
    geometry.width = geometry.wanted();
    EXPECT_DOUBLE_EQ(geometry.scale(), geometry.alongScale()) << "what it wants is enough";
}

TEST(FlowRoom, TheCutawayTakesWhatItCanUseAndLeavesWhatInstrumentsNeed) {
    const FlowRoom upright{250, 300, 430};
    EXPECT_EQ(upright.cutaway(1280), 550);
    const FlowRoom side{800, 300, 430};
    EXPECT_EQ(side.cutaway(1280), 850);
    EXPECT_EQ(side.cutaway(1900), 1100);
    EXPECT_GE(side.cutaway(500), 180) << "never nothing";
}

class FlowRoomTest : public WindowTest {};

TEST_F(FlowRoomTest, InstrumentsFoldByClickAndTheDeviceGrowsAndItIsRemembered) {
    openDemo(20);
    window->goTo(QStringLiteral("flow"));
    QTest::keyClick(&flow().cutaway(), Qt::Key_T);
    ASSERT_TRUE(settle());
    QCoreApplication::processEvents();
    const double before = flow().cutaway().scale();
    QTest::mouseClick(find("framesHeading"), Qt::LeftButton);
    EXPECT_FALSE(find("frames")->isVisible());
    EXPECT_TRUE(QTest::qWaitFor([&] { return !find<QLabel>("framesTold")->text().isEmpty(); }))
        << "a line is left of it";
    EXPECT_TRUE(find("itemViews")->isVisible());
    QTest::mouseClick(find("itemViewsHeading"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow().cutaway().scale() > before; }));
    const std::string path = folder.filePath(QStringLiteral("side.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    window->close();
    window.reset();
    makeWindow();
    openFile(path);
    window->goTo(QStringLiteral("flow"));
    EXPECT_FALSE(find("frames")->isVisible());
    EXPECT_TRUE(QTest::qWaitFor([&] { return flow().cutaway().scale() > before; }));
    QTest::keyClick(&flow().cutaway(), Qt::Key_F);
    EXPECT_TRUE(find("frames")->isVisible());
    EXPECT_TRUE(QTest::qWaitFor([&] { return std::abs(flow().cutaway().scale() - before) < 0.02; }));
}

} // namespace
} // namespace scorrere::testing
