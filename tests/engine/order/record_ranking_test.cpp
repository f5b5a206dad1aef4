// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/order/record_ranking.h"

#include "engine/order/search_words.h"
#include "engine/record/record_builder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <map>
#include <numeric>
#include <random>
#include <rapidcheck/gtest.h>
#include <thread>
#include <unicode/coll.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;

/// One record, as a test knows it. Empty: missing.
struct Row {
    std::optional<std::int64_t> count;
    std::optional<double> warmth;
    std::optional<std::string> species;
    std::optional<std::string> status; ///< one of few
    std::optional<std::string> seen;
    std::optional<bool> kept;
};

RecordTable tableOf(const std::vector<Row>& rows) {
    RecordBuilder builder;
    const int count = builder.fieldNamed("count");
    const int warmth = builder.fieldNamed("warmth");
    const int species = builder.fieldNamed("species");
    const int status = builder.fieldNamed("status");
    const int seen = builder.fieldNamed("seen");
    const int kept = builder.fieldNamed("kept");
    for (const Row& row : rows) {
        row.count ? builder.setInteger(count, *row.count) : void();
        row.warmth ? builder.setReal(warmth, *row.warmth) : void();
        row.species ? builder.setText(species, *row.species) : void();
        row.status ? builder.setText(status, *row.status) : void();
        row.seen ? builder.setText(seen, *row.seen) : void();
        row.kept ? builder.setBoolean(kept, *row.kept) : void();
        builder.endRecord();
    }
    return builder.finish();
}

template <typename T>
std::optional<T> sometimes(std::mt19937_64& random, T value) {
    return random() % 6 == 0 ? std::nullopt : std::optional<T>(std::move(value));
}

std::vector<Row> rowsOf(std::uint64_t seed, std::size_t count) {
    static const std::vector<std::string> kWords{"Pale", "pale",   "moth 9", "moth 10", "Éclair", "eclair",
                                                 "Σκιά", "ΣΚΙΑ",   "",       "ash",     "Öd",     "zebra",
                                                 "灯り", "ａｓｈ", "a b",    "b a"};
    std::mt19937_64 random(seed);
    const auto word = [&] { return kWords[random() % kWords.size()]; };
    std::vector<Row> rows;
    for (std::size_t i = 0; i < count; ++i) {
        Row row;
        const std::int64_t number = static_cast<std::int64_t>(random() % 7) - 3;
        row.count = sometimes(random, random() % 50 == 0 ? std::numeric_limits<std::int64_t>::max() +
                                                               std::min<std::int64_t>(number, 0)
                                                         : number);
        row.warmth = sometimes(random, random() % 9 == 0 ? -0.0 : static_cast<double>(random() % 9) / 4 - 1);
        row.species = sometimes(random, word() + " " + word() +
                                            (random() % 3 == 0 ? std::to_string(random() % 300) : ""));
        row.status = sometimes(random, word());
        row.seen = sometimes(random, "2025-0" + std::to_string(1 + random() % 9) + "-11T04:00:00Z");
        row.kept = sometimes(random, random() % 2 == 0);
        rows.push_back(std::move(row));
    }
    return rows;
}

/// Slices done by threads, as many as there are hands.
class SlicesAtOnce final : public Slices {
public:
    void run(std::int64_t count, const std::function<void(std::int64_t, int)>& work) override {
        std::atomic<std::int64_t> next = 0;
        std::vector<std::thread> threads;
        for (int hand = 0; hand < hands(); ++hand) {
            threads.emplace_back([&, hand] {
                for (std::int64_t slice = next++; slice < count; slice = next++) {
                    work(slice, hand);
                }
            });
        }
        std::ranges::for_each(threads, &std::thread::join);
    }
    int hands() const override { return 3; }
};

/// What the order says, the plain way: a scan, and one stable sort.
std::vector<std::uint32_t> plainly(const OrderSpec& spec, const RecordTable& records) {
    std::vector<std::uint32_t> shown;
    const Parameters parameters;
    const NameScope scope{records, "en", &parameters, nullptr, false};
    const std::vector<std::string> words = searchWords(spec.containing);
    const auto rule = Rule::compile(spec.where.empty() ? "true == true" : spec.where, scope);
    for (std::int64_t record = 0; record < records.size(); ++record) {
        bool isIn = rule->holds({records, record, &parameters, 0, nullptr, -1, 0});
        for (const std::string& word : words) {
            bool has = false;
            for (const char* name : {"species", "status"}) {
                std::string text;
                foldForSearch(records.text(record, *records.find(name)), text);
                const bool isAsked = spec.within.empty() || std::ranges::count(spec.within, name) > 0;
                has = has || (isAsked && text.find(word) != std::string::npos);
            }
            isIn = isIn && has;
        }
        if (isIn) {
            shown.push_back(static_cast<std::uint32_t>(record));
        }
    }
    UErrorCode status = U_ZERO_ERROR;
    const std::unique_ptr<icu::Collator> collator(icu::Collator::createInstance(icu::Locale("en"), status));
    collator->setAttribute(UCOL_NUMERIC_COLLATION, UCOL_ON, status);
    const auto compared = [&](std::uint32_t a, std::uint32_t b, FieldHandle field) {
        const auto sign = [](auto left, auto right) { return left < right ? -1 : left > right ? 1 : 0; };
        switch (records.field(field).type) {
        case FieldType::Boolean:
            return sign(records.boolean(a, field), records.boolean(b, field));
        case FieldType::Integer:
            return sign(records.integer(a, field), records.integer(b, field));
        case FieldType::Real:
            return sign(records.real(a, field), records.real(b, field));
        case FieldType::Time:
            return sign(*parseTime(records.text(a, field)), *parseTime(records.text(b, field)));
        default: {
            UErrorCode code = U_ZERO_ERROR;
            const auto how =
                collator->compare(icu::UnicodeString::fromUTF8(std::string(records.text(a, field))),
                                  icu::UnicodeString::fromUTF8(std::string(records.text(b, field))), code);
            return static_cast<int>(how);
        }
        }
    };
    std::ranges::stable_sort(shown, [&](std::uint32_t a, std::uint32_t b) {
        for (const SortBy& by : spec.by) {
            const FieldHandle field = *records.find(by.field);
            const bool hasA = records.has(a, field);
            if (hasA != records.has(b, field)) {
                return hasA != by.missingFirst;
            }
            if (const int how = hasA ? compared(a, b, field) : 0; how != 0) {
                return by.descending ? how > 0 : how < 0;
            }
        }
        return false;
    });
    return shown;
}

std::vector<std::uint32_t> ranked(const OrderSpec& spec, const RecordTable& records) {
    auto ranking = RecordRanking::make(spec, {records, "en", {}}, 1);
    EXPECT_TRUE(ranking) << (ranking ? "" : ranking.error().text());
    SlicesInTurn slices;
    return **ranking->rank(records, slices, {});
}

rc::Gen<OrderSpec> anyOrder() {
    return rc::gen::map(
        rc::gen::tuple(rc::gen::inRange(0, 8), rc::gen::inRange(0, 6), rc::gen::arbitrary<bool>(),
                       rc::gen::container<std::vector<std::tuple<int, bool, bool>>>(rc::gen::tuple(
                           rc::gen::inRange(0, 6), rc::gen::arbitrary<bool>(), rc::gen::arbitrary<bool>()))),
        [](const std::tuple<int, int, bool, std::vector<std::tuple<int, bool, bool>>>& from) {
            static const std::array<std::string, 8> kRules{
                "",
                "@.count > 0 && @.warmth <= 0.5",
                "@.status == \"Pale\" || @.kept == true",
                "!(@.count == 1) && @.species",
                "@.count == null || @.count >= 9223372036854775806",
                "match(@.status, \"[Pp]ale\") || search(@.species, \"10\")",
                "@.warmth != 0.25 && @.seen > \"2025-04\"",
                "length(@.species) > 9 || @.gone == null && 0 < @.count",
            };
            static const std::array<std::string, 6> kTyped{"", "pale", "MOTH 1", "eclair b", "ash", "Σ"};
            static const std::array<std::string, 6> kFields{"count",  "warmth", "species",
                                                            "status", "seen",   "kept"};
            OrderSpec spec;
            spec.where = kRules[static_cast<std::size_t>(std::get<0>(from))];
            spec.containing = kTyped[static_cast<std::size_t>(std::get<1>(from))];
            if (std::get<2>(from)) {
                spec.within = {"status"};
            }
            for (const auto& [field, descending, missingFirst] : std::get<3>(from)) {
                if (spec.by.size() < 3) {
                    spec.by.push_back({kFields[static_cast<std::size_t>(field)], descending, missingFirst});
                }
            }
            return spec;
        });
}

RC_GTEST_PROP(RecordRanking, AnyOrderIsWhatAPlainSortAndAScanGive, ()) {
    const OrderSpec spec = *anyOrder();
    const auto count = *rc::gen::inRange<std::size_t>(0, 300);
    const RecordTable records = tableOf(rowsOf(*rc::gen::arbitrary<std::uint64_t>(), count));
    RC_ASSERT(ranked(spec, records) == plainly(spec, records));
}

TEST(RecordRanking, ARuleMarksWhatItHoldsOfFromAnyRecordOn) {
    const RecordTable records = tableOf(rowsOf(23, 40'000));
    const auto rule =
        Rule::compile("@.count > 0 && 0.5 >= @.warmth || search(@.status, \"a\")", {records, "en"});
    const FillContext like{records, -1, nullptr, 0, nullptr, -1, 0};
    for (const auto& [first, count] :
         {std::pair{300L, 17'000L}, {16'383L, 2L}, {0L, 40'000L}, {39'999L, 1L}}) {
        std::vector<std::uint64_t> bits(static_cast<std::size_t>(count + 63) / 64, ~std::uint64_t{0});
        rule->mark(like, first, count, bits);
        for (std::int64_t i = 0; i < count; ++i) {
            const FillContext context{records, first + i, nullptr, 0, nullptr, -1, 0};
            const bool isMarked = (bits[static_cast<std::size_t>(i) / 64] >> (i % 64) & 1) != 0;
            ASSERT_EQ(isMarked, rule->holds(context)) << first << " + " << i;
        }
        if (count % 64 != 0) {
            EXPECT_EQ(bits.back() >> (count % 64), 0u) << "nothing beyond";
        }
    }
}

TEST(RecordRanking, OfManySegmentsByManyHandsItIsTheSame) {
    const RecordTable records = tableOf(rowsOf(7, 50'000));
    OrderSpec spec;
    spec.where = "@.count >= 0 && @.status != \"zebra\"";
    spec.containing = "a";
    spec.by = {{"status", true, true}, {"species", false, false}};
    auto ranking = RecordRanking::make(spec, {records, "en", {}}, 3);
    SlicesAtOnce slices;
    std::atomic<std::int64_t> done = 0;
    std::atomic<double> sorted = 0;
    EXPECT_EQ(**ranking->rank(records, slices, {}, &done, [&sorted](double part) { sorted += part; }),
              plainly(spec, records));
    EXPECT_EQ(done, 50'000);
    EXPECT_NEAR(sorted, 1, 1e-9);
    OrderSpec byNumber;
    byNumber.by = {{"count", false, false}};
    auto numbered = RecordRanking::make(byNumber, {records, "en", {}}, 3);
    sorted = 0;
    ASSERT_TRUE(numbered->rank(records, slices, {}, &done, [&sorted](double part) { sorted += part; }));
    EXPECT_EQ(sorted, 1) << "where nothing is left to compare, too";
}

TEST(RecordRanking, RecordsThatComeLaterArePutInPlace) {
    const std::vector<Row> rows = rowsOf(3, 40'000);
    for (const bool isSorted : {true, false}) {
        OrderSpec spec;
        spec.where = "@.count >= 0";
        spec.containing = "a";
        if (isSorted) {
            spec.by = {{"species", false, false}, {"count", true, false}};
        }
        std::optional<RecordRanking> ranking;
        SlicesInTurn slices;
        for (const std::size_t so :
             {std::size_t{300}, std::size_t{16'384}, std::size_t{16'400}, std::size_t{40'000}}) {
            const RecordTable records =
                tableOf({rows.begin(), rows.begin() + static_cast<std::ptrdiff_t>(so)});
            if (!ranking) {
                ranking.emplace(*RecordRanking::make(spec, {records, "en", {}}, 1));
            }
            std::atomic<std::int64_t> done = 0;
            EXPECT_EQ(**ranking->rank(records, slices, {}, &done), plainly(spec, records)) << so;
            EXPECT_LE(done, 40'000 - 16'384 + 16) << "the earlier ones are not looked at again";
        }
    }
}

RC_GTEST_PROP(RecordRanking, RecordsThatAreOthersNowAreLookedAtAgainAndTheRestIsKept, ()) {
    const std::uint64_t seed = *rc::gen::arbitrary<std::uint64_t>();
    const auto count = static_cast<std::size_t>(*rc::gen::inRange(1, 60));
    std::vector<Row> rows = rowsOf(seed, count);
    // All types are there in any case, so that both tables have the same.
    rows.front() = {1, 0.5, "ash", "pale", "2025-01-11T04:00:00Z", true};
    const OrderSpec spec = *anyOrder();
    auto ranking = RecordRanking::make(spec, {tableOf(rows), "en", {}}, 1);
    RC_ASSERT(static_cast<bool>(ranking));
    SlicesInTurn slices;
    (void)ranking->rank(tableOf(rows), slices, {});
    for (int again = 0; again < 3; ++again) {
        const std::vector<Row> others = rowsOf(seed + 1 + static_cast<std::uint64_t>(again), rows.size() + 3);
        std::vector<std::uint32_t> changed;
        for (std::size_t i = 1; i < rows.size(); ++i) {
            if (*rc::gen::inRange(0, 4) == 0) {
                rows[i] = others[i];
                changed.push_back(static_cast<std::uint32_t>(i));
            }
        }
        const bool isAsMany = *rc::gen::arbitrary<bool>();
        const auto left =
            isAsMany ? rows.size()
                     : static_cast<std::size_t>(*rc::gen::inRange<std::int64_t>(1, std::ssize(rows) + 1));
        rows.resize(left);
        rows.insert(rows.end(), others.end() - (isAsMany ? 0 : *rc::gen::inRange(0, 4)), others.end());
        const RecordTable now = tableOf(rows);
        ranking->forget(changed, static_cast<std::int64_t>(left));
        if (again == 2 || *rc::gen::arbitrary<bool>()) { // else more is forgotten before it ranks
            RC_ASSERT(**ranking->rank(now, slices, {}) == ranked(spec, now));
        }
    }
}

TEST(RecordRanking, AShuffleIsOfTheSeedAndWhatComesLaterChangesNothingAmongTheOthers) {
    const std::vector<Row> rows = rowsOf(5, 20'000);
    const RecordTable all = tableOf(rows);
    const RecordTable some = tableOf({rows.begin(), rows.begin() + 15'000});
    OrderSpec spec;
    spec.shuffled = 11;
    spec.by = {{"count", false, false}}; // has no say
    const auto shuffled = ranked(spec, all);
    std::vector<std::uint32_t> numbers(all.size());
    std::iota(numbers.begin(), numbers.end(), 0U);
    EXPECT_THAT(shuffled, ::testing::UnorderedElementsAreArray(numbers));
    EXPECT_NE(shuffled, numbers);
    std::vector<std::uint32_t> without;
    std::ranges::copy_if(shuffled, std::back_inserter(without),
                         [](std::uint32_t record) { return record < 15'000; });
    EXPECT_EQ(ranked(spec, some), without);
    spec.shuffled = 12;
    EXPECT_NE(ranked(spec, all), shuffled);
    // No place is likelier than another: the first thousand records stand in all of it.
    double sum = 0;
    for (std::size_t place = 0; place < shuffled.size(); ++place) {
        sum += shuffled[place] < 1000 ? static_cast<double>(place) : 0;
    }
    EXPECT_NEAR(sum / 1000, 10'000, 800);
}

TEST(RecordRanking, StoppedItIsAsItWas) {
    const std::vector<Row> rows = rowsOf(9, 40'000);
    const RecordTable some = tableOf({rows.begin(), rows.begin() + 20'000});
    const RecordTable all = tableOf(rows);
    OrderSpec spec;
    spec.by = {{"species", false, false}};
    auto ranking = RecordRanking::make(spec, {some, "en", {}}, 1);
    SlicesInTurn slices;
    ASSERT_TRUE(ranking->rank(some, slices, {}));
    class Stopping final : public Slices {
    public:
        void run(std::int64_t count, const std::function<void(std::int64_t, int)>& work) override {
            for (std::int64_t slice = 0; slice < count; ++slice) {
                work(slice, 0);
                source.request_stop();
            }
        }
        std::stop_source source;
    } stopping;
    const auto stopped = ranking->rank(all, stopping, stopping.source.get_token());
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, ErrorCode::Cancelled);
    EXPECT_EQ(**ranking->rank(all, slices, {}), plainly(spec, all));
}

TEST(RecordRanking, OfMadeUpRecordsItIsTheSame) {
    const RecordTable own = tableOf(rowsOf(13, 700));
    const RecordTable records = own.asIf(20'000, {});
    OrderSpec spec;
    spec.where = "@.count >= 0 && @.status == \"Pale\"";
    spec.containing = "pale";
    spec.by = {{"status", false, false}, {"warmth", false, false}};
    EXPECT_EQ(ranked(spec, records), plainly(spec, records));
}

TEST(RecordRanking, FoldedTextsAreKeptForTheNextWord) {
    const RecordTable records = tableOf(rowsOf(17, 20'000));
    const auto folded = std::make_shared<FoldedTexts>();
    SlicesInTurn slices;
    OrderSpec spec;
    std::size_t bytes = 0;
    for (const char* typed : {"p", "pa", "pal", "pale"}) {
        spec.containing = typed;
        auto ranking = RecordRanking::make(spec, {records, "en", {}}, 1, folded);
        EXPECT_EQ(**ranking->rank(records, slices, {}), plainly(spec, records));
        EXPECT_TRUE(bytes == 0 || bytes == folded->memoryBytes());
        bytes = folded->memoryBytes();
    }
}

TEST(RecordRanking, WhatCannotBeOrderedIsSaidWithItsField) {
    RecordBuilder builder;
    builder.setJson(builder.fieldNamed("traits"), FieldType::List, "[]");
    builder.endRecord();
    const RecordTable records = builder.finish();
    OrderSpec spec;
    spec.by = {{"wingspan", false, false}};
    EXPECT_THAT(RecordRanking::make(spec, {records, "en", {}}, 1).error().text(),
                HasSubstr("no field \"wingspan\""));
    spec.by = {{"traits", false, false}};
    EXPECT_THAT(RecordRanking::make(spec, {records, "en", {}}, 1).error().text(),
                HasSubstr("\"traits\" is a list, which has no order"));
    spec.by = {};
    spec.within = {"note"};
    EXPECT_THAT(RecordRanking::make(spec, {records, "en", {}}, 1).error().text(),
                HasSubstr("no field \"note\" to search in"));
    spec.within = {};
    spec.where = "@.count >";
    EXPECT_EQ(RecordRanking::make(spec, {records, "en", {}}, 1).error().code, ErrorCode::Syntax);
}

} // namespace
} // namespace scorrere
