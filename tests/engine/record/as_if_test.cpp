// SPDX-License-Identifier: GPL-3.0-or-later
// As if there were more records: what the further ones are made of.
#include "engine/record/record_builder.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <set>
#include <thread>

namespace scorrere {
namespace {

/// 60 records: a number and a text that are keys, a text of two values, a real that those of one of them lack.
RecordTable sixty() {
    RecordBuilder builder;
    for (int i = 0; i < 60; ++i) {
        builder.setInteger(builder.fieldNamed("id"), 1000 - i);
        builder.setText(builder.fieldNamed("code"), "K" + std::to_string(i));
        builder.setText(builder.fieldNamed("kind"), i % 4 == 0 ? "rare" : "common");
        if (i % 4 != 0) {
            builder.setReal(builder.fieldNamed("weight"), i / 2.0);
        }
        builder.endRecord();
    }
    return builder.finish();
}

std::vector<FieldHandle> keysOf(const RecordTable& records) {
    return {*records.find("id"), *records.find("code")};
}

TEST(AsIf, TheOwnRecordsComeFirstAsTheyAre) {
    const RecordTable own = sixty();
    const RecordTable more = own.asIf(20'000, keysOf(own));
    ASSERT_EQ(more.size(), 20'000);
    for (std::int64_t record = 0; record < own.size(); ++record) {
        for (int field = 0; field < 4; ++field) {
            EXPECT_EQ(more.display(record, FieldHandle{field}), own.display(record, FieldHandle{field}));
        }
    }
}

TEST(AsIf, WhatIsMadeUpHasValuesThatThereAreAsOftenAsTheyAre) {
    const RecordTable own = sixty();
    const RecordTable more = own.asIf(20'000, keysOf(own));
    const FieldHandle kind = *own.find("kind");
    const FieldHandle weight = *own.find("weight");
    std::set<double> weights;
    std::int64_t rare = 0;
    std::int64_t weighed = 0;
    std::int64_t both = 0;
    for (std::int64_t record = 60; record < more.size(); ++record) {
        const bool isRare = more.text(record, kind) == "rare";
        EXPECT_TRUE(isRare || more.text(record, kind) == "common");
        rare += isRare ? 1 : 0;
        if (more.has(record, weight)) {
            ++weighed;
            both += isRare ? 1 : 0;
            weights.insert(more.real(record, weight));
        }
    }
    EXPECT_NEAR(static_cast<double>(rare) / 19'940, 0.25, 0.02);
    EXPECT_NEAR(static_cast<double>(weighed) / 19'940, 0.75, 0.02);
    EXPECT_NEAR(static_cast<double>(both) / 19'940, 0.25 * 0.75, 0.02) << "each field is drawn by itself";
    EXPECT_EQ(weights.size(), 45u) << "all of the values, and no other";
}

TEST(AsIf, KeysAreKeptApartAndTheSameEachTime) {
    const RecordTable own = sixty();
    const RecordTable more = own.asIf(40'000, keysOf(own));
    const RecordTable again = own.asIf(40'000, keysOf(own));
    const FieldHandle id = *own.find("id");
    const FieldHandle code = *own.find("code");
    std::set<std::int64_t> ids;
    std::set<std::string, std::less<>> codes;
    for (std::int64_t record = 0; record < more.size(); ++record) {
        ids.insert(more.integer(record, id));
        codes.emplace(more.text(record, code));
    }
    EXPECT_EQ(ids.size(), 40'000u);
    EXPECT_EQ(codes.size(), 40'000u);
    for (const std::int64_t record : {60, 16'383, 16'384, 39'999}) {
        EXPECT_EQ(more.integer(record, id), again.integer(record, id));
        EXPECT_EQ(more.real(record, id), static_cast<double>(again.integer(record, id)));
        EXPECT_EQ(more.text(record, code), again.text(record, code));
        EXPECT_EQ(more.display(record, id), std::to_string(more.integer(record, id)));
    }
}

TEST(AsIf, ThreadsReadTheSameKeys) {
    const RecordTable own = sixty();
    const RecordTable more = own.asIf(100'000, keysOf(own));
    const FieldHandle code = *own.find("code");
    std::vector<std::string> seen[2];
    {
        std::vector<std::jthread> readers;
        for (auto& into : seen) {
            readers.emplace_back([&more, &into, code] {
                for (std::int64_t record = 0; record < more.size(); record += 7) {
                    into.emplace_back(more.text(record, code));
                }
            });
        }
    }
    EXPECT_EQ(seen[0], seen[1]);
}

TEST(AsIf, ThereMayBeFewerAndOfNoneThereAreNone) {
    const RecordTable own = sixty();
    EXPECT_EQ(own.asIf(20, keysOf(own)).size(), 20);
    EXPECT_EQ(own.asIf(0, keysOf(own)).size(), 0);
    EXPECT_EQ(RecordBuilder().finish().asIf(1000, {}).size(), 0);
    EXPECT_EQ(own.asIf(1'000'000, keysOf(own)).memoryBytes(), own.memoryBytes());
}

TEST(AsIf, AKeyThatLeavesNoRoomIsCountedFromOne) {
    RecordBuilder builder;
    builder.setInteger(builder.fieldNamed("id"), std::int64_t{1} << 62 | 5);
    builder.endRecord();
    builder.setInteger(builder.fieldNamed("id"), -(std::int64_t{1} << 60));
    builder.endRecord();
    const RecordTable more = builder.finish().asIf(10, {FieldHandle{0}});
    EXPECT_EQ(more.integer(2, FieldHandle{0}), 1);
    EXPECT_EQ(more.integer(9, FieldHandle{0}), 8);
}

TEST(LikelyKey, IsTheFirstFieldThatDiffersEverywhere) {
    const RecordTable own = sixty();
    EXPECT_EQ(likelyKey(own), own.find("id"));
    RecordBuilder builder;
    for (const char* text : {"a", "a"}) {
        builder.setText(builder.fieldNamed("kind"), text);
        builder.endRecord();
    }
    EXPECT_EQ(likelyKey(builder.finish()), std::nullopt);
    EXPECT_EQ(likelyKey(RecordTable()), std::nullopt);
}

} // namespace
} // namespace scorrere
