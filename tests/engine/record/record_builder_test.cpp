// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/record_builder.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <optional>
#include <rapidcheck/gtest.h>
#include <string>
#include <vector>

namespace scorrere {
namespace {

/// The plain oracle: every value as the text it must come back as.
using PlainRecord = std::vector<std::optional<std::string>>;

RC_GTEST_PROP(RecordBuilder, WhateverIsMixedComesBackAsItWasOrMissing, ()) {
    RecordBuilder builder;
    std::vector<PlainRecord> plain;
    const int fields = *rc::gen::inRange(1, 5);
    // Few enough kinds a field that some stay pure and some are widened.
    std::vector<int> kinds;
    for (int f = 0; f < fields; ++f) {
        kinds.push_back(*rc::gen::inRange(1, 32));
    }
    for (int r = *rc::gen::inRange(0, 200); r > 0; --r) {
        PlainRecord record(static_cast<std::size_t>(fields));
        for (int f = 0; f < fields; ++f) {
            const std::size_t at = static_cast<std::size_t>(f);
            const int kind = *rc::gen::inRange(0, 6);
            if (kind == 5 || ((kinds[at] >> kind) & 1) == 0) {
                continue; // missing
            }
            const int field = builder.fieldNamed(fmt::format("f{}", f), f);
            const int value = *rc::gen::inRange(-1000, 1000);
            switch (kind) {
            case 0:
                builder.setInteger(field, value);
                record[at] = fmt::format("{}", value);
                break;
            case 1:
                builder.setReal(field, value + 0.5);
                record[at] = fmt::format("{}", value + 0.5);
                break;
            case 2:
                builder.setBoolean(field, value > 0);
                record[at] = value > 0 ? "true" : "false";
                break;
            case 3:
                builder.setText(field, fmt::format("2024-05-0{}", 1 + std::abs(value) % 9));
                record[at] = fmt::format("2024-05-0{}", 1 + std::abs(value) % 9);
                break;
            default:
                builder.setText(field, fmt::format("text {}", value));
                record[at] = fmt::format("text {}", value);
                break;
            }
        }
        builder.endRecord();
        plain.push_back(record);
    }
    const RecordTable table = builder.finish();
    RC_ASSERT(table.size() == static_cast<std::int64_t>(plain.size()));
    for (std::size_t r = 0; r < plain.size(); ++r) {
        for (std::size_t f = 0; f < plain[r].size(); ++f) {
            const auto field = table.find(fmt::format("f{}", f));
            const auto& wanted = plain[r][f];
            if (!field) {
                RC_ASSERT(!wanted.has_value());
                continue;
            }
            const auto at = static_cast<std::int64_t>(r);
            RC_ASSERT(table.has(at, *field) == wanted.has_value());
            RC_ASSERT(table.display(at, *field) == wanted.value_or(""));
        }
    }
}

TEST(RecordBuilder, TheNarrowestTypeThatHoldsAllIsTaken) {
    const std::array all{FieldType::Boolean, FieldType::Integer, FieldType::Real,  FieldType::Time,
                         FieldType::Text,    FieldType::List,    FieldType::Object};
    for (const FieldType a : all) {
        EXPECT_EQ(widened(a, a), a);
        EXPECT_EQ(widened(a, FieldType::Unknown), a);
        EXPECT_EQ(widened(FieldType::Unknown, a), a);
        for (const FieldType b : all) {
            EXPECT_EQ(widened(a, b), widened(b, a));
        }
    }
    EXPECT_EQ(widened(FieldType::Integer, FieldType::Real), FieldType::Real);
    EXPECT_EQ(widened(FieldType::Integer, FieldType::Time), FieldType::Text);
}

TEST(RecordBuilder, SegmentsAreSharedNotCopied) {
    RecordBuilder builder;
    for (int i = 0; i < 40'000; ++i) {
        builder.setText(builder.fieldNamed("t"), "some text of a certain length");
        builder.endRecord();
    }
    const RecordTable table = builder.finish();
    const RecordTable copy = table;
    EXPECT_EQ(copy.text(39'999, *copy.find("t")).data(), table.text(39'999, *table.find("t")).data());
    EXPECT_LT(table.memoryBytes(), 40'000u * 29u * 13u / 10u)
        << "columns take little more than the text itself";
}

} // namespace
} // namespace scorrere
