// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/order/value_counts.h"

#include "engine/record/record_builder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using ::testing::IsEmpty;

RecordTable some(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        if (i % 10 != 0) {
            builder.setText(builder.fieldNamed("status"), i % 3 == 0 ? "queried" : "verified");
        }
        builder.setBoolean(builder.fieldNamed("kept"), i % 4 == 0);
        builder.setInteger(builder.fieldNamed("number"), i);
        builder.endRecord();
    }
    return builder.finish();
}

TEST(ValueCounts, AreOfAllRecordsTheMostFrequentFirst) {
    for (const std::int64_t count : {300, 40'000}) { // in columns that are coded and some that are not
        const RecordTable records = some(count);
        const auto of = [&](const char* field) { return *fewValues(records, *records.find(field), 12, {}); };
        std::int64_t plain = 0;
        for (std::int64_t i = 0; i < count; ++i) {
            plain += i % 10 != 0 && i % 3 == 0 ? 1 : 0;
        }
        EXPECT_THAT(of("status"), ElementsAre(ValueCount{"verified", count - count / 10 - plain},
                                              ValueCount{"queried", plain}));
        EXPECT_THAT(of("kept"),
                    ElementsAre(ValueCount{"false", count - count / 4}, ValueCount{"true", count / 4}));
        EXPECT_THAT(of("number"), IsEmpty()) << "there are more than few";
        std::stop_source source;
        source.request_stop();
        EXPECT_FALSE(fewValues(records, *records.find("kept"), 12, source.get_token()));
    }
}

} // namespace
} // namespace scorrere
