// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/page_set.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <set>

namespace scorrere {
namespace {

RC_GTEST_PROP(PageSet, IsASet, ()) {
    PageSet pages;
    std::set<std::int64_t> model;
    const int steps = *rc::gen::inRange(0, 200);
    for (int i = 0; i < steps; ++i) {
        const std::int64_t page = *rc::gen::inRange(-15, 15);
        switch (*rc::gen::inRange(0, 8)) {
        case 0:
            pages.cutFrom(page);
            model.erase(model.lower_bound(page), model.end());
            break;
        case 1:
        case 2:
            pages.erase(page);
            model.erase(page);
            break;
        default:
            pages.insert(page);
            model.insert(page);
        }
        for (std::int64_t one = -18; one < 18; ++one) {
            RC_ASSERT(pages.contains(one) == model.contains(one));
        }
    }
}

TEST(PageSet, HoldsAPageOfAnyNumberForNothing) {
    PageSet pages;
    pages.insert(2'000'000'000'000);
    EXPECT_TRUE(pages.contains(2'000'000'000'000));
    EXPECT_FALSE(pages.contains(1'999'999'999'999));
}

} // namespace
} // namespace scorrere
