// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/retry_policy.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

PageFailure failure(PageFailure::Kind kind, std::int64_t retryAfterMs = 0) {
    return {kind, "", "", retryAfterMs, {}};
}

TEST(RetryPolicy, WaitsDoubleWithJitterAndThenItGivesUp) {
    PageRules rules;
    RetryPolicy policy(rules);
    std::int64_t whole = rules.backOffMs;
    for (int tries = 1; tries < rules.tries; ++tries, whole *= 2) {
        const auto at = policy.failed(1000, failure(PageFailure::Kind::Passing), tries);
        ASSERT_TRUE(at);
        EXPECT_GT(*at - 1000, whole / 2);
        EXPECT_LE(*at - 1000, whole);
    }
    EXPECT_FALSE(policy.failed(1000, failure(PageFailure::Kind::Passing), rules.tries));
    EXPECT_FALSE(policy.failed(1000, failure(PageFailure::Kind::Lasting), 1));
}

TEST(RetryPolicy, TwoCallersDoNotComeBackTogether) {
    PageRules rules;
    RetryPolicy one(rules);
    rules.seed = 2;
    RetryPolicy other(rules);
    EXPECT_NE(one.failed(0, failure(PageFailure::Kind::Passing), 1),
              other.failed(0, failure(PageFailure::Kind::Passing), 1));
}

TEST(RetryPolicy, TheServiceSaysHowLongToBeQuiet) {
    RetryPolicy policy{PageRules{}};
    EXPECT_EQ(policy.failed(1000, failure(PageFailure::Kind::Passing, 9000), 1), 10'000);
    EXPECT_EQ(policy.quietUntilMs(), 10'000);
}

TEST(RetryPolicy, ABudgetKeepsTriesFromBeingMostOfTheCalls) {
    PageRules rules;
    RetryPolicy policy(rules);
    int again = 0;
    while (policy.failed(0, failure(PageFailure::Kind::Passing), 1)) {
        ++again;
    }
    EXPECT_EQ(again, 10);
    for (int i = 0; i < 5; ++i) {
        policy.succeeded();
    }
    EXPECT_TRUE(policy.failed(0, failure(PageFailure::Kind::Passing), 1));
    EXPECT_FALSE(policy.failed(0, failure(PageFailure::Kind::Passing), 1));
}

TEST(RetryPolicy, OfflineIsNeverGivenUpAndEndsWithAnyAnswer) {
    RetryPolicy policy{PageRules{}};
    for (int tries = 1; tries < 30; ++tries) {
        ASSERT_TRUE(policy.failed(0, failure(PageFailure::Kind::Offline), tries));
    }
    EXPECT_TRUE(policy.isOffline());
    EXPECT_GT(policy.quietUntilMs(), 10'000);
    EXPECT_LE(policy.quietUntilMs(), 30'000);
    policy.probeNow();
    EXPECT_EQ(policy.quietUntilMs(), 0);
    policy.succeeded();
    EXPECT_FALSE(policy.isOffline());
}

} // namespace
} // namespace scorrere
