// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/arrangement_spec.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

TEST(Lanes, AsManyAsFitAreNoNarrowerAndOneIsAlwaysThere) {
    const Lanes wide{9, Length::px(100), Length::px(10)};
    EXPECT_EQ(wide.in(Length::px(320)), 3);
    EXPECT_EQ(wide.in(Length::px(319)), 2);
    EXPECT_EQ(wide.in(Length::px(40)), 1);
    EXPECT_EQ(wide.in(Length::px(1'000'000)), static_cast<int>(Arrangement::kMostInALine));
    EXPECT_EQ(wide.widthIn(Length::px(320)), Length::px(100));
}

TEST(Lanes, ANumberThatTheLeastWidthOverrulesMakesNoDifference) {
    EXPECT_EQ((Lanes{2, Length::px(100), {}}), (Lanes{5, Length::px(100), {}}));
    EXPECT_NE((Lanes{2, {}, {}}), (Lanes{5, {}, {}}));
}

RC_GTEST_PROP(Lanes, StandBesideEachOtherInTheRoom, ()) {
    const Lanes lanes{*rc::gen::inRange(1, 33), *rc::gen::element(Length{}, Length::px(60)),
                      Length::fromRaw(*rc::gen::inRange<std::int64_t>(0, 1000))};
    const Length room = Length::fromRaw(*rc::gen::inRange<std::int64_t>(40'000, 200'000));
    const int count = lanes.in(room);
    RC_ASSERT(count >= 1 && count <= 32);
    for (int lane = 0; lane + 1 < count; ++lane) {
        RC_ASSERT(lanes.startOf(lane + 1, room) ==
                  lanes.startOf(lane, room) + lanes.widthIn(room) + lanes.gap);
    }
    const Length end = lanes.startOf(count - 1, room) + lanes.widthIn(room);
    RC_ASSERT(end <= room);
    RC_ASSERT(room - end < Length::fromRaw(count)); // but for what does not part into whole 1/64 px
}

TEST(ItemWidth, IsWhatTheArrangementGivesInAWindow) {
    const Length wide = Length::px(392);
    const Length high = Length::px(780);
    ArrangementSpec spec;
    spec.spacing.insets = {Length::px(1), Length::px(10), Length::px(2), Length::px(20)};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(362));
    spec.form = GridSpec{{2, {}, Length::px(12)}, {}};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(175));
    EXPECT_EQ(itemWidth(spec, wide, high, 2), Length::px(362));
    std::get<GridSpec>(spec.form).columns.count = 3;
    std::get<GridSpec>(spec.form).spans = {{"odd", 2}, {"heading", GridSpec::kAllColumns}};
    EXPECT_NEAR(itemWidth(spec, wide, high, spanOf(spec, "odd")).toPx(), 237.3, 0.1);
    EXPECT_NEAR(itemWidth(spec, wide, high, spanOf(spec, "heading")).toPx(), 362, 0.1);
    EXPECT_NEAR(itemWidth(spec, wide, high, spanOf(spec, "no such")).toPx(), 112.6, 0.1);
    spec.form = ListSpec();
    spec.sideways = Sideways{Sideways::Share{0.5}};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(196));
    spec.sideways = Sideways{Sideways::Content{Length::px(240)}};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(240));
    spec.form = PagerSpec{Length::px(8), false, {}};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(392 - 30 - 16))
        << "the window's, less insets and peeks";
    spec.form = GridSpec{{2, {}, {}}, GridSpec::Aspect{3, 4}};
    spec.spacing.insets = {};
    EXPECT_EQ(itemWidth(spec, wide, high), Length::px(390) * 3 / 4) << "of half the height, as 3 to 4";
}

TEST(Sideways, InsetsAreThoseOfTheScreen) {
    ArrangementSpec spec;
    spec.spacing.insets = {Length::px(1), Length::px(2), Length::px(3), Length::px(4)};
    spec.sideways = Sideways();
    const auto made = makeArrangement(spec, {}, 2, {Length::px(100)});
    made->setCross(Length::px(50));
    EXPECT_EQ(made->boxOf(0).start, Length::px(4)) << "it begins at the screen's start";
    EXPECT_EQ(made->boxOf(0).crossStart, Length::px(1)) << "below its top";
    EXPECT_EQ(made->boxOf(0).crossExtent, Length::px(46));
    EXPECT_EQ(made->total(), Length::px(4 + 200 + 2));
}

} // namespace
} // namespace scorrere
