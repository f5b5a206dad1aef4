// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/extent/known_extents.h"

#include <gtest/gtest.h>
#include <thread>

namespace scorrere {
namespace {

TEST(KnownExtents, AnEstimateNeverTakesTheMeasuredOnesPlace) {
    KnownExtents known;
    EXPECT_FALSE(known.at(5));
    known.setEstimated(5, Length::px(40));
    EXPECT_EQ(known.at(5), (KnownExtents::Known{Length::px(40), false}));
    known.set(5, {Length::px(44), true});
    known.setEstimated(5, Length::px(40));
    EXPECT_EQ(known.at(5), (KnownExtents::Known{Length::px(44), true}));
    known.set(1'000'000, {Length{}, true});
    EXPECT_EQ(known.at(1'000'000), (KnownExtents::Known{Length{}, true})) << "nothing is an extent, too";
    EXPECT_FALSE(known.at(999'999));
    EXPECT_EQ(known.count(), 2);
    known.set(-1, {Length::px(1), true});
    known.set(KnownExtents::kMost, {Length::px(1), true});
    EXPECT_FALSE(known.at(-1));
    EXPECT_FALSE(known.at(KnownExtents::kMost));
}

TEST(KnownExtents, AnotherThreadReadsWhileOneWrites) {
    KnownExtents known;
    std::thread reader([&] {
        for (std::int64_t record = 0; record < 50'000; ++record) {
            const auto one = known.at(record);
            EXPECT_TRUE(!one || *one == (KnownExtents::Known{Length::fromRaw(record), true}));
        }
    });
    for (std::int64_t record = 0; record < 50'000; ++record) {
        known.set(record, {Length::fromRaw(record), true});
    }
    reader.join();
}

} // namespace
} // namespace scorrere
