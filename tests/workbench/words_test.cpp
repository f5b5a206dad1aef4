// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/devices.h"
#include "workbench/ui/flow/flow_sentence.h"
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

TEST(PageLeadWords, SayWhatIsNotAsUsualAndGoThereAndBack) {
    EXPECT_EQ(pageLeadInWords(PagingSpec()), QStringLiteral("1.5 screens"));
    PagingSpec paging;
    paging.lead = 0.5;
    paging.leadMs = 900;
    paging.atOnce = 5;
    EXPECT_EQ(pageLeadInWords(paging), QStringLiteral("half a screen and 900 ms, 5 at once"));
    for (const char* words : {"half a screen and 900 ms, 5 at once", "2 screens, 1 at once",
                              "one screen and 0 ms", "nothing", "0.75 screens"}) {
        PagingSpec read;
        EXPECT_TRUE(pageLeadFromWords(QString::fromLatin1(words), read)) << words;
        EXPECT_EQ(pageLeadInWords(read), QString::fromLatin1(words));
    }
    for (const char* words : {"", "eleven", "20 screens", "2 screens, 0 at once", "2 screens, 99 at once",
                              "1 screen and 99999999 ms", "2 screens and soon"}) {
        PagingSpec read = paging;
        EXPECT_FALSE(pageLeadFromWords(QString::fromLatin1(words), read)) << words;
        EXPECT_EQ(read, paging);
    }
}

TEST(StartWords, CountFromOneWherePeopleRead) {
    EXPECT_EQ(startInWords(0), QStringLiteral("the start"));
    EXPECT_EQ(startInWords(4999), QStringLiteral("record 5,000"));
    for (const std::int64_t start : {0, 1, 4999, 20'999'999}) {
        EXPECT_EQ(startFromWords(startInWords(start)), start);
    }
    EXPECT_EQ(startFromWords(QStringLiteral("5000")), 4999);
    EXPECT_EQ(startFromWords(QStringLiteral("record 1")), 0);
    EXPECT_EQ(startFromWords(QStringLiteral("record 0")), std::nullopt);
    EXPECT_EQ(startFromWords(QStringLiteral("-3")), std::nullopt);
    EXPECT_EQ(startFromWords(QStringLiteral("somewhere")), std::nullopt);
}

TEST(WeatherWords, GoThereAndBackAndRefuseWhatIsNone) {
    for (const char* words : {"clear weather", "no network", "300 ms", "150 to 600 ms", "60 kB/s",
                              "150 to 600 ms, 60 kB/s, 5% lost, 10% failing"}) {
        const auto read = weatherFromWords(QString::fromLatin1(words));
        ASSERT_TRUE(read) << words;
        EXPECT_EQ(weatherInWords(*read), QString::fromLatin1(words));
    }
    for (const char* words : {"", "fog", "300", "120% lost", "300 ms and more", "-5 ms"}) {
        EXPECT_FALSE(weatherFromWords(QString::fromLatin1(words))) << words;
    }
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
