// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/board_geometry.h"

#include "engine/record/record_builder.h"

#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

PartSpec textPart() {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = "word";
    return part;
}

/// A column of a text of 80 x 16 at 10, 10 and a text of 12 x 12 at 10, 40.
class BoardGeometryTest : public ::testing::Test {
protected:
    BoardGeometryTest() {
        PartSpec column;
        column.type = PartType::Column;
        column.children = {textPart(), textPart()};
        RecordBuilder builder;
        auto compiled = ItemDesign::compile(column, builder.finish(), "en");
        design = std::make_unique<ItemDesign>(std::move(*compiled));
        const auto box = [](int x, int y, int width, int height) {
            PartBox made;
            made.x = Length::px(x);
            made.y = Length::px(y);
            made.width = Length::px(width);
            made.height = Length::px(height);
            made.shown = true;
            return made;
        };
        boxes = {box(0, 0, 100, 60), box(10, 10, 80, 16), box(10, 40, 12, 12)};
    }
    BoardGeometry geometry() const { return {*design, boxes, {0, 0}, 1}; }
    std::unique_ptr<ItemDesign> design;
    std::vector<PartBox> boxes;
};

TEST_F(BoardGeometryTest, APointerThatIsALittleOffStillMeansTheSmallPart) {
    EXPECT_EQ(geometry().partAt({16, 46}), 2);
    EXPECT_EQ(geometry().partAt({23.5, 46}), 2);
    EXPECT_EQ(geometry().partAt({16, 38.5}), 2);
    EXPECT_EQ(geometry().partAt({16, 33}), 0) << "far from both it is the box";
}

TEST_F(BoardGeometryTest, HandlesNeverCoverWhatTheyStandAt) {
    for (const int part : {1, 2}) {
        const QRectF rect = geometry().rectOf(part);
        for (const bool inRow : {false, true}) {
            for (const QRectF& plus : BoardGeometry::plusPlaces(rect, inRow)) {
                EXPECT_FALSE(plus.intersects(rect));
            }
        }
        const QRectF handle = BoardGeometry::sizeHandle(rect);
        EXPECT_FALSE(handle.contains(rect.center()));
        EXPECT_FALSE(handle.intersects(rect.adjusted(0, 0, -1, -1)) && rect.height() < 24);
    }
    const auto gap = geometry().gapHandle(0);
    ASSERT_TRUE(gap);
    EXPECT_FALSE(gap->intersects(geometry().rectOf(1)));
    EXPECT_FALSE(gap->intersects(geometry().rectOf(2)));
    EXPECT_FALSE(geometry().gapHandle(1)) << "a text has no gap";
}

TEST_F(BoardGeometryTest, APartLandsBetweenThoseThatItIsBetween) {
    const std::string dragged = "/items/record/column/9"; // none of these
    EXPECT_EQ(geometry().landingAt({50, 5}, dragged)->place, 0);
    EXPECT_EQ(geometry().landingAt({50, 33}, dragged)->place, 1);
    EXPECT_EQ(geometry().landingAt({50, 58}, dragged)->place, 2);
    const auto landing = geometry().landingAt({50, 33}, dragged);
    EXPECT_EQ(landing->around, geometry().rectOf(0));
    EXPECT_GT(landing->bar.top(), geometry().rectOf(1).center().y());
    EXPECT_LT(landing->bar.bottom(), geometry().rectOf(2).top());
    EXPECT_FALSE(geometry().landingAt({50, 33}, design->parts()[0].pointer)) << "never into itself";
}

} // namespace
} // namespace scorrere::workbench
