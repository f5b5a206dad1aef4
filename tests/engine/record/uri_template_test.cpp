// SPDX-License-Identifier: GPL-3.0-or-later
//
// The examples of RFC 6570, section 3.2, by operator.
#include "engine/record/uri_template.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

const UriVariables& examples() {
    static const UriVariables variables{{"count", UriList{"one", "two", "three"}},
                                        {"dom", UriList{"example", "com"}},
                                        {"dub", "me/too"},
                                        {"hello", "Hello World!"},
                                        {"half", "50%"},
                                        {"var", "value"},
                                        {"who", "fred"},
                                        {"base", "http://example.com/home/"},
                                        {"path", "/foo/bar"},
                                        {"list", UriList{"red", "green", "blue"}},
                                        {"keys", UriPairs{{"semi", ";"}, {"dot", "."}, {"comma", ","}}},
                                        {"v", "6"},
                                        {"x", "1024"},
                                        {"y", "768"},
                                        {"empty", ""},
                                        {"empty_keys", UriPairs{}}};
    return variables;
}

struct Expansion {
    const char* text;
    const char* wanted;
    friend void PrintTo(const Expansion& e, std::ostream* out) { *out << e.text; }
};
class Rfc6570 : public ::testing::TestWithParam<Expansion> {};

TEST_P(Rfc6570, ExpandsAsTheStandardSays) {
    const auto made = UriTemplate::parse(GetParam().text);
    ASSERT_TRUE(made) << made.error().text();
    EXPECT_EQ(made->expand(examples()), GetParam().wanted);
}

INSTANTIATE_TEST_SUITE_P(
    Examples, Rfc6570,
    ::testing::Values(
        Expansion{"{count}", "one,two,three"}, Expansion{"{count*}", "one,two,three"},
        Expansion{"{/count}", "/one,two,three"}, Expansion{"{/count*}", "/one/two/three"},
        Expansion{"{;count}", ";count=one,two,three"},
        Expansion{"{;count*}", ";count=one;count=two;count=three"},
        Expansion{"{?count}", "?count=one,two,three"},
        Expansion{"{?count*}", "?count=one&count=two&count=three"},
        Expansion{"{&count*}", "&count=one&count=two&count=three"}, Expansion{"{var}", "value"},
        Expansion{"{hello}", "Hello%20World%21"}, Expansion{"{half}", "50%25"}, Expansion{"O{empty}X", "OX"},
        Expansion{"O{undef}X", "OX"}, Expansion{"{x,y}", "1024,768"},
        Expansion{"{x,hello,y}", "1024,Hello%20World%21,768"}, Expansion{"?{x,empty}", "?1024,"},
        Expansion{"?{x,undef}", "?1024"}, Expansion{"?{undef,y}", "?768"}, Expansion{"{var:3}", "val"},
        Expansion{"{var:30}", "value"}, Expansion{"{list}", "red,green,blue"},
        Expansion{"{list*}", "red,green,blue"}, Expansion{"{keys}", "semi,%3B,dot,.,comma,%2C"},
        Expansion{"{keys*}", "semi=%3B,dot=.,comma=%2C"}, Expansion{"{+var}", "value"},
        Expansion{"{+hello}", "Hello%20World!"}, Expansion{"{+half}", "50%25"},
        Expansion{"{base}index", "http%3A%2F%2Fexample.com%2Fhome%2Findex"},
        Expansion{"{+base}index", "http://example.com/home/index"}, Expansion{"O{+empty}X", "OX"},
        Expansion{"{+path}/here", "/foo/bar/here"}, Expansion{"up{+path}{var}/here", "up/foo/barvalue/here"},
        Expansion{"{+x,hello,y}", "1024,Hello%20World!,768"}, Expansion{"{+path:6}/here", "/foo/b/here"},
        Expansion{"{+keys}", "semi,;,dot,.,comma,,"}, Expansion{"{+keys*}", "semi=;,dot=.,comma=,"},
        Expansion{"{#var}", "#value"}, Expansion{"{#path,x}/here", "#/foo/bar,1024/here"},
        Expansion{"foo{#empty}", "foo#"}, Expansion{"foo{#undef}", "foo"},
        Expansion{"{#keys*}", "#semi=;,dot=.,comma=,"}, Expansion{"{.who,who}", ".fred.fred"},
        Expansion{"{.half,who}", ".50%25.fred"}, Expansion{"www{.dom*}", "www.example.com"},
        Expansion{"X{.empty_keys}", "X"}, Expansion{"X{.empty}", "X."},
        Expansion{"{/var,x}/here", "/value/1024/here"}, Expansion{"{/var:1,var}", "/v/value"},
        Expansion{"{/var,empty}", "/value/"}, Expansion{"{/list*,path:4}", "/red/green/blue/%2Ffoo"},
        Expansion{"{/keys*}", "/semi=%3B/dot=./comma=%2C"}, Expansion{"{;who}", ";who=fred"},
        Expansion{"{;half}", ";half=50%25"}, Expansion{"{;empty}", ";empty"},
        Expansion{"{;v,empty,who}", ";v=6;empty;who=fred"}, Expansion{"{;hello:5}", ";hello=Hello"},
        Expansion{"{;keys*}", ";semi=%3B;dot=.;comma=%2C"}, Expansion{"{?x,y}", "?x=1024&y=768"},
        Expansion{"{?x,y,empty}", "?x=1024&y=768&empty="}, Expansion{"{?x,y,undef}", "?x=1024&y=768"},
        Expansion{"{?var:3}", "?var=val"}, Expansion{"{?keys}", "?keys=semi,%3B,dot,.,comma,%2C"},
        Expansion{"{?keys*}", "?semi=%3B&dot=.&comma=%2C"}, Expansion{"?fixed=yes{&x}", "?fixed=yes&x=1024"},
        Expansion{"{&x,y,empty}", "&x=1024&y=768&empty="}));

TEST(UriTemplate, NamesItsVariables) {
    EXPECT_THAT(UriTemplate::parse("/sightings{?page,size}{&page}")->names(),
                ::testing::ElementsAre("page", "size"));
}

TEST(UriTemplate, LettersOutsideAsciiAreEscapedAndCutWhole) {
    const auto made = UriTemplate::parse("/{name:2}");
    EXPECT_EQ(made->expand({{"name", "éèê"}}), "/%C3%A9%C3%A8");
}

TEST(UriTemplate, WhatIsWrongIsRefusedWithItsPlace) {
    for (const auto& [text, column] : std::vector<std::pair<std::string, std::int64_t>>{{"/a{b", 3},
                                                                                        {"/a}b", 3},
                                                                                        {"{}", 2},
                                                                                        {"{a,}", 4},
                                                                                        {"{a b}", 2},
                                                                                        {"{a:0}", 2},
                                                                                        {"{a:12345}", 2}}) {
        const auto made = UriTemplate::parse(text);
        ASSERT_FALSE(made) << text;
        EXPECT_EQ(made.error().place.column, column) << text;
        EXPECT_FALSE(made.error().advice.empty());
    }
}

} // namespace
} // namespace scorrere
