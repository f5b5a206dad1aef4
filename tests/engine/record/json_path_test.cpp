// SPDX-License-Identifier: GPL-3.0-or-later
//
// The examples of RFC 9535 (authors and titles made up anew), each with the selected nodes' normalized paths.
// Where the standard leaves the order of an object's members open, the order is that of the document, which
// is one of those it allows.
#include "engine/record/json_path.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using ::testing::ElementsAreArray;
using ::testing::UnorderedElementsAreArray;

const char* const kStore = R"({ "store": {
    "book": [
      { "category": "reference", "author": "Author One", "title": "First Book", "price": 8.95 },
      { "category": "fiction", "author": "Author Two", "title": "Second Book", "price": 12.99 },
      { "category": "fiction", "author": "Author Three", "title": "Third Book", "isbn": "0-000-00000-3",
        "price": 8.99 },
      { "category": "fiction", "author": "Author Four", "title": "Fourth Book",
        "isbn": "0-000-00000-4", "price": 22.99 }
    ],
    "bicycle": { "color": "red", "price": 399 }
  } })";

const char* const kNames = R"({ "o": {"j j": {"k.k": 3}}, "'": {"@": 2} })";
const char* const kArrays = R"({ "o": {"j": 1, "k": 2}, "a": [5, 3] })";
const char* const kLetters = R"(["a","b"])";
const char* const kSlices = R"(["a", "b", "c", "d", "e", "f", "g"])";
const char* const kComparisons = R"({ "obj": {"x": "y"}, "arr": [2, 3] })";
const char* const kFilters = R"({
  "a": [3, 5, 1, 2, 4, 6, {"b": "j"}, {"b": "k"}, {"b": {}}, {"b": "kilo"}],
  "o": {"p": 1, "q": 2, "r": 3, "s": 5, "t": {"u": 6}}, "e": "f" })";
const char* const kChildren = R"(["a", "b", "c", "d", "e", "f", "g"])";
const char* const kDescendants = R"({ "o": {"j": 1, "k": 2}, "a": [5, 3, [{"j": 4}, {"k": 6}]] })";
const char* const kNulls = R"({"a": null, "b": [null], "c": [{}], "null": 1})";

std::vector<std::string> paths(const std::string& query, const std::string& json) {
    const auto path = JsonPath::parse(query);
    EXPECT_TRUE(path) << path.error().text();
    if (!path) {
        return {"not parsed"};
    }
    const auto matches = path->select(json);
    EXPECT_TRUE(matches) << matches.error().text();
    std::vector<std::string> found;
    for (const JsonMatch& match : *matches) {
        found.push_back(match.path);
    }
    return found;
}

std::vector<std::string> values(const std::string& query, const std::string& json) {
    const auto path = JsonPath::parse(query);
    EXPECT_TRUE(path) << path.error().text();
    std::vector<std::string> found;
    const auto matches = path->select(json);
    for (const JsonMatch& match : *matches) {
        found.push_back(match.json);
    }
    return found;
}

struct Example {
    const char* section;
    const char* json;
    const char* query;
    std::vector<std::string> paths;
    friend void PrintTo(const Example& e, std::ostream* out) { *out << e.section << " " << e.query; }
};

class Rfc9535 : public ::testing::TestWithParam<Example> {};

TEST_P(Rfc9535, SelectsWhatTheStandardSays) {
    EXPECT_THAT(paths(GetParam().query, GetParam().json), ElementsAreArray(GetParam().paths));
}

INSTANTIATE_TEST_SUITE_P(
    Examples, Rfc9535,
    ::testing::Values(
        // 1.5, table 2
        Example{"1.5",
                kStore,
                "$.store.book[*].author",
                {"$['store']['book'][0]['author']", "$['store']['book'][1]['author']",
                 "$['store']['book'][2]['author']", "$['store']['book'][3]['author']"}},
        Example{"1.5",
                kStore,
                "$..author",
                {"$['store']['book'][0]['author']", "$['store']['book'][1]['author']",
                 "$['store']['book'][2]['author']", "$['store']['book'][3]['author']"}},
        Example{"1.5", kStore, "$.store.*", {"$['store']['book']", "$['store']['bicycle']"}},
        Example{"1.5",
                kStore,
                "$.store..price",
                {"$['store']['book'][0]['price']", "$['store']['book'][1]['price']",
                 "$['store']['book'][2]['price']", "$['store']['book'][3]['price']",
                 "$['store']['bicycle']['price']"}},
        Example{"1.5", kStore, "$..book[2]", {"$['store']['book'][2]"}},
        Example{"1.5", kStore, "$..book[2].author", {"$['store']['book'][2]['author']"}},
        Example{"1.5", kStore, "$..book[2].publisher", {}},
        Example{"1.5", kStore, "$..book[-1]", {"$['store']['book'][3]"}},
        Example{"1.5", kStore, "$..book[0,1]", {"$['store']['book'][0]", "$['store']['book'][1]"}},
        Example{"1.5", kStore, "$..book[:2]", {"$['store']['book'][0]", "$['store']['book'][1]"}},
        Example{"1.5", kStore, "$..book[?@.isbn]", {"$['store']['book'][2]", "$['store']['book'][3]"}},
        Example{"1.5", kStore, "$..book[?@.price<10]", {"$['store']['book'][0]", "$['store']['book'][2]"}},
        // 2.2
        Example{"2.2", R"({"k": "v"})", "$", {"$"}},
        // 2.3.1, table 5
        Example{"2.3.1", kNames, "$.o['j j']", {"$['o']['j j']"}},
        Example{"2.3.1", kNames, "$.o['j j']['k.k']", {"$['o']['j j']['k.k']"}},
        Example{"2.3.1", kNames, R"($.o["j j"]["k.k"])", {"$['o']['j j']['k.k']"}},
        Example{"2.3.1", kNames, R"($["'"]["@"])", {"$['\\'']['@']"}},
        // 2.3.2, table 6
        Example{"2.3.2", kArrays, "$[*]", {"$['o']", "$['a']"}},
        Example{"2.3.2", kArrays, "$.o[*]", {"$['o']['j']", "$['o']['k']"}},
        Example{"2.3.2", kArrays, "$.o[*, *]", {"$['o']['j']", "$['o']['k']", "$['o']['j']", "$['o']['k']"}},
        Example{"2.3.2", kArrays, "$.a[*]", {"$['a'][0]", "$['a'][1]"}},
        // 2.3.3, table 7
        Example{"2.3.3", kLetters, "$[1]", {"$[1]"}}, Example{"2.3.3", kLetters, "$[-2]", {"$[0]"}},
        // 2.3.4, table 9
        Example{"2.3.4", kSlices, "$[1:3]", {"$[1]", "$[2]"}},
        Example{"2.3.4", kSlices, "$[5:]", {"$[5]", "$[6]"}},
        Example{"2.3.4", kSlices, "$[1:5:2]", {"$[1]", "$[3]"}},
        Example{"2.3.4", kSlices, "$[5:1:-2]", {"$[5]", "$[3]"}},
        Example{"2.3.4", kSlices, "$[::-1]", {"$[6]", "$[5]", "$[4]", "$[3]", "$[2]", "$[1]", "$[0]"}},
        // 2.3.5, table 12
        Example{"2.3.5", kFilters, "$.a[?@.b == 'kilo']", {"$['a'][9]"}},
        Example{"2.3.5", kFilters, "$.a[?(@.b == 'kilo')]", {"$['a'][9]"}},
        Example{"2.3.5", kFilters, "$.a[?@>3.5]", {"$['a'][1]", "$['a'][4]", "$['a'][5]"}},
        Example{"2.3.5", kFilters, "$.a[?@.b]", {"$['a'][6]", "$['a'][7]", "$['a'][8]", "$['a'][9]"}},
        Example{"2.3.5", kFilters, "$[?@.*]", {"$['a']", "$['o']"}},
        Example{"2.3.5", kFilters, "$[?@[?@.b]]", {"$['a']"}},
        Example{"2.3.5",
                kFilters,
                "$.o[?@<3, ?@<3]",
                {"$['o']['p']", "$['o']['q']", "$['o']['p']", "$['o']['q']"}},
        Example{"2.3.5", kFilters, R"($.a[?@<2 || @.b == "k"])", {"$['a'][2]", "$['a'][7]"}},
        Example{"2.3.5", kFilters, R"($.a[?match(@.b, "[jk]")])", {"$['a'][6]", "$['a'][7]"}},
        Example{"2.3.5", kFilters, R"($.a[?search(@.b, "[jk]")])", {"$['a'][6]", "$['a'][7]", "$['a'][9]"}},
        Example{"2.3.5", kFilters, "$.o[?@>1 && @<4]", {"$['o']['q']", "$['o']['r']"}},
        Example{"2.3.5", kFilters, "$.o[?@.u || @.x]", {"$['o']['t']"}},
        Example{"2.3.5",
                kFilters,
                "$.a[?@.b == $.x]",
                {"$['a'][0]", "$['a'][1]", "$['a'][2]", "$['a'][3]", "$['a'][4]", "$['a'][5]"}},
        Example{"2.3.5",
                kFilters,
                "$.a[?@ == @]",
                {"$['a'][0]", "$['a'][1]", "$['a'][2]", "$['a'][3]", "$['a'][4]", "$['a'][5]", "$['a'][6]",
                 "$['a'][7]", "$['a'][8]", "$['a'][9]"}},
        // 2.5.1, table 16
        Example{"2.5.1", kChildren, "$[0, 3]", {"$[0]", "$[3]"}},
        Example{"2.5.1", kChildren, "$[0:2, 5]", {"$[0]", "$[1]", "$[5]"}},
        Example{"2.5.1", kChildren, "$[0, 0]", {"$[0]", "$[0]"}},
        // 2.5.2, table 17
        Example{"2.5.2", kDescendants, "$..j", {"$['o']['j']", "$['a'][2][0]['j']"}},
        Example{"2.5.2", kDescendants, "$..[0]", {"$['a'][0]", "$['a'][2][0]"}},
        Example{"2.5.2",
                kDescendants,
                "$..[*]",
                {"$['o']", "$['a']", "$['o']['j']", "$['o']['k']", "$['a'][0]", "$['a'][1]", "$['a'][2]",
                 "$['a'][2][0]", "$['a'][2][1]", "$['a'][2][0]['j']", "$['a'][2][1]['k']"}},
        Example{"2.5.2",
                kDescendants,
                "$..*",
                {"$['o']", "$['a']", "$['o']['j']", "$['o']['k']", "$['a'][0]", "$['a'][1]", "$['a'][2]",
                 "$['a'][2][0]", "$['a'][2][1]", "$['a'][2][0]['j']", "$['a'][2][1]['k']"}},
        Example{"2.5.2", kDescendants, "$..o", {"$['o']"}},
        Example{"2.5.2",
                kDescendants,
                "$.o..[*, *]",
                {"$['o']['j']", "$['o']['k']", "$['o']['j']", "$['o']['k']"}},
        Example{
            "2.5.2", kDescendants, "$.a..[0, 1]", {"$['a'][0]", "$['a'][1]", "$['a'][2][0]", "$['a'][2][1]"}},
        // 2.6, table 18
        Example{"2.6", kNulls, "$.a", {"$['a']"}}, Example{"2.6", kNulls, "$.a[0]", {}},
        Example{"2.6", kNulls, "$.a.d", {}}, Example{"2.6", kNulls, "$.b[0]", {"$['b'][0]"}},
        Example{"2.6", kNulls, "$.b[*]", {"$['b'][0]"}}, Example{"2.6", kNulls, "$.b[?@]", {"$['b'][0]"}},
        Example{"2.6", kNulls, "$.b[?@==null]", {"$['b'][0]"}}, Example{"2.6", kNulls, "$.c[?@.d==null]", {}},
        Example{"2.6", kNulls, "$.null", {"$['null']"}},
        // 2.7, table 20: the normalized paths themselves
        Example{"2.7", R"({"a": 1})", "$.a", {"$['a']"}}, Example{"2.7", "[0,1,2,3]", "$[-3]", {"$[1]"}},
        Example{"2.7", R"({"a":{"b":[0,1,2]}})", "$.a.b[1:2]", {"$['a']['b'][1]"}},
        Example{"2.7", R"({"\u000b": 1})", R"($["\u000B"])", {R"($['\u000b'])"}},
        Example{"2.7", R"({"a": 1})", R"($["\u0061"])", {"$['a']"}}));

/// Table 11: each comparison, as a filter over an array with one element.
TEST(JsonPath, ComparisonsAreAsInTheStandard) {
    const std::vector<std::pair<std::string, bool>> cases{{"$.absent1 == $.absent2", true},
                                                          {"$.absent1 <= $.absent2", true},
                                                          {"$.absent == 'g'", false},
                                                          {"$.absent1 != $.absent2", false},
                                                          {"$.absent != 'g'", true},
                                                          {"1 <= 2", true},
                                                          {"1 > 2", false},
                                                          {"13 == '13'", false},
                                                          {"'a' <= 'b'", true},
                                                          {"'a' > 'b'", false},
                                                          {"$.obj == $.arr", false},
                                                          {"$.obj != $.arr", true},
                                                          {"$.obj == $.obj", true},
                                                          {"$.obj != $.obj", false},
                                                          {"$.arr == $.arr", true},
                                                          {"$.arr != $.arr", false},
                                                          {"$.obj == 17", false},
                                                          {"$.obj != 17", true},
                                                          {"$.obj <= $.arr", false},
                                                          {"$.obj < $.arr", false},
                                                          {"$.obj <= $.obj", true},
                                                          {"$.arr <= $.arr", true},
                                                          {"1 <= $.arr", false},
                                                          {"1 >= $.arr", false},
                                                          {"1 > $.arr", false},
                                                          {"1 < $.arr", false},
                                                          {"true <= true", true},
                                                          {"true > true", false}};
    for (const auto& [comparison, holds] : cases) {
        const auto found = paths("$.obj[?" + comparison + "]", kComparisons);
        EXPECT_EQ(!found.empty(), holds) << comparison;
    }
}

TEST(JsonPath, FunctionsCountMeasureAndMatch) {
    const char* json = R"([{"n":"añ","l":[1,2,3],"d":"1974-05-11"},{"n":"","l":[],"d":"1975-06"},{"n":5}])";
    EXPECT_THAT(paths("$[?length(@.n) == 2]", json), ElementsAre("$[0]"));
    EXPECT_THAT(paths("$[?length(@.l) >= 0]", json), ElementsAre("$[0]", "$[1]"));
    EXPECT_THAT(paths("$[?count(@.l[*]) == 3]", json), ElementsAre("$[0]"));
    EXPECT_THAT(paths("$[?count(@.*) == 1]", json), ElementsAre("$[2]"));
    EXPECT_THAT(paths("$[?match(@.d, '1974-05-..')]", json), ElementsAre("$[0]"));
    EXPECT_THAT(paths("$[?search(@.d, '197[45]')]", json), ElementsAre("$[0]", "$[1]"));
    EXPECT_THAT(paths("$[?value(@..n) == 5]", json), ElementsAre("$[2]"));
    EXPECT_THAT(paths("$[?!match(@.d, '[')]", json), ElementsAre("$[0]", "$[1]", "$[2]"))
        << "a broken pattern matches nothing";
}

struct Wrong {
    const char* query;
    std::int64_t column;
    friend void PrintTo(const Wrong& w, std::ostream* out) { *out << w.query; }
};
class JsonPathWrong : public ::testing::TestWithParam<Wrong> {};

TEST_P(JsonPathWrong, IsRefusedWithItsPlace) {
    const auto path = JsonPath::parse(GetParam().query);
    ASSERT_FALSE(path);
    EXPECT_EQ(path.error().code, ErrorCode::Syntax);
    EXPECT_EQ(path.error().place.column, GetParam().column) << path.error().text();
    EXPECT_FALSE(path.error().advice.empty());
}

INSTANTIATE_TEST_SUITE_P(
    Each, JsonPathWrong,
    ::testing::Values(Wrong{"", 1}, Wrong{"a", 1}, Wrong{"$.", 3}, Wrong{"$..", 4}, Wrong{"$a", 2},
                      Wrong{"$ ", 2}, Wrong{" $", 1}, Wrong{"$.a ", 4}, Wrong{"$.1", 3}, Wrong{"$[", 3},
                      Wrong{"$[0", 4}, Wrong{"$[01]", 3}, Wrong{"$[-0]", 3}, Wrong{"$[9007199254740992]", 3},
                      Wrong{"$['a]", 3}, Wrong{R"($['\"'])", 4}, Wrong{R"($['\uD800'])", 4},
                      Wrong{R"($['\x'])", 4}, Wrong{"$['a\tb']", 5}, Wrong{"$[?]", 4},
                      Wrong{"$[?@.a == ]", 11}, Wrong{"$[?1]", 4}, Wrong{"$[?true]", 4},
                      Wrong{"$[?@.* == 1]", 4}, Wrong{"$[?@..a == 1]", 4}, Wrong{"$[?length(@.a)]", 4},
                      Wrong{"$[?match(@.a,'b')==true]", 4}, Wrong{"$[?count(1) == 1]", 10},
                      Wrong{"$[?length(@.*) == 1]", 11}, Wrong{"$[?foo(@)]", 4},
                      Wrong{"$[?count() == 1]", 11}, Wrong{"$[?(@.a]", 8}, Wrong{"$[?@.a == 01]", 11},
                      Wrong{"$[?!@.a == 1]", 11}));

TEST(JsonPath, DeepNestingIsRefusedNotFatal) {
    EXPECT_FALSE(JsonPath::parse("$[?" + std::string(100'000, '(') + "@" + std::string(100'000, ')') + "]"));
    std::string nested = "@";
    for (int i = 0; i < 5000; ++i) {
        nested = "@[?" + nested + "]";
    }
    EXPECT_FALSE(JsonPath::parse("$[?" + nested + "]"));
}

TEST(JsonPath, PathsThatCanBeFollowedWhileStreaming) {
    EXPECT_THAT(*JsonPath::parse("$[*]")->namesToArray(), ElementsAre());
    EXPECT_THAT(*JsonPath::parse("$.a['b c'].*")->namesToArray(), ElementsAre("a", "b c"));
    EXPECT_FALSE(JsonPath::parse("$.a")->namesToArray());
    EXPECT_FALSE(JsonPath::parse("$..a[*]")->namesToArray());
    EXPECT_FALSE(JsonPath::parse("$.a[0][*]")->namesToArray());
    EXPECT_FALSE(JsonPath::parse("$.a[?@.b]")->namesToArray());
}

TEST(JsonPath, ATooLargeSelectionStopsAndCanBeCancelled) {
    std::stop_source source;
    source.request_stop();
    std::string json = "[";
    for (int i = 0; i < 5000; ++i) {
        json += i > 0 ? ",1" : "1";
    }
    const auto stopped = JsonPath::parse("$[*]")->select(json + "]", source.get_token());
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, ErrorCode::Cancelled);
}

/// A slice of a list, done by hand after section 2.3.4.2.2.
RC_GTEST_PROP(JsonPath, SlicesAreAsTheStandardComputesThem, ()) {
    const auto length = *rc::gen::inRange<std::int64_t>(0, 9);
    const auto bound = rc::gen::inRange<std::int64_t>(-11, 12);
    const std::int64_t start = *bound;
    const std::int64_t end = *bound;
    const std::int64_t step = *rc::gen::inRange<std::int64_t>(-3, 4);
    std::string json = "[";
    for (std::int64_t i = 0; i < length; ++i) {
        json += (i > 0 ? "," : "") + std::to_string(i);
    }
    json += "]";
    std::vector<std::string> wanted;
    if (step != 0) {
        const std::int64_t from = start < 0 ? start + length : start;
        const std::int64_t until = end < 0 ? end + length : end;
        for (std::int64_t i = -40; i < 40; ++i) { // every step from the start, forwards
            const std::int64_t at = (step > 0 ? std::min(std::max<std::int64_t>(from, 0), length)
                                              : std::max(std::min(from, length - 1), std::int64_t{-1})) +
                                    (i + 40) * step;
            const bool inside = at >= 0 && at < length && (step > 0 ? at < until : at > until);
            if (inside) {
                wanted.push_back(std::to_string(at));
            }
        }
    }
    const std::string query =
        "$[" + std::to_string(start) + ":" + std::to_string(end) + ":" + std::to_string(step) + "]";
    RC_ASSERT(values(query, json) == wanted);
}

} // namespace
} // namespace scorrere
