// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/json_outline.h"

#include "engine/record/json_blocks.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

TEST(JsonOutline, TellsWhereEveryPieceStands) {
    const std::string text = R"({"a": [1, {"b c": "x"}], "d": null})";
    const JsonOutline outline = JsonOutline::of(text);
    ASSERT_FALSE(outline.fault);
    ASSERT_EQ(outline.nodes.size(), 6U);
    EXPECT_EQ(outline.pathOf(4, text), "$['a'][1]['b c']");
    EXPECT_EQ(outline.pointerOf(4, text), "/a/1/b c");
    EXPECT_EQ(outline.nodes[1].children, 2);
    EXPECT_EQ(outline.nodes[1].subtreeEnd, 5);
    EXPECT_EQ(text.substr(outline.nodes[3].start, outline.nodes[3].end - outline.nodes[3].start),
              R"({"b c": "x"})");
}

TEST(JsonOutline, ATextThatIsCutOffKeepsWhatIsThere) {
    const JsonOutline outline = JsonOutline::of(R"({"a": [1, {"b": "xy)");
    ASSERT_TRUE(outline.fault);
    EXPECT_TRUE(outline.fault->cutOff);
    EXPECT_EQ(outline.nodes.size(), 5U);
    for (const auto& node : outline.nodes) {
        EXPECT_GT(node.subtreeEnd, 0);
    }
}

TEST(JsonOutline, SaysWhatIsWrongAndWhere) {
    const std::vector<std::pair<std::string, std::size_t>> wrong{
        {"[1 2]", 3},     {"{1:2}", 1},     {"[01]", 1},
        {"[1,]", 2},      {"{\"a\" 1}", 5}, {"[1] x", 4},
        {"[\"\\x\"]", 2}, {"[tru]", 1},     {std::string("[\"a\0\"]", 6), 3}};
    for (const auto& [text, offset] : wrong) {
        const JsonOutline outline = JsonOutline::of(text);
        ASSERT_TRUE(outline.fault) << text;
        EXPECT_EQ(outline.fault->offset, offset) << text << ": " << outline.fault->message;
        EXPECT_FALSE(outline.fault->cutOff) << text;
    }
}

TEST(JsonOutline, DeepAndLargeTextsStayWithinTheirLimits) {
    const std::string deep = std::string(100'000, '[') + std::string(100'000, ']');
    const JsonOutline outline = JsonOutline::of(deep);
    EXPECT_FALSE(outline.fault);
    EXPECT_TRUE(outline.partial);
    EXPECT_LE(outline.nodes.size(), 514U);
}

std::string anyJson(int depth) {
    const int kind = *rc::gen::inRange(0, depth > 0 ? 7 : 5);
    switch (kind) {
    case 0:
        return "null";
    case 1:
        return "true";
    case 2:
        return std::to_string(*rc::gen::inRange(-1000, 1000));
    case 3:
        return "-1.5e3";
    case 4:
        return nlohmann::json(std::string("q\"\\]}é") + std::to_string(*rc::gen::inRange(0, 99999))).dump();
    default: {
        std::string out = kind == 5 ? "[" : "{";
        for (int i = *rc::gen::inRange(0, 5); i > 0; --i) {
            out += (out.size() > 1 ? "," : "") +
                   std::string(kind == 6 ? "\"k" + std::to_string(i) + "\" : " : " ") + anyJson(depth - 1);
        }
        return out + (kind == 5 ? "]" : "}");
    }
    }
}

/// Every node's place holds just the value that another reader finds by the node's pointer.
RC_GTEST_PROP(JsonOutline, AgreesWithAnotherReader, ()) {
    const std::string text = anyJson(4);
    const JsonOutline outline = JsonOutline::of(text);
    RC_ASSERT(!outline.fault);
    const nlohmann::json whole = nlohmann::json::parse(text);
    for (std::size_t i = 0; i < outline.nodes.size(); ++i) {
        const auto& node = outline.nodes[i];
        const auto value = nlohmann::json::parse(text.substr(node.start, node.end - node.start));
        RC_ASSERT(whole.at(nlohmann::json::json_pointer(outline.pointerOf(i, text))) == value);
        RC_ASSERT(node.children == (value.is_structured() ? static_cast<std::int32_t>(value.size()) : 0));
    }
}

/// However a value is cut into pieces, its end is found where a byte-wise reader finds it.
RC_GTEST_PROP(JsonBlocks, FindTheEndWhateverThePieces, ()) {
    const std::string value = "[" + anyJson(4) + "," + anyJson(3) + "]";
    const std::string text = value + anyJson(2) + std::string(100, ']');
    JsonBlocks blocks;
    std::size_t at = 0;
    std::size_t end = JsonBlocks::npos;
    while (at < text.size() && end == JsonBlocks::npos) {
        const auto size =
            std::min<std::size_t>(static_cast<std::size_t>(*rc::gen::inRange(1, 200)), text.size() - at);
        const std::size_t found = blocks.feed(std::string_view(text).substr(at, size));
        end = found == JsonBlocks::npos ? found : at + found;
        at += size;
    }
    RC_ASSERT(end == value.size());
}

TEST(Utf8, TheFirstBadByteIsFound) {
    EXPECT_EQ(firstBadUtf8("aé€😀"), std::string("aé€😀").size());
    EXPECT_EQ(firstBadUtf8("a\xC3"), 1U);
    EXPECT_EQ(firstBadUtf8("\xC0\x80"), 0U) << "overlong";
    EXPECT_EQ(firstBadUtf8("\xED\xA0\x80"), 0U) << "half a surrogate pair";
    EXPECT_EQ(firstBadUtf8("\xF4\x90\x80\x80"), 0U) << "beyond Unicode";
    EXPECT_EQ(firstBadUtf8("ab\xFF"), 2U);
}

TEST(Utf8, BadBytesAreReplacedAndTheRestStays) {
    EXPECT_EQ(mendedUtf8("a\xFF\xC3(é"), "a\xEF\xBF\xBD\xEF\xBF\xBD(é");
    EXPECT_EQ(mendedUtf8("plain"), "plain");
}

TEST(JsonText, EscapesAreUndoneAndMade) {
    EXPECT_EQ(unescapedJson(R"("a\n\u00e9\ud83d\ude00\"\/")"), "a\né😀\"/");
    EXPECT_EQ(unescapedJson(R"("\ud800x")"), "\xEF\xBF\xBDx");
    EXPECT_EQ(quotedJson("a\"\\\n\x01é"), R"("a\"\\\n\u0001é")");
}

} // namespace
} // namespace scorrere
