// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/devices.h"
#include "workbench/ui/flow/recession.h"
#include "workbench/ui/look/lead_words.h"

#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

TEST(LeadWords, GoThereAndBack) {
    for (const double windows : {0.0, 0.25, 0.5, 1.0, 1.5, 2.0}) {
        EXPECT_EQ(leadFromWords(leadInWords(windows)), windows);
    }
    EXPECT_EQ(leadFromWords(QStringLiteral("1,5")), 1.5);
    EXPECT_EQ(leadFromWords(QStringLiteral("eleven")), std::nullopt);
    EXPECT_EQ(leadFromWords(QStringLiteral("11")), std::nullopt);
    EXPECT_EQ(scaleFromWords(QStringLiteral("150 %")), 1.5);
    EXPECT_EQ(scaleFromWords(QStringLiteral("20")), std::nullopt);
}

TEST(Devices, AnUnknownNameIsTheTallHandset) {
    EXPECT_STREQ(deviceNamed("tablet").name, "tablet");
    EXPECT_STREQ(deviceNamed("tricorder").name, "tall handset");
}

TEST(Recession, ShrinksWithDistanceAndEndsWhereTheRoomEnds) {
    const Recession recession(100, 2000, 0.5);
    EXPECT_DOUBLE_EQ(recession.at(0), 0);
    EXPECT_NEAR(recession.at(2000), 100, 1e-9);
    EXPECT_NEAR(recession.at(1), 0.5, 0.01);
    double step = 1e9;
    for (int d = 0; d < 2000; d += 100) {
        const double now = recession.at(d + 100) - recession.at(d);
        EXPECT_LT(now, step);
        EXPECT_GT(now, 0);
        step = now;
    }
    const Recession roomy(1000, 200, 0.5);
    EXPECT_DOUBLE_EQ(roomy.at(200), 100) << "no need to stretch what fits";
}

} // namespace
} // namespace scorrere::workbench
