// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/page/waiting_records.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;

PageRecord record(const std::string& key, std::uint64_t content = 1) {
    return {key, content, nullptr, 0};
}

std::vector<std::string> keysOf(const WaitingRecords& held) {
    std::vector<std::string> keys;
    held.forEach([&keys](const PageRecord& one) { keys.push_back(one.key); });
    return keys;
}

TEST(WaitingRecords, StandWithTheNewestFirstAndChangeInPlace) {
    WaitingRecords held;
    held.add(record("a"));
    held.add(record("b"));
    held.add(record("c"));
    PageRecord changed = record("b", 7);
    EXPECT_TRUE(held.update(changed));
    PageRecord other = record("z");
    EXPECT_FALSE(held.update(other));
    EXPECT_EQ(held.find("b")->content, 7U);
    EXPECT_EQ(held.find("z"), nullptr);
    held.remove("a");
    held.remove("z");
    EXPECT_THAT(keysOf(held), ElementsAre("c", "b"));
    held.eraseIf([](const PageRecord& one) { return one.key == "c"; });
    EXPECT_EQ(held.find("c"), nullptr);
    EXPECT_EQ(held.count(), 1U);
    const auto taken = held.take();
    ASSERT_EQ(taken.size(), 1U);
    EXPECT_EQ(taken[0].key, "b");
    EXPECT_EQ(held.count(), 0U);
    EXPECT_EQ(held.find("b"), nullptr);
}

TEST(WaitingRecords, OfVeryManyTheOldestAreOnlyCounted) {
    WaitingRecords held;
    const auto most = static_cast<int>(WaitingRecords::kMost);
    for (int i = 0; i < most + 5; ++i) {
        held.add(record(std::to_string(i)));
        EXPECT_EQ(held.isWhole(), i < most);
    }
    EXPECT_EQ(held.count(), WaitingRecords::kMost + 5);
    EXPECT_EQ(held.size(), WaitingRecords::kMost);
    EXPECT_EQ(held.find("4"), nullptr);
    EXPECT_NE(held.find("5"), nullptr);
    held.clear();
    EXPECT_EQ(held.count(), 0U);
    EXPECT_TRUE(held.isWhole());
}

} // namespace
} // namespace scorrere
