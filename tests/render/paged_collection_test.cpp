// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/live_collection.h"

#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"
#include "testing/program/paged_fixture.h"

#include <QTemporaryDir>
#include <QTest>
#include <gmock/gmock.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;
using testing::PagedFixture;

class PagedCollection : public PagedFixture {};

TEST_F(PagedCollection, ReadsPagesAheadOfTheWindowAndEstimatesThem) {
    open(21'000);
    ASSERT_TRUE(until([&] { return pager().total() == 21'000 && quiet(); }));
    EXPECT_EQ(live->recordCount(), 21'000);
    for (int i = 0; i < 40; ++i) {
        live->run().wheel(Length::px(60));
        frames(1);
    }
    ASSERT_TRUE(until([&] { return pager().strip().isLoaded(2) && quiet(); }));
    // Estimated from content, what comes is exact before it shows.
    ListArrangement& list = live->run().list();
    std::vector<Length> estimated;
    for (std::int64_t place = 40; place < 60; ++place) {
        EXPECT_EQ(list.stateOf(list.positionOf(place)), ExtentState::ContentEstimate);
        estimated.push_back(list.extentOf(list.positionOf(place)));
    }
    int exact = 0;
    for (std::int64_t place = 40; place < 60; ++place) {
        live->run().jumpTo(list.positionOf(place));
        frames(1);
        exact +=
            list.extentOf(list.positionOf(place)) == estimated[static_cast<std::size_t>(place - 40)] ? 1 : 0;
    }
    EXPECT_GE(exact, 15);
}

} // namespace
} // namespace scorrere::render
