// SPDX-License-Identifier: GPL-3.0-or-later
// What hands can do, and actions, in a collection file; and an item's state in its design.
#include "engine/document/collection_document.h"
#include "engine/record/record_builder.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

std::string handFile(const std::string& members, const std::string& record = R"({"text": "{name}"})") {
    return R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": )" + record + "}" +
           (members.empty() ? "" : ", " + members) + "}";
}

constexpr const char* kHands =
    R"("hands": {"select": "many", "tap": "detail", "doubleTap": "like", "press": "pick",
     "swipe": {"atStart": ["like"], "atEnd": ["remove", "away"], "pulled": 0.7, "x": 1},
     "lift": "handle", "detail": "along", "pressMs": 400, "doubleTapMs": 250, "slop": 12, "seenMs": 300, "y": 2},
     "actions": {"like": {"title": "like it", "tone": "good", "do": [{"set": "liked", "value": true},
       {"add": "likes", "by": 2}, {"turn": "seen"}, {"set": "old"}, "toStart", "toEnd", "select", "remove", "detail",
       {"copy": "{name}"}, {"tell": "{name} is liked"}, {"go": "7"}]},
       "away": {"do": [{"call": {"method": "DELETE", "address": "https://example.org/{id}", "body": {"why": "{name}"}}}],
                "z": 3}, "pick": {}})";

TEST(HandsSpec, EverythingThatWasSaidComesBack) {
    const auto document = CollectionDocument::parse(handFile(kHands), "");
    ASSERT_TRUE(document) << document.error().text();
    const HandsSpec& hands = document->hands;
    EXPECT_EQ(hands.select, SelectMode::Many);
    EXPECT_EQ(hands.tap, "detail");
    EXPECT_EQ(hands.atEnd, (std::vector<std::string>{"remove", "away"}));
    EXPECT_EQ(hands.lift, HandsSpec::Lift::Handle);
    EXPECT_EQ(hands.times.pressMs, 400);
    EXPECT_EQ(hands.times.slop, Length::px(12));
    EXPECT_TRUE(hands.detailAlong);
    const ActionSpec like = actionNamed(document->actions, "like");
    ASSERT_EQ(like.steps.size(), 12U);
    EXPECT_EQ(like.steps[0].value, "true");
    EXPECT_EQ(like.steps[1].by, 2);
    EXPECT_EQ(like.steps[3].value, "") << "there is none any more";
    EXPECT_EQ(document->notices.size(), 3U) << "x, y and z are kept as they are";
    const auto again = CollectionDocument::parse(document->serialise(), "");
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->hands, document->hands);
    EXPECT_EQ(again->actions, document->actions);
    const auto json = nlohmann::json::parse(document->serialise());
    EXPECT_EQ(json["hands"]["y"], 2);
    EXPECT_EQ(json["hands"]["swipe"]["x"], 1);
    EXPECT_EQ(json["actions"]["away"]["z"], 3);
    // Taken away again, nothing of them is left but what nobody knows.
    CollectionDocument plain = *document;
    plain.hands = {};
    plain.actions.clear();
    const auto less = nlohmann::json::parse(plain.serialise());
    EXPECT_EQ(less["hands"], nlohmann::json::parse(R"({"swipe": {"x": 1}, "y": 2})"));
    EXPECT_FALSE(less.contains("actions"));
}

TEST(HandsSpec, WhatNeedsNoWordsIsKnownAndTheRestIsLeftToTheApp) {
    const Actions none;
    ASSERT_EQ(actionNamed(none, "remove").steps.size(), 1U);
    EXPECT_EQ(actionNamed(none, "remove").steps[0].what, ActionStep::What::Remove);
    EXPECT_TRUE(actionNamed(none, "share").steps.empty());
    EXPECT_EQ(titleOf(none, "share"), "share");
    const auto document = CollectionDocument::parse(handFile(kHands), "");
    EXPECT_EQ(titleOf(document->actions, "like"), "like it");
    EXPECT_EQ(titleOf(document->actions, "away"), "away");
}

TEST(HandsSpec, WhatIsWrongIsPlaced) {
    const auto problem = [](const std::string& members) {
        const auto document = CollectionDocument::parse(handFile(members), "");
        return document ? std::string("none") : document.error().text();
    };
    EXPECT_THAT(problem(R"("hands": {"select": "some"})"), HasSubstr("Choose one of: none, one, many"));
    EXPECT_THAT(problem(R"("hands": {"swipe": {"atEnd": ["a", "b", "c", "d"]}})"),
                HasSubstr("at most 3 actions"));
    EXPECT_THAT(problem(R"("hands": {"pressMs": 1})"), HasSubstr("pressMs"));
    EXPECT_THAT(problem(R"("actions": {"a": {"do": ["fly"]}})"), HasSubstr("nothing an action can do"));
    EXPECT_THAT(problem(R"("actions": {"a": {"do": [{"value": 1}]}})"), HasSubstr("not said what is done"));
    EXPECT_THAT(problem(R"("actions": {"a": {"do": [{"set": ""}]}})"), HasSubstr("Name a field"));
    EXPECT_THAT(problem(R"("actions": {"a": {"do": [{"call": {}}]}})"), HasSubstr("whom to call"));
    EXPECT_THAT(problem(R"("actions": {"a": {"do": "remove"}})"), HasSubstr("at most 12 steps"));
}

class StateTest : public ::testing::Test {
protected:
    StateTest() {
        RecordBuilder builder;
        builder.setText(builder.fieldNamed("name"), "Wren");
        builder.endRecord();
        table = builder.finish();
    }
    Result<ItemDesign> compile(const std::string& record) {
        const auto document = CollectionDocument::parse(handFile({}, record), "");
        EXPECT_TRUE(document) << document.error().text();
        return ItemDesign::compile(document->item, document->scope(table));
    }
    RecordTable table;
};

TEST_F(StateTest, RulesAndTextsReadItAndTheDesignKnowsWhatOf) {
    const auto design = compile(
        R"json({"column": [{"text": "{name}{$.state.selected, select, true { (chosen)} other {}}"},
            {"badge": "open", "tone": [{"when": "$.state.pressed", "tone": "good"}, {"tone": "note"}]},
            {"text": "x", "hide": "!($.state.lifted == true)"}]})json");
    ASSERT_TRUE(design) << design.error().text();
    ItemState reads;
    reads.set(ItemFlag::Selected);
    reads.set(ItemFlag::Pressed);
    reads.set(ItemFlag::Lifted);
    EXPECT_EQ(design->readsState(), reads);
    ItemState moves = reads;
    moves.set(ItemFlag::Pressed, false);
    EXPECT_EQ(design->stateMovesParts(), moves) << "a tone moves nothing";
    ItemContent content;
    std::vector<std::uint8_t> changed;
    FillContext context{table, 0};
    (void)design->fill(context, content, changed);
    EXPECT_EQ(content.values[0], "Wren");
    EXPECT_EQ(content.tones[2], Tone::Note);
    EXPECT_EQ(content.hidden[3], 1);
    context.state = ItemState::all();
    EXPECT_TRUE(design->retone(context, content).layout);
    EXPECT_EQ(content.tones[2], Tone::Good);
    EXPECT_EQ(content.hidden[3], 0);
    EXPECT_EQ(content.values[0], "Wren") << "only what rules say";
    (void)design->fill(context, content, changed);
    EXPECT_EQ(content.values[0], "Wren (chosen)");
}

TEST_F(StateTest, WhatIsNoStateIsSaidAndItIsOfAnItemOnly) {
    EXPECT_THAT(compile(R"({"text": "{name}", "hide": "$.state.happy"})").error().text(),
                HasSubstr("The states are: pressed, hovered, focused, selected, lifted, open, seen"));
    EXPECT_THAT(Rule::compile("$.state.selected", {table, "en", nullptr, nullptr, false}).error().text(),
                HasSubstr("nothing here is one yet"));
    const auto whole =
        Rule::compile("@[?$.state.open == true]", {table, "en", nullptr, nullptr, false, true});
    ASSERT_TRUE(whole) << whole.error().text();
    FillContext context{table, 0};
    EXPECT_FALSE(whole->holds(context));
    context.state.set(ItemFlag::Open);
    EXPECT_TRUE(whole->holds(context)) << "asked inside a query of the record, too";
}

} // namespace
} // namespace scorrere
