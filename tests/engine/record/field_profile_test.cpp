// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/field_profile.h"

#include "engine/record/record_schema.h"
#include "testing/engine/read_text.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <rapidcheck/gtest.h>
#include <set>

namespace scorrere {
namespace {

using ::testing::ElementsAre;

RecordTable table(const std::string& json) {
    auto reading = readText(json, SourceForm::Json, "$[*]");
    EXPECT_TRUE(reading) << reading.error().text();
    return reading->records;
}
const FieldProfile& profileOf(const std::vector<FieldProfile>& profiles, const std::string& name) {
    return *std::find_if(profiles.begin(), profiles.end(),
                         [&](const FieldProfile& p) { return p.name == name; });
}

TEST(FieldProfile, TellsWhatTheValuesAreLike) {
    const RecordTable records = table(
        R"([{"id":7,"s":"añb","l":[1,2],"t":"2024-05-02"},{"id":3,"s":"","l":[]},{"id":7,"s":"añb","t":"2024-05-01"}])");
    const auto profiles = *profileFields(records);
    const FieldProfile& id = profileOf(profiles, "id");
    EXPECT_EQ(id.present, 3);
    EXPECT_EQ(id.distinct, 2);
    EXPECT_EQ(id.smallest, "3");
    EXPECT_EQ(id.largest, "7");
    const FieldProfile& s = profileOf(profiles, "s");
    EXPECT_EQ(s.shortest, 0);
    EXPECT_EQ(s.longest, 3) << "characters, not bytes";
    EXPECT_EQ(s.empty, 1);
    EXPECT_EQ(s.meanLength, 2);
    EXPECT_EQ(profileOf(profiles, "l").longest, 2);
    EXPECT_EQ(profileOf(profiles, "t").smallest, "2024-05-01");
    EXPECT_THAT(profileOf(profiles, "id").samples, ElementsAre("7", "3"));
}

TEST(FieldProfile, SeesTextThatWasDecodedTwice) {
    const auto profiles = *profileFields(table(R"([{"s":"plain"},{"s":"cafÃ©"}])"));
    EXPECT_EQ(profileOf(profiles, "s").doubleDecoded, 1);
    EXPECT_EQ(profileOf(profiles, "s").firstDoubleDecoded, 1);
}

TEST(KeyCandidates, TheLikeliestComesFirst) {
    const RecordTable records =
        table(R"([{"note":"x","site_id":"a","id":2,"n":1},{"note":"y","site_id":"b","id":1,"n":1}])");
    const auto candidates = *keyCandidates(records, *profileFields(records));
    ASSERT_EQ(candidates.size(), 3U);
    EXPECT_THAT(candidates[0].fields, ElementsAre("id"));
    EXPECT_THAT(candidates[1].fields, ElementsAre("site_id"));
}

TEST(KeyCandidates, PairsAreTriedWhenNoSingleFieldCan) {
    const RecordTable records =
        table(R"([{"site":"a","n":1,"k":1},{"site":"a","n":2,"k":1},{"site":"b","n":1,"k":1}])");
    const auto candidates = *keyCandidates(records, *profileFields(records));
    ASSERT_EQ(candidates.size(), 1U);
    EXPECT_THAT(candidates[0].fields, ElementsAre("site", "n"));
}

TEST(KeyCheck, CountsAndListsTwinsAndRecordsWithoutOne) {
    const RecordTable records = table(R"([{"id":1},{"id":2},{"id":1},{},{"id":1}])");
    const auto check = *checkKey(records, {"id"});
    EXPECT_EQ(check.duplicates, 2);
    EXPECT_EQ(check.missing, 1);
    ASSERT_EQ(check.twins.size(), 2U);
    EXPECT_EQ(check.twins[0].record, 2);
    EXPECT_EQ(check.twins[0].first, 0);
    EXPECT_EQ(check.twins[0].key, "1");
    EXPECT_THAT(check.without, ElementsAre(3));
    EXPECT_EQ(checkKey(records, {"nope"}).error().code, ErrorCode::NotFound);
}

TEST(KeyCheck, AFieldThatPromisesAKeyAndBreaksItIsNamed) {
    const auto broken = [](const std::string& json) {
        return brokenKey(*profileFields(table(json))).value_or("");
    };
    EXPECT_EQ(broken(R"([{"id":1,"n":"a"},{"id":1,"n":"b"}])"), "id");
    EXPECT_EQ(broken(R"([{"id":1,"n":"a"},{"id":2,"n":"a"}])"), "");
    std::string sightings = "[";
    for (int i = 0; i < 20; ++i) {
        sightings += (i > 0 ? "," : "") + std::string("{\"sighting_id\":") + std::to_string(i == 19 ? 3 : i) +
                     ",\"trap_id\":" + std::to_string(i % 4) + "}";
    }
    EXPECT_EQ(broken(sightings + "]"), "sighting_id") << "one in twenty; of the trap's nobody thought it";
    EXPECT_EQ(broken(R"([{"id":1,"trap_id":1},{"id":2,"trap_id":1}])"), "");
}

TEST(FieldProfile, TheFirstRecordWithoutAValueIsKnown) {
    const auto profiles = *profileFields(table(R"([{"a":1,"b":1},{"a":1},{"a":1}])"));
    EXPECT_EQ(profileOf(profiles, "a").firstWithout, -1);
    EXPECT_EQ(profileOf(profiles, "b").firstWithout, 1);
}

TEST(KeyCheck, PartsOfAKeyDoNotRunTogether) {
    const auto check = *checkKey(table(R"([{"a":"x","b":"yz"},{"a":"xy","b":"z"}])"), {"a", "b"});
    EXPECT_TRUE(check.isUnique());
}

/// Against a set of the values themselves.
RC_GTEST_PROP(KeyCheck, AgreesWithASet, (const std::vector<std::uint8_t>& values)) {
    std::string json = "[";
    std::set<int> seen;
    std::int64_t twins = 0;
    for (const std::uint8_t value : values) {
        json += (json.size() > 1 ? "," : "") + std::string("{\"k\":") + std::to_string(value % 16) + "}";
        twins += seen.insert(value % 16).second ? 0 : 1;
    }
    if (values.empty()) {
        return;
    }
    const RecordTable records = table(json + "]");
    const auto check = *checkKey(records, {"k"});
    RC_ASSERT(check.duplicates == twins);
    const auto profiles = *profileFields(records);
    RC_ASSERT(profiles[0].distinct == static_cast<std::int64_t>(seen.size()));
}

TEST(RecordSchema, DescribesTypesAndWhatEveryRecordHas) {
    const RecordTable records =
        table(R"([{"id":1,"s":"a","x":1.5,"class":true},{"id":2,"s":"b","class":false}])");
    const auto profiles = *profileFields(records);
    FieldChoice titled;
    titled.name = "s";
    titled.title = "Species";
    const auto schema = nlohmann::json::parse(recordSchema("Sightings", profiles, {titled, leftOut("x")}));
    EXPECT_EQ(schema["properties"]["id"]["type"], "integer");
    EXPECT_EQ(schema["properties"]["s"]["title"], "Species");
    EXPECT_FALSE(schema["properties"].contains("x"));
    EXPECT_EQ(schema["required"], nlohmann::json::array({"id", "s", "class"}));
}

TEST(RecordSchema, TheTypeInCppHasNamesThatCompile) {
    const RecordTable records =
        table(R"([{"class":1,"first name":"a","2nd":2,"é":1,"a__b":true,"a b":1},{"class":2}])");
    EXPECT_EQ(recordType("Sighting", *profileFields(records), {}),
              "#include <cstdint>\n#include <optional>\n#include <string>\n\nstruct Sighting {\n"
              "    std::int64_t class_value = 0;\n"
              "    std::optional<std::string> first_name;\n"
              "    std::optional<std::int64_t> field_2nd;\n"
              "    std::optional<std::int64_t> field;\n"
              "    std::optional<bool> a_b;\n"
              "    std::optional<std::int64_t> a_b_2;\n"
              "};\n");
}

} // namespace
} // namespace scorrere
