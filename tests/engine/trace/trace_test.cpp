// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/trace/trace.h"

#include "engine/trace/trace_export.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

FrameRecord frame(std::int64_t number, std::int64_t ns) {
    FrameRecord made;
    made.number = number;
    made.timeUs = number * 8333;
    made.first = 3;
    made.last = 9;
    made.filled = 2;
    made.costNs[static_cast<std::size_t>(Phase::Measure)] = ns;
    return made;
}

TEST(Trace, WorkBeforeTheRunsPartBelongsToItsFrame) {
    Trace trace(4);
    FrameRecord frame;
    frame.number = 1;
    frame.costNs[static_cast<std::size_t>(Phase::Decide)] = 100;
    trace.add(frame);
    trace.addCost(1, Phase::Decide, 50);
    trace.addCost(7, Phase::Decide, 50); // of no frame that is held
    EXPECT_EQ(trace.at(0).totalNs(), 150);
}

TEST(Trace, KeepsTheLatestAndFindsThemByNumber) {
    Trace trace(4);
    for (int i = 1; i <= 6; ++i) {
        trace.add(frame(i, i * 1000));
    }
    EXPECT_EQ(trace.size(), 4u);
    EXPECT_EQ(trace.framesEver(), 6);
    EXPECT_EQ(trace.find(2), nullptr);
    ASSERT_NE(trace.find(3), nullptr);
    EXPECT_EQ(trace.find(3)->totalNs(), 3000);
    trace.addPaint(5, 700);
    trace.addPaint(5, 900);
    EXPECT_EQ(trace.find(5)->totalNs(), 5900) << "the latest paint of a frame counts";
    trace.addPaint(99, 1);
    EXPECT_EQ(trace.totals().filled, 12) << "sums go over all frames, held or not";
}

TEST(Trace, SumsUp) {
    Trace trace;
    for (int i = 1; i <= 100; ++i) {
        trace.add(frame(i, i * 100'000));
    }
    const Statistics all = trace.statistics(1000, 9.0);
    EXPECT_EQ(all.frames, 100u);
    EXPECT_NEAR(all.medianMs, 5.1, 0.11);
    EXPECT_NEAR(all.p99Ms, 9.9, 0.11);
    EXPECT_DOUBLE_EQ(all.worstMs, 10.0);
    EXPECT_EQ(all.overBudget, 10);
    EXPECT_EQ(trace.statistics(10, 9.0).frames, 10u);
}

TEST(Trace, TheFingerprintKnowsWorkFromCost) {
    Trace a;
    Trace b;
    Trace c;
    a.add(frame(1, 5));
    b.add(frame(1, 999));
    FrameRecord other = frame(1, 5);
    other.filled = 3;
    c.add(other);
    EXPECT_EQ(a.fingerprint(), b.fingerprint());
    EXPECT_NE(a.fingerprint(), c.fingerprint());
}

struct CountedWatch final : Stopwatch {
    std::int64_t now = 0;
    std::int64_t nowNs() override { return now; }
};

TEST(CostMeter, InnerPhasesAreNotTheOuterOnes) {
    CountedWatch watch;
    CostMeter meter(watch);
    meter.start();
    watch.now += 5;
    {
        const CostMeter::Span fill(meter, Phase::Fill);
        watch.now += 10;
        {
            const CostMeter::Span measure(meter, Phase::Measure);
            watch.now += 100;
        }
        watch.now += 20;
    }
    const auto cost = meter.stop();
    EXPECT_EQ(cost[static_cast<std::size_t>(Phase::Decide)], 5);
    EXPECT_EQ(cost[static_cast<std::size_t>(Phase::Fill)], 30);
    EXPECT_EQ(cost[static_cast<std::size_t>(Phase::Measure)], 100);
}

TEST(TraceExport, WritesWhatTheFormatsSay) {
    Trace trace;
    trace.add(frame(1, 2500));
    EXPECT_EQ(toCsv(trace),
              "frame,time_us,offset_px,first,last,built,filled,filled_ahead,released,live,pooled,"
              "misestimate_px,jump_px,bounded,decide_us,build_us,fill_us,measure_us,paint_us\r\n"
              "1,8333,0,3,9,0,2,0,0,0,0,0,0,0,0.0,0.0,0.0,2.5,0.0\r\n");
    EXPECT_EQ(
        toTraceEventJson(trace),
        "{\"displayTimeUnit\":\"ms\",\"traceEvents\":[\n"
        "{\"name\":\"frame\",\"ph\":\"X\",\"pid\":1,\"tid\":1,\"ts\":8333,\"dur\":2.500,\"args\":{\"number\":"
        "1,"
        "\"first\":3,\"last\":9,\"offsetPx\":0.000,\"built\":0,\"filled\":2,\"filledAhead\":0,\"released\":0,"
        "\"jumpPx\":0.000,\"bounded\":false}},\n"
        "{\"name\":\"measure\",\"ph\":\"X\",\"pid\":1,\"tid\":1,\"ts\":8333.000,\"dur\":2.500},\n"
        "{\"name\":\"item "
        "views\",\"ph\":\"C\",\"pid\":1,\"ts\":8333,\"args\":{\"live\":0,\"pooled\":0}}\n]}\n");
}

} // namespace
} // namespace scorrere
